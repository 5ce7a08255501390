"""Labels moved off points and each other."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray


class LabelPlaces(NamedTuple):
    """Where labels go."""

    center: FloatArray
    """Shape (n, 2)."""
    leader: BoolArray
    """Shape (n,): whether a label stands so far from its point that a line must lead there."""
    clear: BoolArray
    """Shape (n,): whether it has a place inside the box that touches no other clear label; the others have none."""


def placed_labels(
    at: FloatArray,
    size: FloatArray,
    obstacles: FloatArray,
    box: tuple[float, float, float, float],
    gap: float,
    ranks: FloatArray | None = None,
) -> LabelPlaces:
    """Places for labels beside their points, none over another and as few points covered as can be.

    Labels of the highest rank choose first, of one rank those with the most crowded surroundings. Each tries eight places
    around its point, then ever wider
    rings, and takes the first that is free of labels and points; where none is, the one that covers the fewest points.
    A label that would lie over another everywhere, or leave the box, has no place and takes none from the rest.

    Args:
        at: Points that are labelled, shape (n, 2).
        size: Width and height of each label, shape (n, 2).
        obstacles: Points that should stay uncovered, shape (m, 2).
        box: Left, top, right and bottom that no label should leave.
        gap: Least distance of a label from its point.
        ranks: Shape (n,); None where all have one rank.
    """
    count = len(at)
    center, leader, clear = at.copy(), np.zeros(count, bool), np.zeros(count, bool)
    boxes, done = np.zeros((count, 4)), 0
    crowd = _crowd(at)
    first = np.zeros(count) if ranks is None else -ranks
    for number in np.lexsort((-crowd, first)).tolist():
        tries, ring = _tries(at[number], size[number], gap)
        half = size[number] / 2
        # Most labels find a place near their point; only the others look farther out.
        for few in (16, len(tries)):
            found = _weighed(at[number], tries[:few], ring[:few], half, boxes[:done], obstacles, box)
            if found.cost < _FREE:
                break
        best = found.best
        center[number], leader[number] = tries[best], found.clear and ring[best] >= 2
        clear[number] = found.clear
        if found.clear:
            boxes[done], done = (*(tries[best] - half), *(tries[best] + half)), done + 1
        if leader[number]:
            # What comes later keeps off the leader as it does off points.
            line = center[number] + np.linspace(0.2, 0.9, 8)[:, None] * (at[number] - center[number])
            obstacles = np.concatenate([obstacles, line])
    return LabelPlaces(center, leader, clear)


class _Found(NamedTuple):
    """The best of some places for a label: its number and what it covers; not clear where there is none."""

    best: int
    cost: float
    clear: bool


# Half the width of what stands for a point where a leader would run through it.
_DOT = 1.6
# A place that covers nothing costs less than this, in the first rings.
_FREE = 2.0


def _crowd(at: FloatArray) -> FloatArray:
    """How many points lie near each, shape (n,): in its cell of 30 points and in the eight around."""
    if not len(at):
        return np.zeros(0)
    cell = np.floor((at - at.min(axis=0)) / 30.0).astype(np.int64) + 1
    rows = int(cell[:, 1].max()) + 2
    counts = np.bincount(cell[:, 0] * rows + cell[:, 1], minlength=(int(cell[:, 0].max()) + 2) * rows)
    near = np.zeros(len(at))
    for across in (-1, 0, 1):
        for up in (-1, 0, 1):
            near += counts[(cell[:, 0] + across) * rows + cell[:, 1] + up]
    return near


def _weighed(
    point: FloatArray,
    tries: FloatArray,
    ring: FloatArray,
    half: FloatArray,
    placed: FloatArray,
    obstacles: FloatArray,
    box: tuple[float, float, float, float],
) -> _Found:
    """The place that covers least."""
    low, high = tries - half, tries + half
    inside = (low[:, 0] >= box[0]) & (low[:, 1] >= box[1]) & (high[:, 0] <= box[2]) & (high[:, 1] <= box[3])
    reach = np.abs(tries - point).max(axis=0) + half
    # Only labels within reach can be touched, by a label or by its leader.
    taken = placed[((placed[:, :2] < point + reach) & (placed[:, 2:] > point - reach)).all(axis=1)]
    free = np.flatnonzero(inside & ~_overlaps(low, high, taken[:, :2], taken[:, 2:]).any(axis=1))
    if not len(free):
        return _Found(0, np.inf, False)
    near = obstacles[(np.abs(obstacles - point) < reach).all(axis=1)]
    cost = _overlaps(low[free] - 0.6, high[free] + 0.6, near, near).sum(axis=1) * 40.0 + ring[free]
    # Only the best few are worth the look whether their leader runs through another label or point.
    few = np.argsort(cost, kind="stable")[:24]
    chosen = free[few]
    crossed = np.zeros(len(few))
    if (ring[chosen] >= 2).any():
        others = near[(np.abs(near - point) > 2 * _DOT).any(axis=1)]
        met = np.concatenate([taken, np.column_stack([others - _DOT, others + _DOT])])
        crossed = np.where(ring[chosen] >= 2, _crossings(point, tries[chosen], met), 0.0)
    total = cost[few] + 30.0 * crossed
    best = int(np.argmin(total))
    return _Found(int(chosen[best]), float(total[best]), True)


def _tries(point: FloatArray, size: FloatArray, gap: float) -> tuple[FloatArray, FloatArray]:
    """Centers to try, and how far each is, in rings: beside, above, below, at the corners, then farther."""
    sides = np.array([[1, 0], [-1, 0], [0, -1], [0, 1], [0.7, -0.9], [0.7, 0.9], [-0.7, -0.9], [-0.7, 0.9]])
    found, cost = [], []
    for ring, far in enumerate((gap, gap + 2.0, gap + 6.0, gap + 12.0, gap + 20.0, gap + 32.0, gap + 48.0)):
        found.append(point + sides * (size / 2 + far))
        cost.append(ring + np.arange(8) * 0.05)
    return np.concatenate(found), np.concatenate(cost)


def _crossings(point: FloatArray, tries: FloatArray, boxes: FloatArray) -> FloatArray:
    """How many boxes the leader from each place to its point would run through, shape (k,)."""
    along = np.linspace(0.15, 0.95, 17)[:, None, None]
    path = tries[None] + along * (point - tries)[None]
    inside = (path[:, :, None, :] > boxes[None, None, :, :2]) & (path[:, :, None, :] < boxes[None, None, :, 2:])
    result: FloatArray = inside.all(axis=3).any(axis=0).sum(axis=1).astype(float)
    return result


def _overlaps(low: FloatArray, high: FloatArray, other_low: FloatArray, other_high: FloatArray) -> BoolArray:
    """Which rectangles of the first kind share room with which of the second, shape (k, m)."""
    result: BoolArray = (
        (low[:, None, 0] < other_high[None, :, 0])
        & (high[:, None, 0] > other_low[None, :, 0])
        & (low[:, None, 1] < other_high[None, :, 1])
        & (high[:, None, 1] > other_low[None, :, 1])
    )
    return result
