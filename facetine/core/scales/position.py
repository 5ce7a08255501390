"""Settled axes: where a value lies between the two ends of an axis, as a share."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from operator import itemgetter
from typing import NamedTuple, TypeVar

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray

T = TypeVar("T")
_FIGURES, _FIGURE = "0123456789", re.compile(r"\d")
_MANY = 5_000
"""So many words are sorted sooner by arrays."""
_LARGEST = float(np.finfo(float).max)


class Extent(NamedTuple):
    """The range of a settled axis, in axis space (after its transform)."""

    low: float
    high: float
    reverse: bool = False

    def share(self, places: FloatArray) -> FloatArray:
        """Where places lie between the two ends: 0 at the start of the axis, 1 at its end; shape kept."""
        width = self.high - self.low
        if math.isinf(width):
            shares = (places / 2 - self.low / 2) / (self.high / 2 - self.low / 2)
        else:
            shares = (places - self.low) / width
        return 1.0 - shares if self.reverse else shares

    def holds(self, places: FloatArray) -> BoolArray:
        """Where places lie inside, the ends included."""
        slack = 1e-9 * abs(self.high - self.low)
        result: BoolArray = (places >= self.low - slack) & (places <= self.high + slack)
        return result


def padded(low: float, high: float, margin: float) -> tuple[float, float]:
    """A range with a share of its length added at both ends; a single value gets room around it.

    Args:
        low: Lower end.
        high: Upper end, not below `low`.
        margin: Share of the length.

    >>> padded(0.0, 10.0, 0.05)
    (-0.5, 10.5)
    >>> padded(4.0, 4.0, 0.05)
    (3.5, 4.5)
    """
    length = high - low
    if length <= 4 * math.ulp(max(abs(low), abs(high))):
        room = 0.5 if abs(low) < 1e4 else abs(low) * 1e-3
        return low - room, high + room
    extra = min(length * margin, _LARGEST / 4)
    # Halves are compared, because the sum itself could be more than a float can hold.
    first = low - extra if low / 2 - extra / 2 >= -_LARGEST / 2 else -_LARGEST
    last = high + extra if high / 2 + extra / 2 <= _LARGEST / 2 else _LARGEST
    return first, last


def in_natural_order(values: Iterable[T]) -> list[T]:
    """Values by their texts in natural order; among equal ones, as the texts follow each other.

    >>> in_natural_order(["site 10", "Site 2", "site 1"])
    ['site 1', 'Site 2', 'site 10']
    """
    told = sorted(((str(value), value) for value in values), key=itemgetter(0))
    heads = [text.rstrip(_FIGURES) for text, _ in told] if len(told) > _MANY else []
    if not heads or any(map(_FIGURE.search, set(heads))):
        return [value for _, value in sorted(told, key=lambda pair: natural_key(pair[0]))]
    # Very many are words with a number at their end, which arrays sort as well.
    lowered = [head.casefold() for head in heads]
    places = {head: place for place, head in enumerate(sorted(set(lowered)))}
    numbers = [float(text[len(head) :] or -1) for (text, _), head in zip(told, heads, strict=True)]
    order = np.lexsort((np.array(numbers), np.array([places[head] for head in lowered])))
    return [told[place][1] for place in order.tolist()]


def natural_key(text: str) -> tuple[tuple[int, float, str], ...]:
    """A sort key under which "site 2" comes before "site 10", and case does not matter.

    >>> sorted(["site 10", "Site 2"], key=natural_key)
    ['Site 2', 'site 10']
    """
    parts = re.split(r"(\d+(?:\.\d+)?)", text.casefold())
    return tuple((1, float(part), "") if i % 2 else (0, 0.0, part) for i, part in enumerate(parts))
