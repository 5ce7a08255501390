"""What scales say of units, zones and windows by quantile."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, said, svg_of, texts

import facetine as ft
from facetine.messages.errors import OptionError, ScaleError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg")
HOURS = pd.date_range("2030-03-09 20:00", periods=30, freq="h", tz="UTC")
TIMES = ft.figure({"time": HOURS, "v": np.arange(30.0)}).map(x="time", y="v").lines()


@pytest.mark.parametrize("shares", [(5, 95), (0, 50), (12.5, 100)])
def test_limits_by_quantile_are_those_of_numpy_and_count_what_they_leave_out(shares):
    made = laid_out(BASE.points().scale("x", limits=(f"{shares[0]} %", f"{shares[1]}%")))
    low, high = np.quantile(WHEELS.age_days, np.array(shares) / 100)
    extent = made.scales.first("x").extent
    assert (extent.low, extent.high) == pytest.approx((low, high))
    outside = int(((WHEELS.age_days < low) | (WHEELS.age_days > high)).sum())
    found = [note for note in said(made) if "outside the limits of x" in note]
    assert (f"{outside} point" in found[0]) if outside else not found


def test_two_layers_of_one_column_count_its_rows_once():
    one, two = (laid_out(fig.scale("y", limits=(None, "90 %"))) for fig in (BASE.points(), BASE.points().trend()))
    assert one.scales.first("y").extent.high == pytest.approx(two.scales.first("y").extent.high)


def test_limits_by_quantile_hold_for_times_and_for_colors():
    extent = laid_out(TIMES.scale("x", limits=("10 %", "90 %"))).scales.first("x").extent
    micro = HOURS.tz_localize(None).to_numpy().astype("datetime64[us]").astype(float)
    assert (extent.low, extent.high) == pytest.approx(tuple(np.quantile(micro, [0.1, 0.9])), abs=1)
    made = laid_out(BASE.map(color="ph").points().scale("color", limits=("5 %", "95 %")))
    look = made.scales.looks["color"]
    assert (look.low, look.high) == pytest.approx(tuple(np.nanquantile(WHEELS.ph, [0.05, 0.95])))


def test_a_unit_stands_in_titles_as_a_codebook_would_say_it():
    assert "Mass (lb)" in texts(svg_of(BASE.points().scale("y", unit="lb")))
    assert "Mass" in texts(svg_of(BASE.points().scale("y", unit="")))
    assert "Mass (lb), mean" in texts(svg_of(BASE.map(x="rind").bars(aggregate="mean").scale("y", unit="lb")))
    varied = BASE.over_variables(y=["mass_kg", "ph"]).points().scale("y", unit="lb", for_column="mass_kg")
    assert "Mass (lb)" in texts(svg_of(varied))


def test_a_zone_moves_the_labels_and_is_said():
    found = texts(svg_of(TIMES.scale("x", zone="Asia/Tokyo"), "180 mm"))
    assert "Time (Asia/Tokyo)" in found
    # 15:00 UTC is midnight there, where the day is written.
    assert any("10 Mar" in text or text == "10" for text in found)
    plain = texts(svg_of(TIMES, "180 mm"))
    assert plain != found
    assert "When" in texts(svg_of(TIMES.scale("x", zone="Asia/Tokyo", title="When")))


def test_a_second_axis_shows_another_zone_at_the_same_places():
    both = svg_of(TIMES.scale("x", second_axis={"zone": "Asia/Tokyo"}), "180 mm")
    alone = svg_of(TIMES.scale("x", zone="Asia/Tokyo"), "180 mm")
    places = [
        {text.text: float(text.get("x")) for text in figure.iter("{http://www.w3.org/2000/svg}text") if ":" in (text.text or "")}
        for figure in (both, alone)
    ]
    shared = places[0].keys() & places[1].keys()
    assert len(shared) >= 3
    assert "Asia/Tokyo" in texts(both)


@pytest.mark.parametrize(
    ("figure", "options", "error", "words"),
    [
        (TIMES, {"zone": "Asia/Tokio"}, OptionError, "Asia/Tokyo"),
        (BASE.points(), {"zone": "Asia/Tokyo"}, ScaleError, "axis of numbers"),
        (ft.figure({"time": HOURS.tz_localize(None), "v": np.arange(30.0)}).map(x="time", y="v").lines(), {"zone": "UTC"}, ScaleError, "no zone"),
        (BASE.points(), {"second_axis": {"zone": "Asia/Tokyo"}}, ScaleError, "convert= converts"),
        (TIMES, {"second_axis": {"convert": 2}}, ScaleError, "another zone"),
        (TIMES, {"second_axis": {"zone": "UTC", "convert": 2}}, OptionError, "a conversion and a zone"),
        (BASE.points(), {"limits": ("1 %", "101 %")}, ScaleError, "more than all rows"),
        (BASE.points(), {"limits": ("90 %", "10 %")}, ScaleError, "make no range"),
        (ft.figure(WHEELS).map(y="mass_kg").points(map={"x": lambda frame: frame.ph}), {"unit": "kg"}, OptionError, "titles"),
    ],
)  # fmt: skip
def test_what_a_scale_can_not_say_is_refused(figure, options, error, words):
    with pytest.raises(error, match=words):
        laid_out(figure.scale("x", **options))


def test_notes_of_quantiles_are_said_once():
    assert len([note for note in notes(BASE.points().scale("x", limits=("5 %", "95 %"))) if "outside" in note]) == 1
