"""A second axis: the same values in another unit."""

import numpy as np
import pytest
from conftest import laid_out, svg_of
from hypothesis import given
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft
from facetine.messages.errors import FacetineError, OptionError, ScaleError

WHEELS = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg")
POINTS = WHEELS.points()
POUNDS = {"convert": 2.2046, "title": "Mass (lb)"}


def side_labels(made, side):
    """The labels that stand at a side of the first panel."""
    return made.layout.panels[0].labels(side)


def values_at(made, labels, name):
    """The values of the first axis at the ticks of its second one."""
    axis = made.scales.first(name)
    return axis.transform.inverse(np.array(labels.ticks.at))


def numbers(labels):
    return [float(label.replace("−", "-").replace(",", "").rstrip(" %")) for label in labels.ticks.labels]


def test_ticks_stand_where_the_conversion_has_their_value():
    made = laid_out(POINTS.scale("y", second_axis=POUNDS))
    found = values_at(made, side_labels(made, "right"), "y") * 2.2046
    assert np.allclose(found, numbers(side_labels(made, "right")), atol=1e-6)
    assert len(found) >= 3


@pytest.mark.parametrize("of", ["value * 1.8 + 32", lambda value: value * 1.8 + 32])
def test_a_conversion_is_a_factor_an_expression_or_a_callable(of):
    made = laid_out(POINTS.scale("x", second_axis={"convert": of, "title": "Fahrenheit"}))
    found = values_at(made, side_labels(made, "above"), "x") * 1.8 + 32
    assert np.allclose(found, numbers(side_labels(made, "above")), rtol=1e-9)


@given(st.floats(0.1, 10), st.floats(1, 1e4))
def test_a_curved_conversion_is_as_exact_as_print(low, times):
    high = low * (1 + times)
    figure = ft.figure({"a": [low, high], "b": [low, high]}).map(x="a", y="b").points()
    made = laid_out(figure.scale("x", "log", second_axis={"convert": lambda value: 1e3 / value}))
    axis, labels = made.scales.first("x"), side_labels(made, "above")
    text = [label.replace(",", "").replace(" × ", "e").replace("e10^", "e").rstrip("^") for label in labels.ticks.labels]
    text = [said.replace("10^", "1e") for said in text]
    said = np.array([float(one.replace("−", "-")) for one in text])
    off = axis.extent.share(axis.transform.forward(1e3 / said)) - axis.extent.share(np.array(labels.ticks.at))
    assert np.abs(off).max() * made.layout.panels[0].box.width < 0.01


def test_a_falling_conversion_runs_the_other_way():
    made = laid_out(POINTS.scale("y", second_axis={"convert": "-value"}))
    assert numbers(side_labels(made, "right")) == sorted(numbers(side_labels(made, "right")))
    assert (np.diff(side_labels(made, "right").ticks.at) < 0).all()


@pytest.mark.parametrize("width", [60, 85, 180])
@pytest.mark.parametrize("size", [6, 8, 12])
def test_figures_with_second_axes_stay_sound(width, size):
    plain = POINTS.map(color="rind").theme(text_size=size)
    both = plain.scale("y", second_axis=POUNDS).scale("x", second_axis={"convert": 24, "title": "Age (hours)"})
    assert_sound(laid_out(both.titles("Two units"), width))
    assert_sound(laid_out(plain.scale("y", second_axis=POUNDS).theme(legend_place="right"), width + 20))
    assert_sound(laid_out(both.facet("cellar", per_row=2), max(width, 85)))


def test_a_second_axis_stands_once_above_and_once_beside_a_grid_of_panels():
    figure = POINTS.scale("y", second_axis=POUNDS).scale("x", second_axis={"convert": 24, "title": "Age (hours)"})
    made = laid_out(figure.facet("cellar", per_row=2), 120)
    assert [panel.labelled("above") for panel in made.layout.panels] == [True, True, False, False]
    assert [panel.labelled("right") for panel in made.layout.panels] == [False, True, False, True]
    said = [text.content for text in made.scene.texts()]
    assert said.count("Mass (lb)") == said.count("Age (hours)") == 1
    titles = {title.text for title in svg_of(figure).iter("{http://www.w3.org/2000/svg}title")}
    assert {"Second x axis", "Second y axis"} <= titles


def test_names_at_line_ends_give_way_to_a_second_axis():
    sales = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", color="cellar").keep("cellar < 'P'")
    lines = sales.lines(aggregate="mean", legend="direct").scale("y", second_axis={"convert": "value * 1.8 + 32"})
    made = laid_out(lines)
    assert made.layout.legends.legends
    assert not [text for text in made.scene.texts() if text.role == "name"]


def test_ticks_and_format_of_a_second_axis_can_be_said():
    second = {"convert": 1000, "ticks": [2000, 4000], "format": "{value:,.0f} g"}
    made = laid_out(POINTS.scale("y", second_axis=second))
    assert side_labels(made, "right").ticks.labels == ("2,000 g", "4,000 g")


def test_a_second_axis_comes_back_from_its_plain_form():
    figure = POINTS.scale("y", second_axis=POUNDS)
    spec = figure.to_dict()
    assert spec["scale"]["y"]["second_axis"] == POUNDS
    again = ft.from_dict(spec, ft.demo_data("wheels"))
    assert side_labels(laid_out(again), "right") == side_labels(laid_out(figure), "right")
    with pytest.raises(OptionError, match="callable"):
        POINTS.scale("y", second_axis={"convert": lambda value: value}).to_dict()


@pytest.mark.parametrize(
    ("kind", "make", "said"),
    [
        (OptionError, lambda: POINTS.scale("y", second_axis=2.2), "is a dict"),
        (OptionError, lambda: POINTS.scale("y", second_axis={}), "no conversion"),
        (OptionError, lambda: POINTS.scale("y", second_axis={"convert": 2, "tilte": "x"}), "Did you mean 'title'"),
        (OptionError, lambda: POINTS.scale("y", second_axis={"convert": 0}), "factor"),
        (OptionError, lambda: POINTS.scale("y", second_axis={"convert": 2, "ticks": "every month"}), "list of numbers"),
        (OptionError, lambda: POINTS.scale("color", second_axis={"convert": 2}), "has no effect on color"),
        (ScaleError, lambda: POINTS.scale("y", second_axis={"convert": "value * value - 9 * value"}), "does not lead"),
        (ScaleError, lambda: POINTS.scale("y", second_axis={"convert": lambda value: value[:3]}), "no number of each"),
        (ScaleError, lambda: POINTS.scale("y", second_axis={"convert": lambda value: 1 / 0}), "ZeroDivisionError"),
        (FacetineError, lambda: POINTS.scale("y", second_axis={"convert": "valeu * 2"}), "valeu"),
        (ScaleError, lambda: WHEELS.map(x="rind").boxes().scale("x", second_axis={"convert": 2}), "categories"),
    ],
)
def test_what_is_no_second_axis_is_told(kind, make, said):
    with pytest.raises(kind, match=said):
        laid_out(make())
