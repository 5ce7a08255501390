"""What the package adds, drawn.

python examples/extension/draw.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
wheels = ft.figure(ft.demo_data("wheels"))

counted = wheels.keep("age_days < 60").map(x="age_days", y="mass_kg", color="milk").stalks(dot=4)
counted.scale("color", palette="herbs").titles("Stalks, in the palette herbs").export(out / "stalks.pdf")

speed = wheels.map(x="firmness_n", y="moisture_pct").points().scale("x", "reciprocal").theme("vault")
speed.titles("Even steps of one over firmness").export([out / "reciprocal.pdf", out / "reciprocal.places"])

cellars = ft.figure(ft.demo_data("climate"), codebook={"temp_c": {"label": "Temperature", "unit": "°C"}})
read = cellars.keep("temp_c IS NOT NULL AND humidity_pct IS NOT NULL").map(x="temp_c", y="humidity_pct")
even = read.points(thin=1500, size=1.5).scale("x", "reciprocal", start=-273.15)
even.titles("Even steps of one over the absolute temperature").export(out / "absolute.pdf")
