"""What is said of a matrix: each of several columns against each other one."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.data.table import Table
from facetine.grammar.given import Plain
from facetine.grammar.layer import Layer
from facetine.grammar.variables import column_list
from facetine.messages.errors import OptionError

MOST = 20
"""Columns of a matrix at most."""


@dataclass(frozen=True, kw_only=True)
class Matrix:
    """Columns, and what is drawn of each pair; None for nothing."""

    columns: tuple[str, ...]
    diagonal: Layer | None
    """Of each column alone; categories are counted by bars."""
    under_diagonal: Layer | None
    """Of pairs of numbers under the diagonal."""
    over_diagonal: Layer | None
    """Of pairs of numbers above it."""
    mixed: Layer | None
    """Of a number and a category."""
    alone: Layer | None = None
    """Of a category alone, in place of diagonal."""
    crossed: Layer | None = None
    """Of two categories, in place of mixed."""

    def said(self) -> Plain:
        """What was said, layers as a table of name and options."""
        sides = {name: getattr(self, name) for name in ("diagonal", "under_diagonal", "over_diagonal", "mixed")}
        said = {name: "none" if layer is None else {layer.verb: layer.said()} for name, layer in sides.items()}
        return {"columns": self.columns} | said


def matrix_columns(columns: object, table: Table | None, where: str) -> tuple[str, ...]:
    """The columns of a matrix, checked.

    Raises:
        MappingError: There is no such column.
        OptionError: There are fewer than two, or more than any sheet has room for.
    """
    names = column_list(columns, table, f"{where}: columns", "the matrix")
    if not 2 <= len(names) <= MOST:
        raise OptionError(where, f"a matrix has from 2 to {MOST} columns, not {len(names)}")
    return names
