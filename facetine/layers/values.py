"""Texts that layers write from what they computed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

import numpy as np

from facetine.core.color.spaces import contrast, from_hex
from facetine.core.columns import Columns
from facetine.core.scales.templates import parsed
from facetine.errors import OptionError, nearest, told
from facetine.findings import so_many
from facetine.grammar.aesthetics import TURNED
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.look import Look
from facetine.scene.marks import Text
from facetine.scene.region import Region
from facetine.scene.typeset import TextStyle, set_text

DARK, LIGHT = "#1c1f24", "#ffffff"
EASY = 4.5
"""The contrast of texts that WCAG 2.2, 1.4.3, asks for."""
VALUE_TEXT = "value text"
"""The column of the texts that stand on marks, one a row; "" where there is none."""


def template(value: object, where: str) -> str:
    """A template such as "{count:,}" or "{share:percent}".

    Raises:
        OptionError: It is none.
    """
    if not isinstance(value, str):
        raise OptionError(f'{where} is a template such as "{{count:,}}", not {told(value)}')
    try:
        parsed(value)
    except ValueError as problem:
        raise OptionError(f"{where}: {told(value)} is no template: {problem}") from problem
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
            raise OptionError(f"{where}: no computed value {name!r}{hint}", said)


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


def value_texts(layer: DrawnLayer, rows: Columns, panel: PanelView, horizontal: bool, style: TextStyle) -> Iterator[Text]:
    """What is computed, written on the marks: inside where they are filled and large enough, else at their end.

    Args:
        layer: Whose marks they are.
        rows: Its rows in points, x and y as the reader sees them, with `VALUE_TEXT`.
        panel: Where they are drawn, with the looks of the rows.
        horizontal: Whether values run along x.
        style: How the texts are set.
    """
    rows = labelled(layer, rows, horizontal)
    texts = rows.values[VALUE_TEXT].tolist()
    inside_only = getattr(layer, "arrange", "") in ("stack", "share") and len(np.unique(rows.group)) > 1
    inside_only = inside_only or layer.values_inside
    taken: list[Region] = []
    lost = 0
    for row, text in enumerate(texts):
        if not text:
            continue
        x = sorted((float(rows["x_low"][row]), float(rows["x_high"][row])))
        y = sorted((float(rows["y_low"][row]), float(rows["y_high"][row])))
        if not np.isfinite([*x, *y]).all():
            lost += 1
            continue
        block, about = set_text(text, style), int(rows.numbers[row])
        middle = (x[0] + x[1]) / 2, (y[0] + y[1]) / 2
        if not _in_view(middle if inside_only else (x[1], middle[1]) if horizontal else (middle[0], y[0]), panel.box):
            lost += 1
            continue
        if inside_only:
            if block.width <= x[1] - x[0] and block.height - style.descent <= y[1] - y[0]:
                number = int(rows["row number"][row]) if "row number" in rows else row
                inked = set_text(text, style._replace(color=_ink_on(panel.looks, number, panel.ground)))
                yield from inked.placed(middle[0], middle[1] - style.cap / 2, 0.5, role="value", row=about)
            else:
                lost += 1
            continue
        if horizontal:
            placed = list(block.placed(x[1] + 0.35 * style.size, middle[1] - style.cap / 2, role="value", row=about))
        else:
            placed = list(block.placed(middle[0], y[0] - style.cap - 0.35 * style.size, 0.5, role="value", row=about))
        # A value that would run into its neighbour's says less than none.
        if any(line.box.overlaps(other, -0.5) for line in placed for other in taken):
            lost += 1
            continue
        taken += [line.box for line in placed]
        yield from placed
    if lost:
        panel.say(
            "labels-left-out", f"{so_many(lost, 'value label')} without room left out", "theme(value_size=…) sets them smaller"
        )


def _in_view(at: tuple[float, float], box: Region) -> bool:
    """Whether a place lies in the panel, which shows a part of the data only where limits were said."""
    return box.x - 0.5 <= at[0] <= box.right + 0.5 and box.y - 0.5 <= at[1] <= box.bottom + 0.5


def _ink_on(looks: Mapping[str, Look], row: int, ground: str) -> str:
    """The readable ink on a mark, through which the ground may show."""
    fill, opacity = looks["color"].of(row), looks["opacity"].of(row) if "opacity" in looks else 1.0
    return readable(fill if opacity > 0.5 else ground)
