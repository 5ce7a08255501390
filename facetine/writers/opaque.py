"""See-through marks as opaque ones, for formats that have no opacity: in the color that they have with what lies below.

A mark is drawn in its color over the ground, then what it shares with each mark below it in its color over that one, and so
on where these lie on others in turn: exact pieces, each an area of its own that any reader draws. Where there would be too
many of them, each mark has one color: that of its middle, with all that lies below it there. A layer of very many marks, or
one that is to be an image, becomes a picture that covers what its marks cover and nothing else: no other layer is part of it.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple, TypeAlias

import numpy as np

from facetine.scene.areas import Area, covered, filled, meeting, outline_key
from facetine.scene.marks import (
    Bitmap,
    BoolArray,
    FloatArray,
    Gradient,
    Group,
    IntArray,
    Mark,
    Markers,
    Paths,
    Rects,
    Scene,
    Text,
)
from facetine.scene.region import Region
from facetine.scene.shapes import OUTLINES
from facetine.writers.extents import box_of
from facetine.writers.formats import Options

_MOST_SHAPES = 2000
"""See-through marks of a layer that stay vectors, if nothing else is said, also where they lie on each other."""
_MOST_PIECES = 8000
_WHITE = "#ffffff"
Shaped: TypeAlias = "Markers | Rects | Paths"


Flat: TypeAlias = "Mark | FlatGroup"


@dataclass(frozen=True, slots=True)
class FlatGroup:
    """A group whose marks are all opaque."""

    group: Group
    items: tuple[Flat, ...]


class Flattened(NamedTuple):
    """What is drawn without any opacity, and what a reader should know of it."""

    root: FlatGroup
    notes: tuple[str, ...]


def flattened(scene: Scene, options: Options) -> Flattened:
    """A scene's marks without opacity.

    Args:
        scene: The drawing.
        options: Pixels an inch of what becomes an image.
    """
    work = _Work(scene, scene.ground or _WHITE, options.dpi)
    root = work.group(scene.root)
    notes = []
    if work.exact:
        notes.append("see-through marks are blended with what lies below them, since the format has no opacity")
    if work.rough:
        notes.append(
            "where very many see-through marks lie on each other, each has one color, as its middle has with all that lies "
            "below it; see-through lines and areas there, and what lies on an image, are blended with the ground"
        )
    if work.images:
        notes.append(
            f"the marks of {work.images} layer{'s' if work.images > 1 else ''} are an image of {options.dpi:g} dpi; all other "
            "layers, axes and texts are not; rasterize=False keeps all marks"
        )
    return Flattened(root, tuple(notes))


class _Shape(NamedTuple):
    """One shape of a mark, which covers what lies below or lets it through."""

    mark: Shaped
    box: tuple[float, float, float, float]
    """Left, top, right, bottom."""
    radius: float
    """Of a disc; 0 for any other shape."""
    color: str
    opacity: float
    stroked: bool
    bordering: bool = False
    """Whether it is the border of the shape before it, whose inside does not show through it."""


@dataclass(slots=True)
class _Work:
    """A scene on its way."""

    scene: Scene
    ground: str
    dpi: float
    exact: bool = False
    rough: bool = False
    images: int = 0

    def group(self, group: Group) -> FlatGroup:
        """A group with what it holds; marks of a panel are looked at together."""
        sheet, own = self.ground, _ground_of(group)
        self.ground = sheet if own is None else own.fills[0]
        try:
            return self._panel(group, own) if group.kind == "panel" and _see_through(group) else self._parts(group)
        finally:
            self.ground = sheet

    def _parts(self, group: Group) -> FlatGroup:
        items: list[Flat] = []
        for item in group.items:
            if isinstance(item, Group):
                items.append(self.group(item))
            else:
                items += self._on_ground(item)
        return FlatGroup(group, tuple(items))

    def _on_ground(self, mark: Mark) -> list[Flat]:
        """A mark over the ground alone."""
        if not _see_through(mark):
            return [mark]
        self.exact = True
        return [_blended(mark, self.ground)]

    def _panel(self, group: Group, ground: Rects | None) -> FlatGroup:
        pictured = [layer for layer in _layers(group) if _becomes_picture(layer)]
        group = self._with_pictures(group, pictured) if pictured else group
        marks = [mark for mark in _marks(group) if not isinstance(mark, Text) and mark is not ground]
        clear = [number for number, mark in enumerate(marks) if _see_through(mark) and not isinstance(mark, Bitmap)]
        if not clear:
            return self._parts(group)
        below = [mark for mark in marks[: clear[-1] + 1] if isinstance(mark, Markers | Rects | Paths)]
        pieces = self._pieces(below)
        self.exact = True
        # What lies on a picture, or on a run of colors, can't be blended with it.
        self.rough |= pieces is None or any(isinstance(mark, Bitmap | Gradient) for mark in marks[: clear[-1]])
        middles = self._by_middles(below) if pieces is None else {}
        return FlatGroup(group, tuple(self._exact(group.items, pieces or {}, middles)))

    def _exact(self, items: Iterable[Mark | Group], pieces: dict[int, list[Paths]], middles: dict[int, Shaped]) -> list[Flat]:
        done: list[Flat] = []
        for item in items:
            if isinstance(item, Group):
                done.append(FlatGroup(item, tuple(self._exact(item.items, pieces, middles))))
            elif isinstance(item, Bitmap):
                done.append(item)
            else:
                done.append(middles.get(id(item)) or _blended(item, self.ground))
                done += pieces.get(id(item), [])
        return done

    def _by_middles(self, marks: Sequence[Shaped]) -> dict[int, Shaped]:
        """Markers and rectangles in the colors that their middles have with all that lies below them there, by mark."""
        lying = [mark for mark in marks if isinstance(mark, Markers | Rects)]
        bodies = {id(mark): [shape for shape in _shapes(mark) if not shape.bordering] for mark in lying}
        shapes = [shape for mark in lying for shape in bodies[id(mark)]]
        boxes = np.array([shape.box for shape in shapes]).reshape(-1, 4)
        middles = (boxes[:, :2] + boxes[:, 2:]) / 2
        radii = np.array([shape.radius for shape in shapes])
        colors: list[str] = []
        for number, shape in enumerate(shapes):
            at, before = middles[number], boxes[:number]
            held = (before[:, :2] <= at).all(axis=1) & (before[:, 2:] >= at).all(axis=1)
            away = np.hypot(*(middles[:number] - at).T)
            held &= (radii[:number] == 0) | (away <= radii[:number])
            color = self.ground
            for place in np.flatnonzero(held).tolist():
                color = _mixed(shapes[place].color, color, shapes[place].opacity)
            colors.append(_mixed(shape.color, color, shape.opacity))
        made: dict[int, Shaped] = {}
        start = 0
        for mark in lying:
            count = len(bodies[id(mark)])
            if _see_through(mark) and count == _count(mark):
                made[id(mark)] = _colored(mark, colors[start : start + count], self.ground)
            start += count
        return made

    def _pieces(self, marks: Sequence[Shaped]) -> dict[int, list[Paths]] | None:
        """What marks share with those below, in the color that is seen there, by mark; None where there is too much of it."""
        shapes = [shape for mark in marks for shape in _shapes(mark)]
        owners = [id(mark) for mark in marks for _ in _shapes(mark)]
        boxes = np.array([shape.box for shape in shapes]).reshape(-1, 4)
        seen: dict[int, list[_Seen]] = {}
        pieces: dict[int, list[Paths]] = {}
        count = 0
        for number in np.flatnonzero([shape.opacity < 1 for shape in shapes]).tolist():
            own, over = shapes[number], _below(shapes, boxes, number, np.arange(number)).tolist()
            mine = [self._alone(own)]
            # Each piece of the marks below, in the order in which they were drawn.
            seen.update({place: [self._alone(shapes[place])] for place in over if place not in seen})
            below = _last_of_each(part for place in over for part in seen[place])
            for place, area in meeting(mine[0].area, [part.area for part in below]):
                mine.append(_Seen(_mixed(own.color, below[place].color, own.opacity), area, outline_key(area)))
            shared = _last_of_each(mine[1:])
            seen[number] = _last_of_each(mine)
            count += len(shared)
            if count > _MOST_PIECES:
                return None
            if shared:
                pieces.setdefault(owners[number], []).extend(filled(part.area, part.color) for part in shared)
        return pieces

    def _alone(self, shape: _Shape) -> _Seen:
        """A shape as it looks over the ground."""
        area = covered(shape.mark, shape.stroked)
        return _Seen(_mixed(shape.color, self.ground, shape.opacity), area, outline_key(area))

    def _with_pictures(self, group: Group, layers: Sequence[Group]) -> Group:
        """The panel with pictures in the place of the marks of some layers, over all that lies below them."""
        from facetine.writers.raster import clear_picture, picture_of

        for layer in layers:
            hidden = {id(mark) for mark in _marks(layer) if not isinstance(mark, Text)}
            order = [id(mark) for mark in _marks(group) if not isinstance(mark, Text)]
            last = max(place for place, mark in enumerate(order) if mark in hidden)
            region = _covered(group, hidden).within(Region(0.0, 0.0, self.scene.width, self.scene.height))
            if region.width <= 0 or region.height <= 0:
                continue
            self.images += 1

            def drawn(marks: set[int], group: Group = group) -> Scene:
                return self.scene._replace(root=Group("figure", "Figure", (_only(group, marks),)), page=None)

            # The layer alone says where it covers anything, and all up to it in which colors.
            cover = clear_picture(drawn(hidden), region, self.dpi)
            colors = picture_of(drawn(set(order[: last + 1])), region, self.dpi)
            group = _exchanged(group, layer, hidden, _masked(colors, cover))
        return group


class _Seen(NamedTuple):
    """A part of a mark as it looks: where it lies on others, or where it lies on the ground."""

    color: str
    area: Area
    outline: bytes
    """Equal where the outlines are."""


def _last_of_each(parts: Iterable[_Seen]) -> list[_Seen]:
    """Parts without those that one of the same outline hides: marks of one place would double their parts with each of them."""
    last: dict[bytes, _Seen] = {}
    for part in parts:
        last.pop(part.outline, None)
        last[part.outline] = part
    return list(last.values())


def _layers(group: Group) -> list[Group]:
    """The layers of a panel."""
    found: list[Group] = []
    for item in group.items:
        if isinstance(item, Group):
            found += [item] if item.kind == "layer" else _layers(item)
    return found


def _becomes_picture(layer: Group) -> bool:
    """Whether a layer is an image already, or has so many see-through marks that it becomes one."""
    marks = _marks(layer)
    if any(isinstance(mark, Bitmap) and mark.pixels is not None for mark in marks):
        return True
    if layer.raster is False:
        return False
    return sum(_count(mark) for mark in marks if _see_through(mark)) > _MOST_SHAPES


def _masked(colors: Bitmap, cover: Bitmap) -> Bitmap:
    """A picture that is opaque where another one has anything, and nothing elsewhere; both begin at the same pixel."""
    from PIL import Image

    assert cover.pixels is not None
    with Image.open(io.BytesIO(colors.content)) as image:
        shown = np.asarray(image.convert("RGB"))
    height, width = min(len(shown), len(cover.pixels)), min(shown.shape[1], cover.pixels.shape[1])
    there = np.where(cover.pixels[:height, :width, 3:] > 0, 255, 0).astype(np.uint8)
    pixels = np.concatenate([shown[:height, :width], there], axis=2)
    across, down = colors.box.width / colors.width, colors.box.height / colors.height
    box = Region(colors.box.x, colors.box.y, width * across, height * down)
    return Bitmap(box, b"", "png", width, height, pixels)


def _exchanged(group: Group, layer: Group, hidden: set[int], picture: Bitmap) -> Group:
    """A group in which a layer's marks are a picture; its texts stand over it."""
    items: list[Mark | Group] = []
    for item in group.items:
        if item is layer:
            kept = _without(layer, hidden)
            texts = kept.items if isinstance(kept, Group) else ()
            items.append(layer._replace(items=(picture, *texts)))
        else:
            items.append(_exchanged(item, layer, hidden, picture) if isinstance(item, Group) else item)
    return group._replace(items=tuple(items))


