"""What marks cover."""

from __future__ import annotations

from facetine.scene.marks import Bitmap, Gradient, Mark, Markers, Rects, Text
from facetine.scene.region import Region


def box_of(mark: Mark) -> Region:
    """The rectangle around a mark, with its lines."""
    if isinstance(mark, Gradient | Bitmap | Text):
        return mark.box
    if isinstance(mark, Rects):
        far = mark.outline.width / 2 if mark.outline is not None else 0.0
        low, high = mark.boxes[:, :2].min(axis=0) - far, (mark.boxes[:, :2] + mark.boxes[:, 2:]).max(axis=0) + far
    elif isinstance(mark, Markers):
        far = max((1.6 * style.radius + style.line_width for style in mark.styles), default=0.0)
        low, high = mark.at.min(axis=0) - far, mark.at.max(axis=0) + far
    else:
        far = mark.stroke.width if mark.stroke is not None else 0.0
        low, high = mark.points.min(axis=0) - far, mark.points.max(axis=0) + far
    return Region(float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1]))


def file_of(mark: Bitmap) -> bytes:
    """A picture's file; made of its pixels where it has none yet."""
    if mark.pixels is None:
        return mark.content
    import io

    from PIL import Image

    buffer = io.BytesIO()
    Image.fromarray(mark.pixels, "RGBA").save(buffer, "PNG")
    return buffer.getvalue()
