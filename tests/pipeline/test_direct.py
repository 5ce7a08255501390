"""Names at the ends of lines: each beside its line, none over another, none off the sheet."""

from itertools import pairwise

import numpy as np
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft


def lines(ends, names=None):
    """A line for each end value, from zero to it."""
    names = names or [f"shelf {number}" for number in range(len(ends))]
    data = {
        "x": np.tile([0.0, 1.0], len(ends)),
        "y": np.array([[0.0, end] for end in ends]).ravel(),
        "shelf": np.repeat(names, 2),
    }
    return ft.figure(data).map(x="x", y="y", color="shelf")


def names_of(made):
    return {text.content: text for text in made.scene.texts() if text.role == "name"}


@given(st.lists(st.floats(-50, 50), min_size=1, max_size=8), st.sampled_from([60, 85, 180]))
def test_names_stand_apart_on_the_sheet_in_the_order_of_their_ends(ends, width):
    made = laid_out(lines(ends).lines(legend="direct"), width)
    found = names_of(made)
    assert set(found) == {f"shelf {number}" for number in range(len(ends))}
    assert not made.layout.legends.legends
    assert_sound(made)
    tops = [found[f"shelf {number}"].y for number in np.argsort(ends, kind="stable")]
    clearly = [(low, high) for low, high in pairwise(tops) if abs(low - high) > 0.1]
    sorted_ends = np.sort(ends)
    if len(ends) > 1 and np.diff(sorted_ends).min() > 0.5:
        assert all(high < low for low, high in clearly)


def test_names_have_the_ink_of_their_lines():
    made = laid_out(lines([1.0, 2, 3]).lines(legend="direct"))
    scale = made.scales.looks["color"]
    inks = dict(zip(scale.labels, scale.values, strict=False))
    assert {name: text.color for name, text in names_of(made).items()} == inks


@pytest.mark.parametrize(("count", "named"), [(2, True), (3, True), (4, False), (7, False)])
def test_left_open_up_to_three_lines_are_named_directly(count, named):
    made = laid_out(lines(range(count)).lines(legend="auto"))
    assert bool(names_of(made)) == named
    assert bool(made.layout.legends.legends) != named


def test_names_that_moved_have_a_slanted_leader_to_their_line():
    close = laid_out(lines([1.0, 1.01, 1.02]).lines(legend="direct"))
    far = laid_out(lines([1.0, 30.0, 60.0]).lines(legend="direct"))
    assert slanted_leaders(close) >= 2  # the middle one may stay
    assert slanted_leaders(far) == 0


def slanted_leaders(made):
    found = []
    stack = [made.scene.root]
    while stack:
        group = stack.pop()
        stack += [item for item in group.items if hasattr(item, "items")]
        if group.name == "names":
            found += [item for item in group.items if hasattr(item, "points") and abs(np.diff(item.points[:, 1])[0]) > 1]
    return len(found)


def test_lines_in_several_panels_side_by_side_keep_their_legend():
    figure = lines([1.0, 2.0]).derive(panel="CASE WHEN y > 1 THEN 'p' ELSE 'q' END").lines(legend="direct")
    made = laid_out(figure.facet("panel", per_row=2), 180)
    assert not names_of(made)
    assert made.layout.legends.legends


def test_long_names_are_given_their_room():
    names = ["A shelf with a rather long name", "B"]
    made = laid_out(lines([1.0, 5.0], names).lines(legend="direct"), 85)
    assert_sound(made)
    assert made.layout.panels[0].box.right < names_of(made)[names[0]].box.x
