"""Contours of a surface: lines of one height, and the parts above it."""

from __future__ import annotations

from typing import Any

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.surfaces import Surface


def contour_pieces(surface: Surface, height: float, filled: bool) -> list[list[FloatArray]]:
    """The contour of a surface at one height, by marching squares.

    Args:
        surface: Heights on a grid.
        height: The height.
        filled: Whether the parts at or above the height are wanted instead of the lines.

    Returns:
        For lines: pieces of one line each, shape (n, 2). For parts: pieces of closed rings, the outer one first, then its
        holes.
    """
    import contourpy

    tracer: Any = contourpy.contour_generator(surface.x, surface.y, surface.value, line_type="Separate", fill_type="OuterOffset")
    if not filled:
        return [[line] for line in tracer.lines(height)]
    pieces = []
    for vertices, offsets in zip(*tracer.filled(height, np.inf), strict=True):
        pieces.append(np.split(vertices, offsets[1:-1]))
    return pieces
