"""Floats: what is placed after the tracks, where the marks of a panel leave room."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.pipeline.layout.body import PlacedPanel
from facetine.pipeline.scales.member import Member
from facetine.scene.region import Region

_PAIRS = (("", ""), ("_low", "_high"), ("", "_to"))
"""Names of the places between which a mark lies, along each axis; the last that its rows have."""


class Float(NamedTuple):
    """A box inside a panel, at one of its corners."""

    panel: int
    anchor: str
    """The corner, such as "upper right"."""
    region: Region
    covered: int
    """How many marks of the panel it covers."""


def obstacles(member: Member, place: PlacedPanel) -> FloatArray:
    """What stands in a panel, as rectangles on the sheet, shape (n, 4): left, top, right, bottom; points have no extent."""
    axes, box, rectangles = member.scales.under(place.panel), place.box, [np.zeros((0, 4))]
    for run in member.runs:
        rows = run.table.take(run.table.panel == place.panel.number - member.first) if len(run.table) else run.table
        across, up = (_span(rows, axis) for axis in ("x", "y"))
        if across is None or up is None:
            continue
        left, right = (box.x + axes["x"].extent.share(end) * box.width for end in across)
        low, high = (box.bottom - axes["y"].extent.share(end) * box.height for end in up)
        sides = np.column_stack([np.fmin(left, right), np.fmin(low, high), np.fmax(left, right), np.fmax(low, high)])
        rectangles.append(sides[np.isfinite(sides).all(axis=1)])
    return np.concatenate(rectangles)


def _span(rows: Columns, axis: str) -> tuple[FloatArray, FloatArray] | None:
    """Between which places the marks of rows lie along an axis; None where they have none."""
    for start, end in reversed(_PAIRS):
        if f"{axis}{start}" in rows and f"{axis}{end}" in rows:
            first, last = rows[f"{axis}{start}"].astype(float), rows[f"{axis}{end}"].astype(float)
            # An end that is open reaches no farther than the other one.
            return np.where(np.isnan(first), last, first), np.where(np.isnan(last), first, last)
    return None


def placed_float(
    width: float, height: float, gap: float, panels: tuple[PlacedPanel, ...], standing: list[FloatArray]
) -> Float | None:
    """A box of a size in the corner of a panel where it covers the fewest marks, the first of equals.

    Args:
        width: Of the box.
        height: Of the box.
        gap: Room that it keeps to the edges of its panel and to marks.
        panels: All panels.
        standing: The obstacles in each of them.

    Returns:
        None where no panel is large enough.
    """
    best: Float | None = None
    for number, (panel, marks) in enumerate(zip(panels, standing, strict=True)):
        box = panel.box
        if box.width < width + 2 * gap or box.height < height + 2 * gap:
            continue
        for anchor in ("upper right", "upper left", "lower right", "lower left"):
            left = box.right - gap - width if "right" in anchor else box.x + gap
            top = box.y + gap if "upper" in anchor else box.bottom - gap - height
            meets = (marks[:, 0] < left + width + gap) & (marks[:, 2] > left - gap)
            meets &= (marks[:, 1] < top + height + gap) & (marks[:, 3] > top - gap)
            covered = int(meets.sum())
            if best is None or covered < best.covered:
                best = Float(number, anchor, Region(left, top, width, height), covered)
    return best
