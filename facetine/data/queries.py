"""Tables as plans and commands read them: of files, databases, a pipe or the clipboard, and of queries over any of them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Container, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

if TYPE_CHECKING:
    from facetine.data.deferred import Deferred

_DUCK = "duckdb:///"
NOTHING: Mapping[str, Any] = {}
"""What is said of a table of which nothing is said."""


class TableSource(NamedTuple):
    """Where a table is, and what is said of it."""

    files: str | Path | Sequence[str | Path] = ""
    """What `facetine.read` takes; also an address of the web."""
    database: str = ""
    """The address of a database."""
    stored: str = ""
    """The table of the database; empty where a query asks it."""
    by: Sequence[str] = ()
    """The columns by which a stored table's rows are sorted first."""
    columns: Mapping[str, Any] | None = None
    """A table that is in memory, which a query asks."""
    called: str = ""
    """What the query calls it."""
    content: bytes | None = None
    """What came through a pipe."""
    pasted: bool = False
    """Whether it lies on the clipboard."""
    sql: str | None = None
    """A query that gives the same each time."""
    said: Mapping[str, Any] = NOTHING
    """The other options of `facetine.read`."""
    expected: Container[str] = ()
    """Columns that are likely to be asked for."""
    functions: Collection[str] = ()
    """Those that a query may call besides the listed ones."""


def columns_of(source: TableSource, where: str) -> Mapping[str, Any]:
    """The columns of a table, wherever it is; read when they are asked for, where that can be.

    Args:
        source: Where it is.
        where: Who asks, for the error.

    Raises:
        DataError: There is no table; or, when a column is asked for, it has changed; or the query fails.
        OptionError: The query would give other rows each time it runs; or an option says nothing.
    """
    if source.columns is not None:
        return queried(source.columns, source.sql or "", source.called, where, source.functions)
    if source.database:
        if source.sql is not None:
            return database_answer(source.database, source.sql, where, source.functions, source.said)
        table, functions = source.stored, source.functions
        return stored_columns(source.database, table, where, source.expected, functions, source.said, source.by)
    if source.pasted:
        from facetine.data.pasted import pasted_columns

        return pasted_columns(where, **source.said)
    if source.content is not None:
        from facetine.data.readers import read_bytes

        return read_bytes(source.content, where=where, **source.said)
    asked: dict[str, Any] = {"sql": source.sql, "where": where, "functions": source.functions}
    return file_columns(source.files, source.expected, **asked, **source.said)


def file_columns(
    files: str | Path | Sequence[str | Path],
    expected: Container[str],
    *,
    sql: str | None,
    where: str,
    functions: Collection[str] = (),
    **said: Any,
) -> Mapping[str, Any]:
    """The columns of files, or what a query makes of them; read when they are asked for, where that can be.

    Args:
        files: What `facetine.read` takes.
        expected: Columns that are likely to be asked for.
        sql: A query that gives the same each time, or None.
        where: Who asks, for the error.
        functions: Those that it may call besides the listed ones.
        **said: The other options of `facetine.read`.

    Raises:
        DataError: There is no table; or, when a column is asked for, it has changed.
        OptionError: The query would give other rows each time it runs; or an option says nothing.
    """
    from facetine.data.addresses import fetched, is_address
    from facetine.data.apart import apart
    from facetine.data.readers import deferred_columns
    from facetine.data.sql import check_steady

    if sql is None:
        return deferred_columns(files, expected=expected, where=where, **said)
    check_steady(sql, where, functions)
    if not is_address(files):
        return apart("files", files, sql, said, where, late=False)
    # Fetched here, where it is known which addresses may be reached.
    limit, timeout = said.pop("limit", None), said.pop("timeout", None)
    with fetched(str(files), limit, timeout, where) as file:
        return apart("files", file, sql, said, where, late=False)


