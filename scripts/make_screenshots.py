"""Remake docs/screenshots from the demo data.

    python scripts/make_screenshots.py [NAME ...]

Figures are exported by Facetine itself; the terminal is a real one, photographed on a virtual screen (Debian's
packages xvfb, xterm and imagemagick). Other readers of the files are Debian's poppler-utils, mupdf-tools, librsvg2-bin,
ghostscript, chromium and libreoffice-writer with libreoffice-draw.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from PIL import Image, ImageChops

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
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
    for family in FAMILIES:
        if names and family not in names:
            continue
        _sheet(_pages(folder, family, 130)).save(TARGET / f"examples-{family}.png", optimize=True)


def _pages(folder: Path, name: str, dpi: int) -> list[Image.Image]:
    """The figures that a script of examples makes, as pictures."""
    script, made = Path(__file__).parent.parent / "examples" / f"{name}.py", folder / name
    subprocess.run([sys.executable, "-W", "ignore", script, made], check=True)
    pages = []
    for path in sorted(made.glob("*.pdf")):
        subprocess.run(["pdftoppm", "-r", str(dpi), "-png", "-singlefile", path, path.with_suffix("")], check=True)
        pages.append(Image.open(path.with_suffix(".png")).convert("RGB"))
    return pages


def small(folder: Path, name: str, columns: int) -> None:
    """The small figures of a page: of each layer, of each recipe."""
    _sheet(_pages(folder, name, 110), columns).save(TARGET / f"{name}.png", optimize=True)


def pages(topic: str) -> None:
    """A page of the catalog: every layer, or one figure in every theme."""
    import warnings

    import facetine as ft

    warnings.simplefilter("ignore", ft.FacetineFinding)
    ft.catalog(topic).figure().export(TARGET / f"{topic}.png", dpi=150)


def runs(folder: Path) -> None:
    """The page of the demo's run on a light ground, the page about a table on a dark one, chosen rows, a view of a year, and what two brushes keep."""
    import facetine as ft

    facetine = Path(sys.executable).parent / "facetine"
    demo = folder / "runs"
    subprocess.run([facetine, "demo", demo, "--quiet"], check=True)
    look = [facetine, "inspect", "data/wheels.csv", "--report", "look.html"]
    subprocess.run(look, check=True, capture_output=True, cwd=demo)
    wheels = ft.demo_data("wheels")
    book = {"firmness_n": {"label": "Firmness", "unit": "N"}, "moisture_pct": {"label": "Moisture", "unit": "%"}}
    base = ft.figure(wheels, codebook=book).map(x="age_days", y="firmness_n", color="rind").points()
    plate = ft.plate([[base], [base.map(x="moisture_pct", y="ph")]], letters="A").titles("The chosen wheels in both figures")
    plate.export(demo / "chosen.html", width="200 mm", height="190 mm")
    old = wheels[(wheels["age_days"].between(75, 170)) & (wheels["firmness_n"] > 30)].index
    state = f"#rows=0:{','.join(map(str, old))}"
    late = wheels[wheels["age_days"] > 150].index
    shots = []
    dark = ["--blink-settings=preferredColorScheme=0"]
    for page, after, more in (
        ("figures/index.html", "", []),
        ("look.html", "", dark),
        ("chosen.html", state, []),
        ("figures/seasons.html", "", []),
        ("figures/ripening.html", "", []),
        ("figures/ripening.html", f"#ages=0:{','.join(map(str, late))}", []),
    ):
        shot = demo / f"{len(shots)}.png"
        options = ["--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=1240,1500", *more]
        options.append("--virtual-time-budget=3000")
        command = ["chromium", *options, f"--screenshot={shot}", (demo / page).absolute().as_uri() + after]
        subprocess.run(command, check=True, capture_output=True)
        shots.append(Image.open(shot).convert("RGB"))
    sheet = _sheet(shots, 2)
    sheet.resize((1640, round(1640 * sheet.height / sheet.width))).save(TARGET / "pages.png", optimize=True)


def palettes() -> None:
    """All palettes in all views."""
    facetine = Path(sys.executable).parent / "facetine"
    subprocess.run([facetine, "catalog", "palettes", "--figure", TARGET / "palettes.png"], check=True)


def checked(folder: Path) -> None:
    """The numbered sheet of a figure that a check has much to say of."""
    facetine = Path(sys.executable).parent / "facetine"
    subprocess.run([facetine, "demo", folder / "checked", "--quiet"], check=True)
    data = folder / "checked" / "data" / "wheels.csv"
    mapped = ["-m", "x=rind", "-m", "y=mass_kg", "-m", "color=milk", "-l", "boxes", "-l", "points:arrange=jitter,size=3"]
    subprocess.run(
        [facetine, "check", data, *mapped, "--profile", "slide", "--figure", TARGET / "checked.png", "--quiet"], check=False
    )


