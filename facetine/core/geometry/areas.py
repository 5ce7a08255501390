"""Areas on the sheet: what marks cover, and what they have in common.

Areas are arrays of polygons of the general-purpose library shapely, whose overlay is robust; they come from arrays of
vertices and go back to these.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Any, TypeAlias

import numpy as np

from facetine.core.arrays import FloatArray, IntArray

Area: TypeAlias = Any
"""A polygon with holes, or several of them."""

_SPECK = 1e-4
"""An area in points² that nobody sees."""
_MITER_LIMIT = 10.0
"""Of joins, as in PDF (ISO 32000-1, table 52) and PostScript: longer ones are cut off."""
_MOST_DASHES = 2000


def disc(x: float, y: float, radius: float) -> Area:
    """A disc, as a polygon whose edges are at most 0.25 % of the radius inside of it, or 0.01 points.

    Args:
        x: Its middle.
        y: Its middle.
        radius: In points.

    >>> round(float(disc(0.0, 0.0, 2.0).area), 2)
    12.53
    """
    from shapely import Point

    off = min(1e-3, 0.01 / radius) if radius > 10 else 2.5e-3
    return Point(x, y).buffer(radius, quad_segs=math.ceil(math.pi / 4 / math.acos(1 - off)))


def inside_of(points: FloatArray, starts: Sequence[int] = (0,)) -> Area:
    """What closed lines enclose by the even-odd rule.

    Args:
        points: Shape (n, 2): the vertices of all lines.
        starts: Where each line begins.

    >>> square = np.array([[0.0, 0], [4, 0], [4, 4], [0, 4]])
    >>> float(inside_of(np.vstack([square, square / 2 + 1]), [0, 4]).area)
    12.0
    """
    from shapely import Polygon, is_valid, make_valid

    whole = Polygon()
    for start, end in zip(starts, [*starts[1:], len(points)], strict=True):
        if end - start < 3:
            continue
        ring = Polygon(points[start:end])
        whole = whole.symmetric_difference(ring if is_valid(ring) else make_valid(ring))
    return whole


def under_line(
    points: FloatArray,
    starts: Sequence[int],
    width: float,
    dash: Sequence[float] = (),
    round_: bool = False,
    closed: bool = False,
) -> Area:
    """What lines of a width cover.

    Args:
        points: Shape (n, 2): the vertices of all lines.
        starts: Where each line begins.
        width: In points.
        dash: Lengths of strokes and gaps, in turn; none for an unbroken line.
        round_: Whether ends and joins are round; else ends are cut off and joins pointed.
        closed: Whether lines return to where they begin.

    >>> float(under_line(np.array([[0.0, 0], [10, 0]]), [0], 2.0).area)
    20.0
    >>> float(under_line(np.array([[0.0, 0], [10, 0]]), [0], 2.0, [1.0, 4.0]).area)
    4.0
    """
    from shapely import LinearRing, LineString, union_all

    covered: list[Area] = []
    for start, end in zip(starts, [*starts[1:], len(points)], strict=True):
        part = points[start:end]
        if len(part) < 2 or not np.ptp(part, axis=0).any():
            continue
        whole = LinearRing(part) if closed and len(part) > 2 else LineString(part)
        lines = _dashes(whole, dash) if dash else [whole]
        covered += [line.buffer(width / 2, cap_style="round") if round_ else _pointed(line, width / 2) for line in lines]
    return union_all(covered)


def _pointed(line: Any, half: float) -> Area:
    """What a line covers whose ends are cut off: each edge as a rectangle, and pointed joins, too long ones cut off."""
    from shapely import LinearRing, polygons, union_all

    points = np.asarray(line.coords)
    points = points[np.append(True, np.any(np.diff(points, axis=0) != 0, axis=1))]
    along = np.diff(points, axis=0)
    along /= np.hypot(*along.T)[:, None]
    aside = half * np.column_stack([-along[:, 1], along[:, 0]])
    edges = np.stack([points[:-1] + aside, points[1:] + aside, points[1:] - aside, points[:-1] - aside], axis=1)
    ring = isinstance(line, LinearRing)
    at = points[1:] if ring else points[1:-1]
    first, second = (aside, np.roll(aside, -1, axis=0)) if ring else (aside[:-1], aside[1:])
    turn = first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]
    outer = np.where(turn > 0, -1.0, 1.0)[:, None]
    both = first + second
    # The tip lies along the sum of both sides; its distance from the line, by the half width, is the miter ratio.
    square = (both**2).sum(axis=1, keepdims=True)
    with np.errstate(all="ignore"):
        tip = np.where(2 * half / np.sqrt(square) <= _MITER_LIMIT, both * (2 * half * half / square), both / 2)
    corners = np.stack([at, at + outer * first, at + outer * tip, at + outer * second], axis=1)
    return union_all(polygons(np.concatenate([edges, corners[np.abs(turn) > 1e-9]])))


def _dashes(line: Any, dash: Sequence[float]) -> Iterator[Any]:
    """The strokes of a broken line; the whole line where they are too many to be told apart."""
    from shapely import LineString
    from shapely.ops import substring

    pattern = list(dash) * (1 if len(dash) % 2 == 0 else 2)
    if sum(pattern) <= 0 or line.length / sum(pattern) * len(pattern) > _MOST_DASHES:
        yield line
        return
    open_line, at, number = LineString(line.coords), 0.0, 0
    while at < line.length:
        end = at + pattern[number % len(pattern)]
        if number % 2 == 0 and end > at:
            yield substring(open_line, at, min(end, line.length))
        at, number = end, number + 1


def common(area: Area, others: Sequence[Area]) -> list[tuple[int, Area]]:
    """What an area has in common with others, in their order.

    Args:
        area: One area.
        others: The others.

    Returns:
        The place of each other that it meets, and what it shares with it.

    >>> [(place, float(shared.area)) for place, shared in common(inside_of(np.array([[0.0, 0], [4, 0], [4, 4], [0, 4]])), [
    ...     inside_of(np.array([[9.0, 9], [8, 9], [8, 8]])), inside_of(np.array([[3.0, 0], [9, 0], [9, 9], [3, 9]]))])]
    [(1, 4.0)]
    """
    import shapely

    if not others:
        return []
    shapely.prepare(area)
    every = np.array(others, object)
    places = np.flatnonzero(shapely.intersects(area, every))
    shared = shapely.intersection(area, every[places])
    large = shapely.area(shared) > _SPECK
    return list(zip(places[large].tolist(), shared[large].tolist(), strict=True))


def outline_key(area: Area) -> bytes:
    """Equal for areas of the same outline.

    >>> corners = np.array([[0.0, 0], [4, 0], [4, 4]])
    >>> outline_key(inside_of(corners)) == outline_key(inside_of(corners[[1, 2, 0]]))
    True
    """
    import shapely

    corners: FloatArray = shapely.get_coordinates(shapely.normalize(area))
    return corners.round(6).tobytes()


def rings_of(area: Area) -> tuple[FloatArray, IntArray]:
    """An area as closed lines, which enclose it by the even-odd rule.

    Returns:
        The vertices, shape (n, 2), and where each line begins, shape (k,).

    >>> points, starts = rings_of(inside_of(np.array([[0.0, 0], [4, 0], [4, 4]])))
    >>> len(points), starts.tolist()
    (3, [0])
    """
    import shapely

    # Areas that touch have lines and points in common too.
    parts = [part for part in shapely.get_parts(area).tolist() if shapely.get_dimensions(part) == 2]
    rings = [shapely.get_coordinates(ring)[:-1] for part in parts for ring in shapely.get_rings(part).tolist()]
    if not rings:
        return np.zeros((0, 2)), np.zeros(0, np.int64)
    return np.concatenate(rings), np.cumsum([0, *(len(ring) for ring in rings[:-1])])
