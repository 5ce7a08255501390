"""What is told of a layer's options: in its help, in the signature that editors show, and in the docs."""

from __future__ import annotations

from dataclasses import MISSING, Field, fields
from typing import Any, NamedTuple

from facetine.grammar.options import accepted, words_of
from facetine.messages.glossary import help_text

_LAST = ("map", "data", "where", "panels", "backdrop", "legend", "legend_as", "name", "rasterize")
"""What all layers take, after what is their own."""
_TYPES = {"map": "Mapping[str, MapValue]", "data": "Frame"}


class ToldOption(NamedTuple):
    """An option as a reader needs it."""

    name: str
    type: str
    default: Any
    says: str
    accepts: str
    """What it may be, in words; empty where the type says it."""
    first: bool
    """Whether it may be given without its name."""
    shared: bool
    """Whether all layers take it."""


def told_options(kind: type) -> list[ToldOption]:
    """The options of a layer: the one that may stand first, its own, and those of all layers."""
    first = getattr(kind, "first", None)
    entries = sorted(fields(kind), key=lambda entry: (entry.name != first, entry.name in _LAST))
    return [_told(entry, getattr(kind, "verb", ""), entry.name == first) for entry in entries]


def _told(entry: Field[Any], owner: str, first: bool) -> ToldOption:
    default = {} if entry.default_factory is not MISSING else entry.default
    typed, check = _TYPES.get(entry.name, str(entry.type)), entry.metadata.get("check")
    if words_of(check):
        typed = typed.replace("str", "Literal[" + ", ".join(f'"{word}"' for word in words_of(check)) + "]", 1)
    accepts = accepted(check)
    says = help_text(entry.name, owner, entry.metadata["detail"])
    return ToldOption(entry.name, typed, default, says, accepts, first, entry.name in _LAST)


def help_of(kind: type) -> str:
    """The help of a layer's method."""
    lines = [(kind.__doc__ or "").strip(), "", "Args:"]
    lines += [f"    {one.name}: {one.says}{f' It is {one.accepts}.' if one.accepts else ''}" for one in told_options(kind)]
    takes = getattr(kind, "takes", ())
    if takes:
        lines += ["", f"Follows columns by map(…) or map={{…}}: {', '.join(takes)}."]
    names = kind.all_names(kind()) if hasattr(kind, "all_names") else {}
    if names:
        lines += ["", f"Computes, for templates: {', '.join(names)}."]
    return "\n".join(lines) + "\n"
