"""Files that are handed in: plain ones alone are opened, and none that is larger than what it can be."""

from __future__ import annotations

import errno
import os
import stat

_MB = 1024 * 1024
MOST_TEXT = 16 * _MB
"""Of plans, themes, codebooks and other texts of settings."""
MOST_PICTURE = 256 * _MB
MOST_FIGURE = 1024 * _MB
"""Of figures that carry their rows."""
_SORTS = (
    (stat.S_ISDIR, "a folder"),
    (stat.S_ISFIFO, "a pipe"),
    (stat.S_ISSOCK, "a socket"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
)


class NotPlainError(OSError):
    """Something that is no plain file, or too large a one."""


def must_be_plain(path: str | os.PathLike[str]) -> None:
    """Takes a path at which there is a plain file; nothing is opened.

    Raises:
        OSError: There is none, or something that is no file: what is read from a pipe, socket or device may never end.
    """
    _must_be_plain(os.stat(path), path)


def plain_bytes(path: str | os.PathLike[str], most: int = MOST_TEXT) -> bytes:
    """What a plain file holds.

    Args:
        path: The file.
        most: As many bytes as it may have.

    Raises:
        OSError: It can't be read, is no plain file, or is larger.
    """
    # What is opened is looked at, not what stood there before; without waiting for whoever writes into a pipe.
    handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0))
    with os.fdopen(handle, "rb") as stream:
        _must_be_plain(os.fstat(handle), path)
        content = stream.read(most + 1)
    if len(content) > most:
        raise NotPlainError(errno.EFBIG, f"it has more than {most // _MB:,} MB", str(path))
    return content


def plain_text(path: str | os.PathLike[str], most: int = MOST_TEXT) -> str:
    """What a plain file of text says.

    Raises:
        OSError: It can't be read, is no plain file, or is larger.
        UnicodeDecodeError: It is no UTF-8.
    """
    return plain_bytes(path, most).decode("utf-8-sig").replace("\r\n", "\n").replace("\r", "\n")


def _must_be_plain(found: os.stat_result, path: str | os.PathLike[str]) -> None:
    if not stat.S_ISREG(found.st_mode):
        sort = next((name for asks, name in _SORTS if asks(found.st_mode)), "something else")
        number = errno.EISDIR if stat.S_ISDIR(found.st_mode) else errno.EINVAL
        raise NotPlainError(number, f"it is {sort}, not a file", str(path))
