"""Distributions at the edges of panels: figures of their own that share one axis with the figure beside them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import SupportsFloat, cast

import numpy as np

from facetine.core.arrays import BoolArray
from facetine.core.scales.calendar import instant
from facetine.data.expressions import kept, true_where, with_column
from facetine.data.table import Column, Table
from facetine.grammar.aesthetics import TURNED, MapValue
from facetine.grammar.facet import Facet
from facetine.grammar.given import Place
from facetine.grammar.marginal import Marginal
from facetine.grammar.scale import ScaleSpec, transform_of
from facetine.grammar.sentence import Sentence, Titles
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import MappingError, OptionError
from facetine.messages.findings import heard
from facetine.pipeline.composition.level_order import level_name
from facetine.pipeline.composition.limit_shares import by_quantile
from facetine.pipeline.composition.planned import Owners, Planned
from facetine.pipeline.composition.resolve import facet_columns

SLOT = "every row"
"""The column that puts all rows into one slot, for layers that need one."""
UNNAMED = ScaleSpec(format={"": ""})
"""The scale of that slot, which has no name."""
_GROUPING = ("color", "weight", "group")
"""What a marginal takes from the figure besides the axis."""


def planned_marginals(sentence: Sentence) -> tuple[Planned, ...]:
    """The figure itself, then a figure for each of its marginals.

    Raises:
        MappingError: A marginal is to share an axis on which no column of the data stands.
        OptionError: It is to stand at an edge that panels do not share.
    """
    main = with_limits(replace(sentence, marginals=()))
    planned = [Planned(main)]
    for number, marginal in enumerate(sentence.marginals, 1):
        owners = Owners(0, number) if marginal.axis == "x" else Owners(number, 0)
        planned.append(Planned(_sentence(main, marginal), owners, "over" if marginal.axis == "x" else "beside"))
    return tuple(planned)


def _sentence(main: Sentence, marginal: Marginal) -> Sentence:
    """What a marginal says: its layer, of the rows that the panel shows, along the axis that it shares."""
    where, shared = f"figure.marginal({marginal.side!r})", marginal.axis
    own = "y" if shared == "x" else "x"
    # A sentence whose axes are swapped is said the other way round.
    said, said_own = (TURNED[shared], TURNED[own]) if main.swapped else (shared, own)
    mapped, table = mapped_of(main), table_of(main)
    if mapped.get(said) is None or table is None:
        raise MappingError(
            where,
            f"no column stands on the {shared} axis, so there are no rows to be shown along it",
            f"map one with .map({said}=…), or choose a side along the other axis",
        )
    places = {said: mapped.get(said), said_own: mapped.get(said_own)}
    table = shown_rows(main, table, places, where, own_rows=marginal.layer.where is not None)
    taken = {
        name: mapped[name] for name in _GROUPING if mapped.get(name) is not None and _takes(main, table, marginal, name, mapped)
    }
    mapping: dict[str, MapValue] = {said: mapped[said], **taken}
    titles = {name: text for name, text in main.titles.guides.items() if name != said_own}
    scales = {name: spec for name, spec in main.scales.items() if name not in (said_own, "size", "shape", "dash", "opacity")}
    own_scale = ScaleSpec(reverse=True) if marginal.side in ("bottom", "left") else ScaleSpec()
    if marginal.layer.lacks({said: mapped[said]}) is not None or "y" in marginal.layer.required:
        table = with_slot(table)
        mapping[said_own], titles[said_own] = SLOT, ""
        own_scale = UNNAMED
    scales |= with_missing(main, table, taken)
    shared_scale = replace(scales[said], second_axis=None) if said in scales else ScaleSpec()
    layer = marginal.layer
    constant = next((layer.constant("color") for layer in main.layers if layer.constant("color") is not None), None)
    if layer.constant("color") is None and "color" not in mapping and constant is not None and hasattr(layer, "color"):
        layer = replace(layer, color=constant)  # type: ignore[call-arg]
    return replace(
        main,
        table=table,
        mapping=mapping,
        layers=(layer,),
        scales={**scales, said: shared_scale, said_own: own_scale},
        facet=_facet(main.facet, marginal, where),
        titles=Titles(guides=titles),
    )


def with_slot(table: Table) -> Table:
    """A table with a column that puts all rows into one slot."""
    return with_column(table, Column(SLOT, "category", np.zeros(table.height, np.int64), ("",)))


def _takes(main: Sentence, table: Table, marginal: Marginal, name: str, mapped: Mapping[str, MapValue]) -> bool:
    """Whether a marginal's rows are divided or weighed by a column: by a category, never by a number that colors show."""
    value = mapped[name]
    if name == "weight":
        return "weight" in marginal.layer.takes
    if not isinstance(value, str):
        return True
    return value in table.names and (name == "group" or main.column(table, value, "figure.marginal", name).discrete)


def _facet(facet: Facet | None, marginal: Marginal, where: str) -> Facet | None:
    """Panels of a marginal: those of the figure, or one for each column or row of them at its edge."""
    if facet is None:
        if marginal.panels == "edge":
            raise OptionError(where, "panels='edge' has no effect without panels", "add .facet(…)")
        return None
    shared = {axis: how for axis, how in facet.sharing.items() if axis == marginal.axis}
    if marginal.panels == "each":
        return replace(facet, separate=shared or None)
    across = marginal.axis == "x"
    if facet.per_page is not None:
        raise OptionError(where, "panels='edge' counts the rows of all pages, of which each shows some", 'panels="each"')
    if shared and shared[marginal.axis] != ("column" if across else "row"):
        raise OptionError(
            where,
            f"panels='edge' needs one {marginal.axis} axis for all panels behind it, and each has its own",
            'panels="each", or leave out separate=',
        )
    if not facet.crossed:
        if (facet.per_row if across else facet.per_column) != 1:
            raise OptionError(
                where,
                "panels='edge' is for panels in rows and columns, and these are wrapped",
                'panels="each", or facet(columns=…)',
            )
        return None
    variable = facet.columns if across else facet.rows
    if variable is None:
        return None
    single_side = Facet(columns=variable) if across else Facet(rows=variable)
    return replace(single_side, order=facet.order, separate=shared or None)


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
    facets, _ = heard(facet_columns(main, table, "figure.marginal"))
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
