"""Counts on a plane: squares and hexagons."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray, IntArray


def counted_squares(
    x: FloatArray, y: FloatArray, edges_x: FloatArray, edges_y: FloatArray, weights: FloatArray | None = None
) -> FloatArray:
    """Sums in a grid of cells, shape (rows, columns); values outside are not counted.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        edges_x: Increasing edges of shape (columns + 1,); quicker where they are even.
        edges_y: Likewise, shape (rows + 1,).
        weights: Shape (n,); one each where they are not given.
    """
    columns, rows = len(edges_x) - 1, len(edges_y) - 1
    total = np.zeros(rows * columns)
    block = 1 << 16
    for start in range(0, len(x), block):
        across, good_x = _place(x[start : start + block], edges_x)
        up, good_y = _place(y[start : start + block], edges_y)
        good = good_x & good_y
        code = up * columns + across
        mass = None if weights is None else weights[start : start + block]
        if not good.all():
            code = code[good]
            mass = None if mass is None else mass[good]
        total += np.bincount(code, mass, minlength=rows * columns)
    return total.reshape(rows, columns)


def _place(values: FloatArray, edges: FloatArray) -> tuple[IntArray, BoolArray]:
    count = len(edges) - 1
    good: BoolArray = (values >= edges[0]) & (values <= edges[-1])
    widths = np.diff(edges)
    if np.ptp(widths) > 1e-9 * widths.max():
        place = np.clip(np.searchsorted(edges, values, side="right") - 1, 0, count - 1)
        return place, good
    place = ((np.clip(values, edges[0], edges[-1]) - edges[0]) * (count / (edges[-1] - edges[0]))).astype(np.int64)
    np.clip(place, 0, count - 1, out=place)
    # Rounding can put a value beside an edge into the neighbour; the edges themselves decide.
    place -= (values < edges[place]) & (place > 0)
    place += (values >= edges[place + 1]) & (place < count - 1)
    return place, good


class Hexagons(NamedTuple):
    """Sums in the hexagons that hold anything."""

    x: FloatArray
    """Shape (m,): centers."""
    y: FloatArray
    """Shape (m,)."""
    weight: FloatArray
    """Shape (m,)."""
    cell: IntArray
    """Shape (n,): the hexagon of each value."""


def counted_hexagons(x: FloatArray, y: FloatArray, width: float, height: float, weights: FloatArray | None = None) -> Hexagons:
    """Sums in hexagons that stand on a corner, each value in the one whose center is nearest.

    Args:
        x: Shape (n,), finite.
        y: Shape (n,), finite.
        width: Distance of centers in a row, in the unit of x.
        height: Distance of rows, in the unit of y; hexagons are regular where that is √3/2 widths on paper.
        weights: Shape (n,); one each where they are not given.

    Source: Carr, Littlefield, Nicholson & Littlefield (1987), J. Am. Stat. Assoc. 82, 424–436.
    """
    across, up = x / width, y / (2 * height)
    # Two rectangular lattices make up the hexagonal one; the nearer center wins (distances on paper: y counts √3).
    first_x, first_y = np.rint(across), np.rint(up)
    second_x, second_y = np.floor(across) + 0.5, np.floor(up) + 0.5
    near = (across - first_x) ** 2 + 3 * (up - first_y) ** 2 <= (across - second_x) ** 2 + 3 * (up - second_y) ** 2
    twice_x = np.where(near, 2 * first_x, 2 * second_x).astype(np.int64)
    twice_y = np.where(near, 2 * first_y, 2 * second_y).astype(np.int64)
    low_x, low_y = (int(line.min()) if len(x) else 0 for line in (twice_x, twice_y))
    columns = int(twice_x.max()) - low_x + 1 if len(x) else 1
    code = (twice_y - low_y) * columns + (twice_x - low_x)
    found, cell = np.unique(code, return_inverse=True)
    weight = np.bincount(cell, weights, minlength=len(found)).astype(float)
    center_x = (found % columns + low_x) / 2 * width
    center_y = (found // columns + low_y) * height
    return Hexagons(center_x, center_y, weight, cell.astype(np.int64))


HEXAGON: tuple[tuple[float, float], ...] = tuple(
    (round(math.sin(math.radians(60 * i)) / math.sqrt(3), 6), round(math.cos(math.radians(60 * i)) / math.sqrt(3), 6))
    for i in range(6)
)
"""Corners of a hexagon around zero that stands on a corner, in units of its width."""
