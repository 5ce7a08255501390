"""A first look at a table: what it holds, and figures to begin with."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.data.table import Column, Table
from facetine.layers.suggestions import Suggestion as Suggestion
from facetine.layers.suggestions import suggestions_for
from facetine.messages.errors import printable

if TYPE_CHECKING:
    from facetine.data.inspected import ColumnFacts

_ROWS, _WIDE = 5, 18
_HEAD = ("column", "kind", "values", "missing", "spread", "example", "range")


class Inspection:
    """What a table holds; shown as text, and in a notebook as a table."""

    def __init__(self, table: Table) -> None:
        from facetine.data.inspected import facts

        self.table = table = table.sound()
        self.columns: list[ColumnFacts] = facts(table)
        """Each with name, kind, distinct, missing, range and hint."""
        self.suggestions = suggestions_for(table)
        """Figures to begin with, each with its sentence and the reason."""

    def report(self, path: str | Path, *, title: str = "data", source: str | None = None) -> Path:
        """Writes a page that shows every variable, the strongest relations, what is missing, and figures to begin with.

        Args:
            path: The page, such as "look.html": one file, that is read from disk and needs no network.
            title: What the table is called.
            source: The file it comes from, for the commands that draw the figures to begin with.

        Returns:
            The page.

        Raises:
            ExportError: It can't be written, or does not end in .html.

        Example:
            >>> import facetine as ft
            >>> ft.inspect(ft.demo_data("wheels")).report("wheels.html")  # doctest: +SKIP
        """
        from facetine.inspection.report import Seen, write_report

        return write_report(Seen(self.table, self.suggestions, self._repr_html_()), Path(path), title, source)

    def __repr__(self) -> str:
        rows = [_HEAD, *self._cells()]
        wide = [max(len(row[place]) for row in rows) for place in range(len(rows[0]))]
        lines = [f"{self.table.height:,} rows, {len(self.columns)} columns"]
        lines += ["  " + "  ".join(cell.ljust(room) for cell, room in zip(row, wide, strict=True)).rstrip() for row in rows]
        lines += [f"hint: {hint}" for hint in self._hints()]
        lines += ["first rows:", *self._first_rows()]
        lines += ["figures to begin with:"] if self.suggestions else []
        lines += [line for one in self.suggestions for line in (f"  {one.sentence}", f"      {one.reason}")]
        return printable("\n".join(lines))

    def _repr_html_(self) -> str:
        from html import escape

        head = "".join(f"<th>{name}</th>" for name in _HEAD)
        body = "".join(f"<tr>{''.join(f'<td>{escape(cell)}</td>' for cell in row)}</tr>" for row in self._cells())
        hints = "".join(f"<li>{escape(hint)}</li>" for hint in self._hints())
        first = escape("\n".join(self._first_rows()))
        shown = "".join(f"<dt><code>{escape(one.sentence)}</code></dt><dd>{escape(one.reason)}</dd>" for one in self.suggestions)
        return (
            f"<p>{self.table.height:,} rows, {len(self.columns)} columns</p>"
            f"<table><thead><tr>{head}</tr></thead><tbody>{body}</tbody></table>"
            + (f"<ul>{hints}</ul>" if hints else "")
            + f"<p>First rows</p><pre>{first}</pre>"
            + (f"<p>Figures to begin with</p><dl>{shown}</dl>" if shown else "")
        )

    def _hints(self) -> list[str]:
        return [*map(str, self.table.hints), *(one.hint for one in self.columns if one.hint)]

    def _cells(self) -> list[tuple[str, ...]]:
        """What is said of each column."""
        from facetine.data.inspected import sparkline

        counts = {one.name: (f"{one.distinct:,}", f"{one.missing:,}" if one.missing else "") for one in self.columns}
        return [
            (one.name, one.kind, *counts[one.name], sparkline(self.table.column(one.name)), self._example(one.name), one.range)
            for one in self.columns
        ]

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
        from facetine.data.inspected import value_text

        found = []
        for value, gone in zip(column.values[rows].tolist(), column.missing[rows].tolist(), strict=True):
            found.append("" if gone else value_text(column, float(value)))
        return found


def _cut(word: str) -> str:
    return word if len(word) <= _WIDE else f"{word[: _WIDE - 1]}…"


def inspect(data: Any, *, codebook: object = None) -> Inspection:
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
        >>> seen.suggestions[0].sentence
        "ft.figure(data).map(x='moisture_pct', y='firmness_n', color='cellar').points()"
    """
    from facetine.figures.start import figure

    table = figure(data, codebook=codebook)._sentence.table
    if table is None:
        from facetine.messages.errors import DataError

        raise DataError("inspect", "no table in nothing", "data is a data frame, a dict of arrays, or a list of dicts")
    seen = Inspection(table)
    if not hasattr(sys, "ps1") and "IPython" not in sys.modules:
        sys.stdout.write(f"{seen!r}\n")
    return seen
