"""Tracks: a line of stretches with least sizes that share what is left, in one solver for both directions."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray


class Track(NamedTuple):
    """One stretch of a line."""

    least: float = 0.0
    """It is never smaller."""
    share: float = 0.0
    """Its share of what is left beside those that have none; 0 for one of a fixed size."""


class Need(NamedTuple):
    """A thing that lies over several tracks and needs room in them together."""

    first: int
    last: int
    """The number of the last track, which is one of them."""
    least: float


class TooSmallError(ValueError):
    """The tracks don't fit.

    Args:
        needed: The total that would do.
    """

    def __init__(self, needed: float) -> None:
        super().__init__(f"the tracks need {needed:g}")
        self.needed = needed


def edges_of(tracks: Sequence[Track], total: float | None = None, needs: Sequence[Need] = ()) -> FloatArray:
    """Where tracks begin and end.

    Every track has its least size. What a need lacks is added to the tracks with a share among those that it spans, by
    their shares, or to the last of them where none has any; needs over fewer tracks are met first. What is left of the
    total goes to the tracks with a share so that their sizes are as their shares, but for those whose least size is more.

    Args:
        tracks: In their order.
        total: The length of the line; None for the least that does.
        needs: What spans several tracks.

    Returns:
        Shape (n + 1,): the beginning of each track, and the end of the last one; from 0 to the total, where a track has a share.

    Raises:
        TooSmallError: The least sizes are more than the total.

    >>> edges_of([Track(10), Track(share=1), Track(5), Track(share=2)], 45).tolist()
    [0.0, 10.0, 20.0, 25.0, 45.0]
    """
    sizes, shares = [track.least for track in tracks], [track.share for track in tracks]
    for need in sorted(needs, key=lambda need: need.last - need.first):
        inside = range(need.first, need.last + 1)
        lacking = need.least - sum(sizes[place] for place in inside)
        if lacking > 0:
            own = sum(shares[place] for place in inside)
            for place in inside:
                sizes[place] += lacking * (shares[place] / own if own else float(place == need.last))
    if total is not None:
        needed = sum(sizes)
        if needed > total + 1e-9:
            raise TooSmallError(needed)
        sizes = _stretched(sizes, shares, total)
    return np.array([0.0, *itertools.accumulate(sizes)])


def _stretched(sizes: list[float], shares: list[float], total: float) -> list[float]:
    """Sizes that fill the total: those with a share as these say, but never smaller than they are."""
    growing = {place for place, share in enumerate(shares) if share > 0}
    # Those whose least size is more than their share of the rest keep it; the others share what remains.
    while growing:
        fixed = sum(size for place, size in enumerate(sizes) if place not in growing)
        unit = (total - fixed) / sum(shares[place] for place in growing)
        held = {place for place in growing if shares[place] * unit < sizes[place]}
        if not held:
            return [shares[place] * unit if place in growing else size for place, size in enumerate(sizes)]
        growing -= held
    return sizes
