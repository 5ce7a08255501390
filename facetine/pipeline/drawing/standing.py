"""What stands in a panel, as places that texts keep off: points, and bits of lines and borders."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.pipeline.rows.runs import LayerRun, Runs

_BIT = 2.5
"""Points between two places on a line."""
_MOST = 20_000
_CELL = 1.5
"""Where there are more places than that, one is kept for each cell of so many points."""


def places_of(runs: Runs, rows: Sequence[Columns]) -> FloatArray:
    """The places of the marks of layers in a panel, shape (n, 2), in points.

    Args:
        runs: The layers.
        rows: Their computed rows in the panel, in points, x and y as the reader sees them.
    """
    found = [_of_layer(run, one) for run, one in zip(runs, rows, strict=True) if len(one) and not run.layer.explains]
    every: FloatArray = np.concatenate([np.zeros((0, 2)), *found])
    every = every[np.isfinite(every).all(axis=1)]
    if len(every) <= _MOST:
        return every
    cells: FloatArray = np.unique(np.floor(every / _CELL), axis=0)
    return (cells + 0.5) * _CELL


def _of_layer(run: LayerRun, rows: Columns) -> FloatArray:
    values: Mapping[str, FloatArray] = rows.values
    corners = ("x_low", "x_high", "y_low", "y_high")
    value, place = run.value_axis, "x" if run.value_axis == "y" else "y"
    ends = (f"{value}_low", f"{value}_high")
    if all(name in values for name in corners):
        left, right, low, high = (values[name].astype(float) for name in corners)
        borders = [(left, low, right, low), (right, low, right, high), (right, high, left, high), (left, high, left, low)]
        return np.concatenate([_between(np.column_stack(border)) for border in borders])
    made = []
    # What lies on a band can be read; it is its line that is kept free.
    if (run.layer.spans or run.layer.kept_free) and all(name in values for name in (place, *ends)):
        low, high, at = values[ends[0]].astype(float), values[ends[1]].astype(float), values[place].astype(float)
        made.append(_between(np.column_stack((at, low, at, high) if value == "y" else (low, at, high, at))))
    if "x" in values and "y" in values:
        made.append(_along(rows, place, value, value) if run.layer.line_marks else np.column_stack([values["x"], values["y"]]))
    return np.concatenate([np.zeros((0, 2)), *made]).astype(float)


def _along(rows: Columns, place: str, end: str, value: str) -> FloatArray:
    """Places along the lines that join the rows of each group."""
    at, far = rows[place].astype(float), rows[end].astype(float)
    same = rows.group[1:] == rows.group[:-1]
    ends = np.column_stack([at[:-1], far[:-1], at[1:], far[1:]])[same]
    points = np.concatenate([np.column_stack([at, far]), _between(ends)])
    return points if value == "y" else points[:, ::-1]


def _between(ends: FloatArray) -> FloatArray:
    """Places on straight lines, shape (m, 2).

    Args:
        ends: Shape (n, 4): x and y of the one end, x and y of the other.
    """
    ends = ends[np.isfinite(ends).all(axis=1)]
    if not len(ends):
        return np.zeros((0, 2))
    long = np.hypot(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1])
    counts = np.minimum(np.ceil(long / _BIT).astype(np.int64) + 1, 4000)
    which = np.repeat(np.arange(len(ends)), counts)
    step = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = (step / np.maximum(counts[which] - 1, 1))[:, None]
    places: FloatArray = ends[which, :2] * (1 - share) + ends[which, 2:] * share
    return places
