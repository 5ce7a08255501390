"""The same figure said in several ways, on one sheet, to choose by eye."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from itertools import product
from typing import Any, NamedTuple

from facetine.figures.cells import plate_of
from facetine.figures.edits import added, changed, replaced
from facetine.figures.looks import mapped, scaled, themed
from facetine.figures.panels import faceted
from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.given import NOT_GIVEN
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence, Titles
from facetine.messages.errors import FacetineError, OptionError, note, told, unknown

_MOST = 24
_WAYS = ("theme", "facet", "layer", "palette", "scale")
"""What can be varied beside mappings and the options of a layer."""


class Variant(NamedTuple):
    """One way to say a figure."""

    said: str
    """The call that does it."""
    made: Callable[[Sentence], Sentence]
    """From a sentence to the varied one."""


class _Lost(NamedTuple):
    """A variant that can't be drawn."""

    said: str
    problem: FacetineError


def compared(sentence: Sentence, ways: Mapping[str, Sequence[Any]]) -> Plate:
    """A plate of a figure said in several ways, each under the call that makes it; those that can't be drawn are told.

    Args:
        sentence: What the figure says.
        ways: One or two of what can be varied, each with a list.

    Raises:
        OptionError: Nothing, or something unknown, is varied; or there are too many variants.
        FacetineError: None of them can be drawn.
    """
    where = "figure.variants"
    lists = [_variants(sentence, name, given, where) for name, given in ways.items()]
    if not 1 <= len(lists) <= 2:
        raise OptionError(where, f"{len(lists)} ways vary the figure, and one or two can", 'such as theme=["press", "field"]')
    count = len(lists[0]) * (len(lists[1]) if len(lists) > 1 else 1)
    if count > _MOST:
        raise OptionError(where, f"{count} variants are more than a sheet shows", f"at most {_MOST}")
    drawn = [_drawn(sentence, combination) for combination in product(*lists)]
    lost = [one for one in drawn if isinstance(one, _Lost)]
    if len(lost) == len(drawn):
        raise lost[0].problem
    note([f"{where}: {one.said.replace(chr(10), '')} can't be drawn: {one.problem.headline}" for one in lost])
    cells = [None if isinstance(one, _Lost) else one for one in drawn]
    if len(lists) == 1:
        cells = [cell for cell in cells if cell is not None]
        # Panels need the width, and texts of some themes.
        across = 1 if "facet" in ways else min(_across(len(cells)), 2) if "theme" in ways else _across(len(cells))
    else:
        across = len(lists[1])
    cells += [None] * (-len(cells) % across)
    sheet = plate_of([cells[start : start + across] for start in range(0, len(cells), across)], where)
    return replace(sheet, compares=True, titles=_titles(sentence.titles))


def _titles(own: Titles) -> Titles:
    """The figure's own texts, over the sheet; those of its axes stay with each variant."""
    return Titles(own.title, own.subtitle, own.note, own.source)


def _across(count: int) -> int:
    """How many variants stand beside each other."""
    return count if count <= 3 else 2 if count == 4 else 3 if count <= 9 else 4


def _drawn(sentence: Sentence, combination: tuple[Variant, ...]) -> Sentence | _Lost:
    """A variant under its call."""
    from facetine.core.scales.formats import escaped
    from facetine.export.export import built

    said = "\n".join(variant.said for variant in combination)
    try:
        varied = sentence
        for variant in combination:
            varied = variant.made(varied)
        built(varied, None, None)
    except FacetineError as problem:
        return _Lost(said, problem)
    theme = varied.theme
    smaller = varied if theme.title_size is not None else themed(varied, None, {"title_size": theme.text_size})
    return replace(smaller, titles=replace(smaller.titles, title=escaped(said), subtitle=None, note=None, source=None))


