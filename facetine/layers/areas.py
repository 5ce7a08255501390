"""Areas: from a line down to a base, groups on top of each other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrange.bars import shares, stacked
from facetine.core.arrays import BoolArray
from facetine.core.columns import Columns
from facetine.core.columns import joined
from facetine.core.stats.groups import AGGREGATES, grouped
from facetine.grammar.options import choice, ink, number, option
from facetine.layers.bars import square_key
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.summary import at_one_place, slots, summarised
from facetine.scene.marks import Paths, Rects, Region, Stroke


@dataclass(frozen=True, kw_only=True)
class Areas(DrawnLayer):
    """The room between a line and zero."""

    verb: ClassVar[str] = "areas"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "outline", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    from_zero: ClassVar[bool] = True

    color: str | None = option(None, ink, "The inside.")
    outline: str | None = option(None, ink, "A line around; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 1 by default.")
    line_width: float | None = option(None, number(0, 100), "Width of the line around in points.")
    arrange: str = option(
        "stack", choice("stack", "share", "overlay", name="arrangements"), "How groups share the room at one x."
    )
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What is drawn of the rows at one x.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The rows of each group by increasing x."""
        say_lone_rows(rows, context)
        if self.aggregate != "none":
            return summarised(rows, self.aggregate, context)
        groups = at_one_place(rows)
        if len(groups.starts) < len(rows):
            context.say(
                f"{context.where}: several rows of one area have the same {context.columns['x']}; "
                'aggregate="mean" draws their mean, "sum" their sum'
            )
            return summarised(rows, "mean", context)
        return rows.take(groups.order)

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """Groups on top of each other; a group without a value at another's x is taken as on a straight line there."""
        if self.arrange == "overlay" or not len(rows):
            return rows.put(y_low=np.minimum(rows["y"], 0.0), y_high=np.maximum(rows["y"], 0.0))
        rows = _on_common_places(rows)
        value = shares(slots(rows), rows["y"]) if self.arrange == "share" else rows["y"]
        low, high = stacked(slots(rows), rows.group, value)
        return rows.put(y_low=low, y_high=high, y=high)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A polygon for each group."""
        yield from ribbons(rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def say_lone_rows(rows: Columns, context: Context) -> None:
    """A group of one row has no width to fill."""
    groups = grouped(rows.panel, rows.group)
    if (groups.sizes == 1).any():
        context.say(f"{context.where}: a group of 1 row has no area and is left out")


def _on_common_places(rows: Columns) -> Columns:
    """Every group of a panel at every x of the panel between its own ends."""
    parts = []
    for panel in np.unique(rows.panel).tolist():
        here = rows.take(rows.panel == panel)
        every = np.unique(here["x"])
        for group in np.unique(here.group).tolist():
            own = here.take(here.group == group)
            order = np.argsort(own["x"], kind="stable")
            x, y = own["x"][order], own["y"][order]
            at = every[(every >= x[0]) & (every <= x[-1])]
            parts.append(own.take(np.zeros(len(at), np.int64)).put(x=at, y=np.interp(at, x, y)))
    return joined(parts)


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
            yield Paths(ring, np.zeros(1, np.int64), stroke, looks["color"], looks["opacity"] * opacity, closed=True)


def _unbroken(part: Columns) -> Iterator[Columns]:
    good: BoolArray = np.isfinite(part["x"]) & np.isfinite(part["y_low"]) & np.isfinite(part["y_high"])
    edges = np.flatnonzero(np.diff(np.concatenate([[False], good, [False]]).astype(int)))
    for start, end in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if end - start > 1:
            yield part.take(np.arange(start, end))
