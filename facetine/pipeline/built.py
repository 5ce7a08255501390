"""The whole way from a sentence to a scene."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from facetine.core.columns import Columns
from facetine.findings import Finding, Findings, so_many
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.base import DrawnLayer
from facetine.pipeline.compute import computed
from facetine.pipeline.direct import direct_names, named_directly, room_for
from facetine.pipeline.draw import draw
from facetine.pipeline.floats import obstacles
from facetine.pipeline.guide import Legend, default_looks, legends
from facetine.pipeline.headings import escaped_name, gaps_of, headed
from facetine.pipeline.inks import default_color
from facetine.pipeline.layout import lay_out
from facetine.pipeline.looks import settle_looks
from facetine.pipeline.onsheet import kept_on_sheet
from facetine.pipeline.panels import AxisTitle, Grid
from facetine.pipeline.placed import Layout
from facetine.pipeline.runs import LayerRun, Runs, Split
from facetine.pipeline.scales import LookScale, Scales
from facetine.pipeline.second import second_axis
from facetine.pipeline.settle import Axis, settle_axes
from facetine.pipeline.shades import palette_colors
from facetine.pipeline.sheet import PAGE_WIDTH, PanelSize, Request, styles_of
from facetine.pipeline.split import split
from facetine.pipeline.spread import say_near_empty
from facetine.pipeline.texts import with_texts
from facetine.pipeline.window import inside
from facetine.scene.fonts import named
from facetine.scene.marks import Scene, Text
from facetine.scene.markup import REPLACED, clean, plain, shortened

MOST_LETTERS = 1000
"""Of a title, subtitle or note."""
MOST_OF_TICK = 40
"""Of a label of a color bar."""
S = TypeVar("S", Axis, LookScale)
_LOOKS = ("color", "outline", "opacity", "size", "shape", "dash", "line_width")


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
    whole = split(sentence, findings, PAGE_WIDTH if width is None else width, height)
    whole = replace(whole, runs=computed(whole))
    sentence, theme = whole.sentence, sentence.theme
    axes = settle_axes(whole)
    _say_empty(whole.runs, findings)
    say_near_empty(whole, axes, findings)
    whole = replace(whole, runs=tuple(inside(axes, whole.panels, run) for run in whole.runs))
    scales = Scales(axes, settle_looks(whole, findings))
    runs = _with_usual(tuple(_finished(with_texts(run, whole.runs, scales)) for run in whole.runs), theme)
    _check_layers(runs, findings)
    _check_looks(whole, scales.looks, findings)
    panels, spans = headed(whole)
    grid = Grid.even(panels, gaps_of(sentence))
    beside = max(panel.columns.stop for panel in panels)
    # Where a second axis stands at the right, there is no place for names at the ends of lines.
    alone = scales.first("y").spec.second is None
    direct = direct_names(runs, scales.looks, beside) if alone else []
    shown = {name: scale for name, scale in scales.looks.items() if not named_directly(scale, runs, direct)}
    titles = sentence.titles
    title, subtitle, note = (
        _cut(text or "", name, findings)
        for name, text in (("title", titles.title), ("subtitle", titles.subtitle), ("note", titles.note))
    )
    guides = _with_short_ticks(tuple(legends(shown, runs, theme.tick_color)), findings)
    second_of = {key: second_axis(axis) for key, axis in scales.axes.items()} if theme.axes else {}
    seconds = {key: second for key, second in second_of.items() if second is not None}
    request = Request(
        width, height, theme, title, subtitle, note,
        scales, panels, grid, guides, axis_titles(scales, grid, theme), seconds,
        room_for(direct, styles_of(theme).text, theme.gap),
        sentence.facet is not None and sentence.facet.repeat_axes,
        sentence.facet.row_headings if sentence.facet is not None else "right", spans,
        PanelSize(*sentence.panel.sides, sentence.panel.ratio),
    )  # fmt: skip
    layout = lay_out(request, findings, lambda place: obstacles(runs, scales, place))
    drawn = tuple(kept_on_sheet(page, findings) for page in draw(layout, scales, runs, sentence, direct))
    names = sentence.facet.names if sentence.facet is not None else ()
    panels_of = [plain(escaped_name(sentence, name)) for name in names]
    words = clean(plain(title)), clean(_described(panels_of, runs, scales))
    pages = tuple(replace(page, title=words[0], description=words[1]) for page in drawn)
    _check_glyphs([text for page in pages for text in page.texts()], theme.font, findings)
    return Built(pages, findings.said, layout, _finished_scales(scales), runs)


def axis_titles(scales: Scales, grid: Grid, theme: Theme) -> tuple[AxisTitle, ...]:
    """The titles of the two axes that all panels have in common."""
    if not theme.axes:
        return ()
    every = range(len(grid.columns))
    return (AxisTitle("x", scales.first("x").title, len(grid.rows) - 1, every), AxisTitle("y", scales.first("y").title, 0, every))


def _finished(run: LayerRun) -> LayerRun:
    """A run without what has done its work and may hold callables or a frame: expressions, mappings and data."""
    layer = _without_data(run.layer)
    if layer is run.layer and not run.prepared:
        return run
    return replace(run, layer=layer, prepared={panel: _without_data(own) for panel, own in run.prepared.items()})


def _without_data(layer: DrawnLayer) -> DrawnLayer:
    if layer.where is None and layer.data is None and not layer.map:
        return layer
    return replace(layer, where=None, data=None, map={})


def _finished_scales(scales: Scales) -> Scales:
    """Scales without callables, whose texts are written."""
    axes = {key: _without(axis) for key, axis in scales.axes.items()}
    looks = {name: _without(look) for name, look in scales.looks.items()}
    return Scales(axes, looks)


def _without(scale: S) -> S:
    spec = _without_callables(scale.spec)
    return scale if spec is scale.spec else replace(scale, spec=spec)


def _without_callables(spec: ScaleSpec) -> ScaleSpec:
    if callable(spec.format):
        spec = replace(spec, format=None)
    if spec.second is not None:
        spec = replace(spec, second={name: value for name, value in spec.second.items() if not callable(value)})
    return spec


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


def _with_usual(runs: Runs, theme: Theme) -> Runs:
    """The layers with the looks of their marks to which nothing is mapped."""
    first = palette_colors(NOTHING, theme)[0]
    return tuple(replace(run, usual=default_looks(run.layer, theme, default_color(run, runs, theme, first))) for run in runs)


def _say_empty(runs: Runs, findings: Findings) -> None:
    """Layers that have nothing to draw."""
    if not any(len(run.table) for run in runs):
        findings.add("figure-empty", "figure", "there are no rows to draw; the figure is empty", severity="warning")
        return
    for run in runs:
        if not len(run.table):
            name = run.layer.name or f"layer {run.number + 1}"
            findings.add("layer-empty", run.context.where, f"{name} has no rows, so nothing of it is drawn", severity="warning")


def _check_layers(runs: Runs, findings: Findings) -> None:
    """Layers that draw the same rows twice."""
    if any(run.layer.draws_rows for run in runs) and any(run.layer.redraws_rows() for run in runs):
        findings.add(
            "outliers-twice",
            "figure.boxes",
            "outliers are drawn by the boxes and by the points",
            "outliers=False leaves them to the points",
        )


def _check_looks(whole: Split, looks: Mapping[str, LookScale], findings: Findings) -> None:
    """Looks from which readers can hardly tell what they stand for."""
    for aesthetic, scale in looks.items():
        where = f"figure.scale({aesthetic!r})"
        column = whole.columns.get(aesthetic)
        if column is None or scale.spec.kind == "as_given":
            continue
        if aesthetic in ("size", "opacity", "line_width") and column.kind in ("category", "yes_no"):
            findings.add(
                "look-suggests-order", where, f"{aesthetic} shows the categories of {column.name!r} as if one were more",
                "color or shape show categories", "warning",
            )  # fmt: skip
        if aesthetic == "shape" and len(scale.labels) > 6:
            findings.add(
                "many-shapes", where, f"{len(scale.labels)} shapes can hardly be told apart",
                "map color, or make panels with .facet()", "warning",
            )  # fmt: skip
    shown = {column.name for name, column in whole.columns.items() if name in _LOOKS}
    if len(shown) > 3:
        findings.add(
            "many-looks", "figure", f"{len(shown)} columns are shown at once: {', '.join(sorted(shown))}",
            "panels for one of them are easier to read", "warning",
        )  # fmt: skip


def _described(panels_of: list[str], runs: Runs, scales: Scales) -> str:
    """A few sentences for readers who can't see the figure, with the titles of the columns whose values make panels."""
    drawn = ", ".join(dict.fromkeys(run.layer.verb for run in runs))
    text = f"Chart with {drawn}: {plain(scales.first('y').title) or 'y'} against {plain(scales.first('x').title) or 'x'}"
    if panels_of:
        text += f", a panel for each {' and '.join(panels_of)}"
    sentences = [line for run in runs for line in run.layer.described(run.table, run.context)]
    sentences = [plain(line) for line in sentences]
    return " ".join([f"{text}.", *sentences])


