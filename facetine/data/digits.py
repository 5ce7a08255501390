"""Numbers written as text: with a point or a comma before decimals, signs between thousands, and percent signs."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator, Mapping
from functools import cache
from itertools import islice
from typing import NamedTuple

THOUSANDS = {".": ",\u202f\u00a0 '", ",": ".\u202f\u00a0 '"}
"""The signs that may stand between thousands, by that before decimals."""
MOST_OTHERS, LEAST_SHARE = 20, 0.9
"""How many different texts, and what share of the values, may stand beside numbers in a column of numbers."""
_CODE = re.compile(r"[+\-−]?0\d+|[+\-−]?\d{16,}")
"""Digits that are no number: their first zeros count, or they are more than any measure has."""
_BEGINS = re.compile(r"[+\-−]?(?:[.,]?\d|[Ii]nf)")
_EITHER = re.compile(r"[+\-−]?\d{1,3},\d{3}(?:\s?%)?")
_ENDLESS = frozenset(("inf", "infinity", "-inf", "-infinity", "+inf", "+infinity"))
_LOOK = 1000
"""How many different texts are looked at to find out how most of them are written."""


class Signs(NamedTuple):
    """How numbers are written: one convention."""

    decimal: str = "."
    """The sign before decimals."""
    thousands: str = ""
    """The signs that may stand between thousands."""
    percent: bool = False
    """Whether all end in a percent sign."""

    def reads(self, text: str) -> bool:
        """Whether a text is a number, written so."""
        return _pattern(self).fullmatch(text) is not None or (not self.percent and text.lower() in _ENDLESS)

    def value(self, text: str) -> int | float:
        """The number that a text is; whole ones as such.

        >>> Signs(",", ".").value("1.234,5")
        1234.5
        """
        bare = text.translate(_drops(self)).removesuffix("%").rstrip()
        return int(bare) if bare.lstrip("+-").isdigit() else float(bare)

    @property
    def words(self) -> str:
        """What it is, for a message."""
        said = ["a comma before decimals"] if self.decimal == "," else []
        said += [f"{' or '.join(map(repr, self.thousands))} between thousands"] if self.thousands else []
        said += ["percent signs"] if self.percent else []
        return " and ".join(said)


class Numbers(NamedTuple):
    """What a column's texts are as numbers."""

    signs: Signs
    others: tuple[str, ...]
    """The different texts that are no numbers, the most frequent first."""
    rows: int
    """In how many rows these stand."""
    either: str = ""
    """A text whose comma may part thousands or decimals, where nothing else in the column tells; empty for none."""


def is_code(text: str) -> bool:
    """Whether digits name something, such as "007" or a number of 16 digits, and count nothing."""
    return _CODE.fullmatch(text) is not None


def numbers_in(
    counts: Mapping[str, int], first: Signs | None = None, *, beside: int = 0, sure: bool = False, codes: bool = False
) -> Numbers | None:
    """The convention by which most of a column's texts are numbers; None where they are none.

    Args:
        counts: How often each text occurs, without blanks around it.
        first: The convention that is tried before others, such as that of the file.
        beside: How many values are numbers already.
        sure: Whether the first one is the only one, since the analyst said it.
        codes: Whether digits that name something are numbers, since the analyst said so.

    Example:
        >>> numbers_in({"1,5": 3, "2,25": 6, "n.b.": 1}).others
        ('n.b.',)
    """
    total = sum(counts.values()) + beside
    digits = sum(count for text, count in counts.items() if _BEGINS.match(text)) + beside
    if not counts or not total or digits <= total / 2:
        return None
    if not codes and any(map(is_code, counts)):
        return None
    best: Numbers | None = None
    most = (total - 1) // 2
    for signs in _conventions(counts, first, sure):
        found = _beside(counts, signs, most)
        if found is not None and (best is None or found.rows < best.rows):
            best, most = found, found.rows
        if best is not None and not best.rows:
            break
    if best is None:
        return None
    signs = best.signs
    if signs.thousands:
        others = set(best.others)
        used = "".join(sign for sign in signs.thousands if any(sign in text for text in counts if text not in others))
        signs = signs._replace(thousands=used)
    return best._replace(signs=signs, either=_either(counts, signs))


def taken(numbers: Numbers, total: int) -> bool:
    """Whether a column is one of numbers: all of its values are, or so many that the few other texts mean "no value"."""
    few = len(numbers.others) <= MOST_OTHERS and numbers.rows <= total * (1 - LEAST_SHARE) + 1e-9
    return not numbers.rows or few


def read_number(text: str, decimal: str, thousands: str | None) -> float | None:
    """A text as a number by its signs, with or without a percent sign; None where it is none.

    >>> read_number("1.234,5", ",", ".")
    1234.5
    """
    bare = text.strip()
    signs = Signs(decimal, thousands or "", bare.endswith("%"))
    if not signs.reads(bare):
        return None
    value = float(signs.value(bare))
    return value if math.isfinite(value) else None


def fits(cells: Iterable[str], decimal: str, thousands: str) -> bool:
    """Whether all cells are numbers, written with these signs."""
    signs = Signs(decimal, thousands)
    return all(map(signs.reads, cells))


def _conventions(counts: Mapping[str, int], first: Signs | None, sure: bool) -> Iterator[Signs]:
    """Those that may be meant, the likeliest first."""
    tried = [] if first is None else [first]
    if not sure:
        tried += [Signs(), Signs(".", THOUSANDS["."]), Signs(","), Signs(",", THOUSANDS[","])]
    yield from tried
    if any(text.endswith("%") for text in islice(counts, _LOOK)):
        yield from (signs._replace(percent=True) for signs in tried)


def _beside(counts: Mapping[str, int], signs: Signs, most: int) -> Numbers | None:
    """The texts that are no numbers by a convention; None where they stand in more rows than may be."""
    others: dict[str, int] = {}
    count = 0
    for text, rows in counts.items():
        if not signs.reads(text):
            others[text] = rows
            count += rows
            if count > most:
                return None
    return Numbers(signs, tuple(sorted(others, key=lambda text: -others[text])), count)


def _either(counts: Mapping[str, int], signs: Signs) -> str:
    """A number whose comma may be either sign, where no other text tells which it is."""
    if "," not in signs.decimal + signs.thousands:
        return ""
    numbers = [text for text in counts if signs.reads(text)]
    commas = [text for text in numbers if "," in text]
    told = any("." in text for text in numbers) or not all(map(_EITHER.fullmatch, commas))
    return commas[0] if commas and not told else ""


@cache
def _pattern(signs: Signs) -> re.Pattern[str]:
    """Numbers with a decimal sign and, in groups of three digits, one sign between thousands."""
    point = re.escape(signs.decimal)
    whole = r"\d+"
    if signs.thousands:
        whole = rf"(?:\d+|\d{{1,3}}(?:(?P<part>[{re.escape(signs.thousands)}])\d{{3}})(?:(?P=part)\d{{3}})*)"
    end = r"\s?%" if signs.percent else ""
    return re.compile(rf"[+\-−]?(?:{whole}(?:{point}\d*)?|{point}\d+)(?:[eE][+-]?\d+)?{end}")


@cache
def _drops(signs: Signs) -> dict[int, str]:
    return str.maketrans({**dict.fromkeys(signs.thousands, ""), signs.decimal: ".", "−": "-"})
