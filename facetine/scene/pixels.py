"""Markers in pixels, drawn by our own hand where there are very many."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.raster.layered import Inked, layered
from facetine.core.raster.lines import thinned
from facetine.core.raster.stamps import Convex, Stamp, disc, polygon, stamp
from facetine.scene.marks import Markers, MarkerStyle, Paths
from facetine.scene.shapes import OUTLINES

_LARGEST = 24.0
"""Radius in pixels of a marker that is drawn here; fewer and larger ones are as quick elsewhere."""
_MOST_STAMPS = 24
_FINE = 32
"""Parts of a pixel within which vertices of a line are one place."""


def can_draw(mark: Markers, scale: float) -> bool:
    """Whether markers are small and alike enough to be drawn here.

    Args:
        mark: The markers.
        scale: Pixels a point.
    """
    shapes = {(style.shape, style.radius, style.line_width, style.fill is None, style.outline is None) for style in mark.styles}
    small = all(0 < (style.radius + style.line_width) * scale <= _LARGEST for style in mark.styles)
    seen = all(style.fill is not None or style.outline is not None for style in mark.styles)
    return small and seen and len(shapes) <= _MOST_STAMPS


def thinned_line(mark: Paths, scale: float) -> Paths:
    """A line without the vertices that pixels can't tell apart; the same where it is filled or runs back."""
    if mark.fill is not None or mark.closed:
        return mark
    points, starts = thinned(mark.points, mark.starts, 1 / (_FINE * scale))
    return mark if points is mark.points else mark._replace(points=points, starts=starts, rows=None)


def drawn(mark: Markers, left: int, top: int, scale: tuple[float, float], width: int, height: int) -> AnyArray:
    """Markers as pixels.

    Args:
        mark: The markers.
        left: The left edge of the picture in pixels.
        top: Its upper edge.
        scale: Pixels a point, across and down: a sheet may not be a whole number of them wide and high.
        width: Of the picture in pixels.
        height: Likewise.

    Returns:
        Shape (height, width, 4): red, green and blue, each times the opacity, and the opacity, from 0 to 1.
    """
    # As vector files write them: hundredths of a point.
    at = np.rint(mark.at * 100) / 100 * scale - (left, top)
    looks = [_look(style, math.sqrt(scale[0] * scale[1])) for style in mark.styles]
    return layered(at, looks, mark.which, mark.opacity, width, height)


def _look(style: MarkerStyle, scale: float) -> Inked:
    stamps, colors = [], []
    radius, line = round(style.radius * scale, 4), round(style.line_width * scale, 4)
    if style.fill is not None and not OUTLINES[style.shape].open:
        stamps.append(_inside(style.shape, radius))
        colors.append(_color(style.fill))
    if style.outline is not None and line > 0:
        stamps.append(_border(style.shape, radius, line))
        colors.append(_color(style.outline))
    return Inked(tuple(stamps), tuple(colors))


def _color(color: str) -> tuple[float, float, float]:
    red, green, blue = (int(color[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return red, green, blue


@lru_cache(maxsize=64)
def _inside(shape: str, radius: float) -> Stamp:
    empty = [polygon([(x * radius, y * radius) for x, y in part], -1.0) for part in OUTLINES[shape].parts[1:]]
    return stamp([_filled(shape, radius), *empty])


def _filled(shape: str, radius: float, sign: float = 1.0) -> Convex:
    outline = OUTLINES[shape]
    if not outline.parts:
        return disc(radius, sign)
    return polygon([(x * radius, y * radius) for x, y in outline.parts[0]], sign)


@lru_cache(maxsize=64)
def _border(shape: str, radius: float, line: float) -> Stamp:
    """The line around a shape, half of it inside, with mitred corners; or the strokes of an open one."""
    outline = OUTLINES[shape]
    if not outline.open:
        flat = _flat_distance(shape) * radius
        outer, inner = radius * (1 + line / 2 / flat), radius * (1 - line / 2 / flat)
        return stamp([_filled(shape, outer), _filled(shape, inner, -1.0)] if inner > 0 else [_filled(shape, outer)])
    strokes, ways = [], []
    for (x0, y0), (x1, y1) in outline.parts:
        way = np.array([x1 - x0, y1 - y0]) / np.hypot(x1 - x0, y1 - y0)
        ways.append(way)
        aside = np.array([-way[1], way[0]]) * line / 2
        ends = np.array([(x0, y0), (x1, y1)]) * radius
        strokes.append(polygon([tuple(ends[0] + aside), tuple(ends[1] + aside), tuple(ends[1] - aside), tuple(ends[0] - aside)]))
    if len(strokes) == 1:
        return stamp(strokes)
    # Where the two strokes cross, one is enough.
    half = line / 2
    corners = [tuple(a * half * ways[0] + b * half * ways[1]) for a, b in ((1, 1), (1, -1), (-1, -1), (-1, 1))]
    return stamp([*strokes, polygon(corners, -1.0)])


def _flat_distance(shape: str) -> float:
    """How far the sides of a shape of radius 1 are from its middle."""
    outline = OUTLINES[shape]
    if not outline.parts:
        return 1.0
    points = np.array(outline.parts[0])
    ends = np.roll(points, -1, axis=0)
    sides = ends - points
    return float(np.min(np.abs(points[:, 0] * sides[:, 1] - points[:, 1] * sides[:, 0]) / np.hypot(sides[:, 0], sides[:, 1])))
