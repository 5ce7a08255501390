"""SQL run in a database of its own: one scalar expression, locked in, within bounds of memory and time."""

from __future__ import annotations

import json
import os
import re
import threading
import time
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import contextmanager
from contextvars import ContextVar, copy_context
from functools import lru_cache
from typing import Any, NamedTuple, TypeAlias, TypeVar
from weakref import WeakSet

from facetine.core.arrays import AnyArray, in_zone, is_number
from facetine.data.allowed import EXPRESSIONS, must_be_allowed
from facetine.messages.errors import DataError, FacetineError, MappingError, OptionError, told
from facetine.messages.errors import late as late_error

Node: TypeAlias = dict[str, Any]
"""A piece of a parsed query."""
T = TypeVar("T")
_PATIENCE = 2.0
"""Seconds in which a database has to obey when it is told to end a query."""


class Limits(NamedTuple):
    """What a query may take before it is ended."""

    seconds: float = 60.0
    memory: str = "4 GB"


LIMITS: ContextVar[Limits] = ContextVar("facetine_query_limits", default=Limits())  # noqa: B039
"""Those in force; the session says others."""
_HELD = '"the answer of a query"'
_MEMORY = re.compile(r"\d{1,6}(\.\d{1,3})? ?(MB|GB)")


def limits_changed(before: Limits, seconds: object, memory: object, where: str) -> Limits:
    """Limits with those said put in.

    Raises:
        OptionError: One is impossible.
    """
    if seconds is not None and not (is_number(seconds) and 0 < seconds <= 86_400):
        raise OptionError(where, f"query_seconds is a number above 0, at most 86400, not {told(seconds)}")
    if memory is not None and (not isinstance(memory, str) or not _MEMORY.fullmatch(memory)):
        raise OptionError(where, f"query_memory is a size, not {told(memory)}", 'such as "500 MB" or "8 GB"')
    return Limits(before.seconds if seconds is None else float(seconds), before.memory if memory is None else memory)


def memory_bytes(size: str) -> int:
    """A size such as "4 GB" in bytes.

    >>> memory_bytes("500 MB")
    500000000
    """
    number, unit = size[:-2], size[-2:]
    return int(float(number) * {"MB": 10**6, "GB": 10**9}[unit])


# What would make the same figure come out differently tomorrow.
_CHANCE = frozenset(
    (
        "random", "setseed", "uuid", "gen_random_uuid", "uuidv4", "uuidv7", "now", "current_timestamp", "current_date",
        "current_time", "today", "get_current_time", "get_current_timestamp", "transaction_timestamp", "localtime",
        "localtimestamp", "txid_current", "nextval",
    )
)  # fmt: skip
_GROWING = frozenset(
    (
        "repeat", "range", "generate_series", "lpad", "rpad", "list_resize", "array_resize", "printf", "format", "bar", "replace",
        "regexp_replace", "list_transform", "list_apply", "array_transform", "apply", "list_concat", "array_concat",
        "generate_subscripts",
    )
)  # fmt: skip
_STEADY = "seed(…) governs chance; a day is written DATE '2030-06-01'"
# Those that are asked without brackets; the others are names of columns then.
_BARE = frozenset(("current_timestamp", "current_date", "current_time", "localtime", "localtimestamp"))
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
        raise OptionError(where, f"{told(expression)} is no expression", 'such as "age_days > 90"')
    bad = next(
        (letter for letter in expression if (ord(letter) < 32 and letter not in "\t\n\r") or 0xD800 <= ord(letter) < 0xE000), None
    )
    if bad is not None:
        raise OptionError(where, f"the expression holds the control character U+{ord(bad):04X}", "write it as plain text")
    if len(expression) > 20_000:
        raise OptionError(where, f"an expression of {len(expression):,} letters", "20,000 are the most")
    tree = _parsed(expression, where)
    for node in _nodes(tree):
        _check(node, expression, where)
    return tuple(dict.fromkeys(_columns_in(tree)))


@lru_cache(maxsize=256)
def may_grow(expression: str, where: str) -> bool:
    """Whether an expression calls what makes long values of short ones, which an engine does not count."""
    return any(str(node.get("function_name", "")).lower() in _GROWING for node in _nodes(_parsed(expression, where)))


def _columns_in(tree: Any) -> Iterator[str]:
    """The names of columns in a parsed tree; the parameters of a lambda are none within it."""
    waiting: list[tuple[Any, frozenset[str]]] = [(tree, frozenset())]
    while waiting:
        node, own = waiting.pop()
        if isinstance(node, list):
            waiting += [(one, own) for one in node]
        elif isinstance(node, dict) and node.get("class") == "LAMBDA":
            waiting.append((node["expr"], own | set(_columns_in(node["lhs"]))))
        elif isinstance(node, dict):
            if node.get("class") == "COLUMN_REF" and node["column_names"][0] not in own:
                yield node["column_names"][-1]
            waiting += [(one, own) for one in node.values()]


