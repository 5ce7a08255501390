"""What is said of a sentence that is repeated over columns."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from facetine.data.table import Table, no_column
from facetine.grammar.given import Plain
from facetine.grammar.options import choice, whole
from facetine.messages.errors import OptionError, told

SERIES = ("color", "dash", "shape", "outline")
"""The looks that can tell columns in one panel apart."""


@dataclass(frozen=True, kw_only=True)
class Variables:
    """Columns over which the sentence is repeated."""

    x: tuple[str, ...] = ()
    y: tuple[str, ...] = ()
    by: str | None = None
    """The look that tells them apart in one panel; None for a panel each."""
    per_row: int | None = None
    """How many panels stand side by side."""

    def said(self) -> Plain:
        """What was said."""
        said = {"x": self.x, "y": self.y, "by": self.by, "per_row": self.per_row}
        return {name: value for name, value in said.items() if value}


def variables_of(x: object, y: object, by: object, per_row: object, table: Table | None) -> Variables:
    """The columns over which a sentence is repeated, checked.

    Raises:
        MappingError: There is no such column.
        OptionError: No columns are given, or options that do not go together.
    """
    where = "figure.over_variables"
    columns = {name: column_list(given, table, f"{where}: {name}", "a panel") for name, given in (("x", x), ("y", y))}
    if not columns["x"] and not columns["y"]:
        raise OptionError(where, "no columns", 'such as .over_variables(y=["mass_kg", "ph"])')
    look = None if by is None else str(choice(*SERIES, name="looks")(by, f"{where}: by"))
    if look is not None and columns["x"] and columns["y"]:
        raise OptionError(where, "by sets columns of one axis into one panel, and both are varied", "leave out x or y")
    count = None if per_row is None else int(whole(1, 1000)(per_row, f"{where}: per_row"))
    if count is not None and (look is not None or (columns["x"] and columns["y"])):
        raise OptionError(where, "per_row is for panels that wrap", "leave it out")
    return Variables(x=columns["x"], y=columns["y"], by=look, per_row=count)


def column_list(given: object, table: Table | None, where: str, use: str) -> tuple[str, ...]:
    """A list of columns, each named once; none where nothing is given.

    Raises:
        MappingError: There is no such column.
        OptionError: It is no list, or a column is named twice.
    """
    if given is None:
        return ()
    if isinstance(given, str) or not isinstance(given, Iterable) or isinstance(given, Mapping):
        raise OptionError(where, f"is a list of columns, not {told(given)}", 'such as ["mass_kg", "ph"]', of_option=True)
    names = tuple(given)
    for name in names:
        if table is not None and (not isinstance(name, str) or name not in table.names):
            raise no_column(name, table.names, where, use)
        if names.count(name) > 1:
            raise OptionError(where, f"{told(name)} is named twice")
    return names


def check_series(look: str, mapped: object) -> None:
    """Refuses a look that shows something already.

    Raises:
        OptionError: It does.
    """
    if mapped is not None:
        others = ", ".join(name for name in SERIES if name != look)
        raise OptionError(
            "figure.over_variables", f"by={look!r}, but {look} shows {told(mapped)} already", f"other aesthetics: {others}"
        )
