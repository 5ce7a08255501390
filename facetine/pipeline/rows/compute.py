"""From the rows of a layer to what it draws, arranged, with its places in axis space."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from facetine.core.arrange.steps import merged_places
from facetine.core.columns import Columns, joined
from facetine.core.memory import InMemory
from facetine.core.scales.kinds.base import Transform
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.layers.values import labelled
from facetine.messages.errors import OptionError, unknown
from facetine.messages.findings import Remark, Saying, so_many, so_many_rows
from facetine.pipeline.rows.runs import STOOD, LayerRun, Runs, Split


def computed(split: Split) -> Saying[Runs]:
    """All layers as they were prepared, with what they computed; one that borrows has the table of an earlier layer.

    Panels on axes of their own are computed apart from each other, as if each were a figure.

    Raises:
        OptionError: It names a layer that is not there.
    """
    sharing = [panels for field in split.fields for panels in field.sharing()]
    said: list[Remark] = []
    whole = split._replace(runs=tuple(_heard_by(run, said) for run in split.runs))
    runs = _in_common(whole) if len(sharing) == 1 else _apart(whole, sharing)
    yield from said
    return tuple(_heard_by(run, []) for run in runs)


def _heard_by(run: LayerRun, said: list[Remark]) -> LayerRun:
    """A run whose layer says its remarks to a list."""
    return run._replace(context=replace(run.context, remarks=said))


def _in_common(split: Split) -> Runs:
    """All layers computed for all panels at once, which share their axes."""
    return _with_tables(_told(tuple(_prepared(run, split) for run in split.runs), split), split)


def _apart(split: Split, sharing: Sequence[list[int]]) -> Runs:
    """All layers computed for the panels of each axis."""
    apart = [tuple(_in_panels(_prepared_apart(run, panels, split), panels) for run in split.runs) for panels in sharing]
    tables = [_with_tables(_told(runs, split), split) for runs in apart]
    return tuple(_together(parts, split) for parts in zip(*tables, strict=True))


def _prepared(run: LayerRun, split: Split) -> LayerRun:
    if run.layer.borrows is not None:
        return run
    return run._replace(layer=run.layer.prepare(InMemory(_started(run, split.space(run))), run.context))


def _prepared_apart(run: LayerRun, panels: list[int], split: Split) -> LayerRun:
    """A run prepared for some panels, by the rows of all that share an axis with them."""
    if run.layer.borrows is not None:
        return run
    field = split.fields[run.field]
    panel = next(panel for panel in field.panels if panel.number == panels[0])
    rows = _started(run, split.space(run))
    along = {run.own(axis): InMemory(rows.take(np.isin(rows.panel, field.standing(panel.key(axis))))) for axis in ("x", "y")}
    return run._replace(layer=run.layer.prepare_apart(along["x"], along["y"], run.context))


def _told(runs: Runs, split: Split) -> Runs:
    """Runs that know of each other what they must."""
    _say_spaces(runs, {axis: split.transform(axis) for axis in ("x", "y")})
    return _with_bins(runs)


def _in_panels(run: LayerRun, panels: list[int]) -> LayerRun:
    """A run with its rows in some panels, whose remarks name the first of them."""
    rows = run.rows.take(np.isin(run.rows.panel, panels)) if len(run.rows) else run.rows
    return run._replace(rows=rows, context=replace(run.context, panel=run.context.panels[panels[0]]))


def _together(parts: Runs, split: Split) -> LayerRun:
    """One run of those of some panels each."""
    first, tables = parts[0], [part.table for part in parts if len(part.table)]
    panels = [panels for field in split.fields for panels in field.sharing()]
    prepared = {panel: part.layer for part, numbers in zip(parts, panels, strict=True) for panel in numbers}
    whole = split.runs[first.number]
    table = joined(tables) if tables else first.table
    if first.layer.results(first.context.columns):
        # Results are counted over all panels.
        table = replace(table, row=np.arange(len(table)))
    return first._replace(rows=whole.rows, context=whole.context, table=table, prepared=prepared)


def _with_tables(runs: Runs, split: Split) -> Runs:
    done: list[LayerRun] = []
    for run in runs:
        done.append(_with_table(run, split.space(run)) if run.layer.borrows is None else _borrowing(run, done))
    return tuple(done)


def _borrowing(run: LayerRun, before: list[LayerRun]) -> LayerRun:
    wanted = run.layer.borrows
    source = next((earlier for earlier in reversed(before) if wanted in (earlier.layer.verb, earlier.layer.name)), None)
    if source is None:
        verbs = [earlier.layer.verb for earlier in before]
        raise unknown(OptionError, run.context.where, "no earlier layer", wanted, verbs, "earlier layers")
    run.layer.compute(InMemory(source.table), run.context)
    layer = run.layer.explaining(source.layer, len(source.context.groups), source.horizontal)
    return run._replace(layer=layer, borrowed_from=source.number, table=labelled(source.layer, source.table, source.horizontal))


def _with_bins(runs: Runs) -> Runs:
    """Tells layers that count by the bins of another what these are."""
    told = []
    for run in runs:
        beside = (other.layer.bins_of_axis() for other in runs if other.horizontal == run.horizontal)
        bins = next((found for found in beside if found is not None), None) if run.layer.counts_by_bins else None
        told.append(run if bins is None else run._replace(context=replace(run.context, bins=bins)))
    return tuple(told)


def _say_spaces(runs: Runs, transforms: Mapping[str, Transform]) -> None:
    """Says where a statistic of the data meets one of the axis on one axis that is not even."""
    for axis in ("x", "y"):
        if transforms[axis].even:
            continue
        by_space = {
            run.layer.works_in: run for run in runs if run.layer.compares_spaces and run.layer.computed and run.value_axis == axis
        }
        if len(by_space) > 1:
            data, places = by_space["data"], by_space["axis"]
            data.context.say(
                "two-spaces",
                f"{data.layer.verb} are computed from the data, the {places.layer.verb} beside from places on the {axis} axis",
                'space="data" or space="axis" says the same for both',
            )


def _own(run: LayerRun, transforms: Mapping[str, Transform]) -> Mapping[str, Transform]:
    """The transforms as the layer sees its axes."""
    return {"x": transforms["y"], "y": transforms["x"]} if run.horizontal else transforms


def _started(run: LayerRun, transforms: Mapping[str, Transform]) -> Columns:
    """The rows in the space in which the layer computes."""
    if run.layer.works_in == "data":
        return run.rows
    return _transformed(run.rows, _own(run, transforms), {"x", "y"})


def _with_table(run: LayerRun, transforms: Mapping[str, Transform]) -> LayerRun:
    """A run with its table: computed, arranged, and turned back where the layer is horizontal."""
    layer, own = run.layer, _own(run, transforms)
    rows = _started(run, transforms)
    mapped = {POSITIONS[name] for name in rows.values if name in POSITIONS}
    if layer.by_place and "x" in rows and not run.context.discrete("x"):
        x = rows["x"].astype(float)
        rows = rows.put(x=merged_places(x, x if layer.works_in == "axis" else own["x"].forward(x)))
    rows = layer.compute(InMemory(rows), run.context)
    rows = _finite(rows, run)
    # What arranging moves is kept for texts, which tell values and not places.
    rows = rows.put(**{f"{axis} value": rows[axis] for axis in ("x", "y") if axis in rows})
    # What was computed on places is in axis space already; counts beside them are not.
    axes = {"x", "y"} - (mapped if layer.works_in == "axis" else set())
    # Slots are of the axis, so that they are as wide at one end of it as at the other; heights add up as values.
    rows = _placed(_transformed(rows, own, axes & {"x"}), rows, run)
    if "x" in rows and not run.context.discrete("x") and layer.stands_side_by_side(run.context):
        rows = rows.put(**{STOOD[run.own("x")]: rows["x"]})
    rows = _finite(layer.arrange_rows(rows, run.context), run)
    rows = _placed(_transformed(rows, own, axes & {"y"}), rows, run)
    rows = _with_stood(rows, layer.scattered(rows, run.context), run)
    # Results are counted from 0; rows of the data keep their numbers.
    numbers = np.arange(len(rows)) if layer.results(run.context.columns) else rows.numbers
    rows = replace(rows, row=numbers)
    return run._replace(table=rows.renamed(TURNED) if run.horizontal else rows)


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