def _ground_of(group: Group) -> Rects | None:
    """What lies behind all marks of a panel, or of a figure on a plate; None where that is the sheet."""
    grounds = (item for item in group.items if isinstance(item, Group) and item.kind == "ground")
    return next((mark for ground in grounds for mark in ground.items if isinstance(mark, Rects)), None)


def _marks(group: Group) -> list[Mark]:
    """All marks inside, in drawing order."""
    return [mark for item in group.items for mark in (_marks(item) if isinstance(item, Group) else [item])]


def _see_through(item: Mark | Group) -> bool:
    if isinstance(item, Group):
        return any(map(_see_through, item.items))
    if isinstance(item, Markers | Rects):
        outline = item.outline if isinstance(item, Rects) else None
        return item.opacity < 1 or (outline is not None and outline.opacity < 1)
    if isinstance(item, Bitmap):
        return item.pixels is not None and bool(((item.pixels[..., 3] > 0) & (item.pixels[..., 3] < 255)).any())
    if isinstance(item, Paths):
        return (item.fill is not None and item.opacity < 1) or (item.stroke is not None and item.stroke.opacity < 1)
    return False


def _mixed(color: str, below: str, opacity: float) -> str:
    """A color over another one, as the compositing of PDF and SVG does it."""
    channels = ((int(color[i : i + 2], 16), int(below[i : i + 2], 16)) for i in (1, 3, 5))
    return "#" + "".join(f"{math.floor(top * opacity + low * (1 - opacity) + 0.5):02x}" for top, low in channels)


