"""Workbooks before they are opened: what they unpack to, and how many cells they hold, counted without keeping any."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path

from facetine.errors import DataError

MOST_CELLS = 5_000_000
"""Of a sheet."""
MOST_UNPACKED = 50 * 1024 * 1024
"""Bytes that any part of a workbook may unpack to, unless it is as dense as tables are."""
_DENSEST = 60
"""So many bytes come of one where a table is packed; of one that is repeated, a thousand (RFC 1951 ends at 1032)."""
_MOST_PARTS = 5_000
_WIDEST = 16_384
"""Columns of a sheet, by the format (ECMA-376, part 1, section 18.3.1)."""
_PIECE = 1 << 20
_CELL, _ROW = re.compile(rb"<(?:\w+:)?c[\s/>]"), re.compile(rb"<(?:\w+:)?row[\s/>]")


def must_be_bounded(file: Path, where: str) -> None:
    """Takes a workbook that can be opened without filling the memory.

    Raises:
        DataError: It unpacks to more than tables do, or a sheet has more cells than it may.
        zipfile.BadZipFile: It is no workbook.
    """
    with zipfile.ZipFile(file) as book:
        parts = book.infolist()
        if len(parts) > _MOST_PARTS:
            raise DataError(f"{where}: {file.name} has {len(parts):,} parts", f"at most {_MOST_PARTS:,} are read")
        for part in parts:
            dense = part.file_size > _DENSEST * max(part.compress_size, 1)
            if part.file_size > MOST_UNPACKED and dense:
                said = (
                    f"{where}: {file.name} unpacks to {part.file_size // 2**20:,} MB of {max(part.compress_size >> 20, 1):,} MB"
                )
                raise DataError(said, f"at most {MOST_UNPACKED >> 20} MB of what repeats itself; as .csv it is read")
        for part in parts:
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
                raise DataError(f"{where}: {file.name} has a sheet of more than {MOST_CELLS:,} cells", "as .csv it is read")
            if cells > _WIDEST * (rows + 1):
                raise DataError(f"{where}: {file.name} has a row of more than {_WIDEST:,} cells", "no sheet is that wide")
