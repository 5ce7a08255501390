"""Functions drawn over an axis: their places, whatever its scale and however far it reaches."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.query import Source
from facetine.layers.context import Context
from facetine.messages.errors import KindError

_STEP, _LEAST = 0.5, 65
_BEYOND = 0.15
INNER = "inner"
"""The column of a graph's table that tells which of its places lie within the data, and so say how far the axes reach."""


def graph(function: Callable[[FloatArray], FloatArray], source: Source, context: Context, exact: bool) -> Columns:
    """A function at even places of the axis of x, in every panel of the rows.

    Args:
        function: From values of shape (n,) to others; NaN where it has none.
        source: Rows whose x say from where to where.
        context: What is known of the axes.
        exact: Whether these are its ends; else it goes on to the edges of the panel.

    Returns:
        A row a place: x, y, and whether it lies within the rows.

    Raises:
        KindError: x holds no numbers.
    """
    kind = context.kinds.get("x", "number")
    if kind != "number":
        raise KindError(context.where, f"a function is one of numbers, but x holds {kind}", "reference(…) marks single places")
    rows, axis = source.rows(), context.axis("x")
    there = axis.transform.forward(rows["x"].astype(float))
    ends = np.concatenate([there[np.isfinite(there)], () if exact else np.array(axis.said)])
    if not len(ends):
        return Columns.of({"x": np.zeros(0), "y": np.zeros(0), INNER: np.zeros(0)})
    low, high = float(ends.min()), float(ends.max())
    beyond = 0.0 if exact else _BEYOND * (high - low or 1.0)
    count = max(_LEAST, math.ceil(context.room[0] / _STEP) + 1)
    at = np.linspace(low - beyond, high + beyond, count)
    # The ends of the data are places too, so that the axes reach exactly as far as the function does there.
    at = np.unique(np.concatenate([at, [low, high]]))
    x = axis.transform.inverse(at)
    x = x[np.isfinite(x)]
    inner = (at[: len(x)] >= low) & (at[: len(x)] <= high)
    y = function(x)
    y = np.where(context.axis("y").transform.admits(y), y, np.nan)
    lost = int(np.isnan(y[inner]).sum())
    if lost == int(inner.sum()):
        context.say("graph-empty", "the function has no value on this axis", severity="warning")
    elif lost:
        context.say("graph-gaps", f"the function has no value at {lost} of {int(inner.sum())} places of the axis")
    panels = np.unique(rows.panel)
    size = len(x)
    return Columns(
        {"x": np.tile(x, len(panels)), "y": np.tile(y, len(panels)), INNER: np.tile(inner.astype(float), len(panels))},
        np.repeat(panels, size),
        np.zeros(size * len(panels), np.int64),
    )


def within(rows: Columns) -> Columns:
    """The rows of a graph that say how far the axes reach."""
    return rows.take(rows[INNER] > 0) if INNER in rows else rows
