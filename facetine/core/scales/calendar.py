"""Ticks of time axes: steps of the calendar, in local time where the data have a time zone.

Times are microseconds since 1970-01-01 00:00 UTC, as floats: exact for some 285 years around 1970, to a few
microseconds beyond.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from typing import Any, NamedTuple
from zoneinfo import ZoneInfo

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.formats import MINUS
from facetine.core.scales.ticks import MOST
from facetine.messages.errors import ScaleError

SECOND = 1_000_000
MINUTE = 60 * SECOND
HOUR = 60 * MINUTE
DAY = 24 * HOUR
_MONTH = 30.436875 * DAY
_MOST_ASKED = 2000
_YEAR = 365.2425 * DAY
_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


class Step(NamedTuple):
    """A step of the calendar: so many of a unit."""

    size: int
    unit: str
    """One of microsecond, day, month, year."""
    length: float
    """Microseconds, on average."""


class TimeTicks(NamedTuple):
    """Ticks of a time axis and their two-line labels."""

    at: tuple[float, ...]
    """Microseconds since 1970-01-01 UTC, increasing."""
    labels: tuple[str, ...]
    """What changes from tick to tick; below it, after a line break, the day, month or year where a new one begins."""
    minor: tuple[float, ...] = ()


def _steps() -> tuple[Step, ...]:
    steps = [Step(n * unit, "microsecond", n * unit) for unit in (1, 1000) for n in (1, 2, 5, 10, 20, 50, 100, 200, 500)]
    steps += [Step(n * SECOND, "microsecond", n * SECOND) for n in (1, 2, 5, 10, 15, 30)]
    steps += [Step(n * MINUTE, "microsecond", n * MINUTE) for n in (1, 2, 5, 10, 15, 30)]
    steps += [Step(n * HOUR, "microsecond", n * HOUR) for n in (1, 2, 3, 6, 12)]
    steps += [Step(n, "day", n * DAY) for n in (1, 2, 7, 14)]
    steps += [Step(n, "month", n * _MONTH) for n in (1, 2, 3, 6)]
    steps += [Step(n * 10**p, "year", n * 10**p * _YEAR) for p in range(6) for n in (1, 2, 5)]
    return tuple(steps)


STEPS = _steps()


def time_ticks(low: float, high: float, wanted: int, zone: str | None = None) -> TimeTicks:
    """Ticks at full years, months, days, hours, … between two instants, about as many as wanted.

    Args:
        low: First instant, microseconds since 1970-01-01 UTC.
        high: Last instant, not before `low`.
        wanted: Desired number of ticks.
        zone: IANA name of the zone whose calendar counts; None for data without a zone.

    Returns:
        Ticks in [low, high], at least one where the range is longer than two microseconds.

    >>> time_ticks(0.0, 365 * 86400e6, 4).labels
    ('Jan\\n1970', 'Apr', 'Jul', 'Oct', 'Jan\\n1971')
    """
    span = high - low
    best: tuple[float, Step, list[float]] | None = None
    for step in STEPS:
        expected = span / step.length + 1
        if expected > 4 * wanted + 8 or expected < 1.2:
            continue
        at = _instants(low, high, step, zone)
        if not 2 <= len(at) <= MOST:
            continue
        miss = abs(math.log((len(at) - 0.2) / (wanted - 0.2)))
        if best is None or miss < best[0]:
            best = (miss, step, at)
    if best is None:
        middle = low if span < 1 else math.floor(low + span / 2)
        return TimeTicks((middle,), (_stamp(_local(middle, zone)),))
    _, step, at = best
    return TimeTicks(tuple(at), _labels(at, step, zone))


def stepped_ticks(low: float, high: float, count: int, unit: str, zone: str | None = None) -> TimeTicks:
    """Ticks at every so many years, months, weeks, days, hours, minutes or seconds between two instants.

    Raises:
        ValueError: There are more than 1,000 of them.

    >>> stepped_ticks(0.0, 200 * 86400e6, 3, "month").labels
    ('Jan\\n1970', 'Apr', 'Jul')
    """
    step = step_of(count, unit)
    if (high - low) / step.length > 1000:
        raise ValueError(f"{(high - low) / step.length:,.0f} ticks")
    at = _instants(low, high, step, zone)
    return TimeTicks(tuple(at), _labels(at, step, zone))


def calendar_edges(low: float, high: float, step: Step, zone: str | None = None) -> FloatArray:
    """The beginnings of steps of the calendar that hold a range, each of them from its edge up to the next.

    Args:
        low: First instant, microseconds since 1970-01-01 UTC.
        high: Last instant, not before `low`; it lies below the last edge.
        step: The step, by the clocks of the zone.
        zone: IANA name; None for data without a zone.

    Returns:
        Shape (k + 1,), increasing; the first edge is not after `low`.

    >>> hours = calendar_edges(9e9, 30e9, Step(6 * HOUR, "microsecond", float(6 * HOUR))) / HOUR
    >>> hours.tolist()
    [0.0, 6.0, 12.0]
    """
    # Where clocks change, by hours; steps of seconds and less are too many in one.
    reach = 1.2 * step.length + min(2 * HOUR, 1000 * step.length)
    at = np.array(_instants(low - reach, high + reach, step, zone))
    first = max(int(np.searchsorted(at, low, side="right")) - 1, 0)
    return at[first : int(np.searchsorted(at, high, side="right")) + 1]


def nearest_step(length: float) -> Step:
    """The step of the calendar whose length comes nearest to one in microseconds, by their ratio.

    >>> nearest_step(60 * DAY).unit, nearest_step(5 * HOUR).size // HOUR
    ('month', 6)
    """
    return min(STEPS, key=lambda step: abs(math.log(step.length / length)))


def step_of(count: int, unit: str) -> Step:
    """So many seconds, minutes, hours, days, weeks, months or years."""
    lengths = {"second": SECOND, "minute": MINUTE, "hour": HOUR}
    if unit in lengths:
        return Step(count * lengths[unit], "microsecond", float(count * lengths[unit]))
    if unit in ("week", "day"):
        days = count * (7 if unit == "week" else 1)
        return Step(days, "day", float(days * DAY))
    return Step(count, unit, count * (_MONTH if unit == "month" else _YEAR))


def finer_ticks(at: Sequence[float], low: float, high: float, zone: str | None = None) -> tuple[float, ...]:
    """What the next finer step of the calendar adds to ticks, all of which it has among its own; nothing where none has.

    >>> len(finer_ticks(stepped_ticks(0.0, 364 * 86400e6, 3, "month").at, 0.0, 364 * 86400e6))
    8
    """
    if len(at) < 2:
        return ()
    apart = min(after - before for before, after in pairwise(at))
    for step in reversed(STEPS):
        if step.length <= apart / 1.9 and (high - low) / step.length < 8 * len(at):
            found = _instants(low, high, step, zone)
            if set(at) <= set(found):
                return tuple(place for place in found if place not in at)
    return ()


def _instants(low: float, high: float, step: Step, zone: str | None) -> list[float]:
    """All multiples of a step in the range, at local midnight, first of the month, first of January, …"""
    if zone is None:
        return [float(wall) for wall in _walls(low, high, step) if low <= wall <= high]
    ends = {offset_at(round(low), zone), offset_at(round(high), zone)}
    if high - low < 20 * DAY:
        # The clocks change once at most, so that both ways to read them are known from the ends.
        pairs = {(wall - ahead, wall) for ahead in ends for wall in _walls(low + ahead, high + ahead, step)}
    else:
        pairs = {(_instant(wall, zone), wall) for wall in _walls(low + min(ends), high + max(ends), step)}
    if step.length > HOUR:
        # A midnight that the clocks leap over in spring is the first instant after it.
        pairs = {(_begun(at, wall, zone) if wall % DAY == 0 else at, wall) for at, wall in pairs}
        good = [(at, wall) for at, wall in sorted(pairs) if low <= at <= high and _shows(at, wall, zone)]
    else:
        # Shorter steps that they leap over stand for no instant.
        good = [(at, wall) for at, wall in sorted(pairs) if low <= at <= high and at + offset_at(at, zone) == wall]
    if step.length > HOUR:
        # Of an hour that comes twice, only steps of up to an hour count both.
        good = [pair for place, pair in enumerate(good) if place == 0 or pair[1] > good[place - 1][1]]
    return [float(at) for at, _ in good]


def _begun(at: int, wall: int, zone: str) -> int:
    """The first instant at which the clocks show a wall time or a later one, near an instant at which they should."""
    if at + offset_at(at, zone) <= wall:
        return at
    early, late = at - 3 * HOUR, at
    if early + offset_at(early, zone) >= wall:
        return at
    while late - early > 1:
        middle = (early + late) // 2
        early, late = (early, middle) if middle + offset_at(middle, zone) >= wall else (middle, late)
    return late


def _shows(at: int, wall: int, zone: str) -> bool:
    """Whether the clocks show a wall time at an instant, or have just leapt over it."""
    there = at + offset_at(at, zone)
    return there == wall or (wall % DAY == 0 and there > wall and at - 1 + offset_at(at - 1, zone) < wall)


def _walls(low: float, high: float, step: Step) -> list[int]:
    """All multiples of a step that clocks show between two wall times, in microseconds."""
    if step.unit == "microsecond":
        return [n * step.size for n in range(math.ceil(low / step.size), math.floor(high / step.size) + 1)]
    if step.unit == "day":
        # Weeks begin on Monday: 1970-01-05 was one.
        anchor = 4 if step.size % 7 == 0 else 0
        first = math.ceil((low / DAY - anchor) / step.size)
        return [(n * step.size + anchor) * DAY for n in range(first, math.floor((high / DAY - anchor) / step.size) + 1)]
    months = step.size if step.unit == "month" else step.size * 12
    low_month = math.floor(low / _MONTH) - 2
    first = low_month + (-(low_month + 1970 * 12)) % months
    ordinals = np.arange(first, math.ceil(high / _MONTH) + 3, months)
    walls: list[int] = ordinals.astype("datetime64[M]").astype("datetime64[us]").astype(np.int64).tolist()
    return walls


def _instant(wall: int, zone: str) -> int:
    """The instant at which the clocks of a zone show this wall time."""
    try:
        moment = datetime(1970, 1, 1) + timedelta(microseconds=wall)
    except OverflowError:
        return wall
    aware = moment.replace(tzinfo=ZoneInfo(zone))
    return (aware - datetime(1970, 1, 1, tzinfo=UTC)) // timedelta(microseconds=1)


def local_midnight(moment: float, zone: str | None = None) -> float:
    """The midnight that begins the day of an instant, by the clocks of a zone.

    >>> local_midnight(3600e6 * 23, "Asia/Tokyo") / 3600e6
    15.0
    """
    whole = round(moment)
    wall = (whole + offset_at(whole, zone)) // DAY * DAY
    return float(wall if zone is None else _instant(wall, zone))


def offset_at(instant: int, zone: str | None) -> int:
    """How far the clocks of a zone are ahead of UTC, in microseconds; zero outside the years that they are kept for."""
    if zone is None:
        return 0
    try:
        moment = datetime(1970, 1, 1, tzinfo=UTC) + timedelta(microseconds=instant)
        return (moment.astimezone(ZoneInfo(zone)).utcoffset() or timedelta(0)) // timedelta(microseconds=1)
    except OverflowError:
        return 0


def clock_times(at: FloatArray, zone: str | None) -> FloatArray:
    """What the clocks of a zone show, in microseconds since 1970-01-01 of theirs; long series ask them once a day.

    Args:
        at: Instants, shape (n,), microseconds since 1970-01-01 UTC.
        zone: IANA name; None for data without a zone, which are shown as they are.
    """
    if zone is None or not len(at):
        return at
    hours, place = np.unique(np.floor(at / HOUR), return_inverse=True)
    ahead = np.array([offset_at(int(hour) * HOUR, zone) for hour in hours.tolist()], float) if len(hours) <= _MOST_ASKED else None
    if ahead is None:
        days, place = np.unique(np.floor(at / DAY), return_inverse=True)
        ahead = np.array([offset_at(int(day) * DAY + DAY // 2, zone) for day in days.tolist()], float)
    return np.asarray(at + ahead[place], np.float64)


class _Wall(NamedTuple):
    """A wall time taken apart; years are astronomical, so that millennia fit."""

    year: int
    month: int
    day: int
    microsecond: int
    """Since midnight."""


def _local(instant: float, zone: str | None) -> _Wall:
    whole = round(instant)
    whole += offset_at(whole, zone)
    day, microsecond = divmod(whole, DAY)
    date = np.datetime64(day, "D")
    month = date.astype("datetime64[M]")
    months = int(month.astype(np.int64))
    return _Wall(1970 + months // 12, months % 12 + 1, int((date - month).astype(np.int64)) + 1, microsecond)


def _labels(at: Sequence[float], step: Step, zone: str | None) -> tuple[str, ...]:
    walls = [_local(instant, zone) for instant in at]
    offsets = [offset_at(round(instant), zone) for instant in at]
    clocks_change = step.unit == "microsecond" and len(set(offsets)) > 1
    texts = []
    before: _Wall | None = None
    for number, wall in enumerate(walls):
        fine, context, changed = _label(wall, before, step)
        if clocks_change:
            # The same wall time can come twice; which clock it is read from tells them apart.
            context = f"{context}, {_clock_name(offsets[number])}"
            changed = changed or offsets[number] != offsets[number - 1]
        texts.append(f"{fine}\n{context}" if changed else fine)
        before = wall
    return tuple(texts)


def _label(wall: _Wall, before: _Wall | None, step: Step) -> tuple[str, str, bool]:
    """The tick's own part, its context, and whether the context is new."""
    if step.unit == "year":
        return year_text(wall.year), "", False
    if step.unit == "month":
        return _MONTHS[wall.month - 1], year_text(wall.year), before is None or before.year != wall.year
    same_month = before is not None and (before.year, before.month) == (wall.year, wall.month)
    if step.unit == "day":
        return str(wall.day), f"{_MONTHS[wall.month - 1]} {year_text(wall.year)}", not same_month
    same_day = same_month and before is not None and before.day == wall.day
    day = f"{wall.day} {_MONTHS[wall.month - 1]} {year_text(wall.year)}"
    return _clock(wall.microsecond, step.size), day, not same_day


