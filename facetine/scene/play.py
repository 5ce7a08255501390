"""The seam between scenes and formats: a scene plays itself on any writer, mark by mark."""

from __future__ import annotations

from contextlib import AbstractContextManager
from typing import Protocol

from facetine.scene.marks import Gradient, Group, Markers, Paths, Rects, Scene, Text


class Writer(Protocol):
    """Turns marks into the bytes of one format. Marks come in batches; a writer never looks at data."""

    def markers(self, mark: Markers) -> None:
        """Symbols of a few styles."""

    def rects(self, mark: Rects) -> None:
        """Upright rectangles of a few fills."""

    def paths(self, mark: Paths) -> None:
        """Polylines or polygons of one look."""

    def gradient(self, mark: Gradient) -> None:
        """A run of colors."""

    def text(self, mark: Text) -> None:
        """A line of text."""

    def group(self, group: Group) -> AbstractContextManager[None]:
        """Everything written inside belongs to the group."""


def play(scene: Scene, writer: Writer) -> None:
    """Hands every mark of a scene to a writer, in drawing order."""
    for item in scene.root.items:
        item.on(writer)
