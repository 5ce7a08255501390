"""The table of a layer: what it computes of its rows, arranged, at its places on the axes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from facetine.core.arrange.steps import merged_places
from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.columns import Columns, joined
from facetine.core.memory import InMemory
from facetine.core.scales.kinds.base import Transform
from facetine.core.stats.groups import found_among
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.layers.finish import By
from facetine.messages.findings import Remark, so_many, so_many_rows
from facetine.pipeline.rows.runs import STOOD, LayerRun


def tabled(run: LayerRun, transforms: Mapping[str, Transform]) -> LayerRun:
    """A run with its table: computed, arranged, and turned back where the layer is horizontal.

    Where rows were chosen, it has a second one of these; widths, places and breaks are those that all rows have settled.
    """
    rows = rows_computed(run, transforms)
    summed = _summed(rows, run)
    run = run._replace(table=_seen(_numbered(_arranged(summed, run, transforms), run), run))
    if not run.answers:
        return run
    return run._replace(some=_seen(_numbered(_of_chosen(rows, summed, run, transforms), run), run))


def rows_computed(run: LayerRun, transforms: Mapping[str, Transform]) -> Columns:
    """The rows of which a layer computes, in the space in which it does, each at the place that it shares with others."""
    return _merged(started(run, transforms), run, _own(run, transforms))


def started(run: LayerRun, transforms: Mapping[str, Transform]) -> Columns:
    """The rows in the space in which the layer computes."""
    if run.layer.works_in == "data":
        return run.rows
    return _transformed(run.rows, _own(run, transforms), {"x", "y"})


def _own(run: LayerRun, transforms: Mapping[str, Transform]) -> Mapping[str, Transform]:
    """The transforms as the layer sees its axes."""
    return {"x": transforms["y"], "y": transforms["x"]} if run.horizontal else transforms


def _merged(rows: Columns, run: LayerRun, own: Mapping[str, Transform]) -> Columns:
    """Rows at places that differ by rounding, which are one, at one place."""
    if not run.layer.by_place or "x" not in rows or run.context.discrete("x"):
        return rows
    x = rows["x"].astype(float)
    return rows.put(x=merged_places(x, x if run.layer.works_in == "axis" else own["x"].forward(x)))


def _summed(rows: Columns, run: LayerRun) -> Columns:
    """What a layer computes of rows."""
    made = _finite(run.layer.compute(InMemory(rows), run.context), run)
    # What arranging moves is kept for texts, which tell values and not places.
    return made.put(**{f"{axis} value": made[axis] for axis in ("x", "y") if axis in made})


def _arranged(rows: Columns, run: LayerRun, transforms: Mapping[str, Transform]) -> Columns:
    """Computed rows at their places on the axes."""
    layer, own = run.layer, _own(run, transforms)
    mapped = {POSITIONS[name] for name in run.rows.values if name in POSITIONS}
    # What was computed on places is in axis space already; counts beside them are not.
    axes = {"x", "y"} - (mapped if layer.works_in == "axis" else set())
    # Slots are of the axis, so that they are as wide at one end of it as at the other; heights add up as values.
    rows = _placed(_transformed(rows, own, axes & {"x"}), rows, run)
    if "x" in rows and not run.context.discrete("x") and layer.stands_side_by_side(run.context):
        rows = rows.put(**{STOOD[run.own("x")]: rows["x"]})
    rows = _finite(layer.arrange_rows(rows, run.context), run)
    rows = _placed(_transformed(rows, own, axes & {"y"}), rows, run)
    return _with_stood(rows, layer.scattered(rows, run.context), run)


def _numbered(rows: Columns, run: LayerRun) -> Columns:
    """Results are counted from 0; rows of the data keep their numbers."""
    return replace(rows, row=np.arange(len(rows)) if run.layer.results(run.context.columns) else rows.numbers)


def _seen(rows: Columns, run: LayerRun) -> Columns:
    """Rows with x and y as the reader sees them."""
    return rows.renamed(TURNED) if run.horizontal else rows


_ABSENT = "absent"
"""The column of rows that tells which of them only say where others stand."""


def _of_chosen(rows: Columns, whole: Columns, run: LayerRun, transforms: Mapping[str, Transform]) -> Columns:
    """The table of chosen rows.

    Args:
        rows: All rows, in the space in which the layer computes.
        whole: What it computed of them.
        run: The layer.
        transforms: Those of its axes.
    """
    # What is said of all rows need not be said again of some.
    known, heard = {remark.text for remark in run.context.remarks}, list[Remark]()
    quietly = run._replace(context=replace(run.context, remarks=heard))
    by = run.finish.by if run.finish is not None else "row"
    kept = np.zeros(0, np.int64) if run.kept is None else run.kept
    if by == "row":
        there = np.isin(whole.numbers, kept)
        made = whole.take(there | _gaps(whole, run))
    else:
        made = _summed(rows.take(np.isin(rows.numbers, kept)), quietly)
    placed = _completed(made, whole, by, run) if len(made) else made.put(**{_ABSENT: np.zeros(0, bool)})
    made = _arranged(placed, quietly, transforms)
    run.context.remarks.extend(
        remark._replace(text=f"of the chosen rows, {remark.text}") for remark in heard if remark.text not in known
    )
    return made.take(~made[_ABSENT].astype(bool)).dropped(_ABSENT)


def _gaps(rows: Columns, run: LayerRun) -> BoolArray:
    """Which rows only interrupt a line, shape (n,)."""
    if not run.layer.keeps_gaps or "y" not in rows:
        return np.zeros(len(rows), bool)
    gaps: BoolArray = ~np.isfinite(rows["y"].astype(float))
    return gaps


def _completed(some: Columns, whole: Columns, by: By, run: LayerRun) -> Columns:
    """What was computed of chosen rows, and beside it, marked as absent, what others there is at other places.

    So everything that depends on which places are taken is as all rows have it.
    """
    keys = {"row": ("row",), "place": ("x",), "spot": ("x", "y")}.get(by)
    if keys is None or any(name != "row" and name not in whole for name in keys):
        return some.put(**{_ABSENT: np.zeros(len(some), bool)})
    at = found_among(_keyed(whole, keys), _keyed(some, keys))
    gaps = _gaps(whole, run)
    # Where no chosen row has a value, but others have, the line goes on to the next place.
    lost = _gaps(some, run) & ~gaps[at]
    some, at = some.take(~lost), at[~lost]
    settled = {name: whole[name][at] for name in run.layer.settled_columns if name in whole}
    others = np.setdiff1d(np.arange(len(whole)), at)
    absent = run.layer.nothing(whole.take(others)).put(**{_ABSENT: ~gaps[others]})
    both = joined([some.put(**settled, **{_ABSENT: np.zeros(len(some), bool)}), absent])
    return both.take(np.argsort(np.concatenate([at, others]), kind="stable"))


def _keyed(rows: Columns, keys: tuple[str, ...]) -> FloatArray:
    columns = [rows.numbers if name == "row" else rows[name].astype(float) for name in keys]
    return np.column_stack([rows.panel, rows.group, *columns]).astype(float)


def _with_stood(rows: Columns, moved: Columns, run: LayerRun) -> Columns:
    """Rows that were moved, with the places where they stand by their values, for which limits ask."""
    stood = {axis: rows[axis] for axis in ("x", "y") if moved.values.get(axis) is not rows.values.get(axis)}
    return moved.put(**{STOOD[run.own(axis)]: places for axis, places in stood.items() if STOOD[run.own(axis)] not in rows})


def _finite(rows: Columns, run: LayerRun) -> Columns:
    """The rows that were computed to be somewhere; says how many were not, as where squares of huge numbers run over."""
    if run.layer.keeps_gaps:
        return rows
    keep = np.ones(len(rows), bool)
    for name, values in rows.values.items():
        if name in ("x", "y"):
            keep &= np.isfinite(values)
        elif name in POSITIONS:
            keep &= ~np.isinf(values)
    if keep.all():
        return rows
    run.context.say(
        "not-computable", f"{so_many_rows(int((~keep).sum()))} computed to no finite number left out", severity="warning"
    )
    return rows.take(keep)


_HALF = 0.4
"""Half of a mark's width along an axis that shows neither of its sides."""


