"""The same sentence on other data."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from facetine.data.explained import explained
from facetine.data.expressions import evaluated, kept, true_where, with_column
from facetine.data.given import begun_with
from facetine.data.reread import column_of_kind
from facetine.data.table import Table
from facetine.grammar.aesthetics import checked_mapping
from facetine.grammar.given import Frame
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError

_WHERE = "figure.data"


def on_other_data(sentence: Sentence, data: Frame) -> tuple[Sentence, list[str]]:
    """A sentence with a table of its own below it, and what is to be told.

    Args:
        sentence: What was said.
        data: What holds the new table.

    Raises:
        DataError: It holds none, or the sentence has none that could be replaced.
        MappingError: A column that is used is not there.
        KindError: A column can't be read in the kind that it had.
    """
    if sentence.table is None:
        raise DataError(_WHERE, "the figure has no data that could be replaced", "its layers bring their own")
    begun = begun_with(data, {}, None, False, _WHERE)
    if begun is None:
        raise DataError(_WHERE, "no table in nothing", "data is a data frame, a dict of arrays, or a list of dicts")
    table = explained(begun, sentence.codebook)
    for verb, said in sentence.steps:
        if verb == "keep":
            table = kept(table, true_where(said["expression"], table, f"{_WHERE}: keep"))
        else:
            for name, expression in said.items():
                table = with_column(table, evaluated(expression, table, name, f"{_WHERE}: derive {name}"))
    checked_mapping(sentence.mapping, table, _WHERE)
    for layer in sentence.layers:
        if layer.data is None:
            checked_mapping(layer.map, table, f"{_WHERE}: {layer.verb}")
    if sentence.highlight is not None:
        true_where(sentence.highlight.where, table, f"{_WHERE}: highlight")
    for name, choice in sentence.choices.items():
        if choice.expression is not None:
            true_where(choice.expression, table, f"{_WHERE}: choose {name}")
    for name, use in _others(sentence):
        table.need(name, _WHERE, use)
    moved = replace(sentence, table=table).with_computed(_WHERE)
    assert moved.table is not None
    kinds, notes = _kinds(sentence, moved.table)
    return replace(moved, kinds=kinds), notes


def _others(sentence: Sentence) -> Iterator[tuple[str, str]]:
    """Columns that are used beside those of mappings, and for what."""
    yield from ((name, "its kind") for name in sentence.kinds)
    yield from ((column, f"the scale of {aesthetic}") for aesthetic, column in sentence.scales_of)
    yield from ((said.by, f"the choice {name!r}") for name, said in sentence.choices.items() if said.by is not None)
    if sentence.matrix is not None:
        yield from ((name, "the matrix") for name in sentence.matrix.columns)
    if sentence.over_variables is not None:
        yield from (
            (name, "the panels") for names in (sentence.over_variables.x, sentence.over_variables.y) for name in names or ()
        )
    if sentence.facet is not None:
        variables = (part for one in sentence.facet.variables for part in (one if isinstance(one, tuple) else (one,)))
        known = sentence.table.names if sentence.table is not None else ()
        yield from ((name, "the panels") for name in variables if isinstance(name, str) and name in known)


def _kinds(sentence: Sentence, table: Table) -> tuple[dict[str, str], list[str]]:
    """The kinds that are said, with those of columns that look like something else now."""
    assert sentence.table is not None
    kinds, notes = dict(sentence.kinds), []
    mappings = [sentence.mapping, *(layer.map for layer in sentence.layers if layer.data is None)]
    used = dict.fromkeys(
        name
        for mapping in mappings
        for value in mapping.values()
        for name in (value if isinstance(value, tuple) else (value,))
        if isinstance(name, str)
    )
    for name in used:
        if name in kinds:
            continue
        before = sentence.column(sentence.table, name, _WHERE, "a mapping").kind
        now = sentence.column(table, name, _WHERE, "a mapping").kind
        if before != now:
            column_of_kind(table, name, before, f"{_WHERE}: {name!r} was of the kind {before!r}")
            kinds[name] = before
            said = f"{_WHERE}: {name!r} stays of the kind {before!r}, though it looks like {now!r} now"
            notes.append(f"{said}; .kinds({name}={now!r}) takes that")
    return kinds, notes
