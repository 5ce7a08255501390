"""Ticks that were said stand on the paper, all of them, where their values are, and what they say is true."""

import re
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np
import pandas as pd
import pytest
from conftest import SVG
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import ScaleError


def marks(sheet, axis, panel=1):
    """Where the ticks of an axis stand, long ones and short ones, read from its path."""
    path = sheet.group(f"{axis}-axis", panel).find(f"{SVG}path")
    ends = np.array(re.findall(r"M(\S+) (\S+)L(\S+) (\S+?)(?=M|$)", path.get("d", "")), float)
    along, away = (0, 1) if axis == "x" else (1, 0)
    ticks = ends[np.isclose(ends[:, along], ends[:, along + 2])]
    length = np.abs(ticks[:, away] - ticks[:, away + 2])
    longest = length.max()
    return np.sort(ticks[length > 0.8 * longest, along]), np.sort(ticks[length <= 0.8 * longest, along])


def labels(sheet, axis, panel=1):
    return sheet.texts(sheet.group(f"{axis}-axis", panel))


def fig(**columns):
    return ft.figure(pd.DataFrame(columns))


PYRAMID = pd.DataFrame({"age": ["0–9", "10–19"] * 2, "side": ["north"] * 2 + ["south"] * 2, "n": [-140, -90, 120, 150]})


@pytest.mark.parametrize("form", ["absolute", "absolute ,.0f", "{value:absolute}", lambda v: f"{abs(v):g}"])
def test_labels_of_mirrored_axes_are_the_same_on_both_sides(form):
    sheet = Sheet(ft.figure(PYRAMID).map(x="n", y="age", color="side").bars().scale("x", format=form))
    assert labels(sheet, "x") == ["150", "100", "50", "0", "50", "100", "150"]
    assert not sheet.said("ticks-alike")


def test_the_check_takes_an_absolute_format_for_what_it_says():
    figure = ft.figure(PYRAMID).map(x="n", y="age", color="side").bars().scale("x", format="absolute")
    assert "format-loses" not in {finding.code for finding in figure.check()}
    plan = figure.to_dict()
    assert labels(Sheet(ft.from_dict(plan, PYRAMID)), "x")[0] == "150"


@pytest.mark.parametrize("form", [lambda value: "low" if value < 1 else "high", {0: "none", 0.5: "none", 1: "all"}])
def test_labels_of_the_analyst_are_never_dropped_for_being_equal(form):
    figure = fig(a=[0.0, 1, 2], b=[1.0, 2, 3]).map(x="a", y="b").points()
    usual, said = Sheet(figure), Sheet(figure.scale("x", format=form))
    assert len(labels(said, "x")) == len(labels(usual, "x"))
    assert np.allclose(marks(said, "x")[0], marks(usual, "x")[0])


def test_no_note_prints_an_address():
    figure = fig(a=[0.0, 1], b=[1.0, 2]).map(x="a", y="b").points().scale("x", format=lambda value: "same")
    sheet = Sheet(figure)
    assert not any("0x" in str(finding) for finding in [*sheet.findings, *figure.check()])


@given(st.lists(st.integers(-50, 150), min_size=1, max_size=40, unique=True), st.sampled_from(["x", "y"]))
@settings(max_examples=40)
def test_listed_ticks_stand_at_their_values_all_of_them(ticks, axis):
    other = "y" if axis == "x" else "x"
    figure = fig(a=[0.0, 100], b=[1.0, 2]).map(**{axis: "a", other: "b"}).points(size=1).scale(axis, ticks=ticks)
    sheet = Sheet(figure, "85 mm", "60 mm")
    at, _ = marks(sheet, axis)
    assert len(at) == len(ticks)
    # The data's two points say where 0 and 100 are.
    low, high = np.sort(sheet.circles(1)[:, int(axis == "y")])[:: -1 if axis == "y" else 1]
    expected = np.sort(low + (high - low) * np.array(ticks, float) / 100)
    assert np.allclose(at, expected, atol=0.02)
    written = labels(sheet, axis)
    unlabelled = sheet.said("ticks-unsaid")
    assert bool(unlabelled) == (len(written) < len(ticks))
    assert {text.replace("−", "-") for text in written} <= {str(tick) for tick in ticks}
    if unlabelled:
        (count,) = re.findall(r"(\d+) ticks? without", unlabelled[0])
        assert int(count) == len(ticks) - len(written)


