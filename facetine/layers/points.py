"""Points: a marker for each row, or for each summary of rows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.stats.groups import AGGREGATES
from facetine.grammar.options import choice, ink, number, option
from facetine.grammar.scale import SHAPES
from facetine.layers.base import Context, DrawnLayer, Look, PanelView, batches, combined, places
from facetine.layers.summary import summarised
from facetine.scene.marks import Markers, MarkerStyle, Region


@dataclass(frozen=True, kw_only=True)
class Points(DrawnLayer):
    """A marker for each row: scatter, bubbles, strips of dots. Groups are drawn interleaved, so none hides another."""

    verb: ClassVar[str] = "points"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "size", "shape", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "size", "shape", "line_width")

    color: str | None = option(None, ink, "The inside of the points.")
    outline: str | None = option(None, ink, "Their border; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much a point covers what lies below it; 1 by default.")
    size: float | None = option(
        None, number(0.01, 1000), "Their diameter in points; the theme's `point_size` by default."
    )
    shape: str | None = option(None, choice(*SHAPES, name="shapes"), "Their outline; a disc by default.")
    line_width: float | None = option(None, number(0, 100), "Width of their border in points.")
    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"), "What is drawn of the rows at one x.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The rows, or one for each x of each group."""
        return rows if self.aggregate == "none" else summarised(rows, self.aggregate, context)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Markers]:
        """Markers in a seeded order, one batch for each opacity."""
        count = len(rows)
        if not count:
            return
        at = places(rows)
        looks = panel.looks
        if any(looks[name].which is not None for name in ("color", "shape", "size")):
            shuffled = np.random.default_rng(panel.seed).permutation(count)
            at = at[shuffled]
            looks = {name: look.take(shuffled) for name, look in looks.items()}
        parts, which = combined(looks, _STYLE, count)
        styles = tuple(_style(*part) for part in parts)
        for opacity, chosen in batches(looks["opacity"], count):
            yield Markers(at[chosen], styles, None if which is None else which[chosen], opacity)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
        """One opaque marker in the middle."""
        style = _style(*(looks[name].values[0] for name in _STYLE))
        opacity = 1.0 if len(looks["opacity"].values) == 1 else looks["opacity"].values[0]
        yield Markers(np.array([[box.x + box.width / 2, box.y + box.height / 2]]), (style,), None, opacity)


_STYLE = ("shape", "size", "color", "outline", "line_width")
# Strokes of crosses and pluses, as a share of the radius, so that they weigh as much as a filled shape.
_STROKE = 0.55


def _style(shape: str, size: float, fill: str, outline: str | None, line_width: float) -> MarkerStyle:
    radius = size / 2
    if shape in ("cross", "plus"):
        return MarkerStyle(shape, radius, None, outline or fill, round(radius * _STROKE, 3))
    return MarkerStyle(shape, radius, fill, outline, line_width if outline else 0.0)
