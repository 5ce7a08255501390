"""The columns that mappings name, in the kinds that their scales need, and the texts that labels write."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.scales.calendar import strftime
from facetine.core.scales.formats import escaped, written
from facetine.data.codebook import Word
from facetine.data.expressions import called, crossed, evaluated
from facetine.data.intake import taken_in
from facetine.data.kind_words import kind_words
from facetine.data.reread import as_kind
from facetine.data.sql import columns_of
from facetine.data.table import Column, Levels, Table
from facetine.grammar.aesthetics import POSITIONS, MapValue
from facetine.grammar.facet import Breaks, Variable, variable_name
from facetine.grammar.scale import is_function
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import KindError, MappingError
from facetine.messages.findings import Remark, Saying, each, heard, so_many_rows
from facetine.pipeline.composition.level_order import coded, listed_order, ordered_levels

DISCRETE_ONLY = ("shape", "dash", "group")
_FEW = 60
"""Whole numbers of so many different values may be crossed with others as names."""


def mapped_column(sentence: Sentence, table: Table, aesthetic: str, value: MapValue, where: str) -> Saying[Column]:
    """The column of a mapping, in the kind that the aesthetic's scale needs."""
    if isinstance(value, tuple):
        parts = [sentence.column(table, name, where, aesthetic) for name in value]
        # Whole numbers of few values, such as years and months, are names here.
        parts = [as_kind(part, "category", where) if _few_whole(part) else part for part in parts]
        for part in parts:
            if not part.discrete:
                hint = f'write .kinds({part.name}="category")'
                if aesthetic in ("x", "y") and part.kind != "category":
                    columns = list(value)
                    series = f'.over_variables({aesthetic}={columns!r}) draws a panel for each, with by="color" a series'
                    hint = f"{hint} if its values are names; {series}"
                raise KindError(where, f"{aesthetic} crosses {part.name!r}, which holds {kind_words(part)}", hint)
        # What a codebook names and no row has is told where levels are settled.
        return crossed([heard(_ordered(sentence, part))[0] for part in parts])
    if callable(value):
        column = _called(table, value, aesthetic, where)
    else:
        assert isinstance(value, str)
        column = sentence.column(table, value, where, aesthetic)
    axis = POSITIONS.get(aesthetic, aesthetic)
    kind = sentence.scale(axis).kind
    if kind == "as_given" and not column.discrete:
        column = as_kind(column, "category", f"figure.scale({axis!r})")
    elif kind == "classed" and column.kind != "number":
        raise KindError(
            f"figure.scale({axis!r})", f"a classed scale needs numbers, but {column.name!r} holds {kind_words(column)}"
        )
    elif kind in ("category", "ordered", "time") and kind != column.kind:
        column = as_kind(column, kind, f"figure.scale({axis!r})")
    elif is_function(kind) and column.kind != "number":
        raise KindError(
            f"figure.scale({axis!r})",
            f"a {kind} scale needs numbers, but {column.name!r} holds {kind_words(column)}",
            f'write .kinds({column.name}="number") if it can be read as numbers',
        )
    elif aesthetic in DISCRETE_ONLY and not column.discrete:
        column = _as_category(column, aesthetic, where)
    unseen = aesthetic == "label" and column.exact is not None  # texts are written as they are
    if column.hint is not None and not unseen and (aesthetic not in POSITIONS or not column.hint.mild):
        yield Remark(column.hint.code, where, column.hint.text, column.hint.fix)
    return column


def _few_whole(column: Column) -> bool:
    """Whether a column holds whole numbers of few different values."""
    if column.kind != "number":
        return False
    there = column.values[~column.missing]
    return len(there) > 0 and bool((there == np.rint(there)).all()) and len(np.unique(there)) <= _FEW


def _ordered(sentence: Sentence, column: Column, order: Levels | None = None) -> Saying[Column]:
    """A column whose levels stand in the order that was said, else in the codebook's."""
    known = sentence.codebook.entry(column.name).known
    where = "figure.facet" if order else "codebook"
    levels = yield from ordered_levels([column], order or sentence.said_order(column.name), where, known)
    return Column(column.name, column.kind, coded(column, levels), levels, own_order=True)


def _as_category(column: Column, aesthetic: str, where: str) -> Column:
    categories = as_kind(column, "category", where)
    if aesthetic != "group" and len(categories.levels) > 12:
        raise KindError(
            where,
            f"{aesthetic} shows categories, but {column.name!r} holds {len(categories.levels)} different {kind_words(column)}",
            "map it to color, size or opacity, which show numbers",
        )
    return categories


