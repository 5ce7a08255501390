"""Tables whose columns are read when they are asked for."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator, Mapping, Sequence
from typing import TypeAlias

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, with_none
from facetine.messages.errors import DataError

Fetch: TypeAlias = Callable[[Sequence[str]], Mapping[str, AnyArray]]
"""Reads some columns by their names, all of the same rows in the same order."""


class Deferred(Mapping[str, AnyArray]):
    """Columns by name, read when they are asked for: those that are expected in one go, others as they come up.

    Args:
        names: All columns that there are.
        fetch: Reads some of them.
        where: Who asks, for the error.
        height: How many rows there are; counted in the first column that is read where it is not known.
        expected: Columns that are likely to be asked for; names that there are not say nothing.
        read: Columns that have been read already.
        ordered: Whether rows come in the same order each time; where they do not, as from a database, what was not expected
            is read together with all else, and compared with what was read before.
    """

    def __init__(
        self,
        names: Sequence[str],
        fetch: Fetch,
        where: str,
        *,
        height: int | None = None,
        expected: Container[str] = (),
        read: Mapping[str, AnyArray] | None = None,
        ordered: bool = True,
    ) -> None:
        self.names = tuple(names)
        self.read: dict[str, AnyArray] = dict(read or {})
        self.ordered = ordered
        self._fetch, self._where, self._height = fetch, where, height
        self._expected = [name for name in self.names if name in expected and name not in self.read]

    @property
    def height(self) -> int:
        """How many rows there are."""
        if self._height is None:
            known = next(iter(self.read), None) or next(iter([*self._expected, *self.names]), None)
            self._height = 0 if known is None else len(self[known])
        return self._height

    def __iter__(self) -> Iterator[str]:
        return iter(self.names)

    def __len__(self) -> int:
        return len(self.names)

    def __contains__(self, name: object) -> bool:
        return name in self.names

    def __getitem__(self, name: str) -> AnyArray:
        found = self.read.get(name)
        if found is None:
            if name not in self.names:
                raise KeyError(name)
            self.bring([name])
            found = self.read[name]
        return found

    def bring(self, names: Sequence[str]) -> None:
        """Reads columns, and those that are expected with them, as far as they have not been read.

        Raises:
            DataError: They can't be read, or the rows are not those that were read before.
        """
        missing = [name for name in self.names if name in {*names, *self._expected} and name not in self.read]
        if not missing:
            return
        again = bool(self.read) and not self.ordered
        found = dict(self._fetch(self.names if again else missing))
        for name, before in self.read.items():
            if len(before) != len(found[missing[0]]) or (again and not _same(before, found[name])):
                raise DataError(
                    self._where,
                    "the rows changed while they were read, or came in another order",
                    "sql= with ORDER BY gives them an order",
                )
        self.read |= {name: found[name] for name in missing}
        self._expected = []

    def taken(self, mask: BoolArray) -> Deferred:
        """The rows for which a mask of shape (height,) holds."""

        def fetch(names: Sequence[str]) -> dict[str, AnyArray]:
            self.bring(names)
            return {name: self.read[name][mask] for name in names}

        return Deferred(self.names, fetch, self._where, height=int(mask.sum()))

    def extended(self, name: str, values: AnyArray) -> Deferred:
        """With one column more, or another one in its place."""
        names = self.names if name in self.names else (*self.names, name)

        def fetch(wanted: Sequence[str]) -> dict[str, AnyArray]:
            self.bring(wanted)
            return {one: self.read[one] for one in wanted}

        return Deferred(names, fetch, self._where, height=self.height, read={name: values})


def _same(one: AnyArray, other: AnyArray) -> bool:
    """Whether two columns hold the same, where what is missing is the same as what is missing."""
    if len(one) != len(other):
        return False
    one, other = with_none(one), with_none(other)
    return bool(np.all((one == other) | ((one != one) & (other != other))))
