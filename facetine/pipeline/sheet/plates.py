"""A plate: figures and pictures on one sheet, their panels aligned, their looks settled together."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.grammar.lengths import in_points
from facetine.grammar.picture import Picture
from facetine.grammar.plate import Plate, letter_texts
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import THEMES, Theme
from facetine.messages.errors import ExportError
from facetine.messages.findings import Remark, Remarks, Saying, as_findings, each, heard
from facetine.pipeline.drawing.onsheet import kept_on_sheet
from facetine.pipeline.guides.boxes import Words
from facetine.pipeline.guides.legend_box import LegendPlan
from facetine.pipeline.guides.legend_entries import Legend, merged
from facetine.pipeline.layout.figure_part import FigurePart
from facetine.pipeline.layout.grid_part import Cell, Framed, GridPart, Lettered
from facetine.pipeline.layout.layout import say_unlabelled, say_unnamed, with_legends_inside
from facetine.pipeline.layout.part import Layout, Part, Wrapping
from facetine.pipeline.layout.pictures import PicturePart
from facetine.pipeline.layout.request import PAGE_HEIGHT, styles_of
from facetine.pipeline.layout.rounds import Sheet, SheetSize, TooSmallError, sheet_for, size_that_does
from facetine.pipeline.sheet.built import Built, finished_figures, keywords
from facetine.pipeline.sheet.described import described
from facetine.pipeline.sheet.figured import Figured, Wanted, contradicting, figured
from facetine.pipeline.sheet.remarks import check_glyphs, remarks_as_said, spoken_of_as_said
from facetine.scene.marks import Rects, Scene
from facetine.scene.markup import clean, plain
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch


def build_plate(plate: Plate, width: float, height: float | None) -> Built:
    """Takes all figures of a plate through all steps, together.

    Args:
        plate: What was said.
        width: Width of the sheet in points.
        height: Its height; None for the one that suits.

    Raises:
        FacetineError: A figure can't be drawn, or the sheet is too small.
    """
    figures = [content for content, _ in _with_shares(plate, 1.0) if isinstance(content, Sentence)]
    swapped = bool(figures) and all(one.swapped for one in figures)
    with np.errstate(all="ignore"), spoken_of_as_said(swapped):
        made, remarks = heard(_built(plate, width, height))
    return made._replace(findings=remarks_as_said(as_findings(remarks), swapped))


def _built(plate: Plate, width: float, height: float | None) -> Saying[Built]:
    wanted = [
        Wanted(content, share * width, None) for content, share in _with_shares(plate, 1.0) if isinstance(content, Sentence)
    ]
    themes = [one.sentence.theme for one in wanted]
    if not plate.compares:
        yield from _say_unlike(themes)
    # The sheet looks as its figures do.
    theme = plate.under(themes[0] if themes else THEMES["press"])
    figures = yield from figured(wanted, plate.same, width, height, plated=True)
    shared: tuple[Legend, ...] = ()
    if plate.share_legend:
        every = [legend for one in figures for legend in one.request.legends]
        explained = [(*one.request.legends, *contradicting(one.elsewhere, every)) for one in figures]
        shared = merged(explained, _names(plate))
        figures = [one._replace(request=one.request._replace(legends=())) for one in figures]
    sheet = yield from _settled(plate, figures, shared, theme, width, height)
    placement = sheet.placed(theme.margin)
    root = Sketch("plate", "Plate", kind="figure")
    for box in placement.boxes:
        box.draw(root)
    parts = {part.number: part for part in _parts(sheet.part)}
    placed = sorted(placement.figures, key=lambda figure: figure[0])
    finished = yield from each(_finished(layout, parts[number], figures[number], sheet) for number, layout in placed)
    done = {number: layout for (number, _), layout in zip(placed, finished, strict=True)}
    taken = {number: _covered(layout, parts[number], 0.0) for number, layout in done.items()}
    layouts, inner = [], []
    for number, layout in done.items():
        beside = (*(one for other, one in taken.items() if other != number), *(box.region for box in placement.boxes))
        layout = layout._replace(others=beside)
        layouts.append(layout)
        drawing = figures[number].drawing(layout)
        group = root.group(f"figure-{number + 1}", f"Figure {number + 1}", kind="figure")
        own = figures[number].sentence.theme.ground
        if own != theme.ground:
            place = np.array([_covered(layout, parts[number], theme.gap)])
            group.group("ground", "Ground", kind="ground").add([Rects(place, (own,))])
        yield from drawing.draw(0, group)
        for inset in figures[number].placed_insets(drawing):
            yield from inset.draw(group)
            inner.append(inset.drawing.layout)
    said = clean(plain(plate.titles.title or "")), clean(_described(plate, figures))
    scene = Scene(sheet.width, sheet.height, theme.ground, root.finished(), *said, keywords(figures))
    scene = yield from kept_on_sheet(scene)
    yield from check_glyphs(scene.texts(), theme.font)
    return Built((scene,), (), (*layouts, *inner), *finished_figures(figures))


def _names(plate: Plate) -> list[str]:
    """What its figures are called: by their letters, else by their place."""
    contents = plate.contents()
    letters = letter_texts(plate.letters, len(contents)) if plate.letters is not None else []
    letters = letters or [f"figure {number}" for number in range(1, len(contents) + 1)]
    return [letter for letter, one in zip(letters, contents, strict=True) if isinstance(one, Sentence)]


def _covered(layout: Layout, part: FigurePart, beyond: float) -> Region:
    """What a figure takes of the sheet, and a little beyond."""
    around = (part.left, part.above, part.right, part.below)
    ends = [
        (box.x - around[0], box.y - around[1], box.right + around[2], box.bottom + around[3])
        for box in (place.box for place in layout.panels)
    ]
    # Titles begin at the upper edge of their row of figures, which may be higher.
    ends += [(one.region.x, one.region.y, one.region.right, one.region.bottom) for one in layout.titles if one.region.height]
    legends = layout.legends.region
    ends += [(legends.x, legends.y, legends.right, legends.bottom)] if layout.legends.legends else []
    left, top = (max(min(one[side] for one in ends) - beyond, 0.0) for side in (0, 1))
    right = min(max(one[2] for one in ends) + beyond, layout.width)
    return Region(left, top, right - left, min(max(one[3] for one in ends) + beyond, layout.height) - top)


def _with_shares(plate: Plate, share: float) -> Iterator[tuple[Sentence | Picture, float]]:
    """Figures and pictures, with about how much of the sheet's width each has."""
    widths = plate.widths or (1.0,) * plate.columns
    for cell in plate.shown:
        own = share * sum(widths[column] for column in cell.columns) / sum(widths)
        if isinstance(cell.content, Plate):
            yield from _with_shares(cell.content, own)
        else:
            yield cell.content, own


