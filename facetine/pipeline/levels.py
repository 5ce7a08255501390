"""The levels of discrete aesthetics over all layers, in their order."""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterable, Mapping, Sequence
from itertools import product

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.scales.position import in_natural_order
from facetine.data.codebook import Word
from facetine.data.expressions import crossed
from facetine.data.sequences import calendar_order, ranked
from facetine.data.table import Column, Levels, no_column
from facetine.grammar.aesthetics import LOOKS, POSITIONS
from facetine.grammar.facet import Facet
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, KindError, OptionError, listed, unknown
from facetine.messages.findings import Findings

_MOST_PANELS = 400
"""On one page."""
_ALIKE = 0.75
"""Words of which so large a share of the letters agree may be slips of each other."""
_MOST_IN_ALL = 10_000
"""On all pages."""
MISSING = type("Missing", (), {"__repr__": lambda _: "missing", "__str__": lambda _: "missing"})()
"""The level of rows without a value, where they are shown."""
Used = Iterable[Mapping[str, Column]]


def kind_words(column: Column) -> str:
    """What a column holds, in words."""
    return {"category": "categories", "ordered": "ordered categories", "time": "times", "yes_no": "truth values"}.get(
        column.kind, "numbers"
    )


def all_levels(
    sentence: Sentence,
    used_by: Used,
    facets: list[tuple[Column, ...]],
    names: tuple[str, ...],
    findings: Findings,
    gray: frozenset[str] = frozenset(),
) -> dict[str, Levels]:
    """The levels of every discrete aesthetic over all layers, in their order, and those of the facet.

    Args:
        sentence: What the figure says.
        used_by: The columns of each layer by aesthetic, also those that only make groups.
        facets: The facet's columns in each layer that has them.
        names: The columns of the first layer's table, for the error.
        findings: Takes remarks.
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
                f"figure.scale({aesthetic!r}): order has no effect on {kind_words(found[0])} ({found[0].name!r})",
                f'.kinds({found[0].name}="category") makes them categories',
            )
        if found[0].discrete:
            order = listed_order(spec.order) or sentence.said_order(found[0].name)
            known = sentence.codebook.entry(found[0].name).known
            ordered = ordered_levels(found, order, f"figure.scale({aesthetic!r})", known, findings)
            if not order:
                ordered = _known_order(found, ordered, f"figure.scale({aesthetic!r})", findings)
            policy = sentence.missing_policy(aesthetic, found[0].name)
            shown = (policy or ("show" if aesthetic in gray else "drop")) != "drop"
            shown = shown and any(column.missing.any() for column in found)
            levels[aesthetic] = (*ordered, MISSING) if shown else ordered
    if sentence.facet is not None:
        levels["facet"], levels["facet columns"] = _facet_levels(sentence, facets, names, findings)
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


def listed_order(order: Levels | str | None) -> Levels | None:
    """An order that is a list; those that follow the data are lists by now."""
    return None if isinstance(order, str) else order


def _known_order(columns: list[Column], levels: Levels, where: str, findings: Findings) -> Levels:
    """Days and months as the calendar has them, without a word; a remark where words such as low and high stand in no order."""
    if any(column.own_order or column.kind != "category" for column in columns):
        return levels
    name, calendar = columns[0].name, calendar_order(levels)
    if calendar is not None:
        return tuple(calendar[1])
    ranks = ranked(levels)
    if ranks is not None:
        words = [str(level) for level in ranks]
        findings.add(
            "order-not-stated", where, f"nothing says the order of {listed(map(repr, words), 5)} ({name!r})", f"order={words!r}"
        )
    return levels


def _facet_levels(
    sentence: Sentence, facets: list[tuple[Column, ...]], names: tuple[str, ...], findings: Findings
) -> tuple[Levels, Levels]:
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
        own = ordered_levels(columns, order, "figure.facet", sentence.codebook.entry(name).known, findings)
        levels_of.append(own if order or nested else _known_order(columns, own, "figure.facet", findings))
    levels = tuple(product(*levels_of)) if len(levels_of) > 1 else levels_of[0]
    if len(levels_of) > 1:
        there = {pair for columns in facets for pair in crossed(list(columns)).levels}
        if levels and not there:
            raise DataError(
                f"figure.facet: no row has both {facet.names[0]!r} and {facet.names[1]!r}, so that all panels would be empty",
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
            f"figure.facet: {' and '.join(map(repr, facet.names))} make {count:,} panels",
            f"{most:,} panels {'on a page ' if facet.per_page is None else ''}are the most; {'; '.join(fixes)}",
        )


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


def ordered_levels(
    columns: list[Column], order: Levels | None, where: str, known: tuple[str, ...] = (), findings: Findings | None = None
) -> Levels:
    """The levels that occur: first those of the given order, then by the data's own order, else in natural order.

    Args:
        columns: All columns that show these levels.
        order: Levels by name; one list serves frames that hold only some of them.
        where: Who asks, for the error.
        known: The levels that the codebook names.
        findings: Takes a remark on levels that no row has.

    Raises:
        OptionError: The given order names a level that no row has, and one that is there and not named reads like it.
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
        found = in_natural_order(found)
    if not order:
        return tuple(found)
    # What stands on the paper can be written as well as what stands in the data: "yes" for True.
    by_text = {**{level_name(level): level for level in found}, **{str(level): level for level in found}}
    there = {*known, *(word(level) for column in columns for level in column.levels for word in (str, level_name))}
    first = [by_text[str(level)] for level in order if str(level) in by_text]
    rest = [level for level in found if level not in set(first)]
    if there and columns:
        absent = [level for level in order if str(level) not in there]
        say_absent(absent, [level_name(level) for level in rest], [*map(level_name, found), *known], "order", where, findings)
    return (*first, *rest)


