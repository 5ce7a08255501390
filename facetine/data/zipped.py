"""Files of packed parts, such as workbooks and documents, before they are opened: what their parts unpack to."""

from __future__ import annotations

import zipfile
from pathlib import Path

from facetine.messages.errors import FacetineError

MOST_UNPACKED = 50 * 1024 * 1024
"""Bytes that a part may unpack to, unless it is as dense as tables and texts are."""
_MOST_WHOLE = 2 * 1024 * 1024 * 1024
_DENSEST = 60
"""So many bytes come of one where a table is packed; of one that is repeated, a thousand (RFC 1951 ends at 1032)."""
_MOST_PARTS = 5_000


def must_unpack_to_little(file: Path, where: str, error: type[FacetineError]) -> None:
    """Takes a file whose parts can be unpacked without filling the memory; none of them is.

    Raises:
        FacetineError: Of the class `error`: they can't.
        zipfile.BadZipFile: It has no parts.
    """
    with zipfile.ZipFile(file) as parted:
        parts = parted.infolist()
    if len(parts) > _MOST_PARTS:
        raise error(where, f"{file.name} has {len(parts):,} parts", f"at most {_MOST_PARTS:,} are read")
    whole = sum(part.file_size for part in parts)
    dense = any(part.file_size > max(MOST_UNPACKED, _DENSEST * part.compress_size) for part in parts)
    if dense or whole > _MOST_WHOLE:
        packed = max(sum(part.compress_size for part in parts) >> 20, 1)
        said = f"{where}: {file.name} unpacks to {whole >> 20:,} MB of {packed:,} MB"
        raise error(said, f"at most {MOST_UNPACKED >> 20} MB of what repeats itself are unpacked")
