"""Strengths of relations against independent computations."""

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

import facetine as ft
from facetine.core.stats.association import of_categories, of_groups, of_numbers
from facetine.data.intake import taken_in
from facetine.data.related import missing_patterns, relations
from facetine.layers.suggestions import suggestions_for

SEEDS = st.integers(0, 10_000)


@given(SEEDS, st.integers(3, 200))
def test_numbers_by_the_ranks_of_scipy(seed, size):
    rng = np.random.default_rng(seed)
    x, y = rng.normal(size=size).round(1), rng.normal(size=size).round(1)
    if len(set(x)) > 1 and len(set(y)) > 1:
        assert of_numbers(x, y) == pytest.approx(abs(stats.spearmanr(x, y).statistic), abs=1e-12)


@given(SEEDS, st.integers(6, 200), st.integers(2, 5))
def test_groups_by_the_variance_ratio_of_scipy(seed, size, kinds):
    rng = np.random.default_rng(seed)
    groups = np.r_[np.arange(kinds), rng.integers(0, kinds, size - kinds)]
    values = rng.normal(size=size) + groups * rng.uniform(0, 2)
    ratio = float(stats.f_oneway(*(values[groups == one] for one in range(kinds))).statistic)
    # From the ratio F of an analysis of variance: ε² = (k − 1)(F − 1) / ((k − 1) F + n − k).
    share = (kinds - 1) * (ratio - 1) / ((kinds - 1) * ratio + size - kinds)
    assert of_groups(values, groups) == pytest.approx(np.sqrt(max(0, share)), abs=1e-6)
    assert of_groups(values * 1e200, groups) == pytest.approx(np.sqrt(max(0, share)), abs=1e-6)


@given(SEEDS, st.integers(8, 300), st.integers(2, 5), st.integers(2, 5))
def test_categories_by_the_chi_square_of_scipy(seed, size, height, width):
    rng = np.random.default_rng(seed)
    a = np.r_[np.arange(height), rng.integers(0, height, size)]
    b = rng.integers(0, width, height + size)
    seen = pd.crosstab(a, b).to_numpy()
    if seen.shape[1] < 2:
        assert np.isnan(of_categories(a, b))
        return
    (r, c), n = seen.shape, seen.sum()
    phi = max(0.0, stats.chi2_contingency(seen, correction=False).statistic / n - (r - 1) * (c - 1) / (n - 1))
    lower = min(r - (r - 1) ** 2 / (n - 1), c - (c - 1) ** 2 / (n - 1)) - 1
    assert of_categories(a, b) == pytest.approx(min(1, np.sqrt(phi / lower)), abs=1e-6)


@pytest.mark.parametrize(
    "value",
    [
        of_numbers(np.ones(5), np.arange(5.0)),
        of_numbers(np.arange(2.0), np.arange(2.0)),
        of_groups(np.ones(6), np.array([0, 0, 0, 1, 1, 1])),
        of_groups(np.arange(6.0), np.zeros(6, int)),
        of_groups(np.arange(3.0), np.arange(3)),
        of_groups(np.zeros(0), np.zeros(0, int)),
        of_categories(np.zeros(9, int), np.arange(9) % 2),
        of_categories(np.zeros(0, int), np.zeros(0, int)),
    ],
)
def test_of_which_nothing_can_be_said(value):
    assert np.isnan(value)


def test_the_strongest_relations_of_the_wheels():
    found = relations(taken_in(ft.demo_data("wheels"), "test"))
    assert [one.strength for one in found] == sorted((one.strength for one in found), reverse=True)
    assert {found[0].first, found[0].second} == {"moisture_pct", "firmness_n"}
    wheels = pd.DataFrame(ft.demo_data("wheels")).dropna(subset=["moisture_pct"])
    expected = abs(stats.spearmanr(wheels["moisture_pct"], wheels["firmness_n"]).statistic)
    assert found[0].strength == pytest.approx(expected, abs=1e-12)
    assert not [one for one in found if "wheel" in (one.first, one.second)]


def test_cells_that_are_missing_together():
    data = {"a": [1.0, np.nan, np.nan, np.nan, 5.0], "b": ["x", None, None, "y", "z"], "c": [1, 2, 3, 4, 5]}
    assert missing_patterns(taken_in(data, "test")) == [(("a", "b"), 2), (("a",), 1)]
    assert missing_patterns(taken_in({"c": [1, 2]}, "test")) == []


@given(st.data())
def test_any_table_with_a_value_has_a_figure_to_begin_with(data):
    size = data.draw(st.integers(1, 12))
    cell = {
        "number": st.one_of(st.none(), st.floats(-5, 5)), "text": st.one_of(st.none(), st.sampled_from("abc")),
        "flag": st.booleans(), "same": st.just(3.0),
    }  # fmt: skip
    kinds = data.draw(st.lists(st.sampled_from(list(cell)), min_size=1, max_size=4))
    table = {f"{kind} {place}": data.draw(st.lists(cell[kind], min_size=size, max_size=size)) for place, kind in enumerate(kinds)}
    taken = taken_in(table, "test")
    found = suggestions_for(taken)
    assert bool(found) == any(not taken.column(name).missing.all() for name in taken.names)
    for one in found:
        one.added(ft.figure(table))._repr_mimebundle_()
