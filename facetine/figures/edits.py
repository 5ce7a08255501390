"""What changes a sentence: its rows, its layers, other data under it, two sentences as one."""

from __future__ import annotations

import sys
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, MappingError, OptionError, note, told

if TYPE_CHECKING:
    from facetine.data.expressions import Expression
    from facetine.data.table import Table
    from facetine.grammar.given import Frame, Options
    from facetine.grammar.layer import Layer


def with_changes(sentence: Sentence, **changes: Any) -> Sentence:
    """A sentence that says something else; what its mappings compute is computed anew where it may be another."""
    changed_one = replace(sentence, **changes)
    if changes.keys() & {"layers", "mapping", "table"}:
        changed_one = changed_one.with_computed("figure.map", again="table" in changes)
    return changed_one


def _own_table(sentence: Sentence, where: str) -> Table:
    if sentence.table is None:
        raise DataError(where, "the figure has no data of its own", "give them to figure(…)")
    return sentence.table


def kept_rows(sentence: Sentence, expression: Expression) -> Sentence:
    """With the rows for which an expression holds alone."""
    from facetine.data.expressions import kept, true_where

    table = _own_table(sentence, "figure.keep")
    mask = true_where(expression, table, "figure.keep")
    steps = (*sentence.steps, ("keep", {"expression": expression}))
    return with_changes(sentence, table=kept(table, mask), steps=steps)


def with_derived(sentence: Sentence, columns: Mapping[str, Expression]) -> Sentence:
    """With columns that expressions compute."""
    from facetine.data.expressions import evaluated, with_column

    table = _own_table(sentence, "figure.derive")
    for name, expression in columns.items():
        table = with_column(table, evaluated(expression, table, name, f"figure.derive: {name}"))
    return with_changes(sentence, table=table, steps=(*sentence.steps, ("derive", columns)))


def sampled(sentence: Sentence, count: int | None, per: str | None) -> Sentence:
    """Drawn from a part of the rows; from all of them where no count is given."""
    from facetine.grammar.sample import sample_said

    return with_changes(sentence, sample=None if count is None else sample_said(count, per, "figure.sample"))


def highlighted(
    sentence: Sentence, where: Expression | None, others: str | None, legend_as: str | None, rest_as: str | None
) -> Sentence:
    """With chosen rows that keep their colors; with none where nothing chooses them."""
    from facetine.data.expressions import true_where
    from facetine.grammar.highlight import highlight_said

    if where is None:
        return with_changes(sentence, highlight=None)
    said = highlight_said(where, others, legend_as, rest_as)
    if sentence.table is not None:
        true_where(where, sentence.table, "figure.highlight")
    return with_changes(sentence, highlight=said)


def with_choice(sentence: Sentence, name: str | None, along: str | None, by: str | None, multiple: bool, start: Any) -> Sentence:
    """With something that a reader of its page can choose; with nothing where no name is given."""
    from facetine.data.expressions import true_where
    from facetine.grammar.choice import choice_said

    if name is None:
        return with_changes(sentence, choices={})
    called, said = choice_said(name, along, by, multiple, start)
    for other, one in sentence.choices.items():
        if other != called and (one.along is None) == (said.along is None):
            way = "picks marks for" if said.along is None else "draws a brush for"
            raise OptionError("figure.choose", f"the figure {way} {other!r} already", "one brush and one picking in a figure")
    if sentence.table is not None:
        if said.by is not None:
            sentence.table.need(said.by, "figure.choose", "by=")
        if said.expression is not None:
            true_where(said.expression, sentence.table, "figure.choose: start")
    return with_changes(sentence, choices={**sentence.choices, called: said})


def responding(sentence: Sentence, name: str | None, how: str, show_all: bool | None) -> Sentence:
    """Doing something with a choice of the sheet; with none where no name is given."""
    from facetine.grammar.choice import response_said

    if name is None:
        return with_changes(sentence, responses={})
    called, done = response_said(name, how, show_all)
    return with_changes(sentence, responses={**sentence.responses, called: done})


def seeded(sentence: Sentence, number: int) -> Sentence:
    """With another seed of all chance."""
    from facetine.grammar.options import whole

    return with_changes(sentence, seed=whole(0)(number, "figure.seed: number"))


def added(sentence: Sentence, verb: str, options: Options) -> Sentence:
    """With a layer over those that are there."""
    return with_changes(sentence, layers=(*sentence.layers, _layer(sentence, verb, options)))


def _layer(sentence: Sentence, verb: str, options: Options) -> Layer:
    from facetine.layers import made

    return made(verb, options, sentence.table, sentence.codebook)


