"""Outlines of markers, as paths in units of the radius; all cover about the area of a disc of that radius."""

from __future__ import annotations

import math
from typing import NamedTuple


class Outline(NamedTuple):
    """A closed outline, or open strokes, around the origin; y grows downwards."""

    parts: tuple[tuple[tuple[float, float], ...], ...]
    """Polylines; empty for the disc, which is a true circle. A closed one that runs against the first is left empty."""
    open: bool = False
    """Whether it is drawn as strokes, without an inside."""


def _regular(corners: int, turn: float) -> tuple[tuple[float, float], ...]:
    """A regular polygon of the area of the unit disc."""
    reach = math.sqrt(2 * math.pi / (corners * math.sin(2 * math.pi / corners)))
    angles = [math.radians(turn) + 2 * math.pi * i / corners for i in range(corners)]
    return tuple((round(reach * math.sin(a), 4), round(-reach * math.cos(a), 4)) for a in angles)


def _cross(turn: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    x, y = 1.15 * math.cos(math.radians(turn)), 1.15 * math.sin(math.radians(turn))
    return (
        ((-round(x, 4), -round(y, 4)), (round(x, 4), round(y, 4))),
        ((round(y, 4), -round(x, 4)), (-round(y, 4), round(x, 4))),
    )


_FRAME = 0.35
"""How thick the empty half of a half-filled shape is framed, in units of the radius."""


def _half(corners: int, turn: float) -> Outline:
    """A polygon whose right half is empty but for a frame: the empty part runs against the outline, and is left out."""
    whole = _regular(corners, turn)
    flat = math.sqrt(2 * math.pi / (corners * math.sin(2 * math.pi / corners))) * math.cos(math.pi / corners)
    inner = [(x * (1 - _FRAME / flat), y * (1 - _FRAME / flat)) for x, y in whole]
    ends = zip(inner, [*inner[1:], inner[0]], strict=True)
    right: list[tuple[float, float]] = []
    for (x, y), (x_to, y_to) in ends:
        if x >= 0:
            right.append((x, y))
        if x * x_to < 0:
            right.append((0.0, y + (y_to - y) * x / (x - x_to)))
    return Outline((whole, tuple((round(x, 4), round(y, 4)) for x, y in reversed(right))))


OUTLINES: dict[str, Outline] = {
    "disc": Outline(()),
    "triangle": Outline((_regular(3, 0),)),
    "diamond": Outline((_regular(4, 0),)),
    "cross": Outline(_cross(45), open=True),
    "square": Outline((_regular(4, 45),)),
    "triangle_down": Outline((_regular(3, 180),)),
    "plus": Outline(_cross(0), open=True),
    "hexagon": Outline((_regular(6, 0),)),
    "vertical_line": Outline((((0.0, -1.4), (0.0, 1.4)),), open=True),
    "horizontal_line": Outline((((-1.4, 0.0), (1.4, 0.0)),), open=True),
    "half_disc": _half(48, 0),
    "half_square": _half(4, 45),
    "half_diamond": _half(4, 0),
}
"""By name: neighbours differ in corners, in weight and in whether they are filled."""
HOLLOW = {"open_disc": "disc", "open_square": "square", "open_triangle": "triangle", "open_diamond": "diamond"}
"""Shapes that are the border of another one."""


def is_filled(shape: str) -> bool:
    """Whether the whole inside of a shape is painted, so that it can have a border in another color."""
    return shape not in HOLLOW and not OUTLINES[shape].open and len(OUTLINES[shape].parts) < 2
