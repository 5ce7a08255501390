"""The part of a figure's rows that is drawn and computed from."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from facetine.core.arrays import BoolArray, IntArray
from facetine.core.query import shuffle_keys
from facetine.core.stats.groups import grouped
from facetine.data.expressions import kept
from facetine.data.table import Column, Table
from facetine.grammar.aesthetics import LOOKS
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError
from facetine.messages.findings import Remark, Saying, heard
from facetine.pipeline.composition.resolve import facet_columns, mapped_column

_WHERE = "figure.sample"


def with_sample(sentence: Sentence) -> Saying[Sentence]:
    """A sentence whose table holds the rows of its sample alone.

    The rows are those whose places in the table come first by `shuffle_keys`, so that the same seed chooses the same.

    Raises:
        OptionError: It is to hold so many rows of each panel, but there is no facet, or the figure has no data.
    """
    said, table = sentence.sample, sentence.table
    if said is None:
        return sentence
    if table is None:
        raise OptionError(_WHERE, "the figure has no data of its own", "a layer's where= chooses among its own")
    parts = _parts(sentence, table)
    chosen = _chosen(parts, said.rows, sentence.seed)
    if chosen.all():
        return replace(sentence, sample=None)
    each = f", {said.rows:,} of each {said.per} at most," if said.per is not None else ""
    text = f"{int(chosen.sum()):,} of {len(chosen):,} rows{each} are drawn and computed from, by chance"
    yield Remark("rows-by-chance", _WHERE, text)
    return replace(sentence, table=kept(table, chosen), sample=said._replace(of=len(chosen)))


def _parts(sentence: Sentence, table: Table) -> IntArray:
    """The number of the part to which each row belongs, shape (n,)."""
    assert sentence.sample is not None
    columns: list[Column] = []
    if sentence.sample.per == "panel":
        columns = list(heard(facet_columns(sentence, table, _WHERE))[0])
        if not columns:
            raise OptionError(_WHERE, 'per="panel", but there is one panel', ".facet(…) makes several")
    elif sentence.sample.per == "group":
        mapped = {name: value for name, value in sentence.mapping.items() if name in (*LOOKS, "group") and value is not None}
        every = [heard(mapped_column(sentence, table, name, value, _WHERE))[0] for name, value in mapped.items()]
        columns = [column for column in every if column.discrete]
        if not columns:
            said = 'per="group", but nothing makes groups of the whole figure'
            raise OptionError(_WHERE, said, '.map(color="…") does, with a column of categories')
    if not columns:
        return np.zeros(table.height, np.int64)
    return np.unique(np.column_stack([column.values for column in columns]), axis=0, return_inverse=True)[1].reshape(-1)


def _chosen(parts: IntArray, count: int, seed: int) -> BoolArray:
    """Which rows are among the first of their part, shape (n,)."""
    order = np.lexsort((shuffle_keys(np.arange(len(parts)), seed), parts))
    starts = grouped(parts[order]).starts
    place = np.arange(len(parts)) - np.repeat(starts, np.diff(np.append(starts, len(parts))))
    chosen = np.zeros(len(parts), bool)
    chosen[order[place < count]] = True
    return chosen
