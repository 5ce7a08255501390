"""What travels along the pipeline: each layer with its rows, and what the rows' numbers stand for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple, TypeAlias

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform
from facetine.data.table import Column, Levels
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.layers.context import Context
from facetine.layers.finish import Finish
from facetine.layers.look import Look
from facetine.pipeline.rows.panels import AxisKey, Field, Panels

_NO_ROWS = Columns.of({})
_NONE: Mapping[Any, Any] = {}


STOOD = {"x": "x stood", "y": "y stood"}
"""Columns of a table with the places by their values of marks that were moved from them, along an axis of the reader."""


class LayerRun(NamedTuple):
    """One layer on its way from rows to marks. Steps take runs and return new ones."""

    number: int
    """Its place among the layers."""
    layer: DrawnLayer
    """The layer; once rows are computed, as it was prepared for them."""
    rows: Columns
    """Places and looks by aesthetic: numbers, or positions among the levels of its scale. A horizontal layer's x and y are
    exchanged."""
    context: Context
    columns: Mapping[str, Column]
    """The mapped columns by aesthetic that the layer shows, as mapped (never exchanged)."""
    horizontal: bool
    field: int = 0
    """The number of the field in whose panels it stands."""
    own_data: bool = False
    """Whether it shows another table than its figure."""
    borrowed_from: int | None = None
    """The number of the run whose computed rows it takes."""
    table: Columns = _NO_ROWS
    """Its computed rows in axis space, x and y as the reader sees them; empty until they are computed. Their numbers are
    those of the data's rows where every mark is one of these, else they count the results. Marks carry them."""
    usual: Mapping[str, Look] = _NONE
    """The looks of its marks to which nothing is mapped; empty until looks are settled."""
    quiet: frozenset[int] | None = None
    """The groups of rows that are not highlighted; None where it tells none."""
    frame: int = 0
    """What tells the frame of its rows from others; layers of one frame number its rows alike."""
    kept: IntArray | None = None
    """The numbers of the rows that it is computed of, increasing; None where it is of all."""
    some: Columns | None = None
    """The table of these rows, until all that others settle is settled; None for a layer that stays as all rows make it."""
    whole: Columns | None = None
    """The table of all rows, once `table` is that of chosen ones."""
    prepared: Mapping[int, DrawnLayer] = _NONE
    """The layer as it was prepared for each panel, where axes of their own make it differ from panel to panel."""

    @property
    def value_axis(self) -> str:
        """The axis along which its values run, as the reader sees it: y, or x of a horizontal layer."""
        return "x" if self.horizontal else "y"

    @property
    def finish(self) -> Finish | None:
        """How it is computed anew of chosen rows; None for a layer that stays as all rows make it."""
        return None if self.layer.stands_alone else self.layer.finish(self.context)

    @property
    def answers(self) -> bool:
        """Whether it is computed of the chosen rows where some are."""
        return self.kept is not None and (self.some is not None or self.whole is not None or self.finish is not None)

    @property
    def stays(self) -> bool:
        """Whether it shows all rows where others are computed of chosen ones, which must be said."""
        return self.kept is not None and not self.answers

    @property
    def rows_shown(self) -> Columns:
        """The rows that its table is of: the chosen ones, once it is computed of them."""
        if self.whole is None or self.kept is None:
            return self.rows
        return self.rows.take(np.isin(self.rows.numbers, self.kept))

    def own(self, axis: str) -> str:
        """An axis of the reader as the layer itself sees it."""
        return ("y" if axis == "x" else "x") if self.horizontal else axis

    def follows(self, aesthetic: str) -> bool:
        """Whether a look of its marks follows data, mapped or computed."""
        layer = self.layer
        return aesthetic in self.columns or (aesthetic in layer.computed_looks and layer.constant(aesthetic) is None)


Runs: TypeAlias = tuple[LayerRun, ...]


class Split(NamedTuple):
    """All layers with their rows, and what their numbers stand for."""

    sentence: Sentence
    """The sentence with x and y as the reader sees them."""
    runs: Runs
    levels: Mapping[str, Levels]
    """The levels of every discrete aesthetic that is no place; panels under "facet"."""
    places: Mapping[AxisKey, Levels]
    """The levels of every axis of categories."""
    transforms: Mapping[AxisKey, Transform]
    """The transform of every axis."""
    columns: Mapping[str, Column]
    """The first column mapped to each aesthetic, from which its guide's title comes."""
    fields: tuple[Field, ...]

    @property
    def panels(self) -> Panels:
        """All panels, in their order."""
        return tuple(panel for one in self.fields for panel in one.panels)

    def space(self, run: LayerRun) -> dict[str, Transform]:
        """The transforms of the axes on which a run stands, as the reader sees them: one in all panels of a field."""
        return {axis: self.transforms[self.fields[run.field].keys(axis)[0]] for axis in ("x", "y")}

    def transform(self, axis: str) -> Transform:
        """That of the first axis of a name."""
        return next(transform for key, transform in self.transforms.items() if key.axis == axis)