def _blended(mark: Mark, ground: str) -> Mark:
    """A mark as it looks over the ground."""
    if not _see_through(mark):
        return mark
    if isinstance(mark, Markers):
        styles = tuple(
            style._replace(
                fill=style.fill and _mixed(style.fill, ground, mark.opacity),
                outline=style.outline and _mixed(style.outline, ground, mark.opacity),
            )
            for style in mark.styles
        )
        return mark._replace(styles=styles, opacity=1.0)
    if isinstance(mark, Rects):
        line = mark.outline
        outline = None if line is None else line._replace(color=_mixed(line.color, ground, mark.opacity), opacity=1.0)
        return mark._replace(fills=tuple(_mixed(fill, ground, mark.opacity) for fill in mark.fills), outline=outline, opacity=1.0)
    assert isinstance(mark, Paths)
    line = mark.stroke
    stroke = None if line is None else line._replace(color=_mixed(line.color, ground, line.opacity), opacity=1.0)
    fill = None if mark.fill is None else _mixed(mark.fill, ground, mark.opacity)
    return mark._replace(fill=fill, stroke=stroke, opacity=1.0)


def _colored(mark: Markers | Rects, colors: Sequence[str], ground: str) -> Markers | Rects:
    """A mark with a color for each of its shapes; borders as over the ground."""
    blended = _blended(mark, ground)
    which = np.zeros(_count(mark), np.int64) if mark.which is None else mark.which
    if isinstance(mark, Rects):
        assert isinstance(blended, Rects)
        fills = tuple(dict.fromkeys(colors))
        numbers = {color: number for number, color in enumerate(fills)}
        return blended._replace(fills=fills, which=np.array([numbers[color] for color in colors]))
    assert isinstance(blended, Markers)
    pairs = list(zip(which.tolist(), colors, strict=True))
    every = {pair: number for number, pair in enumerate(dict.fromkeys(pairs))}
    styles = tuple(
        style._replace(outline=color) if style.fill is None else style._replace(fill=color)
        for style, color in ((blended.styles[number], color) for number, color in every)
    )
    return blended._replace(styles=styles, which=np.array([every[pair] for pair in pairs]))


