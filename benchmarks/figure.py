"""Where the time of a 500-point figure with two legends goes, step by step.

    python benchmarks/figure.py

The steps of the pipeline are timed one by one in one process; the medians of many rounds are printed, with guides and
layout together against the writer of the PDF.
"""

from __future__ import annotations

import statistics
import time
import warnings
from collections import defaultdict
from collections.abc import Callable
from typing import Any

import numpy as np
import pandas as pd

import facetine as ft
from facetine.pipeline.drawing.draw import Drawing
from facetine.pipeline.sheet import built
from facetine.pipeline.sheet import figured as figures
from facetine.pipeline.sheet import settled as members
from facetine.writers.pdf import pdf
from facetine.writers.svg import svg

STEPS: dict[str, Any] = {
    "begun_in_order": members, "split": members, "computed": members, "settle_axes": members, "settle_looks": members,
    "legends": figures, "lay_out": built, "draw": Drawing,
}  # fmt: skip
"""The steps, and where each is called from."""


def main() -> None:
    warnings.simplefilter("ignore")
    rng = np.random.default_rng(3)
    frame = pd.DataFrame({"x": rng.normal(size=500), "y": rng.normal(size=500), "size": rng.uniform(1, 9, 500)})
    frame["kind"] = np.array(["sound", "cracked", "waxed"], object)[rng.integers(0, 3, 500)]
    spent: dict[str, list[float]] = defaultdict(list)

    def timed(name: str, call: Callable[..., Any]) -> Callable[..., Any]:
        def run(*args: Any, **options: Any) -> Any:
            start = time.perf_counter()
            made = call(*args, **options)
            spent[name].append(time.perf_counter() - start)
            return made

        return run

    for name, home in STEPS.items():
        setattr(home, name, timed(name, getattr(home, name)))
    whole = timed("build, all", built.build)
    write_pdf, write_svg = timed("write PDF", pdf), timed("write SVG", svg)
    say = timed(
        "say the sentence", lambda: ft.figure(frame).map(x="x", y="y", color="kind", size="size").points().titles("Points")
    )
    for _ in range(150):
        made = whole(say()._sentence, 240.0, 170.0)
        write_pdf(made.scene)
        write_svg(made.scene)
    medians = {name: 1e3 * statistics.median(times[20:]) for name, times in spent.items()}
    for name, value in medians.items():
        print(f"{name:<18} {value:7.2f} ms")
    guides = medians["legends"] + medians["lay_out"]
    print(
        f"guides and layout / PDF writer: {guides:.2f} / {medians['write PDF']:.2f} ms "
        f"= {guides / medians['write PDF']:.2f} (aim 1)"
    )


if __name__ == "__main__":
    main()
