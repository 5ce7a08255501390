"""What a layer asks of its rows: groups of them, and numbers of each group, which any engine can answer.

A question is a plain value; a source answers it. Some statistics ask twice, since a second question follows from the
first answer: whisker ends from quartiles, a spread from a mean, the cells of a density from a range. What no sum can
say, such as a local fit, asks for the rows themselves.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple, Protocol, TypeAlias

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform


class Between(NamedTuple):
    """A filter: rows with low ≤ value ≤ high, or all others."""

    of: str
    low: float = -math.inf
    high: float = math.inf
    outside: bool = False


class WithinGroup(NamedTuple):
    """A filter whose limits each group has of its own, in the order in which groups are answered."""

    of: str
    low: FloatArray
    """Shape (k,)."""
    high: FloatArray
    """Shape (k,)."""
    outside: bool = False


@dataclass(frozen=True, slots=True)
class Sampled:
    """A filter: as many rows, those whose numbers come first by `shuffle_keys`."""

    count: int
    seed: int


Filter: TypeAlias = Between | WithinGroup | Sampled


class OnAxis(NamedTuple):
    """A derived column: values as places on an axis."""

    into: str
    of: str
    transform: Transform


class InBins(NamedTuple):
    """A derived column: which of the intervals between edges holds a value, −1 for none; the last one is closed."""

    into: str
    of: str
    edges: FloatArray
    """Shape (k + 1,), increasing."""


class Scaled(NamedTuple):
    """A derived column: values times a number."""

    into: str
    of: str
    factor: float


class Residual(NamedTuple):
    """A derived column: y less a polynomial of x, given by its Legendre coefficients where x is moved and scaled."""

    into: str
    x: str
    y: str
    center: float
    scale: float
    coefficients: FloatArray
    """Shape (degree + 1,)."""
    offset: float
    """Taken from y before the polynomial is."""


Derived: TypeAlias = OnAxis | InBins | Scaled | Residual


class Total(NamedTuple):
    """An aggregate of one column, by the weights of the rows where they have some.

    How: mean, median, sum, min and max; count, the number of rows or the sum of weights; rows, their plain number;
    effective, Kish's (Σw)² / Σw²; distinct, how many values differ; whole, 1 where all are whole numbers, else 0.
    """

    into: str
    how: str
    of: str = ""


class Moment(NamedTuple):
    """The mean of (value − center)^power, by weights, about a center that each group has of its own."""

    into: str
    of: str
    power: int
    about: FloatArray
    """Shape (k,), in the order in which groups are answered."""


class Quantiles(NamedTuple):
    """Quantiles at given shares, of type 7, or weighted where rows have weights."""

    into: tuple[str, ...]
    of: str
    shares: tuple[float, ...] | FloatArray
    """The same for all groups; or each group's own, shape (k, m), in the order in which groups are answered."""


class Reach(NamedTuple):
    """The smallest value that is not below a limit, and the largest that is not above another; each group has its own."""

    into: tuple[str, str]
    of: str
    low: FloatArray
    """Shape (k,), in the order in which groups are answered."""
    high: FloatArray
    """Shape (k,)."""


class Products(NamedTuple):
    """Sums Σw Pⱼ(u) Pₖ(u) of Legendre polynomials of u = (x − center) / scale, and Σw Pⱼ(u) y.

    They stand in the answer as "0 0", "0 1", … and "0 y", "1 y", …
    """

    x: str
    y: str
    degree: int
    center: float
    scale: float


Aggregate: TypeAlias = Total | Moment | Quantiles | Reach | Products


class Bins(NamedTuple):
    """A key: the intervals of a column, each of which is answered, also where nothing lies in it.

    The answer has a column "bin of" with the column's name.
    """

    of: str
    edges: FloatArray
    """Shape (k + 1,), increasing."""
    even: bool = False
    """Whether all are as wide as each other, to be counted by arithmetic alone."""


class Query(NamedTuple):
    """One question: filters are applied first, then columns derived, rows grouped by panel, group and keys, and summed up."""

    aggregates: tuple[Aggregate, ...] = ()
    keys: tuple[str, ...] = ()
    """Columns whose values divide groups further."""
    bins: tuple[Bins, ...] = ()
    """One or two columns whose intervals do; then the only aggregate is `count`."""
    filters: tuple[Filter, ...] = ()
    derived: tuple[Derived, ...] = ()
    by_panel: bool = True
    by_group: bool = True


class Source(Protocol):
    """Rows somewhere: in memory, or where an engine has them."""

    def __contains__(self, name: str) -> bool:
        """Whether they have a column."""

    def ask(self, query: Query) -> Columns:
        """One row a group, by increasing panel, group and keys (then bins).

        The answer has the keys and the aggregates under their names; all other columns hold the value of each group's
        first row, and its number.
        """

    def parts(self, *keys: str) -> Iterator[Source]:
        """The rows of each group of each panel, divided further by the values of keys."""

    def rows(self, *filters: Filter, keys: tuple[str, ...] = ()) -> Columns:
        """The rows themselves, those that pass the filters; keys tell which groups these speak of."""

    def keeping(self, *filters: Filter) -> Source:
        """The same without rows that do not pass."""

    def without(self, name: str) -> Source:
        """The same without a column."""

    def with_constant(self, name: str, value: float) -> Source:
        """The same with a column that holds one value."""


def shuffle_keys(numbers: IntArray, seed: int) -> AnyArray:
    """A key for each row by which rows stand in random order, the same on every engine; shape (n,), unsigned 64 bits.

    The key of row k is the finalizer of SplitMix64 at k · 2654435769 + seed · 40503, all modulo 2⁶⁴.

    Source: Steele, Lea & Flood (2014), Fast splittable pseudorandom number generators, OOPSLA, figure 16.
    """
    with np.errstate(over="ignore"):
        key = numbers.astype(np.uint64) * np.uint64(2654435769) + np.uint64(seed % 2**32) * np.uint64(40503)
        for shift, factor in ((30, 0xBF58476D1CE4E5B9), (27, 0x94D049BB133111EB)):
            key = (key ^ (key >> np.uint64(shift))) * np.uint64(factor)
        return key ^ (key >> np.uint64(31))
