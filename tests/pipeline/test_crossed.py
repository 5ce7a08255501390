"""Panels in rows and columns, and panels that follow each other downwards."""

import subprocess
import sys

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, texts
from hypothesis import given
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft
from facetine.messages.errors import ExportError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points()
MILKS, RINDS = ["cow", "ewe", "goat"], ["bloomy", "natural", "washed", "waxed"]


def headings(made):
    return [text.content for text in made.scene.texts() if text.role == "heading"]


@pytest.mark.parametrize("width", [90, 120, 180])
def test_each_panel_holds_the_rows_of_its_pair(width):
    made = laid_out(BASE.facet(rows="milk", columns="rind"), width)
    assert_sound(made)
    places = made.layout.panels
    assert [(place.panel.rows.start, place.panel.columns.start) for place in places] == [
        (r, c) for r in range(3) for c in range(4)
    ]
    table, frame = made.runs[0].table, pd.DataFrame(WHEELS)
    for place in places:
        milk, rind = MILKS[place.panel.rows.start], RINDS[place.panel.columns.start]
        own = frame[(frame.milk == milk) & (frame.rind == rind)].dropna(subset=["moisture_pct", "firmness_n"])
        assert sorted(table["x"][table.panel == place.panel.number]) == sorted(own.moisture_pct)
        assert place.panel.name == f"{milk}, {rind}"
    assert sorted(headings(made)) == sorted([*MILKS, *RINDS])
    over = [place.panel.number for place in places if place.panel.heading is not None]
    assert over == [0, 1, 2, 3]
    assert [place.panel.number for place in places if place.panel.side_heading is not None] == [3, 7, 11]
    last = max(place.box.right for place in places)
    beside = [text for text in made.scene.texts() if text.role == "heading" and text.content in MILKS]
    assert all(text.box.x > last and text.box.right <= made.layout.width for text in beside)


def test_headings_count_the_rows_of_their_row_or_column():
    made = laid_out(BASE.facet(rows="milk", columns="rind", heading="{name}: {value} ({count})"), 180)
    frame = pd.DataFrame(WHEELS).dropna(subset=["moisture_pct", "firmness_n"])
    wanted = [f"Rind: {rind} ({(frame.rind == rind).sum()})" for rind in RINDS]
    wanted += [f"Milk: {milk} ({(frame.milk == milk).sum()})" for milk in MILKS]
    assert sorted(headings(made)) == sorted(wanted)
    called = laid_out(BASE.facet(rows="milk", columns="rind", heading=lambda value: value.upper()), 180)
    assert sorted(headings(called)) == sorted(map(str.upper, [*MILKS, *RINDS]))


@pytest.mark.parametrize("separate", [{"y": "row"}, {"x": "column"}, {"y": "row", "x": "column"}, {"x": "panel"}, "xy", None])
def test_an_axis_for_each_row_or_column_has_the_range_of_its_rows(separate):
    made = laid_out(BASE.facet(rows="milk", columns="rind", separate=separate), 180)
    assert_sound(made)
    sharing = dict.fromkeys(separate, "panel") if isinstance(separate, str) else separate or {}
    keys = {"row": 3, "column": 4, "panel": 12, None: 1}
    table = made.runs[0].table
    for axis in "xy":
        standing = {}
        for place in made.layout.panels:
            standing.setdefault(place.panel.key(axis), []).append(place.panel)
        assert len(standing) == keys[sharing.get(axis)]
        for key, panels in standing.items():
            if sharing.get(axis) == "row":
                assert len({panel.rows.start for panel in panels}) == 1
            if sharing.get(axis) == "column":
                assert len({panel.columns.start for panel in panels}) == 1
            own = table[axis][np.isin(table.panel, [panel.number for panel in panels])]
            extent = made.scales.axes[key].extent
            assert extent.low < own.min() <= own.max() < extent.high
            assert extent.high - extent.low <= 1.08 * np.ptp(own)
    left = [place.panel.columns.start for place in made.layout.panels if place.labelled("left")]
    assert set(left) == ({0, 1, 2, 3} if sharing.get("y") == "panel" else {0})


def test_rows_or_columns_alone_are_one_column_or_one_row():
    down, across = (laid_out(BASE.facet(**{name: "milk"}), 120) for name in ("rows", "columns"))
    assert [place.panel.rows.start for place in down.layout.panels] == [0, 1, 2]
    assert {place.panel.columns.start for place in down.layout.panels} == {0}
    assert [place.panel.columns.start for place in across.layout.panels] == [0, 1, 2]
    assert [place.panel.heading for place in across.layout.panels] == MILKS
    assert [place.panel.side_heading for place in down.layout.panels] == MILKS
    assert_sound(down)
    assert_sound(across)


