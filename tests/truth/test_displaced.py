"""Marks that are moved from their places: every row inside the limits is on the paper, and the move is said."""

import re

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft

SCORES = pd.DataFrame({
    "first": np.tile([1, 2, 3, 4, 5], 60), "second": np.repeat([1, 2, 3, 4, 5], 60), "kind": np.tile(list("pqr"), 100),
    "half": np.arange(300) % 7 / 2 + 1,
})  # fmt: skip


def panel_of(sheet, low, high):
    """Where the limits stand on the paper, by the ticks: left, right, top, bottom."""
    ends = []
    for axis in ("x", "y"):
        labels, at = sheet.ticks(axis)
        slope, base = np.polyfit([float(label) for label in labels], at, 1)
        ends += sorted((slope * low + base, slope * high + base))
    return ends


@settings(max_examples=15, deadline=None)
@given(
    st.integers(1, 2), st.integers(3, 5), st.sampled_from([None, 0.1, 0.45]), st.sampled_from(["jitter", "side_by_side"]),
    st.booleans(),
)  # fmt: skip
def test_rows_inside_the_limits_are_on_the_paper_wherever_they_are_moved(low, high, spread, arrange, swapped):
    options = {} if spread is None else {"spread_x": spread}
    figure = ft.figure(SCORES).map(x="first", y="half", color="kind").points(arrange=arrange, **options)
    figure = figure.scale("x", limits=(low, high)).scale("y", limits=(low, high))
    figure = figure.swap_axes() if swapped else figure
    sheet = Sheet(figure)
    inside = int((SCORES["first"].between(low, high) & SCORES["half"].between(low, high)).sum())
    at = sheet.circles(1)
    assert len(at) == inside
    left, right, top, bottom = panel_of(sheet, low, high)
    assert ((at[:, 0] >= left - 0.05) & (at[:, 0] <= right + 0.05)).all()
    assert ((at[:, 1] >= top - 0.05) & (at[:, 1] <= bottom + 0.05)).all()
    said = sheet.said("outside-limits")
    assert (sum(int(count) for count in re.findall(r"(\d+) points? not shown", " ".join(said)))) == 300 - inside
    told = sum(int(count) for count in re.findall(r"\((\d+) rows?\)", quietly(figure.describe)))
    assert told == inside


@pytest.mark.parametrize("verb", ["points", "intervals", "boxes", "bars"])
def test_groups_side_by_side_at_a_limit_stay_on_the_paper_and_apart(verb):
    rows = SCORES[SCORES["first"] < 4]
    options = {"aggregate": "mean"} if verb in ("bars", "points") else {}
    figure = getattr(ft.figure(rows).map(x="first", y="half", color="kind"), verb)(arrange="side_by_side", **options)
    sheet = Sheet(figure.scale("x", limits=(1, 3)))
    left, right = panel_of(sheet, 1, 3)[:2]
    table = laid_out(figure.scale("x", limits=(1, 3))).tables[0]
    places = np.sort(table["x"])
    assert len(places) == 9
    assert places[0] >= 1
    assert places[-1] <= 3
    assert np.diff(places).min() > 0.05
    if verb == "points":
        assert ((sheet.circles(1)[:, 0] >= left - 0.05) & (sheet.circles(1)[:, 0] <= right + 0.05)).all()
    assert not [text for text in sheet.said("outside-limits") if "not shown" in text]


def test_thinned_points_are_counted_as_they_are_drawn():
    figure = ft.figure(SCORES).map(x="first", y="half").points(thin=40)
    assert "40 rows." in quietly(figure.describe)
    assert len(Sheet(figure).circles(1)) == 40


@pytest.mark.parametrize("verb", ["points", "bars", "intervals", "boxes"])
def test_groups_beside_their_measured_values_are_said_to_be_by_how_far_they_are(verb):
    rows = pd.DataFrame({"x": [1.0, 2, 3] * 2, "y": [1.0, 2, 3, 2, 3, 1], "k": list("aaabbb")})
    figure = getattr(ft.figure(rows).map(x="x", y="y", color="k"), verb)(arrange="side_by_side")
    sheet = Sheet(figure)
    (said,) = sheet.said("moved-along-axis")
    far = float(re.search(r"up to ([\d.]+) from their x", said)[1])
    if verb == "points":
        found = sheet.read("x", sheet.circles(1)[:, 0])
        assert np.abs(found - np.rint(found)).max() == pytest.approx(far, abs=0.01)
    if verb == "bars":
        rects = sheet.rects(1)
        middle = sheet.read("x", rects[:, 0] + rects[:, 2] / 2)
        assert np.abs(middle - np.rint(middle)).max() == pytest.approx(far, abs=0.01)
    figure = getattr(ft.figure(rows.astype({"x": str})).map(x="x", y="y", color="k"), verb)(arrange="side_by_side")
    assert not [one for one in laid_out(figure).findings if one.code == "moved-along-axis"]


@pytest.mark.parametrize("spread", [{"spread_y": 0.2}, {"spread_x": 0.2, "spread_y": 0}])
def test_jitter_along_one_measured_axis_is_said(spread):
    figure = ft.figure(SCORES).map(x="first", y="half").points(arrange="jitter", **spread)
    assert [one.code for one in laid_out(figure).findings if one.code in ("moved-along-axis", "jitter-on-both")]
