"""Paths, colors and pens as PDF writes them."""

from __future__ import annotations

from functools import lru_cache

from facetine.scene.marks import (
    FloatArray,
    IntArray,
    MarkerStyle,
    Stroke,
)
from facetine.scene.shapes import OUTLINES
from facetine.writers.inks import RGB, Inks
from facetine.writers.numbers import put, short

_ROUND = 0.5522847498
"""Handles of a quarter of a circle, as a share of its radius."""


def path_of(points: FloatArray, starts: IntArray, closed: bool) -> str:
    """Polylines as path construction operators, which follow their numbers."""
    parts = ["%s %s l\n"] * len(points)
    for start in starts.tolist():
        parts[start] = "%s %s m\n"
    if closed:
        for end in [*starts.tolist()[1:], len(points)]:
            parts[end - 1] = "%s %s l h\n"
    return put("".join(parts), points)


@lru_cache(maxsize=1024)
def painted(color: str, inks: Inks = RGB, *, line: bool = False, text: bool = False) -> str:
    """What sets the color of fills, or that of lines."""
    amounts = inks.amounts(color, text)
    operator = ("RG" if line else "rg") if len(amounts) == 3 else "K" if line else "k"
    return f"{' '.join(short(amount, 4) for amount in amounts)} {operator}"


def pen(stroke: Stroke, inks: Inks = RGB) -> str:
    """Width, dashes, cap and color of a line."""
    dash = f"[{' '.join(short(length, 3) for length in stroke.dash)}] 0 d " if stroke.dash else ""
    cap = "1 J 1 j " if stroke.cap == "round" else ""
    return f"{painted(stroke.color, inks, line=True)} {short(stroke.width, 3)} w {dash}{cap}\n"


@lru_cache(maxsize=1024)
def outline_of(style: MarkerStyle, inks: Inks = RGB) -> tuple[str, float]:
    """The content of a marker's form, and how far it reaches from its middle."""
    outline, radius = OUTLINES[style.shape], style.radius
    content = f"{painted(style.fill, inks)} " if style.fill else ""
    if style.outline:
        content += f"{painted(style.outline, inks, line=True)} {short(style.line_width, 3)} w "
    if outline.parts:
        reach = 0.0
        for part in outline.parts:
            points = [(x * radius, -y * radius) for x, y in part]
            reach = max(reach, *(abs(value) for point in points for value in point))
            content += " ".join(f"{short(x, 3)} {short(y, 3)} {'l' if number else 'm'}" for number, (x, y) in enumerate(points))
            content += " " if outline.open else " h "
    else:
        reach = radius
        content += _disc(radius)
    paint = {(True, True): "B", (True, False): "f", (False, True): "S", (False, False): "n"}
    line = style.line_width if style.outline else 0.0
    # A mitred corner of a triangle reaches twice the line's width beyond its vertex.
    return content + paint[style.fill is not None, style.outline is not None], round(reach + 1.1 * line, 3)


def _disc(radius: float) -> str:
    r, k = short(radius, 4), short(radius * _ROUND, 4)
    return f"{r} 0 m {r} {k} {k} {r} 0 {r} c -{k} {r} -{r} {k} -{r} 0 c -{r} -{k} -{k} -{r} 0 -{r} c {k} -{r} {r} -{k} {r} 0 c h "
