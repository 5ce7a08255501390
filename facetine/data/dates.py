"""Dates written as text: in the international form, or with the day or the month first."""

from __future__ import annotations

import re
from datetime import datetime
from typing import NamedTuple

import numpy as np

_SHORT = re.compile(r"\d{4}(?:-\d{2})?")
_ISO = re.compile(r"\d{4}-\d{2}-\d{2}(?:[T ]\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?)?")
_PARTED = re.compile(r"(\d{1,2})([/.-])(\d{1,2})\2(\d{4})((?: \d{1,2}:\d{2}(?::\d{2})?)?)")
_YEAR_FIRST = re.compile(r"\d{4}([/.])\d{1,2}\1\d{1,2}((?: \d{1,2}:\d{2}(?::\d{2})?)?)")


class Dates(NamedTuple):
    """Texts read as dates."""

    micro: tuple[float, ...] | None
    """Microseconds since 1970; None where the spellings are mixed."""
    pattern: str
    other: str
    """Another pattern that fits all texts as well; empty for none."""
    zone: str | None
    spellings: tuple[str, ...]
    """A text of each spelling."""
    days: bool
    """Whether all are whole days."""


def dates_of(texts: list[str], loose: bool = False) -> Dates | None:
    """Texts as dates, where all of them are; None where one is not.

    Args:
        texts: At least one.
        loose: Whether a year or a month alone is a date too, as where the analyst said so.
    """
    spelled: dict[str, str] = {}
    for text in texts:
        form = _form(text.strip(), loose)
        if form is None:
            return None
        spelled.setdefault(form, text)
    if not spelled:
        return None
    if len(spelled) > 1:
        return Dates(None, "", "", None, tuple(spelled.values())[:2], False)
    form, first = next(iter(spelled.items()))
    if form == "iso":
        return _iso(texts, first)
    patterns = _patterns(form)
    good = [(pattern, micro) for pattern in patterns if (micro := _all(texts, pattern)) is not None]
    if not good:
        return None
    pattern, micro = good[0]
    other = good[1][0] if len(good) > 1 and good[1][1] != micro else ""
    return Dates(tuple(micro), pattern, other, None, (first,), "%H" not in pattern)


def dates_among(texts: list[str]) -> tuple[Dates, set[str]] | None:
    """Texts as dates of one spelling, and those of them that are none; None where none is, or where there are two spellings."""
    dated = [text for text in texts if _form(text, loose=False) is not None]
    found = dates_of(dated) if dated else None
    return None if found is None or found.micro is None else (found, set(texts) - set(dated))


def _form(text: str, loose: bool) -> str | None:
    """The spelling of a date, without which of its parts is the day."""
    if _ISO.fullmatch(text) or (loose and _SHORT.fullmatch(text)):
        return "iso"
    found = _PARTED.fullmatch(text)
    if found is not None:
        return f"d{found[2]}m{found[2]}Y{_clock(found[5])}"
    found = _YEAR_FIRST.fullmatch(text)
    return f"Y{found[1]}m{found[1]}d{_clock(found[2])}" if found is not None else None


def _clock(text: str) -> str:
    return "" if not text else " H:M" if text.count(":") == 1 else " H:M:S"


def _patterns(form: str) -> list[str]:
    """The patterns of a spelling; the day stands first where both orders fit, as in most of the world."""
    pattern = re.sub(r"([A-Za-z])", r"%\1", form)
    if form.startswith("Y"):
        return [pattern]
    return [pattern, pattern.replace("%d", "%?").replace("%m", "%d").replace("%?", "%m")]


def _all(texts: list[str], pattern: str) -> list[float] | None:
    found = []
    for text in texts:
        micro = by_pattern(text, pattern)
        if micro is None:
            return None
        found.append(micro)
    return found


def by_pattern(text: str, pattern: str) -> float | None:
    """A text as microseconds since 1970 by a pattern of the C standard; None where it does not fit."""
    try:
        return float(np.datetime64(datetime.strptime(text.strip(), pattern), "us").astype(np.int64))
    except ValueError:
        return None


def _iso(texts: list[str], first: str) -> Dates | None:
    """Texts in the international form; all with a zone, or all without one."""
    micro: list[float] = []
    zones: dict[bool, str] = {}
    days = True
    for text in texts:
        bare = text.strip()
        full = f"{bare}-01-01" if len(bare) == 4 else f"{bare}-01" if len(bare) == 7 else bare
        try:
            moment = datetime.fromisoformat(full)
        except ValueError:
            return None
        offset = moment.utcoffset()
        zones.setdefault(offset is not None, text)
        days = days and len(full) == 10
        if offset is not None:
            moment = moment.replace(tzinfo=None) - offset
        micro.append(float(np.datetime64(moment, "us").astype(np.int64)))
    if len(zones) > 1:
        return Dates(None, "", "", None, tuple(zones.values()), False)
    return Dates(tuple(micro), "%Y-%m-%d", "", "UTC" if True in zones else None, (first,), days)
