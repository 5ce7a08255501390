"""Texts that layers write from what they computed."""

from __future__ import annotations

import string
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from facetine.core.color.spaces import contrast, from_hex
from facetine.core.columns import Columns
from facetine.core.scales.formats import MINUS
from facetine.errors import OptionError, unknown
from facetine.layers.base import DrawnLayer, Look
from facetine.scene.marks import Region, Text
from facetine.scene.typeset import TextStyle, set_text

DARK, LIGHT = "#1c1f24", "#ffffff"


def template(value: Any, where: str) -> str:
    """A template such as "{count:,}" or "{share:.0%}".

    Raises:
        OptionError: It is none.
    """
    if not isinstance(value, str):
        raise OptionError(f'{where} is a template such as "{{count:,}}", not {value!r}')
    try:
        list(string.Formatter().parse(value))
    except ValueError as problem:
        raise OptionError(f"{where}: {value!r} is no template: {problem}") from problem
    return value


def written(form: str, rows: Columns, where: str) -> list[str]:
    """The template filled with each row's computed values.

    Raises:
        OptionError: It names a value that is not computed, or a format that does not suit it.
    """
    names = [name for _, name, _, _ in string.Formatter().parse(form) if name is not None]
    for name in names:
        if name not in rows:
            raise unknown(OptionError, where, "no computed value", name, rows.values, "computed values")
    columns = {name: rows[name].tolist() for name in names}
    texts = []
    for row in range(len(rows)):
        try:
            text = form.format(**{name: column[row] for name, column in columns.items()})
        except (ValueError, TypeError) as problem:
            raise OptionError(f"{where}: {form!r} can't be filled: {problem}") from problem
        texts.append("" if "nan" in text else text.replace("-", MINUS))
    return texts


def readable(fill: str) -> str:
    """The ink, dark or light, that stands out more from a color."""
    shade = from_hex([fill])
    dark, light = (contrast(shade, from_hex([ink])[0])[0] for ink in (DARK, LIGHT))
    return DARK if dark >= light else LIGHT


def value_texts(
    layer: DrawnLayer, rows: Columns, looks: Mapping[str, Look], horizontal: bool, type_: TextStyle
) -> Iterator[Text]:
    """What is computed, written on the marks: inside where they are filled and large enough, else at their end."""
    assert layer.written is not None
    where = f"figure.{layer.verb}: value_labels"
    rows = layer.labelled_rows(rows)
    texts = written(layer.written, rows, where)
    inside_only = getattr(layer, "arrange", "") in ("stack", "share") and len(np.unique(rows.group)) > 1
    inside_only = inside_only or layer.verb == "cells"
    taken: list[Region] = []
    for row, text in enumerate(texts):
        if not text:
            continue
        x = sorted((float(rows["x_low"][row]), float(rows["x_high"][row])))
        y = sorted((float(rows["y_low"][row]), float(rows["y_high"][row])))
        block = set_text(text, type_)
        middle = (x[0] + x[1]) / 2, (y[0] + y[1]) / 2
        if inside_only:
            if block.width <= x[1] - x[0] and type_.size <= y[1] - y[0]:
                ink = readable(looks["color"].of(int(rows["row number"][row]) if "row number" in rows else row))
                yield from set_text(text, type_._replace(color=ink)).placed(
                    middle[0], middle[1] - type_.cap / 2, 0.5, role="value"
                )
            continue
        if horizontal:
            placed = list(block.placed(x[1] + 0.35 * type_.size, middle[1] - type_.cap / 2, role="value"))
        else:
            placed = list(block.placed(middle[0], y[0] - type_.cap - 0.35 * type_.size, 0.5, role="value"))
        # A value that would run into its neighbour's says less than none.
        if not any(line.box.overlaps(other, -0.5) for line in placed for other in taken):
            taken += [line.box for line in placed]
            yield from placed
