"""Write what type checkers and editors read: the verbs with their options in facetine/figures/layers.pyi, and the imports of
the public names in facetine/__init__.py.

    python scripts/make_verbs.py

Run it when a layer's options change; `tests/test_docs.py` fails where the stub is not what the layers say.
"""

from __future__ import annotations

import inspect
from pathlib import Path

import facetine
from facetine.figures.layers import OptionVerbs, PlateVerbs
from facetine.figures.verb import SpelledOut
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import help_of, told_options

ROOT = Path(__file__).parent.parent / "facetine" / "__init__.py"
TARGET = Path(__file__).parent.parent / "facetine" / "figures" / "layers.pyi"
HEAD = '''"""The layers as methods of a figure, and the verbs with many options. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, Literal, Self

from facetine.data.expressions import Expression
from facetine.data.table import Levels
from facetine.figures.figure import Figure
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Ends, Frame, NotGiven, Options, Place
from facetine.grammar.scale import Format

class LayerVerbs:
'''


def stub() -> str:
    """The text of the stub."""
    parts = [HEAD]
    for name in LAYERS.ours():
        kind = layer_class(name)
        lines = [f"    def {name}(", "        self,"]
        options = told_options(kind)
        for place, one in enumerate(options):
            if place == (1 if kind.first else 0):
                lines.append("        *,")
            default = "..." if one.name == "map" else repr(one.default).replace("'", '"')
            lines.append(f"        {one.name}: {one.type} = {default},")
        lines.append("    ) -> Figure:")
        told = help_of(kind).rstrip().replace("\n", "\n        ").replace("\n        \n", "\n\n")
        lines += [f'        """{told}', '        """']
        parts.append("\n".join(lines) + "\n")
    for group in (OptionVerbs, PlateVerbs):
        parts.append(f"class {group.__name__}:\n")
        parts += [_spelled(name, getattr(group, name)) for name, one in vars(group).items() if isinstance(one, SpelledOut)]
    return "\n".join(parts).replace("Verbs:\n\n    def", "Verbs:\n    def")


def root() -> str:
    """The text of the package's root, with the imports that its list of names says."""
    before, begin, rest = ROOT.read_text("utf-8").partition("if TYPE_CHECKING:\n")
    _, end, after = rest.partition("\n__all__")
    named = sorted((home, name[0].islower(), name) for name, home in facetine._HOMES.items())
    imports = "".join(f"    from {home} import {name} as {name}\n" for home, _, name in named)
    return before + begin + imports + end + after


def _spelled(name: str, method: object) -> str:
    """A verb with the options of a record."""
    lines, named = [f"    def {name}("], False
    for one in inspect.signature(method).parameters.values():  # type: ignore[arg-type]
        if one.name == "self":
            lines.append("        self,")
            continue
        if one.kind is one.VAR_POSITIONAL:
            lines.append(f"        *{one.name}: {one.annotation},")
            named = True
            continue
        if one.kind is one.KEYWORD_ONLY and not named:
            lines.append("        *,")
            named = True
        default = "" if one.default is one.empty else " = ..." if repr(one.default) == "…" else f" = {one.default!r}"
        annotation = str(one.annotation)
        if default == " = ..." and "NotGiven" not in annotation:
            empty = " | None" if annotation.endswith(" | None") else ""
            annotation = f"{annotation.removesuffix(' | None')} | NotGiven{empty}"
        lines.append(f"        {one.name}: {annotation}{default},")
    told = (inspect.getdoc(method) or "").rstrip().replace("\n", "\n        ").replace("\n        \n", "\n\n")
    return "\n".join([*lines, "    ) -> Self:", f'        """{told}', '        """']) + "\n"


if __name__ == "__main__":
    TARGET.write_text(stub(), encoding="utf-8")
    ROOT.write_text(root(), encoding="utf-8")
