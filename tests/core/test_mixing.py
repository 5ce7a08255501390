"""The order in which marks lie over each other: every place once, by the seed alone, and no part of it in a row."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from facetine.core.arrange.mixing import mixed_order, mixing_keys


@given(st.integers(0, 5000), st.integers(0, 2**40))
def test_every_place_stands_once_and_the_seed_says_where(count, seed):
    order = mixed_order(count, seed)
    assert np.array_equal(np.sort(order), np.arange(count))
    assert np.array_equal(order, mixed_order(count, seed))
    assert np.array_equal(order, mixed_order(count, seed % 2**32))


@pytest.mark.parametrize("seed", [0, 1, 7919, 104729, 2**31])
def test_neighbours_are_not_drawn_after_each_other(seed):
    order = mixed_order(20_000, seed)
    assert abs(stats.spearmanr(np.arange(20_000), order).statistic) < 0.03
    assert (np.abs(np.diff(order)) == 1).mean() < 0.001
    if seed:
        assert (order == mixed_order(20_000, seed + 1)).mean() < 0.001


def test_keys_are_those_of_the_published_finalizer():
    """By whole numbers of any size, step for step."""

    def finalized(key):
        key = ((key ^ (key >> 16)) * 0x85EBCA6B) % 2**32
        key = ((key ^ (key >> 13)) * 0xC2B2AE35) % 2**32
        return key ^ (key >> 16)

    expected = [finalized((place * 2654435761 + 5 * 2246822519) % 2**32) for place in range(50)]
    assert mixing_keys(50, 5).tolist() == expected
