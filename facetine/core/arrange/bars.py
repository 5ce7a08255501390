"""Bars that share a slot: on top of each other, as shares of a whole, or side by side."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.stats.groups import grouped
from facetine.core.stats.sums import running_sums


def stacked(slot: IntArray, rank: IntArray, value: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Ends of bars stacked from zero, positive ones upwards and negative ones downwards.

    Args:
        slot: Shape (n,): which slot a bar stands in.
        rank: Shape (n,): its place in the stack, lowest first.
        value: Shape (n,): its height, finite.

    Returns:
        Lower and upper ends, each of shape (n,), lower ≤ upper.

    >>> low, high = stacked(np.array([0, 0]), np.array([1, 0]), np.array([2.0, 3.0]))
    >>> low.tolist(), high.tolist()
    ([3.0, 0.0], [5.0, 3.0])
    """
    low, high = np.zeros(len(value)), np.zeros(len(value))
    for rows in (np.flatnonzero(value >= 0), np.flatnonzero(value < 0)):
        if not len(rows):
            continue
        order = rows[np.lexsort((rank[rows], slot[rows]))]
        fresh = np.ones(len(order), bool)
        fresh[1:] = slot[order][1:] != slot[order][:-1]
        large, small = running_sums(value[order], np.flatnonzero(fresh))
        far = large + small
        near = np.concatenate([[0.0], far[:-1]])
        near[fresh] = 0.0
        low[order], high[order] = np.minimum(near, far), np.maximum(near, far)
    return low, high


def shares(slot: IntArray, value: FloatArray) -> FloatArray:
    """Each bar's share of the sum of sizes in its slot, shape (n,); zero where a slot sums to zero."""
    total = np.bincount(slot, np.abs(value))[slot] if len(slot) else np.zeros(0)
    return np.divide(value, total, out=np.zeros(len(value)), where=total > 0)


def group_places(slot: IntArray, group: IntArray, every: tuple[int, ...] = (), crowded: bool = False) -> tuple[FloatArray, int]:
    """Where bars stand side by side in their slots.

    Args:
        slot: Shape (n,): which slot a bar stands in.
        group: Shape (n,): which group it belongs to; a group has the same place in every slot.
        every: All groups that have a place, also those of other marks in these slots.
        crowded: Whether other marks put two groups into one slot.

    Returns:
        Shape (n,): centers between −0.5 and 0.5 in units of a slot; and how many places a slot has: one where no slot
        holds two groups, so that bars which are alone keep the whole of it.
    """
    if not len(slot):
        return np.zeros(0), 1
    per_slot = grouped(slot, group)
    if not crowded and np.bincount(slot[per_slot.first]).max() <= 1:
        return np.zeros(len(slot)), 1
    found = np.union1d(group, np.array(every, np.int64))
    return (np.searchsorted(found, group) + 0.5) / len(found) - 0.5, len(found)
