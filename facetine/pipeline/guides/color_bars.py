"""Color bars drawn: a run of colors, or blocks of them, with ticks and their labels."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.grammar.theme import Theme
from facetine.pipeline.guides.legend_entries import ColorBar
from facetine.scene.marks import Gradient, Mark, Rects, Stroke, Text, segments
from facetine.scene.region import Region
from facetine.scene.typeset import TextStyle, set_text


def _blocks(bar: ColorBar, box: Region, upright: bool) -> Rects:
    """Even blocks of a stepped bar, from the left or from the bottom."""
    count = len(bar.colors)
    width, height = box.width / count, box.height / count
    if upright:
        blocks = [(box.x, box.bottom - (place + 1) * height, box.width, height) for place in range(count)]
    else:
        blocks = [(box.x + place * width, box.y, width, box.height) for place in range(count)]
    return Rects(np.array(blocks), bar.colors, np.arange(count))


def drawn_bar(bar: ColorBar, box: Region, upright: bool, theme: Theme, tick: TextStyle) -> Iterator[Mark]:
    """The marks of a bar in a box, with its ticks at the right where it is upright, else below."""
    if bar.stepped:
        yield _blocks(bar, box, upright)
    else:
        yield Gradient(box, bar.colors, upright)
    ends, texts = [], list[Text]()
    short = theme.gap * 0.6
    for share, label in zip(bar.at, bar.labels, strict=True):
        block = set_text(label, tick)
        if upright:
            y = box.bottom - share * box.height
            ends.append((box.right, y, box.right + short, y))
            texts.extend(block.placed(box.right + 2 * short, y - tick.cap / 2, role="legend tick"))
        else:
            x = box.x + share * box.width
            ends.append((x, box.bottom, x, box.bottom + short))
            texts.extend(block.placed(x, box.bottom + theme.gap, 0.5, role="legend tick"))
    if ends:
        yield segments(np.array(ends), Stroke(theme.axis_color, theme.axis_width))
    yield from texts
