"""A matrix: a figure for each pair of columns, on axes that rows and columns share."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple, cast

from facetine.data.table import Table
from facetine.grammar.layer import Layer
from facetine.grammar.matrix import Matrix
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.sentence import Sentence, Titles
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import DataError, OptionError
from facetine.pipeline.composition.marginals import SLOT, UNNAMED, with_slot
from facetine.pipeline.composition.planned import Owners, Planned

_OWN = 1000
"""Where the numbers of the diagonals' own axes begin."""
_SMALL = 0.55
"""Points of a matrix, as a share of usual ones."""


class Pair(NamedTuple):
    """Two columns, by their numbers, and the layer that draws them."""

    row: int
    column: int
    layer: DrawnLayer


def _pairs(matrix: Matrix, table: Table, sentence: Sentence) -> list[Pair]:
    """Those of every panel, row by row."""
    discrete = [sentence.column(table, name, "matrix", "a row").discrete for name in matrix.columns]
    found = []
    for row in range(len(discrete)):
        for column in range(len(discrete)):
            layer = _layer(matrix, row, column, discrete)
            if layer is not None:
                found.append(Pair(row, column, cast("DrawnLayer", layer)))
    if not found:
        raise OptionError(
            "matrix", "diagonal, under_diagonal and over_diagonal draw nothing", 'under_diagonal="points" draws pairs'
        )
    return found


def _layer(matrix: Matrix, row: int, column: int, discrete: list[bool]) -> Layer | None:
    if row == column:
        return matrix.alone if discrete[row] else matrix.diagonal
    side = matrix.under_diagonal if row > column else matrix.over_diagonal
    if side is None or not (discrete[row] or discrete[column]):
        return side
    return matrix.crossed if discrete[row] and discrete[column] else matrix.mixed


def planned_pairs(sentence: Sentence, matrix: Matrix) -> tuple[tuple[Planned, ...], list[Pair]]:
    """A figure for each pair, and the pairs.

    Raises:
        DataError: The sentence has no data.
        OptionError: It says something that a matrix can't have.
    """
    _check(sentence)
    if sentence.table is None:
        raise DataError("matrix", "the figure has no data of its own", "give them to figure(…)")
    planned, found = [], _pairs(matrix, sentence.table, sentence)
    for row, column, layer in found:
        names = {"x": matrix.columns[column]} | ({"y": matrix.columns[row]} if row != column else {})
        mapping = {name: value for name, value in sentence.mapping.items() if not (name == "color" and layer.undivided)}
        scales = dict(sentence.scales)
        scales |= {axis: _scale(sentence, axis, name) for axis, name in names.items()}
        if mapping.get("size") is None:
            # Panels are many and small.
            layer = layer.small(_SMALL * sentence.theme.point_size)
        own = replace(
            sentence, matrix=None, scales_of={}, mapping={**mapping, **names}, layers=(layer,), scales=scales,
            titles=Titles(guides=sentence.titles.guides),
        )  # fmt: skip
        if row == column and layer.lacks(names) is not None:
            own = replace(
                own, table=with_slot(sentence.table), mapping={**own.mapping, "y": SLOT}, scales={**scales, "y": UNNAMED}
            )
        planned.append(Planned(own, Owners(column + 1, row + 1 if row != column else _OWN + row)))
    return tuple(planned), found


def _scale(sentence: Sentence, axis: str, column: str) -> ScaleSpec:
    """What was said of the scale of a column, on whichever axis it stands."""
    said = sentence.scale(axis)
    for name in ("x", "y"):
        said = said.under(sentence.scales_of.get((name, column), NOTHING))
    return said


def _check(sentence: Sentence) -> None:
    said = [name for name, given in (
        ("facet", sentence.facet), ("over_variables", sentence.over_variables), ("marginal", sentence.marginals),
        ("swap_axes", sentence.swapped), *((layer.verb, layer) for layer in sentence.layers),
    ) if given]  # fmt: skip
    if said:
        raise OptionError(
            f"figure.{said[0]}",
            "a matrix has none",
            "its layers are those of diagonal=, under_diagonal=, over_diagonal= and mixed=",
        )
    for axis in ("x", "y"):
        if sentence.mapping.get(axis) is not None:
            raise OptionError("figure.map", f"{axis} follows the columns of the matrix", "leave it out")
        if axis in sentence.titles.guides or sentence.scale(axis).title is not None:
            raise OptionError(
                "figure.titles", f"{axis} is each column in turn, which headings name", "the codebook gives columns labels"
            )
