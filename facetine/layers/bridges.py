"""Gaps along x: which neighbours a line or an area joins, and where it breaks because rows are absent."""

from __future__ import annotations

import math
import re

import numpy as np

from facetine.core.arrays import FloatArray, IntArray, is_number
from facetine.core.columns import Columns
from facetine.core.scales.calendar import clock_times
from facetine.core.scales.formats import significant
from facetine.core.stats.groups import grouped
from facetine.core.stats.rhythm import joined_by_rhythm
from facetine.layers.context import Context
from facetine.layers.widths import UNITS
from facetine.messages.errors import OptionError, told
from facetine.messages.findings import so_many

STRETCH = "stretch"
"""The column that numbers the unbroken stretches of each line."""
BRIDGE_SAYS = (
    'How far apart neighbours may be that are joined: "2 hours", a number, True for any; 1.5 times the usual distance where '
    "one is plain to see; nights, weekends and single holidays of a weekly rhythm are no gaps."
)
"""What the option `bridge` of a layer is."""
_USUAL, _SAME, _PLAIN, _FEW = 1.5, 0.01, 0.8, 5
_SECONDS = {name: microseconds / 1e6 for name, microseconds in UNITS.items()}
_SHORT = {"sec": "second", "s": "second", "min": "minute", "h": "hour", "d": "day"}
# Rows a month or a year apart are joined over the longest one too.
_SECONDS |= {short: _SECONDS[name] for short, name in _SHORT.items()} | {"month": 31 * 86_400.0, "year": 366 * 86_400.0}
_DURATION = re.compile(r"\s*(\d+(?:\.\d+)?)?\s*([a-z]+?)s?\s*")


def bridge_option(value: object, where: str) -> bool | float | str:
    """True for all gaps, a number, or a length of time such as "2 hours"."""
    if isinstance(value, bool):
        return value
    if is_number(value) and value > 0 and math.isfinite(value):
        return float(value)
    if isinstance(value, str) and _seconds(value) is not None:
        return value
    raise OptionError(
        where, f"is True, a distance along x, or a length of time, not {told(value)}", 'such as "2 hours"', of_option=True
    )


def _seconds(text: str) -> float | None:
    found = _DURATION.fullmatch(text.casefold())
    unit = None if found is None else _SECONDS.get(found[2], _SECONDS.get(found[2] + "s"))
    return None if found is None or unit is None else float(found[1] or 1) * unit


def stretches(rows: Columns, bridge: bool | float | str | None, context: Context) -> Columns:
    """The rows of lines, by increasing x in each group, with the numbers of their unbroken stretches.

    Where nothing is said, and most rows of a group have one distance from the next, a line breaks where rows are
    farther apart than 1.5 times that; where they keep a weekly rhythm, what it leaves out breaks nothing. What is bridged
    leaves out rows without a value; what is not keeps them, since they interrupt.

    Args:
        rows: Groups one after the other.
        bridge: True joins all, False none that are farther apart than usual; a distance joins up to that.
        context: What is known of x, and where remarks go.

    Raises:
        OptionError: The distance is no such one as x has.
    """
    kind = context.kinds.get("x", "number")
    if bridge is not None and kind not in ("number", "time"):
        raise OptionError(context.where, f"bridge has no effect on {kind} on x", "it is for numbers and times")
    if kind not in ("number", "time") or not len(rows):
        return rows
    value = rows["y" if "y" in rows else "y_low"].astype(float)
    said = _said(bridge, kind, context)
    keep, stretch, usual = np.ones(len(rows), bool), np.zeros(len(rows), np.int64), 0.0
    gaps: list[float] = []
    groups = grouped(rows.panel, rows.group)
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        which = np.sort(groups.order[start : start + size])
        there = which[np.isfinite(value[which])]
        steps = np.diff(rows["x"][there].astype(float))
        places = rows["x"][there].astype(float)
        rhythm = joined_by_rhythm(clock_times(places, context.axis("x").zone)) if said is None and kind == "time" else None
        limit = said if said is not None else _USUAL * float(np.median(steps)) if rhythm is not None else _usual_limit(steps)
        if limit is None:
            continue
        apart = steps > limit
        if rhythm is not None:
            apart &= ~rhythm
        if bridge is None:
            # A row without a value interrupts, however near its neighbours are.
            between = np.diff(np.searchsorted(which, there)) > 1
            lone = apart & ~between
            if lone.any():
                gaps += steps[lone].tolist()
                usual = limit / _USUAL
            apart = apart | between
        keep[np.setdiff1d(which, there)] = False
        stretch[there[1:]] = np.cumsum(apart)
    if gaps:
        text = f"{so_many(len(gaps), 'gap')} where rows are farther apart than {_USUAL:g} times the usual"
        context.say("line-gaps", f"{text} {distance_told(usual, kind)}", _length_proposed(gaps, kind))
    rows = rows.put(**{STRETCH: stretch.astype(float)})
    return rows if keep.all() else rows.take(keep)


def _length_proposed(gaps: list[float], kind: str) -> str:
    """The distance that joins the shorter half of the gaps, for the analyst who means no gap by it."""
    length = sorted(gaps)[(len(gaps) - 1) // 2]
    if kind != "time":
        return f"bridge={significant(length * 1.001, 3)} joins those of up to {significant(length, 3)}"
    unit = next((name for name in ("day", "hour", "minute", "second") if length / 1e6 >= 2 * _SECONDS[name]), "second")
    count = math.ceil(length / 1e6 / _SECONDS[unit] - 1e-9)
    return f'bridge="{count} {unit}s" joins those that are no longer'


def _said(bridge: bool | float | str | None, kind: str, context: Context) -> float | None:
    """The longest distance that is joined, in the unit of x; None where it follows the rows."""
    if bridge is None or bridge is False:
        return None
    if bridge is True:
        return math.inf
    if isinstance(bridge, str):
        if kind != "time":
            raise OptionError(context.where, f"bridge={bridge!r} is a length of time, and x holds numbers", "give a number")
        return float(_seconds(bridge) or 0.0) * 1e6
    if kind == "time":
        raise OptionError(context.where, f"bridge={bridge:g} is a number, and x holds times", 'such as "2 hours"')
    return bridge


def _usual_limit(steps: FloatArray) -> float | None:
    """What is farther apart than usual; None where no distance is usual."""
    if len(steps) < _FEW:
        return None
    usual = float(np.median(steps))
    plain = usual > 0 and float((np.abs(steps - usual) <= _SAME * usual).mean()) >= _PLAIN
    return _USUAL * usual if plain else None


def distance_told(distance: float, kind: str) -> str:
    """A distance along an axis in words: a number, or a length of time in its largest unit."""
    if kind != "time":
        return significant(distance, 3)
    seconds = distance / 1e6
    unit = next((name for name in ("day", "hour", "minute") if seconds >= _SECONDS[name]), "second")
    count = seconds / _SECONDS[unit]
    return f"{significant(count, 3)} {unit}{'' if count == 1 else 's'}"


def stretch_starts(rows: Columns, inner: slice) -> IntArray:
    """Where the unbroken stretches of some rows begin, counted from the first of them."""
    count = inner.stop - inner.start
    if STRETCH not in rows or not count:
        return np.zeros(min(count, 1), np.int64)
    return np.flatnonzero(np.append(True, np.diff(rows[STRETCH][inner]) != 0)).astype(np.int64)
