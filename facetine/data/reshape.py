"""Wide columns made long."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from facetine.data.intake import taken_in
from facetine.data.table import no_column
from facetine.messages.errors import OptionError


def unpivot(data: Any, columns: Sequence[str], *, into: str = "name", values: str = "value") -> Any:
    """A row for each of several columns of every row: their names in one column, their values in another.

    Args:
        data: A data frame, or a dict of arrays.
        columns: The columns to make long; all others are repeated.
        into: The new column of their names.
        values: The new column of their values.

    Returns:
        A frame of the same make, the rows of the first column first.

    Raises:
        MappingError: There is no such column.
        OptionError: A new name is that of a column that stays, or no column is named.

    Example:
        >>> import facetine as ft
        >>> unpivot({"m": [1, 2], "retail": [5, 6], "whole": [7, 8]}, ["retail", "whole"], into="channel", values="sold")
        {'m': array([1, 2, 1, 2]), 'channel': array(['retail', 'retail', 'whole', 'whole'], dtype=object), \
'sold': array([5, 6, 7, 8])}
    """
    table = taken_in(data, "unpivot")
    chosen = [columns] if isinstance(columns, str) else list(columns)
    if not chosen:
        raise OptionError("unpivot", "no column is named", 'such as ["retail", "wholesale"]')
    for name in chosen:
        if name not in table.names:
            raise no_column(name, table.names, "unpivot", "the long form")
    rest = [name for name in table.names if name not in chosen]
    for name, option in ((into, "into"), (values, "values")):
        if name in rest or (option == "values" and name == into):
            raise OptionError("unpivot", f"{option}={name!r} is another column's name", f"columns that stay: {', '.join(rest)}")
    if isinstance(data, dict | np.ndarray):
        source: dict[str, Any] = {name: np.asarray(data[name]) for name in table.names}
        out = {name: np.tile(source[name], len(chosen)) for name in rest}
        out[into] = np.repeat(np.array(chosen, object), table.height)
        out[values] = np.concatenate([source[name] for name in chosen])
        return out
    import narwhals.stable.v2 as nw

    frame: Any = nw.from_native(data)
    return frame.unpivot(on=chosen, index=rest, variable_name=into, value_name=values).to_native()
