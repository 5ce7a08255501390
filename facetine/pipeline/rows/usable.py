"""Which rows have a place, a look and a weight; what has none is said."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.scales.kinds.base import Transform
from facetine.data.table import Column
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.scale import transform_of
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import DataError
from facetine.messages.findings import Remark, Remarks, Saying, so_many_rows


def usable(
    sentence: Sentence,
    aesthetic: str,
    column: Column,
    transform: Transform | None,
    keep: BoolArray,
    where: str,
) -> Saying[BoolArray]:
    """Where a number has a place, shape (n,); says which of the rows kept have none though they have a value."""
    if transform is None:
        transform = transform_of(sentence.scale(aesthetic))
    good = transform.admits(column.values)
    if good.all():
        return good
    infinite = int((np.isinf(column.values) & keep).sum())
    if infinite:
        yield Remark("rows-infinite", where, f"{so_many_rows(infinite)} with an infinite {column.name} left out")
    lost = int((~good & np.isfinite(column.values) & keep).sum())
    if lost:
        kind = sentence.scale(POSITIONS.get(aesthetic, aesthetic)).kind
        text = (
            f"{so_many_rows(lost)} with {column.name} {transform.without_place()} left out: a {kind} scale has no place for them"
        )
        yield Remark("rows-off-scale", where, text)
    return good


_TOLD_APART = ("color", "outline", "shape")
"""Looks of which one stands for a missing value, and for no other."""


def shows_missing(sentence: Sentence, layer: DrawnLayer, aesthetic: str, column: Column, mapped: Mapping[str, Column]) -> bool:
    """Whether a layer draws rows that have no value for a look: by default, where every row is a mark of its own."""
    policy = sentence.missing_policy(POSITIONS.get(aesthetic, aesthetic), column.name)
    if policy is not None:
        return policy != "drop"
    names = {name: one.name for name, one in mapped.items()}
    return aesthetic in _TOLD_APART and aesthetic in mapped and layer.a_mark_each(names)


def say_missing(column: Column, good: BoolArray, keep: BoolArray, where: str) -> Remarks:
    """Says how many of the rows kept so far lack a value of a column."""
    gone = keep & ~good
    count = int((gone & column.missing).sum())
    if count:
        yield Remark("rows-missing", where, f"{so_many_rows(count)} without {column.name} left out")


def say_gaps(column: Column, keep: BoolArray, where: str, bridged: bool = False) -> Remarks:
    """Says how many of the rows kept have no value, and are gaps in what is drawn."""
    fate = "" if bridged else ": gaps where they would be"
    if count := int((keep & column.missing).sum()):
        yield Remark("rows-missing", where, f"{so_many_rows(count)} without {column.name} left out{fate}")


def check_weights(weights: FloatArray, column: Column, good: BoolArray, where: str) -> Saying[BoolArray]:
    """Where weights count, shape (n,): those above zero; rows of weight zero count nowhere, which is said.

    Raises:
        DataError: One is negative or infinite.
    """
    there = ~np.isnan(weights)
    wrong = there & ~((weights >= 0) & np.isfinite(weights))
    if wrong.any():
        raise DataError(
            where,
            f"weight {column.name!r} holds {so_many_rows(int(wrong.sum()))} with a negative or infinite value",
            "a weight is zero or more; .keep(…) leaves rows out",
        )
    zero = int((good & (weights == 0)).sum())
    if zero:
        yield Remark("rows-zero-weight", where, f"{so_many_rows(zero)} with a {column.name} of zero count nowhere")
    counts: BoolArray = there & (weights > 0)
    return counts
