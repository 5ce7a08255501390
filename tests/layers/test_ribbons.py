"""Bands around a center: the same statistics as intervals, joined along x."""

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import laid_out, said

import facetine as ft
from facetine.messages.errors import MappingError, OptionError

RNG = np.random.default_rng(3)
DATA = pd.DataFrame({"day": np.tile(np.arange(8.0), 24), "k": np.repeat(["a", "b"], 96), "v": RNG.normal(size=192)})
BASE = ft.figure(DATA).map(x="day", y="v", color="k")


@pytest.mark.parametrize("around", ["mean", "median"])
@pytest.mark.parametrize("reach", ["confidence", "std_error", "std_dev", "quartiles", "range"])
def test_a_band_has_the_ends_of_the_intervals(around, reach):
    try:
        intervals = laid_out(BASE.intervals(around=around, reach=reach)).runs[0].table
    except ft.FacetineError:
        with pytest.raises(ft.FacetineError):
            laid_out(BASE.bands(around=around, reach=reach))
        return
    band = laid_out(BASE.bands(around=around, reach=reach)).runs[0].table
    order = [np.lexsort((table["x"], table.group)) for table in (band, intervals)]
    for end in ("y_low", "y_high"):
        assert band[end][order[0]] == pytest.approx(intervals[end][order[1]])


def test_the_confidence_of_a_mean_is_that_of_student():
    table = laid_out(BASE.bands(around="mean", level=0.9)).runs[0].table
    part = DATA[(DATA.k == "a") & (DATA.day == 3)].v
    row = np.flatnonzero((table["x"] == 3) & (table.group == 0))[0]
    low, high = scipy.stats.t.interval(0.9, len(part) - 1, part.mean(), scipy.stats.sem(part))
    assert (table["y_low"][row], table["y_high"][row]) == pytest.approx((low, high))


def test_a_place_of_one_row_breaks_the_band_and_is_said():
    data = pd.concat([DATA[DATA.k == "a"], pd.DataFrame({"day": [8.0], "k": ["a"], "v": [0.0]})])
    made = laid_out(ft.figure(data).map(x="day", y="v").bands(around="mean"))
    assert any("too few" in note for note in said(made))


def test_groups_stay_at_their_x_on_an_axis_of_numbers_unless_told():
    assert set(laid_out(BASE.intervals()).runs[0].table["x"].tolist()) == set(np.arange(8.0))
    moved = laid_out(BASE.intervals(arrange="side_by_side")).runs[0].table["x"]
    assert not set(moved.tolist()) <= set(np.arange(8.0))
    categories = laid_out(ft.figure(DATA).kinds(day="category").map(x="day", y="v", color="k").intervals()).runs[0].table["x"]
    assert not np.allclose(categories, np.rint(categories))


@pytest.mark.parametrize(
    ("options", "error", "words"),
    [
        ({}, MappingError, "around="),
        ({"around": "mean", "aggregate": "mean"}, OptionError, "two things"),
        ({"around": "middle"}, OptionError, "median"),
        ({"around": "mean", "reach": "sd"}, OptionError, "std_dev"),
        ({"around": "mean", "level": 2}, OptionError, "level"),
    ],
)
def test_bands_that_say_nothing_are_refused(options, error, words):
    with pytest.raises(error, match=words):
        laid_out(BASE.bands(**options))


def test_a_reach_without_a_center_is_refused():
    given = ft.figure(x=[1.0, 2], a=[1.0, 2], b=[2.0, 3]).map(x="x", y_low="a", y_high="b")
    with pytest.raises(OptionError, match="without a center"):
        laid_out(given.bands(reach="std_dev"))
    assert len(laid_out(given.bands()).runs[0].table) == 2
