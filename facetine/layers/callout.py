"""Callouts: a text at a place, with an arrow to another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.columns import Columns
from facetine.errors import OptionError
from facetine.grammar.aesthetics import LookValue, Placing
from facetine.grammar.given import Place
from facetine.grammar.options import anything, ink, number, option, text
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Context, Drawn
from facetine.layers.look import Look
from facetine.layers.segments import arrows
from facetine.scene.marks import Mark, Stroke
from facetine.scene.region import Region
from facetine.scene.typeset import set_text


@dataclass(frozen=True, kw_only=True)
class Callout(DrawnLayer):
    """A remark in the panel, with an arrow to what it is about."""

    verb: ClassVar[str] = "callout"
    explains: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ()
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "line_width")
    stands_alone: ClassVar[bool] = True
    drops_outside: ClassVar[bool] = True
    thing: ClassVar[str] = "callout"
    usual: ClassVar[Mapping[str, LookValue]] = {"color": "text", "line_width": 0.6}
    first: ClassVar[str | None] = "text"

    text: str | None = option(None, text, "What is written, in inline markup.")
    x: Place | None = option(None, anything, "Where it stands: a number, a date or a category.")
    y: Place | None = option(None, anything, "Likewise.")
    x_to: Place | None = option(None, anything, "Where the arrow points; none where it is not given.")
    y_to: Place | None = option(None, anything, "Likewise.")
    color: str | None = option(None, ink, "Ink of text and arrow; that of titles by default.")
    line_width: float | None = option(None, number(0.01, 100), "Width of the arrow in points; 0.6 by default.")
    size: float | None = option(None, number(1, 300), "Size of the text in points; that of tick labels by default.")

    def value_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def place_drawn(self, context: Context) -> Drawn | None:  # noqa: ARG002
        """Nothing that a title tells."""
        return None

    def constant(self, aesthetic: str) -> LookValue:
        """Its own places are no constants of an aesthetic."""
        return super().constant(aesthetic) if aesthetic in self.looks else None

    def own_rows(self, place: Placing) -> Mapping[str, Sequence[float]]:
        """One row with the place of the text and that of the arrow's tip."""
        if not self.text or self.x is None or self.y is None:
            raise OptionError("figure.callout: it needs a text, x and y", 'such as .callout("a gap", x=3, y=4)')
        if (self.x_to is None) != (self.y_to is None):
            raise OptionError("figure.callout: an arrow needs both x_to and y_to")
        rows = {"x": [place("x", self.x)], "y": [place("y", self.y)]}
        if self.x_to is not None:
            rows |= {"x_to": [place("x", self.x_to)], "y_to": [place("y", self.y_to)]}
        return rows

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """The arrow from the nearest side of the text, then the text."""
        shade, width = panel.looks["color"].of(0), panel.looks["line_width"].of(0)
        type_ = panel.type._replace(size=self.size or panel.type.size, color=shade)
        block = set_text(self.text or "", type_)
        half = np.array([block.width / 2, block.height / 2])
        for row in range(len(rows)):
            x, y = float(rows["x"][row]), float(rows["y"][row])
            box = panel.box
            x = min(max(x, box.x + half[0]), max(box.right - half[0], box.x + half[0]))
            if "x_to" in rows:
                tip = np.array([rows["x_to"][row], rows["y_to"][row]])
                start = np.array([x, y]) + np.clip(tip - (x, y), -half - 1.5, half + 1.5)
                if np.hypot(*(tip - start)) > 2:
                    end = tip - (tip - start) / np.hypot(*(tip - start)) * 2.0
                    yield from arrows(np.array([[*start, *end]]), Stroke(shade, width), 4.0, rows.numbers[[row]])
            yield from block.placed(x, y - half[1], 0.5, role="callout", row=int(rows.numbers[row]))

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:  # noqa: ARG002
        """Nothing: a text explains itself."""
        yield from ()