def say_absent(
    absent: Sequence[object], unnamed: Sequence[str], every: Sequence[str], what: str, where: str, findings: Findings | None
) -> None:
    """Says which of the levels that an option names no row has: a list that serves many figures names more than one shows.

    Args:
        absent: Those that no row has.
        unnamed: The levels that are there and not named.
        every: All that are there or known.
        what: The option.
        where: Who asks.
        findings: Takes the remark.

    Raises:
        OptionError: One of them reads like a level that is there and not named: then it is a slip.
    """
    for level in absent:
        if any(_reads_like(level_name(level), other) for other in unnamed):
            raise unknown(OptionError, f"{where}: {what}", "no category", level, dict.fromkeys(every), "categories")
    if absent and findings is not None:
        said = listed((repr(level_name(level)) for level in absent), 5)
        findings.add("levels-absent", where, f"{what} names {said}, which no row has here")


def _reads_like(word: str, other: str) -> bool:
    """Whether a word may be a slip of another; words that differ in their digits alone are two of a series."""
    if re.sub(r"\d+", "", word).casefold() == re.sub(r"\d+", "", other).casefold() and re.search(r"\d", word + other):
        return word.casefold() == other.casefold()
    return difflib.SequenceMatcher(None, word.casefold(), other.casefold()).ratio() >= _ALIKE


def coded(column: Column, levels: Levels) -> IntArray:
    """Positions among the scale's levels instead of the column's own."""
    lost = len(levels) - 1 if levels and levels[-1] is MISSING else -1
    if column.levels == levels and lost == -1:
        return column.values
    position = {level: number for number, level in enumerate(levels)}
    table = np.array([*(position.get(level, -1) for level in column.levels), lost], np.int64)
    result: IntArray = table[column.values]
    return result


def level_name(level: object) -> str:
    """What a level is called in errors, remarks and options."""
    if level is MISSING or isinstance(level, Word):
        return str(level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return ", ".join(map(level_name, level)) if isinstance(level, tuple) else str(level)
