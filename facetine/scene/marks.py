"""Marks in batches: arrays of places with a few looks, in points from the top left of the sheet."""

from __future__ import annotations

from contextlib import AbstractContextManager
from typing import Literal, NamedTuple, Protocol, TypeAlias

import numpy as np

from facetine.core.arrays import AnyArray as AnyArray
from facetine.core.arrays import BoolArray as BoolArray
from facetine.core.arrays import FloatArray as FloatArray
from facetine.core.arrays import IntArray as IntArray
from facetine.scene.direction import visual
from facetine.scene.fonts import named
from facetine.scene.region import Region

Color: TypeAlias = str
"""#rrggbb in lower case."""


class Stroke(NamedTuple):
    """The look of a line."""

    color: Color
    width: float
    dash: tuple[float, ...] = ()
    """Lengths of strokes and gaps in points; empty for an unbroken line."""
    opacity: float = 1.0
    cap: str = "butt"
    """butt or round."""


class MarkerStyle(NamedTuple):
    """The look of one kind of marker."""

    shape: str
    radius: float
    fill: Color | None
    outline: Color | None = None
    line_width: float = 0.0


class Markers(NamedTuple):
    """Many small symbols: each a place and one of a few styles."""

    at: FloatArray
    """Shape (n, 2): centers."""
    styles: tuple[MarkerStyle, ...]
    which: IntArray | None = None
    """Shape (n,): position of each marker's style; None where all have the first."""
    opacity: float = 1.0
    rows: IntArray | None = None
    """Shape (n,): the row of its layer's table that each marker shows; None for guides. Writers pass over it."""

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer."""
        writer.markers(self)

    def transposed(self) -> Markers:
        """The same with x and y exchanged."""
        return self._replace(at=self.at[:, ::-1])

    def faded(self, opacity: float) -> Markers:
        """The same, let through by as much."""
        return self._replace(opacity=self.opacity * opacity)


class Rects(NamedTuple):
    """Many upright rectangles: bars, bins, cells."""

    boxes: FloatArray
    """Shape (n, 4): x, y, width, height."""
    fills: tuple[Color, ...]
    which: IntArray | None = None
    """Shape (n,): position of each rectangle's fill; None where all have the first."""
    outline: Stroke | None = None
    opacity: float = 1.0
    rows: IntArray | None = None
    """Shape (n,): the row of its layer's table that each rectangle shows; None for guides."""

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer."""
        writer.rects(self)

    def transposed(self) -> Rects:
        """The same with x and y exchanged."""
        return self._replace(boxes=self.boxes[:, [1, 0, 3, 2]])

    def faded(self, opacity: float) -> Rects:
        """The same, let through by as much."""
        return self._replace(opacity=self.opacity * opacity)


class Paths(NamedTuple):
    """Polylines or polygons of one look."""

    points: FloatArray
    """Shape (m, 2): the vertices of all parts, one part after the other."""
    starts: IntArray
    """Shape (k,): where each part begins in `points`; increasing, the first is 0."""
    stroke: Stroke | None = None
    fill: Color | None = None
    opacity: float = 1.0
    """Of the fill."""
    closed: bool = False
    rows: IntArray | None = None
    """Shape (m,): the row of its layer's table that each vertex shows; None for guides."""

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer."""
        writer.paths(self)

    def transposed(self) -> Paths:
        """The same with x and y exchanged."""
        return self._replace(points=self.points[:, ::-1])

    def faded(self, opacity: float) -> Paths:
        """The same, let through by as much."""
        stroke = self.stroke._replace(opacity=self.stroke.opacity * opacity) if self.stroke is not None else None
        return self._replace(opacity=self.opacity * opacity, stroke=stroke)


class Gradient(NamedTuple):
    """A rectangle whose color runs from one end to the other: a color bar."""

    box: Region
    colors: tuple[Color, ...]
    """At even distances, from the left, or from the bottom where it is upright."""
    upright: bool = False

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer."""
        writer.gradient(self)

    def transposed(self) -> Gradient:
        """The same with x and y exchanged."""
        box = self.box
        return self._replace(box=Region(box.y, box.x, box.height, box.width), upright=not self.upright)

    def faded(self, opacity: float) -> Gradient:  # noqa: ARG002
        """As it is: a color bar shows its colors in full."""
        return self