def _clock_name(offset: int) -> str:
    """How far the clocks are ahead of UTC, as a reader writes it.

    >>> _clock_name(37_800_000_000)
    'UTC+10:30'
    """
    hours, rest = divmod(abs(offset), HOUR)
    minutes = f":{rest // MINUTE:02d}" if rest else ""
    return f"UTC{MINUS if offset < 0 else '+'}{hours}{minutes}" if offset else "UTC"


def _clock(microsecond: int, step: int) -> str:
    hours, rest = divmod(microsecond, HOUR)
    minutes, rest = divmod(rest, MINUTE)
    seconds, fraction = divmod(rest, SECOND)
    text = f"{hours:02d}:{minutes:02d}"
    if step % MINUTE == 0:
        return text
    text += f":{seconds:02d}"
    if step % SECOND == 0:
        return text
    return f"{text}.{fraction // 1000:03d}" if step % 1000 == 0 else f"{text}.{fraction:06d}"


def _stamp(wall: _Wall) -> str:
    day = f"{wall.day} {_MONTHS[wall.month - 1]} {year_text(wall.year)}"
    if wall.microsecond == 0:
        return day
    step = next(unit for unit in (MINUTE, SECOND, 1000, 1) if wall.microsecond % unit == 0)
    return f"{_clock(wall.microsecond, step)}\n{day}"


