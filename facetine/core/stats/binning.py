"""Counts in intervals: rules for their width, round edges, fast counting."""

from __future__ import annotations

import math
from decimal import Decimal
from typing import Literal, NamedTuple, Protocol, TypeAlias, get_args

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.quantiles import quantiles

Rule: TypeAlias = Literal["freedman_diaconis", "scott", "sturges", "rice", "square_root"]
RULES: tuple[Rule, ...] = get_args(Rule)
MOST_BINS = 2000
"""More bins than these are narrower than a hair on any sheet."""
MOST_UNITS = 30
"""Whole numbers over a range of as many have a bin each."""


class Bins(NamedTuple):
    """Counts of a sample in consecutive intervals."""

    edges: FloatArray
    """Shape (k + 1,), increasing, in the unit of the sample."""
    weight: FloatArray
    """Shape (k,): the sum of weights in [edges[i], edges[i + 1]); the last interval is closed."""

    @property
    def share(self) -> FloatArray:
        """Shape (k,): parts of the whole, summing to 1; zeros where the sample is empty."""
        total = self.weight.sum()
        return self.weight / total if total else self.weight * 0.0

    @property
    def density(self) -> FloatArray:
        """Shape (k,): weight per unit of x, integrating to 1."""
        return self.share / np.diff(self.edges)


class Spread(Protocol):
    """What the rules for bins must know of a sample; each is computed where it is asked for."""

    @property
    def rows(self) -> int:
        """How many values there are."""

    @property
    def low(self) -> float:
        """The smallest."""

    @property
    def high(self) -> float:
        """The largest."""

    @property
    def whole(self) -> bool:
        """Whether all are whole numbers."""

    @property
    def distinct(self) -> int:
        """How many differ."""

    @property
    def quartiles(self) -> tuple[float, float]:
        """The first and the third."""

    @property
    def deviation(self) -> float:
        """√(Σ(x − x̄)² / (n − 1)); n ≥ 2."""


class SpreadOf(NamedTuple):
    """The spread of a sample of shape (n,), finite."""

    sample: FloatArray

    @property
    def rows(self) -> int:
        """How many values there are."""
        return len(self.sample)

    @property
    def low(self) -> float:
        """The smallest."""
        return float(self.sample.min())

    @property
    def high(self) -> float:
        """The largest."""
        return float(self.sample.max())

    @property
    def whole(self) -> bool:
        """Whether all are whole numbers."""
        return bool((self.sample == np.rint(self.sample)).all())

    @property
    def distinct(self) -> int:
        """How many differ."""
        return len(np.unique(self.sample))

    @property
    def quartiles(self) -> tuple[float, float]:
        """The first and the third."""
        low, high = quantiles(self.sample, np.array([0.25, 0.75])).tolist()
        return low, high

    @property
    def deviation(self) -> float:
        """√(Σ(x − x̄)² / (n − 1))."""
        return float(np.std(self.sample, ddof=1))


class Divided(NamedTuple):
    """The spread of a sample whose values are all divided by a number."""

    spread: Spread
    by: float

    @property
    def rows(self) -> int:
        """How many values there are."""
        return self.spread.rows

    @property
    def low(self) -> float:
        """The smallest."""
        return self.spread.low / self.by

    @property
    def high(self) -> float:
        """The largest."""
        return self.spread.high / self.by

    @property
    def whole(self) -> bool:
        """No: a range so wide has no bin for each whole number."""
        return False

    @property
    def distinct(self) -> int:
        """How many differ."""
        return self.spread.distinct

    @property
    def quartiles(self) -> tuple[float, float]:
        """The first and the third."""
        low, high = self.spread.quartiles
        return low / self.by, high / self.by

    @property
    def deviation(self) -> float:
        """The standard deviation."""
        return self.spread.deviation / self.by


def rule_width(sample: FloatArray | Spread, rule: Rule) -> float:
    """The bin width of a rule, in the unit of the sample; 0.0 for n < 2 or a constant sample.

    Args:
        sample: Shape (n,), finite; or its spread.
        rule: freedman_diaconis (2 IQR n^(-1/3), which minimises the integrated squared error for smooth densities;
            Scott's when the quartiles coincide), scott (3.49 s n^(-1/3), which suits a normal sample), sturges
            (log2 n + 1 bins), rice (2 n^(1/3) bins) or square_root (√n bins).

    Source: Freedman & Diaconis (1981), Z. Wahrscheinlichkeitstheorie 57, 453–476; Scott (1979), Biometrika 66, 605–610;
    Sturges (1926), J. Am. Stat. Assoc. 21, 65–66; the last two are rules of thumb.
    """
    spread = SpreadOf(sample) if isinstance(sample, np.ndarray) else sample
    count = spread.rows
    if count < 2:
        return 0.0
    third = float(count ** (-1 / 3))
    if rule == "freedman_diaconis":
        low, high = spread.quartiles
        if high > low:
            return 2.0 * (high - low) * third
    if rule in ("freedman_diaconis", "scott"):
        return 3.49 * spread.deviation * third
    bins: float = {"sturges": math.log2(count) + 1, "rice": 2 * count ** (1 / 3), "square_root": math.sqrt(count)}[rule]
    return (spread.high - spread.low) / float(math.ceil(bins))


