"""One figure for each layer, as small as it can be said.

python examples/layers.py [FOLDER]
"""

from __future__ import annotations

import sys
from pathlib import Path

import facetine as ft

DATA = {name: ft.demo_data(name) for name in ("wheels", "climate", "cultures", "cores", "sales", "scans")}
DATA["week"] = DATA["climate"][DATA["climate"].time < "2030-01-08"]

SENTENCES = {
    "points": 'ft.figure(wheels).map(x="moisture_pct", y="mass_kg", color="rind").points(opacity=0.7)',
    "lines": 'ft.figure(week).map(x="time", y="temp_c", color="cellar").lines()',
    "areas": 'ft.figure(sales).map(x="month", y="retail").areas(opacity=0.5)',
    "bands": 'ft.figure(week).map(x="time", y="temp_c").bands(around="mean", reach="range")',
    "bars": 'ft.figure(wheels).map(x="rind").bars(value_labels="{count}").scale("x", order="falling")',
    "histogram": 'ft.figure(wheels).map(x="mass_kg", color="milk").histogram()',
    "density": 'ft.figure(wheels).map(x="ph", color="rind").density(filled=True)',
    "cumulative": 'ft.figure(wheels).map(x="mass_kg", color="milk").cumulative()',
    "qq": 'ft.figure(wheels).map(y="ph").qq()',
    "boxes": 'ft.figure(wheels).map(x="rind", y="firmness_n").boxes()',
    "violins": 'ft.figure(wheels).map(x="milk", y="ph").violins()',
    "ridgelines": 'ft.figure(wheels).map(x="moisture_pct", y="rind").ridgelines()',
    "rug": 'ft.figure(wheels).map(x="moisture_pct", y="mass_kg").points().rug()',
    "intervals": 'ft.figure(wheels).map(x="rind", y="mass_kg").intervals(around="mean", level=0.95)',
    "trend": 'ft.figure(wheels).map(x="moisture_pct", y="firmness_n").points(color="silver").trend("loess")',
    "cells": 'ft.figure(wheels).map(x="cellar", y="rind").cells(value_labels="{count}")',
    "contours": 'ft.figure(wheels).map(x="moisture_pct", y="ph").contours()',
    "correlation": 'ft.figure(wheels).map(x="moisture_pct", y="firmness_n").correlation()',
    "labels": 'ft.figure(wheels).keep("mass_kg > 9").map(x="age_days", y="mass_kg", label="wheel").points().labels(avoid=True)',
    "segments": 'ft.figure(sales).map(x="month", y="wholesale", x_to="month", y_to="retail").segments()',
    "reference": 'ft.figure(wheels).map(x="age_days", y="ph").points(color="silver").reference(aggregate="mean", text="mean")',
    "region": 'ft.figure(wheels).map(x="age_days", y="ph").points(opacity=0.4).region(x=(300, 400), text="late")',
    "callout": 'ft.figure(sales).map(x="month", y="retail").lines().callout("{y:,.0f}", at="highest")',
    "function": 'ft.figure(wheels).map(x="age_days", y="mass_kg").points(color="silver").function("2 + 6 * exp(-x / 90)")',
}
"""The sentence of each layer, as a document shows it."""


def figure(name: str) -> ft.Figure:
    """The figure of a layer."""
    made = eval(SENTENCES[name], {"ft": ft, **DATA})
    assert isinstance(made, ft.Figure)
    return made


if __name__ == "__main__":
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else ".")
    for name in SENTENCES:
        figure(name).titles(name).theme("press", text_size=7).export(folder / f"{name}.pdf", width="60 mm", height="48 mm")
