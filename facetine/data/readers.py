"""Files read into columns: comma- and tab-separated text, Parquet, and JSON lines."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.data.databases import from_database, is_database
from facetine.data.sql import LIMITS, answer, check_steady
from facetine.errors import DataError, MappingError, unknown

if TYPE_CHECKING:
    import pandas as pd

SUFFIXES = (".csv", ".tsv", ".txt", ".parquet", ".jsonl", ".ndjson", ".json")
# Cells that mean "no value" in text files; "None" and "-" are left to the analyst, they may be words.
_NULLS = ["", "NA", "N/A", "NaN", "nan", "null", "NULL"]


def read_columns(
    path: str | Path | Sequence[str | Path],
    *,
    sql: str | None = None,
    name: str | None = None,
    where: str = "read_columns",
    steady: bool = False,
) -> dict[str, AnyArray]:
    """The columns of a file as arrays by name, with no data frame library in between.

    Args:
        path: A file that ends in .csv, .tsv, .txt, .parquet, .jsonl, .ndjson or .json; its first line holds the column
            names where it is text. Several, in a list, are one table: their rows follow each other, and all have the same
            kind of file and the same columns.
        sql: A query over the file, which can reach nothing else; all rows as they are where it is not given.
        name: What the query calls the file's table; the (first) file's name without its suffix where it is not given.
        where: Who asks, for the error.
        steady: Whether a query is refused that would give other rows each time it runs: chance, the clock, the machine.

    Returns:
        Arrays of shape (n,), masked where values are missing: numbers, text, truth values, datetime64.

    Raises:
        DataError: The file is missing, holds no table, or the query fails.
        OptionError: The query is not steady, but should be.

    Example:
        >>> import facetine as ft
        >>> columns = ft.read_columns("wheels.csv")  # doctest: +SKIP
    """
    files = [Path(path)] if isinstance(path, str | Path) else [Path(one) for one in path]
    if not files:
        raise DataError(f"{where}: a list of files, but none in it")
    for file in files:
        if file.suffix.lower() not in SUFFIXES:
            raise unknown(DataError, where, f"no reader for {file.name!r}, which ends in", file.suffix, SUFFIXES, "readers")
        if file.suffix.lower() != files[0].suffix.lower():
            raise DataError(f"{where}: {file.name} and {files[0].name} are files of two kinds", "read them one at a time")
        _check_readable(file, where)
    if steady and sql is not None:
        check_steady(sql, where)
    return _read(files, files[0].suffix.lower(), where, sql, name or files[0].stem)


def read(source: str | Path | Sequence[str | Path], *, sql: str | None = None) -> pd.DataFrame:
    """A file or a query of a database as a pandas frame; what was opened is closed again.

    Args:
        source: A file that ends in .csv, .tsv, .txt, .parquet, .jsonl, .ndjson or .json; a SQLite file (.db, .sqlite,
            .sqlite3); or a database address such as "postgresql://user@host/cellar". Several files of one kind with the
            same columns, in a list, are one table.
        sql: The query; needed for a database, and possible for a file, whose table then has the file's name.

    Raises:
        DataError: The source is missing, can't be read, or the query fails, or takes more time or memory than
            `set_defaults(query_seconds=…, query_memory=…)` allows.

    Example:
        >>> import facetine as ft
        >>> late = ft.read("cellar.db", sql="SELECT * FROM wheels WHERE age_days > 90")  # doctest: +SKIP
    """
    import pandas as pd

    text = str(source) if isinstance(source, str | Path) else ""
    if text and is_database(text):
        return from_database(text, sql)
    columns = read_columns(source, sql=sql, where="read")
    return pd.DataFrame({name: _unmasked(array) for name, array in columns.items()})


def _unmasked(array: AnyArray) -> AnyArray:
    """An array without a mask; whole numbers with gaps become floats, as pandas has it."""
    if not isinstance(array, np.ma.MaskedArray) or not np.ma.is_masked(array):
        return np.asarray(array)
    masked: Any = array
    if array.dtype.kind in "iuf":
        return np.asarray(masked.astype(float).filled(np.nan))
    if array.dtype.kind == "M":
        return np.asarray(masked.filled(np.datetime64("NaT")))
    return np.asarray(masked.astype(object).filled(None))


def read_bytes(content: bytes, *, where: str = "read_bytes") -> dict[str, AnyArray]:
    """The columns of a table that came through a pipe: Parquet, JSON lines, or separated text, told by its first bytes.

    Raises:
        DataError: It holds no table.
    """
    import tempfile

    start = content[:64].lstrip()
    suffix = ".parquet" if start.startswith(b"PAR1") else ".jsonl" if start[:1] in (b"{", b"[") else ".csv"
    with tempfile.TemporaryDirectory(prefix="facetine-") as folder:
        file = Path(folder) / f"input{suffix}"
        file.write_bytes(content)
        return _read([file], suffix, where)


def _check_readable(file: Path, where: str) -> None:
    if any(ord(letter) < 32 for letter in str(file)):
        raise DataError(f"{where}: the path {str(file)!r} holds a control character", "a path is one line of text")
    if not file.exists():
        folder = file.parent
        if not folder.is_dir():
            raise DataError(f"{where}: no file {str(file)!r}", f"there is no folder {str(folder)!r} either")
        beside = sorted(p.name for p in folder.iterdir() if p.suffix.lower() in SUFFIXES)
        raise unknown(DataError, where, "no file", file.name, beside, f"tables in {str(folder)!r}")
    if file.is_dir():
        raise DataError(f"{where}: {str(file)!r} is a folder", "give a file")
    if not file.is_file():
        raise DataError(f"{where}: {str(file)!r} is no plain file", "facetine draw - reads what comes through a pipe")


def _read(files: Sequence[Path], suffix: str, where: str, sql: str | None = None, name: str = "data") -> dict[str, AnyArray]:
    import duckdb

    if suffix in (".csv", ".tsv", ".txt"):
        for file in files:
            _check_text(file, suffix, where)
        call, options = "read_csv", _text_options(suffix)
    elif suffix == ".parquet":
        call, options = "read_parquet", ""
    else:
        call, options = "read_json", ", format='auto', maximum_object_size=16777216"
    source = f"SELECT * FROM {call}(?{options}{', union_by_name=true' if len(files) > 1 else ''})"
    said_of = files[0].name if len(files) == 1 else f"{files[0].name} with {len(files) - 1} more"
    try:
        with ExitStack() as opened:
            config: Any = {"threads": 2, "memory_limit": LIMITS.get().memory}
            connection = opened.enter_context(duckdb.connect(config=config))
            plain = [str(opened.enter_context(_plainly_named(file, suffix))) for file in files]
            _check_alike(connection, f"SELECT * FROM {call}(?{options})", files, plain, where)
            if sql is None:
                columns = answer(connection, source, where, [plain], bounded=False)
            else:
                columns = _queried(connection, source, plain, sql, name, where)
    except duckdb.Error as problem:
        said = str(problem).split("\n")[0]
        for file in files:
            said = said.replace(str(file), file.name)
        raise DataError(f"{where}: {said_of} is no table that can be read", said[:200]) from problem
    _check_single(files[0], suffix, columns, where)
    return columns


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
                raise DataError(f"{where}: {one.name} has no column {sorted(more)[0]!r}, which {other.name} has")


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


def _queried(connection: Any, source: str, files: list[str], sql: str, name: str, where: str) -> dict[str, AnyArray]:
    """What a query makes of a file's table. Once the table is in, the connection is cut off from files and network."""
    import duckdb

    if not sql.strip():
        raise DataError(f"{where}: the query is empty", f"such as SELECT * FROM {name}")
    quoted = name.replace('"', '""')
    answer(connection, f'CREATE TABLE "{quoted}" AS {source}', where, [files], bounded=False)
    connection.execute("SET enable_external_access = false")
    connection.execute("SET lock_configuration = true")
    try:
        found = answer(connection, sql, where)
    except duckdb.Error as problem:
        said = str(problem).split("\n")[0]
        raise DataError(f"{where}: the query fails: {said[:200]}", f"the table is called {name!r}") from problem
    except MappingError as problem:
        raise DataError(problem.headline, problem.detail) from problem
    if not found:
        raise DataError(f"{where}: the query gives no table", f"such as SELECT * FROM {name}")
    return found


