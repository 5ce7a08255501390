"""Open connections, values that are never pasted into a query, and tables from the clipboard."""

import contextlib
import sqlite3

import duckdb
import pandas as pd
import pytest
import sqlalchemy

import facetine as ft
from facetine.messages.errors import DataError, MappingError, OptionError

FRAME = pd.DataFrame(ft.demo_data("wheels"))
HOSTILE = ["Loft", "'; DROP TABLE wheels; --", ":cellar", "$cellar", "Lo'ft", ""]


@pytest.fixture
def database(tmp_path):
    frame = pd.concat([FRAME, FRAME.head(len(HOSTILE)).assign(cellar=HOSTILE)])
    with contextlib.closing(sqlite3.connect(tmp_path / "cellar.db")) as connection:
        frame[["wheel", "cellar", "mass_kg"]].to_sql("wheels", connection, index=False)
    frame[["wheel", "cellar", "mass_kg"]].to_csv(tmp_path / "wheels.csv", index=False)
    return tmp_path / "cellar.db", frame


@pytest.mark.parametrize("cellar", HOSTILE)
@pytest.mark.parametrize("place", [":cellar", "$cellar"])
def test_values_are_values_whatever_they_hold(database, cellar, place):
    path, frame = database
    sql = f"SELECT *, ':cellar' AS said FROM wheels WHERE cellar = {place}"
    count = int((frame["cellar"] == cellar).sum())
    assert len(ft.read(path, sql=sql, parameters={"cellar": cellar})) == count
    with contextlib.closing(sqlite3.connect(path)) as connection:
        found = ft.read(connection, sql=sql, parameters={"cellar": cellar})
        assert len(found) == count
        assert set(found["said"]) <= {":cellar"}
        assert connection.execute("SELECT count(*) FROM wheels").fetchone() == (len(frame),), "it stays open"
    if cellar:
        assert len(ft.read(path.parent / "wheels.csv", sql=sql, parameters={"cellar": cellar})) == count


def test_open_connections_of_three_makers_are_left_open(database):
    path, frame = database
    engine = sqlalchemy.create_engine(f"sqlite:///{path}")
    sql = "SELECT sum(mass_kg) AS total FROM wheels WHERE mass_kg > :least"
    total = frame.query("mass_kg > 5")["mass_kg"].sum()
    with engine.connect() as opened, duckdb.connect() as duck:
        duck.execute("CREATE TABLE wheels AS SELECT * FROM read_csv(?)", [str(path.parent / "wheels.csv")])
        for connection in (engine, opened, duck):
            for _ in range(2):
                assert ft.read(connection, sql=sql, parameters={"least": 5})["total"].tolist() == pytest.approx([total])


@pytest.mark.parametrize(("options", "error", "said"), [
    ({}, DataError, "a connection is a database, so a query is needed"),
    ({"sql": "SELECT mould FROM wheels"}, DataError, "the query fails: no such column"),
    ({"sql": "SELECT * FROM wheels", "parameters": {"cellar": "Loft"}}, OptionError, "no place for the parameter 'cellar'"),
    ({"sql": "SELECT * FROM wheels", "parameters": ["Loft"]}, OptionError, "parameters is a dict"),
    ({"sql": "SELECT * FROM wheels", "quote": "'"}, OptionError, "quote has no effect on a database"),
])  # fmt: skip
def test_what_can_not_be_asked_of_a_connection_is_refused(database, options, error, said):
    with contextlib.closing(sqlite3.connect(database[0])) as connection, pytest.raises(error, match=said):
        ft.read(connection, **options)


def test_values_without_a_query_are_refused(database):
    with pytest.raises(OptionError, match="parameters have no effect without a query"):
        ft.read(database[0].parent / "wheels.csv", parameters={"cellar": "Loft"})


WRITES = [
    "INSERT INTO rows VALUES (9) RETURNING a",
    "UPDATE rows SET a = 9",
    "DELETE FROM rows",
    "DROP TABLE rows",
    "CREATE TABLE more (b)",
]


def rows_of(path):
    with contextlib.closing(sqlite3.connect(path)) as opened:
        return opened.execute("SELECT a FROM rows ORDER BY a").fetchall()


@pytest.mark.parametrize("query", WRITES)
def test_a_query_changes_a_database_only_where_that_is_said(tmp_path, query):
    path = tmp_path / "c.db"
    with contextlib.closing(sqlite3.connect(path)) as made:
        made.executescript("CREATE TABLE rows (a INTEGER); INSERT INTO rows VALUES (3), (1), (2)")
    with pytest.raises(DataError, match="a query asks"):
        ft.read(path, sql=query)
    assert rows_of(path) == [(1,), (2,), (3,)]
    if "DROP" not in query:
        ft.read(path, sql=query, read_only=False)
        with contextlib.closing(sqlite3.connect(path)) as made:
            kept = made.execute("SELECT count(*) FROM sqlite_master").fetchone()
        assert rows_of(path) != [(1,), (2,), (3,)] or kept == (2,)


def test_rows_stand_in_the_order_of_their_columns(tmp_path):
    path = tmp_path / "rows.csv"
    pd.DataFrame({"a": [2, 1, 2, 1], "b": [1, 2, 0, 1]}).to_csv(path, index=False)
    assert ft.read(path, row_order=["a", "b"])["b"].tolist() == [1, 2, 0, 1]
    assert ft.read(path, sql="SELECT * FROM rows", row_order="b")["b"].tolist() == [0, 1, 1, 2]


@pytest.mark.parametrize(
    ("options", "error", "words"),
    [
        ({"row_order": "c"}, MappingError, "no column 'c' for row_order"),
        ({"row_order": 3}, OptionError, "row_order is a column"),
        ({"row_order": []}, OptionError, "row_order is a column"),
        ({"read_only": False}, OptionError, "has no effect on files"),
        ({"read_only": "no"}, OptionError, "True or False"),
    ],
)
def test_what_can_not_be_said_of_rows_is_answered(tmp_path, options, error, words):
    pd.DataFrame({"a": [1]}).to_csv(tmp_path / "rows.csv", index=False)
    with pytest.raises(error, match=words):
        ft.read(tmp_path / "rows.csv", **options)
