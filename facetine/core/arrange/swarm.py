"""Points that share a place moved apart: at random, or just as far as they must be."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray

_DIGITS = 9


def jitter(count: int, spread: float, seed: int) -> FloatArray:
    """Even random shifts between −spread and spread, shape (count,), always the same for a seed."""
    return np.random.default_rng(seed).uniform(-spread, spread, count)


def beeswarm(value: FloatArray, diameter: float) -> FloatArray:
    """Shifts across that keep discs on a line from overlapping, as small as a greedy placing makes them.

    Discs are placed by increasing value, each at the shift nearest to zero where it touches none of those before it.

    Args:
        value: Places along the line, shape (n,), in the unit of the diameter.
        diameter: Of every disc, above zero.

    Returns:
        Shifts of shape (n,); any two discs are a diameter apart at least.
    """
    # Rounded, so that noise in the last digits decides neither the order nor the side.
    places = np.round(value / diameter, _DIGITS)
    order = np.argsort(places, kind="stable")
    along = places[order].tolist()
    shift: list[float] = []
    first = 0
    for number, place in enumerate(along):
        while place - along[first] >= 1.0:
            first += 1
        shift.append(_nearest_free(place, along[first:number], shift[first:number]))
    out = np.empty(len(value))
    out[order] = np.array(shift) * diameter
    return out


def swarm_work(value: FloatArray, diameter: float) -> int:
    """How many pairs of discs a beeswarm has to look at.

    Args:
        value: Places along the line, shape (n,), in the unit of the diameter.
        diameter: Of every disc, above zero.

    >>> swarm_work(np.array([0.0, 0.5, 1.2, 9.0]), 1.0)
    2
    """
    places = np.sort(value)
    return int((np.arange(len(places)) - np.searchsorted(places, places - diameter, side="right")).sum())


class Swarm(NamedTuple):
    """Shifts that keep a swarm in its slot."""

    shift: FloatArray
    """Shape (n,)."""
    spacing: float
    """The distance of marks as a share of their diameter; below 1 they overlap."""


def swarm_within(value: FloatArray, diameter: float, reach: float) -> Swarm:
    """A beeswarm that stays within a reach either way.

    Marks come closer together in steps, down to a third of their diameter; a swarm that is still too wide is narrowed
    evenly, so that its outline keeps its shape.

    Args:
        value: Places along the line, shape (n,), in the unit of the diameter.
        diameter: Of every disc, above zero.
        reach: Largest shift, above zero.
    """
    for spacing in (1.0, 0.85, 0.7, 0.55, 0.45, 0.35):
        shift = beeswarm(value, diameter * spacing)
        widest = float(np.abs(shift).max()) if len(shift) else 0.0
        if widest <= reach:
            return Swarm(shift, spacing)
    return Swarm(shift * (reach / widest), 0.35 * reach / widest)


def _nearest_free(place: float, along: list[float], shift: list[float]) -> float:
    """The shift nearest to zero at which a unit disc touches none of its neighbours."""
    if not shift:
        return 0.0
    # All neighbours are nearer than a diameter along the line; a little is added so that rounding makes none touch.
    half = [math.sqrt(1.000000004 - (place - near) * (place - near)) for near in along]
    blocked = sorted([(other - reach, other + reach) for other, reach in zip(shift, half, strict=True)])
    # Free places lie at the ends of the blocked stretches, joined where they overlap; zero itself may be free.
    up, down = 0.0, 0.0
    start, end = blocked[0]
    for low, high in blocked[1:]:
        if low < end:
            end = max(end, high)
            continue
        if start < 0 < end:
            down, up = start, end
        start, end = low, high
    if start < 0 < end:
        down, up = start, end
    return up if up <= -down + 10.0**-_DIGITS else down
