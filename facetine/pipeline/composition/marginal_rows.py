"""The rows that the panel of a marginal shows, which are those that it counts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import SupportsFloat, cast

import numpy as np

from facetine.core.arrays import BoolArray
from facetine.core.scales.calendar import instant
from facetine.data.expressions import kept, true_where
from facetine.data.table import Column, Table
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Place
from facetine.grammar.scale import ScaleSpec, transform_of
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.pipeline.composition.level_order import level_name
from facetine.pipeline.composition.limit_shares import by_quantile
from facetine.pipeline.composition.resolve import facet_columns


def mapped_of(main: Sentence) -> Mapping[str, MapValue]:
    """The figure's mapping, with what its layers map where it says nothing."""
    mapped: dict[str, MapValue] = {}
    for layer in reversed(main.layers):
        mapped |= {name: value for name, value in layer.map.items() if value is not None}
    return {**mapped, **main.mapping}


def table_of(main: Sentence) -> Table | None:
    """The figure's table, or the first one that a layer brings."""
    return main.table if main.table is not None else next((layer.data for layer in main.layers if layer.data is not None), None)


def with_missing(main: Sentence, table: Table, taken: Mapping[str, MapValue]) -> dict[str, ScaleSpec]:
    """The scale of colors, with rows that have none counted where the panel shows them."""
    name = taken.get("color")
    if not isinstance(name, str) or name not in table.names:
        return {}
    if not main.column(table, name, "figure.marginal", "color").missing.any():
        return {}
    policy = main.missing_policy("color", name)
    shown = any(isinstance(layer, DrawnLayer) and layer.a_mark_each({**main.mapping, **layer.map}) for layer in main.layers)
    return {"color": replace(main.scale("color"), missing="show")} if policy is None and shown else {}


def shown_rows(main: Sentence, table: Table, places: Mapping[str, MapValue], where: str, *, own_rows: bool) -> Table:
    """The rows that stand in a panel: that some layer draws, with a place on both axes within their limits."""
    there = np.ones(table.height, bool)
    drawn = [layer for layer in main.layers if isinstance(layer, DrawnLayer) and not layer.stands_alone and layer.borrows is None]
    parts = [layer.where for layer in drawn if layer.data is None]
    if not own_rows and parts and all(part is not None for part in parts):
        there = np.logical_or.reduce([true_where(part, table, f"{where}: where") for part in parts if part is not None])
    for aesthetic in _MISSED:
        name = main.mapping.get(aesthetic)
        if isinstance(name, str) and name in table.names and drawn and all(_needs(layer, aesthetic) for layer in drawn):
            there &= ~main.column(table, name, "figure.marginal", aesthetic).missing
    facets = facet_columns(main, table, "figure.marginal")
    for column in facets:
        there &= ~column.missing
    for axis, name in places.items():
        if isinstance(name, str) and name in table.names:
            column = main.column(table, name, "figure.marginal", "a place")
            there &= ~column.missing
            if not column.discrete:
                there &= _in_limits(main.scale(axis), column, facets, f"figure.scale({axis!r}): limits")
    return table if there.all() else kept(table, there)


_MISSED = ("size", "opacity", "line_width")
"""Looks without which a row is not drawn."""


def _needs(layer: DrawnLayer, aesthetic: str) -> bool:
    return aesthetic in layer.takes and layer.constant(aesthetic) is None and aesthetic not in layer.map


def with_limits(main: Sentence) -> Sentence:
    """A figure whose limits, where they were said as shares of the rows, are values: the same for it and for its marginals."""
    table, mapped, scales = table_of(main), mapped_of(main), dict(main.scales)
    for axis in ("x", "y"):
        name = mapped.get(axis)
        if axis not in scales or table is None or not isinstance(name, str) or name not in table.names:
            continue
        column = main.column(table, name, f"figure.scale({axis!r})", "limits")
        if not column.discrete:
            there = column.values[transform_of(scales[axis]).admits(column.values)]
            scales[axis] = by_quantile(
                scales[axis], partial(np.asarray, there), column.kind == "time", f"figure.scale({axis!r}): limits"
            )
    return replace(main, scales=scales)


def _in_limits(spec: ScaleSpec, column: Column, facets: tuple[Column, ...], where: str) -> BoolArray:
    """Where a number or a time has a place on its axis, within the limits that were said for it or its panel, shape (n,)."""
    values, limits = column.values, spec.limits
    inside: BoolArray = np.isfinite(values) & transform_of(spec).admits(values)
    every = np.ones(len(values), bool)
    said = limits if isinstance(limits, Mapping) else {} if limits is None else {None: limits}
    for panel, ends in said.items():
        here = every if panel is None else _in_panel(panel, facets)
        for end, beyond in zip(ends, (np.less, np.greater), strict=True):
            if end is not None:
                inside &= ~(here & beyond(values, _place(end, column, where)))
    return inside


def _in_panel(name: str, facets: tuple[Column, ...]) -> BoolArray:
    """Which rows stand in a panel that is called so, or in one of a row or a column of panels, shape (n,)."""
    words = [np.array([*map(level_name, column.levels), ""], object)[column.values] for column in facets]
    whole = words[0] if len(words) == 1 else words[0] + ", " + words[1]
    found: BoolArray = np.logical_or.reduce([word == name for word in (whole, *words)])
    return found


def _place(end: Place, column: Column, where: str) -> float:
    return instant(end, column.zone, where) if column.kind == "time" else float(cast("SupportsFloat", end))
