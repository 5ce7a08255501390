"""Where everything on the sheet goes: first measured, then placed. Nothing is cut, nothing overlaps.

From the top: title, subtitle, legends, the title of the y axis, the panels with their headings and ticks, the title of
the x axis, the note. All of it starts at the left edge of the first panel. What floats in a panel comes last, where the
marks leave space.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.grammar.theme import Theme
from facetine.messages.errors import ExportError
from facetine.messages.findings import Remark, Remarks, Saying, so_many
from facetine.pipeline.guides.labels import Labels
from facetine.pipeline.guides.legend_box import LegendPlan
from facetine.pipeline.layout.body import Body, PlacedPanel
from facetine.pipeline.layout.figure_part import FigurePart
from facetine.pipeline.layout.part import Layout
from facetine.pipeline.layout.request import PAGE_HEIGHT, Request
from facetine.pipeline.layout.rounds import Sheet, SheetSize, TooSmallError, sheet_for, size_that_does
from facetine.pipeline.scales.member import Member
from facetine.scene.markup import plain
from facetine.scene.region import Region

_LISTED = 6
"""So many are named in a note."""


_PAIRS = (("", ""), ("_low", "_high"), ("", "_to"))
"""Names of the places between which a mark lies, along each axis; the last that its rows have."""


class Float(NamedTuple):
    """A box inside a panel, at one of its corners."""

    panel: int
    anchor: str
    """The corner, such as "upper right"."""
    region: Region
    covered: int
    """How many marks of the panel it covers."""


def lay_out(request: Request, members: Sequence[Member]) -> Saying[Layout]:
    """Measures all parts and places them, then what floats in the panels.

    Args:
        request: What is to be laid out.
        members: The figures whose marks stand in the panels, which floats avoid.

    Raises:
        ExportError: The sheet is too small for what must stand on it.
    """
    size = SheetSize(request.width, request.height, request.theme.margin)

    def part_for(sheet: SheetSize) -> FigurePart:
        return FigurePart.of(request._replace(width=sheet.width, height=sheet.height, tight=sheet.tight))

    try:
        sheet = sheet_for(part_for, size)
    except TooSmallError as problem:
        raise _too_small(problem.side, size_that_does(part_for, size, problem), request) from None
    part = sheet.part
    assert isinstance(part, FigurePart)
    yield from say_unnamed(part.body)
    yield from say_unlabelled(part.plan)
    yield from say_tall(sheet, request)
    ((_, layout),) = sheet.placed(request.theme.margin).figures
    layout = layout._replace(width=sheet.width, height=sheet.height)
    if part.plan.side == "inside":
        layout = yield from with_legends_inside(layout, part.plan, request.theme, members)
    return layout


def say_tall(sheet: Sheet, request: Request) -> Remarks:
    """Says that a sheet whose height was left open is higher than a page."""
    if request.height is None and sheet.height > PAGE_HEIGHT:
        yield Remark(
            "sheet-tall",
            "figure.export",
            f"the sheet is {sheet.height / 72 * 25.4:.0f} mm high, more than a page",
            "a larger width=, or .facet(per_row=…) for more panels side by side, or per_page=… for pages"
            if len(request.panels) > 1
            else "height= says another one",
        )


def _too_small(side: str, millimetres: int, request: Request) -> ExportError:
    count = len(request.panels)
    said = getattr(request.size, side) is not None
    return ExportError(
        "figure.export",
        f"the {side} is too small for the figure's texts and {count} panel{'s' if count != 1 else ''}",
        f'{side}="{millimetres} mm" would do; or '
        + (f".panel({side}=…) makes panels smaller" if said else "a smaller text_size, or shorter titles"),
    )


def with_legends_inside(layout: Layout, plan: LegendPlan, theme: Theme, members: Sequence[Member]) -> Saying[Layout]:
    """The legends in the corner of a panel where they cover the fewest marks.

    Raises:
        ExportError: No panel has room for them.
    """
    standing = [obstacles(members[place.panel.field], place) for place in layout.panels]
    corner = placed_float(plan.width, plan.height, theme.gap, layout.panels, standing)
    if corner is None:
        raise ExportError(
            "figure.theme",
            "legend_place='inside': no panel has space for the legends",
            'legend_place="auto" sets them beside the panels',
        )
    if corner.covered:
        yield Remark(
            "legend-over-marks",
            "figure.theme: legend_place",
            f"the legends lie over {so_many(corner.covered, 'mark')}",
            'legend_place="auto" sets them beside the panels',
            "warning",
        )
    return layout._replace(legends=plan.place(corner.region))


def say_unnamed(body: Body) -> Remarks:
    """Says of the layout that stands, not of the tries before it, which categories have no room for their names."""
    fixes = {"x": "map the column to y, or make the figure wider", "y": "make the figure higher"}
    told: set[tuple[str, str]] = set()
    bands = ((side, band) for (side, *_), band in body.bands.fitted.items())
    for side, band in sorted(bands, key=lambda item: item[1].along):
        axis, ticks = band.fitter.axis, band.labels.ticks
        if side not in ("below", "left"):
            continue
        named, where = len(ticks.at) - len(band.labels.unlabelled), f"figure.scale({axis.name!r})"
        if axis.kind == "levels" and body.theme.axes and 0 < named < len(axis.labels) and (axis.name, "names") not in told:
            told.add((axis.name, "names"))
            every = _ordinal(math.ceil(len(axis.labels) / named))
            text = f"{len(axis.labels)} categories on {axis.name} leave space for the name of every {every} one only"
            yield Remark("names-left-out", where, text, fixes[axis.name])
        if axis.kind == "levels":
            continue
        if band.labels.lacking and len(ticks.at) and (axis.name, "one") not in told:
            told.add((axis.name, "one"))
            fix = _room_for_two(body, band.labels.lacking, axis.name)
            yield Remark(
                "labels-few", where, f"the {axis.name} axis has space for one label, which tells no distance", fix, "warning"
            )
        for what, texts, fix in _unsaid(band.labels, axis.name):
            if texts and (axis.name, what) not in told:
                told.add((axis.name, what))
                yield Remark("ticks-unsaid", where, f"{so_many(len(texts), 'tick')} {what}: {_listed(texts)}", fix)
        if ticks.alike and (axis.name, "alike") not in told:
            told.add((axis.name, "alike"))
            said = f"the format {axis.spec.format!r} writes {plain(ticks.alike[0])!r} at several ticks"
            yield Remark("ticks-alike", where, said, "a format that writes more of them tells them apart", "warning")


def say_unlabelled(plan: LegendPlan | None) -> Remarks:
    """Says which ticks of color bars have no room for a label."""
    for legend in () if plan is None else (placed.legend for placed in plan.legends):
        if legend.bar is not None and legend.bar.unlabelled:
            bare = legend.bar.unlabelled
            text = f"{so_many(len(bare), 'tick')} without room for a label: {_listed(list(map(plain, bare)))}"
            yield Remark("ticks-unsaid", f"figure.scale({legend.name.split('-')[0]!r})", text, "list fewer")


def _room_for_two(body: Body, lacking: float, axis: str) -> str:
    """The size of the sheet, or the number of panels in a row, with which an axis has two labels."""
    tracks = body.grid.columns if axis == "x" else body.grid.rows
    sheet = next(band.fitter for band in body.bands.fitted.values())
    size = sheet.width if axis == "x" else sheet.height
    millimetres = math.ceil((size + lacking * len(tracks)) / 72 * 25.4 / 5) * 5
    side = "width" if axis == "x" else "height"
    if len(tracks) > 1 and axis == "x":
        panel = body.columns.size("panel 0")
        fewer = max(1, min(len(tracks) - 1, int(len(tracks) * panel / (panel + lacking))))
        return f'{side}="{millimetres} mm" or per_row={fewer} gives it two'
    return f'{side}="{millimetres} mm" gives it two'


def _unsaid(labels: Labels, axis: str) -> Iterator[tuple[str, list[str], str]]:
    """What became of ticks that were said and not labelled: the words for it, the ticks, and what would help."""
    ticks = labels.ticks
    bare = [plain(ticks.labels[place].replace("\n", " ")) for place in labels.unlabelled]
    room = "make the figure wider" if axis == "x" else "make the figure higher"
    yield "without room for a label", bare, f"list fewer, or {room}"
    yield "outside the limits", [plain(text) for text in ticks.beyond], "wider limits show them"


def _listed(texts: list[str]) -> str:
    return ", ".join(texts[:_LISTED]) + (", …" if len(texts) > _LISTED else "")


def _ordinal(number: int) -> str:
    return {2: "second", 3: "third"}.get(number, f"{number}th")


def obstacles(member: Member, place: PlacedPanel) -> FloatArray:
    """What stands in a panel, as rectangles on the sheet, shape (n, 4): left, top, right, bottom; points have no extent."""
    axes, box, rectangles = member.scales.under(place.panel), place.box, [np.zeros((0, 4))]
    for run in member.runs:
        rows = run.table.take(run.table.panel == place.panel.number - member.first) if len(run.table) else run.table
        across, up = (_span(rows, axis) for axis in ("x", "y"))
        if across is None or up is None:
            continue
        left, right = (box.x + axes["x"].extent.share(end) * box.width for end in across)
        low, high = (box.bottom - axes["y"].extent.share(end) * box.height for end in up)
        sides = np.column_stack([np.fmin(left, right), np.fmin(low, high), np.fmax(left, right), np.fmax(low, high)])
        rectangles.append(sides[np.isfinite(sides).all(axis=1)])
    return np.concatenate(rectangles)


def _span(rows: Columns, axis: str) -> tuple[FloatArray, FloatArray] | None:
    """Between which places the marks of rows lie along an axis; None where they have none."""
    for start, end in reversed(_PAIRS):
        if f"{axis}{start}" in rows and f"{axis}{end}" in rows:
            first, last = rows[f"{axis}{start}"].astype(float), rows[f"{axis}{end}"].astype(float)
            # An end that is open reaches no farther than the other one.
            return np.where(np.isnan(first), last, first), np.where(np.isnan(last), first, last)
    return None


def placed_float(
    width: float, height: float, gap: float, panels: tuple[PlacedPanel, ...], standing: list[FloatArray]
) -> Float | None:
    """A box of a size in the corner of a panel where it covers the fewest marks, the first of equals.

    Args:
        width: Of the box.
        height: Of the box.
        gap: Room that it keeps to the edges of its panel and to marks.
        panels: All panels.
        standing: The obstacles in each of them.

    Returns:
        None where no panel is large enough.
    """
    best: Float | None = None
    for number, (panel, marks) in enumerate(zip(panels, standing, strict=True)):
        box = panel.box
        if box.width < width + 2 * gap or box.height < height + 2 * gap:
            continue
        for anchor in ("upper right", "upper left", "lower right", "lower left"):
            left = box.right - gap - width if "right" in anchor else box.x + gap
            top = box.y + gap if "upper" in anchor else box.bottom - gap - height
            meets = (marks[:, 0] < left + width + gap) & (marks[:, 2] > left - gap)
            meets &= (marks[:, 1] < top + height + gap) & (marks[:, 3] > top - gap)
            covered = int(meets.sum())
            if best is None or covered < best.covered:
                best = Float(number, anchor, Region(left, top, width, height), covered)
    return best
