"""Bars of places that are nearly one: rounding makes no bars of its own, and no bar vanishes or hides another."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft
from facetine.core.arrange.steps import cells_of, merged_places, typical_step
from facetine.messages.errors import OptionError

TENTHS = st.lists(st.integers(1, 60), min_size=2, max_size=12, unique=True)


@given(TENTHS, st.sampled_from([1.0, 1e-9, 1e6]), st.sampled_from([0.0, 1000.0]))
def test_places_that_differ_by_rounding_are_one(numbers, unit, start):
    plain = np.array(numbers) / 10 * unit + start * unit
    noisy = np.array(numbers) * 0.1 * unit + start * unit
    both = merged_places(*[np.concatenate([plain, noisy])] * 2)
    assert len(np.unique(both)) == len(numbers)
    np.testing.assert_allclose(both, np.concatenate([plain, noisy]), rtol=1e-12)


@given(st.lists(st.floats(0, 100), min_size=1, max_size=30), st.floats(0.01, 10))
def test_cells_hold_their_places_and_never_overlap(values, width):
    x = np.unique(np.array(values))
    low, high = cells_of(x, width)
    assert ((low <= x) & (x <= high)).all()
    assert (high[:-1] <= low[1:] + 1e-12).all()
    assert (high - low <= width * (1 + 1e-9)).all()


@given(st.lists(st.integers(0, 1000), min_size=2, max_size=30, unique=True))
def test_the_typical_step_is_the_lower_middle_one(values):
    gaps = sorted(np.diff(sorted(values)).tolist())
    assert typical_step(np.array(values, float)) == gaps[(len(gaps) - 1) // 2]


@pytest.mark.parametrize("verb", ["bars", "areas", "bands", "lines", "points"])
def test_rows_at_places_that_differ_by_rounding_are_at_one(verb):
    rows = pd.DataFrame({"x": [0.1, 0.2, 0.1 * 3, 0.3, 0.4], "y": [1.0, 2, 3, 4, 5], "z": [2.0, 3, 4, 5, 6]})
    mapped = {"y_low": "y", "y_high": "z"} if verb == "bands" else {"y": "y"}
    base = ft.figure(rows).map(x="x", **mapped)
    numbers = quietly(getattr(base, verb)(aggregate="sum").numbers)
    assert len(numbers) == 4
    if verb not in ("lines", "points"):
        with pytest.raises(OptionError, match="5 rows share 4"):
            laid_out(getattr(base, verb)())


@settings(max_examples=15, deadline=None)
@given(st.integers(1, 86_000), st.integers(0, 8))
def test_two_stamps_close_together_among_days_have_bars_that_are_seen(seconds, day):
    stamps = [pd.Timestamp("2026-03-01") + pd.Timedelta(days=number) for number in range(10)]
    stamps.append(stamps[day] + pd.Timedelta(seconds=seconds))
    rows = pd.DataFrame({"t": stamps, "y": np.arange(11.0) + 1})
    sheet = Sheet(ft.figure(rows).map(x="t", y="y").bars())
    rects = sheet.rects(1)
    rects = rects[np.argsort(rects[:, 0])]
    assert len(rects) == 11
    wide = np.median(rects[:, 2])
    assert rects[:, 2].min() > 0.2 * wide
    assert (rects[:-1, 0] + rects[:-1, 2] <= rects[1:, 0] + 0.03).all()
    clipped = rects[:, 2].min() < 0.97 * wide
    assert bool(sheet.said("places-near")) or not clipped


@pytest.mark.parametrize("verb", ["bars", "boxes"])
def test_nearer_places_are_said(verb):
    rows = pd.DataFrame({"x": np.repeat([1.0, 2, 3, 3.2, 4], 5), "y": np.arange(25.0)})
    options = {"aggregate": "mean"} if verb == "bars" else {}
    (said,) = Sheet(getattr(ft.figure(rows).map(x="x", y="y"), verb)(**options)).said("places-near")
    assert "2 places nearer to each other" in said
