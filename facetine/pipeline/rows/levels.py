"""The levels of discrete aesthetics over all layers, in their order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from itertools import product

from facetine.data.expressions import crossed
from facetine.data.kind_words import kind_words
from facetine.data.sequences import calendar_order, ranked
from facetine.data.table import Column, Levels, no_column
from facetine.grammar.aesthetics import LOOKS, POSITIONS
from facetine.grammar.facet import Facet
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, KindError, OptionError, listed
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.composition.level_order import MISSING, listed_order, ordered_levels

_MOST_PANELS = 400
"""On one page."""
_MOST_IN_ALL = 10_000
"""On all pages."""
Used = Iterable[Mapping[str, Column]]


def all_levels(
    sentence: Sentence,
    used_by: Used,
    facets: list[tuple[Column, ...]],
    names: tuple[str, ...],
    gray: frozenset[str] = frozenset(),
) -> Saying[dict[str, Levels]]:
    """The levels of every discrete aesthetic over all layers, in their order, and those of the facet.

    Args:
        sentence: What the figure says.
        used_by: The columns of each layer by aesthetic, also those that only make groups.
        facets: The facet's columns in each layer that has them.
        names: The columns of the first layer's table, for the error.
        gray: Aesthetics for which some layer draws rows without a value, though nothing is said of them.
    """
    used: dict[str, list[Column]] = {}
    for columns in used_by:
        for aesthetic, column in columns.items():
            used.setdefault(POSITIONS.get(aesthetic, aesthetic), []).append(column)
    levels: dict[str, Levels] = {}
    for aesthetic, found in used.items():
        _one_kind(aesthetic, found)
    for aesthetic, found in _with_alike(sentence, used).items():
        spec = sentence.scale(aesthetic)
        if spec.order and not found[0].discrete:
            raise OptionError(
                f"figure.scale({aesthetic!r})",
                f"order has no effect on {kind_words(found[0])} ({found[0].name!r})",
                f'.kinds({found[0].name}="category") makes them categories',
            )
        if found[0].discrete:
            order = listed_order(spec.order) or sentence.said_order(found[0].name)
            known = sentence.codebook.entry(found[0].name).known
            ordered = yield from ordered_levels(found, order, f"figure.scale({aesthetic!r})", known)
            if not order:
                ordered = yield from _known_order(found, ordered, f"figure.scale({aesthetic!r})")
            policy = sentence.missing_policy(aesthetic, found[0].name)
            shown = (policy or ("show" if aesthetic in gray else "drop")) != "drop"
            shown = shown and any(column.missing.any() for column in found)
            levels[aesthetic] = (*ordered, MISSING) if shown else ordered
    if sentence.facet is not None:
        levels["facet"], levels["facet columns"] = yield from _facet_levels(sentence, facets, names)
    return levels


def _with_alike(sentence: Sentence, used: Mapping[str, list[Column]]) -> dict[str, list[Column]]:
    """The columns of each aesthetic; looks of one column in one order have one legend, and so the values of all of them."""
    alike: dict[object, list[Column]] = {}
    at: dict[str, object] = {}
    for aesthetic, found in used.items():
        order = sentence.scale(aesthetic).order
        at[aesthetic] = (found[0].name, found[0].discrete, str(order)) if aesthetic in LOOKS else aesthetic
        alike.setdefault(at[aesthetic], []).extend(found)
    return {aesthetic: alike[at[aesthetic]] for aesthetic in used}


def _known_order(columns: list[Column], levels: Levels, where: str) -> Saying[Levels]:
    """Days and months as the calendar has them, without a word; a remark where words such as low and high stand in no order."""
    if any(column.own_order or column.kind != "category" for column in columns):
        return levels
    name, calendar = columns[0].name, calendar_order(levels)
    if calendar is not None:
        return tuple(calendar[1])
    ranks = ranked(levels)
    if ranks is not None:
        words = [str(level) for level in ranks]
        yield Remark(
            "order-not-stated", where, f"nothing says the order of {listed(map(repr, words), 5)} ({name!r})", f"order={words!r}"
        )
    return levels


def _facet_levels(sentence: Sentence, facets: list[tuple[Column, ...]], names: tuple[str, ...]) -> Saying[tuple[Levels, Levels]]:
    """The values that make panels; of crossed columns every pair, row by row, or those that occur; and all values of columns."""
    assert sentence.facet is not None
    facet = sentence.facet
    if not facets:
        raise no_column(facet.names[0], names, "figure.facet", "the panels")
    levels_of: list[Levels] = []
    for place, name in enumerate(facet.names):
        columns = [columns[place] for columns in facets]
        # Nested columns are ordered one by one already.
        nested = isinstance(facet.variables[place], tuple)
        order = None if nested else listed_order(facet.order_of(name)) or sentence.said_order(name)
        own = yield from ordered_levels(columns, order, "figure.facet", sentence.codebook.entry(name).known)
        if not order and not nested:
            own = yield from _known_order(columns, own, "figure.facet")
        levels_of.append(own)
    levels = tuple(product(*levels_of)) if len(levels_of) > 1 else levels_of[0]
    if len(levels_of) > 1:
        there = {pair for columns in facets for pair in crossed(list(columns)).levels}
        if levels and not there:
            raise DataError(
                "figure.facet",
                f"no row has both {facet.names[0]!r} and {facet.names[1]!r}, so that all panels would be empty",
                "facet by one of them",
            )
        levels = tuple(pair for pair in levels if pair in there) if facet.empty == "drop" else levels
    _check_count(facet, len(levels))
    across = {pair[1] for pair in levels if isinstance(pair, tuple)} if len(levels_of) > 1 else set()
    return levels, tuple(value for value in levels_of[-1] if value in across)


def _check_count(facet: Facet, count: int) -> None:
    """Refuses what no reader could look through.

    Raises:
        KindError: There are more panels than a page, or a document, holds.
    """
    most = _MOST_IN_ALL if facet.per_page is not None else _MOST_PANELS
    if count > most:
        fixes = ["breaks=[…] makes classes of numbers", ".keep(…) leaves values out"]
        fixes += ["per_page=12 makes pages"] if facet.per_page is None and count <= _MOST_IN_ALL else []
        raise KindError(
            "figure.facet",
            f"{' and '.join(map(repr, facet.names))} make {count:,} panels",
            f"{most:,} panels {'on a page ' if facet.per_page is None else ''}are the most; {'; '.join(fixes)}",
        )


def _one_kind(aesthetic: str, columns: list[Column]) -> None:
    """All layers must put things of one kind on one scale."""
    sorts = {"levels" if column.discrete else column.kind: column for column in columns}
    if len(sorts) > 1:
        first, second = list(sorts.values())[:2]
        raise KindError(
            "figure",
            f"{aesthetic} holds {kind_words(first)} ({first.name!r}) in one layer and "
            f"{kind_words(second)} ({second.name!r}) in another",
            "one scale shows one kind; .kinds(…) reads a column as another",
        )
    zones = {column.zone is None: column for column in columns if column.kind == "time"}
    if len(zones) > 1:
        raise KindError(
            "figure",
            f"{aesthetic} holds times with a time zone ({zones[False].name!r}) and without one ({zones[True].name!r})",
            "give both a zone, or neither, in the data frame",
        )
