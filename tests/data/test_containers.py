"""Tables that are packed, in workbooks, in Arrow files and in databases, read as they were written."""

import datetime as dt
import gzip
import sqlite3
import subprocess
import sys

import duckdb
import numpy as np
import openpyxl
import pandas as pd
import pyarrow as pa
import pytest
import zstandard

import facetine as ft
from facetine.messages.errors import DataError, FacetineFinding, OptionError

WHEELS = ft.demo_data("wheels").head(40)


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """The same table in every form."""
    made = tmp_path_factory.mktemp("forms")
    text = WHEELS.to_csv(index=False).encode()
    (made / "w.csv").write_bytes(text)
    (made / "w.csv.gz").write_bytes(gzip.compress(text))
    (made / "w.csv.zst").write_bytes(zstandard.compress(text))
    WHEELS.to_feather(made / "w.feather")
    WHEELS.to_parquet(made / "w.parquet")
    table = pa.Table.from_pandas(WHEELS)
    with pa.OSFile(str(made / "w.arrow"), "wb") as stream, pa.ipc.new_stream(stream, table.schema) as writer:
        writer.write_table(table)
    WHEELS.to_excel(made / "w.xlsx", index=False)
    for name in ("w.db", "two.db"):
        connection = sqlite3.connect(made / name)
        WHEELS.to_sql("wheels", connection, index=False)
        if name == "two.db":
            WHEELS.head(3).to_sql("few", connection, index=False)
        connection.close()
    for name in ("w.duckdb", "duck.db"):
        with duckdb.connect(str(made / name)) as connection:
            connection.register("given", WHEELS)
            connection.execute("CREATE TABLE wheels AS SELECT * FROM given")
    (made / "runs").mkdir()
    for number in range(3):
        WHEELS.iloc[number * 10 : number * 10 + 10].to_csv(made / f"runs/r{number}.csv", index=False)
    return made


FORMS = [
    "w.csv.gz", "w.csv.zst", "w.feather", "w.arrow", "w.parquet", "w.xlsx", "w.xlsx#Sheet1", "w.db", "two.db#wheels", "w.duckdb",
    "w.duckdb#wheels", "duck.db", "duck.db#wheels",
]  # fmt: skip


@pytest.mark.parametrize("form", FORMS)
def test_every_form_holds_the_same_table(folder, form):
    found, plain = ft.read(str(folder / form)), ft.read(folder / "w.csv")
    if ".db" in form and "duck" not in form:
        plain[["brushed", "wrapped"]] = plain[["brushed", "wrapped"]].astype("int64")
    pd.testing.assert_frame_equal(found, plain, check_dtype=False)


@pytest.mark.parametrize("form", [form for form in FORMS if "#" not in form and "two" not in form])
def test_every_form_comes_through_a_pipe_too(folder, form):
    command = [sys.executable, "-m", "facetine.cli.main", "inspect", "-"]
    done = subprocess.run(command, input=(folder / form).read_bytes(), capture_output=True, timeout=120)
    assert done.returncode == 0, done.stderr
    assert "40 rows, 13 columns" in done.stdout.decode()


def test_rows_of_several_files_know_theirs(folder):
    pattern = sorted((folder / "runs").glob("*.csv"))
    assert ft.read(pattern)["wheel"].tolist() == WHEELS["wheel"].tolist()[:30]
    assert ft.read(pattern, names="run")["run"].tolist() == np.repeat(["r0", "r1", "r2"], 10).tolist()
    counted = ft.read(pattern, names="run", sql="SELECT run, count(*) AS n FROM r0 GROUP BY run ORDER BY run")
    assert counted.to_dict("list") == {"run": ["r0", "r1", "r2"], "n": [10, 10, 10]}


