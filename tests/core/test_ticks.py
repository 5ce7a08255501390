"""Ticks: inside the range, even, few, and never noisy."""

import math

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from facetine.core.scales.formats import fixed, formatted, powers, written
from facetine.core.scales.ticks import linear_ticks, log_ticks

ends = st.floats(-1e300, 1e300, allow_nan=False)
wanted = st.integers(2, 9)


@given(ends, ends, wanted)
def test_linear_ticks_are_few_even_and_inside(one, other, count):
    low, high = min(one, other), max(one, other)
    assume(high - low > 1e-9 * max(abs(low), abs(high), 1e-290))
    at = np.array(linear_ticks(low, high, count).at)
    assert 2 <= len(at) <= 4 * count + 4
    assert (at >= low - 1e-9 * (high - low)).all()
    assert (at <= high + 1e-9 * (high - low)).all()
    steps = np.diff(at / 2)
    assert np.allclose(steps, steps[0], rtol=1e-6)


@given(st.floats(1e-3, 1e3), st.floats(-50, 50), wanted)
def test_linear_ticks_do_not_depend_on_the_unit(width, start, count):
    at = linear_ticks(start, start + width, count).at
    larger = linear_ticks(start * 1000, (start + width) * 1000, count).at
    assert np.allclose(np.array(at) * 1000, larger, rtol=1e-9, atol=1e-6)


@given(st.integers(-(10**6), 10**6), st.integers(1, 10**6), st.integers(-12, 12), wanted)
def test_no_two_labels_are_the_same(start, width, power, count):
    low, high = start * 10.0**power, (start + width) * 10.0**power
    labels = written(linear_ticks(low, high, count).at)
    assert len(set(labels)) == len(labels)
    assert all("e" not in label and "-" not in label for label in labels)


@given(st.floats(1e8, 1e10), st.floats(1e-4, 1.0))
def test_a_small_range_far_from_zero_keeps_its_labels_apart(offset, width):
    at = linear_ticks(offset, offset + width, 5).at
    labels = written(at)
    assert len(set(labels)) == len(labels)


def test_ticks_are_the_decimal_numbers_they_say():
    assert linear_ticks(0.0, 0.55, 6).at == (0.0, 0.1, 0.2, 0.3, 0.4, 0.5)


def test_a_range_without_length_has_one_tick():
    assert linear_ticks(3.0, 3.0, 5).at == (3.0,)


@given(st.floats(-12, 12), st.floats(0.05, 15), wanted)
def test_log_ticks_lie_inside_and_minor_ones_are_others(start, decades, count):
    low, high = 10.0**start, 10.0 ** (start + decades)
    ticks = log_ticks(low, high, count)
    every = np.array([*ticks.at, *ticks.minor])
    assert len(ticks.at) >= 2
    assert (every >= low * (1 - 1e-6)).all()
    assert (every <= high * (1 + 1e-6)).all()
    assert not set(ticks.at) & set(ticks.minor)
    assert len(set(powers(ticks.at))) == len(ticks.at)


def test_many_decades_are_labelled_in_even_steps():
    at = log_ticks(1e-9, 1e9, 5).at
    assert np.allclose(np.diff(np.log10(at)), np.log10(at[1] / at[0]))


def test_labels_of_an_axis_have_one_number_of_decimals():
    assert written([0.0, 0.25, 0.5]) == ["0.00", "0.25", "0.50"]
    assert written([0.1 + 0.2, 0.6]) == ["0.3", "0.6"]


def test_thousands_are_grouped_but_years_are_not():
    assert written([2019.0, 2022.0, 2025.0]) == ["2019", "2022", "2025"]
    assert written([0.0, 5000.0, 10000.0]) == ["0", "5,000", "10,000"]


def test_minus_is_the_minus_sign_and_zero_has_none():
    assert written([-1.0, 0.0, 1.0]) == ["−1", "0", "1"]
    assert fixed(-0.001, 2) == "0.00"


@given(st.floats(-1e6, 1e6), st.integers(0, 6))
def test_fixed_numbers_read_back(value, decimals):
    text = fixed(value, decimals).replace("−", "-").replace(",", "")
    assert math.isclose(float(text), value, abs_tol=0.5 * 10.0**-decimals * 1.0001)


def test_formats_of_the_reader():
    assert formatted([0.1, 0.25], "percent") == ["10 %", "25 %"]
    assert formatted([0.0, 2500.0], "si") == ["0.0", "2.5k"]
    assert formatted([-1234.5], ",.1f") == ["−1,234.5"]
    assert formatted([2030.0], "d") == ["2030"]
