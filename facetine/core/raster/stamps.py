"""How much of each pixel a small shape covers, for places of its middle between the pixels."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray

PHASES = 48
"""Places along a pixel's side: at 300 pixels an inch a hundredth of a point is two of them."""


class Stamp(NamedTuple):
    """A shape at all places between pixels."""

    phases: int
    """Places along a pixel's side."""
    reach: int
    """How many pixels it reaches from the one that its middle lies in, either way."""
    share: FloatArray
    """Shape (phases², side²), side = 2 reach + 1: the covered share of each pixel, row by row; by the phase down, then
    across."""

    @property
    def side(self) -> int:
        """Pixels along each side of it."""
        return 2 * self.reach + 1


class Convex(NamedTuple):
    """A convex shape around the origin, in pixels, y downwards, by its columns."""

    x: FloatArray
    """Shape (k,): increasing; where the upper and lower edges are known."""
    upper: FloatArray
    """Shape (k,): the smaller y of its edge."""
    lower: FloatArray
    """Shape (k,): the larger y."""
    sign: float = 1.0
    """−1 for a part that is taken away, or counted twice before."""


def disc(radius: float, sign: float = 1.0) -> Convex:
    """A disc, by many columns, closer at its sides where its edge is steep."""
    x = -radius * np.cos(np.linspace(0.0, np.pi, 512))
    half = np.sqrt(np.maximum(radius**2 - x**2, 0.0))
    return Convex(x, -half, half, sign)


def polygon(points: Sequence[tuple[float, float]], sign: float = 1.0) -> Convex:
    """A convex polygon.

    Args:
        points: Its corners, in either direction.
        sign: As for `Convex`.
    """
    corners = np.array(points, float)
    middle = corners.mean(axis=0)
    corners = corners[np.argsort(np.arctan2(*(corners - middle).T[::-1]))]
    # Sides that stand upright lean by nothing that can be seen, so that every column has one upper and one lower edge.
    low, high = corners[:, 0].min(), corners[:, 0].max()
    x = np.unique(np.concatenate([corners[:, 0], np.linspace(low, high, 257)]))
    upper, lower = np.full(len(x), np.inf), np.full(len(x), -np.inf)
    for start, end in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        (a, b), (c, d) = sorted([tuple(start), tuple(end)])
        inside = (x >= a - 1e-12) & (x <= c + 1e-12)
        for y in (b, d) if abs(c - a) < 1e-9 else ():
            upper[inside], lower[inside] = np.minimum(upper[inside], y), np.maximum(lower[inside], y)
        if abs(c - a) >= 1e-9:
            y = b + (x[inside] - a) / (c - a) * (d - b)
            upper[inside], lower[inside] = np.minimum(upper[inside], y), np.maximum(lower[inside], y)
    return Convex(x, upper, lower, sign)


def stamp(parts: Sequence[Convex]) -> Stamp:
    """A shape made of convex parts, drawn at all places between pixels.

    Areas are exact along y, and along x up to a 64th of a phase.
    """
    far = max(float(np.abs([*part.x, *part.upper, *part.lower]).max()) for part in parts)
    reach = int(np.ceil(far + 0.5))
    side = 2 * reach + 1
    phases = PHASES
    cells = phases * (side + 1)
    fine = np.zeros((cells + 1, cells + 1))
    start = -(reach + 1.0)
    edges = start + np.arange(cells + 1) / phases
    for part in parts:
        fine += part.sign * _integral(part, edges)
    # Entry (i, j) of `fine` is the area above and left of the corner at edges[i], edges[j].
    pixels = np.arange(side) * phases
    # A middle at phase p of its pixel moves the shape right by p: its pixels begin p before.
    low = pixels[None, :] + phases - np.arange(phases)[:, None]
    high = np.minimum(low + phases, cells)
    rows = fine[high] - fine[low]
    share = rows[:, :, high] - rows[:, :, low]
    made = share.transpose(0, 2, 1, 3).reshape(phases * phases, side * side)
    return Stamp(phases, reach, np.clip(made, 0.0, 1.0).astype(np.float32))


def _integral(part: Convex, edges: FloatArray) -> FloatArray:
    """The area of a shape above y and left of x, for all pairs of edges: shape (len(edges), len(edges)), by y, then x."""
    fine = np.unique(np.concatenate([edges, part.x]))
    inside = fine[(fine >= part.x[0]) & (fine <= part.x[-1])]
    if len(inside) < 2:
        return np.zeros((len(edges), len(edges)))
    middle = (inside[1:] + inside[:-1]) / 2
    upper, lower = np.interp(middle, part.x, part.upper), np.interp(middle, part.x, part.lower)
    strips = np.clip(edges[:, None], upper[None], np.maximum(lower, upper)[None]) - upper[None]
    summed = np.concatenate([np.zeros((len(edges), 1)), np.cumsum(strips * np.diff(inside)[None], axis=1)], axis=1)
    at = np.searchsorted(inside, edges, side="right") - 1
    area: FloatArray = np.where(at[None] < 0, 0.0, summed[:, np.maximum(at, 0)])
    return area