def _say_unlike(themes: list[Theme]) -> Remarks:
    """Says that figures of one plate are set in unlike types, or stand on unlike grounds."""
    for what, values in (
        ("text sizes", {theme.text_size for theme in themes}),
        ("fonts", {theme.font for theme in themes}),
        ("grounds", {theme.ground for theme in themes}),
        ("hairlines", {theme.hairlines for theme in themes}),
    ):
        if len(values) > 1:
            said = ", ".join(sorted(map(str, values)))
            yield Remark(
                "plate-unlike", "plate", f"its figures have unlike {what}: {said}", "plate.theme(…) gives all of them one"
            )


class _Letters:
    """Letters for one part after the other."""

    def __init__(self, plate: Plate, theme: Theme) -> None:
        count = len(plate.contents())
        self.texts = iter(letter_texts(plate.letters, count) if plate.letters is not None else [])
        style = styles_of(theme).title
        size = plate.letter_size if plate.letter_size is not None else style.size
        self.style = style._replace(size=size, weight=int(plate.letter_weight))
        self.over, self.gap = plate.letter_place == "panel", theme.gap

    def with_letter(self, part: Part) -> Part:
        """A part with the next letter, where there are any."""
        text = next(self.texts, None)
        if not text:
            return part
        return Lettered(part, Words(text, self.style, "letter", f"Letter {text}", "letter"), self.gap, self.over)


