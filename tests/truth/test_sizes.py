"""Areas on the paper are proportional to their numbers, from the zero that the legend names."""

import re

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly, said, svg_of
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.drawn import read

import facetine as ft
from facetine.messages.errors import OptionError


def bubbles(sizes):
    count = len(sizes)
    rows = pd.DataFrame({"x": np.arange(count, dtype=float), "y": np.zeros(count), "s": np.asarray(sizes, float)})
    return ft.figure(rows).map(x="x", y="y", size="s").points()


def areas(figure):
    """Radius of each point from left to right, the legend's radius of each label, and the zero that its title names."""
    drawn = read(quietly(svg_of, figure, "150 mm"))
    radii = [mark.looks["size"] for mark in sorted(drawn.marks, key=lambda mark: mark.at[0])]
    (legend,) = [one for one in drawn.legends if "size" in one.aesthetics]
    zero = re.search(r"areas from (−?[\d.,]+)", legend.title)
    keys = {float(label.replace(",", "").replace("−", "-")): entry["size"] for label, entry in legend.entries.items()}
    return np.array(radii), keys, float(zero[1].replace("−", "-").replace(",", "")) if zero else 0.0


@settings(max_examples=20, deadline=None)
@given(
    st.lists(st.integers(1, 1000), min_size=3, max_size=30, unique=True),
    st.sampled_from([1.0, 0.01, 250.0]),
    st.sampled_from([0, 0, 5000, -300]),
)
def test_every_area_is_that_of_its_number(numbers, unit, start):
    sizes = (np.array(numbers, float) + start) * unit
    radii, keys, zero = areas(bubbles(sizes))
    assert zero <= sizes.min()
    largest = (max(radii) ** 2) / (sizes.max() - zero)
    for value, radius in [*zip(sizes, radii, strict=True), *keys.items()]:
        # What the file rounds is a hundredth of a point of the radius.
        assert radius == pytest.approx(np.sqrt(largest * (value - zero)), abs=0.02)


def test_three_and_six_of_a_thousand_have_areas_one_to_two():
    radii, _, _ = areas(bubbles([3, 6, 1000]).scale("size", span=(None, 30)))
    assert (radii[1] / radii[0]) ** 2 == pytest.approx(2, rel=0.02)


def test_a_span_in_another_ratio_is_refused_with_the_one_that_would_do():
    figure = bubbles([1, 2, 8])
    with pytest.raises(OptionError, match=r"areas of 1:16, but 1 to 8 are 1:8") as caught:
        laid_out(figure.scale("size", span=(3, 12)))
    would = float(re.search(r"span=\(([\d.]+), 12\)", caught.value.detail)[1])
    radii, _, _ = areas(figure.scale("size", span=(would, 12)))
    assert (radii[2] / radii[0]) ** 2 == pytest.approx(8, rel=0.02)


def test_values_beyond_the_limits_and_at_zero_are_reported():
    figure = bubbles([1, 2, 8, 40])
    assert any("1 row of 's' beyond the limits" in one for one in said(laid_out(figure.scale("size", limits=(0, 10)))))
    assert any("1 row with 's' at the zero" in one for one in said(laid_out(bubbles([0, 2, 8]))))
    assert not any("zero" in one for one in said(laid_out(figure)))
    thin = ft.figure(x=[1.0, 2, 3], y=[1.0, 2, 3], o=[1.0, 5, 9]).map(x="x", y="y", opacity="o").points()
    assert any("1 row of 'o' beyond the limits" in one for one in said(laid_out(thin.scale("opacity", limits=(0, 6)))))


def test_counts_on_one_spot_have_areas_of_their_counts():
    rows = pd.DataFrame({"a": [1.0] * 9 + [2.0] * 4 + [3.0], "b": [1.0] * 14})
    drawn = read(svg_of(ft.figure(rows).map(x="a", y="b").points(arrange="tally"), "120 mm"))
    radii = [mark.looks["size"] for mark in sorted(drawn.marks, key=lambda mark: mark.at[0])]
    assert (np.array(radii) / radii[0]) ** 2 == pytest.approx([1, 4 / 9, 1 / 9], abs=0.01)
