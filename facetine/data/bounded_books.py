"""Workbooks before they are opened: what they unpack to, and how many cells they hold, counted without keeping any."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path

from facetine.data.grids import Merged
from facetine.data.zipped import must_unpack_to_little
from facetine.messages.errors import DataError

MOST_CELLS = 5_000_000
"""Of a sheet."""
_WIDEST = 16_384
"""Columns of a sheet, by the format (ECMA-376, part 1, section 18.3.1)."""
_PIECE = 1 << 20
_MOST_MERGED = 50_000
_MERGED = re.compile(rb"<(?:\w+:)?mergeCell\s[^>]*?ref=[\"']([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})[\"']")
_CELL, _ROW = re.compile(rb"<(?:\w+:)?c[\s/>]"), re.compile(rb"<(?:\w+:)?row[\s/>]")


def must_be_bounded(file: Path, where: str) -> None:
    """Takes a workbook that can be opened without filling the memory.

    Raises:
        DataError: It unpacks to more than tables do, or a sheet has more cells than it may.
        zipfile.BadZipFile: It is no workbook.
    """
    must_unpack_to_little(file, where, DataError)
    with zipfile.ZipFile(file) as book:
        for part in book.infolist():
            if part.filename.startswith("xl/worksheets/") and part.filename.endswith(".xml"):
                _count(book, part, file, where)


def _count(book: zipfile.ZipFile, part: zipfile.ZipInfo, file: Path, where: str) -> None:
    cells, rows, kept = 0, 0, b""
    with book.open(part) as stream:
        while piece := stream.read(_PIECE):
            text = kept + piece
            # A mark may lie on both sides of an edge; what is kept is shorter than any.
            end = max(text.rfind(b"<"), 0)
            kept, text = text[end:][:64], text[:end]
            cells, rows = cells + len(_CELL.findall(text)), rows + len(_ROW.findall(text))
            if cells > MOST_CELLS:
                raise DataError(where, f"{file.name} has a sheet of more than {MOST_CELLS:,} cells", "as .csv it is read")
            if cells > _WIDEST * (rows + 1):
                raise DataError(where, f"{file.name} has a row of more than {_WIDEST:,} cells", "no sheet is that wide")


def merged_ranges(file: Path, part: str) -> list[Merged]:
    """The ranges of a sheet that are one cell, by rows and columns counted from 1; none where there are too many to mean it.

    Args:
        file: The workbook.
        part: The sheet's place in it.
    """
    found: list[Merged] = []
    with zipfile.ZipFile(file) as book:
        if part.lstrip("/") not in book.namelist():
            return []
        with book.open(part.lstrip("/")) as stream:
            kept = b""
            while piece := stream.read(_PIECE):
                text = kept + piece
                for left, top, right, bottom in _MERGED.findall(text):
                    found.append(Merged(int(top), column_number(left), int(bottom), column_number(right)))
                end = max(text.rfind(b"<"), 0)
                kept = text[end:][:256]
                if len(found) > _MOST_MERGED:
                    return []
    return found


def column_number(letters: str | bytes) -> int:
    """A column of a sheet, counted from 1.

    >>> column_number("AB")
    28
    """
    number = 0
    for letter in letters.upper() if isinstance(letters, bytes) else letters.upper().encode():
        number = 26 * number + letter - 64
    return number
