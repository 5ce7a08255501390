"""Lists that serve many figures, middles of scales, and statistics that are missing."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import OptionError, ScaleError

WHEELS = ft.demo_data("wheels")
RINDS = ["washed", "bloomy", "natural", "waxed"]
FEW = WHEELS[WHEELS["rind"].isin(["bloomy", "natural"])]
LOOKS = {
    "order": {"order": RINDS},
    "colors": {"colors": dict(zip(RINDS, ["#224488", "#aa3333", "#227744", "#775500"], strict=True))},
}


@pytest.mark.parametrize("said", list(LOOKS))
def test_one_list_serves_a_frame_that_holds_only_some(said):
    figure = ft.figure(FEW).map(x="age_days", y="mass_kg", color="rind").points().scale("color", **LOOKS[said])
    (note,) = [text for text in notes(figure) if "no row has here" in text]
    assert "'washed'" in note
    assert "'waxed'" in note
    assert {"bloomy", "natural"} <= set(Sheet(figure).texts())


@pytest.mark.parametrize("said", list(LOOKS))
def test_a_slip_is_refused_where_the_level_that_it_means_is_there(said):
    wrong = {"order": ["blomy", "natural"], "colors": {"blomy": "#224488", "natural": "#aa3333"}}[said]
    with pytest.raises(OptionError, match="Did you mean 'bloomy'"):
        Sheet(ft.figure(FEW).map(x="age_days", y="mass_kg", color="rind").points().scale("color", **{said: wrong}))


@pytest.mark.parametrize("axis", ["x", "y"])
def test_axes_facets_and_shapes_take_such_lists_too(axis):
    other = "y" if axis == "x" else "x"
    base = ft.figure(FEW)
    figures = [
        base.map(**{axis: "rind", other: "mass_kg"}).boxes().scale(axis, order=RINDS),
        base.map(x="age_days", y="mass_kg").points().facet("rind", order=RINDS),
        base.map(x="age_days", y="mass_kg").points().facet(rows="rind", columns="milk", order={"rind": RINDS}),
        base.map(x="age_days", y="mass_kg").points().facet(("rind", "milk"), order={"rind": RINDS}),
        base.map(x="age_days", y="mass_kg", shape="rind").points().scale("shape", shapes=dict.fromkeys(RINDS[:3], "cross")),
    ]
    for figure in figures:
        assert any("'washed'" in text and "no row has here" in text for text in notes(figure)), figure
    words = Sheet(figures[0]).words(axis)
    assert sorted(words, key=words.get) == ["bloomy", "natural"]


def test_names_of_a_series_are_no_slips_of_each_other():
    frame = pd.DataFrame({"year": ["2030", "2031", "2032"], "v": [1.0, 2, 3]})
    figure = ft.figure(frame).map(x="year", y="v").bars().scale("x", order=["2029", "2030", "2031"])
    assert any("'2029'" in text for text in notes(figure))
    words = Sheet(figure).words("x")
    assert sorted(words, key=words.get) == ["2030", "2031", "2032"]


@pytest.mark.parametrize("kind", [None, "log", "sqrt"])
def test_the_middle_of_a_scale_is_in_the_middle_of_its_ramp(kind):
    frame = pd.DataFrame({"v": [1.0, 10, 100, 5000], "x": [1.0, 2, 3, 4]})
    figure = ft.figure(frame).map(x="x", y="x", color="v").points(size=9).scale("color", kind or "linear", middle=10)
    scale = laid_out(figure).scales.looks["color"]
    forward = {None: lambda v: v, "log": np.log10, "sqrt": lambda v: np.sign(v) * np.sqrt(np.abs(v))}[kind]
    ends, middle = forward(np.array([scale.low, scale.high])), forward(10.0)
    assert ends.mean() == pytest.approx(middle)
    sheet = Sheet(figure)
    shades = {circle.get("fill") for circle in sheet.layer(1).iter("{http://www.w3.org/2000/svg}circle")}
    assert len(shades) == 4


@pytest.mark.parametrize("middle", [0, -5])
def test_a_middle_without_a_place_is_refused(middle):
    figure = ft.figure({"v": [1.0, 10], "x": [1.0, 2]}).map(x="x", y="x", color="v").points()
    with pytest.raises(ScaleError, match="middle"):
        Sheet(figure.scale("color", "log", middle=middle))


def test_statistics_that_no_group_has_keep_their_columns():
    two = pd.DataFrame({"x": [1.0, 2, 1, 2], "y": [1.0, 2, 3, 5], "g": ["a", "a", "b", "b"]})
    rows = ft.figure(two).map(x="x", y="y", color="g").trend().numbers(0)
    assert {"slope", "slope_low", "slope_high", "p", "residual_std"} <= set(rows.columns)
    assert rows["slope_low"].isna().all()
    alone = pd.DataFrame({"x": ["a", "b"], "y": [1.0, 2]})
    ends = ft.figure(alone).map(x="x", y="y").intervals().numbers(0)
    assert {"low", "high"} <= set(ends.columns)
    assert ends["low"].isna().all()
    assert "slope_difference" not in rows.columns
    assert "origin" not in rows.columns
