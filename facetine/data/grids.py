"""Where a table lies in a grid of cells: what stands above its names, how many rows these take, and what stands below it."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from typing import Any, NamedTuple

from facetine.data.units import unit_of

Row = tuple[Any, ...]
_MOST_HEADINGS = 3
"""Rows that the names of columns may take."""


class Merged(NamedTuple):
    """A range of cells that is one: rows and columns from the first to the last, counted from 0."""

    top: int
    left: int
    bottom: int
    right: int


class Grid(NamedTuple):
    """A table in a grid of cells."""

    names: tuple[str, ...]
    rows: list[Row]
    title: tuple[str, ...]
    """What stands above it, a text a row."""
    headings: int
    """How many rows its names take."""
    notes: tuple[str, ...]
    """What stands below it, a text a row."""
    filled: int
    """How many of its cells have the value of the range to which they belong."""


def table_in(cells: Sequence[Row], merged: Sequence[Merged] = ()) -> Grid | None:
    """The table in a grid of cells; None where there is none.

    Args:
        cells: Rows of one length; None where a cell is empty.
        merged: Ranges that are one cell, whose value stands at their upper left.

    What fills one cell, or one range, of a wider table is a title above it. Ranges that lie over several columns of the names
    have names of their own below them; a row of units belongs to the names too. Below the table stand texts that are alone in
    their row, after an empty one, or in a column of numbers.
    """
    rows = [list(row) for row in cells]
    own = [sum(cell is not None for cell in row) for row in cells]
    for one in merged:
        value = rows[one.top][one.left]
        for row in rows[one.top : one.bottom + 1]:
            row[one.left : one.right + 1] = [value] * (one.right - one.left + 1)
    width = max((sum(cell is not None for cell in row) for row in rows), default=0)
    start = next((place for place in range(len(rows)) if _names_columns(rows[place], own[place], width)), 0)
    last = _last_heading(rows, start, merged)
    end = _end(rows, own, last + 1, width)
    if not rows or not width:
        return None
    names = tuple(_joined([rows[place][column] for place in range(start, last + 1)]) for column in range(len(rows[0])))
    body = [tuple(row) for row in rows[last + 1 : end]]
    inside = [one for one in merged if last < one.top < end]
    filled = sum((one.bottom - one.top + 1) * (one.right - one.left + 1) - 1 for one in inside)
    return Grid(names, body, _texts(cells[:start]), last + 1 - start, _texts(cells[end:]), filled)


def _names_columns(row: list[Any], own: int, width: int) -> bool:
    """Whether a row has names for most columns, and not one text alone."""
    return sum(cell is not None for cell in row) > width / 2 and (own > 1 or width == 1)


def _last_heading(rows: list[list[Any]], start: int, merged: Sequence[Merged]) -> int:
    """The last row of the names."""
    last = start
    while last + 1 < len(rows) and last - start + 1 < _MOST_HEADINGS and _goes_on(rows, start, last, merged):
        last += 1
    return last


def _goes_on(rows: list[list[Any]], start: int, last: int, merged: Sequence[Merged]) -> bool:
    """Whether the row after one of names holds names, or units, too."""
    over = [one for one in merged if start <= one.top <= last <= one.bottom]
    below = rows[last + 1]
    if any(one.bottom > last for one in over):
        return True
    wide = [one for one in over if one.right > one.left]
    if wide:
        # Columns under one name have names of their own, unless it is data that stand there.
        return all(_may_name(below[column]) for one in wide for column in range(one.left, one.right + 1))
    said = [(column, cell) for column, cell in enumerate(below) if cell is not None]
    units = [cell for column, cell in said if _is_measured(rows[last + 2 :], column)]
    others = [cell for column, cell in said if not _is_measured(rows[last + 2 :], column)]
    return bool(units) and all(map(_is_unit, units)) and all(map(_is_unit, others))


def _may_name(cell: Any) -> bool:
    """Whether a cell can be the name of a column: a text, or a year."""
    return isinstance(cell, str) or (isinstance(cell, int) and not isinstance(cell, bool) and 1000 <= cell <= 2999)


def _is_unit(cell: Any) -> bool:
    text = cell.strip() if isinstance(cell, str) else ""
    bracketed = len(text) > 2 and text[0] + text[-1] in ("()", "[]")
    return bool(text) and (bracketed or text in ("-", "–") or unit_of(text) is not None)


def _is_measured(rows: list[list[Any]], column: int) -> bool:
    """Whether most values of a column are numbers or times."""
    values = [row[column] for row in rows[:100] if row[column] is not None]
    return sum(_is_measure(value) for value in values) * 2 > len(values)


def _is_measure(value: Any) -> bool:
    return isinstance(value, int | float | dt.date | dt.datetime | dt.time | dt.timedelta) and not isinstance(value, bool)


def _end(rows: list[list[Any]], own: list[int], start: int, width: int) -> int:
    """Where the table ends: before texts that are alone in their rows."""
    end = len(rows)
    while end > start and _is_alone(rows[end - 1], own[end - 1], width):
        end -= 1
    # A value may be alone in its row too: only what an empty row sets off, or what is no value of its column, is a note.
    for place in range(end, len(rows)):
        row = rows[place]
        column = next((column for column, cell in enumerate(row) if cell is not None), None)
        if own[place] == 0 or (column is not None and _is_measured(rows[start:end], column)):
            break
        end = place + 1
    while end > start and own[end - 1] == 0 and all(cell is None for cell in rows[end - 1]):
        end -= 1
    return end


def _is_alone(row: list[Any], own: int, width: int) -> bool:
    """Whether a row of a wider table holds nothing, or one text."""
    said = [cell for cell in row if cell is not None]
    return not said or (own == 1 and width > 1 and all(isinstance(cell, str) for cell in said))


def _joined(parts: Sequence[Any]) -> str:
    """The name of a column from the cells above it: what is said again is said once, a unit stands in parentheses."""
    said: list[str] = []
    for part in parts:
        text = "" if part is None else str(part).strip()
        if not text or (said and text == said[-1]) or (said and text in ("-", "–")):
            continue
        is_unit = bool(said) and text[0] not in "([" and unit_of(text) is not None
        said.append(f"({text})" if is_unit else text)
    return " ".join(said)


def _texts(rows: Sequence[Row]) -> tuple[str, ...]:
    said = (" ".join(str(cell).strip() for cell in row if cell is not None) for row in rows)
    return tuple(text for text in said if text)
