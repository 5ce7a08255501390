"""Which variables of a table go together, and which cells are missing together."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import combinations
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray
from facetine.core.stats.association import of_categories, of_groups, of_numbers
from facetine.data.table import Column, Table

ROWS, COLUMNS = 5000, 40
"""The most that relations are looked for in: rows in even steps, and the first columns that may be related."""
_LEVELS = 50
RANKS, GROUPS, V = "rank correlation", "correlation ratio ε", "Cramér's V"


class Relation(NamedTuple):
    """Two variables, and how strongly they go together."""

    first: str
    second: str
    measure: str
    strength: float
    """From 0 to 1."""


class Pattern(NamedTuple):
    """Columns whose cells are missing in the same rows."""

    columns: tuple[str, ...]
    rows: int


def relations(table: Table, most: int | None = None, names: Sequence[str] | None = None) -> list[Relation]:
    """Pairs of variables, the strongest relation first; those of which nothing can be said are left out.

    Two numbers are related by their ranks, a number and a category by the variance between groups, two categories by
    Cramér's V; times count as numbers.

    Args:
        table: It is looked at in at most 5,000 rows and 40 columns. Categories of more than 50 levels tell rows apart, and
            are no groups.
        most: How many pairs are wanted; None for all.
        names: The columns that are looked at; all where it is None.
    """
    step = max(1, math.ceil(table.height / ROWS))
    columns = [column for name in (names or table.names) if _is_told(column := table.column(name))][:COLUMNS]
    found = []
    for first, second in combinations(columns, 2):
        measure, strength = _related(first, second, step)
        if not math.isnan(strength):
            found.append(Relation(first.name, second.name, measure, strength))
    found.sort(key=lambda one: -round(one.strength, 9))
    return found[:most]


def _is_told(column: Column) -> bool:
    there = column.values[~column.missing]
    distinct = len(np.unique(there))
    return distinct > 1 and (not column.discrete or distinct <= _LEVELS)


def _related(first: Column, second: Column, step: int) -> tuple[str, float]:
    there = ~(first.missing | second.missing)[::step]
    a, b = (column.values[::step][there] for column in (first, second))
    if first.discrete and second.discrete:
        return V, of_categories(a, b)
    if first.discrete or second.discrete:
        return GROUPS, of_groups(b, a) if first.discrete else of_groups(a, b)
    return RANKS, of_numbers(a, b)


def missing_patterns(table: Table) -> list[Pattern]:
    """The sets of columns that are missing together, with the number of rows of each, the most frequent first.

    Rows without a missing cell are none of them.
    """
    names = [name for name in table.names if table.column(name).missing.any()]
    if not names:
        return []
    gone: BoolArray = np.column_stack([table.column(name).missing for name in names])
    sets, counts = np.unique(gone[gone.any(axis=1)], axis=0, return_counts=True)
    order: AnyArray = np.argsort(-counts, kind="stable")
    return [
        Pattern(tuple(name for name, is_gone in zip(names, sets[place], strict=True) if is_gone), int(counts[place]))
        for place in order
    ]
