"""The levels of discrete aesthetics over all layers, in their order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.scales.position import natural_key
from facetine.data.table import Column, Levels, no_column
from facetine.errors import KindError, OptionError, unknown
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.sentence import Sentence

_MOST_PANELS = 200
MISSING = type("Missing", (), {"__repr__": lambda _: "missing", "__str__": lambda _: "missing"})()
"""The level of rows without a value, where they are shown."""
Used = Iterable[Mapping[str, Column]]


def kind_words(column: Column) -> str:
    """What a column holds, in words."""
    return {"category": "categories", "ordered": "ordered categories", "time": "times", "yes_no": "truth values"}.get(
        column.kind, "numbers"
    )


def all_levels(sentence: Sentence, used_by: Used, facets: list[Column], names: tuple[str, ...]) -> dict[str, Levels]:
    """The levels of every discrete aesthetic over all layers, in their order, and those of the facet.

    Args:
        sentence: What the figure says.
        used_by: The columns of each layer by aesthetic, also those that only make groups.
        facets: The facet's column in each layer that has it.
        names: The columns of the first layer's table, for the error.
    """
    used: dict[str, list[Column]] = {}
    for columns in used_by:
        for aesthetic, column in columns.items():
            used.setdefault(POSITIONS.get(aesthetic, aesthetic), []).append(column)
    levels: dict[str, Levels] = {}
    for aesthetic, found in used.items():
        _one_kind(aesthetic, found)
        if found[0].discrete:
            spec = sentence.scale(aesthetic)
            order = spec.order or sentence.said_order(found[0].name)
            known = sentence.codebook.entry(found[0].name).known
            ordered = ordered_levels(found, order, f"figure.scale({aesthetic!r})", known)
            shown = sentence.missing_policy(aesthetic, found[0].name) not in (None, "drop") and any(
                column.missing.any() for column in found
            )
            levels[aesthetic] = (*ordered, MISSING) if shown else ordered
    if sentence.facet is not None:
        levels["facet"] = _facet_levels(sentence, facets, names)
    return levels


def _facet_levels(sentence: Sentence, facets: list[Column], names: tuple[str, ...]) -> Levels:
    assert sentence.facet is not None
    by = sentence.facet.by
    if not facets:
        raise no_column(by, names, "figure.facet", "the panels")
    order = sentence.facet.order or sentence.said_order(by)
    levels = ordered_levels(facets, order, "figure.facet", sentence.codebook.entry(by).known)
    if len(levels) > _MOST_PANELS:
        raise KindError(
            f"figure.facet: {by!r} holds {len(levels)} different values",
            f"a facet makes a panel for each value; {_MOST_PANELS} panels are the most",
        )
    return levels


def _one_kind(aesthetic: str, columns: list[Column]) -> None:
    """All layers must put things of one kind on one scale."""
    sorts = {"levels" if column.discrete else column.kind: column for column in columns}
    if len(sorts) > 1:
        first, second = list(sorts.values())[:2]
        raise KindError(
            f"figure: {aesthetic} holds {kind_words(first)} ({first.name!r}) in one layer and "
            f"{kind_words(second)} ({second.name!r}) in another",
            "one scale shows one kind; .kinds(…) reads a column as another",
        )
    zones = {column.zone is None: column for column in columns if column.kind == "time"}
    if len(zones) > 1:
        raise KindError(
            f"figure: {aesthetic} holds times with a time zone ({zones[False].name!r}) and without one ({zones[True].name!r})",
            "give both a zone, or neither, in the data frame",
        )


def ordered_levels(columns: list[Column], order: Levels | None, where: str, known: tuple[str, ...] = ()) -> Levels:
    """The levels that occur: first those of the given order, then by the data's own order, else in natural order.

    Raises:
        OptionError: The given order names a level that neither a column nor the codebook (`known`) has.
    """
    occurring: dict[object, None] = {}
    own = False
    for column in columns:
        own = own or column.own_order or column.kind == "yes_no"
        counts = np.bincount(column.values[column.values >= 0], minlength=len(column.levels))
        for level, count in zip(column.levels, counts.tolist(), strict=True):
            if count:
                occurring[level] = None
    found = list(occurring)
    if not own and len(columns) > 1:
        found.sort(key=lambda level: natural_key(str(level)))
    if not order:
        return tuple(found)
    by_text = {str(level): level for level in found}
    there = {*known, *(str(level) for column in columns for level in column.levels)}
    first = []
    for level in order:
        if str(level) in by_text:
            first.append(by_text[str(level)])
        elif there and str(level) not in there and columns:
            raise _no_level(level, [*found, *known], where)
    return (*first, *(level for level in found if level not in set(first)))


def _no_level(level: object, found: list[object], where: str) -> OptionError:
    error = unknown(OptionError, where, "order has no level", level, dict.fromkeys(map(str, found)), "levels")
    assert isinstance(error, OptionError)
    return error


def coded(column: Column, levels: Levels) -> IntArray:
    """Positions among the scale's levels instead of the column's own."""
    lost = len(levels) - 1 if levels and levels[-1] is MISSING else -1
    if column.levels == levels and lost == -1:
        return column.values
    position = {level: number for number, level in enumerate(levels)}
    table = np.array([*(position.get(level, -1) for level in column.levels), lost], np.int64)
    result: IntArray = table[column.values]
    return result
