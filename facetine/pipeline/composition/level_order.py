"""The levels of columns in their order, and what stands among them."""

from __future__ import annotations

import difflib
import re
from collections.abc import Sequence

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.scales.position import in_natural_order
from facetine.data.codebook import Word
from facetine.data.table import Column, Levels
from facetine.messages.errors import OptionError, listed, unknown
from facetine.messages.findings import Remark, Remarks, Saying

MISSING = type("Missing", (), {"__repr__": lambda _: "missing", "__str__": lambda _: "missing"})()
"""The level of rows without a value, where they are shown."""
_ALIKE = 0.75
"""Words of which so large a share of the letters agree may be slips of each other."""


def listed_order(order: Levels | str | None) -> Levels | None:
    """An order that is a list; those that follow the data are lists by now."""
    return None if isinstance(order, str) else order


def ordered_levels(columns: list[Column], order: Levels | None, where: str, known: tuple[str, ...] = ()) -> Saying[Levels]:
    """The levels that occur: first those of the given order, then by the data's own order, else in natural order.

    Args:
        columns: All columns that show these levels.
        order: Levels by name; one list serves frames that hold only some of them.
        where: Who asks, for the error.
        known: The levels that the codebook names.

    Raises:
        OptionError: The given order names a level that no row has, and one that is there and not named reads like it.
    """
    occurring: dict[object, None] = {}
    own = False
    for column in columns:
        own = own or column.own_order or column.kind == "yes_no"
        counts = np.bincount(column.values[column.values >= 0], minlength=len(column.levels))
        for level, count in zip(column.levels, counts.tolist(), strict=True):
            if count:
                occurring[level] = None
    found = list(occurring)
    if not own and len(columns) > 1:
        found = in_natural_order(found)
    if not order:
        return tuple(found)
    # What stands on the paper can be written as well as what stands in the data: "yes" for True.
    by_text = {**{level_name(level): level for level in found}, **{str(level): level for level in found}}
    there = {*known, *(word(level) for column in columns for level in column.levels for word in (str, level_name))}
    first = [by_text[str(level)] for level in order if str(level) in by_text]
    rest = [level for level in found if level not in set(first)]
    if there and columns:
        absent = [level for level in order if str(level) not in there]
        yield from say_absent(absent, [level_name(level) for level in rest], [*map(level_name, found), *known], "order", where)
    return (*first, *rest)


def say_absent(absent: Sequence[object], unnamed: Sequence[str], every: Sequence[str], what: str, where: str) -> Remarks:
    """Says which of the levels that an option names no row has: a list that serves many figures names more than one shows.

    Args:
        absent: Those that no row has.
        unnamed: The levels that are there and not named.
        every: All that are there or known.
        what: The option.
        where: Who asks.

    Raises:
        OptionError: One of them reads like a level that is there and not named: then it is a slip.
    """
    for level in absent:
        if any(_reads_like(level_name(level), other) for other in unnamed):
            raise unknown(OptionError, f"{where}: {what}", "no category", level, dict.fromkeys(every), "categories")
    if absent:
        said = listed((repr(level_name(level)) for level in absent), 5)
        yield Remark("levels-absent", where, f"{what} names {said}, which no row has here")


def _reads_like(word: str, other: str) -> bool:
    """Whether a word may be a slip of another; words that differ in their digits alone are two of a series."""
    if re.sub(r"\d+", "", word).casefold() == re.sub(r"\d+", "", other).casefold() and re.search(r"\d", word + other):
        return word.casefold() == other.casefold()
    return difflib.SequenceMatcher(None, word.casefold(), other.casefold()).ratio() >= _ALIKE


def coded(column: Column, levels: Levels) -> IntArray:
    """Positions among the scale's levels instead of the column's own."""
    lost = len(levels) - 1 if levels and levels[-1] is MISSING else -1
    if column.levels == levels and lost == -1:
        return column.values
    position = {level: number for number, level in enumerate(levels)}
    table = np.array([*(position.get(level, -1) for level in column.levels), lost], np.int64)
    result: IntArray = table[column.values]
    return result


def level_name(level: object) -> str:
    """What a level is called in errors, remarks and options."""
    if level is MISSING or isinstance(level, Word):
        return str(level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return ", ".join(map(level_name, level)) if isinstance(level, tuple) else str(level)
