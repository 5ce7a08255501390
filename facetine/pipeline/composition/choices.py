"""Choices of the figures of a sheet, and which figures respond to them; on paper, what is chosen at first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from facetine.core.arrays import IntArray
from facetine.data.expressions import true_where
from facetine.data.table import Table
from facetine.grammar.choice import Choice
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
    begun: list[str] = []
    for name in (*sentence.choices, *(name for name in sentence.responses if name not in sentence.choices)):
        if not choosing:
            raise OptionError("figure.respond", f"no figure of the sheet chooses {name!r}", f".choose({name!r}) in one of them")
        if name not in choosing:
            raise unknown(OptionError, "figure.respond", "no choice", name, choosing, "choices of the sheet")
        _check_rows(name, sentence, choosing[name])
        if choosing[name].choices[name].expression is not None:
            begun.append(name)
    if not begun or sentence.live:
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
    said = highlight_said(choosing[name].choices[name].expression, None, name, None)
    return replace(sentence, highlight=said._replace(verb="figure.choose", rows=rows))


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
