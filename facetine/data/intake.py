"""Frames of every make taken in as one kind of table."""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np

from facetine.core.arrays import AnyArray, mask_of
from facetine.data.deferred import Deferred
from facetine.data.kinds import column_of, durations, factorized, known_zone, of_texts
from facetine.data.table import Column, Hint, Table
from facetine.messages.errors import DataError, FacetineError, listed, told

if TYPE_CHECKING:
    import narwhals.stable.v2 as nw


# What readers of files call a column whose name is empty.
_OF_INDEX = re.compile(r"__index_level_\d+__")
_UNNAMED = ("", "unnamed 1", "column0", "Unnamed: 0", "column00")


def taken_in(data: object, where: str = "figure") -> Table:
    """A table from anything that holds named columns.

    Args:
        data: A data frame of any library that narwhals knows, a dict of arrays or lists, a NumPy structured array, or
            a table that was taken in before.
        where: The verb that asks, for the error.

    Raises:
        DataError: It holds no named columns, two columns have one name, or columns differ in length.
    """
    if isinstance(data, Table):
        return data
    if isinstance(data, Deferred):
        table = _without_row_numbers(Table(data.names, data.height, data, lambda name: column_of(name, data[name])))
    elif isinstance(data, Mapping):
        table = _without_row_numbers(_from_mapping(data, where))
    elif isinstance(data, np.ndarray):
        table = _from_array(data, where)
    else:
        table = _without_row_numbers(_from_frame(data, where))
    return replace(table, given=data)


def _without_row_numbers(table: Table) -> Table:
    """A table without what files that were written with an index without a name hold of it, which says nothing."""
    index = [name for name in table.names if _OF_INDEX.fullmatch(name)]
    if index and len(index) < len(table.names):
        hint = Hint("row-numbers", f"column {index[0]!r} is an index without a name; it is set aside", "give it a name to use it")
        names = tuple(name for name in table.names if name not in index)
        table = replace(table, names=names, hints=(*table.hints, hint))
    first = table.names[0] if table.names else None
    if first not in _UNNAMED or len(table.names) < 2:
        return table
    column = table.column(first)
    counting = np.arange(table.height)
    if column.kind != "number" or not any(np.array_equal(column.values, counting + start) for start in (0, 1)):
        return table
    hint = Hint("row-numbers", "the first column has no name and numbers the rows; it is set aside", "give it a name to use it")
    return replace(table, names=table.names[1:], hints=(*table.hints, hint))


def _refused(data: object, where: str) -> DataError:
    if isinstance(data, str | os.PathLike):
        return DataError(where, f"{told(data)} is a path, and no table", f"write figure(facetine.read({told(data)}))")
    what = "nothing" if data is None else f"{type(data).__module__}.{type(data).__name__}".removeprefix("builtins.")
    return DataError(
        where,
        f"no table in {what}",
        "data is a data frame (pandas, polars, …), a dict of arrays, a list of dicts, or arrays by keyword: figure(x=…, y=…)",
    )


def _check_names(names: Iterable[object], where: str) -> tuple[str, ...]:
    every = list(names)
    if len(set(map(str, every))) < len(every):
        twice = [name for name, count in Counter(map(str, every)).items() if count > 1]
        raise DataError(where, f"two columns are named {twice[0]!r}", f"columns: {listed(map(str, every))}; rename one of them")
    return tuple(str(name) for name in every)


def _from_mapping(data: Mapping[Any, Any], where: str) -> Table:
    names = _check_names(data, where)
    arrays = {str(name): _array(str(name), values, where) for name, values in data.items()}
    lengths = {name: len(array) for name, array in arrays.items()}
    if len(set(lengths.values())) > 1:
        sizes = ", ".join(f"{name}: {length}" for name, length in list(lengths.items())[:8])
        raise DataError(where, "the columns differ in length", sizes)
    height = next(iter(lengths.values()), 0)
    # What can be read once only has been read: callables get the arrays.
    data = {name: values if hasattr(values, "__getitem__") else arrays[str(name)] for name, values in data.items()}
    return Table(names, height, data, lambda name: column_of(name, arrays[name]))


def _array(name: str, values: object, where: str) -> AnyArray:
    if isinstance(values, np.ndarray):
        if values.ndim == 0:
            raise DataError(where, f"column {name!r} is one value, not a column", f"write [{values.item()!r}] for a single row")
        return values
    if isinstance(values, str | bytes) or not isinstance(values, Iterable):
        raise DataError(where, f"column {name!r} is one value, not a column", f"write [{values!r}] for a single row")
    items = [item.as_py() if hasattr(item, "as_py") else item for item in values]
    kinds = {type(item) for item in items}
    if kinds == {int}:
        try:
            return np.array(items, np.int64)
        except OverflowError:
            return np.array([*items, None], object)[:-1]
    if kinds <= {int, float} or kinds <= {bool} or kinds <= {str}:
        return np.array(items, dtype=object if kinds == {str} else None)
    array = np.empty(len(items), object)
    array[:] = items
    return array


def _from_array(data: AnyArray, where: str) -> Table:
    names = data.dtype.names
    if names is None or data.ndim != 1:
        raise DataError(
            where,
            "an array without named columns",
            'write figure(array, columns=["x", "y"]), or figure(x=array[:, 0], y=array[:, 1])',
        )
    masked: Any = mask_of(data)
    return Table(names, len(data), data, lambda name: column_of(name, data[name], None if masked is None else masked[name]))


