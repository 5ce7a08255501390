"""Formats beside SVG, PDF and PNG: what each holds, and what it refuses."""

import gzip
import io
import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest
from conftest import SVG, laid_out, texts
from PIL import Image

import facetine as ft
from facetine.messages.errors import OptionError
from facetine.scene.letters import text_outline
from facetine.writers.formats import FORMATS, Options

WHEELS = ft.demo_data("wheels")
COLORED = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().titles("CO~2~ *and* salt")
GRAY = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points(color="#000000")
GRAY = GRAY.theme(text_color="#111111", tick_color="#555555", axis_color="#777777")


def opened(figure, suffix, **options):
    return Image.open(io.BytesIO(FORMATS[suffix].write(laid_out(figure).scene, Options(**options)).content))


@pytest.mark.parametrize("suffix", ["png", "tiff", "jpg", "webp"])
def test_pixels_are_those_of_the_png_at_their_resolution(suffix):
    image, plain = opened(COLORED, suffix, dpi=150), opened(COLORED, "png", dpi=150)
    assert image.size == plain.size == (502, plain.height)
    near = np.abs(np.asarray(image.convert("RGB"), int) - np.asarray(plain.convert("RGB"), int))
    assert near.max() == 0 if suffix != "jpg" else near.mean() < 2
    if suffix != "webp":
        assert float(image.info["dpi"][0]) == pytest.approx(150, abs=0.02)
    if suffix == "tiff":
        assert image.info["compression"] == "tiff_lzw"


@pytest.mark.parametrize("suffix", ["png", "tiff", "jpg"])
def test_a_figure_in_gray_has_one_channel(suffix):
    assert opened(GRAY, suffix).mode == "L"
    assert opened(COLORED, suffix).mode == "RGB"


@pytest.mark.parametrize("suffix", ["png", "tiff", "jpg", "webp"])
def test_a_profile_travels_along_where_it_is_asked_for(suffix):
    assert not opened(COLORED, suffix).info.get("icc_profile")
    for figure in (COLORED, GRAY):
        image = opened(figure, suffix, icc=True)
        assert image.mode in ("RGB", "P")
        assert b"sRGB" in image.info["icc_profile"].replace(b"\0", b"")
    twice = [FORMATS[suffix].write(laid_out(COLORED).scene, Options(72, icc=True)).content for _ in range(2)]
    assert twice[0] == twice[1]


@pytest.mark.parametrize("suffix", ["png", "tiff", "webp"])
def test_a_clear_sheet_is_clear(suffix):
    image = opened(COLORED, suffix, ground=False, dpi=72)
    assert image.mode == "RGBA"
    assert image.getpixel((1, 1))[3] == 0


def test_what_a_format_can_not_hold_is_refused(tmp_path):
    with pytest.raises(OptionError, match="which has a ground"):
        COLORED.export(tmp_path / "a.jpg", transparent=True)
    with pytest.raises(OptionError, match="formats of pixels"):
        COLORED.export(tmp_path / "a.svg", icc=True)
    with pytest.raises(OptionError, match="16,383"):
        COLORED.export(tmp_path / "a.webp", width="500 mm", height="60 mm", dpi=900)
    with pytest.raises(OptionError, match="Did you mean 'outline'"):
        COLORED.export(tmp_path / "a.svg", fonts="outlines")
    for suffix in ("pdf", "png", "webp"):
        with pytest.raises(OptionError, match=f"has no effect on .{suffix}"):
            COLORED.export(tmp_path / f"a.{suffix}", fonts="outline")
    assert not list(tmp_path.iterdir())
    assert len(COLORED.export(tmp_path / "b", formats=["pdf", "svgz"], fonts="embed").files) == 2
    with pytest.warns(ft.FacetineFinding, match="keeps no resolution"):
        COLORED.export(tmp_path / "a.webp", dpi=72)


def test_a_compressed_svg_is_the_svg():
    scene = laid_out(COLORED).scene
    plain, small = (FORMATS[suffix].write(scene, Options()).content for suffix in ("svg", "svgz"))
    assert gzip.decompress(small) == plain
    assert len(small) < 0.4 * len(plain)
    assert small == FORMATS["svgz"].write(scene, Options()).content


def test_outlined_letters_are_paths_that_say_what_they_read():
    scene = laid_out(COLORED).scene
    drawing = ET.fromstring(FORMATS["svg"].write(scene, Options(fonts="outline")).content)
    assert not texts(drawing)
    said = [path.get("aria-label") for path in drawing.iter(f"{SVG}path") if path.get("aria-label")]
    written = [text for text in scene.texts() if text.runs]
    assert said == [text.content for text in written]
    for text in written:
        if text.angle:
            continue
        numbers = np.array([float(n) for n in re.findall(r"-?\d+\.\d+", text_outline(text))])
        if len(numbers):
            across = numbers[::2] + text.x
            assert across.min() >= text.box.x - 0.2 * text.box.height
            assert across.max() <= text.box.right + 0.2 * text.box.height
