"""Which rows of the data stand behind each result of a layer: those of a bar, a bin, a box, a cell."""

from __future__ import annotations

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.grammar.aesthetics import TURNED
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.member import Kept

_NEAR = 1e-9
"""Sums of weights that differ by no larger share are equal."""


def members_of(run: LayerRun, member: Kept) -> IntArray | None:
    """The result that each row of a layer entered.

    Rows belong to the result of their panel and group at their place, in their bin or in their cell. What comes out is held
    against what the layer itself counted: where it counted other rows, nothing is said.

    Args:
        run: A layer that computes.
        member: The figure of which it is one.

    Returns:
        Shape (n,), the place among the layer's results for each of `run.rows`, −1 for none; None where rows can't be told apart,
        as those of a curve.
    """
    every = run.table.renamed(TURNED) if run.horizontal else run.table
    if run.borrowed_from is not None or not len(every) or not len(run.rows) or "count" not in every:
        return None
    # Beside its results a layer may draw single rows, such as outliers, which count nothing.
    counting = np.flatnonzero(np.isfinite(every["count"].astype(float)))
    results = every.take(counting)
    if not len(results):
        return None
    found: IntArray | None
    if "x_from" in results and "x_till" in results and "x" in run.rows:
        found = _in_ranges(run, results, run.rows["x"].astype(float), results["x_from"], results["x_till"])
    elif not run.layer.keeps_groups and {"x_low", "x_high", "y_low", "y_high"} <= results.values.keys():
        found = _in_cells(run, results, member)
    elif "x value" in results and "x" in run.rows:
        found = _at_places(run, results)
    else:
        return None
    if found is None or not _counts_agree(run, results, found):
        return None
    of_all: IntArray = np.where(found >= 0, counting[found], -1)
    return of_all


def single_rows_of(run: LayerRun, member: Kept) -> IntArray:
    """Results that are single rows of the data, such as the values beyond the whiskers of a box, with these rows.

    Args:
        run: A layer that computes.
        member: The figure of which it is one.

    Returns:
        Shape (k, 2): places among `run.table` and among `run.rows`; of equal rows each has one.
    """
    nothing = np.zeros((0, 2), np.int64)
    every = run.table.renamed(TURNED) if run.horizontal else run.table
    needed = {"count", "x value", "y value"}
    if run.borrowed_from is not None or not needed <= every.values.keys() or not {"x", "y"} <= run.rows.values.keys():
        return nothing
    single = np.flatnonzero(~np.isfinite(every["count"].astype(float)))
    if not len(single):
        return nothing
    results = every.take(single)
    at = {axis: run.rows[axis].astype(float) for axis in ("x", "y")}
    if run.layer.works_in == "axis":
        at["y"] = member.scales.first(run.own("y")).transform.forward(at["y"])
    there = np.column_stack([_keys(run, results), results["x value"].astype(float), results["y value"].astype(float)])
    rows = np.column_stack([_keys(run, run.rows), at["x"], at["y"]])
    kinds = _kinds(there, rows)
    # Of equal ones the first result is the first row, and so on.
    results_turn, rows_turn = (
        np.column_stack([part, _turns(part)]).astype(float) for part in (kinds[: len(there)], kinds[len(there) :])
    )
    found = _found(rows_turn, results_turn)
    return np.column_stack([single, found])[found >= 0]


def _turns(kinds: IntArray) -> IntArray:
    """How many equal ones stand before each, shape (n,)."""
    order = np.argsort(kinds, kind="stable")
    ordered = kinds[order]
    starts = np.flatnonzero(np.diff(ordered, prepend=ordered[0] - 1)) if len(ordered) else np.zeros(0, np.int64)
    turns = np.empty(len(kinds), np.int64)
    turns[order] = np.arange(len(kinds)) - np.repeat(starts, np.diff(starts, append=len(kinds)))
    return turns


def _keys(run: LayerRun, rows: Columns) -> FloatArray:
    """Panel and group of rows as one number each, shape (n,); of a layer that keeps no groups the panel alone."""
    group = rows.group if run.layer.keeps_groups else np.zeros(len(rows), np.int64)
    return np.asarray(rows.panel * (1 + max(int(run.rows.group.max(initial=0)), int(group.max(initial=0)))) + group, float)


