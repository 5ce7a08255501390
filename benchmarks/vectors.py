"""Sizes and times of vector files, and of what becomes pixels in them.

    python benchmarks/vectors.py

The million points are measured against the least that any program must do for such a picture: a NumPy histogram in two
dimensions, of as many cells as the picture has pixels, and one PNG encoding. The time is that of writing a built figure;
building it (reading, scaling, laying out) is told beside it.
"""

from __future__ import annotations

import io
import statistics
import time
import warnings
from collections.abc import Callable

import numpy as np
from PIL import Image

import facetine as ft
from facetine.export.export import built, contents
from facetine.writers.formats import Options

WIDTH, HEIGHT = "85 mm", "60 mm"


def timed(call: Callable[[], object], rounds: int = 3) -> float:
    """Median seconds of some calls."""
    spent = []
    for _ in range(rounds):
        start = time.perf_counter()
        call()
        spent.append(time.perf_counter() - start)
    return statistics.median(spent)


def sizes() -> None:
    """Bytes a point."""
    rng = np.random.default_rng(1)
    data = {"a": rng.normal(size=10_000), "b": rng.normal(size=10_000), "c": rng.integers(0, 4, 10_000)}
    cloud = ft.figure(data).kinds(c="category").map(x="a", y="b")
    for name, figure in (("one color", cloud.points()), ("four colors", cloud.map(color="c").points(opacity=0.5))):
        made = built(figure._sentence, WIDTH, HEIGHT)
        for suffix, aim in (("pdf", 7), ("svgz", 12)):
            size = len(contents(made, suffix, Options())[0].content)
            print(f"10,000 points, {name}, {suffix}: {size / 10_000:.2f} bytes a point (aim {aim})")


def millions() -> None:
    """A million points and a line of a million vertices as pixels."""
    rng = np.random.default_rng(2)
    count = 1_000_000
    data = {"a": rng.normal(size=count), "b": rng.normal(size=count), "c": rng.integers(0, 4, count)}
    cloud = ft.figure(data).kinds(c="category").map(x="a", y="b")
    line = ft.figure({"t": np.arange(count), "v": np.cumsum(rng.normal(size=count))}).map(x="t", y="v").lines()
    cases = (
        ("one color", cloud.points(), 3),
        ("four colors, opacity 0.5", cloud.map(color="c").points(opacity=0.5), 8),
        ("line", line, 3),
    )
    for name, figure, aim in cases:
        start = time.perf_counter()
        made = built(figure._sentence, WIDTH, HEIGHT)
        building = time.perf_counter() - start
        for suffix in ("pdf", "png"):
            floors, ours = [], []
            size = 0
            for _ in range(3):
                floors.append(timed(lambda: floor(data["a"], data["b"]), 1))
                start = time.perf_counter()
                size = len(contents(made, suffix, Options(rasterize="auto"))[0].content)
                ours.append(time.perf_counter() - start)
            ratio = statistics.median(ours) / statistics.median(floors)
            print(
                f"1,000,000 points, {name}, {suffix}: {statistics.median(ours):.2f} s, {ratio:.1f} × the floor (aim {aim}), "
                f"{size / 1000:.0f} kB; built in {building:.2f} s"
            )


def floor(x: np.ndarray, y: np.ndarray) -> bytes:
    """Counts in as many cells as there are pixels, as a PNG."""
    counts, _, _ = np.histogram2d(y, x, bins=(709, 1004))
    buffer = io.BytesIO()
    Image.fromarray(np.minimum(counts * 40, 255).astype(np.uint8)).convert("RGB").save(buffer, "PNG")
    return buffer.getvalue()


if __name__ == "__main__":
    warnings.simplefilter("ignore")
    sizes()
    millions()
