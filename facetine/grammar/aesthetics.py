"""The aesthetics: visual properties that data can be mapped to, and how mappings are checked."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from typing import Any, TypeAlias

from facetine.data.expressions import evaluated, with_column
from facetine.data.sql import columns_of
from facetine.data.table import Table, no_column
from facetine.grammar.given import Options
from facetine.messages.errors import FacetineError, MappingError, told, unknown

MapValue: TypeAlias = str | tuple[str, ...] | Callable[[Any], Any] | None
"""A column's name; a tuple of names, which crosses them; an expression, `Sql`;
a callable that gets the frame and returns a column; None to take an inherited mapping away."""
Mapped: TypeAlias = Mapping[str, MapValue]
"""Mappings by aesthetic."""
LookValue: TypeAlias = str | float | None
"""A color, a shape, a dash, a size, a width or an opacity; None for none."""
Placing: TypeAlias = Callable[[str, object], float]
"""From an axis and a value that the analyst wrote for it to a number of the data."""


class Sql(str):
    """An expression in the place of a column: what it makes of the rows is a column whose name is the expression."""

    __slots__ = ()

    def __repr__(self) -> str:
        return f"sql({str(self)!r})"


def sql(expression: str) -> Sql:
    """An expression to which an aesthetic is mapped, in the place of a column's name.

    Args:
        expression: A scalar expression of SQL over the columns of the data, such as "mass_kg * 1000".

    Raises:
        OptionError: It is no single scalar expression, or asks for chance, the clock or the machine.
        MappingError: It can't be parsed.

    Example:
        >>> import facetine as ft
        >>> ft.figure({"kg": [1.5, 2.0], "ph": [5.1, 5.4]}).map(x=ft.sql("kg * 1000"), y="ph").points()
        figure(2 rows × 3 columns)
          .map(x=sql('kg * 1000'), y='ph')
          .points()
    """
    if not isinstance(expression, str):
        raise MappingError("facetine.sql", f"{told(expression)} is no expression", 'such as "mass_kg * 1000"')
    columns_of(expression, "facetine.sql")
    return Sql(expression)


def with_computed(table: Table, mappings: Iterable[Mapped], where: str, *, again: bool = False) -> Table:
    """A table with the columns that expressions in mappings make.

    Args:
        table: The rows.
        mappings: By aesthetic.
        where: Who asks, for the error.
        again: Whether columns that are there are made anew, since what they are made of may have changed.

    Raises:
        MappingError: An expression fails, or names a column that is not there.
    """
    every = [value for mapping in mappings for value in mapping.values()]
    parts = [part for value in every for part in (value if isinstance(value, tuple) else (value,))]
    for value in dict.fromkeys(part for part in parts if isinstance(part, Sql)):
        if again or value not in table.names:
            table = with_column(table, evaluated(value, table, value, where))
    return table


AESTHETICS: dict[str, str] = {
    "x": "place from left to right",
    "y": "place from bottom to top",
    "x_low": "left end of a range",
    "x_high": "right end of a range",
    "y_low": "lower end of a range",
    "y_high": "upper end of a range",
    "x_to": "where a segment ends, from left to right",
    "y_to": "where a segment ends, from bottom to top",
    "color": "the body of a mark: the color of a line, the inside of a point or bar",
    "outline": "the border of a mark",
    "opacity": "how much a mark covers what lies below it, 0 to 1",
    "size": "the area of a point",
    "shape": "the outline of a point",
    "dash": "the pattern of a line",
    "line_width": "the width of a line",
    "label": "the text of a mark",
    "weight": "how much a row counts in what is computed",
    "group": "which rows belong together",
}
"""Every aesthetic and what it is."""

LOOKS = ("color", "outline", "opacity", "size", "shape", "dash", "line_width")
"""Those that a legend explains."""

TURNED = {
    "x": "y", "x_low": "y_low", "x_high": "y_high", "x_to": "y_to",
    "y": "x", "y_low": "x_low", "y_high": "x_high", "y_to": "x_to",
}  # fmt: skip
"""The other axis's aesthetic of each place."""

POSITIONS: dict[str, str] = {
    "x": "x", "x_low": "x", "x_high": "x", "x_to": "x",
    "y": "y", "y_low": "y", "y_high": "y", "y_to": "y",
}  # fmt: skip
"""The axis of each aesthetic that is a place."""


