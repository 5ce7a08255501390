"""Bands: between two values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.core.stats.groups import AGGREGATES
from facetine.errors import OptionError
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.options import number, option
from facetine.layers.areas import ribbons, say_lone_rows
from facetine.layers.bars import square_key
from facetine.layers.base import PanelView
from facetine.layers.bridges import bridge_option, stretches
from facetine.layers.context import Computed, Context
from facetine.layers.look import Look
from facetine.layers.marking import Filled
from facetine.layers.summary import PLACE_X, Aggregating, at_one_place
from facetine.scene.marks import Paths, Rects
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Bands(Filled, Aggregating):
    """The room between y_low and y_high."""

    verb: ClassVar[str] = "bands"
    takes: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high", "color", "opacity", "outline", "line_width", "group", "weight")
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "low": Computed("the lower end", "y"), "high": Computed("the upper end", "y"),
    }  # fmt: skip
    required: ClassVar[tuple[str, ...]] = ("x", "y_low", "y_high")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"opacity": 0.3}

    bridge: bool | float | str | None = option(
        None,
        bridge_option,
        'How far apart neighbours may be that are joined: "2 hours", a number, True for any; 1.5 times the usual distance where '
        "one is plain to see.",
    )
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 0.3 by default.")

    def names(self) -> Mapping[str, Computed]:
        """The ends, whatever is drawn of them."""
        return self.computed

    def all_names(self) -> Mapping[str, Computed]:
        """The same."""
        return self.computed

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always: a band has one look from end to end."""
        return True

    def compute(self, source: Source, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        return stretches(self._by_x(source, context), self.bridge, context)

    def _by_x(self, source: Source, context: Context) -> Columns:
        say_lone_rows(source, context)
        if self.aggregate == "none":
            rows = source.rows()
            groups = at_one_place(rows)
            if len(groups.starts) < len(rows):
                raise OptionError(
                    f"{context.where}: {len(rows)} rows share {len(groups.starts)} places; say what a band shows of them",
                    f'aggregate: {", ".join(AGGREGATES[1:])}; or map={{"group": …}} for a band each',
                )
            rows = rows.take(groups.order)
        else:
            ends = (Total(f"new {name}", self.aggregate, name) for name in ("y_low", "y_high"))
            rows = source.ask(Query(tuple(ends), keys=("x",)))
            rows = rows.put(y_low=rows["new y_low"], y_high=rows["new y_high"])
        return rows.put(low=rows["y_low"], high=rows["y_high"])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        yield from ribbons(rows, panel)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)
