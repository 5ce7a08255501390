"""Shapes of points: apart when small, the same in all formats, and said for single categories."""

from itertools import combinations

import numpy as np
import pytest
from conftest import SVG, laid_out, svg_of
from PIL import Image

import facetine as ft
from facetine.grammar.scale import SHAPES
from facetine.messages.errors import OptionError, ScaleError
from facetine.scene.shapes import HOLLOW, OUTLINES

WHEELS = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="ph", shape="rind").points()


def picture(shape, size, dpi):
    """The ink of one marker, shape (n, n), from 0 to 1."""
    figure = ft.figure({"a": [0.0], "b": [0.0]}).map(x="a", y="b").points(shape=shape, size=size, color="black")
    figure.theme(axes=False).titles(x="", y="").export("one.png", width="20 mm", height="20 mm", dpi=dpi)
    ink = 1 - np.asarray(Image.open("one.png").convert("L"), float) / 255
    row, column = (int(np.average(np.arange(len(ink)), weights=ink.sum(axis=axis))) for axis in (1, 0))
    half = round(1.1 * size / 72 * dpi)
    return ink[row - half : row + half + 1, column - half : column + half + 1]


def test_there_are_twelve_shapes_at_least_and_all_can_be_drawn():
    assert len(SHAPES) >= 12
    assert set(SHAPES) == {*OUTLINES, *HOLLOW}


def test_shapes_stay_apart_at_three_points():
    # A hexagon is a disc so small, and comes eighth.
    drawn = {shape: picture(shape, 3, 600) for shape in SHAPES if shape != "hexagon"}
    assert len(drawn) >= 12
    for one, other in combinations(drawn, 2):
        first, second = drawn[one], drawn[other]
        apart = np.abs(first - second).sum() / min(first.sum(), second.sum())
        assert apart > 0.15, (one, other, apart)


@pytest.mark.parametrize("suffix", ["svg", "pdf", "eps", "emf", "png"])
def test_all_shapes_go_out_in_all_formats(suffix):
    data = {"x": range(len(SHAPES)), "s": SHAPES}
    figure = ft.figure(data).map(x="x", y="x", shape="s").points().scale("shape", shapes={shape: shape for shape in SHAPES})
    figure.export(f"a.{suffix}", width="120 mm")
    if suffix == "svg":
        assert len({one.get("d") for one in svg_of(figure, 120).iter(f"{SVG}path")}) >= len(SHAPES) - 2


def test_single_categories_may_be_given_a_shape():
    values = dict(
        zip(
            ("bloomy", "natural", "washed", "waxed"),
            laid_out(WHEELS.scale("shape", shapes={"washed": "open_disc"})).scales.looks["shape"].values,
            strict=True,
        )
    )
    assert values == {"bloomy": "disc", "natural": "triangle", "washed": "open_disc", "waxed": "diamond"}
    plain = WHEELS.scale("shape", shapes={"washed": "open_disc"}).to_dict()
    assert ft.from_dict(plain, ft.demo_data("wheels")).to_dict() == plain
    lines = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", dash="cellar").lines(aggregate="mean")
    assert laid_out(lines.scale("dash", dashes={"Quarry": "dotted"})).scales.looks["dash"].values[2] == "dotted"


@pytest.mark.parametrize(("shapes", "error", "said"), [
    ({"wached": "open_disc"}, OptionError, "shapes: no category 'wached'. Did you mean 'washed'"),
    ({"washed": "star"}, OptionError, r"shapes\['washed'\]: can't be 'star'"),
    (["disc", "open_disc"], ScaleError, "'rind' has 4 categories, but there are 2 shapes"),
])  # fmt: skip
def test_shapes_that_are_none_are_refused(shapes, error, said):
    with pytest.raises(error, match=said):
        laid_out(WHEELS.scale("shape", shapes=shapes))


@pytest.mark.parametrize("shape", SHAPES)
def test_intervals_show_every_shape(shape):
    figure = ft.figure(ft.demo_data("wheels")).map(x="rind", y="ph")
    bare, marked = (picture_of(figure.intervals(shape=name, size=size)) for name, size in ((shape, 0), (shape, 8)))
    assert np.abs(bare - marked).sum() > 100


def picture_of(figure):
    figure.export("two.png", width="60 mm", height="40 mm", dpi=200)
    return 1 - np.asarray(Image.open("two.png").convert("L"), float) / 255
