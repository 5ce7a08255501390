"""Panels: wrapped, in rows and columns, before all rows, below each other, and of several columns.

python examples/panels.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

codebook = {
    "moisture_pct": {"label": "Moisture", "unit": "%"},
    "firmness_n": {"label": "Firmness", "unit": "N"},
    "mass_kg": {"label": "Mass", "unit": "kg"},
    "ph": {"label": "pH"},
    "salt_pct": {"label": "Salt", "unit": "%"},
    "depth_mm": {"label": "Depth", "unit": "mm"},
}
wheels = ft.figure(ft.demo_data("wheels"), codebook=codebook)
firmness = wheels.map(x="moisture_pct", y="firmness_n")

trends = firmness.points(size=2.4, opacity=0.6).trend("loess").facet("cellar", per_row=2)
trends.titles("Firmness falls in every cellar").export(out / "panels-1.pdf", width="85 mm")

crossed = firmness.points(backdrop=True, color="silver", size=2).points(size=2.6).facet(rows="milk", columns="rind")
crossed.titles("Milk by rind, before all wheels").export(out / "panels-2.pdf", width="130 mm")

cores = ft.figure(ft.demo_data("cores"), codebook=codebook).keep("year IN (2025, 2027, 2029, 2030)")
salt = cores.map(x="salt_pct", y="depth_mm").points(size=1.6, opacity=0.5).scale("y", reverse=True)
salt = salt.facet(rows="rind", columns="year", separate={"x": "column"})
salt.titles("Salt below the rind, the rare ones too").export(out / "panels-3.pdf", width="130 mm")

masses = wheels.map(x="mass_kg", color="milk").histogram(bins=18).facet(rows="cellar", row_headings="left")
masses = masses.reference(aggregate="median", axis="x", text="median {value:.1f} kg")
masses.titles("Masses, cellar by cellar").export(out / "panels-4.pdf", width="85 mm", height="105 mm")

measures = (
    wheels.map(x="age_days", color="milk").points(size=1.8).over_variables(y=["mass_kg", "ph", "firmness_n", "moisture_pct"])
)
measures.titles("Four measures, each on its own scale").export(out / "panels-5.pdf", width="120 mm")

nested = firmness.points(size=2).facet(rows=("milk", "brushed"), columns="rind", order={"milk": ["goat", "cow"]})
nested.keep("milk <> 'ewe'").titles("Brushed wheels within each milk").export(out / "panels-6.pdf", width="130 mm")
