"""Arrays as few bytes: what a page carries, each by its sort, its place and its length, and all of them deflated."""

from __future__ import annotations

import base64
import hashlib
import zlib
from typing import Any, NamedTuple, TypeAlias

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray

Described: TypeAlias = dict[str, Any]
"""Where an array stands among all bytes: sort, at, count, and decimals of numbers that have few."""

_MOST_DECIMALS = 9
_WHOLE = 2.0**53
_LEVEL, _QUICK = 9, 6
"""Of zlib: the smallest, and one that takes a fifth of the time."""
_LARGE = 4_000_000
"""Bytes beyond which that matters."""


class Decimals(NamedTuple):
    """Numbers as whole ones."""

    whole: AnyArray
    """Shape (n,), int64: each number times a power of ten."""
    places: int
    """The power."""


def decimals_of(values: FloatArray) -> Decimals | None:
    """Numbers that all are whole ones divided by one power of ten, to the last bit; None where they are not.

    Args:
        values: Shape (n,), finite.

    >>> decimals_of(np.array([4.25, -0.5]))
    Decimals(whole=array([425, -50]), places=2)
    >>> decimals_of(np.array([1 / 3])) is None
    True
    """
    for places in range(_MOST_DECIMALS + 1):
        scale = 10.0**places
        whole = np.rint(values * scale)
        if len(whole) and float(np.abs(whole).max()) > _WHOLE:
            return None
        # A division by a power of ten that a float holds rounds once, as reading the text does.
        if np.array_equal(whole / scale, values) and not (np.signbit(values) & (values == 0)).any():
            return Decimals(whole.astype(np.int64), places)
    return None


class Packer:
    """Takes arrays, and gives them back as one text for a page."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []
        self._size = 0
        self._known: dict[bytes, Described] = {}

    def whole(self, values: AnyArray) -> Described:
        """Whole numbers, shape (n,), in as few bytes as hold them."""
        values = np.asarray(values, np.int64)
        low, high = (int(values.min()), int(values.max())) if len(values) else (0, 0)
        for sort in ("i1", "i2", "i4"):
            info = np.iinfo(sort)
            if info.min <= low and high <= info.max:
                return self._put(values.astype(f"<{sort}"), sort)
        # What four bytes can't hold travels as doubles, which are exact up to 2^53.
        return self._put(values.astype("<f8"), "f8")

    def numbers(self, values: FloatArray) -> Described:
        """Numbers, shape (n,), equal to the bit; NaN where there is none."""
        values = np.asarray(values, np.float64)
        there = np.isfinite(values)
        found = decimals_of(values[there]) if not np.isinf(values).any() else None
        if found is None:
            return self._put(values.astype("<f8"), "f8")
        whole = np.zeros(len(values), np.int64)
        whole[there] = found.whole
        described = self.whole(whole) | {"places": found.places}
        if not there.all():
            described["gone"] = self.whole(np.flatnonzero(~there))
        return described

    def places(self, values: FloatArray) -> Described:
        """Places on the sheet in points, shape (n,), to a hundredth."""
        return self.whole(np.rint(np.asarray(values, np.float64) * 100).astype(np.int64)) | {"places": 2}

    def _put(self, values: AnyArray, sort: str) -> Described:
        width = values.dtype.itemsize
        # The bytes of a number that change least stand together, which deflates better.
        content = values.view(np.uint8).reshape(len(values), width).T.tobytes() if width > 1 else values.tobytes()
        digest = hashlib.blake2b(content, person=sort.encode()).digest()
        if digest in self._known:
            # What several layers say of their rows travels once.
            return dict(self._known[digest])
        described = {"sort": sort, "at": self._size, "count": len(values)}
        self._known[digest] = described
        self._parts.append(content)
        self._size += len(content)
        return dict(described)

    def text(self) -> str:
        """All of them, deflated, in letters that stand in a page."""
        return base64.b64encode(zlib.compress(b"".join(self._parts), _LEVEL if self._size < _LARGE else _QUICK)).decode("ascii")
