"""Sheets of workbooks (.xlsx) read into columns: the cells as they were last computed."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from facetine.core.arrays import AnyArray
from facetine.data.bounded_books import MOST_CELLS, column_number, merged_ranges, must_be_bounded
from facetine.data.cells import of_cells
from facetine.data.delimited import named_columns
from facetine.data.dialect import UNTOLD, Told
from facetine.data.grids import Grid, Merged, Row, table_in
from facetine.messages.errors import DataError, FacetineError, listed, unknown

_RANGE = re.compile(r"\$?([A-Za-z]{1,3})\$?(\d{1,7}):\$?([A-Za-z]{1,3})\$?(\d{1,7})")
_ERRORS = ("#N/A", "#DIV/0!", "#VALUE!", "#REF!", "#NAME?", "#NUM!", "#NULL!")


def sheet_columns(file: Path, part: str | None, where: str, told: Told = UNTOLD) -> tuple[dict[str, AnyArray], list[str]]:
    """The columns of a sheet, and what is to be told of it.

    Args:
        file: The workbook.
        part: "Sheet", "A3:F90" or "Sheet!A3:F90"; the first sheet that holds something where it is None.
        where: Who asks, for the error.

    Raises:
        DataError: It is no workbook, has no such sheet, or the range holds no table.
    """
    sheet, corners = _parted(file, part, where)
    rows, merged, notes = _rows(file, sheet, corners, where)
    grid = table_in(rows, merged)
    if grid is None:
        raise DataError(where, f"{_of(file, part)} holds no table", "a line of names, and rows below it")
    columns = [list(column) for column in zip(*grid.rows, strict=True)] or [[] for _ in grid.names]
    kept = [place for place, name in enumerate(grid.names) if name or any(cell is not None for cell in columns[place])]
    named, said = named_columns([grid.names[place] for place in kept], [columns[place] for place in kept], file.name)
    if not named or not grid.rows:
        raise DataError(where, f"{_of(file, part)} holds no rows", "a line of names, and rows below it")
    notes += [f"{where}: {file.name}: {one}" for one in _told(grid, list(named))]
    told.must_know(named, where)
    found = {name: of_cells(cells, name, told) for name, cells in named.items()}
    of_columns = [f"{file.name}: {one}" for column in found.values() for one in column.notes]
    return {name: column.array for name, column in found.items()}, [*(f"{where}: {one}" for one in said), *notes, *of_columns]


def _told(grid: Grid, names: list[str]) -> Iterator[str]:
    """What is to be told of where a table lies in its sheet."""
    for side, texts in (("above the names", grid.title), ("below the table", grid.notes)):
        if texts:
            shown = listed([repr(text[:40]) for text in texts], 2)
            yield f"{len(texts)} row{'s' if len(texts) > 1 else ''} {side} left out: {shown}"
    if grid.headings > 1:
        yield f"the names take {grid.headings} rows, which are joined: {listed(map(repr, names), 4)}"
    if grid.filled:
        yield f"{grid.filled:,} cells have the value of the merged range to which they belong"


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
        raise DataError(where, f"{said!r} is no range of {file.name}", "such as data.xlsx#Sheet!A3:F90")
    if found is None:
        return sheet, None
    first, top, last, bottom = found.groups()
    corners = (column_number(first), int(top), column_number(last), int(bottom))
    if corners[0] > corners[2] or corners[1] > corners[3] or corners[1] < 1:
        raise DataError(where, f"the range {said!r} of {file.name} ends before it begins", "such as A3:F90")
    return sheet.strip("'") or None, corners


def _rows(
    file: Path, sheet: str | None, corners: tuple[int, int, int, int] | None, where: str
) -> tuple[list[Row], list[Merged], list[str]]:
    """The cells of a range, without rows that are empty at the end, and its merged ranges."""
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
                    raise DataError(where, f"{file.name} holds no sheet of cells", "a line of names, and rows below it")
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
                rows, places = _compact(cells, file, where)
                merged = merged_ranges(file, str(getattr(book[chosen], "_worksheet_path", "")))
            finally:
                book.close()
    except FacetineError:
        raise
    except Exception as problem:
        # What its parsers raise about a damaged one has no end.
        raise DataError(where, f"{file.name} is no workbook that can be read: {str(problem)[:120]}") from problem
    return rows, _within(merged, rows, places, (first or 1, top or 1), file, where), notes


def _within(
    merged: list[Merged], rows: list[Row], places: list[int], start: tuple[int, int], file: Path, where: str
) -> list[Merged]:
    """Merged ranges as places among the rows and columns that are read; those that begin elsewhere have no value here.

    Raises:
        DataError: They have more cells than there are.
    """
    found = []
    for one in merged:
        top, bottom = one.top - start[1], min(one.bottom - start[1], len(rows) - 1)
        left = [place for place, column in enumerate(places) if one.left - start[0] <= column <= one.right - start[0]]
        if 0 <= top <= bottom and left and places[left[0]] == one.left - start[0]:
            found.append(Merged(top, left[0], bottom, left[-1]))
    if sum((one.bottom - one.top + 1) * (one.right - one.left + 1) for one in found) > len(rows) * len(places):
        raise DataError(where, f"{file.name} has merged ranges that lie over each other", "no office program writes such a sheet")
    return found


def _compact(cells: Iterable[Row], file: Path, where: str) -> tuple[list[Row], list[int]]:
    """Rows up to the last that holds anything, of the columns that do, and which these are: a far-off cell is one more column.

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
            raise DataError(where, f"{file.name} has a sheet of more than {MOST_CELLS:,} cells", "as .csv it is read")
    while held and not held[-1]:
        held.pop()
    if len(held) * len(used) > MOST_CELLS:
        said = f"{file.name} has {len(used):,} columns with cells over {len(held):,} rows, most of which are empty"
        raise DataError(where, said, f"a range, such as {file.name}#A1:F90, leaves far-off cells out")
    places = sorted(used)
    return [tuple(row.get(place) for place in places) for row in held], places


def _cell(value: Any) -> Any:
    return None if isinstance(value, str) and (not value.strip() or value in _ERRORS) else value
