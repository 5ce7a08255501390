"""What stands in the panels of a figure without a layer: its axes, and how many rows there are."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.grammar.aesthetics import Mapped
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.look import Look
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark
from facetine.scene.region import Region
from facetine.scene.typeset import set_text


@dataclass(frozen=True, kw_only=True)
class Blank(DrawnLayer):
    """No marks: the ranges of what is mapped to x and y, and the number of rows in words."""

    verb: ClassVar[str] = "blank"
    takes: ClassVar[tuple[str, ...]] = ("x", "y")
    required: ClassVar[tuple[str, ...]] = ()
    rows_unseen: ClassVar[bool] = True

    def lacks(self, mapped: Mapped) -> str | None:
        """One of x and y at least."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """The number of rows, in the middle of the panel."""
        block = set_text(f"{so_many_rows(len(rows))}, no layer yet", panel.type, round(panel.box.width, 2))
        middle = np.array([panel.box.x + panel.box.width / 2, panel.box.y + panel.box.height / 2])
        yield from block.placed(float(middle[0]), float(middle[1]) - block.height / 2, 0.5, role="value")

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:  # noqa: ARG002
        """Nothing."""
        yield from ()
