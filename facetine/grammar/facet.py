"""What is said of panels: of which variables they are, where they stand, and what each has of its own."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any, TypeAlias

from facetine.core.arrays import is_whole
from facetine.core.scales.templates import parsed
from facetine.data.codebook import class_ranges
from facetine.data.expressions import Expression, evaluated, is_code
from facetine.data.sql import columns_of
from facetine.data.table import Levels, Table, no_column
from facetine.grammar.given import Length, Options, Plain
from facetine.grammar.options import anything, checked, choice, flag, length, numbers, option, order_option, text, whole
from facetine.messages.errors import OptionError, told, unknown

Variable: TypeAlias = str | tuple[str, ...] | Expression
"""A column; a tuple of columns, which are nested; or an expression, which makes a column."""


Breaks: TypeAlias = tuple[float, ...] | Mapping[str, tuple[float, float]]
"""Where classes part, or the range of each by its name."""


def _breaks(value: object, where: str) -> Breaks | dict[str, Any]:
    # Whether a table is one of columns or of classes is known when the columns are.
    if isinstance(value, Mapping):
        return dict(value)
    return _breaks_of_one(value, where)


def _breaks_of_one(value: object, where: str) -> Breaks:
    if isinstance(value, Mapping):
        return dict(class_ranges(value, where))
    ends = numbers(value, where)
    if not ends or any(after <= before for before, after in pairwise(ends)):
        raise OptionError(where, f"is a list of increasing numbers, not {told(value)}", "such as [60, 180]", of_option=True)
    return ends


def _separate(value: object, where: str) -> str | dict[str, str]:
    if not isinstance(value, Mapping):
        return str(choice("x", "y", "xy", name="axes")(value, where))
    for axis, sharing in value.items():
        choice("x", "y", name="axes")(axis, where)
        choice("row", "column", "panel", name="words")(sharing, f"{where}[{axis!r}]")
    return {str(axis): str(sharing) for axis, sharing in value.items()}


def _order(value: object, where: str) -> Levels | str | dict[str, Levels | str]:
    if isinstance(value, Mapping):
        return {str(name): order_option(levels, f"{where}[{name!r}]") for name, levels in value.items()}
    return order_option(value, where)


@dataclass(frozen=True, kw_only=True)
class Facet:
    """Panels for the values of a variable, or for each pair of values of two."""

    by: Variable | None = option(None, anything)
    rows: Variable | None = option(None, anything)
    columns: Variable | None = option(None, anything)
    per_row: int | None = option(None, whole(1, 1000))
    order: Levels | str | Mapping[str, Levels | str] | None = option(
        None,
        _order,
    )
    of: str | None = option(None, text)
    per_column: int | None = option(None, whole(1, 1000))
    separate: str | Mapping[str, str] | None = option(
        None,
        _separate,
    )
    breaks: Breaks | Mapping[str, Any] | None = option(None, _breaks)
    gap_x: Length = option(None, length)
    gap_y: Length = option(None, length)
    repeat_axes: bool = option(False, flag)
    empty: str = option("keep", choice("keep", "drop", name="words"))
    per_page: int | None = option(None, whole(1, 1000))
    row_headings: str = option("right", choice("right", "left", name="sides"))
    heading: str | Callable[[Any], str] | None = option(
        None,
        anything,
    )

    @property
    def variables(self) -> tuple[Variable, ...]:
        """Those whose values make panels: that of the rows first."""
        return tuple(variable for variable in (self.by, self.rows, self.columns) if variable is not None)

    @property
    def names(self) -> tuple[str, ...]:
        """What these are called."""
        return tuple(map(variable_name, self.variables))

    @property
    def crossed(self) -> bool:
        """Whether panels stand in rows and columns instead of being wrapped."""
        return self.rows is not None or self.columns is not None

    @property
    def sharing(self) -> dict[str, str]:
        """What has an axis of its own, for x and y: a panel, a row, a column; nothing where all share one."""
        if isinstance(self.separate, Mapping):
            return dict(self.separate)
        return dict.fromkeys(self.separate or "", "panel")

    def order_of(self, name: str) -> Levels | str | None:
        """The order that was said for the values of a column."""
        return self.order.get(name) if isinstance(self.order, Mapping) else self.order


def variable_name(variable: Variable) -> str:
    """What a variable is called: its column, its columns, its SQL, or the name of the callable."""
    if isinstance(variable, tuple):
        return " × ".join(variable)
    if isinstance(variable, str):
        return variable
    return str(getattr(variable, "__name__", "computed")).replace("<lambda>", "computed")


def facet_of(by: object, rows: object, columns: object, options: Options, table: Table | None, where: str) -> Facet:
    """What was said of panels, checked.

    Raises:
        MappingError: There is no such column, or an expression fails.
        OptionError: An option is impossible, or does not go with another one.
    """
    heading = options.get("heading")
    given = {name: value for name, value in options.items() if value is not None and name != "heading"}
    if is_whole(rows) and by is not None:
        raise OptionError(where, f"rows is a column, not {rows}", _so_many_rows(int(rows), by, table))
    sides = {"by": by, "rows": rows, "columns": columns}
    said: Plain = {name: _variable(value, table, where) for name, value in sides.items() if value is not None}
    said |= {"heading": checked_heading(heading, where)} if heading is not None else {}
    facet = Facet(**said, **checked(Facet, given, where))
    facet = replace(facet, breaks=_breaks_by_column(facet, f"{where}: breaks"))
    _check_together(facet, where)
    return facet


def _so_many_rows(rows: int, by: object, table: Table | None) -> str:
    """The call that sets panels in so many rows."""
    if not isinstance(by, str) or table is None or by not in table.names or rows < 1:
        return f"per_column={rows} sets so many below each other"
    column = table.column(by)
    count = len(column.levels) if column.discrete else len(set(column.values[~column.missing].tolist()))
    return f"per_row={max(math.ceil(count / rows), 1)} sets the {count} panels in {rows} rows"


def _breaks_by_column(facet: Facet, where: str) -> Breaks | Mapping[str, Any] | None:
    """Breaks of one column as they are; those of rows and columns by their names.

    Raises:
        OptionError: They are of a column that makes no panels, or of one of two without saying which.
    """
    said = facet.breaks
    if said is None or (not facet.crossed and not isinstance(said, Mapping)):
        return said
    if isinstance(said, Mapping) and said and set(said) <= set(facet.names):
        each = {name: _breaks_of_one(one, f"{where}[{name!r}]") for name, one in said.items()}
        return each if facet.crossed else next(iter(each.values()))
    if len(facet.names) == 1:
        one = _breaks_of_one(said, where)
        return {facet.names[0]: one} if facet.crossed else one
    raise OptionError(where, "say which column they divide", f"such as breaks={{{facet.names[0]!r}: [60, 180]}}", of_option=True)


def _variable(given: object, table: Table | None, where: str) -> Variable:
    if isinstance(given, tuple | list) and given and all(isinstance(name, str) for name in given):
        for name in given:
            if table is not None and name not in table.names:
                raise no_column(name, table.names, where, "the panels")
        return tuple(given) if len(given) > 1 else given[0]
    if isinstance(given, int | float) and not isinstance(given, bool):
        fix = f"per_row={given} sets so many side by side"
        raise OptionError(where, f"the panels are of a column, not of {told(given)}", fix)
    if isinstance(given, str) and (table is None or given in table.names):
        return given
    written = isinstance(given, str) and re.search(r"[^\w\s]", given) is not None
    if written or is_code(given):
        if isinstance(given, str) and not columns_of(given, where):
            raise OptionError(where, f"{told(given)} speaks of no column, so that there is one panel", "name a column")
        if table is not None:
            evaluated(given, table, "panels", where)
        return given
    raise no_column(given if isinstance(given, str) else told(given), () if table is None else table.names, where, "the panels")


def _same(variable: Variable, other: Variable | None) -> bool:
    """Whether two variables are one; expressions that are no SQL can't be compared."""
    if is_code(variable) or is_code(other):
        return variable is other
    return bool(variable == other)


