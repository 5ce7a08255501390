"""One run at a time in a folder; what a killed one has left there is cleared by the next."""

from __future__ import annotations

import contextlib
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from facetine.messages.errors import ExportError

LOCK, STORE = ".facetine-lock", ".facetine-tables"


@contextmanager
def locked(folder: Path) -> Iterator[Path]:
    """The folder for one run, with a place for tables that all its processes read.

    Raises:
        ExportError: Another run writes there, or it can't be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handle = os.open(folder / LOCK, os.O_RDWR | os.O_CREAT, 0o644)
    except OSError as problem:
        raise ExportError(f"export: can't write in {str(folder)!r}: {problem.strerror or problem}") from problem
    try:
        _take(handle, folder)
        store = folder / STORE
        shutil.rmtree(store, ignore_errors=True)
        try:
            yield store
        finally:
            shutil.rmtree(store, ignore_errors=True)
            with contextlib.suppress(OSError):
                os.unlink(folder / LOCK)
    finally:
        os.close(handle)


def _take(handle: int, folder: Path) -> None:
    """Takes the lock, which the system lets go when the process ends, in whatever way."""
    try:
        import fcntl
    except ImportError:
        return
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        other = os.pread(handle, 20, 0).decode("ascii", "replace").strip()
        by = f", by process {other}" if other.isdigit() else ""
        raise ExportError(
            f"export: another run writes to {str(folder)!r}{by}", "wait for it, or --out names another folder"
        ) from None
    os.ftruncate(handle, 0)
    os.pwrite(handle, f"{os.getpid()}\n".encode(), 0)
