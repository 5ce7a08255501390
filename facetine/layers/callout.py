"""Callouts: a text at a place, with an arrow to another."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.geometry.apart import moved_apart
from facetine.core.query import Source
from facetine.grammar.aesthetics import LookValue, Mapped, Placing
from facetine.grammar.given import Place
from facetine.grammar.lengths import shifts_option, shifts_points
from facetine.grammar.options import anything, choice, flag, ink, number, option, text
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.placing import Spot, free_spot, set_off
from facetine.layers.segments import arrows
from facetine.layers.summary import PLACE_X, PLACE_Y
from facetine.layers.values import VALUE_TEXT
from facetine.messages.errors import OptionError
from facetine.scene.marks import Mark, Stroke
from facetine.scene.region import Region
from facetine.scene.typeset import Block, set_text

_CLEAR = 4.0


@dataclass(frozen=True, kw_only=True)
class Callout(DrawnLayer):
    """A remark in the panel, with an arrow to what it is about; or at the highest, lowest, first or last row of each group."""

    verb: ClassVar[str] = "callout"
    chosen_says: ClassVar[str] = "Of no rows."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Beside other layers",
            4,
            {"x": "month", "y": "retail"},
            ["lines", {"callout": {"text": "{y:,.0f}", "at": "highest"}}],
            "sales",
        ),
    )
    missing_says: ClassVar[str] = "It shows no rows but those that `at=` names, which have both values."
    explains: ClassVar[bool] = True
    stands_level: ClassVar[bool] = True
    rows_unseen: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "group")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "line_width")
    drops_outside: ClassVar[bool] = True
    thing: ClassVar[str] = "callout"
    usual: ClassVar[Mapping[str, LookValue]] = {"color": "text", "line_width": 0.6}
    first: ClassVar[str | None] = "text"

    text: str | None = option(None, text, 'With at= a template, such as "{y:.1f}".')
    at: str | None = option(None, choice("highest", "lowest", "first", "last", name="places"))
    x: Place | None = option(None, anything)
    y: Place | None = option(None, anything)
    x_to: Place | None = option(None, anything)
    y_to: Place | None = option(None, anything)
    color: str | None = option(None, ink, "Of text and arrow; that of titles by default.")
    line_width: float | None = option(None, number(0.01, 100), "0.6 by default.")
    size: float | None = option(None, number(1, 300), "That of tick labels by default.")
    shift: tuple[str, str] | None = option(None, shifts_option)
    halo: bool | None = option(None, flag)

    @property
    def stands_alone(self) -> bool:  # type: ignore[override]
        """Whether its place is said."""
        if not self.text:
            raise OptionError("figure.callout", "it has no text", 'such as .callout("a gap", x=3, y=4)')
        if self.at is not None and any(given is not None for given in (self.x, self.y, self.x_to, self.y_to)):
            raise OptionError("figure.callout", "at= says the place, and x or y says another one", "leave one of them out")
        return self.at is None

    @property
    def text_template(self) -> str | None:
        """What is written at rows of the data."""
        return None if self.at is None else self.text

    def names(self) -> Mapping[str, Computed]:
        """The row's places."""
        return {"x": PLACE_X, "y": PLACE_Y} if self.at is not None else {}

    def all_names(self) -> Mapping[str, Computed]:
        """With at=."""
        return {"x": PLACE_X, "y": PLACE_Y}

    def shows(self, mapped: Mapped) -> tuple[str, ...]:  # noqa: ARG002
        """Rows only with at=."""
        return self.takes if self.at is not None else ()

    def lacks(self, mapped: Mapped) -> str | None:
        """With at=, both places."""
        return next((name for name in ("x", "y") if self.at is not None and mapped.get(name) is None), None)

    def compute(self, source: Source, context: Context) -> Columns:  # noqa: ARG002
        """The one row of each group, the first of several alike."""
        rows = source.rows()
        if self.at is None or not len(rows):
            return rows
        along = {"highest": -rows["y"], "lowest": rows["y"], "first": rows["x"], "last": -rows["x"]}[self.at]
        order = np.lexsort((rows.numbers, along, rows.group, rows.panel))
        fresh = np.r_[True, (np.diff(rows.panel[order]) != 0) | (np.diff(rows.group[order]) != 0)]
        return rows.take(order[fresh])

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
        if self.x is None or self.y is None:
            raise OptionError(
                "figure.callout",
                "it needs x and y, or at=",
                'such as .callout("a gap", x=3, y=4), or .callout("{y:.1f}", at="highest")',
            )
        if (self.x_to is None) != (self.y_to is None):
            raise OptionError("figure.callout", "an arrow needs both x_to and y_to")
        rows = {"x": [place("x", self.x)], "y": [place("y", self.y)]}
        if self.x_to is not None:
            rows |= {"x_to": [place("x", self.x_to)], "y_to": [place("y", self.y_to)]}
        return rows

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """The arrow from the nearest side of the text, then the text."""
        way = shifts_points(self.shift)
        if self.at is not None:
            yield from set_off(self._at_rows(rows, panel), panel, self.halo, way)
            return
        right, down = way
        shade, width = panel.looks["color"].of(0), panel.looks["line_width"].of(0)
        type_ = panel.type._replace(size=self.size or panel.type.size, color=shade)
        block = set_text(self.text or "", type_)
        half = np.array([block.width / 2, block.height / 2])
        for row in range(len(rows)):
            x, y = float(rows["x"][row]), float(rows["y"][row])
            box = panel.box
            x = min(max(x, box.x + half[0]), max(box.right - half[0], box.x + half[0])) + right
            y += down
            # Where it was said to stand it stands, unless another text is there.
            across, up = 2 * half[0] + _CLEAR, 2 * half[1] + _CLEAR
            ways = [(a, b) for b in (0, -1, 1) for a in (0, 1, -1)]
            spots = [Spot(x - half[0] + a * across, y - half[1] + b * up, 0.5) for a, b in (ways[:1] if self.shift else ways)]
            spot = free_spot(block, spots, panel._replace(around=_nowhere, lines=())) if block.lines else spots[0]
            x, y = spot.left + half[0], spot.top + half[1]
            if "x_to" in rows:
                tip = np.array([rows["x_to"][row], rows["y_to"][row]])
                start = np.array([x, y]) + np.clip(tip - (x, y), -half - 1.5, half + 1.5)
                if np.hypot(*(tip - start)) > 2:
                    end = tip - (tip - start) / np.hypot(*(tip - start)) * 2.0
                    yield from arrows(np.array([[*start, *end]]), Stroke(shade, width), 4.0, rows.numbers[[row]])
            yield from set_off(spot.placed(block, "callout", int(rows.numbers[row])), panel, self.halo, (0.0, 0.0))

    def _at_rows(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Texts beside the rows that they are about, within the panel, below each other where they would meet."""
        box, standing = panel.box, list[tuple[float, float, Block]]()
        for row in range(len(rows)):
            type_ = panel.type._replace(size=self.size or panel.type.size, color=panel.looks["color"].of(row))
            block = set_text(str(rows.values[VALUE_TEXT][row]), type_)
            x, y = float(rows["x"][row]), float(rows["y"][row])
            left, top = x - block.width / 2, y - block.height / 2
            if self.at in ("highest", "lowest"):
                over = (self.at == "highest") == (panel.up < 0)
                top = y - block.height - _CLEAR if over else y + _CLEAR
            else:
                left = x + _CLEAR if self.at == "last" else x - block.width - _CLEAR
            left = min(max(left, box.x), max(box.right - block.width, box.x))
            if self.at in ("first", "last") and left <= x <= left + block.width:
                top = y - block.height - _CLEAR
            standing.append((left, min(max(top, box.y - 0.7 * block.height), box.bottom - block.height), block))
        for row, (left, top, block) in enumerate(_apart(standing, box)):
            x, y = float(rows["x"][row]), float(rows["y"][row])
            middle, level = x - block.width / 2, y - block.height / 2
            beside = [
                (middle, y - block.height - _CLEAR), (x + _CLEAR, level), (x - block.width - _CLEAR, level), (middle, y + _CLEAR),
                (x + _CLEAR, y - block.height - _CLEAR), (x - block.width - _CLEAR, y - block.height - _CLEAR),
                (x + _CLEAR, y + _CLEAR), (x - block.width - _CLEAR, y + _CLEAR),
            ]  # fmt: skip
            spots = [Spot(left, top), *(Spot(*place) for place in beside)]
            # Of several texts each keeps the place at which it stands off the others, if nothing else is there.
            yield from free_spot(block, spots, panel).placed(block, "callout", int(rows.numbers[row]))

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:  # noqa: ARG002
        """Nothing: a text explains itself."""
        yield from ()


def _nowhere() -> FloatArray:
    """No marks: a text that was put among them stays there."""
    return np.zeros((0, 2))


def _apart(standing: list[tuple[float, float, Block]], box: Region) -> list[tuple[float, float, Block]]:
    """Texts moved up and down until none of those that share a stretch of x meet."""
    if len(standing) < 2:
        return standing
    left, top = (np.array([one[place] for one in standing]) for place in (0, 1))
    right = left + [block.width for _, _, block in standing]
    height = max(block.height for _, _, block in standing)
    order = np.argsort(left, kind="stable")
    ends = np.maximum.accumulate(right[order])
    heaps = np.split(order, np.flatnonzero(left[order][1:] > ends[:-1]) + 1)
    for heap in heaps:
        low, high = min(top[heap].min(), box.y), max(top[heap].max(), box.bottom - height)
        if len(heap) > 1 and (np.diff(np.sort(top[heap])) < height + 0.5).any():
            top[heap] = moved_apart(top[heap], height + 0.5, float(low), float(high))
    return [(x, float(y), block) for (x, _, block), y in zip(standing, top, strict=True)]
