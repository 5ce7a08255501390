"""What an analyst has at hand made a table: arrays by keyword, rows as dicts, arrays with names, frames with an index."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from facetine.data.intake import taken_in
from facetine.data.table import Hint, Table
from facetine.messages.errors import DataError, OptionError, listed, told, unknown

_WORDS = ("data", "codebook", "columns", "reset")


def begun_with(
    data: object, arrays: Mapping[str, object], columns: Sequence[str] | None, reset: bool, where: str
) -> Table | None:
    """The table that a figure begins with; None for none.

    Args:
        data: A frame, a dict of arrays, a list of dicts, a list of files, an array, or None.
        arrays: Columns by keyword, in the place of data.
        columns: The names of the columns of a two-dimensional array.
        reset: Whether the index of a pandas frame becomes columns.
        where: The verb that asks.

    Raises:
        OptionError: Two of these are given that do not go together.
        DataError: The data hold no table.
    """
    if arrays:
        if data is not None:
            raise unknown(OptionError, where, "no option", next(iter(arrays)), _WORDS, "options, beside columns without data")
        if columns is not None or reset:
            raise OptionError(where, "columns and reset have no effect on columns by keyword", "leave them out")
        return taken_in(dict(arrays), where)
    if columns is not None:
        data = _named(data, columns, where)
    elif isinstance(data, list | tuple) and data and all(isinstance(row, Mapping) for row in data):
        data = _of_rows(data)
    if type(data).__module__.partition(".")[0] == "pandas" and hasattr(data, "index") and hasattr(data, "columns"):
        return _of_pandas(data, reset, where)
    if reset:
        raise OptionError(where, f"reset=True has no effect on {type(data).__name__}", "it is for the index of a pandas frame")
    return None if data is None else taken_in(data, where)


def _named(data: object, columns: Sequence[str], where: str) -> dict[str, Any]:
    """The columns of an array with two dimensions."""
    if isinstance(data, list | tuple):
        try:
            data = np.array(data)
        except ValueError:
            raise DataError(where, "rows differ in length", f"columns: {listed(map(str, columns))}") from None
    if not isinstance(data, np.ndarray) or data.ndim != 2:
        what = f"{data.ndim} dimensions" if isinstance(data, np.ndarray) else f"a {type(data).__name__}"
        raise OptionError(where, f"columns= names the columns of an array of shape (n, k), not of {what}")
    if isinstance(columns, str) or not all(isinstance(name, str) for name in columns):
        raise OptionError(where, f"columns is a list of names, not {told(columns)}")
    if len(set(columns)) != len(columns) or len(columns) != data.shape[1]:
        raise OptionError(where, f"{len(set(columns))} names for {data.shape[1]} columns", "each column has a name of its own")
    return {name: data[:, place] for place, name in enumerate(columns)}


def _of_rows(rows: Sequence[Mapping[Any, Any]]) -> dict[str, list[Any]]:
    """Columns from rows, in the order in which their names come up; what a row lacks is missing."""
    names = dict.fromkeys(name for row in rows for name in row)
    return {str(name): [row.get(name) for row in rows] for name in names}


def _of_pandas(data: Any, reset: bool, where: str) -> Table:
    """A pandas frame, whose index and levels of columns are said."""
    hints = []
    if data.columns.nlevels > 1:
        levels, joined = (
            data.columns.nlevels,
            ["_".join(str(part) for part in name if str(part)) for name in data.columns.to_flat_index()],
        )
        data = data.set_axis(joined, axis=1)
        hints.append(Hint("columns-joined", f"columns of {levels} levels are joined: {listed(map(repr, joined), 3)}", mild=True))
    named = [name for name in data.index.names if name is not None]
    if reset:
        try:
            data = data.reset_index()
        except ValueError as problem:
            raise DataError(where, f"the index can't be made columns: {problem}", "give its levels names of their own") from None
    elif named or data.index.dtype.kind in "OM" or type(data.index.dtype).__name__ == "StringDtype":
        said = f"the frame's index ({listed(map(repr, named))})" if named else "the frame's index"
        hints.append(Hint("index-unused", f"{said} is no column of the figure", "figure(…, reset=True) makes it one", mild=True))
    table = taken_in(data, where)
    return replace(table, hints=(*table.hints, *hints)) if hints else table