def changed(sentence: Sentence, layer: str | int, options: Options) -> Sentence:
    """With other options of a layer that is there."""
    from facetine.layers.changed import changed_layer, place_of

    place = place_of(sentence, layer, "figure.change")
    if not options:
        raise OptionError("figure.change", f"nothing says what changes in {told(layer)}", "such as opacity=0.3")
    return _with_layer(sentence, place, changed_layer(sentence.layers[place], options, sentence))


def _with_layer(sentence: Sentence, place: int, layer: Layer) -> Sentence:
    """With another layer in a place."""
    return with_changes(sentence, layers=(*sentence.layers[:place], layer, *sentence.layers[place + 1 :]))


def suggested(sentence: Sentence) -> Sentence:
    """With the layer that suits best what is mapped to x and y; the line that says it is printed."""
    from facetine.layers.suggest import suggest
    from facetine.layers.suggestions import options_for

    where = "figure.suggested"
    table = _own_table(sentence, where)
    mapped = {axis: name for axis in ("x", "y") if isinstance(name := sentence.mapping.get(axis), str)}
    if not mapped:
        raise MappingError(where, "no column is mapped to x or y", 'such as .map(x="…", y="…")')
    best = suggest(table, **mapped)[0]
    group = sentence.mapping.get("color")
    groups = {**mapped, **({"color": group} if isinstance(group, str) else {})}
    options = options_for(best.layer, table, groups)
    sys.stdout.write(f".{best.layer}({', '.join(f'{name}={value!r}' for name, value in options.items())})  # {best.reason}\n")
    return added(sentence, best.layer, options)


def without(sentence: Sentence, layers: Sequence[str | int]) -> Sentence:
    """Without some layers."""
    from facetine.layers.changed import place_of

    if not layers:
        raise OptionError("figure.without", "no layer is named", 'such as .without("trend")')
    gone = {place_of(sentence, layer, "figure.without") for layer in layers}
    return with_changes(sentence, layers=tuple(layer for place, layer in enumerate(sentence.layers) if place not in gone))


def replaced(sentence: Sentence, layer: str | int, verb: str, given: Sequence[Any], options: Options) -> Sentence:
    """With a layer of another kind in the place of one that is there; what it does not take is told."""
    from facetine.layers import layer_class, with_first
    from facetine.layers.changed import kept_by, place_of

    place = place_of(sentence, layer, "figure.replace")
    old = sentence.layers[place]
    kept, dropped = kept_by(old, layer_class(verb))
    new = _layer(sentence, verb, {**kept, **with_first(verb, tuple(given), options)})
    dropped = [name for name in dropped if name not in options]
    if dropped:
        note([f"figure.replace: {verb} does not take {', '.join(dropped)} of the {old.verb}, which is dropped"])
    return _with_layer(sentence, place, new)


def behind(sentence: Sentence, layer: str | int, verb: str, given: Sequence[Any], options: Options) -> Sentence:
    """With a layer below one that is there."""
    from facetine.layers import with_first
    from facetine.layers.changed import place_of

    place = place_of(sentence, layer, "figure.behind")
    new = _layer(sentence, verb, with_first(verb, tuple(given), options))
    return with_changes(sentence, layers=(*sentence.layers[:place], new, *sentence.layers[place:]))


def on_data(sentence: Sentence, data: Frame) -> Sentence:
    """The same sentence on other data; what their kinds would be is told where it is not what they were."""
    from facetine.grammar.elsewhere import on_other_data

    moved, notes = on_other_data(sentence, data)
    note(notes)
    return moved


def laid_onto(sentence: Sentence, below: object) -> Sentence:
    """The layers of a sentence over those of another figure's."""
    from facetine.grammar.overlaid import overlaid

    return overlaid(sentence, sentence_of(below, "figure.onto", "plate([[a, b]]) sets figures beside each other"))


def difference(sentence: Sentence, other: object) -> str:
    """The verbs that only one of two figures says, a line each."""
    from difflib import ndiff

    from facetine.grammar.spec import spelled

    both = (sentence, sentence_of(other, "figure.difference"))
    here, there = ([line.strip() for line in spelled(one).splitlines()] for one in both)
    return "\n".join(line for line in ndiff(here, there) if line[:1] in "+-")


def sentence_of(figure: object, where: str, way: str = "") -> Sentence:
    """What a figure says.

    Raises:
        OptionError: It is no figure.
    """
    said = getattr(figure, "_sentence", None)
    if not isinstance(said, Sentence):
        raise OptionError(where, f"{told(figure)} is no figure", way)
    return said
