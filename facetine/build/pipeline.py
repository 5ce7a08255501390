"""The whole way from a sentence to a scene."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from facetine.build.compute import all_computed
from facetine.build.direct import direct_names, named_directly, room_for
from facetine.build.draw import draw
from facetine.build.guide import default_looks, legends
from facetine.build.layout import Layout, Request, fonts_of, lay_out
from facetine.build.looks import Scales, palette_colors, settle_looks
from facetine.build.notes import Notes
from facetine.build.split import Split, split, turned
from facetine.build.settle import called_format, inside, level_texts, settle_axes
from facetine.core.columns import Columns
from facetine.grammar.scale import NOTHING
from facetine.grammar.sentence import Sentence
from facetine.scene.fonts import named
from facetine.scene.marks import Scene
from facetine.scene.markup import plain


@dataclass(slots=True)
class Built:
    """A figure that is ready to be written."""

    scene: Scene
    notes: tuple[str, ...]
    layout: Layout
    scales: Scales
    tables: list[Columns]
    """Each layer's rows as drawn, in axis space."""


def build(sentence: Sentence, width: float, height: float | None) -> Built:
    """Takes a sentence through all steps.

    Args:
        sentence: What the figure says.
        width: Width of the sheet in points.
        height: Its height; None for the one that suits.

    Raises:
        FacetineError: The sentence can't be drawn; the message says why.
    """
    notes = Notes()
    parts = split(sentence, notes)
    sentence = turned(sentence)
    tables = all_computed(parts)
    axes = settle_axes(sentence, parts, tables)
    tables = [inside(axes, table, part.layer.verb != "points", notes) for table, part in zip(tables, parts.parts, strict=True)]
    looks = settle_looks(sentence, parts, tables, notes)
    scales = Scales(axes, looks)
    if not any(len(table) for table in tables):
        notes.say("there are no rows to draw; the figure is empty")
    _check_layers(parts, notes)
    theme = sentence.theme
    first = palette_colors(NOTHING, theme)[0]
    defaults = {str(place): default_looks(part.layer, theme, first) for place, part in enumerate(parts.parts)}
    headings = _headings(sentence, parts)
    per_row = sentence.facet.per_row if sentence.facet else 1
    # Where a second axis stands at the right, there is no place for names at the ends of lines.
    beside = axes["y"].spec.second is None
    direct = direct_names(parts.parts, looks, per_row if per_row is not None else parts.panels) if beside else []
    shown = {name: scale for name, scale in looks.items() if not named_directly(scale, parts.parts, direct)}
    titles = sentence.titles
    request = Request(
        width, height, theme, titles.title or "", titles.subtitle or "", titles.note or "",
        axes["x"], axes["y"], headings, sentence.facet.per_row if sentence.facet else None,
        tuple(legends(shown, parts.parts, defaults, theme.tick_color)), room_for(direct, fonts_of(theme).text, theme.gap),
    )  # fmt: skip
    layout = lay_out(request, notes)
    scene = draw(layout, scales, parts.parts, tables, defaults, theme, sentence.seed, headings, direct)
    scene.title = plain(titles.title or "")
    scene.description = _described(sentence, parts, axes)
    _check_glyphs(scene, theme.font, notes)
    return Built(scene, tuple(notes.said), layout, scales, tables)


def _check_layers(parts: Split, notes: Notes) -> None:
    """Layers that draw the same rows twice."""
    verbs = {part.layer.verb for part in parts.parts}
    if "points" in verbs and any(getattr(part.layer, "outliers", False) for part in parts.parts):
        notes.say("figure.boxes: outliers are drawn by the boxes and by the points; outliers=False leaves them to the points")


def _headings(sentence: Sentence, parts: Split) -> tuple[str, ...] | None:
    facet = sentence.facet
    if facet is None:
        return None
    name = sentence.codebook.title(facet.by)
    levels = parts.levels["facet"] or ("",)
    if callable(facet.heading):
        return tuple(called_format(facet.heading, level, "figure.facet", "heading") for level in levels)
    said = level_texts(levels, NOTHING, "figure.facet") if parts.levels["facet"] else ("",)
    return tuple(str(facet.heading.format(name=name, value=text)) for text in said)


def _described(sentence: Sentence, parts: Split, axes: Any) -> str:
    """A sentence for readers who can't see the figure."""
    drawn = ", ".join(dict.fromkeys(part.layer.verb for part in parts.parts))
    text = f"Chart with {drawn}: {plain(axes['y'].title) or 'y'} against {plain(axes['x'].title) or 'x'}"
    if sentence.facet is not None:
        text += f", a panel for each {plain(sentence.codebook.title(sentence.facet.by))}"
    return text + "."


def _check_glyphs(scene: Scene, font: str, notes: Notes) -> None:
    """Says which characters no font here has, and which come from a font that another machine may lack."""
    lost: set[str] = set()
    borrowed: dict[str, set[str]] = {}
    for text in scene.texts():
        for run in text.runs:
            used = named(run.face)
            if 0 in run.ids:
                lost.update(run.text[at] for at, glyph in zip(run.abreast, run.ids, strict=True) if glyph == 0)
            elif used.source == "system" and used.key.family != font:
                borrowed.setdefault(used.key.family, set()).update(run.text)
    if lost:
        shown = ", ".join(f"{char} (U+{ord(char):04X})" for char in sorted(lost))
        notes.say(f"fonts: no font here has {shown}; an empty box stands there. facetine catalog fonts lists what there is")
    for family, chars in sorted(borrowed.items()):
        shown = "".join(sorted(chars - {" "}))
        shown = f"{shown[:12]}…" if len(shown) > 12 else shown
        notes.say(f"fonts: {shown} set in {family}, a font of this machine; elsewhere it may look otherwise")
