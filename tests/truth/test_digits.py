"""Every number that a figure prints by itself is its value to half a percent, read back from the text."""

import re

import numpy as np
import pandas as pd
import pytest
from conftest import SVG, laid_out, quietly, svg_of
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import texts_of

import facetine as ft
from facetine.core.scales.formats import rounded, rounded_alike

RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
NUMBERS = st.one_of(
    st.floats(-1e12, 1e12, allow_subnormal=False).filter(lambda value: value == 0 or abs(value) > 1e-12),
    st.integers(-(10**8), 10**8).map(float),
    st.floats(-4, 4).map(lambda value: 10.0**value),
)


def value_of(text):
    """A number as a reader takes it, from markup or plain text."""
    text = text.replace("−", "-").replace(",", "")
    found = re.fullmatch(r"(-?[\d.]+)(?: × 10(?:\^(-?\d+)\^|([⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+)))?", text)
    assert found, text
    power = found[2] or (found[3] or "0").translate(RAISED)
    return float(found[1]) * 10.0 ** int(power)


def digits_of(text):
    return re.sub(r"\D", "", re.sub(r" × .*", "", text)).lstrip("0")


@given(st.lists(NUMBERS, min_size=1, max_size=12))
def test_default_formats_keep_every_number(values):
    for value, text in zip(values, rounded_alike(values), strict=True):
        assert value_of(text) == pytest.approx(value, rel=0.005, abs=1e-300)
        # Three digits, or all that it has.
        assert len(digits_of(text)) >= 3 or value_of(text) == pytest.approx(value, rel=1e-9, abs=1e-300)


@given(NUMBERS)
def test_a_number_by_itself_is_its_value(value):
    assert value_of(rounded(value)) == pytest.approx(value, rel=0.005, abs=1e-300)


@pytest.mark.parametrize(
    ("heights", "said"),
    [
        ([0.04, 2.5, 15000.0], ["0.04", "2.5", "15,000"]),
        ([7.25, 12.5], ["7.25", "12.50"]),
        ([1200.0, 3.0], ["1200", "3"]),
        ([0.000012, 3.5], ["1.2 × 10−5", "3.5"]),
    ],
)
def test_values_on_bars_keep_their_digits(heights, said):
    rows = pd.DataFrame({"k": [f"r{row}" for row in range(len(heights))], "y": heights})
    found = texts_of(ft.figure(rows).map(x="k", y="y").bars(value_labels="{height}"))
    assert set(said) <= set(found)


def test_percents_have_three_digits():
    rows = pd.DataFrame({"k": list("ab"), "y": [4.0, 53.0]})
    found = texts_of(ft.figure(rows).map(x="k", y="y").bars(value_labels="{share:percent}"))
    assert {"7.02 %", "92.98 %"} <= set(found)


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 2**31), st.floats(-6, 9), st.integers(1900, 2090), st.sampled_from(["boxes", "points", "trend"]))
def test_numbers_in_descriptions_are_those_of_the_data(seed, power, year, verb):
    rng = np.random.default_rng(seed)
    rows = pd.DataFrame({
        "year": np.repeat(np.arange(year, year + 4), 6), "y": rng.lognormal(0, 1, 24) * 10.0**power, "k": list("abcd") * 6,
    })  # fmt: skip
    figure = getattr(ft.figure(rows).map(x="k" if verb == "boxes" else "year", y="y"), verb)()
    text = quietly(figure.describe, "long")
    numbers = r"-?−?[\d.,]*\d(?: × 10[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+)?"
    low, high, middle = re.search(rf"Y.* runs from ({numbers}) to ({numbers}), with a median of ({numbers})\.", text).groups()
    for found, value in ((low, rows["y"].min()), (high, rows["y"].max()), (middle, rows["y"].median())):
        assert value_of(found) == pytest.approx(value, rel=0.005)
    if verb != "boxes":
        assert f"runs from {year} to {year + 3}" in text
    assert "^" not in text
    desc = next(svg_of(figure).iter(f"{SVG}desc")).text
    assert laid_out(figure).scene.description == desc
