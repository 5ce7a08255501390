"""Questions of layers: answered by NumPy as by other means, and enough for a layer to do without its rows."""

import pickle

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

import facetine as ft
from facetine.core.columns import Columns
from facetine.core.fitted import polynomial
from facetine.core.memory import InMemory
from facetine.core.query import (
    Between,
    Bins,
    InBins,
    Moment,
    OnAxis,
    Products,
    Quantiles,
    Query,
    Reach,
    Residual,
    Sampled,
    Scaled,
    Total,
    WithinGroup,
    shuffle_keys,
)
from facetine.core.scales.kinds.log import Log
from facetine.core.stats.polynomials import least_squares

HOWS = ("mean", "median", "sum", "min", "max", "count", "rows", "effective", "distinct", "whole")


@st.composite
def tables(draw, least=1):
    count = draw(st.integers(least, 40))
    numbers = st.one_of(st.integers(-5, 5).map(float), st.floats(-1e3, 1e3).map(lambda x: round(x, 3)))
    frame = pd.DataFrame({
        "panel": draw(arrays(np.int64, count, elements=st.integers(0, 2))),
        "group": draw(arrays(np.int64, count, elements=st.integers(0, 2))),
        "x": draw(arrays(np.int64, count, elements=st.integers(0, 3))),
        "y": draw(arrays(float, count, elements=numbers)),
        "weight": draw(arrays(float, count, elements=st.floats(0.1, 5).map(lambda x: round(x, 2)))),
    })  # fmt: skip
    weighted = draw(st.booleans())
    values = {name: frame[name].to_numpy() for name in ("x", "y", *(["weight"] if weighted else []))}
    rows = Columns(values, frame["panel"].to_numpy(), frame["group"].to_numpy())
    if not weighted:
        frame["weight"] = 1.0
    return frame, InMemory(rows), weighted


def expected(part, how):
    y, w = part["y"].to_numpy(), part["weight"].to_numpy()
    even = (w == w[0]).all()
    return {
        "mean": np.average(y, weights=w), "sum": (y * w).sum(), "min": y.min(), "max": y.max(), "count": w.sum(),
        "rows": float(len(y)), "effective": w.sum() ** 2 / (w**2).sum(), "distinct": float(len(set(y.tolist()))),
        "whole": float((y == np.floor(y)).all()), "median": np.median(y) if even else None,
    }[how]  # fmt: skip


@given(tables(), st.sampled_from(HOWS), st.sampled_from([(), ("x",)]), st.booleans())
def test_totals_are_those_of_each_group(made, how, keys, by_group):
    frame, source, _ = made
    found = source.ask(Query((Total("t", how, "y"),), keys=keys, by_group=by_group))
    groups = list(frame.groupby(["panel", *(["group"] if by_group else []), *keys], sort=True))
    assert len(found) == len(groups)
    for row, (_, part) in enumerate(groups):
        assert found.panel[row] == part["panel"].iloc[0]
        assert found.numbers[row] == part.index[0], "other columns are those of the first row"
        wanted = expected(part, how)
        if wanted is not None:
            assert found["t"][row] == pytest.approx(wanted, rel=1e-9, abs=1e-7)


@given(tables(), st.floats(-600, 600), st.floats(-600, 600), st.booleans())
def test_filters_keep_what_lies_between(made, low, high, outside):
    frame, source, _ = made
    kept = source.rows(Between("y", low, high, outside))
    inside = (frame["y"] >= low) & (frame["y"] <= high)
    assert kept.numbers.tolist() == np.flatnonzero(~inside if outside else inside).tolist()
    counted = source.ask(
        Query((Total("n", "rows"),), filters=(Between("y", low, high, outside),), by_panel=False, by_group=False)
    )
    assert counted["n"].sum() == len(kept)


@given(tables())
def test_limits_and_reaches_of_each_group(made):
    frame, source, _ = made
    whole = source.ask(Query((Quantiles(("low", "high"), "y", (0.25, 0.75)),), keys=("x",)))
    near = source.rows(WithinGroup("y", whole["low"], whole["high"]), keys=("x",))
    far = source.rows(WithinGroup("y", whole["low"], whole["high"], outside=True), keys=("x",))
    assert sorted([*near.numbers, *far.numbers]) == list(range(len(frame)))
    reach = source.ask(Query((Reach(("a", "b"), "y", whole["low"], whole["high"]),), keys=("x",)))
    for row, (_, part) in enumerate(frame.groupby(["panel", "group", "x"], sort=True)):
        y = part["y"].to_numpy()
        assert reach["a"][row] == y[y >= whole["low"][row]].min()
        assert reach["b"][row] == y[y <= whole["high"][row]].max()


