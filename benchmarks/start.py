"""How long the first figure takes from the command line, against reading the same table with a data frame library.

    python benchmarks/start.py

`facetine draw` (240 rows, CSV to PDF) and `python -c "import pandas; pandas.read_csv(…)"` run in turn, each as a process
of its own; the medians and their ratio are printed. Installed packages have their modules compiled, as a copy of the
sources in use has after the first run.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import pandas as pd

import facetine as ft

ROUNDS, AIM = 40, 0.9


def main() -> None:
    folder = Path(tempfile.mkdtemp())
    pd.DataFrame(ft.demo_data("wheels")).to_csv(folder / "wheels.csv", index=False)
    mapped = ["--map", "x=moisture_pct", "--map", "y=firmness_n", "--layer", "points", "-o", "out.pdf"]
    ours = [sys.executable, "-m", "facetine.cli.start", "draw", "wheels.csv", *mapped]
    theirs = [sys.executable, "-c", "import pandas; pandas.read_csv('wheels.csv')"]
    spent: dict[str, list[float]] = {"draw": [], "read": []}
    for round_number in range(ROUNDS + 2):
        for name, command in (("draw", ours), ("read", theirs)):
            start = time.perf_counter()
            subprocess.run(command, cwd=folder, check=True, capture_output=True)
            if round_number >= 2:
                spent[name].append(time.perf_counter() - start)
    draw, read = statistics.median(spent["draw"]), statistics.median(spent["read"])
    print(f"draw {1e3 * draw:.0f} ms, reading alone {1e3 * read:.0f} ms, ratio {draw / read:.2f} (aim {AIM:g})")


if __name__ == "__main__":
    main()
