"""Files written whole or not at all: by a temporary file of their own beside the target, and a rename."""

from __future__ import annotations

import contextlib
import os
import platform
import stat
import time
import zlib
from pathlib import Path

from facetine.messages.errors import ExportError

_PREFIX, _SUFFIX = ".facetine-", ".part"
# A part that another machine left in a shared folder may still be written; after a day it is not.
_STALE_SECONDS = 86_400.0
_SMALL = 1 << 20
_HOST = f"{zlib.crc32(platform.node().encode()):08x}"
_swept: set[str] = set()


def write_whole(path: Path, content: bytes) -> None:
    """Writes a file by a temporary one beside it and a rename, so that no reader ever sees half of it.

    Of two writers of one file the last one wins, whole. A symbolic link stays, and its target is written; the mode of a
    file that is there is kept.

    Raises:
        ExportError: The folder can't be made or written, or the target is read-only or no plain file.
    """
    try:
        target, found = _target(path)
        mode = None if found is None else _mode(target, found)
        beside = _beside(target)
        try:
            _write(beside, content, mode)
            os.replace(beside, target)
        except BaseException:
            with contextlib.suppress(OSError):
                os.unlink(beside)
            raise
        _sweep(target.parent)
    except (OSError, ValueError) as problem:
        reason = getattr(problem, "strerror", None) or str(problem)
        raise ExportError("figure.export", f"can't write {_shown(path)}: {reason}", f"folder: {_shown(path.parent)}") from problem


def _shown(path: Path) -> str:
    """A path as an error quotes it: without letters that no terminal can show, and not longer than it helps."""
    text = str(path).encode("utf-8", "backslashreplace").decode("utf-8")
    return repr(text if len(text) <= 80 else f"…{text[-79:]}")


def _target(path: Path) -> tuple[Path, os.stat_result | None]:
    """The file itself, behind symbolic links, and what the system says of it; the folder of a new one is made."""
    try:
        found = os.lstat(path)
        if stat.S_ISLNK(found.st_mode):
            path = Path(os.path.realpath(path))
            found = os.stat(path)
    except FileNotFoundError:
        path.parent.mkdir(parents=True, exist_ok=True)
        return path, None
    return path, found


def _mode(target: Path, found: os.stat_result) -> int:
    """The mode of a file that is there.

    Raises:
        ExportError: It is read-only, or no plain file.
    """
    if not stat.S_ISREG(found.st_mode):
        raise ExportError("figure.export", f"can't write {_shown(target)}: it is no plain file", "give the name of a file")
    if not found.st_mode & 0o222:
        raise ExportError("figure.export", f"can't write {_shown(target)}: it is read-only", "chmod +w, or another name")
    return stat.S_IMODE(found.st_mode)


def _beside(target: Path) -> str:
    return f"{target.parent}/{_PREFIX}{_HOST}-{os.getpid()}-{os.urandom(6).hex()}{_SUFFIX}"


def _write(path: str, content: bytes, mode: int | None) -> None:
    # Made anew, never opened: no other writer can have this name.
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666)
    try:
        _reserve(handle, len(content))
        left = memoryview(content)
        while left:
            left = left[os.write(handle, left) :]
    finally:
        os.close(handle)
    if mode is not None:
        os.chmod(path, mode)


def _reserve(handle: int, size: int) -> None:
    """Takes the room of a small file before it is written.

    A file system that looks for room only when it writes to the disk does so at once where a file replaces another, which
    takes longer than all else here. What reserves nothing says so when it is written.
    """
    if 0 < size <= _SMALL and hasattr(os, "posix_fallocate"):
        with contextlib.suppress(OSError):
            os.posix_fallocate(handle, 0, size)


def _sweep(folder: Path) -> None:
    """Removes what killed exports left in a folder, once for each folder and process."""
    key = str(folder)
    if key in _swept:
        return
    _swept.add(key)
    with contextlib.suppress(OSError), os.scandir(folder) as entries:
        for entry in entries:
            if entry.name.startswith(_PREFIX) and entry.name.endswith(_SUFFIX) and _left(entry):
                with contextlib.suppress(OSError):
                    os.unlink(entry.path)


def _left(entry: os.DirEntry[str]) -> bool:
    """Whether nobody writes a part any more: its process has ended, or it is older than a day."""
    host, _, rest = entry.name.removeprefix(_PREFIX).partition("-")
    process = rest.partition("-")[0]
    if host == _HOST and process.isdigit():
        try:
            os.kill(int(process), 0)
        except ProcessLookupError:
            return True
        except (OSError, OverflowError):
            return False
        return False
    return time.time() - entry.stat(follow_symlinks=False).st_mtime > _STALE_SECONDS
