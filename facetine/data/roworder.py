"""Rows in an order that does not depend on how they came."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from hashlib import blake2b

import numpy as np

from facetine.core.arrays import AnyArray, IntArray, mask_of


def rank_order(columns: Sequence[AnyArray]) -> IntArray:
    """The places of rows sorted by columns, the first one first, shape (n,); rows that are equal in all of them keep theirs.

    Args:
        columns: Arrays of shape (n,), of any sort; what is missing comes last.
    """
    return np.lexsort([ranks(column) for column in reversed(columns)])


def ranks(column: AnyArray) -> IntArray:
    """The place of each value among the different ones of a column, shape (n,).

    Values of one sort are in their own order; of several sorts, in that of their words.
    """
    mask = mask_of(column)
    values = np.ma.getdata(column) if mask is not None else np.asarray(column)
    if values.dtype == object:
        made = _ranks_of_objects(values)
    else:
        made = np.unique(values, return_inverse=True)[1].astype(np.int64)
    if mask is not None:
        made[mask] = len(made)
    return made


def _ranks_of_objects(values: AnyArray) -> IntArray:
    cells = values.tolist()
    try:
        words = {cell: str(cell) for cell in dict.fromkeys(cells)}
    except TypeError:
        # Lists and the like are told apart by their words alone.
        cells = list(map(repr, cells))
        words = {cell: cell for cell in dict.fromkeys(cells)}
    try:
        ordered = sorted(cell for cell in words if cell is not None and cell == cell)
    except TypeError:
        ordered = sorted(
            (cell for cell in words if cell is not None and cell == cell), key=lambda cell: (words[cell], str(type(cell)))
        )
    places = {cell: place for place, cell in enumerate(ordered)}
    return np.fromiter((places.get(cell, len(places)) for cell in cells), np.int64, len(cells))


def digest_of_rows(columns: Mapping[str, AnyArray]) -> bytes:
    """What tells a table's rows from others, in whatever order they come."""
    names = sorted(columns)
    made = blake2b(repr(names).encode("utf-8", "replace"), digest_size=16)
    if not names:
        return made.digest()
    order = rank_order([columns[name] for name in names])
    for name in names:
        mask = mask_of(columns[name])
        values = np.ma.getdata(columns[name]) if mask is not None else np.asarray(columns[name])
        made.update(values.dtype.str.encode())
        if mask is not None:
            made.update(mask[order].tobytes())
            values = np.where(mask, values.dtype.type(0), values)
        if values.dtype == object:
            for cell in values[order].tolist():
                made.update(f"{type(cell).__name__} {cell!r}\0".encode("utf-8", "replace"))
        else:
            made.update(np.ascontiguousarray(values[order]).tobytes())
    return made.digest()
