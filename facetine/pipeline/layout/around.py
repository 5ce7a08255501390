"""What stands around a part of a plate: its letter; and around a whole plate: its title, shared legends and note."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Self

from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import PlacedWords, Words
from facetine.pipeline.guides.legend_box import LegendPlan, plan_legends
from facetine.pipeline.guides.legend_entries import Legend
from facetine.pipeline.layout.grid_part import joined
from facetine.pipeline.layout.part import Placement, Wrapping
from facetine.pipeline.layout.request import styles_of
from facetine.scene.region import Region


@dataclass(frozen=True, slots=True)
class Lettered(Wrapping):
    """A part with a letter at its upper left corner, or over its first panel."""

    letter: Words
    gap: float
    over: bool
    """Whether the letter stands on a line of its own at the left edge of the panels, and not beside them."""

    @property
    def _width(self) -> float:
        return self.letter.block(1000.0).width

    @property
    def _height(self) -> float:
        return self.letter.measure("y", 1000.0).natural

    @property
    def left(self) -> float:
        """Room for the letter beside the panels."""
        own = self._width + self.gap
        return self.part.left if self.over else max(self.part.left + (own if self.part.aside else 0.0), own)

    @property
    def above(self) -> float:
        """Room for the letter over the panels."""
        return self.part.above + self._height + self.gap if self.over else max(self.part.above, self._height + self.gap)

    def place(self, inner: Region, outer: Region) -> Placement:
        """The letter at the corner, then the part."""
        left = inner.x if self.over else outer.x
        letter = self.letter.place(Region(left, outer.y, self._width + 1.0, self._height))
        under = self._height + self.gap if self.over else 0.0
        rest = Region(outer.x, outer.y + under, outer.width, outer.height - under)
        return joined([Placement((), (letter,)), self.part.place(inner, rest)])


@dataclass(frozen=True, slots=True)
class Framed(Wrapping):
    """A plate with what it says of all its figures."""

    theme: Theme
    title: Words
    subtitle: Words
    note: Words
    legends: tuple[Legend, ...]
    plan: LegendPlan
    width: float = 100.0
    """From the left edge of the panels to the right end."""

    @property
    def right(self) -> float:
        """That of the part, and the legends beside it."""
        return self.part.right + (self.plan.beside if self.plan.side == "right" else 0.0)

    @property
    def left(self) -> float:
        """That of the part, and the legends beside it."""
        return self.part.left + (self.plan.beside if self.plan.side == "left" else 0.0)

    @property
    def aside(self) -> float:
        """That of the part, and of its own legends."""
        return self.part.aside + (self.plan.beside if self.plan.side == "left" else 0.0)

    def _heights(self) -> tuple[float, float, float, float]:
        """Of title, subtitle, legends and note, each with the room behind, or before, it."""
        gap, block = self.theme.gap, self.theme.block_gap
        title, subtitle, note = (words.measure("y", self.width).natural for words in (self.title, self.subtitle, self.note))
        last = block - gap if title or subtitle else 0.0
        return (
            title + 1.2 * gap + (0.0 if subtitle else last) if title else 0.0,
            subtitle + gap + last if subtitle else 0.0,
            self.plan.over,
            note + block if note else 0.0,
        )

    @property
    def above(self) -> float:
        """That of the part, under title, subtitle and legends."""
        return sum(self._heights()[:3]) + self.part.above

    @property
    def below(self) -> float:
        """That of the part, over legends and the note."""
        return self.part.below + self.plan.under + self._heights()[3]

    def least_height(self, natural: bool) -> float:
        """That of the part; or what legends beside it need."""
        least = self.part.least_height(natural)
        return max(least, self.plan.height - self.part.above - self.part.below) if self.plan.beside else least

    def planned(self, room: float) -> Self:
        """Its legends, then the part beside them."""
        styles = styles_of(self.theme)
        plan = plan_legends(self.legends, self.theme, styles.text, styles.tick, room, 0.7 * room)
        framed = replace(self, plan=plan, width=room)
        return replace(framed, part=self.part.planned(room - plan.beside))

    def place(self, inner: Region, outer: Region) -> Placement:
        """Titles and legends from the top, the note under everything, the part between."""
        title, subtitle, legend, note = self._heights()
        left, top = inner.x, outer.y

        def words(what: Words, upper: float) -> PlacedWords:
            return what.place(Region(left, upper, self.width, what.measure("y", self.width).natural))

        boxes = [words(self.title, top), words(self.subtitle, top + title)]
        own = self.note.measure("y", self.width).natural
        boxes.append(words(self.note, outer.bottom - own))
        plan, used = self.plan, title + subtitle + legend
        start = {"right": outer.right - plan.width, "left": outer.x}.get(plan.side, left)
        upper = top + title + subtitle + (self.part.above if plan.beside else 0.0)
        if plan.side == "bottom":
            upper = outer.bottom - note - plan.height
        legends = plan.place(Region(start, upper, plan.width, plan.height))
        moved = plan.beside if plan.side == "left" else 0.0
        rest = Region(outer.x + moved, outer.y + used, outer.width - plan.beside, outer.height - used - note - plan.under)
        return joined([Placement((), (*boxes, legends)), self.part.place(inner, rest)])
