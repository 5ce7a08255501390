"""Databases by their address: one query, within bounds of time and memory, and what was opened is closed."""

from __future__ import annotations

import contextlib
import re
import sqlite3
import threading
from collections.abc import Collection, Mapping
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.core.arrays import AnyArray
from facetine.data.addresses import without_password
from facetine.data.allowed import SQLITE, must_be_allowed
from facetine.data.counted import Counted
from facetine.data.gathered import gathered
from facetine.data.questions import MAY_WRITE, must_ask
from facetine.data.sql import LIMITS, QUOTED, with_parameters, within_limit
from facetine.data.suffixes import DATABASES
from facetine.messages.errors import DataError, FacetineError, listed
from facetine.messages.errors import late as late_error

if TYPE_CHECKING:
    import sqlalchemy

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


def from_connection(
    connection: Any, sql: str | None, parameters: Mapping[str, Any] | None = None, counted: Counted | None = None
) -> dict[str, AnyArray]:
    """What a query gives on a connection that is open, and stays so.

    Raises:
        DataError: There is no query, or it fails; or, of SQLAlchemy, takes more time or memory than it may.
        OptionError: A value is given for which the query has no place.
    """
    import sqlalchemy

    if sql is None:
        raise DataError("read", "a connection is a database, so a query is needed", 'sql="SELECT …"')
    if isinstance(connection, sqlalchemy.Engine):
        with connection.connect() as opened:
            return from_connection(opened, sql, parameters, counted)
    named = with_parameters(sql, parameters, "$" if type(connection).__module__.startswith("_duckdb") else ":", "read")
    try:
        if not isinstance(connection, sqlalchemy.Connection):
            # It may belong to this thread alone, in which nothing could end it.
            return _fetched(connection, named, parameters, counted)
        answered, ended = partial(_answered, connection, named, parameters, counted), partial(_ended, connection)
        return _rows(within_limit(answered, ended, "read", LIMITS.get().seconds, DataError))
    except DataError:
        raise
    except Exception as problem:
        said = str(getattr(problem, "orig", None) or problem).split("\n")[0]
        raise DataError("read", f"the query fails: {said[:200]}") from problem


def _fetched(connection: Any, sql: str, parameters: Mapping[str, Any] | None, counted: Counted | None) -> dict[str, AnyArray]:
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
        return gathered(cursor.fetchmany, [column[0] for column in cursor.description or ()], counted)
    except Exception as problem:
        if late and not isinstance(problem, FacetineError):
            said = f"the query took longer than {seconds:g} seconds and was ended"
            raise late_error(DataError("read", said, "set_defaults(query_seconds=…) gives it more")) from problem
        raise
    finally:
        watch.cancel()


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
    counted: Counted | None = None,
) -> dict[str, AnyArray]:
    """What a query of a database gives.

    Args:
        source: A SQLite file, or an address such as "postgresql://user@host/cellar".
        sql: The query.
        parameters: Values of its places, written :name.
        read_only: Whether the query may change nothing: the database is asked to hold it to that, and all is rolled back.
        functions: Those of SQLite that it may call besides the listed ones; None for any.
        counted: Says on the screen how many rows have come.

    Returns:
        Arrays of shape (n,), as `gathered` gives them.

    Raises:
        DataError: There is no such database, the query fails, or it takes more time or memory than it may.
    """
    import sqlalchemy

    address, refused = _address(source), list[str]()
    if read_only and sql is not None:
        must_ask(sql)
    try:
        engine = _engine(address, read_only)
    except (sqlalchemy.exc.ArgumentError, sqlalchemy.exc.NoSuchModuleError, ModuleNotFoundError) as problem:
        raise DataError("read", f"{_shown(address)} can't be opened: {problem}") from problem
    try:
        with engine.connect() as connection:
            if sql is None:
                tables = sqlalchemy.inspect(connection).get_table_names()
                raise DataError("read", f"{_shown(address)} is a database, so a query is needed", f"tables: {listed(tables)}")
            named = with_parameters(sql, parameters, ":", "read")
            if read_only:
                _locked(connection, functions, refused)
            if not read_only:
                # A statement that changes something may give no rows.
                found = _answered(connection, named, parameters, counted, kept=True)
                return found or {}
            answered, ended = partial(_answered, connection, named, parameters, counted), partial(_ended, connection)
            return _rows(within_limit(answered, ended, "read", LIMITS.get().seconds, DataError))
    except FacetineError:
        raise
    except Exception as problem:
        said = str(getattr(problem, "orig", None) or problem).split("\n")[0]
        if refused:
            must_be_allowed(refused[0], None, SQLITE, "read", functions or (), DataError)
        if "not authorized" in said:
            raise DataError("read", "the query asks for more than reading of its database", MAY_WRITE) from problem
        raise DataError("read", f"the query fails: {said[:200]}") from problem
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
        raise DataError("read", f"{_shown(address)} can't be asked: {without_password(said)[:200]}") from problem
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
            raise DataError("read", "that is no address of a database", 'such as "postgresql://user@host/cellar"') from problem
    file = address.database
    # SQLite makes a file that is not there, and an empty database has nothing to say.
    if address.get_backend_name() == "sqlite" and file and file != ":memory:" and not Path(file).is_file():
        raise DataError("read", f"no file {file!r}")
    return address


