"""Time ticks, against the calendar of the standard library."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from facetine.core.scales.calendar import HOUR, instant, stepped_ticks, strftime, time_ticks, year_text
from facetine.messages.errors import ScaleError

DAY = 86400e6
spans = st.floats(1, 18).map(lambda power: 10**power)


def moment(instant: float, zone: str = "UTC") -> datetime:
    return (datetime(1970, 1, 1, tzinfo=UTC) + timedelta(microseconds=instant)).astimezone(ZoneInfo(zone))


@given(st.floats(-1e15, 4e15), spans, st.integers(2, 8))
def test_ticks_lie_inside_and_are_not_many(start, span, wanted):
    ticks = time_ticks(start, start + span, wanted)
    assert 1 <= len(ticks.at) <= 3 * wanted + 8
    assert all(start <= at <= start + span for at in ticks.at)
    assert list(ticks.at) == sorted(set(ticks.at))
    assert len(ticks.labels) == len(ticks.at)


@given(st.integers(1950, 2090), st.integers(1, 12), st.integers(200, 3000))
def test_ticks_over_months_and_years_are_firsts_of_the_month(year, month, days):
    start = (datetime(year, month, 3, tzinfo=UTC) - datetime(1970, 1, 1, tzinfo=UTC)) / timedelta(microseconds=1)
    for at in time_ticks(start, start + days * DAY, 5).at:
        seen = moment(at)
        assert (seen.day, seen.hour, seen.minute) == (1, 0, 0)


@pytest.mark.parametrize("zone", ["Europe/Berlin", "America/New_York", "Australia/Lord_Howe"])
@given(start=st.floats(1.6e15, 1.9e15), days=st.floats(2, 600))
def test_with_a_zone_ticks_stand_at_local_midnight(zone, start, days):
    ticks = time_ticks(start, start + days * DAY, 5, zone)
    for at in ticks.at:
        local = moment(at, zone)
        assert local.minute == 0
        if days > 20:
            assert local.hour == 0


def test_a_change_of_the_clocks_leaves_local_hours_round():
    start = (datetime(2030, 3, 31, tzinfo=ZoneInfo("Europe/Berlin")) - datetime(1970, 1, 1, tzinfo=UTC)) / timedelta(
        microseconds=1
    )
    ticks = time_ticks(start, start + DAY, 5, "Europe/Berlin")
    assert all(moment(at, "Europe/Berlin").hour % 6 == 0 for at in ticks.at)
    assert len(ticks.at) >= 4


def test_the_context_is_written_where_it_changes():
    labels = time_ticks(
        np.datetime64("2030-11-20", "us").astype(float), np.datetime64("2031-02-10", "us").astype(float), 3
    ).labels
    assert labels == ("Dec\n2030", "Jan\n2031", "Feb")


def test_years_before_the_common_era_are_written():
    assert year_text(-43) == "−43"
    ticks = time_ticks(-9e16, 9e16, 5)
    assert len(ticks.at) >= 3


def test_strftime_follows_the_zone():
    instant = datetime(2030, 7, 1, 23, 30, tzinfo=UTC).timestamp() * 1e6
    assert strftime([instant], "%d %b %Y", "Europe/Berlin") == ["02 Jul 2030"]
    assert strftime([instant], "%d %b %Y") == ["01 Jul 2030"]


def read_in_full(labels):
    """Each label with the day, month or year that was last written below one."""
    context, read = "", []
    for label in labels:
        fine, _, said = label.partition("\n")
        context = said or context
        read.append((fine, context))
    return read


def assert_good(ticks, low, high):
    assert 2 <= len(ticks.at) <= 11
    assert low <= ticks.at[0]
    assert ticks.at[-1] <= high
    assert (np.diff(ticks.at) > 0).all()
    read = read_in_full(ticks.labels)
    assert len(set(read)) == len(read)


@settings(max_examples=300)
@given(st.floats(-6e16, 6e16), st.floats(1.5, 16.9), st.integers(2, 9))
def test_ticks_from_microseconds_to_millennia_are_few_and_say_different_things(start, power, wanted):
    # Far from 1970 a float of microseconds has no single ones left.
    span = max(10.0**power, 40 * abs(np.spacing(start)))
    assert_good(time_ticks(start, start + span, wanted), start, start + span)


CHANGES = [
    ("Europe/Berlin", datetime(2030, 3, 31, 1, tzinfo=UTC)),
    ("Europe/Berlin", datetime(2030, 10, 27, 1, tzinfo=UTC)),
    ("Australia/Lord_Howe", datetime(2030, 4, 6, 15, tzinfo=UTC)),
    ("Australia/Lord_Howe", datetime(2030, 10, 5, 15, 30, tzinfo=UTC)),
    ("America/New_York", datetime(2030, 3, 10, 7, tzinfo=UTC)),
    ("America/New_York", datetime(2030, 11, 3, 6, tzinfo=UTC)),
]


@pytest.mark.parametrize(("zone", "change"), CHANGES)
@given(st.floats(2, 12.5), st.floats(2, 12.5), st.integers(2, 9))
def test_ticks_around_a_change_of_the_clocks_are_good_and_at_round_local_times(zone, change, before, after, wanted):
    middle = change.timestamp() * 1e6
    low, high = middle - 10**before, middle + 10**after
    ticks = time_ticks(low, high, wanted, zone)
    assert_good(ticks, low, high)
    if high - low > 12 * HOUR:
        moments = [datetime.fromtimestamp(at / 1e6, ZoneInfo(zone)) for at in ticks.at]
        assert all(moment.second == moment.minute == 0 for moment in moments)


def test_an_hour_that_comes_twice_says_which_clock_is_meant():
    middle = datetime(2030, 10, 27, 1, tzinfo=UTC).timestamp() * 1e6
    labels = time_ticks(middle - 1.4 * HOUR, middle + 1.6 * HOUR, 6, "Europe/Berlin").labels
    assert labels == ("02:00\n27 Oct 2030, UTC+2", "02:30", "02:00\n27 Oct 2030, UTC+1", "02:30", "03:00", "03:30")


def test_short_ranges_with_a_zone_need_no_more_than_their_ticks():
    start = datetime(2030, 6, 1, 12, tzinfo=UTC).timestamp() * 1e6
    ticks = time_ticks(start, start + 40, 5, "Europe/Berlin")  # forty microseconds
    assert_good(ticks, start, start + 40)


def test_steps_that_make_too_many_ticks_are_refused():
    with pytest.raises(ValueError, match="ticks"):
        stepped_ticks(0.0, 365 * 86400e6, 1, "second")


@pytest.mark.parametrize(
    ("value", "zone", "utc"),
    [
        ("2030", None, "2030-01-01 00:00"),
        ("2030-06", None, "2030-06-01 00:00"),
        ("2030-06-02", None, "2030-06-02 00:00"),
        ("2030-06-02 14:30", None, "2030-06-02 14:30"),
        ("2030-06-02", "Europe/Berlin", "2030-06-01 22:00"),
        ("2030-06-02T00:00+05:00", "Europe/Berlin", "2030-06-01 19:00"),
        (datetime(2030, 6, 2, 14, 30), None, "2030-06-02 14:30"),
        (datetime(2030, 6, 2, 14, 30, tzinfo=UTC), "Europe/Berlin", "2030-06-02 14:30"),
        (date(2030, 6, 2), "America/New_York", "2030-06-02 04:00"),
        (np.datetime64("2030-06-02T14:30"), "Europe/Berlin", "2030-06-02 14:30"),
    ],
)
def test_instants_are_read_from_texts_and_objects(value, zone, utc):
    assert instant(value, zone, "test") == np.datetime64(utc).astype("datetime64[us]").astype(np.int64)


@pytest.mark.parametrize("value", ["June", "2030-13-01", "", 5, None, True, [2030]])
def test_what_is_no_instant_is_refused_with_how_to_write_one(value):
    with pytest.raises(ScaleError, match="no date or time") as refusal:
        instant(value, None, "figure.scale('x'): limits")
    assert "2030-06-01" in refusal.value.detail


@pytest.mark.parametrize("zone", ["Europe/Berlin", "Pacific/Apia", "Asia/Kathmandu", "UTC"])
@given(st.integers(0, 4 * 10**15))
def test_patterns_write_what_the_clocks_of_a_zone_show(zone, at):
    (text,) = strftime([float(at)], "%Y-%m-%d %H:%M:%S", zone)
    assert text == moment(at, zone).strftime("%Y-%m-%d %H:%M:%S")


@pytest.mark.parametrize(
    ("count", "unit", "days"), [(1, "week", 7), (2, "week", 14), (3, "day", 3), (1, "month", None), (2, "year", None)]
)
@given(start=st.integers(0, 3 * 10**15))
def test_steps_of_the_calendar_begin_where_the_calendar_does(count, unit, days, start):
    at = stepped_ticks(float(start), start + 900 * DAY, count, unit).at
    moments = [moment(value) for value in at]
    assert all(one.hour == one.minute == one.second == 0 for one in moments)
    if unit == "week":
        assert all(one.weekday() == 0 for one in moments)
    if days:
        assert set(np.diff(at)) == {days * DAY}
    else:
        assert all(one.day == 1 for one in moments)
        assert unit == "month" or all(one.month == 1 and one.year % count == 0 for one in moments)
