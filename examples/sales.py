"""Bars over time, and two ways to show parts of a whole.

python examples/sales.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

months = ft.figure(ft.demo_data("sales")).map(x="month", y="wholesale").bars(color="#33658a")
months.titles("Wholesale peaks each December", x="", y="Wheels").export(out / "months.pdf", width="180 mm", height="60 mm")

milk = ft.figure(ft.demo_data("wheels")).map(x="cellar", color="milk").titles(y="Wheels")
milk.bars(arrange="cluster").export(out / "milk-counts.pdf")
milk.bars(arrange="share").scale("y", format="percent").titles(y="Share of wheels").export(out / "milk-shares.pdf")
