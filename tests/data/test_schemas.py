"""Tables of databases by their names, with their schemas or without."""

import sqlite3

import duckdb
import pytest

from facetine.data.mentions import Everything
from facetine.data.queries import stored_columns
from facetine.messages.errors import DataError


@pytest.fixture
def addresses(tmp_path):
    made = sqlite3.connect(tmp_path / "c.db")
    made.execute("CREATE TABLE racks (n)")
    made.execute('CREATE TABLE "a.b" (n)')
    made.executemany("INSERT INTO racks VALUES (?)", [(7,), (8,)])
    made.execute('INSERT INTO "a.b" VALUES (9)')
    made.execute("CREATE VIEW shown AS SELECT n + 1 AS n FROM racks")
    made.commit()
    made.close()
    with duckdb.connect(str(tmp_path / "c.duckdb")) as connection:
        for said in ("CREATE TABLE racks AS SELECT 7 AS n", "CREATE SCHEMA deep", "CREATE TABLE deep.wheels AS SELECT 8 AS n"):
            connection.execute(said)
    return {"sqlite": f"sqlite:///{tmp_path / 'c.db'}", "duckdb": f"duckdb:///{tmp_path / 'c.duckdb'}"}


@pytest.mark.parametrize(
    ("engine", "table", "values"),
    [("sqlite", "racks", [7, 8]), ("sqlite", "main.racks", [7, 8]), ("sqlite", "a.b", [9]), ("sqlite", "shown", [8, 9]),
     ("duckdb", "racks", [7]), ("duckdb", "main.racks", [7]), ("duckdb", "deep.wheels", [8])],
)  # fmt: skip
def test_a_table_is_found_by_its_name_and_with_its_schema(engine, table, values, addresses):
    assert list(stored_columns(addresses[engine], table, "test", Everything())["n"]) == values


@pytest.mark.parametrize(
    ("engine", "table", "close"),
    [("sqlite", "rack", "racks"), ("duckdb", "deep.wheel", "deep.wheels"), ("duckdb", "rakcs", "racks")],
)
def test_one_that_is_not_there_is_told_with_those_that_are(engine, table, close, addresses):
    with pytest.raises(DataError, match=f"no table '{table}'. Did you mean '{close}'"):
        stored_columns(addresses[engine], table, "test", Everything())


def test_a_file_takes_the_schema_of_its_table_too(addresses, tmp_path):
    import facetine as ft

    assert ft.read(f"{tmp_path / 'c.duckdb'}#deep.wheels")["n"].tolist() == [8]
    assert ft.read(f"{tmp_path / 'c.db'}#main.racks")["n"].tolist() == [7, 8]
    with pytest.raises(DataError, match="no table 'deep.wheel'. Did you mean 'deep.wheels'"):
        ft.read(f"{tmp_path / 'c.duckdb'}#deep.wheel")
    with pytest.raises(DataError, match="holds 2 tables: racks, deep.wheels"):
        ft.read(tmp_path / "c.duckdb")


def test_a_schema_may_be_called_as_its_database(tmp_path):
    with duckdb.connect(str(tmp_path / "deep.duckdb")) as connection:
        connection.execute("CREATE SCHEMA deep")
        connection.execute("CREATE TABLE deep.deep.wheels AS SELECT 5 AS n")
    found = stored_columns(f"duckdb:///{tmp_path / 'deep.duckdb'}", "deep.wheels", "test", Everything())
    assert list(found["n"]) == [5]
