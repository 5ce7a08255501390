"""Frames of every make come in as the same table."""

import datetime
from decimal import Decimal

import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
import pytest

import facetine as ft
from facetine.data.demo import demo_columns
from facetine.data.intake import taken_in
from facetine.messages.errors import DataError

WHEELS = ft.demo_data("wheels")
MAKES = {
    "pandas": WHEELS,
    "pandas nullable": WHEELS.convert_dtypes(),
    "polars": pl.from_pandas(WHEELS),
    "polars lazy": pl.from_pandas(WHEELS).lazy(),
    "pyarrow": pa.Table.from_pandas(WHEELS),
    "dict": demo_columns("wheels"),
    "dict of lists": {name: array.tolist() for name, array in demo_columns("wheels").items()},
}
KINDS = {
    "wheel": "category",
    "rind": "category",
    "age_days": "number",
    "mass_kg": "number",
    "moisture_pct": "number",
    "brushed": "yes_no",
}


@pytest.mark.parametrize("make", MAKES)
@pytest.mark.parametrize("name", KINDS)
def test_every_make_gives_the_same_column(make, name):
    column = taken_in(MAKES[make]).column(name)
    expected = taken_in(demo_columns("wheels")).column(name)
    assert column.kind == KINDS[name]
    assert column.levels == expected.levels
    assert np.array_equal(column.values, expected.values, equal_nan=not column.discrete)


@pytest.mark.parametrize("make", MAKES)
def test_missing_grades_are_missing_in_every_make(make):
    column = taken_in(MAKES[make]).column("grade")
    assert column.missing.sum() == 26
    assert set(column.levels) == {"plain", "sound", "fine", "grand"}


@pytest.mark.parametrize("make", ["pandas", "pandas nullable", "pyarrow"])
def test_the_order_of_categoricals_is_kept(make):
    column = taken_in(MAKES[make]).column("grade")
    assert column.levels == ("plain", "sound", "fine", "grand")
    assert column.own_order


def test_polars_categoricals_have_no_order_of_their_own():
    column = taken_in(pl.DataFrame({"c": pl.Series(["z", "a", "m"], dtype=pl.Categorical)})).column("c")
    assert column.levels == ("a", "m", "z")
    assert not column.own_order


def test_ordered_categoricals_are_ordered():
    assert taken_in(WHEELS).column("grade").kind == "ordered"


@pytest.mark.parametrize("make", [pd.DataFrame, pl.DataFrame, lambda d: pa.table(pd.DataFrame(d))])
def test_times_with_and_without_a_zone(make):
    naive = [datetime.datetime(2030, 6, 1, 12), datetime.datetime(2030, 6, 2, 12)]
    frame = pd.DataFrame({"t": naive})
    frame["z"] = frame["t"].dt.tz_localize("Europe/Berlin")
    given = frame if make is pd.DataFrame else pl.from_pandas(frame) if make is pl.DataFrame else pa.table(frame)
    table = taken_in(given)
    noon = np.datetime64("2030-06-01T12", "us").astype(float)
    assert table.column("t").values[0] == noon
    assert table.column("t").zone is None
    assert table.column("z").values[0] == noon - 2 * 3600e6
    assert table.column("z").zone == "Europe/Berlin"


def test_python_objects_take_the_kind_of_what_they_hold():
    table = taken_in(
        {
            "price": [Decimal("1.50"), None, Decimal("2.25")],
            "day": [datetime.date(2030, 1, 1), None, datetime.date(2030, 1, 3)],
            "fits": [True, None, False],
            "name": ["b", None, "a"],
            "nothing": [None, None, None],
            "mixed": ["a", 1, None],
        }
    )
    price = table.column("price")
    assert price.kind == "number"
    assert np.array_equal(price.values, [1.5, np.nan, 2.25], equal_nan=True)
    assert table.column("day").kind == "time"
    assert table.column("day").missing.tolist() == [False, True, False]
    assert table.column("fits").kind == "yes_no"
    assert table.column("fits").values.tolist() == [1, -1, 0]
    assert table.column("name").levels == ("a", "b")
    assert table.column("nothing").missing.all()
    assert table.column("mixed").kind == "category"


@pytest.mark.parametrize("make", [pl.DataFrame, pa.table, lambda d: pd.DataFrame(d).convert_dtypes()])
def test_whole_numbers_with_gaps_stay_numbers(make):
    column = taken_in(make({"n": [1, None, 3]})).column("n")
    assert column.kind == "number"
    assert np.array_equal(column.values, [1, np.nan, 3], equal_nan=True)


def test_polars_decimals_and_enums():
    frame = pl.DataFrame(
        {
            "d": pl.Series([Decimal("1.5"), None], dtype=pl.Decimal(10, 2)),
            "e": pl.Series(["high", "low"], dtype=pl.Enum(["low", "high"])),
        }
    )
    table = taken_in(frame)
    assert np.array_equal(table.column("d").values, [1.5, np.nan], equal_nan=True)
    assert table.column("e").levels == ("low", "high")
    assert table.column("e").own_order


def test_structured_arrays_are_tables():
    array = np.array([(1.0, "a"), (2.0, "b")], dtype=[("x", float), ("name", "U4")])
    table = taken_in(array)
    assert table.names == ("x", "name")
    assert table.column("name").levels == ("a", "b")


def test_levels_come_in_natural_order():
    column = taken_in({"site": ["site 10", "site 2", "site 1"]}).column("site")
    assert column.levels == ("site 1", "site 2", "site 10")


def test_numbers_written_as_text_get_a_hint_that_says_what_to_write():
    hint = taken_in({"n": ["1", "2.5", "−3"]}).column("n").hint
    assert '.kinds(n="number")' in str(hint)


def test_few_whole_numbers_get_a_hint():
    hint = taken_in({"year": [2029, 2030, 2031] * 20}).column("year").hint
    assert '.kinds(year="category")' in str(hint)
    assert taken_in({"x": list(range(60))}).column("x").hint is None


@pytest.mark.parametrize("nothing", [None, 7, "wheels.csv", [1, 2], object()])
def test_what_is_no_table_is_refused_in_one_line(nothing):
    with pytest.raises(DataError, match="no table"):
        taken_in(nothing)


def test_two_columns_of_one_name_are_refused():
    frame = pd.DataFrame([[1, 2]], columns=["a", "a"])
    with pytest.raises(DataError, match="two columns are named 'a'"):
        taken_in(frame)


def test_columns_of_different_length_are_refused():
    with pytest.raises(DataError, match="differ in length"):
        taken_in({"a": [1, 2], "b": [1]})


def test_an_array_without_names_is_answered_with_the_way_to_name_it():
    with pytest.raises(DataError, match=r"columns=\["):
        taken_in(np.ones((3, 2)))


@pytest.mark.parametrize("values", [[[1], [2]], [{}, {}], "abc", np.ones((2, 2)), np.array([1j, 2])])
def test_columns_that_hold_no_values_are_refused(values):
    with pytest.raises(DataError, match="column 'bad'"):
        taken_in({"bad": values}).column("bad")
