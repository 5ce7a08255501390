"""Empirical distribution functions: the share of values at or below each."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.core.stats.groups import grouped
from facetine.core.stats.quantiles import risen
from facetine.grammar.aesthetics import Mapped
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn, Space
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.lines import drawn_lines, line_key
from facetine.layers.look import Look
from facetine.layers.marking import Stroked
from facetine.layers.summary import PLACE_X, PLACE_Y, need_numbers
from facetine.messages.errors import KindError
from facetine.scene.marks import Paths
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Cumulative(Stroked, DrawnLayer):
    """Steps from 0 to 1: the share of values at or below each."""

    verb: ClassVar[str] = "cumulative"
    chosen_says: ClassVar[str] = "Follows: the share of the chosen rows at or below each value."
    examples: ClassVar[tuple[Example, ...]] = (Example("One number", 3, {"x": "mass_kg"}, ["cumulative"]),)
    missing_says: ClassVar[str] = "Rows without a value are left out of the total, and a finding counts them."
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    computes_in: ClassVar[Space] = "data"
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "step"
    because: ClassVar[str] = "shares are the same on any axis"
    weighs: ClassVar[str] = "a row counts as often as its weight says: shares of the sum of weights"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "share": Computed("number", "Of the group, at or below the value."),
    }  # fmt: skip
    from_zero: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True
    steps: ClassVar[bool] = True

    def lacks(self, mapped: Mapped) -> str | None:
        """One of x and y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def value_drawn(self, context: Context) -> Drawn | None:
        """What the height is."""
        return Drawn(title="Share of weight at or below" if "weight" in context.columns else "Share of rows at or below")

    def finish(self, context: Context) -> Finish:  # noqa: ARG002
        """Shares of the chosen rows."""
        return Finish("cumulative", "group")

    def compute(self, source: Source, context: Context) -> Columns:
        """The distinct values of each group, beginning at zero."""
        if "y" in source:
            raise KindError(
                context.where,
                "both x and y are mapped, but the share is computed",
                'take one away with map={"y": None}',
            )
        need_numbers(context, "x")

        masses = source.ask(Query((Total("mass", "count"),), keys=("x",)))
        return _risen(masses)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """One line for each group."""
        yield from drawn_lines(rows, panel, self.steps)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _risen(masses: Columns) -> Columns:
    """From the mass at each value of each group to the share at or below it; each group begins at zero."""
    groups = grouped(masses.panel, masses.group)
    shares = [risen(masses["mass"][start : start + size]) for start, size in zip(groups.starts, groups.sizes, strict=True)]
    # The first value of each group stands twice: where the line leaves zero, and where it has risen.
    times = np.ones(len(masses), np.int64)
    times[groups.starts] = 2
    share = np.concatenate([np.append(0.0, part) for part in shares]) if shares else np.zeros(0)
    rows = masses.dropped("mass").take(np.repeat(np.arange(len(masses)), times))
    return rows.put(share=share, y=share)
