"""Other programs open the files and see the same picture: poppler, MuPDF, librsvg, Ghostscript and xmllint, where they are installed."""

import gzip
import io
import shutil
import subprocess
import warnings
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from conftest import laid_out, placed_forms, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from writers.test_opaque import records

import facetine as ft
from facetine.export.export import built, contents
from facetine.scene.markup import clean
from facetine.writers.formats import FORMATS, Options
from facetine.writers.raster import image_of

pytestmark = pytest.mark.readers
WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS)
SIZE = ("3.3 in", "2.9 in")
PER = 240
FAMILIES = {
    "points": BASE.map(x="age_days", y="mass_kg", color="rind").points(opacity=0.5),
    # Where hundreds of small borders lie on each other, the edges of two rasterisers add up.
    "markers": ft.figure(WHEELS.head(120)).map(x="age_days", y="mass_kg", shape="rind").points(size=4, outline="black"),
    "lines": ft.figure(ft.demo_data("sales")).map(x="month", y="retail").lines().areas(opacity=0.3),
    "bars": BASE.map(x="cellar", color="rind").bars(value_labels="{count}"),
    "histogram": BASE.map(x="mass_kg", color="brushed").histogram(arrange="overlay", opacity=0.5),
    "boxes": BASE.map(x="rind", y="mass_kg").boxes(notches=True),
    "violins": BASE.map(x="milk", y="ph").violins(),
    "intervals": BASE.map(x="milk", y="ph", color="brushed").intervals(),
    "trend": BASE.map(x="age_days", y="mass_kg").points(size=2).trend("loess"),
    "cells": BASE.map(x="cellar", y="rind").cells(value_labels="{count}"),
    "contours": BASE.map(x="age_days", y="mass_kg").contours(),
    "color bar": BASE.map(x="age_days", y="mass_kg", color="ph").points().theme("field"),
    "panels": BASE.map(x="age_days", y="mass_kg", color="rind").points().facet("cellar").titles("CO~2~ *and* salt"),
    "dark": BASE.map(x="mass_kg", color="milk").density().theme("basalt"),
}

JITTERED = BASE.map(x="rind", y="mass_kg", color="milk").boxes().points(arrange="jitter", opacity=0.5)
BANDS = BASE.map(x="moisture_pct", y="firmness_n", color="rind").points(opacity=0.6).trend("linear")


def needs(program):
    if shutil.which(program) is None:
        pytest.skip(f"no {program} on this machine")


def opened(name):
    return np.asarray(Image.open(io.BytesIO(Path(name).read_bytes())).convert("RGB"), int)


def poppler():
    needs("pdftoppm")
    subprocess.run(["pdftoppm", "-r", str(PER), "-png", "-singlefile", "a.pdf", "poppler"], check=True)
    return opened("poppler.png")


def mupdf():
    needs("mutool")
    subprocess.run(["mutool", "draw", "-q", "-r", str(PER), "-o", "mupdf.png", "a.pdf"], check=True, capture_output=True)
    return opened("mupdf.png")


def ghostscript():
    needs("gs")
    command = ["gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-dEPSCrop", "-sDEVICE=png16m", f"-r{PER}", "-dTextAlphaBits=4"]
    subprocess.run([*command, "-dGraphicsAlphaBits=4", "-sOutputFile=gs.png", "a.eps"], check=True)
    return opened("gs.png")


def librsvg():
    needs("rsvg-convert")
    subprocess.run(
        ["rsvg-convert", "-w", str(int(3.3 * PER)), "-h", str(int(2.9 * PER)), "-b", "white", "-o", "rsvg.png", "a.svg"],
        check=True,
    )
    return opened("rsvg.png")


def unlike(one, other):
    """The share of pixels that differ by more than 32 of 255 where the two pictures lie best on each other.

    A pixel is compared with the nearest in its neighbourhood, since edges of two rasterisers fall on either side of one.
    """
    rows, columns = (min(one.shape[axis], other.shape[axis]) for axis in (0, 1))
    one, other = one[:rows, :columns], other[:rows, :columns]
    shares = []
    for down in (-1, 0, 1):
        for across in (-1, 0, 1):
            moved = np.roll(other, (down, across), (0, 1))
            shares.append(np.abs(one - moved).max(axis=2))
    return float((np.min(shares, axis=0) > 32).mean())


