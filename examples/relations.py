"""Relations: two numbers, a third in color, many points that would cover each other.

python examples/relations.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

BOOK = {
    "moisture_pct": {"label": "Moisture", "unit": "%"},
    "firmness_n": {"label": "Firmness", "unit": "N"},
    "rind": {"label": "Rind", "order": ["washed", "bloomy", "natural", "waxed"]},
    "glow": "Glow",
    "grain": "Grain",
    "state": {"label": "State", "order": ["sound", "cracked"]},
}
wheels = ft.figure(ft.demo_data("wheels"), codebook=BOOK).map(x="moisture_pct", y="firmness_n", color="rind")

lines = wheels.points(size=2.6, opacity=0.8).trend("linear").titles("A line for each rind, with its 95 % band")
lines.export(out / "relations-1.pdf")

curve = wheels.map(color=None).points(opacity=0.45).trend("loess", local_share=0.6, color="#8d3918")
curve.titles("Local regression bends where the data do").export(out / "relations-2.pdf")

# Fifty thousand scans of two kinds overlap heavily; five ways to read them all the same.
scans = ft.figure(ft.demo_data("scans"), codebook=BOOK).map(x="glow", y="grain", color="state")
scans.points(size=1.2, opacity=0.06).titles("Opacity: where it is dense").export(out / "relations-3.pdf")
scans.points(size=1.8, opacity=0.7, thin=1500).titles("Thinned: one in thirty-three").export(out / "relations-4.pdf")
scans.contours(levels=[0.9, 0.7, 0.5, 0.3, 0.1]).titles("Contours: around 90, 70, … 10 % of each").export(out / "relations-5.pdf")
grid = scans.map(color=None).cells(cell="hex", bins=26).facet("state").titles("Cells: counts of each kind")
grid.export(out / "relations-6.pdf")
