"""Given ends are drawn where they are, along either axis or both, or the call is refused; no center is made up."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.layers import LAYERS
from facetine.messages.errors import MappingError

ROWS = pd.DataFrame({
    "g": list("abcd"), "x": [1.0, 2, 3, 4], "y": [2.0, 4, 3, 5], "xl": [0.5, 1.5, 2.4, 3.2], "xh": [1.4, 2.8, 3.3, 4.5],
    "yl": [1.0, 3, 2.5, 4], "yh": [2.6, 4.4, 3.9, 5.5],
})  # fmt: skip
ALONG_X, ALONG_Y = {"x_low": "xl", "x_high": "xh"}, {"y_low": "yl", "y_high": "yh"}


def lines_of(sheet):
    """The two ends of every line of the layer, in values, shape (n, 2, 2)."""
    found = []
    for shape in sheet.paths(1):
        at = shape["at"].reshape(-1, 2, 2)
        for axis, place in (("x", 0), ("y", 1)):
            at[:, :, place] = sheet.read(axis, at[:, :, place].ravel()).reshape(at.shape[:2])
        found.append(at)
    return np.concatenate(found)


@settings(max_examples=15, deadline=None)
@given(
    st.sampled_from(["intervals", "points"]), st.sampled_from(["x", "y", "xy"]), st.booleans(),
    st.lists(st.tuples(*[st.floats(0.1, 3)] * 4), min_size=4, max_size=4),
)  # fmt: skip
def test_ends_stand_at_their_values_along_either_axis_and_both(verb, along, swapped, reach):
    far = np.array(reach)
    rows = ROWS.assign(xl=ROWS.x - far[:, 0], xh=ROWS.x + far[:, 1], yl=ROWS.y - far[:, 2], yh=ROWS.y + far[:, 3])
    mapped = {**(ALONG_X if "x" in along else {}), **(ALONG_Y if "y" in along else {})}
    figure = getattr(ft.figure(rows).map(x="x", y="y", **mapped), verb)()
    sheet = Sheet(figure.swap_axes() if swapped else figure)
    expected = []
    if "x" in along:
        expected += [[(low, y), (high, y)] for low, high, y in zip(rows.xl, rows.xh, rows.y, strict=True)]
    if "y" in along:
        expected += [[(x, low), (x, high)] for low, high, x in zip(rows.yl, rows.yh, rows.x, strict=True)]
    expected = np.array(expected)
    found = lines_of(sheet)
    found = found[:, :, ::-1] if swapped else found

    found = np.array([line[np.lexsort(line.round(2).T[::-1])] for line in found])
    distance = np.abs(found[:, None] - expected[None]).max(axis=(2, 3))
    assert len(found) == len(expected)
    assert distance.min(axis=0).max() < 0.04
    assert distance.min(axis=1).max() < 0.04
    dots = sheet.circles(1)
    assert len(dots) == 4


@pytest.mark.parametrize("mapped", [{"x": "x", **ALONG_Y}, {"y": "y", **ALONG_X}, {**ALONG_X, **ALONG_Y}])
def test_ends_without_a_center_get_no_dot_and_no_center_in_the_numbers(mapped):
    figure = ft.figure(ROWS).map(**mapped).intervals()
    sheet = Sheet(figure)
    assert len(sheet.circles(1)) == 0
    assert len(lines_of(sheet)) == (8 if len(mapped) == 4 else 4)
    numbers = quietly(figure.numbers)
    assert not {"center", "mean"} & set(numbers.columns)
    assert {"x", "y"} & set(numbers.columns) == {"x", "y"} & set(mapped)


def test_bands_run_along_x_too_and_along_one_axis_alone():
    sheet = Sheet(ft.figure(ROWS).map(y="y", **ALONG_X).bands())
    (shape,) = sheet.paths(1)
    across, up = sheet.read("x", shape["at"][:, 0]), np.rint(sheet.read("y", shape["at"][:, 1]))
    for y, low, high in zip(ROWS.y, ROWS.xl, ROWS.xh, strict=True):
        assert sorted(across[up == y]) == pytest.approx([low, high], abs=0.03)
    with pytest.raises(MappingError, match="runs along one axis"):
        laid_out(ft.figure(ROWS).map(x="x", y="y", **ALONG_X, **ALONG_Y).bands())


SHOWN = {"intervals", "points", "bands", "segments"}
OTHERS = [verb for verb, kind in LAYERS.items() if verb not in SHOWN and not kind.stands_alone and "x" in kind.takes]


@pytest.mark.parametrize("verb", sorted(OTHERS))
def test_ends_that_a_layer_does_not_show_are_refused(verb):
    base = ft.figure(ROWS).map(x="g", y="y", label="g")
    with pytest.raises(MappingError, match="no use for 'y_low'"):
        getattr(base, verb)(map=ALONG_Y)
    numbers = {"contours", "density", "trend", "histogram", "qq", "ridgelines", "cumulative"}
    base = base.map(x="x") if verb in numbers else base
    with pytest.raises(MappingError, match=r"y_low is mapped, but no layer .* can show it") as caught:
        laid_out(getattr(base.map(**ALONG_Y), verb)())
    assert ".intervals(), .points() and .bands()" in str(caught.value)


def test_a_figure_of_which_one_layer_shows_the_ends_may_hold_others():
    laid_out(ft.figure(ROWS).map(x="g", y="y", **ALONG_Y).boxes().intervals())
    with pytest.raises(MappingError, match="nothing of these points can show it"):
        laid_out(ft.figure(ROWS).map(x="x", y="y").points(aggregate="mean", map=ALONG_Y))
    with pytest.raises(MappingError, match="x_low is mapped"):
        laid_out(ft.figure(ROWS).map(x="x", y="y", x_low="xl").points())


def test_the_check_does_not_say_what_given_ends_are():
    found = quietly(ft.figure(ROWS).map(x="x", y="y", **ALONG_Y).intervals().check).findings
    (said,) = [one for one in found if one.code == "reach-not-stated"]
    assert "confidence" not in said.text
    assert "given" in said.text


def test_points_are_inside_the_limits_by_their_centers():
    sheet = Sheet(ft.figure(ROWS).map(x="x", y="y", **ALONG_X, **ALONG_Y).points().scale("x", limits=(1, 4)))
    assert len(sheet.circles(1)) == 4
