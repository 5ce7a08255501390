"""The places along x that areas on each other share, and what stands where a group has no row."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns, joined
from facetine.layers.bridges import STRETCH
from facetine.layers.context import Context
from facetine.layers.summary import slots
from facetine.messages.errors import listed
from facetine.messages.findings import so_many


def with_zeros(rows: Columns, context: Context | None = None) -> Columns:
    """Every group of a panel at every x of the panel, with zero where it has no row or no value; says how often.

    Args:
        rows: One row for each x of each group; y may be missing.
        context: Takes the remark; None where nothing is to be said, since none is zero, as of counts.
    """
    parts, zeros = [], 0
    for own, every in _groups(rows):
        there = _at(own, every)
        empty = ~np.isfinite(there["y"])
        zeros += int(empty.sum())
        parts.append(there.put(y=np.where(empty, 0.0, there["y"])))
    if zeros and context is not None:
        context.say("gaps-zero", f"{so_many(zeros, 'place')} without a value taken as zero")
    return joined(parts) if parts else rows


def on_common_places(rows: Columns, *, joins: bool, whole: bool, context: Context) -> Columns:
    """Every group of a panel at every x of the panel, by increasing x, for areas on each other.

    Where a group has no row or no value, it breaks, and so do those that stand on it, of which nothing tells where they
    would be. What is left is numbered in unbroken stretches; a row alone between two gaps has no width, and is left out.

    Args:
        rows: One row for each x of each group; y may be missing.
        joins: Whether gaps between two values of a group are filled on a straight line instead.
        whole: Whether one missing value breaks all groups, since shares are of all of them.
        context: Takes the remarks.
    """
    parts: list[Columns] = []
    joined_at: dict[int, int] = {}
    missing: dict[int, int] = {}
    for own, every in _groups(rows):
        known, group = own.take(np.isfinite(own["y"])), int(own.group[0])
        if not len(known):
            continue
        there = _at(known, every)
        empty = ~np.isfinite(there["y"])
        if joins:
            there = there.put(y=np.interp(every, known["x"], known["y"], left=np.nan, right=np.nan))
            joined_at[group] = joined_at.get(group, 0) + int((empty & np.isfinite(there["y"])).sum())
            empty = ~np.isfinite(there["y"])
        missing[group] = missing.get(group, 0) + int(empty.sum())
        parts.append(there)
    if not parts:
        return rows.take(np.zeros(0, np.int64))
    if said := _places(joined_at, context):
        context.say("gaps-joined", f"{said} taken on a straight line")
    if said := _places(missing, context):
        fix = 'gaps="zero" where none means zero' + ("" if joins else "; bridge=True joins over them")
        context.say("stack-gaps", f"{said}: gaps there, also in what stands on them", fix)
    return _broken(joined(parts), whole, context)


def _groups(rows: Columns) -> Iterator[tuple[Columns, FloatArray]]:
    """The rows of each group of each panel by increasing x, and all places of the panel."""
    for panel in np.unique(rows.panel).tolist():
        here = rows.take(rows.panel == panel)
        every = np.unique(here["x"])
        for group in np.unique(here.group).tolist():
            own = here.take(here.group == group)
            yield own.take(np.argsort(own["x"], kind="stable")), every


def _at(own: Columns, every: FloatArray) -> Columns:
    """The rows of a group at all places of its panel; where it has none, one that is nobody's own, without a value."""
    row = np.clip(np.searchsorted(own["x"], every), 0, len(own) - 1)
    held, there = own["x"][row] == every, own.take(row)
    y, place = np.where(held, there["y"], np.nan), np.arange(len(every), dtype=float)
    return there.put(x=every, y=y, own=held.astype(float), place=place)


def _broken(rows: Columns, whole: bool, context: Context) -> Columns:
    """The rows with what stands on them known, in numbered stretches of at least two."""
    lost = ~np.isfinite(rows["y"])
    if not lost.any():
        return rows
    slot = slots(rows)
    lowest = np.full(int(slot.max()) + 1, np.iinfo(np.int64).max)
    np.minimum.at(lowest, slot[lost], -1 if whole else rows.group[lost])
    rows = rows.take(rows.group < lowest[slot])
    # Two neighbours are joined where they are neighbours among all places of their panel.
    fresh = np.ones(len(rows), bool)
    fresh[1:] = (np.diff(rows.panel) != 0) | (np.diff(rows.group) != 0) | (np.diff(rows["place"]) != 1)
    stretch = np.cumsum(fresh)
    alone = np.bincount(stretch)[stretch] == 1
    if alone.any():
        context.say("rows-alone", f"{so_many(int(alone.sum()), 'row')} alone between gaps left out: no width, no area")
    return rows.put(**{STRETCH: stretch.astype(float)}).take(~alone)


def _places(counts: dict[int, int], context: Context) -> str:
    """At how many places which groups have no value; empty for none."""
    counts = {group: count for group, count in counts.items() if count}
    groups = listed([repr(context.groups[group]) for group in counts if group in context.groups], 4)
    return f"{so_many(sum(counts.values()), 'place')} without a value" + (f" of {groups}" if groups else "") if counts else ""
