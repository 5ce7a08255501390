"""Panels in which a layer stands, where it does not stand in all."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from facetine.data.table import Levels
from facetine.grammar.facet import Facet, variable_name
from facetine.grammar.sentence import Sentence
from facetine.layers.base import DrawnLayer
from facetine.messages.errors import OptionError, unknown
from facetine.pipeline.composition.level_order import level_name


def check_backdrop(facet: Facet | None, layer: DrawnLayer, where: str) -> None:
    """Refuses what has no effect without panels, or would not stand on their axes.

    Raises:
        OptionError: There is no facet, or its panels have axes of their own.
    """
    if facet is None and (layer.backdrop or layer.panels is not None):
        said = "backdrop" if layer.backdrop else "panels"
        raise OptionError(where, f"{said} has no effect without panels", "add .facet(…)")
    if layer.backdrop and facet is not None and facet.sharing:
        raise OptionError(
            where,
            "backdrop sets the rows of all panels behind each, which has no place on axes of a panel's own",
            "leave out separate=, or the backdrop",
        )
    if layer.backdrop and layer.panels is not None:
        raise OptionError(where, "backdrop stands in every panel, and panels names some", "leave out one of them")


def chosen_panels(sentence: Sentence, layer: DrawnLayer, levels: Levels, where: str) -> list[int] | None:
    """The numbers of the panels in which a layer stands; None for all.

    Raises:
        OptionError: It names a value that no panel has, or a column that makes none.
    """
    facet, said = sentence.facet, layer.panels
    if said is None or facet is None:
        return None
    parts = parts_of(facet)
    if not isinstance(said, Mapping):
        if len(parts) > 1:
            first, second = list(parts)[:2]
            raise OptionError(where, f"panels are of {first!r} and {second!r}", f'such as {{"{first}": "…"}}')
        said = {next(iter(parts)): said}
    chosen = set(range(len(levels)))
    for name, values in said.items():
        if name not in parts:
            raise unknown(OptionError, where, "panels: no panels of", name, tuple(parts), "columns of the facet")
        words = [level_name(parts[name](level)) for level in levels]
        for value in values:
            if value not in words:
                raise unknown(OptionError, where, "panels: no panel", value, tuple(dict.fromkeys(words)), "panels")
        chosen &= {number for number, word in enumerate(words) if word in values}
    return sorted(chosen)


def parts_of(facet: Facet) -> dict[str, Callable[[Any], object]]:
    """Each column of a facet by name, with what finds its value in the value of a panel."""
    parts: dict[str, Callable[[Any], object]] = {}
    several = len(facet.variables) > 1
    for place, variable in enumerate(facet.variables):
        names = variable if isinstance(variable, tuple) else (variable_name(variable),)
        for inner, name in enumerate(names):
            path = (*([place] if several else []), *([inner] if isinstance(variable, tuple) else []))
            parts[name] = _found_at(path)
    return parts


def _found_at(path: tuple[int, ...]) -> Callable[[Any], object]:
    def found(level: Any) -> object:
        for step in path:
            level = level[step]
        return level

    return found
