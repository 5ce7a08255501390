"""Files and columns that a database in memory reads and asks: Parquet, JSON lines, and texts too large to be read here."""

from __future__ import annotations

import json
import os
from collections.abc import Collection, Container, Iterator, Mapping, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any, NamedTuple

from facetine.core.arrays import AnyArray, in_zone, with_none, zone_of
from facetine.data.cells import NULLS, Taken, objects, of_text, taken_columns
from facetine.data.deferred import Deferred
from facetine.data.delimited import cells_of, notes_of
from facetine.data.dialect import UNTOLD, Dialect, Told, decoded
from facetine.data.digits import Signs
from facetine.data.kinds import known_zone
from facetine.data.sniffing import dialect_of, ended
from facetine.data.sql import answer, engine_bounds, held_answer, must_have_room, named, only_reads, shut, with_parameters
from facetine.messages.errors import DataError, MappingError, note

_HEAD = 1 << 18


class Head(NamedTuple):
    """What the first lines of a text tell of it."""

    dialect: Dialect
    columns: dict[str, AnyArray]
    notes: list[str]
    told: Told
    """What the analyst says of it."""

    @property
    def signs(self) -> Signs:
        """How its numbers are written."""
        return Signs(self.dialect.decimal, self.dialect.thousands)

    @property
    def options(self) -> str:
        """How the database is told of it."""
        said = self.dialect
        options = {
            "delim": said.delimiter or "\x1f", "quote": said.quote, "escape": said.quote, "decimal_separator": said.decimal,
            "comment": said.comment,
        }  # fmt: skip
        text = [name for name, array in self.columns.items() if array.dtype == object]
        texts = ", ".join(f"{_quoted(name)}: 'VARCHAR'" for name in text)
        gone = ", ".join(map(_quoted, sorted({*NULLS, *self.told.absent})))
        written = [f"{option}={_quoted(value)}" for option, value in options.items() if value]
        written += [f"skip={said.skip}", f"header={str(said.header).lower()}", "sample_size=-1"]
        written += [f"nullstr=[{gone}]", f"names=[{', '.join(map(_quoted, self.columns))}]"]
        written += [f"types={{{texts}}}"] if texts else []
        # Dates in other orders than the international one come in as text, so that every reader of text decides alike.
        return f", {', '.join(written)}, dateformat='%Y-%m-%d'"


def head_of(file: Path, usual: str, told: Told, where: str) -> Head | None:
    """What the first lines of a text tell; None where the database has no way to be told so.

    Raises:
        DataError: It holds no table.
    """
    with file.open("rb") as stream:
        head = stream.read(_HEAD)
        stream.seek(-min(_HEAD, file.stat().st_size), os.SEEK_END)
        last = stream.read().rstrip(b"\r\n").rpartition(b"\n")[2].decode("latin-1")
    if b"\0" in head:
        # Letters of two bytes or more, or no text: it is read as a whole, and the error is found there.
        return None
    head = head[: head.rfind(b"\n") + 1] or head
    words, encoding = decoded(head, told.encoding, file.name, where)
    words = ended(words)
    dialect = dialect_of(words, encoding, told, usual, file.name, where)
    try:
        columns, said = cells_of(words, dialect, file.name, where)
    except DataError:
        # The head may end within a cell; the whole tells.
        return None
    first = words[: words.find("\n")]
    width = len(first.split(dialect.delimiter or "\n"))
    strange = dialect.thousands or dialect.names or dialect.escape or dialect.delimiter == " " or said
    hollow = any(line and not line.replace(dialect.delimiter, "").strip() for line in (first, last))
    mixed = 0 < words.count("\r\n") < words.count("\n")
    if strange or hollow or mixed or len(columns) != width or not dialect.header:
        return None
    told.must_know(columns, where)
    signs = Signs(dialect.decimal, dialect.thousands)
    made = {name: (of_text(cells, name, told, signs) or Taken(objects(cells))).array for name, cells in columns.items()}
    return Head(dialect, made, notes_of(dialect, told, file.name, usual), told)


