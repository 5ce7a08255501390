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
    for name, count in hits.items():
        error = math.sqrt(count / samples * (1 - count / samples) / samples)
        print(f"{name}: {count / samples:.1%} ± {2 * error:.1%} of 95 % intervals hold the truth")


if __name__ == "__main__":
    main()
