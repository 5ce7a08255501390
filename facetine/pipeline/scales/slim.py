"""What travels on after everything is computed: layers and scales without frames and callables, which can be pickled."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

from facetine.grammar.scale import ScaleSpec
from facetine.layers.base import DrawnLayer
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.look_scales import LookScale, Scales

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
    axes = {key: _without(axis) for key, axis in scales.axes.items()}
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
