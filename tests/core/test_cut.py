"""Straight lines cut at the edges of a rectangle, against points along them."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from facetine.core.geometry.cut import cut_segments

SIDE = st.integers(-8, 8).map(float)


@given(st.lists(st.tuples(SIDE, SIDE, SIDE, SIDE), min_size=1, max_size=8))
def test_what_is_left_of_lines_is_what_lies_inside(lines):
    ends = np.array(lines)
    low, high = (-3.0, -2.0), (4.0, 5.0)
    cut = cut_segments(ends, low, high)
    assert np.all((cut >= np.array([*low, *low]) - 1e-9) & (cut <= np.array([*high, *high]) + 1e-9))
    shares = np.linspace(0, 1, 801)
    long = 0
    for line in ends:
        way = line[2:] - line[:2]
        points = line[:2] + shares[:, None] * way
        inside = np.all((points >= low) & (points <= high), axis=1)
        if not way.any() or inside.sum() < 2:
            continue
        long += 1
        first, last = points[inside][0], points[inside][-1]
        # One of those that are left runs between them, in the same direction.
        near = np.abs(cut - np.hstack([first, last])).max(axis=1).min()
        assert near <= np.abs(way).max() / 400
    assert len(cut) >= long
