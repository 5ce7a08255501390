"""Segments: straight lines and arrows from one place to another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.grammar.options import flag, number, option
from facetine.grammar.scale import DASHES
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed
from facetine.layers.example import Example
from facetine.layers.lines import line_key
from facetine.layers.look import Look, batches, combined
from facetine.layers.marking import Stroked
from facetine.layers.summary import PLACE_X, PLACE_Y
from facetine.scene.marks import Mark, Paths, Stroke, segments
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Segments(Stroked, DrawnLayer):
    """A line from x, y to x_to, y_to, with an arrow's head where wanted."""

    verb: ClassVar[str] = "segments"
    chosen_says: ClassVar[str] = "Follows: the segments of the chosen rows."
    rows_alone: ClassVar[bool] = True
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "A time and a number", 4, {"x": "month", "y": "wholesale", "x_to": "month", "y_to": "retail"}, ["segments"], "sales"
        ),
    )
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "x_to", "y_to", "color", "opacity", "dash", "line_width", "group")
    line_marks: ClassVar[bool] = True
    thing: ClassVar[str] = "segment"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "x_to": Computed("x"), "y_to": Computed("y"),
    }  # fmt: skip
    required: ClassVar[tuple[str, ...]] = ("x", "y", "x_to", "y_to")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")

    arrow: bool = option(False, flag)
    head: float = option(5.0, number(0.5, 200))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """One batch for each look."""
        count = len(rows)
        if not count:
            return
        ends = np.column_stack([rows["x"], rows["y"], rows["x_to"], rows["y_to"]])
        parts, which = combined(panel.looks, ("color", "line_width", "dash", "opacity"), count)
        for (shade, width, dash, opacity), chosen in batches(Look(tuple(parts), which), count):
            pattern = tuple(length * width for length in DASHES[dash])
            yield from arrows(
                ends[chosen], Stroke(shade, width, pattern, opacity), self.head if self.arrow else 0.0, rows.numbers[chosen]
            )

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def arrows(ends: FloatArray, stroke: Stroke, head: float, rows: IntArray | None = None) -> Iterator[Mark]:
    """Lines from the first to the second place of each row, shape (n, 4), with heads of that length; 0 for none."""
    if not head:
        yield segments(ends, stroke, rows)
        return
    way = ends[:, 2:] - ends[:, :2]
    length = np.hypot(way[:, 0], way[:, 1])
    unit = way / np.maximum(length, 1e-9)[:, None]
    size = np.minimum(head, length)[:, None]
    # The line stops inside the head, so that its blunt end does not show at the tip.
    shaft = np.column_stack([ends[:, :2], ends[:, 2:] - unit * size * 0.8])
    yield segments(shaft, stroke, rows)
    across = np.column_stack([-unit[:, 1], unit[:, 0]])
    tip, foot = ends[:, 2:], ends[:, 2:] - unit * size
    corners = np.stack([tip, foot + across * size * 0.36, foot - across * size * 0.36], axis=1).reshape(-1, 2)
    yield Paths(
        corners,
        np.arange(0, len(corners), 3),
        None,
        stroke.color,
        stroke.opacity,
        closed=True,
        rows=None if rows is None else rows.repeat(3),
    )
