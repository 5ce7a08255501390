"""Every kind of scale says one function: as arrays, as SQL, and as an expression of a data frame library."""

import duckdb
import narwhals as nw
import numpy as np
import pandas as pd
import polars as pl
import pytest

from facetine.core.scales.kinds import SCALES
from facetine.core.scales.kinds.base import Transform

VALUES = np.array([-1e6, -3.5, -1.0, -1e-3, 0.0, 1e-6, 0.25, 0.5, 0.999, 1.0, 2.0, 7.5, 1e3, 1e9])
OPTIONS = {"log": [{}, {"base": 2.0}], "power": [{}, {"exponent": 1 / 3}], "signed_log": [{}, {"threshold": 10.0}]}
MADE = [(name, options) for name in SCALES for options in OPTIONS.get(name, [{}])]


@pytest.mark.parametrize(("name", "options"), MADE)
def test_sql_and_expressions_give_the_places_that_arrays_have(name, options):
    kind = SCALES[name].of(options)
    values = VALUES[kind.admits(VALUES)]
    expected = kind.forward(values)
    frame = pd.DataFrame({"a b": values})
    quoted = kind.sql('"a b"')
    by_sql = duckdb.execute(f"SELECT {quoted} FROM frame").fetchnumpy()
    np.testing.assert_allclose(next(iter(by_sql.values())), expected, rtol=1e-12, atol=1e-12)
    for native in (frame, pl.DataFrame({"a b": values})):
        found = nw.from_native(native).select(kind.expression(nw.col("a b")).alias("place"))["place"].to_numpy()
        np.testing.assert_allclose(found, expected, rtol=1e-12, atol=1e-12)


@pytest.mark.parametrize(("name", "options"), MADE)
def test_places_increase_come_back_and_hold_their_ticks(name, options):
    kind: Transform = SCALES[name].of(options)
    values = VALUES[kind.admits(VALUES)]
    places = kind.forward(values)
    assert (np.diff(places) > 0).all()
    np.testing.assert_allclose(kind.inverse(places), values, rtol=1e-9, atol=1e-9)
    assert kind.says
    assert bool(kind.without_place()) == (not kind.admits(VALUES).all())
    assert kind.has_zero == kind.admits(np.zeros(1))[0]
    low, high = float(values[1]), float(values[-2])
    ticks = kind.ticks(low, high, 5)
    assert kind.admits(np.array(ticks.at)).all()
    assert len(kind.texts(ticks.at)) == len(ticks.at)
    assert kind.texts([]) == []
