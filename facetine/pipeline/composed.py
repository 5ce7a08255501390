"""Which figures make up what was said, and where their panels stand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from typing import NamedTuple

from facetine.data.codebook import Codebook
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError
from facetine.pipeline.arranged import Arranged
from facetine.pipeline.direct import direct_names
from facetine.pipeline.headings import gaps_of, headed
from facetine.pipeline.marginals import arranged_marginals, planned_marginals
from facetine.pipeline.matrices import arranged_pairs, planned_pairs
from facetine.pipeline.members import Member, Planned
from facetine.pipeline.panels import AxisTitle, Grid
from facetine.pipeline.scales import Scales
from facetine.pipeline.variables import arranged_columns, as_series, planned_columns, with_scales_of


class Composition(NamedTuple):
    """The figures that make up what was said."""

    planned: tuple[Planned, ...]
    arrange: Callable[[Sequence[Member]], Arranged]
    """Where the panels of all of them stand."""


def composition(sentence: Sentence, width: float) -> Composition:
    """What a sentence is made up of: itself, its marginals, or a figure for each of several columns or pairs of them.

    Args:
        sentence: What was said.
        width: Of the sheet in points.

    Raises:
        FacetineError: It can't be made up so; the message says why.
    """
    sentence = with_units(with_scales_of(sentence))
    if sentence.matrix is not None:
        matrix = sentence.matrix
        planned, pairs = planned_pairs(sentence, matrix)
        return Composition(planned, partial(arranged_pairs, sentence, matrix, pairs))
    if sentence.over_variables is not None and sentence.over_variables.by is not None:
        sentence = as_series(sentence, sentence.over_variables)
    if sentence.over_variables is not None:
        variables = sentence.over_variables
        return Composition(planned_columns(sentence, variables), partial(arranged_columns, sentence, variables, width))
    if sentence.marginals:
        return Composition(planned_marginals(sentence), partial(arranged_marginals, sentence))
    return Composition((Planned(sentence),), _alone)


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
            what = f"figure.scale({aesthetic!r}): unit says nothing, since no column is mapped to {aesthetic}"
            raise OptionError(what, f"write .titles({aesthetic}=…)")
        said |= {column: {"unit": spec.unit} for column in columns}
    said |= {column: {"unit": spec.unit} for (_, column), spec in sentence.scales_of.items() if spec.unit is not None}
    return replace(sentence, codebook=sentence.codebook.merged(Codebook.of(said, "figure.scale"))) if said else sentence


def _alone(members: Sequence[Member]) -> Arranged:
    (member,) = members
    panels, spans = headed(member.split)
    grid = Grid.even(panels, gaps_of(member.split.sentence))
    return Arranged(panels, grid, axis_titles(member.scales, grid), spans)


def axis_titles(scales: Scales, grid: Grid) -> tuple[AxisTitle, ...]:
    """The titles of the two axes that all panels have in common."""
    every = range(len(grid.columns))
    return AxisTitle("x", scales.first("x").title, len(grid.rows) - 1, every), AxisTitle("y", scales.first("y").title, 0, every)


def placed_members(members: Sequence[Member], arranged: Arranged) -> list[Member]:
    """The figures with the numbers of their panels on the sheet, and with the lines that are named at their ends."""
    first, done = 0, []
    columns = max(panel.columns.stop for panel in arranged.panels)
    for member in members:
        # Where a second axis stands at the right, there is no place for names at the ends of lines.
        alone = member.scales.first("y").spec.second_axis is None and member.role == "main"
        direct = direct_names(member.runs, member.scales.looks, columns) if alone else []
        done.append(member._replace(first=first, direct=direct))
        first += len(member.split.panels)
    return done