def asked(
    columns: dict[str, AnyArray], sql: str, name: str, where: str, parameters: Mapping[str, Any] | None = None
) -> dict[str, AnyArray]:
    """What a query makes of columns, as their table.

    Raises:
        DataError: The query fails.
    """
    import duckdb

    table = {column: with_none(array) for column, array in columns.items()}
    instants = [f"{named(name)} AT TIME ZONE 'UTC' AS {named(name)}" for name, array in columns.items() if zone_of(array)]
    with duckdb.connect(config=engine_bounds()) as connection:
        connection.register("given", table)
        said = f"(SELECT * REPLACE ({', '.join(instants)}) FROM given)" if instants else "given"
        zones = {zone for array in columns.values() if (zone := zone_of(array)) is not None}
        return _queried(connection, _Source(said, []), sql, name, where, parameters, zones)


def from_files(
    files: Sequence[Path],
    suffix: str,
    where: str,
    sql: str | None,
    name: str,
    head: Head | None = None,
    parameters: Mapping[str, Any] | None = None,
    only: Sequence[str] | None = None,
    told: Told = UNTOLD,
) -> dict[str, AnyArray]:
    """The columns of files, or what a query makes of them; what is to be told of them is told.

    Args:
        files: Of one kind.
        suffix: Their ending.
        where: Who asks, for the error.
        sql: The query; None for all rows.
        name: What it calls the table.
        head: How texts are written.
        parameters: Values of the query's named places.
        only: The columns that are read; all where it is None.
        told: What the analyst says of them.

    Raises:
        DataError: They hold no table, or the query fails.
    """
    with _opened(files, suffix, where, head) as (connection, source):
        if head is None:
            told.must_know(source.columns, where)
        if sql is not None:
            beside = _zones_beside(connection, source.files[0]) if suffix == ".parquet" else {}
            return _queried(connection, source, sql, name, where, parameters, set(beside.values()))
        columns = source.listed(only)
        if suffix == ".parquet":
            must_have_room(connection, f"SELECT {columns} FROM {source.call} AS given", where)
        found = answer(connection, f"SELECT {columns} FROM {source.call} AS given", where, bounded=False)
        if head is not None:
            found = _with_codes(connection, source, found, where)
            found, notes = _as_texts(found, head)
        else:
            found, notes = taken_columns(found, told, typed=suffix == ".parquet")
        note(f"{said_of(files)}: {one}" for one in notes)
        zoned = [name for name, array in found.items() if zone_of(array) is not None]
        zones = _zones_beside(connection, source.files[0]) if zoned and suffix == ".parquet" else {}
        return found | {name: in_zone(found[name], zones[name]) for name in zoned if name in zones}


def _zones_beside(connection: Any, file: str) -> dict[str, str]:
    """The zones of columns that the maker of a Parquet file wrote beside them, for data frames: the format has none."""
    asked = "SELECT decode(value) FROM parquet_kv_metadata(?) WHERE decode(key) = 'pandas'"
    rows = connection.execute(asked, [file]).fetchall()
    try:
        said = json.loads(rows[0][0])["columns"] if rows else []
        return {str(one["field_name"]): one["metadata"]["timezone"] for one in said if (one["metadata"] or {}).get("timezone")}
    except (ValueError, KeyError, TypeError, AttributeError):
        return {}


def deferred_files(
    files: Sequence[Path],
    suffix: str,
    where: str,
    head: Head | None = None,
    expected: Container[str] = (),
    told: Told = UNTOLD,
) -> Deferred:
    """The columns of files, read when they are asked for.

    Args:
        files: Of one kind.
        suffix: Their ending.
        where: Who asks, for the error.
        head: How texts are written.
        expected: Columns that are likely to be asked for.
        told: What the analyst says of them.

    Raises:
        DataError: They hold no table; or, when a column is asked for, have changed.
    """
    before = list(map(_stamp, files))

    def fetch(names: Sequence[str]) -> dict[str, AnyArray]:
        columns = from_files(files, suffix, where, None, "", head, only=names, told=told)
        for file, stamp in zip(files, before, strict=True):
            if _stamp(file) != stamp:
                raise DataError(where, f"{file.name} changed while it was read", "read it again")
        return columns

    if head is not None:
        # How many lines there are only shows when they are read.
        return Deferred(list(head.columns), fetch, where, expected=expected)
    with _opened(files, suffix, where, head) as (connection, source):
        names = list(source.columns)
        told.must_know(names, where)
        ((height,),) = connection.execute(f"SELECT count(*) FROM {source.call}").fetchall()
    return Deferred(names, fetch, where, height=height, expected=expected)


