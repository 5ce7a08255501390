"""Databases by their address: one query, within bounds of time and memory, and what was opened is closed."""

from __future__ import annotations

import contextlib
import re
import sqlite3
import threading
from collections.abc import Callable, Collection, Mapping, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.data.addresses import without_password
from facetine.data.allowed import SQLITE, must_be_allowed
from facetine.data.questions import MAY_WRITE, must_ask
from facetine.data.sql import LIMITS, QUOTED, memory_bytes, with_parameters, within_limit
from facetine.data.suffixes import DATABASES
from facetine.errors import DataError, FacetineError, listed

if TYPE_CHECKING:
    import pandas as pd
    import sqlalchemy

_ROWS_AT_ONCE = 50_000
_BYTES_AT_ONCE = 1 << 24
_SHORT = frozenset((int, float, bool, type(None)))
"""Types of cells that are as long as any other of theirs."""
_FUNCTION = 31
_OF_ENGINES = frozenset(("information_schema", "pg_catalog", "mysql", "performance_schema", "sys"))
_READING = (20, 21, _FUNCTION, 33)
"""Of SQLite's actions (its C interface, "Authorizer Action Codes"): to read, to select, a function, and recursion."""
_PLACE = re.compile(r"(?<![:\w]):(?=\w)")


def is_database(source: str) -> bool:
    """Whether a source is a database's address or file."""
    return "://" in source or Path(source).suffix.lower() in DATABASES


def is_connection(source: object) -> bool:
    """Whether a source is an open connection to a database, or an engine that opens them."""
    maker = type(source).__module__.partition(".")[0]
    return maker == "sqlalchemy" or (callable(getattr(source, "cursor", None)) and callable(getattr(source, "commit", None)))


def from_connection(connection: Any, sql: str | None, parameters: Mapping[str, Any] | None = None) -> pd.DataFrame:
    """What a query gives on a connection that is open, and stays so.

    Raises:
        DataError: There is no query, or it fails; or, of SQLAlchemy, takes more time or memory than it may.
        OptionError: A value is given for which the query has no place.
    """
    import sqlalchemy

    if sql is None:
        raise DataError("read: a connection is a database, so a query is needed", 'sql="SELECT …"')
    if isinstance(connection, sqlalchemy.Engine):
        with connection.connect() as opened:
            return from_connection(opened, sql, parameters)
    named = with_parameters(sql, parameters, "$" if type(connection).__module__.startswith("_duckdb") else ":", "read")
    try:
        if not isinstance(connection, sqlalchemy.Connection):
            # It may belong to this thread alone, in which nothing could end it.
            return _fetched(connection, named, parameters)
        answered, ended = partial(_answered, connection, named, parameters), partial(_ended, connection)
        return within_limit(answered, ended, "read", LIMITS.get().seconds, DataError)
    except DataError:
        raise
    except Exception as problem:
        said = str(getattr(problem, "orig", None) or problem).split("\n")[0]
        raise DataError(f"read: the query fails: {said[:200]}") from problem


def _fetched(connection: Any, sql: str, parameters: Mapping[str, Any] | None) -> pd.DataFrame:
    """The rows of a connection of the standard interface (PEP 249)."""
    late: list[bool] = []

    def end() -> None:
        late.append(True)
        with contextlib.suppress(Exception):
            _interrupted(connection)

    seconds = LIMITS.get().seconds
    watch = threading.Timer(seconds, end)
    watch.daemon = True
    watch.start()
    try:
        cursor = connection.cursor()
        cursor.execute(sql, dict(parameters)) if parameters else cursor.execute(sql)
        return _gathered(cursor.fetchmany, [column[0] for column in cursor.description or ()])
    except Exception as problem:
        if late and not isinstance(problem, FacetineError):
            said = f"read: the query took longer than {seconds:g} seconds and was ended"
            raise DataError(said, "set_defaults(query_seconds=…) gives it more") from problem
        raise
    finally:
        watch.cancel()


