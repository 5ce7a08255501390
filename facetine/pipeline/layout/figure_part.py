"""A figure as a part of a sheet: its body with the titles, the legends and the note around it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple, Self

import numpy as np

from facetine.pipeline.guides.boxes import PlacedWords, Words
from facetine.pipeline.guides.legend_box import LegendPlan, plan_legends
from facetine.pipeline.layout.bands import Band, Rooms, Side
from facetine.pipeline.layout.body import LEAST_PANEL, Body, body_of
from facetine.pipeline.layout.part import Layout, Placement
from facetine.pipeline.layout.request import Request, styles_of
from facetine.pipeline.layout.stack import Line, Stack
from facetine.pipeline.rows.panels import AxisKey
from facetine.scene.region import Region

_PANEL_SHARE = 0.55


class Said(NamedTuple):
    """A text with the width at which it is wrapped, and how high it then is."""

    words: Words
    width: float
    height: float


class Written(NamedTuple):
    """What is written around the panels."""

    title: Said
    subtitle: Said
    note: Said
    below: tuple[tuple[range, Said], ...]
    """Titles of x axes, with the columns under which they stand."""
    above: tuple[tuple[range, Said], ...]
    """Titles of y axes over the first row of panels."""
    right: tuple[Said, ...]
    """Of second axes: that of y, then that of x."""


class FigurePart(NamedTuple):
    """A figure, measured round by round for the room that its panels have.

    Its inner region reaches from the left edge of the first panels to the right edge of the last ones, and likewise
    from the top down; `left`, `right`, `above` and `below` tell what it needs around that.
    """

    request: Request
    body: Body
    rooms: Rooms
    plan: LegendPlan
    words: Written | None = None
    upper: Line | None = None
    """The tracks above the first row of panels."""
    number: int = 0
    """Which of the figures on its sheet it is."""

    @classmethod
    def of(cls, request: Request, number: int = 0) -> Self:
        """A part before anything is measured, with a guess at the room that labels need."""
        body, theme = body_of(request), request.theme
        plan = LegendPlan("none", 0.0, 0.0, (), theme, styles_of(theme).tick)
        rooms, fitted = _first_rooms(request, body)
        # Labels that had room there are mostly those that stay.
        body = body._replace(bands=body.bands._replace(fitted=fitted))
        return cls(request, body, rooms, plan, number=number)

    def planned(self, room: float) -> Self:
        """The part with its legends arranged for the room from the left edge of its panels to its right end."""
        request, styles = self.request, styles_of(self.request.theme)
        height = request.height or (request.width or room) * 0.7
        return self._replace(plan=plan_legends(request.legends, request.theme, styles.text, styles.tick, room, height))

    @property
    def left(self) -> float:
        """Room that it needs at the left of its panels."""
        return self.rooms.left[0] + (self.body.beside if self.body.side == "left" else 0.0) + self.aside

    @property
    def aside(self) -> float:
        """Room that its legends need at the left of all else."""
        return self.plan.beside if self.plan.side == "left" else 0.0

    @property
    def _outside(self) -> float:
        legend = self.plan.beside if self.plan.side == "right" else 0.0
        return legend + self.request.names + (self.body.beside if self.body.side == "right" else 0.0)

    @property
    def right(self) -> float:
        """Room that it needs at the right of its panels."""
        return self.rooms.right[-1] + self._outside + self.rooms.over

    @property
    def least_width(self) -> float:
        """The least width of its panels, with what stands between them."""
        return self.body.column_stack(self.rooms).least

    @property
    def fixed_width(self) -> bool:
        """Whether its panels have a width of their own."""
        return self.body.column_stack(self.rooms).fixed

    def across(self, inner: float) -> Self:
        """The part with its panels in a width, everything above and below them fitted to that."""
        stack = self.body.column_stack(self.rooms)
        body = self.body.across(stack.placed(stack.least if stack.fixed else inner))
        part = self._replace(body=body, words=_written(self.request, body, self.rooms, inner, self.right))
        return part._replace(upper=part._upper())

    def _upper(self) -> Line:
        theme, words, stack = self.request.theme, self.words, Stack()
        assert words is not None
        title, subtitle = words.title.height, words.subtitle.height
        stack.add("title", title + theme.gap * 1.2 if title else 0.0)
        stack.add("subtitle", subtitle + theme.gap if subtitle else 0.0)
        stack.add("under titles", theme.block_gap - theme.gap if title or subtitle else 0.0)
        stack.add("legend", self.plan.over)
        tracks, body = self.body.over_first(), self.body
        y_title = max((said.height for _, said in words.above), default=0.0)
        headed = bool(body.headings) or any(span.axis == "x" for span, _ in body.spans)
        for number, said in enumerate(words.right):
            # The first stands beside the title of the y axis.
            line = max(said.height, y_title if number == 0 else 0.0)
            stack.add("second title" if number else "y title", line + theme.gap * (1.6 if headed or body.bands.on_top else 1.8))
        if not words.right:
            bare = 0.0 if headed else 0.35 * theme.tick_text_size
            stack.add("y title", y_title + theme.gap * (1.6 if headed else 1.8) if y_title else bare)
        for name, room in tracks:
            stack.add(name, room)
        return stack.placed()

    @property
    def above(self) -> float:
        """Room that it needs above its first row of panels."""
        assert self.upper is not None
        return self.upper.length

    @property
    def below(self) -> float:
        """Room that it needs under its last row of panels."""
        assert self.words is not None
        return self.body.under_last + self._under_titles + self.plan.under + self._note

    @property
    def _under_titles(self) -> float:
        assert self.words is not None
        height = max((said.height for _, said in self.words.below), default=0.0)
        return height + self.request.theme.gap if height else 0.0

    @property
    def _note(self) -> float:
        assert self.words is not None
        note = self.words.note.height
        return note + self.request.theme.block_gap if note else 0.0

    def _row_stack(self, natural: bool) -> Stack:
        stack = self.body.row_stack(natural)
        if self.plan.beside:
            # Legends beside the panels reach from under the titles down to the end of the note, at most.
            assert self.upper is not None
            outside = self.upper.length - self.upper.start("legend") + self.body.under_last + self._under_titles
            first, last = "panel 0", f"panel {len(self.body.grid.rows) - 1}"
            stack.need(first, last, self.plan.height - outside)
        return stack

    @property
    def fixed_height(self) -> bool:
        """Whether its panels have a height of their own."""
        return self.body.row_stack(False).fixed

    def least_height(self, natural: bool) -> float:
        """The least height of its panels, with what stands between them; the one that suits them where that is asked for."""
        return self._row_stack(natural).least

    def narrowed(self, height: float) -> Self:
        """The part with narrower panels, where a said ratio of their sides makes them too high for a height."""
        size, stack = self.body.size, self._row_stack(False)
        if size.ratio is None or size.width is not None or size.height is not None or stack.least <= height:
            return self
        panels = sum(self.body.grid.rows) * size.ratio
        unit = self.body.unit - (stack.least - height) / panels
        if unit < LEAST_PANEL:
            return self
        part = self._replace(body=self.body._replace(size=size._replace(width=unit))).across(0.0)
        return part._replace(body=part.body._replace(size=size))

    def down(self, inner: float, natural: bool) -> Self:
        """The part with its panels in a height."""
        stack = self._row_stack(natural)
        return self._replace(body=self.body.down(stack.placed(stack.least if stack.fixed else inner)))

    def settled(self, growing: bool) -> Self:
        """The part as it should be measured next: the same one where its rooms were right.

        Args:
            growing: Whether rooms may not shrink any more.
        """
        needed = self.body.bands.rooms(self.body.grid, self._outside + self.rooms.right[-1])
        if growing:
            needed = needed.most(self.rooms)
        return self if needed.met_by(self.rooms) else self._replace(rooms=needed)

    def place(self, inner: Region, outer: Region) -> Placement:
        """Every box at its place.

        Args:
            inner: From the first panel's upper left to the last one's lower right corner.
            outer: What it has with the room around; titles begin at its upper edge, which may be higher than they need.
        """
        assert self.upper is not None
        assert self.words is not None
        theme, words, left = self.request.theme, self.words, inner.x
        columns, rows = self.body.columns.moved(inner.x), self._rows(inner.y, outer.y)
        bottom = rows.end(f"panel {len(self.body.grid.rows) - 1}")
        end = columns.end(f"panel {len(self.body.grid.columns) - 1}")

        def at(said: Said, start: float, upper: float) -> PlacedWords:
            return said.words.place(Region(start, upper, said.width, said.height))

        titles = [at(words.title, left, rows.start("title")), at(words.subtitle, left, rows.start("subtitle"))]
        # In the order in which they are read.
        for columns_over, said in words.above:
            titles.append(at(said, columns.start(f"panel {columns_over.start}"), rows.start("y title")))
        titles += [one.place(region) for one, region in self.body.placed_titles(columns, rows)]
        under = bottom + self.body.under_last
        for columns_under, said in words.below:
            titles.append(at(said, columns.start(f"panel {columns_under.start}"), under + theme.gap))
        for number, (title, width, height) in enumerate(words.right):
            last = end + (self.rooms.right[-1] if number == 0 else 0.0)
            upper = rows.start("second title" if number else "y title")
            titles.append(title.place(Region(last - width, upper, width, height)))
        end_of_titles = under + self._under_titles
        titles.append(at(words.note, left, end_of_titles + self.plan.under + (theme.block_gap if words.note.height else 0.0)))
        plan = self.plan
        start = {"right": outer.right - plan.width, "left": inner.x - self.left}.get(plan.side, left)
        top = end_of_titles + theme.block_gap if plan.side == "bottom" else rows.start("legend")
        legends = plan.place(Region(start, top, plan.width, plan.height))
        panels = tuple(self.body.placed(columns, rows, self.rooms))
        spans = tuple(self.body.placed_spans(columns, rows, self.rooms))
        layout = Layout(0.0, 0.0, styles_of(theme), tuple(titles), panels, legends, spans)
        return Placement(((self.number, layout),))

    def _rows(self, first: float, top: float) -> Line:
        """All tracks from the top down: titles and legends from the top, what belongs to the axes at the panels."""
        assert self.upper is not None
        upper, inner = self.upper.moved(first - self.upper.length), self.body.rows.moved(first)
        edges = upper.edges.copy()
        edges[: upper.names["y title"]] += top - upper.edges[0]
        names = {**upper.names, **{name: place + len(upper.names) for name, place in inner.names.items()}}
        return Line(names, np.concatenate([edges, inner.edges[1:]]))


def _first_rooms(request: Request, body: Body) -> tuple[Rooms, Mapping[tuple[Side, AxisKey, float], Band]]:
    """What labels would need if titles took the usual share of the sheet: mostly right, which saves a round of measuring.

    Returns:
        The rooms, and the bands as they are fitted for them: in panels a little smaller than most are then.
    """
    theme, columns, rows = request.theme, request.grid.columns, request.grid.rows
    none = (0.0,) * len(columns)
    rooms = Rooms((2.4 * theme.text_size + theme.tick_length + theme.gap, *none[1:]), none, 0.0)
    if len(columns) > 1 or len(rows) > 1 or request.width is None or request.height is None:
        return rooms, {}
    heights = {panel.number: max(_PANEL_SHARE * request.height, LEAST_PANEL) for panel in body.panels}
    upright = body.bands.down(heights)
    left = max((depth for _, depth in upright.depths("left")), default=0.0)
    room = request.width - 2 * theme.margin - left - 0.4 * theme.text_size
    bands = upright.across({panel.number: max(room, LEAST_PANEL) for panel in body.panels})
    return bands.rooms(body.grid, request.names), bands.fitted


def _said(words: Words, width: float) -> Said:
    return Said(words, width, words.measure("y", width).natural)


def _written(request: Request, body: Body, rooms: Rooms, inner: float, right: float) -> Written:
    """All titles and the note with the widths that they have, for panels of a width in all and the room at their right."""
    styles = styles_of(request.theme)
    room, labels = inner + right, rooms.right[-1]
    whole = inner + rooms.over

    def words(text: str, name: str) -> Words:
        return Words(text, styles.text, f"{name}-title", f"Title of the {name} axis", "axis title")

    every = range(len(request.grid.columns))

    def under(columns: range) -> float:
        return whole if columns == every else body.room_over(columns)

    titles = [title for title in request.axis_titles if title.text]
    below = tuple((title.columns, _said(words(title.text, "x"), under(title.columns))) for title in titles if title.axis == "x")
    first = [title for title in titles if title.axis == "y" and not title.row]
    seconds = {key.axis: second.spec.title for key, second in request.second_axes.items()} if request.theme.axes else {}
    texts = [text for axis in ("y", "x") if (text := seconds.get(axis))]
    others = [Words(text, styles.text, "second-title", "Title of a second axis", "axis title", 1.0) for text in texts]
    wide = whole + labels
    widths, over = [wide] * len(others), wide
    if len(first) == 1 and others:
        own = words(first[0].text, "y")
        if own.block(wide).width + others[0].block(wide).width + 2 * styles.text.size > wide:
            # Side by side where they fit, else in about half of the room each.
            over = widths[0] = 0.47 * wide
    above = tuple(
        (title.columns, _said(words(title.text, "y"), over if title.columns == every else body.room_over(title.columns)))
        for title in first
    )
    return Written(
        _said(Words(request.title, styles.title, "title", "Title", "title"), room),
        _said(Words(request.subtitle, styles.quiet, "subtitle", "Subtitle", "subtitle"), room),
        _said(Words(request.note, styles.tick, "note", "Note", "note"), room),
        below,
        above,
        tuple(map(_said, others, widths)),
    )
