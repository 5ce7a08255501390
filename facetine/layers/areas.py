"""Areas: from a line down to a base, groups on top of each other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrange.bars import shares, stacked
from facetine.core.arrays import BoolArray
from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.core.stats.groups import AGGREGATES, grouped
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, option
from facetine.layers.bars import square_key
from facetine.layers.base import PanelView
from facetine.layers.bridges import STRETCH, bridge_option, stretches
from facetine.layers.context import Context, Drawn
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.marking import Filled
from facetine.layers.places import on_common_places, with_zeros
from facetine.layers.stacking import check_lengths, check_stack, is_amount
from facetine.layers.summary import (
    Aggregating,
    at_one_place,
    in_bins,
    slots,
    summarised_with_gaps,
)
from facetine.messages.errors import OptionError
from facetine.scene.marks import Paths, Rects, Stroke
from facetine.scene.region import Region

_THROUGH = 0.5
"""How much areas that lie over each other cover, where nothing is given."""


@dataclass(frozen=True, kw_only=True)
class Areas(Filled, Aggregating):
    """The area between a line and zero."""

    verb: ClassVar[str] = "areas"
    chosen_says: ClassVar[str] = "Of all rows: areas stand on each other at places that all of them share."
    examples: ClassVar[tuple[Example, ...]] = (
        Example("A time and a number", 2, {"x": "month", "y": "retail"}, [{"areas": {"opacity": 0.5}}], "sales"),
    )
    column_as: ClassVar[str] = "areas"
    amounts: ClassVar[bool] = True
    by_place: ClassVar[bool] = True
    missing_says: ClassVar[str] = "A row without y interrupts the area, and those that stand on it; a finding counts them."
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "outline", "line_width", "group", "weight")
    stands: ClassVar[bool] = True
    filled_marks: ClassVar[bool] = True
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    bordered: ClassVar[bool] = True
    from_zero: ClassVar[bool] = True
    keeps_gaps: ClassVar[bool] = True

    bridge: bool | float | str | None = option(None, bridge_option)
    gaps: str | None = option(
        None,
        choice("zero", name="gaps"),
        "By default an area breaks where a value is missing, and so does what stands on it; counts of no rows are zero.",
    )
    arrange: str | None = option(
        None,
        choice("stack", "share", "overlay", name="arrangements"),
        "Counts, sums and given amounts stand on each other by default; means and the like, and heights that are no amounts "
        "(shares, temperatures, rates), lie over each other and show through.",
    )

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: an area has one look from end to end."""
        return True

    def value_drawn(self, context: Context) -> Drawn | None:
        """Values, their aggregate, or shares."""
        if self.arrange == "share":
            return Drawn(title=f"Share of {context.titles['y'].inside}" if "y" in context.titles else "Share")
        return super().value_drawn(context)

    def prepare(self, source: Source, context: Context) -> Self:
        """How groups share a place.

        Raises:
            OptionError: Means or the like are to stand on each other.
        """
        arrange = self.arrange or ("stack" if is_amount(self.aggregate, context) else "overlay")
        check_stack(arrange, self.aggregate, context)
        return replace(super().prepare(source, context), arrange=arrange)

    def compute(self, source: Source, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        rows = self._by_x(source, context)
        if self.gaps is not None:
            if self.bridge is not None:
                raise OptionError(context.where, "gaps= and bridge= both say what stands in a gap", "leave out one of them")
            return with_zeros(rows, context)
        if self.arrange != "overlay" and len(np.unique(rows.group)) > 1:
            if self.bridge not in (None, True, False):
                raise OptionError(
                    context.where,
                    "areas on each other break at every gap, or at none",
                    'bridge=True joins over all, gaps="zero" makes zeros of them; arrange="overlay" takes a distance',
                )
            return rows
        return stretches(rows, self.bridge, context)

    def _by_x(self, source: Source, context: Context) -> Columns:
        say_lone_rows(source, context)
        if self.aggregate != "none":
            made = summarised_with_gaps(in_bins(source, self.edges, context), self.aggregate, context)
            return with_zeros(made) if self.aggregate == "count" else made
        rows = source.rows()
        groups = at_one_place(rows)
        if len(groups.starts) < len(rows):
            raise OptionError(
                context.where,
                f"{len(rows)} rows share {len(groups.starts)} places; say what an area shows of them",
                f'aggregate: {", ".join(AGGREGATES[1:])}; or map={{"group": …}} for an area each',
            )
        return rows.take(groups.order)

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:
        """Groups on top of each other, broken where one of those below has no value."""
        if self.arrange == "overlay" or not len(rows):
            return rows.put(y_low=np.minimum(rows["y"], 0.0), y_high=np.maximum(rows["y"], 0.0))
        if len(np.unique(rows.group)) > 1:
            rows = on_common_places(rows, joins=self.bridge is True, whole=self.arrange == "share", context=context)
        known = np.isfinite(rows["y"])
        check_lengths(str(self.arrange), slots(rows), rows.group, np.where(known, rows["y"], 0.0), context)
        value = np.where(known, shares(slots(rows), np.where(known, rows["y"], 0.0)), np.nan)
        value = value if self.arrange == "share" else rows["y"]
        low, high = stacked(slots(rows), rows.group, np.where(known, value, 0.0))
        return rows.put(y_low=np.where(known, low, np.nan), y_high=np.where(known, high, np.nan), y=np.where(known, high, np.nan))

    def labelled_rows(self, rows: Columns) -> Columns:
        """The rows that were given, without the places between."""
        return rows.take(rows["own"] > 0) if "own" in rows else rows

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        through = self.arrange == "overlay" and self.opacity is None and len(np.unique(rows.group)) > 1
        yield from ribbons(rows, panel, _THROUGH if through else 1.0)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def say_lone_rows(source: Source, context: Context) -> None:
    """A group of one row has no width to fill."""
    groups = source.ask(Query((Total("rows", "rows"),)))
    for row in np.flatnonzero(groups["rows"] == 1).tolist():
        context.say("group-of-one", "a group of 1 row has no area and is left out", part=groups.take(np.array([row])))


def ribbons(rows: Columns, panel: PanelView, opacity: float = 1.0) -> Iterator[Paths]:
    """Polygons between y_low and y_high, one a group, broken where a value is missing."""
    groups = grouped(rows.group)
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        part = rows.take(groups.order[start : start + size])
        first = int(groups.order[start])
        looks = {name: look.of(first) for name, look in panel.looks.items()}
        outline = looks.get("outline")
        stroke = Stroke(outline, looks["line_width"]) if outline else None
        for run in _unbroken(part):
            forth = np.column_stack([run["x"], run["y_high"]])
            back = np.column_stack([run["x"], run["y_low"]])[::-1]
            ring = np.concatenate([forth, back])
            numbers = np.concatenate([run.numbers, run.numbers[::-1]])
            yield Paths(
                ring, np.zeros(1, np.int64), stroke, looks["color"], looks["opacity"] * opacity, closed=True, rows=numbers
            )


def _unbroken(part: Columns) -> Iterator[Columns]:
    good: BoolArray = np.isfinite(part["x"]) & np.isfinite(part["y_low"]) & np.isfinite(part["y_high"])
    stretch = part[STRETCH] if STRETCH in part else np.zeros(len(part))
    edges = np.flatnonzero(np.append(True, (np.diff(good.astype(int)) != 0) | (np.diff(stretch) != 0)))
    for start, end in zip(edges.tolist(), [*edges[1:].tolist(), len(part)], strict=True):
        if end - start > 1 and good[start]:
            yield part.take(np.arange(start, end))
