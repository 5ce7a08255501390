"""Tables that were copied from a spreadsheet."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from facetine.core.arrays import AnyArray
from facetine.data.delimited import Text, delimited
from facetine.data.dialect import Told
from facetine.data.readers import as_frame
from facetine.errors import OptionError, note, unknown

if TYPE_CHECKING:
    import pandas as pd


def pasted(**text: Any) -> pd.DataFrame:
    """A table from the clipboard, as spreadsheets put it there: cells between tabs, the names in the first row.

    Args:
        **text: How it is written, where that is not found out: delimiter, decimal, thousands, quote, comment, skip, header,
            as in `read`.

    Raises:
        ExportError: There is no clipboard, or no text on it.
        DataError: It holds no table.
        OptionError: There is no such option.

    Example:
        >>> import facetine as ft
        >>> table = ft.pasted()  # doctest: +SKIP
    """
    return as_frame(pasted_columns("pasted", **text))


def pasted_columns(where: str, **text: Any) -> dict[str, AnyArray]:
    """The columns of a table from the clipboard."""
    from facetine.clipboard import text_on_clipboard

    for name in text:
        if name not in Told._fields or name == "encoding":
            known = [one for one in Told._fields if one != "encoding"]
            raise unknown(OptionError, where, "no option", name, known, "options")
    content = text_on_clipboard(where).encode("utf-8")
    columns, notes = delimited([Text("the clipboard", "\t", content)], Told(**text), where)
    note(notes)
    return columns
