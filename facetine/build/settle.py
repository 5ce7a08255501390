"""From the rows of all layers to settled axes: their ranges, and what their levels are called."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from facetine.build.notes import Notes
from facetine.build.notes import rows as so_many
from facetine.build.split import MISSING, Part, Split
from facetine.core.columns import Columns
from facetine.core.scales.calendar import instant
from facetine.core.scales.formats import escaped
from facetine.core.scales.position import Extent, padded
from facetine.core.scales.transforms import Transform
from facetine.data.codebook import Word
from facetine.errors import OptionError, ScaleError
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.scale import NUMBER_KINDS, ScaleSpec
from facetine.grammar.sentence import Sentence

_MARGIN = 0.04


@dataclass(frozen=True, slots=True)
class Axis:
    """A settled axis."""

    name: str
    """x or y."""
    kind: str
    """linear, log, time or levels."""
    transform: Transform
    extent: Extent
    labels: tuple[str, ...]
    """What the levels are called, in inline markup; empty where there are none."""
    zone: str | None
    spec: ScaleSpec
    title: str
    window: bool
    """Whether limits were said, so that lines and areas end at them."""
    outer: tuple[str, ...] = ()
    """For crossed columns: what the level of the outer ones is called, for each of `labels`."""
    empty: bool = False
    """Whether there is nothing that says its range: neither data nor limits nor included values."""


def guide_title(sentence: Sentence, aesthetic: str, column: str | None) -> str:
    """The title of an axis or legend: the figure's, else the scale's, else the codebook's, else the name as words."""
    said = sentence.titles.guides.get(aesthetic)
    if said is None:
        said = sentence.scale(aesthetic).title
    if said is not None:
        return said
    if column is None:
        return ""
    return " × ".join(sentence.codebook.title(name) for name in column.split(" × "))


def level_texts(levels: Sequence[Any], spec: ScaleSpec, where: str) -> tuple[str, ...]:
    """What levels are called: by the scale's format where there is one; plain data are no markup."""
    return tuple(_level_text(level, spec.format, where) for level in levels)


