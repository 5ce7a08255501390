"""Layers of very many marks as pixels of a grid."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from facetine.scene.marks import AnyArray, Bitmap, Group, Mark, Markers, Paths, Scene
from facetine.scene.pixels import can_draw, drawn, thinned_line
from facetine.scene.region import Region
from facetine.writers.extents import box_of

MANY = 20_000
"""Marks of a layer from which "auto" makes an image."""


class Grid(NamedTuple):
    """The pixels of a sheet."""

    across: float
    """Pixels a point from left to right."""
    down: float
    """Pixels a point from the top down."""
    width: int
    height: int


def own_pixels(scene: Scene, grid: Grid) -> Scene:
    """A scene in which layers of very many markers are pixels of a grid: quicker, and the same, for formats of pixels."""

    def walk(group: Group) -> Group:
        items: list[Mark | Group] = []
        for item in group.items:
            if isinstance(item, Group):
                items.append(walk(item))
            elif isinstance(item, Markers) and len(item.at) > MANY and can_draw(item, grid.across):
                items += pictured([item], box_of(item), group.clip, grid)
            elif isinstance(item, Paths) and len(item.points) > MANY:
                items.append(thinned_line(item, grid.across))
            else:
                items.append(item)
        return group._replace(items=tuple(items))

    return scene._replace(root=walk(scene.root))


def pictured(marks: list[Markers], region: Region, clip: Region | None, grid: Grid) -> list[Mark]:
    """Markers as one picture, its edges on pixels of the grid."""
    sheet = Region(0.0, 0.0, grid.width / grid.across, grid.height / grid.down)
    region = region.within(sheet) if clip is None else region.within(sheet).within(clip)
    left, top = math.floor(region.x * grid.across), math.floor(region.y * grid.down)
    right, bottom = math.ceil(region.right * grid.across), math.ceil(region.bottom * grid.down)
    width, height = min(right, grid.width) - left, min(bottom, grid.height) - top
    if width <= 0 or height <= 0:
        return []
    image = np.zeros((height, width, 4))
    for mark in marks:
        over = drawn(mark, left, top, (grid.across, grid.down), width, height)
        image = over + image * (1 - over[..., 3:])
    box = Region(left / grid.across, top / grid.down, width / grid.across, height / grid.down)
    return [Bitmap(box, b"", "png", width, height, _eight_bits(image))]


def _eight_bits(image: AnyArray) -> AnyArray:
    """Pixels of red, green, blue and opacity in eight bits each, colors as they are and not times the opacity."""
    alpha = image[..., 3:]
    colors = np.divide(image[..., :3], alpha, out=np.zeros_like(image[..., :3]), where=alpha > 0)
    made: AnyArray = np.rint(np.clip(np.concatenate([colors, alpha], axis=2), 0, 1) * 255).astype(np.uint8)
    return made
