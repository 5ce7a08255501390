"""Texts that layers write from what they computed."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.color.spaces import contrast, from_hex
from facetine.core.columns import Columns
from facetine.core.scales.templates import parsed
from facetine.grammar.aesthetics import TURNED
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.look import Look
from facetine.messages.errors import OptionError, nearest, told
from facetine.scene.marks import Text
from facetine.scene.region import Region
from facetine.scene.typeset import Block, TextStyle, set_text

DARK, LIGHT = "#1c1f24", "#ffffff"
EASY = 4.5
"""The contrast of texts that WCAG 2.2, 1.4.3, asks for."""
VALUE_TEXT = "value text"
"""The column of the texts that stand on marks, one a row; "" where there is none."""
_RIM = 1.5
"""Points by which a text may reach over the edge of a mark, or of the panel: the room that its box leaves above its letters."""
_A_FEW = 0.2
"""The share of texts without room up to which the others stay as they are."""


def template(value: object, where: str) -> str:
    """A template such as "{count:,}" or "{share:percent}".

    Raises:
        OptionError: It is none.
    """
    if not isinstance(value, str):
        raise OptionError(where, f'is a template such as "{{count:,}}", not {told(value)}', of_option=True)
    try:
        parsed(value)
    except ValueError as problem:
        raise OptionError(where, f"{told(value)} is no template: {problem}") from problem
    return value


def check_names(form: str, names: Iterable[str], where: str) -> None:
    """Takes a template whose names are all there.

    Raises:
        OptionError: One is not; all that are there are listed.
    """
    there = list(names)
    for name in parsed(form).names:
        if name not in there:
            close = nearest(name, there)
            hint = f". Did you mean {close!r}?" if close else ""
            said = f"computed values: {', '.join(there)}" if there else "it computes nothing that has a name"
            raise OptionError(where, f"no computed value {name!r}{hint}", said)


def readable(fill: str) -> str:
    """The ink, dark or light, that stands out more from a color; black where neither is read with ease."""
    shade = from_hex([fill])
    dark, light = (contrast(shade, from_hex([ink])[0])[0] for ink in (DARK, LIGHT))
    if max(dark, light) < EASY:
        # One of black and white always has a contrast of at least 4.58.
        return "#000000" if contrast(shade, np.zeros(3))[0] > light else LIGHT
    return DARK if dark >= light else LIGHT


def labelled(layer: DrawnLayer, rows: Columns, horizontal: bool) -> Columns:
    """The rows of a layer that can bear a text, x and y as the reader sees them; the layer itself sees them exchanged."""
    return layer.labelled_rows(rows.renamed(TURNED)).renamed(TURNED) if horizontal else layer.labelled_rows(rows)


def value_texts(
    layer: DrawnLayer,
    rows: Columns,
    panel: PanelView,
    horizontal: bool,
    style: TextStyle,
    whiskers: Sequence[Region] = (),
    right: float = math.inf,
) -> Iterator[Text]:
    """What is computed, written on the marks: inside where they are filled and large enough, else at their end.

    Args:
        layer: Whose marks they are.
        rows: Its rows in points, x and y as the reader sees them, with `VALUE_TEXT`.
        panel: Where they are drawn, with the looks of the rows.
        horizontal: Whether values run along x.
        style: How the texts are set.
        whiskers: Intervals of other layers, of which texts at the ends of marks stand clear.
        right: How far they may reach beside the panel; those of lying marks that would reach further stand in their ends.
    """
    rows = labelled(layer, rows, horizontal)
    inside_only = getattr(layer, "arrange", "") in ("stack", "share") and len(np.unique(rows.group)) > 1
    inside_only = inside_only or layer.values_inside
    beside: list[_Beside] = []
    lost = 0
    for row, text in enumerate(rows.values[VALUE_TEXT].tolist()):
        if not text:
            continue
        mark = _mark(rows, row)
        if mark is None:
            lost += 1
            continue
        middle, about = (mark.x + mark.width / 2, mark.y + mark.height / 2), int(rows.numbers[row])
        if not _in_view(middle if inside_only else (mark.right, middle[1]) if horizontal else (middle[0], mark.y), panel.box):
            lost += 1
            continue
        block = set_text(text, style)
        lines = [] if inside_only else _beyond(block, mark, horizontal, style, about, whiskers)
        gap = 0.0 if inside_only else 0.35 * style.size
        fits = block.width + 2 * gap <= mark.width and block.height - style.descent <= mark.height
        if lines and max(line.box.right for line in lines) <= right + _RIM:
            beside.append(_Beside(round(middle[1] if horizontal else middle[0], 3), lines))
        elif fits and (inside_only or (layer.filled_marks and horizontal)):
            number = int(rows["row number"][row]) if "row number" in rows else row
            inked = set_text(text, style._replace(color=_ink_on(panel.looks, number, panel.ground)))
            place = (middle[0], 0.5) if inside_only else (mark.right - gap, 1.0)
            yield from inked.placed(place[0], middle[1] - style.cap / 2, place[1], role="value", row=about)
        else:
            lost += 1
    kept = _thinned(beside)
    if layer.filled_marks and kept:
        kept = [text for text, free in zip(kept, _on_ground(kept, rows, horizontal, panel.box), strict=True) if free]
    for text_beside in kept:
        yield from text_beside.lines
    lost += len(beside) - len(kept)
    if lost:
        fix = "theme(value_size=…) sets them smaller, a higher or wider figure gives them space"
        panel.tally("labels-left-out", lost, "value label", "left out, for which there is no space", fix)


class _Beside(NamedTuple):
    """A text at the end of a mark."""

    place: float
    """Of the mark, along the axis on which marks stand next to each other."""
    lines: list[Text]

    def hits(self, others: Iterable[_Beside]) -> bool:
        """Whether it would run into another, so that it says less than none."""
        return any(line.box.overlaps(taken.box, -0.5) for line in self.lines for other in others for taken in other.lines)


def _mark(rows: Columns, row: int) -> Region | None:
    """Where a mark is; None where it has no place."""
    left, right, top, bottom = (float(rows[name][row]) for name in ("x_low", "x_high", "y_low", "y_high"))
    if not np.isfinite([left, right, top, bottom]).all():
        return None
    return Region(min(left, right), min(top, bottom), abs(right - left), abs(bottom - top))


def _beyond(block: Block, mark: Region, horizontal: bool, style: TextStyle, row: int, whiskers: Sequence[Region]) -> list[Text]:
    """A text beyond the end of a mark, and of the whiskers that stand there."""
    gap, end = 0.35 * style.size, mark.right if horizontal else mark.y
    in_the_way = list(whiskers)
    while True:
        if horizontal:
            lines = list(block.placed(end + gap, mark.y + mark.height / 2 - style.cap / 2, role="value", row=row))
        else:
            lines = list(block.placed(mark.x + mark.width / 2, end - style.cap - gap, 0.5, role="value", row=row))
        hit = [whisker for whisker in in_the_way if any(line.box.overlaps(whisker) for line in lines)]
        if not hit:
            return lines
        in_the_way = [whisker for whisker in in_the_way if whisker not in hit]
        end = max(end, *(whisker.right for whisker in hit)) if horizontal else min(end, *(whisker.y for whisker in hit))


def _on_ground(beside: list[_Beside], rows: Columns, horizontal: bool, box: Region) -> list[bool]:
    """For each text, whether it stands neither on another mark of its layer nor on what is written beside the panel."""
    left, right = np.minimum(rows["x_low"], rows["x_high"]), np.maximum(rows["x_low"], rows["x_high"])
    top, bottom = np.minimum(rows["y_low"], rows["y_high"]), np.maximum(rows["y_low"], rows["y_high"])
    free = []
    for text in beside:
        clear = True
        for line in text.lines:
            at = line.box
            across, up = (
                np.minimum(right, at.right) - np.maximum(left, at.x),
                np.minimum(bottom, at.bottom) - np.maximum(top, at.y),
            )
            within = (
                at.y >= box.y - _RIM and at.bottom <= box.bottom + _RIM
                if horizontal
                else at.x >= box.x - _RIM and at.right <= box.right + _RIM
            )
            clear = clear and within and not ((across > _RIM) & (up > _RIM)).any()
        free.append(clear)
    return free


def _thinned(beside: list[_Beside]) -> list[_Beside]:
    """Texts that do not run into each other: those of every second, third, … mark where more than a few have no room."""
    kept: list[_Beside] = []
    for text in beside:
        if not text.hits(kept):
            kept.append(text)
    if len(beside) - len(kept) <= _A_FEW * len(beside):
        return kept
    places, rank = np.unique([text.place for text in beside], return_inverse=True)
    # No even choice holds more than nearly so many as the closest one.
    for step in range(max(2, len(places) // (len(kept) + 1)), len(places)):
        every = [text for text, at in zip(beside, rank.tolist(), strict=True) if at % step == 0]
        # In the order of their marks, a text reaches the next ones only.
        every.sort(key=lambda text: text.place)
        if not any(text.hits(every[number + 1 : number + 4]) for number, text in enumerate(every)):
            return every
    return kept


def _in_view(at: tuple[float, float], box: Region) -> bool:
    """Whether a place lies in the panel, which shows a part of the data only where limits were said."""
    return box.x - 0.5 <= at[0] <= box.right + 0.5 and box.y - 0.5 <= at[1] <= box.bottom + 0.5


def _ink_on(looks: Mapping[str, Look], row: int, ground: str) -> str:
    """The readable ink on a mark, through which the ground may show."""
    fill, opacity = looks["color"].of(row), looks["opacity"].of(row) if "opacity" in looks else 1.0
    return readable(fill if opacity > 0.5 else ground)
