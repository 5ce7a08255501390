"""Counts in intervals: rules for their width, round edges, fast counting."""

from __future__ import annotations

import math
from decimal import Decimal
from typing import Literal, NamedTuple, TypeAlias, get_args

import numpy as np

from facetine.core.arrays import FloatArray

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


def freedman_diaconis(x: FloatArray) -> float:
    """Bin width 2 IQR n^(-1/3), which minimises the integrated squared error for smooth densities.

    Args:
        x: Sample of shape (n,), finite.

    Returns:
        The width in the unit of x; Scott's when the quartiles coincide; 0.0 for n < 2 or a constant sample.

    Source: Freedman & Diaconis (1981), Z. Wahrscheinlichkeitstheorie 57, 453–476.
    """
    if len(x) < 2:
        return 0.0
    low, high = np.percentile(x, [25, 75])
    width = 2.0 * float(high - low) * float(len(x) ** (-1 / 3))
    return width if width > 0 else scott(x)


def scott(x: FloatArray) -> float:
    """Bin width 3.49 s n^(-1/3), which suits a normal sample; 0.0 for n < 2 or a constant sample.

    Source: Scott (1979), Biometrika 66, 605–610.
    """
    return 3.49 * float(np.std(x, ddof=1)) * float(len(x) ** (-1 / 3)) if len(x) > 1 else 0.0


def rule_width(x: FloatArray, rule: Rule) -> float:
    """The bin width of a rule, in the unit of x; 0.0 for n < 2 or a constant sample.

    Args:
        x: Sample of shape (n,), finite.
        rule: freedman_diaconis, scott, sturges (log2 n + 1 bins), rice (2 n^(1/3) bins) or square_root (√n bins).

    Source: Sturges (1926), J. Am. Stat. Assoc. 21, 65–66, for the third; the last two are rules of thumb.
    """
    if rule == "freedman_diaconis":
        return freedman_diaconis(x)
    if rule == "scott":
        return scott(x)
    if len(x) < 2:
        return 0.0
    count: float = {"sturges": math.log2(len(x)) + 1, "rice": 2 * len(x) ** (1 / 3), "square_root": math.sqrt(len(x))}[rule]
    return float(x.max() - x.min()) / float(math.ceil(count))


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
    x: FloatArray, *, bins: int | None = None, width: float | None = None, rule: Rule = "freedman_diaconis"
) -> FloatArray:
    """Edges of bins for a sample.

    Args:
        x: Sample of shape (n,), finite; may be empty.
        bins: How many bins of even width over the range.
        width: Their width; edges lie at its multiples.
        rule: What chooses the width where neither is given; it is rounded to a round number. Whole numbers of few
            different values have a bin of width 1 about each.

    Returns:
        Increasing edges of shape (k + 1,); (−0.5, 0.5) about a constant sample, (0, 1) for an empty one.
    """
    if not len(x):
        return np.array([0.0, 1.0])
    low, high = float(x.min()), float(x.max())
    if not math.isfinite(high / 2 - low / 2) or abs(high / 2 - low / 2) > np.finfo(float).max / 2:
        # A range that no float can hold is worked out in eighths of it.
        eighths = chosen_edges(x / 8, bins=bins, width=None if width is None else width / 8, rule=rule)
        edges = np.clip(eighths, -np.finfo(float).max / 8, np.finfo(float).max / 8) * 8
        return np.asarray(edges, np.float64)
    if high - low <= 8 * math.ulp(max(abs(low), abs(high))):
        half = (width or (1.0 if abs(low) < 1e4 else abs(low) * 1e-3)) / 2
        return np.array([low - half, low + half])
    if bins is not None:
        return np.linspace(low, high, bins + 1)
    if width is None:
        if high - low <= MOST_UNITS and abs(low) < 1e15 and bool((x == np.rint(x)).all()) and len(np.unique(x)) <= MOST_UNITS:
            return np.arange(low, high + 2) - 0.5
        chosen = rule_width(x, rule)
        width = round_width(chosen) if chosen > 0 else (high - low) / 10
    return even_edges(low, high, width)


def counted(x: FloatArray, edges: FloatArray, weights: FloatArray | None = None) -> Bins:
    """Counts, or sums of weights, between edges; values outside them are not counted.

    Args:
        x: Sample of shape (n,), finite.
        edges: Shape (k + 1,), increasing.
        weights: Shape (n,); one each where they are not given.
    """
    weight, _ = np.histogram(x, edges, weights=weights)
    return Bins(edges, weight.astype(float))


def counted_evenly(x: FloatArray, low: float, high: float, count: int, weights: FloatArray | None = None) -> FloatArray:
    """Counts, or sums of weights, in so many even cells of a range, shape (count,): quicker than between edges."""
    # Counted from the lower end, so that a range far from zero keeps all its digits.
    weight, _ = np.histogram(x - low, count, (0.0, high - low), weights=weights)
    return weight.astype(float)
