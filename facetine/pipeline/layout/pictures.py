"""Pictures as parts of a plate."""

from __future__ import annotations

from typing import NamedTuple, Self

import numpy as np

from facetine.grammar.picture import Picture
from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import Words
from facetine.pipeline.layout.part import Placement
from facetine.pipeline.layout.request import styles_of
from facetine.scene.marks import Bitmap, Rects
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import set_text

_LEAST = 30.0
"""Of a picture's side, in points."""
_BAR = 2.2
"""How thick a scale bar is, in points."""
_DARK, _LIGHT = "#000000", "#ffffff"


class PicturePart(NamedTuple):
    """A picture: its edges align with those of panels."""

    picture: Picture
    theme: Theme
    width: float = 0.0

    @property
    def _title(self) -> Words:
        return Words(self.picture.title, styles_of(self.theme).title, "title", "Title", "title")

    @property
    def left(self) -> float:
        """None."""
        return 0.0

    @property
    def aside(self) -> float:
        """Nothing: it has no legends."""
        return 0.0

    @property
    def right(self) -> float:
        """None."""
        return 0.0

    @property
    def least_width(self) -> float:
        """A few letters."""
        return _LEAST

    @property
    def fixed_width(self) -> bool:
        """Never."""
        return False

    @property
    def above(self) -> float:
        """Its title."""
        return self._title.measure("y", self.width).natural + 2 * self.theme.gap if self.picture.title else 0.0

    @property
    def below(self) -> float:
        """None."""
        return 0.0

    @property
    def fixed_height(self) -> bool:
        """Never."""
        return False

    def least_height(self, natural: bool) -> float:
        """That of the picture at its width, where it may have that."""
        return max(_LEAST, self.width * self.picture.height / self.picture.width) if natural else _LEAST

    def planned(self, room: float) -> Self:  # noqa: ARG002
        """As it is."""
        return self

    def across(self, inner: float) -> Self:
        """At a width."""
        return self._replace(width=inner)

    def narrowed(self, height: float) -> Self:  # noqa: ARG002
        """As it is."""
        return self

    def down(self, inner: float, natural: bool) -> Self:  # noqa: ARG002
        """As it is: it fits into any height."""
        return self

    def settled(self, growing: bool) -> Self:  # noqa: ARG002
        """As it is."""
        return self

    def place(self, inner: Region, outer: Region) -> Placement:
        """The picture in its place, under its title."""
        title = self._title.place(Region(inner.x, outer.y, inner.width, inner.y - outer.y))
        return Placement((), (title, PlacedPicture(self.picture, self.theme, inner)))


class PlacedPicture(NamedTuple):
    """A picture at its place."""

    picture: Picture
    theme: Theme
    region: Region

    @property
    def shown(self) -> Region:
        """Where it is drawn: whole inside its place, from the upper left corner; or filling it, cut at both ends."""
        box, (width, height) = self.region, self.picture.size
        across, down = box.width / width, box.height / height
        scale = max(across, down) if self.picture.fit == "fill" else min(across, down)
        if self.picture.fit == "fill":
            left, top = box.x + (box.width - scale * width) / 2, box.y + (box.height - scale * height) / 2
            return Region(left, top, scale * width, scale * height)
        return Region(box.x, box.y, scale * width, scale * height)

    def draw(self, into: Sketch) -> None:
        """Adds the picture and its scale bar."""
        box = self.shown
        clip = self.region if self.picture.fit == "fill" else None
        group = into.group("picture", self.picture.alt or self.picture.title or "Picture", clip, kind="part")
        group.add([Bitmap(box, self.picture.content, self.picture.sort, *self.picture.size)])
        pixels, words = self.picture.bar
        if pixels:
            self._bar(box, pixels, words, into)

    def _bar(self, box: Region, pixels: float, words: str, into: Sketch) -> None:
        """A bar at the lower right of what is seen, in the ink that stands out there."""
        seen = box if self.picture.fit == "inside" else self.region
        length, gap = pixels * box.width / self.picture.width, 2.0 * self.theme.gap
        ink = _LIGHT if self.picture.dark else _DARK
        group = into.group("scale-bar", f"Scale bar: {words}", kind="part")
        right, bottom = seen.right - gap, seen.bottom - gap
        group.add([Rects(np.array([[right - length, bottom - _BAR, length, _BAR]]), (ink,))])
        block = set_text(words, styles_of(self.theme).tick._replace(color=ink, weight=600))
        middle = min(right - length / 2, right - block.width / 2)
        group.add(block.placed(middle, bottom - _BAR - self.theme.gap - block.height + block.type.descent, 0.5, role="value"))
