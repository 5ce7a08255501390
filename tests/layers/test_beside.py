"""Layers beside each other in one slot: points side by side, and layers that are shifted."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.grammar.lengths import shift_option, shift_points
from facetine.messages.errors import KindError, OptionError

WHEELS = ft.demo_data("wheels")
GROUPED = ft.figure(WHEELS).map(x="milk", y="ph", color="rind")
PLAIN = ft.figure(WHEELS).map(x="milk", y="ph")


def places(table):
    """Where each group stands in each slot."""
    return set(zip(table.group.tolist(), np.round(table["x"], 9).tolist(), strict=True))


@pytest.mark.parametrize("points", [{"arrange": "side_by_side"}, {"arrange": "side_by_side", "within": "beeswarm"}])
def test_points_side_by_side_stand_where_the_intervals_of_their_groups_stand(points):
    dots, means = (run.table for run in laid_out(GROUPED.points(**points).intervals()).runs)
    assert places(dots) == places(means)
    alone = laid_out(GROUPED.points(**points)).runs[0].table
    assert places(alone) == places(dots)


@pytest.mark.parametrize("arrange", [{"arrange": "jitter"}, {"arrange": "side_by_side", "within": "jitter"}])
def test_jitter_stays_in_the_place_of_its_group_beside_intervals(arrange):
    dots, means = (run.table for run in laid_out(GROUPED.points(**arrange).intervals()).runs)
    center = {(group, round(x)): x for group, x in places(means)}
    own = np.array([center[group, round(x)] for group, x in zip(dots.group.tolist(), dots["x"].tolist(), strict=True)])
    groups = len(np.unique(means.group))
    assert np.abs(dots["x"] - own).max() < 0.36 / groups
    assert np.ptp(dots["x"] - own) > 0.2 / groups


@settings(max_examples=15, deadline=None)
@given(st.floats(-10, 10).filter(lambda shift: abs(shift) > 0.01))
def test_a_shift_moves_a_layer_by_its_points_and_nothing_else(shift):
    plain = Sheet(PLAIN.boxes(outliers=False).points()).circles(2)
    moved = Sheet(PLAIN.boxes(outliers=False).points(shift=f"{shift:.3f} pt")).circles(2)
    assert moved[:, 0] - plain[:, 0] == pytest.approx(np.full(len(plain), shift), abs=0.02)
    assert moved[:, 1] == pytest.approx(plain[:, 1])


def test_a_shift_on_y_goes_down():
    turned = ft.figure(WHEELS).map(y="milk", x="ph")
    plain, moved = (Sheet(turned.points(shift=shift)).circles(1) for shift in (None, "3 pt"))
    assert moved - plain == pytest.approx(np.tile([0.0, 3.0], (len(plain), 1)), abs=0.02)


@pytest.mark.parametrize("layer", ["boxes", "violins", "intervals", "points"])
def test_a_shift_out_of_the_slot_is_said_and_one_along_numbers_refused(layer):
    assert Sheet(getattr(PLAIN, layer)(shift="60 pt")).said("outside-slot")
    assert not Sheet(getattr(PLAIN, layer)(shift="-4 pt")).said("outside-slot")
    numbers = ft.figure({"x": [1, 2, 1, 2, 1, 2], "y": [1.0, 2, 3, 4, 5, 7]}).kinds(x="number").map(x="x", y="y")
    with pytest.raises(KindError, match="shift="):
        laid_out(getattr(numbers, layer)(shift="4 pt"))


@pytest.mark.parametrize(
    ("options", "words"),
    [
        ({"within": "jitter"}, 'arrange="side_by_side"'),
        ({"arrange": "beeswarm", "within": "jitter"}, 'arrange="side_by_side"'),
        ({"arrange": "side_by_side", "within": "swarm"}, "beeswarm"),
        ({"spread_x": 0.2}, 'arrange="jitter"'),
        ({"arrange": "beeswarm", "spread_y": 0.2}, 'arrange="jitter"'),
        ({"shift": "wide"}, "no length"),
        ({"shift": "3 parsec"}, "units"),
        ({"shift": "300 pt"}, "at most 72 pt"),
        ({"shift": True}, "no length"),
    ],
)
def test_what_says_nothing_is_refused(options, words):
    with pytest.raises(OptionError, match=words):
        laid_out(GROUPED.points(**options))


def test_points_of_groups_at_one_number_stand_where_their_intervals_stand():
    rows = pd.DataFrame({"t": [1.0, 1, 2, 2, 4, 4] * 3, "g": ["a", "b"] * 9, "v": np.arange(18.0)})
    figure = (
        ft.figure(rows)
        .map(x="t", y="v", color="g")
        .points(arrange="side_by_side")
        .intervals(arrange="side_by_side", slot_share=0.72)
    )
    dots, means = (run.table for run in laid_out(figure).runs)
    assert places(dots) == places(means)
    assert len(np.unique(np.round(dots["x"], 6))) == 6


def test_points_side_by_side_that_are_spread_need_categories():
    figure = ft.figure(WHEELS).map(x="mass_kg", y="ph", color="rind")
    with pytest.raises(KindError, match="needs categories"):
        laid_out(figure.points(arrange="side_by_side", within="jitter"))
    with pytest.raises(OptionError, match="along one axis"):
        laid_out(figure.points(arrange="side_by_side", spread_x=0.1, spread_y=0.1))


@given(st.floats(-70, 70))
def test_a_shift_is_told_as_it_is_read(shift):
    told = shift_option(f"{shift:.4f} pt", "shift")
    assert shift_points(told) == pytest.approx(shift, abs=1e-3)
    assert shift_option(told, "shift") == told


@pytest.mark.parametrize("share", [0.3, 0.95])
@pytest.mark.parametrize("layer", ["bars", "boxes"])
def test_points_and_intervals_stand_in_the_middle_of_the_marks_of_their_groups(layer, share):
    options = {"aggregate": "mean", "arrange": "side_by_side", "bar_width": share} if layer == "bars" else {"box_width": share}
    figure = getattr(GROUPED, layer)(**options).intervals().points(arrange="side_by_side")
    marks, means, dots = (run.table for run in laid_out(figure).runs)
    assert places(marks) == places(means) == places(dots)
    own = laid_out(getattr(GROUPED, layer)(**options).intervals(slot_share=0.5)).runs[1].table
    assert np.ptp(own["x"][np.round(own["x"]) == 0]) == pytest.approx(0.5 * 3 / 4)
