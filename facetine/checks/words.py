"""A figure in more sentences: ranges, medians, slopes and the largest difference."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.formats import rounded
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.sheet.built import Built
from facetine.scene.markup import plain

_MOST_GROUPS = 8
_DIGITS = 3


def long_description(made: Built) -> str:
    """The short description, and what the rows say."""
    runs = [run for run in made.runs if len(run.rows)]
    sentences = [made.scene.description]
    seen: set[tuple[str, str]] = set()
    for run in runs:
        for axis in ("x", "y"):
            column = run.columns.get(axis)
            if column is not None and (axis, column.name) not in seen:
                seen.add((axis, column.name))
                sentences += _range(run, axis)
    valued = next((run for run in runs if _measured(run, "y") and len(run.context.groups) > 1), None)
    slotted = next((run for run in runs if _measured(run, "y") and run.context.discrete("x")), None)
    for one, by in ((valued, "group"), (slotted if slotted is not valued or valued is None else None, "x")):
        if one is not None:
            sentences += _medians(one, by, made)
    for run in runs:
        sentences += _slopes(run)
    return " ".join(sentence for sentence in sentences if sentence)


def _measured(run: LayerRun, axis: str) -> bool:
    return axis in run.rows and run.context.kinds.get(axis) == "number"


def _number(value: float) -> str:
    return plain(rounded(value, _DIGITS))


def _range(run: LayerRun, axis: str) -> list[str]:
    """From where to where a column of numbers runs, and its median."""
    own = run.own(axis)
    if not _measured(run, own):
        return []
    values = run.rows[own].astype(float)
    values = values[np.isfinite(values)]
    if not len(values):
        return []
    title = plain(run.context.titles[own].whole)
    ends = _number(float(values.min())), _number(float(values.max()))
    return [f"{title} runs from {ends[0]} to {ends[1]}, with a median of {_number(float(np.median(values)))}."]


def _heaps(run: LayerRun, by: str, made: Built) -> Iterator[tuple[str, FloatArray]]:
    """The values of each group, or of each category on the axis."""
    codes = run.rows.group if by == "group" else run.rows["x"].astype(np.int64)
    axis = made.scales.first("y" if run.horizontal else "x")
    for code in np.unique(codes).tolist():
        values = run.rows["y"][codes == code].astype(float)
        values = values[np.isfinite(values)]
        name = run.context.groups.get(code) if by == "group" else axis.labels[code] if 0 <= code < len(axis.labels) else None
        if name is not None and len(values):
            yield plain(name), values


def _medians(run: LayerRun, by: str, made: Built) -> list[str]:
    """The medians of groups with their ranges, and where they differ most."""
    heaps = list(_heaps(run, by, made))
    if len(heaps) < 2:
        return []
    title = run.context.titles["y"].inside if "y" in run.context.titles else "y"
    medians = [(float(np.median(values)), name) for name, values in heaps]
    lines = []
    if len(heaps) <= _MOST_GROUPS:
        parts = [f"{name} {_summary(values)}" for name, values in heaps]
        lines.append(f"Medians of {plain(title)}, with range and rows: {'; '.join(parts)}.")
    low, high = min(medians), max(medians)
    if high[0] > low[0]:
        unit = run.context.titles["y"].unit if "y" in run.context.titles else ""
        by_how = f"{_number(high[0] - low[0])}{' ' + plain(unit) if unit else ''}"
        lines.append(f"The largest difference of medians is {by_how}, between {high[1]} and {low[1]}.")
    return lines


def _summary(values: FloatArray) -> str:
    """Median, range and rows."""
    ends = f"{_number(float(values.min()))} to {_number(float(values.max()))}"
    return f"{_number(float(np.median(values)))} ({ends}, n = {len(values):,})"


def _slopes(run: LayerRun) -> list[str]:
    """The slopes of straight lines, with their intervals."""
    if not run.layer.fits or "slope" not in run.table or not len(run.table):
        return []
    lines = []
    rows = run.layer.labelled_rows(run.table)
    level = getattr(run.layer, "level", None) or 0.95
    for row in range(len(rows)):
        slope = float(rows["slope"][row])
        if math.isnan(slope):
            continue
        low, high = float(rows["slope_low"][row]), float(rows["slope_high"][row])
        place = run.context.place(rows.take(np.array([row])))
        ends = f" ({100 * level:.6g} % interval {_number(low)} to {_number(high)})" if math.isfinite(low) else ""
        lines.append(f"The fitted slope{' of ' + place if place else ''} is {_number(slope)}{ends}.")
    if len(lines) <= _MOST_GROUPS:
        return lines
    slopes = rows["slope"].astype(float)
    slopes = slopes[np.isfinite(slopes)]
    return [
        f"The fitted slopes of {len(slopes)} lines run from {_number(float(slopes.min()))} to {_number(float(slopes.max()))}."
    ]
