"""Panels: in rows and columns, before all rows, and with axes of their own.

python examples/panels.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

codebook = {"moisture_pct": {"label": "Moisture", "unit": "%"}, "firmness_n": {"label": "Firmness", "unit": "N"}}
wheels = ft.figure(ft.demo_data("wheels"), codebook=codebook)
firmness = wheels.map(x="moisture_pct", y="firmness_n")

crossed = firmness.points(backdrop=True, color="silver", size=2).points(size=2.6).facet(rows="milk", columns="rind")
crossed.titles("Milk by rind, before all wheels").export(out / "panels-1.pdf", width="130 mm")

own = wheels.map(x="rind", y="mass_kg").boxes().facet("milk", separate="xy", per_row=3)
own.titles("Each milk on axes of its own").export(out / "panels-2.pdf", width="130 mm")

some = firmness.map(color="rind").points(opacity=0.7).trend(panels=["natural", "washed"]).facet("rind", per_row=2)
some = some.theme(legend_place="none").reference(y=20, panels=["natural", "waxed"], label="soft below {value:.0f} N")
some.titles("Lines only where they belong").export(out / "panels-3.pdf", width="85 mm")

bins = wheels.map(x="mass_kg", color="milk").histogram(bins=14).facet(rows="cellar", separate={"y": "row"})
bins.titles("Masses, cellar by cellar").theme(legend_place="inside").export(out / "panels-4.pdf", width="85 mm", height="110 mm")
