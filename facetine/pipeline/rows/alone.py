"""Layers that bring their own places: a reference line at a value, a region, a callout."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.core.arrays import is_number
from facetine.core.scales.calendar import instant
from facetine.core.scales.kinds.base import Transform
from facetine.data.expressions import kept, true_where
from facetine.data.table import Column, Levels, Table
from facetine.grammar.aesthetics import TURNED, Placing
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import DataError, OptionError, told, unknown


def own_table(layer: DrawnLayer, table: Table | None, where: str) -> Table | None:
    """The rows that say in which panels the layer stands: those of its `where` and `data`; None where neither is said.

    Raises:
        DataError: There is a `where`, but no data.
    """
    if layer.where is None:
        return layer.data
    if table is None:
        raise DataError(f"{where}: where= needs data", "give them to figure(…), or to the layer with data=")
    return kept(table, true_where(layer.where, table, f"{where}: where"))


def placed(
    sentence: Sentence,
    where: str,
    levels: Mapping[str, Levels],
    columns: Mapping[str, Column],
    transforms: Mapping[str, Transform],
) -> Placing:
    """What turns a value that the analyst wrote for an axis into a number of the data."""

    def place(axis: str, value: object) -> float:
        axis = TURNED[axis] if sentence.swapped else axis
        if axis in levels:
            texts = [str(level) for level in levels[axis]]
            if str(value) not in texts:
                raise unknown(OptionError, where, f"no category on {axis}", value, texts, "categories")
            return float(texts.index(str(value)))
        column = columns.get(axis)
        if column is not None and column.kind == "time":
            return instant(value, column.zone, f"{where}: {axis}")
        if not is_number(value):
            raise OptionError(f"{where}: {axis} is a number here, not {told(value)}")
        if not transforms[axis].admits(np.array([float(value)]))[0]:
            raise OptionError(
                f"{where}: {told(value)} has no place on the {sentence.scale(axis).kind or 'linear'} scale of {axis}"
            )
        return float(value)

    return place
