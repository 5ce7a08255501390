"""What files end in that hold a table in another way than as lines, and the parts of them that can be said."""

from __future__ import annotations

from pathlib import Path

PACKED = (".gz", ".zst")
BOOKS = (".xlsx", ".xlsm")
ARROW = (".arrow", ".feather", ".ipc")
DATABASES = (".db", ".sqlite", ".sqlite3")
DUCK = (".duckdb",)
HELD = (*BOOKS, *ARROW, *DATABASES, *DUCK)
"""Of files that are read whole."""


def parted(path: str) -> tuple[Path, str | None]:
    """A file, and the part of it that is said behind a "#": of workbooks and databases, where no file is called so."""
    before, mark, part = path.rpartition("#")
    held = Path(before).suffix.lower() in (*BOOKS, *DATABASES, *DUCK)
    return (Path(before), part) if mark and held and not Path(path).exists() else (Path(path), None)
