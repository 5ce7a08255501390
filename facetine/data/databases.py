"""Databases by their address: one query, within bounds of time and memory, and what was opened is closed."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.data.sql import LIMITS, QUOTED, memory_bytes, with_parameters, within_limit
from facetine.data.suffixes import DATABASES
from facetine.errors import DataError, listed

if TYPE_CHECKING:
    import pandas as pd
    import sqlalchemy

_ROWS_AT_ONCE = 50_000
_MAY_WRITE = "ft.read(read_only=False) lets a query of yours change its database"
_ASKS = re.compile(r"(?:\s|--[^\n]*\n|/\*(?:(?!/\*|\*/).)*\*/|\()*(?:select|with|values|table)\b", re.IGNORECASE | re.DOTALL)
_WORD = re.compile(r"\w+")
_WRITES = re.compile(r"\binto\s+(?:outfile|dumpfile)\b", re.IGNORECASE)
_FUNCTION = 31
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
    import pandas as pd

    cursor = connection.cursor()
    cursor.execute(sql, dict(parameters)) if parameters else cursor.execute(sql)
    names = [column[0] for column in cursor.description or ()]
    return pd.DataFrame.from_records(cursor.fetchall(), columns=names)


def _interrupted(connection: Any) -> None:
    for word in ("interrupt", "cancel"):
        if callable(getattr(connection, word, None)):
            getattr(connection, word)()
            return


def from_database(
    source: str, sql: str | None, parameters: Mapping[str, Any] | None = None, *, read_only: bool = True
) -> pd.DataFrame:
    """What a query of a database gives.

    Args:
        source: A SQLite file, or an address such as "postgresql://user@host/cellar".
        sql: The query.
        parameters: Values of its places, written :name.
        read_only: Whether the query may change nothing: the database is asked to hold it to that, and all is rolled back.

    Raises:
        DataError: There is no such database, the query fails, or it takes more time or memory than it may.
    """
    import pandas as pd
    import sqlalchemy

    address = _address(source)
    if read_only and sql is not None:
        _must_ask(sql)
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
                _locked(connection)
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
        if "not authorized" in said:
            raise DataError("read: the query asks for more than reading of its database", _MAY_WRITE) from problem
        raise DataError(f"read: the query fails: {said[:200]}") from problem
    finally:
        engine.dispose()


def _must_ask(sql: str) -> None:
    """Takes a query that is one question, before any database sees it.

    What a server makes of quotes and remarks differs, so no semicolon is allowed but the last, wherever it stands.

    Raises:
        DataError: It is several statements, or one that is no question.
    """
    if ";" in sql.strip().rstrip(";").rstrip():
        raise DataError("read: the query has a semicolon in it, and may be several", "a text with one goes into parameters=")
    if _ASKS.match(sql) is None:
        word = _WORD.search(sql)
        raise DataError(f"read: a query asks, and this one begins with {word[0] if word else 'nothing'!r}", _MAY_WRITE)
    if writes := _WRITES.search(sql):
        raise DataError(f"read: the query writes a file: {writes[0]}", "a query asks alone")


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


def _locked(connection: sqlalchemy.Connection) -> None:
    """Asks the database to refuse whatever would change it; what it does not refuse is rolled back when it is closed."""
    import sqlalchemy

    if connection.engine.url.get_backend_name() == "sqlite":
        held: Any = connection.connection.driver_connection
        held.set_authorizer(_reads_alone)
    elif connection.engine.url.get_backend_name() in ("postgresql", "mysql", "mariadb"):
        connection.execute(sqlalchemy.text("SET TRANSACTION READ ONLY"))


def _reads_alone(action: int, first: str | None, second: str | None, *_: str | None) -> int:
    """Allows SQLite to read, and nothing else: no other file, no setting, no library, no change."""
    loads = action == _FUNCTION and (second or first or "").lower() == "load_extension"
    return sqlite3.SQLITE_OK if action in _READING and not loads else sqlite3.SQLITE_DENY


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
    return repr(address.database if address.get_backend_name() == "sqlite" else address.render_as_string(hide_password=True))


def _answered(connection: sqlalchemy.Connection, sql: str, parameters: Mapping[str, Any] | None) -> pd.DataFrame:
    """The rows, fetched in parts, so that a result which has no place in memory ends as an error."""
    import pandas as pd
    import sqlalchemy

    limits = LIMITS.get()
    most, taken, parts = memory_bytes(limits.memory), 0, []
    rows = connection.execution_options(stream_results=True)
    for part in pd.read_sql_query(sqlalchemy.text(_plainly_quoted(sql)), rows, params=parameters, chunksize=_ROWS_AT_ONCE):
        parts.append(part)
        taken += int(part.memory_usage(deep=True).sum())
        if taken > most:
            raise DataError(f"read: the query gives more than {limits.memory}", "set_defaults(query_memory=…) gives it more")
    full = [part for part in parts if len(part)] or parts[:1]
    return pd.concat(full, ignore_index=True) if full else pd.DataFrame()


def _plainly_quoted(sql: str) -> str:
    """A query whose quoted texts hold no places for values: SQLAlchemy would see them there too."""
    return QUOTED.sub(lambda found: _PLACE.sub(r"\\:", found[0]), sql)


def _ended(connection: sqlalchemy.Connection) -> None:
    """Tells the database to end the query, in the word that its driver has for it; without one it is left to itself."""
    _interrupted(connection.connection.driver_connection)
