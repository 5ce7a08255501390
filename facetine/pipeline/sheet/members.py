"""Which rows of the data stand behind each result of a layer: those of a bar, a bin, a box, a cell."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.memory import InMemory
from facetine.core.stats.binning import middles_of_bins
from facetine.core.stats.groups import found_among, kinds_of
from facetine.grammar.aesthetics import TURNED
from facetine.layers.finish import By
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


class ResultsOfRows(NamedTuple):
    """The results of a layer, and which of them each of its rows enters."""

    results: IntArray
    """Shape (k,): their places in the layer's table."""
    of: IntArray
    """Shape (n,): which of them a row enters, counted from 0; −1 for none."""


def results_of_rows(run: LayerRun, member: Kept, rows: Columns, by: By) -> ResultsOfRows | None:
    """The results of a layer that a page computes anew, with the rows that each of them is of.

    Args:
        run: The layer.
        member: The figure of which it is one.
        rows: The rows of which it computes, in the order of `run.rows`.
        by: What one result is of.

    Returns:
        None where rows can't be told apart.
    """
    every = run.table.renamed(TURNED) if run.horizontal else run.table
    there = np.ones(len(every), bool)
    if by in ("place", "row") and "y value" in every:
        # Outliers, which are no results, and gaps, which only interrupt.
        there = np.isfinite((every["count"] if "count" in every else every["y value"]).astype(float))
    results = np.flatnonzero(there)
    own, found = every.take(results), None
    if by == "bin":
        at = rows["x"].astype(float)
        found = _in_ranges(run, own, at, own["x_from"], own["x_till"])
    elif by == "cell":
        found = _in_cells(run, own, member)
    elif by == "row":
        found = found_among(*(np.column_stack([one.panel, one.numbers]).astype(float) for one in (own, rows)))
    else:
        places = [_in_bins(run, rows), *([rows["y"].astype(float)] if by == "spot" else [])]
        stood = [own[f"{axis} value"].astype(float) for axis in ("x", "y")[: len(places)]]
        there_keys, wanted = np.column_stack([_keys(run, own), *stood]), np.column_stack([_keys(run, rows), *places])
        found = found_among(there_keys, wanted) if len(np.unique(there_keys, axis=0)) == len(own) else None
    if found is None:
        return None
    if "y" in rows and by in ("place", "row"):
        found = np.where(np.isfinite(rows["y"].astype(float)), found, -1)
    if "count" in own and by != "row" and not _counts_agree(run, own, found):
        return None
    return ResultsOfRows(results, found)


def _in_bins(run: LayerRun, rows: Columns) -> FloatArray:
    """Places of rows, which are the middles of intervals where a layer takes these together; NaN outside of all."""
    x = rows["x"].astype(float)
    for panel in np.unique(rows.panel).tolist():
        said, here = getattr(run.prepared.get(panel, run.layer), "edges", None), rows.panel == panel
        if said is not None:
            x = np.where(here, middles_of_bins(x, np.array(said, float)), x)
    return x


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
    kinds = kinds_of(there, rows)
    # Of equal ones the first result is the first row, and so on.
    results_turn, rows_turn = (
        np.column_stack([part, _turns(part)]).astype(float) for part in (kinds[: len(there)], kinds[len(there) :])
    )
    found = found_among(rows_turn, results_turn)
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
    return found_among(there, rows)


def _in_ranges(run: LayerRun, results: Columns, at: FloatArray, low: FloatArray, high: FloatArray) -> IntArray:
    """Rows within the ranges of results of their panel and group; the last of the ranges has both of its ends."""
    found = np.full(len(at), -1, np.int64)
    of_results, of_rows = _keys(run, results), _keys(run, run.rows)
    for key in np.unique(of_rows).tolist():
        mine, own = np.flatnonzero(of_results == key), np.flatnonzero(of_rows == key)
        if not len(mine):
            continue
        mine = mine[np.argsort(low[mine], kind="stable")]
        place = np.clip(np.searchsorted(low[mine], at[own], side="right") - 1, 0, len(mine) - 1)
        inside = (at[own] >= low[mine][place]) & ((at[own] < high[mine][place]) | (at[own] == float(high[mine].max())))
        found[own] = np.where(inside, mine[place], -1)
    return found


def _in_cells(run: LayerRun, results: Columns, member: Kept) -> IntArray | None:
    """Rows within square cells; None where cells have another outline."""
    if not {"x", "y"} <= run.rows.values.keys():
        return None
    at = {axis: member.scales.first(run.own(axis)).transform.forward(run.rows[axis].astype(float)) for axis in ("x", "y")}
    rows, found = run.rows.put(**at), np.full(len(run.rows), -1, np.int64)
    standing = computed_together(member)
    for key in dict.fromkeys(standing[panel] for panel in np.unique(rows.panel).tolist()):
        panels = [panel for panel, own in standing.items() if own == key]
        mine = np.flatnonzero(np.isin(rows.panel, panels))
        layer = run.prepared.get(panels[0], run.layer)
        edges = layer.cell_edges(InMemory(rows.take(mine)), run.context)
        if edges is None:
            return None
        there = np.flatnonzero(np.isin(results.panel, panels))
        own, wanted = results.take(there), rows.take(mine)
        cells = [_keys(run, own), *(_between(own[axis].astype(float), edges[axis]) for axis in ("x", "y"))]
        inside = [_keys(run, wanted), *(_between(wanted[axis].astype(float), edges[axis]) for axis in ("x", "y"))]
        place = found_among(np.column_stack(cells), np.column_stack(inside))
        outside = (inside[1] < 0) | (inside[2] < 0)
        found[mine] = np.where((place >= 0) & ~outside, there[place], -1)
    return found


def computed_together(member: Kept) -> dict[int, int]:
    """Which panels are computed together: those that stand on the same axes; by their numbers in the figure."""
    pairs = list(dict.fromkeys((panel.x, panel.y) for panel in member.panels))
    return {panel.number - member.first: pairs.index((panel.x, panel.y)) for panel in member.panels}


def _between(at: FloatArray, edges: FloatArray) -> FloatArray:
    """Which of the intervals between edges holds each place, shape (n,); −1 for none; the last one has both of its ends."""
    place = np.clip(np.searchsorted(edges, at, side="right") - 1, 0, len(edges) - 2)
    return np.where((at < edges[0]) | (at > edges[-1]), -1.0, place.astype(float))


def _counts_agree(run: LayerRun, results: Columns, found: IntArray) -> bool:
    """Whether the layer counted these rows, or their weights, in each of its results."""
    held = found >= 0
    weights = run.rows["weight"].astype(float) if "weight" in run.rows else np.ones(len(found))
    sums = np.bincount(found[held], weights=weights[held], minlength=len(results))
    counts = results["count"].astype(float)
    rows = np.bincount(found[held], minlength=len(results))
    # Layers that weigh may count rows or weights.
    return bool(np.allclose(sums, counts, rtol=_NEAR, atol=_NEAR) or np.array_equal(rows, counts))
