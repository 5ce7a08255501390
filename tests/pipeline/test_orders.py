"""Orders of levels that follow the data, and levels that are pooled."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, said
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.core.stats.seriation import similar_order
from facetine.data.sequences import calendar_order, ranked
from facetine.messages.errors import OptionError

WHEELS = ft.demo_data("wheels")
RINDS = ft.figure(WHEELS).map(x="rind")
MASSES = RINDS.map(y="mass_kg")


def labels(figure, axis="x"):
    return list(laid_out(figure, "160 mm").scales.first(axis).labels)


def by(series, order):
    return list(series.sort_values(ascending=order == "rising", kind="stable").index)


@pytest.mark.parametrize("order", ["rising", "falling"])
@pytest.mark.parametrize(
    ("figure", "of"),
    [
        (RINDS.bars(), WHEELS.groupby("rind").size()),
        (RINDS.map(color="milk").bars(), WHEELS.groupby("rind").size()),
        (MASSES.bars(aggregate="mean"), WHEELS.groupby("rind").mass_kg.mean()),
        (MASSES.boxes(), WHEELS.groupby("rind").mass_kg.median()),
        (MASSES.violins(), WHEELS.groupby("rind").mass_kg.median()),
        (MASSES.points(), WHEELS.groupby("rind").mass_kg.median()),
        (MASSES.intervals(), WHEELS.groupby("rind").mass_kg.mean()),
        (RINDS.map(y="milk").cells(), WHEELS.groupby("rind").size()),
    ],
)
def test_levels_rise_or_fall_by_what_is_drawn(figure, of, order):
    assert labels(figure.scale("x", order=order)) == by(of, order)


def test_rows_and_columns_of_cells_stand_by_likeness_which_is_told():
    counts = WHEELS.groupby(["rind", "grade"], observed=True).size().unstack(fill_value=0)
    figure = RINDS.map(y="grade").cells().scale("x", order="similar")
    names = counts.index.tolist()
    assert labels(figure) == [names[place] for place in similar_order(counts.to_numpy(float))]
    assert any("'rind' stands by likeness: average linkage" in note for note in notes(figure))
    lying = ft.figure(WHEELS).map(y="rind", x="grade").cells().scale("y", order="similar")
    assert labels(lying, "y") == labels(figure)


@pytest.mark.parametrize("figure", [RINDS.bars(), RINDS.map(y="ph").boxes()])
def test_likeness_of_what_is_no_number_in_a_cell_is_refused(figure):
    with pytest.raises(OptionError, match="compares rows or columns of cells"):
        laid_out(figure.scale("x", order="similar"))


def test_bars_stand_with_their_own_heights_in_any_order():
    sheet = Sheet(RINDS.bars().scale("x", order="falling"), "160 mm")
    boxes = sheet.rects(1)
    heights = sorted(WHEELS.groupby("rind").size(), reverse=True)
    assert np.diff(boxes[np.argsort(boxes[:, 0]), 3]).max() < 0
    assert boxes[:, 3] / boxes[:, 3].max() == pytest.approx(np.array(heights) / max(heights), abs=0.01)


def test_lying_and_swapped_bars_follow_too():
    expected = by(WHEELS.groupby("rind").size(), "falling")
    assert labels(ft.figure(WHEELS).map(y="rind").bars().scale("y", order="falling"), "y") == expected
    assert labels(RINDS.bars().swap_axes().scale("x", order="falling"), "y") == expected


def test_lines_go_by_their_last_value():
    rng = np.random.default_rng(3)
    data = pd.DataFrame({"t": np.tile(np.arange(10.0), 4), "k": np.repeat(list("abcd"), 10), "v": rng.normal(size=40)})
    figure = ft.figure(data).map(x="t", y="v", color="k").lines().scale("color", order="falling")
    last = data[data.t == 9].set_index("k").v
    assert list(laid_out(figure).scales.looks["color"].labels) == by(last, "falling")


@pytest.mark.parametrize("statistic", ["mean", "median", "sum", "min", "max"])
def test_any_statistic_of_any_column_makes_an_order(statistic):
    of = WHEELS.groupby("rind").moisture_pct.agg(statistic)
    assert labels(RINDS.bars().scale("x", order="falling", by=statistic, of="moisture_pct")) == by(of, "falling")


def test_words_for_orders_of_the_data():
    assert labels(RINDS.bars().scale("x", order="seen")) == list(dict.fromkeys(WHEELS.rind))
    assert labels(RINDS.bars().scale("x", order="frequent")) == list(WHEELS.rind.value_counts().index)
    grades = ft.figure(WHEELS).map(x="grade").bars()
    assert labels(grades.scale("x", order="natural")) == sorted(WHEELS.grade.dropna().unique())
    assert labels(grades) == ["plain", "sound", "fine", "grand"]


def test_panels_rise_and_fall():
    base = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()

    def panels(figure):
        return [panel.panel.name for panel in laid_out(figure, "160 mm").layout.panels]

    assert panels(base.facet("cellar", order="falling")) == by(WHEELS.groupby("cellar").mass_kg.median(), "falling")
    assert panels(base.facet("cellar", order="rising", of="ph")) == by(WHEELS.groupby("cellar").ph.median(), "rising")
    crossed = panels(base.facet(columns="cellar", order={"cellar": "frequent"}))
    assert crossed == list(WHEELS.cellar.value_counts().index)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.sampled_from("abcdefghij"), min_size=3, max_size=60), st.integers(1, 6))
def test_pooled_counts_are_the_sum_of_those_that_are_pooled(values, most):
    counts = pd.Series(values).value_counts()
    made = laid_out(ft.figure({"k": values}).map(x="k").bars().scale("x", top=most))
    found = dict(zip(made.scales.first("x").labels, made.runs[0].table["count"].tolist(), strict=True))
    assert sum(found.values()) == len(values)
    if len(counts) > most:
        assert list(found)[-1] == "all others"
        assert len(found) == most + 1
        assert found["all others"] == len(values) - sum(count for name, count in found.items() if name != "all others")
        assert (
            min(count for name, count in found.items() if name != "all others")
            >= counts.sort_values().iloc[: len(counts) - most].max()
        )
    else:
        assert "all others" not in found


def test_statistics_are_those_of_the_pooled_rows():
    made = laid_out(MASSES.boxes().scale("x", top=2, rest_as="the rest", order="falling"))
    kept = by(WHEELS.groupby("rind").mass_kg.median(), "falling")[:2]
    rest = WHEELS[~WHEELS.rind.isin(kept)].mass_kg
    table = made.runs[0].table
    place = made.scales.first("x").labels.index("the rest")
    (row,) = np.flatnonzero(np.rint(table["x value"]) == place)[:1]
    assert table["median"][row] == pytest.approx(rest.median())
    assert any(f"{len(rest)} rows, pooled as 'the rest'" in note for note in said(made))


@pytest.mark.parametrize("order", ["rising", "falling"])
def test_the_largest_stay_whichever_way_the_axis_runs(order):
    made = laid_out(MASSES.boxes().scale("x", top=2, order=order))
    largest = by(WHEELS.groupby("rind").mass_kg.median(), "falling")[:2]
    assert list(made.scales.first("x").labels) == [*(largest if order == "falling" else largest[::-1]), "all others"]


@pytest.mark.parametrize("order", ["natural", "seen", ["waxed", "natural", "bloomy", "washed"]])
def test_where_an_order_goes_by_no_size_the_most_frequent_stay_in_it(order):
    frequent = set(WHEELS.rind.value_counts().index[:2])
    plain = [name for name in laid_out(RINDS.bars().scale("x", order=order)).scales.first("x").labels if name in frequent]
    assert list(laid_out(RINDS.bars().scale("x", top=2, order=order)).scales.first("x").labels) == [*plain, "all others"]


def test_what_is_left_out_is_counted():
    made = laid_out(RINDS.bars().scale("x", top=2, rest_as=None))
    assert list(made.scales.first("x").labels) == list(WHEELS.rind.value_counts().index[:2])
    gone = WHEELS.rind.value_counts().iloc[2:].sum()
    assert any(f"{gone} rows, left out" in note for note in said(made))
    assert int(made.runs[0].table["count"].sum()) == len(WHEELS) - gone


def test_colors_are_pooled_and_a_legend_says_so():
    figure = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().scale("color", top=2)
    assert list(laid_out(figure).scales.looks["color"].labels) == ["bloomy", "washed", "all others"]


@pytest.mark.parametrize(
    ("levels", "expected"),
    [
        (["Fri", "Mon", "Tue"], ["Mon", "Tue", "Fri"]),
        (["October", "april", "June"], ["april", "June", "October"]),
        (["Sept", "Aug."], ["Aug.", "Sept"]),
    ],
)
def test_days_and_months_stand_as_in_the_calendar_without_a_word(levels, expected):
    made = laid_out(ft.figure({"day": levels * 2, "v": np.arange(2.0 * len(levels))}).map(x="day", y="v").points())
    assert list(made.scales.first("x").labels) == expected
    assert not said(made)
    other = laid_out(ft.figure({"day": levels}).map(x="day").bars().scale("x", order="natural"))
    assert list(other.scales.first("x").labels) == sorted(levels, key=str.casefold)


def test_ranks_without_an_order_are_told_with_the_order():
    made = laid_out(ft.figure({"k": ["high", "low", "medium"]}).map(x="k").bars())
    assert any("order=['low', 'medium', 'high']" in note for note in said(made))
    ordered = ft.figure({"k": ["high", "low", "medium"] * 2}).map(x="k").bars().scale("x", order=["low", "medium", "high"])
    assert not said(laid_out(ordered))
    assert calendar_order(["north", "may"]) is None
    assert ranked(["low", "north"]) is None


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: MASSES.map(x="ph").points().scale("x", order="falling"), "shows none"),
        (lambda: MASSES.map(x="ph").points().scale("x", order=[1, 2]), "has no effect on numbers"),
        (lambda: RINDS.scale("x", order="biggest"), "falling"),
        (lambda: RINDS.scale("x", order="falling", by="median"), "needs a column"),
        (lambda: RINDS.scale("x", by="median", of="ph"), "rising"),
        (lambda: RINDS.scale("x", rest_as="o"), "without top"),
        (lambda: RINDS.scale("x", top=0), "top"),
        (lambda: RINDS.bars().scale("x", order="falling", by="median", of="milk"), "holds no numbers"),
        (lambda: RINDS.map(y="milk").points().scale("x", order="falling"), "no drawn value"),
        (lambda: RINDS.facet("milk", of="ph"), "without an order"),
        (lambda: RINDS.facet(rows="milk", order={"milk": "falling"}), "names it"),
        (lambda: RINDS.facet(("milk", "cellar"), order={"milk": "seen"}), "a list"),
        (lambda: ft.plate([[MASSES.boxes()]]).scale("x", order="falling"), "belong to a figure"),
    ],
)
def test_orders_that_can_not_be_followed_are_refused(call, words):
    with pytest.raises(OptionError, match=words):
        laid_out(call())


def test_orders_travel_as_plain_data():
    figure = RINDS.bars().scale("x", order="falling", by="median", of="ph", top=3, rest_as=None).facet("milk", order="frequent")
    assert ft.from_dict(figure.to_dict(), WHEELS).to_dict() == figure.to_dict()


def test_a_plan_says_orders_and_nothing_in_words_of_its_own():
    spec = {
        "map": {"x": "rind", "y": "firmness_n", "color": "milk"},
        "layers": [{"trend": {"map": {"color": False}, "level": False}}],
        "scale": {"x": {"order": "falling", "by": "median", "of": "ph", "top": 3, "rest_as": False}},
    }
    figure = ft.from_dict(spec, WHEELS)
    said = figure.to_dict()
    assert said["scale"]["x"] == spec["scale"]["x"] | {"rest_as": None}
    assert said["layers"] == [{"trend": {"map": {"color": None}, "level": None}}]
    in_python = (
        ft.figure(WHEELS)
        .map(x="rind", y="firmness_n", color="milk")
        .trend(map={"color": None}, level=None)
        .scale("x", order="falling", by="median", of="ph", top=3, rest_as=None)
    )
    assert in_python.to_dict() == said
