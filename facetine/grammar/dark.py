"""Figures for grounds that are not theirs: slides and pages in the dark, on which they lie without a ground of their own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TypeAlias

from facetine.core.color.names import hex_color
from facetine.core.color.spaces import is_dark
from facetine.grammar.given import Options
from facetine.grammar.picture import Picture
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import THEMES, Theme

_Change: TypeAlias = Callable[[Theme, Options], Theme]
_INKS = ("ground", "text_color", "tick_color", "axis_color", "hairline_color", "missing_color", "palette", "ramp")


def for_dark_ground(content: Sentence | Plate) -> Sentence | Plate:
    """The same with the inks of our dark theme, but for those that were said; what is dark already stays as it is."""
    return _with_themes(content, _darkened)


def on_ground(content: Sentence | Plate, ground: object, where: str) -> Sentence | Plate:
    """The same on a ground of another color, with inks for a dark one where it is dark.

    Raises:
        OptionError: It is no color.
    """
    color = hex_color(ground, where)
    dark = for_dark_ground(content) if is_dark(color) else content
    return _with_themes(dark, lambda theme, _: replace(theme, ground=color))


def _darkened(theme: Theme, said: Options) -> Theme:
    if is_dark(theme.ground):
        return theme
    dark = THEMES["basalt"]
    return replace(theme, **{name: getattr(dark, name) for name in _INKS if name not in said or name == "ground"})


def _with_themes(content: Sentence | Plate, change: _Change) -> Sentence | Plate:
    if isinstance(content, Sentence):
        return _with_theme(content, change)
    begun, laid = content.theme_begun, content.theme_said

    def inner(theme: Theme, said: Options) -> Theme:
        # What the plate says of all its figures is said of each, so that it may be changed there.
        return change(content.under(theme), {**({} if begun is not None else said), **laid})

    cells = tuple(
        cell if isinstance(cell.content, Picture) else cell._replace(content=_with_themes(cell.content, inner))
        for cell in content.cells
    )
    return replace(content, cells=cells, theme_name=None, theme_begun=None, theme_said={})


def _with_theme(sentence: Sentence, change: _Change) -> Sentence:
    insets = tuple(replace(inset, figure=_with_theme(inset.figure, change)) for inset in sentence.insets)
    return replace(sentence, theme=change(sentence.theme, sentence.theme_said), insets=insets)