def test_listed_ticks_outside_the_limits_are_named():
    figure = fig(a=[0.0, 100], b=[1.0, 2]).map(x="a", y="b").points().scale("x", ticks=[0, 50, 400], limits=(0, 100))
    sheet = Sheet(figure)
    assert labels(sheet, "x") == ["0", "50"]
    assert any("400" in text for text in sheet.said("ticks-unsaid"))


def test_a_listed_tick_without_a_place_is_refused():
    with pytest.raises(ScaleError, match="no place on a log"):
        Sheet(fig(a=[1.0, 100], b=[1.0, 2]).map(x="a", y="b").points().scale("x", "log", ticks=[0, 1, 10]))


def test_ticks_are_not_for_categories():
    figure = fig(a=["p", "q"], b=[1.0, 2]).map(x="a", y="b").points()
    for options in ({"ticks": ["p"]}, {"ticks": 3}, {"minor_ticks": True}, {"margin": 0.1}, {"include": 3}):
        with pytest.raises(ScaleError, match="has categories"):
            Sheet(figure.scale("x", **options))
    none = Sheet(figure.scale("x", ticks=0))
    assert not {"p", "q"} & set(none.texts())


START = datetime(2030, 1, 2)


@pytest.mark.parametrize(("every", "days"), [("every 2 weeks", 14), ("every week", 7), ("every 10 days", 10)])
@pytest.mark.parametrize("width", ["50 mm", "85 mm", "180 mm"])
def test_every_so_often_means_that(every, days, width):
    times = [START + timedelta(days=day) for day in range(0, 200, 5)]
    figure = fig(t=times, v=np.arange(len(times), dtype=float)).map(x="t", y="v").points(size=1).scale("x", ticks=every)
    sheet = Sheet(figure, width)
    at, _ = marks(sheet, "x")
    dots = np.sort(sheet.circles(1)[:, 0])
    per_day = (dots[-1] - dots[0]) / (times[-1] - times[0]).days
    steps = np.diff(at) / per_day
    assert len(at) >= (times[-1] - times[0]).days // days
    assert np.allclose(steps, days, atol=0.1)
    named = [text for text in labels(sheet, "x") if text.isdigit()]
    assert bool(sheet.said("ticks-unsaid")) == (len(named) < len(at))


def test_a_month_that_begins_at_a_tick_without_a_label_is_told_by_the_next():
    times = [START + timedelta(days=day) for day in range(120)]
    figure = fig(t=times, v=np.arange(120.0)).map(x="t", y="v").points(size=1).scale("x", ticks="every 2 days")
    sheet = Sheet(figure, "85 mm")
    texts = labels(sheet, "x")
    days = [int(text) for text in texts if re.fullmatch(r"\d+", text)]
    months = [text for text in texts if not re.fullmatch(r"\d+", text)]
    begun = 1 + sum(after < before for before, after in pairwise(days))
    assert len(months) == begun, texts


def test_two_and_a_half_is_never_called_two():
    for high in np.linspace(3, 40, 25):
        sheet = Sheet(fig(a=[0.0, high], b=[1.0, 2]).map(x="a", y="b").points().scale("x", format=",.0f"), "85 mm")
        texts, at = labels(sheet, "x"), marks(sheet, "x")[0]
        values = np.array(texts, float)
        left, right = np.sort(sheet.circles(1)[:, 0])
        assert np.allclose(values, (at - left) / (right - left) * high, atol=0.02 * high)


