"""From the rows of all layers to settled axes: their ranges, and what their levels are called."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import NamedTuple, cast

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.scales.calendar import instant
from facetine.core.scales.formats import escaped
from facetine.core.scales.kinds import SCALES
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.position import Extent, padded
from facetine.data.table import Column
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.given import Ends
from facetine.grammar.scale import ScaleSpec, is_function
from facetine.messages.errors import KindError, OptionError, ScaleError, told, unknown
from facetine.messages.findings import Saying, each
from facetine.pipeline.composition.level_order import level_name
from facetine.pipeline.composition.limit_shares import by_quantile
from facetine.pipeline.rows.chosen import parts_of
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.rows.runs import Runs, Split
from facetine.pipeline.scales.wording import axis_title, crossed_words, level_texts

_MARGIN = 0.035


class Axis(NamedTuple):
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
    whole: bool = False
    """Whether all its values are whole numbers, between which no tick makes sense."""
    stated: tuple[bool, bool] = (False, False)
    """Which of its ends were said as limits, so that the axis' line reaches them."""
    own_texts: bool = False
    """Whether a function of the analyst's wrote its texts, which is gone once the figure is drawn."""


def settle_axes(splits: Sequence[Split]) -> Saying[dict[AxisKey, Axis]]:
    """The axes by their keys, each with the range of all layers in the panels that stand on it.

    Args:
        splits: The computed layers of each figure on the sheet, and their levels. An axis that several of them share takes
            its kind and its words from the first.

    Raises:
        ScaleError: Limits make no range, or bars stand on a log axis.
    """
    sharing: dict[AxisKey, list[Split]] = {}
    for split in splits:
        for key in dict.fromkeys(panel.key(axis) for axis in ("x", "y") for panel in split.panels):
            sharing.setdefault(key, []).append(split)
    axes = yield from each(_axis(found[0], found, key) for key, found in sharing.items())
    return dict(zip(sharing, axes, strict=True))


class _Standing(NamedTuple):
    """Layers with the panels of theirs that stand on an axis; None for all of them."""

    runs: Runs
    panels: list[int] | None


def _axis(split: Split, sharing: list[Split], key: AxisKey) -> Saying[Axis]:
    axis, standing = key.axis, _panels_on(split, key)
    spec = windowed(split, key)
    column = split.columns.get(axis)
    title = yield from axis_title(split, axis)
    runs = tuple(run for one in sharing for run in one.runs)
    if key in split.places:
        count = len(split.places[key])
        before, behind = _beyond_slots(runs, axis)
        extent = Extent(-0.5 - before, max(count, 1) - 0.5 + behind, _reversed(axis, spec, column))
        _refuse_on_levels(spec, f"figure.scale({axis!r})")
        return _level_axis(split, spec, key, standing, extent, title)
    transform = split.transforms[key]
    kind = _number_kind(spec, column)
    zone = _zone(spec, column, kind, axis)
    # Whoever reads times of their own takes them for local ones.
    told = spec.zone or (zone if zone == "UTC" else None)
    if told is not None and split.sentence.said_title(axis) is None:
        title = f"{title} ({escaped(told)})"
    spec = by_quantile(spec, partial(_values_on, sharing, key), kind == "time", f"figure.scale({axis!r}): limits")
    if kind == "duration":
        transform = SCALES["duration"]()
    if not transform.has_zero:
        _refuse_bars_on_log(runs, axis, kind)
    ends = [_data_range(_Standing(one.runs, _some(one, key)), axis) for one in sharing]
    low, high = min(low for low, _ in ends), max(high for _, high in ends)
    empty = not low <= high
    if empty:
        low, high = (0.0, 1.0)
    unsaid = empty and spec.limits is None and spec.include is None and not isinstance(spec.ticks, tuple)
    low, high = _with_included(spec, kind, transform, low, high, zone, axis)
    extent = _ranged(runs, spec, kind, transform, (low, high), zone, axis)
    limits = ends_of(spec) or (None, None)
    stated = (limits[0] is not None, limits[1] is not None)
    several = math.floor(extent.high) - math.ceil(extent.low) >= 1
    whole = kind == "linear" and not empty and several and _whole(split.runs, axis)
    return Axis(axis, kind, transform, extent, (), zone, spec, title, any(stated), empty=unsaid, whole=whole, stated=stated)


