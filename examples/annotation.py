"""Annotation: labels that avoid each other, reference lines, regions, callouts, highlighted rows.

python examples/annotation.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

BOOK = {
    "moisture_pct": {"label": "Moisture", "unit": "%"},
    "firmness_n": {"label": "Firmness", "unit": "N"},
    "mass_kg": {"label": "Mass", "unit": "kg"},
}
wheels = ft.figure(ft.demo_data("wheels"), codebook=BOOK)

ewe = wheels.keep("milk = 'ewe'").map(x="moisture_pct", y="firmness_n", label="wheel")
ewe.points(size=2.5).labels(avoid=True, size=6).titles("Every wheel by its name").export(out / "annotation-1.pdf")

target = (
    wheels.map(x="moisture_pct", y="firmness_n")
    .region(x=(54, 64), y=(26, 50), text="no wheel is both")
    .points(size=2.5, opacity=0.7)
)
target = target.reference(y=60, text="too hard to slice").callout("the driest wheel", x=45, y=92, x_to=39.6, y_to=60.5)
target.scale("y", include=95).titles("What the panel is told").export(out / "annotation-2.pdf")

groups = wheels.map(x="mass_kg").histogram(bin_width=0.5).reference(aggregate="mean", axis="x").facet("milk", per_row=3)
groups.titles("The mean of each panel").export(out / "annotation-3.pdf")
means = wheels.map(x="rind", y="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{mean:.2f}")
means.titles("What was computed, written").export(out / "annotation-4.pdf")

loft = wheels.map(x="moisture_pct", y="firmness_n").points(size=3).trend("linear").highlight("cellar = 'Loft'")
loft.titles("One cellar among all").export(out / "annotation-5.pdf")

far = wheels.map(x="moisture_pct", y="mass_kg", label="wheel").points(size=2.5, color="silver").trend("loess", level=None)
far = (
    far.labels(where="mass_kg > 8.5")
    .reference(y=8.5, text="heavy", text_at="start")
    .callout("a crowd", x=47, y=2, shift=("0 mm", "1 mm"))
)
far.titles("Texts clear of points and lines").export(out / "annotation-6.pdf")
