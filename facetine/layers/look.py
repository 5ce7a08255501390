"""Looks of many rows: few values, and which of them each row has."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns


class Look(NamedTuple):
    """One aesthetic of some rows: few values, and which of them each row has."""

    values: tuple[Any, ...]
    which: IntArray | None = None
    """Shape (n,); None where all rows have the first value."""

    def of(self, row: int) -> Any:
        """The value of one row."""
        return self.values[0 if self.which is None else int(self.which[row])]

    def of_each(self, rows: IntArray) -> list[Any]:
        """The values of some rows."""
        if self.which is None:
            return [self.values[0]] * len(rows)
        values = self.values
        return [values[place] for place in self.which[rows].tolist()]

    def take(self, rows: Any) -> Look:
        """The look of some of the rows."""
        return self if self.which is None else Look(self.values, self.which[rows])


def combined(looks: Mapping[str, Look], names: tuple[str, ...], count: int) -> tuple[list[tuple[Any, ...]], IntArray | None]:
    """The distinct combinations of several looks among the rows.

    Args:
        looks: By aesthetic.
        names: The ones to combine.
        count: Number of rows.

    Returns:
        The combinations, and which of them each row has; None where all have the first.
    """
    mixed = [looks[name] for name in names if looks[name].which is not None]
    if not mixed or count == 0:
        return [tuple(looks[name].values[0] for name in names)], None
    code = np.zeros(count, np.int64)
    for look in mixed:
        assert look.which is not None
        code = code * len(look.values) + look.which
    if len(mixed) == 1:
        # One varying aesthetic: its values are the combinations already.
        values = mixed[0].values
        fixed = [looks[name].values if looks[name].which is None else None for name in names]
        return [tuple(value if one is None else one[0] for one in fixed) for value in values], mixed[0].which
    _, first, which = np.unique(code, return_index=True, return_inverse=True)
    columns = [look.of_each(first) for look in (looks[name] for name in names)]
    return list(zip(*columns, strict=True)), which.astype(np.int64)


def batches(look: Look, count: int) -> Iterator[tuple[Any, IntArray | slice]]:
    """The rows that share a value of a look, value by value."""
    if count == 0:
        return
    if look.which is None:
        yield look.values[0], slice(None)
        return
    for number, value in enumerate(look.values):
        rows = np.flatnonzero(look.which == number)
        if len(rows):
            yield value, rows


def places(rows: Columns) -> FloatArray:
    """x and y of the rows, shape (n, 2)."""
    return np.column_stack([rows["x"], rows["y"]])
