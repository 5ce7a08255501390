"""What marks cover, and what of it they have in common."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.geometry.areas import Area, common, disc, inside_of, outline_key, rings_of, under_line
from facetine.scene.marks import Markers, MarkerStyle, Paths, Rects
from facetine.scene.shapes import OUTLINES

__all__ = ["Area", "covered", "filled", "meeting", "outline_key"]


def covered(mark: Markers | Rects | Paths, stroked: bool = False) -> Area:
    """What the inside, or the line, of one shape covers.

    Args:
        mark: A mark of one symbol or one rectangle, or the parts of a path.
        stroked: Whether its line is meant, not its inside.
    """
    if isinstance(mark, Markers):
        return _of_marker(mark.at[0], mark.styles[0], stroked)
    if isinstance(mark, Rects):
        x, y, width, height = mark.boxes[0].tolist()
        return inside_of(np.array([[x, y], [x + width, y], [x + width, y + height], [x, y + height]]))
    if not stroked:
        return inside_of(mark.points, mark.starts.tolist())
    assert mark.stroke is not None
    line = mark.stroke
    return under_line(mark.points, mark.starts.tolist(), line.width, line.dash, line.cap == "round", mark.closed)


def _of_marker(at: FloatArray, style: MarkerStyle, stroked: bool) -> Area:
    outline, radius, half = OUTLINES[style.shape], style.radius, style.line_width / 2
    if not outline.parts:
        x, y = at.tolist()
        if not stroked:
            return disc(x, y, radius)
        outer = disc(x, y, radius + half)
        return outer.difference(disc(x, y, radius - half)) if radius > half else outer
    corners = [at + radius * np.array(part) for part in outline.parts]
    starts = np.cumsum([0, *(len(part) for part in corners[:-1])]).tolist()
    if not stroked:
        return inside_of(np.concatenate(corners), starts)
    return under_line(np.concatenate(corners), starts, style.line_width, closed=not outline.open)


def meeting(area: Area, others: Sequence[Area]) -> list[tuple[int, Area]]:
    """The places of other areas that one meets, and what it has in common with each."""
    return common(area, others)


def filled(area: Area, color: str) -> Paths:
    """An area as a mark of one color."""
    return Paths(*rings_of(area), None, color, 1.0, True)
