"""Ticks: inside the range, even, few, and never noisy."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from facetine.core.scales.formats import fixed, formatted, powers, written
from facetine.core.scales.ticks import linear_ticks, log_ticks

wanted = st.integers(2, 9)


@st.composite
def ranges(draw):
    """A low and a high end: of one size, of any two sizes, or close together and far from zero."""
    power = draw(st.floats(-299, 299))
    shape = draw(st.sampled_from(["wide", "any", "far"]))
    if shape == "far":
        low = draw(st.sampled_from([-1, 1])) * 10.0**power
        high = low + abs(low) * 10.0 ** draw(st.floats(-12, 0))
    elif shape == "wide":
        low = draw(st.floats(-1, 1)) * 10.0**power
        high = low + draw(st.floats(1e-3, 1)) * 10.0**power
    else:
        low, high = sorted((draw(st.floats(-1, 1)) * 10.0**power, draw(st.floats(-1, 1)) * 10.0 ** draw(st.floats(-299, 299))))
    assume(high - low > 64 * math.ulp(max(abs(low), abs(high), 1e-300)))
    return low, high


@settings(max_examples=400)
@given(ranges(), wanted)
def test_linear_ticks_are_few_even_and_inside_and_say_different_things(ends, count):
    low, high = ends
    at = np.array(linear_ticks(low, high, count).at)
    noise = math.ulp(max(abs(low), abs(high)))
    assert 2 <= len(at) <= 11
    assert (at >= low - 1e-9 * (high - low) - noise).all()
    assert (at <= high + 1e-9 * (high - low) + noise).all()
    steps = np.diff(at / 2)
    assert (np.abs(steps - steps.mean()) <= 1e-6 * steps.mean() + 2 * noise).all()
    labels = written(at.tolist())
    assert len(set(labels)) == len(labels)


@settings(max_examples=300)
@given(st.floats(-300, 299), st.floats(0.01, 400), wanted)
def test_log_ticks_are_few_and_say_different_things(start, decades, count):
    low, high = 10.0**start, 10.0 ** min(start + decades, 300.0)
    at = log_ticks(low, high, count).at
    assert 2 <= len(at) <= 11
    assert len(set(powers(at))) == len(at)


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


def test_signs_stand_before_or_after_the_number():
    assert formatted([-20.0, 1500.0], "€{value:,.2f}") == ["−€20.00", "€1,500.00"]
    assert formatted([-20.0, 1500.0], "{value} kr") == ["−20 kr", "1500 kr"]
    assert formatted([0.5], "about {value:percent}") == ["about 50 %"]
    assert formatted([2e6], "{value:si}W m^−2^") == ["2MW m^−2^"]


def test_scientific_numbers_share_a_power_unless_they_are_far_apart():
    assert formatted([0.0, 3e5], "scientific") == ["0", "3 × 10^5^"]
    assert formatted([5e4, 1e5, 1.5e5], "scientific") == ["0.5 × 10^5^", "1.0 × 10^5^", "1.5 × 10^5^"]
    assert formatted([2e-3, 1e5], "scientific") == ["2 × 10^−3^", "1 × 10^5^"]


@given(st.floats(-1e12, 1e12).filter(lambda value: abs(value) > 1e-9))
def test_scientific_numbers_read_back(value):
    (text,) = formatted([value], "scientific")
    mantissa, power = text.replace("−", "-").replace(",", "").rstrip("^").split(" × 10^")
    assert math.isclose(float(mantissa) * 10.0 ** int(power), value, rel_tol=1e-5)
    assert 1 <= abs(float(mantissa)) <= 10


@pytest.mark.parametrize(
    "wrong", ["{value:zz}", "x{", "{price}", "{value:.99f}", ".2q", "}", "{value!r}", "{value.real}", "plain"]
)
def test_what_is_no_format_is_refused(wrong):
    with pytest.raises(ValueError, match="format|name|brace|precision"):
        formatted([1.0], wrong)


def test_a_specification_makes_no_markup():
    assert formatted([1.5], "*^7.1f") == ["\\*\\*1.5\\*\\*"]