def _count(mark: Mark) -> int:
    if isinstance(mark, Markers):
        return len(mark.at)
    return len(mark.boxes) if isinstance(mark, Rects) else 1


def _shapes(mark: Mark) -> list[_Shape]:
    """A mark's shapes one by one, each its inside and its line."""
    if isinstance(mark, Markers):
        return _of_markers(mark)
    if isinstance(mark, Rects):
        return _of_rects(mark)
    if not isinstance(mark, Paths) or not len(mark.points):
        return []
    made = []
    low, high = mark.points.min(axis=0).tolist(), mark.points.max(axis=0).tolist()
    if mark.fill is not None:
        made.append(_Shape(mark, (*low, *high), 0.0, mark.fill, mark.opacity, False))
    if mark.stroke is not None:
        made += _of_lines(mark)
    return made


def _of_markers(mark: Markers) -> list[_Shape]:
    made = []
    which = np.zeros(len(mark.at), np.int64) if mark.which is None else mark.which
    for place, (at, number) in enumerate(zip(mark.at.tolist(), which.tolist(), strict=True)):
        style = mark.styles[number]
        one = mark._replace(at=mark.at[place : place + 1], styles=(style,), which=None, rows=None)
        outline = OUTLINES[style.shape]
        round_ = not outline.parts
        reach = style.radius * (1.0 if round_ else max(abs(value) for part in outline.parts for point in part for value in point))
        for color, stroked, wide in ((style.fill, False, 0.0), (style.outline, True, 1.1 * style.line_width)):
            if color is not None:
                far = reach + wide
                box = (at[0] - far, at[1] - far, at[0] + far, at[1] + far)
                bordering = stroked and style.fill is not None
                made.append(_Shape(one, box, far if round_ else 0.0, color, mark.opacity, stroked, bordering))
    return made


