"""Points: a marker for each row, or for each summary of rows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrange.swarm import beeswarm, jitter
from facetine.core.columns import Columns
from facetine.core.stats.groups import AGGREGATES, grouped
from facetine.errors import KindError
from facetine.grammar.options import choice, ink, number, option, whole
from facetine.grammar.scale import SHAPES
from facetine.layers.base import Context, DrawnLayer, Look, PanelView, batches, combined, places
from facetine.layers.summary import at_place, summarised
from facetine.scene.marks import Markers, MarkerStyle, Region


@dataclass(frozen=True, kw_only=True)
class Points(DrawnLayer):
    """A marker for each row: scatter, bubbles, strips of dots. Groups are drawn interleaved, so none hides another."""

    verb: ClassVar[str] = "points"
    seed: ClassVar[int] = 7
    can_turn: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "size", "shape", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "size", "shape", "line_width")

    color: str | None = option(None, ink, "The inside of the points.")
    outline: str | None = option(None, ink, "Their border; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much a point covers what lies below it; 1 by default.")
    size: float | None = option(None, number(0.01, 1000), "Their diameter in points; the theme's `point_size` by default.")
    shape: str | None = option(None, choice(*SHAPES, name="shapes"), "Their outline; a disc by default.")
    line_width: float | None = option(None, number(0, 100), "Width of their border in points.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What is drawn of the rows at one x.")

    arrange: str = option(
        "overlay",
        choice("overlay", "jitter", "beeswarm", "offset", name="arrangements"),
        "How points on the same place share it.",
    )
    spread_x: float | None = option(
        None, number(0, 1e9), "How far jitter goes along x, either way (0.3 of a slot), or how far groups are offset."
    )
    spread_y: float | None = option(None, number(0, 1e9), "Likewise along y.")
    thin: int | None = option(None, whole(1), "How many rows are drawn at most, a seeded choice; all are where it is not set.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The rows, or one for each x of each group."""
        if self.aggregate != "none":
            return summarised(rows, self.aggregate, context)
        if self.arrange == "beeswarm" and not context.discrete("x"):
            raise KindError(
                f"{context.where}: a beeswarm needs categories on one axis, but {context.columns['x']!r} holds none",
                'write .kinds(…="category") for the axis that points may leave',
            )
        if self.thin is not None and len(rows) > self.thin:
            chosen = np.sort(np.random.default_rng(self.seed).choice(len(rows), self.thin, replace=False))
            context.say(f"{context.where}: {self.thin:,} of {len(rows):,} rows drawn")
            return rows.take(chosen)
        return rows

    def scattered(self, rows: Columns, context: Context) -> Columns:
        """Points moved at random, where they are jittered."""
        if self.arrange == "offset":
            return self._offset(rows, context)
        if self.arrange != "jitter":
            return rows
        moved = {}
        both = not (context.discrete("x") or context.discrete("y"))
        for place, (axis, said) in enumerate((("x", self.spread_x), ("y", self.spread_y))):
            values = rows[axis].astype(float)
            usual = 0.3 if context.discrete(axis) else 0.01 * float(np.ptp(values)) if both and len(values) else 0.0
            moved[axis] = values + jitter(len(values), usual if said is None else said, self.seed + place)
        return rows.put(**moved)

    def _offset(self, rows: Columns, context: Context) -> Columns:
        """Groups moved aside by an even step, so that marks at one place stand next to each other."""
        if not len(rows):
            return rows
        axis = "x" if self.spread_y is None else "y"
        said = self.spread_x if axis == "x" else self.spread_y
        groups, rank = np.unique(rows.group, return_inverse=True)
        step = at_place(rows[axis], context, axis) * 0.6 / len(groups) if said is None else said
        return rows.put(**{axis: rows[axis] + (rank - (len(groups) - 1) / 2) * step})

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Markers]:
        """Markers; in a beeswarm beside each other."""
        yield from drawn_points(_swarmed(rows, panel) if self.arrange == "beeswarm" else rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
        """One opaque marker in the middle."""
        yield from point_key(box, looks)


def drawn_points(rows: Columns, panel: PanelView) -> Iterator[Markers]:
    """Markers in a seeded order, one batch for each opacity."""
    count = len(rows)
    if not count:
        return
    at, looks = places(rows), panel.looks
    if any(looks[name].which is not None for name in ("color", "shape", "size")):
        shuffled = np.random.default_rng(panel.seed).permutation(count)
        at = at[shuffled]
        looks = {name: look.take(shuffled) for name, look in looks.items()}
    parts, which = combined(looks, _STYLE, count)
    styles = tuple(_style(*part) for part in parts)
    for opacity, chosen in batches(looks["opacity"], count):
        yield Markers(at[chosen], styles, None if which is None else which[chosen], opacity)


def point_key(box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
    """One opaque marker: how points stand in a legend."""
    values = {name: looks[name].values[0] for name in _STYLE}
    values["size"] = max(values["size"], _LEAST_KEY)
    style = _style(*values.values())
    yield Markers(np.array([[box.x + box.width / 2, box.y + box.height / 2]]), (style,))


def _swarmed(rows: Columns, panel: PanelView) -> Columns:
    """Points of each category moved across until none overlap."""
    x = rows["x"].astype(float).copy()
    diameter = max(panel.looks["size"].values) * 1.05
    groups = grouped(x)
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        chosen = groups.order[start : start + size]
        x[chosen] += beeswarm(rows["y"][chosen], diameter)
    return rows.put(x=x)


# A color must be seen in the legend, however small the points are.
_LEAST_KEY = 2.6
_STYLE = ("shape", "size", "color", "outline", "line_width")
# Strokes of crosses and pluses, as a share of the radius, so that they weigh as much as a filled shape.
_STROKE = 0.55


def _style(shape: str, size: float, fill: str, outline: str | None, line_width: float) -> MarkerStyle:
    radius = size / 2
    if shape in ("cross", "plus"):
        return MarkerStyle(shape, radius, None, outline or fill, round(radius * _STROKE, 3))
    return MarkerStyle(shape, radius, fill, outline, line_width if outline else 0.0)
