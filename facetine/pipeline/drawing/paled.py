"""Marks as they are, in inks near the ground: those of layers that stay as all rows make them, beside others of chosen ones."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from facetine.scene.marks import Gradient, Mark, Markers, Paths, Rects, Stroke, Text

Wash = Callable[[str], str]
"""From an ink to the one near the ground."""


def paled(marks: Iterable[Mark], wash: Wash) -> Iterator[Mark]:
    """The same marks in other inks; images stay, whose pixels are no inks.

    Args:
        marks: Those of a layer.
        wash: Makes an ink pale.
    """
    for mark in marks:
        if isinstance(mark, Markers):
            styles = (one._replace(fill=_of(one.fill, wash), outline=_of(one.outline, wash)) for one in mark.styles)
            yield mark._replace(styles=tuple(styles))
        elif isinstance(mark, Rects):
            yield mark._replace(fills=tuple(map(wash, mark.fills)), outline=_stroke(mark.outline, wash))
        elif isinstance(mark, Paths):
            yield mark._replace(fill=_of(mark.fill, wash), stroke=_stroke(mark.stroke, wash))
        elif isinstance(mark, Gradient):
            yield mark._replace(colors=tuple(map(wash, mark.colors)))
        else:
            yield mark._replace(color=wash(mark.color)) if isinstance(mark, Text) else mark


def _of(ink: str | None, wash: Wash) -> str | None:
    return None if ink is None else wash(ink)


def _stroke(stroke: Stroke | None, wash: Wash) -> Stroke | None:
    return None if stroke is None else stroke._replace(color=wash(stroke.color))
