"""The rows of a figure that are highlighted, and all others."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import BoolArray
from facetine.data.expressions import true_where
from facetine.data.table import Column, Table
from facetine.grammar.highlight import Highlight
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import FacetineError
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.rows.runs import LayerRun

GROUPING = "highlight"
"""Under which name the division into chosen rows and others stands among those that looks make."""


def division(sentence: Sentence, layer: DrawnLayer, table: Table) -> Saying[Column | None]:
    """The rows of a layer as others and chosen ones, which make groups of their own; None where nothing is highlighted.

    A layer with data of its own that know nothing of the expression stays as it is, which is told.

    Raises:
        MappingError: The expression fails on the figure's data.
    """
    said = sentence.highlight
    if said is None:
        return None
    chosen = _chosen(said, layer, table)
    if chosen is None:
        yield Remark(
            "not-highlighted", said.verb, f"the {layer.verb} with data of their own know nothing of it, and stay as they are"
        )
        return None
    if layer.data is None and layer.where is None and table.height and chosen.all() == chosen.any():
        none = "all rows are" if chosen.all() else "no row is"
        yield Remark(
            "highlights-nothing", said.verb, f"{none} chosen by {said.words!r}", "it is to hold for some rows", "warning"
        )
    return Column(GROUPING, "ordered", chosen.astype(np.int64), (said.rest_words, said.words), own_order=True)


def _chosen(said: Highlight, layer: DrawnLayer, table: Table) -> BoolArray | None:
    """Which rows of a layer are chosen, shape (n,); None for a layer with data of its own in which none can be."""
    if said.rows is not None:
        return np.isin(table.numbers, np.array(said.rows, np.int64)) if layer.data is None else None
    try:
        return true_where(said.where, table, said.verb)
    except FacetineError:
        if layer.data is None:
            raise
        return None


def tells_apart(run: LayerRun) -> bool:
    """Whether a layer's marks are of chosen rows, or of others, each."""
    return run.quiet is not None and (run.layer.keeps_groups or not run.layer.results(run.context.columns))


def levels_chosen(run: LayerRun, aesthetic: str) -> set[int] | None:
    """The levels of a look that chosen rows of a layer have; None where it tells no chosen ones."""
    if run.quiet is None or not tells_apart(run) or aesthetic not in run.rows:
        return None
    loud = ~np.isin(run.rows.group, list(run.quiet))
    return set(np.unique(run.rows[aesthetic][loud]).astype(int).tolist())
