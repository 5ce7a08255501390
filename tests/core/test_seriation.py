"""An order of likeness, against all orders that a clustering allows."""

from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.cluster.hierarchy import linkage
from scipy.spatial.distance import pdist, squareform

from facetine.core.stats.seriation import MOST, similar_order


def leaf_orders(tree, count):
    """Every order of the leaves: the two parts of each join may change places."""
    parts = {number: [[number]] for number in range(count)}
    for number, (one, other, _, _) in enumerate(tree):
        pairs = product(parts[int(one)], parts[int(other)])
        parts[count + number] = [first + second for a, b in pairs for first, second in ((a, b), (b, a))]
    return parts[count + len(tree) - 1]


@given(st.integers(3, 7), st.integers(0, 2**32 - 1))
def test_no_other_order_of_the_tree_has_closer_neighbours(count, seed):
    values = np.random.default_rng(seed).normal(size=(count, 4))
    order = similar_order(values).tolist()
    assert sorted(order) == list(range(count))
    distances = pdist(values) / 2  # of the means of four columns
    apart = squareform(distances)

    def length(leaves):
        return sum(apart[a, b] for a, b in pairwise(leaves))

    least = min(length(leaves) for leaves in leaf_orders(linkage(distances, "average"), count))
    assert length(order) == pytest.approx(least, abs=1e-6)


def test_planted_blocks_stand_together_also_with_gaps():
    rng = np.random.default_rng(1)
    values = rng.normal(0, 5, (3, 12))[np.arange(15) % 3] + rng.normal(0, 0.1, (15, 12))
    values[rng.random(values.shape) < 0.2] = np.nan
    blocks = (similar_order(values) % 3).tolist()
    assert sum(a != b for a, b in pairwise(blocks)) == 2


def test_few_rows_and_rows_alike_or_without_anything_stay_as_they_came():
    assert similar_order(np.zeros((0, 3))).tolist() == []
    assert similar_order(np.array([[2.0], [1.0]])).tolist() == [0, 1]
    assert similar_order(np.ones((4, 2))).tolist() == [0, 1, 2, 3]
    assert similar_order(np.full((3, 2), np.nan)).tolist() == [0, 1, 2]
    assert similar_order(np.array([[3.0], [1.0], [2.0]]))[0] != 1


def test_more_rows_than_are_searched_stand_as_the_tree_has_them():
    values = np.random.default_rng(2).normal(size=(MOST + 1, 3))
    assert sorted(similar_order(values).tolist()) == list(range(MOST + 1))
    most = similar_order(np.arange(float(MOST))[:, None] ** 1.1)
    assert most.tolist() == list(range(MOST))
