"""Sums keep their digits, and shares and densities are parts of what they say."""

import math

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.core.stats.sums import grouped_sums, running_sums
from facetine.messages.errors import OptionError

RNG = np.random.default_rng(25)
WHEELS = ft.demo_data("wheels")
CANCELLING = [1e16, 1.0, 1.0, 1.0, -1e16]
LONG = [1e12, -1e12, *[0.01] * 100_000]


@pytest.mark.parametrize(("values", "total"), [(CANCELLING, 3.0), (LONG, 1000.0)])
@pytest.mark.parametrize("verb", ["bars", "points", "lines"])
def test_sums_are_those_of_the_numbers(values, total, verb):
    frame = pd.DataFrame({"g": ["a"] * len(values) + ["b"], "v": [*values, 2.0]})
    figure = getattr(ft.figure(frame).map(x="g", y="v"), verb)(aggregate="sum")
    assert figure.numbers(0)["sum"].tolist() == pytest.approx([total, 2.0], abs=1e-6)
    mean = getattr(ft.figure(frame).map(x="g", y="v"), verb)(aggregate="mean").numbers(0)["mean"].tolist()
    assert mean == pytest.approx([total / len(values), 2.0], abs=1e-9)


def test_a_weighted_sum_and_the_bars_of_a_histogram_keep_light_rows():
    frame = pd.DataFrame({"v": [0.5, 1.5, 1.5, 2.5], "w": [1e16, 1.0, 2.0, 4.0]})
    rows = ft.figure(frame).map(x="v", weight="w").histogram(edges=[0, 1, 2, 4.5]).numbers(0)
    assert rows["count"].tolist() == [1e16, 3.0, 4.0]


def test_bars_beside_a_huge_one_keep_their_heights():
    frame = pd.DataFrame({"x": ["a", "b", "b", "c"], "g": ["p", "p", "q", "q"], "v": [1e17, 1.0, 2.0, 5.0]})
    table = laid_out(ft.figure(frame).map(x="x", y="v", color="g").bars()).runs[0].table
    ends = sorted(zip(table["y_low"].tolist(), table["y_high"].tolist(), strict=True))
    assert ends == [(0.0, 1.0), (0.0, 5.0), (0.0, 1e17), (1.0, 3.0)]


def test_a_moving_mean_forgets_a_far_value():
    y = np.concatenate([[1e17], np.full(40, 0.1)])
    row = ft.figure({"x": np.arange(41.0), "y": y}).map(x="x", y="y").trend("moving", window=3).numbers(0)
    assert row["y"].tolist()[3:-1] == pytest.approx([0.1] * 37, rel=1e-12)


@given(st.lists(st.floats(-1e15, 1e15), min_size=1, max_size=60), st.data())
def test_grouped_and_running_sums_are_exact(values, data):
    values = np.array(values + [-value for value in values[::2]])
    starts = np.unique([0, *data.draw(st.lists(st.integers(0, len(values) - 1), max_size=3))])
    parts = np.split(values, starts[1:])
    whole = [math.fsum(part) for part in parts]
    sizes = np.array([np.abs(part).sum() for part in parts])
    assert np.all(np.abs(grouped_sums(values, starts) - whole) <= 1e-11 * np.abs(whole) + 1e-28 * sizes)
    large, small = running_sums(values, starts)
    told = np.concatenate([[math.fsum(part[: end + 1]) for end in range(len(part))] for part in parts])
    assert np.allclose(large + small, told, rtol=1e-15, atol=1e-28 * np.abs(values).max())


@pytest.mark.parametrize("arrange", ["stack", "overlay"])
def test_shares_and_densities_have_one_denominator_stacked_or_not(arrange):
    base = ft.figure(WHEELS).map(x="mass_kg", color="milk")
    share = base.histogram(measure="share", edges=[0, 2, 4, 8, 16], arrange=arrange).numbers(0)
    density = base.histogram(measure="density", edges=[0, 2, 4, 8, 16], arrange=arrange).numbers(0)
    rows = WHEELS["mass_kg"].notna().sum()
    assert share["share"].sum() == pytest.approx(1)
    for milk, part in share.groupby("group"):
        own = WHEELS[WHEELS["milk"] == milk]["mass_kg"].dropna()
        expected, _ = np.histogram(own, [0, 2, 4, 8, 16])
        assert part["share"].tolist() == pytest.approx((expected / rows).tolist())
    widths = density["high"] - density["low"]
    assert (density["density"] * widths).sum() == pytest.approx(1)
    alone = base.histogram(measure="density", edges=[0, 2, 4, 8, 16], arrange="overlay", share_of="group").numbers(0)
    for _, part in alone.groupby("group"):
        assert (part["density"] * (part["high"] - part["low"])).sum() == pytest.approx(1)


