"""Tables that were copied from a spreadsheet."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from facetine.core.arrays import AnyArray
from facetine.data.delimited import Text, delimited
from facetine.data.dialect import Told
from facetine.data.readers import as_frame
from facetine.messages.errors import OptionError, note, unknown

if TYPE_CHECKING:
    import pandas as pd


def pasted(
    *,
    delimiter: str | None = None,
    decimal: str | None = None,
    thousands: str | None = None,
    quote: str | None = None,
    comment: str | None = None,
    skip: int | None = None,
    header: bool | None = None,
) -> pd.DataFrame:
    """A table from the clipboard, as spreadsheets put it there: cells between tabs, the names in the first row.

    Args:
        delimiter: As in `read`, and so are all others; what is not given is found out.
        decimal: The sign before decimals.
        thousands: The signs between thousands.
        quote: The sign around cells.
        comment: What lines begin with that are no rows.
        skip: How many lines stand before the table.
        header: Whether the first line holds the names of the columns.

    Raises:
        ExportError: There is no clipboard, or no text on it.
        DataError: It holds no table.
        OptionError: There is no such option.

    Example:
        >>> import facetine as ft
        >>> table = ft.pasted()  # doctest: +SKIP
    """
    text = Told(delimiter, decimal, thousands, None, quote, comment, skip, header)._asdict()
    return as_frame(pasted_columns("pasted", **{name: value for name, value in text.items() if value is not None}))


def pasted_columns(where: str, **text: Any) -> dict[str, AnyArray]:
    """The columns of a table from the clipboard."""
    from facetine.data.clipboard import text_on_clipboard

    for name in text:
        if name not in Told._fields or name == "encoding":
            known = [one for one in Told._fields if one != "encoding"]
            raise unknown(OptionError, where, "no option", name, known, "options")
    content = text_on_clipboard(where).encode("utf-8")
    columns, notes = delimited([Text("the clipboard", "\t", content)], Told(**text), where)
    note(notes)
    return columns
