"""Which rows stand behind bars, bins, boxes and cells: those that a data frame library finds by the values alone."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.pipeline.sheet.members import members_of, single_rows_of

N = 120


@st.composite
def frames(draw):
    rng = np.random.default_rng(draw(st.integers(0, 10**6)))
    frame = pd.DataFrame(
        {
            "kind": rng.choice(["a", "b", "c"], N),
            "who": rng.choice(["x", "y"], N),
            "place": rng.choice(["here", "there"], N),
            "value": np.round(rng.gamma(2, 3, N) + 0.1, draw(st.integers(0, 2))),
            "other": np.round(rng.normal(0, 2, N), 1),
            "weight": rng.integers(1, 5, N),
        }
    )
    frame.loc[rng.choice(N, draw(st.integers(0, 10)), replace=False), "value"] = np.nan
    return frame


def behind(figure, layer=0):
    """The rows of each result by its place, and the run."""
    made = laid_out(figure, "150 mm")
    member = made.members[0][0]
    run = member.runs[layer]
    found = members_of(run, member)
    if found is None:
        return None, run
    sets = {}
    for row, result in zip(run.rows.numbers.tolist(), found.tolist(), strict=True):
        sets.setdefault(result, set()).add(row)
    return sets, run


def names(run, number):
    panels = run.context.panels or ("",)
    return run.context.groups.get(int(run.table.group[number]), ""), panels[int(run.table.panel[number])]


@settings(max_examples=30, deadline=None)
@given(frames(), st.booleans(), st.booleans(), st.sampled_from(["linear", "log", "sqrt"]))
def test_values_beyond_the_whiskers_are_rows_of_the_data(frame, lying, panels, kind):
    frame["value"] = np.round(frame["value"] ** 3 + 0.1, 1)
    figure = ft.figure(frame).map(x="kind", y="value", color="who").boxes().scale("y", kind)
    figure = figure.facet("place") if panels else figure
    figure = figure.swap_axes() if lying else figure
    made = laid_out(figure, "150 mm")
    member = made.members[0][0]
    (run,) = member.runs
    single = single_rows_of(run, member)
    assert len(single) == np.isnan(run.table["count"].astype(float)).sum()
    rows = run.rows.numbers[single[:, 1]]
    assert len(set(rows.tolist())) == len(rows)
    told = figure.numbers("boxes")
    for (result, _), row in zip(single.tolist(), rows.tolist(), strict=True):
        there, said = frame.iloc[row], told.iloc[result]
        who, place = names(run, result)
        assert (there["who"], there["kind"]) == (who, said["y" if lying else "x"])
        assert not panels or there["place"] == place
        assert there["value"] == pytest.approx(said["x" if lying else "y"])


@settings(max_examples=30, deadline=None)
@given(frames(), st.booleans(), st.booleans(), st.sampled_from(["bars", "boxes", "intervals", "bars_mean", "weighed"]))
def test_rows_of_a_category_stand_behind_its_mark(frame, lying, panels, layer):
    figure = ft.figure(frame).map(x="kind", y=None if layer in ("bars", "weighed") else "value", color="who")
    figure = figure.map(weight="weight") if layer == "weighed" else figure
    figure = {
        "bars": figure.bars,
        "weighed": figure.bars,
        "boxes": figure.boxes,
        "intervals": figure.intervals,
        "bars_mean": lambda: figure.bars(aggregate="mean"),
    }[layer]()
    figure = figure.swap_axes() if lying else figure
    figure = figure.facet("place") if panels else figure
    sets, run = behind(figure)
    assert sets is not None
    used = frame if layer in ("bars", "weighed") else frame.dropna(subset=["value"])
    kinds = sorted(used["kind"].unique())
    assert set().union(*(rows for result, rows in sets.items() if result >= 0)) == set(used.index)
    for result, rows in sets.items():
        who, place = names(run, result)
        where = (used["kind"] == kinds[int(run.table["x value"][result])]) & (used["who"] == who)
        where &= (used["place"] == place) if panels else True
        assert rows == set(used.index[where])


@settings(max_examples=30, deadline=None)
@given(frames(), st.booleans(), st.booleans(), st.sampled_from(["linear", "log", "sqrt"]))
def test_rows_of_a_bin_stand_behind_it(frame, lying, panels, scale):
    edges = [0.05, 1.0, 2.5, 4.0, 8.0, 40.0]
    figure = ft.figure(frame).map(**{"y" if lying else "x": "value", "color": "who"}).histogram(edges=edges)
    figure = figure.scale("y" if lying else "x", scale)
    figure = figure.facet("place", separate="y" if lying else "x") if panels else figure
    sets, run = behind(figure)
    used = frame.dropna(subset=["value"])
    which = pd.cut(used["value"], edges, right=False, labels=False)
    # What no bin holds stands behind none; a log scale leaves some of it out before.
    assert sets.pop(-1, set()) <= set(which.index[which.isna()])
    assert set().union(*sets.values()) == set(which.index[which.notna()])
    for result, rows in sets.items():
        who, place = names(run, result)
        where = (which == edges.index(float(np.round(run.table["x_from"][result], 9)))) & (used["who"] == who)
        where &= (used["place"] == place) if panels else True
        assert rows == set(used.index[where])


@settings(max_examples=20, deadline=None)
@given(frames(), st.booleans())
def test_rows_of_a_cell_stand_behind_it(frame, panels):
    figure = ft.figure(frame).map(x="value", y="other").cells(edges=([0, 2, 5, 10, 60], [-20, -1, 0, 1, 20]))
    figure = figure.facet("place") if panels else figure
    sets, run = behind(figure)
    used = frame.dropna(subset=["value"])
    across = pd.cut(used["value"], [0, 2, 5, 10, 60], right=False, labels=False)
    up = pd.cut(used["other"], [-20, -1, 0, 1, 20], right=False, labels=False)
    for result, rows in sets.items():
        _, place = names(run, result)
        where = across == [0, 2, 5, 10].index(round(float(run.table["x_low"][result]), 6))
        where &= up == [-20, -1, 0, 1].index(round(float(run.table["y_low"][result]), 6))
        where &= (used["place"] == place) if panels else True
        assert rows == set(used.index[where])


@pytest.mark.parametrize("layer", ["trend", "density", "cumulative", "violins", "hex"])
def test_of_curves_nothing_is_said(layer):
    wheels = ft.figure(ft.demo_data("wheels"))
    figure = {
        "trend": lambda: wheels.map(x="age_days", y="mass_kg").trend(),
        "density": lambda: wheels.map(x="mass_kg").density(),
        "cumulative": lambda: wheels.map(x="mass_kg").cumulative(),
        "violins": lambda: wheels.map(x="rind", y="mass_kg").violins(),
        "hex": lambda: wheels.map(x="age_days", y="mass_kg").cells(cell="hex"),
    }[layer]()
    assert behind(figure)[0] is None