def test_a_sheet_is_read_as_it_stands(tmp_path):
    book = openpyxl.Workbook()
    first = book.active
    first.title = "My wheels"
    rows = [
        ["Wheels of 2031"],
        [],
        ["wheel", "mass", "turned", "day", "code", "mixed", None, "mass"],
        ["W1", 4, True, dt.date(2031, 5, 1), "007", 1, None, "3.5"],
        ["W2", None, False, dt.datetime(2031, 5, 2, 6), "010", "two", None, "4.25"],
        ["W3", "#N/A", None, None, "011", None, None, None],
    ]
    for row in rows:
        first.append(row)
    book.create_sheet("Second").append(["a", "b"])
    book["Second"].append([1, 2])
    book.save(tmp_path / "book.xlsx")
    with pytest.warns(FacetineFinding) as noted:
        table = ft.read(tmp_path / "book.xlsx")
    told = " ".join(str(one.message) for one in noted)
    assert list(table) == ["wheel", "mass", "turned", "day", "code", "mixed", "mass_1"]
    assert table["mass"].tolist()[0] == 4
    assert table["mass"].isna().tolist() == [False, True, True]
    assert table["turned"].tolist()[:2] == [True, False]
    assert table["day"].tolist()[:2] == [pd.Timestamp("2031-05-01"), pd.Timestamp("2031-05-02 06:00")]
    assert table["code"].tolist() == ["007", "010", "011"]
    assert table["mixed"].tolist()[:2] == ["1", "two"]
    assert table["mass_1"].tolist()[:2] == [3.5, 4.25]
    for said in ("the first of 2 sheets", "1 row above", "several kinds", "numbers written as text", "several columns named"):
        assert said in told, said
    part = ft.read(f"{tmp_path / 'book.xlsx'}#My wheels!A3:B5")
    assert part.to_dict("list")["wheel"] == ["W1", "W2"]
    assert ft.read(f"{tmp_path / 'book.xlsx'}#Second").to_dict("list") == {"a": [1], "b": [2]}


def test_a_file_whose_name_holds_the_sign_is_that_file(tmp_path):
    (tmp_path / "a#b.csv").write_text("x,y\n1,2\n")
    assert ft.read(tmp_path / "a#b.csv").to_dict("list") == {"x": [1], "y": [2]}


@pytest.mark.parametrize(
    ("source", "options", "said"),
    [
        ("w.xlsx#Shet1", {}, "Did you mean 'Sheet1'"),
        ("w.xlsx#Sheet1!B9:A1", {}, "ends before it begins"),
        ("w.xlsx#Sheet1!B", {}, "no range"),
        ("w.xlsx#X90:Z99", {}, "holds no table"),
        ("w.xlsx", {"delimiter": ","}, "has no effect on w.xlsx"),
        ("two.db", {}, "holds 2 tables: few, wheels"),
        ("two.db#wheel", {}, "Did you mean 'wheels'"),
        ("w.duckdb", {"sql": "SELECT * FROM read_csv('w.csv')"}, "disabled"),
        ("w.duckdb", {"sql": "SELECT * FROM wheel"}, "query of w.duckdb fails"),
        ("none.xlsx", {}, "Did you mean 'broken.xlsx'"),
        ("broken.xlsx", {}, "no workbook"),
        ("broken.feather", {}, "no Arrow file"),
        ("broken.csv.gz", {}, "can't be unpacked"),
        ("broken.csv.zst", {}, "can't be unpacked"),
        ("broken.duckdb", {}, "fails"),
        ("broken.db", {}, "no database"),
        ("w.foo.gz", {}, "no reader"),
        ("runs/*.csv", {}, "no file"),
        ("runs/r1.csv", {"names": "wheel"}, "a column already"),
        ("runs/r1.csv", {"names": 3}, "what the column of the files' names is called"),
    ],
)
def test_what_holds_no_table_is_said(folder, source, options, said):
    for suffix in ("xlsx", "feather", "csv.gz", "csv.zst", "duckdb", "db"):
        (folder / f"broken.{suffix}").write_bytes(b"no such thing " * 30)
    with pytest.raises((DataError, OptionError), match=said.replace("(", r"\(")):
        ft.read(str(folder / source), **options)


def test_a_huge_text_that_must_be_read_whole_is_refused(tmp_path):
    with (tmp_path / "sparse.csv").open("wb") as stream:
        stream.write(b"a,b\n1,2\n")
        stream.truncate(3 << 30)
    with pytest.raises(DataError, match="too large for how it is written"):
        ft.read(tmp_path / "sparse.csv")
