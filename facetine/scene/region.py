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

    def within(self, other: Region) -> Region:
        """The part that lies in another one; without width or height where none does."""
        left, top = max(self.x, other.x), max(self.y, other.y)
        width, height = min(self.right, other.right) - left, min(self.bottom, other.bottom) - top
        return Region(left, top, max(width, 0.0), max(height, 0.0))

    def overlaps(self, other: Region, slack: float = 0.0) -> bool:
        """Whether two rectangles share more than `slack` points in both directions."""
        return (
            min(self.right, other.right) - max(self.x, other.x) > slack
            and min(self.bottom, other.bottom) - max(self.y, other.y) > slack
        )
