"""Reference lines: at a value, or at one that is computed for each panel and group."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.columns import Columns
from facetine.core.stats.groups import aggregated, grouped
from facetine.errors import OptionError
from facetine.grammar.options import anything, choice, ink, number, option, text
from facetine.grammar.scale import DASHES
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.lines import line_key
from facetine.layers.summary import each_group, need_numbers
from facetine.scene.marks import Mark, Paths, Region, Stroke, segments
from facetine.scene.typeset import set_text

_AGGREGATES = ("mean", "median", "min", "max")


@dataclass(frozen=True, kw_only=True)
class Reference(DrawnLayer):
    """A line across the panel at y, or upright at x; at a fixed value or at an aggregate of the data."""

    verb: ClassVar[str] = "reference"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    usual: ClassVar[Mapping[str, Any]] = {"line_width": 0.7, "dash": "dashed", "color": "text"}

    x: Any = option(None, anything, "Where an upright line stands: a number, a date or a category.")
    y: Any = option(None, anything, "Where a level line stands.")
    aggregate: str | None = option(None, choice(*_AGGREGATES, name="aggregates"), "What is computed instead.")
    axis: str = option("y", choice("x", "y", name="axes"), "Of which axis the aggregate is.")
    label: str | None = option(None, text, "What is written at its end.")
    color: str | None = option(None, ink, "Its ink; that of the text by default.")
    opacity: float | None = option(None, number(0, 1), "How much it covers; 1 by default.")
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

    def constant(self, aesthetic: str) -> Any:
        """Its own x and y are places, not constants of an aesthetic."""
        return None if aesthetic in ("x", "y") else super().constant(aesthetic)

    def lacks(self, mapped: Mapping[str, Any]) -> str | None:
        """The axis of the aggregate."""
        return self.axis if self.aggregate is not None and mapped.get(self.axis) is None else None

    def own_rows(self, place: Callable[[str, Any], float]) -> Mapping[str, Any]:
        """The one fixed place."""
        axis = "x" if self.x is not None else "y"
        return {axis: [place(axis, self.x if axis == "x" else self.y)]}

    def compute(self, rows: Columns, context: Context) -> Columns:
        """A row for each panel and group."""
        if self.aggregate is None:
            return rows
        need_numbers(context, self.axis)

        def make(part: Columns) -> Mapping[str, AnyArray]:
            assert self.aggregate is not None
            value = aggregated(part[self.axis], grouped(np.zeros(len(part))), self.aggregate)
            return {self.axis: value, self.aggregate: value}

        made = each_group(rows, make, (self.axis, self.aggregate))
        other = "y" if self.axis == "x" else "x"
        return Columns({name: values for name, values in made.values.items() if name != other}, made.panel, made.group)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Lines from edge to edge, and their label at the end, above."""
        box = panel.box
        for row in range(len(rows)):
            looks = {name: look.of(row) for name, look in panel.looks.items()}
            pattern = tuple(length * looks["line_width"] for length in DASHES[looks["dash"]])
            stroke = Stroke(looks["color"], looks["line_width"], pattern, looks["opacity"])
            type_ = panel.type._replace(color=looks["color"])
            block = set_text(self.label or "", type_)
            if "y" in rows:
                y = float(rows["y"][row])
                yield segments(np.array([[box.x, y, box.right, y]]), stroke)
                top = y - block.height - 1.0 if y - block.height > box.y else y + 2.0
                yield from block.placed(box.right, top, 1.0, role="reference")
            else:
                x = float(rows["x"][row])
                yield segments(np.array([[x, box.y, x, box.bottom]]), stroke)
                left = x + 2.5 + block.width <= box.right
                yield from block.placed(x + 2.5 if left else x - 2.5, box.y, 0.0 if left else 1.0, role="reference")

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)