READERS = (poppler, mupdf, librsvg, ghostscript)
# Each family through three of the four, by turns.
SEEN = [(name, reader) for place, name in enumerate(FAMILIES) for turn, reader in enumerate(READERS) if turn != place % 4]


@pytest.mark.parametrize(("name", "reader"), SEEN, ids=lambda one: one if isinstance(one, str) else one.__name__)
def test_every_reader_sees_the_same_picture(name, reader):
    figure = FAMILIES[name]
    options = {"fonts": "outline"} if reader is librsvg else {}
    suffix = {"librsvg": "svg", "ghostscript": "eps"}.get(reader.__name__, "pdf")
    quietly(figure.export, f"a.{suffix}", width=SIZE[0], height=SIZE[1], **options)
    seen = reader()
    own = np.asarray(image_of(laid_out(figure, *SIZE).scene, dpi=PER).convert("RGB"), int)
    assert max(abs(seen.shape[axis] - own.shape[axis]) for axis in (0, 1)) <= 1
    assert unlike(own, seen) < 0.01


@pytest.mark.parametrize("figure", [JITTERED, BANDS], ids=["boxes", "bands"])
def test_an_office_program_sees_the_same_emf(figure):
    needs("soffice")
    needs("pdftoppm")
    quietly(figure.export, "office.emf", width=SIZE[0], height=SIZE[1])
    command = ["soffice", "-env:UserInstallation=file://" + str(Path("profile").resolve()), "--headless", "--convert-to", "pdf"]
    subprocess.run([*command, "office.emf"], capture_output=True, check=True, timeout=120)
    if not Path("office.pdf").exists():
        pytest.skip("no drawing program among those of the office")
    subprocess.run(["pdftoppm", "-r", str(PER), "-png", "-singlefile", "office.pdf", "office"], check=True)
    seen = Image.fromarray(opened("office.png").astype(np.uint8))
    own = image_of(laid_out(figure, *SIZE).scene, dpi=PER).convert("RGB")
    # Its letters differ in width: pictures are compared where marks are, by colors of places that are a millimetre wide.
    place = laid_out(figure, *SIZE).layout.panels[0].box
    blurred = []
    for picture in (seen, own):
        colored = np.asarray(picture, int)
        inked = np.argwhere(np.ptp(colored, axis=2) > 40)
        (top, left), (bottom, right) = inked.min(axis=0), inked.max(axis=0)
        cut = picture.crop((int(left), int(top), int(right), int(bottom)))
        blurred.append(np.asarray(cut.resize((int(place.width / 3), int(place.height / 3)), Image.Resampling.BOX), int))
    far = np.abs(blurred[0] - blurred[1]).max(axis=2)
    assert (far > 60).mean() < 0.02


@pytest.mark.parametrize("name", ["points", "panels", "color bar"])
def test_an_svg_is_well_formed_for_others(name):
    needs("xmllint")
    for options in ({}, {"fonts": "embed"}, {"fonts": "outline"}, {"data": "embed"}):
        quietly(FAMILIES[name].export, "a.svg", **options)
        done = subprocess.run(["xmllint", "--noout", "a.svg"], capture_output=True, text=True, check=False)
        assert (done.returncode, done.stderr) == (0, "")


def test_every_font_of_a_pdf_is_embedded_and_cut_down():
    needs("pdffonts")
    quietly(FAMILIES["panels"].export, "a.pdf")
    lines = subprocess.run(["pdffonts", "a.pdf"], capture_output=True, text=True, check=True).stdout.splitlines()[2:]
    assert len(lines) >= 3
    assert all(line[7:24].strip() and " yes yes yes " in line for line in lines)


def test_no_glyph_is_used_as_a_marker():
    quietly(FAMILIES["markers"].export, ["a.pdf", "a.svg"])
    with pikepdf.open("a.pdf") as document:
        operators = pikepdf.parse_content_stream(document.pages[0])
    depth, names, shown = [], {}, 0
    with pikepdf.open("a.pdf") as document:
        for key, layer in document.pages[0].Resources.Properties.items():
            names[str(key)] = str(layer.Name)
    for operands, operator in operators:
        if str(operator) == "BDC":
            depth.append(names.get(str(operands[1]), "") if str(operands[0]) == "/OC" else "")
        elif str(operator) == "BMC":
            depth.append("")
        elif str(operator) == "EMC":
            depth.pop()
        elif str(operator) in ("Tj", "TJ"):
            shown += "Points" in depth
    assert shown == 0
    root = ET.parse("a.svg").getroot()
    (layer,) = [one for one in root.iter("{http://www.w3.org/2000/svg}g") if (one.get("id") or "").endswith("layer-1-points")]
    assert not list(layer.iter("{http://www.w3.org/2000/svg}text"))


