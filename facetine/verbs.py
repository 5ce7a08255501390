"""The layers as methods of a figure. The stub beside this file, made by scripts/make_verbs.py, spells them out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from facetine.errors import nearest
from facetine.layers import LAYERS, with_first


class LayerVerbs:
    """What every figure can draw, one method for each layer of the registry."""

    __slots__ = ()

    def __getattr__(self, name: str) -> Any:
        """The method of a layer that another package adds."""
        if not name.startswith("_") and name in LAYERS:
            return _method(name).__get__(self)
        close = nearest(name, dir(type(self)))
        hint = f". Did you mean {close!r}?" if close else ""
        raise AttributeError(f"a figure has no verb {name!r}{hint}; layers: {', '.join(LAYERS.ours())}")


def _method(name: str) -> Callable[..., Any]:
    """A method that adds a layer. The layer's module, and with it the help, is loaded when it is first used."""

    def add(self: Any, *given: Any, **options: Any) -> Any:
        return self._add_layer(name, with_first(name, given, options))

    add.__name__ = name
    add.__qualname__ = f"Figure.{name}"
    add.__doc__ = f"Adds the layer `{name}`; editors show its options from the stub beside this module."
    return add


for _name in LAYERS.ours():
    setattr(LayerVerbs, _name, _method(_name))
