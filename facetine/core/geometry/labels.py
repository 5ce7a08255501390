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
    """Shape (n,): whether it touches no other label and leaves the box nowhere."""


def placed_labels(
    at: FloatArray, size: FloatArray, obstacles: FloatArray, box: tuple[float, float, float, float], gap: float
) -> LabelPlaces:
    """Places for labels beside their points, none over another and as few points covered as can be.

    Labels with the most crowded surroundings choose first. Each tries eight places around its point, then ever wider
    rings, and takes the first that is free of labels and points; where none is, the one that covers least, never a label
    if it can be helped.

    Args:
        at: Points that are labelled, shape (n, 2).
        size: Width and height of each label, shape (n, 2).
        obstacles: Points that should stay uncovered, shape (m, 2).
        box: Left, top, right and bottom that no label should leave.
        gap: Least distance of a label from its point.
    """
    count = len(at)
    center, leader, clear = at.copy(), np.zeros(count, bool), np.zeros(count, bool)
    boxes = np.zeros((count, 4))
    crowd = np.array([(np.hypot(*(at - point).T) < 30).sum() for point in at]) if count else np.zeros(0)
    for done, number in enumerate(np.argsort(-crowd, kind="stable").tolist()):
        tries, ring = _tries(at[number], size[number], gap)
        half = size[number] / 2
        low, high = tries - half, tries + half
        inside = (low[:, 0] >= box[0]) & (low[:, 1] >= box[1]) & (high[:, 0] <= box[2]) & (high[:, 1] <= box[3])
        reach = np.abs(tries - at[number]).max(axis=0) + half
        # Only labels within reach can be touched, by a label or by its leader.
        taken = boxes[:done]
        taken = taken[((taken[:, :2] < at[number] + reach) & (taken[:, 2:] > at[number] - reach)).all(axis=1)]
        over = _overlaps(low, high, taken[:, :2], taken[:, 2:]).sum(axis=1)
        near = obstacles[(np.abs(obstacles - at[number]) < reach).all(axis=1)]
        covered = _overlaps(low - 0.6, high + 0.6, near, near).sum(axis=1)
        cost = over * 1000.0 + ~inside * 500.0 + covered * 10.0 + ring
        # Only the best few are worth the look whether their leader runs through another label.
        few = np.argsort(cost, kind="stable")[:8]
        crossed = np.where(ring[few] >= 2, _crossings(at[number], tries[few], taken), 0.0)
        best = int(few[np.argmin(cost[few] + 60.0 * crossed)])
        center[number], leader[number] = tries[best], ring[best] >= 2
        clear[number] = bool(inside[best]) and over[best] == 0
        boxes[done] = (*low[best], *high[best])
    return LabelPlaces(center, leader, clear)


def _tries(point: FloatArray, size: FloatArray, gap: float) -> tuple[FloatArray, FloatArray]:
    """Centers to try, and how far each is, in rings: beside, above, below, at the corners, then farther."""
    sides = np.array([[1, 0], [-1, 0], [0, -1], [0, 1], [0.7, -0.9], [0.7, 0.9], [-0.7, -0.9], [-0.7, 0.9]])
    found, cost = [], []
    for ring, far in enumerate((gap, gap + 2.0, gap + 6.0, gap + 12.0, gap + 20.0, gap + 32.0, gap + 48.0)):
        found.append(point + sides * (size / 2 + far))
        cost.append(ring + np.arange(8) * 0.05)
    return np.concatenate(found), np.concatenate(cost)


def _crossings(point: FloatArray, tries: FloatArray, boxes: FloatArray) -> FloatArray:
    """How many labels the leader from each place to its point would run through, shape (k,)."""
    along = np.linspace(0.15, 0.95, 9)[:, None, None]
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
