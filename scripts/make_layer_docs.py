"""Write docs/layers.md: every layer with its aesthetics and options.

    python scripts/make_layer_docs.py

`tests/test_docs.py` fails where the page is not what the layers say.
"""

from __future__ import annotations

from dataclasses import fields
from pathlib import Path

from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.theme import Theme
from facetine.layers import LAYERS, layer_class

TARGET = Path(__file__).parent.parent / "docs" / "layers.md"
SHARED = ("map", "data", "where", "legend", "name")


def page() -> str:
    """The text of the page."""
    lines = ["# Layers", "", "Made by `scripts/make_layer_docs.py` from the layers themselves.", ""]
    lines += [
        "All take `map=`, `data=`, `where=`, `legend=` and `name=`. What follows the data is mapped, what is fixed is an option.",
        "",
    ]
    for verb in LAYERS:
        kind = layer_class(verb)
        first = f" The first argument may be `{kind.first}`." if kind.first else ""
        lines += [f"## {verb}", "", f"{kind.__doc__}{first}", ""]
        if kind.takes:
            lines += [f"Aesthetics: {', '.join(f'`{name}`' for name in kind.takes)}.", ""]
        lines += ["| option | default | |", "|---|---|---|"]
        for entry in fields(kind):
            if entry.name not in SHARED:
                default = "" if entry.default is None else f"`{entry.default!r}`".replace("'", '"')
                lines.append(f"| `{entry.name}` | {default} | {entry.metadata['says']} |")
        lines.append("")
    lines += ["# Aesthetics", "", "| aesthetic | |", "|---|---|"]
    lines += [f"| `{name}` | {says} |" for name, says in AESTHETICS.items()]
    lines += ["", "# Settings of a theme", "", "Lengths and sizes are in points.", "", "| setting | default | |", "|---|---|---|"]
    for entry in fields(Theme):
        default = "" if entry.default is None else f"`{entry.default!r}`".replace("'", '"')
        lines.append(f"| `{entry.name}` | {default} | {entry.metadata['says']} |")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    TARGET.write_text(page(), encoding="utf-8")
