"""What panels and plates cost, as ratios to the same marks in one panel, or to the same figures alone.

    python benchmarks/facets.py

Every pair is timed in turn, several times; the ratio of the medians is printed beside the aim.
"""

from __future__ import annotations

import statistics
import time
import warnings
from collections.abc import Callable
from typing import Any

import numpy as np

import facetine as ft
from facetine.export.export import built, rendered

Call = Callable[[], object]


def written(figure: Any, width: str = "300 mm", height: str | None = None) -> bytes:
    """A figure as a PDF."""
    return rendered(built(figure._sentence, width, height), "pdf", dpi=300, transparent=False, fonts="name")


def timed(call: Call) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


def ratio(name: str, ours: Call, theirs: Call, aim: float, rounds: int = 7) -> None:
    """Prints the ratio of two calls."""
    ours(), theirs()
    pairs = [(timed(ours), timed(theirs)) for _ in range(rounds)]
    one, other = (statistics.median(side) for side in zip(*pairs, strict=True))
    print(f"{name:<58} {1e3 * one:9.1f} ms / {1e3 * other:9.1f} ms = {one / other:5.2f} (aim {aim:g})")


def clouds(panels: int, rows: int) -> Any:
    """So many panels of so many points."""
    chance = np.random.default_rng(1)
    count = panels * rows
    frame = {"x": chance.normal(size=count), "y": chance.normal(size=count), "panel": np.repeat(np.arange(panels), rows)}
    return ft.figure(frame).map(x="x", y="y").points(size=1).theme(panel_gap=6)


def six() -> list[Any]:
    """Six figures of the demo world."""
    wheels = ft.figure(ft.demo_data("wheels"))
    cloud = wheels.map(x="age_days", y="firmness_n", color="rind")
    return [
        cloud.points(), cloud.points().trend("loess"), wheels.map(x="rind", y="moisture_pct").boxes(),
        wheels.map(x="mass_kg", color="milk").histogram(), cloud.points().facet("cellar"), wheels.map(x="milk", y="ph").violins(),
    ]  # fmt: skip


def main() -> None:
    warnings.simplefilter("ignore", ft.FacetineFinding)
    many, one = clouds(100, 1000), clouds(1, 100_000)
    ratio(
        "100 panels of 1,000 points / one panel of 100,000",
        lambda: written(many.facet("panel", per_row=10)),
        lambda: written(one),
        2,
    )
    large, small = clouds(400, 250), clouds(100, 250)
    ratio(
        "400 panels of 250 points / 4 × 100 panels of 250",
        lambda: written(large.facet("panel", per_row=20)),
        lambda: [written(small.facet("panel", per_row=20)) for _ in range(4)],
        1.1,
        3,
    )
    figures = six()
    a, b, c, d, e, f = figures
    plate = ft.plate([[a, b], [c, d], [e, f]], letters="A")
    ratio(
        "a plate of 6 / its 6 figures",
        lambda: written(plate, "180 mm"),
        lambda: [written(figure, "90 mm") for figure in figures],
        1.3,
    )
    marginals = a.marginal("top", "histogram").marginal("right", "density")
    ratio("a cloud with two marginals / the cloud", lambda: written(marginals, "85 mm"), lambda: written(a, "85 mm"), 3)


if __name__ == "__main__":
    main()
