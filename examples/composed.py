"""Composed figures: marginals, a matrix, ridgelines, and a plate with a photograph and an inset.

python examples/composed.py [FOLDER]
"""

import sys
from pathlib import Path

import numpy as np
from PIL import Image, ImageFilter

import facetine as ft

out = Path(sys.argv[1] if len(sys.argv) > 1 else "out")
out.mkdir(parents=True, exist_ok=True)

codebook = {
    "moisture_pct": {"label": "Moisture", "unit": "%"},
    "firmness_n": {"label": "Firmness", "unit": "N"},
    "mass_kg": {"label": "Mass", "unit": "kg"},
    "age_days": {"label": "Age", "unit": "days"},
    "ph": {"label": "pH"},
    "temp_c": {"label": "Temperature", "unit": "°C"},
}


def cut_rind(path: Path) -> Path:
    """A made-up photograph of a cut wheel: a dark rind over paste with eyes, 40 pixels a millimetre."""
    chance = np.random.default_rng(7)
    height, width = 560, 840
    y, x = np.mgrid[0:height, 0:width]
    edge = 90 + 14 * np.sin(x / 97) + 7 * np.sin(x / 31 + 2)
    paste = np.array([236, 214, 150]) - 0.02 * (y - edge)[..., None] * np.array([0.2, 0.4, 1.0])
    rind = np.array([116, 82, 48]) + 30 * np.sin(x / 13 + y / 17)[..., None] * np.array([1.0, 0.8, 0.5])
    pixels = np.where((y < edge)[..., None], rind, paste)
    for _ in range(26):
        across, down, radius = chance.uniform(0, width), chance.uniform(190, height), chance.uniform(5, 26)
        inside = (x - across) ** 2 + ((y - down) * 1.25) ** 2 < radius**2
        pixels[inside] *= 0.72
    pixels += chance.normal(0, 9, (height, width, 1))
    Image.fromarray(np.clip(pixels, 0, 255).astype("uint8")).filter(ImageFilter.GaussianBlur(1.2)).save(path)
    return path


wheels = ft.figure(ft.demo_data("wheels"), codebook=codebook)

scans = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain", color="state").points(thin=4000, size=1.2)
scans = scans.marginal("top", "histogram").marginal("right", "density", filled=True).panel(ratio=0.8)
scans.titles("Cracked wheels glow more").export(out / "composed-1.pdf", width="85 mm")

climate = ft.figure(ft.demo_data("climate"), codebook=codebook).keep("cellar = 'Loft'").derive(month="strftime(time, '%m')")
names = dict(
    zip(
        [f"{n:02}" for n in range(1, 13)],
        ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"],
        strict=True,
    )
)
months = climate.map(x="temp_c", y="month").ridgelines(shaded=True, quantiles=[0.5], rise=2.4)
months = months.scale("y", format=names).scale("color", palette="hearth").kinds(month="category")
months.titles("A year in the Loft", y="").export(out / "composed-2.pdf", width="85 mm", height="95 mm")

columns = ["mass_kg", "ph", "firmness_n", "moisture_pct", "rind"]
matrix = ft.matrix(ft.demo_data("wheels"), columns, map={"color": "milk"}, codebook=codebook).keep("rind <> 'waxed'")
matrix.titles("Each measure against each").theme(text_size=7).export(out / "composed-3.pdf", width="150 mm")

by_rind = wheels.map(color="rind").scale("color", order=["washed", "bloomy", "natural", "waxed"])
aging = by_rind.map(x="age_days", y="firmness_n").points(size=1.8, opacity=0.7)
young = aging.scale("x", limits=(20, 70)).scale("y", limits=(8, 32)).theme(text_size=6.8)
aging = aging.inset(young, at=(0.42, 0.02, 1.0, 0.5), zoom=True)
boxes = by_rind.map(x="rind", y="moisture_pct").boxes().titles(x="")
masses = by_rind.map(x="mass_kg").histogram(bins=16)
means = by_rind.map(x="milk", y="ph").intervals().titles(x="")
photograph = ft.picture(
    cut_rind(out / "rind.png"), scale_bar="5 mm", pixels_per_mm=40, fit="fill", alt="A cut wheel: rind, paste and eyes"
)
plate = ft.plate([[aging, photograph, boxes], [masses, masses, means]], letters="A", share_legend=True, heights=[5, 4])
plate = plate.titles("Ripening of washed and other rinds", note="Cellar trial, 240 wheels; intervals at 95 %.").theme(text_size=7)
plate.export([out / "composed-4.pdf", out / "composed-4.svg"], width="180 mm")
