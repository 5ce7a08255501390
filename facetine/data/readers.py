"""Files read into columns: text with separators, Parquet, JSON, and what holds such files or tables of its own."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterable, Iterator, Mapping, Sequence
from contextlib import ExitStack
from functools import partial, wraps
from inspect import signature
from pathlib import Path
from typing import TYPE_CHECKING, Any, ParamSpec, TypeVar

import numpy as np

from facetine.core.arrays import AnyArray, mask_of, with_none, zone_of
from facetine.data.addresses import fetched, is_address, without_password
from facetine.data.delimited import USUAL, Text, delimited
from facetine.data.dialect import Told
from facetine.data.sql import LIMITS, check_steady, columns_read, memory_bytes
from facetine.data.suffixes import DATABASES, DUCK, HELD, PACKED, parted
from facetine.data.table import no_column
from facetine.data.wishes import OF_ANY, known_beside, told_of_any
from facetine.messages.errors import DataError, FacetineError, OptionError, note, told, unknown

if TYPE_CHECKING:
    import pandas as pd

_OWN = (*USUAL, ".parquet", ".jsonl", ".ndjson", ".json")
SUFFIXES = (*_OWN, *HELD, *(f"{own}{packed}" for packed in PACKED for own in (".csv", ".tsv", ".jsonl")))
_ROOM = 10
"""Bytes of memory that a byte of text may take."""
_SMALL = 1 << 20
"""Bytes of text up to which it is read here; the database reads larger ones, which takes it longer to begin with."""

_P = ParamSpec("_P")
_R = TypeVar("_R")


def _one_error(reader: Callable[_P, _R]) -> Callable[_P, _R]:
    """A reader that ends in one error of ours, whatever a parser or a driver raises about a file that is damaged."""

    known = signature(reader)

    @wraps(reader)
    def reading(*given: _P.args, **options: _P.kwargs) -> _R:
        # A word that the reader does not know is the caller's fault, and no file's.
        known.bind(*given, **options)
        try:
            return reader(*given, **options)
        except FacetineError:
            raise
        except Exception as problem:
            what = told(without_password(str(given[0]))) if given and isinstance(given[0], str | Path) else "what is given"
            said = f"{type(problem).__name__}: {without_password(str(problem))[:160]}"
            raise DataError("read", f"{what} can't be read", said) from problem

    return reading


@_one_error
def read_columns(
    path: str | Path | Iterable[str | Path],
    *,
    sql: str | None = None,
    name: str | None = None,
    names: str | None = None,
    where: str = "read_columns",
    steady: bool = False,
    parameters: Mapping[str, Any] | None = None,
    limit: str | None = None,
    timeout: float | None = None,
    **text: Any,
) -> dict[str, AnyArray]:
    """The columns of a file as arrays by name, with no data frame library in between.

    Args:
        path: A file that `read` takes; its first line holds the column names where it is text. Several, in a list or from
            `Path.glob`, are one table: their rows follow each other, and all have the same kind of file and the same columns.
            Or one address of the web, as in `read`.
        sql: A query over the file, which can reach nothing else; all rows as they are where it is not given.
        name: What the query calls the file's table; the (first) file's name without its suffix where it is not given.
        names: With several files: a column that holds the name of each row's file, up to its first point.
        where: Who asks, for the error.
        steady: Whether a query is refused that would give other rows each time it runs: chance, the clock, the machine.
        parameters: Values of the query's places, written :name or $name, by their names; they are never pasted into its text.
        limit: The most that is fetched from an address of the web; "50 MB" by default.
        timeout: After how many seconds that is given up; 20 by default.
        **text: How a table is written: delimiter, encoding, quote, comment, skip and header of a text, decimal, thousands,
            absent and as_text of any, as in `read`.

    Returns:
        Arrays of shape (n,): numbers, text, truth values, datetime64. Missing values are NaN, None, NaT or masked.

    Raises:
        DataError: The file is missing, holds no table, or the query fails.
        OptionError: The query is not steady, but should be; or the file is no text, or has no such option.

    Example:
        >>> import facetine as ft
        >>> columns = ft.read_columns("wheels.csv")  # doctest: +SKIP
    """
    if is_address(path):
        with fetched(str(path), limit, timeout, where) as file:
            said: Any = {"name": name, "names": names, "where": where, "steady": steady, "parameters": parameters}
            return read_columns(file, sql=sql, **said, **text)
    if limit is not None or timeout is not None:
        said = "limit" if limit is not None else "timeout"
        raise OptionError(where, f"{said} is for what is fetched from an address", 'such as read("https://…", limit="50 MB")')
    files = _files_of(path, where)
    if steady and sql is not None:
        check_steady(sql, where)
    _check_parameters(parameters, sql, where)
    if names is not None and (not isinstance(names, str) or not names):
        raise OptionError(where, f"names is what the column of the files' names is called, not {told(names)}")
    called = name or files[0][0].name.partition(".")[0]
    if names is None:
        return _of_one_kind(files, where, text, sql, called, parameters)
    parts = [_of_one_kind([file], where, text, None, called, None) for file in files]
    from facetine.data.containers import joined

    table = joined(parts, [file for file, _ in files], names, where)
    if sql is None:
        return table
    from facetine.data.engine import asked

    return asked(table, sql, called, where, parameters)


@_one_error
def deferred_columns(
    path: str | Path | Sequence[str | Path],
    *,
    expected: Container[str] = (),
    name: str | None = None,
    names: str | None = None,
    where: str = "read_columns",
    limit: str | None = None,
    timeout: float | None = None,
    **text: Any,
) -> Mapping[str, AnyArray]:
    """The columns of a file as `read_columns` gives them; read when they are asked for, where the file allows that.

    Parquet and JSON lines, Arrow files, tables of databases, and texts that are too large to be read here allow it.

    Args:
        path: What `read_columns` takes.
        expected: Columns that are likely to be asked for; they are read in one go.
        name: As in `read_columns`.
        names: As in `read_columns`.
        where: Who asks, for the error.
        limit: As in `read_columns`.
        timeout: As in `read_columns`.
        **text: How a text is written, as in `read_columns`.

    Raises:
        DataError: The file is missing, or holds no table; or, when a column is asked for, has changed.
        OptionError: As for `read_columns`.
    """
    whole = partial(read_columns, path, name=name, names=names, where=where, limit=limit, timeout=timeout, **text)
    if is_address(path) or names is not None or limit is not None or timeout is not None:
        return whole()
    files = _files_of(path, where)
    (first, part), suffix = files[0], _suffix(files[0][0])
    if any(file.suffix.lower() in PACKED for file, _ in files):
        return whole()
    told = _told(text, first, where)
    if suffix in HELD:
        from facetine.data.containers import deferred_held

        return (deferred_held(first, part, where, expected, told) if len(files) == 1 else None) or whole()
    plain = [file for file, _ in files]
    if suffix not in USUAL:
        from facetine.data.engine import deferred_files

        return deferred_files(plain, suffix, where, None, expected, told)
    if sum(file.stat().st_size for file in plain) <= _SMALL:
        return whole()
    from facetine.data.engine import deferred_files, head_of

    head = head_of(first, USUAL[suffix], told, where)
    if head is None:
        return whole()
    note(head.notes)
    return deferred_files(plain, suffix, where, head, expected, told)


def _files_of(path: str | Path | Iterable[str | Path], where: str) -> list[tuple[Path, str | None]]:
    """The files that are meant, each with the part of it that is said; all of one kind, and there.

    Raises:
        DataError: One is missing, or nothing reads it.
    """
    said = [str(path)] if isinstance(path, str | Path) else [str(one) for one in path]
    if isinstance(path, Iterator):
        # A folder lists its files in no order.
        said.sort()
    if not said:
        raise DataError(where, "a list of files, but none in it")
    files = [parted(one) for one in said]
    for file, _ in files:
        if _suffix(file) not in (*_OWN, *HELD):
            suffix = file.suffix if file.suffix.lower() not in PACKED else "".join(file.suffixes[-2:])
            raise unknown(DataError, where, f"no reader for {file.name!r}, which ends in", suffix, SUFFIXES, "readers")
        if _suffix(file) != _suffix(files[0][0]):
            raise DataError(where, f"{file.name} and {files[0][0].name} are files of two kinds", "read them one at a time")
        _check_readable(file, where)
    return files


def _suffix(file: Path) -> str:
    """What a file ends in, without how it is packed."""
    packed = file.suffix.lower() in PACKED
    return Path(file.stem).suffix.lower() if packed else file.suffix.lower()


def _of_one_kind(
    files: Sequence[tuple[Path, str | None]],
    where: str,
    text: dict[str, Any],
    sql: str | None,
    name: str,
    parameters: Mapping[str, Any] | None,
) -> dict[str, AnyArray]:
    """The columns of files of one kind, as one table."""
    if _suffix(files[0][0]) in HELD or any(file.suffix.lower() in PACKED for file, _ in files):
        return _of_held(files, where, text, sql, name, parameters)
    return _read([file for file, _ in files], _suffix(files[0][0]), where, _told(text, files[0][0], where), sql, name, parameters)


def _of_held(
    files: Sequence[tuple[Path, str | None]],
    where: str,
    text: dict[str, Any],
    sql: str | None,
    name: str,
    parameters: Mapping[str, Any] | None,
) -> dict[str, AnyArray]:
    """Those that are packed, or hold tables of their own."""
    from facetine.data.containers import database_columns, held_columns, joined, unpacked

    first, part = files[0]
    suffix = _suffix(first)
    told = _told(text, first, where)
    with ExitStack() as opened:
        plain = [
            (opened.enter_context(unpacked(file, where)) if file.suffix.lower() in PACKED else file, part) for file, part in files
        ]
        if suffix not in HELD:
            return _read([file for file, _ in plain], suffix, where, told, sql, name, parameters)
        if suffix in (*DATABASES, *DUCK) and sql is not None and part is None and len(files) == 1:
            return database_columns(plain[0][0], None, sql, parameters, where, told)
        parts = [held_columns(file, part, where, told) for file, part in plain]
        table = parts[0] if len(parts) == 1 else joined(parts, [file for file, _ in files], None, where)
    if sql is None:
        return table
    from facetine.data.engine import asked

    return asked(table, sql, name, where, parameters)


def _check_parameters(parameters: Mapping[str, Any] | None, sql: str | None, where: str) -> None:
    if parameters is not None and not isinstance(parameters, Mapping):
        raise OptionError(
            where, f"parameters is a dict of names and values, not {told(parameters)}", 'such as {"cellar": "Loft"}'
        )
    if parameters and sql is None:
        raise OptionError(where, "parameters have no effect without a query", 'sql="… WHERE cellar = :cellar"')


@_one_error
def read(
    source: str | Path | Iterable[str | Path] | Any,
    *,
    sql: str | None = None,
    parameters: Mapping[str, Any] | None = None,
    names: str | None = None,
    delimiter: str | None = None,
    decimal: str | None = None,
    thousands: str | None = None,
    encoding: str | None = None,
    quote: str | None = None,
    comment: str | None = None,
    skip: int | None = None,
    header: bool | None = None,
    absent: list[str] | None = None,
    as_text: list[str] | None = None,
    codebook: object = None,
    limit: str | None = None,
    timeout: float | None = None,
    read_only: bool = True,
    row_order: str | Sequence[str] | None = None,
) -> pd.DataFrame:
    """A file or a query of a database as a pandas frame; what was opened is closed again.

    How a text is written is found out where it is not given; a finding reports what was found beside the plain form. Texts of
    any source that are numbers, dates or percents in one way of writing are read as such; where nine in ten are, and the rest
    are at most 20 different texts, these are missing, and a finding counts and shows them. Parquet and Arrow say what their
    columns are, and that holds. Digits that begin with a zero, or are more than 15, stay text.

    Args:
        source: A text (.csv, .tsv, .txt), also packed (.gz, .zst); .parquet, .jsonl, .ndjson, .json, .arrow or .feather; a
            workbook, "book.xlsx", or a sheet or range of it, "book.xlsx#Sheet!A3:F90"; a SQLite or DuckDB file, or a table
            of it, "cellar.db#wheels"; or a database address such as "postgresql://user@host/cellar". Several files of one
            kind with the same columns, in a list or from `Path.glob`, are one table. Or a connection to a
            database that is open, and stays so: of SQLAlchemy or of the standard interface (PEP 249). Or an address of the
            web, "https://…", whose file is fetched.
        sql: The query; needed for a database's address, and possible for a file, whose table then has the file's name.
        parameters: Values of the query's places, written :name, by their names; they are never pasted into its text.
        names: With several files: a column that holds the name of each row's file, up to its first point.
        delimiter: The sign between the cells of a text; a blank stands for any number of them.
        decimal: The sign before decimals, "." or ",".
        thousands: The signs that may stand between thousands; "" for none.
        encoding: Such as "utf-8" or "latin-1".
        quote: The sign around cells that hold other signs.
        comment: What lines begin with that are no rows.
        skip: How many lines stand before the table.
        header: Whether the first line holds the names of the columns; they are called "column 1" and so on where not.
        absent: What else means "no value", such as ["n.b.", "-999"].
        as_text: Columns that are taken as they are written, such as numbers that name something.
        codebook: What is known of the columns, as for `figure`: its categories are taken as they are written.
        limit: The most that is fetched from an address of the web; "50 MB" by default.
        timeout: After how many seconds that is given up; 20 by default.
        read_only: False lets a query change the database, whose address or file is given; what it changed is kept.
        row_order: The columns by which rows are sorted, the first one first; rows that are equal keep their order. A query
            without ORDER BY may give its rows in another order each time.

    Raises:
        DataError: The source is missing, can't be read, or the query fails, or takes more time or memory than
            `set_defaults(query_seconds=…, query_memory=…)` allows.
        OptionError: An option for texts is given, but the source is none; or a value is impossible.

    Example:
        >>> import facetine as ft
        >>> late = ft.read("cellar.db", sql="SELECT * FROM wheels WHERE age_days > 90")  # doctest: +SKIP
    """
    said = Told(delimiter, decimal, thousands, encoding, quote, comment, skip, header)
    text: dict[str, Any] = {name: value for name, value in said._asdict().items() if value not in (None, ())}
    text |= {name: value for name, value in (("absent", absent), ("as_text", as_text)) if value is not None}
    text = known_beside(text, codebook)
    address = str(source) if isinstance(source, str | Path) else ""
    from facetine.data.containers import is_duck, told_columns
    from facetine.data.counted import Counted
    from facetine.data.databases import from_connection, from_database, is_connection, is_database

    _check_parameters(parameters, sql, "read")
    opened, web = is_connection(source), {"limit": limit, "timeout": timeout}
    stored = (
        is_database(address)
        and not is_address(address)
        and ("://" in address or (sql is not None and not is_duck(Path(address))))
    )
    if opened or stored:
        of_cells = told_of_any({name: value for name, value in text.items() if name in OF_ANY}, "read")
        said_of_others = {
            **{name: value for name, value in text.items() if name not in OF_ANY},
            **({"names": names} if names is not None else {}),
            **{name: value for name, value in web.items() if value is not None},
        }
        if said_of_others:
            raise OptionError("read", f"{next(iter(said_of_others))} has no effect on a database")
        if opened:
            _check_read_only(read_only, "an open connection, which has its own")
            rows = from_connection(source, sql, parameters, Counted("read"))
        else:
            rows = from_database(address, sql, parameters, read_only=read_only, counted=Counted("read"))
        return _in_order(as_frame(told_columns(rows, of_cells, "the query", "read")), row_order)
    _check_read_only(read_only, "files of rows, which are only read")
    said_else: Any = {"parameters": parameters, "names": names, "limit": limit, "timeout": timeout}
    columns = read_columns(source, sql=sql, where="read", **said_else, **text)
    return _in_order(as_frame(columns), row_order)


def _check_read_only(read_only: object, what: str) -> None:
    if not isinstance(read_only, bool):
        raise OptionError("read", f"read_only is True or False, not {told(read_only)}")
    if not read_only:
        raise OptionError("read", f"read_only has no effect on {what}", "it belongs to a database's address or file")


def _in_order(frame: pd.DataFrame, row_order: object) -> pd.DataFrame:
    """A frame sorted by some of its columns."""
    if row_order is None:
        return frame
    columns = [row_order] if isinstance(row_order, str) else row_order
    if not isinstance(columns, list | tuple) or not columns or not all(isinstance(name, str) for name in columns):
        raise OptionError("read", f"row_order is a column or a list of columns, not {told(row_order)}", 'such as "time"')
    for name in columns:
        if name not in frame.columns:
            raise no_column(name, [str(one) for one in frame.columns], "read", "row_order")
    return frame.sort_values(list(columns), kind="stable", ignore_index=True)


def as_frame(columns: Mapping[str, AnyArray]) -> pd.DataFrame:
    """Columns as a pandas frame."""
    import pandas as pd

    frame = pd.DataFrame({name: _unmasked(array) for name, array in columns.items()})
    for name, array in columns.items():
        if (zone := zone_of(array)) is not None:
            frame[name] = frame[name].dt.tz_localize("UTC").dt.tz_convert(zone)
    return frame


def _told(text: dict[str, Any], file: Path, where: str) -> Told:
    """What is said of a table.

    Raises:
        OptionError: There is no such option, or the file is no text with separators and the option is for such alone.
    """
    for name in text:
        if name in Told._fields and name not in OF_ANY and _suffix(file) not in USUAL:
            raise OptionError(where, f"{name} has no effect on {file.name}, which is no text with separators")
    return told_of_any(text, where)


def _unmasked(array: AnyArray) -> AnyArray:
    """An array without a mask; whole numbers with gaps become floats, as pandas has it, where these can hold them."""
    mask = mask_of(array)
    if mask is None or not mask.any():
        return np.asarray(array)
    masked: Any = array
    known = masked.compressed()
    if array.dtype.kind in "iu" and len(known) and max(int(known.max()), -int(known.min())) > 2**53:
        import pandas as pd

        kept: AnyArray = pd.arrays.IntegerArray(np.asarray(masked.filled(0)).astype(np.int64), np.asarray(mask, bool))  # type: ignore[assignment]
        return kept
    if array.dtype.kind in "iuf":
        return np.asarray(masked.astype(float).filled(np.nan))
    if array.dtype.kind == "M":
        return np.asarray(masked.filled(np.datetime64("NaT")))
    return with_none(array)


@_one_error
def read_bytes(content: bytes, *, where: str = "read_bytes", **text: Any) -> dict[str, AnyArray]:
    """The columns of a table that came through a pipe, in any form that `read` takes; its first bytes tell which.

    Args:
        content: All of it.
        where: Who asks, for the error.
        **text: How a text is written, as in `read`.

    Raises:
        DataError: It holds no table.
        OptionError: It is no text, or has no such option.
    """
    import tempfile

    suffix = _suffix_of_bytes(content)
    with tempfile.TemporaryDirectory(prefix="facetine-") as folder:
        file = Path(folder) / f"input{suffix}"
        file.write_bytes(content)
        if suffix in PACKED:
            from facetine.data.containers import unpacked

            with unpacked(file, where) as plain:
                inner = plain.read_bytes()
            return read_bytes(inner, where=where, **text)
        return _of_one_kind([(file, None)], where, text, None, "input", None)


_STARTS = {
    b"PAR1": ".parquet", b"ARROW1": ".arrow", b"FEA1": ".feather", b"\xff\xff\xff\xff": ".arrow", b"PK\x03\x04": ".xlsx",
    b"SQLite format 3\0": ".db", b"\x1f\x8b": ".gz", b"\x28\xb5\x2f\xfd": ".zst",
}  # fmt: skip
"""What files of a kind begin with."""


def _suffix_of_bytes(content: bytes) -> str:
    for start, suffix in _STARTS.items():
        if content.startswith(start):
            return suffix
    if content[8:12] == b"DUCK":
        return ".duckdb"
    return ".jsonl" if content[:64].lstrip()[:1] in (b"{", b"[") else ".csv"


def _check_readable(file: Path, where: str) -> None:
    if any(ord(letter) < 32 for letter in str(file)):
        raise DataError(where, f"the path {str(file)!r} holds a control character", "a path is one line of text")
    if not file.exists():
        folder = file.parent
        if not folder.is_dir():
            raise DataError(where, f"no file {str(file)!r}", f"there is no folder {str(folder)!r} either")
        beside = sorted(p.name for p in folder.iterdir() if _suffix(p) in (*_OWN, *HELD))
        raise unknown(DataError, where, "no file", file.name, beside, f"tables in {str(folder)!r}")
    if file.is_dir():
        raise DataError(where, f"{str(file)!r} is a folder", "give a file")
    if not file.is_file():
        raise DataError(where, f"{str(file)!r} is no plain file", "facetine draw - reads what comes through a pipe")


def _read(
    files: Sequence[Path],
    suffix: str,
    where: str,
    told: Told,
    sql: str | None = None,
    name: str = "data",
    parameters: Mapping[str, Any] | None = None,
) -> dict[str, AnyArray]:
    small = suffix in USUAL and sum(file.stat().st_size for file in files) <= _SMALL
    if small and sql is None:
        return _as_texts(files, suffix, told, where)
    from facetine.data.engine import asked, from_files, head_of

    if suffix not in USUAL:
        return from_files(files, suffix, where, sql, name, parameters=parameters, told=told)
    known = None if small else head_of(files[0], USUAL[suffix], told, where)
    if known is None:
        columns = _as_texts(files, suffix, told, where)
    else:
        note(known.notes)
        only = None if sql is None else columns_read(sql, list(known.columns), where)
        columns = from_files(files, suffix, where, None, name, known, only=only, told=told)
    # A query sees the same columns, whichever way they came.
    return columns if sql is None else asked(columns, sql, name, where, parameters)


def _as_texts(files: Sequence[Path], suffix: str, told: Told, where: str) -> dict[str, AnyArray]:
    for file in files:
        # Read here, each byte becomes a letter of Python, each cell an object.
        if file.stat().st_size * _ROOM > memory_bytes(LIMITS.get().memory):
            raise DataError(
                where,
                f"{file.name} is too large for how it is written",
                "in UTF-8, with one separator and its names in the first line, it can be read in parts",
            )
    columns, notes = delimited([Text(file.name, USUAL[suffix], _content(file, where)) for file in files], told, where)
    note(notes)
    return columns


def _content(file: Path, where: str) -> bytes:
    try:
        return file.read_bytes()
    except OSError as problem:
        raise DataError(where, f"{file.name} can't be read: {problem.strerror}") from problem
