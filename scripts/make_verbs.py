"""Write facetine/verbs.pyi: the layer methods with their options, for type checkers and editors.

    python scripts/make_verbs.py

Run it when a layer's options change; `tests/test_verbs.py` fails where the stub is not what the layers say.
"""

from __future__ import annotations

from pathlib import Path

from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import help_of, told_options

TARGET = Path(__file__).parent.parent / "facetine" / "verbs.pyi"
HEAD = '''"""The layers as methods of a figure. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping, Sequence
from typing import Any, Literal

from facetine.data.expressions import Expression
from facetine.data.table import Levels
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Ends, Frame, Place
from facetine.public import Figure

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
    return "\n".join(parts).replace("class LayerVerbs:\n\n", "class LayerVerbs:\n")


if __name__ == "__main__":
    TARGET.write_text(stub(), encoding="utf-8")