def year_text(year: int) -> str:
    """A year of the calendar; before the year 1 with a minus sign, as in ISO 8601."""
    return str(year) if year >= 0 else f"−{-year}"


def strftime(instants: Sequence[float], pattern: str, zone: str | None = None) -> list[str]:
    """Instants written by a pattern of the C standard, such as "%b %Y", with English month names.

    Raises:
        ValueError: An instant lies outside the years 1 to 9999, for which the pattern has no meaning.
    """
    texts = []
    for instant in instants:
        wall = _local(instant, zone)
        try:
            moment = datetime(wall.year, wall.month, wall.day) + timedelta(microseconds=wall.microsecond)
        except (ValueError, OverflowError) as problem:
            texts.append(_far(wall, pattern, problem))
            continue
        text = pattern.replace("%b", _MONTHS[wall.month - 1]).replace("%Y", year_text(wall.year))
        texts.append(moment.strftime(text))
    return texts


def _far(wall: _Wall, pattern: str, problem: Exception) -> str:
    """A time outside the years 1 to 9999 by the parts of a pattern that need no calendar of weeks.

    Raises:
        ValueError: The pattern asks for another part.
    """
    hours, rest = divmod(wall.microsecond, HOUR)
    minutes, rest = divmod(rest, MINUTE)
    parts = {
        "%Y": year_text(wall.year), "%b": _MONTHS[wall.month - 1], "%m": f"{wall.month:02d}", "%d": f"{wall.day:02d}",
        "%H": f"{hours:02d}", "%M": f"{minutes:02d}", "%S": f"{rest // SECOND:02d}",
    }  # fmt: skip
    text = re.sub(r"%[YbmdHMS]", lambda found: parts[found[0]], pattern)
    if "%" in text:
        raise ValueError(f"the year {wall.year} can't be written with {pattern!r}") from problem
    return text


