"""Bands: between two values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.query import Between, Query, Source, Total
from facetine.core.stats.centers import CENTERS, REACHES
from facetine.core.stats.groups import AGGREGATES
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.options import choice, number, option, whole
from facetine.layers.areas import ribbons, say_lone_rows
from facetine.layers.bars import square_key
from facetine.layers.base import PanelView
from facetine.layers.bridges import bridge_option, stretches
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.ends import ENDS, given_along
from facetine.layers.example import Example
from facetine.layers.intervals import Intervals
from facetine.layers.look import Look
from facetine.layers.marking import Filled
from facetine.layers.summary import PLACE_X, Aggregating, at_one_place, in_bins, in_their_places, with_gaps
from facetine.messages.errors import MappingError, OptionError
from facetine.scene.marks import Paths, Rects
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Bands(Filled, Aggregating):
    """The area between y_low and y_high, or an interval around a center of the rows at each x."""

    verb: ClassVar[str] = "bands"
    chosen_says: ClassVar[str] = "Of all rows: a band is cut from what lies between its rows."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "A time and a number", 3, {"x": "time", "y": "temp_c"}, [{"bands": {"around": "mean", "reach": "range"}}], "climate"
        ),
    )
    by_place: ClassVar[bool] = True
    missing_says: ClassVar[str] = "A row without an end interrupts the band; a finding counts them."
    takes: ClassVar[tuple[str, ...]] = (
        "x",
        "y",
        "x_low",
        "x_high",
        "y_low",
        "y_high",
        "color",
        "opacity",
        "outline",
        "line_width",
        "group",
        "weight",
    )
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "low": Computed("y"), "high": Computed("y"),
    }  # fmt: skip
    keeps_gaps: ClassVar[bool] = True
    takes_ends: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True
    required: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"opacity": 0.3}

    around: str | None = option(
        None,
        choice(*CENTERS, name="centers"),
    )
    reach: str | None = option(None, choice(*REACHES, name="reaches"), "A confidence interval by default.")
    level: float | None = option(None, number(0.01, 0.9999), "0.95 by default.")
    bootstrap: int | None = option(None, whole(0, 1_000_000))
    bridge: bool | float | str | None = option(None, bridge_option)
    opacity: float | None = option(None, number(0, 1), "0.3 by default.")

    def lacks(self, mapped: Mapped) -> str | None:
        """x with both ends, or with y where the band is computed."""
        along = given_along(mapped)
        if len(along) > 1:
            raise MappingError(
                "figure.bands", "a band runs along one axis, and ends are mapped along both", ".intervals() draws them as crosses"
            )
        if along == {"x"} and self.around is None:
            return "y" if mapped.get("y") is None else None
        if self.around is None and mapped.get("y") is not None and mapped.get("y_low") is None:
            raise MappingError("figure.bands", "nothing is mapped to y_low and y_high", 'around="mean" computes an interval of y')
        needed = ("x", "y") if self.around is not None else self.required
        return next((name for name in needed if mapped.get(name) is None), None)

    def shows(self, mapped: Mapped) -> tuple[str, ...]:
        """y where the band is computed, else its ends."""
        unseen = ENDS if self.around is not None else given_along(mapped) or {"y"}
        return tuple(name for name in self.takes if name not in unseen)

    def value_drawn(self, context: Context) -> Drawn | None:
        """The center, where it is computed."""
        return super().value_drawn(context) if self.around is None else self._intervals.value_drawn(context)

    def as_share(self) -> tuple[str, ...]:
        """A share is that of yes."""
        return ("y",) if self.around == "share" else ()

    def uses_weight(self, mapped: Mapped) -> bool:
        """Where something is computed."""
        return self.around is not None or super().uses_weight(mapped)

    @property
    def _intervals(self) -> Intervals:
        reach, level = self.reach or "confidence", 0.95 if self.level is None else self.level
        return Intervals(around=self.around or "mean", reach=reach, level=level, bootstrap=self.bootstrap or 0)

    def names(self) -> Mapping[str, Computed]:
        """The ends, whatever is drawn of them, and the center where one is computed."""
        return self.computed if self.around is None else {**self.computed, **self._intervals.names()}

    def names_told(self, context: Context, horizontal: bool) -> Mapping[str, Computed]:  # noqa: ARG002
        """Its places stand on y where it is turned."""
        names = self.names()
        return (
            {"y" if name == "x" else name: entry for name, entry in names.items()} if horizontal and "y" not in names else names
        )

    def all_names(self) -> Mapping[str, Computed]:
        """With all centers."""
        return {**self.computed, **Intervals().all_names()}

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: a band has one look from end to end."""
        return True

    def compute(self, source: Source, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        return stretches(self._by_x(source, context), self.bridge, context)

    def _by_x(self, source: Source, context: Context) -> Columns:
        if self.around is not None:
            if self.aggregate != "none":
                raise OptionError(context.where, "around and aggregate say two things of the rows at one x", "leave one out")
            rows = self._intervals.compute(source.keeping(Between("y")), context)
            rows = with_gaps(rows, source, "y")
            return rows.take(np.lexsort((rows["x"], rows.group, rows.panel)))
        for name in ("reach", "level", "bootstrap"):
            if getattr(self, name) is not None:
                raise OptionError(context.where, f"{name} has no effect without a center", 'around="mean" is one')
        say_lone_rows(source, context)
        if self.aggregate == "none":
            rows = source.rows()
            groups = at_one_place(rows)
            if len(groups.starts) < len(rows):
                raise OptionError(
                    context.where,
                    f"{len(rows)} rows share {len(groups.starts)} places; say what a band shows of them",
                    f'aggregate: {", ".join(AGGREGATES[1:])}; or map={{"group": …}} for a band each',
                )
            rows = rows.take(groups.order)
        else:
            ends = (Total(f"new {name}", self.aggregate, name) for name in ("y_low", "y_high"))
            source = in_bins(source, self.edges, context)
            rows = source.keeping(Between("y_low")).keeping(Between("y_high")).ask(Query(tuple(ends), keys=("x",)))
            rows = with_gaps(rows.put(y_low=rows["new y_low"], y_high=rows["new y_high"]), source, "y_low", "y_high")
        return rows.put(low=rows["y_low"], high=rows["y_high"])

    def scattered(self, rows: Columns, context: Context) -> Columns:
        """In the places of their groups, where these stand side by side."""
        return in_their_places(rows, context)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        yield from ribbons(rows, panel)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)
