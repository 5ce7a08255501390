"""What lies outside the limits of the axes: counted in one remark a layer, and left out or cut."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.core.arrays import BoolArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import POSITIONS
from facetine.messages.findings import Remarks, Saying, so_many
from facetine.pipeline.rows.panels import AxisKey, Panels
from facetine.pipeline.rows.runs import STOOD, LayerRun
from facetine.pipeline.scales.axes import Axis

CURVES = ("line", "curve", "piece", "step")
"""Things that are told by the line, and not by the places that it is drawn through."""


def inside(axes: Mapping[AxisKey, Axis], panels: Panels, run: LayerRun) -> Saying[LayerRun]:
    """A layer with its rows within the windows that were said; marks that are cut at the edge stay.

    Args:
        axes: The settled axes.
        panels: The panels that stand on them.
        run: The layer.
    """
    table = run.table
    if not any(axis.window for axis in axes.values()) or not len(table) or run.layer.over_edges:
        return run
    table = _held(table, axes, panels, mirrored=run.layer.scatters)
    run = run._replace(table=table)
    outside = np.zeros(len(table), bool)
    cut = np.zeros(len(table), bool)
    for key, axis in axes.items():
        if axis.window:
            there = _standing(table, key, panels)
            # A point is where its center is; given ends that reach beyond the edge are cut there.
            reach = _reach(table, key.axis, ends=not (run.layer.drops_outside and run.layer.takes_ends))
            low, high = (np.where(there, end, np.nan) for end in reach)
            gone = ~np.isnan(low) & ((low > axis.extent.high) | (high < axis.extent.low))
            held = axis.extent.holds(low) & axis.extent.holds(high)
            outside |= gone & ~held
            cut |= ~np.isnan(low) & ~held & ~gone
    layer = run.layer
    thing = layer.thing
    if layer.drops_outside:
        outside |= cut
        cut = np.zeros(len(table), bool)
    if thing in CURVES and not layer.drops_outside:
        yield from _say_curves(table, outside | cut, run)
        return run
    names = layer.things(table)
    every = np.full(len(table), thing) if names is None else names
    said = []
    for rows, fate in ((outside, "not shown"), (cut & ~outside, "cut")):
        found, counts = np.unique(every[rows], return_counts=True)
        said += [f"{so_many(count, name)} {fate}" for name, count in zip(found.tolist(), counts.tolist(), strict=True)]
    if said:
        yield run.context.remark("outside-limits", f"{', '.join(said)}: outside the limits of {_windows(axes)}")
    if outside.all():
        text = f"nothing of it lies within the limits of {_windows(axes)}, so nothing of it is drawn"
        yield run.context.remark("layer-empty", text, "other limits, or none", severity="warning")
    return run if not layer.drops_outside or not outside.any() else run._replace(table=table.take(~outside))


def _standing(table: Columns, key: AxisKey, panels: Panels) -> BoolArray:
    """Which rows stand on an axis, shape (n,)."""
    there: BoolArray = np.isin(table.panel, [panel.number for panel in panels if panel.key(key.axis) == key])
    return there


def _held(table: Columns, axes: Mapping[AxisKey, Axis], panels: Panels, *, mirrored: bool) -> Columns:
    """Marks that were moved from their places no farther than the edge of the panel.

    Those that chance moved are mirrored there; those that stand side by side move on together, so that none hides another.
    """
    for key, axis in axes.items():
        stood = STOOD[key.axis]
        if not (axis.window and stood in table and len(table)):
            continue
        low, high = sorted((axis.extent.low, axis.extent.high))
        at = table[key.axis].astype(float)
        there = _standing(table, key, panels) & (table[stood] >= low) & (table[stood] <= high)
        if mirrored:
            back = np.where(at < low, 2 * low - at, np.where(at > high, 2 * high - at, at))
            shift = np.clip(back, low, high) - at
        else:
            slots = grouped(table.panel, table[stood])
            first, last = (ends.reduceat(at[slots.order], slots.starts) for ends in (np.minimum, np.maximum))
            shift = np.zeros(len(at))
            shift[slots.order] = np.repeat(np.maximum(low - first, 0) - np.maximum(last - high, 0), slots.sizes)
        names = [name for name in table.values if POSITIONS.get(name) == key.axis]
        table = table.put(**{name: table[name] + np.where(there, shift, 0.0) for name in names})
    return table


def _reach(table: Columns, name: str, *, ends: bool) -> tuple[FloatArray, FloatArray]:
    """The ends of each row's mark along an axis, or its place alone, each of shape (n,); NaN where it has none."""
    stood = STOOD[name]
    places = [
        (table[stood] if key == name and stood in table else values).astype(float)
        for key, values in table.values.items()
        if POSITIONS.get(key) == name and (ends or key == name)
    ]
    if not places:
        none = np.full(len(table), np.nan)
        return none, none
    low, high = places[0], places[0]
    for values in places[1:]:
        low, high = np.fmin(low, values), np.fmax(high, values)
    return low, high


def _say_curves(table: Columns, beyond: BoolArray, run: LayerRun) -> Remarks:
    """Curves are told by the line, not by the places that they are drawn through."""
    if not beyond.any():
        return
    groups = table.values.get("piece", table.group)
    every = {*zip(table.panel.tolist(), groups.tolist(), strict=True)}
    left = {*zip(table.panel[beyond].tolist(), groups[beyond].tolist(), strict=True)}
    count = f"{len(left)} of {so_many(len(every), run.layer.thing)}" if len(every) > 1 else "the line"
    yield run.context.remark("outside-limits", f"{count} cut at the limits")


def _windows(axes: Mapping[AxisKey, Axis]) -> str:
    return " and ".join(dict.fromkeys(key.axis for key, axis in axes.items() if axis.window))
