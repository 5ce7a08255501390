"""Texts in a panel: searched a place where they cover nothing, moved by hand, set off from what lies below them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.layers.base import PanelView
from facetine.scene.halo import Halo
from facetine.scene.marks import Mark, Text
from facetine.scene.markup import plain
from facetine.scene.region import Region
from facetine.scene.typeset import Block

HALO_SAYS = "Whether a halo in the color of the ground sets its text off; where that lies on marks, if it is not said."
"""What the option `halo` of a layer is."""
MOVED_SAYS = 'How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").'
"""What the option `shift` of a layer with texts is."""
_REACH = 1.1
_OFF = 0.5
"""A text may reach so many points beyond the panel."""
_DENSE = 2
"""On so many marks, or bits of lines, a text needs to be set off."""


class Spot(NamedTuple):
    """A place that a text may have: its upper left corner, in points."""

    left: float
    top: float
    anchor: float = 0.0
    """What of the text stays in place where another font sets it wider: 0 its start, 0.5 its middle, 1 its end."""

    def placed(self, block: Block, role: str, row: int) -> Iterator[Text]:
        """A text there."""
        return block.placed(self.left + self.anchor * block.width, self.top, self.anchor, role=role, row=row)


def free_spot(block: Block, spots: Sequence[Spot], panel: PanelView) -> Spot:
    """The first of some places at which a text covers neither another text nor a mark; else the one where it covers least.

    The place is taken then, so that the next text keeps off it. Where each of them lies over another text or leaves the
    panel, that is said.

    Args:
        block: The text.
        spots: Places in the order of preference, one at least.
        panel: Knows its marks, and the texts that stand in it so far.
    """
    around = panel.around() if len(spots) > 1 else np.zeros((0, 2))
    taken = panel.taken if panel.taken is not None else []
    costs = []
    for spot in spots:
        box = Region(spot.left, spot.top, block.width, block.height)
        over = sum(_shared(box, other) for other in taken)
        lines = sum(_shared(box, line) > 0 for line in panel.lines)
        off = max(panel.box.x - box.x, 0.0) + max(box.right - panel.box.right, 0.0)
        off += max(panel.box.y - box.y, 0.0) + max(box.bottom - panel.box.bottom, 0.0)
        costs.append((over > 0.5, off > _OFF, lines + _inside(box, around), over + off))
    best = min(range(len(spots)), key=lambda place: costs[place])
    chosen = spots[best]
    if costs[best][0]:
        text = plain("".join(run.text for line in block.lines[:1] for run in line))
        tried = f"none of {len(spots)} places is free" if len(spots) > 1 else "its place is not free"
        panel.say("texts-meet", f"the text {text!r} lies over another: {tried}", "shift= moves it", severity="warning")
    taken.append(Region(chosen.left, chosen.top, block.width, block.height))
    return chosen


def _shared(box: Region, other: Region) -> float:
    """The area in which two regions lie over each other, in square points."""
    wide = min(box.right, other.right) - max(box.x, other.x)
    high = min(box.bottom, other.bottom) - max(box.y, other.y)
    return wide * high if wide > 0 and high > 0 else 0.0


def _inside(box: Region, places: FloatArray) -> int:
    """How many places lie in a region."""
    x, y = places.T
    return int(((x > box.x) & (x < box.right) & (y > box.y) & (y < box.bottom)).sum())


def set_off(marks: Iterable[Mark], panel: PanelView, wanted: bool | None, way: tuple[float, float]) -> Iterator[Mark]:
    """Marks whose texts are moved, and have a halo where they need one.

    Args:
        marks: Texts, and other marks, which stay as they are.
        panel: Knows the marks of other layers.
        wanted: Whether every text has one, or none; None for those that lie on marks.
        way: How far texts are moved to the right and down, in points.
    """
    around: FloatArray | None = None
    right, down = way
    for mark in marks:
        if isinstance(mark, Text):
            mark = mark._replace(x=mark.x + right, y=mark.y + down) if right or down else mark
            if wanted is None and around is None:
                around = panel.around()
            if wanted or (around is not None and _covered(mark, around) >= _DENSE):
                mark = mark._replace(halo=Halo(panel.ground, _REACH))
        yield mark


def _covered(text: Text, around: FloatArray) -> int:
    """How many places of marks a text lies on."""
    return _inside(text.box, around)
