"""A figure on a sheet with everything computed and settled, and what is kept of it once it is drawn."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import NamedTuple, TypeVar

import numpy as np

from facetine.core.arrays import IntArray
from facetine.grammar.aesthetics import TURNED
from facetine.grammar.choice import Response
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.base import DrawnLayer
from facetine.pipeline.composition.choices import begun_ends, begun_rows, column_on
from facetine.pipeline.composition.planned import Role
from facetine.pipeline.rows.panels import Panels
from facetine.pipeline.rows.runs import LayerRun, Runs, Split
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.highlighted import quiet_ink
from facetine.pipeline.scales.look_scales import LookScale, Scales


class Member(NamedTuple):
    """A figure on a sheet with everything computed and settled."""

    number: int
    role: Role
    split: Split
    scales: Scales
    direct: list[DirectNames]
    """The layers whose lines are named at their ends."""
    first: int = 0
    """The number of its first panel on the sheet."""
    place: int = 0
    """Its number among all figures of the sheet, also those of other figures of a plate and of insets."""

    @property
    def runs(self) -> Runs:
        """Its layers with their rows in places, as they are drawn."""
        return self.split.runs

    @property
    def kept(self) -> Kept:
        """What stays of it once it is drawn."""
        said = self.split.sentence
        panels = tuple(panel._replace(number=panel.number + self.first) for panel in self.split.panels)
        runs = tuple(run._replace(layer=_without_data(run.layer)) for run in self.runs)
        return Kept(
            self.place,
            self.first,
            said.theme,
            panels,
            finished_scales(self.scales),
            runs,
            _kept_choices(said),
            dict(said.responses),
            column_on(said),
            said.swapped,
            None if said.highlight is None else quiet_ink(said.highlight, said.theme),
            0 if said.table is None else id(said.table if said.table.given is None else said.table.given),
            0 if said.table is None else said.table.height,
            said.seed,
        )


class KeptChoice(NamedTuple):
    """What a reader can choose in a figure, with the rows that it is about."""

    name: str
    along: str | None
    multiple: bool
    started: IntArray
    """Shape (k,): the numbers of the rows that are chosen at first."""
    rows: IntArray
    """Shape (n,): the numbers of all rows, where those that share a value are chosen together; else of none."""
    codes: IntArray
    """Shape (n,): which value each of them has."""
    ends: Mapping[str, tuple[float, float]]
    """The interval that is chosen at first along each axis of a brush, in the unit of the data."""


def _kept_choices(sentence: Sentence) -> tuple[KeptChoice, ...]:
    kept = []
    for name, given in sentence.choices.items():
        # What is said of x is drawn along y where the axes are swapped.
        said = replace(given, along=TURNED[given.along]) if sentence.swapped and given.along in TURNED else given
        table, nothing = sentence.table, np.zeros(0, np.int64)
        rows = codes = nothing
        if table is not None and said.by is not None:
            column = table.need(said.by, "figure.choose", "by=")
            rows, codes = table.numbers, np.unique(column.values, return_inverse=True)[1].reshape(-1)
        kept.append(KeptChoice(name, said.along, said.multiple, begun_rows(said, table), rows, codes, begun_ends(said, sentence)))
    return tuple(kept)


class Kept(NamedTuple):
    """What stays of a figure once it is drawn: no callables, and no frame."""

    place: int
    """Its number among all figures of the sheet."""
    first: int
    """The number of its first panel on the sheet."""
    theme: Theme
    panels: Panels
    """Under their numbers on the sheet."""
    scales: Scales
    runs: Runs
    choices: tuple[KeptChoice, ...] = ()
    responses: Mapping[str, Response] = MappingProxyType({})
    """What it does with choices, beside its own, by their names."""
    columns: Mapping[str, str] = MappingProxyType({})
    """The columns that stand on its axes."""
    swapped: bool = False
    """Whether its axes are said the other way round."""
    quiet: str | None = None
    """The ink of rows that are not highlighted; None where all are alike."""
    frame: int = 0
    """What tells the frame of its own rows from others; 0 where it has none."""
    height: int = 0
    """How many rows it has."""
    seed: int = 1
    """Of all that is left to chance in it."""


class DirectNames(NamedTuple):
    """What is written at the ends of a layer's lines."""

    layer: int
    """Which layer's."""
    aesthetic: str
    """The aesthetic whose levels tell the lines apart."""
    names: tuple[str, ...]
    """Of every level, in inline markup."""


S = TypeVar("S", Axis, LookScale)


def finished(run: LayerRun) -> LayerRun:
    """A run without what has done its work and may hold callables or a frame: expressions, mappings and data."""
    layer = _without_data(run.layer)
    if layer is run.layer and not run.prepared:
        return run
    return run._replace(layer=layer, prepared={panel: _without_data(own) for panel, own in run.prepared.items()})


def _without_data(layer: DrawnLayer) -> DrawnLayer:
    if layer.where is None and layer.data is None and not layer.map:
        return layer
    return replace(layer, where=None, data=None, map={})


def finished_scales(scales: Scales) -> Scales:
    """Scales without callables, whose texts are written."""
    axes = {key: _without(axis)._replace(own_texts=callable(axis.spec.format)) for key, axis in scales.axes.items()}
    looks = {name: _without(look) for name, look in scales.looks.items()}
    return Scales(axes, looks)


def _without(scale: S) -> S:
    spec = _without_callables(scale.spec)
    return scale if spec is scale.spec else scale._replace(spec=spec)


def _without_callables(spec: ScaleSpec) -> ScaleSpec:
    if callable(spec.format):
        spec = replace(spec, format=None)
    if spec.second_axis is not None:
        spec = replace(spec, second_axis={name: value for name, value in spec.second_axis.items() if not callable(value)})
    return spec
