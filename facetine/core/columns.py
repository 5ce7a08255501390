"""Named arrays of one length: what travels from the split to the drawing of a layer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, FloatArray, IntArray


@dataclass(frozen=True, slots=True)
class Columns:
    """Rows of a layer: its aesthetics and computed values by name, with the panel and the group of each row.

    Discrete aesthetics hold positions among their scale's levels (−1 where missing); all others hold numbers.
    """

    values: Mapping[str, AnyArray]
    """Each of shape (n,)."""
    panel: IntArray
    """Shape (n,): which panel a row belongs to."""
    group: IntArray
    """Shape (n,): which group (combination of discrete aesthetics) a row belongs to."""
    row: IntArray | None = None
    """Shape (n,): where each row stands in the frame that was given, or in the computed table; None where counted from 0."""

    @classmethod
    def of(cls, values: Mapping[str, AnyArray], panel: int = 0, group: int = 0) -> Columns:
        """Columns of one panel and group."""
        count = len(next(iter(values.values()))) if values else 0
        return cls(values, np.full(count, panel, np.int64), np.full(count, group, np.int64))

    def __len__(self) -> int:
        return len(self.panel)

    @property
    def numbers(self) -> IntArray:
        """Shape (n,): the number of each row."""
        return np.arange(len(self)) if self.row is None else self.row

    def __contains__(self, name: str) -> bool:
        return name in self.values

    def __getitem__(self, name: str) -> FloatArray:
        return self.values[name]

    def get(self, name: str) -> FloatArray | None:
        """The array of that name, or None."""
        return self.values.get(name)

    def take(self, which: IntArray | BoolArray) -> Columns:
        """The rows at these positions, or where this mask is true, in that order."""
        return Columns(
            {name: array[which] for name, array in self.values.items()}, self.panel[which], self.group[which], self.numbers[which]
        )

    def put(self, **arrays: AnyArray) -> Columns:
        """The same rows with these arrays added or replaced."""
        return Columns({**self.values, **arrays}, self.panel, self.group, self.row)

    def dropped(self, name: str) -> Columns:
        """The same rows without an array."""
        return Columns({other: array for other, array in self.values.items() if other != name}, self.panel, self.group, self.row)

    def renamed(self, names: Mapping[str, str]) -> Columns:
        """The same rows with some arrays under other names."""
        return Columns({names.get(name, name): array for name, array in self.values.items()}, self.panel, self.group, self.row)


def joined(parts: list[Columns]) -> Columns:
    """The rows of all parts below each other; all parts must have the same names."""
    if len(parts) == 1:
        return parts[0]
    names = parts[0].values
    return Columns(
        {name: np.concatenate([part.values[name] for part in parts]) for name in names},
        np.concatenate([part.panel for part in parts]),
        np.concatenate([part.group for part in parts]),
        np.concatenate([part.numbers for part in parts]),
    )
