"""Uncertainty: intervals and bands.

python examples/uncertainty.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

BOOK = {"mass_kg": {"label": "Mass", "unit": "kg"}, "firmness_n": {"label": "Firmness", "unit": "N"}}
wheels = ft.figure(ft.demo_data("wheels"), codebook=BOOK)

means = wheels.map(x="rind", y="mass_kg", color="milk").intervals(caps=4)
means.titles("Means with 95 % confidence intervals").export(out / "uncertainty-1.pdf")
medians = wheels.map(y="cellar", x="firmness_n").intervals(around="median", reach="quartiles", boxed=True)
medians = medians.points(arrange="jitter", spread_y=0.12, size=1.6, opacity=0.4)
medians.titles("Medians and quartiles over the wheels").export(out / "uncertainty-2.pdf")

robust = wheels.map(x="age_days", y="firmness_n").points(size=2, opacity=0.4).scale("x", "log")
robust = robust.trend("linear").trend("quantile", quantile=0.9, color="#8d3918", dash="dashed")
robust.titles("Mean line and 90 % quantile line", x="Age (days)").export(out / "uncertainty-3.pdf")
odds = wheels.map(x="firmness_n", y="brushed").points(arrange="jitter", spread_y=0.1, size=2, opacity=0.5)
odds.trend("logistic").titles("Chance of being brushed").export(out / "uncertainty-4.pdf")
