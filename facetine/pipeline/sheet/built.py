"""The whole way from a sentence to a scene."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.columns import Columns
from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.sentence import Sentence
from facetine.messages.findings import Finding, Saying, as_findings, each, heard
from facetine.pipeline.drawing.onsheet import kept_on_sheet
from facetine.pipeline.layout.layout import lay_out
from facetine.pipeline.layout.part import Layout
from facetine.pipeline.layout.request import PAGE_WIDTH
from facetine.pipeline.rows.runs import Runs
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.member import Kept, finished_scales
from facetine.pipeline.sheet.described import described
from facetine.pipeline.sheet.figured import Figured, Wanted, figured
from facetine.pipeline.sheet.remarks import check_glyphs, remarks_as_said, spoken_of_as_said
from facetine.scene.marks import Scene
from facetine.scene.markup import clean, plain
from facetine.scene.sketch import Sketch


class Built(NamedTuple):
    """A figure that is ready to be written."""

    pages: tuple[Scene, ...]
    """What is drawn on each sheet; all stand on the same tracks."""
    findings: tuple[Finding, ...]
    layouts: tuple[Layout, ...]
    """Of each figure on the sheet; those of insets last."""
    scales: Scales
    runs: Runs
    """The layers, with their rows as drawn."""
    members: tuple[tuple[Kept, ...], ...] = ()
    """The figures of which each of `layouts` is the layout, several where it shows pairs of columns or marginals."""

    @property
    def layout(self) -> Layout:
        """That of the first figure."""
        return self.layouts[0]

    @property
    def scene(self) -> Scene:
        """The first page."""
        return self.pages[0]

    def described_as(self, text: str) -> Built:
        """The same with another description, for readers who can't see it."""
        return self._replace(pages=tuple(page._replace(description=text) for page in self.pages))

    @property
    def tables(self) -> list[Columns]:
        """Each layer's rows as drawn, in axis space."""
        return [run.table for run in self.runs]


def build(sentence: Sentence, width: float | None, height: float | None) -> Built:
    """Takes a sentence through all steps.

    Args:
        sentence: What the figure says.
        width: Width of the sheet in points; None for the one that follows from panels of a said width.
        height: Its height; None for the one that suits.

    Raises:
        FacetineError: The sentence can't be drawn; the message says why.
    """
    # What runs over becomes infinite, and is left out with a remark; NumPy need not warn of it too.
    with np.errstate(all="ignore"), spoken_of_as_said(sentence.swapped):
        made, remarks = heard(_built(sentence, width, height))
    return made._replace(findings=remarks_as_said(as_findings(remarks), sentence.swapped))


def _built(sentence: Sentence, width: float | None, height: float | None) -> Saying[Built]:
    (one,) = yield from figured([Wanted(sentence, width, height)], (), PAGE_WIDTH if width is None else width, height)
    layout = yield from lay_out(one.request, one.members)
    drawing = one.drawing(layout)
    insets = one.placed_insets(drawing)
    scenes = []
    for page in range(layout.pages):
        root = Sketch("figure", "Figure", kind="figure")
        yield from drawing.draw(page, root)
        for inset in insets:
            if inset.page == page:
                yield from inset.draw(root)
        scenes.append(Scene(layout.width, layout.height, sentence.theme.ground, root.finished()))
    drawn = yield from each(map(kept_on_sheet, scenes))
    words = clean(plain(one.request.title)), clean(described(one.members))
    about = keywords([one])
    pages = tuple(page._replace(title=words[0], description=words[1], keywords=about) for page in drawn)
    yield from check_glyphs([text for page in pages for text in page.texts()], sentence.theme.font)
    return Built(pages, (), (layout, *(inset.drawing.layout for inset in insets)), *finished_figures([one]))


def keywords(figures: list[Figured]) -> tuple[str, ...]:
    """The titles of all columns that figures show, each once."""
    titles = []
    for member in (member for one in figures for member in one.members):
        columns, sentence = member.split.columns, member.split.sentence
        # In the order of the aesthetics, whichever was said first.
        names = [columns[aesthetic].name for aesthetic in (*AESTHETICS, *columns) if aesthetic in columns]
        titles += [clean(plain(sentence.column_title(name))) for name in names]
    return tuple(dict.fromkeys(title for title in titles if title))


def finished_figures(figures: list[Figured]) -> tuple[Scales, Runs, tuple[tuple[Kept, ...], ...]]:
    """The scales, the layers and the parts of all figures, those of insets last."""
    every = [*figures, *(inset for one in figures for inset in one.insets)]
    kept = tuple(tuple(member.kept for member in one.members) for one in every)
    members = [member for one in every for member in one.members]
    scales = Scales({key: axis for member in members for key, axis in member.scales.axes.items()}, members[0].scales.looks)
    return finished_scales(scales), tuple(run for member in members for run in member.runs), kept
