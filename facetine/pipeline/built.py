"""The whole way from a sentence to a scene."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from facetine.core.columns import Columns
from facetine.findings import Finding, Findings
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.pipeline.arranged import Arranged
from facetine.pipeline.composed import composition, placed_members
from facetine.pipeline.direct import named_directly, room_for
from facetine.pipeline.draw import draw
from facetine.pipeline.floats import obstacles
from facetine.pipeline.guide import Legend, legends, merged
from facetine.pipeline.headings import escaped_name
from facetine.pipeline.layout import lay_out
from facetine.pipeline.members import Member, settled
from facetine.pipeline.onsheet import kept_on_sheet
from facetine.pipeline.placed import Layout
from facetine.pipeline.remarks import check_glyphs
from facetine.pipeline.runs import Runs
from facetine.pipeline.scales import Scales
from facetine.pipeline.second import second_axis
from facetine.pipeline.sheet import PAGE_WIDTH, PanelSize, Request, styles_of
from facetine.pipeline.slim import finished_scales
from facetine.scene.marks import Scene
from facetine.scene.markup import clean, plain, shortened

MOST_LETTERS = 1000
"""Of a title, subtitle or note."""
MOST_OF_TICK = 40
"""Of a label of a color bar."""


@dataclass(frozen=True, slots=True)
class Built:
    """A figure that is ready to be written."""

    pages: tuple[Scene, ...]
    """What is drawn on each sheet; all stand on the same tracks."""
    findings: tuple[Finding, ...]
    layout: Layout
    scales: Scales
    runs: Runs
    """The layers, with their rows as drawn."""

    @property
    def scene(self) -> Scene:
        """The first page."""
        return self.pages[0]

    def described_as(self, text: str) -> Built:
        """The same with another description, for readers who can't see it."""
        return replace(self, pages=tuple(replace(page, description=text) for page in self.pages))

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
    with np.errstate(all="ignore"):
        return _built(sentence, width, height)


def _built(sentence: Sentence, width: float | None, height: float | None) -> Built:
    findings = Findings()
    across = PAGE_WIDTH if width is None else width
    composed = composition(sentence, across)
    members = settled(composed.planned, findings, across, height)
    arranged = composed.arrange(members)
    members = placed_members(members, arranged)
    request = _request(sentence, members, arranged, findings, width, height)
    layout = lay_out(request, findings, lambda place: obstacles(members[place.panel.field], place))
    drawn = tuple(kept_on_sheet(page, findings) for page in draw(layout, members, sentence.theme))
    words = clean(plain(request.title)), clean(_described(members))
    pages = tuple(replace(page, title=words[0], description=words[1]) for page in drawn)
    check_glyphs([text for page in pages for text in page.texts()], sentence.theme.font, findings)
    scales = Scales({key: axis for member in members for key, axis in member.scales.axes.items()}, members[0].scales.looks)
    runs = tuple(run for member in members for run in member.runs)
    return Built(pages, findings.said, layout, finished_scales(scales), runs)


def _request(
    sentence: Sentence,
    members: list[Member],
    arranged: Arranged,
    findings: Findings,
    width: float | None,
    height: float | None,
) -> Request:
    """What is to be laid out."""
    theme, titles, facet = sentence.theme, sentence.titles, sentence.facet
    title, subtitle, note = (
        _cut(text or "", name, findings)
        for name, text in (("title", titles.title), ("subtitle", titles.subtitle), ("note", titles.note))
    )
    axes = {key: axis for member in members for key, axis in member.scales.axes.items()}
    second_of = {key: second_axis(axis) for key, axis in axes.items()} if theme.axes else {}
    said = [_with_short_ticks(tuple(_legends(member, theme)), findings) for member in members]
    direct = [names for member in members for names in member.direct]
    return Request(
        width, height, theme, title, subtitle, note,
        Scales(axes, members[0].scales.looks), arranged.panels, arranged.grid, merged(said),
        arranged.titles if theme.axes else (),
        {key: second for key, second in second_of.items() if second is not None},
        room_for(direct, styles_of(theme).text, theme.gap),
        facet is not None and facet.repeat_axes,
        facet.row_headings if facet is not None else "right", arranged.spans,
        PanelSize(*sentence.panel.sides, sentence.panel.ratio),
    )  # fmt: skip


def _legends(member: Member, theme: Theme) -> list[Legend]:
    """What explains the looks of one figure, but for those that names at the ends of lines explain."""
    shown = {name: scale for name, scale in member.scales.looks.items() if not named_directly(scale, member.runs, member.direct)}
    return legends(shown, member.runs, theme.tick_color)


def _cut(text: str, name: str, findings: Findings) -> str:
    """A text of which no sheet has room for more."""
    if len(text) > MOST_LETTERS:
        findings.add("text-cut", "figure.titles", f"the {name} has {len(text):,} letters; {MOST_LETTERS:,} of them are written")
    return shortened(text, MOST_LETTERS)


def _with_short_ticks(said: tuple[Legend, ...], findings: Findings) -> tuple[Legend, ...]:
    """Legends whose color bars have labels that a sheet has room for, whatever their format writes."""
    legends_kept = []
    for legend in said:
        bar = legend.bar
        if bar is None or all(len(label) <= MOST_OF_TICK for label in bar.labels):
            legends_kept.append(legend)
            continue
        where = f"figure.scale({legend.name!r})"
        findings.add("text-cut", where, f"labels of more than {MOST_OF_TICK} letters are cut", "a shorter format fits")
        labels = tuple(shortened(label, MOST_OF_TICK) for label in bar.labels)
        legends_kept.append(legend._replace(bar=bar._replace(labels=labels)))
    return tuple(legends_kept)


def _described(members: list[Member]) -> str:
    """A few sentences for readers who can't see the figure, with the titles of the columns whose values make panels."""
    main = members[0]
    sentence, scales = main.split.sentence, main.scales
    drawn = ", ".join(dict.fromkeys(run.layer.verb for run in main.runs))
    text = f"Chart with {drawn}: {plain(scales.first('y').title) or 'y'} against {plain(scales.first('x').title) or 'x'}"
    names = sentence.facet.names if sentence.facet is not None else ()
    if names:
        text += f", a panel for each {' and '.join(plain(escaped_name(sentence, name)) for name in names)}"
    more = [member.scales.first(axis).title for member in members[1:] if member.role == "main" for axis in ("y", "x")]
    more = [plain(title) for title in dict.fromkeys(more) if title and plain(title) not in text]
    if more:
        text += f"; and {', '.join(more)}, in panels of their own"
    others = [member for member in members[1:] if member.role != "main"]
    if others:
        beside = dict.fromkeys(run.layer.verb for member in others for run in member.runs)
        text += f", with {', '.join(beside)} at the edge"
    runs = [run for member in members for run in member.runs]
    sentences = [plain(line) for run in runs for line in run.layer.described(run.table, run.context)]
    return " ".join([f"{text}.", *sentences])