def _stamp(file: Path) -> tuple[int, int]:
    """What changes when a file is written again."""
    try:
        found = file.stat()
    except OSError:
        return -1, -1
    return found.st_size, found.st_mtime_ns


class _Source(NamedTuple):
    """Files, as a query of the database names them."""

    call: str
    files: list[str]
    columns: Mapping[str, str] = {}
    """The columns by their names, each as a query has it; those of objects within objects have a point in their names."""

    def listed(self, only: Sequence[str] | None) -> str:
        """Some columns, or all, as a query lists them."""
        names = list(self.columns) if only is None else only
        return ", ".join(f"{self.columns.get(name, named(name))} AS {named(name)}" for name in names) or "*"


@contextmanager
def _opened(files: Sequence[Path], suffix: str, where: str, head: Head | None) -> Iterator[tuple[Any, _Source]]:
    """A database that reads files, which are closed at the end.

    Raises:
        DataError: They hold no table, or differ in their columns.
    """
    import duckdb

    call = "read_csv" if head is not None else "read_parquet" if suffix == ".parquet" else "read_json"
    options = head.options if head is not None else ", format='auto', maximum_object_size=16777216" if call == "read_json" else ""
    try:
        with ExitStack() as opened:
            if head is not None and head.dialect.encoding not in ("utf-8", "utf-8-sig"):
                files = [_recoded(file, head.dialect.encoding, where, opened) for file in files]
            connection = opened.enter_context(duckdb.connect(config=engine_bounds()))
            plain = [str(opened.enter_context(_plainly_named(file, suffix))) for file in files]
            _check_alike(connection, f"SELECT * FROM {call}(?{options})", files, plain, where)
            several = ", union_by_name=true" if len(files) > 1 else ""
            whole = f"{call}([{', '.join(map(_quoted, plain))}]{options}{several})"
            yield connection, _Source(whole, plain, _columns_of(connection, whole) if head is None else {})
    except duckdb.Error as problem:
        said = str(problem).split("\n")[0]
        for file in files:
            said = said.replace(str(file), file.name)
        raise DataError(where, f"{said_of(files)} is no table that can be read", said[:200]) from problem


def said_of(files: Sequence[Path]) -> str:
    """Files as a message calls them."""
    return files[0].name if len(files) == 1 else f"{files[0].name} with {len(files) - 1} more"


def _as_texts(columns: dict[str, AnyArray], head: Head) -> tuple[dict[str, AnyArray], list[str]]:
    """Columns that are texts to the database, read as all texts are here, and what is to be told of them."""
    made, notes = dict(columns), list[str]()
    for name, array in columns.items():
        if array.dtype != object:
            continue
        taken = of_text(with_none(array).tolist(), name, head.told, head.signs, sure=head.dialect.sure)
        if taken is not None:
            made[name] = taken.array
            notes += taken.notes
    return made, notes


def _columns_of(connection: Any, call: str) -> dict[str, str]:
    """The columns of files that know their types, by name; those of objects one by one, however deep they lie."""
    relation = connection.sql(f"SELECT * FROM {call} LIMIT 0")
    found: dict[str, str] = {}

    def add(name: str, expression: str, kind: Any) -> None:
        if kind.id == "struct" and kind.children:
            for part, inner in kind.children:
                add(f"{name}.{part}", f"{expression}.{named(part)}", inner)
            return
        own, again = name, 1
        while own in found:
            own, again = f"{name}_{again}", again + 1
        found[own] = expression

    for name, kind in zip(relation.columns, relation.types, strict=True):
        add(str(name), f"given.{named(str(name))}", kind)
    return found


