"""Remake docs/screenshots from the demo data.

    python scripts/make_screenshots.py [NAME ...]

Figures are exported by Facetine itself; the terminal is a real one, photographed on a virtual screen (Debian's
packages xvfb, xterm and imagemagick).
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from PIL import Image

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
DPI = {"climate": 150, "salt": 150}
LEFT_OUT = ("ewe", "grades", "cellars")
"""Demo figures without a picture: it would say nothing that another one does not."""


def figures(folder: Path, names: list[str]) -> None:
    """The demo figures as `facetine demo` makes them."""
    facetine = Path(sys.executable).parent / "facetine"
    subprocess.run([facetine, "demo", folder, "--quiet"], check=True)
    for path in sorted((folder / "figures").glob("*.pdf")):
        if path.stem in LEFT_OUT or (names and path.stem not in names):
            continue
        dpi = DPI.get(path.stem, 220)
        subprocess.run(["pdftoppm", "-r", str(dpi), "-png", "-singlefile", path, TARGET / path.stem], check=True)


FAMILIES = (
    "relations",
    "distributions",
    "amounts",
    "parts",
    "time_series",
    "grids",
    "panels",
    "composed",
    "uncertainty",
    "annotation",
)


def families(folder: Path, names: list[str]) -> None:
    """A contact sheet for each family of examples."""
    examples = Path(__file__).parent.parent / "examples"
    for family in FAMILIES:
        if names and family not in names:
            continue
        made = folder / family
        subprocess.run([sys.executable, "-W", "ignore", examples / f"{family}.py", made], check=True)
        pages = []
        for path in sorted(made.glob("*.pdf")):
            subprocess.run(["pdftoppm", "-r", "130", "-png", "-singlefile", path, path.with_suffix("")], check=True)
            pages.append(Image.open(path.with_suffix(".png")).convert("RGB"))
        _sheet(pages).save(TARGET / f"examples-{family}.png", optimize=True)


def themes(folder: Path) -> None:
    """The same figure in every theme."""
    import warnings

    import facetine as ft
    from facetine.grammar.theme import THEMES

    warnings.simplefilter("ignore", ft.FacetineNote)
    book = {"moisture_pct": {"label": "Moisture", "unit": "%"}, "firmness_n": {"label": "Firmness", "unit": "N"}}
    wheels = ft.figure(ft.demo_data("wheels"), codebook=book).map(x="moisture_pct", y="firmness_n", color="rind")
    pages = []
    for theme in THEMES:
        large = 2 if theme == "lecture" else 1
        figure = wheels.points(opacity=0.85).trend().theme(theme).titles(f"The theme {theme}", note="Cellar trial")
        path = folder / f"{theme}.png"
        figure.export(path, width=80 * large, height=66 * large, dpi=140 / large)
        pages.append(Image.open(path).convert("RGB"))
    _sheet(pages).save(TARGET / "themes.png", optimize=True)


def palettes() -> None:
    """All palettes in all views."""
    facetine = Path(sys.executable).parent / "facetine"
    subprocess.run([facetine, "catalog", "palettes", "--figure", TARGET / "palettes.png"], check=True)


def _sheet(pages: list[Image.Image]) -> Image.Image:
    """Pictures side by side in two or three columns, each row as high as its highest."""
    columns = 3 if len(pages) > 4 else 2
    rows = [pages[start : start + columns] for start in range(0, len(pages), columns)]
    gap, width = 24, max(page.width for page in pages)
    heights = [max(page.height for page in row) for row in rows]
    sheet = Image.new("RGB", (columns * (width + gap) + gap, sum(heights) + gap * (len(rows) + 1)), "white")
    top = gap
    for row, height in zip(rows, heights, strict=True):
        for column, page in enumerate(row):
            sheet.paste(page, (gap + column * (width + gap), top))
        top += height + gap
    return sheet


def terminal(folder: Path) -> None:
    """A session of the command line in a terminal window."""
    display = ":97"
    server = subprocess.Popen(["Xvfb", display, "-screen", "0", "1280x380x24"], stderr=subprocess.DEVNULL)
    env = os.environ | {"DISPLAY": display, "PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}", "PS1": "$ "}
    draw = "facetine draw data/wheels.csv -m x=moisture_pct -m y=firmness_n -m color=rind"
    lines = [
        f"{draw} -o firmness.pdf -o firmness.svg",
        f"{draw.replace('rind', 'rnd')} -o firmness.pdf",
        "facetine export plan.toml --only grades",
        "facetine draw data/sales.csv -m x=month -m y=retail -o sales.svg --json",
    ]
    script = "; ".join(f"echo '$ {line}'; {line}; echo" for line in lines)
    try:
        time.sleep(1)
        window = subprocess.Popen(
            ["xterm", "-geometry", "141x20+0+0", "-fa", "DejaVu Sans Mono", "-fs", "11", "-bg", "white", "-fg", "#1c1f24",
             "-e", "bash", "-c", f"cd {folder}; {script}; touch done; sleep 30"], env=env,
        )  # fmt: skip
        for _ in range(200):
            if (folder / "done").exists():
                break
            time.sleep(0.2)
        time.sleep(1)
        subprocess.run(["import", "-window", "root", "-display", display, TARGET / "terminal.png"], check=True, env=env)
        window.terminate()
    finally:
        server.terminate()


def main() -> None:
    names = sys.argv[1:]
    TARGET.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp())
    try:
        if not names or set(names) - {*FAMILIES, "terminal", "themes", "palettes"}:
            figures(folder, names)
        families(folder, names)
        if not names or "themes" in names:
            themes(folder)
        if not names or "palettes" in names:
            palettes()
        if not names or "terminal" in names:
            terminal(folder)
    finally:
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
