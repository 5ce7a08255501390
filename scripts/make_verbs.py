"""Write facetine/verbs.pyi: the layer methods with their options, for type checkers and editors.

    python scripts/make_verbs.py

Run it when a layer's options change; `tests/test_verbs.py` fails where the stub is not what the layers say.
"""

from __future__ import annotations

from dataclasses import fields
from pathlib import Path

from facetine.layers import LAYERS, layer_class

TARGET = Path(__file__).parent.parent / "facetine" / "verbs.pyi"
HEAD = '''"""The layers as methods of a figure. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping
from typing import Any

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
        last = ("map", "data", "where", "panels", "backdrop", "legend", "name")
        entries = sorted(fields(kind), key=lambda entry: (entry.name != kind.first, entry.name in last))
        for place, entry in enumerate(entries):
            if place == (1 if kind.first else 0):
                lines.append("        *,")
            default = "{}" if entry.name == "map" else repr(entry.default).replace("'", '"')
            typed = "Mapping[str, MapValue]" if entry.name == "map" else "Frame" if entry.name == "data" else str(entry.type)
            lines.append(f"        {entry.name}: {typed} = {'...' if default == '{}' else default},")
        lines.append("    ) -> Figure:")
        lines.append(f'        """{(kind.__doc__ or "").strip()}')
        lines.append("")
        lines.append("        Args:")
        lines += [f"            {entry.name}: {entry.metadata['says']}" for entry in entries]
        lines.append('        """')
        parts.append("\n".join(lines) + "\n")
    return "\n".join(parts).replace("class LayerVerbs:\n\n", "class LayerVerbs:\n")


if __name__ == "__main__":
    TARGET.write_text(stub(), encoding="utf-8")