def _level_text(level: Any, form: Any, where: str) -> str:
    if level is MISSING:
        return str(form.get("missing", "missing")) if isinstance(form, Mapping) else "missing"
    if callable(form):
        return called_format(form, level, where)
    if isinstance(form, Mapping):
        found = form.get(level, form.get(str(level)))
        if found is not None:
            return str(found)
    if isinstance(level, tuple):
        return ", ".join(_level_text(part, None, where) for part in level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    if isinstance(level, Word):
        return level
    return escaped(str(level)) if str(level) else "(blank)"


def called_format(form: Any, value: Any, where: str, what: str = "format") -> str:
    """What a callable format, or heading, makes of a value.

    Raises:
        OptionError: It fails, or returns no text.
    """
    try:
        said = form(value)
    except Exception as problem:
        raise OptionError(f"{where}: {what} failed for {value!r}: {type(problem).__name__}: {problem}") from problem
    if not isinstance(said, str):
        raise OptionError(f"{where}: {what} returned {said!r} for {value!r}, which is no text")
    return said


def settle_axes(sentence: Sentence, split: Split, tables: list[Columns]) -> dict[str, Axis]:
    """The ranges of x and y over all layers and panels.

    Args:
        sentence: What the figure says.
        split: Its rows and levels.
        tables: Each layer's computed rows in axis space, x and y as the reader sees them.

    Raises:
        ScaleError: Limits make no range, or bars stand on a log axis.
    """
    return {axis: _axis(sentence, split, tables, axis) for axis in ("x", "y")}


def _axis(sentence: Sentence, split: Split, tables: list[Columns], axis: str) -> Axis:
    spec = sentence.scale(axis)
    column = split.columns.get(axis)
    title = guide_title(sentence, axis, column.name if column else None)
    if column is None and axis not in sentence.titles.guides and spec.title is None:
        title = _computed_title(split.parts, axis)
    if axis in split.levels:
        count = len(split.levels[axis])
        span = Extent(-0.5, max(count, 1) - 0.5, _reversed(axis, spec))
        labels = level_texts(split.levels[axis], spec, f"figure.scale({axis!r})")
        if spec.limits is not None:
            raise ScaleError(f"figure.scale({axis!r}): limits are for numbers and times", "use order, or .keep the rows")
        levels = split.levels[axis]
        outer: tuple[str, ...] = ()
        if levels and all(isinstance(level, tuple) for level in levels) and spec.format is None:
            where = f"figure.scale({axis!r})"
            labels = level_texts([level[-1] for level in levels], spec, where)
            outer = level_texts([level[:-1] for level in levels], spec, where)
        return Axis(axis, "levels", split.transforms[axis], span, labels, None, spec, title, False, outer)
    transform = split.transforms[axis]
    kind = "time" if column is not None and column.kind == "time" else spec.kind if spec.kind in NUMBER_KINDS else "linear"
    zone = column.zone if column is not None else None
    if kind in ("log", "logit"):
        _refuse_bars_on_log(split.parts, axis, kind)
    low, high = _data_range(tables, axis)
    empty = not low <= high
    if empty:
        low, high = (0.0, 1.0)
    unsaid = empty and spec.limits is None and spec.include is None
    low, high = _with_included(spec, kind, transform, low, high, zone, axis)
    span = _ranged(split, spec, kind, transform, (low, high), zone, axis)
    return Axis(axis, kind, transform, span, (), zone, spec, title, spec.limits is not None, empty=unsaid)


def _reversed(axis: str, spec: ScaleSpec) -> bool:
    # Categories on y are read from the top.
    return (axis == "y") != bool(spec.reverse)


def _computed_title(parts: list[Part], axis: str) -> str:
    """What a layer computed for an axis to which nothing is mapped."""
    for part in parts:
        own = ("x" if part.horizontal else "y") == axis
        if said := part.layer.value_title() if own else part.layer.place_title():
            return said
    return ""


def _refuse_bars_on_log(parts: list[Part], axis: str, kind: str) -> None:
    for part in parts:
        if part.layer.from_zero and ("x" if part.horizontal else "y") == axis:
            raise ScaleError(
                f"figure.{part.layer.verb}: they stand on zero, for which a {kind} axis has no place",
                "draw .points(), or leave the scale linear",
            )


def _data_range(tables: list[Columns], axis: str) -> tuple[float, float]:
    low, high = np.inf, -np.inf
    for table in tables:
        for name, values in table.values.items():
            if POSITIONS.get(name) == axis and len(values):
                low = min(low, float(np.fmin.reduce(values)))
                high = max(high, float(np.fmax.reduce(values)))
    return low, high


def _with_included(
    spec: ScaleSpec, kind: str, transform: Transform, low: float, high: float, zone: str | None, axis: str
) -> tuple[float, float]:
    if spec.include is None:
        return low, high
    given = spec.include if isinstance(spec.include, list | tuple) else (spec.include,)
    for value in given:
        place = _place(value, kind, transform, zone, f"figure.scale({axis!r}): include")
        low, high = min(low, place), max(high, place)
    return low, high


def _ranged(
    split: Split,
    spec: ScaleSpec,
    kind: str,
    transform: Transform,
    data: tuple[float, float],
    zone: str | None,
    axis: str,
) -> Extent:
    """The data's range with room at both ends, or the window that was said."""
    low, high = data
    written_on = any(part.layer.written is not None and ("x" if part.horizontal else "y") == axis for part in split.parts)
    room = (3 * _MARGIN if written_on else _MARGIN) if spec.margin is None else spec.margin
    ends = list(padded(low, high, room))
    if kind in ("sqrt", "power") and low >= 0 > ends[0]:
        ends[0] = 0.0  # below zero there is nothing to show
    standing = any(part.layer.from_zero and ("x" if part.horizontal else "y") == axis for part in split.parts)
    if standing and spec.margin is None and low <= 0 <= high and low < high:
        # Bars grow out of the axis itself.
        ends = [low if low == 0 else ends[0], high if high == 0 else ends[1]]
    if spec.limits is not None:
        where = f"figure.scale({axis!r}): limits"
        for end, value in enumerate(spec.limits):
            if value is not None:
                ends[end] = _place(value, kind, transform, zone, where)
        if not ends[0] < ends[1]:
            raise ScaleError(f"{where} {spec.limits!r} make no range", "the first is below the second; reverse=True turns it")
    return Extent(ends[0], ends[1], bool(spec.reverse))


def _place(value: Any, kind: str, transform: Transform, zone: str | None, where: str) -> float:
    """A value that the analyst wrote, as a place on the axis."""
    if kind == "time":
        return instant(value, zone, where)
    if isinstance(value, bool) or not isinstance(value, int | float | np.number) or not np.isfinite(value):
        raise ScaleError(f"{where}: {value!r} is no number")
    place = transform.forward(np.array([float(value)]))
    if not np.isfinite(place[0]):
        raise ScaleError(f"{where}: {value!r} has no place on a {kind} scale")
    return float(place[0])


def inside(axes: Mapping[str, Axis], table: Columns, clipped: bool, notes: Notes) -> Columns:
    """The rows within the windows that were said; layers that are cut at the edge keep all."""
    if clipped or not any(axis.window for axis in axes.values()):
        return table
    keep = np.ones(len(table), bool)
    for name, axis in axes.items():
        if axis.window and name in table:
            good = axis.extent.holds(table[name])
            gone = int((keep & ~good).sum())
            if gone:
                notes.say(f"{so_many(gone)} outside the limits of {name} not shown")
            keep &= good
    return table if keep.all() else table.take(keep)
