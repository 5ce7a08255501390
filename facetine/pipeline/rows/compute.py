"""From the rows of a layer to what it draws, arranged, with its places in axis space."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from facetine.core.columns import Columns, joined
from facetine.core.memory import InMemory
from facetine.core.scales.kinds.base import Transform
from facetine.layers.values import labelled
from facetine.messages.errors import OptionError, unknown
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.rows.runs import LayerRun, Runs, Split
from facetine.pipeline.rows.tables import started, tabled


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
    return run._replace(layer=run.layer.prepare(InMemory(started(run, split.space(run))), run.context))


def _prepared_apart(run: LayerRun, panels: list[int], split: Split) -> LayerRun:
    """A run prepared for some panels, by the rows of all that share an axis with them."""
    if run.layer.borrows is not None:
        return run
    field = split.fields[run.field]
    panel = next(panel for panel in field.panels if panel.number == panels[0])
    rows = started(run, split.space(run))
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
    first = parts[0]
    panels = [panels for field in split.fields for panels in field.sharing()]
    prepared = {panel: part.layer for part, numbers in zip(parts, panels, strict=True) for panel in numbers}
    whole = split.runs[first.number]
    table = _one_table([part.table for part in parts], first)
    some = None if first.some is None else _one_table([part.some for part in parts if part.some is not None], first)
    return first._replace(rows=whole.rows, context=whole.context, table=table, some=some, prepared=prepared)


def _one_table(tables: Sequence[Columns], run: LayerRun) -> Columns:
    """The tables of some panels each as one."""
    there = [table for table in tables if len(table)]
    table = joined(there) if there else tables[0]
    # Results are counted over all panels.
    return replace(table, row=np.arange(len(table))) if run.layer.results(run.context.columns) else table


def _with_tables(runs: Runs, split: Split) -> Runs:
    done: list[LayerRun] = []
    for run in runs:
        done.append(tabled(run, split.space(run)) if run.layer.borrows is None else _borrowing(run, done))
    return tuple(done)


def _borrowing(run: LayerRun, before: list[LayerRun]) -> LayerRun:
    wanted = run.layer.borrows
    source = next((earlier for earlier in reversed(before) if wanted in (earlier.layer.verb, earlier.layer.name)), None)
    if source is None:
        verbs = [earlier.layer.verb for earlier in before]
        raise unknown(OptionError, run.context.where, "no earlier layer", wanted, verbs, "earlier layers")
    run.layer.compute(InMemory(source.table), run.context)
    layer = run.layer.explaining(source.layer, len(source.context.groups), source.horizontal)
    table = labelled(source.layer, source.table, source.horizontal)
    some = None if source.some is None else labelled(source.layer, source.some, source.horizontal)
    return run._replace(layer=layer, borrowed_from=source.number, table=table, some=some, kept=source.kept)


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
