"""What sets a text off from the marks below it: its outlines, wider, in the color of the ground."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.scene.fonts import named
from facetine.scene.letters import glyph_outline
from facetine.scene.marks import Color, Paths, Stroke, Text

_STEPS = 3
"""Straight pieces of a curve: under a wide line no more are seen."""


class Halo(NamedTuple):
    """What sets a text off from the marks below it."""

    color: Color
    reach: float
    """How far it reaches beyond the letters, in points."""

    def below(self, text: Text) -> Paths | None:
        """The outlines of a level text as one mark, to be drawn below it; None for one without ink."""
        return halo_of(text, self)


def halo_of(text: Text, said: Halo) -> Paths | None:
    """The outlines of a level text as one mark, to be drawn below it; None for one without ink."""
    contours: list[FloatArray] = []
    x = text.x - text.anchor * text.width
    for run in text.standing:
        unit = run.size / named(run.face).units
        offsets = run.offsets or ((0.0, 0.0),) * len(run.ids)
        for glyph, advance, (right, up) in zip(run.ids, run.advances, offsets, strict=True):
            origin = np.array([x + right * run.size / 1000, text.y - run.shift - up * run.size / 1000])
            contours += [origin + contour * (unit, -unit) for contour in _contours(run.face, glyph)]
            x += advance * run.size / 1000
    if not contours:
        return None
    starts = np.cumsum([0, *(len(contour) for contour in contours[:-1])]).astype(np.int64)
    points: FloatArray = np.round(np.concatenate(contours), 2).astype(np.float64)
    return Paths(points, starts, Stroke(said.color, 2 * said.reach, cap="round"), said.color, 1.0, closed=True)


@lru_cache(maxsize=4096)
def _contours(face: str, glyph: int) -> tuple[FloatArray, ...]:
    """The contours of a glyph as polygons, in units of its font, y upwards."""
    made: list[list[tuple[float, float]]] = []
    for command, numbers in glyph_outline(face, glyph):
        ends = list(zip(numbers[::2], numbers[1::2], strict=True))
        if command == "M":
            made.append(ends)
        elif command == "L":
            made[-1] += ends
        elif command in ("C", "Q"):
            made[-1] += _curve([made[-1][-1], *ends])
    return tuple(np.array(contour) for contour in made if len(contour) > 2)


def _curve(corners: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Places along a Bézier curve after its start, by de Casteljau's steps."""
    made = []
    for share in np.linspace(0, 1, _STEPS + 1)[1:]:
        points = np.array(corners)
        while len(points) > 1:
            points = points[:-1] + share * (points[1:] - points[:-1])
        made.append((float(points[0, 0]), float(points[0, 1])))
    return made