def _variants(sentence: Sentence, name: str, given: object, where: str) -> list[Variant]:
    if isinstance(given, str | Mapping) or not isinstance(given, Sequence) or not given:
        raise OptionError(where, f"{name} is a list of what it may be, not {told(given)}", f"such as {name}=[…, …]")
    if name in AESTHETICS:
        return [_mapped(name, value) for value in given]
    if name in _WAYS:
        return [_way(name, value, f"{where}: {name}") for value in given]
    layers = [word for layer in sentence.layers for word in (layer.verb, layer.name) if word]
    if name not in layers:
        raise unknown(OptionError, where, "nothing to vary is called", name, (*_WAYS, *AESTHETICS, *layers), "what can be varied")
    for value in given:
        if not isinstance(value, Mapping):
            raise OptionError(where, f"{name} is a list of dicts of options, not of {told(value)}", 'such as {"opacity": 0.5}')
    return [_changed(name, dict(value)) for value in given if isinstance(value, Mapping)]


def _mapped(name: str, value: Any) -> Variant:
    return Variant(f".map({name}={value!r})", lambda sentence: mapped(sentence, (), {name: value}))


def _changed(layer: str, options: dict[str, Any]) -> Variant:
    said = ", ".join(f"{name}={value!r}" for name, value in options.items())
    return Variant(f".change({layer!r}, {said})", lambda sentence: changed(sentence, layer, options))


def _way(name: str, value: Any, where: str) -> Variant:
    """One way to say a theme, panels, a layer, colors or scales."""
    if name == "palette":
        return Variant(f'.scale("color", {name}={value!r})', lambda sentence: _scaled(sentence, [("color", {name: value})]))
    if name == "scale":
        if not isinstance(value, Mapping) or not value:
            wrong = f"is a list of dicts of aesthetic and kind, not of {told(value)}"
            raise OptionError(where, wrong, 'such as {"x": "log"}', of_option=True)
        steps = [(aesthetic, dict(kind) if isinstance(kind, Mapping) else {"kind": kind}) for aesthetic, kind in value.items()]
        said = "".join(_called("scale", (aesthetic,), options) for aesthetic, options in steps)
        return Variant(said, lambda sentence: _scaled(sentence, steps))
    if name == "layer":
        if not isinstance(value, str):
            raise OptionError(where, f"is a list of verbs, not of {told(value)}", 'such as ["points", "boxes"]', of_option=True)
        return Variant(f".{value}()", lambda sentence: _with_layer(sentence, value))
    options = dict(value) if isinstance(value, Mapping) else {}
    first = options.pop("name" if name == "theme" else "by", None) if isinstance(value, Mapping) else value
    given = (first,) if first is not None or not isinstance(value, Mapping) else ()
    if name == "theme":
        return Variant(_called(name, given, options), lambda sentence: themed(sentence, first, options))
    rows, columns = options.pop("rows", None), options.pop("columns", None)
    asked = {**({"rows": rows} if rows is not None else {}), **({"columns": columns} if columns is not None else {}), **options}
    return Variant(_called(name, given, asked), lambda sentence: faceted(sentence, first, rows, columns, options))


def _called(verb: str, given: tuple[Any, ...], options: Mapping[str, Any]) -> str:
    said = [*map(repr, given), *(repr(value) if name == "kind" else f"{name}={value!r}" for name, value in options.items())]
    return f".{verb}({', '.join(said)})"


def _scaled(sentence: Sentence, steps: Sequence[tuple[str, Mapping[str, Any]]]) -> Sentence:
    for aesthetic, said in steps:
        options = dict(said)
        sentence = scaled(sentence, aesthetic, options.pop("kind", NOT_GIVEN), options.pop("for_column", None), options)
    return sentence


def _with_layer(sentence: Sentence, verb: str) -> Sentence:
    """The figure with a layer of another kind in the place of its first one, or as its first one."""
    if not sentence.layers:
        return added(sentence, verb, {})
    return sentence if sentence.layers[0].verb == verb else replaced(sentence, 0, verb, (), {})
