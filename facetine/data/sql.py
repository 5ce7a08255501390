"""SQL run in a database of its own: one scalar expression, locked in, within bounds of memory and time."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from typing import Any

from facetine.errors import MappingError, OptionError

SECONDS = 60.0
"""A query that takes longer is ended."""
MEMORY = "4GB"
"""What a query may take."""
# What would make the same figure come out differently tomorrow.
_CHANCE = frozenset(
    (
        "random", "setseed", "uuid", "gen_random_uuid", "uuidv4", "uuidv7", "now", "current_timestamp", "current_date",
        "current_time", "today", "get_current_time", "get_current_timestamp", "transaction_timestamp", "localtime",
        "localtimestamp", "txid_current", "nextval",
    )
)  # fmt: skip
_STEADY = "seed(…) governs chance; a day is written DATE '2030-06-01'"
_REACHING = frozenset(["getenv", "read_text", "read_blob", "current_setting", "getvariable", "glob", "query", "query_table"])


@lru_cache(maxsize=256)
def columns_of(expression: str, where: str) -> tuple[str, ...]:
    """The columns that a scalar expression names, each once.

    The database's own parser reads it: what is more than one expression is refused before anything runs.

    Raises:
        OptionError: It is no single scalar expression, or asks for chance, the clock or the machine.
        MappingError: It can't be parsed.
    """
    if not expression.strip():
        raise OptionError(f"{where}: {expression!r} is no expression", 'such as "age_days > 90"')
    bad = next(
        (letter for letter in expression if (ord(letter) < 32 and letter not in "\t\n\r") or 0xD800 <= ord(letter) < 0xE000), None
    )
    if bad is not None:
        raise OptionError(f"{where}: the expression holds the control character U+{ord(bad):04X}", "write it as plain text")
    if len(expression) > 20_000:
        raise OptionError(f"{where}: an expression of {len(expression):,} letters", "20,000 are the most")
    tree = _parsed(expression, where)
    names: dict[str, None] = {}
    for node in _nodes(tree):
        _check(node, expression, where)
        if node.get("class") == "COLUMN_REF":
            names[node["column_names"][-1]] = None
    return tuple(names)


def _parsed(expression: str, where: str) -> dict[str, Any]:
    import duckdb

    with duckdb.connect(config={"enable_external_access": "false"}) as connection:
        row = connection.execute("SELECT json_serialize_sql(?)", [f"SELECT {expression}\n"]).fetchone()
    try:
        read = json.loads(row[0]) if row else {}
    except RecursionError:
        raise OptionError(f"{where}: the expression is nested too deep") from None
    if read.get("error"):
        said = str(read.get("error_message", "")).split("\n")[0]
        if "Only SELECT" in said:
            raise OptionError(f"{where}: {_short(expression)} is no expression", 'such as "age_days > 90"')
        raise MappingError(f"{where}: {_short(expression)} can't be evaluated", said[:200])
    statements = read.get("statements", [])
    node = statements[0]["node"] if len(statements) == 1 else {}
    single = (
        node.get("type") == "SELECT_NODE"
        and len(node.get("select_list", ())) == 1
        and node["from_table"].get("type") == "EMPTY"
        and not node.get("modifiers")
        and not node.get("group_expressions")
        and all(node.get(part) is None for part in ("where_clause", "having", "qualify", "sample"))
        and not node["select_list"][0].get("alias")
    )
    if not single:
        raise OptionError(f"{where}: {_short(expression)} is no expression: one value a row is wanted", 'such as "age_days > 90"')
    chosen: dict[str, Any] = node["select_list"][0]
    return chosen


def _check(node: dict[str, Any], expression: str, where: str) -> None:
    kind, name = node.get("class"), str(node.get("function_name", "")).lower()
    if kind in ("SUBQUERY", "STAR", "PARAMETER"):
        raise OptionError(
            f"{where}: {_short(expression)} is no expression: one value a row is wanted",
            "subqueries, * and parameters have no place here",
        )
    if kind == "FUNCTION" and name in _CHANCE:
        raise OptionError(
            f"{where}: {name}() gives another figure each time it is drawn",
            "seed(…) governs chance; write dates as DATE '2030-06-01'",
        )
    if kind == "COLUMN_REF" and len(node["column_names"]) == 1 and node["column_names"][0].lower() in _CHANCE:
        raise OptionError(
            f"{where}: {node['column_names'][0]} gives another figure each time it is drawn", "write DATE '2030-06-01'"
        )
    if kind == "FUNCTION" and name in _REACHING:
        raise OptionError(f"{where}: {name}() reaches out of the data", "an expression sees the columns of its table")


def _nodes(tree: Any) -> Iterator[dict[str, Any]]:
    """Every expression of a parsed tree."""
    waiting = [tree]
    while waiting:
        node = waiting.pop()
        if isinstance(node, dict):
            if "class" in node:
                yield node
            waiting.extend(node.values())
        elif isinstance(node, list):
            waiting.extend(node)


def _short(text: str) -> str:
    return repr(text if len(text) <= 80 else f"{text[:79]}…")


@contextmanager
def bounded(connection: Any, where: str) -> Iterator[None]:
    """Ends a query that takes too long.

    Raises:
        MappingError: It did.
    """
    import duckdb

    late = threading.Event()

    def end() -> None:
        late.set()
        connection.interrupt()

    timer = threading.Timer(SECONDS, end)
    timer.daemon = True
    timer.start()
    try:
        yield
    except duckdb.Error as problem:
        if late.is_set():
            raise MappingError(f"{where}: the query took longer than {SECONDS:g} seconds and was ended") from problem
        if isinstance(problem, duckdb.OutOfMemoryException):
            raise MappingError(f"{where}: the query needs more memory than {MEMORY}") from problem
        raise
    finally:
        timer.cancel()
