"""The layers as methods of a figure. The stub beside this file, made by scripts/make_verbs.py, spells them out."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from functools import cached_property
from typing import Any

from facetine.errors import no_verb
from facetine.layers import LAYERS, layer_class, with_first
from facetine.layers.helping import help_of, told_options


class LayerVerb:
    """A method that adds a layer; its module, and with it signature and help, is loaded when it is first looked at."""

    def __init__(self, name: str) -> None:
        self.name = name

    def __get__(self, figure: object, owner: type | None = None) -> Callable[..., Any]:
        return self.method if figure is None else self.method.__get__(figure, owner)

    @cached_property
    def method(self) -> Callable[..., Any]:
        """The function, with the options of the layer as its signature."""
        name, kind = self.name, layer_class(self.name)

        def add(self: Any, *given: Any, **options: Any) -> Any:
            return self._add_layer(name, with_first(name, given, options))

        add.__name__ = name
        add.__qualname__ = f"Figure.{name}"
        add.__doc__ = help_of(kind)
        add.__module__ = "facetine"
        add.__signature__ = _signature(kind)  # type: ignore[attr-defined]
        return add


def _signature(kind: type) -> inspect.Signature:
    """The options of a layer with their types and defaults; the one that may stand first comes first."""
    parameters = [inspect.Parameter("self", inspect.Parameter.POSITIONAL_OR_KEYWORD)]
    for option in told_options(kind):
        how = inspect.Parameter.POSITIONAL_OR_KEYWORD if option.first else inspect.Parameter.KEYWORD_ONLY
        parameters.append(inspect.Parameter(option.name, how, default=option.default, annotation=option.type))
    return inspect.Signature(parameters, return_annotation="Figure")


class LayerVerbs:
    """What every figure can draw, one method for each layer of the registry."""

    __slots__ = ()

    def __getattr__(self, name: str) -> Any:
        """The method of a layer that another package adds."""
        if not name.startswith("_") and name in LAYERS:
            return LayerVerb(name).__get__(self)
        raise no_verb("a figure", name, dir(type(self)), f"layers: {', '.join(LAYERS.ours())}")


for _name in LAYERS.ours():
    setattr(LayerVerbs, _name, LayerVerb(_name))
