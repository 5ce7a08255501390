"""Columns of yes and no made one category."""

from __future__ import annotations

import numpy as np

from facetine.data.codebook import Entry
from facetine.data.reread import column_of_kind
from facetine.data.table import Column, Hint, Table
from facetine.messages.errors import KindError

FLAGS_COUNTED = "flags-counted"
"""The code of the remark that tells how many rows each category has."""


def flagged(table: Table, name: str, entry: Entry, where: str) -> Column:
    """The category that flags make of each row: the word of its only flag, that of several, or that of none.

    A row of which a flag is missing has none, since it may have that flag or not. How many rows each category has is told.

    Raises:
        MappingError: A flag is no column.
        KindError: A flag holds something else than yes and no, or rows have several flags, for which there is no word.
    """
    assert entry.flags is not None
    flags = [column_of_kind(table, flag, "yes_no", f"{where}: flags", "flags") for flag in entry.flags]
    values = np.column_stack([flag.values for flag in flags])
    missing, count = (values < 0).any(axis=1), (values == 1).sum(axis=1)
    words = entry.flag_words
    codes = np.argmax(values == 1, axis=1).astype(np.int64)
    codes[count == 0] = words.index(entry.none) if entry.none is not None else -1
    several = ~missing & (count > 1)
    if several.any():
        if entry.both is None:
            first = int(np.flatnonzero(several)[0])
            having = [flag.name for flag, value in zip(flags, values[first].tolist(), strict=True) if value == 1]
            raise KindError(
                where,
                f"{int(several.sum()):,} rows have several flags, such as {' and '.join(map(repr, having))} in row "
                f"{int(table.numbers[first])}",
                'both = "…" is a word for them',
            )
        codes[several] = words.index(entry.both)
    codes[missing] = -1
    counts = [f"{word} {int((codes == code).sum()):,}" for code, word in enumerate(words)]
    lost, unflagged = int(missing.sum()), int((~missing & (codes < 0)).sum())
    counts += [f"{lost:,} with a missing flag"] if lost else []
    counts += [f"{unflagged:,} without a flag, which none= would name"] if unflagged else []
    hint = Hint(FLAGS_COUNTED, f"{name!r} is made of flags: {', '.join(counts)}")
    return Column(name, "category", codes, words, own_order=True, hint=hint)
