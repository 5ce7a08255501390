"""How many times the speed floor an export takes.

    python benchmarks/export.py

Facetine gets a pandas frame and builds, lays out, writes and saves the figure anew each time; the floor has its
coordinates ready. Both run in turn in one process, and the ratio of their medians is printed, for the second and all
later figures of a session and for the first one.
"""

from __future__ import annotations

import statistics
import tempfile
import time
import warnings
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pandas as pd
from floor import Data, floor_pdf, floor_svg

import facetine as ft

AIMS = {(500, "pdf"): 3.5, (500, "svg"): 8.0, (100_000, "pdf"): 1.5, (100_000, "svg"): 2.0}


def timed(call: Callable[[], object]) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


def main() -> None:
    warnings.simplefilter("ignore")
    folder = Path(tempfile.mkdtemp())
    for count in (500, 100_000):
        data = Data(count)
        frame = pd.DataFrame({"moisture_pct": data.at[:, 0], "firmness_n": data.at[:, 1]})
        frame["state"] = np.array(["sound", "cracked"], object)[data.which]

        def figure(suffix: str, frame: pd.DataFrame = frame) -> None:
            fig = ft.figure(frame).map(x="moisture_pct", y="firmness_n", color="state").points()
            fig = fig.titles("A cloud of two colors", x="Moisture (%)", y="Firmness (N)")
            fig.export(folder / f"figure.{suffix}", width="85 mm", height="60 mm")

        for suffix, write in (("pdf", floor_pdf), ("svg", floor_svg)):
            path = folder / f"floor.{suffix}"
            first = timed(lambda: figure(suffix))
            rounds = 60 if count == 500 else 7
            floors, ours = [], []
            for _ in range(rounds):
                floors.append(timed(lambda: path.write_bytes(write(data))))
                ours.append(timed(lambda: figure(suffix)))
            floor, our = statistics.median(floors), statistics.median(ours)
            print(
                f"{count:>7,} points, {suffix}: floor {1e3 * floor:7.2f} ms, facetine {1e3 * our:7.2f} ms, "
                f"ratio {our / floor:5.2f} (aim {AIMS[count, suffix]:g}), first {1e3 * first:.0f} ms"
            )


if __name__ == "__main__":
    main()
