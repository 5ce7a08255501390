"""Swarms and labels: nothing overlaps that must not."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from facetine.core.arrange.swarm import beeswarm, jitter
from facetine.core.geometry.contours import contour_pieces
from facetine.core.geometry.labels import placed_labels
from facetine.core.stats.surfaces import Surface


@given(st.lists(st.floats(0, 60), max_size=80), st.floats(0.5, 6))
def test_no_two_discs_of_a_swarm_overlap(values, diameter):
    along = np.array(values)
    shift = beeswarm(along, diameter)
    if len(along) > 1:
        apart = np.hypot(along[:, None] - along[None, :], shift[:, None] - shift[None, :])
        apart[np.diag_indices(len(along))] = np.inf
        assert apart.min() >= diameter * (1 - 1e-6)


def test_discs_that_are_alone_stay_on_the_line():
    assert (beeswarm(np.array([0.0, 5.0, 10.0]), 2.0) == 0).all()
    assert len(beeswarm(np.zeros(0), 1.0)) == 0


def test_jitter_is_seeded_and_bounded():
    one = jitter(1000, 0.3, 4)
    assert (one == jitter(1000, 0.3, 4)).all()
    assert np.abs(one).max() <= 0.3
    assert np.abs(one).max() > 0.29


def test_labels_with_room_overlap_neither_each_other_nor_points():
    rng = np.random.default_rng(2)
    at = rng.uniform(20, 380, (60, 2))
    size = np.tile([22.0, 8.0], (60, 1))
    found = placed_labels(at, size, at, (0, 0, 400, 400), 3.0)
    assert found.clear.all()
    low, high = found.center - size / 2, found.center + size / 2
    for i in range(60):
        others = np.arange(60) != i
        overlap = ((low[i] < high[others]) & (high[i] > low[others])).all(axis=1)
        assert not overlap.any()
        assert not ((at > low[i]) & (at < high[i])).all(axis=1).any()


@given(st.lists(st.tuples(st.floats(0, 60), st.floats(0, 60)), min_size=1, max_size=60), st.floats(4, 90))
def test_labels_with_a_place_never_overlap_nor_leave_the_box(points, wide):
    at = np.array(points)
    size = np.tile([wide, 8.0], (len(at), 1))
    found = placed_labels(at, size, at, (0, 0, 60, 60), 2.0)
    low, high = (found.center - size / 2)[found.clear], (found.center + size / 2)[found.clear]
    over = ((low[:, None] < high[None]) & (high[:, None] > low[None])).all(axis=2)
    assert over.sum() == len(low)
    assert (low >= 0).all()
    assert (high <= 60).all()
    assert not found.clear.any() or wide <= 60
    assert not found.leader[~found.clear].any()


def test_labels_stay_in_the_box_and_lead_back_when_they_go_far():
    at = np.full((12, 2), 50.0) + np.arange(12)[:, None] * 0.1
    found = placed_labels(at, np.tile([20.0, 8.0], (12, 1)), at, (0, 0, 100, 100), 3.0)
    assert ((found.center >= [10, 4]) & (found.center <= [90, 96])).all()
    assert found.leader.any()


def test_contours_of_a_cone_are_circles_and_its_parts_have_holes():
    grid = np.linspace(-2, 2, 201)
    height = np.hypot(*np.meshgrid(grid, grid))
    (line,) = contour_pieces(Surface(grid, grid, height), 1.0, filled=False)[0]
    assert np.allclose(np.hypot(line[:, 0], line[:, 1]), 1.0, atol=1e-3)
    rings = [ring for piece in contour_pieces(Surface(grid, grid, height), 1.0, filled=True) for ring in piece]
    assert len(rings) == 2


@given(st.lists(st.floats(0, 100).map(lambda value: round(value, 1)), min_size=2, max_size=40), st.integers(0, 99))
def test_noise_in_the_last_digits_moves_no_mark_of_a_swarm(values, seed):
    places = np.array(values)
    noise = np.random.default_rng(seed).uniform(-1e-13, 1e-13, len(places))
    np.testing.assert_allclose(beeswarm(places + noise, 1.0), beeswarm(places, 1.0), atol=1e-5)
