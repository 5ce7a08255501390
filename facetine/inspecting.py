"""A first look at a table: what it holds, and figures to begin with."""

from __future__ import annotations

import sys
from collections.abc import Mapping
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from facetine.data.table import Column, Table
from facetine.layers.suggest import suggest

if TYPE_CHECKING:
    from facetine.data.inspected import ColumnFacts
    from facetine.grammar.given import Frame

_MOST_LEVELS = 12
"""Categories that colors, or slots of an axis, can tell apart."""
_ROWS, _WIDE = 5, 18
_HEAD = ("column", "kind", "values", "missing", "example", "range")


class Proposal(NamedTuple):
    """A figure that suits a table."""

    sentence: str
    """As it is written, of a table called `data`."""
    reason: str


class Inspected:
    """What a table holds; shown as text, and in a notebook as a table."""

    def __init__(self, table: Table) -> None:
        from facetine.data.inspected import facts

        self.table = table
        self.columns: list[ColumnFacts] = facts(table)
        """Each with name, kind, distinct, missing, range and hint."""
        self.proposals = proposals(table)
        """Figures to begin with, each with its sentence and the reason."""

    def __repr__(self) -> str:
        rows = [_HEAD, *self._cells()]
        wide = [max(len(row[place]) for row in rows) for place in range(len(rows[0]))]
        lines = [f"{self.table.height:,} rows, {len(self.columns)} columns"]
        lines += ["  " + "  ".join(cell.ljust(room) for cell, room in zip(row, wide, strict=True)).rstrip() for row in rows]
        lines += [f"note: {one.hint}" for one in self.columns if one.hint]
        lines += ["first rows:", *self._first_rows()]
        lines += ["figures to begin with:"] if self.proposals else []
        lines += [line for one in self.proposals for line in (f"  {one.sentence}", f"      {one.reason}")]
        return "\n".join(lines)

    def _repr_html_(self) -> str:
        from html import escape

        head = "".join(f"<th>{name}</th>" for name in _HEAD)
        body = "".join(f"<tr>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>" for row in self._cells())
        hints = "".join(f"<li>{escape(one.hint)}</li>" for one in self.columns if one.hint)
        first = escape("\n".join(self._first_rows()))
        shown = "".join(f"<dt><code>{escape(one.sentence)}</code></dt><dd>{escape(one.reason)}</dd>" for one in self.proposals)
        return (
            f"<p>{self.table.height:,} rows, {len(self.columns)} columns</p>"
            f"<table><thead><tr>{head}</tr></thead><tbody>{body}</tbody></table>"
            + (f"<ul>{hints}</ul>" if hints else "")
            + f"<p>First rows</p><pre>{first}</pre>"
            + (f"<p>Figures to begin with</p><dl>{shown}</dl>" if shown else "")
        )

    def _cells(self) -> list[tuple[str, ...]]:
        """What is said of each column."""
        counts = {one.name: (f"{one.distinct:,}", f"{one.missing:,}" if one.missing else "") for one in self.columns}
        return [(one.name, one.kind, *counts[one.name], self._example(one.name), one.range) for one in self.columns]

    def _example(self, name: str) -> str:
        """The first value that is there."""
        column = self.table.column(name)
        there = int(column.missing.argmin()) if not column.missing.all() else 0
        return _cut(next(iter(self._words(column, slice(there, there + 1))), ""))

    def _first_rows(self) -> list[str]:
        columns = [[name, *self._words(self.table.column(name), slice(_ROWS))] for name in self.table.names]
        wide = [min(_WIDE, max(map(len, column))) for column in columns]
        rows = zip(*columns, strict=True)
        return ["  " + "  ".join(_cut(cell).ljust(room) for cell, room in zip(row, wide, strict=True)).rstrip() for row in rows]

    @staticmethod
    def _words(column: Column, rows: slice) -> list[str]:
        """The values of some rows as words; "" where there is none."""
        from facetine.core.scales.calendar import strftime
        from facetine.data.codebook import code_text
        from facetine.data.inspected import short

        found = []
        for value, gone in zip(column.values[rows].tolist(), column.missing[rows].tolist(), strict=True):
            if gone:
                found.append("")
            elif column.discrete:
                level = column.levels[int(value)]
                found.append(("yes" if level else "no") if isinstance(level, bool) else code_text(level))
            elif column.kind == "time":
                found.append(strftime([float(value)], "%Y-%m-%d %H:%M", column.zone)[0].removesuffix(" 00:00"))
            else:
                found.append(short(float(value)))
        return found


