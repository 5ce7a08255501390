"""Finding out how a text holds its table.

What is found is only what a reader would see too: the sign that parts all lines into as many cells, the quotes, the sign
before decimals, and the lines that stand before the table. What could be read in two ways is refused, or told.
"""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from itertools import islice
from typing import NamedTuple

from facetine.data.cells import NULLS
from facetine.data.dialect import Dialect, Told, lines_of
from facetine.data.digits import THOUSANDS, Signs, numbers_in, taken
from facetine.messages.errors import DataError

_HEAD_LINES, _HEAD_LETTERS = 1000, 1 << 18
_DELIMITERS = (",", ";", "\t", "|", " ")
_MOST_BEFORE = 30
"""Lines that may stand before a table."""
_NUMBER = re.compile(r"[+\-−]?(?:\d[\d.,'\u202f\u00a0 ]*|[.,]\d+)(?:[eE][+-]?\d+)?")
_PARTED = re.compile(r"\d['\u202f\u00a0 ]\d{3}")


class _Fit(NamedTuple):
    """How well a text falls into cells."""

    alike: float
    """The share of lines as long as the first."""
    several: bool
    """Whether the first has more than one cell."""
    plain: float
    """The share of cells that are numbers or empty, less those with quotes left around them."""


_NONE = _Fit(0.0, False, 0.0)


def dialect_of(text: str, encoding: str, told: Told, usual: str, name: str, where: str) -> Dialect:
    """How a text holds its table.

    Args:
        text: All of it.
        encoding: How it was written.
        told: What the analyst said.
        usual: The sign that the file's ending promises between cells.
        name: The file's, for the error.
        where: Who asks.

    Raises:
        DataError: It holds none, or one without names.
    """
    head = _head(text)
    comment = told.comment if told.comment is not None else "#" if head.lstrip("\ufeff\r\n ").startswith("#") else ""
    base = Dialect(encoding, quote=told.quote or '"', comment=comment, skip=told.skip or 0)
    dialect = _parted(head, base, told, usual)
    if not dialect.delimiter:
        _check_single(head, base, name, where)
    rows = _rows(head, dialect)
    if not rows:
        raise DataError(where, f"{name} is empty", "a table has a first line with the column names")
    if told.skip is None and told.header is None and (titled := _titled(head, dialect, rows)):
        dialect, rows = dialect._replace(skip=titled), rows[1:]
    if told.header is not None:
        dialect = dialect._replace(header=told.header)
    elif any(map(_is_number, rows[0])) and (names := _remarked(head, dialect, len(rows[0]))):
        dialect = dialect._replace(header=False, names=names)
    elif all(map(_is_number, rows[0])):
        said = f"the first line of {name} holds numbers, no column names: {', '.join(rows[0][:4])}"
        raise DataError(where, said, 'header=False calls the columns "column 1", "column 2" and so on')
    return _with_numbers(dialect, rows[1:] if dialect.header else rows, told)


def _is_number(cell: str) -> bool:
    return _NUMBER.fullmatch(cell.strip()) is not None


def _head(text: str) -> str:
    """The first lines, none of them cut."""
    end = 0
    for _ in range(_HEAD_LINES):
        end = text.find("\n", end) + 1
        if not end:
            return text
        if end > _HEAD_LETTERS:
            break
    return ended(text[:end])


def ended(head: str) -> str:
    """The first lines of a text without those of a cell in quotes that goes on beyond them."""
    end = len(head)
    for _ in range(_HEAD_LINES):
        if head.count('"', 0, end) % 2 == 0:
            return head[:end]
        end = head.rfind("\n", 0, end - 1) + 1
        if not end:
            break
    # A quote somewhere is no more than a letter.
    return head


def _rows(head: str, dialect: Dialect) -> list[list[str]]:
    try:
        return [cells for _, cells in islice(lines_of(head, dialect), _HEAD_LINES)]
    except csv.Error:
        return []


def _parted(head: str, base: Dialect, told: Told, usual: str) -> Dialect:
    """The dialect whose signs part all lines alike, also after lines that stand before the table; one column where none does."""
    signs = [told.delimiter] if told.delimiter is not None else [sign for sign in _DELIMITERS if sign in head] or [usual]
    quotes = [told.quote] if told.quote is not None else ['"', "'"] if "'" in head else ['"']
    tried = [base._replace(delimiter=sign, quote=quote) for sign in signs for quote in quotes]
    tried += [one._replace(escape="\\") for one in tried if "\\" + one.quote in head]
    fits_of = {one: _fit(head, one) for one in tried}
    best = max(tried, key=lambda one: (fits_of[one], one.delimiter == usual))
    if fits_of[best].alike < 1 and told.skip is None:
        moved = [one._replace(skip=skip) for one in tried if one.delimiter != " " and (skip := _before(head, one))]
        best = min(moved, key=lambda one: (one.skip, -_fit(head, one).plain), default=best)
    if told.delimiter is None and not _fit(head, best).several:
        return base._replace(delimiter="")
    return best


