"""Texts in a panel that are moved by hand, and set off from what lies below them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from facetine.core.arrays import FloatArray
from facetine.layers.base import PanelView
from facetine.scene.marks import Halo, Mark, Text

HALO_SAYS = "Whether a halo in the color of the ground sets its text off; where that lies on marks, if it is not said."
"""What the option `halo` of a layer is."""
MOVED_SAYS = 'How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").'
"""What the option `shift` of a layer with texts is."""
_REACH = 1.1
_DENSE = 2
"""On so many marks, or bits of lines, a text needs to be set off."""


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
    box = text.box
    x, y = around.T
    return int(((x > box.x) & (x < box.right) & (y > box.y) & (y < box.bottom)).sum())