def _settled(
    plate: Plate,
    figures: list[Figured],
    shared: tuple[Legend, ...],
    theme: Theme,
    width: float,
    height: float | None,
) -> Saying[Sheet]:
    """All parts measured for the sheet.

    Raises:
        ExportError: It is too small.
    """
    size = SheetSize(width, height, theme.margin)

    def part_for(sheet: SheetSize) -> Framed:
        share = (sheet.width or width) / width
        wider = figures if share == 1.0 else [_widened(one, share) for one in figures]
        if sheet.tight:
            wider = [one._replace(request=one.request._replace(tight=True)) for one in wider]
        grid = _grid(plate, wider, theme, _Letters(plate, theme), iter(range(len(wider))))
        return _framed(grid, plate, theme, shared)

    try:
        sheet = sheet_for(part_for, size)
    except TooSmallError as problem:
        millimetres = size_that_does(part_for, size, problem)
        raise ExportError(
            "plate.export",
            f"the {problem.side} is too small for {len(plate.contents())} figures and their texts",
            f'{problem.side}="{millimetres} mm" would do; or a smaller text_size',
        ) from None
    if height is None and sheet.height > PAGE_HEIGHT:
        yield Remark(
            "sheet-tall", "plate.export", f"the sheet is {sheet.height / 72 * 25.4:.0f} mm high, more than a page",
            "height= says another one, or more figures side by side",
        )  # fmt: skip
    return sheet


def _widened(figure: Figured, share: float) -> Figured:
    """A figure for a part of a wider sheet."""
    width = figure.request.width
    return figure._replace(request=figure.request._replace(width=None if width is None else share * width))


def _framed(grid: GridPart, plate: Plate, theme: Theme, legends: tuple[Legend, ...]) -> Framed:
    """A plate's figures with what it says of all of them."""
    styles, titles = styles_of(theme), plate.titles
    return Framed(
        grid, theme,
        Words(titles.title or "", styles.title, "title", "Title", "title"),
        Words(titles.subtitle or "", styles.quiet, "subtitle", "Subtitle", "subtitle"),
        Words(titles.below, styles.tick, "note", "Note", "note"),
        legends, LegendPlan("none", 0.0, 0.0, (), theme, styles.tick),
    )  # fmt: skip


def _grid(plate: Plate, figures: list[Figured], theme: Theme, letters: _Letters, numbers: Iterator[int]) -> GridPart:
    cells = []
    for cell in plate.cells:
        part: Part
        if isinstance(cell.content, Plate):
            part = _framed(_grid(cell.content, figures, theme, letters, numbers), cell.content, theme, ())
        elif isinstance(cell.content, Picture):
            part = letters.with_letter(PicturePart(cell.content, theme))
        else:
            number = next(numbers)
            part = letters.with_letter(FigurePart.of(figures[number].request, number))
        cells.append(Cell(part, cell.rows, cell.columns))
    gaps = tuple(
        theme.block_gap * 1.5 if said is None else in_points(said, f"plate: {name}")
        for name, said in (("gap_x", plate.gap_x), ("gap_y", plate.gap_y))
    )
    widths, heights = plate.widths or (1.0,) * plate.columns, plate.heights or (1.0,) * plate.rows
    return GridPart(tuple(cells), widths, heights, (gaps[0], gaps[1]))


def _parts(part: object) -> Iterator[FigurePart]:
    """The figures in a part, as they were measured."""
    if isinstance(part, FigurePart):
        yield part
    elif isinstance(part, GridPart):
        for cell in part.cells:
            yield from _parts(cell.part)
    elif isinstance(part, Wrapping):
        yield from _parts(part.part)


def _finished(layout: Layout, part: FigurePart, figure: Figured, sheet: Sheet) -> Saying[Layout]:
    """A figure's layout with its legends in a panel, where these stand inside; and with remarks on names left out."""
    layout = layout._replace(width=sheet.width, height=sheet.height)
    yield from say_unnamed(part.body)
    yield from say_unlabelled(part.plan)
    if part.plan.side != "inside":
        return layout
    return (yield from with_legends_inside(layout, part.plan, part.request.theme, figure.members))


def _described(plate: Plate, figures: list[Figured]) -> str:
    """What each figure and picture shows, under its letter."""
    contents, drawn = plate.contents(), iter(figures)
    letters = letter_texts(plate.letters, len(contents)) if plate.letters is not None else [""] * len(contents)
    said = []
    for letter, content in zip(letters, contents, strict=True):
        text = (content.alt or content.title or "A picture") if isinstance(content, Picture) else described(next(drawn).members)
        said.append(f"{letter}: {text}" if letter else text)
    return " ".join(text if text.endswith(".") else f"{text}." for text in said)
