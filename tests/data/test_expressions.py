"""Expressions: SQL, narwhals and callables say the same."""

import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor

import narwhals as nw
import numpy as np
import polars as pl
import pyarrow as pa
import pytest
from conftest import laid_out

import facetine as ft
from facetine.data.demo import demo_columns, write_demo_data
from facetine.messages.errors import DataError, FacetineError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
MAKES = {
    "pandas": WHEELS,
    "polars": pl.from_pandas(WHEELS),
    "pyarrow": pa.Table.from_pandas(WHEELS),
    "dict": demo_columns("wheels"),
}
OLD = int((WHEELS.age_days > 90).sum())


def rows(figure):
    return figure._sentence.table.height


@pytest.mark.parametrize("make", MAKES)
def test_sql_keeps_the_rows_for_which_it_holds(make):
    fig = ft.figure(MAKES[make])
    assert rows(fig.keep("age_days > 90")) == OLD
    assert rows(fig.keep("rind = 'washed' AND brushed")) == ((WHEELS.rind == "washed") & WHEELS.brushed).sum()
    assert rows(fig.keep("grade IS NULL")) == WHEELS.grade.isna().sum()
    # A missing number is neither above nor below.
    assert rows(fig.keep("moisture_pct > 0")) == WHEELS.moisture_pct.notna().sum()


@pytest.mark.parametrize("make", ["pandas", "polars", "pyarrow"])
def test_narwhals_and_callables_say_the_same(make):
    fig = ft.figure(MAKES[make])
    assert rows(fig.keep(nw.col("age_days") > 90)) == OLD
    assert rows(fig.keep(lambda frame: np.asarray(frame["age_days"]) > 90)) == OLD


@pytest.mark.parametrize("make", MAKES)
def test_derived_columns_can_be_mapped_and_used_again(make):
    fig = ft.figure(MAKES[make]).derive(grams="mass_kg * 1000").derive(heavy="grams > 4000")
    assert np.allclose(fig._sentence.table.column("grams").values, WHEELS.mass_kg * 1000)
    assert fig._sentence.table.column("heavy").kind == "yes_no"
    assert rows(fig.keep("heavy")) == (WHEELS.mass_kg > 4).sum()
    assert len(laid_out(fig.keep("heavy").map(x="grams", y="ph", color="heavy").points()).tables[0]) == (WHEELS.mass_kg > 4).sum()


def test_a_callable_after_keep_gets_the_kept_frame():
    fig = ft.figure(WHEELS).keep("milk = 'ewe'").derive(share=lambda frame: frame["mass_kg"] / frame["mass_kg"].sum())
    assert fig._sentence.table.column("share").values.sum() == pytest.approx(1)


def test_times_are_times_in_sql():
    climate = ft.figure(ft.demo_data("climate"))
    june = climate.keep("month(time) = 6 AND cellar = 'Loft'")
    assert rows(june) == 30 * 24
    assert june.derive(day="date_trunc('day', time)")._sentence.table.column("day").kind == "time"


def test_where_filters_one_layer_only():
    fig = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points().points(where="rind = 'waxed'", color="red")
    made = laid_out(fig)
    assert len(made.tables[1]) == ((WHEELS.rind == "waxed") & WHEELS.moisture_pct.notna()).sum()
    assert len(made.tables[0]) > len(made.tables[1])


def test_what_was_said_stands_in_the_repr_and_the_spec():
    fig = ft.figure(WHEELS).keep("age_days > 90").derive(g="mass_kg * 2").map(x="g", y="ph").points(where="ph > 5").swap_axes()
    assert ".keep('age_days > 90')" in repr(fig)
    assert repr(ft.from_dict(fig.to_dict(), WHEELS)) == repr(fig)
    with pytest.raises(OptionError, match="callable"):
        ft.figure(WHEELS).keep(lambda frame: frame["ph"] > 5).to_dict()
    for said in (fig.keep(nw.col("ph") > 5), fig.points(where=nw.col("ph") > 5), fig.facet(nw.col("ph") > 5)):
        assert "col(ph)" in repr(said)
        with pytest.raises(OptionError, match="the expression col"):
            said.to_dict()


@pytest.mark.parametrize(
    ("expression", "said"),
    [
        ("age_day > 90", "Did you mean 'age_days'"),
        ("age_days >", "can't be evaluated"),
        ("mass_kg", "yes or no is needed"),
        ("count(*) > 3", "can't be evaluated"),
        ("age_days > 90; DROP TABLE x", "no expression"),
        ("(SELECT count(*) FROM read_csv('/etc/passwd')) > 0", "no expression"),
        ("", "no expression"),
        (3, "no expression"),
        (lambda frame: frame["none"], "the callable failed"),
        (lambda frame: [True], "1 values for 240 rows"),
        (nw.col("none") > 3, "can't be evaluated"),
    ],
)  # fmt: skip
def test_a_wrong_expression_is_told_at_the_verb(expression, said):
    with pytest.raises(FacetineError, match="figure.keep") as caught:
        ft.figure(WHEELS).keep(expression)
    assert said in str(caught.value)


def test_expressions_need_data():
    with pytest.raises(DataError, match="no data of its own"):
        ft.figure(None).keep("a > 1")
    assert rows(ft.figure({"a": [], "b": []}).keep("a > 1")) == 0