def _cut(word: str) -> str:
    return word if len(word) <= _WIDE else f"{word[: _WIDE - 1]}…"


def inspect(data: Frame, *, codebook: object = None) -> Inspected:
    """What a table holds: rows, kinds, ranges, missing values, examples, the first rows, and figures to begin with.

    It is printed where nothing else would show it: in a script; a notebook and a prompt show what is returned.

    Args:
        data: As for `figure`.
        codebook: What is known of the columns, as for `figure`.

    Raises:
        DataError: It holds no table.
        OptionError: The codebook says something impossible.

    Example:
        >>> import facetine as ft
        >>> seen = ft.inspect(ft.demo_data("wheels"))  # doctest: +ELLIPSIS
        240 rows, 13 columns
        ...
        >>> seen.proposals[0].sentence
        "ft.figure(data).map(x='age_days', y='mass_kg', color='cellar').points()"
    """
    from facetine.opening import figure

    table = figure(data, codebook=codebook)._sentence.table
    if table is None:
        from facetine.errors import DataError

        raise DataError("inspect: no table in nothing", "data is a data frame, a dict of arrays, or a list of dicts")
    seen = Inspected(table)
    if not hasattr(sys, "ps1") and "IPython" not in sys.modules:
        sys.stdout.write(f"{seen!r}\n")
    return seen


def proposals(table: Table, most: int = 3) -> list[Proposal]:
    """Figures that suit the columns of a table: of two numbers or over time, of a number by a category, of one column."""
    columns = [table.column(name) for name in table.names]
    told = [column for column in columns if not column.missing.all() and _distinct(column) > 1]
    numbers = [column for column in told if column.kind == "number"]
    times = [column for column in told if column.kind == "time"]
    categories = [column for column in told if column.discrete and column.kind != "yes_no" and _distinct(column) <= _MOST_LEVELS]
    color = {"color": categories[0].name} if categories else {}
    wanted: list[dict[str, str]] = []
    if times and numbers:
        wanted.append({"x": times[0].name, "y": numbers[0].name, **color})
    if len(numbers) > 1:
        wanted.append({"x": numbers[0].name, "y": numbers[1].name, **color})
    if categories and numbers:
        wanted.append({"x": categories[0].name, "y": numbers[0].name})
    wanted += [{"x": column.name} for column in (*numbers[:1], *categories[:1])]
    if len(categories) > 1:
        wanted.append({"x": categories[0].name, "y": categories[1].name})
    return [_proposed(table, mapping) for mapping in wanted[:most]]


def _distinct(column: Column) -> int:
    return len(np.unique(column.values[~column.missing]))


def repeated(table: Table, mapping: Mapping[str, str]) -> bool:
    """Whether several rows have one x in one group, so that a line must show something of them."""
    every = np.column_stack([table.column(name).values.astype(float) for axis, name in mapping.items() if axis != "y"])
    there = every[~np.isnan(every).any(axis=1)]
    return len(np.unique(there, axis=0)) < len(there)


def _proposed(table: Table, mapping: dict[str, str]) -> Proposal:
    best = suggest(table, **{axis: name for axis, name in mapping.items() if axis in ("x", "y")})[0]
    options = {"aggregate": "mean"} if best.layer == "lines" and repeated(table, mapping) else {}
    said = ", ".join(f"{name}={value!r}" for name, value in mapping.items() if name != "color" or best.layer != "cells")
    given = ", ".join(f"{name}={value!r}" for name, value in options.items())
    return Proposal(f"ft.figure(data).map({said}).{best.layer}({given})", best.reason)
