"""Choices of the figures of a sheet, and which figures respond to them; on paper, what is chosen at first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import reduce

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.scales.calendar import instant
from facetine.data.expressions import true_where
from facetine.data.table import Table
from facetine.grammar.choice import Choice, ChosenRows, Response
from facetine.grammar.given import Ends
from facetine.grammar.highlight import highlight_said
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, unknown


def with_choices(sentences: Sequence[Sentence]) -> list[Sentence]:
    """The figures of a sheet, with the rows that are chosen at first highlighted in all that respond.

    Raises:
        OptionError: Two figures make different choices of one name, a response names none, or the two figures share no rows.
    """
    choosing: dict[str, Sentence] = {}
    for sentence in sentences:
        for name in sentence.choices:
            # The same choice, made in any of several figures, is one.
            if name in choosing and choosing[name].choices[name] != sentence.choices[name]:
                raise OptionError(
                    "figure.choose", f"two figures of the sheet choose {name!r} differently", "another name for one of them"
                )
            choosing.setdefault(name, sentence)
    return [_started(sentence, choosing) for sentence in sentences]


def _started(sentence: Sentence, choosing: dict[str, Sentence]) -> Sentence:
    """A figure with what is chosen at first of the choices that it makes, or responds to."""
    begun, kept = list[str](), list[str]()
    limited: dict[str, Ends] = {}
    for name in (*sentence.choices, *(name for name in sentence.responses if name not in sentence.choices)):
        if not choosing:
            raise OptionError("figure.respond", f"no figure of the sheet chooses {name!r}", f".choose({name!r}) in one of them")
        if name not in choosing:
            raise unknown(OptionError, "figure.respond", "no choice", name, choosing, "choices of the sheet")
        said = sentence.responses.get(name, Response("highlight"))
        if said.how == "limits":
            limited |= _limits(name, sentence, choosing[name])
            continue
        _check_rows(name, sentence, choosing[name])
        if said.how == "keep":
            _check_other(name, sentence)
        if choosing[name].choices[name].expression is not None:
            (kept if said.how == "keep" else begun).append(name)
    shown = {said.show_all for said in sentence.responses.values()} - {None}
    if len(shown) > 1:
        raise OptionError(
            "figure.respond", "one choice shows what all rows make, and another one hides it", "the same show_all= for both"
        )
    if sentence.live:
        return sentence
    sentence = replace(sentence, chosen=_chosen(kept, choosing, shown.pop() if shown else None))
    scales = {axis: replace(sentence.scale(axis), limits=ends) for axis, ends in limited.items()}
    sentence = replace(sentence, scales={**sentence.scales, **scales})
    if not begun:
        return sentence
    if sentence.highlight is not None:
        raise OptionError(
            "figure.respond",
            f"the figure highlights rows of its own, and {begun[0]!r} begins with others",
            "leave one of them out",
        )
    if len(begun) > 1:
        names = " and ".join(map(repr, begun))
        raise OptionError(
            "figure.respond", f"{names} both begin with rows, of which one figure shows those of one", "start= of one of them"
        )
    (name,) = begun
    # Figures may call other columns alike: which rows are meant the one says that chooses them.
    rows = tuple(begun_rows(choosing[name].choices[name], choosing[name].table).tolist())
    lit = highlight_said(choosing[name].choices[name].expression, None, name, None)
    return replace(sentence, highlight=lit._replace(verb="figure.choose", rows=rows))


def _chosen(names: Sequence[str], choosing: dict[str, Sentence], show_all: bool | None) -> ChosenRows | None:
    """The rows that all of some choices hold at first, of which a figure is computed; None where it is of all."""
    if not names:
        return None
    held = reduce(np.intersect1d, (begun_rows(choosing[name].choices[name], choosing[name].table) for name in names))
    return ChosenRows(tuple(names), tuple(np.unique(held).tolist()), show_all)


def _check_other(name: str, sentence: Sentence) -> None:
    """Nothing, where rows are chosen in another figure: one that left out what is not chosen could choose no more of it."""
    if name in sentence.choices:
        raise OptionError(
            "figure.respond",
            f"the figure chooses {name!r} itself, of whose rows another one is computed",
            'respond(…, "highlight"), or "keep" in another figure of the plate',
        )


def _limits(name: str, sentence: Sentence, other: Sentence) -> dict[str, Ends]:
    """The interval that is chosen at first, by the axes of a figure that show it; nothing where none is.

    Raises:
        OptionError: The choice is no interval, no axis shows it, or an axis has limits of its own.
    """
    said, found = other.choices[name], dict[str, Ends]()
    if name in sentence.choices:
        raise OptionError("figure.respond", f"the figure chooses {name!r} itself, whose interval another one shows")
    if said.along is None:
        raise OptionError(
            "figure.respond", f"{name!r} picks marks, which have no interval", f'.choose({name!r}, along="x") draws a brush'
        )
    pairs = limited_axes(column_on(sentence), column_on(other), said.along)
    if not pairs:
        names = " or ".join(repr(column) for axis in said.along if (column := column_on(other).get(axis)) is not None)
        raise OptionError(
            "figure.respond",
            f"no axis of the figure shows {names or 'what stands'} along which {name!r} is chosen",
            'map it to x or y, or respond(…, "highlight")',
        )
    for own, source in pairs:
        for one, axis in ((sentence, own), (other, source)):
            kind = "category" if one.scale(axis).kind == "category" else _kind_on(axis, one)
            if kind not in ("number", "time"):
                raise OptionError(
                    "figure.respond",
                    f"{column_on(one)[axis]!r} is a {kind} on {axis}, of which there is no interval",
                    "limits are for numbers and times",
                )
        if sentence.scale(own).limits is not None:
            raise OptionError(
                "figure.respond", f"the {own} axis has limits of its own, and {name!r} sets them too", "leave one of them out"
            )
        ends = begun_ends(said, other).get(source)
        if ends is not None:
            found[own] = (_moment(ends[0]), _moment(ends[1])) if _kind_on(own, sentence) == "time" else ends
    return found


def _moment(instant: float) -> np.datetime64:
    return np.datetime64(round(instant), "us")


def column_on(sentence: Sentence) -> dict[str, str]:
    """The columns that stand on the axes of a figure: what is mapped for all layers, else for the first one that says so."""
    mappings = (sentence.mapping, *(layer.map for layer in sentence.layers))
    found = {}
    for axis in ("x", "y"):
        column = next((mapping[axis] for mapping in mappings if isinstance(mapping.get(axis), str)), None)
        if isinstance(column, str):
            found[axis] = column
    return found


def limited_axes(own: dict[str, str], other: dict[str, str], along: str) -> list[tuple[str, str]]:
    """Which axes of a figure show what stands along those of another on which a brush is drawn: pairs of axes.

    >>> limited_axes({"x": "time", "y": "co2"}, {"x": "time", "y": "temp"}, "x")
    [('x', 'x')]
    """
    return [(axis, source) for source in along for axis in own if other.get(source) == own[axis]]


def _kind_on(axis: str, sentence: Sentence) -> str:
    name = column_on(sentence)[axis]
    return sentence.column(sentence.table, name, "figure.respond", axis).kind if sentence.table is not None else "number"


def begun_ends(said: Choice, sentence: Sentence) -> dict[str, tuple[float, float]]:
    """The interval that is chosen at first along each axis of a brush, in the unit of the data; nothing where none is.

    It is what was said of the column, else from the least to the largest of the rows that are chosen.
    """
    table, found = sentence.table, dict[str, tuple[float, float]]()
    for axis in said.along or "":
        name = column_on(sentence).get(axis)
        if table is None or name not in table.names or said.expression is None:
            continue
        column = sentence.column(table, name, "figure.choose", axis)
        if column.kind not in ("number", "time"):
            continue
        ends = said.start.get(name) if isinstance(said.start, dict) else None
        if isinstance(ends, tuple):
            where, time = "figure.choose: start", column.kind == "time"
            low, high = (instant(end, column.zone, where) if time else float(end) for end in ends)
        else:
            values = column.values[true_where(said.expression, table, "figure.choose: start")]
            values = values[np.isfinite(values)]
            low, high = (float(values.min()), float(values.max())) if len(values) else (0.0, 0.0)
        if low < high:
            found[axis] = (low, high)
    return found


def begun_rows(said: Choice, table: Table | None) -> IntArray:
    """The numbers of the rows that are chosen at first, shape (k,)."""
    if table is None or said.expression is None:
        return np.zeros(0, np.int64)
    return table.numbers[true_where(said.expression, table, "figure.choose: start")]


def _check_rows(name: str, sentence: Sentence, other: Sentence) -> None:
    """Nothing, where two figures show rows of one frame."""
    here, there = sentence.table, other.table
    if here is None or there is None or (here is not there and _frame(here) is not _frame(there)):
        raise OptionError(
            "figure.respond",
            f"{name!r} chooses rows of another frame, so that none of them are here",
            "figures of one frame share their rows",
        )


def _frame(table: Table) -> object:
    return table if table.given is None else table.given
