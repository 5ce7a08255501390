"""Open connections, values that are never pasted into a query, and tables from the clipboard."""

import contextlib
import sqlite3

import duckdb
import pandas as pd
import pytest
import sqlalchemy

import facetine as ft
from facetine.errors import DataError, OptionError

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
    assert len(ft.read(path, sql=sql, values={"cellar": cellar})) == count
    with contextlib.closing(sqlite3.connect(path)) as connection:
        found = ft.read(connection, sql=sql, values={"cellar": cellar})
        assert len(found) == count
        assert set(found["said"]) <= {":cellar"}
        assert connection.execute("SELECT count(*) FROM wheels").fetchone() == (len(frame),), "it stays open"
    if cellar:
        assert len(ft.read(path.parent / "wheels.csv", sql=sql, values={"cellar": cellar})) == count


def test_open_connections_of_three_makers_are_left_open(database):
    path, frame = database
    engine = sqlalchemy.create_engine(f"sqlite:///{path}")
    sql = "SELECT sum(mass_kg) AS total FROM wheels WHERE mass_kg > :least"
    total = frame.query("mass_kg > 5")["mass_kg"].sum()
    with engine.connect() as opened, duckdb.connect() as duck:
        duck.execute("CREATE TABLE wheels AS SELECT * FROM read_csv(?)", [str(path.parent / "wheels.csv")])
        for connection in (engine, opened, duck):
            for _ in range(2):
                assert ft.read(connection, sql=sql, values={"least": 5})["total"].tolist() == pytest.approx([total])


@pytest.mark.parametrize(("options", "error", "said"), [
    ({}, DataError, "a connection is a database, so a query is needed"),
    ({"sql": "SELECT mould FROM wheels"}, DataError, "the query fails: no such column"),
    ({"sql": "SELECT * FROM wheels", "values": {"cellar": "Loft"}}, OptionError, "no place for the value 'cellar'"),
    ({"sql": "SELECT * FROM wheels", "values": ["Loft"]}, OptionError, "values is a dict"),
    ({"sql": "SELECT * FROM wheels", "decimal": ","}, OptionError, "decimal says nothing for a database"),
])  # fmt: skip
def test_what_can_not_be_asked_of_a_connection_is_refused(database, options, error, said):
    with contextlib.closing(sqlite3.connect(database[0])) as connection, pytest.raises(error, match=said):
        ft.read(connection, **options)


def test_values_without_a_query_are_refused(database):
    with pytest.raises(OptionError, match="values say nothing without a query"):
        ft.read(database[0].parent / "wheels.csv", values={"cellar": "Loft"})
