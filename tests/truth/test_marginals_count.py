"""Marginals count the rows that their panel shows, or their title says that they count all."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.scene.marks import Group, Markers

RNG = np.random.default_rng(9)
ROWS = pd.DataFrame({
    "x": RNG.normal(5, 2, 200), "y": RNG.lognormal(1, 1, 200), "kind": RNG.choice(list("pqr"), 200), "size": RNG.uniform(1, 9, 200),
    "part": RNG.choice(["u", "v"], 200),
})  # fmt: skip
ROWS.loc[::11, "y"] = np.nan
ROWS.loc[5::13, "size"] = np.nan
ROWS.loc[3::17, "kind"] = None
ROWS.loc[7::29, "y"] = -1.0


def points_drawn(made):
    """The rows of the data that stand on the paper as points."""
    found = []

    def walk(group, inside):
        for item in group.items:
            if isinstance(item, Group):
                walk(item, inside or item.layer is not None)
            elif isinstance(item, Markers) and inside and item.rows is not None:
                found.extend(item.rows.tolist())

    walk(made.scene.root, False)
    return found


@settings(max_examples=20, deadline=None)
@given(
    st.sampled_from([None, (2, 8), (None, 6), (4, None)]), st.sampled_from([None, (1, 5), ("5 %", "80 %")]),
    st.sampled_from([{}, {"color": "kind"}, {"size": "size"}, {"color": "kind", "size": "size"}]), st.booleans(),
    st.sampled_from([None, "part"]), st.sampled_from([None, "x > 4", "kind = 'p'"]), st.booleans(),
)  # fmt: skip
def test_the_bars_of_a_marginal_add_up_to_the_points_of_its_panel(x_limits, y_limits, mapped, log, facet, where, swapped):
    figure = ft.figure(ROWS).map(x="x", y="y", **mapped).points(where=where)
    figure = figure.scale("x", limits=x_limits) if x_limits else figure
    figure = figure.scale("y", "log" if log else "linear", limits=y_limits) if log or y_limits else figure
    figure = figure.facet(facet) if facet else figure
    figure = (figure.swap_axes() if swapped else figure).marginal("top", "histogram").marginal("right", "histogram")
    made = laid_out(figure, "180 mm")
    shown = points_drawn(made)
    for run in made.runs:
        if run.layer.verb == "histogram":
            assert run.table["count"].sum() == len(shown)


def test_layers_of_parts_of_the_rows_are_counted_together():
    base = ft.figure(ROWS).map(x="x", y="y")
    figure = base.points(where="x > 6").points(where="x < 3", color="#a03060").marginal("top", "histogram")
    made = laid_out(figure)
    (count,) = [run.table["count"].sum() for run in made.runs if run.layer.verb == "histogram"]
    assert count == len(set(points_drawn(made))) == ((ROWS["x"] > 6) | (ROWS["x"] < 3))[ROWS["y"].notna()].sum()


@pytest.mark.parametrize(("layer", "title"), [("histogram", "Count of all rows"), ("density", "Density of all rows")])
def test_a_marginal_of_thinned_points_says_that_it_counts_all(layer, title):
    figure = ft.figure(ROWS).map(x="x", y="y").points(thin=20).marginal("top", layer)
    texts = [text.content for text in laid_out(figure).scene.texts()]
    assert any(title in text for text in texts)


@pytest.mark.parametrize("limits", [{"u": (1, 4)}, {"u": (1, 4), "v": (None, 6)}])
def test_limits_of_single_panels_hold_for_their_marginals(limits):
    figure = ft.figure(ROWS).map(x="x", y="y").points().facet("part", separate="y").scale("y", limits=limits)
    made = laid_out(figure.marginal("top", "histogram"), "180 mm")
    (table,) = [run.table for run in made.runs if run.layer.verb == "histogram"]
    shown = ROWS.loc[points_drawn(made), "part"].value_counts()
    counted = np.bincount(table.panel, table["count"])
    assert sorted(counted[counted > 0].tolist()) == sorted(shown.tolist())
    assert shown.sum() < ROWS["y"].notna().sum()