def database_answer(
    address: str, sql: str, where: str, functions: Collection[str], text: Mapping[str, Any] = NOTHING
) -> Mapping[str, Any]:
    """What a query of a plan gives of a database: one SELECT of allowed functions, asked within bounds.

    Args:
        address: Of the database.
        sql: The query.
        where: Who asks, for the error.
        functions: Those that it may call besides the listed ones.
        text: What is said of the cells of its answer, as in `facetine.read`.

    Raises:
        DataError: It is something else, fails, or takes more time or memory than it may.
        OptionError: It would give other rows each time it runs.
    """
    from facetine.data.apart import apart
    from facetine.data.containers import told_columns
    from facetine.data.questions import check_plain, check_server
    from facetine.data.sql import check_steady
    from facetine.data.wishes import told_of_any

    if address.startswith(_DUCK):
        check_steady(sql, where, functions)
        return apart("files", address.removeprefix(_DUCK), sql, text, where)
    backend = address.partition(":")[0].partition("+")[0].lower() if "://" in address else "sqlite"
    if backend == "sqlite":
        check_plain(sql, where)
    else:
        check_server(sql, backend, where, functions)
    columns = apart("database", address, sql, frozenset(functions), where)
    return told_columns(columns, told_of_any(text, where), "the query", where)


def stored_columns(
    address: str,
    table: str,
    where: str,
    expected: Container[str],
    functions: Collection[str] | None = None,
    text: Mapping[str, Any] = NOTHING,
    by: Sequence[str] = (),
) -> Deferred:
    """The columns of a table of a database, read when they are asked for.

    Args:
        address: Of the database.
        table: Its name.
        where: Who asks, for the error.
        expected: Columns that are likely to be asked for.
        functions: Those that a view may call besides the listed ones, of SQLite; None for any.
        text: What is said of its cells, as in `facetine.read`.
        by: The columns by which its rows are sorted first; they are sorted by all.

    Raises:
        DataError: There is no such table; or, when a column is asked for, it has changed.
    """
    from facetine.data.apart import apart
    from facetine.data.containers import TABLES_OF_DUCK, catalog_of, deferred_table, named_table
    from facetine.data.wishes import told_of_any

    told = told_of_any(text, where)

    def ask(sql: str) -> Mapping[str, Any]:
        if address.startswith(_DUCK):
            return apart("files", address.removeprefix(_DUCK), sql, {"kept": told.texts}, where)
        return apart("database", address, sql, functions, where)

    if address.startswith(_DUCK):
        said = apart("files", address.removeprefix(_DUCK), TABLES_OF_DUCK, {}, where)
    else:
        said = apart("tables", address, where)
    there = list(zip(said["schema"].tolist(), said["table"].tolist(), strict=True))
    return deferred_table(ask, named_table(table, there, where, catalog_of(there)), where, expected, table, told, by)


def again(
    names: Sequence[str],
    read: Mapping[str, Any],
    height: int,
    where: str,
    whole: Callable[[], Mapping[str, Any]],
    *,
    ordered: bool,
) -> Deferred:
    """A table of which some columns have been read before, by another process; the others are read from where it came.

    Args:
        names: All columns.
        read: Those that have been read.
        height: How many rows there are.
        where: Who asks, for the error.
        whole: Opens the table anew.
        ordered: Whether its rows come in the same order each time.
    """
    from facetine.data.deferred import Deferred

    def fetch(wanted: Sequence[str]) -> dict[str, Any]:
        columns = whole()
        return {name: columns[name] for name in wanted}

    return Deferred(names, fetch, where, height=height, read=read, ordered=ordered)


def read_so_far(table: Any) -> Mapping[str, Any] | None:
    """The columns of a table that have been read, with all that are expected; None for one that is no such table."""
    from facetine.data.deferred import Deferred

    if not isinstance(table, Deferred):
        return None
    table.bring([])
    return table.read


def queried(columns: Mapping[str, Any], sql: str, name: str, where: str, functions: Collection[str] = ()) -> dict[str, Any]:
    """What a query gives that can reach one table alone, and gives the same each time.

    Args:
        columns: The table.
        sql: The query.
        name: What it calls the table.
        where: Who asks, for the error.
        functions: Those that it may call besides the listed ones.

    Raises:
        DataError: The query fails.
        OptionError: It would give other rows each time it runs.
    """
    from facetine.data.apart import apart
    from facetine.data.sql import check_steady

    check_steady(sql, where, functions)
    return apart("table", dict(columns), sql, name, where)


def files_behind(path: str | Path) -> list[Path]:
    """The files that hold what is read from a path: with a database of SQLite that of rows which it has not taken in yet.

    What is said of a sheet, a range or a table behind a "#" is none of a file's name.
    """
    from facetine.data.suffixes import DATABASES, parted

    file = parted(str(path))[0]
    return [file, file.with_name(f"{file.name}-wal")] if file.suffix.lower() in DATABASES else [file]