def _zone(spec: ScaleSpec, column: Column | None, kind: str, axis: str) -> str | None:
    """The zone in which times are shown: the scale's, else that of the column."""
    if spec.zone is None:
        return column.zone if column is not None else None
    where = f"figure.scale({axis!r}): zone"
    if kind != "time":
        raise ScaleError(where, f"has no effect on an axis of {'durations' if kind == 'duration' else 'numbers'}", of_option=True)
    if column is None or column.zone is None:
        raise ScaleError(where, "the times have no zone of their own", "give them one in the data frame")
    return spec.zone


def _values_on(sharing: Sequence[Split], key: AxisKey) -> FloatArray:
    """The values that stand on an axis, in the unit of the data: each column's once, else what layers compute."""
    found: dict[tuple[int, str], FloatArray] = {}
    for number, split in enumerate(sharing):
        panels, transform = _panels_on(split, key), split.transforms[key]
        for run in split.runs:
            if run.layer.stands_alone or run.layer.borrows is not None:
                continue
            for name in _on(key.axis):
                own, column = run.own(name), run.columns.get(name)
                rows = run.rows if column is not None and own in run.rows else run.table
                if own not in rows or (column is None and run.columns.keys() & _on(key.axis)):
                    continue
                there = rows[own][np.isin(rows.panel, panels)].astype(float)
                values = there if rows is run.rows else transform.inverse(there)
                found.setdefault((number, column.name if column is not None else run.layer.verb), values)
    return np.concatenate([np.zeros(0), *found.values()])


def _on(axis: str) -> set[str]:
    """The aesthetics that are places on an axis."""
    return {name for name, its in POSITIONS.items() if its == axis}


def _panels_on(split: Split, key: AxisKey) -> list[int]:
    return [panel.number for panel in split.panels if panel.key(key.axis) == key]


def _some(split: Split, key: AxisKey) -> list[int] | None:
    """The panels of a figure that stand on an axis; None for all of them."""
    standing = _panels_on(split, key)
    return standing if len(standing) < len(split.panels) else None


def _beyond_slots(runs: Runs, axis: str) -> tuple[float, float]:
    """Room beyond the first and the last category, in slots: what the layer that reaches farthest needs."""
    reaches = [run.layer.beyond_slots() for run in runs if run.value_axis != axis]
    return max((first for first, _ in reaches), default=0.0), max((last for _, last in reaches), default=0.0)


def _number_kind(spec: ScaleSpec, column: Column | None) -> str:
    """The kind of an axis of numbers: the scale's, else that of the column."""
    if column is not None and column.kind == "time":
        return "time"
    if is_function(spec.kind):
        return str(spec.kind)
    return "duration" if column is not None and column.stored == "duration" and spec.format is None else "linear"


def _level_axis(split: Split, spec: ScaleSpec, key: AxisKey, panels: list[int], extent: Extent, title: str) -> Axis:
    levels, axis = split.places[key], key.axis
    where = f"figure.scale({axis!r})"
    counts = _level_counts(split, axis, panels, len(levels))
    outer: tuple[str, ...] = ()
    crossed = [level for level in levels if isinstance(level, tuple)]
    column = split.columns.get(axis)
    names = split.sentence.crossed_names(column.name) if column is not None else ()
    if levels and len(crossed) == len(levels) and spec.format is None:
        words = crossed_words(crossed, names, where)
        labels, outer = tuple(parts[-1] for parts in words), tuple(", ".join(parts[:-1]) for parts in words)
    else:
        labels = level_texts(levels, spec, where, counts, columns=names)
    return Axis(axis, "levels", split.transforms[key], extent, labels, None, spec, title, False, outer)