def readers(folder: Path) -> None:
    """One figure in all vector formats, each through another program; a proof in four inks and one in gray; a document's page."""
    import warnings

    import facetine as ft

    warnings.simplefilter("ignore", ft.FacetineFinding)
    book = {"moisture_pct": {"label": "Moisture", "unit": "%"}, "firmness_n": {"label": "Firmness", "unit": "N"}}
    wheels = ft.figure(ft.demo_data("wheels"), codebook=book).map(x="moisture_pct", y="firmness_n", color="rind", shape="rind")
    base = wheels.points(opacity=0.6).trend("linear").sheet("80 mm", "66 mm")
    asked = ["-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-sDEVICE=png16m", "-r140", "-dTextAlphaBits=4", "-dGraphicsAlphaBits=4"]
    chromium = ["chromium", "--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", "--window-size=302,249"]
    chromium.append("--force-device-scale-factor=1.46")
    programs: dict[str, tuple[str, list[str]]] = {
        "PDF, in poppler": ("pdf", ["pdftoppm", "-r", "140", "-png", "-singlefile", "IN", "OUT"]),
        "PDF, in MuPDF": ("pdf", ["mutool", "draw", "-q", "-r", "140", "-o", "OUT.png", "IN"]),
        "SVG, in a browser": ("svg", [*chromium, "--screenshot=OUT.png", "IN"]),
        "SVG, in librsvg": ("svg", ["rsvg-convert", "-d", "140", "-p", "140", "-b", "white", "-o", "OUT.png", "IN"]),
        "EPS, in Ghostscript": ("eps", ["gs", *asked, "-dEPSCrop", "-sOutputFile=OUT.png", "IN"]),
        "EMF, in a word processor": ("emf", ["soffice", "--headless", "--convert-to", "pdf", "--outdir", "FOLDER", "IN"]),
        "Four inks, in Ghostscript": ("pdf", ["gs", *asked, "-sOutputFile=OUT.png", "IN"]),
        "Gray, in Ghostscript": ("pdf", ["gs", *[one.replace("16m", "gray") for one in asked], "-sOutputFile=OUT.png", "IN"]),
    }
    pages = []
    for number, (title, (suffix, command)) in enumerate(programs.items()):
        path, out = folder / f"{number}.{suffix}", folder / f"{number}"
        options = {"fonts": "embed"} if "browser" in title else {"fonts": "outline"} if suffix == "svg" else {}
        base.titles(title).export(path, **(options | ({"colors": "cmyk"} if "inks" in title else {})))
        known = {"IN": str(path), "OUT": str(out), "FOLDER": str(folder)}
        filled = [known.get(one, one.replace("OUT", str(out))) for one in command]
        subprocess.run(filled, check=True, capture_output=True)
        if suffix == "emf":
            subprocess.run(["pdftoppm", "-r", "140", "-png", "-singlefile", out.with_suffix(".pdf"), out], check=True)
        page = Image.open(out.with_suffix(".png")).convert("RGB")
        if suffix == "emf":
            page = page.crop(ImageChops.invert(page).getbbox())
        pages.append(page if page.width < 500 else page.resize((441, 364)))
    document = folder / "report.docx"
    ft.into_document(document, {"Figure 1": base.titles("Firmness falls", note="Cellar trial, 240 wheels.")})
    subprocess.run(
        ["soffice", "--headless", "--convert-to", "pdf", "--outdir", folder, document], check=True, capture_output=True
    )
    subprocess.run(["pdftoppm", "-r", "72", "-png", "-singlefile", folder / "report.pdf", folder / "report"], check=True)
    pages.append(Image.open(folder / "report.png").convert("RGB").crop((60, 40, 501, 404)))
    _sheet(pages).save(TARGET / "readers.png", optimize=True)


def _sheet(pages: list[Image.Image], columns: int = 0) -> Image.Image:
    """Pictures side by side, in two or three columns where nothing is said, each row as high as its highest."""
    columns = columns or (3 if len(pages) > 4 else 2)
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
    folder = folder / "terminal"
    subprocess.run([Path(sys.executable).parent / "facetine", "demo", folder, "--quiet"], check=True)
    display = ":97"
    server = subprocess.Popen(["Xvfb", display, "-screen", "0", "1280x800x24"], stderr=subprocess.DEVNULL)
    env = os.environ | {"DISPLAY": display, "PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}", "PS1": "$ "}
    draw = "facetine draw data/wheels.csv -m x=moisture_pct -m y=firmness_n -m color=rind"
    lines = [
        "facetine inspect data/wheels.csv",
        f"{draw.replace('rind', 'rnd')} -o firmness.pdf",
        f"{draw} -o firmness.pdf -o firmness.svg",
        "sed -i 's/Old wheels/Wheels of age/' plan.toml",
        "facetine export plan.toml",
        "facetine export plan.toml --only grdes",
    ]
    script = "; ".join(f"echo '$ {line}'; {line}; echo" for line in lines)
    try:
        time.sleep(1)
        window = subprocess.Popen(
            ["xterm", "-geometry", "158x52+0+0", "-fa", "DejaVu Sans Mono", "-fs", "9", "-bg", "white", "-fg", "#1c1f24",
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
        families(folder, names)
        for name, columns in (("cookbook", 3), ("working", 5)):
            if not names or name in names:
                small(folder, name, columns)
        for topic in ("layers", "themes"):
            if not names or topic in names:
                pages(topic)
        if not names or "palettes" in names:
            palettes()
        if not names or "pages" in names:
            runs(folder)
        if not names or "checked" in names:
            checked(folder)
        if not names or "readers" in names:
            readers(folder)
        if not names or "terminal" in names:
            terminal(folder)
    finally:
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
