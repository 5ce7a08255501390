"""Where things stand: nothing is cut, nothing overlaps, at any width and size of type."""

import re
from itertools import combinations

import numpy as np
import pytest
from conftest import laid_out
from conftest import said as said_of
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import ExportError

WHEELS = ft.demo_data("wheels")
LONG = "Monthly readings of the upper shelves in the cooperative's coldest ageing cellar"


def figures():
    wheels = ft.figure(WHEELS, codebook={"moisture_pct": {"label": "Moisture", "unit": "%"}})
    scatter = wheels.map(x="moisture_pct", y="firmness_n", color="rind").points()
    return {
        "scatter": scatter.titles("Firmness falls as moisture rises", subtitle=LONG, note=LONG),
        "two legends": scatter.map(size="mass_kg", shape="milk"),
        "facets": scatter.facet("cellar", per_row=2).titles(LONG),
        "facets by grade": scatter.facet("grade", heading="{name}: {value}"),
        "color bar": scatter.map(color="age_days"),
        "counts": wheels.map(x="rind", color="milk").bars(arrange="side_by_side"),
        "horizontal": wheels.map(y="cellar", color="rind").bars(),
        "log": ft.figure(ft.demo_data("cultures")).map(x="inoculum", y="colonies").points().scale("x", "log").scale("y", "log"),
        "time": ft.figure(ft.demo_data("sales")).map(x="month", y="retail").lines(),
        "large numbers": ft.figure({"a": [1e6, 3e6], "b": [-2e9, 5e9]}).map(x="a", y="b").points(),
        "long names": ft.figure({"s": ["A shelf with a rather long name", "Another", "Third shelf from below"], "v": [1.0, 2, 3]})
        .map(x="s", y="v").bars(),
        "many names": ft.figure({"s": [f"site {i}" for i in range(40)], "v": np.arange(40.0)}).map(x="s", y="v").bars(),
        "many names, horizontal": ft.figure({"s": [f"site {i}" for i in range(60)], "v": np.arange(60.0)}).map(y="s", x="v").bars(),
    }  # fmt: skip


FIGURES = figures()


def assert_sound(made):
    """No text leaves the sheet, no two texts overlap."""
    texts = [text for text in made.scene.texts() if text.content.strip()]
    boxes = [text.box for text in texts]
    for text, box in zip(texts, boxes, strict=True):
        inside = box.x >= -0.1 and box.y >= -0.1 and box.right <= made.scene.width + 0.1 and box.bottom <= made.scene.height + 0.1
        assert inside, f"{text.role} {text.content!r} leaves the sheet: {box}"
    for (one, first), (other, second) in combinations(zip(texts, boxes, strict=True), 2):
        assert not first.overlaps(second, slack=0.3), f"{one.content!r} and {other.content!r} overlap"


@pytest.mark.parametrize("name", FIGURES)
@pytest.mark.parametrize("width", [60, 85, 180, 300])
@pytest.mark.parametrize("size", [6, 8, 14])
def test_no_text_overlaps_another_or_leaves_the_sheet(name, width, size):
    if name == "two legends" and width == 60 and size == 14:
        pytest.skip("two legends of eleven entries at 14 pt leave no panel on 60 mm")
    assert_sound(laid_out(FIGURES[name].theme(text_size=size), width))


@pytest.mark.parametrize("name", FIGURES)
def test_panels_keep_clear_of_texts(name):
    made = laid_out(FIGURES[name], 85)
    for panel in made.layout.panels:
        assert panel.box.width > 20
        assert panel.box.height > 20
        for text in made.scene.texts():
            if text.role in ("title", "subtitle", "note", "axis title", "heading", "legend"):
                assert not text.box.overlaps(panel.box, slack=0.5), text.content


@pytest.mark.parametrize("name", ["scatter", "facets", "counts"])
def test_a_given_height_is_kept(name):
    made = laid_out(FIGURES[name], "85 mm", "110 mm")
    assert made.scene.height == pytest.approx(110 / 25.4 * 72)
    assert_sound(made)


def test_everything_written_starts_at_the_left_edge_of_the_first_panel():
    made = laid_out(FIGURES["scatter"], 120)
    left = made.layout.panels[0].box.x
    starts = {text.x for text in made.scene.texts() if text.role in ("title", "subtitle", "axis title", "note")}
    assert starts == {left}


def test_a_legend_that_fits_stands_in_one_row_and_goes_right_otherwise():
    assert laid_out(FIGURES["scatter"], 120).layout.legends.side == "top"
    wide = laid_out(FIGURES["two legends"], 120).layout
    assert wide.legends.side == "right"
    assert wide.legends.region.x > wide.panels[0].box.right


def test_a_legend_wraps_where_there_is_no_room_beside():
    made = laid_out(FIGURES["two legends"], 60)
    assert made.layout.legends.side == "top"
    assert_sound(made)


def test_categories_turn_when_they_do_not_fit():
    assert laid_out(FIGURES["many names"], 180).layout.x_labels.angle == 90
    assert laid_out(FIGURES["long names"], 180).layout.x_labels.angle == 0


def test_names_that_can_not_all_be_written_are_said():
    made = laid_out(FIGURES["many names"], 60)
    assert made.layout.x_labels.unlabelled
    assert any("space for the name" in note for note in said_of(made))


