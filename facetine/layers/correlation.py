"""Correlations: one coefficient a panel, as text and as shade."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.color.palettes import DIVERGING
from facetine.core.color.spaces import blend
from facetine.core.columns import Columns
from facetine.core.query import Source
from facetine.core.stats.correlation import METHODS, Correlation
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, flag, number, option
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.summary import COUNT, need_numbers
from facetine.layers.values import VALUE_TEXT, readable, template
from facetine.scene.marks import Mark, Rects
from facetine.scene.region import Region
from facetine.scene.typeset import Block, set_text

_SHADES = 101
_LEAST_TYPE = 5.0
"""Below it a text is not written."""
_FILLED = 0.92
"""The share of the panel's width that a text takes at most."""


@dataclass(frozen=True, kw_only=True)
class CorrelationLayer(DrawnLayer):
    """The correlation of x and y over all rows of a panel, with its interval, written over a shade of its strength."""

    verb: ClassVar[str] = "correlation"
    chosen_says: ClassVar[str] = "Of all rows: its interval is made of every row anew."
    examples: ClassVar[tuple[Example, ...]] = (
        Example("Two numbers", 5, {"x": "moisture_pct", "y": "firmness_n"}, ["correlation"]),
    )
    undivided: ClassVar[bool] = True
    fills_panel: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    keeps_groups: ClassVar[bool] = False
    looks: ClassVar[tuple[str, ...]] = ()
    thing: ClassVar[str] = "correlation"
    compares_spaces: ClassVar[bool] = True
    because: ClassVar[str] = 'it tells how straight the cloud is that a reader sees; `space="data"` takes the data'
    computed: ClassVar[Mapping[str, Computed]] = {
        "r": Computed(),
        "low": Computed(),
        "high": Computed(),
        "count": COUNT,
    }
    first: ClassVar[str | None] = "method"

    method: str = option("pearson", choice(*METHODS, name="methods"))
    level: float = option(0.95, number(0.01, 0.999))
    text: str = option("{r:.2f}\n{low:.2f} to {high:.2f}", template)
    shade: bool = option(True, flag)
    space: str | None = option(None, choice("data", "axis", name="spaces"), "From places by default.")

    @property
    def works_in(self) -> str:  # type: ignore[override]
        """Places on the axes where nothing is said."""
        return self.space or "axis"

    @property
    def text_template(self) -> str | None:
        """Its text."""
        return self.text

    def names(self) -> Mapping[str, Computed]:
        """All that it computes."""
        return self.computed

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def compute(self, source: Source, context: Context) -> Columns:
        """A row for each panel in which there is a correlation, with the ranges of x and y."""
        need_numbers(context, "x", "y")
        rows = source.rows()
        found: list[Correlation] = []
        panels, ends = [], []
        for panel in np.unique(rows.panel).tolist():
            own = rows.take(rows.panel == panel)
            result = METHODS[self.method](own["x"], own["y"], self.level)
            if np.isnan(result.r):
                context.say("no-correlation", f"no correlation of {result.size} rows without spread", part=own)
                continue
            found.append(result)
            panels.append(panel)
            ends.append([own["x"].min(), own["x"].max(), own["y"].min(), own["y"].max()])
        sides = np.array(ends, float).reshape(len(found), 4)
        table = {name: np.array([getattr(one, name) for one in found], float) for name in ("r", "low", "high")}
        table["count"] = np.array([one.size for one in found], float)
        table |= {name: sides[:, place] for place, name in enumerate(("x_low", "x_high", "y_low", "y_high"))}
        return Columns(table, np.array(panels, np.int64), np.zeros(len(found), np.int64))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """A shaded panel with the text in its middle, smaller where it would not fit."""
        box, about = panel.box, rows.numbers
        for row in range(len(rows)):
            fill = _shade(float(rows["r"][row]), panel.ground) if self.shade else panel.ground
            if self.shade:
                sides = np.array([[box.x, box.y, box.width, box.height]])
                yield Rects(sides, (fill,), rows=about[[row]])
            text = str(rows.values[VALUE_TEXT][row])
            block = _fitting(text, panel, box, readable(fill))
            if block is None:
                panel.say(
                    "labels-left-out", "a correlation left out, for which there is no space", "a wider figure, or a shorter text="
                )
                continue
            height = block.type.cap + (len(block.lines) - 1) * block.type.leading
            middle = box.x + box.width / 2, box.y + box.height / 2
            yield from block.placed(middle[0], middle[1] - height / 2, 0.5, role="value", row=int(about[row]))

    def described(self, rows: Columns, context: Context) -> list[str]:
        """The coefficients."""
        titles = [context.titles[name].label for name in ("x", "y") if name in context.titles]
        if len(rows) != 1 or len(titles) < 2:
            return []
        r = float(rows["r"][0])
        return [f"The {self.method.capitalize()} correlation of {titles[0]} and {titles[1]} is {r:.2f}."]

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:  # noqa: ARG002
        """Nothing: no look follows data."""
        yield from ()


def _shade(r: float, ground: str) -> str:
    """The color of a coefficient: the ground for none, an end of a diverging ramp for a full one."""
    ramp = next(iter(DIVERGING.values()))
    end = ramp[0] if r < 0 else ramp[-1]
    return blend((ground, end), _SHADES)[round(0.85 * abs(r) * (_SHADES - 1))]


def _fitting(text: str, panel: PanelView, box: Region, color: str) -> Block | None:
    """A text as large as usual, or as the panel allows; its first line alone where the others have no room."""
    style = panel.type._replace(color=color)
    for words in dict.fromkeys((text, text.replace(" to ", "\nto "), text.split("\n")[0])):
        block = set_text(words, style)
        if not block.lines:
            return None
        share = min(1.0, _FILLED * box.width / block.width, _FILLED * box.height / block.height)
        if share * style.size >= _LEAST_TYPE:
            return block if share == 1.0 else set_text(words, style._replace(size=share * style.size))
    return None
