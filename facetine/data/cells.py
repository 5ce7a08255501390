"""What the cells of a text are: numbers, truth values, dates, or words."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from facetine.core.arrays import AnyArray, in_zone
from facetine.data.dates import dates_of

NULLS = frozenset(("", "NA", "N/A", "NaN", "nan", "null", "NULL"))
"""Cells that mean "no value"; "None" and "-" are left to the analyst, they may be words."""
THOUSANDS = {".": ",\u202f\u00a0 '", ",": ".\u202f\u00a0 '"}
"""The signs that may stand between thousands, by that before decimals."""
_CODE = re.compile(r"0\d{2,}")
"""Digits that are no number: their first zeros count."""
_ENDLESS = frozenset(("inf", "infinity", "-inf", "-infinity", "+inf", "+infinity"))
_MOST_DIGITS = 18


def typed(cells: Sequence[str], decimal: str, thousands: str) -> AnyArray:
    """The cells of a column as an array of what all of them are.

    Args:
        cells: Of length n, as they stand in the text.
        decimal: The sign before decimals.
        thousands: The signs that may stand between thousands.

    Returns:
        Shape (n,): whole numbers, numbers, truth values, days or moments where all cells that say something are such, else
        texts. Where cells say that there is no value, there is NaN, NaT or None; whole numbers and truth values are masked.
    """
    words = set(cells)
    gone = {word for word in words if word.strip() in NULLS}
    words -= gone
    read = _numbers(words, decimal, thousands) or _truths(words) or _dates(words)
    if read is None:
        return np.array([None if cell in gone else cell for cell in cells] + [None], object)[:-1]
    values, kind, empty = read
    array = np.array(list(map((values | dict.fromkeys(gone, empty)).__getitem__, cells)), kind.removesuffix(_INSTANTS))
    if kind.endswith(_INSTANTS):
        return in_zone(array, "UTC")
    return np.ma.masked_array(array, [cell in gone for cell in cells]) if gone and kind in ("int64", "bool") else array


def fits(cells: Iterable[str], decimal: str, thousands: str) -> bool:
    """Whether all cells are numbers, written with these signs."""
    pattern = _pattern(decimal, thousands)
    return all(pattern.fullmatch(cell) for cell in cells)


@lru_cache(maxsize=64)
def _pattern(decimal: str, thousands: str) -> re.Pattern[str]:
    """Numbers with a decimal sign and, in groups of three digits, one sign between thousands."""
    point = re.escape(decimal)
    whole = r"\d+"
    if thousands:
        whole = rf"(?:\d+|\d{{1,3}}(?:(?P<part>[{re.escape(thousands)}])\d{{3}})(?:(?P=part)\d{{3}})*)"
    return re.compile(rf"[+\-−]?(?:{whole}(?:{point}\d*)?|{point}\d+)(?:[eE][+-]?\d+)?")


_INSTANTS = ", of UTC"
"""Behind the type of times that say how far they are from UTC."""
_Read = tuple[dict[str, object], str, object]
"""The value of each word, the type of an array of them, and what stands where there is none."""


def _numbers(words: set[str], decimal: str, thousands: str) -> _Read | None:
    bare = {word: word.strip() for word in words}
    if not words or any(_CODE.fullmatch(text) for text in bare.values()):
        return None
    ends = {word for word, text in bare.items() if text.lower() in _ENDLESS}
    pattern = _pattern(decimal, thousands)
    if not all(word in ends or pattern.fullmatch(text) for word, text in bare.items()):
        return None
    drop = str.maketrans({**dict.fromkeys(thousands, ""), decimal: ".", "−": "-"})
    plain = {word: text.translate(drop) for word, text in bare.items()}
    if not ends and all(text.lstrip("+-").isdigit() and len(text) <= _MOST_DIGITS for text in plain.values()):
        return {word: int(text) for word, text in plain.items()}, "int64", 0
    return {word: float(text) for word, text in plain.items()}, "float64", np.nan


def _truths(words: set[str]) -> _Read | None:
    values = {word: word.strip().lower() == "true" for word in words}
    known = words and all(word.strip().lower() in ("true", "false") for word in words)
    return (dict(values), "bool", False) if known else None


def _dates(words: set[str]) -> _Read | None:
    """Those in the international form; what is written otherwise stays text, so that every reader of text decides alike."""
    ordered = sorted(words)
    found = dates_of(ordered) if ordered else None
    if found is None or found.micro is None or found.pattern != "%Y-%m-%d":
        return None
    kind = "datetime64[D]" if found.days else "datetime64[us]"
    moments = np.array(found.micro).astype("datetime64[us]").astype(kind)
    kind += _INSTANTS if found.zone is not None else ""
    return dict(zip(ordered, moments.tolist(), strict=True)), kind, np.datetime64("NaT")
