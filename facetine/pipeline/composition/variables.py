"""A sentence repeated over columns: a figure for each of them, or all of them as series of one."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.data.codebook import Word
from facetine.data.kind_words import kind_words
from facetine.data.table import Column, Table
from facetine.grammar.facet import Facet
from facetine.grammar.scale import NOTHING
from facetine.grammar.sentence import Sentence
from facetine.grammar.variables import Variables, check_series
from facetine.messages.errors import DataError, KindError, OptionError
from facetine.pipeline.composition.planned import Owners, Planned

_MOST_NAMED = 3
"""Columns whose names stand together in the title of their axis."""


def with_scales_of(sentence: Sentence) -> Sentence:
    """A sentence whose scales of single columns stand for the aesthetics that show these.

    Raises:
        OptionError: No aesthetic shows such a column.
    """
    if not sentence.scales_of:
        return sentence
    scales = dict(sentence.scales)
    for (aesthetic, column), spec in sentence.scales_of.items():
        varied = getattr(sentence.over_variables, aesthetic, ()) if sentence.over_variables is not None else ()
        if sentence.matrix is not None and aesthetic in ("x", "y"):
            varied = sentence.matrix.columns
        mapped = [sentence.mapping.get(aesthetic), *(layer.map.get(aesthetic) for layer in sentence.layers)]
        if column in mapped:
            scales[aesthetic] = scales.get(aesthetic, NOTHING).under(spec)
        elif column not in varied:
            raise OptionError(
                f"figure.scale({aesthetic!r})",
                f"for_column={column!r}, but {aesthetic} shows no such column",
                f'map it, or name it in .over_variables({aesthetic}=["{column}", …])',
            )
    return replace(sentence, scales=scales)


def planned_columns(sentence: Sentence, variables: Variables) -> tuple[Planned, ...]:
    """A figure for each column, or for each pair of columns.

    Raises:
        OptionError: The sentence says something that columns in panels can't have.
    """
    _check(sentence, variables)
    facet = _across(sentence.facet)
    planned = []
    for (row, y), (column, x) in product(enumerate(variables.y or (None,)), enumerate(variables.x or (None,))):
        own = replace(sentence, over_variables=None, facet=facet, scales_of={})
        own = _showing(_showing(own, sentence, "x", x), sentence, "y", y)
        # A swapped figure shows on x what was said for y.
        owners = Owners(row if y is not None else 0, column if x is not None else 0) if sentence.swapped else None
        planned.append(Planned(own, owners or Owners(column if x is not None else 0, row if y is not None else 0)))
    return tuple(planned)


def _showing(own: Sentence, sentence: Sentence, axis: str, column: str | None) -> Sentence:
    """The sentence with a column on an axis, and with the scale of that column."""
    if column is None:
        return own
    spec = sentence.scale(axis).under(sentence.scales_of.get((axis, column), NOTHING))
    return replace(own, mapping={**own.mapping, axis: column}, scales={**own.scales, axis: spec})


def _check(sentence: Sentence, variables: Variables) -> None:
    if sentence.marginals:
        raise OptionError("figure.marginal", "columns in panels of .over_variables() have none", "draw a figure for each column")
    for axis, columns in (("x", variables.x), ("y", variables.y)):
        if columns and sentence.layers and all(layer.map.get(axis) is not None for layer in sentence.layers):
            raise OptionError(
                "figure.over_variables",
                f"every layer maps {axis} itself, so that columns of {axis} change nothing",
                f"leave {axis} out of the layers' map=",
            )
    if sentence.facet is None:
        return
    if variables.x and variables.y:
        raise OptionError(
            "figure.over_variables",
            "x and y fill rows and columns of panels, so there is no place for a facet",
            "vary one of them",
        )
    if variables.per_row is not None:
        raise OptionError(
            "figure.over_variables", "per_row has no effect with a facet, whose panels stand side by side", "leave it out"
        )
    facet = sentence.facet
    if len(facet.variables) > 1:
        raise OptionError(
            "figure.facet",
            "columns of .over_variables() are rows of panels, so the facet has one variable",
            f"facet({facet.names[-1]!r})",
        )
    for name in ("per_row", "per_column", "per_page", "separate"):
        if getattr(facet, name) is not None:
            raise OptionError(
                "figure.facet", f"{name} has no effect beside .over_variables(), which makes a row of panels of each column"
            )


def _across(facet: Facet | None) -> Facet | None:
    """The panels of each column side by side."""
    if facet is None:
        return None
    variable = facet.variables[0]
    return replace(facet, by=None, rows=None, columns=variable, row_headings="right")


def as_series(sentence: Sentence, variables: Variables) -> Sentence:
    """The sentence of the columns below each other, each a series of one panel.

    Raises:
        DataError: The figure has no data of its own.
        KindError: The columns are of several kinds, or in several units.
        OptionError: The look that is to tell them apart shows something already.
    """
    axis, columns = ("y", variables.y) if variables.y else ("x", variables.x)
    look, table = str(variables.by), sentence.table
    if table is None:
        raise DataError("figure.over_variables", "the figure has no data of its own", "give them to figure(…)")
    check_series(look, sentence.mapping.get(look))
    found = [sentence.column(table, name, "figure.over_variables", axis) for name in columns]
    _check_alike(sentence, found, axis)
    labels = tuple(Word(sentence.codebook.parts(name)[0]) for name in columns)
    values, names = " / ".join(columns), "series"
    while names in table.names:
        names += "_"
    long = _long(table, found, values, names, labels)
    guides = dict(sentence.titles.guides)
    guides.setdefault(look, "")
    guides.setdefault(axis, _series_title(sentence, columns))
    return replace(
        sentence,
        table=long,
        over_variables=None,
        mapping={**sentence.mapping, axis: values, look: names},
        titles=replace(sentence.titles, guides=guides),
    )


def _check_alike(sentence: Sentence, columns: list[Column], axis: str) -> None:
    fix = f"leave out by=: .over_variables({axis}={[column.name for column in columns]!r}) gives each a panel of its own"
    first = columns[0]
    for column in columns:
        if column.discrete:
            raise KindError(
                "figure.over_variables", f"{column.name!r} holds {kind_words(column)}, which are no series of one axis", fix
            )
        if column.kind != first.kind:
            said = f"{first.name!r} holds {kind_words(first)} and {column.name!r} {kind_words(column)}"
            raise KindError("figure.over_variables", f"{said}, which share no axis", fix)
        units = [sentence.codebook.parts(one.name)[1] for one in (first, column)]
        if units[0] != units[1]:
            said = " and ".join(
                f"{one.name!r} is in {unit or 'no unit'}" for one, unit in zip((first, column), units, strict=True)
            )
            raise KindError("figure.over_variables", f"{said}, which share no axis", fix)


def _series_title(sentence: Sentence, columns: tuple[str, ...]) -> str:
    parts = [sentence.codebook.parts(name) for name in columns]
    unit = parts[0][1]
    if len(columns) > _MOST_NAMED:
        return unit
    names = " / ".join(part[0] for part in parts)
    return f"{names} ({unit})" if unit else names


def _long(table: Table, columns: list[Column], values: str, names: str, labels: tuple[Word, ...]) -> Table:
    """The rows once for each column, whose values stand in one."""
    count, height = len(columns), table.height

    def load(name: str) -> Column:
        if name == values:
            return Column(values, columns[0].kind, np.concatenate([column.values for column in columns]), zone=columns[0].zone)
        if name == names:
            return Column(names, "category", np.repeat(np.arange(count), height), labels, own_order=True)
        column = table.column(name)
        exact = None if column.exact is None else _repeated(column.exact, count)
        return replace(column, values=_repeated(column.values, count), exact=exact)

    every = (*table.names, values, names)
    # What callables and filters see: the same columns as arrays.
    source = {name: load(name).plain() for name in every}
    return Table(every, count * height, source, load, hints=table.hints, rows=_repeated(table.numbers, count), given=table.given)


def _repeated(values: AnyArray, count: int) -> AnyArray:
    return np.tile(values, count)
