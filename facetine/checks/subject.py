"""What is checked: a built figure with its sentences, and its marks with the groups that they stand in."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from facetine.checks.profile import Profile
from facetine.core.arrays import IntArray
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.messages.findings import Call, Finding
from facetine.pipeline.scales.highlighted import quiet_ink
from facetine.pipeline.sheet.built import Built
from facetine.scene.marks import Group, Mark, Markers, Paths, Rects, Text
from facetine.writers.extents import box_of


class Standing(NamedTuple):
    """A mark, with where it stands."""

    mark: Mark
    inside: tuple[Group, ...]
    """The groups around it, the outermost first."""
    group: str
    """The id of the innermost one, as in the SVG without the prefix of the figure."""
    page: int = 0
    """The number of its page."""

    @property
    def layer(self) -> int | None:
        """The number of its layer; None for guides."""
        return next(
            (group.layer for group in reversed(self.inside) if group.kind in ("layer", "category", "values", "names")), None
        )

    def within(self, *kinds: str) -> bool:
        """Whether a group around it is of one of these kinds."""
        return any(group.kind in kinds for group in self.inside)


@dataclass(frozen=True)
class Subject:
    """A figure that is checked."""

    made: Built
    sentences: tuple[Sentence, ...]
    """Those of all figures on the sheet."""
    profile: Profile
    what: str = "figure"

    @cached_property
    def quiet_inks(self) -> frozenset[str]:
        """Those of rows that are not highlighted, which are meant to be faint."""
        return frozenset(quiet_ink(one.highlight, one.theme) for one in self.sentences if one.highlight is not None)

    @property
    def theme(self) -> Theme:
        """That of the first figure."""
        return self.sentences[0].theme

    @property
    def ground(self) -> str:
        """The color of the sheet."""
        return self.made.scene.ground or "#ffffff"

    @property
    def ground_below(self) -> str:
        """The color behind the marks."""
        return self.theme.panel_ground or self.ground

    @cached_property
    def standing(self) -> list[Standing]:
        """All marks of all pages, in drawing order."""
        return [one for number, page in enumerate(self.made.pages) for one in _walk(page.root, (), (), number)]

    @cached_property
    def texts(self) -> list[tuple[Standing, Text]]:
        """All lines of text."""
        return [(one, one.mark) for one in self.standing if isinstance(one.mark, Text) and one.mark.runs]

    @cached_property
    def drawn(self) -> list[Standing]:
        """The marks of layers that are no text."""
        return [one for one in self.standing if one.within("layer") and isinstance(one.mark, Markers | Rects | Paths)]

    def title_group(self, sentence: Sentence, axis: str) -> str:
        """The id of the group of an axis' title; empty for none."""
        number = next(place for place, one in enumerate(self.sentences) if one is sentence)
        prefix = f"figure-{number + 1}-" if self.what == "plate" else ""
        return next((one.group for one in self.standing if one.group == f"{prefix}{axis}-title"), "")

    def group_of(self, layer: int) -> str:
        """The id of the first group of a layer."""
        return next((one.group for one in self.standing if one.layer == layer), "")

    def showing(self, layer: int, rows: IntArray) -> Standing | None:
        """The first mark of a layer that shows any of these rows of its table."""
        for one in self.drawn:
            shown = getattr(one.mark, "rows", None)
            if one.layer == layer and shown is not None and bool(np.isin(shown, rows).any()):
                return one
        return None


def found(
    code: str,
    severity: str,
    where: str,
    text: str,
    fix: str | Call = "",
    group: str = "",
    at: Standing | None = None,
) -> Finding:
    """A finding; the mark that shows it says where it is best seen, and in which group."""
    call, words = (fix, str(fix)) if isinstance(fix, Call) else (None, fix)
    if at is None:
        return Finding(code, severity, where, text, words, group, call=call)  # type: ignore[arg-type]
    box = box_of(at.mark)
    place = None if at.page else (box.right, box.y)
    return Finding(code, severity, where, text, words, at.group, place, call)  # type: ignore[arg-type]


def _walk(group: Group, inside: tuple[Group, ...], names: tuple[str, ...], page: int) -> Iterator[Standing]:
    for item in group.items:
        if isinstance(item, Group):
            yield from _walk(item, (*inside, item), (*names, item.name), page)
        else:
            yield Standing(item, inside, "-".join(names), page)
