"""Two sentences as one: the layers of the one over those of the other, on the same axes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import TypeVar

from facetine.data.codebook import Codebook
from facetine.grammar.aesthetics import Sql
from facetine.grammar.layer import Layer
from facetine.grammar.options import same
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Sentence, Titles
from facetine.messages.errors import KindError, OptionError, told

_WHERE = "figure.onto"
K = TypeVar("K")
V = TypeVar("V")


def overlaid(top: Sentence, below: Sentence) -> Sentence:
    """The sentence that says what two say.

    Args:
        top: Whose layers lie over those of the other.
        below: The other.

    Raises:
        OptionError: Both say something, and not the same.
        KindError: An axis shows one kind here, and another kind there.
    """
    for one in (top, below):
        for name in ("matrix", "over_variables"):
            if getattr(one, name) is not None:
                raise OptionError(
                    _WHERE, f"a figure with {name} has axes of several kinds", "its columns can be figures of their own"
                )
    if top.swapped != below.swapped:
        raise OptionError(_WHERE, "the axes of one of the two are swapped", ".swap_axes() turns the other one too")
    _check_axes(top, below)
    first, second = (below, top) if below.table is not None else (top, below)
    moved = tuple(_moved(layer, second, first) for layer in second.layers)
    return replace(
        first,
        codebook=_codebook(below.codebook, top.codebook),
        kinds=_merged(below.kinds, top.kinds, "kind of"),
        layers=(*first.layers, *moved) if first is below else (*moved, *first.layers),
        scales=_scales(below.scales, top.scales),
        scales_of=_scales(below.scales_of, top.scales_of),
        facet=_either(below.facet, top.facet, None, "facet"),
        insets=(*below.insets, *top.insets),
        marginals=(*below.marginals, *top.marginals),
        panel=type(top.panel)(**_merged(below.panel.said(), top.panel.said(), "panel")),
        sheet=type(top.sheet)(**_merged(below.sheet.said(), top.sheet.said(), "sheet")),
        titles=_titles(below.titles, top.titles),
        theme=top.theme if top.theme_said else below.theme,
        theme_said=_either(below.theme_said, top.theme_said, {}, "theme"),
        sample=_either(below.sample, top.sample, None, "sample"),
        highlight=_either(below.highlight, top.highlight, None, "highlight"),
        choices=_merged(below.choices, top.choices, "choice"),
        responses=_merged(below.responses, top.responses, "response to"),
        seed=_either(below.seed, top.seed, 1, "seed"),
    )


def _clash(what: str, one: object, other: object) -> OptionError:
    return OptionError(_WHERE, f"{what} is {told(one)} below and {told(other)} above", "one of the two can be taken back first")


def _either(one: V, other: V, nothing: V, what: str) -> V:
    if same(one, nothing):
        return other
    if same(other, nothing) or same(one, other):
        return one
    raise _clash(what, one, other)


def _merged(one: Mapping[K, V], other: Mapping[K, V], what: str) -> dict[K, V]:
    for name in one.keys() & other.keys():
        if not same(one[name], other[name]):
            raise _clash(f"{what} {name}" if isinstance(name, str) else what, one[name], other[name])
    return {**one, **other}


def _scales(one: Mapping[K, ScaleSpec], other: Mapping[K, ScaleSpec]) -> dict[K, ScaleSpec]:
    """Scales of both, option by option."""
    made = {**one, **other}
    for key in one.keys() & other.keys():
        name = key[0] if isinstance(key, tuple) else key
        _merged(one[key].said(), other[key].said(), f"scale of {name}:")
        made[key] = one[key].under(other[key])
    return made


def _titles(one: Titles, other: Titles) -> Titles:
    names = ("title", "subtitle", "note", "source")
    texts = {name: _either(getattr(one, name), getattr(other, name), None, name) for name in names}
    return Titles(**texts, guides=_merged(one.guides, other.guides, "title of"))


def _codebook(one: Codebook, other: Codebook) -> Codebook:
    return Codebook(_merged(one.entries, other.entries, "codebook of"))


def _moved(layer: Layer, home: Sentence, there: Sentence) -> Layer:
    """A layer in another sentence, with what it had from its own."""
    wanted = {**home.mapping, **layer.map}
    wanted = {name: column for name, column in wanted.items() if name in layer.takes and layer.constant(name) is None}
    names = [name for name in dict.fromkeys([*there.mapping, *wanted]) if name in layer.takes]
    own = {name: wanted.get(name) for name in names if wanted.get(name) != there.mapping.get(name)}
    data = layer.data if layer.data is not None or _same_data(home, there) else home.table
    return replace(layer, map=own, data=data)


def _same_data(one: Sentence, other: Sentence) -> bool:
    if one.table is None or other.table is None:
        return one.table is other.table
    if any(isinstance(value, Sql) for value in one.mapping.values()):
        # The other has no column of what is computed.
        return False
    return one.table is other.table or (one.table.source is other.table.source and one.steps == other.steps)


def _check_axes(top: Sentence, below: Sentence) -> None:
    """Both show things of one kind on each axis.

    Raises:
        KindError: They do not.
    """
    for axis in ("x", "y"):
        sorts = {}
        for one in (below, top):
            name = one.mapping.get(axis)
            if isinstance(name, str) and one.table is not None and name in one.table.names:
                column = one.column(one.table, name, _WHERE, axis)
                sorts["categories" if column.discrete else f"{column.kind}s"] = name
        if len(sorts) > 1:
            (here, name), (there, other) = sorts.items()
            raise KindError(
                _WHERE,
                f"{axis} shows {here} ({name!r}) below and {there} ({other!r}) above",
                "one axis shows one kind; .kinds(…) reads a column as another",
            )