def _refuse_on_levels(spec: ScaleSpec, where: str) -> None:
    """Refuses what an axis of categories has no use for."""
    if spec.limits is not None:
        raise ScaleError(where, "limits are for numbers and times", "use order, or .keep the rows")
    if spec.ticks not in (None, 0, ()) or spec.minor_ticks:
        what = "minor_ticks" if spec.minor_ticks else "ticks"
        raise ScaleError(
            where,
            f"{what} are for numbers and times, and this axis has categories, all of which are named",
            "order= says which come when, format= how they are called, ticks=0 that none is named",
        )
    for name in ("margin", "include", "zone"):
        if getattr(spec, name) is not None:
            raise ScaleError(where, f"{name} is for numbers and times, and this axis has categories", "leave it out")


def _level_counts(split: Split, axis: str, panels: list[int], count: int) -> list[int]:
    """How many rows of the first layer that shows an axis each of its levels has."""
    for run in split.runs:
        own = run.own(axis)
        if axis in run.columns and own in run.rows:
            there = run.rows[own][np.isin(run.rows.panel, panels)] if len(panels) < len(split.panels) else run.rows[own]
            counts: list[int] = np.bincount(there.astype(np.int64), minlength=count).tolist()
            return counts
    return [0] * count


def _whole(runs: Runs, axis: str) -> bool:
    """Whether whatever stands on an axis is whole: columns of whole numbers, and counts of them."""
    for run in runs:
        if run.layer.stands_alone or run.layer.borrows is not None:
            continue
        value = axis == run.value_axis
        drawn = (run.layer.value_drawn if value else run.layer.place_drawn)(run.context)
        if drawn is None:
            continue
        if run.own(axis) in run.layer.as_share():
            return False
        column = run.columns.get(axis)
        if drawn.title == "Count" or (column is not None and not drawn.title):
            values = (
                run.table.get(axis)
                if drawn.title or drawn.how not in ("", "min", "max", "sum")
                else column.values
                if column
                else None
            )
            if values is None or not _all_whole(values):
                return False
        else:
            return False
    return True


def _all_whole(values: FloatArray) -> bool:
    there = values[~np.isnan(values)]
    return len(there) > 0 and bool(np.all(there == np.rint(there))) and float(np.abs(there).max()) < 1e15


def _reversed(axis: str, spec: ScaleSpec, column: Column | None) -> bool:
    # Categories on y are read from the top; but yes is more than no, and so above it, as the share of yes is.
    upwards = column is not None and column.kind == "yes_no" and not spec.order
    return (axis == "y" and not upwards) != bool(spec.reverse)


def _refuse_bars_on_log(runs: Runs, axis: str, kind: str) -> None:
    for run in runs:
        if run.layer.from_zero and run.value_axis == axis:
            raise ScaleError(
                f"figure.{run.layer.verb}",
                f"they stand on zero, for which a {kind} axis has no place",
                "draw .points(), or leave the scale linear",
            )


def _data_range(standing: _Standing, axis: str) -> tuple[float, float]:
    """The range of all rows, or of those in some panels."""
    low, high = np.inf, -np.inf
    for run in standing.runs:
        table = run.layer.reaching(run.table)
        if standing.panels is not None and len(table):
            table = run.layer.spanning(table.take(np.isin(table.panel, standing.panels)))
        for name, values in table.values.items():
            if POSITIONS.get(name) == axis and len(values):
                low = min(low, float(np.fmin.reduce(values)))
                high = max(high, float(np.fmax.reduce(values)))
    return low, high


def _with_included(
    spec: ScaleSpec, kind: str, transform: Transform, low: float, high: float, zone: str | None, axis: str
) -> tuple[float, float]:
    """A range with what was asked to be on it: the values of include=, and ticks that were listed, where no limits end it."""
    include = () if spec.include is None else spec.include if isinstance(spec.include, list | tuple) else (spec.include,)
    ticks = spec.ticks if isinstance(spec.ticks, tuple) and spec.limits is None else ()
    for option, given in (("include", include), ("ticks", ticks)):
        for value in given:
            place = _place(value, kind, transform, zone, f"figure.scale({axis!r}): {option}")
            low, high = min(low, place), max(high, place)
    return low, high


