"""What the statistics cost, as ratios to NumPy in the same run.

    python benchmarks/layers.py

Every pair is timed in turn, several times; the ratio of the medians is printed beside the aim.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import numpy as np

from facetine.core.arrange.swarm import beeswarm
from facetine.core.geometry.labels import placed_labels
from facetine.core.stats.binning import counted
from facetine.core.stats.cells import counted_squares
from facetine.core.stats.density import density_curve
from facetine.core.stats.quantiles import quantiles
from facetine.core.stats.smooth import loess

Call = Callable[[], object]


def timed(call: Call) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


def ratio(name: str, ours: Call, theirs: Call, aim: float, rounds: int = 5) -> None:
    """Prints the ratio of two calls."""
    pairs = [(timed(ours), timed(theirs)) for _ in range(rounds)]
    one, other = (statistics.median(side) for side in zip(*pairs, strict=True))
    print(f"{name:<58} {1e3 * one:9.1f} ms / {1e3 * other:9.1f} ms = {one / other:5.2f} (aim {aim:g})")


def seconds(name: str, call: Call, aim: float, rounds: int = 3) -> None:
    """Prints the time of a call."""
    print(f"{name:<58} {statistics.median(timed(call) for _ in range(rounds)):9.3f} s (aim {aim:g} s)")


def main() -> None:
    rng = np.random.default_rng(1)
    ten = rng.normal(size=10_000_000)
    one, two = ten[:1_000_000], ten[1_000_000:2_000_000]
    edges = np.linspace(-6, 6, 61)
    ratio("histogram of 10 million / numpy.histogram", lambda: counted(ten, edges), lambda: np.histogram(ten, edges), 1.3)
    ratio("density of 1 million / its histogram", lambda: density_curve(one, 0.06), lambda: counted(one, edges), 3, 9)
    ratio(
        "cells of 1 million / numpy.histogram2d",
        lambda: counted_squares(one, two, edges, edges),
        lambda: np.histogram2d(one, two, [edges, edges]),
        1.5,
    )
    groups, shares = np.split(one, 100), np.array([0.0, 0.25, 0.5, 0.75, 1.0])
    ratio(
        "quartiles of 1 million in 100 groups / numpy.quantile",
        lambda: [quantiles(group, shares) for group in groups],
        lambda: [np.quantile(group, shares) for group in groups],
        2,
    )
    x = rng.uniform(0, 10, 100_000)
    y = np.sin(x) + rng.normal(0, 0.3, 100_000)
    seconds("loess on 100,000 points, 80 places", lambda: loess(x, y, np.linspace(0, 10, 80)), 2)
    seconds("beeswarm of 5,000 marks", lambda: beeswarm(rng.normal(size=5000) * 60, 3.0), 0.5)
    at = rng.uniform(0, 400, (300, 2))
    size = np.tile([30.0, 8.0], (300, 1))
    seconds("300 labels that avoid each other", lambda: placed_labels(at, size, at, (0, 0, 400, 400), 3.0), 1)


if __name__ == "__main__":
    main()
