"""Parts of a whole: shares that add up.

python examples/parts.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")

wheels = ft.figure(ft.demo_data("wheels"), codebook={"grade": {"order": ["plain", "sound", "fine", "grand"]}})

stack = wheels.map(x="cellar", color="grade").bars().titles("Stacked counts", y="Wheels")
stack.export(out / "parts-1.pdf")
shares = wheels.map(y="rind", color="grade").bars(arrange="share").scale("x", format="percent")
shares.titles("Shares of each rind, horizontal", x="Share of wheels").export(out / "parts-2.pdf")

sales = ft.unpivot(ft.demo_data("sales"), ["retail", "wholesale"], into="channel", values="sold")
areas = ft.figure(sales).map(x="month", y="sold", color="channel").titles(x="")
areas.areas().titles("Areas add up to all sales", y="Wheels sold").export(out / "parts-3.pdf")
areas.areas(arrange="share").scale("y", format="percent").titles("The same as shares", y="Share of wheels sold").export(
    out / "parts-4.pdf"
)
