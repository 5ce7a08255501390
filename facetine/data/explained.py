"""A table as its codebook explains it: columns made from others, classes, words for codes."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np

from facetine.data.codebook import Codebook, Entry, code_text
from facetine.data.digits import numbers_in
from facetine.data.expressions import evaluated
from facetine.data.flags import flagged
from facetine.data.reread import as_kind, with_signs
from facetine.data.table import Column, Table
from facetine.messages.errors import KindError, MappingError


def explained(table: Table, codebook: Codebook) -> Table:
    """A table with the columns that its codebook makes, and words in the place of codes.

    Nothing is computed before a column is asked for, so that an entry for a column which this table lacks does no harm.
    """
    made = {
        name: entry
        for name, entry in codebook.entries.items()
        if entry.words
        or entry.classes
        or entry.origin is not None
        or entry.absent
        or entry.decimal
        or entry.thousands
        or entry.pattern
        or entry.flags
        if name in table.names or _can_be_made(entry, table)
    }
    if not made:
        return table
    names = (*table.names, *(name for name in made if name not in table.names))

    def load(name: str) -> Column:
        return _made(table, name, made[name]) if name in made else table.column(name)

    codes = {name: partial(table.column, name) for name, entry in made.items() if entry.words and name in table.names}
    return Table(names, table.height, table.source, load, codes=codes, hints=table.hints, rows=table.rows, given=table.given)


def _can_be_made(entry: Entry, table: Table) -> bool:
    """Whether a table has the columns from which one is made: at least one of them."""
    if entry.flags:
        return any(name in table.names for name in entry.flags)
    return entry.origin is not None and any(name in entry.origin for name in table.names)


def _made(table: Table, name: str, entry: Entry) -> Column:
    where = f"codebook.{name}"
    if entry.flags:
        return flagged(table, name, entry, where)
    if entry.origin is None:
        column = table.column(name)
    elif entry.origin in table.names:
        column = table.column(entry.origin)
    else:
        column = evaluated(entry.origin, table, name, f"{where}: from")
    if entry.absent or entry.decimal or entry.thousands:
        column = with_signs(column, entry.decimal, entry.thousands, entry.absent, where)
        if entry.kind is None and not (entry.decimal or entry.thousands) and not entry.words and not entry.classes:
            column = _reread(column)
    if entry.pattern:
        column = as_kind(column, f"time:{entry.pattern}", f"{where}: pattern")
    if entry.classes:
        column = _classed(column, name, entry, where)
    elif entry.words:
        column = _worded(column, entry, where)
    return replace(column, name=name)


def _reread(column: Column) -> Column:
    """A text of which some words were taken away, taken for what is left: numbers where all of it are."""
    texts = [level for level in column.levels if isinstance(level, str)]
    found = numbers_in(dict.fromkeys(map(str.strip, texts), 1)) if len(texts) == len(column.levels) else None
    if found is not None and not found.others:
        return as_kind(column, "number", "codebook")
    return column


def _classed(column: Column, name: str, entry: Entry, where: str) -> Column:
    """Numbers put into named ranges; what lies in none is missing."""
    assert entry.classes is not None
    if column.kind != "number":
        raise KindError(where, f"classes need numbers, but {column.name!r} holds {column.kind}")
    codes = np.full(len(column.values), -1, np.int64)
    ends = list(entry.classes.values())
    for number, (low, high) in enumerate(ends):
        last = number == len(ends) - 1
        inside = (column.values >= low) & ((column.values <= high) if last else (column.values < high))
        codes[inside] = number
    return Column(name, "ordered", codes, tuple(entry.classes), own_order=True)


def _worded(column: Column, entry: Entry, where: str) -> Column:
    """Levels called by their words, in the order of the codebook's words; levels that share a word become one."""
    assert entry.words is not None
    column = column if column.discrete else as_kind(column, "category", where)
    if column.kind == "yes_no":
        column = Column(column.name, "category", column.values, column.levels)
    words = [entry.word(level) for level in column.levels]
    known = list(dict.fromkeys(word for code, word in entry.words.items()))
    levels = tuple(dict.fromkeys([word for word in known if word in words] + words))
    place = {word: number for number, word in enumerate(levels)}
    table = np.array([*(place[word] for word in words), -1], np.int64)
    if not set(map(code_text, column.levels)) & set(entry.words) and len(column.levels):
        raise MappingError(
            where,
            f"none of its values stands in {column.name!r}",
            f"words: {', '.join(list(entry.words)[:8])}; found: {', '.join(map(code_text, column.levels[:8]))}",
        )
    return Column(column.name, column.kind, table[column.values], levels, own_order=True)
