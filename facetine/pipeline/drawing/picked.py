"""Marks of one category as a group of its own, so that it can be picked with one click, where drawing order allows."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from itertools import pairwise

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.look_scales import LookScale
from facetine.scene.marks import Mark, Markers, Paths, Rects
from facetine.scene.markup import plain
from facetine.scene.sketch import Sketch

_MOST_COMPARED = 600


def add_by_category(marks: Iterable[Mark], into: Sketch, run: LayerRun, rows: Columns, looks: Mapping[str, LookScale]) -> None:
    """Adds a layer's marks, those of one category in a group of its own.

    Nothing changes its place in the drawing but rectangles that do not lie on each other.
    """
    shown = _categories(run, rows, looks)
    if shown is None:
        into.add(marks)
        return
    names, codes = shown
    order = np.argsort(rows.numbers, kind="stable")
    known = rows.numbers[order]

    def code_of(numbers: IntArray) -> IntArray:
        found: IntArray = codes[order[np.minimum(np.searchsorted(known, numbers), len(known) - 1)]]
        return found

    last, group = -1, into
    for mark in marks:
        for part, code in _parts(mark, code_of):
            if code != last:
                last = code
                group = into if code < 0 else into.group(_name(names[code]), names[code], kind="category")
            group.add([part])


def _categories(run: LayerRun, rows: Columns, looks: Mapping[str, LookScale]) -> tuple[list[str], IntArray] | None:
    """The names of the categories that a layer's looks show, and that of each row; None where they show none."""
    by_column = {
        looks[name].column: name
        for name in run.layer.looks
        if name in rows and name in looks and looks[name].kind == "levels" and run.layer.constant(name) is None
    }
    if not by_column or not len(rows):
        return None
    names, codes = [""], np.zeros(len(rows), np.int64)
    for look in by_column.values():
        labels = [plain(label) for label in looks[look].labels]
        which = rows[look].astype(np.int64)
        # What has no level stands after them.
        which = np.where(which < 0, len(labels), np.minimum(which, len(labels)))
        codes = codes * (len(labels) + 1) + which
        names = [f"{name}, {label}" if name else label for name in names for label in (*labels, "missing")]
    return names, codes


def _parts(mark: Mark, code_of: Callable[[IntArray], IntArray]) -> list[tuple[Mark, int]]:
    """A mark in parts of one category each, with the category's code; −1 where it can't be parted."""
    if isinstance(mark, Markers | Rects | Paths) and mark.rows is not None and len(mark.rows):
        codes = code_of(mark.rows)
        if bool((codes == codes[0]).all()):
            return [(mark, int(codes[0]))]
        if isinstance(mark, Rects) and not _apart(mark.boxes):
            return _runs(mark, codes)
        if isinstance(mark, Rects):
            order = np.argsort(codes, kind="stable")
            return _runs(_taken(mark, order), codes[order])
        if isinstance(mark, Markers):
            return _runs(mark, codes)
    return [(mark, -1)]


def _runs(mark: Markers | Rects, codes: IntArray) -> list[tuple[Mark, int]]:
    """The runs of one category, where each category is one run."""
    changes = np.flatnonzero(np.diff(codes)) + 1
    # Most interleaved marks are told from these without a look for the distinct codes.
    if len(changes) > codes.max() or len(changes) >= len(np.unique(codes)):
        return [(mark, -1)]
    starts = [0, *changes.tolist(), len(codes)]
    return [(_taken(mark, np.arange(start, end)), int(codes[start])) for start, end in pairwise(starts)]


def _taken(mark: Markers | Rects, chosen: IntArray) -> Markers | Rects:
    """Some of a mark's shapes, with the looks that they have."""
    assert mark.rows is not None
    which = None if mark.which is None else mark.which[chosen]
    if isinstance(mark, Markers):
        styles = mark.styles
        if which is not None:
            used, which = np.unique(which, return_inverse=True)
            styles, which = tuple(styles[one] for one in used.tolist()), None if len(used) == 1 else which.astype(np.int64)
        return mark._replace(at=mark.at[chosen], styles=styles, which=which, rows=mark.rows[chosen])
    fills = mark.fills
    if which is not None:
        used, which = np.unique(which, return_inverse=True)
        fills, which = tuple(fills[one] for one in used.tolist()), None if len(used) == 1 else which.astype(np.int64)
    return mark._replace(boxes=mark.boxes[chosen], fills=fills, which=which, rows=mark.rows[chosen])


def _apart(boxes: FloatArray) -> bool:
    """Whether no two rectangles lie on each other; not looked for among very many."""
    if len(boxes) > _MOST_COMPARED:
        return False
    left, top, right, bottom = boxes[:, 0], boxes[:, 1], boxes[:, 0] + boxes[:, 2], boxes[:, 1] + boxes[:, 3]
    least = 0.01
    across = (left[:, None] < right[None] - least) & (left[None] < right[:, None] - least)
    down = (top[:, None] < bottom[None] - least) & (top[None] < bottom[:, None] - least)
    return int((across & down).sum()) <= len(boxes)


def _name(title: str) -> str:
    """A title as part of an id."""
    return re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:40] or "category"