@given(tables(), st.lists(st.floats(0, 1), min_size=1, max_size=4))
def test_quantiles_are_of_type_seven_or_weighted(made, shares):
    frame, source, weighted = made
    names = tuple(f"q{number}" for number in range(len(shares)))
    found = source.ask(Query((Quantiles(names, "y", tuple(shares)),)))
    own = source.ask(Query((Quantiles(names, "y", np.tile(shares, (len(found), 1))),)))
    for row, (_, part) in enumerate(frame.groupby(["panel", "group"], sort=True)):
        for name, share in zip(names, shares, strict=True):
            assert own[name][row] == found[name][row]
            if not weighted:
                assert found[name][row] == pytest.approx(np.quantile(part["y"], share), rel=1e-9, abs=1e-9)


@given(tables(), st.integers(1, 3))
def test_moments_stand_about_their_own_centers(made, power):
    frame, source, _ = made
    means = source.ask(Query((Total("mean", "mean", "y"),)))["mean"]
    found = source.ask(Query((Moment("m", "y", power, means),)))["m"]
    for row, (_, part) in enumerate(frame.groupby(["panel", "group"], sort=True)):
        wanted = np.average((part["y"] - means[row]) ** power, weights=part["weight"])
        assert found[row] == pytest.approx(wanted, rel=1e-9, abs=1e-6)


@given(tables(), st.booleans())
def test_bins_are_answered_also_where_nothing_lies(made, two):
    frame, source, _ = made
    edges = np.array([-600.0, -10.0, 0.0, 0.5, 700.0])
    places = np.array([-0.5, 0.5, 1.5, 2.5, 3.5])
    bins = (Bins("y", edges), *((Bins("x", places),) if two else ()))
    found = source.ask(Query((Total("n", "count"),), bins=bins))
    groups = list(frame.groupby(["panel", "group"], sort=True))
    assert len(found) == len(groups) * 4 * (4 if two else 1)
    inside = frame[(frame["y"] >= -600) & (frame["y"] <= 700)]
    assert found["n"].sum() == pytest.approx(inside["weight"].sum())
    derived = source.ask(Query((Total("n", "count"),), keys=("bin",), derived=(InBins("bin", "y", edges),)))
    for row in range(len(derived)):
        same = (
            (found.panel == derived.panel[row]) & (found.group == derived.group[row]) & (found["bin of y"] == derived["bin"][row])
        )
        if derived["bin"][row] >= 0:
            assert found["n"][same].sum() == pytest.approx(derived["n"][row])


def test_even_bins_count_as_edges_do():
    rng = np.random.default_rng(3)
    source = InMemory(Columns.of({"y": rng.normal(size=5000)}))
    edges = np.linspace(-6, 6, 4001)
    one, two = (source.ask(Query((Total("n", "count"),), bins=(Bins("y", edges, even),)))["n"] for even in (False, True))
    assert np.abs(np.cumsum(one) - np.cumsum(two)).max() <= 1  # a value beside an edge


@given(st.integers(0, 60), st.integers(0, 2**40), st.integers(0, 50))
def test_a_sample_is_the_same_whatever_order_rows_stand_in(count, seed, size):
    numbers = np.arange(count)
    order = np.random.default_rng(count).permutation(count)
    one, two = (
        InMemory(Columns({"y": some.astype(float)}, np.zeros(count, np.int64), np.zeros(count, np.int64), some)).rows(Sampled(size, seed))
        for some in (numbers, order)
    )  # fmt: skip
    assert len(one) == min(size, count)
    assert sorted(one.numbers.tolist()) == sorted(two.numbers.tolist())
    assert len(set(shuffle_keys(numbers, seed).tolist())) == count


def test_samples_are_even():
    taken = np.zeros(1000)
    for seed in range(400):
        keys = shuffle_keys(np.arange(1000), seed)
        taken[np.argsort(keys)[:100]] += 1
    assert scipy.stats.chisquare(taken).pvalue > 1e-4
    assert abs(np.corrcoef(taken[:-1], taken[1:])[0, 1]) < 0.15


def test_derived_columns_are_what_they_say():
    rows = Columns.of({"x": np.array([1.0, 10, 100]), "y": np.array([1.0, 2, 4]), "weight": np.array([1.0, 2, 3])})
    line = Residual("rest", "x", "y", 0.0, 1.0, np.array([1.0, 0.5]), 0.25)
    asked = Query((Total("x", "sum", "place"), Total("rest", "sum", "rest")),
                  derived=(Scaled("weight", "weight", 0.5), OnAxis("place", "x", Log()), line))  # fmt: skip
    found = InMemory(rows).ask(asked)
    weights = np.array([0.5, 1, 1.5])
    assert found["x"][0] == pytest.approx((weights * [0, 1, 2]).sum())
    assert found["rest"][0] == pytest.approx((weights * (rows["y"] - 0.25 - 1 - 0.5 * rows["x"])).sum())
    assert pickle.loads(pickle.dumps(asked)).aggregates == asked.aggregates