def _placed(moved: Columns, rows: Columns, run: LayerRun) -> Columns:
    """The rows whose computed x and y have a place on their scales; says how many have none."""
    if "x_low" in moved and "x_high" in moved and "x" in moved:
        # A mark of which one side would stand beyond what the axis can show is as wide there as on its other side.
        low, high, middle = moved["x_low"], moved["x_high"], moved["x"]
        known = np.isfinite(low), np.isfinite(high)
        half = np.where(known[1], np.abs(high - middle), np.where(known[0], np.abs(middle - low), _HALF))
        moved = moved.put(x_low=np.where(known[0], low, middle - half), x_high=np.where(known[1], high, middle + half))
    keep = np.ones(len(rows), bool)
    cut = np.zeros(len(rows), bool)
    for name in moved.values:
        if name in POSITIONS and moved[name] is not rows[name]:
            lost = ~np.isfinite(moved[name]) & np.isfinite(rows[name])
            if name in ("x", "y"):
                keep &= ~lost
            else:
                cut |= lost
    gone = len(rows) - int(keep.sum())
    if gone:
        run.context.say("rows-off-scale", f"{so_many_rows(gone)} computed without a place on their scale left out")
    if (cut & keep).any():
        run.context.say("ends-off-scale", f"{so_many(int((cut & keep).sum()), 'end')} without a place on the scale not drawn")
    return moved.take(keep) if gone else moved


def _transformed(rows: Columns, transforms: Mapping[str, Transform], axes: set[str]) -> Columns:
    """Places from data to axis space; levels stay as they are, their axes are linear."""
    moved = {
        name: transforms[str(axis)].forward(values)
        for name, values in rows.values.items()
        if (axis := POSITIONS.get(name)) in axes and not transforms[str(axis)].even
    }
    return rows.put(**moved) if moved else rows
