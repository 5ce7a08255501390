"""The seam between scenes and formats: a scene plays itself on any writer, mark by mark."""

from __future__ import annotations

from facetine.scene.marks import Scene, Writer


def play(scene: Scene, writer: Writer) -> None:
    """Hands every mark of a scene to a writer, in drawing order."""
    for item in scene.root.items:
        item.on(writer)
