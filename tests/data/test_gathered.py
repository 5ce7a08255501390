"""Rows of drivers made columns: whatever their cells are, and in whatever parts they come."""

import datetime as dt
import math
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.core.arrays import with_none, zone_of
from facetine.data.gathered import gathered
from facetine.messages.errors import DataError

CELLS = st.one_of(
    st.none(), st.integers(-(2**70), 2**70), st.floats(allow_nan=False), st.booleans(), st.text(max_size=4), st.binary(max_size=3),
    st.datetimes(dt.datetime(1, 1, 2), dt.datetime(9999, 12, 30)), st.dates(dt.date(1, 1, 2), dt.date(9999, 12, 30)),
    st.decimals(-1000, 1000, places=2),
)  # fmt: skip
SORTS = [
    st.integers(-(2**62), 2**62), st.floats(allow_nan=False), st.booleans(), st.text(max_size=4),
    st.datetimes(dt.datetime(1, 1, 2), dt.datetime(9999, 12, 30)), st.dates(dt.date(1, 1, 2), dt.date(9999, 12, 30)), CELLS,
]  # fmt: skip


def fetching(rows, size):
    left = list(rows)

    def fetch(count):
        taken, left[:] = left[: min(count, size)], left[min(count, size) :]
        return taken

    return fetch


def same(found, cell):
    if cell is None:
        return found is None or found != found or np.isnat(np.datetime64(found)) if not isinstance(found, str | bytes) else False
    if isinstance(cell, Decimal):
        return float(found) == float(cell)
    if isinstance(cell, dt.datetime):
        return np.datetime64(found) == np.datetime64(cell)
    if isinstance(cell, dt.date):
        return np.datetime64(found) == np.datetime64(cell)
    return found == cell or (isinstance(cell, float) and math.isclose(found, cell))


@given(st.sampled_from(SORTS).flatmap(lambda sort: st.lists(st.one_of(st.none(), sort), max_size=30)), st.integers(1, 7))
def test_every_cell_comes_back(cells, size):
    made = gathered(fetching([(cell, row) for row, cell in enumerate(cells)], size), ["a", "n"])
    found = with_none(made["a"]).tolist() if made["a"].dtype.kind not in "M" else list(made["a"])
    assert len(found) == len(cells)
    assert all(same(one, cell) for one, cell in zip(found, cells, strict=True)), (found, cells)
    assert list(made["n"]) == list(range(len(cells)))


def test_instants_are_those_of_utc_whatever_zone_they_are_written_in():
    east = dt.timezone(dt.timedelta(hours=9))
    rows = [(dt.datetime(2031, 5, 1, 9, tzinfo=east),), (dt.datetime(2031, 5, 1, 0, tzinfo=dt.UTC),), (None,)]
    made = gathered(fetching(rows, 2), ["at"])["at"]
    assert zone_of(made) == "UTC"
    assert made[:2].astype("datetime64[s]").tolist() == [dt.datetime(2031, 5, 1)] * 2
    assert np.isnat(made[2])


def test_two_columns_of_one_name_and_too_many_bytes_are_refused():
    with pytest.raises(DataError, match="two columns named 'a'"):
        gathered(fetching([(1, 2)], 9), ["a", "a"])
    with ft.defaults(query_memory="1 MB"), pytest.raises(DataError, match="more than 1 MB"):
        gathered(fetching([("x" * 1000,)] * 10_000, 5000), ["a"])
