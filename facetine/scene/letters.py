"""Letters as outlines: what a text looks like, without its font."""

from __future__ import annotations

from functools import lru_cache

from facetine.scene.fonts import named
from facetine.scene.marks import Text


class _Pen:
    """Takes an outline in units of the font, y upwards, and keeps it as commands of a path with their numbers."""

    def __init__(self) -> None:
        self.commands: list[tuple[str, tuple[float, ...]]] = []

    def moveTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        """Begins a contour."""
        self.commands.append(("M", at))

    def lineTo(self, at: tuple[float, float]) -> None:  # noqa: N802
        """A straight line."""
        self.commands.append(("L", at))

    def curveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        """A cubic curve."""
        self.commands.append(("C", tuple(value for point in points for value in point)))

    def qCurveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        """A quadratic curve."""
        self.commands.append(("Q", tuple(value for point in points for value in point)))

    def closePath(self) -> None:  # noqa: N802
        """Ends a contour."""
        self.commands.append(("Z", ()))


@lru_cache(maxsize=4096)
def glyph_outline(face: str, glyph: int) -> tuple[tuple[str, tuple[float, ...]], ...]:
    """The commands of a glyph's outline, in units of its font."""
    pen = _Pen()
    named(face).font.draw_glyph_with_pen(glyph, pen)
    return tuple(pen.commands)


def text_outline(text: Text) -> str:
    """The outline of a text about the place at which it stands, as the data of an SVG path; empty where nothing is drawn."""
    out: list[str] = []
    x = -text.anchor * text.width
    for run in text.standing:
        unit = run.size / named(run.face).units
        offsets = run.offsets or ((0.0, 0.0),) * len(run.ids)
        for glyph, advance, (right, up) in zip(run.ids, run.advances, offsets, strict=True):
            left, base = x + right * run.size / 1000, -run.shift - up * run.size / 1000
            for command, numbers in glyph_outline(run.face, glyph):
                places = [
                    f"{left + value * unit:.3f}" if place % 2 == 0 else f"{base - value * unit:.3f}"
                    for place, value in enumerate(numbers)
                ]
                out.append(f"{command}{' '.join(places)}")
            x += advance * run.size / 1000
    return "".join(out)