def test_pairs_that_do_not_occur_are_kept_or_dropped():
    some = BASE.keep("NOT (rind = 'waxed' AND milk <> 'cow') AND NOT (milk = 'cow' AND rind = 'bloomy')")
    kept, dropped = (laid_out(some.facet(rows="milk", columns="rind", empty=word), 180) for word in ("keep", "drop"))
    assert len(kept.layout.panels) == 12
    assert len(dropped.layout.panels) == 9
    assert len(kept.runs[0].table) == len(dropped.runs[0].table)
    places = {(place.panel.rows.start, place.panel.columns.start): place for place in dropped.layout.panels}
    assert (0, 0) not in places
    assert places[1, 0].panel.heading == "bloomy", "over the uppermost panel of its column"
    assert places[1, 2].panel.side_heading == "ewe", "beside the last panel of its row"
    assert places[0, 3].labelled("below"), "the lowest panel of its column"
    assert_sound(dropped)


def test_layers_without_the_columns_stand_in_every_panel():
    figure = BASE.reference(y=40).points(data={"moisture_pct": [50.0], "firmness_n": [30.0]})
    made = laid_out(figure.facet(rows="milk", columns="rind"), 180)
    assert [len(run.table) for run in made.runs[1:]] == [12, 12]


def test_panels_follow_each_other_downwards():
    made = laid_out(BASE.facet("rind", per_column=3), 120)
    assert [(place.panel.rows.start, place.panel.columns.start) for place in made.layout.panels] == [
        (0, 0),
        (1, 0),
        (2, 0),
        (0, 1),
    ]
    assert_sound(made)


def test_classes_of_numbers_are_panels_from_low_to_high():
    made = laid_out(BASE.facet("age_days", breaks=[60, 180.5]), 120)
    frame = pd.DataFrame(WHEELS).dropna(subset=["moisture_pct", "firmness_n"])
    assert [place.panel.name for place in made.layout.panels] == ["below 60.0", "60.0 to 180.5", "180.5 and beyond"]
    ends = [-np.inf, 60, 180.5, np.inf]
    for panel in range(3):
        own = frame[(frame.age_days >= ends[panel]) & (frame.age_days < ends[panel + 1])]
        assert (made.runs[0].table.panel == panel).sum() == len(own) > 0
    assert_sound(made)
    spec = BASE.facet("age_days", breaks=[60, 180]).to_dict()
    assert spec["facet"] == {"by": "age_days", "breaks": [60, 180]}
    assert ft.from_dict(spec, WHEELS).to_dict() == spec
    with pytest.raises(ft.KindError, match="breaks divide numbers"):
        laid_out(BASE.facet("rind", breaks=[1]))


@pytest.mark.parametrize("crossed", [False, True])
def test_gaps_between_panels_are_those_that_were_said(crossed):
    facet = {"rows": "milk", "columns": "rind"} if crossed else {"by": "rind", "per_row": 2}
    places = laid_out(BASE.facet(**facet, gap_x="9 mm", gap_y="20 pt").theme("bare"), 180).layout.panels
    usual = laid_out(BASE.facet(**facet, gap_x="9 mm"), 180).layout.panels
    for row in (usual, places):
        left = row[1].band("left").region.width
        own = left if row[1].labelled("left") else 0.0
        assert row[1].box.x - row[0].box.right - own == pytest.approx(9 * 72 / 25.4, abs=0.01)


