"""Where lines, areas and bands break, and what joins them."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, said
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import OptionError
from facetine.scene.marks import Paths

HOURS = pd.date_range("2030-01-01", periods=40, freq="h")


def pieces(figure):
    """How many stretches the first layer's marks have, of the solid ones."""
    made = laid_out(figure)
    count = 0

    def walk(group):
        nonlocal count
        for item in group.items:
            if hasattr(item, "items"):
                walk(item)
            elif isinstance(item, Paths) and group.kind in ("layer", "category") and not (item.stroke and item.stroke.dash):
                count += len(item.starts)

    walk(made.scene.root)
    return count


def without(*gone, **columns):
    keep = np.setdiff1d(np.arange(40), gone)
    return ft.figure({name: np.asarray(values)[keep] for name, values in columns.items()})


@pytest.mark.parametrize("layer", ["lines", "areas"])
@pytest.mark.parametrize("x", [np.arange(40.0), HOURS.to_numpy()])
def test_where_rows_are_absent_a_line_breaks_and_it_is_said(layer, x):
    figure = getattr(without(10, 20, 21, x=x, y=np.arange(40.0) + 1).map(x="x", y="y"), layer)()
    assert pieces(figure) == 3
    assert any("2 gaps where rows are farther apart than 1.5 times the usual 1" in note for note in said(laid_out(figure)))
    joined = getattr(without(10, 20, 21, x=x, y=np.arange(40.0) + 1).map(x="x", y="y"), layer)(bridge=True)
    assert pieces(joined) == 1
    assert not said(laid_out(joined))


def test_bands_break_too():
    figure = without(10, x=np.arange(40.0), low=np.zeros(40), high=np.ones(40)).map(x="x", y_low="low", y_high="high").bands()
    assert pieces(figure) == 2


@settings(max_examples=40, deadline=None)
@given(st.lists(st.integers(1, 6), min_size=1, max_size=30), st.floats(0.5, 7))
def test_neighbours_up_to_the_distance_are_joined(steps, distance):
    x = np.concatenate([[0], np.cumsum(steps)]).astype(float)
    figure = ft.figure(x=x, y=np.ones(len(x))).map(x="x", y="y").lines(bridge=distance)
    assert pieces(figure) == 1 + int((np.array(steps) > distance).sum())


def test_a_length_of_time_in_words():
    base = without(10, 20, 21, x=HOURS.to_numpy(), y=np.arange(40.0)).map(x="x", y="y")
    assert pieces(base.lines(bridge="2 hours")) == 2
    assert pieces(base.lines(bridge="180 min")) == 1
    assert pieces(base.lines(bridge="0.125 days")) == 1


def test_uneven_rows_have_no_usual_distance():
    x = np.cumsum(np.random.default_rng(2).exponential(size=40))
    assert pieces(ft.figure(x=x, y=x).map(x="x", y="y").lines()) == 1


def test_a_row_without_a_value_interrupts_unless_it_is_bridged():
    y = np.arange(40.0)
    y[7:9] = np.nan
    base = ft.figure(x=np.arange(40.0), y=y).map(x="x", y="y")
    assert pieces(base.lines()) == 2
    assert pieces(base.lines(bridge=3)) == 1
    assert pieces(base.lines(bridge=2)) == 2
    assert "gaps" in said(laid_out(base.lines()))[0]
    assert "gaps" not in said(laid_out(base.lines(bridge=3)))[0]


def test_groups_break_one_by_one_and_steps_and_colors_along_the_line_do():
    data = pd.DataFrame({"x": np.tile(np.arange(20.0), 2), "y": np.arange(40.0), "k": np.repeat(["a", "b"], 20)}).drop([5, 6])
    base = ft.figure(data).map(x="x", y="y", color="k")
    assert pieces(base.lines()) == 3
    assert pieces(base.lines(steps=True)) == 3
    assert pieces(base.areas(arrange="overlay")) == 3
    # What stands on a gap breaks with it.
    assert pieces(base.areas()) == 4
    assert pieces(base.areas(bridge=True)) == pieces(base.areas(gaps="zero")) == 2


def test_gaps_are_dotted_on_request_from_end_to_end():
    figure = without(10, 11, x=np.arange(40.0), y=np.arange(40.0)).map(x="x", y="y").lines(gaps="dotted")
    made = laid_out(figure)
    found = []

    def walk(group):
        for item in group.items:
            if hasattr(item, "items"):
                walk(item)
            elif isinstance(item, Paths) and item.stroke and item.stroke.dash and group.kind in ("layer", "category"):
                found.append(item.points)

    walk(made.scene.root)
    (line,) = found
    box, axis = made.layout.panels[0].box, made.scales.first("x").extent
    places = box.x + axis.share(np.array([9.0, 12.0])) * box.width
    assert line[:, 0] == pytest.approx(places)


@pytest.mark.parametrize(
    ("options", "words"),
    [
        ({"bridge": "x"}, "2 hours"),
        ({"bridge": -1}, "a distance"),
        ({"bridge": "2 hours"}, "x holds numbers"),
        ({"bridge": True, "join_by": "rows"}, "as they come"),
        ({"gaps": "dashed"}, "dotted"),
    ],
)
def test_bridges_that_lead_nowhere_are_refused(options, words):
    with pytest.raises(OptionError, match=words):
        laid_out(ft.figure(x=[1.0, 2], y=[1.0, 2]).map(x="x", y="y").lines(**options))


def test_a_number_bridges_no_times_and_nothing_bridges_categories():
    with pytest.raises(OptionError, match="holds times"):
        laid_out(ft.figure(x=HOURS, y=np.ones(40)).map(x="x", y="y").lines(bridge=2))
    with pytest.raises(OptionError, match="has no effect on category"):
        laid_out(ft.figure(x=["a", "b"], y=[1.0, 2]).map(x="x", y="y").lines(bridge=True))
    stacked = ft.figure(x=[1.0, 2, 1, 2], y=[1.0] * 4, k=list("aabb")).map(x="x", y="y", color="k")
    with pytest.raises(OptionError, match="overlay"):
        laid_out(stacked.areas(bridge=2))
