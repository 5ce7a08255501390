"""A table as the rest of Facetine sees it: named columns with kinds, each converted when it is first asked for."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from typing import Literal, NamedTuple, TypeAlias, get_args

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, IntArray
from facetine.messages.errors import FacetineError, MappingError, unknown

Kind: TypeAlias = Literal["number", "category", "ordered", "time", "yes_no"]
KINDS: tuple[Kind, ...] = get_args(Kind)
Levels: TypeAlias = tuple[object, ...]
"""Categories in their order."""
Stored: TypeAlias = Literal["plain", "whole", "date", "decimal", "duration"]


class Hint(NamedTuple):
    """A remark on how a column was taken."""

    code: str
    text: str
    fix: str = ""
    mild: bool = False
    """Whether it is of no concern where the column is a place."""

    def __str__(self) -> str:
        return f"{self.text}; {self.fix}" if self.fix else self.text


@dataclass(frozen=True, slots=True)
class Column:
    """One variable: its values as an array that fits its kind."""

    name: str
    kind: Kind
    values: AnyArray
    """Shape (n,). Numbers: float64, NaN where missing. Times: microseconds since 1970-01-01 UTC as float64, NaN where
    missing. Categories, ordered and yes/no: int64 positions in `levels`, −1 where missing."""
    levels: Levels = ()
    """What the positions stand for: text, numbers or truth values, in their order."""
    zone: str | None = None
    """The time zone in which times are to be read; None for times without one."""
    own_order: bool = False
    """Whether the order of the levels was said by the data."""
    hint: Hint | None = None
    """What to write when the kind taken is not the one meant."""
    stored: Stored = "plain"
    """What the values were where they came from, which expressions see again: whole numbers, dates, decimals."""
    places: int = 0
    """Decimal places of decimals."""
    exact: AnyArray | None = None
    """Shape (n,): whole numbers as they are, 0 where missing, where a float can't hold some of them; else None."""

    @property
    def discrete(self) -> bool:
        """Whether the values are levels."""
        return self.kind in ("category", "ordered", "yes_no")

    @property
    def missing(self) -> BoolArray:
        """Shape (n,): where there is no value."""
        result: BoolArray = self.values < 0 if self.discrete else np.isnan(self.values)
        return result

    def plain(self) -> AnyArray:
        """The values as an array that any library understands, shape (n,): floats, datetime64, or objects with None."""
        if self.discrete:
            return np.array([*self.levels, None], object)[self.values]
        if self.kind == "time":
            micro = np.where(self.missing, 0, self.values).astype(np.int64).astype("datetime64[us]")
            micro[self.missing] = np.datetime64("NaT")
            return micro
        if self.exact is not None:
            return np.array([None if gone else int(value) for gone, value in zip(self.missing, self.exact, strict=True)], object)
        return self.values

    def take(self, which: AnyArray) -> Column:
        """The rows at these positions, or where this mask is true."""
        return replace(self, values=self.values[which], exact=None if self.exact is None else self.exact[which])


@dataclass(slots=True)
class Table:
    """Columns by name, made lazily; the frame they came from stays at hand for callables."""

    names: tuple[str, ...]
    height: int
    source: object
    load: Callable[[str], Column]
    cache: dict[str | tuple[str, str], Column] = field(default_factory=dict)
    """What was made so far: columns, and columns in the kinds in which they were asked for."""
    codes: Mapping[str, Callable[[], Column]] = field(default_factory=dict)
    """For columns that a codebook gives words: what makes the column of their codes."""
    hints: tuple[Hint, ...] = ()
    """Remarks on the table as a whole."""
    rows: IntArray | None = None
    """Shape (height,): where each row stands in the frame that was given; None where all stand as they came."""
    given: object = None
    """The frame that was given, by which tables of its rows know each other; it does not travel to another process."""

    @property
    def numbers(self) -> IntArray:
        """Where each row stands in the frame that was given, shape (height,)."""
        return np.arange(self.height) if self.rows is None else self.rows

    def column(self, name: str) -> Column:
        """The column of that name, which must be there."""
        found = self.cache.get(name)
        if found is None:
            found = self.cache[name] = self.load(name)
        return found

    def need(self, name: str, where: str, use: str) -> Column:
        """The column of that name.

        Raises:
            MappingError: There is none.
        """
        if name not in self.names:
            raise self.missing(name, where, use)
        return self.column(name)

    def sound(self) -> Table:
        """The table without columns that can't be read, such as those of lists, each of which a hint tells."""
        unread: dict[str, FacetineError] = {}
        for name in self.names:
            try:
                self.column(name)
            except FacetineError as problem:
                unread[name] = problem
        if not unread:
            return self
        hints = [Hint("column-unread", problem.headline, problem.detail) for problem in unread.values()]
        names = tuple(name for name in self.names if name not in unread)
        return replace(self, names=names, hints=(*self.hints, *hints))

    def missing(self, name: object, where: str, use: str) -> MappingError:
        """The error for a column that is not there; one without a name that was set aside is explained."""
        error = no_column(name, self.names, where, use)
        aside = next((hint for hint in self.hints if hint.code == "row-numbers"), None)
        if aside is not None and str(name).strip().casefold() in _FIRST:
            return error.but(proposed="", help=f"{aside.text}: {aside.fix}")
        return error

    def __reduce__(self) -> tuple[object, ...]:
        """With all its columns as they are: what makes them need not be carried along."""
        columns = {name: self.column(name) for name in self.names}
        codes = {name: load() for name, load in self.codes.items()}
        return _unpacked, (self.names, self.height, self.source, columns, codes, self.hints, self.rows)


_FIRST = ("", "index", "unnamed: 0", "unnamed 1", "column0", "row", "rows", "n", "no", "number", "id")
"""What a first column without a name is asked for by."""


def _unpacked(
    names: tuple[str, ...],
    height: int,
    source: object,
    columns: dict[str, Column],
    codes: dict[str, Column],
    hints: tuple[Hint, ...],
    rows: IntArray | None,
) -> Table:
    """A table from its columns."""
    made = {name: partial(_held, column) for name, column in codes.items()}
    held: dict[str | tuple[str, str], Column] = {}
    return Table(names, height, source, columns.__getitem__, held, made, hints, rows)


def _held(column: Column) -> Column:
    return column


def no_column(name: object, names: Sequence[str], where: str, use: str) -> MappingError:
    """The error for a column that is not there."""
    error = unknown(MappingError, where, "no column", name, names, "columns")
    return error.but(what=f"{error.what} for {use}")
