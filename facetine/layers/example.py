"""A small figure of a layer, from which readers of the catalog choose."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple


class Example(NamedTuple):
    """A small figure of a layer, as plain data of the demo world."""

    suits: str
    """The kinds of variables that it suits, in words."""
    place: int
    """Where it stands among those that suit the same."""
    mapped: Mapping[str, Any]
    layers: Sequence[str | Mapping[str, Any]]
    data: str = "wheels"
    keep: str | None = None
    called: str = ""
    """What it is called where it is not the plain form of the layer."""
