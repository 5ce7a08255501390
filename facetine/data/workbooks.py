"""Sheets of workbooks (.xlsx) read into columns: the cells as they were last computed."""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.data.bounded_books import MOST_CELLS, must_be_bounded
from facetine.data.cells import typed
from facetine.data.delimited import named_columns
from facetine.errors import DataError, FacetineError, unknown

_RANGE = re.compile(r"\$?([A-Za-z]{1,3})\$?(\d{1,7}):\$?([A-Za-z]{1,3})\$?(\d{1,7})")
_ERRORS = ("#N/A", "#DIV/0!", "#VALUE!", "#REF!", "#NAME?", "#NUM!", "#NULL!")
_MOMENT = "datetime64[us]"


def sheet_columns(file: Path, part: str | None, where: str) -> tuple[dict[str, AnyArray], list[str]]:
    """The columns of a sheet, and what is to be told of it.

    Args:
        file: The workbook.
        part: "Sheet", "A3:F90" or "Sheet!A3:F90"; the first sheet that holds something where it is None.
        where: Who asks, for the error.

    Raises:
        DataError: It is no workbook, has no such sheet, or the range holds no table.
    """
    sheet, corners = _parted(file, part, where)
    rows, notes = _rows(file, sheet, corners, where)
    rows, skipped = _from_names_on(rows)
    if not rows:
        raise DataError(f"{where}: {_of(file, part)} holds no table", "a line of names, and rows below it")
    notes += [f"{where}: {file.name}: {skipped} row{'s' if skipped > 1 else ''} above the names left out"] if skipped else []
    names = ["" if name is None else str(name).strip() for name in rows[0]]
    columns = [list(column) for column in zip(*rows[1:], strict=True)] or [[] for _ in names]
    kept = [place for place, name in enumerate(names) if name or any(cell is not None for cell in columns[place])]
    named, said = named_columns([names[place] for place in kept], [columns[place] for place in kept], file.name)
    if not named or not rows[1:]:
        raise DataError(f"{where}: {_of(file, part)} holds no rows", "a line of names, and rows below it")
    found = {name: _array(cells, name, file, where, notes) for name, cells in named.items()}
    return found, [*(f"{where}: {one}" for one in said), *notes]


def _of(file: Path, part: str | None) -> str:
    return f"{file.name}#{part}" if part else file.name


def _parted(file: Path, part: str | None, where: str) -> tuple[str | None, tuple[int, int, int, int] | None]:
    """The sheet, and the range as first column, first row, last column and last row, counted from 1."""
    if not part:
        return None, None
    sheet, mark, said = part.rpartition("!")
    found = _RANGE.fullmatch(said)
    if not mark:
        sheet = "" if found else part
    elif not found:
        raise DataError(f"{where}: {said!r} is no range of {file.name}", "such as data.xlsx#Sheet!A3:F90")
    if found is None:
        return sheet, None
    first, top, last, bottom = found.groups()
    corners = (_column(first), int(top), _column(last), int(bottom))
    if corners[0] > corners[2] or corners[1] > corners[3] or corners[1] < 1:
        raise DataError(f"{where}: the range {said!r} of {file.name} ends before it begins", "such as A3:F90")
    return sheet.strip("'") or None, corners


def _column(letters: str) -> int:
    number = 0
    for letter in letters.upper():
        number = 26 * number + ord(letter) - 64
    return number


def _rows(
    file: Path, sheet: str | None, corners: tuple[int, int, int, int] | None, where: str
) -> tuple[list[tuple[Any, ...]], list[str]]:
    """The cells of a range, without rows that are empty at the end."""
    import warnings

    import openpyxl

    notes = []
    try:
        with warnings.catch_warnings():
            # What it says is of looks and checks of cells, which no table needs.
            warnings.simplefilter("ignore")
            must_be_bounded(file, where)
            book = openpyxl.load_workbook(file, read_only=True, data_only=True)
            try:
                names = [one.title for one in book.worksheets if one.sheet_state == "visible"]
                names = names or [one.title for one in book.worksheets]
                if not names:
                    raise DataError(f"{where}: {file.name} holds no sheet of cells", "a line of names, and rows below it")
                if sheet is not None and sheet not in book.sheetnames:
                    raise unknown(DataError, f"{where}: {file.name}", "no sheet", sheet, book.sheetnames, "sheets")
                chosen = sheet if sheet is not None else names[0]
                if sheet is None and len(names) > 1:
                    notes = [f"{where}: {file.name}: the first of {len(names)} sheets is read; such as #{names[1]} takes another"]
                first, top, last, bottom = corners or (None, None, None, None)
                if corners is None:
                    # What a sheet says of its own size may be wrong; each row then ends with its last cell.
                    book[chosen].reset_dimensions()
                cells = book[chosen].iter_rows(min_col=first, max_col=last, min_row=top, max_row=bottom, values_only=True)
                rows = _compact(cells, file, where)
            finally:
                book.close()
    except FacetineError:
        raise
    except Exception as problem:
        # What its parsers raise about a damaged one has no end.
        raise DataError(f"{where}: {file.name} is no workbook that can be read: {str(problem)[:120]}") from problem
    return rows, notes


