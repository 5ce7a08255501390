"""Figures that suit a table, to begin with."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple, TypeVar

import numpy as np

from facetine.data.table import Column, Table
from facetine.layers.suggest import suggest

F = TypeVar("F")
"""A figure, of which nothing is known here but that it has verbs."""
_MOST_LEVELS = 12
"""Categories that colors, or slots of an axis, can tell apart."""


class Suggestion(NamedTuple):
    """A figure that suits a table."""

    mapping: Mapping[str, str]
    layer: str
    options: Mapping[str, Any]
    reason: str

    @property
    def sentence(self) -> str:
        """As it is written, of a table called `data`."""
        said, given = (", ".join(f"{name}={value!r}" for name, value in one.items()) for one in (self.mapping, self.options))
        return f"ft.figure(data).map({said}).{self.layer}({given})"

    def added(self, figure: F) -> F:
        """A figure of the table, with what is suggested."""
        begun: Any = figure
        made: F = getattr(begun.map(**self.mapping), self.layer)(**self.options)
        return made

    def command(self, file: str, number: int) -> str:
        """The command that draws it.

        Args:
            file: The file of the table.
            number: Which of several it is, for the name of the figure's file.
        """
        from shlex import quote

        mapped = " ".join(f"-m {quote(f'{name}={column}')}" for name, column in self.mapping.items())
        options = ",".join(f"{name}={value}" for name, value in self.options.items())
        return f"facetine draw {quote(file)} {mapped} -l {self.layer}{f':{options}' if options else ''} -o figure-{number}.pdf"


def suggestions_for(table: Table, most: int = 3) -> list[Suggestion]:
    """Figures that suit the columns of a table: over time, of the two numbers that go together most, of groups, of one."""
    table = table.sound()
    columns = [table.column(name) for name in table.names]
    told = [column for column in columns if not column.missing.all() and _distinct(column) > 1]
    every = [column for column in told if column.kind == "number"]
    numbers = [column for column in every if not _counts_rows(column)] or every
    times = [column for column in told if column.kind == "time"]
    categories = [column for column in told if column.discrete and column.kind != "yes_no" and _distinct(column) <= _MOST_LEVELS]
    # A category that tells each row from all others is no color.
    colors = [column.name for column in categories if _distinct(column) <= table.height / 2]
    color = {"color": colors[0]} if colors else {}
    wanted: list[dict[str, str]] = []
    if times and numbers:
        wanted.append({"x": times[0].name, "y": numbers[0].name, **color})
    if len(numbers) > 1:
        wanted.append({**_closest(table, numbers), **color})
    if categories and numbers:
        wanted.append({"x": categories[0].name, "y": numbers[0].name})
    wanted += [{"x": column.name} for column in (*numbers[:1], *categories[:1])]
    if len(categories) > 1:
        wanted.append({"x": categories[0].name, "y": categories[1].name})
    return [_proposed(table, mapping) for mapping in wanted[:most]] or _of_one(table, columns)


def _of_one(table: Table, columns: list[Column]) -> list[Suggestion]:
    """Of a table in which nothing varies, or all is text of its own, the first column that holds a value."""
    there = [column for column in columns if not column.missing.all()]
    return [_proposed(table, {"x": column.name}) for column in there[:1]]


def _closest(table: Table, numbers: list[Column]) -> dict[str, str]:
    """The two numbers that go together most; numbers of rows are none."""
    from facetine.data.related import relations

    names = [column.name for column in numbers]
    found = relations(table, 1, names[:20]) if len(names) > 1 else []
    pair = (found[0].first, found[0].second) if found else (numbers[0].name, numbers[1].name)
    return {"x": pair[0], "y": pair[1]}


def _counts_rows(column: Column) -> bool:
    return len(column.values) > 2 and bool((np.diff(column.values) == 1).all())


def _distinct(column: Column) -> int:
    return len(np.unique(column.values[~column.missing]))


def options_for(layer: str, table: Table, mapping: Mapping[str, str]) -> dict[str, str]:
    """Options without which a suggested layer would refuse these rows: a line of several rows at one x shows their mean."""
    return {"aggregate": "mean"} if layer == "lines" and len(mapping) > 1 and _repeated(table, mapping) else {}


def _repeated(table: Table, mapping: Mapping[str, str]) -> bool:
    """Whether several rows have one x in one group."""
    every = np.column_stack([table.column(name).values.astype(float) for axis, name in mapping.items() if axis != "y"])
    there = every[~np.isnan(every).any(axis=1)]
    return len(np.unique(there, axis=0)) < len(there)


def _proposed(table: Table, mapping: dict[str, str]) -> Suggestion:
    best = suggest(table, **{axis: name for axis, name in mapping.items() if axis in ("x", "y")})[0]
    options = options_for(best.layer, table, mapping)
    said = {name: value for name, value in mapping.items() if name != "color" or best.layer != "cells"}
    return Suggestion(said, best.layer, options, best.reason)