def _from_frame(data: object, where: str) -> Table:
    # pandas lets two columns share a name; the names are checked before anything else touches them.
    maker = type(data).__module__.partition(".")[0]
    if maker in ("pandas", "modin") and hasattr(data, "columns"):
        said = data.columns.tolist()
        names = _check_names(said, where)
        if maker == "pandas":
            return _from_pandas(data, names, said, where)
    import narwhals.stable.v2 as nw

    try:
        frame: Any = nw.from_native(data)
    except TypeError as problem:
        raise _refused(data, where) from problem
    except Exception as problem:
        raise DataError(where, f"the data frame can't be read: {problem}") from problem
    if isinstance(frame, nw.LazyFrame):
        frame = frame.collect()
    if not isinstance(frame, nw.DataFrame):
        raise _refused(data, where)
    names = _check_names(frame.columns, where)
    places = dict(zip(names, frame.columns, strict=True))
    return Table(names, len(frame), data, _readable(lambda name: _from_series(name, frame.get_column(places[name])), where))


def _readable(load: Callable[[str], Column], where: str) -> Callable[[str], Column]:
    """What reads a column, with one error for whatever another library raises while it does."""

    def read(name: str) -> Column:
        try:
            return load(name)
        except FacetineError:
            raise
        except Exception as problem:
            said = f"{type(problem).__name__}: {str(problem)[:160]}"
            raise DataError(where, f"column {name!r} can't be read", said) from problem

    return read


def _from_pandas(data: Any, names: tuple[str, ...], said: list[Any], where: str) -> Table:
    """The frame that most have; its plain numbers and texts are taken as they are, which is quicker than asking what they are."""
    places = dict(zip(names, said, strict=True))

    def load(name: str) -> Column:
        series = data[places[name]]
        kind = series.dtype
        if isinstance(kind, np.dtype) and kind.kind in "iuf":
            return column_of(name, series.to_numpy())
        if type(kind).__name__ == "StringDtype":
            return _from_texts(name, series.to_numpy(object))
        import narwhals.stable.v2 as nw

        if type(kind).__name__ == "ArrowDtype":
            # pandas itself can do less with the sorts of Arrow than Arrow can.
            series = series.array.__arrow_array__()
        return _from_series(name, nw.from_native(series, series_only=True))

    return Table(names, len(data), data, _readable(load, where))


def _from_series(name: str, series: nw.Series[Any]) -> Column:
    import narwhals.stable.v2 as nw

    kind = series.dtype
    if kind.is_float() or kind.is_integer():
        # Most libraries hand over plain numbers, with NaN for what is missing; the others are asked where that is.
        try:
            numbers = series.to_numpy()
        except Exception:
            # Whole numbers of 128 bits have no array of their own.
            return column_of(name, np.array([*series.to_list(), None], object)[:-1])
        if numbers.dtype.kind in ("f" if kind.is_float() else "iu"):
            return column_of(name, numbers)
        # Floats with NaN for what is missing would make others of long whole numbers.
        missing = series.is_null().to_numpy().astype(bool)
        filled = series.fill_null(0).to_numpy()
        return column_of(name, filled.astype(np.float64) if kind.is_float() else filled, missing)
    if kind == nw.Decimal:
        return column_of(name, np.array([*series.to_list(), None], object)[:-1])
    if kind == nw.Duration:
        seconds = series.dt.total_microseconds().to_numpy().astype(np.float64) / 1e6
        return durations(name, np.where(series.is_null().to_numpy().astype(bool), np.nan, seconds))
    if kind.is_numeric():
        return column_of(name, series.cast(nw.Float64).to_numpy().astype(np.float64))
    if kind == nw.Boolean:
        missing = series.is_null().to_numpy().astype(bool)
        return column_of(name, series.fill_null(False).to_numpy().astype(bool), missing)
    if kind == nw.Datetime or kind == nw.Date:
        column = _from_times(name, series, str(getattr(kind, "time_zone", None) or "") or None)
        return replace(column, stored="date") if kind == nw.Date else column
    if kind == nw.Categorical or kind == nw.Enum:
        return _from_categories(name, series)
    values = np.asarray(series.to_numpy(), dtype=object)
    return _from_texts(name, values) if kind == nw.String else column_of(name, values)


def _from_texts(name: str, values: AnyArray) -> Column:
    """A column of texts stays one where none of them is there."""
    kinds = set(map(type, dict.fromkeys(values.tolist())))
    if kinds == {str}:
        return of_texts(name, values)
    return column_of(name, values) if str in kinds else Column(name, "category", np.full(len(values), -1, np.int64))


def _from_times(name: str, series: nw.Series[Any], zone: str | None) -> Column:
    missing = series.is_null().to_numpy().astype(bool)
    stamps = series.drop_nulls().dt.timestamp("us").to_numpy().astype(np.float64)
    micro = np.full(len(series), np.nan)
    micro[~missing] = stamps
    return Column(name, "time", micro, zone=known_zone(zone))


def _from_categories(name: str, series: nw.Series[Any]) -> Column:
    """Categories keep the order that the frame gives them; ordered ones are ordered here too."""
    import narwhals.stable.v2 as nw

    native = series.to_native()
    ordered = bool(getattr(getattr(native, "cat", None), "ordered", False)) or bool(
        getattr(getattr(native, "type", None), "ordered", False)
    )
    levels = [level for level in series.cat.get_categories().to_list() if level is not None]
    # A polars Categorical lists its texts as they were first seen, by any column: that is no order of anybody's.
    by_chance = type(native).__module__.startswith("polars") and series.dtype != nw.Enum
    said = not by_chance and (ordered or series.dtype == nw.Enum or levels != sorted(levels, key=str))
    texts = np.array([*series.to_list(), None], object)[:-1]
    codes, every = factorized(texts, None, name, order=() if by_chance else levels)
    # Levels that never occur are kept by the order of the data, and used where a scale asks for them.
    return Column(name, "ordered" if ordered else "category", codes, every, own_order=said)