def _compact(cells: Iterable[tuple[Any, ...]], file: Path, where: str) -> list[tuple[Any, ...]]:
    """Rows up to the last that holds anything, of the columns that do: one cell at the far end of a sheet is one more column.

    Raises:
        DataError: There are more cells than may be.
    """
    held: list[dict[int, Any]] = []
    used: set[int] = set()
    count = 0
    for row in cells:
        kept = {place: value for place, value in enumerate(map(_cell, row)) if value is not None}
        used.update(kept)
        count += len(kept)
        held.append(kept)
        if count > MOST_CELLS:
            raise DataError(f"{where}: {file.name} has a sheet of more than {MOST_CELLS:,} cells", "as .csv it is read")
    while held and not held[-1]:
        held.pop()
    if len(held) * len(used) > MOST_CELLS:
        said = f"{where}: {file.name} has {len(used):,} columns with cells over {len(held):,} rows, most of which are empty"
        raise DataError(said, f"a range, such as {file.name}#A1:F90, leaves far-off cells out")
    places = sorted(used)
    return [tuple(row.get(place) for place in places) for row in held]


def _cell(value: Any) -> Any:
    return None if isinstance(value, str) and (not value.strip() or value in _ERRORS) else value


def _from_names_on(rows: list[tuple[Any, ...]]) -> tuple[list[tuple[Any, ...]], int]:
    """The rows from that of the names on: titles and remarks above it fill a cell or two of a wider table."""
    filled = [sum(cell is not None for cell in row) for row in rows]
    wide = max(filled, default=0)
    start = next((place for place, count in enumerate(filled) if count > wide / 2), 0)
    return rows[start:], sum(count > 0 for count in filled[:start])


def _array(cells: list[Any], name: str, file: Path, where: str, notes: list[str]) -> AnyArray:
    """A column as an array of what all of its cells are; texts where they differ, which is told."""
    there = [cell for cell in cells if cell is not None]
    kinds = {_kind(cell) for cell in there}
    if not kinds:
        return np.full(len(cells), np.nan)
    if kinds == {"truth"}:
        return np.ma.masked_array([bool(cell) for cell in cells], [cell is None for cell in cells])
    if kinds == {"number"}:
        whole = all(isinstance(cell, int) or float(cell).is_integer() for cell in there)
        if whole and len(there) == len(cells) and all(abs(cell) < 2**53 for cell in there):
            return np.array([int(cell) for cell in cells])
        return np.array([np.nan if cell is None else float(cell) for cell in cells])
    if kinds == {"time"}:
        return np.array([np.datetime64("NaT") if cell is None else np.datetime64(_moment(cell), "us") for cell in cells], _MOMENT)
    if kinds == {"text"}:
        read = typed(["" if cell is None else str(cell) for cell in cells], ".", "")
        padded = any(str(cell).strip()[:1] == "0" and str(cell).strip()[1:2].isdigit() for cell in there)
        if read.dtype.kind in "if" and not padded:
            notes.append(f"{where}: {file.name}: {name!r} holds numbers written as text, which are read as numbers")
            return read
    elif len(kinds) > 1:
        few = min(kinds, key=lambda kind: sum(_kind(cell) == kind for cell in there))
        example = next(cell for cell in there if _kind(cell) == few)
        notes.append(f"{where}: {file.name}: {name!r} holds cells of several kinds, such as {str(example)[:40]!r}: read as text")
    return np.array([None if cell is None else _word(cell) for cell in cells] + [None], object)[:-1]


def _kind(cell: Any) -> str:
    if isinstance(cell, bool):
        return "truth"
    if isinstance(cell, int | float):
        return "number"
    return "time" if isinstance(cell, dt.datetime | dt.date) else "text"


def _moment(cell: Any) -> dt.datetime:
    return cell if isinstance(cell, dt.datetime) else dt.datetime(cell.year, cell.month, cell.day)


def _word(cell: Any) -> str:
    return f"{cell:.0f}" if isinstance(cell, float) and cell.is_integer() and abs(cell) < 2**53 else str(cell)