def _check_together(facet: Facet, where: str) -> None:
    """What a facet says must go together.

    Raises:
        OptionError: It wraps and crosses at once, or says something of one form that belongs to the other.
    """
    if facet.crossed and facet.by is not None:
        raise OptionError(
            where,
            f"{variable_name(facet.by)!r} and rows= or columns= say the panels twice",
            'rows="milk", columns="rind" crosses two',
        )
    if facet.rows is not None and _same(facet.rows, facet.columns):
        raise OptionError(where, f"rows and columns are both {facet.rows!r}", "a column crosses another one")
    for name in ("per_row", "per_column"):
        if facet.crossed and getattr(facet, name) is not None:
            fix = f"facet({facet.names[0]!r}, {name}=…) wraps"
            raise OptionError(where, f"{name} is for panels that wrap, not for rows= and columns=", fix)
    if facet.per_row is not None and facet.per_column is not None:
        raise OptionError(where, "per_row and per_column say the same thing", "give one of them")
    if not facet.crossed and facet.empty == "drop":
        raise OptionError(where, "empty is for rows= and columns=", "panels that wrap are those of values that occur")
    if facet.row_headings == "left" and facet.rows is None:
        raise OptionError(where, "row_headings is for panels in rows", 'rows="milk" makes them')
    if not facet.crossed and any(sharing != "panel" for sharing in facet.sharing.values()):
        raise OptionError(
            where, "separate by rows and columns is for rows= and columns=", 'separate="y" gives each panel its own'
        )
    if facet.breaks is not None and isinstance(facet.by, tuple):
        raise OptionError(where, "breaks divide one column of numbers, not several", "the codebook's classes divide a column")
    _check_order(facet, where)
    words = [facet.order_of(name) for name in facet.names]
    nested = [part for variable in facet.variables if isinstance(variable, tuple) for part in variable]
    if any(isinstance(facet.order_of(part), str) for part in nested):
        raise OptionError(where, "nested columns take an order each that is a list", f'such as order={{"{nested[0]}": […]}}')
    if facet.of is not None and not {"rising", "falling"} & {word for word in words if isinstance(word, str)}:
        raise OptionError(where, f"of={facet.of!r} has no effect without an order", 'order="falling" goes by its medians')
    if facet.crossed and facet.of is None and {"rising", "falling"} & {word for word in words if isinstance(word, str)}:
        raise OptionError(where, "rows and columns rise or fall by a column", 'of="…" names it')