def _gathered(fetch: Callable[[int], Sequence[Any]], names: Sequence[str]) -> pd.DataFrame:
    """Rows, fetched in parts whose bytes are counted, so that a result which has no place in memory ends as an error.

    Raises:
        DataError: They take more memory than they may.
    """
    import pandas as pd

    limits = LIMITS.get()
    most, taken, counted = memory_bytes(limits.memory), 0, 0
    blocks: list[pd.DataFrame] = []
    held: list[Any] = []
    step = 1
    while rows := fetch(step):
        size = _bytes_of(rows)
        taken, counted = taken + size, counted + len(rows)
        if taken > most:
            raise DataError(f"read: the query gives more than {limits.memory}", "set_defaults(query_memory=…) gives it more")
        held += rows
        # Few rows first: how long they are shows when they are there.
        step = max(1, min(10 * step, _ROWS_AT_ONCE, _BYTES_AT_ONCE * counted // max(taken, 1)))
        if len(held) >= _ROWS_AT_ONCE:
            blocks.append(_frame(held, names))
            held = []
    if held or not blocks:
        blocks.append(_frame(held, names))
    return pd.concat(blocks, ignore_index=True) if len(blocks) > 1 else blocks[0]


def _frame(rows: list[Any], names: Sequence[str]) -> pd.DataFrame:
    import pandas as pd

    made = pd.DataFrame.from_records(rows, columns=list(names), coerce_float=True)
    for place, kind in enumerate(made.dtypes):
        if isinstance(kind, pd.DatetimeTZDtype):
            # Servers write instants in the zone of a session, which says nothing of them.
            made.isetitem(place, made.iloc[:, place].dt.tz_convert("UTC"))
    return made


def _bytes_of(rows: Sequence[Any]) -> int:
    """About how much memory rows take: texts by their lengths, all else as numbers."""
    total = 0
    for column in zip(*rows, strict=True):
        total += 16 * len(column)
        if not set(map(type, column)) <= _SHORT:
            total += sum(len(cell) for cell in column if isinstance(cell, str | bytes | list | dict))
    return total


def _interrupted(connection: Any) -> None:
    for word in ("interrupt", "cancel"):
        if callable(getattr(connection, word, None)):
            getattr(connection, word)()
            return


def from_database(
    source: str,
    sql: str | None,
    parameters: Mapping[str, Any] | None = None,
    *,
    read_only: bool = True,
    functions: Collection[str] | None = None,
) -> pd.DataFrame:
    """What a query of a database gives.

    Args:
        source: A SQLite file, or an address such as "postgresql://user@host/cellar".
        sql: The query.
        parameters: Values of its places, written :name.
        read_only: Whether the query may change nothing: the database is asked to hold it to that, and all is rolled back.
        functions: Those of SQLite that it may call besides the listed ones; None for any.

    Raises:
        DataError: There is no such database, the query fails, or it takes more time or memory than it may.
    """
    import pandas as pd
    import sqlalchemy

    address, refused = _address(source), list[str]()
    if read_only and sql is not None:
        must_ask(sql)
    try:
        engine = _engine(address, read_only)
    except (sqlalchemy.exc.ArgumentError, sqlalchemy.exc.NoSuchModuleError, ModuleNotFoundError) as problem:
        raise DataError(f"read: {_shown(address)} can't be opened: {problem}") from problem
    try:
        with engine.connect() as connection:
            if sql is None:
                tables = sqlalchemy.inspect(connection).get_table_names()
                raise DataError(f"read: {_shown(address)} is a database, so a query is needed", f"tables: {listed(tables)}")
            named = with_parameters(sql, parameters, ":", "read")
            if read_only:
                _locked(connection, functions, refused)
            answered, ended = partial(_answered, connection, named, parameters), partial(_ended, connection)
            try:
                found = within_limit(answered, ended, "read", LIMITS.get().seconds, DataError)
            except sqlalchemy.exc.ResourceClosedError:
                # A statement that gives no rows, such as an update.
                if read_only:
                    raise
                found = pd.DataFrame()
            if not read_only:
                connection.commit()
            return found
    except (sqlalchemy.exc.SQLAlchemyError, pd.errors.DatabaseError) as problem:
        said = str(getattr(problem, "orig", None) or problem).split("\n")[0]
        if refused:
            must_be_allowed(refused[0], None, SQLITE, "read", functions or (), DataError)
        if "not authorized" in said:
            raise DataError("read: the query asks for more than reading of its database", MAY_WRITE) from problem
        raise DataError(f"read: the query fails: {said[:200]}") from problem
    finally:
        engine.dispose()


def tables_of(source: str) -> list[tuple[str, str]]:
    """The tables and views of a database, each with its schema, "" for that in which a bare name is looked up.

    Raises:
        DataError: It can't be asked.
    """
    import sqlalchemy

    address = _address(source)
    found: list[tuple[str, str]] = []
    try:
        engine = _engine(address, True)
        try:
            with engine.connect() as connection:
                look = sqlalchemy.inspect(connection)
                usual = look.default_schema_name
                schemas = [name for name in look.get_schema_names() if name.lower() not in _OF_ENGINES]
                for schema in [None, *(name for name in schemas if name != usual)]:
                    found += [(schema or "", name) for name in (*look.get_table_names(schema), *look.get_view_names(schema))]
                found += [(str(usual), name) for schema, name in list(found) if not schema and usual]
        finally:
            engine.dispose()
    except (sqlalchemy.exc.SQLAlchemyError, ModuleNotFoundError) as problem:
        said = str(getattr(problem, "orig", None) or problem).split("\n")[0]
        raise DataError(f"read: {_shown(address)} can't be asked: {without_password(said)[:200]}") from problem
    return found


def _engine(address: sqlalchemy.engine.URL, read_only: bool) -> sqlalchemy.Engine:
    """What opens connections to a database; a file of SQLite so that nothing can be written."""
    import sqlalchemy

    file = address.database
    if not read_only or address.get_backend_name() != "sqlite" or not file or file == ":memory:":
        return sqlalchemy.create_engine(address)

    def opened() -> sqlite3.Connection:
        # The query runs in a thread of its own.
        return sqlite3.connect(f"{Path(file).absolute().as_uri()}?mode=ro", uri=True, check_same_thread=False)

    return sqlalchemy.create_engine("sqlite://", creator=opened, poolclass=sqlalchemy.pool.NullPool)


def _locked(connection: sqlalchemy.Connection, functions: Collection[str] | None, refused: list[str]) -> None:
    """Asks the database to refuse whatever would change it; what it does not refuse is rolled back when it is closed.

    Args:
        connection: An open one.
        functions: Those of SQLite that may be called besides the listed ones; None for any.
        refused: Takes the names of those that were not.
    """
    import sqlalchemy

    if connection.engine.url.get_backend_name() == "sqlite":
        held: Any = connection.connection.driver_connection
        held.set_authorizer(partial(_reads_alone, functions, refused))
    elif connection.engine.url.get_backend_name() in ("postgresql", "mysql", "mariadb"):
        connection.execute(sqlalchemy.text("SET TRANSACTION READ ONLY"))


def _reads_alone(
    functions: Collection[str] | None, refused: list[str], action: int, first: str | None, second: str | None, *_: str | None
) -> int:
    """Allows SQLite to read, and nothing else: no other file, no setting, no library, no change."""
    if action != _FUNCTION:
        return sqlite3.SQLITE_OK if action in _READING else sqlite3.SQLITE_DENY
    name = (second or first or "").lower()
    if name == "load_extension":
        return sqlite3.SQLITE_DENY
    if functions is not None and name not in SQLITE and name not in functions:
        refused.append(name)
        return sqlite3.SQLITE_DENY
    return sqlite3.SQLITE_OK


def _address(source: str) -> sqlalchemy.engine.URL:
    import sqlalchemy

    if "://" not in source:
        address = sqlalchemy.engine.URL.create("sqlite", database=source)
    else:
        try:
            address = sqlalchemy.make_url(source)
        except (sqlalchemy.exc.ArgumentError, ValueError) as problem:
            raise DataError("read: that is no address of a database", 'such as "postgresql://user@host/cellar"') from problem
    file = address.database
    # SQLite makes a file that is not there, and an empty database has nothing to say.
    if address.get_backend_name() == "sqlite" and file and file != ":memory:" and not Path(file).is_file():
        raise DataError(f"read: no file {file!r}")
    return address


def _shown(address: sqlalchemy.engine.URL) -> str:
    """An address as it may be printed: without its password."""
    return repr(
        address.database
        if address.get_backend_name() == "sqlite"
        else without_password(address.render_as_string(hide_password=True))
    )


def _answered(connection: sqlalchemy.Connection, sql: str, parameters: Mapping[str, Any] | None) -> pd.DataFrame:
    """The rows of a connection of SQLAlchemy."""
    import sqlalchemy

    streamed = connection.execution_options(stream_results=True)
    found = streamed.execute(sqlalchemy.text(_plainly_quoted(sql)), dict(parameters or {}))
    names = list(found.keys())
    return _gathered(lambda count: list(map(tuple, found.fetchmany(count))), names)


def _plainly_quoted(sql: str) -> str:
    """A query whose quoted texts hold no places for values: SQLAlchemy would see them there too."""
    return QUOTED.sub(lambda found: _PLACE.sub(r"\\:", found[0]), sql)


def _ended(connection: sqlalchemy.Connection) -> None:
    """Tells the database to end the query, in the word that its driver has for it; without one it is left to itself."""
    _interrupted(connection.connection.driver_connection)
