"""Bins and ticks of times are those of the calendar, by the clocks of their zone."""

import warnings

import numpy as np
import pandas as pd
import pytest
from truth.reading import Sheet

import facetine as ft

RNG = np.random.default_rng(70)
BERLIN, SAO_PAULO = "Europe/Berlin", "America/Sao_Paulo"


def stamps(start, days, zone=None, rows=300):
    first = pd.Timestamp(start, tz=zone)
    return pd.DataFrame({"t": [first + pd.Timedelta(days=day) for day in np.sort(RNG.uniform(0, days, rows))]})


def bins(frame, zone=None, **options):
    rows = ft.figure(frame).map(x="t").histogram(**options).numbers(0)
    edges = pd.DatetimeIndex([*rows["low"], rows["high"].iloc[-1]])
    assert rows["low"].iloc[1:].tolist() == rows["high"].iloc[:-1].tolist()
    assert rows["count"].sum() == len(frame)
    local = edges if edges.tz is None or zone is None else edges.tz_convert(zone)
    counted = np.histogram(pd.DatetimeIndex(frame["t"]).as_unit("us").asi8, edges.as_unit("us").asi8)[0]
    assert rows["count"].tolist() == counted.tolist()
    return local


# The clocks go forward on 31 March 2030 in Berlin.
@pytest.mark.parametrize(
    ("width", "hours"), [(1, 24), (0.25, 6), ("6 hours", 6), ("12 hours", 12), ("2 hours", 2), ("1 hour", 1)]
)
@pytest.mark.parametrize("zone", [None, BERLIN])
def test_bins_of_days_and_hours_begin_at_local_midnight(width, hours, zone):
    edges = bins(stamps("2030-03-29 05:17", 5, zone), zone, bin_width=width)
    assert all((edge.hour % hours, edge.minute, edge.second) == (0, 0, 0) for edge in edges)
    if hours == 24:
        days = {round(length / pd.Timedelta(hours=1)) for length in np.diff(edges)}
        assert days == ({23, 24} if zone else {24})


@pytest.mark.parametrize(
    ("width", "begins"),
    [
        ("1 month", lambda at: at.day == 1),
        ("1 week", lambda at: at.weekday() == 0),
        ("1 year", lambda at: (at.month, at.day) == (1, 1)),
    ],
)
@pytest.mark.parametrize("option", ["bins", "bin_width"])
def test_bins_in_words_are_steps_of_the_calendar(width, begins, option):
    for edge in bins(stamps("2029-11-03", 500, BERLIN), BERLIN, **{option: width}):
        assert begins(edge)
        assert (edge.hour, edge.minute) == (0, 0)


@pytest.mark.parametrize("days", [0.01, 0.3, 2, 9, 40, 200, 900, 4000, 20000])
@pytest.mark.parametrize("zone", [None, BERLIN])
def test_bins_that_nobody_asked_for_are_round(days, zone):
    edges = bins(stamps("2029-02-03 07:41:13", days, zone), zone)
    lengths = np.diff(edges)
    typical = np.median([length / pd.Timedelta(days=1) for length in lengths])
    if typical > 25:
        assert all(edge.day == 1 and edge.hour == 0 for edge in edges)
    elif typical > 0.9:
        assert all((edge.hour, edge.minute) == (0, 0) for edge in edges)
    else:
        seconds = [edge.hour * 3600 + edge.minute * 60 + edge.second for edge in edges]
        step = round(typical * 86400)
        assert 86400 % step == 0
        assert all(second % step == 0 for second in seconds)


@pytest.mark.parametrize("verb", ["points", "lines", "bars", "intervals"])
def test_results_of_months_are_those_of_months(verb):
    frame = stamps("2030-01-04", 300)
    frame["v"] = RNG.normal(5, 1, len(frame))
    options = {} if verb == "intervals" else {"aggregate": "mean"}
    rows = getattr(ft.figure(frame).map(x="t", y="v"), verb)(bins="1 month", **options).numbers(0)
    expected = frame.groupby(frame["t"].dt.to_period("M"))["v"].mean()
    assert rows["mean"].tolist() == pytest.approx(expected.tolist())
    assert pd.PeriodIndex(rows["x"], freq="M").tolist() == expected.index.tolist()


def test_cells_and_ridges_of_times_are_of_the_calendar():
    frame = stamps("2030-01-04 03:00", 9)
    frame["v"], frame["g"] = RNG.normal(5, 1, len(frame)), np.where(np.arange(len(frame)) % 2, "a", "b")
    for figure in (
        ft.figure(frame).map(x="t", y="v").cells(),
        ft.figure(frame).map(x="t", y="g").ridgelines(form="histogram"),
    ):
        rows = figure.numbers(0)
        edges = pd.to_datetime(rows["x_low"] if "x_low" in rows else rows["x"])
        seconds = edges.dt.hour * 3600 + edges.dt.minute * 60 + edges.dt.second
        assert (seconds % 1800 == 0).all()


def test_a_midnight_that_a_zone_skips_has_its_tick():
    # In São Paulo the clocks went from 23:59:59 on 16 October 2010 to 1:00.
    days = pd.date_range("2010-10-14", "2010-10-20", freq="D", tz="UTC").tz_convert(SAO_PAULO)
    frame = pd.DataFrame({"t": days, "v": np.arange(len(days), dtype=float)})
    sheet = Sheet(ft.figure(frame).map(x="t", y="v").points().scale("x", ticks="every day"), "180 mm")
    assert {"15", "16", "17", "18", "19"} <= set(sheet.texts(sheet.group("x-axis")))
    edges = bins(frame, SAO_PAULO, bin_width=1)
    assert [(edge.day, edge.hour) for edge in edges][2:5] == [(15, 0), (16, 0), (17, 1)]


def test_the_notes_of_bins_are_none():
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        ft.figure(stamps("2030-01-04", 30)).map(x="t").histogram(bins="1 week").export("a.svg")


@pytest.mark.parametrize("step", ["us", "ms", "s", "m"])
def test_times_that_are_close_together_are_binned_in_a_moment(step):
    moments = np.datetime64("2030-01-01", step) + np.arange(6)
    table = ft.figure({"t": moments}).map(x="t").histogram().numbers("histogram")
    assert table["count"].sum() == 6
    assert len(table) <= 12
