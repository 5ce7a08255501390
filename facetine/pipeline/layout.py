"""Where everything on the sheet goes: first measured, then placed. Nothing is cut, nothing overlaps.

From the top: title, subtitle, legends, the title of the y axis, the panels with their headings and ticks, the title of
the x axis, the note. All of it starts at the left edge of the first panel.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.geometry.tracks import TooSmallError
from facetine.errors import ExportError
from facetine.findings import Findings, so_many
from facetine.grammar.lengths import LARGEST
from facetine.grammar.theme import Theme
from facetine.pipeline.body import Body, PlacedPanel, Rooms, body_of
from facetine.pipeline.boxes import PlacedWords, Words
from facetine.pipeline.floats import placed_float
from facetine.pipeline.legend import LegendPlan, plan_legends
from facetine.pipeline.placed import Layout
from facetine.pipeline.sheet import Request, Styles, styles_of
from facetine.pipeline.stack import Line, Stack
from facetine.scene.region import Region

_ROUNDS = 16
_FREE = 4
"""Rounds in which rooms may shrink; after them they only grow, which ends since the sheet does."""


def lay_out(request: Request, findings: Findings, marks: Callable[[PlacedPanel], FloatArray] | None = None) -> Layout:
    """Measures all parts and places them, then what floats in the panels.

    The width of the y labels depends on the height of the panels, which depends on how titles wrap, which depends on
    the width of the y labels; a few rounds settle it. From the fifth one on each round needs more room than the one
    before it, or is the last.

    Args:
        request: What is to be laid out.
        findings: Takes remarks.
        marks: What stands in a panel at its place, which floats avoid; shape (n, 4).

    Raises:
        ExportError: The sheet is too small for what must stand on it.
    """
    body = body_of(request)
    rooms = _first_rooms(body)
    for turn in range(_ROUNDS):
        measured = _measured(request, body, rooms)
        needed = measured.body.rooms(measured.beside)
        if turn >= _FREE:
            needed = needed.most(rooms)
        if needed.near(rooms):
            break
        rooms, body = needed, measured.body
    _say_unnamed(measured.body, findings)
    layout = _placed(request, measured)
    if measured.legends.side == "inside":
        layout = _with_legends_inside(layout, measured.legends, request.theme, findings, marks)
    return layout


def _with_legends_inside(
    layout: Layout, plan: LegendPlan, theme: Theme, findings: Findings, marks: Callable[[PlacedPanel], FloatArray] | None
) -> Layout:
    """The legends in the corner of a panel where they cover the fewest marks.

    Raises:
        ExportError: No panel has room for them.
    """
    standing = [np.zeros((0, 4)) if marks is None else marks(place) for place in layout.panels]
    corner = placed_float(plan.width, plan.height, theme.gap, layout.panels, standing)
    if corner is None:
        raise ExportError(
            "figure.theme: legend_place='inside': no panel has room for the legends",
            'legend_place="auto" sets them beside the panels',
        )
    if corner.covered:
        findings.add(
            "legend-over-marks",
            "figure.theme: legend_place",
            f"the legends lie over {so_many(corner.covered, 'mark')}",
            'legend_place="auto" sets them beside the panels',
            "warning",
        )
    return replace(layout, legends=plan.place(corner.region))


class _Measured(NamedTuple):
    """What one round finds."""

    body: Body
    legends: LegendPlan
    words: _Written
    columns: Line
    rows: Line
    beside: float
    """Room at the right of the last column of panels and its bands, without the margin."""


class _Said(NamedTuple):
    """A text with the width at which it is wrapped, and how high it then is."""

    words: Words
    width: float
    height: float


class _Written(NamedTuple):
    """What is written around the panels."""

    title: _Said
    subtitle: _Said
    note: _Said
    x_title: _Said
    y_title: _Said
    right_titles: tuple[_Said, ...]
    """Of second axes: that of y, then that of x."""


def _said(words: Words, width: float) -> _Said:
    return _Said(words, width, words.measure("y", width).natural)


def _first_rooms(body: Body) -> Rooms:
    """A guess: numbers of a few digits beside the first column."""
    theme, none = body.theme, (0.0,) * body.columns
    return Rooms((2.4 * theme.text_size + theme.tick_length + theme.gap, *none[1:]), none, 0.0)


def _measured(request: Request, body: Body, rooms: Rooms) -> _Measured:
    """All tracks, with rooms beside the panels as they were found before."""
    theme, styles = request.theme, styles_of(request.theme)
    room = request.width - (theme.margin + rooms.left[0]) - theme.margin
    plan = plan_legends(request.legends, theme, styles.text, styles.tick, room, request.height or request.width * 0.7)
    legend = plan.width + theme.block_gap * 1.5 if plan.side == "right" else 0.0
    outside = legend + request.names + body.beside
    stack = Stack()
    stack.add("margin", theme.margin)
    body.add_columns(stack, rooms)
    stack.add("outside", legend + request.names + rooms.over)
    stack.add("right margin", theme.margin)
    columns = _tracks(stack, request, "width")
    width = columns.size("panel 0")
    body = body.across(width)
    beside = outside + rooms.right[-1]
    words = _written(request, styles, room, room - beside, rooms.right[-1])
    rows = _rows(request, body, plan, words, width)
    return _Measured(body.down(rows.size("panel 0")), plan, words, columns, rows, beside)


def _tracks(stack: Stack, request: Request, side: str) -> Line:
    """The tracks at their places.

    Raises:
        ExportError: They don't fit; the message says the size that would do.
    """
    try:
        return stack.placed(request.width if side == "width" else request.height)
    except TooSmallError as problem:
        millimetres, count = math.ceil(problem.needed / 72 * 25.4 / 5) * 5, len(request.panels)
        raise ExportError(
            f"figure.export: the {side} is too small for the figure's texts and {count} panel{'s' if count != 1 else ''}",
            f'{side}="{millimetres} mm" would do; or a smaller text_size, or shorter titles',
        ) from None


def _written(request: Request, styles: Styles, room: float, inner: float, labels: float) -> _Written:
    """All titles and the note with the widths that they have.

    Args:
        request: What they say.
        styles: How they are set.
        room: From the left edge of the panels to the right margin.
        inner: To the right edge of the panels.
        labels: Room for labels at the right of the panels.
    """
    axes = request.theme.axes
    x_title, y_title = (request.scales.first(axis).title if axes else "" for axis in ("x", "y"))
    seconds = {key.axis: second.spec.title for key, second in request.second_axes.items()}
    right = [seconds[axis] for axis in ("y", "x") if seconds.get(axis)]

    def words(text: str, name: str) -> Words:
        return Words(text, styles.text, f"{name}-title", f"Title of the {name} axis", "axis title")

    first, wide, narrow = words(y_title, "y"), inner + labels, 0.47 * (inner + labels)
    others = [Words(text, styles.text, "second-title", "Title of a second axis", "axis title", 1.0) for text in right]
    left, widths = _said(first, wide), [wide] * len(others)
    if y_title and others and first.block(wide).width + others[0].block(wide).width + 2 * styles.text.size > wide:
        # Side by side where they fit, else in about half of the room each.
        left, widths[0] = _said(first, narrow), narrow
    return _Written(
        _said(Words(request.title, styles.title, "title", "Title", "title"), room),
        _said(Words(request.subtitle, styles.quiet, "subtitle", "Subtitle", "subtitle"), room),
        _said(Words(request.note, styles.tick, "note", "Note", "note"), room),
        _said(words(x_title, "x"), inner),
        left,
        tuple(map(_said, others, widths)),
    )


def _rows(request: Request, body: Body, plan: LegendPlan, words: _Written, width: float) -> Line:
    """From the top down: titles, legends, the body, the title of the x axis, the note.

    Raises:
        ExportError: They don't fit, or the sheet would be higher than any may be.
    """
    theme, stack = request.theme, Stack()
    _add_above(stack, theme, body, plan, words)
    body.add_rows(stack, width, natural=request.height is None)
    x_title, note = words.x_title.height, words.note.height
    stack.add("x title", x_title + theme.gap if x_title else 0.0)
    below = note + theme.block_gap if note else 0.0
    stack.add("note", below)
    stack.add("bottom", theme.margin)
    if plan.side == "right":
        stack.need("legend", "bottom", plan.height + below + theme.margin)
    rows = _tracks(stack, request, "height")
    if rows.length > LARGEST:
        metres = f"{rows.length / 72 * 0.0254:,.1f} m high, more than {LARGEST / 72 * 0.0254:.2f} m"
        raise ExportError(
            f"figure.export: the sheet would be {metres}",
            "height= says another one; .facet(per_row=…) sets more panels beside each other; .keep(…) leaves categories out",
        )
    return rows


def _add_above(stack: Stack, theme: Theme, body: Body, plan: LegendPlan, words: _Written) -> None:
    """Tracks above the body."""
    title, subtitle, y_title = words.title.height, words.subtitle.height, words.y_title.height
    stack.add("top", theme.margin)
    stack.add("title", title + theme.gap * 1.2 if title else 0.0)
    stack.add("subtitle", subtitle + theme.gap if subtitle else 0.0)
    stack.add("under titles", theme.block_gap - theme.gap if title or subtitle else 0.0)
    stack.add("legend", plan.height + theme.block_gap if plan.side == "top" and plan.height else 0.0)
    upper = body.headings or any(side == "above" for side, _ in body.bands)
    for number, said in enumerate(words.right_titles):
        # The first stands beside the title of the y axis.
        line = max(said.height, y_title if number == 0 else 0.0)
        stack.add("second title" if number else "y title", line + theme.gap * (1.6 if upper else 1.8))
    if not words.right_titles:
        bare = 0.0 if body.headings else 0.35 * theme.tick_text_size
        stack.add("y title", y_title + theme.gap * (1.6 if body.headings else 1.8) if y_title else bare)


def _placed(request: Request, measured: _Measured) -> Layout:
    """Every box at its place."""
    theme, columns, rows, words = request.theme, measured.columns, measured.rows, measured.words
    left, right = columns.start("panel 0"), columns.end(f"panel {measured.body.columns - 1}")

    def below(said: _Said, top: float) -> PlacedWords:
        return said.words.place(Region(left, top, said.width, said.height))

    titles = [below(words.title, rows.start("title")), below(words.subtitle, rows.start("subtitle"))]
    titles.append(below(words.note, rows.start("bottom") - words.note.height))
    titles.append(below(words.x_title, rows.start("x title") + theme.gap))
    titles.append(below(words.y_title, rows.start("y title")))
    for number, (title, width, height) in enumerate(words.right_titles):
        end = right + (columns.size(f"right {measured.body.columns - 1}") if number == 0 else 0.0)
        top = rows.start("second title" if number else "y title")
        titles.append(title.place(Region(end - width, top, width, height)))
    plan = measured.legends
    at = request.width - theme.margin - plan.width if plan.side == "right" else left
    legends = plan.place(Region(at, rows.start("legend"), plan.width, plan.height))
    panels = measured.body.placed(columns, rows)
    return Layout(request.width, rows.length, styles_of(theme), tuple(titles), panels, legends)


def _say_unnamed(body: Body, findings: Findings) -> None:
    """Says of the layout that stands, not of the tries before it, which categories have no room for their names."""
    mends = {"x": "map the column to y, or make the figure wider", "y": "make the figure higher"}
    told: set[tuple[str, str]] = set()
    for (side, _), band in sorted(body.bands.items(), key=lambda item: item[1].along):
        axis, ticks = band.fitter.axis, band.labels.ticks
        if side not in ("below", "left"):
            continue
        named, where = len(ticks.at), f"figure.scale({axis.name!r})"
        if axis.kind == "levels" and body.theme.axes and 0 < named < len(axis.labels) and (axis.name, "names") not in told:
            told.add((axis.name, "names"))
            every = _ordinal(math.ceil(len(axis.labels) / named))
            text = f"{len(axis.labels)} categories on {axis.name} leave room for the name of every {every} one only"
            findings.add("names-left-out", where, text, mends[axis.name])
        if ticks.thinned and (axis.name, "ticks") not in told:
            told.add((axis.name, "ticks"))
            findings.add(
                "ticks-thinned",
                where,
                f"ticks whose labels would be the same in the format {axis.spec.format!r} are left out",
                "a format with more digits tells them apart",
            )


def _ordinal(number: int) -> str:
    return {2: "second", 3: "third"}.get(number, f"{number}th")
