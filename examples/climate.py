"""A year of hourly readings: 35,000 rows as true vectors, with the gaps that the sensors left.

python examples/climate.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

year = (
    ft.figure(ft.demo_data("climate"))
    .map(x="time", y="temp_c", color="cellar")
    .lines(line_width=0.4)
    .titles("Only the loft follows the seasons", x="", y="Air temperature (°C)")
)
year.export(out / "year.pdf", width="180 mm", height="80 mm")

june = year.scale("x", limits=("2030-06-01", "2030-06-15")).titles("Two weeks of June")
june.export(out / "june.pdf", width="180 mm", height="80 mm")
