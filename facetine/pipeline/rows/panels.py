"""Panels: the rectangles of axes, each standing on two position scales that are named by keys."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from facetine.grammar.theme import Theme
from facetine.pipeline.composition.planned import Role


class AxisKey(NamedTuple):
    """The name of one position scale; panels that share a key share an axis."""

    figure: int = 0
    """The number of the figure on its sheet."""
    axis: str = "x"
    """x or y."""
    part: int = 0
    """Which of several axes of that name it is."""


class Panel(NamedTuple):
    """One rectangle of axes."""

    number: int
    x: AxisKey
    y: AxisKey
    rows: range
    """The rows of the grid of panels that it spans."""
    columns: range
    """The columns that it spans."""
    heading: str | None = None
    """What stands over it, in inline markup; None for nothing."""
    side_heading: str | None = None
    """What stands at its right, for the row of panels that it ends; None for nothing."""
    name: str | None = None
    """What it is called, in inline markup; None for a figure without a facet."""
    page: int = 0
    """The page on which it stands, from 0 on."""
    field: int = 0
    """The number of its field."""
    measure: AxisKey | None = None
    """On which its marks stand along y, where that is not the axis that it shows: on the diagonal of a matrix."""
    role: Role = "main"
    """A marginal shares one axis and owns the other, of which alone it shows line and ticks."""

    @property
    def own_axis(self) -> str:
        """The axis that a marginal has of its own; empty for any other panel."""
        return "" if self.role == "main" else "x" if self.role == "beside" else "y"

    def key(self, axis: str) -> AxisKey:
        """Its key of that name."""
        return self.x if axis == "x" else self.y


Panels = tuple[Panel, ...]


class Grid(NamedTuple):
    """The tracks in which panels stand."""

    columns: tuple[float, ...]
    """How wide each column is, as a share of a usual one."""
    rows: tuple[float, ...]
    """How high each row is, likewise."""
    column_gaps: tuple[float, ...]
    """Room before each column, in points; that before the first is 0."""
    row_gaps: tuple[float, ...]
    least: Mapping[int, float] = {}
    """The least width of columns that need more than any panel does, in points."""

    @classmethod
    def even(cls, panels: Panels, gaps: tuple[float, float]) -> Grid:
        """As many columns and rows as panels need, all alike.

        Args:
            panels: What stands in them.
            gaps: Room between columns and between rows, in points.
        """
        columns, rows = max(panel.columns.stop for panel in panels), max(panel.rows.stop for panel in panels)
        across, down = gaps
        return cls((1.0,) * columns, (1.0,) * rows, (0.0, *(across,) * (columns - 1)), (0.0, *(down,) * (rows - 1)))


class AxisTitle(NamedTuple):
    """The title of an axis: of y above the first panel of a row, of x under the last row of panels."""

    axis: str
    text: str
    row: int
    """Above which it stands, or under which."""
    columns: range
    """Over which, or under which, it has room."""


class Span(NamedTuple):
    """An outer heading over several columns of panels, or beside several rows, behind a rule along them."""

    axis: str
    """x where it stands over columns, y beside rows."""
    text: str
    tracks: range
    """The columns, or rows, that belong to it."""
    depth: int
    """0 for the outermost one."""
    page: int = 0


class Field(NamedTuple):
    """Panels that show the same columns, of the same kinds and turned the same way."""

    number: int
    panels: Panels

    def keys(self, axis: str) -> tuple[AxisKey, ...]:
        """The keys of that name in its panels, each once."""
        return tuple(dict.fromkeys(panel.key(axis) for panel in self.panels))

    def standing(self, key: AxisKey) -> list[int]:
        """The numbers of its panels that stand on an axis."""
        return [panel.number for panel in self.panels if key in (panel.x, panel.y)]

    def sharing(self) -> list[list[int]]:
        """The numbers of panels in sets that share both axes: statistics over panels are those of one set."""
        sets: dict[tuple[AxisKey, AxisKey], list[int]] = {}
        for panel in self.panels:
            sets.setdefault((panel.x, panel.y), []).append(panel.number)
        return list(sets.values())


def columns_beside(count: int, per_row: int | None, width: float, theme: Theme) -> int:
    """How many panels stand side by side: as said, else so many as make the grid about square and have room for words.

    More stand side by side where they would fill more than a page so, as long as they are not too narrow.
    """
    count = max(count, 1)
    if per_row is not None:
        return min(per_row, count)
    size = theme.text_size
    most = max(1, int(width // (11 * size)))
    beside = min(most, count if count <= 3 else math.ceil(math.sqrt(count)))
    if count == 4 and beside == 3:
        beside = 2
    narrowest = max(beside, int(width // (_NARROWEST * size)))
    while beside < min(narrowest, count) and _rows_height(count, beside, width, size) > _PAGE:
        beside += 1
    return min(beside, count)


_NARROWEST = 4.5
"""The least width of panels where nothing is said, with the room beside them, in sizes of letters."""
_PAGE = 235 / 25.4 * 72
"""The height of a page for its panels, in points."""


def _rows_height(count: int, beside: int, width: float, size: float) -> float:
    """About how high rows of panels are, with their headings."""
    panel = (width - 4 * size) / beside - 1.5 * size
    return math.ceil(count / beside) * (max(0.7 * panel, 4 * size) + 4.2 * size)


class Place(NamedTuple):
    """Where a panel stands."""

    page: int
    row: int
    column: int


def grid_of(count: int, columns: int, sharing: Mapping[str, str] | None = None) -> Panels:
    """Panels row by row, so many side by side; for `sharing` see `panels_at`."""
    return panels_at([Place(0, *divmod(number, columns)) for number in range(max(count, 1))], sharing or {})


def panels_at(places: Sequence[Place], sharing: Mapping[str, str]) -> Panels:
    """Panels at rows and columns of a grid.

    Args:
        places: Where each of them stands.
        sharing: What has an axis of its own, for x and y: "panel", "row" or "column"; all share one where nothing is said.
    """
    rows = max(place.row for place in places) + 1

    def key(axis: str, number: int, place: Place) -> AxisKey:
        parts = {"panel": number, "row": place.page * rows + place.row, "column": place.column}
        return AxisKey(axis=axis, part=parts.get(sharing.get(axis, ""), 0))

    return tuple(
        Panel(
            number,
            key("x", number, place),
            key("y", number, place),
            range(place.row, place.row + 1),
            range(place.column, place.column + 1),
            page=place.page,
        )
        for number, place in enumerate(places)
    )


def outermost(panels: Panels) -> tuple[frozenset[int], frozenset[int], frozenset[int], frozenset[int]]:
    """The panels at the outer edge of each run that shares an axis: below, at the left, above and at the right.

    Labels stand there: below the lowest panel of each column that is there, and likewise on the other sides.
    """
    upright: dict[tuple[int, range, AxisKey], list[Panel]] = {}
    level: dict[tuple[int, range, AxisKey], list[Panel]] = {}
    for panel in panels:
        upright.setdefault((panel.page, panel.columns, panel.x), []).append(panel)
        level.setdefault((panel.page, panel.rows, panel.y), []).append(panel)
    below = frozenset(max(run, key=lambda panel: panel.rows.stop).number for run in upright.values())
    above = frozenset(min(run, key=lambda panel: panel.rows.start).number for run in upright.values())
    left = frozenset(min(run, key=lambda panel: panel.columns.start).number for run in level.values())
    right = frozenset(max(run, key=lambda panel: panel.columns.stop).number for run in level.values())
    return below, left, above, right
