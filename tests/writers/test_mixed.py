"""Layers of very many marks as images inside vector files, and quick pixels."""

import base64
import io
import re
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from conftest import SVG, group, laid_out, texts
from core.test_raster import covered
from PIL import Image

import facetine as ft
from facetine.export.export import contents
from facetine.messages.errors import OptionError
from facetine.scene.marks import Bitmap, Group
from facetine.writers.formats import FORMATS, Options
from facetine.writers.mixed import mixed
from facetine.writers.pdf import pdf
from facetine.writers.pixel_grid import MANY
from facetine.writers.raster import _rendered, image_of

RNG = np.random.default_rng(8)
FEW, MUCH = 300, 21_000
XLINK = "{http://www.w3.org/1999/xlink}href"


def cloud(count, **options):
    rng = np.random.default_rng(count)
    data = {"a": rng.normal(size=count), "b": rng.normal(size=count), "c": rng.integers(0, 3, count)}
    return ft.figure(data).kinds(c="category").map(x="a", y="b", color="c").points(**options).theme("field")


def svg(figure, **options):
    made = laid_out(figure)
    return ET.fromstring(contents(made, "svg", Options(**options))[0].content)


def pictures(root):
    return list(root.iter(f"{SVG}image"))


def pixels(image):
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(image.get(XLINK).partition(",")[2]))), float)


def test_a_heavy_layer_becomes_an_image_and_all_else_stays_vectors():
    figure = cloud(MUCH).titles("Many")
    plain, made = svg(figure), svg(figure, rasterize="auto")
    (image,) = pictures(made)
    assert image in list(group(made, "panel-1-layer-1-points").iter())
    assert texts(made) == texts(plain)
    assert len(list(group(made, "panel-1-hairlines").iter(f"{SVG}path"))) == 1
    assert not list(group(made, "panel-1-layer-1-points").iter(f"{SVG}circle"))
    assert not pictures(svg(cloud(FEW), rasterize="auto"))
    assert len(pictures(svg(cloud(FEW), rasterize=True))) == 1
    assert not pictures(svg(figure))


def test_a_layer_says_for_itself():
    assert len(pictures(svg(cloud(FEW, rasterize=True)))) == 1
    assert not pictures(svg(cloud(MUCH, rasterize=False), rasterize="auto"))
    (image,) = pictures(svg(cloud(FEW, rasterize=96)))
    width = float(image.get("width"))
    assert pixels(image).shape[1] == pytest.approx(width * 96 / 72, abs=0.02)
    both = cloud(FEW, rasterize=True).trend("linear")
    assert len(pictures(svg(both))) == 1
    assert ft.from_dict(both.to_dict(), {"a": [1.0, 2], "b": [1.0, 2], "c": [1, 2]}).to_dict() == both.to_dict()


def test_resolution_is_that_of_the_export():
    for dpi in (150, 300):
        (image,) = pictures(svg(cloud(FEW), rasterize=True, dpi=dpi))
        assert pixels(image).shape[1] == pytest.approx(float(image.get("width")) * dpi / 72, abs=0.02)
    (image,) = pictures(svg(cloud(FEW), rasterize=120.0, dpi=300))
    assert pixels(image).shape[1] == pytest.approx(float(image.get("width")) * 120 / 72, abs=0.02)


