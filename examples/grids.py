"""Grids: heat maps of counts and of means, contours of densities and of given heights.

python examples/grids.py [FOLDER]
"""

import sys
from pathlib import Path

import numpy as np

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

wheels = ft.figure(ft.demo_data("wheels"), codebook={"mass_kg": {"label": "Mean mass", "unit": "kg"}})
table = wheels.map(x="rind", y="cellar")
table.cells(all_pairs=True, gap=0.04, value_labels="{count:.0f}").titles("Counts of every pair").export(out / "grids-1.pdf")
means = table.map(color="mass_kg").cells(aggregate="mean", gap=0.04, value_labels="{value:.1f}")
means.scale("color", ramp="hearth").titles("Means of every pair").export(out / "grids-2.pdf")

hours = ft.figure(ft.demo_data("climate")).keep("cellar = 'Loft'").derive(hour="hour(time)", month="month(time)")
hours = hours.map(x="month", y="hour", color="temp_c").cells(aggregate="mean").scale("color", ramp="sleet", middle=14)
hours.titles("A year in the loft", x="Month", y="Hour", color="Temperature (°C)").export(out / "grids-3.pdf")

x, y = np.meshgrid(np.linspace(-2, 2, 41), np.linspace(-2, 2, 41))
hills = {"x": x.ravel(), "y": y.ravel(), "z": (np.exp(-((x - 0.6) ** 2) - y**2) - 0.7 * np.exp(-((x + 0.8) ** 2) - y**2)).ravel()}
heights = ft.figure(hills).map(x="x", y="y", color="z").contours(given=True, levels=12)
heights.scale("color", ramp="moss", middle=0).titles("Heights on a grid", color="Height").export(out / "grids-4.pdf")
