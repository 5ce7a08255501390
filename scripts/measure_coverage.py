"""Measure how often intervals hold the true value, for docs/statistics.md.

    python scripts/measure_coverage.py [SAMPLES]

Samples of ten from a lognormal distribution, whose mean e^0.5 and median 1 are known: a hard case for all of them.
"""

from __future__ import annotations

import math
import sys

import numpy as np

from facetine.core.stats.centers import interval

SIZE, DRAWS = 10, 600


def main() -> None:
    samples = int(sys.argv[1]) if len(sys.argv) > 1 else 4000
    rng = np.random.default_rng(1)
    mean = math.exp(0.5)
    hits = dict.fromkeys(("t", "percentile bootstrap", "bias-corrected bootstrap", "median by order statistics"), 0)
    for seed in range(samples):
        x = rng.lognormal(size=SIZE)
        found = {
            "t": (interval(x), mean),
            "percentile bootstrap": (interval(x, draws=DRAWS, seed=seed, bootstrap="percentile"), mean),
            "bias-corrected bootstrap": (interval(x, draws=DRAWS, seed=seed), mean),
            "median by order statistics": (interval(x, "median"), 1.0),
        }
        for name, (ends, truth) in found.items():
            hits[name] += ends.low <= truth <= ends.high
    said(hits, samples, f"{SIZE} rows")
    for size in (SIZE, 4 * SIZE):
        weighted(samples, size, rng)


def weighted(samples: int, size: int, rng: np.random.Generator) -> None:
    """Rows drawn from a lognormal distribution, each with a weight of its own that has nothing to do with its value."""
    names = ("weighted mean, t", "weighted median", "weighted median, bootstrap")
    hits, off, spread = dict.fromkeys(names, 0), [], []
    for seed in range(samples):
        x, weights = rng.lognormal(size=size), rng.lognormal(0, 0.7, size)
        found = {
            names[0]: (interval(x, weights=weights), math.exp(0.5)),
            names[1]: (interval(x, "median", weights=weights), 1.0),
            names[2]: (interval(x, "median", draws=DRAWS, seed=seed, weights=weights), 1.0),
        }
        for name, (ends, truth) in found.items():
            hits[name] += ends.low <= truth <= ends.high
        off.append(found[names[1]][0].center - 1.0)
        spread.append(float(np.median(x)) - 1.0)
    said(hits, samples, f"{size} rows with weights")
    errors = [math.sqrt(float(np.mean(np.square(one)))) for one in (off, spread)]
    print(f"  the weighted median misses the truth by {errors[0]:.3f}, one without weights by {errors[1]:.3f} (root mean square)")


def said(hits: dict[str, int], samples: int, what: str) -> None:
    """Prints how many intervals hold the truth."""
    print(f"{what}:")
    for name, count in hits.items():
        error = math.sqrt(count / samples * (1 - count / samples) / samples)
        print(f"  {name}: {count / samples:.1%} ± {2 * error:.1%} of 95 % intervals hold the truth")


if __name__ == "__main__":
    main()
