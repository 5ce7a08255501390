"""Queries of plans: one question, of functions that are allowed, before any database sees it."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from facetine.data.allowed import SERVERS, must_be_allowed
from facetine.data.sql import QUOTED
from facetine.messages.errors import DataError

_ASKS = re.compile(r"(?:\s|--[^\n]*\n|/\*(?:(?!/\*|\*/).)*\*/|\()*(?:select|with|values|table)\b", re.IGNORECASE | re.DOTALL)
_WORD = re.compile(r"\w+")
_WRITES = re.compile(r"\binto\s+(?:outfile|dumpfile)\b", re.IGNORECASE)
MAY_WRITE = "ft.read(read_only=False) lets a query of yours change its database"
_CLOCK = re.compile(
    r"\b(?:current_(?:timestamp|date|time)|(?:date|time|datetime|julianday|unixepoch)\s*\(\s*\)|strftime\s*\([^,()]*\))",
    re.IGNORECASE,
)
"""How SQLite is asked for the hour (its documentation, "Date And Time Functions"), besides the text 'now'."""
_DIALECTS = {"postgresql": "postgres", "cockroachdb": "postgres", "mariadb": "mysql", "mssql": "tsql"}
_USUAL = {"current_timestamp": "now", "exploding_generate_series": "generate_series", "rand": "random"}
_PARSED = frozenset(
    (
        "array", "and", "or", "like", "ilike", "between", "in", "exists", "is_nan", "xor", "ts_or_ds_to_date", "str_to_time",
        "time_to_str", "date_str_to_date", "unix_to_time", "json_extract_scalar", "jsonb_extract", "jsonb_extract_scalar",
    )
)  # fmt: skip
"""Names of the parser for conditions and conversions, which have the form of functions there."""
_SAME = "DATE '2030-06-01' writes a day"


def must_ask(sql: str) -> None:
    """Takes a query that is one question, before any database sees it.

    What a server makes of quotes and remarks differs, so no semicolon is allowed but the last, wherever it stands, and no
    remark that a server may run.

    Raises:
        DataError: It is several statements, or one that is no question.
    """
    if ";" in sql.strip().rstrip(";").rstrip():
        raise DataError("read", "the query has a semicolon in it, and may be several", "a text with one goes into parameters=")
    if "/*!" in sql or "/*M!" in sql:
        raise DataError("read", "the query has a remark that some servers run: /*! … */", "a query asks alone")
    if _ASKS.match(sql) is None:
        word = _WORD.search(sql)
        raise DataError("read", f"a query asks, and this one begins with {word[0] if word else 'nothing'!r}", MAY_WRITE)
    if writes := _WRITES.search(sql):
        raise DataError("read", f"the query writes a file: {writes[0]}", "a query asks alone")


def ends_in_order(sql: str) -> bool:
    """Whether a query says itself in which order its rows come.

    >>> ends_in_order("SELECT * FROM wheels ORDER BY wheel"), ends_in_order("SELECT * FROM (SELECT 1 AS a ORDER BY a)")
    (True, False)
    """
    read = _parsed(sql)
    return read is not None and read.args.get("order") is not None


def keeps_order(sql: str) -> bool:
    """Whether a query over rows in an order gives its own in that order, or says another one.

    >>> keeps_order("SELECT a FROM t WHERE a > 1"), keeps_order("SELECT a, count(*) FROM t GROUP BY a")
    (True, False)
    """
    from sqlglot import expressions as known

    read = _parsed(sql)
    if read is None:
        return False
    gathers = (known.Group, known.Join, known.Distinct, known.SetOperation, known.Window)
    return read.args.get("order") is not None or not any(isinstance(node, gathers) for node in read.walk())


def _parsed(sql: str) -> Any:
    """A query as a parser of the field reads it; None where it can't."""
    import sqlglot
    from sqlglot.errors import SqlglotError

    try:
        return sqlglot.parse_one(sql, read="duckdb")
    except (SqlglotError, RecursionError, ValueError):
        return None


def check_plain(sql: str, where: str) -> None:
    """Refuses a query of a plan over SQLite that asks for the hour; which functions it calls is its engine's to say.

    Raises:
        DataError: It does, or is no question.
    """
    must_ask(sql)
    bare = QUOTED.sub(" ", sql)
    now = next((found[0] for found in QUOTED.finditer(sql) if found[0].strip("'\"").strip().casefold() == "now"), None)
    clock = _CLOCK.search(bare)
    if now is not None or clock is not None:
        asks = now or (clock[0] if clock is not None else "")
        raise DataError(where, f"{asks} gives another figure each time it is drawn", _SAME)


def check_server(sql: str, backend: str, where: str, more: Collection[str]) -> None:
    """Refuses a query of a plan over another database that is more than one SELECT of allowed functions.

    A parser of the field reads it in the dialect of the database; what it can't read is refused.

    Args:
        sql: The query.
        backend: What the address begins with, such as "postgresql".
        where: Who asks, for the error.
        more: Functions that are allowed besides.

    Raises:
        DataError: It is something else.
    """
    import sqlglot
    from sqlglot import expressions as known
    from sqlglot.errors import SqlglotError

    must_ask(sql)
    dialect = _DIALECTS.get(backend, backend)
    try:
        read = sqlglot.parse(sql, read=dialect if dialect in sqlglot.Dialect.classes else None)
    except (SqlglotError, RecursionError) as problem:
        said = str(problem).splitlines()[0] if str(problem) else "nested too deep"
        raise DataError(where, f"the query can't be read as one SELECT: {said[:160]}") from problem
    if len(read) != 1 or not isinstance(read[0], known.Query | known.Table | known.Values):
        raise DataError(where, "the query is no SELECT", "a query of a plan begins with SELECT or WITH")
    changes = (known.DML, known.DDL, known.Command, known.Into, known.Lock, known.Set)
    for node in read[0].walk():
        if isinstance(node, changes) and not isinstance(node, known.Query):
            raise DataError(where, f"the query would change something: {type(node).__name__.upper()}", "a query asks alone")
        if isinstance(node, known.Func):
            _check_function(node, where, more)


def _check_function(node: Any, where: str, more: Collection[str]) -> None:
    from sqlglot import expressions as known

    if isinstance(node, known.Anonymous | known.AnonymousAggFunc):
        must_be_allowed(str(node.name), len(node.expressions), SERVERS, where, more, DataError)
        return
    # One name stands for what dialects call differently.
    names = [name.lower() for name in type(node).sql_names()]
    names = [_USUAL.get(name, name) for name in names]
    if not any(name in SERVERS or name in _PARSED or name in more for name in names):
        must_be_allowed(names[0], None, SERVERS, where, more, DataError)
