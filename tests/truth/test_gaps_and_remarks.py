"""Lines break where rows are missing that the rhythm of the data would have; remarks stand where they can be read."""

import re
import warnings

import numpy as np
import pandas as pd
import pytest
from conftest import SVG, laid_out, notes
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import KindError, OptionError

RNG = np.random.default_rng(11)
HOLIDAYS = pd.to_datetime(["2030-01-01", "2030-04-19", "2030-04-22", "2030-05-01", "2030-12-25", "2030-12-26"])
WORKING = pd.bdate_range("2030-01-01", "2030-12-31").difference(HOLIDAYS)


def pieces(frame, **options):
    """How many pieces the line on the paper has, and what is said of them."""
    sheet = Sheet(ft.figure(frame).map(x="t", y="v").lines(**options), "120 mm")
    moves = sum(len(re.findall("M", path.get("d", ""))) for path in sheet.layer(1).iter(f"{SVG}path"))
    return moves, sheet.said("line-gaps")


def series(times):
    return pd.DataFrame({"t": times, "v": RNG.normal(0, 1, len(times)).cumsum()})


def test_prices_of_working_days_are_one_line():
    assert pieces(series(WORKING)) == (1, [])


def test_a_hole_of_two_months_breaks_it_and_the_note_says_how_long():
    holed = WORKING[(WORKING < "2030-06-03") | (WORKING > "2030-08-02")]
    count, said = pieces(series(holed))
    assert count == 2
    (days,) = re.findall(r'bridge="(\d+) days"', said[0])
    assert 60 <= int(days) <= 70
    assert pieces(series(holed), bridge=f"{days} days")[0] == 1


@pytest.mark.parametrize("zone", [None, "Europe/Berlin", "America/New_York"])
def test_hours_of_opening_are_one_line_with_real_holes(zone):
    hours = pd.date_range("2030-02-01", "2030-04-30 23:00", freq="h", tz=zone)
    hours = hours[(hours.day_of_week < 5) & (hours.hour >= 8) & (hours.hour < 18)]
    assert pieces(series(hours))[0] == 1
    # Three hours of an afternoon are missing: no night explains that.
    afternoon = (hours.day == 13) & (hours.month == 3) & (hours.hour >= 12) & (hours.hour < 15)
    count, said = pieces(series(hours[~afternoon]))
    assert count == 2
    assert said


def test_a_daily_series_keeps_its_single_holes():
    days = pd.date_range("2030-01-01", "2030-06-30", freq="D")
    assert pieces(series(days))[0] == 1
    assert pieces(series(days.delete([40, 90])))[0] == 3


def test_the_note_on_several_gaps_proposes_a_length_that_hides_no_long_one():
    days = pd.date_range("2030-01-01", "2030-12-31", freq="D")
    holed = days[~((days > "2030-03-01") & (days < "2030-05-01"))].delete([10, 20])
    count, said = pieces(series(holed))
    assert count == 4
    assert 'bridge="2 days"' in said[0] or 'bridge="48 hours"' in said[0]


def test_notes_name_the_layers_of_one_cause_once():
    figure = ft.figure(ft.demo_data("cultures")).map(x="inoculum", y="colonies").points().trend()
    with warnings.catch_warnings(record=True) as told:
        warnings.simplefilter("always")
        figure.scale("x", "log").scale("y", "log").export("a.svg")
    said = [str(one.message) for one in told]
    assert len([text for text in said if "of zero or less" in text]) == 1
    assert any(text.startswith("figure.points, trend: ") for text in said)


def test_a_figure_exported_again_needs_no_note_and_another_one_has_it():
    base = ft.figure({"a": [1.0, 2], "b": [2.0, 1], "c": [3.0, 1]}).map(x="a", y="b").points()
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        base.export("a.svg")
        base.change("points", size=9).scale("x", "log").titles("Better").export("a.svg")
        ft.plate([[base]]).export("b.svg")
        ft.plate([[base.theme("ledger")]], letters="a").export("b.svg")
    with pytest.warns(ft.FacetineFinding, match="replaces another figure"):
        base.map(y="c").export("a.svg")


def test_months_stand_in_their_order_without_a_note():
    frame = pd.DataFrame({"m": ["Mar", "Jan", "Feb"], "v": [1.0, 2, 3]})
    figure = ft.figure(frame).map(x="m", y="v").bars()
    assert not notes(figure)
    words = Sheet(figure).words("x")
    assert sorted(words, key=words.get) == ["Jan", "Feb", "Mar"]


REMARKS = ("reference", "region", "callout")


