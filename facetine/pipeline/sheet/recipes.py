"""How layers are computed anew of chosen rows, elsewhere than here: these rows with their values, the results that they enter,
and how what comes out stands and looks."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.columns import Columns
from facetine.core.scales.templates import Field, parsed
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import TURNED
from facetine.grammar.scale import DASHES
from facetine.layers.bridges import STRETCH
from facetine.layers.finish import Finish
from facetine.layers.look import combined
from facetine.layers.points import marker_style
from facetine.pipeline.drawing.draw import looks_of
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.rows.tables import rows_computed
from facetine.pipeline.scales.highlighted import quiet_rows, with_quiet
from facetine.pipeline.scales.look_scales import LookScale
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.sheet.members import computed_together, results_of_rows
from facetine.scene.marks import MarkerStyle
from facetine.scene.typeset import TextStyle

MARKER = 100.0
"""The diameter in points at which looks have their markers."""
_NEEDED: Mapping[str, tuple[str, ...]] = {
    "bars": ("y",), "histogram": (), "boxes": ("y",), "cells": ("color",), "tally": (), "cumulative": ("x",), "lines": ("y",),
    "points": ("y",), "reference": ("x", "y"), "trend": ("x", "y"), "intervals": ("y",),
}  # fmt: skip
"""The values of rows that each way to compute needs, beside their weights."""
_SETTLED: Mapping[str, tuple[str, ...]] = {
    "bars": ("x_low", "x_high"), "histogram": ("x_low", "x_high"), "boxes": ("x", "x_low", "x_high"),
    "cells": ("x_low", "x_high", "y_low", "y_high"), "tally": ("x", "y"), "lines": ("x", STRETCH), "points": ("x",),
    "intervals": ("x", "x_low", "x_high"),
}  # fmt: skip
"""The places of results that all rows have settled."""


class Labels(NamedTuple):
    """What is written on the marks of a layer."""

    parts: tuple[str | tuple[Field, str], ...]
    """Of the template: texts, and values with what kind they are."""
    style: TextStyle
    inside: bool
    """Whether a text stands in its mark, and not beyond its end."""
    across: bool
    """Whether marks are lines across a panel, at which texts stand."""


class Recipe(NamedTuple):
    """What is needed to compute a layer of some of its rows."""

    finish: Finish
    rows: Columns
    """Those that enter results, in the space in which the layer computes; x and y as the layer sees them."""
    of: IntArray
    """Shape (n,): which result each of them enters."""
    outside: Columns
    """Rows that enter none, and are parts of the whole of their panel."""
    cells: Columns
    """The results with the places that no choice changes."""
    slot: IntArray
    """Shape (k,): which results stand in one slot of one panel."""
    panels: tuple[tuple[int, ...], ...]
    """For results of several panels: the numbers of these."""
    looks: tuple[Mapping[str, Any], ...]
    """Few looks by aesthetic: dashes as lengths, shapes as markers of a large size."""
    look: IntArray
    """Shape (k,): which of them each result has."""
    scales: Mapping[str, LookScale]
    """What makes a color or a size of a number, where the layer computes that number."""
    labels: Labels | None


def recipe_of(run: LayerRun, member: Kept) -> Recipe | None:
    """How a layer is computed anew; None for one that stays as all rows make it, or of whose rows results can't be told.

    Args:
        run: A layer, as all rows made it.
        member: The figure of which it is one.
    """
    finish = run.finish
    if finish is None or finish.name == "rows" or run.borrowed_from is not None or not len(run.rows) or not len(run.table):
        return None
    rows = rows_computed(run, {axis: member.scales.first(axis).transform for axis in ("x", "y")})
    sums = _sums(run, member, finish, rows)
    if sums is None:
        return None
    cells, of = sums
    looks, look = _looks(run, cells, member)
    if finish.name == "lines" and _varies_along(cells, look):
        return None
    needed = [name for name in _NEEDED[finish.name] if name in rows]
    if "weight" in rows and run.layer.uses_weight(run.context.columns):
        needed.append("weight")
    values = Columns({name: rows[name].astype(float) for name in needed}, rows.panel, rows.group, rows.numbers)
    places = {name: cells[name].astype(float) for name in _SETTLED.get(finish.name, ()) if name in cells}
    computed = (name for name in run.layer.computed_looks if name in member.scales.looks and run.layer.constant(name) is None)
    return Recipe(
        finish, values.take(of >= 0), of[of >= 0], values.take(of < 0),
        Columns({name.split(" ")[0]: place for name, place in places.items()}, cells.panel, cells.group, cells.numbers),
        _slots(cells), _panels_of(run, member) if finish.by == "figure" else (), looks, look,
        {name: member.scales.looks[name] for name in computed}, _labels(run, member),
    )  # fmt: skip


def _sums(run: LayerRun, member: Kept, finish: Finish, rows: Columns) -> tuple[Columns, IntArray] | None:
    """The results, x and y as the layer sees them, and which of them each row enters; −1 for none."""
    table = run.table.renamed(TURNED) if run.horizontal else run.table
    if finish.by not in ("group", "panel", "figure"):
        found = results_of_rows(run, member, rows, finish.by)
        return None if found is None else (table.take(found.results), found.of)
    standing = computed_together(member)
    together = np.array([standing[panel] for panel in rows.panel.tolist()], np.int64)
    groups = grouped(*{"group": (rows.panel, rows.group), "panel": (rows.panel,), "figure": (together,)}[finish.by])
    firsts = rows.take(groups.first)
    # A result looks as the first of its marks does.
    own = _first_of(firsts, table, finish)
    return Columns({**table.take(own).values}, firsts.panel, table.group[own], np.arange(len(own))), groups.number


def _first_of(wanted: Columns, table: Columns, finish: Finish) -> IntArray:
    """The first row of a table that is of the same panel and group as each wanted one."""
    rows = [
        np.flatnonzero((table.panel == panel) & ((table.group == group) | (finish.by != "group")))
        for panel, group in zip(wanted.panel.tolist(), wanted.group.tolist(), strict=True)
    ]
    return np.array([found[0] if len(found) else 0 for found in rows], np.int64)


def _panels_of(run: LayerRun, member: Kept) -> tuple[tuple[int, ...], ...]:
    """For each result of all rows of panels that are computed together, these panels."""
    standing, there = computed_together(member), sorted(set(run.rows.panel.tolist()))
    own = sorted({standing[panel] for panel in there})
    return tuple(tuple(panel for panel in there if standing[panel] == one) for one in own)


def _varies_along(cells: Columns, look: IntArray) -> bool:
    """Whether a line looks otherwise at one of its places than at another."""
    groups = grouped(cells.panel, cells.group)
    ordered = look[groups.order]
    return len(ordered) > 0 and bool(
        (np.maximum.reduceat(ordered, groups.starts) != np.minimum.reduceat(ordered, groups.starts)).any()
    )


def _slots(cells: Columns) -> IntArray:
    place = cells["x value"] if "x value" in cells else np.zeros(len(cells))
    return grouped(cells.panel, place).number


def _looks(run: LayerRun, cells: Columns, member: Kept) -> tuple[tuple[Mapping[str, Any], ...], IntArray]:
    """How results look: few looks, and which of them each has."""
    seen = cells.renamed(TURNED) if run.horizontal else cells
    looks = looks_of(run, seen, member.scales)
    told = quiet_rows(run, seen) if member.quiet is not None else None
    if member.quiet is not None and told is not None:
        looks = with_quiet(looks, told, member.quiet)
    computed = [name for name in run.layer.computed_looks if run.layer.constant(name) is None]
    names = tuple(name for name in looks if name not in computed)
    found, which = combined(looks, names, len(cells))
    made = tuple(_look(dict(zip(names, values, strict=True))) for values in found)
    return made, np.zeros(len(cells), np.int64) if which is None else which


def _look(look: Mapping[str, Any]) -> dict[str, Any]:
    said = {name: look[name] for name in ("color", "opacity", "outline", "line_width", "size") if name in look}
    if "dash" in look:
        said["dash"] = tuple(round(length * look["line_width"], 3) for length in DASHES[look["dash"]])
    if "shape" in look:
        marker: MarkerStyle = marker_style(
            look["shape"], MARKER, look["color"], look.get("outline"), look.get("line_width") or 0.0
        )
        said["marker"] = marker
    return said


def _labels(run: LayerRun, member: Kept) -> Labels | None:
    form, theme = run.layer.text_template, member.theme
    if form is None:
        return None
    names, across = run.layer.names_told(run.context, run.horizontal), run.layer.value_template is None
    parts = tuple(
        part if isinstance(part, str) else (part, names[part.name].sort if part.name in names else "words")
        for part in parsed(form).parts
    )
    size = theme.tick_text_size if across else theme.value_text_size
    shared = getattr(run.layer, "arrange", "") in ("stack", "share") and len(np.unique(run.table.group)) > 1
    style = TextStyle(theme.font, size, 400, theme.text_color, theme.line_height)
    return Labels(parts, style, not across and (run.layer.values_inside or shared), across)
