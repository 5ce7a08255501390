"""Files that hold a table in another way than as lines: packed, in a workbook, in columns as memory has them, in a database."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray, in_zone, zone_of
from facetine.data.cells import taken_columns
from facetine.data.databases import from_database
from facetine.data.deferred import Deferred
from facetine.data.dialect import UNTOLD, Told
from facetine.data.roworder import rank_order
from facetine.data.sql import LIMITS, answer, engine_bounds, held_answer, memory_bytes, must_have_room, named, shut
from facetine.data.suffixes import ARROW, BOOKS, DUCK
from facetine.data.table import no_column
from facetine.data.workbooks import sheet_columns
from facetine.messages.errors import DataError, FacetineError, MappingError, note, unknown

_PIECE = 1 << 20
_STREAM, _OLD = b"\xff\xff\xff\xff", b"FEA1"
"""What Arrow streams, and files of the first version, begin with."""


def held_columns(file: Path, part: str | None, where: str, told: Told = UNTOLD) -> dict[str, AnyArray]:
    """The columns of a workbook's sheet, an Arrow file, or a table of a database; what is to be told of them is told.

    Args:
        file: One of the suffixes of HELD.
        part: A sheet, a range or a table; the first sheet, or the only table, where it is None.
        where: Who asks, for the error.
        told: What the analyst says of it.

    Raises:
        DataError: It holds no such table.
    """
    suffix = file.suffix.lower()
    if suffix in BOOKS:
        columns, notes = sheet_columns(file, part, where, told)
        note(notes)
        return columns
    if suffix in ARROW:
        columns, notes = taken_columns(_of_arrow(file, where), told, typed=True)
        told.must_know(columns, where)
        note(notes)
        return columns
    return database_columns(file, part, None, None, where, told)


def database_columns(
    file: Path,
    table: str | None,
    sql: str | None,
    parameters: Mapping[str, Any] | None,
    where: str,
    told: Told = UNTOLD,
) -> dict[str, AnyArray]:
    """A table of a database that is one file, or what a query of it gives; what is to be told of it is told.

    Raises:
        DataError: It is none, has no such table, or several where none is said; or the query fails.
    """
    asked = f"SELECT * FROM {_table_of(file, table, where)}" if sql is None else sql
    columns = _of_duck(file, asked, parameters, where) if _holds_duck(file) else from_database(str(file), asked, parameters)
    return told_columns(columns, told, file.name, where)


def told_columns(columns: Mapping[str, AnyArray], told: Told, name: str, where: str) -> dict[str, AnyArray]:
    """The columns of a database, taken as those of all sources are; what is to be told of them is told.

    Args:
        columns: As its driver gives them.
        told: What the analyst says of them.
        name: What the database is called.
        where: Who asks, for the error.

    Raises:
        MappingError: Something is said of a column that there is not.
    """
    told.must_know(columns, where)
    made, notes = taken_columns(columns, told)
    note(f"{name}: {one}" for one in notes)
    return made


def _holds_duck(file: Path) -> bool:
    return file.suffix.lower() in DUCK or is_duck(file)


def _table_of(file: Path, table: str | None, where: str) -> str:
    """The table of a database that is meant, as a query names it.

    Raises:
        DataError: There is no such table, or there are several where none is said.
    """
    there = _tables_of_duck(file, where) if _holds_duck(file) else _tables_of_sqlite(file, where)
    tables = said_tables(there)
    if table is None and len(tables) != 1:
        some = ", ".join(tables[:8])
        first = f"{file.name}#{tables[0]}" if tables else "a file with a table"
        raise DataError(where, f"{file.name} holds {len(tables) or 'no'} tables: {some}", f"one of them: {first}")
    return named_table(table or tables[0], there, f"{where}: {file.name}", catalog_of(there) if _holds_duck(file) else "")


def named_table(table: str, there: Sequence[tuple[str, str]], where: str, catalog: str = "") -> str:
    """A table as a query names it: by itself, or with its schema before a point.

    Args:
        table: As the analyst calls it.
        there: Schemas and names of all tables, "" for the schema in which a bare name is looked up.
        where: Who asks, for the error.
        catalog: The database, where a schema may have its name.

    Raises:
        DataError: There is none of that name.
    """
    for schema, name in there:
        if schema != _CATALOG and table == (f"{schema}.{name}" if schema else name):
            whole = [catalog, schema, name] if schema and catalog else [schema, name] if schema else [name]
            return ".".join(map(named, whole))
    raise unknown(DataError, where, "no table", table, said_tables(there), "tables")


def said_tables(there: Sequence[tuple[str, str]]) -> list[str]:
    """Tables as an analyst calls them: with their schema where a bare name does not find them."""
    bare = [name for schema, name in there if not schema]
    return [*bare, *(f"{schema}.{name}" for schema, name in there if schema not in ("", _CATALOG) and name not in bare)]


_CATALOG = "\0catalog"
"""Stands for a schema where the database itself is named."""


def catalog_of(there: Sequence[tuple[str, str]]) -> str:
    """The name that DuckDB gives a file, among its tables; "" where it has none."""
    return next((name for schema, name in there if schema == _CATALOG), "")


def deferred_held(file: Path, part: str | None, where: str, expected: Container[str], told: Told = UNTOLD) -> Deferred | None:
    """The columns of an Arrow file, or of a table of a database, read when they are asked for; None for a workbook.

    Raises:
        DataError: It holds no such table.
    """
    suffix = file.suffix.lower()
    if suffix in BOOKS:
        return None
    if suffix in ARROW:
        names = _names_of_arrow(file, where)
        told.must_know(names, where)
        some = lambda some: taken_columns(_of_arrow(file, where, some), told, typed=True)[0]  # noqa: E731
        return Deferred(names, some, where, expected=expected)
    table = _table_of(file, part, where)
    ask: Callable[[str], dict[str, AnyArray]]
    if _holds_duck(file):
        ask = partial(_of_duck, file, parameters=None, where=where)
    else:
        ask = lambda sql: from_database(str(file), sql, None)  # noqa: E731
    return deferred_table(ask, table, where, expected, file.name, told)


def deferred_table(
    ask: Callable[[str], Mapping[str, AnyArray]],
    table: str,
    where: str,
    expected: Container[str],
    name: str,
    told: Told = UNTOLD,
    by: Sequence[str] | None = None,
) -> Deferred:
    """The columns of a table of a database, read when they are asked for.

    Args:
        ask: Runs a query.
        table: The table, as a query names it.
        where: Who asks, for the error.
        expected: Columns that are likely to be asked for.
        name: What the database is called.
        told: What the analyst says of the table.
        by: The columns by which rows are sorted first, and by all others after these; None for rows as they come, as those of a
            file do.

    Raises:
        MappingError: Something is said of a column that there is not.
    """
    known = list(ask(f"SELECT * FROM {table} WHERE 1 = 0"))
    told.must_know(known, where)
    for column in by or ():
        if column not in known:
            raise no_column(column, known, where, "row_order")
    keys = [*by, *(column for column in known if column not in by)] if by is not None else []

    def fetch(names: Sequence[str]) -> Mapping[str, AnyArray]:
        made, notes = taken_columns(_in_order(ask, table, names, by or (), keys), told)
        note(f"{name}: {one}" for one in notes)
        return made

    return Deferred(known, fetch, where, expected=expected, ordered=False)


def _in_order(
    ask: Callable[[str], Mapping[str, AnyArray]], table: str, names: Sequence[str], by: Sequence[str], keys: Sequence[str]
) -> Mapping[str, AnyArray]:
    """Some columns of a table, its rows in the order of all of them: a database gives them in any, and not always in the same."""
    asked = f"SELECT {', '.join(map(named, names))} FROM {table}"
    # A column of a view that is not needed may fail, and values of some sorts have no order in some databases.
    least = [*by, *(name for name in names if name not in by)]
    for some in (keys, least) if keys else ():
        try:
            return ask(f"{asked} ORDER BY {', '.join(map(named, some))}")
        except DataError as problem:
            if problem.late:
                raise
    columns = ask(asked)
    if not keys:
        return columns
    order = rank_order([columns[name] for name in names])
    return {name: columns[name][order] for name in names}


def _tables_of_sqlite(file: Path, where: str) -> list[tuple[str, str]]:
    import sqlite3

    asked = "SELECT name FROM sqlite_master WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite_%' ORDER BY name"
    try:
        opened = sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)
        try:
            names = [str(row[0]) for row in opened.execute(asked)]
        finally:
            opened.close()
    except sqlite3.Error as problem:
        raise DataError(where, f"{file.name} is no database that can be read: {problem}") from problem
    return [("", name) for name in names] + [("main", name) for name in names]


TABLES_OF_DUCK = (
    'SELECT schema, name AS "table" FROM (SELECT table_schema AS schema, table_name AS name FROM information_schema.tables '
    "WHERE table_catalog NOT IN ('temp', 'system') UNION ALL SELECT '', table_name FROM information_schema.tables "
    "WHERE table_schema = 'main' AND table_catalog NOT IN ('temp', 'system') "
    "UNION ALL SELECT chr(0) || 'catalog', current_database()) ORDER BY ALL"
)
"""Asks a DuckDB file for its tables, each with its schema."""


def _tables_of_duck(file: Path, where: str) -> list[tuple[str, str]]:
    said = _of_duck(file, TABLES_OF_DUCK, None, where)
    return list(zip(map(str, said["schema"]), map(str, said["table"]), strict=True))


def _of_duck(file: Path, sql: str, parameters: Mapping[str, Any] | None, where: str) -> dict[str, AnyArray]:
    """What a query of a DuckDB file gives, which can reach nothing else."""
    import duckdb

    from facetine.data.sql import with_parameters

    try:
        with duckdb.connect(str(file), read_only=True, config=engine_bounds()) as connection:
            shut(connection)
            return held_answer(connection, with_parameters(sql, parameters, "$", where), where, parameters)
    except duckdb.Error as problem:
        said = str(problem).split("\n")[0].replace(str(file), file.name)
        raise DataError(where, f"the query of {file.name} fails: {said[:200]}") from problem
    except MappingError as problem:
        raise problem.but(DataError) from problem


def _of_arrow(file: Path, where: str, only: Sequence[str] | None = None) -> dict[str, AnyArray]:
    """The columns of an Arrow file or stream, or some of them."""
    import duckdb

    with _arrow(file, where) as (pa, start):
        if start == _STREAM:
            with pa.memory_map(str(file)) as mapped:
                table = pa.ipc.open_stream(mapped).read_all()
        else:
            table = pa.feather.read_table(str(file), columns=None if only is None else list(only), memory_map=True)
        with duckdb.connect(config={"enable_external_access": "false"}) as connection:
            connection.register("given", table)
            columns = "*" if only is None else ", ".join(map(named, only))
            must_have_room(connection, f"SELECT {columns} FROM given", where)
            found = answer(connection, f"SELECT {columns} FROM given", where, bounded=False)
        zones = {
            name: str(zone)
            for name, zone in ((name, getattr(table.schema.field(name).type, "tz", None)) for name in found)
            if zone
        }
        return found | {name: in_zone(found[name], zone) for name, zone in zones.items()}


def _names_of_arrow(file: Path, where: str) -> list[str]:
    """The columns of an Arrow file or stream by name, of which no value is read."""
    with _arrow(file, where) as (pa, start):
        if start == _OLD:
            return [str(name) for name in pa.feather.read_table(str(file)).column_names]
        with pa.memory_map(str(file)) as mapped:
            opened = pa.ipc.open_stream(mapped) if start == _STREAM else pa.ipc.open_file(mapped)
            return [str(name) for name in opened.schema.names]


@contextmanager
def _arrow(file: Path, where: str) -> Iterator[tuple[Any, bytes]]:
    """The library that reads Arrow files, and what one begins with.

    Raises:
        DataError: The library is missing, or what is done meanwhile fails.
    """
    import duckdb

    try:
        import pyarrow as pa
        import pyarrow.feather
        import pyarrow.ipc
    except ImportError as problem:
        raise DataError(where, f"{file.name} needs pyarrow to be read", 'python -m pip install "facetine[data]"') from problem
    try:
        with file.open("rb") as stream:
            start = stream.read(4)
        yield pa, start
    except (pa.ArrowException, OSError, ValueError, duckdb.Error) as problem:
        raise DataError(
            where, f"{file.name} is no Arrow file that can be read: {str(problem).splitlines()[0][:120]}"
        ) from problem


def is_duck(file: Path) -> bool:
    """Whether a file is a database of DuckDB, whatever it is called."""
    try:
        with file.open("rb") as stream:
            return stream.read(12)[8:] == b"DUCK"
    except OSError:
        return False


@contextmanager
def unpacked(file: Path, where: str) -> Iterator[Path]:
    """A packed file as it was, for as long as the context lasts.

    Raises:
        DataError: It is damaged, or packed by a method that needs a package.
    """
    import tempfile

    memory = LIMITS.get().memory
    room = memory_bytes(memory)
    with tempfile.TemporaryDirectory(prefix="facetine-") as folder:
        plain = Path(folder) / file.stem
        try:
            with _opened(file, where) as source, plain.open("wb") as target:
                while piece := source.read(_PIECE):
                    room -= len(piece)
                    if room < 0:
                        said = f"{file.name} unpacks to more than {memory}"
                        raise DataError(where, said, "set_defaults(query_memory=…) gives it more")
                    target.write(piece)
        except FacetineError:
            raise
        except Exception as problem:
            raise DataError(where, f"{file.name} can't be unpacked: {problem}") from problem
        yield plain


def _opened(file: Path, where: str) -> Any:
    if file.suffix.lower() == ".gz":
        import gzip

        return gzip.open(file)
    try:
        import zstandard
    except ImportError as problem:
        raise DataError(where, f"{file.name} needs zstandard to be read", 'python -m pip install "facetine[data]"') from problem
    return zstandard.open(file)


def joined(parts: list[dict[str, AnyArray]], files: list[Path], column: str | None, where: str) -> dict[str, AnyArray]:
    """Tables as one, their rows following each other.

    Args:
        parts: The columns of each.
        files: Where they come from.
        column: One that holds the name of each row's file; None for none.
        where: Who asks, for the error.

    Raises:
        DataError: They have other columns, or one is called as the column of names.
    """
    names = list(parts[0])
    if column in names:
        raise DataError(where, f"names={column!r} is a column already", "another name for that of the files")
    for file, part in zip(files, parts, strict=True):
        if set(part) != set(names):
            odd = sorted(set(part) ^ set(names))[0]
            raise DataError(
                where, f"{file.name} and {files[0].name} have other columns, such as {odd!r}", "read them one at a time"
            )
    together: Any = np.ma.concatenate
    made = {name: together([part[name] for part in parts]) for name in names}
    table = {name: array if np.ma.getmask(array) is not np.ma.nomask else np.asarray(array) for name, array in made.items()}
    table |= {name: in_zone(table[name], zone) for name in names if (zone := zone_of(parts[0][name])) is not None}
    if column is None:
        return table
    counts = [len(part[names[0]]) for part in parts]
    return {**table, column: np.repeat(np.array([file.name.partition(".")[0] for file in files], object), counts)}
