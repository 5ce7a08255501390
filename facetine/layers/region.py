"""Regions: a rectangle or an ellipse in the units of the data."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.grammar.aesthetics import LookValue, Placing
from facetine.grammar.given import Ends
from facetine.grammar.options import choice, number, option, pair
from facetine.layers.bars import square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.marking import Filled
from facetine.layers.placing import Spot, free_spot, set_off
from facetine.layers.values import VALUE_TEXT, template
from facetine.messages.errors import OptionError
from facetine.scene.marks import Mark, Paths, Rects, Stroke
from facetine.scene.region import Region
from facetine.scene.typeset import Block, set_text


@dataclass(frozen=True, kw_only=True)
class MarkedRegion(Filled, DrawnLayer):
    """A part of the panel set off by a tint: between two x, two y, or both."""

    verb: ClassVar[str] = "region"
    chosen_says: ClassVar[str] = "Of no rows."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Beside other layers", 3, {"x": "age_days", "y": "ph"}, ["points", {"region": {"x": [300, 400], "text": "late"}}]
        ),
    )
    missing_says: ClassVar[str] = "It shows no rows."
    explains: ClassVar[bool] = True
    stands_level: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ()
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    stands_alone: ClassVar[bool] = True
    filled_marks: ClassVar[bool] = False
    thing: ClassVar[str] = "region"
    computed: ClassVar[Mapping[str, Computed]] = {
        "x_low": Computed("x", column="x_low"), "x_high": Computed("x", column="x_high"),
        "y_low": Computed("y", column="y_low"), "y_high": Computed("y", column="y_high"),
    }  # fmt: skip
    usual: ClassVar[Mapping[str, LookValue]] = {"color": "#8b929b", "opacity": 0.18}

    x: Ends | None = option(None, pair)
    y: Ends | None = option(None, pair)
    shape: str = option("rectangle", choice("rectangle", "ellipse", name="shapes"))
    text: str | None = option(None, template, 'Inside, at the top left, such as "{x_low} to {x_high}".')
    opacity: float | None = option(None, number(0, 1), "0.18 by default.")

    @property
    def text_template(self) -> str | None:
        """Its text."""
        return self.text

    def names(self) -> Mapping[str, Computed]:
        """The ends that are said."""
        return {name: says for name, says in self.computed.items() if getattr(self, name[0]) is not None}

    def all_names(self) -> Mapping[str, Computed]:
        """All four ends."""
        return self.computed

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def constant(self, aesthetic: str) -> LookValue:
        """Its own places and shape are no constants of an aesthetic."""
        return None if aesthetic in ("x", "y", "shape") else super().constant(aesthetic)

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """One row with its four ends."""
        if self.x is None and self.y is None:
            raise OptionError("figure.region", "neither x nor y is given", "such as x=(10, 20)")
        ends = {}
        for axis, given in (("x", self.x), ("y", self.y)):
            for name, value in zip((f"{axis}_low", f"{axis}_high"), given or (None, None), strict=True):
                ends[name] = [np.nan if value is None else place(axis, value)]
        return ends

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """The shape with its label; an end that is not said is the edge of the panel."""
        box = panel.box
        looks = {name: look.of(0) for name, look in panel.looks.items()}
        for row in range(len(rows)):
            x = [float(rows[name][row]) for name in ("x_low", "x_high")]
            y = [float(rows[name][row]) for name in ("y_low", "y_high")]
            left, right = sorted(edge if np.isnan(value) else value for value, edge in zip(x, (box.x, box.right), strict=True))
            top, bottom = sorted(edge if np.isnan(value) else value for value, edge in zip(y, (box.bottom, box.y), strict=True))
            stroke = Stroke(looks["outline"], looks["line_width"]) if looks["outline"] else None
            if self.shape == "rectangle":
                ring = np.array([[left, top], [right, top], [right, bottom], [left, bottom]])
            else:
                turn = np.linspace(0, 2 * np.pi, 72, endpoint=False)
                ring = np.column_stack(
                    [
                        (left + right) / 2 + (right - left) / 2 * np.cos(turn),
                        (top + bottom) / 2 + (bottom - top) / 2 * np.sin(turn),
                    ]
                )
            yield Paths(
                ring,
                np.zeros(1, np.int64),
                stroke,
                looks["color"],
                looks["opacity"],
                closed=True,
                rows=rows.numbers[[row]].repeat(len(ring)),
            )
            if self.text:
                block = set_text(str(rows.values[VALUE_TEXT][row]), panel.type)
                shown = Region(left, top, right - left, bottom - top).within(box)
                spot = free_spot(block, self._spots(block, shown), panel)
                yield from set_off(spot.placed(block, "region", int(rows.numbers[row])), panel, None, (0.0, 0.0))

    def _spots(self, block: Block, shown: Region) -> list[Spot]:
        """Inside at the corners, edges and in the middle; of an ellipse along its axes, then over and under it."""
        lefts = (shown.x + 3, shown.x + (shown.width - block.width) / 2, shown.right - 3 - block.width)
        tops = (shown.y + 3, shown.y + (shown.height - block.height) / 2, shown.bottom - 3 - block.height)
        if self.shape == "rectangle":
            along = ((lefts[0], 0.0), (lefts[2], 1.0), (lefts[1], 0.5))
            return [Spot(left, top, anchor) for top in (tops[0], tops[2], tops[1]) for left, anchor in along]
        beside = (shown.y - 3 - block.height, shown.bottom + 3)
        return [Spot(lefts[1], top, 0.5) for top in (tops[0], tops[2], tops[1], *beside)]

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)