class Bitmap(NamedTuple):
    """A picture made of pixels, in its own file format."""

    box: Region
    content: bytes
    sort: str
    """png or jpeg."""
    width: int
    """In pixels."""
    height: int
    pixels: AnyArray | None = None
    """Shape (height, width, 4): red, green, blue and opacity in eight bits, for a picture that has no file yet."""

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer."""
        writer.bitmap(self)

    def transposed(self) -> Bitmap:
        """As it is: a picture is not turned."""
        return self

    def faded(self, opacity: float) -> Bitmap:  # noqa: ARG002
        """As it is."""
        return self


class Glyphs(NamedTuple):
    """Shaped text of one face and size."""

    face: str
    """Key of the face in the font catalog."""
    size: float
    text: str
    ids: tuple[int, ...]
    """Glyph numbers in visual order."""
    advances: tuple[float, ...]
    """In thousandths of the size."""
    clusters: tuple[int, ...]
    """The character at which each glyph's text begins."""
    shift: float = 0.0
    """How far it stands above the baseline, in points."""
    level: int = 0
    """Of the bidirectional order; odd where the text runs from right to left."""
    right_to_left: bool = False
    """Whether the paragraph that it belongs to runs from right to left."""
    offsets: tuple[tuple[float, float], ...] = ()
    """How far each glyph stands to the right of and above its place, in thousandths of the size; empty where none does."""

    @property
    def width(self) -> float:
        """In points."""
        return sum(self.advances) * self.size / 1000.0


class Below(Protocol):
    """What is drawn below a text, to set it off."""

    def below(self, text: Text) -> Paths | None:
        """The mark; None for a text without ink."""


class Text(NamedTuple):
    """One line of text."""

    runs: tuple[Glyphs, ...]
    """In the order of the text; `standing` gives that on the sheet."""
    x: float
    y: float
    """The baseline."""
    color: Color
    anchor: float = 0.0
    """Which point of the line lies at x: 0 its start, 0.5 its middle, 1 its end."""
    angle: float = 0.0
    """Degrees, counter-clockwise, about (x, y)."""
    role: str = ""
    """What the text is, such as "title" or "tick", for tests and checks."""
    row: int | None = None
    """The row of its layer's table that it is about; None for guides."""
    halo: Below | None = None
    about: tuple[float, float] | None = None
    """The place that it tells of, which it stands beside; NaN along an axis on which that has none; None for guides."""

    @property
    def width(self) -> float:
        """In points."""
        return self.runs[0].width if len(self.runs) == 1 else sum(run.width for run in self.runs)

    @property
    def standing(self) -> tuple[Glyphs, ...]:
        """The runs as they stand from left to right."""
        if len(self.runs) == 1 or not any(run.level for run in self.runs):
            return self.runs
        return tuple(visual(self.runs, [run.level for run in self.runs]))

    @property
    def content(self) -> str:
        """The characters."""
        return "".join(run.text for run in self.runs)

    @property
    def box(self) -> Region:
        """What the line covers, turned text by its bounding rectangle; from the top of capitals to the descent."""
        measures = [(run.size, run.shift, named(run.face).measures) for run in self.runs]
        # Round letters reach a little over the height of the flat ones.
        up = max((shift + (of.cap + 0.02) * size for size, shift, of in measures), default=0.0)
        down = max((of.descent * size - shift for size, shift, of in measures), default=0.0)
        width = self.width
        left = -self.anchor * width
        if not self.angle:
            return Region(self.x + left, self.y - up, width, up + down)
        corners = np.array([[left, -up], [left + width, -up], [left + width, down], [left, down]])
        turn = np.deg2rad(self.angle)
        turned = corners @ np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
        low, high = turned.min(axis=0), turned.max(axis=0)
        return Region(self.x + low[0], self.y + low[1], high[0] - low[0], high[1] - low[1])

    def on(self, writer: Writer) -> None:
        """Draws itself on a writer, over its halo."""
        if self.halo is not None:
            below = self.halo.below(self)
            if below is not None:
                below.on(writer)
        writer.text(self)

    def transposed(self) -> Text:
        """The same with x and y exchanged; it stays level."""
        return self._replace(x=self.y, y=self.x)

    def faded(self, opacity: float) -> Text:  # noqa: ARG002
        """As it is: text is always read in full."""
        return self


Mark: TypeAlias = Markers | Rects | Paths | Gradient | Bitmap | Text


