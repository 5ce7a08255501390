"""The body of a figure: panels in tracks, with the tracks of their bands and headings at all four sides.

A body is as wide as from the left edge of its first panels to the right edge of its last ones, and as high likewise;
what stands around that is told apart, so that a plate can align the panels of several bodies.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import Heading, PlacedHeading, PlacedSpan, SpanHeading, Words
from facetine.pipeline.guides.labels import LabelFitter, Labels
from facetine.pipeline.layout.bands import Band, Bands, PlacedBand, Rooms, Side
from facetine.pipeline.layout.request import PanelSize, Request, styles_of
from facetine.pipeline.layout.stack import NO_TRACKS, Line, Stack
from facetine.pipeline.rows.panels import AxisKey, Grid, Panel, Panels, Span, outermost
from facetine.scene.region import Region

LEAST_PANEL = 12.0
"""A panel is never narrower or lower, in points."""
_RATIO = 0.7
_SYLLABLE = 3.4
"""The widest syllable for which a panel is kept wide enough, in sizes of letters."""
"""Height of a panel by its width, where nothing says another one."""
_SIDE = 0.18
"""The most that headings beside the panels take, as a share of the sheet."""


class PlacedPanel(NamedTuple):
    """A panel at its place, with what stands around it."""

    panel: Panel
    box: Region
    bands: tuple[PlacedBand, ...]
    headings: tuple[PlacedHeading, ...]
    """What stands over it, and beside it."""

    def band(self, side: Side) -> PlacedBand | None:
        """The band at a side; None where there is none."""
        return next((band for band in self.bands if band.side == side), None)

    def labels(self, side: Side) -> Labels:
        """Those of the axis at a side that has one, below or left."""
        band = self.band(side)
        assert band is not None
        return band.labels

    def labelled(self, side: Side) -> bool:
        """Whether labels are written at a side."""
        band = self.band(side)
        return band is not None and band.labelled


class Body(NamedTuple):
    """Panels and what stands around them, measured for the tracks that they have."""

    panels: Panels
    theme: Theme
    grid: Grid
    size: PanelSize
    bands: Bands
    headings: dict[int, Heading]
    """What stands over panels, by their numbers."""
    sides: dict[int, Heading]
    """What stands beside the panels that end a row, by their numbers."""
    side: str
    """At which side of the rows: left or right."""
    spans: tuple[tuple[Span, SpanHeading], ...]
    titles: tuple[tuple[int, range, Words], ...]
    """Titles of y axes over other rows than the first: the row, the columns over which they stand, and the words."""
    widest: float
    """The most that headings beside the panels may take, in points."""
    tight: bool = False
    """Whether panels may be narrower than a syllable of their headings."""
    columns: Line = NO_TRACKS
    """The tracks from the first panel's left edge to the last one's right edge."""
    rows: Line = NO_TRACKS

    @property
    def beside(self) -> float:
        """Room that headings beside the panels take, at whichever side they stand."""
        if not self.sides:
            return 0.0
        widths = (one.block(self.widest).width for one in self.sides.values())
        return max(widths) + 3 * self.theme.gap + self._depth_of_spans("y")

    def _depth_of_spans(self, axis: str) -> float:
        return sum(room for _, room in self._span_rooms(axis))

    def _span_rooms(self, axis: str) -> list[tuple[int, float]]:
        """How deep the outer headings of each depth are."""
        deepest: dict[int, float] = {}
        for span, heading in self.spans:
            if span.axis == axis:
                across = self._length_of(span) if axis == "x" else self.widest
                deepest[span.depth] = max(deepest.get(span.depth, 0.0), heading.depth(across))
        return sorted(deepest.items())

    def _length_of(self, span: Span) -> float:
        line = self.columns if span.axis == "x" else self.rows
        return line.end(f"panel {span.tracks.stop - 1}") - line.start(f"panel {span.tracks.start}")

    def column_stack(self, rooms: Rooms) -> Stack:
        """Tracks from the left edge of the first panels to the right edge of the last ones."""
        stack, width = Stack(), self.size.width
        for column, share in enumerate(self.grid.columns):
            if column:
                stack.add(f"right {column - 1}", rooms.right[column - 1])
                stack.add(f"gap {column}", self.grid.column_gaps[column])
                stack.add(f"left {column}", rooms.left[column])
            if width is None:
                stack.add(f"panel {column}", self.grid.least.get(column, self._least_width(column)), share)
            else:
                stack.add(f"panel {column}", width * share)
        return stack

    def _least_width(self, column: int) -> float:
        """The least width of panels in a column: their headings are broken between words and syllables alone."""
        over = [one for number, one in self.headings.items() if self.panels[number].columns == range(column, column + 1)]
        if self.tight:
            return LEAST_PANEL
        # No word is longer than that without a place to break it, but for those of other languages.
        most = _SYLLABLE * self.theme.text_size
        return max([LEAST_PANEL, *(min(one.least_width, most) for one in over)])

    def across(self, columns: Line) -> Body:
        """The body with its panels in columns, the bands below and above them fitted."""
        widths = {
            panel.number: columns.end(f"panel {panel.columns.stop - 1}") - columns.start(f"panel {panel.columns.start}")
            for panel in self.panels
        }
        return self._replace(columns=columns, bands=self.bands.across(widths))

    def row_stack(self, natural: bool) -> Stack:
        """Tracks from the upper edge of the first panels to the lower edge of the last ones.

        Args:
            natural: Whether panels are at least as high as suits their width.
        """
        stack = Stack()
        above, below = self.bands.above(len(self.grid.rows)), self.bands.below(len(self.grid.rows))
        fixed = self._fixed_height()
        usual = self.natural_height() if natural else None
        for row, share in enumerate(self.grid.rows):
            if row:
                # Within a column of panels, the ticks of the upper ones stand in the gap.
                stack.add(f"below {row - 1}", below[row - 1])
                stack.add(f"between {row}", self.grid.row_gaps[row] + self.bands.ticks_below)
                stack.add(f"title {row}", self._title_room(row))
                stack.add(f"heading {row}", self.heading_height(row))
                # The labels of a second x axis stand between the heading and the panel.
                stack.add(f"above {row}", above[row])
            if fixed is not None:
                stack.add(f"panel {row}", fixed * share)
            else:
                stack.add(f"panel {row}", LEAST_PANEL if usual is None else max(LEAST_PANEL, usual * share), share)
            for number, one in self.sides.items():
                if row in self.panels[number].rows:
                    stack.need(f"panel {row}", f"panel {row}", one.measure("y", self.widest).natural)
        return stack

    def down(self, rows: Line) -> Body:
        """The body with its panels in rows, the bands at the left and at the right of them fitted."""
        heights = {
            panel.number: rows.end(f"panel {panel.rows.stop - 1}") - rows.start(f"panel {panel.rows.start}")
            for panel in self.panels
        }
        return self._replace(rows=rows, bands=self.bands.down(heights))

    def _fixed_height(self) -> float | None:
        size = self.size
        if size.height is not None:
            return size.height
        return None if size.ratio is None else size.ratio * self.unit

    @property
    def unit(self) -> float:
        """The width of a column of usual share."""
        return self.columns.size("panel 0") / self.grid.columns[0]

    def natural_height(self) -> float:
        """A height of panels that suits their width and the number of categories."""
        size = self.theme.tick_text_size
        height = max(self.unit * _RATIO, 4 * size, LEAST_PANEL)
        main = {panel.y for panel in self.panels if panel.role == "main"}
        named = [band.fitter for (side, key), band in self.bands.unfitted.items()
                 if side == "left" and band.fitter.axis.kind == "levels" and key in main]  # fmt: skip
        if named:
            each = 1.45 * size
            count = max(2, *(len(fitter.axis.labels) for fitter in named))
            height = max(count * each, min(height, count * 2.6 * each), *(fitter.height_of_names() for fitter in named))
        return height

    def heading_height(self, row: int) -> float:
        """How high the headings over the panels of a row are, with the room around them."""
        over = [(number, one) for number, one in self.headings.items() if self.panels[number].rows.start == row]
        if not over:
            return 0.0
        tallest = max(one.measure("y", self.bands.widths[number]).natural for number, one in over)
        return tallest + (self.theme.tick_length if self.bands.on_top else 0.0)

    def _title_room(self, row: int) -> float:
        titles = [words.measure("y", self.room_over(columns)).natural for at, columns, words in self.titles if at == row]
        return max(titles) + 1.6 * self.theme.gap if titles else 0.0

    def room_over(self, columns: range) -> float:
        """How wide some columns of panels are together."""
        return self.columns.end(f"panel {columns.stop - 1}") - self.columns.start(f"panel {columns.start}")

    def over_first(self) -> list[tuple[str, float]]:
        """Tracks above the first row of panels, from the top down."""
        rooms = [(f"outer {depth}", room) for depth, room in self._span_rooms("x")]
        rooms.append(("heading 0", self.heading_height(0)))
        return [*rooms, ("above 0", self.bands.above(len(self.grid.rows))[0])]

    @property
    def under_last(self) -> float:
        """Room under the last row of panels for its bands."""
        return self.bands.below(len(self.grid.rows))[-1]

    def placed(self, columns: Line, rows: Line, rooms: Rooms) -> Iterator[PlacedPanel]:
        """All panels, their tracks at their places on the sheet.

        Args:
            columns: The tracks of the columns, moved to where they stand.
            rows: Those of the rows, with those above the first one.
            rooms: Room beside the panels.
        """
        for panel in self.panels:
            yield self._placed(panel, columns, rows, rooms)

    def _placed(self, panel: Panel, columns: Line, rows: Line, rooms: Rooms) -> PlacedPanel:
        left, top = columns.start(f"panel {panel.columns.start}"), rows.start(f"panel {panel.rows.start}")
        right, bottom = columns.end(f"panel {panel.columns.stop - 1}"), rows.end(f"panel {panel.rows.stop - 1}")
        box = Region(left, top, right - left, bottom - top)
        bands = []
        for side in ("below", "left", "above", "right"):
            band = self.bands.at(side, panel)
            if band is not None:
                drop = self.bands.drop if side == "below" else 0.0
                bands.append(band.place(_beside(box, side, band.depth), drop, panel.number in self.bands.shown[side]))
        headings = []
        if panel.number in self.headings:
            track = f"heading {panel.rows.start}"
            headings.append(self.headings[panel.number].place(Region(left, rows.start(track), box.width, rows.size(track))))
        if panel.number in self.sides:
            start = self._side_start(columns, rooms)
            headings.append(self.sides[panel.number].place(Region(start, top, self.widest, box.height)))
        return PlacedPanel(panel, box, tuple(bands), tuple(headings))

    def _side_start(self, columns: Line, rooms: Rooms) -> float:
        """Where headings beside the panels begin."""
        if self.side == "left":
            return columns.start("panel 0") - rooms.left[0] - self.beside + self._depth_of_spans("y")
        return columns.end(f"panel {len(self.grid.columns) - 1}") + rooms.right[-1] + 3 * self.theme.gap

    def placed_spans(self, columns: Line, rows: Line, rooms: Rooms) -> Iterator[tuple[int, PlacedSpan]]:
        """The outer headings with the pages on which they stand."""
        for span, heading in self.spans:
            line = columns if span.axis == "x" else rows
            start, end = line.start(f"panel {span.tracks.start}"), line.end(f"panel {span.tracks.stop - 1}")
            if span.axis == "x":
                track = f"outer {span.depth}"
                yield span.page, heading.place(Region(start, rows.start(track), end - start, rows.size(track)))
                continue
            widths = dict(self._span_rooms("y"))
            inner = sum(width for depth, width in widths.items() if depth > span.depth)
            outer = sum(width for depth, width in widths.items() if depth < span.depth)
            beside = self._side_start(columns, rooms)
            left = beside - self._depth_of_spans("y") + outer
            if self.side == "right":
                left = beside + self.beside - 3 * self.theme.gap - self._depth_of_spans("y") + inner
            yield span.page, heading.place(Region(left, start, widths[span.depth], end - start))

    def placed_titles(self, columns: Line, rows: Line) -> Iterator[tuple[Words, Region]]:
        """The titles of y axes over other rows than the first."""
        for row, across, words in self.titles:
            left = columns.start(f"panel {across.start}")
            yield words, Region(left, rows.start(f"title {row}"), self.room_over(across), rows.size(f"title {row}"))


def _beside(box: Region, side: Side, depth: float) -> Region:
    """The stretch along one side of a panel."""
    if side == "below":
        return Region(box.x, box.bottom, box.width, depth)
    if side == "above":
        return Region(box.x, box.y - depth, box.width, depth)
    return Region(box.x - depth if side == "left" else box.right, box.y, depth, box.height)


def body_of(request: Request) -> Body:
    """The body of a figure, before anything is fitted."""
    panels, theme, styles = request.panels, request.theme, styles_of(request.theme)
    width = request.width or 2 * LEAST_PANEL * len(request.grid.columns) * 4
    gap = request.grid.column_gaps[-1]
    bands: dict[tuple[Side, AxisKey], Band] = {}
    plain = all(panel.role == "main" for panel in panels)
    for key, axis in request.scales.axes.items():
        # Marginals stand between panels of one axis, so that labels of neighbours meet where there are several only.
        columns = len(request.grid.columns) if plain else len({panel.columns for panel in panels if panel.x == key})
        fitter = LabelFitter(axis, theme, styles.tick, columns, width, request.height or width, gap)
        bands["below" if key.axis == "x" else "left", key] = Band("below" if key.axis == "x" else "left", fitter)
        if key in request.second_axes:
            side: Side = "above" if key.axis == "x" else "right"
            bands[side, key] = Band(side, fitter, request.second_axes[key])
    below, left, above, right = outermost(panels) if not request.repeat_axes else (frozenset(range(len(panels))),) * 4
    shown: dict[Side, frozenset[int]] = {"below": below, "left": left, "above": above, "right": right}
    over, beside = (
        {panel.number: Heading(said, styles.heading, theme) for panel in panels if (said := getattr(panel, name)) is not None}
        for name in ("heading", "side_heading")
    )
    spans = tuple((span, SpanHeading(span.axis, span.text, styles.heading, theme)) for span in request.spans)
    titles = tuple(
        (title.row, title.columns, Words(title.text, styles.text, "y-title", "Title of the y axis", "axis title"))
        for title in request.axis_titles
        if title.axis == "y" and title.row and title.text
    )
    return Body(
        panels, theme, request.grid, request.size, Bands(panels, theme, bands, shown),
        over, beside, request.side, spans, titles, _SIDE * width, request.tight,
    )  # fmt: skip
