"""Distributions: one variable, several groups.

python examples/distributions.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

BOOK = {"mass_kg": {"label": "Mass", "unit": "kg"}, "ph": "pH", "firmness_n": {"label": "Firmness", "unit": "N"}}
wheels = ft.figure(ft.demo_data("wheels"), codebook=BOOK)

mass = wheels.map(x="mass_kg", color="milk")
mass.histogram(bin_width=0.5).titles("Histogram, stacked").export(out / "distributions-1.pdf")
mass.density(filled=True).rug().titles("Densities over a rug").export(out / "distributions-2.pdf")
mass.cumulative().titles("Share of wheels at or below each mass").export(out / "distributions-3.pdf")

by_rind = wheels.map(x="rind", y="ph")
by_rind.violins().titles("Violins with their quartiles").export(out / "distributions-4.pdf")
by_rind.keep("rind NOT IN ('waxed', 'bloomy')").map(color="brushed").violins(half="split").titles(
    "Halves face each other"
).export(out / "distributions-5.pdf")

firm = wheels.map(x="rind", y="firmness_n", color="milk")
firm.keep("rind <> 'waxed'").boxes().titles("Boxes, side by side").export(out / "distributions-6.pdf")
firm.map(color=None).points(arrange="beeswarm", size=2.4).titles("Every wheel is seen").export(out / "distributions-7.pdf")
wheels.map(y="mass_kg", color="milk").qq().titles("Against the normal distribution").export(out / "distributions-8.pdf")
