"""A writer that keeps what it is given, for tests of scenes and a first look at what a format has to write."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import NamedTuple

from facetine.scene.marks import Bitmap, Gradient, Group, Mark, Markers, Paths, Rects, Text, Writer


class Recorded(NamedTuple):
    """A mark, as a writer gets it."""

    method: str
    """The method that took it: markers, rects, paths, gradient, bitmap or text."""
    mark: Mark
    groups: tuple[str, ...]
    """The names of the groups in which it stands, from the outermost."""


class Recorder(Writer):
    """Keeps every mark of a scene in the order in which it is drawn.

    Example:
        >>> from facetine.scene.marks import Group, Rects, Scene
        >>> from facetine.scene.play import play
        >>> import numpy as np
        >>> bar = Rects(np.array([[0.0, 0.0, 4.0, 9.0]]), ("#204080",))
        >>> recorder = Recorder()
        >>> play(Scene(20.0, 20.0, "#ffffff", Group("figure", "Figure", (bar,)), "Bar", "A bar."), recorder)
        >>> [one.method for one in recorder.marks]
        ['rects']
    """

    def __init__(self) -> None:
        self.marks: list[Recorded] = []
        """Every mark so far."""
        self._within: tuple[str, ...] = ()

    def markers(self, mark: Markers) -> None:
        """Symbols of a few styles."""
        self._keep("markers", mark)

    def rects(self, mark: Rects) -> None:
        """Upright rectangles of a few fills."""
        self._keep("rects", mark)

    def paths(self, mark: Paths) -> None:
        """Polylines or polygons of one look."""
        self._keep("paths", mark)

    def gradient(self, mark: Gradient) -> None:
        """A run of colors."""
        self._keep("gradient", mark)

    def bitmap(self, mark: Bitmap) -> None:
        """A picture made of pixels."""
        self._keep("bitmap", mark)

    def text(self, mark: Text) -> None:
        """A line of text."""
        self._keep("text", mark)

    @contextmanager
    def group(self, group: Group) -> Iterator[None]:
        """Everything written inside belongs to the group."""
        outside, self._within = self._within, (*self._within, group.name)
        try:
            yield
        finally:
            self._within = outside

    def _keep(self, method: str, mark: Mark) -> None:
        self.marks.append(Recorded(method, mark, self._within))
