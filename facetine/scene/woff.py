"""Fonts in the form of web pages: the tables of an OpenType file, each deflated."""

from __future__ import annotations

import struct
import zlib

_HEAD = struct.Struct(">4sIIHHIHHIIIII")
_ENTRY = struct.Struct(">4sIIII")


def woff(font: bytes) -> bytes:
    """An OpenType file as WOFF.

    Source: W3C, WOFF File Format 1.0 (2012), sections 3 to 5.
    """
    flavor, count = struct.unpack_from(">IH", font)
    entries = sorted(struct.unpack_from(">4sIII", font, 12 + 16 * number) for number in range(count))
    offset = _HEAD.size + _ENTRY.size * count
    # The file unpacks to its tables on boundaries of four bytes, after its directory.
    whole = 12 + 16 * count + sum(_padded(length) for _, _, _, length in entries)
    directory, tables = bytearray(), bytearray()
    for tag, checksum, start, length in entries:
        content = font[start : start + length]
        packed = zlib.compress(content, 9)
        stored = packed if len(packed) < length else content
        directory += _ENTRY.pack(tag, offset + len(tables), len(stored), length, checksum)
        tables += stored + bytes(-len(stored) % 4)
    size = offset + len(tables)
    head = _HEAD.pack(b"wOFF", flavor, size, count, 0, whole, 1, 0, 0, 0, 0, 0, 0)
    return head + bytes(directory) + bytes(tables)


def _padded(length: int) -> int:
    return length + -length % 4
