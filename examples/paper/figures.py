"""Six figures of one paper: one codebook, the same words and the same colors in all of them.

python examples/paper/figures.py [FOLDER]
"""

import sys
from pathlib import Path

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
book = Path(__file__).parent / "codebook.toml"

with ft.defaults(theme={"name": "ledger", "text_size": 7.5}, width="85 mm"):
    wheels = ft.figure(ft.demo_data("wheels"), codebook=book)
    cores = ft.figure(ft.demo_data("cores"), codebook=book)

    scatter = wheels.map(x="moisture_pct", y="firmness_n", color="rind").points(size=2.6, opacity=0.8).trend(level=None)
    scatter.titles("Firmness falls with moisture").export(out / "1-firmness.pdf")

    counts = wheels.map(x="cellar", color="rind").bars().titles("What stands in each cellar", y="Wheels")
    counts.export(out / "2-cellars.pdf")

    # Only two of the four rinds are left; they keep their colors.
    late = wheels.keep("rind IN ('natural', 'waxed')").map(x="age_days", y="mass_kg", color="rind").points()
    late.scale("x", "log").titles("Rinds that ripen long").export(out / "3-late.pdf")

    # Salt is a function of depth, and depth is read downwards: the axes change places.
    salt = cores.map(x="depth_mm", y="salt_pct", color="rind").trend("loess").scale("x", reverse=True).swap_axes()
    salt.titles("Salt below the rind, with 95 % bands").export(out / "4-salt.pdf")

    # Of the other rinds some classes hold one wheel or three, of which no box can be drawn.
    common = wheels.keep("rind IN ('washed', 'natural')")
    ages = common.map(x="age_class", y="firmness_n", color="rind").boxes(outliers=False).titles("Firmness by age")
    ages.export(out / "5-ages.pdf")

    treated = (
        wheels.map(x="treatment", y="mass_kg", color="rind").intervals().titles("Mass by treatment, means with 95 % intervals")
    )
    treated.export(out / "6-treatment.pdf")