def _at_places(run: LayerRun, results: Columns) -> IntArray | None:
    """Rows that stand where a result does; None where two results stand there."""
    there = np.column_stack([_keys(run, results), results["x value"].astype(float)])
    if len(np.unique(there, axis=0)) < len(there):
        return None
    rows = np.column_stack([_keys(run, run.rows), run.rows["x"].astype(float)])
    return _found(there, rows)


def _found(there: FloatArray, wanted: FloatArray) -> IntArray:
    """Where each row stands among others, shape (n,); −1 where it does not.

    Args:
        there: Shape (m, k), no two of them equal.
        wanted: Shape (n, k).
    """
    kinds = _kinds(there, wanted)
    place = np.full(int(kinds.max()) + 1, -1, np.int64)
    place[kinds[: len(there)]] = np.arange(len(there))
    found: IntArray = place[kinds[len(there) :]]
    return found


def _kinds(*parts: FloatArray) -> IntArray:
    """A number for each row of several, shape (n,), equal for equal rows."""
    kinds: IntArray = np.unique(np.vstack(parts), axis=0, return_inverse=True)[1].reshape(-1)
    return kinds


def _in_ranges(run: LayerRun, results: Columns, at: FloatArray, low: FloatArray, high: FloatArray) -> IntArray:
    """Rows within the ranges of results of their panel and group; the last of the ranges has both of its ends."""
    found = np.full(len(at), -1, np.int64)
    of_results, of_rows = _keys(run, results), _keys(run, run.rows)
    last = float(high.max())
    for key in np.unique(of_rows).tolist():
        mine, own = np.flatnonzero(of_results == key), np.flatnonzero(of_rows == key)
        if not len(mine):
            continue
        mine = mine[np.argsort(low[mine], kind="stable")]
        place = np.clip(np.searchsorted(low[mine], at[own], side="right") - 1, 0, len(mine) - 1)
        inside = (at[own] >= low[mine][place]) & ((at[own] < high[mine][place]) | (at[own] == last))
        found[own] = np.where(inside, mine[place], -1)
    return found


def _in_cells(run: LayerRun, results: Columns, member: Kept) -> IntArray | None:
    """Rows within square cells; None where cells have another outline or do not make a grid."""
    places: dict[str, IntArray] = {}
    keys = [_keys(run, results)]
    rows = [_keys(run, run.rows)]
    for axis in ("x", "y"):
        if axis not in run.rows:
            return None
        low, high = results[f"{axis}_low"].astype(float), results[f"{axis}_high"].astype(float)
        edges = np.unique(np.round(np.concatenate([low, high]), 9))
        transform = member.scales.first(run.own(axis)).transform
        at = transform.forward(run.rows[axis].astype(float))
        places[axis] = np.searchsorted(edges, np.round(at, 9), side="right")
        # The uppermost edge belongs to the cell below it.
        places[axis][np.round(at, 9) == edges[-1]] = len(edges) - 1
        start = np.searchsorted(edges, np.round(low, 9), side="right")
        if (np.searchsorted(edges, np.round(high, 9), side="left") != start).any():
            return None
        keys.append(start.astype(float))
        rows.append(places[axis].astype(float))
    there, own = np.column_stack(keys), np.column_stack(rows)
    if len(np.unique(there, axis=0)) < len(there):
        return None
    return _found(there, own)


def _counts_agree(run: LayerRun, results: Columns, found: IntArray) -> bool:
    """Whether the layer counted these rows, or their weights, in each of its results."""
    held = found >= 0
    weights = run.rows["weight"].astype(float) if "weight" in run.rows else np.ones(len(found))
    sums = np.bincount(found[held], weights=weights[held], minlength=len(results))
    counts = results["count"].astype(float)
    rows = np.bincount(found[held], minlength=len(results))
    # Layers that weigh may count rows or weights.
    return bool(np.allclose(sums, counts, rtol=_NEAR, atol=_NEAR) or np.array_equal(rows, counts))
