"""Rugs: a short line at the edge of the panel for each row."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.options import ink, number, option
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed
from facetine.layers.example import Example
from facetine.layers.lines import line_key
from facetine.layers.look import Look, batches, combined
from facetine.layers.summary import PLACE_X, PLACE_Y
from facetine.scene.marks import Paths, Stroke, segments
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Rug(DrawnLayer):
    """Ticks at the edges of the panel: one for each x at the bottom, one for each y at the left."""

    verb: ClassVar[str] = "rug"
    chosen_says: ClassVar[str] = "Follows: the ticks of the chosen rows."
    rows_alone: ClassVar[bool] = True
    examples: ClassVar[tuple[Example, ...]] = (Example("One number", 5, {"x": "mass_kg"}, ["density", "rug"]),)
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "line_width", "group")
    required: ClassVar[tuple[str, ...]] = ()
    drops_outside: ClassVar[bool] = True
    at_edges: ClassVar[bool] = True
    line_marks: ClassVar[bool] = True
    computed: ClassVar[Mapping[str, Computed]] = {"x": PLACE_X, "y": PLACE_Y}
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "line_width")
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.4, "opacity": 0.6}

    color: str | None = option(None, ink)
    opacity: float | None = option(None, number(0, 1), "0.6 by default.")
    line_width: float | None = option(None, number(0.01, 100), "0.4 by default.")
    length: float = option(4.0, number(0.1, 1000))

    def lacks(self, mapped: Mapped) -> str | None:
        """One of x and y at least."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """One batch of lines for each color."""
        box = panel.box
        near, far = (box.bottom, box.bottom - self.length) if panel.up < 0 else (box.y, box.y + self.length)
        if not len(rows):
            return
        looks, which = combined(panel.looks, ("color", "line_width", "opacity"), len(rows))
        for (shade, width, opacity), chosen in batches(Look(tuple(looks), which), len(rows)):
            part = rows.take(np.arange(len(rows))[chosen])
            stroke = Stroke(shade, width, (), opacity)
            if "x" in part:
                ends = np.column_stack([part["x"], np.full(len(part), near), part["x"], np.full(len(part), far)])
                yield segments(ends, stroke, part.numbers)
            if "y" in part:
                left = np.full(len(part), box.x)
                yield segments(np.column_stack([left, part["y"], left + self.length, part["y"]]), stroke, part.numbers)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line."""
        yield from line_key(box, looks)