def boxes(figure, width=120, height=80):
    """Where the texts of remarks stand, with the marks of points."""
    made = laid_out(figure, width, height)
    texts, dots = [], []

    def walk(group):
        for item in group.items:
            if hasattr(item, "items"):
                walk(item)
            elif getattr(item, "role", "") in REMARKS:
                texts.append(item.box)
            elif type(item).__name__ == "Markers":
                dots.extend(item.at.tolist())

    walk(made.scene.root)
    return texts, np.array(dots).reshape(-1, 2), made


def meeting(texts):
    return [(a, b) for place, a in enumerate(texts) for b in texts[place + 1 :] if a.overlaps(b, 0.5)]


@pytest.mark.parametrize("seed", range(12))
def test_remarks_stand_off_each_other_and_off_marks(seed):
    rng = np.random.default_rng(seed)
    y = np.abs(rng.normal(0, 1.4, 40))
    figure = ft.figure({"x": np.arange(40.0), "y": y}).map(x="x", y="y").points()
    figure = figure.reference(y=0, text="zero").reference(y=0.15, text="LOD").reference(y=3, text="alarm")
    figure = figure.reference(x=20, text="noon").region(x=(5, 12), text="night").callout("peak", at="highest")
    texts, dots, made = boxes(figure, "120 mm", "80 mm")
    assert len(texts) == 6
    assert not meeting(texts)
    assert not [finding for finding in made.findings if finding.code == "texts-meet"]
    covered = [(dots[:, 0] > b.x) & (dots[:, 0] < b.right) & (dots[:, 1] > b.y) & (dots[:, 1] < b.bottom) for b in texts]
    assert sum(map(np.count_nonzero, covered)) <= 1


def test_what_finds_no_place_is_said_by_the_check():
    figure = ft.figure({"x": [0.0, 1], "y": [0.0, 1]}).map(x="x", y="y").points()
    for place in range(40):
        figure = figure.reference(y=0.5 + place / 4000, text=f"a long label of line {place}")
    figure = figure.sheet("60 mm", "40 mm")
    texts, _, made = boxes(figure, "60 mm", "40 mm")
    assert meeting(texts)
    assert any(finding.code == "texts-meet" for finding in made.findings)
    assert "texts-meet" in {finding.code for finding in figure.check()}


def test_a_text_that_is_placed_by_hand_stays_there():
    base = ft.figure({"x": [0.0, 10], "y": [0.0, 10]}).map(x="x", y="y").points()
    one = base.reference(y=5, text="five", text_at="middle")
    (alone,), _, _ = boxes(one)
    two, _, _ = boxes(one.reference(y=5, text="again", text_at="middle", shift=("3 mm", "0 mm")))
    assert two[0] == alone
    assert two[1].x + two[1].width / 2 == pytest.approx(alone.x + alone.width / 2 + 3 / 25.4 * 72, abs=0.5)


@pytest.mark.parametrize("way", [1, -1])
def test_priority_decides_which_labels_stay(way):
    names = [f"a long name of row {number}" for number in range(60)]
    frame = pd.DataFrame({"x": RNG.normal(0, 1, 60), "y": RNG.normal(0, 1, 60), "n": names, "rank": way * np.arange(60.0)})
    figure = ft.figure(frame).map(x="x", y="y").points().labels(map={"label": "n"}, avoid=True, priority="rank")
    sheet = Sheet(figure, "60 mm", "50 mm")
    shown = [int(text.rsplit(" ", 1)[1]) for text in sheet.texts(sheet.layer(2))]
    assert 1 <= len(shown) < 40
    best = 59 if way > 0 else 0
    assert best in shown
    plain = Sheet(ft.figure(frame).map(x="x", y="y").points().labels(map={"label": "n"}, avoid=True), "60 mm", "50 mm")
    others = [int(text.rsplit(" ", 1)[1]) for text in plain.texts(plain.layer(2))]
    ranked = way * (np.mean(shown) - np.mean(others))
    assert ranked > 3


def test_a_priority_that_is_none_is_refused():
    frame = pd.DataFrame({"x": [1.0, 2], "y": [1.0, 2], "n": ["p", "q"]})
    base = ft.figure(frame).map(x="x", y="y", label="n").points()
    with pytest.raises(KindError, match="holds categories"):
        Sheet(base.labels(avoid=True, priority="n"))
    with pytest.raises(ft.FacetineError, match="'m'"):
        Sheet(base.labels(avoid=True, priority="m"))
    with pytest.raises(OptionError, match="priority"):
        Sheet(base.bars(aggregate="mean").labels(layer="bars", text="{mean}", priority="x"))
    assert any("priority has no effect" in text for text in notes(base.labels(side="above", priority="x")))