@pytest.mark.parametrize("facet", [{"by": "rind", "per_row": 2}, {"rows": "milk", "columns": "rind"}])
@pytest.mark.parametrize("width", [120, 180])
def test_axes_are_repeated_where_that_is_said(facet, width):
    made = laid_out(BASE.facet(**facet, repeat_axes=True), width)
    assert_sound(made)
    assert all(place.labelled("left") and place.labelled("below") for place in made.layout.panels)
    ticks = [text for text in made.scene.texts() if text.role == "tick"]
    first = made.layout.panels[0]
    assert len(ticks) == len(made.layout.panels) * (len(first.labels("left").blocks) + len(first.labels("below").blocks))
    assert BASE.facet("rind", repeat_axes=True, gap_x=4).to_dict()["facet"] == {"by": "rind", "gap_x": 4.0, "repeat_axes": True}


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ({"by": "rind", "rows": "milk"}, "twice"),
        ({"rows": "milk", "columns": "milk"}, "both 'milk'"),
        ({"rows": "milk", "per_row": 2}, "per_row is for panels that wrap"),
        ({"columns": "milk", "rows": "rind", "order": ["goat"]}, "order is of one column.*\n.*order={"),
        ({"by": "milk", "per_row": 2, "per_column": 2}, "same thing"),
        ({"by": "milk", "empty": "drop"}, "empty is for rows"),
        ({"by": "milk", "separate": {"y": "row"}}, "separate by rows and columns"),
        ({"rows": "milk", "separate": {"z": "row"}}, "Did you mean|axes"),
        ({"rows": "milk", "separate": {"y": "rows"}}, "Did you mean 'row'"),
        ({"rows": "milk", "empty": "dorp"}, "Did you mean 'drop'"),
        ({"by": "milk", "per_column": 0}, "per_column"),
        ({"by": "milk", "gap_x": "4 mn"}, "no known unit"),
        ({"by": "milk", "gap_y": -1}, "out of reach"),
        ({"by": "milk", "repeat_axes": "yes"}, "repeat_axes"),
        ({"by": "age_days", "breaks": [3, 1]}, "increasing"),
        ({"by": "age_days", "breaks": []}, "increasing"),
        ({"rows": "milk", "columns": "age_days", "breaks": [3]}, "breaks say which column"),
        ({"rows": "age_days", "breaks": {"age_days": {"young": [60, 0]}}}, "class 'young' is a range"),
    ],
)
def test_wrong_calls_say_the_right_one(options, said):
    with pytest.raises(OptionError, match=said):
        BASE.facet(**options)


def test_a_column_that_is_not_there_is_named():
    with pytest.raises(MappingError, match="Did you mean 'rind'"):
        BASE.facet(rows="milk", columns="rnd")


def test_plain_data_and_the_command_line_say_the_same(tmp_path):
    figure = BASE.facet(rows="milk", columns="rind", separate={"y": "row"}, empty="drop")
    spec = figure.to_dict()
    assert spec["facet"] == {"rows": "milk", "columns": "rind", "separate": {"y": "row"}, "empty": "drop"}
    assert ft.from_dict(spec, WHEELS).to_dict() == spec
    assert ".facet(rows='milk', columns='rind'" in repr(figure)
    pd.DataFrame(WHEELS).to_csv(tmp_path / "w.csv", index=False)
    out = tmp_path / "a.svg"
    command = [
        "draw",
        tmp_path / "w.csv",
        "-m",
        "x=ph",
        "-m",
        "y=mass_kg",
        "--facet-rows",
        "milk",
        "--facet-columns",
        "rind",
        "-o",
        out,
    ]
    done = subprocess.run([sys.executable, "-m", "facetine.cli.main", *map(str, command)], capture_output=True, timeout=60)
    assert done.returncode == 0, done.stderr.decode()
    import xml.etree.ElementTree as ET

    assert set(texts(ET.parse(out).getroot())) >= {*MILKS, *RINDS}


WORDS = st.lists(st.text("abcdefghij ", min_size=1, max_size=24).map(str.strip).filter(bool), min_size=1, max_size=4, unique=True)


@given(WORDS, WORDS, st.sampled_from([None, "x", "xy", {"y": "row"}, {"x": "column", "y": "row"}]), st.sampled_from([70, 110, 180]),
       st.sampled_from(["keep", "drop"]), st.integers(0, 9))  # fmt: skip
def test_crossed_panels_stand_on_common_tracks_whatever_they_are_called(rows, columns, separate, width, empty, seed):
    rng = np.random.default_rng(seed)
    count = 8 * len(rows) * len(columns)
    data = {
        "r": np.array(rows, object)[rng.integers(0, len(rows), count)], "c": np.array(columns, object)[rng.integers(0, len(columns), count)],
        "x": rng.lognormal(3, 2, count), "y": rng.normal(1e4, 10, count),
    }  # fmt: skip
    try:
        made = laid_out(
            ft.figure(data).map(x="x", y="y").points().facet(rows="r", columns="c", separate=separate, empty=empty), width
        )
    except ExportError:
        return
    for one in made.layout.panels:
        for other in made.layout.panels:
            if one.panel.rows == other.panel.rows:
                assert (one.box.y, one.box.bottom) == pytest.approx((other.box.y, other.box.bottom), abs=0.01)
            if one.panel.columns == other.panel.columns:
                assert (one.box.x, one.box.right) == pytest.approx((other.box.x, other.box.right), abs=0.01)
    written = [text for text in made.scene.texts() if text.content.strip()]
    for number, text in enumerate(written):
        assert text.box.x >= -0.01
        assert text.box.right <= made.layout.width + 0.01
        assert text.box.y >= -0.01
        assert text.box.bottom <= made.layout.height + 0.01
        for after in written[number + 1 :]:
            assert not text.box.overlaps(after.box, slack=0.3), (text.content, after.content)