def test_every_point_comes_back_from_the_pdf_in_its_layer():
    figure = FAMILIES["points"].facet("cellar")
    quietly(figure.export, "a.pdf", width="85 mm", height="90 mm")
    made = laid_out(figure, "85 mm", "90 mm")
    places = {}
    with pikepdf.open("a.pdf") as document:
        for layers, _, x, y in placed_forms(document):
            if "Points" in layers:
                places.setdefault(next(one for one in layers if one in set(WHEELS["cellar"])), []).append((x, y))
    x, y = made.scales.first("x").extent, made.scales.first("y").extent
    boxes = {panel.panel.name: panel.box for panel in made.layout.panels}
    assert set(places) == set(WHEELS["cellar"])
    for cellar, found in places.items():
        rows = WHEELS[WHEELS["cellar"] == cellar]
        box = boxes[cellar]
        across = box.x + x.share(rows.age_days.to_numpy(float)) * box.width
        up = made.scene.height - (box.bottom - y.share(rows.mass_kg.to_numpy(float)) * box.height)
        true = np.array(sorted(zip(across, up, strict=True)))
        assert np.allclose(np.array(sorted(found)), true, atol=0.0101)


HOSTILE = [
    "<&>\"'",
    "(\\)",
    "%PDF",
    "]]>",
    "\u202eabc",
    "\ud83e\uddc0",
    "a\x00b",
    "line\nbreak",
    "é\u0301",
    "\\u0041 {\\rtf1",
    "--></svg>",
]


@settings(max_examples=20, deadline=None)
@given(st.one_of(st.sampled_from(HOSTILE), st.text(min_size=1, max_size=24)), st.text(max_size=12))
def test_hostile_texts_leave_every_format_whole(hostile, more):
    name = "column" if not hostile.strip() else hostile
    figure = ft.figure({name: [1.0, 2.0], "k": [hostile, "other"]}).map(x=name, y=name, color="k").points()
    figure = figure.titles(hostile.replace("\\", "\\\\"), note=more.replace("\\", "\\\\"))
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        made = built(figure._sentence, "60 mm", "50 mm").described_as(clean(hostile))
    files = {suffix: contents(made, suffix, Options(40))[0].content for suffix in FORMATS}
    ET.fromstring(files["svg"])
    assert gzip.decompress(files["svgz"]) == files["svg"]
    with pikepdf.open(io.BytesIO(files["pdf"])) as document:
        assert len(document.pages) == 1
        assert not document.check_pdf_syntax()
        pikepdf.parse_content_stream(document.pages[0])
    assert records(files["emf"])
    assert files["eps"].isascii()
    for suffix in ("png", "tiff", "jpg", "webp"):
        Image.open(io.BytesIO(files[suffix])).load()


@pytest.mark.parametrize("hostile", HOSTILE)
def test_hostile_texts_leave_an_eps_for_others(hostile):
    needs("gs")
    figure = ft.figure({hostile: [1.0, 2.0], "k": [hostile, "other"]}).map(x=hostile, y=hostile, color="k").points()
    quietly(figure.titles(hostile.replace("\\", "\\\\")).export, "a.eps")
    done = subprocess.run(
        ["gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-sDEVICE=nullpage", "a.eps"], capture_output=True, check=False
    )
    assert (done.returncode, done.stdout) == (0, b"")


def test_texts_stand_in_the_file_in_the_order_in_which_they_are_read():
    needs("pdftotext")
    figure = FAMILIES["panels"].titles("First", subtitle="Second", x="Age", y="Mass", note="Last")
    quietly(figure.export, "a.pdf", width="120 mm")
    found = subprocess.run(["pdftotext", "-raw", "a.pdf", "-"], capture_output=True, text=True, check=True).stdout
    places = [found.index(words) for words in ("First", "Second", "Mass", "Age", "Loft", "Rind", "Last")]
    assert places == sorted(places)