def _with_codes(connection: Any, source: _Source, columns: dict[str, AnyArray], where: str) -> dict[str, AnyArray]:
    """Columns that are whole numbers to the database as texts where they hold codes, whose zeros or digits count."""
    whole = [name for name, array in columns.items() if array.dtype.kind in "iu"]
    if not whole:
        return columns
    texts = source.call.replace("sample_size=-1", "all_varchar=true")
    asks = ", ".join(f"bool_or(regexp_matches({named(name)}, '^\\s*[+-]?(0[0-9]|[0-9]{{16}})'))" for name in whole)
    (found,) = connection.execute(f"SELECT {asks} FROM {texts}").fetchall()
    codes = [name for name, code in zip(whole, found, strict=True) if code]
    if not codes:
        return columns
    again = answer(connection, f"SELECT {', '.join(map(named, codes))} FROM {texts}", where, bounded=False)
    return columns | again


def _check_alike(connection: Any, source: str, files: Sequence[Path], plain: Sequence[str], where: str) -> None:
    """Files that are read as one table have the same columns."""
    if len(files) == 1:
        return
    first: set[str] = set()
    for file, path in zip(files, plain, strict=True):
        columns = {row[0] for row in connection.execute(source, [path]).description}
        first = first or columns
        for one, other, more in ((file, files[0], first - columns), (files[0], file, columns - first)):
            if more:
                raise DataError(where, f"{one.name} has no column {sorted(more)[0]!r}, which {other.name} has")


@contextmanager
def _plainly_named(file: Path, suffix: str) -> Iterator[Path]:
    """A file under a name that the reader of files can't take for a pattern: a path is a path."""
    if not set(str(file)) & set("*?[]{}"):
        yield file
        return
    import shutil
    import tempfile

    with tempfile.TemporaryDirectory(prefix="facetine-") as folder:
        plain = Path(folder) / f"table{suffix}"
        try:
            plain.symlink_to(file.resolve())
        except OSError:
            shutil.copyfile(file, plain)
        yield plain


def _queried(
    connection: Any,
    source: _Source,
    sql: str,
    name: str,
    where: str,
    parameters: Mapping[str, Any] | None,
    zones: Collection[str],
) -> dict[str, AnyArray]:
    """What a query makes of a table, with the connection cut off from all other files and the network.

    Where all its instants are of one zone, that is the zone of the query.

    A query that only reads sees the files themselves, so that no more of them is read than it needs; what it can't be said
    of that sees a table which has been read before.
    """
    import duckdb

    if not sql.strip():
        raise DataError(where, "the query is empty", f"such as SELECT * FROM {name}")
    if source.files and only_reads(sql, where):
        connection.execute(f"SET allowed_paths = [{', '.join(map(_quoted, source.files))}]")
        connection.execute(f"CREATE VIEW {named(name)} AS SELECT * FROM {source.call}")
    else:
        answer(connection, f"CREATE TABLE {named(name)} AS SELECT * FROM {source.call}", where, bounded=False)
    zone = known_zone(next(iter(zones))) if len(zones) == 1 else None
    shut(connection, zone or "UTC")
    try:
        found = held_answer(connection, with_parameters(sql, parameters, "$", where), where, parameters)
    except duckdb.Error as problem:
        said = str(problem).split("\n")[0]
        raise DataError(where, f"the query fails: {said[:200]}", f"the table is called {name!r}") from problem
    except MappingError as problem:
        raise problem.but(DataError) from problem
    if not found:
        raise DataError(where, "the query gives no table", f"such as SELECT * FROM {name}")
    return found | {one: in_zone(array, zone) for one, array in found.items() if zone is not None and zone_of(array) is not None}


def _quoted(text: str) -> str:
    return "'" + text.replace("'", "''") + "'"


def _recoded(file: Path, encoding: str, where: str, opened: ExitStack) -> Path:
    """A file's text as UTF-8 in a file that is removed at the end."""
    import tempfile

    folder = Path(opened.enter_context(tempfile.TemporaryDirectory(prefix="facetine-")))
    try:
        with (
            file.open(encoding=encoding, newline="") as source,
            (folder / file.name).open("w", encoding="utf-8", newline="") as made,
        ):
            while part := source.read(1 << 20):
                made.write(part)
    except UnicodeError as problem:
        raise DataError(where, f"{file.name} is no text in {encoding}", "encoding= says another") from problem
    return folder / file.name
