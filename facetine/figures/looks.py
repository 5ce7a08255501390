"""How figures and plates look: mappings, scales, titles and themes, said of a sentence or of all the figures of a plate."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from facetine.figures.edits import with_changes
from facetine.grammar.given import NotGiven
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence, Titles, said_texts
from facetine.messages.errors import MappingError, OptionError, ScaleError, told, unknown

if TYPE_CHECKING:
    from facetine.grammar.aesthetics import MapValue
    from facetine.grammar.given import Options
    from facetine.grammar.scale import ScaleSpec
    from facetine.grammar.theme import Theme

K = TypeVar("K")
TEXTS = ("title", "subtitle", "note", "source")


def mapped(sentence: Sentence, given: tuple[object, ...], aesthetics: Mapping[str, MapValue]) -> Sentence:
    """With aesthetics that follow columns."""
    from facetine.grammar.aesthetics import checked_mapping

    if given:
        first = told(given[0])
        raise MappingError("figure.map", f"nothing says what {first} is mapped to", f"write .map(x={first}, y=…)")
    mapping = dict(sentence.mapping) | checked_mapping(aesthetics, sentence.table, "figure.map")
    return with_changes(sentence, mapping={name: column for name, column in mapping.items() if column is not None})


def scaled(sentence: Sentence, aesthetic: str, kind: str | NotGiven | None, for_column: str | None, options: Options) -> Sentence:
    """With a scale, of one column alone where that is named; a title is the same wherever it is said."""
    from facetine.grammar.scale import NOTHING, later_spec

    where = f"figure.scale({told(aesthetic)})"
    if not isinstance(aesthetic, str):
        raise ScaleError("figure.scale", f"{told(aesthetic)} is no aesthetic")
    if for_column is None:
        merged, titles = later_spec(sentence.scale(aesthetic), aesthetic, kind, options, where), sentence.titles
        if "title" in options or not merged.said():
            # A title is the same thing wherever it is said, so that the later call wins.
            titles = titles.with_guide(aesthetic, merged.title)
            merged = replace(merged, title=None)
        return with_changes(sentence, scales=_laid(sentence.scales, aesthetic, merged), titles=titles)
    if not isinstance(for_column, str):
        raise OptionError(where, f"for_column is the name of a column, not {told(for_column)}")
    if sentence.table is not None:
        sentence.table.need(for_column, where, "for_column=")
    of_columns = sentence.scales_of
    merged = later_spec(of_columns.get((aesthetic, for_column), NOTHING), aesthetic, kind, options, where)
    return with_changes(sentence, scales_of=_laid(of_columns, (aesthetic, for_column), merged))


def scaled_together(plate: Plate, aesthetic: str, kind: str | NotGiven | None, options: Options) -> Plate:
    """With a scale of all its figures that show an aesthetic."""
    from facetine.grammar.picture import Picture
    from facetine.grammar.scale import NOTHING, later_spec

    where = f"plate.scale({told(aesthetic)})"
    if isinstance(options.get("order"), str) or options.get("top") is not None:
        raise OptionError(where, "orders that follow the data, and top, belong to a figure", "order=[…] is one for all")
    merged = later_spec(plate.scales.get(aesthetic, NOTHING), aesthetic, kind, options, where)
    figures = [content for content in plate.contents() if not isinstance(content, Picture)]
    figures += [inset.figure for figure in figures for inset in figure.insets]
    if not any(figure.shows(aesthetic) for figure in figures):
        raise OptionError(where, f"no figure of the plate maps {aesthetic}", "say it of the figure that computes it")
    return replace(plate, scales=_laid(plate.scales, aesthetic, merged))


def _laid(said: Mapping[K, ScaleSpec], key: K, spec: ScaleSpec) -> dict[K, ScaleSpec]:
    """Scales with another one; one of which nothing is said any more is not among them."""
    return {name: scale for name, scale in {**said, key: spec}.items() if scale.said()}


def titled(said: Titles, texts: Mapping[str, Any], guides: Mapping[str, str | None], where: str) -> Titles:
    """Titles with other texts, and with other titles of axes and legends.

    Args:
        said: Those before.
        texts: Title, subtitle, note and source, as far as they are given.
        guides: Of axes and legends, by aesthetic.
        where: Who asks.

    Raises:
        OptionError: A text is none, or there is no such guide.
    """
    from facetine.grammar.scale import SCALED

    for name in guides:
        if name not in SCALED:
            raise unknown(OptionError, where, "no title for", name, (*TEXTS, *SCALED), "titles")
    words = said_texts({**texts, **guides}, where)
    every = {**said.guides, **{name: words[name] for name in guides}}
    own: dict[str, Any] = {name: text for name, text in words.items() if name not in guides}
    return replace(said, **own, guides={name: text for name, text in every.items() if text is not None})


def themed(sentence: Sentence, name: str | Path | None, settings: Options) -> Sentence:
    """With another theme, or with settings laid over the one in use."""
    theme = _theme(sentence.theme, name, settings, "figure.theme")
    named: Options = {"name": str(name)} if name is not None else sentence.theme_said
    return with_changes(sentence, theme=theme, theme_said={**named, **settings})


def themed_together(plate: Plate, name: str | Path | None, settings: Options) -> Plate:
    """With a theme, or settings, of all its figures."""
    from facetine.grammar.theme import THEMES

    where = "plate.theme"
    begun = plate.theme_begun if name is None else _theme(THEMES["press"], name, {}, where)
    _theme(begun or THEMES["press"], None, settings, where)
    named, before = (plate.theme_name, plate.theme_said) if name is None else (str(name), {})
    return replace(plate, theme_name=named, theme_begun=begun, theme_said={**before, **settings})


def _theme(begun: Theme, name: str | Path | None, settings: Options, where: str) -> Theme:
    """A theme with settings laid over it, whose font is there."""
    from facetine.export.defaults import must_have_font
    from facetine.grammar.theme import themed as laid_over

    theme = laid_over(begun, name, settings, where)
    must_have_font(theme, where)
    return theme
