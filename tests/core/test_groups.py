"""Grouped rows and bars in their slots, against plain loops."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from facetine.core.arrange.bars import group_places, shares, stacked
from facetine.core.stats.groups import aggregated, grouped

rows = st.lists(st.tuples(st.integers(0, 4), st.floats(-1e6, 1e6)), min_size=1, max_size=60)


@pytest.mark.parametrize("how", ["mean", "median", "sum", "min", "max", "count"])
@given(given_rows=rows)
def test_aggregates_equal_those_of_each_group_alone(how, given_rows):
    key, value = (np.array(column) for column in zip(*given_rows, strict=True))
    found = aggregated(value.astype(float), grouped(key), how)
    alone = {"mean": np.mean, "median": np.median, "sum": np.sum, "min": np.min, "max": np.max, "count": len}[how]
    expected = [alone(value[key == each]) for each in np.unique(key)]
    assert np.allclose(found, expected, rtol=1e-9, atol=1e-6)


def test_a_mean_far_from_zero_keeps_its_digits():
    value = 1e9 + np.array([0.001, 0.002, 0.003])
    assert aggregated(value, grouped(np.zeros(3)), "mean")[0] - 1e9 == pytest.approx(0.002, abs=2e-7)


def test_no_rows_make_no_groups():
    groups = grouped(np.zeros(0))
    assert len(groups.starts) == 0
    assert len(aggregated(np.zeros(0), groups, "mean")) == 0


def test_missing_keys_are_one_group():
    assert grouped(np.array([np.nan, 1.0, np.nan])).sizes.tolist() == [1, 2]


def test_an_unknown_aggregate_is_refused():
    with pytest.raises(ValueError, match="mode"):
        aggregated(np.ones(1), grouped(np.ones(1)), "mode")


bars = st.lists(st.tuples(st.integers(0, 3), st.floats(-100, 100, allow_subnormal=False)), min_size=1, max_size=40)


@given(bars)
def test_stacks_sum_up_and_leave_no_gap(given_bars):
    slot, value = (np.array(column) for column in zip(*given_bars, strict=True))
    rank = np.arange(len(slot))
    low, high = stacked(slot, rank, value)
    assert np.allclose(high - low, np.abs(value))
    for each in np.unique(slot):
        here = slot == each
        assert high[here].max(initial=0) == pytest.approx(value[here & (value >= 0)].sum(), abs=1e-6)
        assert low[here].min(initial=0) == pytest.approx(value[here & (value < 0)].sum(), abs=1e-6)
        ends = np.sort(np.concatenate([low[here & (value > 0)], high[here & (value > 0)]]))
        assert np.allclose(ends[1:-1:2], ends[2::2], atol=1e-6)


@given(bars)
def test_sizes_of_shares_in_a_slot_sum_to_one(given_bars):
    slot, value = (np.array(column) for column in zip(*given_bars, strict=True))
    share = shares(slot, value)
    for each in np.unique(slot):
        total = np.abs(share[slot == each]).sum()
        assert total == pytest.approx(1.0) or (value[slot == each] == 0).all()


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 4)), min_size=1, unique=True))
def test_clustered_bars_do_not_overlap(given_bars):
    slot, group = (np.array(column) for column in zip(*given_bars, strict=True))
    center, places = group_places(slot, group)
    assert np.abs(center).max() + 0.5 / places <= 0.5 + 1e-9
    for each in np.unique(slot):
        here = np.sort(center[slot == each])
        assert (np.diff(here) >= 1 / places - 1e-9).all()


def test_bars_that_are_alone_keep_the_whole_slot():
    center, places = group_places(np.array([0, 1, 2]), np.array([0, 1, 2]))
    assert places == 1
    assert (center == 0).all()
