"""Layers of a sentence addressed, varied, and replaced by others."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Any

from facetine.grammar.aesthetics import LOOKS, with_computed
from facetine.grammar.given import Options, Plain
from facetine.grammar.layer import Layer
from facetine.grammar.sentence import Sentence
from facetine.layers import made
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import FacetineError, OptionError, told, unknown

_COMMON = ("data", "where", "legend", "legend_as", "name", "backdrop", "panels", "rasterize")
_NEVER_FALSE = ("data", "where", "panels")
"""Options whose checks take many things, but for which False says nothing else than that there is none."""


def place_of(sentence: Sentence, layer: object, where: str) -> int:
    """The place of the layer that is meant by its verb, its name or its place.

    Raises:
        OptionError: There is none, or several.
    """
    layers = sentence.layers
    if not layers:
        raise OptionError(where, "the figure has no layer", "such as .points()")
    if isinstance(layer, int) and not isinstance(layer, bool):
        if not -len(layers) <= layer < len(layers):
            raise OptionError(where, f"no layer at place {layer}", f"places: 0 to {len(layers) - 1}")
        return layer % len(layers)
    if not isinstance(layer, str):
        raise OptionError(where, f"a layer is named by its verb, its name or its place, not {told(layer)}")
    found = [place for place, one in enumerate(layers) if one.name == layer]
    found = found or [place for place, one in enumerate(layers) if one.verb == layer]
    if not found:
        known = dict.fromkeys([*(one.name for one in layers if one.name), *(one.verb for one in layers)])
        raise unknown(OptionError, where, "no layer", layer, known, "layers here")
    if len(found) > 1:
        said = f"{len(found)} layers are {layer}, at places {' and '.join(map(str, found))}"
        raise OptionError(where, said, "its place, or the name of one, says which")
    return found[0]


def changed_layer(layer: Layer, options: Options, sentence: Sentence) -> DrawnLayer:
    """A layer with other options over those that it has; None takes one back to its default.

    So does False where it is no value of the option: a plan has no word for nothing.

    Raises:
        OptionError: An option is unknown or impossible.
        MappingError: Its mapping names an unknown aesthetic or column.
    """
    said: Plain = {**layer.said(), **{name: _none_for(layer, name, value) for name, value in options.items()}}
    if "data" in options:
        return made(layer.verb, said, sentence.table, sentence.codebook)
    # Its own data are a table already.
    own = said.pop("data", None)
    made_anew = made(layer.verb, said, own or sentence.table, sentence.codebook)
    return replace(made_anew, data=own and with_computed(own, [made_anew.map], f"figure.{layer.verb}"))


def _none_for(layer: Layer, name: str, value: Any) -> Any:
    if name == "map" and isinstance(value, Mapping):
        return {aesthetic: None if column is False else column for aesthetic, column in value.items()}
    if value is False and name in _NEVER_FALSE:
        return None
    entry = next((entry for entry in fields(layer) if entry.name == name), None)
    if value is not False or entry is None:
        return value
    try:
        entry.metadata["check"](False, name)
    except FacetineError:
        return None
    return value


def kept_by(old: Layer, kind: type[DrawnLayer]) -> tuple[Plain, list[str]]:
    """The options of a layer that one of another kind takes as well, and the names of the others."""
    known = {entry.name for entry in fields(kind)}
    said = old.said()
    kept = {name: value for name, value in said.items() if name in known and name in (*_COMMON, *LOOKS)}
    mapping = said.get("map", {})
    taken = {name: column for name, column in mapping.items() if column is None or name in kind.takes}
    if taken:
        kept["map"] = taken
    lost = [name for name in said if name not in kept and name != "map"]
    return kept, lost + [f"map of {name}" for name in mapping if name not in taken]
