"""Parts in rows and columns whose panels align: in a column of figures the left edges of their first panels and the right
edges of their last ones, in a row the upper and the lower ones."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple, Self

from facetine.grammar.theme import Theme
from facetine.pipeline.guides.boxes import PlacedWords, Words
from facetine.pipeline.guides.legend_box import LegendPlan, plan_legends
from facetine.pipeline.guides.legend_entries import Legend
from facetine.pipeline.layout.part import Part, Placement, Wrapping
from facetine.pipeline.layout.request import styles_of
from facetine.pipeline.layout.stack import NO_TRACKS, Line, Stack
from facetine.scene.region import Region

_NEAR = 0.05
"""Widths that differ by less, in points, are one."""


class Cell(NamedTuple):
    """A part with the rows and columns of the plate that it spans."""

    part: Part
    rows: range
    columns: range


class GridPart(NamedTuple):
    """Parts in a grid. It shows its outermost edges only, so that a plate can stand in a plate."""

    cells: tuple[Cell, ...]
    widths: tuple[float, ...]
    """How the columns share the room of panels."""
    heights: tuple[float, ...]
    gaps: tuple[float, float]
    """Room between columns and between rows, in points."""
    columns: Line = NO_TRACKS
    rows: Line = NO_TRACKS
    rooms: tuple[float, ...] = ()
    """For what width, with the room at its right, the legends of each part are arranged; empty before that is known."""

    @property
    def left(self) -> float:
        """What the parts of the first column need."""
        return max((cell.part.left for cell in self.cells if cell.columns.start == 0), default=0.0)

    @property
    def aside(self) -> float:
        """What legends of the first column take."""
        return max((cell.part.aside for cell in self.cells if cell.columns.start == 0), default=0.0)

    @property
    def right(self) -> float:
        """What the parts of the last column need."""
        return max((cell.part.right for cell in self.cells if cell.columns.stop == len(self.widths)), default=0.0)

    @property
    def above(self) -> float:
        """What the parts of the first row need."""
        return max((cell.part.above for cell in self.cells if cell.rows.start == 0), default=0.0)

    @property
    def below(self) -> float:
        """What the parts of the last row need."""
        return max((cell.part.below for cell in self.cells if cell.rows.stop == len(self.heights)), default=0.0)

    def _column_stack(self) -> Stack:
        rooms = [
            _Tracks("right", "left", cell.columns, cell.part.right, cell.part.left, cell.part.fixed_width, cell.part.least_width)
            for cell in self.cells
        ]
        return _stacked(rooms, self.widths, self.gaps[0])

    @property
    def least_width(self) -> float:
        """That of all columns."""
        return self._column_stack().least

    @property
    def fixed_width(self) -> bool:
        """Whether all columns are."""
        return self._column_stack().fixed

    def planned(self, room: float) -> Self:
        """Every part for the width that its columns had before, with the room at their right."""
        rooms = self.rooms
        if not rooms:
            stack = self._column_stack()
            rooms = self._found(stack.placed(stack.least if stack.fixed else max(room - self.right, stack.least)))
        cells = tuple(cell._replace(part=cell.part.planned(own)) for cell, own in zip(self.cells, rooms, strict=True))
        return self._replace(cells=cells, rooms=rooms)

    def _found(self, line: Line) -> tuple[float, ...]:
        return tuple(self._across(line, cell) + self._right_of(line, cell) for cell in self.cells)

    def _right_of(self, line: Line, cell: Cell) -> float:
        last = cell.columns.stop - 1
        return self.right if last == len(self.widths) - 1 else line.size(f"right {last}")

    def _across(self, line: Line, cell: Cell) -> float:
        return line.end(f"panel {cell.columns.stop - 1}") - line.start(f"panel {cell.columns.start}")

    def _down(self, line: Line, cell: Cell) -> float:
        return line.end(f"panel {cell.rows.stop - 1}") - line.start(f"panel {cell.rows.start}")

    def _with(self, change: Callable[[Cell], Part]) -> Self:
        return self._replace(cells=tuple(cell._replace(part=change(cell)) for cell in self.cells))

    def across(self, inner: float) -> Self:
        """Every part in its columns."""
        stack = self._column_stack()
        line = stack.placed(stack.least if stack.fixed else inner)
        return self._with(lambda cell: cell.part.across(self._across(line, cell)))._replace(columns=line)

    def _row_stack(self, natural: bool) -> Stack:
        rooms = [
            _Tracks(
                "below", "above", cell.rows, cell.part.below, cell.part.above, cell.part.fixed_height, self._least(cell, natural)
            )
            for cell in self.cells
        ]
        stack = _stacked(rooms, self.heights, self.gaps[1])
        if natural and len(set(self.heights)) > 1:
            self._in_proportion(stack)
        return stack

    def _least(self, cell: Cell, natural: bool) -> float:
        """The least height of a cell; what spans columns is wide enough to be as low as what stands beside it."""
        return cell.part.least_height(natural and (len(cell.columns) == 1 or not self._beside_narrow(cell)))

    def _in_proportion(self, stack: Stack) -> None:
        """Rows whose heights were said are high enough for all of them, in these proportions."""
        least = [self._least(cell, True) / self.heights[cell.rows.start] for cell in self.cells if len(cell.rows) == 1]
        unit = max(least, default=0.0)
        for row, share in enumerate(self.heights):
            stack.need(f"panel {row}", f"panel {row}", unit * share)

    def _beside_narrow(self, cell: Cell) -> bool:
        """Whether a part of a single column stands in the same rows."""
        return any(len(other.columns) == 1 and other.rows.start in cell.rows for other in self.cells)

    @property
    def fixed_height(self) -> bool:
        """Whether all rows are."""
        return self._row_stack(natural=False).fixed

    def least_height(self, natural: bool) -> float:
        """That of all rows."""
        return self._row_stack(natural).least

    def narrowed(self, height: float) -> Self:  # noqa: ARG002
        """As it is: its columns keep their widths."""
        return self

    def down(self, inner: float, natural: bool) -> Self:
        """Every part in its rows."""
        stack = self._row_stack(natural)
        line = stack.placed(stack.least if stack.fixed else inner)
        return self._with(lambda cell: cell.part.down(self._down(line, cell), natural=False))._replace(rows=line)

    def settled(self, growing: bool) -> Self:
        """Itself where the rooms of all parts were right, and legends have the width for which they were arranged."""
        parts = [cell.part.settled(growing) for cell in self.cells]
        rooms = self._found(self.columns)
        if growing:
            # What fits into less fits into more, and rooms that only shrink come to an end.
            rooms = tuple(map(min, rooms, self.rooms))
        right = all(abs(one - other) < _NEAR for one, other in zip(rooms, self.rooms, strict=True))
        if right and all(new is cell.part for new, cell in zip(parts, self.cells, strict=True)):
            return self
        cells = tuple(cell._replace(part=part) for cell, part in zip(self.cells, parts, strict=True))
        return self._replace(cells=cells, rooms=rooms)

    def place(self, inner: Region, outer: Region) -> Placement:
        """All parts at their places."""
        return joined([self._placed(cell, inner, outer) for cell in self.cells])

    def _placed(self, cell: Cell, inner: Region, outer: Region) -> Placement:
        columns, rows = self.columns.moved(inner.x), self.rows.moved(inner.y)
        first, last = cell.columns.start, cell.columns.stop - 1
        left, right = columns.start(f"panel {first}"), columns.end(f"panel {last}")
        top, bottom = rows.start(f"panel {cell.rows.start}"), rows.end(f"panel {cell.rows.stop - 1}")
        begin = columns.start(f"left {first}") if first else outer.x
        end = columns.end(f"right {last}") if last < len(self.widths) - 1 else outer.right
        upper = rows.start(f"above {cell.rows.start}") if cell.rows.start else outer.y
        lower = rows.end(f"below {cell.rows.stop - 1}") if cell.rows.stop < len(self.heights) else outer.bottom
        return cell.part.place(Region(left, top, right - left, bottom - top), Region(begin, upper, end - begin, lower - upper))


def joined(placements: Sequence[Placement]) -> Placement:
    """Everything of several placements."""
    return Placement(
        tuple(figure for one in placements for figure in one.figures), tuple(box for one in placements for box in one.boxes)
    )


class _Tracks(NamedTuple):
    """What a cell needs along one direction."""

    behind: str
    """What the track behind its panels is called; that before them next."""
    before: str
    span: range
    room_behind: float
    room_before: float
    fixed: bool
    least: float


def _stacked(cells: Sequence[_Tracks], shares: tuple[float, ...], gap: float) -> Stack:
    """The tracks of a direction: panels that share the room, between them what their neighbours need."""
    stack, (behind, before) = Stack(), cells[0][:2]
    for number, share in enumerate(shares):
        if number:
            stack.add(f"{behind} {number - 1}", max((one.room_behind for one in cells if one.span.stop == number), default=0.0))
            stack.add(f"gap {number}", gap)
            stack.add(f"{before} {number}", max((one.room_before for one in cells if one.span.start == number), default=0.0))
        own = [one.fixed for one in cells if one.span == range(number, number + 1)]
        stack.add(f"panel {number}", 0.0, 0.0 if own and all(own) else share)
    for one in cells:
        stack.need(f"panel {one.span.start}", f"panel {one.span.stop - 1}", one.least)
    return stack


@dataclass(frozen=True, slots=True)
class Lettered(Wrapping):
    """A part with a letter at its upper left corner, or over its first panel."""

    letter: Words
    gap: float
    over: bool
    """Whether the letter stands on a line of its own at the left edge of the panels, and not beside them."""

    @property
    def _width(self) -> float:
        return self.letter.block(1000.0).width

    @property
    def _height(self) -> float:
        return self.letter.measure("y", 1000.0).natural

    @property
    def left(self) -> float:
        """Room for the letter beside the panels."""
        own = self._width + self.gap
        return self.part.left if self.over else max(self.part.left + (own if self.part.aside else 0.0), own)

    @property
    def above(self) -> float:
        """Room for the letter over the panels."""
        return self.part.above + self._height + self.gap if self.over else max(self.part.above, self._height + self.gap)

    def place(self, inner: Region, outer: Region) -> Placement:
        """The letter at the corner, then the part."""
        left = inner.x if self.over else outer.x
        letter = self.letter.place(Region(left, outer.y, self._width + 1.0, self._height))
        under = self._height + self.gap if self.over else 0.0
        rest = Region(outer.x, outer.y + under, outer.width, outer.height - under)
        return joined([Placement((), (letter,)), self.part.place(inner, rest)])


@dataclass(frozen=True, slots=True)
class Framed(Wrapping):
    """A plate with what it says of all its figures."""

    theme: Theme
    title: Words
    subtitle: Words
    note: Words
    legends: tuple[Legend, ...]
    plan: LegendPlan
    width: float = 100.0
    """From the left edge of the panels to the right end."""

    @property
    def right(self) -> float:
        """That of the part, and the legends beside it."""
        return self.part.right + (self.plan.beside if self.plan.side == "right" else 0.0)

    @property
    def left(self) -> float:
        """That of the part, and the legends beside it."""
        return self.part.left + (self.plan.beside if self.plan.side == "left" else 0.0)

    @property
    def aside(self) -> float:
        """That of the part, and of its own legends."""
        return self.part.aside + (self.plan.beside if self.plan.side == "left" else 0.0)

    def _heights(self) -> tuple[float, float, float, float]:
        """Of title, subtitle, legends and note, each with the room behind, or before, it."""
        gap, block = self.theme.gap, self.theme.block_gap
        title, subtitle, note = (words.measure("y", self.width).natural for words in (self.title, self.subtitle, self.note))
        last = block - gap if title or subtitle else 0.0
        return (
            title + 1.2 * gap + (0.0 if subtitle else last) if title else 0.0,
            subtitle + gap + last if subtitle else 0.0,
            self.plan.over,
            note + block if note else 0.0,
        )

    @property
    def above(self) -> float:
        """That of the part, under title, subtitle and legends."""
        return sum(self._heights()[:3]) + self.part.above

    @property
    def below(self) -> float:
        """That of the part, over legends and the note."""
        return self.part.below + self.plan.under + self._heights()[3]

    def least_height(self, natural: bool) -> float:
        """That of the part; or what legends beside it need."""
        least = self.part.least_height(natural)
        return max(least, self.plan.height - self.part.above - self.part.below) if self.plan.beside else least

    def planned(self, room: float) -> Self:
        """Its legends, then the part beside them."""
        styles = styles_of(self.theme)
        plan = plan_legends(self.legends, self.theme, styles.text, styles.tick, room, 0.7 * room)
        framed = replace(self, plan=plan, width=room)
        return replace(framed, part=self.part.planned(room - plan.beside))

    def place(self, inner: Region, outer: Region) -> Placement:
        """Titles and legends from the top, the note under everything, the part between."""
        title, subtitle, legend, note = self._heights()
        left, top = inner.x, outer.y

        def words(what: Words, upper: float) -> PlacedWords:
            return what.place(Region(left, upper, self.width, what.measure("y", self.width).natural))

        boxes = [words(self.title, top), words(self.subtitle, top + title)]
        own = self.note.measure("y", self.width).natural
        boxes.append(words(self.note, outer.bottom - own))
        plan, used = self.plan, title + subtitle + legend
        start = {"right": outer.right - plan.width, "left": outer.x}.get(plan.side, left)
        upper = top + title + subtitle + (self.part.above if plan.beside else 0.0)
        if plan.side == "bottom":
            upper = outer.bottom - note - plan.height
        legends = plan.place(Region(start, upper, plan.width, plan.height))
        moved = plan.beside if plan.side == "left" else 0.0
        rest = Region(outer.x + moved, outer.y + used, outer.width - plan.beside, outer.height - used - note - plan.under)
        return joined([Placement((), (*boxes, legends)), self.part.place(inner, rest)])
