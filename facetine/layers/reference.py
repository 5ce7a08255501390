"""Reference lines: at a value, or at one that is computed for each panel and group."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.grammar.aesthetics import LookValue, Mapped, Placing
from facetine.grammar.given import Place
from facetine.grammar.lengths import shifts_option, shifts_points
from facetine.grammar.options import anything, choice, flag, ink, number, option
from facetine.grammar.scale import DASHES
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.example import Example
from facetine.layers.finish import By, Finish
from facetine.layers.graphs import graph, within
from facetine.layers.lines import drawn_lines, eased, line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.placing import Spot, free_spot, set_off
from facetine.layers.summary import COUNT, need_numbers
from facetine.layers.values import VALUE_TEXT, template
from facetine.messages.errors import OptionError
from facetine.scene.marks import Mark, Paths, Stroke, segments
from facetine.scene.region import Region
from facetine.scene.typeset import set_text

_AGGREGATES = ("mean", "median", "min", "max")
_ALONG = (1.0, 0.0, 0.5, 0.75, 0.25)
"""The shares of a line at which its label is tried, on both sides of it."""
_ENDS = {"start": 0.0, "middle": 0.5, "end": 1.0}


def _text_place(value: object, where: str) -> str | float:
    if isinstance(value, str):
        return str(choice(*_ENDS, name="places, beside a share from 0 to 1")(value, where))
    return float(number(0, 1)(value, where))


@dataclass(frozen=True, kw_only=True)
class Reference(Stroked, DrawnLayer):
    """A line across the panel at y, upright at x, or of a slope; at fixed values or at an aggregate of the data."""

    verb: ClassVar[str] = "reference"
    chosen_says: ClassVar[str] = "Follows: lines at aggregates. Of no rows: lines at given places, or of a given slope."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Beside other layers",
            2,
            {"x": "age_days", "y": "ph"},
            [{"points": {"color": "silver"}}, {"reference": {"aggregate": "mean", "text": "mean"}}],
        ),
    )
    missing_says: ClassVar[str] = "With `aggregate=`, rows without a value are left out, and a finding counts them."
    explains: ClassVar[bool] = True
    alone: ClassVar[str] = ".reference(y={0}) is a level line, .reference(x={0}) an upright one"
    stands_level: ClassVar[bool] = True
    keeps_groups: ClassVar[bool] = False
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "line"
    because: ClassVar[str] = "a mean of masses is a mass, whatever the axis"
    weighs: ClassVar[str] = "with aggregate=: weighted means and medians"
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.7, "dash": "dashed", "color": "text"}

    x: Place | Sequence[Place] | None = option(None, anything)
    y: Place | Sequence[Place] | None = option(None, anything)
    slope: float | None = option(None, number())
    intercept: float | None = option(None, number())
    aggregate: str | None = option(None, choice(*_AGGREGATES, name="aggregates"), "Instead of a given place.")
    axis: str = option("y", choice("x", "y", name="axes"))
    per: str = option("panel", choice("panel", "group", "figure"))
    text: str | None = option(None, template, 'At its end, such as "mean {value:.1f}".')
    text_at: str | float | None = option(None, _text_place)
    shift: tuple[str, str] | None = option(None, shifts_option)
    halo: bool | None = option(None, flag)
    color: str | None = option(None, ink, "That of the text by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Dashed by default.")
    line_width: float | None = option(None, number(0.01, 100), "0.7 by default.")

    @property
    def stands_alone(self) -> bool:  # type: ignore[override]
        """Whether its places are fixed."""
        if sum(given is not None for given in (self.x, self.y, self.aggregate, self.slope)) != 1:
            raise OptionError(
                "figure.reference",
                "one of x, y, aggregate and slope says where the line is",
                'such as y=12.5, slope=1, or aggregate="mean"',
            )
        if self.text is None and any(said is not None for said in (self.text_at, self.shift, self.halo)):
            raise OptionError("figure.reference", "text_at, shift and halo have no effect without text", 'text="{value:.1f}"')
        if self.intercept is not None and self.slope is None:
            raise OptionError("figure.reference", "intercept has no effect without slope", "y= is a level line")
        return self.aggregate is None and self.slope is None

    @property
    def over_edges(self) -> bool:  # type: ignore[override]
        """Whether it is a line of a slope, which goes on to the edges."""
        return self.slope is not None

    @property
    def rows_unseen(self) -> bool:  # type: ignore[override]
        """Whether rows only say over which panels it runs."""
        return self.slope is not None

    @property
    def text_template(self) -> str | None:
        """Its text."""
        return self.text

    def names(self) -> Mapping[str, Computed]:
        """The value, under the aggregate's name too; of a line of a slope, these two."""
        if self.slope is not None:
            return {"slope": Computed(), "intercept": Computed()}
        axis: Any = self.axis if self.aggregate is not None else "x" if self.x is not None else "y"
        value = Computed(axis, column=axis)
        extra = {self.aggregate: value, "count": COUNT} if self.aggregate is not None else {}
        return {"value": value, **extra}

    def all_names(self) -> Mapping[str, Computed]:
        """With all aggregates."""
        value = Computed("y", column="y")
        line = {"slope": Computed(), "intercept": Computed()}
        return {"value": value, **{name: Computed("y", column="y") for name in _AGGREGATES}, "count": COUNT, **line}

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate or a slope."""
        return self.aggregate is not None or self.slope is not None

    def uses_weight(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate is not None

    def shows(self, mapped: Mapped) -> tuple[str, ...]:  # noqa: ARG002
        """Looks of groups only where each has a line."""
        if self.slope is not None:
            return ("x",)
        return self.takes if self.per == "group" else (self.axis, "weight")

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def constant(self, aesthetic: str) -> LookValue:
        """Its own x and y are places, not constants of an aesthetic."""
        return None if aesthetic in ("x", "y") else super().constant(aesthetic)

    def lacks(self, mapped: Mapped) -> str | None:
        """The axis of the aggregate, or that over which a line of a slope runs."""
        if self.slope is not None:
            return "x" if mapped.get("x") is None else None
        return self.axis if self.aggregate is not None and mapped.get(self.axis) is None else None

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """The fixed places."""
        axis = "x" if self.x is not None else "y"
        given: Any = self.x if axis == "x" else self.y
        several = isinstance(given, Sequence | np.ndarray) and not isinstance(given, str)
        if several and not len(given):
            raise OptionError("figure.reference", f"{axis} is a list without values", f"such as {axis}=[10, 20]")
        return {axis: [place(axis, value) for value in (given if several else (given,))]}

    def finish(self, context: Context) -> Finish | None:  # noqa: ARG002
        """A line at the aggregate of the chosen rows; one that is given follows none."""
        by: By = "panel" if self.per == "panel" else "group" if self.per == "group" else "figure"
        return Finish("reference", by, {"how": self.aggregate, "axis": self.axis}) if self.aggregate is not None else None

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each panel, or each group in it."""
        if self.slope is not None:
            slope, intercept = self.slope, self.intercept or 0.0
            line = graph(lambda x: intercept + slope * x, source, context, exact=False)
            return line.put(slope=np.full(len(line), slope), intercept=np.full(len(line), intercept))
        if self.aggregate is None:
            return source.rows()
        need_numbers(context, self.axis)
        totals = (Total("result", self.aggregate, self.axis), Total("count", "count"))
        if self.per == "figure":
            panels = np.unique(source.rows().panel)
            one = source.ask(Query(totals, by_panel=False, by_group=False))
            lines = one.take(np.zeros(len(panels) if len(one) else 0, np.int64))
            lines = Columns(lines.values, panels[: len(lines)], lines.group, lines.row)
        else:
            lines = source.ask(Query(totals, by_group=self.per == "group"))
        other = "y" if self.axis == "x" else "x"
        lines = lines.put(**{self.axis: lines["result"]}).dropped("result").dropped(other)
        return lines if self.per == "group" else Columns(lines.values, lines.panel, np.zeros(len(lines), np.int64))

    def reaching(self, rows: Columns) -> Columns:
        """Of a line of a slope, what lies within the data."""
        return within(rows)

    def _sloped(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        yield from drawn_lines(*eased(rows, panel, "y"))
        box = panel.box
        held = (rows["x"] <= box.right) & (rows["y"] >= box.y) & (rows["y"] <= box.bottom)
        if self.text and held.any():
            seen = np.flatnonzero(held)
            row = int(seen[round(self._share * (len(seen) - 1))])
            block = set_text(str(rows.values[VALUE_TEXT][row]), panel.type._replace(color=panel.looks["color"].of(row)))
            # At the upper edge the text stands at the left of the line, else over its end.
            spots = []
            for share in self._shares:
                row = int(seen[round(share * (len(seen) - 1))])
                x, y = float(rows["x"][row]), float(rows["y"][row])
                high = y - block.height - 2.0 < box.y
                left = min(max(x, box.x + share * block.width), box.right) - share * block.width - (4.0 if high else 0.0)
                spots += [Spot(left, y + 1.0 if high else y - block.height - 2.0, share), Spot(left, y + 2.0, share)]
            spot = free_spot(block, spots, panel)
            yield from spot.placed(block, "reference", int(rows.numbers[row]))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Lines from edge to edge, and their label at the end, above."""
        marks = self._sloped(rows, panel) if self.slope is not None else self._level(rows, panel)
        yield from set_off(marks, panel, self.halo, shifts_points(self.shift))

    @property
    def _share(self) -> float:
        """Where along the line its label stands."""
        return 1.0 if self.text_at is None else _ENDS[self.text_at] if isinstance(self.text_at, str) else self.text_at

    @property
    def _shares(self) -> tuple[float, ...]:
        """Where along the line its label may stand: where it was said, else at its end, or where there is room for it."""
        return (self._share,) if self.text_at is not None else _ALONG

    def lines_of(self, rows: Columns, box: Region) -> list[Region]:
        """Those that are level or upright."""
        if self.slope is not None:
            return []
        level = "y" in rows
        at = rows["y" if level else "x"].astype(float)
        return [
            Region(box.x, place - 0.3, box.width, 0.6) if level else Region(place - 0.3, box.y, 0.6, box.height)
            for place in at[np.isfinite(at)].tolist()
        ]

    def _level(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        box = panel.box
        for row in range(len(rows)):
            number = rows.numbers[[row]]
            looks = {name: look.of(row) for name, look in panel.looks.items()}
            pattern = tuple(length * looks["line_width"] for length in DASHES[looks["dash"]])
            stroke = Stroke(looks["color"], looks["line_width"], pattern, looks["opacity"])
            type_ = panel.type._replace(color=looks["color"])
            block = set_text(str(rows.values[VALUE_TEXT][row]) if self.text else "", type_)
            if "y" in rows:
                y = float(rows["y"][row])
                yield segments(np.array([[box.x, y, box.right, y]]), stroke, number)
                over, under = y - block.height - 1.0, y + 2.0
                sides = (over, under) if y - block.height > box.y else (under, over)
                # The text begins, or ends, with the line at its ends.
                wide = box.width - block.width
                spots = [Spot(box.x + share * wide, top, share) for top in sides for share in self._shares]
            else:
                x = float(rows["x"][row])
                yield segments(np.array([[x, box.y, x, box.bottom]]), stroke, number)
                right, left = x + 2.5, x - 2.5 - block.width
                sides = (right, left) if right + block.width <= box.right else (left, right)
                tops = [box.y + (1.0 - share) * (box.height - block.height) for share in self._shares]
                spots = [Spot(side, top, float(side == left)) for side in sides for top in tops]
            if block.lines:
                spot = free_spot(block, spots, panel)
                yield from spot.placed(block, "reference", int(number[0]))

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)
