"""What there is to choose from, on a sheet: palettes in normal and simulated vision and in gray, and font families."""

from __future__ import annotations

import numpy as np

from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.color.spaces import blend, from_hex, to_hex
from facetine.core.color.vision import grayed, simulated
from facetine.grammar.theme import THEMES
from facetine.scene.catalog import SOURCES, catalog
from facetine.scene.marks import Gradient, Rects, Scene
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import TextStyle, set_text

_VIEWS = ("normal", "protan", "deutan", "tritan", "gray")
_WIDTH, _ROW, _NAME, _CELL = 510.0, 15.0, 62.0, 88.0
_SAMPLE = "Firmness 0.25 ± 0.1 N, *n* = 240, CO~2~, m s^−1^, µ Å β Ж"


def seen(colors: list[str], view: str) -> list[str]:
    """Colors as they look in one of the views."""
    rgb = from_hex(colors)
    if view == "normal":
        return colors
    return to_hex(grayed(rgb) if view == "gray" else simulated(rgb, view))  # type: ignore[arg-type]


def palette_sheet() -> Scene:
    """The drawing: a row for each palette, a column for each view."""
    theme = THEMES["press"]
    text = TextStyle(theme.font, 8.0, 400, theme.text_color)
    strong = text._replace(weight=700)
    root = Sketch("figure", "Figure")
    top = 8.0
    for number, view in enumerate(_VIEWS):
        root.add(set_text(view, text).placed(_NAME + number * _CELL, top, role="heading"))
    top += 14.0
    families = (
        ("For categories", QUALITATIVE), ("From low to high", SEQUENTIAL), ("On both sides of a middle", DIVERGING),
        ("For directions and hours", CYCLIC),
    )  # fmt: skip
    for title, palettes in families:
        top += 5.0
        root.add(set_text(title, strong).placed(8.0, top, role="title"))
        top += 13.0
        for name, colors in palettes.items():
            group = root.group(f"palette-{name}", name)
            group.add(set_text(name, text).placed(8.0, top + 1.5, role="label"))
            for place, view in enumerate(_VIEWS):
                box = Region(_NAME + place * _CELL, top, _CELL - 8.0, _ROW - 5.0)
                group.add([_swatch(list(colors), view, box, steps=palettes is QUALITATIVE)])
            top += _ROW
    drawn = root.finished()
    return Scene(_WIDTH, top + 6.0, theme.ground, drawn, "Palettes", "Every palette in normal and simulated vision, and in gray.")


def _swatch(colors: list[str], view: str, box: Region, steps: bool) -> Rects | Gradient:
    if not steps:
        return Gradient(box, tuple(seen(blend(colors, 48), view)))
    each = box.width / len(colors)
    boxes = np.array([(box.x + place * each, box.y, each - 0.8, box.height) for place in range(len(colors))])
    return Rects(boxes, tuple(seen(colors, view)), np.arange(len(colors)))


def font_sheet() -> Scene:
    """The drawing: a row for each family, with a sample in it; a letter that it lacks comes from another one."""
    theme = THEMES["press"]
    text = TextStyle(theme.font, 8.0, 400, theme.text_color)
    quiet, strong = text._replace(color=theme.tick_color), text._replace(weight=700)
    root = Sketch("figure", "Figure")
    top = 8.0
    for source, says in SOURCES.items():
        families = [one for one in catalog().values() if one.source == source]
        if not families:
            continue
        root.add(set_text(says[0].upper() + says[1:], strong).placed(8.0, top, role="title"))
        top += 14.0
        for one in families:
            group = root.group("family", one.name)
            name = set_text(one.name, quiet, 120.0)
            sample = set_text(_SAMPLE, TextStyle(one.name, 10.0, 400, theme.text_color), _WIDTH - 148.0)
            group.add(name.placed(8.0, top + 1.0, role="label"))
            group.add(sample.placed(140.0, top, role="label"))
            top += max(name.height, sample.height) + 7.0
        top += 6.0
    return Scene(_WIDTH, top, theme.ground, root.finished(), "Fonts", "Every font family that a theme can name, with a sample.")
