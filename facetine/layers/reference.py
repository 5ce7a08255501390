"""Reference lines: at a value, or at one that is computed for each panel and group."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.errors import OptionError
from facetine.grammar.aesthetics import LookValue, Mapped, Placing
from facetine.grammar.given import Place
from facetine.grammar.options import anything, choice, ink, number, option
from facetine.grammar.scale import DASHES
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.lines import line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.summary import COUNT, need_numbers
from facetine.layers.values import VALUE_TEXT, template
from facetine.scene.marks import Mark, Paths, Stroke, segments
from facetine.scene.region import Region
from facetine.scene.typeset import set_text

_AGGREGATES = ("mean", "median", "min", "max")


@dataclass(frozen=True, kw_only=True)
class Reference(Stroked, DrawnLayer):
    """A line across the panel at y, or upright at x; at a fixed value or at an aggregate of the data."""

    verb: ClassVar[str] = "reference"
    explains: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "line"
    because: ClassVar[str] = "a mean of masses is a mass, whatever the axis"
    weighs: ClassVar[str] = "with aggregate=: weighted means and medians"
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.7, "dash": "dashed", "color": "text"}

    x: Place | None = option(None, anything, "Where an upright line stands: a number, a date or a category.")
    y: Place | None = option(None, anything, "Where a level line stands.")
    aggregate: str | None = option(None, choice(*_AGGREGATES, name="aggregates"), "What is computed instead.")
    axis: str = option("y", choice("x", "y", name="axes"), "Of which axis the aggregate is.")
    per: str = option("panel", choice("panel", "group"), "Whether the aggregate is that of a panel, or of each group in it.")
    label: str | None = option(None, template, 'What is written at its end, such as "mean {value:.1f}".')
    color: str | None = option(None, ink, "Its ink; that of the text by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Its pattern; dashed by default.")
    line_width: float | None = option(None, number(0.01, 100), "Its width in points; 0.7 by default.")

    @property
    def stands_alone(self) -> bool:  # type: ignore[override]
        """Whether its places are fixed."""
        if sum(given is not None for given in (self.x, self.y, self.aggregate)) != 1:
            raise OptionError(
                "figure.reference: one of x, y and aggregate says where the line is",
                'such as y=12.5, or aggregate="mean"',
            )
        return self.aggregate is None

    @property
    def text_template(self) -> str | None:
        """Its label."""
        return self.label

    def names(self) -> Mapping[str, Computed]:
        """The value, under the aggregate's name too."""
        axis: Any = self.axis if self.aggregate is not None else "x" if self.x is not None else "y"
        value = Computed("where the line stands", axis, axis)
        extra = {self.aggregate: value, "count": COUNT} if self.aggregate is not None else {}
        return {"value": value, **extra}

    def all_names(self) -> Mapping[str, Computed]:
        """With all aggregates."""
        value = Computed("where the line stands", "y", "y")
        return {"value": value, **{name: Computed(f"the {name}", "y", "y") for name in _AGGREGATES}, "count": COUNT}

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate is not None

    def uses_weight(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate is not None

    def shows(self, mapped: Mapped) -> tuple[str, ...]:  # noqa: ARG002
        """Looks of groups only where each has a line."""
        return self.takes if self.per == "group" else (self.axis, "weight")

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def constant(self, aesthetic: str) -> LookValue:
        """Its own x and y are places, not constants of an aesthetic."""
        return None if aesthetic in ("x", "y", "label") else super().constant(aesthetic)

    def lacks(self, mapped: Mapped) -> str | None:
        """The axis of the aggregate."""
        return self.axis if self.aggregate is not None and mapped.get(self.axis) is None else None

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """The one fixed place."""
        axis = "x" if self.x is not None else "y"
        return {axis: [place(axis, self.x if axis == "x" else self.y)]}

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each panel, or each group in it."""
        if self.aggregate is None:
            return source.rows()
        need_numbers(context, self.axis)
        totals = (Total("result", self.aggregate, self.axis), Total("count", "count"))
        lines = source.ask(Query(totals, by_group=self.per == "group"))
        other = "y" if self.axis == "x" else "x"
        lines = lines.put(**{self.axis: lines["result"]}).dropped("result").dropped(other)
        return lines if self.per == "group" else Columns(lines.values, lines.panel, np.zeros(len(lines), np.int64))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Lines from edge to edge, and their label at the end, above."""
        box = panel.box
        for row in range(len(rows)):
            number = rows.numbers[[row]]
            looks = {name: look.of(row) for name, look in panel.looks.items()}
            pattern = tuple(length * looks["line_width"] for length in DASHES[looks["dash"]])
            stroke = Stroke(looks["color"], looks["line_width"], pattern, looks["opacity"])
            type_ = panel.type._replace(color=looks["color"])
            block = set_text(str(rows.values[VALUE_TEXT][row]) if self.label else "", type_)
            if "y" in rows:
                y = float(rows["y"][row])
                yield segments(np.array([[box.x, y, box.right, y]]), stroke, number)
                top = y - block.height - 1.0 if y - block.height > box.y else y + 2.0
                yield from block.placed(box.right, top, 1.0, role="reference", row=int(number[0]))
            else:
                x = float(rows["x"][row])
                yield segments(np.array([[x, box.y, x, box.bottom]]), stroke, number)
                left = x + 2.5 + block.width <= box.right
                yield from block.placed(
                    x + 2.5 if left else x - 2.5, box.y, 0.0 if left else 1.0, role="reference", row=int(number[0])
                )

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)
