"""What travels along the pipeline: each layer with its rows, and what the rows' numbers stand for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, TypeAlias

from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform
from facetine.data.table import Column
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.layers.context import Context
from facetine.layers.look import Look
from facetine.pipeline.panels import Panels


@dataclass(frozen=True, slots=True)
class LayerRun:
    """One layer on its way from rows to marks. Steps take runs and return new ones."""

    number: int
    """Its place among the layers."""
    layer: DrawnLayer
    """The layer; once rows are computed, as it was prepared for them."""
    rows: Columns
    """Places and looks by aesthetic: numbers, or positions in `Split.levels`. A horizontal layer's x and y are exchanged."""
    context: Context
    columns: Mapping[str, Column]
    """The mapped columns by aesthetic that the layer shows, as mapped (never exchanged)."""
    horizontal: bool
    source: int | None = None
    """The number of the run whose computed rows it takes."""
    table: Columns = field(default_factory=lambda: Columns.of({}))
    """Its computed rows in axis space, x and y as the reader sees them; empty until they are computed. Their numbers are
    those of the data's rows where every mark is one of these, else they count the results. Marks carry them."""
    usual: Mapping[str, Look] = field(default_factory=dict)
    """The looks of its marks to which nothing is mapped; empty until looks are settled."""

    @property
    def value_axis(self) -> str:
        """The axis along which its values run, as the reader sees it: y, or x of a horizontal layer."""
        return "x" if self.horizontal else "y"

    def own(self, axis: str) -> str:
        """An axis of the reader as the layer itself sees it."""
        return ("y" if axis == "x" else "x") if self.horizontal else axis

    def follows(self, aesthetic: str) -> bool:
        """Whether a look of its marks follows data, mapped or computed."""
        layer = self.layer
        return aesthetic in self.columns or (aesthetic in layer.computed_looks and layer.constant(aesthetic) is None)


Runs: TypeAlias = tuple[LayerRun, ...]


@dataclass(frozen=True, slots=True)
class Split:
    """All layers with their rows, and what their numbers stand for."""

    sentence: Sentence
    """The sentence with x and y as the reader sees them."""
    runs: Runs
    levels: Mapping[str, tuple[Any, ...]]
    """The levels of every discrete aesthetic; places under "x" and "y", panels under "facet"."""
    transforms: Mapping[str, Transform]
    """The transforms of x and y."""
    columns: Mapping[str, Column]
    """The first column mapped to each aesthetic, from which its guide's title comes."""
    panels: Panels
    """All panels, in their order; headings stand in them once they are written."""