GroupKind = Literal[
    "figure", "panel", "layer", "category", "values", "names", "axis", "ground", "frame", "hairlines", "heading", "title",
    "legend", "entry", "part",
]  # fmt: skip
"""What a group holds."""


class Group(NamedTuple):
    """Marks that belong together under a name, so that they can be picked in a vector editor."""

    name: str
    """Short and made of letters, digits and dashes: the id."""
    title: str
    """In words."""
    items: tuple[Mark | Group, ...] = ()
    clip: Region | None = None
    kind: GroupKind = "part"
    panel: int | None = None
    """The number of the panel that it stands in."""
    layer: int | None = None
    """The number of the layer whose marks it holds."""
    raster: bool | float | str | None = None
    """Whether a layer is to be an image in vector files: "auto", or pixels an inch; None where it says nothing."""
    member: int | None = None
    """The number of the figure, among all on the sheet, whose panel it is or stands in."""

    @property
    def asks_for_pixels(self) -> bool:
        """Whether a layer inside says that it is to be an image."""
        return bool(self.raster) or any(item.asks_for_pixels for item in self.items if isinstance(item, Group))

    def on(self, writer: Writer) -> None:
        """Draws what it holds on a writer, as a group; nothing where it is empty."""
        if self.items:
            with writer.group(self):
                for item in self.items:
                    item.on(writer)


class Page(NamedTuple):
    """The page on which a drawing stands."""

    width: float
    """In points."""
    height: float
    x: float
    """Of the drawing's left edge, from that of the page."""
    y: float
    """Of its upper edge, from that of the page."""
    cropped: bool = False
    """Whether crop marks stand around it."""


class Scene(NamedTuple):
    """A whole drawing at its physical size."""

    width: float
    """In points."""
    height: float
    ground: Color | None
    """The color of the sheet; None for a transparent one."""
    root: Group
    title: str = ""
    description: str = ""
    keywords: tuple[str, ...] = ()
    """What it is about: the titles of its columns."""
    page: Page | None = None
    """The page on which it stands; None where the sheet is as large as the drawing."""

    @property
    def sheet(self) -> tuple[float, float]:
        """Width and height of the file."""
        return (self.width, self.height) if self.page is None else self.page[:2]

    def texts(self) -> list[Text]:
        """All lines of text, in drawing order."""
        found: list[Text] = []
        stack: list[Mark | Group] = [self.root]
        while stack:
            item = stack.pop()
            if isinstance(item, Group):
                stack.extend(reversed(item.items))
            elif isinstance(item, Text):
                found.append(item)
        return found


class Writer:
    """Turns marks into the bytes of one format. Marks come in batches; a writer never looks at data.

    Every format is a class under this one, with a method for each kind of mark. One that it lacks says so by its name.
    """

    def markers(self, mark: Markers) -> None:
        """Symbols of a few styles."""
        raise self._lacks("markers", mark)

    def rects(self, mark: Rects) -> None:
        """Upright rectangles of a few fills."""
        raise self._lacks("rects", mark)

    def paths(self, mark: Paths) -> None:
        """Polylines or polygons of one look."""
        raise self._lacks("paths", mark)

    def gradient(self, mark: Gradient) -> None:
        """A run of colors."""
        raise self._lacks("gradient", mark)

    def bitmap(self, mark: Bitmap) -> None:
        """A picture made of pixels."""
        raise self._lacks("bitmap", mark)

    def text(self, mark: Text) -> None:
        """A line of text."""
        raise self._lacks("text", mark)

    def group(self, group: Group) -> AbstractContextManager[None]:
        """Everything written inside belongs to the group."""
        raise self._lacks("group", group)

    def _lacks(self, method: str, given: Mark | Group) -> NotImplementedError:
        return NotImplementedError(f"{type(self).__name__} has no method {method}(…) for {type(given).__name__}")


def segments(ends: FloatArray, stroke: Stroke, rows: IntArray | None = None) -> Paths:
    """Separate straight lines of one look.

    Args:
        ends: Shape (n, 4): x, y of the start, x, y of the end.
        stroke: Their look.
        rows: Shape (n,): the row that each shows; None for guides.
    """
    return Paths(
        ends.reshape(-1, 2),
        np.arange(0, 2 * len(ends), 2),
        stroke,
        rows=None if rows is None else np.repeat(rows, 2),
    )
