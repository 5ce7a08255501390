"""Expressions over a table: SQL, narwhals, or a callable that gets the frame."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sized
from itertools import islice
from typing import Any, TypeAlias

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray
from facetine.data.allowed import ASKED_APART
from facetine.data.apart import apart
from facetine.data.codebook import code_text
from facetine.data.deferred import Deferred
from facetine.data.kinds import column_of
from facetine.data.sql import answer, columns_of, database, may_grow
from facetine.data.table import Column, Table
from facetine.messages.errors import MappingError, OptionError, listed, nearest, told

Expression: TypeAlias = str | Callable[[Any], Any] | Any
"""A SQL scalar expression such as "age_days > 90", a narwhals expression, or a callable."""


def is_code(value: object) -> bool:
    """Whether a value is an expression that runs in Python: of narwhals, or a callable."""
    return callable(value) or _is_narwhals(value)


def _is_narwhals(value: object) -> bool:
    return type(value).__module__.startswith("narwhals")


def evaluated(expression: Expression, table: Table, name: str, where: str) -> Column:
    """What an expression makes of a table: one value a row.

    Args:
        expression: SQL, narwhals expression or callable.
        table: The table.
        name: What the result is called.
        where: The verb that asks, for the error.

    Raises:
        MappingError: The expression fails, or does not give a value for every row.
        OptionError: It is none of the three.
    """
    if isinstance(expression, str):
        values = _by_sql(expression, table, where)
    elif _is_narwhals(expression):
        values = _by_narwhals(expression, table, where)
    elif callable(expression):
        values = _by_call(expression, table, where)
    else:
        raise OptionError(where, f"{told(expression)} is no expression", 'write SQL such as "age_days > 90", or give a callable')
    column = column_of(name, values)
    if len(column.values) != table.height:
        raise MappingError(where, f"the expression gives {len(column.values)} values for {table.height} rows")
    return column


def true_where(expression: Expression, table: Table, where: str) -> BoolArray:
    """The rows for which an expression holds; where it is missing it does not.

    Raises:
        MappingError: The expression fails, or is neither true nor false.
    """
    column = evaluated(expression, table, "condition", where)
    if column.kind != "yes_no" and not column.missing.all():
        raise MappingError(where, f"the expression gives a {column.kind} where yes or no is needed", f"given: {expression}")
    return np.asarray(column.values == 1)


def kept(table: Table, mask: BoolArray) -> Table:
    """The rows of a table for which a mask holds; the frame behind it follows, for callables."""
    rows = np.flatnonzero(mask)
    codes = {name: _taken(load, rows) for name, load in table.codes.items()}
    source = _filtered(table.source, mask)
    numbers = table.numbers[rows]
    return Table(
        table.names,
        len(rows),
        source,
        lambda name: table.column(name).take(rows),
        codes=codes,
        hints=table.hints,
        rows=numbers,
        given=table.given,
    )


def _taken(load: Callable[[], Column], rows: AnyArray) -> Callable[[], Column]:
    return lambda: load().take(rows)


def with_column(table: Table, column: Column) -> Table:
    """A table with one column more, or another one in its place."""
    names = table.names if column.name in table.names else (*table.names, column.name)

    def load(name: str) -> Column:
        return column if name == column.name else table.column(name)

    return Table(
        names,
        table.height,
        _extended(table.source, column),
        load,
        codes=table.codes,
        hints=table.hints,
        rows=table.rows,
        given=table.given,
    )


def _filtered(source: object, mask: BoolArray) -> object:
    if mask.all():
        return source
    if isinstance(source, Deferred):
        return source.taken(mask)
    if isinstance(source, dict):
        return {name: np.asarray(values, object if isinstance(values, list) else None)[mask] for name, values in source.items()}
    if isinstance(source, np.ndarray):
        return source[mask]
    import narwhals.stable.v2 as nw

    frame: Any = nw.from_native(source)
    frame = frame.collect() if isinstance(frame, nw.LazyFrame) else frame
    native: object = frame.filter(mask.tolist()).to_native()
    return native


def _extended(source: object, column: Column) -> object:
    values = column.plain()
    if isinstance(source, Deferred):
        return source.extended(column.name, values)
    if isinstance(source, dict):
        return {**source, column.name: values}
    if isinstance(source, np.ndarray):
        names = source.dtype.names or ()
        return {name: source[name] for name in names} | {column.name: values}
    import narwhals.stable.v2 as nw

    frame: Any = nw.from_native(source)
    frame = frame.collect() if isinstance(frame, nw.LazyFrame) else frame
    made = nw.new_series(column.name, values.tolist(), backend=frame.implementation)
    native: object = frame.with_columns(made).to_native()
    return native


def _by_sql(expression: str, table: Table, where: str) -> AnyArray:
    """Runs a scalar expression in a database of its own, which reaches neither files nor the network."""
    import duckdb

    known = {name.lower(): name for name in table.names}
    used = []
    for name in columns_of(expression, where):
        named = name if name in table.names else known.get(name.lower())
        if named is None:
            raise _no_column(expression, name, table, where)
        used.append(named)
    columns: dict[str, AnyArray] = {"row number": np.arange(table.height)}
    seen = {name: _words_or_codes(expression, table, name, where) for name in used}
    for name, column in seen.items():
        columns[name] = column.plain() if column.exact is None else _as_texts(column)
    parts = [_as_stored(name, column) for name, column in seen.items()]
    if not table.height:
        return np.zeros(0, bool)
    inner = f"SELECT {', '.join([*parts, chr(34) + 'row number' + chr(34)])} FROM given"
    query = f'SELECT (\n{expression}\n) AS made FROM ({inner}) ORDER BY "row number"'
    try:
        if ASKED_APART.get() or may_grow(expression, where):
            return apart("rows", columns, query, where)["made"]
        with database() as connection:
            connection.register("given", columns)
            found = answer(connection, query, where)["made"]
            connection.unregister("given")
            return found
    except duckdb.Error as problem:
        raise _sql_error(expression, str(problem), table, where) from problem


def _as_texts(column: Column) -> AnyArray:
    """Long whole numbers as texts, of which no digit is lost on the way to the database."""
    return np.array([None if value is None else str(value) for value in column.plain()], object)


def _as_stored(name: str, column: Column) -> str:
    """A column as it was where it came from: whole numbers, dates and decimals are such again."""
    quoted = f'"{_quoted(name)}"'
    if column.exact is not None:
        return f"TRY_CAST({quoted} AS HUGEINT) AS {quoted}"
    if column.kind == "number":
        kind = {"whole": "BIGINT", "decimal": f"DECIMAL(38, {column.places})"}.get(column.stored, "DOUBLE")
        # A missing number is NaN here and NULL there, where nothing is larger than it.
        return f"CASE WHEN isnan({quoted}) THEN NULL ELSE TRY_CAST({quoted} AS {kind}) END AS {quoted}"
    if column.kind == "time" and column.stored == "date":
        return f"CAST({quoted} AS DATE) AS {quoted}"
    if column.kind == "time" and column.zone not in (None, "UTC"):
        # As the clocks of the zone show it, and as the axis writes it: an hour is an hour there.
        return f"(({quoted} AT TIME ZONE 'UTC') AT TIME ZONE '{column.zone}') AS {quoted}"
    return f"CAST({quoted} AS BOOLEAN) AS {quoted}" if column.kind == "yes_no" else quoted


def _words_or_codes(expression: str, table: Table, name: str, where: str) -> Column:
    """A column with a codebook's words, or with the codes behind them where the expression speaks of these.

    Raises:
        MappingError: It speaks of both.
    """
    column = table.column(name)
    if name not in table.codes or not column.discrete:
        return column
    codes = table.codes[name]()
    said = {text.replace("''", "'") for text in re.findall(r"'((?:[^']|'')*)'", expression)}
    numbers = set(re.findall(r"(?<![\w.'])-?\d+(?:\.\d+)?(?![\w.'])", expression))
    levels = codes.levels if codes.discrete else np.unique(codes.values[~np.isnan(codes.values)]).tolist()
    known = {code_text(level) for level in levels}
    words = {str(level) for level in column.levels}
    by_code = ((said | numbers) & known) - words
    by_word = said & words
    if by_code and by_word:
        raise MappingError(
            where,
            f"{told(expression)} speaks of {name!r} by the word {min(by_word)!r} and by the code {min(by_code)!r}",
            "say it in one of them",
        )
    return codes if by_code else column


def _quoted(name: str) -> str:
    return name.replace('"', '""')


def _no_column(expression: str, name: str, table: Table, where: str) -> MappingError:
    close = nearest(name, table.names)
    hint = f". Did you mean {close!r}?" if close else ""
    return MappingError(where, f"{told(expression)}: no column {name!r}{hint}", f"columns: {listed(table.names)}")


def _sql_error(expression: str, said: str, table: Table, where: str) -> MappingError:
    unknown = re.search(r'column "?([^"\s]+)"? not found', said, re.IGNORECASE)
    if unknown:
        return _no_column(expression, unknown.group(1), table, where)
    first = said.split("\n")[0].strip()
    return MappingError(where, f"{told(expression)} can't be evaluated", first[:200])


def _by_narwhals(expression: Any, table: Table, where: str) -> AnyArray:
    import narwhals as nw
    import narwhals.stable.v2 as stable

    source = table.source
    if isinstance(source, Mapping | np.ndarray):
        raise MappingError(where, "a narwhals expression needs a data frame", "the data are arrays; write SQL or a callable")
    made = type(expression).__module__.startswith("narwhals.stable.v2")
    frame: Any = stable.from_native(source) if made else nw.from_native(source)
    try:
        frame = frame.collect() if hasattr(frame, "collect") else frame
        series = frame.select(expression.alias("made"))["made"]
    except Exception as problem:
        said = str(problem).split("\n")[0]
        raise MappingError(where, f"the expression can't be evaluated: {said[:200]}") from problem
    return np.array([*series.to_list(), None], object)[:-1]


def called(call: Callable[[Any], Any], table: Table, where: str, what: str = "the callable") -> Any:
    """The column that a callable returns for the frame that a table came from, as an array, a series or a list.

    Raises:
        MappingError: It fails, or returns no column.
    """
    try:
        made = call(table.source)
        if isinstance(made, Sized) or not isinstance(made, Iterable):
            values = made
        else:
            values = list(islice(made, table.height + 1))
    except Exception as problem:
        raise MappingError(
            where,
            f"{what} failed: {type(problem).__name__}: {problem}",
            "it gets the data frame, and returns a column",
        ) from problem
    shape = getattr(values, "shape", (0,))
    if isinstance(values, str | bytes | Mapping) or not isinstance(values, Sized) or len(shape) != 1:
        raise MappingError(
            where, f"{what} returned {told(made)}, which is no column", "it gets the data frame, and returns a column"
        )
    return values


def _by_call(call: Callable[[Any], Any], table: Table, where: str) -> AnyArray:
    made = called(call, table, where)
    return made if isinstance(made, np.ndarray) else np.array([*made, None], object)[:-1]


def crossed(columns: list[Column]) -> Column:
    """One category for every combination of several columns that occurs; its levels are tuples."""
    code = np.zeros(len(columns[0].values), np.int64)
    lost = np.zeros(len(code), bool)
    for column in columns:
        code = code * max(len(column.levels), 1) + np.maximum(column.values, 0)
        lost |= column.values < 0
    found, place = np.unique(code[~lost], return_inverse=True)
    levels = []
    for number in found.tolist():
        level: list[object] = []
        for column in reversed(columns):
            number, own = divmod(number, max(len(column.levels), 1))
            level.insert(0, column.levels[own])
        levels.append(tuple(level))
    codes = np.full(len(code), -1, np.int64)
    codes[~lost] = place
    return Column(" × ".join(column.name for column in columns), "category", codes, tuple(levels), own_order=True)
