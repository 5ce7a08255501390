"""Which figures make up what was said."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from facetine.data.codebook import Codebook
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError
from facetine.pipeline.composition.marginals import planned_marginals
from facetine.pipeline.composition.matrices import Pair, planned_pairs
from facetine.pipeline.composition.planned import Planned
from facetine.pipeline.composition.variables import as_series, planned_columns, with_scales_of


class Composition(NamedTuple):
    """The figures that make up what was said."""

    sentence: Sentence
    """What was said, with its units and the scales of its columns."""
    planned: tuple[Planned, ...]
    pairs: tuple[Pair, ...] = ()
    """Of a matrix, the columns of each figure."""


def composition(sentence: Sentence) -> Composition:
    """What a sentence is made up of: itself, its marginals, or a figure for each of several columns or pairs of them.

    Raises:
        FacetineError: It can't be made up so; the message says why.
    """
    sentence = with_units(with_scales_of(sentence))
    if sentence.matrix is not None:
        planned, pairs = planned_pairs(sentence, sentence.matrix)
        return Composition(sentence, planned, tuple(pairs))
    if sentence.over_variables is not None and sentence.over_variables.by is not None:
        sentence = as_series(sentence, sentence.over_variables)
    if sentence.over_variables is not None:
        return Composition(sentence, planned_columns(sentence, sentence.over_variables))
    if sentence.marginals:
        return Composition(sentence, planned_marginals(sentence))
    return Composition(sentence, (Planned(sentence),))


def with_units(sentence: Sentence) -> Sentence:
    """The sentence with the units that its scales say, of the columns that they show.

    Raises:
        OptionError: A scale with a unit shows no column.
    """
    said: dict[str, dict[str, str]] = {}
    for aesthetic, spec in sentence.scales.items():
        if spec.unit is None:
            continue
        mapped = [sentence.mapping.get(aesthetic), *(layer.map.get(aesthetic) for layer in sentence.layers)]
        columns = [column for column in mapped if isinstance(column, str)]
        if not columns:
            what = f"unit says nothing, since no column is mapped to {aesthetic}"
            raise OptionError(f"figure.scale({aesthetic!r})", what, f"write .titles({aesthetic}=…)")
        said |= {column: {"unit": spec.unit} for column in columns}
    said |= {column: {"unit": spec.unit} for (_, column), spec in sentence.scales_of.items() if spec.unit is not None}
    return replace(sentence, codebook=sentence.codebook.merged(Codebook.of(said, "figure.scale"))) if said else sentence
