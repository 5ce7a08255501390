"""Functions, lines of a slope and remarks at rows: what is drawn is what was said."""

import numpy as np
import pytest
from conftest import laid_out, said
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import KindError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg")
POWERS = ft.figure(a=10.0 ** np.arange(6), b=10.0 ** np.arange(6)).map(x="a", y="b").points()


def line(figure, layer, log=""):
    """The places of a layer's line, read back in the unit of the data."""
    sheet = Sheet(figure, "160 mm", "120 mm")
    (path,) = sheet.paths(layer)
    at = path["at"]
    return sheet.read("x", at[:, 0], log="x" in log), sheet.read("y", at[:, 1], log="y" in log), sheet


@pytest.mark.parametrize(
    ("given", "function"),
    [
        ("0.5 + 0.02 * x", lambda x: 0.5 + 0.02 * x),
        ("sqrt(x) / 3", lambda x: np.sqrt(x) / 3),
        (lambda x: 4 + np.sin(x / 40), lambda x: 4 + np.sin(x / 40)),
        ("5", lambda x: np.full(len(x), 5.0)),
    ],
)
def test_a_graph_is_that_of_the_function(given, function):
    x, y, _ = line(BASE.points().function(given), 2)
    assert y == pytest.approx(function(x), abs=0.02)
    assert len(x) > 1


def test_a_graph_goes_over_the_whole_axis_and_between_limits_no_farther():
    x, _, _ = line(BASE.points().function("x / 100 + 1"), 2)
    axis = laid_out(BASE.points(), "160 mm", "120 mm").scales.first("x").extent
    assert x.min() <= axis.low + 1
    assert x.max() >= axis.high - 1
    x, _, _ = line(BASE.points().function("x / 100 + 1", limits=(50, 200)), 2)
    assert (x.min(), x.max()) == pytest.approx((50, 200), abs=0.5)


def test_graphs_stand_on_logarithmic_axes():
    x, y, _ = line(POWERS.scale("x", "log").scale("y", "log").function("x * 2"), 2, log="xy")
    assert np.log10(y) == pytest.approx(np.log10(2 * x), abs=0.02)


def test_a_graph_reaches_an_axis_as_far_as_the_data_do():
    made = laid_out(BASE.points().function("x"))
    top = WHEELS.age_days.max()
    assert made.scales.first("y").extent.high == pytest.approx(top, rel=0.06)


def test_every_panel_has_the_graph():
    made = laid_out(BASE.points().function("x / 100").facet("cellar"))
    assert set(made.runs[1].table.panel.tolist()) == {0, 1, 2, 3}


def test_where_a_function_has_no_value_it_is_said_and_the_line_is_broken():
    figure = ft.figure(x=[-2.0, 2.0]).map(x="x").function("sqrt(x)")
    assert any("no value at" in note for note in said(laid_out(figure)))
    assert any(
        "has no value on this axis" in note for note in said(laid_out(ft.figure(x=[1.0, 2.0]).map(x="x").function("sqrt(-x)")))
    )
    assert not said(laid_out(BASE.points().function("x")))


def test_rows_without_x_are_not_missed_by_a_graph():
    figure = ft.figure(x=[1.0, np.nan, 3.0]).map(x="x").function("x")
    assert not said(laid_out(figure))


@pytest.mark.parametrize(("slope", "intercept"), [(0.01, 2.0), (-0.005, 8.0), (0.02, None)])
def test_a_line_of_a_slope_is_straight_and_says_its_numbers(slope, intercept):
    figure = BASE.points().reference(slope=slope, intercept=intercept, text="{slope:.3f} and {intercept:.1f}")
    x, y, sheet = line(figure, 2)
    assert len(x) == 2
    assert y == pytest.approx((intercept or 0) + slope * x, abs=0.02)
    assert f"{slope:.3f} and {intercept or 0:.1f}".replace("-", "−") in sheet.texts()


def test_a_list_of_values_is_a_line_each_with_its_own_label():
    sheet = Sheet(BASE.points().reference(y=[4, 8], text="{value:.0f} kg"), "160 mm", "120 mm")
    levels = sorted(float(sheet.read("y", path["at"][0, 1])) for path in sheet.paths(2))
    assert levels == pytest.approx([4, 8], abs=0.02)


def test_a_mean_of_the_figure_is_the_same_in_all_panels():
    made = laid_out(BASE.points().reference(aggregate="mean", per="figure").facet("cellar"))
    table = made.runs[1].table
    assert table.panel.tolist() == [0, 1, 2, 3]
    assert table["y"] == pytest.approx(np.full(4, WHEELS.mass_kg.mean()))


@pytest.mark.parametrize(
    ("place", "of", "pick"), [("highest", "mass_kg", "idxmax"), ("lowest", "mass_kg", "idxmin"), ("first", "age_days", "idxmin"), ("last", "age_days", "idxmax")]
)  # fmt: skip
def test_callouts_stand_at_the_row_that_they_name(place, of, pick):
    made = laid_out(BASE.map(color="rind").points().callout("{y:.2f}", at=place))
    table = made.runs[1].table
    rows = WHEELS.groupby("rind")[of].agg(pick)
    assert sorted(table["y"].tolist()) == pytest.approx(sorted(WHEELS.mass_kg[rows].tolist()))
    written = {text.content for text in made.scene.texts() if text.role == "callout"}
    assert written == {f"{mass:.2f}" for mass in WHEELS.mass_kg[rows]}


@pytest.mark.parametrize(
    ("call", "error", "words"),
    [
        (lambda: BASE.function(), OptionError, "no function"),
        (lambda: BASE.function(3), OptionError, "SQL in x"),
        (lambda: BASE.function("z + 1"), MappingError, "no column 'z'"),
        (lambda: BASE.function("x", limits=(None, 3)), OptionError, "two ends"),
        (lambda: BASE.function(lambda x: x[:3]), OptionError, "no number of each value"),
        (lambda: BASE.function(lambda x: 1 / 0), OptionError, "ZeroDivisionError"),
        (lambda: ft.figure(WHEELS).function("x"), MappingError, "mapped to x"),
        (lambda: ft.figure(WHEELS).map(x="rind", y="ph").points().function("x"), KindError, "x holds category"),
        (lambda: BASE.reference(slope=1, y=2), OptionError, "one of x, y, aggregate and slope"),
        (lambda: BASE.reference(y=1, intercept=2), OptionError, "intercept has no effect"),
        (lambda: BASE.reference(y=[]), OptionError, "list without values"),
        (lambda: BASE.callout(at="highest"), OptionError, "no text"),
        (lambda: BASE.callout("a", at="top"), OptionError, "highest"),
        (lambda: BASE.callout("a", at="last", x=3), OptionError, "another one"),
        (lambda: BASE.callout("{z}", at="last"), OptionError, "z"),
        (lambda: BASE.callout("a"), OptionError, "at="),
    ],
)  # fmt: skip
def test_what_can_not_be_drawn_is_refused(call, error, words):
    with pytest.raises(error, match=words):
        laid_out(call())


def test_graphs_travel_as_plain_data_but_for_callables():
    figure = BASE.points().function("x / 100", color="teal").reference(y=[4, 8]).callout("{y:.1f}", at="last")
    assert ft.from_dict(figure.to_dict(), WHEELS).to_dict() == figure.to_dict()
    with pytest.raises(ft.FacetineError, match="callable"):
        BASE.function(lambda x: x).to_dict()
