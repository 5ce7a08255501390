"""Layers of very many marks as images inside vector files; axes and texts stay vectors."""

from __future__ import annotations

import math

from facetine.scene.marks import Group, Mark, Markers, Paths, Rects, Scene, Text
from facetine.scene.pixels import can_draw
from facetine.scene.region import Region
from facetine.writers.extents import box_of
from facetine.writers.formats import Rasterize
from facetine.writers.pixel_grid import MANY, Grid, pictured


def mixed(scene: Scene, rasterize: Rasterize, dpi: float, *, most: int = MANY, lines: float = 1.0) -> tuple[Scene, int]:
    """A scene in which some layers are images, and how many.

    Args:
        scene: The drawing.
        rasterize: For layers that say nothing themselves: "auto" for those of many marks, True or pixels an inch for all.
        dpi: Pixels an inch where nothing else is said.
        most: How many marks a layer has at most that "auto" leaves as they are.
        lines: How much a place along a line counts among them.
    """
    if rasterize is False and not scene.root.asks_for_pixels:
        return scene, 0
    work = _Work(scene, rasterize, dpi, most, lines)
    root = work.group(scene.root)
    return (scene._replace(root=root), work.count) if work.count else (scene, 0)


class _Work:
    def __init__(self, scene: Scene, rasterize: Rasterize, dpi: float, most: int, lines: float) -> None:
        self.scene, self.rasterize, self.dpi, self.most, self.lines = scene, rasterize, dpi, most, lines
        self.count = 0

    def group(self, group: Group) -> Group:
        """A group with what it holds; layers that are to be images as such."""
        if group.kind == "layer":
            asked = self.rasterize if group.raster is None else group.raster
            marks = _marks(group)
            places = sum(_size(mark) * (self.lines if isinstance(mark, Paths) else 1.0) for mark in marks)
            heavy = places > self.most if asked == "auto" else asked is not False
            if heavy and marks:
                dpi = self.dpi if isinstance(asked, bool | str) else float(asked)
                self.count += 1
                return self._imaged(group, marks, dpi)
            return group
        items = [self.group(item) if isinstance(item, Group) else item for item in group.items]
        return group._replace(items=tuple(items))

    def _imaged(self, group: Group, marks: list[Mark], dpi: float) -> Group:
        region = box_of(marks[0])
        for mark in marks[1:]:
            region = _joined(region, box_of(mark))
        scale = dpi / 72
        grid = Grid(scale, scale, math.ceil(self.scene.width * scale), math.ceil(self.scene.height * scale))
        alone = [mark for mark in marks if isinstance(mark, Markers) and can_draw(mark, scale)]
        if len(alone) == len(marks):
            pictures = pictured(alone, region, group.clip, grid)
        else:
            from facetine.writers.raster import clear_picture

            kept = Group("figure", "Figure", (group._replace(items=tuple(marks)),))
            pictures = [clear_picture(self.scene._replace(root=kept, page=None), _cut(region, group.clip, self.scene), dpi)]
        return group._replace(items=(*pictures, *_texts(group)))


def _cut(region: Region, clip: Region | None, scene: Scene) -> Region:
    inside = region.within(Region(0.0, 0.0, scene.width, scene.height))
    return inside if clip is None else inside.within(clip)


def _joined(one: Region, other: Region) -> Region:
    left, top = min(one.x, other.x), min(one.y, other.y)
    return Region(left, top, max(one.right, other.right) - left, max(one.bottom, other.bottom) - top)


def _marks(group: Group) -> list[Mark]:
    """The marks of a layer that are no text, in their order."""
    found: list[Mark] = []
    for item in group.items:
        if isinstance(item, Group):
            found += _marks(item)
        elif not isinstance(item, Text) and _size(item):
            found.append(item)
    return found


def _texts(group: Group) -> list[Text]:
    return [
        text
        for item in group.items
        for text in (_texts(item) if isinstance(item, Group) else [item] if isinstance(item, Text) else [])
    ]


def _size(mark: Mark) -> int:
    """How many places a mark has."""
    if isinstance(mark, Markers):
        return len(mark.at)
    return len(mark.boxes) if isinstance(mark, Rects) else len(mark.points) if isinstance(mark, Paths) else 1
