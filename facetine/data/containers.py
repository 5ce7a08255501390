"""Files that hold a table in another way than as lines: packed, in a workbook, in columns as memory has them, in a database."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray, in_zone, zone_of
from facetine.data.databases import from_database
from facetine.data.deferred import Deferred
from facetine.data.sql import LIMITS, answer, engine_bounds, held_answer, memory_bytes, must_have_room, named, shut
from facetine.data.suffixes import ARROW, BOOKS, DUCK
from facetine.data.workbooks import sheet_columns
from facetine.errors import DataError, FacetineError, MappingError, note, unknown

_PIECE = 1 << 20
_STREAM, _OLD = b"\xff\xff\xff\xff", b"FEA1"
"""What Arrow streams, and files of the first version, begin with."""


def held_columns(file: Path, part: str | None, where: str) -> dict[str, AnyArray]:
    """The columns of a workbook's sheet, an Arrow file, or a table of a database.

    Args:
        file: One of the suffixes of HELD.
        part: A sheet, a range or a table; the first sheet, or the only table, where it is None.
        where: Who asks, for the error.

    Raises:
        DataError: It holds no such table.
    """
    suffix = file.suffix.lower()
    if suffix in BOOKS:
        columns, notes = sheet_columns(file, part, where)
        note(notes)
        return columns
    if suffix in ARROW:
        return _of_arrow(file, where)
    return database_columns(file, part, None, None, where)


def database_columns(
    file: Path, table: str | None, sql: str | None, parameters: Mapping[str, Any] | None, where: str
) -> dict[str, AnyArray]:
    """A table of a database that is one file, or what a query of it gives.

    Raises:
        DataError: It is none, has no such table, or several where none is said; or the query fails.
    """
    asked = f"SELECT * FROM {_table_of(file, table, where)}" if sql is None else sql
    if _holds_duck(file):
        return _of_duck(file, asked, parameters, where)
    return arrays_of(from_database(str(file), asked, parameters))


def arrays_of(frame: Any) -> dict[str, AnyArray]:
    """The columns of a pandas frame as arrays."""
    return {str(name): _array_of(frame[name]) for name in frame.columns}


def _array_of(series: Any) -> AnyArray:
    zone = getattr(series.dtype, "tz", None)
    if zone is None:
        plain: AnyArray = series.to_numpy()
        return plain
    return in_zone(series.dt.tz_convert("UTC").dt.tz_localize(None).to_numpy(), str(zone))


def _holds_duck(file: Path) -> bool:
    return file.suffix.lower() in DUCK or is_duck(file)


def _table_of(file: Path, table: str | None, where: str) -> str:
    """The table of a database that is meant, as a query names it.

    Raises:
        DataError: There is no such table, or there are several where none is said.
    """
    tables = _tables_of_duck(file, where) if _holds_duck(file) else _tables_of_sqlite(file, where)
    if table is None and len(tables) != 1:
        some = ", ".join(tables[:8])
        first = f"{file.name}#{tables[0]}" if tables else "a file with a table"
        raise DataError(f"{where}: {file.name} holds {len(tables) or 'no'} tables: {some}", f"one of them: {first}")
    if table is not None and table not in tables:
        raise unknown(DataError, f"{where}: {file.name}", "no table", table, tables, "tables")
    return named(table or tables[0])


def deferred_held(file: Path, part: str | None, where: str, expected: Container[str]) -> Deferred | None:
    """The columns of an Arrow file, or of a table of a database, read when they are asked for; None for a workbook.

    Raises:
        DataError: It holds no such table.
    """
    suffix = file.suffix.lower()
    if suffix in BOOKS:
        return None
    if suffix in ARROW:
        return Deferred(_names_of_arrow(file, where), lambda some: _of_arrow(file, where, some), where, expected=expected)
    table = _table_of(file, part, where)
    ask: Callable[[str], dict[str, AnyArray]]
    if _holds_duck(file):
        ask = partial(_of_duck, file, parameters=None, where=where)
    else:
        ask = lambda sql: arrays_of(from_database(str(file), sql, None))  # noqa: E731
    return deferred_table(ask, table, where, expected)


def deferred_table(ask: Callable[[str], Mapping[str, AnyArray]], table: str, where: str, expected: Container[str]) -> Deferred:
    """The columns of a table of a database, read when they are asked for.

    Args:
        ask: Runs a query.
        table: The table, as a query names it.
        where: Who asks, for the error.
        expected: Columns that are likely to be asked for.
    """

    def fetch(names: Sequence[str]) -> Mapping[str, AnyArray]:
        return ask(f"SELECT {', '.join(map(named, names))} FROM {table}")

    return Deferred(list(ask(f"SELECT * FROM {table} WHERE 1 = 0")), fetch, where, expected=expected, ordered=False)


def _tables_of_sqlite(file: Path, where: str) -> list[str]:
    import sqlite3

    asked = "SELECT name FROM sqlite_master WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite_%' ORDER BY name"
    try:
        opened = sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)
        try:
            return [row[0] for row in opened.execute(asked)]
        finally:
            opened.close()
    except sqlite3.Error as problem:
        raise DataError(f"{where}: {file.name} is no database that can be read: {problem}") from problem


def _tables_of_duck(file: Path, where: str) -> list[str]:
    return [
        str(name)
        for name in _of_duck(
            file, "SELECT table_name FROM information_schema.tables WHERE table_catalog <> 'temp' ORDER BY 1", None, where
        )["table_name"]
    ]


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
        raise DataError(f"{where}: the query of {file.name} fails: {said[:200]}") from problem
    except MappingError as problem:
        raise DataError(problem.headline, problem.detail) from problem


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
        raise DataError(f"{where}: {file.name} needs pyarrow to be read", 'python -m pip install "facetine[data]"') from problem
    try:
        with file.open("rb") as stream:
            start = stream.read(4)
        yield pa, start
    except (pa.ArrowException, OSError, ValueError, duckdb.Error) as problem:
        raise DataError(
            f"{where}: {file.name} is no Arrow file that can be read: {str(problem).splitlines()[0][:120]}"
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
                        said = f"{where}: {file.name} unpacks to more than {memory}"
                        raise DataError(said, "set_defaults(query_memory=…) gives it more")
                    target.write(piece)
        except FacetineError:
            raise
        except Exception as problem:
            raise DataError(f"{where}: {file.name} can't be unpacked: {problem}") from problem
        yield plain


def _opened(file: Path, where: str) -> Any:
    if file.suffix.lower() == ".gz":
        import gzip

        return gzip.open(file)
    try:
        import zstandard
    except ImportError as problem:
        raise DataError(f"{where}: {file.name} needs zstandard to be read", 'python -m pip install "facetine[data]"') from problem
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
        raise DataError(f"{where}: names={column!r} is a column already", "another name for that of the files")
    for file, part in zip(files, parts, strict=True):
        if set(part) != set(names):
            odd = sorted(set(part) ^ set(names))[0]
            raise DataError(
                f"{where}: {file.name} and {files[0].name} have other columns, such as {odd!r}", "read them one at a time"
            )
    together: Any = np.ma.concatenate
    made = {name: together([part[name] for part in parts]) for name in names}
    table = {name: array if np.ma.getmask(array) is not np.ma.nomask else np.asarray(array) for name, array in made.items()}
    table |= {name: in_zone(table[name], zone) for name in names if (zone := zone_of(parts[0][name])) is not None}
    if column is None:
        return table
    counts = [len(part[names[0]]) for part in parts]
    return {**table, column: np.repeat(np.array([file.name.partition(".")[0] for file in files], object), counts)}
