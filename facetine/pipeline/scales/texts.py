"""Templates filled with what layers computed: every name is a value in the unit of the data."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.scales.readback import number_read
from facetine.core.scales.templates import Field, parsed
from facetine.core.scales.values import Sort, value_texts
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.layers.context import Computed
from facetine.layers.values import VALUE_TEXT, check_names
from facetine.messages.errors import OptionError
from facetine.pipeline.rows.panels import Panels
from facetine.pipeline.rows.runs import LayerRun, Runs
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.look_scales import LookScale, Scales

FORMAT_LOSS = "format loss"
"""The column of a table with how far the texts of a format that was given are from their numbers, as a share of these."""


class Told(NamedTuple):
    """Values in the unit of the data, one a row."""

    values: list[Any]
    """None where there is none."""
    sort: Sort
    zone: str | None


def with_texts(run: LayerRun, runs: Runs, scales: Scales, panels: Panels) -> LayerRun:
    """A layer with the text of each of its rows, where it writes one.

    Args:
        run: The layer.
        runs: All layers, of which it may take the rows of one.
        scales: The settled axes and looks.
        panels: Those of the figure, each of which may have axes of its own.

    Raises:
        OptionError: The template names what is not computed, or a format does not suit its value.
    """
    form = run.layer.text_template
    if form is None:
        return run
    rows = run.table
    source = run if run.borrowed_from is None else runs[run.borrowed_from]
    option = "text" if run.borrowed_from is not None else "value_labels" if run.layer.value_template is not None else "label"
    where = f"{run.context.where}: {option}"
    names = source.layer.names_told(source.context, source.horizontal)
    check_names(form, names, where)
    template = parsed(form)
    columns: dict[Field, list[str]] = {}
    absent = np.zeros(len(rows), bool)
    loss = np.zeros(len(rows))
    for field in template.parts:
        if isinstance(field, str):
            continue
        values, sort, zone = values_told(source, rows, field.name, names[field.name], scales, panels)
        try:
            texts = value_texts(values, field.form, sort, zone)
        except ValueError as problem:
            raise OptionError(where, f"{{{field.name}:{field.form}}}: {problem}") from problem
        if field.form and sort in ("number", "count"):
            loss = np.fmax(loss, [_lost(text, value) for text, value in zip(texts, values, strict=True)])
        absent |= np.array([text is None for text in texts], bool)
        columns[field] = ["" if text is None else text for text in texts]
    made = np.array(["", *template.filled(columns, len(rows))], object)[1:]
    made[absent] = ""
    return run._replace(table=rows.put(**{VALUE_TEXT: made, FORMAT_LOSS: loss}))


def _lost(text: str | None, value: float) -> float:
    """How far what a format wrote is from its number, as a share of it; 0 where it can't be read."""
    read = math.nan if text is None else number_read(text)
    return abs(read - value) / abs(value) if math.isfinite(read) and math.isfinite(value) and value else 0.0


def values_told(source: LayerRun, rows: Columns, name: str, entry: Computed, scales: Scales, panels: Panels) -> Told:
    """The values that a layer computed under a name, in the unit of the data.

    Args:
        source: The layer.
        rows: Its rows in axis space, x and y as the reader sees them.
        name: What is asked for.
        entry: What that is.
        scales: The settled axes and looks.
        panels: Those of the figure.
    """
    column = entry.column or name
    on_axis: str | None = entry.sort if entry.sort in ("x", "y") else None
    in_axis = source.layer.works_in == "axis"
    if name in ("x", "y"):
        # Templates speak of x and y as the reader sees them, layers as they stand themselves.
        on_axis = TURNED[name] if source.horizontal else name
        column = f"{on_axis} value"
    elif column in POSITIONS:
        column, in_axis = (TURNED[column] if source.horizontal else column), True
    if entry.sort == "color":
        return _color_values(rows, scales.looks.get("color"))
    values = rows.values[column]
    if entry.sort == "words":
        return Told(values.tolist(), "words", None)
    if on_axis is None:
        return Told(values.astype(float).tolist(), "count" if entry.sort == "count" else "number", None)
    made: list[Any] = [None] * len(rows)
    sort, zone = "number", None
    standing = {panel.number: scales.under(panel)[source.own(on_axis)] for panel in panels}
    for panel in np.unique(rows.panel).tolist():
        # Panels may have levels and transforms of their own.
        axis, which = standing[panel], np.flatnonzero(rows.panel == panel)
        sort, zone = "words" if axis.kind == "levels" else "time" if axis.kind == "time" else "number", axis.zone
        for row, value in zip(which.tolist(), _on_axis(values[which], axis, in_axis), strict=True):
            made[row] = value
    return Told(made, sort, zone)  # type: ignore[arg-type]


def _on_axis(values: FloatArray, axis: Axis, in_axis: bool) -> list[Any]:
    """Places on an axis, or values that belong to it, as values of the data."""
    if axis.kind == "levels":
        return [axis.labels[code] if 0 <= code < len(axis.labels) else None for code in values.astype(np.int64).tolist()]
    in_data = np.where(np.isfinite(values), axis.transform.inverse(values) if in_axis else values, np.nan)
    return _rounded(in_data) if in_axis and not axis.transform.even else in_data.tolist()


def _rounded(values: Any) -> list[float]:
    """Values that went to an axis and back, without the noise of the way."""
    return [float(f"{value:.13g}") for value in values.tolist()]


def _color_values(rows: Columns, scale: LookScale | None) -> Told:
    values = rows.values["color"]
    if scale is not None and scale.kind == "levels":
        labels = scale.labels
        return Told([labels[int(code)] if code >= 0 else None for code in values.tolist()], "words", None)
    sort: Sort = "time" if scale is not None and scale.kind == "time" else "number"
    return Told(values.astype(float).tolist(), sort, scale.zone if scale is not None else None)