def test_panels_farther_apart_keep_the_ticks_that_were_said():
    wheels = ft.demo_data("wheels")
    figure = ft.figure(wheels).map(x="age_days", y="mass_kg").points().scale("x", ticks=[0, 50, 100, 150, 200, 250, 300])
    for gap in (1, 6, 20):
        sheet = Sheet(figure.facet("cellar", per_row=4, gap_x=f"{gap} mm"), "120 mm")
        assert [len(marks(sheet, "x", panel)[0]) for panel in (1, 2, 3, 4)] == [7] * 4


def test_minor_ticks_of_times_are_steps_of_the_calendar():
    times = pd.date_range("2030-01-01", "2030-12-31", freq="D")
    figure = fig(t=times, v=np.arange(len(times), dtype=float)).map(x="t", y="v").points(size=1)
    sheet = Sheet(figure.scale("x", ticks="every 3 months", minor_ticks=True), "120 mm")
    long, short = marks(sheet, "x")
    dots = np.sort(sheet.circles(1)[:, 0])
    firsts = np.flatnonzero(times.is_month_start)
    expected = dots[firsts]
    found = np.sort(np.concatenate([long, short]))
    assert np.allclose(found[: len(expected)], expected, atol=0.05)
    assert len(short) == 8


def test_a_color_bar_holds_the_ticks_that_were_listed():
    figure = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg", color="moisture_pct").points()
    few = Sheet(figure.scale("color", ticks=[20, 30, 40, 90]))
    assert {"20", "30", "40", "90"} <= set(few.texts())
    many = Sheet(figure.scale("color", ticks=list(range(20, 61))), "85 mm")
    bar = next(group for group in many.root.iter(f"{SVG}g") if group.get("id", "").endswith("legend-color"))
    path = next(path for path in bar.iter(f"{SVG}path") if path.get("d", "").count("M") > 5)
    assert path.get("d").count("M") == 41
    assert many.said("ticks-unsaid")
    with pytest.raises(ft.FacetineError, match="ticks is for numbers"):
        Sheet(ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg", color="rind").points().scale("color", ticks=[1]))


def test_outer_names_stand_whatever_inner_names_are_thinned():
    months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
    rows = [(str(year), month, 1.0 + place) for year in range(2030, 2036) for place, month in enumerate(months)]
    table = pd.DataFrame(rows, columns=["year", "month", "v"])
    for axis, other, size in (("x", "y", ("85 mm", None)), ("y", "x", ("85 mm", "60 mm"))):
        figure = ft.figure(table, codebook={"month": {"order": months}}).map(**{axis: ("year", "month"), other: "v"}).bars()
        sheet = Sheet(figure, *size)
        texts = labels(sheet, axis)
        assert sheet.said("names-left-out")
        assert {"2030", "2031", "2032", "2033", "2034", "2035"} <= set(texts)
        assert 0 < sum(text in months for text in texts) < 72


def test_crossed_answers_say_which_they_are():
    wheels = ft.demo_data("wheels")
    counts = wheels.groupby(["brushed", "wrapped"]).size()
    for axis in ("x", "y"):
        sheet = Sheet(ft.figure(wheels).map(**{axis: ("brushed", "wrapped")}).bars(value_labels="{count}"))
        inner = [text for text in labels(sheet, axis) if text.startswith("Wrapped: ")]
        outer = [text for text in labels(sheet, axis) if text.startswith("Brushed: ")]
        assert inner == ["Wrapped: no", "Wrapped: yes"] * 2
        assert outer == ["Brushed: no", "Brushed: yes"]
        written = [int(text) for text in sheet.texts(sheet.layer(1)) if text.isdigit()]
        assert written == counts.tolist()
    legend = Sheet(ft.figure(wheels).map(x="age_days", y="mass_kg", color=("brushed", "wrapped")).points())
    assert {"Brushed: no, Wrapped: yes", "Brushed: yes, Wrapped: no"} <= set(legend.texts())
