"""From the plainest chart to one for print, a step at a time.

python examples/first.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
wheels = ft.demo_data("wheels")

# The plainest chart: two columns and a layer.
plain = ft.figure(wheels).map(x="moisture_pct", y="firmness_n").points()
plain.export(out / "1-plain.svg")

# A third variable, in color and in shape, so that it survives a black-and-white printer.
rinds = plain.map(color="rind", shape="rind")
rinds.export(out / "2-rinds.svg")

# A panel for each cellar, in the order in which one walks through them.
panels = rinds.facet("cellar", per_row=2, order=["North", "Quarry", "Tunnel", "Loft"])
panels.export(out / "3-panels.svg")

# Words for the reader, and the size of a column of the journal, in two formats.
final = panels.titles(
    "Firmness falls as moisture rises",
    x="Moisture (%)",
    y="Firmness (N)",
    note="Cellar trial, 240 wheels; one without a reading of moisture is left out.",
)
final.export(out / "4-final", formats=["pdf", "svg"], width="85 mm", height="90 mm")
