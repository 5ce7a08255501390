"""Settled scales: from levels and numbers to looks, and the axes by their keys."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.core.scales.position import Extent
from facetine.grammar.scale import ScaleSpec
from facetine.layers.look import Look
from facetine.pipeline.rows.panels import AxisKey, Panel
from facetine.pipeline.scales.axes import Axis

_FINE = 0.005
"""Sizes in points, and opacities, are as fine as this, so that files hold few thousand forms at most."""


class LookScale(NamedTuple):
    """A settled scale of an aesthetic that is no place."""

    aesthetic: str
    column: str
    title: str
    kind: str
    """levels, number or time."""
    labels: tuple[str, ...]
    """What the levels are called; empty for numbers."""
    values: tuple[Any, ...]
    """The look of each level, or of even steps from `low` to `high`, with that of missing values at the end."""
    low: float
    high: float
    spec: ScaleSpec
    zone: str | None = None
    transform: Transform = Linear()
    beyond: tuple[bool, bool] = (False, False)
    """Whether there are values under the lower limit, and over the upper one; they have the looks of the limits."""
    breaks: tuple[float, ...] = ()
    """Where a classed scale changes: one fewer than it has values, that of missing ones not counted."""
    whole: bool = False
    """Whether all its numbers are whole."""
    gaps: bool = False
    """Whether rows without a value are drawn."""
    ends: tuple[float, float] | None = None
    """Of sizes, opacities and widths of numbers: those of the lowest and of the highest, in points or shares."""

    def look(self, data: FloatArray) -> Look:
        """The looks of rows with these levels or numbers."""
        if self.kind == "levels":
            return Look(self.values, data.astype(np.int64, copy=False))
        if self.ends is None:
            return Look(self.values, self.place(data))
        if not len(data):
            return Look(self.values, np.zeros(0, np.int64))
        found, which = np.unique(self.measured(data), return_inverse=True)
        return Look(tuple(found.tolist()), which.reshape(-1).astype(np.int64))

    def measured(self, data: FloatArray) -> FloatArray:
        """Sizes, opacities or widths, shape kept: the area of a point follows its number, in steps that no eye sees."""
        assert self.ends is not None
        share = self.share(data)
        lost = np.isnan(data) | np.isnan(share)
        share = np.clip(np.where(lost, 0.0, share), 0, 1)
        low, high = self.ends[::-1] if self.spec.reverse else self.ends
        if self.aesthetic == "size":
            made = np.sqrt(low**2 + share * (high**2 - low**2))
        else:
            made = low + share * (high - low)
        return np.where(lost, float(self.values[-1]), np.rint(made / _FINE) * _FINE)

    def of(self, number: float) -> Any:
        """The look of one level or number."""
        look = self.look(np.array([number], float))
        return look.of(0)

    def share(self, data: FloatArray) -> FloatArray:
        """Where numbers lie between the two ends, 0 at the lower and 1 at the upper one; shape kept."""
        low, high = self.transform.forward(np.array([self.low, self.high])).tolist()
        return Extent(low, high).share(self.transform.forward(data)) if high > low else np.full(len(data), 0.5)

    def place(self, data: FloatArray) -> Any:
        """Which of the values stand for these numbers, shape (n,)."""
        if self.breaks:
            classes = np.searchsorted(np.array(self.breaks), data, side="right").astype(np.int64)
            classes[np.isnan(data)] = len(self.values) - 1
            return classes
        steps = len(self.values) - 2
        share = self.share(data)
        lost = np.isnan(data) | np.isnan(share)
        places = np.rint(np.clip(np.where(lost, 0.0, share), 0, 1) * steps).astype(np.int64)
        places[lost] = steps + 1
        return places


class Scales(NamedTuple):
    """All settled scales of a figure."""

    axes: Mapping[AxisKey, Axis]
    looks: Mapping[str, LookScale]

    def first(self, axis: str) -> Axis:
        """The first axis of a name, whose kind and words all of that name have."""
        return next(found for key, found in self.axes.items() if key.axis == axis)

    def under(self, panel: Panel) -> dict[str, Axis]:
        """The two axes on which a panel stands."""
        return {"x": self.axes[panel.x], "y": self.axes[panel.measure or panel.y]}
