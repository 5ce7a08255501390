"""Shapes as shares of pixels, and many of them laid over each other, against areas and compositing done another way."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from facetine.core.raster.layered import Inked, layered
from facetine.core.raster.lines import thinned
from facetine.core.raster.stamps import PHASES, disc, polygon, stamp
from facetine.scene import pixels
from facetine.scene.marks import MarkerStyle
from facetine.scene.shapes import OUTLINES


def covered(radius, dx, dy):
    """The share of unit pixels at dx, dy from the middle of a disc that it covers, in closed form.

    The pixel is cut across wherever the edge of the disc enters or leaves it; between two cuts the covered height is the
    half chord or the pixel's own edge, above and below, and the integral of √(r² − x²) is (x √(r² − x²) + r² asin(x / r)) / 2.
    """
    dx, dy = np.broadcast_arrays(dx, dy)
    low, high = np.clip(dx - 0.5, -radius, radius), np.clip(dx + 0.5, -radius, radius)
    cuts = [low, high]
    for y in (dy - 0.5, dy + 0.5):
        root = np.sqrt(np.maximum(radius**2 - y**2, 0))
        cuts += [np.clip(-root, low, high), np.clip(root, low, high)]
    edges = np.sort(np.stack(cuts), axis=0)
    start, end = edges[:-1], edges[1:]
    chord = np.sqrt(np.maximum(radius**2 - ((start + end) / 2) ** 2, 0))
    area = [
        (x * np.sqrt(np.maximum(radius**2 - x**2, 0)) + radius**2 * np.arcsin(np.clip(x / radius, -1, 1))) / 2
        for x in (start, end)
    ]
    under = area[1] - area[0]
    upper = np.where(chord < dy + 0.5, under, (dy + 0.5) * (end - start))
    lower = np.where(-chord > dy - 0.5, -under, (dy - 0.5) * (end - start))
    missed = (chord <= dy - 0.5) | (-chord >= dy + 0.5)
    return np.where(missed, 0.0, upper - lower).sum(axis=0)


def one_by_one(at, colors, opacity, radius, width, height):
    """Discs laid over each other in a loop, on a picture of premultiplied red, green, blue and opacity."""
    image = np.zeros((height, width, 4))
    reach = int(np.ceil(radius)) + 1
    for (x, y), color in zip(at, colors, strict=True):
        left, top = max(int(x) - reach, 0), max(int(y) - reach, 0)
        right, bottom = min(int(x) + reach + 1, width), min(int(y) + reach + 1, height)
        if left >= right or top >= bottom:
            continue
        alpha = opacity * covered(radius, np.arange(left, right)[None] + 0.5 - x, np.arange(top, bottom)[:, None] + 0.5 - y)
        window = image[top:bottom, left:right]
        window *= 1 - alpha[..., None]
        window += alpha[..., None] * np.array([*color, 1.0])
    return image


@settings(max_examples=15)
@given(st.floats(0.3, 12))
def test_a_disc_covers_its_area_wherever_it_stands(radius):
    made = stamp([disc(radius)])
    assert made.share.shape == (PHASES**2, made.side**2)
    assert np.allclose(made.share.sum(axis=1), np.pi * radius**2, rtol=2e-4)


@pytest.mark.parametrize("shape", OUTLINES)
@pytest.mark.parametrize("line", [0.0, 1.3])
def test_every_shape_covers_its_area(shape, line):
    style = MarkerStyle(
        shape, 6.0, None if OUTLINES[shape].open else "#000000", "#ff0000" if line or OUTLINES[shape].open else None, line or 2.0
    )
    look = pixels._look(style, 1.0)
    areas = [made.share.sum(axis=1) for made in look.stamps]
    assert all(np.ptp(area) < 0.02 for area in areas)
    if OUTLINES[shape].open:
        width = style.line_width
        ends = OUTLINES[shape].parts[0]
        length = 6.0 * float(np.hypot(*(np.array(ends[1]) - ends[0])))
        crossed = len(OUTLINES[shape].parts) - 1
        assert areas[0].mean() == pytest.approx((1 + crossed) * length * width - crossed * width**2, rel=2e-3)
        return
    if shape == "disc":
        perimeter, corners = 2 * np.pi * 6.0, 0.0
        area = np.pi * 36
    else:
        points = 6.0 * np.array(OUTLINES[shape].parts[0])
        ends = np.roll(points, -1, axis=0)
        area = abs(np.sum(points[:, 0] * ends[:, 1] - points[:, 1] * ends[:, 0])) / 2
        perimeter, corners = float(np.hypot(*(ends - points).T).sum()), 0.0
    for part in OUTLINES[shape].parts[1:]:
        inner = 6.0 * np.array(part)
        ends = np.roll(inner, -1, axis=0)
        area -= abs(np.sum(inner[:, 0] * ends[:, 1] - inner[:, 1] * ends[:, 0])) / 2
    assert areas[0].mean() == pytest.approx(area, rel=2e-3)
    if line:
        # What a mitred line adds at the outer corners, it takes at the inner ones.
        assert areas[1].mean() == pytest.approx(perimeter * line + corners, rel=5e-3)


@pytest.mark.parametrize("points", [[(-2, -1), (3, -1), (3, 2), (-2, 2)], [(0, -4), (3, 3), (-3, 3)]])
def test_a_polygon_on_pixels_is_sharp(points):
    made = stamp([polygon(points)])
    area = abs(sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(points, points[1:] + points[:1], strict=True))) / 2
    assert np.allclose(made.share.sum(axis=1), area, rtol=1e-3)
    if len(points) == 4:
        assert set(np.round(made.share[0], 5)) == {0.0, 1.0}


@pytest.mark.parametrize("opacity", [1.0, 0.5, 0.08])
@pytest.mark.parametrize("count", [1, 2])
def test_discs_look_as_they_do_one_by_one(opacity, count):
    rng = np.random.default_rng(3)
    at = np.rint(rng.normal((40, 30), 12, (1200, 2)) * PHASES) / PHASES
    palette = [(0.1, 0.3, 0.8), (0.9, 0.5, 0.0), (0.0, 0.4, 0.2)][: 1 if count == 1 else 3]
    which = rng.integers(0, len(palette), len(at))
    shape = stamp([disc(4.37)])
    made = layered(at, [Inked((shape,), (color,)) for color in palette], which if count > 1 else None, opacity, 80, 60)
    true = one_by_one(at, [palette[k] if count > 1 else palette[0] for k in which], opacity, 4.37, 80, 60)
    assert np.abs(made - true).max() < 1 / 255


def test_what_is_hidden_changes_nothing():
    rng = np.random.default_rng(5)
    at = np.rint(rng.uniform((0, 0), (60, 50), (40_000, 2)) * PHASES) / PHASES
    shape = stamp([disc(3.2)])
    looks = [Inked((shape,), (color,)) for color in ((1.0, 0, 0), (0, 0, 1.0))]
    which = rng.integers(0, 2, len(at))
    made = layered(at, looks, which, 1.0, 60, 50)
    last = layered(at[-6000:], looks, which[-6000:], 1.0, 60, 50)
    assert np.abs(made - last).max() < 1 / 255
    assert made[..., 3].min() > 1 - 1 / 512


def test_a_border_covers_its_inside_and_both_are_as_opaque_as_one():
    inside, border = stamp([disc(5.0)]), stamp([disc(5.5), disc(4.5, -1.0)])
    look = Inked((inside, border), ((1.0, 1.0, 0.0), (0.0, 0.0, 0.0)))
    made = layered(np.array([[20.5, 20.5]]), [look], None, 0.4, 41, 41)
    assert made[20, 20] == pytest.approx([0.4, 0.4, 0, 0.4], abs=2e-3)
    assert made[20, 25] == pytest.approx([0, 0, 0, 0.4], abs=2e-3)
    assert made[..., 3].max() < 0.4 + 2e-3


def test_nothing_outside_the_picture_breaks_it():
    shape = stamp([disc(4.0)])
    at = np.array([[-3.0, 5.0], [-50.0, 5.0], [12.0, 9.0], [500.0, 5.0], [5.0, -3.9]])
    made = layered(at, [Inked((shape,), ((0.0, 0.0, 0.0),))], None, 1.0, 10, 8)
    true = one_by_one(at, [(0, 0, 0)] * 5, 1.0, 4.0, 10, 8)
    assert np.abs(made - true).max() < 1 / 255


@settings(max_examples=30)
@given(st.integers(1, 4000), st.integers(1, 3), st.floats(0.01, 2))
def test_thinned_lines_keep_ends_and_extremes(count, parts, step):
    rng = np.random.default_rng(count)
    x = np.sort(rng.uniform(0, 10, (parts, count)), axis=1)
    points = np.column_stack([x.ravel(), rng.normal(size=parts * count)])
    starts = np.arange(parts) * count
    made, begins = thinned(points, starts, step)
    assert len(begins) == parts
    ends = [*begins[1:].tolist(), len(made)]
    for part in range(parts):
        own, new = points[part * count : (part + 1) * count], made[begins[part] : ends[part]]
        assert np.allclose(new[[0, -1]], own[[0, -1]])
        assert (new[:, 1].min(), new[:, 1].max()) == (own[:, 1].min(), own[:, 1].max())
        assert (np.diff(new[:, 0]) >= 0).all()
        cells = np.floor(own[:, 0] / step)
        assert len(new) <= max(4 * len(np.unique(cells)), count)


def test_lines_that_run_back_keep_all_vertices():
    points = np.column_stack([np.sin(np.arange(1000)), np.cos(np.arange(1000))])
    made, _ = thinned(points, np.array([0]), 0.5)
    assert made is points