def test_shares_of_each_group_are_not_stacked():
    with pytest.raises(OptionError, match="do not stand on each other"):
        Sheet(ft.figure(WHEELS).map(x="mass_kg", color="milk").histogram(measure="share", share_of="group"))


@pytest.mark.parametrize("arrange", ["stack", "overlay"])
@pytest.mark.parametrize("share_of", ["panel", "group"])
def test_a_density_over_bars_of_densities_has_their_area(arrange, share_of):
    if (arrange, share_of) == ("stack", "group"):
        return
    base = ft.figure(WHEELS).map(x="mass_kg", color="milk").facet("cellar")
    figure = base.histogram(measure="density", arrange=arrange, share_of=share_of).density()
    bars, curves = figure.numbers(0), figure.numbers(1)
    for (cellar, milk), part in curves.groupby(["panel", "group"]):
        own = bars[(bars["panel"] == cellar) & (bars["group"] == milk)]
        area = (own["density"] * (own["high"] - own["low"])).sum()
        assert np.trapezoid(part["density"], part["x"]) == pytest.approx(area, abs=0.003)


@pytest.mark.parametrize("width", [0.05, 0.5, 3, 20])
@pytest.mark.parametrize("base", [10.0, 2.0])
def test_a_density_in_numbers_on_a_log_axis_holds_one(width, base):
    samples = (RNG.lognormal(3, 1, 200), RNG.lognormal(0, 1, 200), 10 ** RNG.uniform(-2, 4, 150), np.array([1.0, 2, 50]))
    for values in samples:
        rows = ft.figure({"v": values}).map(x="v").density(bandwidth=width).scale("x", "log", base=base).numbers(0)
        assert np.trapezoid(rows["density"], np.log(rows["x"]) / np.log(base)) == pytest.approx(1, abs=1e-3)


@pytest.mark.parametrize("form", ["density", "histogram"])
def test_ridges_and_violins_on_times_are_per_day(form):
    times = pd.Timestamp("2030-03-01") + pd.to_timedelta(RNG.normal(0, 4, 300), unit="D")
    frame = pd.DataFrame({"t": times, "g": np.where(np.arange(300) % 2, "a", "b")})
    base = ft.figure(frame).map(x="t", y="g")
    tables = [base.ridgelines(form=form).numbers(0), *([base.violins().numbers(0)] if form == "density" else [])]
    for rows in tables:
        for _, part in rows.groupby("y"):
            days = (pd.to_datetime(part["x"]) - pd.Timestamp("2030-03-01")) / pd.Timedelta(days=1)
            assert np.trapezoid(part["density"], days) == pytest.approx(1, abs=0.01)


@pytest.mark.parametrize("edges", [[0, 2, 4, 6, 8], [0, 1, 4, 6, 8]])
def test_cells_of_given_edges_have_those_edges(edges):
    x, y = RNG.uniform(0, 8, 400), RNG.uniform(0, 8, 400)
    base = ft.figure({"x": np.round(x), "y": np.round(y), "v": x * y}).map(x="x", y="y", color="v")
    rows = base.cells(aggregate="mean", edges=(edges, edges)).numbers(0)
    table = laid_out(base.cells(aggregate="mean", edges=(edges, edges))).runs[0].table
    assert set(np.unique(np.concatenate([table["x_low"], table["x_high"]]))) == set(map(float, edges))
    frame = pd.DataFrame({"x": np.round(x), "y": np.round(y), "v": x * y})
    cut = [pd.cut(frame[name], edges, right=False, include_lowest=True, labels=False).fillna(3) for name in ("x", "y")]
    expected = frame["v"].groupby(cut).mean().sort_values()
    assert sorted(rows["mean"].tolist()) == pytest.approx(expected.tolist())
    counted = ft.figure(frame).map(x="x", y="y").cells(edges=(edges, None)).numbers(0)
    assert counted["count"].sum() == 400