@given(tables(least=6), st.integers(1, 4), st.floats(-1e6, 1e6), st.floats(1e-3, 1e3))
def test_polynomials_from_sums_are_those_of_the_rows(made, degree, shift, scale):
    frame, source, weighted = made
    x = np.random.default_rng(len(frame)).permutation(len(frame)) * scale + shift
    moved = InMemory(source.columns.put(x=x))
    at = np.linspace(x.min(), x.max(), 7)
    fit = polynomial(moved, at, degree)
    direct = least_squares(x, frame["y"].to_numpy(), at, degree, frame["weight"].to_numpy() if weighted else None)
    assert fit is not None
    size = np.ptp(frame["y"].to_numpy()) + 1e-9
    np.testing.assert_allclose(fit.value, direct.value, atol=1e-9 * size)
    np.testing.assert_allclose(fit.error, direct.error, atol=1e-7 * size, rtol=1e-6)
    assert fit.freedom == direct.freedom


def test_sums_that_lose_the_solution_ask_for_the_rows():
    x = np.concatenate([1e-9 * np.arange(20), [1.0]])
    rows = InMemory(Columns.of({"x": x, "y": np.arange(21.0)}))
    assert polynomial(rows, x, 6) is None
    one = InMemory(Columns.of({"x": np.array([1.0, 1.0]), "y": np.array([1.0, 2.0])}))
    with pytest.raises(ValueError, match="2 different x"):
        polynomial(one, x, 1)
    basis = InMemory(rows.columns).ask(Query((Products("x", "y", 1, 0.5, 0.5),)))
    assert basis["0 0"][0] == 21
    assert basis["0 y"][0] == 210


class Counter:
    """A source that answers questions, and hands on rows only by a filter: as an engine that holds many."""

    def __init__(self, inner):
        self.inner = inner

    def __contains__(self, name):
        return name in self.inner

    def ask(self, query):
        return self.inner.ask(query)

    def parts(self, *keys):
        return (Counter(part) for part in self.inner.parts(*keys))

    def rows(self, *filters, keys=()):
        assert filters, "all rows were asked for"
        return self.inner.rows(*filters, keys=keys)

    def keeping(self, *filters):
        return Counter(self.inner.keeping(*filters))

    def without(self, name):
        return Counter(self.inner.without(name))

    def with_constant(self, name, value):
        return Counter(self.inner.with_constant(name, value))


BIG = ft.figure({
    "x": np.random.default_rng(1).normal(5, 1, 24_000), "y": np.random.default_rng(2).gamma(3, 2, 24_000),
    "k": np.random.default_rng(3).choice(["a", "b", "c"], 24_000), "w": np.random.default_rng(4).uniform(1, 2, 24_000),
    "whole": np.random.default_rng(5).integers(0, 9, 24_000), "yes": np.random.default_rng(6).random(24_000) < 0.3,
})  # fmt: skip
ASKING = {
    "bars": BIG.map(x="k").bars(),
    "bars of medians": BIG.map(x="k", y="y").bars(aggregate="median"),
    "histogram": BIG.map(x="x", color="k").histogram(),
    "histogram of weights": BIG.map(x="x", weight="w").histogram(bins=12),
    "points of means": BIG.map(x="whole", y="y", color="k").points(aggregate="mean"),
    "lines of sums": BIG.map(x="whole", y="y").lines(aggregate="sum"),
    "areas of counts": BIG.map(x="whole", y="y").areas(aggregate="count"),
    "bands of medians": BIG.map(x="whole", y_low="x", y_high="y").bands(aggregate="median"),
    "cells": BIG.map(x="x", y="y").cells(),
    "cells of medians": BIG.map(x="k", y="whole", color="y").cells(aggregate="median"),
    "boxes": BIG.map(x="k", y="y").boxes(notches=True),
    "boxes of percentiles": BIG.map(x="k", y="y", weight="w").boxes(whiskers=(5, 95)),
    "intervals": BIG.map(x="k", y="y").intervals(),
    "weighted intervals": BIG.map(x="k", y="y", weight="w").intervals(reach="std_dev"),
    "medians": BIG.map(x="k", y="y").intervals(around="median"),
    "quartiles": BIG.map(x="k", y="y").intervals(around="median", reach="quartiles"),
    "ranges": BIG.map(x="k", y="y").intervals(reach="range"),
    "shares": BIG.map(x="k", y="yes").intervals(around="share"),
    "trend": BIG.map(x="x", y="y", color="k").trend(),
    "polynomial": BIG.map(x="x", y="y", weight="w").trend("polynomial", degree=4),
    "cumulative": BIG.map(x="x", color="k").cumulative(),
    "density": BIG.map(x="x").density(),
    "violins": BIG.map(x="k", y="x").violins(),
    "reference": BIG.map(x="k", y="y").reference(aggregate="mean"),
}


@pytest.mark.parametrize("name", list(ASKING))
def test_what_sums_can_say_is_computed_without_fetching_the_rows(name):
    (run,) = laid_out(ASKING[name]).runs
    source = InMemory(run.rows)
    prepared = ASKING[name]._sentence.layers[0].prepare(Counter(source), run.context)
    asked, known = prepared.compute(Counter(source), run.context), prepared.compute(source, run.context)
    assert len(asked) == len(known) > 0
    for column in known.values:
        np.testing.assert_array_equal(asked.values[column], known.values[column])
