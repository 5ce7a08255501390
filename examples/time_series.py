"""Time: lines with gaps, running means, a window of two weeks.

python examples/time_series.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

BOOK = {"temp_c": {"label": "Air temperature", "unit": "°C"}, "cellar": {"label": "Cellar"}, "time": {"label": ""}}
climate = ft.figure(ft.demo_data("climate"), codebook=BOOK)

year = climate.map(x="time", y="temp_c", color="cellar").lines(line_width=0.35)
year.titles("35,000 hourly readings, gaps left open").export(out / "time-1.pdf")
june = year.scale("x", limits=("2030-06-01", "2030-06-15")).titles("Two weeks of June")
june.export(out / "time-2.pdf")

days = climate.derive(day="date_trunc('day', time)")
lowest = days.map(x="day", y="temp_c").keep("cellar = 'Loft'").titles(x="")
lowest = lowest.lines(aggregate="min", color="#2c76bb", dash="dotted").lines(aggregate="max", color="#b15433", dash="dotted")
lowest.lines(aggregate="mean").titles("The loft: daily mean, lowest and highest").export(out / "time-3.pdf")

smooth = ft.figure(ft.demo_data("sales")).map(x="month", y="retail").titles(x="", y="Wheels sold")
smooth.lines(steps=True, color="silver").trend("moving", window=12).titles("A running mean of twelve months").export(
    out / "time-4.pdf"
)