def _check_text(file: Path, suffix: str, where: str) -> None:
    with file.open("rb") as stream:
        head = stream.read(65536)
    if not head.strip():
        raise DataError(f"{where}: {file.name} is empty", "a table has a first line with the column names")
    if b"\0" in head:
        raise DataError(f"{where}: {file.name} is no text, so it is no {suffix[1:]} table", "it holds zero bytes")


def _text_options(suffix: str) -> str:
    nulls = ", ".join(f"'{word}'" for word in _NULLS)
    tab = ", delim='\\t'" if suffix == ".tsv" else ""
    # Dates in other orders than the international one come in as text, so that every reader of text decides alike.
    return f", header=true, sample_size=-1, nullstr=[{nulls}]{tab}, dateformat='%Y-%m-%d'"


def _check_single(file: Path, suffix: str, columns: dict[str, AnyArray], where: str) -> None:
    """A text with one column whose name still holds separators was not split: its rows differ in length."""
    if suffix not in (".csv", ".tsv", ".txt") or len(columns) != 1:
        return
    name = next(iter(columns))
    if any(sign in name for sign in ",;\t|{<"):
        lines = file.read_text("utf-8", "replace").splitlines()[:100_000]
        sign = max(",;\t|", key=name.count)
        fields = name.count(sign)
        for number, line in enumerate(lines[1:], 2):
            if fields and line.strip() and line.count(sign) != fields:
                raise DataError(
                    f"{where}: {file.name} is no table: line {number} has {line.count(sign) + 1} fields, "
                    f"the first line has {fields + 1}",
                    f"line {number}: {line[:60]}",
                )
        raise DataError(f"{where}: {file.name} is no table: its first line has no column names", f"line 1: {name[:60]}")