def _ranged(
    runs: Runs,
    spec: ScaleSpec,
    kind: str,
    transform: Transform,
    data: tuple[float, float],
    zone: str | None,
    axis: str,
) -> Extent:
    """The data's range with room at both ends, or the window that was said."""
    low, high = data
    written_on = any(run.layer.value_template is not None and run.value_axis == axis for run in runs)
    room = (3 * _MARGIN if written_on else _MARGIN) if spec.margin is None else spec.margin
    ends = list(padded(low, high, room))
    if transform.one_sided and low >= 0 > ends[0]:
        ends[0] = 0.0  # below zero there is nothing to show
    on_zero = [run for run in runs if run.layer.from_zero and run.value_axis == axis]
    if on_zero and kind == "time":
        first = on_zero[0]
        # What the layer computes has no column there; another layer's column brings the times.
        column = first.columns.get(axis)
        holder = repr(column.name) if column is not None else "the axis"
        raise KindError(
            first.context.where,
            f"a length on {axis} is counted from zero, and {holder} holds times",
            ".points() show times; .segments(map={…}) and .intervals(map={…}) reach from one time to another",
        )
    if on_zero and spec.margin is None and low <= 0 <= high and low < high:
        # Bars grow out of the axis itself.
        ends = [low if low == 0 else ends[0], high if high == 0 else ends[1]]
    said = ends_of(spec)
    if said is not None:
        where = f"figure.scale({axis!r}): limits"
        for end, value in enumerate(said):
            if value is not None:
                ends[end] = _place(value, kind, transform, zone, where)
        if not ends[0] < ends[1]:
            raise ScaleError(
                where, f"{said!r} make no range", "the first is below the second; reverse=True turns it", of_option=True
            )
        _keep_zero(runs, said, axis, ends, where)
    return Extent(ends[0], ends[1], bool(spec.reverse))


def _keep_zero(runs: Runs, said: Ends, axis: str, ends: list[float], where: str) -> None:
    """Refuses a window that leaves out the zero from which lengths are compared."""
    if ends[0] <= 0 <= ends[1]:
        return
    for run in runs:
        if run.layer.stands and run.value_axis == axis:
            near = (0, said[1]) if ends[0] > 0 else (said[0], 0)
            raise ScaleError(
                where,
                f"{said!r} leave out zero, on which {run.layer.verb} stand: their lengths would say nothing",
                f"limits={near!r}, or .points(), which need no zero",
                of_option=True,
            )


def _place(value: object, kind: str, transform: Transform, zone: str | None, where: str) -> float:
    """A value that the analyst wrote, as a place on the axis."""
    if kind == "time":
        return instant(value, zone, where)
    if not is_number(value):
        raise ScaleError(where, f"{told(value)} is no number")
    place = transform.forward(np.array([float(value)]))
    if not np.isfinite(place[0]):
        raise ScaleError(where, f"{value!r} has no place on a {kind} scale")
    return float(place[0])


def ends_of(spec: ScaleSpec) -> Ends | None:
    """The window of a scale whose limits are those of one axis."""
    return cast("Ends | None", spec.limits)


def windowed(split: Split, key: AxisKey) -> ScaleSpec:
    """What was said of a scale, with the limits of one axis where those of single panels were said.

    Raises:
        OptionError: Limits name a panel that is not there.
        ScaleError: A panel that they name shares its axis with others.
    """
    spec = split.sentence.scale(key.axis)
    if not isinstance(spec.limits, Mapping):
        return spec
    where = f"figure.scale({key.axis!r}): limits"
    facet, levels = split.sentence.facet, split.levels.get("facet", ())
    if facet is None:
        raise OptionError(where, "of panels have no effect without panels", "add .facet(…), or give two ends", of_option=True)
    words: dict[str, set[int]] = {}
    for number, level in enumerate(levels):
        for name in (level_name(level), *(level_name(part(level)) for part in parts_of(facet).values())):
            words.setdefault(name, set()).add(number)
    standing = {panel.number for panel in split.panels if panel.key(key.axis) == key}
    own: Ends | None = None
    for name, ends in spec.limits.items():
        if name not in words:
            raise unknown(OptionError, where, "no panel", name, tuple(words), "panels")
        if standing <= words[name]:
            own = ends
        elif standing & words[name]:
            raise ScaleError(
                where,
                f"the panel {name!r} shares its {key.axis} axis with others",
                f'separate="{key.axis}" in .facet(…) gives each its own',
            )
    return replace(spec, limits=own)
