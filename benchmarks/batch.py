"""What a batch costs beside its figures.

    python benchmarks/batch.py [FIGURES]

A plan of 500 figures of 500 points is exported as PDF by the command: by one process, by two, and again with nothing
changed. Beside it, in the same run: one warm export in a process, a bare loop of the same exports by one process and by
two, the start of the command, and the peak of memory when a tenth of the figures is written. Last, a figure of three columns
of a wide file, beside one of a file of these three.
"""

from __future__ import annotations

import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pandas as pd

FACETINE = [sys.executable, "-m", "facetine.cli.start"]
LOOP = """
import sys, warnings
import facetine as ft
warnings.simplefilter("ignore")
data = ft.read("d.csv")
for number in range(int(sys.argv[1]), int(sys.argv[2])):
    figure = ft.figure(data).map(x="x", y="y", color="k").points().titles(f"Figure {number}")
    figure.export(f"{sys.argv[3]}/f{number}.pdf", width="85 mm", height="60 mm")
"""
WARM = """
import time, warnings
import facetine as ft
warnings.simplefilter("ignore")
data, spent = ft.read("d.csv"), []
for number in range(120):
    start = time.perf_counter()
    figure = ft.figure(data).map(x="x", y="y", color="k").points().titles(f"Figure {number}")
    figure.export("warm.pdf", width="85 mm", height="60 mm")
    spent.append(time.perf_counter() - start)
print(sorted(spent[20:])[50])
"""


def write(folder: Path, count: int) -> None:
    """Data and a plan of so many figures."""
    rng = np.random.default_rng(5)
    columns = {
        "x": rng.normal(50, 9, 500).round(2),
        "y": rng.gamma(2, 9, 500).round(2),
        "k": rng.choice(["sound", "cracked"], 500),
    }
    pd.DataFrame(columns).to_csv(folder / "d.csv", index=False)
    figure = '[figure.f{0}]\ndata = "d"\nmap = {{ x = "x", y = "y", color = "k" }}\nlayers = ["points"]\ntitles = "Figure {0}"\n'
    head = '[plan]\nformats = ["pdf"]\nwidth = "85 mm"\nheight = "60 mm"\n[data.d]\nfile = "d.csv"\n'
    (folder / "plan.toml").write_text(head + "".join(figure.format(number) for number in range(count)))


def timed(folder: Path, *commands: list[str]) -> float:
    """Seconds until all commands have ended."""
    start = time.perf_counter()
    running = [
        subprocess.Popen(command, cwd=folder, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) for command in commands
    ]
    for one in running:
        assert one.wait() == 0
    return time.perf_counter() - start


def export(folder: Path, jobs: int) -> float:
    """Seconds of a run of the plan from nothing."""
    shutil.rmtree(folder / "figures", ignore_errors=True)
    return timed(folder, [*FACETINE, "export", "plan.toml", "-q", "-j", str(jobs)])


def peaks(folder: Path, count: int) -> tuple[int, int]:
    """The peak of memory when a tenth of the figures is written, and when nearly all are, in kilobytes."""
    shutil.rmtree(folder / "figures", ignore_errors=True)
    found = {}
    command = [*FACETINE, "export", "plan.toml", "-j", "1"]
    with subprocess.Popen(command, cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as running:
        assert running.stdout is not None
        for number, _ in enumerate(running.stdout, 1):
            if number in (count // 10, count - 2):
                status = Path(f"/proc/{running.pid}/status").read_text()
                found[number] = next(int(line.split()[1]) for line in status.splitlines() if line.startswith("VmHWM"))
    few, most = found.values()
    return few, most


def loops(folder: Path, count: int, processes: int) -> float:
    """The bare loop, its figures shared among processes."""
    shutil.rmtree(folder / "loop", ignore_errors=True)
    (folder / "loop").mkdir()
    edges = np.linspace(0, count, processes + 1).astype(int)
    parts = [[sys.executable, "-c", LOOP, str(low), str(high), "loop"] for low, high in pairwise(edges)]
    return timed(folder, *parts)


def drawn(folder: Path, data: str) -> tuple[float, int]:
    """Seconds, and the peak of memory in kilobytes, of a figure of three columns."""
    start = time.perf_counter()
    draw = [*FACETINE, "draw", data, "-m", "x=c1", "-m", "y=c2", "-m", "color=k", "-l", "points:thin=500", "-o", "w.pdf", "-q"]
    running = subprocess.Popen(draw, cwd=folder)
    _, status, used = os.wait4(running.pid, 0)
    assert status == 0
    return time.perf_counter() - start, used.ru_maxrss


def wide(folder: Path) -> None:
    """What the columns cost that a figure does not use: three of three hundred, beside a file of these three."""
    rng = np.random.default_rng(6)
    rows = 100_000
    columns = {f"c{number}": rng.normal(size=rows) for number in range(299)}
    frame = pd.DataFrame({**columns, "k": rng.choice(["sound", "cracked"], rows)})
    frame.to_parquet(folder / "wide.parquet")
    frame[["c1", "c2", "k"]].to_parquet(folder / "thin.parquet")
    del frame, columns
    seconds, memory = {}, {}
    for name in ("wide.parquet", "thin.parquet"):
        runs = [drawn(folder, name) for _ in range(5)]
        seconds[name], memory[name] = (statistics.median(part) for part in zip(*runs, strict=True))
    print(
        f"3 of 300 columns, in 3 of 3: {seconds['wide.parquet'] / seconds['thin.parquet']:.2f} times the seconds, "
        f"{memory['wide.parquet'] / memory['thin.parquet']:.2f} times the memory (no aim)"
    )


class Round(NamedTuple):
    """Seconds of one round."""

    warm: float
    bare_one: float
    one: float
    bare_two: float
    two: float
    again: float
    start: float


def measured(folder: Path, count: int) -> Round:
    """All that is compared, one after the other."""
    warm = float(subprocess.run([sys.executable, "-c", WARM], cwd=folder, capture_output=True, check=True).stdout)
    return Round(
        warm, loops(folder, count, 1), export(folder, 1), loops(folder, count, 2), export(folder, 2),
        timed(folder, [*FACETINE, "export", "plan.toml", "-q"]), timed(folder, [*FACETINE, "export", "--help"]),
    )  # fmt: skip


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    folder = Path(tempfile.mkdtemp())
    try:
        write(folder, count)
        rounds = [measured(folder, count) for _ in range(5)]
        few, peak = peaks(folder, count)
        wide(folder)
    finally:
        shutil.rmtree(folder)

    def middle(name: str, of: Callable[[Round], float], aim: str) -> None:
        found = sorted(map(of, rounds))
        print(f"{name}: {found[len(found) // 2]:.2f} ({found[0]:.2f} to {found[-1]:.2f}; {aim})")

    middle("seconds by one process", lambda one: one.one, "no aim")
    middle("a figure, in warm exports", lambda one: one.one / count / one.warm, "at most 1.3")
    middle("gain of two processes, in a loop's", lambda one: (one.one / one.two) / (one.bare_one / one.bare_two), "0.9")
    middle("nothing changed, in start and 3 %", lambda one: one.again / (one.start + 0.03 * one.one), "at most 1")
    print(f"memory: {peak / 1000:.0f} MB at the end, {few / 1000:.0f} MB at a tenth: {peak / few:.2f} times (at most 1.1)")


if __name__ == "__main__":
    main()