def instant(value: object, zone: str | None, where: str) -> float:
    """A date or time, as a text such as "2030-06-01" or an object, in microseconds since 1970 UTC.

    Args:
        value: Text in ISO 8601 form (a year or a month alone is its first day), date, datetime or datetime64.
        zone: The zone of values that have none.
        where: Who asks, for the error.

    Raises:
        ScaleError: It is none.
    """
    moment: Any = value
    wrong = ScaleError(where, f"{value!r} is no date or time", 'write "2030-06-01" or "2030-06-01 14:00"')
    if isinstance(value, str):
        text = f"{value}-01-01" if len(value) == 4 else f"{value}-01" if len(value) == 7 else value
        try:
            moment = datetime.fromisoformat(text)
        except ValueError:
            raise wrong from None
    elif isinstance(value, np.datetime64):
        return float(value.astype("datetime64[us]").astype(np.int64))
    if isinstance(moment, date) and not isinstance(moment, datetime):
        moment = datetime(moment.year, moment.month, moment.day)
    if not isinstance(moment, datetime):
        raise wrong
    if moment.tzinfo is None and zone is not None:
        moment = moment.replace(tzinfo=ZoneInfo(zone))
    if moment.tzinfo is not None:
        moment = moment.replace(tzinfo=None) - (moment.utcoffset() or timedelta(0))
    return float(np.datetime64(moment, "us").astype(np.int64))
