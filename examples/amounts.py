"""Amounts: counts and given heights, upright and horizontal.

python examples/amounts.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

wheels = ft.figure(ft.demo_data("wheels"), codebook={"mass_kg": {"label": "Mass", "unit": "kg"}})

counts = wheels.map(x="rind").titles(y="Wheels")
counts.bars(value_labels="{count:.0f}").titles("Counted rows, written on the bars").export(out / "amounts-1.pdf")
beside = counts.map(color="milk").bars(arrange="side_by_side").titles("Side by side")
beside.export(out / "amounts-2.pdf")

heaviest = wheels.keep("mass_kg > 8").map(y="wheel", x="mass_kg").bars(color="#2b5a41")
heaviest.titles("The heaviest wheels, horizontal").export(out / "amounts-3.pdf")
crossed = wheels.map(x=("milk", "cellar")).bars().titles("Crossed: milk and cellar", y="Wheels")
crossed.export(out / "amounts-4.pdf")