def _called(table: Table, value: Any, aesthetic: str, where: str) -> Column:
    """What a callable makes of the frame, as a column."""
    name = getattr(value, "__name__", "computed").replace("<lambda>", "computed")
    returned = called(value, table, where, f"the callable for {aesthetic}")
    name = str(getattr(returned, "name", None) or name)
    column = taken_in({name: returned if isinstance(returned, np.ndarray) else list(returned)}, where).column(name)
    if len(column.values) != table.height:
        raise MappingError(
            where, f"the callable for {aesthetic} returned {len(column.values)} values for {so_many_rows(table.height)}"
        )
    return column


def facet_columns(sentence: Sentence, table: Table, where: str) -> Saying[tuple[Column, ...]]:
    """What a table has of the facet's variables, as categories; none where there is no facet, or the table lacks one of them."""
    if sentence.facet is None:
        return ()
    sides = yield from each(_facet_column(sentence, table, variable, where) for variable in sentence.facet.variables)
    there = tuple(column for column in sides if column is not None)
    if len(there) < len(sides):
        return ()
    breaks = sentence.facet.breaks
    parts = [_breaks_of(breaks, name, sentence.facet.names) for name in sentence.facet.names]
    return tuple(_as_panels(column, own) for column, own in zip(there, parts, strict=True))


def _as_panels(column: Column, breaks: Breaks | None) -> Column:
    if breaks is not None:
        return _in_classes(column, breaks)
    return column if column.discrete else as_kind(column, "category", "figure.facet")


def _breaks_of(breaks: Breaks | Mapping[str, Any] | None, name: str, names: tuple[str, ...]) -> Breaks | None:
    """The classes of one of the facet's variables."""
    by_column = isinstance(breaks, Mapping) and set(breaks) <= set(names)
    return breaks.get(name) if isinstance(breaks, Mapping) and by_column else breaks


def _facet_column(sentence: Sentence, table: Table, variable: Variable, where: str) -> Saying[Column | None]:
    """One variable of a facet; None where the table lacks its columns."""
    assert sentence.facet is not None
    if isinstance(variable, tuple):
        if not all(name in table.names for name in variable):
            return None
        parts = [sentence.column(table, name, where, "the facet") for name in variable]
        parts = [part if part.discrete else as_kind(part, "category", "figure.facet") for part in parts]
        orders = [listed_order(sentence.facet.order_of(part.name)) for part in parts]
        in_order = yield from each(_ordered(sentence, part, order) for part, order in zip(parts, orders, strict=True))
        return crossed(in_order)
    if isinstance(variable, str) and variable in table.names:
        return sentence.column(table, variable, where, "the facet")
    if isinstance(variable, str) and not set(columns_of(variable, "figure.facet")) <= set(table.names):
        if table is sentence.table:
            evaluated(variable, table, variable, "figure.facet")
        return None
    try:
        return evaluated(variable, table, variable_name(variable), "figure.facet")
    except MappingError:
        # Data of a layer's own may lack what the expression speaks of.
        if table is sentence.table or isinstance(variable, str):
            raise
        return None


def _in_classes(column: Column, breaks: Breaks) -> Column:
    """A column of numbers in classes, from low to high, which are called by their ends, or as they were named.

    Raises:
        KindError: It holds no numbers.
    """
    if column.kind != "number":
        raise KindError(
            "figure.facet", f"breaks divide numbers, but {column.name!r} holds {kind_words(column)}", "leave breaks out"
        )
    if isinstance(breaks, Mapping):
        codes = np.full(len(column.values), -1, np.int64)
        for number, (low, high) in enumerate(breaks.values()):
            last = number == len(breaks) - 1
            codes[(column.values >= low) & ((column.values <= high) if last else (column.values < high))] = number
        return Column(column.name, "ordered", codes, tuple(breaks), own_order=True)
    ends = written(list(breaks))
    words = (f"below {ends[0]}", *(f"{low} to {high}" for low, high in pairwise(ends)), f"{ends[-1]} and beyond")
    codes = np.searchsorted(np.array(breaks), column.values, side="right").astype(np.int64)
    return Column(column.name, "ordered", np.where(column.missing, -1, codes), words, own_order=True)


def label_texts(column: Column) -> AnyArray:
    """What a label says of each row, as inline markup; empty where there is no value."""
    if column.discrete:
        texts = [_level_words(level) for level in column.levels]
    else:
        if column.exact is not None:
            return np.array(["" if value is None else str(value) for value in column.plain()], object)
        found, place = np.unique(column.values[~column.missing], return_inverse=True)
        said = strftime(found.tolist(), "%d %b %Y", column.zone) if column.kind == "time" else written(found.tolist())
        out = np.full(len(column.values), "", object)
        out[~column.missing] = np.array([*said, ""], object)[place]
        return out
    said = [text if isinstance(text, Word) else escaped(text) for text in texts]
    return np.array([*said, ""], object)[column.values]


def _level_words(level: object) -> str:
    if isinstance(level, Word):
        return level
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return ", ".join(map(str, level)) if isinstance(level, tuple) else str(level)
