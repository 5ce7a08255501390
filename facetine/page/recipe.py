"""What a page needs to compute a layer anew of chosen rows: these rows with their values, the results that they enter, and how
what comes out stands and looks."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.columns import Columns
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import TURNED
from facetine.grammar.scale import DASHES
from facetine.layers.bridges import STRETCH
from facetine.layers.finish import Finish
from facetine.layers.look import combined
from facetine.layers.points import marker_style
from facetine.page.inks import marker_ink
from facetine.page.packed import Packer
from facetine.page.views import is_known, transform_said
from facetine.pipeline.drawing.draw import looks_of, shift_of
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.rows.tables import rows_computed
from facetine.pipeline.scales.chosen import ink_of_all
from facetine.pipeline.scales.look_scales import LookScale
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.shades import needs_halo
from facetine.pipeline.sheet.members import results_of_rows

_SIZE = 100.0
"""The diameter at which outlines of markers travel, in points."""
_NEEDED: Mapping[str, tuple[str, ...]] = {
    "bars": ("y",), "histogram": (), "boxes": ("y",), "cells": ("color",), "tally": (), "cumulative": ("x",), "lines": ("y",),
    "points": ("y",), "reference": ("x", "y"), "trend": ("x", "y"), "intervals": ("y",), "rows": (),
}  # fmt: skip
"""The values of rows that each way to compute needs, beside their weights."""
_SETTLED: Mapping[str, tuple[str, ...]] = {
    "bars": ("x_low", "x_high"), "histogram": ("x_low", "x_high"), "boxes": ("x", "x_low", "x_high"),
    "cells": ("x_low", "x_high", "y_low", "y_high"), "tally": ("x", "y"), "lines": ("x",), "points": ("x",),
    "intervals": ("x", "x_low", "x_high"),
}  # fmt: skip
"""The places of results that all rows have settled."""


class _Sums(NamedTuple):
    """The results of a layer, x and y as it sees them, and which of them each row enters."""

    cells: Columns
    of: IntArray
    """Shape (n,): −1 for none."""


def recipe_of(run: LayerRun, member: Kept, packer: Packer) -> dict[str, Any] | None:
    """How a layer is computed anew; None for one that stays as all rows make it.

    Args:
        run: A layer, as all rows made it.
        member: The figure of which it is one.
        packer: Takes its arrays.
    """
    finish = run.finish
    if finish is None or run.borrowed_from is not None or not len(run.rows) or not len(run.table):
        return None
    if finish.name == "rows":
        return {"finish": "rows", "counts": False}
    axes = {axis: member.scales.first(axis) for axis in ("x", "y")}
    if not all(axis.kind == "levels" or is_known(axis) for axis in axes.values()):
        return None
    rows = rows_computed(run, {name: axis.transform for name, axis in axes.items()})
    sums = _sums(run, member, finish, rows)
    if sums is None:
        return None
    names = [name for name in _NEEDED[finish.name] if name in rows]
    if "weight" in rows and run.layer.uses_weight(run.context.columns):
        names.append("weight")
    held = np.flatnonzero(sums.of >= 0)
    cells = sums.cells
    there = [name for name in _SETTLED.get(finish.name, ()) if name in cells]
    if finish.name == "lines" and STRETCH in cells:
        there.append(STRETCH)
    said: dict[str, Any] = {
        "finish": finish.name, "by": finish.by, "options": dict(finish.options), "counts": finish.counts,
        "horizontal": run.horizontal, "space": run.layer.works_in, "shift": shift_of(run),
        "unit": run.context.axis("x").unit_length,
        "rows": packer.whole(rows.numbers[held]), "of": packer.whole(sums.of[held]),
        "values": {name: packer.numbers(rows[name][held].astype(float)) for name in names},
        "cells": {
            "count": len(cells), "panel": packer.whole(cells.panel + member.first), "group": packer.whole(cells.group),
            "number": packer.whole(cells.numbers), "slot": packer.whole(_slots(cells)),
            **{name.split(" ")[0]: packer.numbers(cells[name].astype(float)) for name in there},
        },
        **_looks(run, cells, member, packer),
    }  # fmt: skip
    if finish.by == "figure":
        said["panels"] = _panels_of(run, member)
    if finish.by == "bin":
        said |= _outside(rows.take(sums.of < 0), member, packer)
    return said


def _outside(rows: Columns, member: Kept, packer: Packer) -> dict[str, Any]:
    """Rows outside of all bins, which are parts of the whole of their panel."""
    if not len(rows):
        return {}
    said = {"rows": packer.whole(rows.numbers), "panel": packer.whole(rows.panel + member.first)}
    return {"beside": said | ({"weight": packer.numbers(rows["weight"].astype(float))} if "weight" in rows else {})}


def _standing(member: Kept) -> dict[int, int]:
    """Which panels are computed together: those that stand on the same axes; by their numbers in the figure."""
    pairs = list(dict.fromkeys((panel.x, panel.y) for panel in member.panels))
    return {panel.number - member.first: pairs.index((panel.x, panel.y)) for panel in member.panels}


def _panels_of(run: LayerRun, member: Kept) -> list[list[int]]:
    """For each result of all rows of panels that are computed together, these panels."""
    standing = _standing(member)
    there = sorted(set(run.rows.panel.tolist()))
    own = sorted({standing[panel] for panel in there})
    return [[panel + member.first for panel in there if standing[panel] == one] for one in own]


def _sums(run: LayerRun, member: Kept, finish: Finish, rows: Columns) -> _Sums | None:
    table = run.table.renamed(TURNED) if run.horizontal else run.table
    if finish.by in ("group", "panel", "figure"):
        standing = _standing(member)
        together = np.array([standing[panel] for panel in rows.panel.tolist()], np.int64)
        groups = grouped(*{"group": (rows.panel, rows.group), "panel": (rows.panel,), "figure": (together,)}[finish.by])
        of = np.empty(len(rows), np.int64)
        of[groups.order] = np.repeat(np.arange(len(groups.starts)), groups.sizes)
        firsts = rows.take(groups.first)
        # A result looks as the first of its marks does.
        own = _first_of(firsts, table, finish)
        return _Sums(Columns({**table.take(own).values}, firsts.panel, table.group[own], np.arange(len(own))), of)
    found = results_of_rows(run, member, rows, finish.by)
    return None if found is None else _Sums(table.take(found.results), found.of)


def _first_of(wanted: Columns, table: Columns, finish: Finish) -> IntArray:
    """The first row of a table that is of the same panel and group as each wanted one."""
    rows = [
        np.flatnonzero((table.panel == panel) & ((table.group == group) | (finish.by != "group")))
        for panel, group in zip(wanted.panel.tolist(), wanted.group.tolist(), strict=True)
    ]
    return np.array([found[0] if len(found) else 0 for found in rows], np.int64)


def _slots(cells: Columns) -> IntArray:
    """Which results stand in one slot of one panel, shape (n,)."""
    place = cells["x value"] if "x value" in cells else np.zeros(len(cells))
    groups = grouped(cells.panel, place)
    slot = np.empty(len(cells), np.int64)
    slot[groups.order] = np.repeat(np.arange(len(groups.starts)), groups.sizes)
    return slot


def _looks(run: LayerRun, cells: Columns, member: Kept, packer: Packer) -> dict[str, Any]:
    """How results look: which of few looks each has, and what makes a color or a size of a number."""
    theme = member.theme
    seen = cells.renamed(TURNED) if run.horizontal else cells
    looks = looks_of(run, seen, member.scales)
    computed = [name for name in run.layer.computed_looks if name in member.scales.looks and run.layer.constant(name) is None]
    names = tuple(name for name in looks if name not in computed)
    found, which = combined(looks, names, len(cells))
    said: dict[str, Any] = {
        "looks": [_look_said(dict(zip(names, values, strict=True))) for values in found],
        "look": packer.whole(np.zeros(len(cells), np.int64) if which is None else which),
        "ground": theme.ground_below, "quiet": ink_of_all(theme), "halo": needs_halo(run, member.runs),
        "bordered": run.layer.bordered,
    }  # fmt: skip
    for name in computed:
        scale = _scale_said(member.scales.looks[name])
        if scale is not None:
            said[name] = scale
    return said


def _look_said(look: Mapping[str, Any]) -> dict[str, Any]:
    """One look in plain values: outlines of markers at a large size, strokes as shares of it."""
    said = {name: look[name] for name in ("color", "opacity", "outline", "line_width", "size") if name in look}
    if "dash" in look:
        said["dash"] = [round(length * look["line_width"], 3) for length in DASHES[look["dash"]]]
    if "shape" in look:
        style = marker_style(look["shape"], _SIZE, look["color"], look.get("outline"), look.get("line_width") or 0.0)
        said["marker"] = list(marker_ink(style, 1.0))
    return said


def _scale_said(scale: LookScale) -> dict[str, Any] | None:
    """How a color or a size follows a number; None where a page does not know the kind of scale."""
    kind = transform_said(scale.transform)
    if kind is None or scale.kind == "levels":
        return None
    said = {"low": scale.low, "high": scale.high, **kind}
    if scale.ends is not None:
        ends = scale.ends[::-1] if scale.spec.reverse else scale.ends
        return said | {"ends": list(ends), "lost": scale.values[-1]}
    return said | {"values": list(scale.values), "breaks": list(scale.breaks)}

