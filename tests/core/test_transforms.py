"""Transforms and the ticks that suit them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from facetine.core.scales.formats import base_powers, durations, written_shares
from facetine.core.scales.kinds.linear import Linear
from facetine.core.scales.kinds.log import Log
from facetine.core.scales.kinds.logit import Logit
from facetine.core.scales.kinds.power import Power
from facetine.core.scales.kinds.signed_log import SignedLog
from facetine.core.scales.ticks import duration_ticks, log_ticks, logit_ticks, signed_log_ticks

REAL = {"linear": Linear(), "sqrt": Power(), "power": Power(3.0), "signed_log": SignedLog(), "signed_log 5": SignedLog(5.0)}
POSITIVE = {"log": Log(), "log 2": Log(2.0)}


@pytest.mark.parametrize("name", REAL)
@given(st.lists(st.floats(-1e6, 1e6), min_size=2, max_size=20, unique=True))
def test_transforms_go_there_and_back_and_keep_the_order(name, values):
    transform, x = REAL[name], np.sort(np.array(values))
    places = transform.forward(x)
    assert (np.diff(places) >= 0).all()
    assert np.allclose(transform.inverse(places), x, rtol=1e-6, atol=1e-5)
    assert transform.admits(x).all()


@pytest.mark.parametrize("name", POSITIVE)
@given(st.lists(st.floats(1e-200, 1e200), min_size=1, max_size=20))
def test_logarithms_go_there_and_back(name, values):
    transform, x = POSITIVE[name], np.array(values)
    assert np.allclose(transform.inverse(transform.forward(x)), x, rtol=1e-9)
    assert not transform.admits(np.array([0.0, -1, np.nan, np.inf])).any()
    assert np.isnan(transform.forward(np.array([0.0, -1.0]))).all()


@given(st.lists(st.floats(1e-12, 1 - 1e-12), min_size=1, max_size=20))
def test_log_odds_go_there_and_back(values):
    x = np.array(values)
    assert np.allclose(Logit().inverse(Logit().forward(x)), x, rtol=1e-6)
    assert not Logit().admits(np.array([0.0, 1.0, -0.1, 1.1])).any()


def test_powers_of_a_base_are_the_ticks():
    assert log_ticks(1, 64, 8, 2.0).at == (1, 2, 4, 8, 16, 32, 64)
    steps = np.diff(np.log2(log_ticks(1, 2.0**40, 5, 2.0).at))
    assert np.allclose(steps, steps[0])
    assert len(steps) <= 6
    assert base_powers([2.0**30], 2.0) == ["2^30^"]


@given(st.floats(-1e6, 0), st.floats(1, 1e6), st.integers(2, 9))
def test_signed_log_ticks_lie_inside_and_hold_zero(low, high, wanted):
    at = signed_log_ticks(low, high, 1.0, wanted).at
    slack = 1e-9 * (high - low)  # an end that misses a round value by noise keeps its tick
    assert all(low - slack <= value <= high + slack for value in at)
    assert list(at) == sorted(set(at))
    assert len(at) >= 2


@given(st.floats(1e-9, 0.4), st.floats(0.6, 1 - 1e-9), st.integers(3, 9))
def test_logit_ticks_lie_inside(low, high, wanted):
    at = logit_ticks(low, high, wanted).at
    assert all(low <= value <= high for value in at)
    assert 2 <= len(at) <= 2 * wanted + 2
    texts = written_shares(at)
    assert len(set(texts)) == len(at)
    plain = [text for text in texts if "×" not in text]
    assert all(0 < float(text) < 1 for text in plain)
    read = [value for value, text in zip(at, texts, strict=True) if "×" not in text]
    assert all(abs(float(text) - value) <= 1e-5 * min(value, 1 - value) for text, value in zip(plain, read, strict=True))


@pytest.mark.parametrize(
    ("high", "labels"),
    [
        (20.0, ["0 s", "5 s", "10 s", "15 s", "20 s"]),
        (7200.0, ["0:00 h", "0:30 h", "1:00 h", "1:30 h", "2:00 h"]),
        (4 * 86400.0, ["0 d", "1 d", "2 d", "3 d", "4 d"]),
    ],
)
def test_durations_are_written_in_the_unit_that_suits(high, labels):
    ticks, length, unit = duration_ticks(0.0, high, 5)
    assert durations(ticks.at, length, unit) == labels
