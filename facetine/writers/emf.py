"""EMF, the enhanced metafile, for word processors and slides that keep it editable: text as text, paths, no opacity.

Source: [MS-EMF], Enhanced Metafile Format. Logical units are hundredths of a point.
"""

from __future__ import annotations

import io
import math
import struct
from collections.abc import Iterable
from contextlib import AbstractContextManager

import numpy as np

from facetine.scene.fonts import named
from facetine.scene.marks import (
    AnyArray,
    Bitmap,
    FloatArray,
    Glyphs,
    Gradient,
    Group,
    IntArray,
    Markers,
    MarkerStyle,
    Paths,
    Rects,
    Scene,
    Stroke,
    Text,
    Writer,
)
from facetine.scene.markup import clean
from facetine.scene.region import Region
from facetine.scene.shapes import OUTLINES
from facetine.writers.extents import file_of
from facetine.writers.formats import Format, Options, Written
from facetine.writers.opaque import Flat, FlatGroup, flattened

_UNITS = 100
_FARTHEST = 2.0**28
"""Units from the sheet's corner: lines that leave it run further than whole numbers of the format do."""
_HEADER, _POLYGON, _POLYLINE, _POLYPOLYLINE, _POLYPOLYGON = 1, 3, 4, 7, 8
_WINDOW_EXTENT, _WINDOW_ORIGIN, _VIEWPORT_EXTENT, _VIEWPORT_ORIGIN, _EOF = 9, 10, 11, 12, 14
_MAP_MODE, _BACKGROUND_MODE, _FILL_MODE, _TEXT_ALIGN, _TEXT_COLOR = 17, 18, 19, 22, 24
_CLIP_RECT, _SAVE, _RESTORE, _SELECT, _BRUSH, _ELLIPSE = 30, 33, 34, 37, 39, 42
_MITER_LIMIT = 58
_BITS, _FONT, _TEXT, _PEN = 81, 82, 84, 95
_NULL_BRUSH, _NULL_PEN = 0x80000005, 0x80000008
_BASELINE, _ANISOTROPIC, _TRANSPARENT, _ALTERNATE = 24, 8, 1, 1
_SOLID, _DASHED, _GEOMETRIC, _FLAT_CAP, _ROUND_CAP, _MITER, _ROUND_JOIN = 0, 7, 0x10000, 0x200, 0, 0x2000, 0
_COPY, _SOURCE_AND, _SOURCE_PAINT = 0x00CC0020, 0x008800C6, 0x00EE0086
_STRIPS = 96


def emf(scene: Scene, options: Options) -> Written:
    """A scene as an enhanced metafile."""
    flat = flattened(scene, options)
    writer = _Emf(scene)
    writer.start()
    if options.ground:
        writer.pens(None)
        writer.brush(scene.ground or "#ffffff")
        writer.rectangles(np.array([[0.0, 0.0, scene.width, scene.height]]))
    writer.draw(flat.root.items)
    families = sorted({named(run.face).key.family for text in scene.texts() for run in text.runs})
    note = f"the file names {', '.join(families)}, which a machine that opens it needs" if families else ""
    return Written(writer.document(scene), (*flat.notes, note) if note else flat.notes)


FORMAT = Format(
    "vectors for word processors and slides; no opacity",
    emf,
    takes=frozenset({"dpi"}),
    suits="word processors and slides that keep it editable",
    loses="opacity (blended; an image of layers of very many marks), groups, fonts (its reader needs them)",
)