def test_names_left_out_are_said_of_the_layout_that_stands_only():
    for name, figure in FIGURES.items():
        made = laid_out(figure, 180)
        said = any("space for the name" in note for note in said_of(made))
        axes = ((made.scales.first("x"), made.layout.x_labels), (made.scales.first("y"), made.layout.y_labels))
        thinned = any(axis.kind == "levels" and labels.unlabelled for axis, labels in axes)
        assert said == thinned, name


def test_lying_bars_make_the_sheet_as_high_as_they_need():
    assert laid_out(FIGURES["many names, horizontal"]).layout.height > laid_out(FIGURES["horizontal"]).layout.height
    assert len(laid_out(FIGURES["many names, horizontal"]).layout.y_labels.blocks) == 60


def test_panels_share_size_and_axes():
    panels = laid_out(FIGURES["facets"]).layout.panels
    assert len({(round(panel.box.width, 6), round(panel.box.height, 6)) for panel in panels}) == 1
    assert [panel.labelled("below") for panel in panels] == [False, False, True, True]
    assert [panel.labelled("left") for panel in panels] == [True, False, True, False]


def test_a_sheet_that_is_too_small_says_which_would_do():
    with pytest.raises(ExportError, match="height is too small") as caught:
        laid_out(FIGURES["scatter"], "85 mm", "15 mm")
    words = caught.value.detail.split('"')
    assert_sound(laid_out(FIGURES["scatter"], "85 mm", words[1]))


@given(
    st.lists(st.text("abcdefghijklmnop ", min_size=1, max_size=25), min_size=1, max_size=12, unique=True),
    st.integers(55, 200),
    st.floats(5, 14),
)
def test_any_category_names_stand_apart(given_names, width, size):
    names = [name.strip() or "x" for name in given_names]
    fig = ft.figure({"s": names, "v": [float(i) for i in range(len(names))]}).map(x="s", y="v", color="s")
    assert_sound(laid_out(fig.bars(aggregate="sum").theme(text_size=round(size, 1), legend_place="none"), width))


@given(st.floats(-1e12, 1e12), st.floats(1e-6, 1e9), st.integers(45, 200))
def test_any_range_of_numbers_has_labels_apart(start, span, width):
    fig = ft.figure({"a": [start, start + span], "b": [start, start + span]}).map(x="a", y="b").points()
    made = laid_out(fig, width)
    assert_sound(made)
    for labels in (made.layout.x_labels.ticks.labels, made.layout.y_labels.ticks.labels):
        assert len(set(labels)) == len(labels)


def drawn_at(low, high, width, **scale):
    """A figure whose axes both span a range, built at a width in millimetres."""
    figure = ft.figure({"a": [low, high], "b": [low, high]}).map(x="a", y="b").points()
    return laid_out(figure.scale("x", margin=0, **scale).scale("y", margin=0, **scale), width)


@pytest.mark.parametrize("width", [40, 85, 180])
@given(st.floats(-300, 299), st.floats(-1, 1), st.floats(-9, 0))
def test_labels_of_numbers_of_any_size_stand_apart(width, power, start, fraction):
    low = start * 10.0**power
    high = low + max(abs(low), 10.0**power) * 10.0**fraction
    try:
        made = drawn_at(low, high, width)
    except ExportError as refused:
        # Long numbers may need more than the narrowest column; the width that the error names is enough.
        assert width == 40
        wider = float(re.search(r'width="([\d.]+) mm" would do', str(refused))[1])
        assert wider <= 60
        made = drawn_at(low, high, wider)
    assert_sound(made)


@pytest.mark.parametrize("width", [40, 85, 180])
@given(st.floats(-300, 280), st.floats(0.1, 300))
def test_labels_of_logs_stand_apart(width, start, decades):
    low, high = 10.0**start, 10.0 ** min(start + decades, 299.0)
    figure = ft.figure({"a": [low, high], "b": [low, high]}).map(x="a", y="b").points()
    assert_sound(laid_out(figure.scale("x", "log").scale("y", "log"), width))


@pytest.mark.parametrize("width", [40, 85, 180])
@given(st.integers(-(10**15), 3 * 10**15), st.floats(1, 16))
def test_labels_of_times_from_microseconds_to_millennia_stand_apart(width, start, power):
    times = np.array([start, start + max(int(10.0**power), 20)]).astype("datetime64[us]")
    assert_sound(laid_out(ft.figure({"t": times, "v": [0.0, 1.0]}).map(x="t", y="v").points(), width))
    assert_sound(laid_out(ft.figure({"t": times, "v": [0.0, 1.0]}).map(x="v", y="t").points(), width))


def test_a_sheet_without_a_height_is_as_high_as_the_legend_beside_it():
    figure = FIGURES["two legends"].theme(legend_place="right", text_size=12).titles("Tall", note=LONG)
    made = laid_out(figure, 90)
    assert_sound(made)
    with pytest.raises(ExportError, match="height is too small"):
        laid_out(figure, 90, 60)


def test_labels_of_both_axes_keep_apart_in_their_corner():
    for gap in (1.5, 2.0, 4.0):
        assert_sound(laid_out(FIGURES["log"].theme("lecture", tick_length=0, gap=gap, title_size=5), 70))


def test_turned_names_at_the_edge_stay_on_the_sheet():
    assert_sound(laid_out(FIGURES["many names"].theme("lecture", margin=1), 120))
