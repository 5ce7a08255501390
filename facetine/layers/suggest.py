"""Which layers suit which kinds of variables."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.data.intake import taken_in
from facetine.data.table import Column
from facetine.messages.errors import MappingError

# Fewer rows have no shape to speak of; more cover each other.
_FEW, _MANY = 10, 5000


class LayerSuggestion(NamedTuple):
    """A layer that suits, and why."""

    layer: str
    reason: str


def suggest(data: object, *, x: str | None = None, y: str | None = None) -> list[LayerSuggestion]:
    """The layers that suit two variables, the best one first.

    Args:
        data: What `figure` takes.
        x: A column, or None.
        y: A column, or None.

    Raises:
        MappingError: There is no such column, or neither is given.

    Example:
        >>> suggest({"age": [30.0, 60.0], "mass": [4.1, 3.9]}, x="age", y="mass")[0].layer
        'points'
    """
    table = taken_in(data, "suggest")
    if x is None and y is None:
        raise MappingError("suggest", "neither x nor y is given", 'write suggest(data, x="…", y="…")')
    columns = {axis: table.need(name, "suggest", axis) for axis, name in (("x", x), ("y", y)) if name is not None}
    if len(columns) == 1:
        axis, column = next(iter(columns.items()))
        return _of_one(axis, column, table.height)
    return _of_two(columns["x"], columns["y"], table.height)


def _of_one(axis: str, column: Column, rows: int) -> list[LayerSuggestion]:
    said = f"{column.name!r} on {axis} is {_said(column)}"
    if column.discrete:
        return [LayerSuggestion("bars", f"{said}; bars count its rows")]
    found = [
        LayerSuggestion("histogram", f"{said}; a histogram shows how often its values fall where"),
        LayerSuggestion("density", f"{said}; a density is smooth and lets several groups be compared"),
        LayerSuggestion("cumulative", f"{said}; the share at or below each value hides nothing"),
    ]
    return found if rows > _FEW else [found[2], found[0]]


def _of_two(x: Column, y: Column, rows: int) -> list[LayerSuggestion]:
    said = f"{x.name!r} is {_said(x)} and {y.name!r} is {_said(y)}"
    if x.discrete and y.discrete:
        return [LayerSuggestion("cells", f"{said}; cells count the rows of every pair")]
    if x.discrete or y.discrete:
        return _of_groups(x if x.discrete else y, y if x.discrete else x, said, rows)
    points = LayerSuggestion("points", f"{said}; a point shows each row")
    if x.kind == "time":
        return [LayerSuggestion("lines", f"{said}; a line shows how it goes on"), points]
    trend = LayerSuggestion("trend", f"{said}; a fitted line shows how one goes with the other")
    if rows <= _MANY:
        return [points, trend]
    cells = LayerSuggestion("cells", f"{said}, and {rows:,} points would cover each other; cells count them")
    return [
        cells,
        LayerSuggestion("contours", f"{said}, and {rows:,} points would cover each other; contours enclose them"),
        points,
    ]


def _of_groups(slots: Column, values: Column, said: str, rows: int) -> list[LayerSuggestion]:
    """A category and a number: bars where every category has one row, else what shows the spread."""
    codes = slots.values[slots.values >= 0]
    largest = int(np.bincount(codes).max()) if len(codes) else 0
    if largest <= 1 and values.kind == "number":
        return [
            LayerSuggestion("bars", f"every {slots.name!r} has one {values.name!r}; its height shows it"),
            LayerSuggestion("points", f"{said}; points need no zero"),
        ]
    points = LayerSuggestion("points", f'{said}; with arrange="beeswarm" every row is seen')
    if values.kind == "time" or largest < _FEW:
        return [points]
    boxes = LayerSuggestion("boxes", f"{said}; boxes compare quartiles of {rows:,} rows")
    violins = LayerSuggestion("violins", f"{said}; violins show shapes that boxes hide")
    intervals = LayerSuggestion("intervals", f"{said}; means with their confidence intervals")
    return [boxes, violins, points, intervals]


def _said(column: Column) -> str:
    return {"number": "a number", "time": "a time", "yes_no": "yes or no", "ordered": "ordered"}.get(column.kind, "a category")
