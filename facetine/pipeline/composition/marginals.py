"""Distributions at the edges of panels: figures of their own that share one axis with the figure beside them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from facetine.data.expressions import with_column
from facetine.data.table import Column, Table
from facetine.grammar.aesthetics import TURNED, MapValue
from facetine.grammar.facet import Facet
from facetine.grammar.marginal import Marginal
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence, Titles
from facetine.messages.errors import MappingError, OptionError
from facetine.pipeline.composition.marginal_rows import mapped_of, shown_rows, table_of, with_limits, with_missing
from facetine.pipeline.composition.planned import Owners, Planned

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
            f"{where}: no column stands on the {shared} axis, so there are no rows to be shown along it",
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
            raise OptionError(f"{where}: panels='edge' has no effect without panels", "add .facet(…)")
        return None
    shared = {axis: how for axis, how in facet.sharing.items() if axis == marginal.axis}
    if marginal.panels == "each":
        return replace(facet, separate=shared or None)
    across = marginal.axis == "x"
    if facet.per_page is not None:
        raise OptionError(f"{where}: panels='edge' counts the rows of all pages, of which each shows some", 'panels="each"')
    if shared and shared[marginal.axis] != ("column" if across else "row"):
        raise OptionError(
            f"{where}: panels='edge' needs one {marginal.axis} axis for all panels behind it, and each has its own",
            'panels="each", or leave out separate=',
        )
    if not facet.crossed:
        if (facet.per_row if across else facet.per_column) != 1:
            raise OptionError(
                f"{where}: panels='edge' is for panels in rows and columns, and these are wrapped",
                'panels="each", or facet(columns=…)',
            )
        return None
    variable = facet.columns if across else facet.rows
    if variable is None:
        return None
    single_side = Facet(columns=variable) if across else Facet(rows=variable)
    return replace(single_side, order=facet.order, separate=shared or None)
