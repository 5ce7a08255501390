"""Queries that would change a database, or write anything: none of them does, in Python, in a plan, or under its check."""

import re
from pathlib import Path

import duckdb
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.data.questions import must_ask
from facetine.data.sql import shut
from facetine.messages.errors import DataError, FacetineError

HARMFUL = [
    "DROP TABLE t",
    "DELETE FROM t",
    "DELETE FROM t RETURNING *",
    "INSERT INTO t VALUES (9, 9) RETURNING a, b",
    "UPDATE t SET a = 9 RETURNING a, b",
    "WITH x AS (SELECT 1) DELETE FROM t RETURNING *",
    "WITH x AS (SELECT 1) INSERT INTO t SELECT 9, 9 RETURNING a, b",
    "REPLACE INTO t VALUES (9, 9)",
    "CREATE TABLE u AS SELECT * FROM t",
    "CREATE TEMP TABLE u AS SELECT * FROM t",
    "ALTER TABLE t RENAME TO u",
    "PRAGMA user_version = 5",
    "PRAGMA journal_mode = WAL",
    "SELECT * FROM pragma_table_info('t')",
    "VACUUM",
    "VACUUM INTO 'written.db'",
    "ATTACH 'written.db' AS n",
    "SELECT load_extension('written.so')",
    "SELECT LOAD_EXTENSION('written.so')",
    "REINDEX",
    "ANALYZE",
    "BEGIN EXCLUSIVE",
    "SELECT a, b FROM t; DROP TABLE t",
    "SELECT a, b FROM t; ATTACH 'written.db' AS n",
    "-- SELECT\nDROP TABLE t",
    "/* SELECT */ DROP TABLE t",
]
FINE = [
    "SELECT a, b FROM t",
    "select a, b from t ;",
    "-- what is there\nSELECT a, b FROM t",
    "/* what is there */ SELECT a, b FROM t",
    "(SELECT a, b FROM t)",
    "VALUES (1, 2)",
    "WITH x AS (SELECT a, b FROM t) SELECT * FROM x",
    "WITH RECURSIVE n(a, b) AS (SELECT 1, 1 UNION ALL SELECT a + 1, b FROM n WHERE a < 5) SELECT * FROM n",
    "SELECT upper('x') AS a, date('2030-01-01') AS b",
]


@pytest.fixture
def database(cellar):
    return cellar / "cellar.db"


def untouched(database, before):
    """Whether a database is as it was, with nothing new beside it."""
    beside = {path.name for path in database.parent.iterdir()} - {"cellar.db", "plan.toml", "figures"}
    return database.read_bytes() == before and not beside


@pytest.mark.parametrize("source", ["cellar.db", "sqlite:///cellar.db"])
@pytest.mark.parametrize("query", HARMFUL)
def test_no_query_changes_a_database_or_writes_a_file(query, source, database):
    before = database.read_bytes()
    with pytest.raises(DataError) as caught:
        ft.read(source, sql=query)
    assert len(str(caught.value).splitlines()) <= 2
    assert untouched(database, before)


@pytest.mark.parametrize("query", FINE[:4] + FINE[5:])
def test_questions_are_answered(query, database):
    before = database.read_bytes()
    assert len(ft.read("cellar.db", sql=query)) >= 1
    assert untouched(database, before)


@pytest.mark.parametrize("query", [HARMFUL[0], HARMFUL[5], HARMFUL[15], HARMFUL[16], HARMFUL[22]])
def test_neither_a_plan_nor_its_check_changes_a_database(query, database):
    before = database.read_bytes()
    said = query.replace('"', '\\"').replace("\n", " ")
    figure = '[figure.f]\ndata = "d"\nmap = { x = "a", y = "b" }\nlayers = ["points"]\n'
    Path("plan.toml").write_text(f'[data.d]\ndatabase = "sqlite:///cellar.db"\nsql = "{said}"\n{figure}')
    with pytest.raises(FacetineError):
        ft.plan("plan.toml").figure("f")
    (outcome,) = ft.plan("plan.toml").export(jobs=1)
    assert outcome.error is not None
    assert untouched(database, before)


def test_a_query_of_the_analyst_may_change_a_database_where_that_is_said(database):
    ft.read("cellar.db", sql="UPDATE t SET a = 9 WHERE a = 1", read_only=False)
    assert ft.read("cellar.db", sql="SELECT a FROM t ORDER BY a").a.tolist() == [3, 9]


# What a server might take for several statements, whatever it makes of quotes, remarks and dollars.
@pytest.mark.parametrize(
    "query",
    [
        "SELECT $$'$$; DROP TABLE t; SELECT $$'$$",
        "SELECT E'\\''; DROP TABLE t; --'",
        "SELECT '\\'; DROP TABLE t; --'",
        "/* /* */ ' */ SELECT 1; DROP TABLE t; /* ' */",
        "-- '\nSELECT 1; DROP TABLE t -- '",
        'SELECT "\\"; DROP TABLE t; --"',
        "SELECT 1;;DROP TABLE t",
        "SELECT 1 INTO OUTFILE '/tmp/written'",
        "SELECT 1 into  dumpfile '/tmp/written'",
        "COPY (SELECT 1) TO PROGRAM 'id'",
        "DO $$ BEGIN END $$",
        "CALL p()",
        "EXPLAIN ANALYZE DELETE FROM t",
        "SET ROLE admin",
        "/*! DROP TABLE t */",
        "/* SELECT */ /* /* SELECT */ */ DROP TABLE t",
        "",
        "-- SELECT 1",
    ],
)
def test_what_may_be_several_statements_or_no_question_reaches_no_server(query):
    with pytest.raises(DataError):
        must_ask(query)


@pytest.mark.parametrize("query", FINE)
def test_single_questions_reach_it(query):
    must_ask(query)


@settings(max_examples=200)
@given(
    st.lists(
        st.sampled_from(["SELECT 1", "DROP TABLE t", "'", '"', "$$", "/*", "*/", "--", "\n", ";", " ", "(", "\\"]), max_size=12
    )
)
def test_nothing_passes_that_has_two_statements_by_any_reading(parts):
    query = "".join(parts)
    try:
        must_ask(query)
    except DataError:
        return
    assert ";" not in query.strip().rstrip("; \n").rstrip()
    bare = re.sub(r"--[^\n]*\n|/\*.*?\*/|[\s(]", " ", query, flags=re.DOTALL).strip()
    assert bare.upper().startswith("SELECT")


def test_a_database_that_is_shut_draws_nothing_on_the_screen_and_stays_so():
    with duckdb.connect() as connection:
        connection.execute("SET enable_progress_bar = true")
        shut(connection)
        assert connection.execute("SELECT current_setting('enable_progress_bar')").fetchone() == (False,)
        with pytest.raises(duckdb.Error):
            connection.execute("SET enable_external_access = true")
