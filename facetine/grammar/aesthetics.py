"""The aesthetics: visual properties that data can be mapped to, and how mappings are checked."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, TypeAlias

from facetine.data.table import Table, no_column
from facetine.errors import FacetineError, MappingError, told, unknown
from facetine.grammar.given import Options

MapValue: TypeAlias = str | tuple[str, ...] | Callable[[Any], Any] | None
Mapped: TypeAlias = Mapping[str, MapValue]
"""Mappings by aesthetic."""
LookValue: TypeAlias = str | float | None
"""A color, a shape, a dash, a size, a width or an opacity; None for none."""
Placing: TypeAlias = Callable[[str, object], float]
"""From an axis and a value that the analyst wrote for it to a number of the data."""
"""A column's name; a tuple of names, which crosses them;
a callable that gets the frame and returns a column; None to take an inherited mapping away."""

AESTHETICS: dict[str, str] = {
    "x": "place from left to right",
    "y": "place from bottom to top",
    "x_low": "left end of a range",
    "x_high": "right end of a range",
    "y_low": "lower end of a range",
    "y_high": "upper end of a range",
    "x_to": "where a segment ends, from left to right",
    "y_to": "where a segment ends, from bottom to top",
    "color": "the body of a mark: the ink of a line, the inside of a point or bar",
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
    for aesthetic, value in given.items():
        if aesthetic not in AESTHETICS:
            raise unknown(MappingError, where, "no aesthetic", aesthetic, AESTHETICS, "aesthetics")
        if value is None or callable(value):
            continue
        if isinstance(value, tuple | list) and value and all(isinstance(name, str) for name in value):
            for name in value:
                if table is not None and name not in table.names:
                    raise no_column(name, table.names, where, aesthetic)
            continue
        if not isinstance(value, str):
            raise MappingError(
                f"{where}: {aesthetic} is mapped to {told(value)}, which is no column name",
                f"arrays are given to figure({aesthetic}=…)"
                if hasattr(value, "__len__")
                else f"a fixed value is an option of the layer, such as .points({aesthetic}=…)",
            )
        if table is not None and value not in table.names:
            raise _fixed_meant(aesthetic, value, where) or no_column(value, table.names, where, aesthetic)
    return {name: tuple(value) if isinstance(value, list) else value for name, value in given.items()}


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
        f"{where}: {aesthetic}={value!r} is no column, and what is mapped follows one",
        f"what is fixed is an option of the layer, such as .points({aesthetic}={value!r})",
    )
