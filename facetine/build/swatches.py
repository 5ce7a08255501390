"""All palettes on one sheet: as they are, as readers with a color vision deficiency see them, and in gray."""

from __future__ import annotations

import numpy as np

from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.color.spaces import blend, from_hex, to_hex
from facetine.core.color.vision import grayed, simulated
from facetine.grammar.theme import THEMES
from facetine.scene.marks import Gradient, Group, Rects, Region, Scene
from facetine.scene.typeset import Type, set_text

_VIEWS = ("normal", "protan", "deutan", "tritan", "gray")
_WIDTH, _ROW, _NAME, _CELL = 510.0, 15.0, 62.0, 88.0


def seen(colors: list[str], view: str) -> list[str]:
    """Colors as they look in one of the views."""
    rgb = from_hex(colors)
    if view == "normal":
        return colors
    return to_hex(grayed(rgb) if view == "gray" else simulated(rgb, view))  # type: ignore[arg-type]


def palette_sheet() -> Scene:
    """The drawing: a row for each palette, a column for each view."""
    theme = THEMES["press"]
    text = Type(theme.font, 8.0, 400, theme.text_color)
    strong = text._replace(weight=700)
    root = Group("figure", "Figure")
    top = 8.0
    for number, view in enumerate(_VIEWS):
        root.items.extend(set_text(view, text).placed(_NAME + number * _CELL, top, role="heading"))
    top += 14.0
    families = (
        ("For categories", QUALITATIVE), ("From low to high", SEQUENTIAL), ("On both sides of a middle", DIVERGING),
        ("For directions and hours", CYCLIC),
    )  # fmt: skip
    for title, palettes in families:
        top += 5.0
        root.items.extend(set_text(title, strong).placed(8.0, top, role="title"))
        top += 13.0
        for name, colors in palettes.items():
            group = root.group(f"palette-{name}", name)
            group.items.extend(set_text(name, text).placed(8.0, top + 1.5, role="label"))
            for place, view in enumerate(_VIEWS):
                box = Region(_NAME + place * _CELL, top, _CELL - 8.0, _ROW - 5.0)
                group.items.append(_swatch(list(colors), view, box, steps=palettes is QUALITATIVE))
            top += _ROW
    return Scene(_WIDTH, top + 6.0, theme.ground, root, "Palettes", "Every palette in normal and simulated vision, and in gray.")


def _swatch(colors: list[str], view: str, box: Region, steps: bool) -> Rects | Gradient:
    if not steps:
        return Gradient(box, tuple(seen(blend(colors, 48), view)))
    each = box.width / len(colors)
    boxes = np.array([(box.x + place * each, box.y, each - 0.8, box.height) for place in range(len(colors))])
    return Rects(boxes, tuple(seen(colors, view)), np.arange(len(colors)))
