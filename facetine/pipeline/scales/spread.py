"""How much of an axis that panels share each of them fills."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.grammar.aesthetics import POSITIONS
from facetine.messages.findings import Findings
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.rows.runs import Split
from facetine.pipeline.scales.axes import Axis

_LEAST = 0.05
"""Of an axis; marks that take less of it can't be told apart there."""


def say_near_empty(split: Split, axes: Mapping[AxisKey, Axis], findings: Findings) -> None:
    """Says in which panels the marks lie within a twentieth of an axis that others share, though they differ there."""
    facet = split.sentence.facet
    if facet is None:
        return
    for name in ("x", "y"):
        shared = [key for key in axes if key.axis == name and axes[key].kind != "levels" and not axes[key].window]
        low, high = _ends(split, name) if shared else (np.zeros(0), np.zeros(0))
        for key in shared:
            standing = [panel.number for panel in split.panels if panel.key(name) == key]
            extent = axes[key].extent
            if len(standing) < 2:
                continue
            share = (high - low) / (extent.high - extent.low)
            thin = [number for number in standing if 0 < share[number] < _LEAST]
            for number in thin:
                context = split.runs[0].context
                findings.add(
                    "panel-near-empty",
                    "figure.facet",
                    f"the marks lie within {_LEAST:.0%} of the {name} axis, which other panels fill",
                    f'separate="{name}" gives each panel its own',
                    place=f"panel {context.panels[number]!r}",
                )


def _ends(split: Split, axis: str) -> tuple[np.ndarray, np.ndarray]:
    """Lowest and highest place of the marks of each panel, each of shape (panels,)."""
    low, high = np.full(len(split.panels), np.inf), np.full(len(split.panels), -np.inf)
    for run in split.runs:
        if run.layer.stands_alone or run.layer.backdrop:
            continue
        rows = run.layer.reaching(run.table)
        rows = run.layer.spanning(rows) if len(rows) else rows
        for name, values in rows.values.items():
            if POSITIONS.get(name) == axis and len(values):
                places = values.astype(float)
                there = np.isfinite(places)
                np.fmin.at(low, rows.panel[there], places[there])
                np.fmax.at(high, rows.panel[there], places[there])
    return np.where(low <= high, low, 0.0), np.where(low <= high, high, 0.0)
