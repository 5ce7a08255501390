"""Layers of one variable: all rows in one slot of the other axis, which has no label."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from facetine.data.codebook import Word
from facetine.data.expressions import with_column
from facetine.data.table import Column, Table
from facetine.grammar.layer import Layer
from facetine.grammar.sentence import Sentence

_NAME = "all rows"


def with_one_slot(sentence: Sentence) -> Sentence:
    """A sentence whose layers stand in one slot of the axis to which nothing is mapped, where all of them can.

    The slot is a category without a name, and its axis has no title where none was said.
    """
    layers = sentence.layers
    lacking = [axis for axis in ("x", "y") if not _shows(sentence, axis)]
    if (
        len(lacking) != 1
        or not layers
        or sentence.matrix is not None
        or not all(getattr(one, "in_slots", False) for one in layers)
    ):
        return sentence
    (axis,) = lacking
    if not _holds_numbers(sentence, "y" if axis == "x" else "x"):
        return sentence
    tables = [table for table in (sentence.table, *(layer.data for layer in layers)) if table is not None]
    names = (_NAME, *(f"{_NAME} {number}" for number in range(2, 99)))
    name = next(name for name in names if not any(name in table.names for table in tables))
    guides = {axis: "", **sentence.titles.guides}
    return replace(
        sentence,
        table=None if sentence.table is None else _slotted(sentence.table, name),
        layers=tuple(_moved(layer, name) for layer in layers),
        mapping={**sentence.mapping, axis: name},
        titles=replace(sentence.titles, guides=guides),
    )


def _shows(sentence: Sentence, axis: str) -> bool:
    """Whether anything is mapped to an axis, or the ends of a range on it."""
    return any(sentence.shows(name) for name in (axis, f"{axis}_low", f"{axis}_high"))


def _holds_numbers(sentence: Sentence, axis: str) -> bool:
    """Whether all that is mapped to an axis are numbers or times; categories alone are counted by other layers."""
    columns = list(getattr(sentence.over_variables, axis)) if sentence.over_variables is not None else []
    columns += [mapping.get(axis) for mapping in (sentence.mapping, *(layer.map for layer in sentence.layers))]
    table = sentence.table
    names = [name for name in columns if isinstance(name, str) and table is not None and name in table.names]
    return table is None or not any(sentence.column(table, name, "figure", axis).discrete for name in names)


def _slotted(table: Table, name: str) -> Table:
    return with_column(table, Column(name, "category", np.zeros(table.height, np.int64), (Word(""),)))


def _moved(layer: Layer, name: str) -> Layer:
    return layer if layer.data is None else replace(layer, data=_slotted(layer.data, name))
