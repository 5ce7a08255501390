"""Stalks: a line from zero with a dot at its end."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.core.query import Source
from facetine.grammar.options import ink, number, option
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context
from facetine.layers.look import Look, batches
from facetine.scene.marks import Mark, Markers, MarkerStyle, Stroke, segments
from facetine.scene.region import Region


@dataclass(frozen=True, kw_only=True)
class Stalks(DrawnLayer):
    """A line from zero to each value, with a dot at its end."""

    verb: ClassVar[str] = "stalks"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "group")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    from_zero: ClassVar[bool] = True
    stands: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True
    drops_outside: ClassVar[bool] = True
    thing: ClassVar[str] = "stalk"
    computed: ClassVar[Mapping[str, Computed]] = {"y": Computed("y")}
    looks: ClassVar[tuple[str, ...]] = ("color",)

    color: str | None = option(None, ink, "Ink of line and dot.")
    dot: float = option(5.0, number(0.5, 50), "The width of the dot in points.")

    def compute(self, source: Source, context: Context) -> Columns:  # noqa: ARG002
        """The rows, with the zero that they stand on."""
        rows = source.rows()
        return rows.put(y_low=np.zeros(len(rows)))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """A batch of lines and a batch of dots for each ink."""
        for shade, chosen in batches(panel.looks["color"], len(rows)):
            x, top, foot = (rows[name][chosen] for name in ("x", "y", "y_low"))
            which = np.arange(len(rows))[chosen]
            yield segments(np.column_stack([x, foot, x, top]), Stroke(shade, 0.8), rows=which)
            yield Markers(np.column_stack([x, top]), (MarkerStyle("disc", self.dot / 2, shade),), rows=which)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:
        """A dot on a short line."""
        shade, middle = looks["color"].values[0], box.x + box.width / 2
        yield segments(np.array([[middle, box.bottom, middle, box.y]]), Stroke(shade, 0.8))
        yield Markers(np.array([[middle, box.y]]), (MarkerStyle("disc", self.dot / 2, shade),))
