"""Which layers suit which kinds of variables."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.data.intake import taken_in
from facetine.data.table import Column
from facetine.errors import MappingError


class Suggestion(NamedTuple):
    """A layer that suits, and why."""

    layer: str
    reason: str


def suggest(data: object, *, x: str | None = None, y: str | None = None) -> list[Suggestion]:
    """The layers that suit two variables, the best one first.

    Args:
        data: What `figure` takes.
        x: A column, or None.
        y: A column, or None.

    Raises:
        MappingError: There is no such column, or neither is given.

    Example:
        >>> import facetine as ft
        >>> ft.suggest({"age": [30.0, 60.0], "mass": [4.1, 3.9]}, x="age", y="mass")[0].layer
        'points'
    """
    table = taken_in(data, "suggest")
    if x is None and y is None:
        raise MappingError("suggest: neither x nor y is given", 'write suggest(data, x="…", y="…")')
    columns = {axis: table.need(name, "suggest", axis) for axis, name in (("x", x), ("y", y)) if name is not None}
    if len(columns) == 1:
        axis, column = next(iter(columns.items()))
        return _of_one(axis, column)
    return _of_two(columns["x"], columns["y"])


def _of_one(axis: str, column: Column) -> list[Suggestion]:
    return [Suggestion("bars", f"{column.name!r} on {axis} is {_said(column)}; bars count its rows")]


def _of_two(x: Column, y: Column) -> list[Suggestion]:
    points = Suggestion("points", f"{x.name!r} is {_said(x)} and {y.name!r} is {_said(y)}; a point shows each row")
    if x.discrete and y.discrete:
        return [points]
    if x.discrete or y.discrete:
        bars = _of_heights(x if x.discrete else y, y if x.discrete else x)
        return [points] if bars is None else [bars, points]
    lines = Suggestion("lines", f"{x.name!r} is {_said(x)}; a line shows how {y.name!r} goes on")
    if x.kind == "time":
        return [lines, points]
    return [points, lines]


def _of_heights(slots: Column, values: Column) -> Suggestion | None:
    """Bars, where every category has one row."""
    codes = slots.values[slots.values >= 0]
    if not len(codes) or np.bincount(codes).max() > 1 or values.kind != "number":
        return None
    return Suggestion("bars", f"every {slots.name!r} has one {values.name!r}; its height shows it")


def _said(column: Column) -> str:
    return {"number": "a number", "time": "a time", "yes_no": "yes or no", "ordered": "ordered"}.get(column.kind, "a category")
