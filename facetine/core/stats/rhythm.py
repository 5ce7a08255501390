"""Times that keep a weekly or daily rhythm: hours of opening, working days, with a holiday now and then."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray, IntArray

_DAY = 86_400e6
_WEEK = 7 * _DAY
_MOST_SLOTS = 2016
"""Five minutes each."""
_LEAST_WEEKS = 3.0
_CLOSED = 0.3
"""A slot of the week that is filled in less than this share of the weeks of the fullest one is not one of the rhythm."""
_PLAIN = 0.5
"""So large a share of neighbours must have the usual distance."""
_HOLIDAYS = 2
"""So many days of the rhythm may be away at a time, such as two days of a feast."""


def joined_by_rhythm(at: FloatArray) -> BoolArray | None:
    """Which neighbours of a series have nothing between them but what its weekly rhythm leaves out.

    The week is cut into slots of the usual distance. Slots that are filled in hardly any week are those at which nothing is
    expected: nights, weekends. Neighbours belong together where no other slot lies between them, or whole days of the rhythm,
    two at most: holidays.

    Args:
        at: Shape (n,), increasing: microseconds by the clocks of the place.

    Returns:
        Shape (n − 1,); None where there is no such rhythm: rows are expected at all times, or at no regular ones.

    >>> week = np.array([0.0, 1, 2, 3, 4])
    >>> days = np.concatenate([week, week + 7, week + 14, week + 21]) * 86_400e6
    >>> joined = joined_by_rhythm(days)
    >>> bool(joined.all())
    True
    """
    if len(at) < 3 or at[-1] - at[0] < _LEAST_WEEKS * _WEEK:
        return None
    steps = np.diff(at)
    usual = float(np.median(steps))
    slots = round(_WEEK / usual) if usual > 0 else 0
    regular = 2 <= slots <= _MOST_SLOTS and abs(slots * usual - _WEEK) <= 1e-3 * _WEEK
    if not regular or (np.abs(steps - usual) <= 0.01 * usual).mean() < _PLAIN:
        return None
    usual = _WEEK / slots
    place = np.rint((at - at[0]) / usual).astype(np.int64)
    expected = _expected(place, slots)
    if expected.all():
        return None
    missing = _between(place[:-1] + 1, place[1:], expected)
    together: BoolArray = missing == 0
    if slots % 7:
        return together
    a_day = slots // 7
    # Where the day of each row begins and ends, counted in slots from the first row.
    first = np.rint((np.floor(at / _DAY) * _DAY - at[0]) / usual).astype(np.int64)
    rest = _between(place[:-1] + 1, np.minimum(first[:-1] + a_day, place[1:]), expected)
    before = _between(np.maximum(first[1:], place[:-1] + 1), place[1:], expected)
    days = _days_between(first[:-1], first[1:], expected, a_day)
    together |= (rest == 0) & (before == 0) & (days <= _HOLIDAYS)
    return together


def _expected(place: IntArray, slots: int) -> BoolArray:
    """Which slots of the week are filled in many of its weeks; shape (slots,), from the slot of the first row on."""
    filled = np.unique(place)
    counts = np.bincount(filled % slots, minlength=slots)
    result: BoolArray = counts >= _CLOSED * counts.max()
    return result


def _between(start: IntArray, end: IntArray, expected: BoolArray) -> IntArray:
    """How many expected slots lie from one slot up to, but without, another."""
    rising = np.concatenate([[0], np.cumsum(expected)])

    def below(slot: IntArray) -> IntArray:
        weeks, rest = np.divmod(slot, len(expected))
        counted: IntArray = weeks * rising[-1] + rising[rest]
        return counted

    found: IntArray = np.maximum(below(end) - below(start), 0)
    return found


def _days_between(first: IntArray, last: IntArray, expected: BoolArray, a_day: int) -> IntArray:
    """How many days of the rhythm lie between two days, which are given by their first slots."""
    offset = int(first[0] % a_day)
    week = np.add.reduceat(np.roll(expected, -offset).astype(np.int64), np.arange(0, len(expected), a_day)) > 0
    return _between((first - offset) // a_day + 1, (last - offset) // a_day, week)