def _of_rects(mark: Rects) -> list[_Shape]:
    made = []
    which = np.zeros(len(mark.boxes), np.int64) if mark.which is None else mark.which
    for place, (box, number) in enumerate(zip(mark.boxes.tolist(), which.tolist(), strict=True)):
        fill = mark.fills[number]
        one = mark._replace(boxes=mark.boxes[place : place + 1], fills=(fill,), which=None, outline=None, rows=None)
        x, y, width, height = box
        made.append(_Shape(one, (x, y, x + width, y + height), 0.0, fill, mark.opacity, False))
        line = mark.outline
        if line is not None:
            corners = np.array([[x, y], [x + width, y], [x + width, y + height], [x, y + height]])
            frame = Paths(corners, np.array([0]), line, closed=True)
            half = line.width / 2
            around = (x - half, y - half, x + width + half, y + height + half)
            made.append(_Shape(frame, around, 0.0, line.color, mark.opacity, True, bordering=True))
    return made


def _of_lines(mark: Paths) -> list[_Shape]:
    """The lines of a path; opaque ones part by part, since they cover only what lies under each."""
    stroke = mark.stroke
    assert stroke is not None
    half = stroke.width / 2
    ends = [*mark.starts.tolist()[1:], len(mark.points)]
    spans = list(zip(mark.starts.tolist(), ends, strict=True)) if stroke.opacity >= 1 else [(0, len(mark.points))]
    made = []
    for start, end in spans:
        points = mark.points[start:end]
        starts = mark.starts if len(spans) == 1 else np.array([0])
        low, high = points.min(axis=0) - half, points.max(axis=0) + half
        one = mark._replace(points=points, starts=starts, fill=None, rows=None)
        made.append(_Shape(one, (*low.tolist(), *high.tolist()), 0.0, stroke.color, stroke.opacity, True))
    return made


def _below(shapes: list[_Shape], boxes: FloatArray, number: int, among: IntArray) -> IntArray:
    """Which of some shapes show through one, if it is see-through: those on which it lies, but not the inside it borders."""
    return _overlapping(shapes, boxes, number, among[among != number - 1] if shapes[number].bordering else among)


def _overlapping(shapes: list[_Shape], boxes: FloatArray, number: int, among: IntArray) -> IntArray:
    """Which of some shapes lie on one; discs by their distance, others by their bounding boxes."""
    own, others = boxes[number], boxes[among]
    least = 1e-6
    hit: BoolArray = (
        (others[:, 0] < own[2] - least)
        & (others[:, 2] > own[0] + least)
        & (others[:, 1] < own[3] - least)
        & (others[:, 3] > own[1] + least)
    )
    found: IntArray = among[hit]
    if not shapes[number].radius:
        return found
    middle = (own[:2] + own[2:]) / 2
    radii = np.array([shapes[place].radius for place in found.tolist()])
    distance = np.hypot(*((boxes[found][:, :2] + boxes[found][:, 2:]) / 2 - middle).T) if len(found) else radii
    near: IntArray = found[(radii == 0) | (distance < radii + shapes[number].radius)]
    return near


def _covered(group: Group, marks: set[int]) -> Region:
    """What some marks of a group cover, as far as they are not cut off."""
    regions: list[Region] = []

    def walk(inner: Group, clip: Region | None) -> None:
        clip = inner.clip if clip is None else clip if inner.clip is None else clip.within(inner.clip)
        for item in inner.items:
            if isinstance(item, Group):
                walk(item, clip)
            elif id(item) in marks:
                box = box_of(item)
                regions.append(box if clip is None else box.within(clip))

    walk(group, None)
    left, top = min(box.x for box in regions), min(box.y for box in regions)
    right, bottom = max(box.right for box in regions), max(box.bottom for box in regions)
    return Region(left, top, right - left, bottom - top)


def _only(group: Group, marks: set[int]) -> Group:
    """A group with some of its marks alone."""
    items = [_only(item, marks) if isinstance(item, Group) else item for item in group.items]
    return group._replace(items=tuple(item for item in items if isinstance(item, Group) or id(item) in marks))


def _without(item: Mark | Group, marks: set[int]) -> Mark | Group | None:
    """The same without some marks; None where nothing is left, the same object where nothing was taken."""
    if not isinstance(item, Group):
        return None if id(item) in marks else item
    kept = [_without(inner, marks) for inner in item.items]
    if len(kept) == len(item.items) and all(one is other for one, other in zip(kept, item.items, strict=True)):
        return item
    left = tuple(one for one in kept if one is not None)
    return item._replace(items=left) if left else None
