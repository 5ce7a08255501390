"""What is computed and what is shown are the same rows, in the same places, or a finding says what differs."""

import re

import numpy as np
import pandas as pd
import pytest
from conftest import SVG, laid_out
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.drawn import read
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import KindError

ROWS = pd.DataFrame({
    "x": np.arange(20.0), "y": np.arange(20.0) * 2 + np.arange(20) % 3, "kind": ["p", "q"] * 10,
    "mass": np.arange(20.0) + 1, "plot": ["u"] * 20,
})  # fmt: skip


@settings(max_examples=15, deadline=None)
@given(
    st.sampled_from([("color", "kind"), ("shape", "kind"), ("outline", "kind"), ("color", "mass"), ("size", "mass")]),
    st.sets(st.integers(0, 19), min_size=1, max_size=17), st.booleans(), st.sampled_from(["trend", "boxes"]),
)  # fmt: skip
def test_rows_without_a_look_are_drawn_with_a_legend_entry_or_said_to_be_unseen(mapped, lost, everywhere, second):
    aesthetic, column = mapped
    rows = ROWS.copy()
    rows[column] = rows[column].astype(object if column == "kind" else float)
    rows.loc[sorted(lost), column] = None if column == "kind" else np.nan
    base = ft.figure(rows).map(x="plot" if second == "boxes" else "x", y="y")
    options = {"outliers": False} if second == "boxes" else {}
    figure = base.map(**{aesthetic: column}) if everywhere else base
    figure = getattr(figure.points(map={} if everywhere else {aesthetic: column}), second)(**options)
    sheet = Sheet(figure)
    drawn = read(sheet.root)
    points = [mark for mark in drawn.marks if mark.verb == "points"]
    if aesthetic == "shape":
        # Many marks of one shape are written once, and used where they stand.
        within = {id(one) for defs in sheet.root.iter(f"{SVG}defs") for one in defs.iter()}
        marks = [
            one for name in ("circle", "use", "path") for one in sheet.layer(1).iter(f"{SVG}{name}") if id(one) not in within
        ]
        assert len(marks) == 20
        return
    unseen = [int(re.search(r"also from (\d+) rows?", text)[1]) for text in sheet.said("rows-unseen")]
    left = [text for text in sheet.said("rows-missing") if "trend" in text or "boxes" in text]
    if aesthetic == "size":
        assert len(points) == 20 - len(lost)
        assert unseen == ([] if left else [len(lost)])
        return
    assert len(points) == 20
    assert not unseen
    entries = {label: looks for legend in drawn.legends for label, looks in legend.entries.items()}
    gray = entries[next(label for label in entries if label in ("missing", "no value"))]
    look = "line" if aesthetic == "outline" else "color"
    same = [mark for mark in points if mark.looks[look] == gray[look]]
    assert len(same) == len(lost)


def test_no_line_box_or_bar_is_made_of_rows_without_a_group_unless_asked():
    rows = ROWS.assign(kind=[None, "p", "q", "p"] * 5)
    for verb, options in (("lines", {}), ("boxes", {}), ("bars", {"aggregate": "mean"}), ("trend", {})):
        base = ft.figure(rows).map(x="plot" if verb in ("boxes", "bars") else "x", y="y", color="kind")
        figure = getattr(base, verb)(**options)
        made = laid_out(figure)
        assert made.scales.looks["color"].labels == ("p", "q")
        assert any(one.code == "rows-missing" and "5 rows" in one.text for one in made.findings)
        assert laid_out(figure.scale("color", missing="show")).scales.looks["color"].labels[-1] == "missing"


TREATED = pd.DataFrame({
    "week": np.tile(["first", "second", "third"], 30), "kind": np.repeat(["a", "b", "c"], 30),
    "value": np.arange(90.0) % 11 + np.repeat([0.0, 3.0, 6.0], 30),
})  # fmt: skip


@pytest.mark.parametrize("beside", ["intervals", "boxes", "bars", "violins"])
@pytest.mark.parametrize("turned", [False, True])
def test_lines_points_and_labels_go_through_the_places_of_their_groups(beside, turned):
    options = {"aggregate": "mean", "arrange": "side_by_side"} if beside == "bars" else {}
    if beside in ("boxes", "violins"):
        options = {"arrange": "side_by_side"}
    base = ft.figure(TREATED).map(x="week", y="value", color="kind")
    figure = getattr(base, beside)(**options).lines(aggregate="mean").points(aggregate="mean")
    figure = figure.swap_axes() if turned else figure
    marks, lines, points = (run.table for run in laid_out(figure).runs)
    axis = "y" if turned else "x"
    places = {(group, round(x)): x for group, x in zip(marks.group.tolist(), marks[axis].tolist(), strict=True)}
    assert len(set(places.values())) == 9
    for table in (lines, points):
        for group, x in zip(table.group.tolist(), table[axis].tolist(), strict=True):
            assert x == pytest.approx(places[group, round(x)], abs=1e-9)
    overlaid = base.lines(aggregate="mean", arrange="overlay")
    overlaid = getattr(overlaid, beside)(**options)
    assert set(laid_out(overlaid).runs[0].table["x"].tolist()) == {0.0, 1.0, 2.0}


def test_lines_side_by_side_stand_apart_on_categories_and_are_refused_on_numbers():
    base = ft.figure(TREATED).map(x="week", y="value", color="kind").lines(aggregate="mean", arrange="side_by_side")
    assert len(set(np.round(laid_out(base).runs[0].table["x"], 9).tolist())) == 9
    with pytest.raises(KindError, match="lines side by side need categories on x"):
        laid_out(ft.figure(ROWS).map(x="x", y="y", color="kind").lines(arrange="side_by_side"))