def _check_glyphs(texts: list[Text], font: str, findings: Findings) -> None:
    """Says which characters no font here has, and which come from a font that another machine may lack."""
    lost: set[str] = set()
    count = sum(REPLACED in text.content for text in texts)
    if count:
        findings.add(
            "letters-replaced",
            "figure",
            f"{so_many(count, 'text')} with characters that can't be shown; {REPLACED} stands for them",
        )
    borrowed: dict[str, set[str]] = {}
    for text in texts:
        for run in text.runs:
            used = named(run.face)
            if 0 in run.ids:
                lost.update(run.text[at] for at, glyph in zip(run.clusters, run.ids, strict=True) if glyph == 0)
            elif used.source == "system" and used.key.family != font:
                borrowed.setdefault(used.key.family, set()).update(run.text)
    if lost:
        shown = ", ".join(f"{char} (U+{ord(char):04X})" for char in sorted(lost))
        findings.add(
            "letters-lost",
            "fonts",
            f"no font here has {shown}; an empty box stands there",
            "facetine catalog fonts lists what there is",
        )
    for family, chars in sorted(borrowed.items()):
        shown = "".join(sorted(chars - {" "}))
        shown = f"{shown[:12]}…" if len(shown) > 12 else shown
        findings.add(
            "letters-borrowed", "fonts", f"{shown} set in {family}, a font of this machine; elsewhere it may look otherwise"
        )
