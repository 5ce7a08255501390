"""Rectangles in points."""

from __future__ import annotations

from typing import NamedTuple

from facetine.core.arrays import AnyArray as AnyArray
from facetine.core.arrays import BoolArray as BoolArray
from facetine.core.arrays import FloatArray as FloatArray
from facetine.core.arrays import IntArray as IntArray


class Region(NamedTuple):
    """A rectangle in points; y grows downwards."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """The x of its right edge."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """The y of its lower edge."""
        return self.y + self.height

    def overlaps(self, other: Region, slack: float = 0.0) -> bool:
        """Whether two rectangles share more than `slack` points in both directions."""
        return (
            min(self.right, other.right) - max(self.x, other.x) > slack
            and min(self.bottom, other.bottom) - max(self.y, other.y) > slack
        )
