"""Smooth curves with as few vertices as show them."""

import numpy as np
import pytest
from conftest import group, numbers, svg_of
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.core.geometry.curves import enough


@given(st.integers(4, 400), st.floats(-5, 5), st.floats(-100, 100))
def test_a_straight_line_needs_its_ends_alone(count, slope, start):
    x = np.linspace(0, 200, count)
    assert enough(x, np.array([start + slope * x]), 0.01).tolist() == [0, count - 1]


@given(st.integers(4, 300), st.lists(st.floats(-50, 50), min_size=3, max_size=5), st.floats(1e-3, 1))
def test_no_vertex_that_is_left_out_is_farther_away_than_said(count, bends, tolerance):
    x = np.linspace(0, 100, count)
    curves = np.array([sum(bend * np.sin((k + 1) * x / 40) for k, bend in enumerate(bends)), np.cos(x / 30)])
    kept = enough(x, curves, tolerance)
    assert kept[0] == 0
    assert kept[-1] == count - 1
    assert (np.diff(kept) > 0).all()
    for curve in curves:
        assert np.abs(np.interp(x, x[kept], curve[kept]) - curve).max() <= tolerance


@pytest.mark.parametrize(
    ("x", "y"), [([0.0, 1, 1, 2, 3], [0.0] * 5), ([3.0, 2, 1, 0, -1], [0.0] * 5), ([0.0, 1, 2, 3, 4], [0, 1, np.nan, 3, 4])]
)
def test_what_turns_back_or_has_gaps_keeps_all(x, y):
    assert len(enough(np.array(x), np.array([y], float), 1.0)) == 5


def test_a_fitted_line_has_two_vertices_and_its_band_few():
    wheels = ft.demo_data("wheels")
    svg = svg_of(ft.figure(wheels).map(x="age_days", y="firmness_n").trend())
    paths = [one.get("d") for one in group(svg, "panel-1-layer-1-trend").iter("{http://www.w3.org/2000/svg}path")]
    vertices = sorted(len(numbers(path)) // 2 for path in paths)
    assert vertices[0] == 2
    assert 8 < vertices[-1] <= 80