QUOTED = re.compile(r"'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"")
"""Texts and names in quotes."""
_NAMED = re.compile(rf"{QUOTED.pattern}|(?<![\w:$])[:$](\w+)")


def with_parameters(query: str, parameters: Mapping[str, object] | None, sign: str, where: str) -> str:
    """A query whose places for parameters, written :name or $name, are written as an engine takes them; these stay apart.

    Args:
        query: The query.
        parameters: The parameters by name; None for none.
        sign: Before a name, as the engine has it.
        where: Who asks, for the error.

    Raises:
        OptionError: A value is given for which the query has no place.
    """
    if not parameters:
        return query
    met: set[str] = set()

    def written(found: re.Match[str]) -> str:
        name = found[1]
        if name is None or name not in parameters:
            return found[0]
        met.add(name)
        return f"{sign}{name}"

    made = _NAMED.sub(written, query)
    for name in parameters:
        if name not in met:
            raise OptionError(where, f"the query has no place for the parameter {name!r}", f"write :{name} where it belongs")
    return made


def check_steady(query: str, where: str, more: Collection[str] | None = None) -> None:
    """Refuses a query of a plan that would give other rows tomorrow, or calls a function that is on no list.

    Args:
        query: The query.
        where: Who asks, for the error.
        more: Functions that are allowed besides.

    Raises:
        OptionError: It asks for chance, the clock or the machine, calls what is not allowed, or is no SELECT.
    """
    read = _serialized(query, where)
    if read.get("error"):
        if "Only SELECT" in str(read.get("error_message", "")):
            raise OptionError(where, f"{told(query)} is no SELECT", "a query of a plan begins with SELECT or WITH")
        # What is no SQL is said better where it runs.
        return
    for node in _nodes(read, "class", "type"):
        sample = node.get("sample")
        if isinstance(sample, dict) and not sample.get("repeatable"):
            raise OptionError(where, "a sample gives other rows each time", "TABLESAMPLE … REPEATABLE (1) gives the same")
        _check_steady(node, where, more)


def shut(connection: Any, zone: str = "UTC") -> None:
    """Cuts a database off from all files that it was not given, from the network, the zone of the machine and its screen.

    Args:
        connection: The database.
        zone: In which it reads the clock of an instant.
    """
    # In a session of Python at a terminal it would draw its progress among the lines of standard output.
    for setting in (
        "enable_progress_bar = false",
        f"TimeZone = '{zone}'",
        "enable_external_access = false",
        "lock_configuration = true",
    ):
        connection.execute(f"SET {setting}")


def engine_bounds() -> dict[str, Any]:
    """How DuckDB is begun: within the memory of a query, none of which goes to a folder of the disk instead."""
    return {"memory_limit": LIMITS.get().memory, "max_temp_directory_size": "0GB", "threads": "2"}


class _Kept:
    """The database of a thread."""

    def __init__(self) -> None:
        self.connection: Any = None
        self.memory = ""
        self.asked = False
        """Whether it is answering."""

    def close(self) -> None:
        """Closes it; the next question opens another one."""
        connection, self.connection = self.connection, None
        if connection is not None:
            connection.close()


_OF_THREAD = threading.local()
_ALL: WeakSet[_Kept] = WeakSet()


def _close_before_fork() -> None:
    """A copy of the process has no use for an open database, and waits for it for ever."""
    for kept in list(_ALL):
        if not kept.asked:
            kept.close()


if hasattr(os, "register_at_fork"):
    os.register_at_fork(before=_close_before_fork)


@contextmanager
def database() -> Iterator[Any]:
    """A database in memory that reaches neither files nor the network, for questions that leave nothing behind.

    It is kept for the next question of the thread: to open one takes ten times as long as most answers. After an error it
    is not.
    """
    kept: _Kept | None = getattr(_OF_THREAD, "kept", None)
    if kept is None:
        kept = _OF_THREAD.kept = _Kept()
        _ALL.add(kept)
    memory = LIMITS.get().memory
    if kept.connection is None or kept.memory != memory:
        import duckdb

        kept.close()
        made = duckdb.connect(config=engine_bounds())
        shut(made)
        kept.connection, kept.memory = made, memory
    kept.asked = True
    try:
        yield kept.connection
    except BaseException:
        kept.close()
        raise
    finally:
        kept.asked = False


def named(name: str) -> str:
    """The name of a column or a table, as a query writes it."""
    return '"' + name.replace('"', '""') + '"'


def only_reads(query: str, where: str) -> bool:
    """Whether a query is one SELECT, which asks for nothing that only a table of the database's own has."""
    read = _serialized(query, where)
    return not read.get("error") and len(read.get("statements", ())) == 1 and "rowid" not in query.casefold()


def columns_read(query: str, names: Sequence[str], where: str) -> list[str] | None:
    """The columns of a table that a query over it reads; None where that may be all of them.

    Args:
        query: The query.
        names: The columns of its table.
        where: Who asks, for the error.

    >>> columns_read("SELECT max(ph) AS most FROM wheels ORDER BY most", ["ph", "rind"], "read")
    ['ph']
    >>> columns_read("SELECT * FROM wheels", ["ph", "rind"], "read")
    """
    tree = _serialized(query, where)
    if tree.get("error") or len(tree.get("statements", ())) != 1:
        return None
    known = {name.casefold() for name in names}
    found: set[str] = set()
    refs: list[list[str]] = []
    own: set[str] = set()
    tables: set[str] = set()
    for node in _nodes(tree, "class", "type"):
        kind, alias = node.get("class"), str(node.get("alias") or "").casefold()
        if kind in ("STAR", "POSITIONAL_REFERENCE") or node.get("type") in ("SHOW_REF", "PIVOT"):
            return None
        if node.get("ref_type") in ("NATURAL", "POSITIONAL") or node.get("column_name_alias"):
            return None
        if kind == "COLUMN_REF":
            refs.append([part.casefold() for part in node["column_names"]])
        found |= {str(name).casefold() for name in node.get("using_columns") or ()}
        # A table's name alone stands for all its columns, that of an expression for what it is made of.
        (own if kind is not None else tables).update({alias, str(node.get("table_name") or "").casefold()} - {""})
    for parts in refs:
        here = known.intersection(parts)
        if not here and (len(parts) > 1 or parts[0] in tables or parts[0] not in own):
            return None
        found |= here
    return [name for name in names if name.casefold() in found] or list(names[:1])


_NEAR = re.compile(r'at or near "([^"]+)"')


@lru_cache(maxsize=64)
def _serialized(query: str, where: str) -> Node:
    """A query as its parser sees it."""
    with database() as connection:
        rows = connection.execute("SELECT json_serialize_sql(?)", [query]).fetchall()
    try:
        found: Node = json.loads(rows[0][0]) if rows else {}
    except RecursionError:
        raise OptionError(where, "the query is nested too deep") from None
    return found


def _parsed(expression: str, where: str) -> Node:
    read = _serialized(f"SELECT {expression}\n", where)
    if read.get("error"):
        said = str(read.get("error_message", "")).split("\n")[0]
        if "Only SELECT" in said:
            raise OptionError(where, f"{told(expression)} is no expression", 'such as "age_days > 90"')
        said = said[:160]
        if (word := _NEAR.search(said)) is not None and word[1].isidentifier():
            said += f'; a column whose name is a word of SQL stands in double quotes, "{word[1]}"'
        raise MappingError(where, f"{told(expression)} can't be evaluated", said)
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
        raise OptionError(where, f"{told(expression)} is no expression: one value a row is wanted", 'such as "age_days > 90"')
    chosen: Node = node["select_list"][0]
    return chosen


def _check(node: Node, expression: str, where: str) -> None:
    if node.get("class") in ("SUBQUERY", "STAR", "PARAMETER"):
        raise OptionError(
            where,
            f"{told(expression)} is no expression: one value a row is wanted",
            "subqueries, * and parameters have no place here",
        )
    _check_steady(node, where)


def _check_steady(node: Node, where: str, more: Collection[str] | None = None) -> None:
    kind, name = node.get("class"), str(node.get("function_name", "")).lower()
    if kind == "FUNCTION" and name in _CHANCE:
        raise OptionError(
            where,
            f"{name}() gives another figure each time it is drawn",
            _STEADY,
        )
    if kind == "COLUMN_REF" and len(node["column_names"]) == 1 and node["column_names"][0].lower() in _BARE:
        raise OptionError(where, f"{node['column_names'][0]} gives another figure each time it is drawn", _STEADY)
    if kind == "FUNCTION" and name in _REACHING:
        raise OptionError(where, f"{name}() reaches out of the data", "an expression sees the columns of its table")
    if name and re.search(r"\w", name):
        # Others are signs between values.
        must_be_allowed(name, len(node.get("children") or node.get("arguments") or ()), EXPRESSIONS, where, more)


def _nodes(tree: Any, *marks: str) -> Iterator[Node]:
    """Every expression of a parsed tree; with marks, whatever has one of these keys."""
    waiting = [tree]
    while waiting:
        node = waiting.pop()
        if isinstance(node, dict):
            if any(mark in node for mark in marks or ("class",)):
                yield node
            waiting.extend(node.values())
        elif isinstance(node, list):
            waiting.extend(node)


def answer(
    connection: Any,
    query: str,
    where: str,
    parameters: Sequence[Any] | Mapping[str, Any] | None = None,
    *,
    bounded: bool = True,
) -> dict[str, AnyArray]:
    """The columns that a query gives.

    Args:
        connection: An open database.
        query: What is asked.
        where: Who asks, for the error.
        parameters: What stands for its question marks.
        bounded: Whether it has the limit of time.

    Raises:
        MappingError: It took too long or too much memory.
        duckdb.Error: It fails.
    """
    import duckdb

    limits = LIMITS.get()

    def run() -> dict[str, AnyArray]:
        done = connection.execute(query, parameters)
        zoned = [name for name, kind, *_ in done.description or () if str(kind) == "TIMESTAMP WITH TIME ZONE"]
        found: dict[str, AnyArray] = done.fetchnumpy() or {}
        # The database keeps an instant, and no zone to read it in.
        return found | {name: in_zone(found[name], "UTC") for name in zoned if name in found}

    try:
        return within_limit(run, connection.interrupt, where, limits.seconds if bounded else None)
    except duckdb.OutOfMemoryException as problem:
        said = f"the query needs more memory than {limits.memory}"
        raise MappingError(where, said, "set_defaults(query_memory=…) gives it more") from problem


def held_answer(connection: Any, query: str, where: str, parameters: Mapping[str, Any] | None = None) -> dict[str, AnyArray]:
    """The columns that a query of the analyst's gives, held by the engine first, whose memory has an end.

    What it gives out at once is not counted there: long texts would fill the memory. What can't be held is given out so.

    Raises:
        MappingError: It took too long or too much memory.
        duckdb.Error: It fails.
    """
    import duckdb

    if not only_reads(query, where):
        return answer(connection, query, where, parameters or None)
    try:
        answer(connection, f"CREATE TEMP TABLE {_HELD} AS {query.strip().rstrip(';')}", where, parameters or None)
    except (duckdb.ParserException, duckdb.BinderException, duckdb.CatalogException, duckdb.InvalidInputException):
        # Such as names that a table can't have twice; what is wrong is told of the query itself.
        return answer(connection, query, where, parameters or None)
    return answer(connection, f"SELECT * FROM {_HELD}", where)


def must_have_room(connection: Any, query: str, where: str) -> None:
    """Takes what has room in memory: a file of equal rows is a thousandth of what it unpacks to.

    Raises:
        DataError: It has none.
    """
    kinds = [(str(row[0]), str(row[1])) for row in connection.execute(f"DESCRIBE {query}").fetchall()]
    texts = [named(name) for name, kind in kinds if kind == "VARCHAR"]
    lengths = "".join(f" + coalesce(sum(strlen({name})), 0)" for name in texts)
    ((taken,),) = connection.execute(f"SELECT {8 * len(kinds) + 48 * len(texts)} * count(*){lengths} FROM ({query})").fetchall()
    memory = LIMITS.get().memory
    if taken > memory_bytes(memory):
        raise DataError(where, f"the table takes more memory than {memory}", "set_defaults(query_memory=…) gives it more")


def within_limit(
    run: Callable[[], T],
    interrupt: Callable[[], None],
    where: str,
    seconds: float | None,
    error: type[FacetineError] = MappingError,
) -> T:
    """What a query gives, if it gives it in time.

    It runs in a thread of its own, because only a waiting main thread hears an interrupt; both an interrupt and the limit of
    time end the query.

    Args:
        run: Runs it.
        interrupt: Tells the database to end it; may be called more than once.
        where: Who asks, for the error.
        seconds: How long it may take; None for any time.
        error: The class of the error when it takes longer.

    Raises:
        FacetineError: It took too long.
    """
    results: list[T] = []
    problems: list[BaseException] = []
    context = copy_context()

    def work() -> None:
        try:
            results.append(context.run(run))
        except BaseException as problem:
            problems.append(problem)
        finally:
            done.set()

    # An event and not the thread is waited for: a wait for a thread that is interrupted takes it for ended.
    done = threading.Event()
    threading.Thread(target=work, daemon=True).start()
    try:
        late = not done.wait(seconds)
    finally:
        # It may begin its work only after it was told to end; a database that can't be told so is left to itself.
        given_up = time.monotonic() + _PATIENCE
        while not done.is_set() and time.monotonic() < given_up:
            interrupt()
            done.wait(0.05)
    if late:
        said = f"the query took longer than {seconds:g} seconds and was ended"
        raise late_error(error(where, said, "set_defaults(query_seconds=…) gives it more"))
    if problems:
        raise problems[0]
    return results[0]
