"""One run at a time in a folder; what a killed one has left there is cleared by the next."""

from __future__ import annotations

import contextlib
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from facetine.messages.errors import ExportError

LOCK, HOLDER, STORE = ".facetine-lock", ".facetine-run", ".facetine-tables"


@contextmanager
def locked(folder: Path) -> Iterator[Path]:
    """The folder for one run, with a place for tables that all its processes read.

    The system lets the lock go when the process ends, in whatever way.

    Raises:
        ExportError: Another run writes there, or it can't be written.
    """
    from filelock import FileLock, Timeout

    lock, holder, store = FileLock(folder / LOCK, timeout=0), folder / HOLDER, folder / STORE
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock.acquire()
        holder.write_text(f"{os.getpid()}\n")
    except Timeout:
        raise _taken(folder) from None
    except OSError as problem:
        lock.release()
        raise ExportError("export", f"can't write in {str(folder)!r}: {problem.strerror or problem}") from problem
    shutil.rmtree(store, ignore_errors=True)
    try:
        yield store
    finally:
        shutil.rmtree(store, ignore_errors=True)
        for file in (holder, folder / LOCK):
            with contextlib.suppress(OSError):
                file.unlink()
        lock.release()


def _taken(folder: Path) -> ExportError:
    """The error for a folder to which another run writes."""
    try:
        other = (folder / HOLDER).read_text()[:20].strip()
    except (OSError, UnicodeDecodeError):
        other = ""
    by = f", by process {other}" if other.isdigit() else ""
    return ExportError("export", f"another run writes to {str(folder)!r}{by}", "wait for it, or --out names another folder")