def _check_order(facet: Facet, where: str) -> None:
    each = (variable if isinstance(variable, tuple) else (variable_name(variable),) for variable in facet.variables)
    parts = [name for names_of_one in each for name in names_of_one]
    if facet.order is None:
        return
    if isinstance(facet.order, Mapping):
        for name in facet.order:
            if name not in parts:
                raise unknown(OptionError, where, "order: no panels of", name, parts, "columns of the facet")
    elif len(parts) > 1:
        raise OptionError(where, f"order is of one column, and there are {len(parts)}", f'such as order={{"{parts[0]}": […]}}')


HEADING_PARTS = ("name", "value", "count")


def checked_heading(heading: object, where: str) -> str | Callable[[Any], str]:
    """A heading's template with known parts, or a callable.

    Raises:
        OptionError: It is neither, or names an unknown part.
    """
    if callable(heading):
        return heading
    if not isinstance(heading, str):
        raise OptionError(where, f'heading is a text such as "{{name}}: {{value}}" or a callable, not {told(heading)}')
    try:
        parts = parsed(heading).names
    except ValueError as problem:
        raise OptionError(where, f"heading {told(heading)} is no template: {problem}") from problem
    for part in parts:
        if part not in HEADING_PARTS:
            raise unknown(OptionError, where, "heading has no part", part, HEADING_PARTS, "parts")
    return heading