@pytest.mark.parametrize("make", ["pandas", "polars", "dict"])
def test_wide_columns_become_long(make):
    sales = ft.demo_data("sales")
    given = {"pandas": sales, "polars": pl.from_pandas(sales), "dict": demo_columns("sales")}[make]
    table = ft.figure(ft.unpivot(given, ["retail", "wholesale"], into="channel", values="sold"))._sentence.table
    assert table.height == 72
    assert table.column("channel").levels == ("retail", "wholesale")
    assert table.column("sold").values.sum() == sales.retail.sum() + sales.wholesale.sum()


def test_unpivot_refuses_what_is_not_there_or_in_the_way():
    sales = ft.demo_data("sales")
    with pytest.raises(MappingError, match="Did you mean 'retail'"):
        ft.unpivot(sales, ["retial"])
    with pytest.raises(OptionError, match="another column"):
        ft.unpivot(sales, ["retail"], into="month")
    with pytest.raises(OptionError, match="no column"):
        ft.unpivot(sales, [])


def test_read_takes_files_and_databases_and_closes_them(tmp_path):
    write_demo_data(tmp_path)
    assert len(ft.read(tmp_path / "cellar.db", sql="SELECT * FROM wheels WHERE age_days > 90")) == OLD
    assert len(ft.read(f"sqlite:///{tmp_path / 'cellar.db'}", sql="SELECT * FROM wheels")) == 240
    assert len(ft.read(tmp_path / "wheels.csv", sql="SELECT * FROM wheels WHERE age_days > 90")) == OLD
    assert ft.read(tmp_path / "sales.parquet").retail.sum() == ft.demo_data("sales").retail.sum()
    (tmp_path / "cellar.db").unlink()
    for source, sql, said in (
        (tmp_path / "cellar.db", "SELECT 1", "no file"),
        ("oddbase://host/x", "SELECT 1", "can't be opened"),
    ):
        with pytest.raises(DataError, match=said):
            ft.read(source, sql=sql)


def test_a_database_needs_a_query_that_works(tmp_path):
    write_demo_data(tmp_path)
    with pytest.raises(DataError, match="holds 6 tables") as caught:
        ft.read(tmp_path / "cellar.db")
    assert "wheels" in str(caught.value)
    with pytest.raises(DataError, match="the query fails"):
        ft.read(tmp_path / "cellar.db", sql="SELECT * FROM nothing")


def test_expressions_of_several_threads_do_not_meet():
    def doubled(number):
        figure = ft.figure({"v": np.arange(200.0) + number, "w": np.ones(200)})
        return [figure.derive(z=f"v * 2 + {number}")._sentence.table.column("z").values.tolist() for _ in range(4)]

    with ThreadPoolExecutor(6) as threads:
        for number, found in enumerate(threads.map(doubled, range(24))):
            assert found == [((np.arange(200.0) + number) * 2 + number).tolist()] * 4


@pytest.mark.skipif(not hasattr(os, "fork"), reason="the system makes no copies of processes")
def test_a_copy_of_the_process_asks_a_database_of_its_own():
    script = (
        "import os, sys, facetine as ft\n"
        "figure = ft.figure({'v': [1.0, 2.0, 3.0]})\n"
        "assert figure.keep('v > 1')._sentence.table.height == 2\n"
        "child = os.fork()\n"
        "assert figure.keep('v > 2')._sentence.table.height == 1\n"
        "sys.exit(0 if child == 0 else os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]))\n"
    )
    subprocess.run([sys.executable, "-W", "ignore", "-c", script], check=True, timeout=30)


def test_after_an_error_or_a_limit_the_next_expression_is_answered():
    figure, long = ft.figure({"v": np.arange(2000.0)}), ft.figure({"v": np.arange(400_000.0)})
    for _ in range(2):
        with pytest.raises(MappingError):
            figure.keep("v > (1")
        with pytest.raises(MappingError):
            figure.derive(w="CAST('x' AS INTEGER) + v")
        with ft.defaults(query_seconds=0.2), pytest.raises(MappingError, match="longer than"):
            long.derive(w="levenshtein(repeat('ab', 60), repeat('ba', 60 + CAST(v % 60 AS INTEGER)))")
        with ft.defaults(query_memory="50 MB"):
            assert figure.keep("v < 10")._sentence.table.height == 10
        assert figure.keep("v >= 10")._sentence.table.height == 1990


def test_parameters_of_a_lambda_are_no_columns():
    figure = ft.figure({"v": np.arange(5.0), "x": np.ones(5)})

    def made(expression):
        return figure.derive(z=expression)._sentence.table.column("z").values.tolist()

    assert made("list_sum(list_transform([1, 2, 3], lambda n: n * v))") == (6 * np.arange(5.0)).tolist()
    assert made("list_sum(list_transform([v, 2], lambda v: v + 1)) + v") == (2 * np.arange(5.0) + 4).tolist()
    assert made("list_sum(list_transform([[1, 2]], lambda a: list_sum(list_transform(a, lambda b: b + x))))") == [5.0] * 5
    with pytest.raises(MappingError, match=r"no column 'vv'\. Did you mean 'v'"):
        made("list_sum(list_transform([1], lambda n: n * vv))")
    with pytest.raises(MappingError, match="no column 'n'"):
        made("list_sum(list_transform([1], lambda n: n * v)) + n")