class _Emf(Writer):
    """Collects records."""

    def __init__(self, scene: Scene) -> None:
        self.width, self.height = scene.width, scene.height
        self.records: list[bytes] = []
        self.count = 0
        self.handles: dict[bytes, int] = {}
        self.chosen: dict[str, object] = {}

    def record(self, kind: int, body: bytes = b"") -> None:
        """One record, filled up to a multiple of four bytes."""
        body += bytes(-len(body) % 4)
        self.records.append(struct.pack("<II", kind, len(body) + 8) + body)
        self.count += 1

    def start(self) -> None:
        """The units, and what holds for all marks."""
        wide, high = self._units(self.width), self._units(self.height)
        self.record(_MAP_MODE, struct.pack("<I", _ANISOTROPIC))
        self.record(_WINDOW_ORIGIN, struct.pack("<ii", 0, 0))
        self.record(_WINDOW_EXTENT, struct.pack("<ii", wide, high))
        self.record(_VIEWPORT_ORIGIN, struct.pack("<ii", 0, 0))
        self.record(_VIEWPORT_EXTENT, struct.pack("<ii", *self._pixels()))
        self.record(_BACKGROUND_MODE, struct.pack("<I", _TRANSPARENT))
        self.record(_TEXT_ALIGN, struct.pack("<I", _BASELINE))
        self.record(_MITER_LIMIT, struct.pack("<I", 10))

    def _pixels(self) -> tuple[int, int]:
        """The size on a device of 1,200 pixels an inch."""
        return round(self.width * 1200 / 72), round(self.height * 1200 / 72)

    @staticmethod
    def _units(points: float) -> int:
        return round(points * _UNITS)

    def document(self, scene: Scene) -> bytes:
        """The whole file."""
        self.record(_EOF, struct.pack("<III", 0, 16, 20))
        title = f"Facetine\0{clean(scene.title) or 'Figure'}\0\0".encode("utf-16-le")
        pixels = self._pixels()
        frame = round(self.width * 2540 / 72), round(self.height * 2540 / 72)
        size = 108 + len(title) + -len(title) % 4
        total = size + sum(map(len, self.records))
        head = struct.pack("<II", _HEADER, size)
        head += struct.pack("<4i", 0, 0, pixels[0] - 1, pixels[1] - 1) + struct.pack("<4i", 0, 0, *frame)
        head += struct.pack(
            "<4sIIIHHIII", b" EMF", 0x10000, total, self.count + 1, len(self.handles) + 1, 0, len(title) // 2, 108, 0
        )
        # A device of 10 inches and 1,200 pixels an inch, said in pixels, millimeters and micrometers.
        head += struct.pack("<2i2i", 12000, 12000, 254, 254) + struct.pack("<III", 0, 0, 0) + struct.pack("<2I", 254000, 254000)
        return head + title + bytes(-len(title) % 4) + b"".join(self.records)

    # What is painted with.

    def _made(self, kind: int, key: bytes, body: bytes) -> int:
        """The handle of a pen, brush or font; each is made once."""
        if key not in self.handles:
            self.handles[key] = len(self.handles) + 1
            self.record(kind, struct.pack("<I", self.handles[key]) + body)
        return self.handles[key]

    def _choose(self, what: str, handle: int) -> None:
        if self.chosen.get(what) != handle:
            self.chosen[what] = handle
            self.record(_SELECT, struct.pack("<I", handle))

    def brush(self, color: str | None) -> None:
        """What insides are filled with."""
        if color is None:
            self._choose("brush", _NULL_BRUSH)
            return
        body = struct.pack("<III", 0, _color(color), 0)
        self._choose("brush", self._made(_BRUSH, b"brush" + body, body))

    def pens(self, stroke: Stroke | None) -> None:
        """What lines are drawn with."""
        if stroke is None or stroke.width <= 0:
            self._choose("pen", _NULL_PEN)
            return
        round_ = stroke.cap == "round"
        style = _GEOMETRIC | (_DASHED if stroke.dash else _SOLID) | (_ROUND_CAP if round_ else _FLAT_CAP)
        style |= _ROUND_JOIN if round_ else _MITER
        dashes = [self._units(length) for length in stroke.dash]
        body = struct.pack("<IIII", 0, 0, 0, 0)
        body += struct.pack("<IIIIII", style, self._units(stroke.width) or 1, 0, _color(stroke.color), 0, len(dashes))
        body += struct.pack(f"<{len(dashes)}I", *dashes)
        self._choose("pen", self._made(_PEN, b"pen" + body, body))

    def _font(self, run: Glyphs, angle: float) -> None:
        key = named(run.face).key
        tenths = round(angle * 10)
        body = struct.pack("<iiiii4B4B", -self._units(run.size), 0, tenths, tenths, key.weight, key.italic, 0, 0, 1, 0, 0, 2, 0)
        body += key.family[:31].encode("utf-16-le").ljust(64, b"\0")
        # The extended form has room for names that readers do without.
        body = body.ljust(320, b"\0")
        self._choose("font", self._made(_FONT, b"font" + body, body))

    # Marks.

    def draw(self, items: Iterable[Flat]) -> None:
        """Marks and groups in their order."""
        for item in items:
            if isinstance(item, FlatGroup):
                self._group(item)
            else:
                item.on(self)

    def _group(self, flat: FlatGroup) -> None:
        if not flat.items:
            return
        clip = flat.group.clip
        before = dict(self.chosen)
        if clip is not None:
            self.record(_SAVE)
            self.record(_CLIP_RECT, struct.pack("<4i", *self._edges(clip.x, clip.y, clip.right, clip.bottom)))
        self.draw(flat.items)
        if clip is not None:
            self.record(_RESTORE, struct.pack("<i", -1))
            self.chosen = before

    def _edges(self, *points: float) -> tuple[int, ...]:
        return tuple(map(self._units, points))

    def group(self, group: Group) -> AbstractContextManager[None]:
        """Groups come as flat ones."""
        raise NotImplementedError(group.name)

    def markers(self, mark: Markers) -> None:
        """Each symbol a record, in drawing order; runs of one look are packed at once."""
        for start, end, number in _runs(mark.which, len(mark.at)):
            style = mark.styles[number]
            self.brush(style.fill)
            self.pens(Stroke(style.outline, style.line_width) if style.outline else None)
            self._symbols(mark.at[start:end], style)

    def _symbols(self, at: FloatArray, style: MarkerStyle) -> None:
        outline = OUTLINES[style.shape]
        if not outline.parts:
            corners = np.column_stack([at - style.radius, at + style.radius])
            self._packed(_ELLIPSE, corners, 4)
            return
        if len(outline.parts) > 1 and not outline.open:
            corners = np.concatenate([np.array(part) for part in outline.parts])
            points = (at[:, None, :] + corners[None] * style.radius).reshape(len(at), -1)
            self._packed_with_holes(points, [len(part) for part in outline.parts])
            return
        for part in outline.parts:
            points = (at[:, None, :] + np.array(part)[None] * style.radius).reshape(len(at), -1)
            self._packed_polygons(points, len(part), _POLYLINE if outline.open else _POLYGON)

    def _packed(self, kind: int, numbers: FloatArray, count: int) -> None:
        """Records of so many numbers each."""
        made = np.zeros(len(numbers), np.dtype([("head", "<u4", 2), ("body", "<i4", count)]))
        made["head"] = kind, 8 + 4 * count
        made["body"] = _in_units(numbers)
        self.records.append(made.tobytes())
        self.count += len(numbers)

    def _packed_polygons(self, numbers: FloatArray, corners: int, kind: int) -> None:
        """Polygons of the same number of corners, each a record."""
        made = np.zeros(
            len(numbers), np.dtype([("head", "<u4", 2), ("box", "<i4", 4), ("count", "<u4"), ("at", "<i4", 2 * corners)])
        )
        made["head"] = kind, made.dtype.itemsize
        rounded = _in_units(numbers)
        x, y = rounded[:, ::2], rounded[:, 1::2]
        made["box"] = np.column_stack([x.min(axis=1), y.min(axis=1), x.max(axis=1), y.max(axis=1)])
        made["count"] = corners
        made["at"] = rounded
        self.records.append(made.tobytes())
        self.count += len(numbers)

    def _packed_with_holes(self, numbers: FloatArray, corners: list[int]) -> None:
        """Several polygons each a record, of which those inside another one are left empty."""
        count = len(corners)
        made = np.zeros(
            len(numbers),
            np.dtype([("head", "<u4", 2), ("box", "<i4", 4), ("counts", "<u4", 2 + count), ("at", "<i4", 2 * sum(corners))]),
        )
        made["head"] = _POLYPOLYGON, made.dtype.itemsize
        rounded = _in_units(numbers)
        x, y = rounded[:, ::2], rounded[:, 1::2]
        made["box"] = np.column_stack([x.min(axis=1), y.min(axis=1), x.max(axis=1), y.max(axis=1)])
        made["counts"] = count, sum(corners), *corners
        made["at"] = rounded
        self.records.append(made.tobytes())
        self.count += len(numbers)

    def rects(self, mark: Rects) -> None:
        """Rectangles in their order."""
        for start, end, number in _runs(mark.which, len(mark.boxes)):
            self.pens(mark.outline)
            self.brush(mark.fills[number])
            self.rectangles(mark.boxes[start:end])

    def rectangles(self, boxes: FloatArray) -> None:
        """Rectangles in the brush and the pen that are chosen."""
        x, y, width, height = boxes.T
        corners = np.column_stack([x, y, x + width, y, x + width, y + height, x, y + height])
        self._packed_polygons(corners, 4, _POLYGON)

    def paths(self, mark: Paths) -> None:
        """All parts as one figure: filled by the even-odd rule, or as lines."""
        if not len(mark.points):
            return
        self.brush(mark.fill)
        self.pens(mark.stroke)
        self.record(_FILL_MODE, struct.pack("<I", _ALTERNATE))
        self._lines(mark.points, mark.starts, mark.closed or mark.fill is not None)

    def _lines(self, points: FloatArray, starts: IntArray, closed: bool) -> None:
        rounded = _in_units(points).astype("<i4")
        counts = np.diff(np.append(starts, len(points))).astype("<u4")
        box = np.concatenate([rounded.min(axis=0), rounded.max(axis=0)]).astype("<i4")
        body = box.tobytes() + struct.pack("<II", len(counts), len(rounded)) + counts.tobytes() + rounded.tobytes()
        self.record(_POLYPOLYGON if closed else _POLYPOLYLINE, body)

    def gradient(self, mark: Gradient) -> None:
        """Narrow strips: the format's own runs of colors are not drawn by all readers."""
        box, count = mark.box, _STRIPS
        shades = np.array([[int(color[i : i + 2], 16) for i in (1, 3, 5)] for color in mark.colors], float)
        places = np.linspace(0, len(shades) - 1, count)
        mixed = np.column_stack([np.interp(places, np.arange(len(shades)), shades[:, i]) for i in range(3)])
        self.pens(None)
        for number, channels in enumerate(np.rint(mixed).astype(int).tolist()):
            self.brush("#{:02x}{:02x}{:02x}".format(*channels))
            # Each reaches to the end, so that no seam shows between two.
            if mark.upright:
                part = [box.x, box.y, box.width, box.height * (1 - number / count)]
            else:
                part = [box.x + box.width * number / count, box.y, box.width * (1 - number / count), box.height]
            self.rectangles(np.array([part]))

    def bitmap(self, mark: Bitmap) -> None:
        """The picture's pixels, what is transparent laid over white; of a layer's picture, those that it has.

        These are cleared by a mask first, and the pixels then laid over what was cleared.
        """
        from PIL import Image

        with Image.open(io.BytesIO(file_of(mark))) as image:
            clear = image.convert("RGBA")
        pixels = np.asarray(Image.alpha_composite(Image.new("RGBA", clear.size, "#ffffff"), clear).convert("RGB"))
        if mark.pixels is None:
            self._pixels_at(mark.box, pixels, _COPY)
            return
        there = np.broadcast_to(mark.pixels[..., 3:] > 0, pixels.shape)
        self._pixels_at(mark.box, np.where(there, 0, 255).astype(np.uint8), _SOURCE_AND)
        self._pixels_at(mark.box, np.where(there, pixels, 0).astype(np.uint8), _SOURCE_PAINT)

    def _pixels_at(self, box: Region, pixels: AnyArray, how: int) -> None:
        """Pixels of shape (height, width, 3) in a box, put to what stands there by a raster operation."""
        height, width = pixels.shape[:2]
        row = np.zeros((height, width * 3 + -width * 3 % 4), np.uint8)
        row[:, : width * 3] = pixels[::-1, :, ::-1].reshape(height, -1)
        head = struct.pack("<IiiHHIIiiII", 40, width, height, 1, 24, 0, row.nbytes, 0, 0, 0, 0)
        edges = self._edges(box.x, box.y, box.right, box.bottom)
        body = struct.pack("<4i", *edges) + struct.pack("<6i", edges[0], edges[1], 0, 0, width, height)
        body += struct.pack("<IIIIII", 80, 40, 120, row.nbytes, 0, how)
        body += struct.pack("<ii", edges[2] - edges[0], edges[3] - edges[1])
        self.record(_BITS, body + head + row.tobytes())

    def text(self, mark: Text) -> None:
        """Each run a record of letters, with the way from each to the next one as shaping said."""
        if not mark.runs:
            return
        turn = math.radians(mark.angle)
        x = -mark.anchor * mark.width
        self.record(_TEXT_COLOR, struct.pack("<I", _color(mark.color)))
        for run in mark.standing:
            self._font(run, mark.angle)
            left = mark.x + x * math.cos(turn) - run.shift * math.sin(turn)
            base = mark.y - x * math.sin(turn) - run.shift * math.cos(turn)
            self._letters(run, left, base)
            x += run.width

    def _letters(self, run: Glyphs, left: float, base: float) -> None:
        letters = run.text.encode("utf-16-le")
        advances = self._advances(run, len(letters) // 2)
        offset = 76
        after = offset + len(letters) + -len(letters) % 4
        body = struct.pack("<4i", 0, 0, -1, -1) + struct.pack("<Iff", 1, 1.0, 1.0)
        body += struct.pack("<iiIII", self._units(left), self._units(base), len(letters) // 2, offset, 0)
        body += struct.pack("<4i", 0, 0, -1, -1) + struct.pack("<I", after)
        body += letters + bytes(-len(letters) % 4) + struct.pack(f"<{len(advances)}I", *advances)
        self.record(_TEXT, body)

    def _advances(self, run: Glyphs, count: int) -> list[int]:
        """The room of each letter, in units; letters of one glyph share it."""
        rooms = [0.0] * count
        starts = sorted(set(run.clusters))
        ends = dict(zip(starts, [*starts[1:], len(run.text)], strict=True))
        # Characters beyond the first plane are two units of the text.
        places = [0]
        for letter in run.text:
            places.append(places[-1] + (2 if ord(letter) > 0xFFFF else 1))
        for cluster, advance in zip(run.clusters, run.advances, strict=True):
            first, last = places[cluster], places[ends[cluster]]
            for place in range(first, last):
                rooms[place] += advance * run.size / 1000 / (last - first)
        edges = np.rint(np.cumsum([0.0, *rooms]) * _UNITS).astype(int)
        steps: list[int] = np.maximum(np.diff(edges), 0).tolist()
        return steps


def _runs(which: IntArray | None, count: int) -> list[tuple[int, int, int]]:
    """Neighbours of one look: first, behind the last, and which look it is."""
    if not count:
        return []
    if which is None:
        return [(0, count, 0)]
    starts = [0, *(np.flatnonzero(np.diff(which)) + 1).tolist()]
    return [(start, end, int(which[start])) for start, end in zip(starts, [*starts[1:], count], strict=True)]


def _color(color: str) -> int:
    """Blue, green and red in one number."""
    red, green, blue = (int(color[i : i + 2], 16) for i in (1, 3, 5))
    return blue << 16 | green << 8 | red


def _in_units(points: FloatArray) -> FloatArray:
    units: FloatArray = np.rint(points * _UNITS).clip(-_FARTHEST, _FARTHEST)
    return units