def _shown(address: sqlalchemy.engine.URL) -> str:
    """An address as it may be printed: without its password."""
    return repr(
        address.database
        if address.get_backend_name() == "sqlite"
        else without_password(address.render_as_string(hide_password=True))
    )


def _answered(
    connection: sqlalchemy.Connection, sql: str, parameters: Mapping[str, Any] | None, counted: Counted | None, kept: bool = False
) -> dict[str, AnyArray] | None:
    """The rows of a connection of SQLAlchemy, as its driver gives them; None for a statement that gives none.

    Args:
        connection: An open one.
        sql: The query, with its places as :name.
        parameters: Their values.
        counted: Says on the screen how many rows have come.
        kept: Whether what the statement changes is kept.
    """
    import sqlalchemy

    compiled: Any = sqlalchemy.text(_plainly_quoted(sql)).compile(dialect=connection.dialect)
    values = compiled.construct_params(dict(parameters or {}))
    driver: Any = connection.connection.driver_connection
    cursor = driver.cursor() if kept else _cursor(driver)
    try:
        cursor.execute(str(compiled), tuple(values[name] for name in compiled.positiontup) if compiled.positional else values)
        names = None if cursor.description is None else [str(column[0]) for column in cursor.description]
        found = None if names is None else gathered(cursor.fetchmany, names, counted)
        if kept:
            driver.commit()
        return found
    finally:
        with contextlib.suppress(Exception):
            cursor.close()


def _cursor(driver: Any) -> Any:
    """A cursor that leaves rows with the server until they are fetched, where the driver has one."""
    maker = type(driver).__module__.partition(".")[0]
    if maker in ("psycopg", "psycopg2"):
        cursor = driver.cursor() if driver.autocommit else driver.cursor(name="facetine")
        if maker == "psycopg":
            # Decimals would be made floats one by one.
            cursor.adapters.register_loader("numeric", import_module("psycopg.types.numeric").FloatLoader)
        return cursor
    if maker == "pymysql":
        return driver.cursor(import_module("pymysql.cursors").SSCursor)
    return driver.cursor()


def _plainly_quoted(sql: str) -> str:
    """A query whose quoted texts hold no places for values: SQLAlchemy would see them there too."""
    return QUOTED.sub(lambda found: _PLACE.sub(r"\\:", found[0]), sql)


def _rows(found: dict[str, AnyArray] | None) -> dict[str, AnyArray]:
    """What a query gave.

    Raises:
        DataError: It gave no rows, and no columns either.
    """
    if found is None:
        raise DataError("read", "the query gives no rows", 'such as "SELECT * FROM wheels"')
    return found


def _ended(connection: sqlalchemy.Connection) -> None:
    """Tells the database to end the query, in the word that its driver has for it; without one it is left to itself."""
    _interrupted(connection.connection.driver_connection)