def even_edges(low: float, high: float, width: float) -> FloatArray:
    """Edges at multiples of a width that cover a range.

    Each edge is the float nearest to the decimal multiple, so that 0.3 falls into [0.3, 0.4) for a width of 0.1.

    Args:
        low: Smallest value.
        high: Largest value.
        width: Distance of edges, above zero; made larger where it would take more than 2000 bins.

    >>> even_edges(0.3, 1.9, 0.5).tolist()
    [0.0, 0.5, 1.0, 1.5, 2.0]
    >>> even_edges(0.0, 0.4, 0.1).tolist()
    [0.0, 0.1, 0.2, 0.3, 0.4]
    """
    width = max(width, (high - low) / MOST_BINS)
    step = Decimal(repr(float(width)))
    first = math.floor(Decimal(repr(float(low))) / step)
    last = max(math.ceil(Decimal(repr(float(high))) / step), first + 1)
    edges = np.array([float(number * step) for number in range(first, last + 1)])
    # Far from zero the multiples are rounded; they must still hold every value.
    edges[0], edges[-1] = min(edges[0], low), max(edges[-1], high)
    return edges


def round_width(width: float) -> float:
    """The nearest of 1, 2, 2.5 and 5 times a power of ten: edges that a reader can name.

    >>> round_width(0.37), round_width(2.2)
    (0.5, 2.0)
    """
    power = math.floor(math.log10(width))
    steps = [float(f"{step}e{power}") for step in (1, 2, 2.5, 5, 10)]
    return min(steps, key=lambda step: abs(math.log(step / width)))


def chosen_edges(
    sample: FloatArray | Spread, *, bins: int | None = None, width: float | None = None, rule: Rule = "freedman_diaconis"
) -> FloatArray:
    """Edges of bins for a sample.

    Args:
        sample: Shape (n,), finite, may be empty; or its spread.
        bins: How many bins of even width over the range.
        width: Their width; edges lie at its multiples.
        rule: What chooses the width where neither is given; it is rounded to a round number. Whole numbers of few
            different values have a bin of width 1 about each.

    Returns:
        Increasing edges of shape (k + 1,); (−0.5, 0.5) about a constant sample, (0, 1) for an empty one.
    """
    spread = SpreadOf(sample) if isinstance(sample, np.ndarray) else sample
    if not spread.rows:
        return np.array([0.0, 1.0])
    low, high = spread.low, spread.high
    if not math.isfinite(high / 2 - low / 2) or abs(high / 2 - low / 2) > np.finfo(float).max / 2:
        # A range that no float can hold is worked out in eighths of it.
        eighths = chosen_edges(Divided(spread, 8.0), bins=bins, width=None if width is None else width / 8, rule=rule)
        edges = np.clip(eighths, -np.finfo(float).max / 8, np.finfo(float).max / 8) * 8
        return np.asarray(edges, np.float64)
    if high - low <= 8 * math.ulp(max(abs(low), abs(high))):
        half = (width or (1.0 if abs(low) < 1e4 else abs(low) * 1e-3)) / 2
        return np.array([low - half, low + half])
    if bins is not None:
        return np.linspace(low, high, bins + 1)
    if width is None:
        if high - low <= MOST_UNITS and abs(low) < 1e15 and spread.whole and spread.distinct <= MOST_UNITS:
            return np.arange(low, high + 2) - 0.5
        chosen = rule_width(spread, rule)
        width = round_width(chosen) if chosen > 0 else (high - low) / 10
    return even_edges(low, high, width)


def counted(x: FloatArray, edges: FloatArray, weights: FloatArray | None = None) -> Bins:
    """Counts, or sums of weights, between edges; values outside them are not counted.

    Args:
        x: Sample of shape (n,), finite.
        edges: Shape (k + 1,), increasing.
        weights: Shape (n,); one each where they are not given.
    """
    if weights is None:
        weight, _ = np.histogram(x, edges)
        return Bins(edges, weight.astype(float))
    # Each bin is summed by itself, so that a heavy one takes no digits from the others.
    inside = (x >= edges[0]) & (x <= edges[-1])
    place = np.minimum(np.searchsorted(edges, x[inside], side="right") - 1, len(edges) - 2)
    return Bins(edges, np.bincount(place, weights[inside], minlength=len(edges) - 1).astype(float))


def counted_evenly(x: FloatArray, low: float, high: float, count: int, weights: FloatArray | None = None) -> FloatArray:
    """Counts, or sums of weights, in so many even cells of a range, shape (count,): quicker than between edges."""
    # Counted from the lower end, so that a range far from zero keeps all its digits.
    weight, _ = np.histogram(x - low, count, (0.0, high - low), weights=weights)
    return weight.astype(float)


def middles_of_bins(x: FloatArray, edges: FloatArray) -> FloatArray:
    """The middle of the interval in which each value lies, shape (n,); NaN outside of all.

    Args:
        x: Shape (n,).
        edges: Shape (k + 1,), increasing; an interval has its lower end, the last one both of its ends.

    >>> middles_of_bins(np.array([0.0, 1.0, 2.0, 3.0]), np.array([0.0, 1.0, 2.0]))
    array([0.5, 1.5, 1.5, nan])
    """
    place = np.searchsorted(edges, x, side="right") - 1
    place = np.where(x == edges[-1], len(edges) - 2, place)
    inside = (place >= 0) & (place < len(edges) - 1)
    middles = (edges[:-1] + edges[1:]) / 2
    return np.where(inside, middles[np.clip(place, 0, len(middles) - 1)], np.nan)
