"""Direct labels: the names of lines at their ends, in their ink, instead of a legend."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.core.columns import Columns
from facetine.core.geometry.apart import moved_apart
from facetine.core.stats.groups import grouped
from facetine.layers.look import Look
from facetine.pipeline.rows.runs import Runs
from facetine.pipeline.scales.look_scales import LookScale
from facetine.pipeline.scales.member import DirectNames
from facetine.scene.marks import Stroke, segments
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import Block, TextStyle, set_text

_MOST_AUTOMATIC = 3


def direct_names(runs: Runs, looks: Mapping[str, LookScale], columns: int) -> list[DirectNames]:
    """The layers whose lines are named at their ends: where that was said, or left open and there are three at most.

    Args:
        runs: The layers.
        looks: The settled scales.
        columns: Panels side by side; the names need the room at the right of a single one.
    """
    named = []
    for number, run in enumerate(runs):
        wish = run.layer.legend
        if wish not in ("direct", "auto") or columns > 1 or run.horizontal:
            continue
        scale = next((looks[name] for name in ("color", "dash") if name in run.columns and name in looks), None)
        # What lies along one axis, such as ticks at the edge, has no ends.
        if scale is None or scale.kind != "levels" or not ("x" in run.table and "y" in run.table):
            continue
        if wish == "direct" or len(scale.labels) <= _MOST_AUTOMATIC:
            named.append(DirectNames(number, scale.aesthetic, scale.labels))
    return named


def named_directly(scale: LookScale, runs: Runs, direct: list[DirectNames]) -> bool:
    """Whether every layer that shows a scale names its lines at their ends, so that a legend says nothing new."""
    named = {names.layer for names in direct if _follows_named(names, scale, runs)}
    return bool(named) and all(
        number in named
        for number, run in enumerate(runs)
        if run.layer.legend is not False and scale.aesthetic in run.columns and scale.aesthetic in run.layer.looks
    )


def _follows_named(names: DirectNames, scale: LookScale, runs: Runs) -> bool:
    """Whether a scale follows the column whose levels are named."""
    column = runs[names.layer].columns.get(names.aesthetic)
    return column is not None and column.name == scale.column


def room_for(direct: list[DirectNames], text: TextStyle, gap: float) -> float:
    """Room at the right of the panel that the names need."""
    widths = [set_text(name, text).width for names in direct for name in names.names]
    return max(widths) + 3 * gap if widths else 0.0


def draw_names(
    names: DirectNames, rows: Columns, look: Look, box: Region, text: TextStyle, gap: float, lowest: float, into: Sketch
) -> None:
    """Adds the names of one layer's lines in one panel, moved apart, with leaders where they moved.

    Args:
        names: What is written.
        rows: The layer's rows in points; the aesthetic's column holds levels.
        look: The colors of the rows.
        box: The panel.
        text: How names are set.
        gap: Room between line and name.
        lowest: How far down names may go.
        into: Takes the marks.
    """
    ends: list[tuple[float, float, Block]] = []
    groups = grouped(rows.group)
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        chosen = groups.order[start : start + size]
        good = chosen[np.isfinite(rows["y"][chosen]) & (rows["x"][chosen] <= box.right + 0.5)]
        if not len(good):
            continue
        last = int(good[np.argmax(rows["x"][good])])
        name = names.names[int(rows[names.aesthetic][last])]
        ink = look.of(last) if names.aesthetic == "color" else text.color
        ends.append((float(rows["x"][last]), float(rows["y"][last]), set_text(name, text._replace(color=ink))))
    group = into.group("names", "Names of the lines", kind="names", layer=names.layer)
    half = text.cap / 2
    wanted = np.array([y for _, y, _ in ends])
    placed = moved_apart(wanted, 1.15 * text.size, box.y + half, max(lowest, box.y + half))
    for (x, y, block), level in zip(ends, placed.tolist(), strict=True):
        left = box.right + 2 * gap
        if abs(level - y) > 1.0 or box.right - x > 3.0:
            leader = np.array([[x + 1.0, y, left - 1.0, level]])
            group.add([segments(leader, Stroke(block.type.color, 0.35))])
        group.add(line._replace(about=(x, y)) for line in block.placed(left, level - half, role="name"))
