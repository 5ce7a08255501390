"""Where the marks of a drawing stand, and which rows they show."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.page.inks import BOX, Ink, marker_ink
from facetine.scene.marks import Group, Mark, Markers, Paths, Rects, Scene, Text

_WRITTEN = ("values", "names")
"""Groups of texts beside marks."""


class Where(NamedTuple):
    """Whose marks stand somewhere."""

    member: int
    """The number of the figure on the sheet."""
    layer: int
    page: int
    panel: int
    """The number of the panel on the sheet."""


_NO_PIECES = np.zeros((0, 3), np.int64)
_NO_VERTICES = np.zeros((0, 2), np.int64)


class Spots(NamedTuple):
    """The marks of a layer in a panel, one for each row."""

    rows: IntArray
    """Shape (n,): their numbers, increasing."""
    boxes: FloatArray
    """Shape (n, 4): left, top, right and bottom in points; of a place without extent, twice the same."""
    shapes: IntArray
    """Shape (n,): which shape of the layer in the panel each one is, in the order of an SVG; −1 for a part of one."""
    inks: tuple[Ink, ...]
    """How they look."""
    ink: IntArray
    """Shape (n,): which of them each mark has."""
    pieces: IntArray
    """Shape (k, 3): parts of shapes that show one row each, such as whiskers: the shape, which part of it, the row."""
    vertices: IntArray
    """Shape (v, 2): the corners of shapes that are drawn along rows, in the order in which they are drawn: the shape, the row."""


def spots_of(pages: tuple[Scene, ...]) -> dict[Where, Spots]:
    """The marks of all layers by where they stand."""
    found: dict[Where, list[Spots]] = {}
    shapes: dict[Where, int] = {}
    for page, scene in enumerate(pages):
        for group, mark in _marks(scene.root):
            if group.layer is None or group.member is None:
                continue
            where = Where(group.member, group.layer, page, group.panel or 0)
            first = shapes.get(where, 0)
            spots = _spots(mark, first)
            shapes[where] = first + _shapes(mark)
            if spots is not None and len(spots.rows):
                found.setdefault(where, []).append(spots)
    return {where: _together(parts) for where, parts in found.items()}


def _marks(group: Group) -> Iterator[tuple[Group, Mark]]:
    for item in group.items:
        if isinstance(item, Group):
            yield from _marks(item)
        elif group.kind not in _WRITTEN:
            yield group, item


def _shapes(mark: Mark) -> int:
    """How many shapes of an SVG a batch of marks is."""
    if isinstance(mark, Markers):
        return len(mark.at)
    if isinstance(mark, Rects):
        return len(mark.boxes)
    if isinstance(mark, Paths):
        return int(len(mark.points) > 0)
    return int(bool(mark.runs)) + _halo(mark) if isinstance(mark, Text) else 1


def _halo(text: Text) -> int:
    """How many shapes set a text off."""
    return int(text.halo is not None and text.halo.below(text) is not None)


def _spots(mark: Mark, first: int) -> Spots | None:
    """The rows of a batch of marks with their boxes; None for one that shows none.

    Args:
        mark: The batch.
        first: How many shapes are there before it.
    """
    if isinstance(mark, Text):
        if mark.row is None or not mark.runs:
            return None
        box = mark.box
        at = np.array([[box.x, box.y, box.right, box.bottom]])
        ink = np.zeros(1, np.int64)
        return Spots(np.array([mark.row]), at, np.array([first + _halo(mark)]), (Ink(mark.color),), ink, _NO_PIECES, _NO_VERTICES)
    rows: IntArray | None = getattr(mark, "rows", None)
    if rows is None:
        return None
    if isinstance(mark, Markers):
        radius = np.array([style.radius for style in mark.styles])[mark.which if mark.which is not None else 0]
        reach = np.broadcast_to(radius, (len(mark.at),))[:, None]
        inks = tuple(marker_ink(style, mark.opacity) for style in mark.styles)
        ink = np.zeros(len(rows), np.int64) if mark.which is None else mark.which
        boxes, shapes = np.hstack([mark.at - reach, mark.at + reach]), first + np.arange(len(rows))
        return Spots(rows, boxes, shapes, inks, ink, _NO_PIECES, _NO_VERTICES)
    if isinstance(mark, Rects):
        boxes = np.hstack([mark.boxes[:, :2], mark.boxes[:, :2] + mark.boxes[:, 2:]])
        ink = np.zeros(len(rows), np.int64) if mark.which is None else mark.which
        line = mark.outline
        inks = tuple(
            Ink(fill, line.color if line else None, line.width if line else 0.0, mark.opacity, BOX) for fill in mark.fills
        )
        return Spots(rows, boxes, first + np.arange(len(rows)), inks, ink, _NO_PIECES, _NO_VERTICES)
    if isinstance(mark, Paths):
        ink_of = Ink(mark.fill or (mark.stroke.color if mark.stroke is not None else "#000000"))
        nowhere, ink = np.full(len(rows), -1), np.zeros(len(rows), np.int64)
        along = np.column_stack([np.full(len(rows), first), rows])
        boxes = np.hstack([mark.points, mark.points])
        return Spots(rows, boxes, nowhere, (ink_of,), ink, _pieces(mark, rows, first), along)
    return None


def _pieces(mark: Paths, rows: IntArray, shape: int) -> IntArray:
    """The parts of a shape with the row of each; none where a part shows several rows, as a line does."""
    starts = mark.starts
    low, high = np.minimum.reduceat(rows, starts), np.maximum.reduceat(rows, starts)
    if (low != high).any():
        return _NO_PIECES
    return np.column_stack([np.full(len(starts), shape), np.arange(len(starts)), low])


def _together(parts: list[Spots]) -> Spots:
    """A spot for each row: all that shows it, and the first of its shapes."""
    rows: AnyArray = np.concatenate([part.rows for part in parts])
    boxes = np.concatenate([part.boxes for part in parts])
    shapes = np.concatenate([part.shapes for part in parts])
    inks = tuple(dict.fromkeys(ink for part in parts for ink in part.inks))
    ink = np.concatenate([np.array([inks.index(one) for one in part.inks], np.int64)[part.ink] for part in parts])
    # Shapes of their own come before those that many rows share.
    order = np.lexsort((shapes < 0, rows))
    rows, boxes, shapes, ink = rows[order], boxes[order], shapes[order], ink[order]
    starts = np.flatnonzero(np.diff(rows, prepend=rows[0] - 1)) if len(rows) else np.zeros(0, np.int64)
    low, high = np.minimum.reduceat(boxes[:, :2], starts), np.maximum.reduceat(boxes[:, 2:], starts)
    pieces = np.concatenate([part.pieces for part in parts])
    vertices = np.concatenate([part.vertices for part in parts])
    return Spots(rows[starts], np.hstack([low, high]), shapes[starts], inks, ink[starts], pieces, vertices)
