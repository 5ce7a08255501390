"""Where every mark of a scene stands, as lines of text: a format for tests and for machines."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from facetine.scene.marks import Bitmap, Gradient, Group, Markers, Paths, Rects, Scene, Text, Writer
from facetine.scene.play import play
from facetine.writers.formats import Format, Options, Written


class _Places(Writer):
    """Collects a line for every mark; a method that it lacked would be named."""

    def __init__(self) -> None:
        self.lines: list[str] = []
        self.within = ""

    def markers(self, mark: Markers) -> None:
        """A line for each symbol."""
        self.lines += [f"{self.within} marker {x:.2f} {y:.2f}" for x, y in mark.at.tolist()]

    def rects(self, mark: Rects) -> None:
        """A line for each rectangle."""
        self.lines += [f"{self.within} rect {x:.2f} {y:.2f} {w:.2f} {h:.2f}" for x, y, w, h in mark.boxes.tolist()]

    def paths(self, mark: Paths) -> None:
        """A line for each vertex."""
        self.lines += [f"{self.within} path {x:.2f} {y:.2f}" for x, y in mark.points.tolist()]

    def gradient(self, mark: Gradient) -> None:
        """A line for the bar."""
        self.lines.append(f"{self.within} gradient {mark.box.x:.2f} {mark.box.y:.2f}")

    def bitmap(self, mark: Bitmap) -> None:
        """A line for the picture."""
        box = mark.box
        self.lines.append(f"{self.within} picture {box.x:.2f} {box.y:.2f} {box.width:.2f} {box.height:.2f}")

    def text(self, mark: Text) -> None:
        """A line for each line."""
        self.lines.append(f"{self.within} text {mark.x:.2f} {mark.y:.2f} {mark.content}")

    @contextmanager
    def group(self, group: Group) -> Iterator[None]:
        """Marks inside are told with the name of the group."""
        before, self.within = self.within, group.name
        yield
        self.within = before


def _written(scene: Scene, options: Options) -> Written:
    writer = _Places()
    play(scene, writer)
    said = ("the font stays behind",) if options.fonts == "embed" else ()
    return Written("\n".join(writer.lines).encode("utf-8"), said)


FORMAT = Format("where every mark stands, as lines of text", _written, takes=frozenset({"fonts"}))