@pytest.mark.slow
@pytest.mark.parametrize("opacity", [1.0, 0.5])
def test_fifty_thousand_points_are_those_of_the_vector_form(opacity):
    """Against the circles of the SVG, laid over each other one by one with areas in closed form."""
    count, dpi = 50_000, 300
    figure = cloud(count, opacity=opacity)
    circles = [
        (float(c.get("cx")), float(c.get("cy")), c.get("fill"))
        for c in group(svg(figure), "panel-1-layer-1-points").iter(f"{SVG}circle")
    ]
    radius = float(next(group(svg(figure), "panel-1-layer-1-points").iter(f"{SVG}circle")).get("r")) * dpi / 72
    (image,) = pictures(svg(figure, rasterize=True, dpi=dpi))
    left, top = (float(image.get(name)) * dpi / 72 for name in ("x", "y"))
    made = pixels(image)
    # A part of the picture is enough: it is compared pixel by pixel.
    box = np.array([made.shape[1] // 2 - 30, made.shape[0] // 2 - 20])
    at = np.array([(x, y) for x, y, _ in circles]) * dpi / 72 - (left, top) - box
    near = (np.abs(at - (30, 20)) < (30 + radius + 1, 20 + radius + 1)).all(axis=1)
    canvas = np.ones((40, 60, 3))
    reach = int(np.ceil(radius)) + 1
    for (x, y), fill in zip(at[near], np.array([fill for *_, fill in circles])[near], strict=True):
        x0, y0 = max(int(np.floor(x)) - reach, 0), max(int(np.floor(y)) - reach, 0)
        x1, y1 = min(int(np.floor(x)) + reach + 1, 60), min(int(np.floor(y)) + reach + 1, 40)
        if x0 >= x1 or y0 >= y1:
            continue
        alpha = opacity * covered(radius, np.arange(x0, x1)[None] + 0.5 - x, np.arange(y0, y1)[:, None] + 0.5 - y)
        color = np.array([int(fill[i : i + 2], 16) / 255 for i in (1, 3, 5)])
        canvas[y0:y1, x0:x1] += alpha[..., None] * (color - canvas[y0:y1, x0:x1])
    part = made[box[1] : box[1] + 40, box[0] : box[0] + 60] / 255
    shown = part[..., :3] * part[..., 3:] + 1 - part[..., 3:]
    # One step of eight bits, and half a step each for the color and the opacity of the picture.
    assert np.abs(shown - canvas).max() <= 1 / 255
    assert np.abs(shown - canvas).mean() <= 0.5 / 255


@pytest.mark.parametrize(
    "options", [{}, {"shape": "hexagon", "outline": "black", "size": 4}, {"shape": "cross"}, {"opacity": 0.4}]
)
def test_quick_pixels_look_like_those_of_the_vectors(options):
    scene = laid_out(cloud(MUCH, **options), "84.667 mm", "60.96 mm").scene
    own = np.asarray(image_of(scene, dpi=150).convert("RGB"))
    vectors = _rendered(pdf(scene), own.shape[1], own.shape[0], False)
    assert own.shape == vectors.shape
    coarse = [np.asarray(Image.fromarray(image).reduce(4), int) for image in (own, vectors)]
    # Rasterisers differ at edges; what lies where, and in which color, they do not.
    assert np.abs(coarse[0] - coarse[1]).mean() < 2.5
    assert (np.abs(coarse[0] - coarse[1]).max(axis=2) > 48).mean() < 0.01


def test_a_long_line_is_the_same_in_fewer_vertices():
    count = 400_000
    figure = ft.figure({"t": np.arange(count), "v": np.cumsum(RNG.normal(size=count))}).map(x="t", y="v").lines()
    scene = laid_out(figure, "60 mm", "40 mm").scene
    own = np.asarray(image_of(scene, dpi=150).convert("L"), int)
    vectors = np.asarray(Image.fromarray(_rendered(pdf(scene), own.shape[1], own.shape[0], False)).convert("L"), int)
    # Where a line turns thousands of times in a pixel, rasterisers differ from themselves at another scale by more.
    assert np.abs(own - vectors).mean() < 1
    assert (np.abs(own - vectors) > 24).mean() < 0.01


@pytest.mark.parametrize("layer", ["lines", "areas", "cells", "bars"])
def test_layers_of_any_kind_become_images(layer):
    data = {"a": [1.0, 2, 3, 4], "b": [2.0, 1, 3, 2]}
    figure = getattr(ft.figure(data).map(x="a", y="b"), layer)(rasterize=True)
    (image,) = pictures(svg(figure))
    shown = pixels(image)
    assert shown[..., 3].max() == 255
    assert shown[..., 3].min() == 0 or layer in ("cells", "bars")


def test_texts_of_a_layer_stay_texts():
    figure = ft.figure({"k": ["u", "v"], "n": [3.0, 5]}).map(x="k", y="n").bars(value_labels="{y:.1f}", rasterize=True)
    assert {"3.0", "5.0"} <= set(texts(svg(figure)))


def test_a_pdf_holds_the_image_with_its_opacity_and_the_note_says_so():
    with pytest.warns(ft.FacetineFinding, match="1 layer drawn as an image inside the vectors"):
        cloud(MUCH).export("a.pdf", rasterize="auto", dpi=150)
    with pikepdf.open("a.pdf") as document:
        images = [thing for thing in document.pages[0].Resources.XObject.values() if thing.Subtype == "/Image"]
        assert len(images) == 1
        assert int(images[0].SMask.Width) == int(images[0].Width)
    assert Path("a.pdf").stat().st_size < 300_000


def test_formats_without_opacity_take_what_lies_below_into_the_image():
    scene = laid_out(cloud(MUCH)).scene
    changed, count = mixed(scene, "auto", 150)
    assert count == 1
    written = FORMATS["eps"].write(changed, Options(dpi=150))
    assert any("150 dpi" in note for note in written.notes)


def test_a_window_cuts_the_image():
    figure = (
        ft.figure({"a": np.arange(50.0), "b": np.arange(50.0)})
        .map(x="a", y="b")
        .lines(rasterize=True)
        .scale("y", limits=(10, 20))
    )
    made = laid_out(figure)
    (image,) = pictures(ET.fromstring(contents(made, "svg", Options())[0].content))
    box = made.layout.panels[0].box
    assert float(image.get("y")) >= box.y - 0.5
    assert float(image.get("y")) + float(image.get("height")) <= box.bottom + 0.5


@pytest.mark.parametrize("given", ["always", 5, -1, None, [300]])
def test_what_is_no_resolution_is_refused(given):
    if given is not None:
        with pytest.raises(OptionError, match="rasterize"):
            cloud(FEW, rasterize=given)
    with pytest.raises(OptionError, match="rasterize"):
        cloud(FEW).export("never.svg", rasterize=given)
    assert not Path("never.svg").exists()


def test_the_limit_is_a_number_of_marks():
    def count(figure):
        def walk(inner):
            return sum(walk(item) if isinstance(item, Group) else isinstance(item, Bitmap) for item in inner.items)

        return walk(mixed(laid_out(figure).scene, "auto", 72)[0].root)

    assert count(cloud(MANY)) == 0
    assert count(cloud(MANY + 1)) == 1
    assert re.match(r"20[_,]?000", f"{MANY:,}")
