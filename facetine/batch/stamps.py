"""What tells a file that has changed from one that has not."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from facetine.data.plain import must_be_plain

Stamps = dict[str, list[Any]]
"""Of each file its size, when it was changed, and the digest of its content."""


def stamps_of(files: Sequence[Path]) -> list[list[Any]]:
    """Each file with its size and when it was changed; −1 for one that is not there."""
    made = []
    for file in files:
        try:
            found = os.stat(file)
            made.append([str(file), found.st_size, found.st_mtime_ns])
        except OSError:
            made.append([str(file), -1, -1])
    return made


def file_digest(path: Path, stamps: Stamps) -> str:
    """The digest of a file's content, which is read again only where its size or its time has changed."""
    from hashlib import blake2b

    try:
        found = path.stat()
        known = stamps.get(str(path))
        if known is not None and known[:2] == [found.st_size, found.st_mtime_ns]:
            return str(known[2])
        must_be_plain(path)
        made = blake2b(digest_size=16)
        with path.open("rb") as stream:
            while part := stream.read(1 << 20):
                made.update(part)
    except OSError:
        return "missing"
    stamps[str(path)] = [found.st_size, found.st_mtime_ns, made.hexdigest()]
    return made.hexdigest()
