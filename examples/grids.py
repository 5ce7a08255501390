"""Grids: heat maps of counts and of means, contours of densities and of given heights.

python examples/grids.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

wheels = ft.figure(ft.demo_data("wheels"))
table = wheels.map(x="rind", y="cellar")
table.cells(all_pairs=True, gap=0.04, value_labels="{count:.0f}").titles("Counts of every pair").export(out / "grids-1.pdf")
means = table.map(color="mass_kg").cells(aggregate="mean", gap=0.04, value_labels="{value:.1f}")
means.scale("color", palette="hearth").titles("Means of every pair").export(out / "grids-2.pdf")

hours = ft.figure(ft.demo_data("climate")).keep("cellar = 'Loft'").derive(hour="hour(time)", month="month(time)")
hours = hours.map(x="month", y="hour", color="temp_c").cells(aggregate="mean").scale("color", palette="sleet", middle=14)
hours.titles("A year in the loft", x="Month", y="Hour", color="Temperature (°C), mean").export(out / "grids-3.pdf")

climate = ft.demo_data("climate").query("cellar == 'North'")
grid = climate.groupby(
    [climate.time.dt.month.rename("month"), climate.time.dt.hour.rename("hour")], as_index=False
).humidity_pct.mean()
heights = ft.figure(grid).map(x="month", y="hour", color="humidity_pct").contours(given=True, levels=12)
heights = heights.titles("Humidity of the north cellar", x="Month", y="Hour", color="Humidity (%), mean")
heights.scale("color", palette="brine").export(out / "grids-4.pdf")