def _fit(head: str, dialect: Dialect) -> _Fit:
    rows = _rows(head, dialect)
    width = len(rows[0]) if rows else 0
    if width < 2:
        return _NONE
    body = rows[1:] or rows
    alike = sum(len(row) == width or is_tailed(row, width) for row in body) / len(body)
    if has_row_names(rows):
        alike = 1.0
    if dialect.delimiter == " " and alike < 1:
        # Blanks part words too.
        return _NONE
    cells = [cell.strip() for row in body[:200] for cell in row]
    plain = sum(cell in NULLS or _is_number(cell) for cell in cells)
    wrapped = sum(len(cell) > 1 and cell[0] == cell[-1] and cell[0] in "'\"" for cell in cells)
    return _Fit(alike, True, (plain - wrapped) / len(cells))


def is_tailed(row: list[str], width: int) -> bool:
    """Whether a line only ends in a sign too many."""
    return len(row) == width + 1 and not row[-1].strip()


def has_row_names(rows: list[list[str]]) -> bool:
    """Whether each line begins with a name of its own, for which the first has none."""
    width = len(rows[0])
    named = len(rows) > 2 and all(len(row) == width + 1 and row[0].strip() for row in rows[1:])
    return named and any(row[-1].strip() for row in rows[1:])


def _titled(head: str, dialect: Dialect, rows: list[list[str]]) -> int:
    """How many lines go up to a title that is padded with signs between cells; 0 where the first line is none."""
    if len(rows) < 3 or dialect.delimiter in ("", " ") or sum(bool(cell.strip()) for cell in rows[0]) != 1:
        return 0
    names = [cell.strip() for cell in rows[1]]
    if len(names) < 3 or sum(map(bool, names)) <= len(names) / 2 or any(map(_is_number, names)):
        return 0
    numbers = [line for line, _ in islice(lines_of(head, dialect), 2)]
    return numbers[1] - 1


def _before(head: str, dialect: Dialect) -> int:
    """How many lines stand before a table: those before the first from which on all are equally long."""
    lines = list(islice(io.StringIO(head, newline=""), _HEAD_LINES))
    for skip in range(1, min(len(lines) - 1, _MOST_BEFORE)):
        later = dialect._replace(skip=skip)
        if lines[skip].strip() and _fit(head, later).alike == 1 and not any(map(_is_number, _rows(head, later)[0])):
            return skip
    return 0


def _check_single(head: str, base: Dialect, name: str, where: str) -> None:
    """A text of one column has no signs between cells, in its first line or in the others.

    Raises:
        DataError: It has.
    """
    rows = _rows(head, base._replace(delimiter=""))
    first = rows[0][0].strip() if rows else ""
    if first[:1] in ("<", "{"):
        raise DataError(where, f"{name} is no table: its first line has no column names", f"line 1: {first[:60]}")
    for sign in _DELIMITERS[:-1]:
        fields = [len(row) for row in _rows(head, base._replace(delimiter=sign))]
        if len(fields) > 1 and min(fields[1:]) > fields[0] == 1:
            said = f"{name} is no table: line 2 has {fields[1]} fields, the first line has 1"
            raise DataError(where, said, f"line 1: {first[:60]}; skip=1 leaves it out")


def _remarked(head: str, dialect: Dialect, width: int) -> tuple[str, ...]:
    """The names that the last remark before the table holds; none where it does not hold as many."""
    if not dialect.comment:
        return ()
    before = []
    for line in head.splitlines():
        if line.strip() and not line.startswith(dialect.comment):
            break
        before += [line.lstrip(dialect.comment).strip()] if line.strip() else []
    said = _rows(before[-1], dialect._replace(skip=0)) if before else []
    return tuple(said[0]) if said and len(said[0]) == width else ()


def _with_numbers(dialect: Dialect, rows: list[list[str]], told: Told) -> Dialect:
    """The dialect with its decimal sign and those between thousands, by the columns that can be read one way only."""
    width = min((len(row) for row in rows), default=0)
    gone = {*NULLS, *told.absent}
    columns = [Counter(cell for row in rows if (cell := row[place].strip()) not in gone) for place in range(width)]
    signed = [column for column in columns if any("," in cell or "." in cell or _PARTED.search(cell) for cell in column)]
    decimal, sure = (told.decimal, True) if told.decimal else _decimal(signed, dialect.delimiter)
    dialect = dialect._replace(decimal=decimal, sure=sure or told.thousands is not None)
    if told.thousands is not None:
        return dialect._replace(thousands=told.thousands)
    possible = THOUSANDS[decimal]
    parted = [column for column in signed if _holds(column, decimal, possible) and not _holds(column, decimal, "")]
    used = [sign for sign in possible if any(sign in cell for column in parted for cell in column)]
    return dialect._replace(thousands="".join(used))


def _decimal(signed: list[Counter[str]], delimiter: str) -> tuple[str, bool]:
    """The sign before decimals, and whether something tells it; where one comma may be either, it is that sign where semicolons
    stand between cells."""
    ways = [(_holds(column, ".", THOUSANDS["."]), _holds(column, ",", THOUSANDS[","])) for column in signed]
    if (True, False) in ways:
        return ".", True
    if (False, True) in ways:
        return ",", True
    either = any(both == (True, True) and any("," in cell for cell in column) for both, column in zip(ways, signed, strict=True))
    return "," if either and delimiter == ";" else ".", not either


def _holds(column: Counter[str], decimal: str, thousands: str) -> bool:
    """Whether a column is one of numbers that are written with these signs."""
    found = numbers_in(column, Signs(decimal, thousands), sure=True)
    return found is not None and taken(found, column.total())
