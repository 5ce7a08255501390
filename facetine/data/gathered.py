"""Rows as they come from a driver, made columns while they come, and counted by their bytes."""

from __future__ import annotations

import datetime as dt
import gc
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from decimal import Decimal
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, in_zone
from facetine.data.counted import Counted
from facetine.data.sql import LIMITS, memory_bytes
from facetine.messages.errors import DataError

_ROWS_AT_ONCE = 10_000
_BYTES_AT_ONCE = 1 << 24
_SHORT = frozenset((int, float, bool, type(None), Decimal, dt.datetime, dt.date))
"""Types of cells that are as long as any other of theirs."""
_WHOLE = 2**53


class _Part(NamedTuple):
    """Some cells of a column."""

    array: AnyArray
    """Shape (n,)."""
    sort: str
    """What they are: none, whole, number, truth, moment, instant, day, or other."""


def gathered(fetch: Callable[[int], Sequence[Any]], names: Sequence[str], counted: Counted | None = None) -> dict[str, AnyArray]:
    """The columns of rows, fetched in parts whose bytes are counted, so that what has no place in memory ends as an error.

    Args:
        fetch: Gives at most so many rows, and none at the end.
        names: The columns.
        counted: Says on the screen how many have come.

    Returns:
        Arrays of shape (n,): numbers, truth values, datetime64, and objects for all else; whole numbers and truth values are
        masked where there is none.

    Raises:
        DataError: They take more memory than they may, or two columns have one name.
    """
    twice = [name for name, count in Counter(names).items() if count > 1]
    if twice:
        raise DataError("read", f"the query gives two columns named {twice[0]!r}", f"{twice[0]} AS … gives one another name")
    limits = LIMITS.get()
    most, taken, rows = memory_bytes(limits.memory), 0, 0
    parts: list[list[_Part]] = [[] for _ in names]
    step = 1
    with counted or Counted("read") as screen, _uncollected():
        while block := fetch(step):
            columns = list(zip(*block, strict=True))
            sorts = [set(map(type, column)) for column in columns]
            taken, rows = taken + sum(map(_bytes_of, columns, sorts)), rows + len(block)
            if taken > most:
                said = f"the query gives more than {limits.memory}"
                raise DataError("read", said, "set_defaults(query_memory=…) gives it more")
            for place, column in enumerate(columns):
                parts[place].append(_part(column, sorts[place]))
            screen.more(len(block))
            # Few rows first: how long they are shows when they are there.
            step = max(1, min(10 * step, _ROWS_AT_ONCE, _BYTES_AT_ONCE * rows // max(taken, 1)))
    return {str(name): _joined(column) for name, column in zip(names, parts, strict=True)}


@contextmanager
def _uncollected() -> Iterator[None]:
    """Rows are no rings that would have to be looked for: while they come, nobody looks, which takes a third of the time."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


def _bytes_of(column: Sequence[Any], kinds: set[type]) -> int:
    """About how much memory cells take: texts by their lengths, all else as numbers."""
    if kinds <= _SHORT:
        return 16 * len(column)
    if kinds == {str}:
        return 16 * len(column) + sum(map(len, column))
    return 16 * len(column) + sum(len(cell) for cell in column if isinstance(cell, str | bytes | list | dict))


def _part(column: Sequence[Any], sorts: set[type]) -> _Part:
    gone, kinds = type(None) in sorts, sorts - {type(None)}
    if not kinds:
        return _Part(_objects(column), "none")
    if kinds == {float} or kinds == {Decimal}:
        return _Part(np.array(column, float), "number")
    if kinds in ({int}, {bool}):
        return _whole(column, "whole" if kinds == {int} else "truth", gone)
    if kinds == {int, float} and all(cell is None or abs(cell) <= _WHOLE for cell in column if isinstance(cell, int)):
        return _Part(np.array(column, float), "number")
    if kinds == {dt.date}:
        return _Part(_times(column, "datetime64[D]"), "day")
    if kinds == {dt.datetime}:
        return _moments(column)
    return _Part(_objects(column), "other")


def _whole(column: Sequence[Any], sort: str, gone: bool) -> _Part:
    kind = np.int64 if sort == "whole" else np.bool_
    try:
        if not gone:
            return _Part(np.array(column, kind), sort)
        filled: AnyArray = np.array([0 if cell is None else cell for cell in column], kind)
    except OverflowError:
        return _Part(_objects(column), "other")
    return _Part(np.ma.masked_array(filled, [cell is None for cell in column]), sort)


def _moments(column: Sequence[Any]) -> _Part:
    """Moments; those that say how far they are from UTC as such of UTC: the zone of a session says nothing of them."""
    zoned = {cell.tzinfo is not None for cell in column if cell is not None}
    if len(zoned) > 1:
        return _Part(_objects(column), "other")
    if zoned == {False}:
        return _Part(_times(column, "datetime64[us]"), "moment")
    return _Part(_times(column, "datetime64[us]", utc=True), "instant")


def _times(column: Sequence[Any], kind: str, utc: bool = False) -> AnyArray:
    """Dates or moments of Python as an array: pandas does that twenty times as fast as NumPy."""
    import pandas as pd

    index = pd.to_datetime(list(column), utc=utc)
    made: AnyArray = (index.tz_localize(None) if utc else index).to_numpy().astype(kind)
    return made


def _objects(column: Sequence[Any]) -> AnyArray:
    made: AnyArray = np.array([*column, None], object)[:-1]
    return made


_EMPTY: dict[str, tuple[str, Any]] = {
    "number": ("float64", np.nan),
    "day": ("datetime64[D]", np.datetime64("NaT")),
    "moment": ("datetime64[us]", np.datetime64("NaT")),
    "instant": ("datetime64[us]", np.datetime64("NaT")),
}


def _joined(parts: list[_Part]) -> AnyArray:
    """A column of its parts, each of which may hold cells of another sort."""
    sorts = {part.sort for part in parts} - {"none"}
    if sorts == {"whole", "number"} and all(_is_exact(part) for part in parts if part.sort == "whole"):
        sorts = {"number"}
    if len(sorts) != 1 or sorts == {"other"}:
        return np.concatenate([_plain_objects(part) for part in parts]) if parts else np.array([], object)
    (sort,) = sorts
    arrays = [_as_sort(part, sort) for part in parts]
    if any(hasattr(array, "mask") for array in arrays):
        whole: AnyArray = np.ma.concatenate(arrays)  # type: ignore[no-untyped-call]
    else:
        whole = np.concatenate(arrays)
    return in_zone(whole, "UTC") if sort == "instant" else whole


def _is_exact(part: _Part) -> bool:
    """Whether whole numbers stay what they are as floats."""
    known = np.ma.compressed(part.array)
    return not len(known) or max(abs(int(known.max())), abs(int(known.min()))) <= _WHOLE


def _as_sort(part: _Part, sort: str) -> AnyArray:
    if part.sort == sort:
        return part.array
    if part.sort == "whole":
        return np.ma.filled(np.ma.asarray(part.array).astype(float), np.nan)
    count = len(part.array)
    if sort in _EMPTY:
        kind, empty = _EMPTY[sort]
        return np.full(count, empty, np.dtype(kind))
    zeros: AnyArray = np.zeros(count, np.dtype("int64" if sort == "whole" else "bool"))
    return np.ma.masked_array(zeros, np.ones(count, bool))


def _plain_objects(part: _Part) -> AnyArray:
    """Cells as Python has them, None where there is none."""
    if part.array.dtype == object:
        return part.array
    cells = part.array.tolist()
    if part.array.dtype.kind == "f":
        cells = [None if cell != cell else cell for cell in cells]
    return _objects(cells)
