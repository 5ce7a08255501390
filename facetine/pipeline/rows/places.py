"""Categories on axes: each axis holds the levels that occur in its own panels, and rows stand among these."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.data.table import Levels
from facetine.grammar.aesthetics import POSITIONS
from facetine.pipeline.rows.panels import AxisKey, Field
from facetine.pipeline.rows.runs import LayerRun, Runs


def on_own_levels(runs: Runs, field: Field, levels: Mapping[str, Levels]) -> tuple[Runs, dict[AxisKey, Levels]]:
    """Runs whose places count the levels of their own axis, and these levels by key.

    Args:
        runs: Places of categories count the levels of all panels.
        field: The panels in which they stand.
        levels: The levels of all panels, of each axis that has categories.
    """
    places: dict[AxisKey, Levels] = {}
    for axis in ("x", "y"):
        if axis not in levels:
            continue
        keys = field.keys(axis)
        if len(keys) == 1:
            places[keys[0]] = levels[axis]
            continue
        lookup = np.full((len(field.panels), len(levels[axis])), -1, np.int64)
        for key in keys:
            standing = field.standing(key)
            there = np.unique(np.concatenate([_occurring(run, axis, standing) for run in runs]))
            places[key] = tuple(levels[axis][code] for code in there.tolist())
            lookup[np.ix_(np.array(standing), there)] = np.arange(len(there))
        runs = tuple(run._replace(rows=_moved(run, axis, lookup)) for run in runs)
    return runs, places


def _names(run: LayerRun, axis: str) -> list[str]:
    """The arrays of a run's rows that hold places on an axis."""
    return [name for name in run.rows.values if POSITIONS.get(name) == run.own(axis)]


def _codes(name: str, values: FloatArray) -> IntArray:
    """The level at which a place is said, which may be half a slot beside it for the ends of a region."""
    rounded = np.ceil(values) if name.endswith("_low") else np.floor(values)
    return np.where(np.isfinite(values), rounded, -1).astype(np.int64)


def _occurring(run: LayerRun, axis: str, panels: list[int]) -> IntArray:
    """The levels of an axis that occur in some panels, shape (k,)."""
    there = np.isin(run.rows.panel, panels)
    parts = [_codes(name, run.rows[name][there]) for name in _names(run, axis)]
    codes = np.unique(np.concatenate(parts)) if parts else np.zeros(0, np.int64)
    return codes[codes >= 0]


def _moved(run: LayerRun, axis: str, lookup: IntArray) -> Columns:
    """Rows whose places count the levels of their panel's own axis; lookup has a row for each panel."""
    moved = {}
    for name in _names(run, axis):
        values = run.rows[name]
        codes = _codes(name, values)
        own = lookup[run.rows.panel, np.maximum(codes, 0)]
        moved[name] = np.where(codes >= 0, own + (values - codes), values).astype(values.dtype)
    return run.rows.put(**moved) if moved else run.rows
