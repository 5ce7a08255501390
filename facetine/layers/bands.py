"""Bands: between two values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

from facetine.core.columns import Columns
from facetine.core.stats.groups import AGGREGATES, aggregated
from facetine.grammar.options import choice, ink, number, option
from facetine.layers.areas import ribbons, say_lone_rows
from facetine.layers.bars import square_key
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.summary import at_one_place, refuse_numeric_looks
from facetine.scene.marks import Paths, Rects, Region


@dataclass(frozen=True, kw_only=True)
class Bands(DrawnLayer):
    """The room between y_low and y_high."""

    verb: ClassVar[str] = "bands"
    takes: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high", "color", "opacity", "outline", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    usual: ClassVar[Mapping[str, object]] = {"opacity": 0.3}

    color: str | None = option(None, ink, "The inside.")
    outline: str | None = option(None, ink, "A line around; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 0.3 by default.")
    line_width: float | None = option(None, number(0, 100), "Width of the line around in points.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What both ends show of the rows at one x.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        say_lone_rows(rows, context)
        groups = at_one_place(rows)
        if self.aggregate == "none":
            return rows.take(groups.order)
        refuse_numeric_looks(context)
        ends = {name: aggregated(rows[name], groups, self.aggregate) for name in ("y_low", "y_high")}
        return rows.take(groups.first).put(**ends)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        yield from ribbons(rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)
