"""Bands: between two values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

from facetine.core.columns import Columns
from facetine.core.stats.groups import AGGREGATES, aggregated
from facetine.errors import OptionError
from facetine.grammar.options import choice, ink, number, option
from facetine.layers.areas import ribbons, say_lone_rows
from facetine.layers.bars import square_key
from facetine.layers.base import Computed, Context, Drawn, DrawnLayer, Look, PanelView
from facetine.layers.summary import PLACE_X, aggregate_drawn, at_one_place
from facetine.scene.marks import Paths, Rects, Region


@dataclass(frozen=True, kw_only=True)
class Bands(DrawnLayer):
    """The room between y_low and y_high."""

    verb: ClassVar[str] = "bands"
    takes: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high", "color", "opacity", "outline", "line_width", "group", "weight")
    because: ClassVar[str] = "an aggregate of the data is a value of the data"
    weighs: ClassVar[str] = "with aggregate=: weighted means and medians, Σwx, sums of weights"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "low": Computed("the lower end", "y"), "high": Computed("the upper end", "y"),
    }  # fmt: skip
    required: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    usual: ClassVar[Mapping[str, object]] = {"opacity": 0.3}

    color: str | None = option(None, ink, "The inside.")
    outline: str | None = option(None, ink, "A line around; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 0.3 by default.")
    line_width: float | None = option(None, number(0, 100), "Width of the line around in points.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What both ends show of the rows at one x.")

    def summarises(self, mapped: Mapping[str, Any]) -> bool:  # noqa: ARG002
        """Always: a band has one look from end to end."""
        return True

    def uses_weight(self, mapped: Mapping[str, Any]) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate != "none"

    def value_drawn(self, context: Context) -> Drawn | None:
        """Values or their aggregate."""
        return aggregate_drawn(self.aggregate, context)

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        say_lone_rows(rows, context)
        groups = at_one_place(rows)
        if self.aggregate == "none":
            if len(groups.starts) < len(rows):
                raise OptionError(
                    f"{context.where}: {len(rows)} rows share {len(groups.starts)} places; say what a band shows of them",
                    f'aggregate: {", ".join(AGGREGATES[1:])}; or map={{"group": …}} for a band each',
                )
            rows = rows.take(groups.order)
        else:
            ends = {name: aggregated(rows[name], groups, self.aggregate, rows.get("weight")) for name in ("y_low", "y_high")}
            rows = rows.take(groups.first).put(**ends)
        return rows.put(low=rows["y_low"], high=rows["y_high"])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        yield from ribbons(rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)