def checked_mapping(given: Options, table: Table | None, where: str) -> dict[str, MapValue]:
    """Mappings with known aesthetics and columns that are there.

    Args:
        given: Aesthetic and column.
        table: The data whose columns are meant; None while they are not known.
        where: The verb that asks.

    Raises:
        MappingError: An aesthetic or a column is unknown, or a value is neither name, callable nor None.
    """
    given = {name: _said_plainly(value, f"{where}: {name}") for name, value in given.items()}
    for aesthetic, value in given.items():
        if aesthetic not in AESTHETICS:
            raise unknown(MappingError, where, "no aesthetic", aesthetic, AESTHETICS, "aesthetics")
        if value is None or callable(value) or isinstance(value, Sql):
            continue
        if isinstance(value, tuple | list) and value and all(isinstance(name, str) for name in value):
            for name in value:
                if table is not None and name not in table.names and not isinstance(name, Sql):
                    raise table.missing(name, where, aesthetic)
            continue
        if not isinstance(value, str):
            raise MappingError(
                where,
                f"{aesthetic} is mapped to {told(value)}, which is no column name",
                f"arrays are given to figure({aesthetic}=…)"
                if hasattr(value, "__len__")
                else f"a fixed value is an option of the layer, such as .points({aesthetic}=…)",
            )
        if table is not None and value not in table.names:
            meant = _fixed_meant(aesthetic, value, where) or _aggregate_meant(aesthetic, value, table, where)
            meant = meant or _expression_meant(aesthetic, value, table, where)
            raise meant or table.missing(value, where, aesthetic)
    return {name: tuple(value) if isinstance(value, list) else value for name, value in given.items()}


_OPERATOR = re.compile(r"[-+*/%()<>=|]|\b(AND|OR|NOT|IN|CASE|LIKE|BETWEEN)\b", re.IGNORECASE)


_AGGREGATE = re.compile(r"\s*(mean|avg|average|median|sum|total|count|min|max)\s*\(\s*(.*?)\s*\)\s*", re.IGNORECASE)
_CALLED = {"avg": "mean", "average": "mean", "total": "sum"}


def _aggregate_meant(aesthetic: str, value: str, table: Table, where: str) -> MappingError | None:
    """What to say where an aggregate of a column is given in the place of a column: the layer computes it."""
    found = _AGGREGATE.fullmatch(value)
    if found is None or (found[2] not in table.names and found[2] not in ("", "*")):
        return None
    how = found[1].lower()
    how = _CALLED.get(how, how)
    said = f'a layer computes it: .map({aesthetic}="{found[2]}").bars(aggregate="{how}")'
    if how == "count" and found[2] not in table.names:
        said = f"without {aesthetic} .bars() and .histogram() count rows"
    return no_column(value, table.names, where, aesthetic).but(proposed="", choices=(), help=said)


def _expression_meant(aesthetic: str, value: str, table: Table, where: str) -> MappingError | None:
    """What to say where an expression is given in the place of a column; None where it is none."""
    words = set(re.findall(r"[^\W\d]\w*", value))
    if not words & set(table.names) or not _OPERATOR.search(value):
        return None
    said = f"an expression is written {aesthetic}=facetine.sql({value!r})"
    return no_column(value, table.names, where, aesthetic).but(choices=(), help=said)


def _said_plainly(value: Any, where: str) -> Any:
    """A value of a mapping; an expression stands in plain data as a table with the key "sql"."""
    if isinstance(value, list | tuple):
        return type(value)(_said_plainly(part, where) for part in value)
    if not isinstance(value, Mapping):
        return value
    if set(value) != {"sql"}:
        raise MappingError(
            where, f"is mapped to {told(value)}", 'an expression is written { sql = "mass_kg * 1000" }', of_option=True
        )
    return sql(value["sql"])


def _fixed_meant(aesthetic: str, value: str, where: str) -> MappingError | None:
    """What to say where a look is given in the place of a column; None where it is none."""
    from facetine.core.color.names import hex_color
    from facetine.grammar.scale import DASHES, SHAPES

    looks = {"shape": SHAPES, "dash": DASHES}
    known = value in looks.get(aesthetic, ())
    if aesthetic in ("color", "outline"):
        try:
            known = bool(hex_color(value, where))
        except FacetineError:
            known = False
    if not known:
        return None
    return MappingError(
        where,
        f"{aesthetic}={value!r} is no column, and what is mapped follows one",
        f"what is fixed is an option of the layer, such as .points({aesthetic}={value!r})",
    )
