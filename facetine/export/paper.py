"""Figures on pages: formats of paper, margins and crop marks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

import numpy as np

from facetine.grammar.lengths import in_points
from facetine.messages.errors import OptionError, told, unknown
from facetine.scene.marks import Group, Page, Scene, Stroke, segments

if TYPE_CHECKING:
    from facetine.grammar.given import Length

_MM = 72 / 25.4
MARGIN = 15 * _MM
_OFF, _LONG, _THICK = 2 * _MM, 5 * _MM, 0.25
_ROUNDED = 0.01

PaperSize: TypeAlias = "str | Sequence[str | float]"
"""A format of paper, upright or "landscape", or width and height."""


def _series(width: float, height: float, letter: str, count: int) -> dict[str, tuple[float, float]]:
    """Formats each of which is the one before, cut in half, in whole millimetres."""
    sizes = {}
    for number in range(count):
        sizes[f"{letter}{number}"] = (width * _MM, height * _MM)
        width, height = height // 2, width
    return sizes


PAPERS = {
    **_series(841, 1189, "A", 9),
    **_series(1000, 1414, "B", 9),
    "letter": (612.0, 792.0),
    "legal": (612.0, 1008.0),
    "tabloid": (792.0, 1224.0),
}
"""Width and height in points. Source: ISO 216:2007; ANSI/ASME Y14.1 for the ones with names."""


class Paper(NamedTuple):
    """The page that a figure is to stand on."""

    width: float
    height: float
    margin: float
    crop_marks: bool

    @property
    def room(self) -> tuple[float, float]:
        """Width and height within the margins."""
        return self.width - 2 * self.margin, self.height - 2 * self.margin


def paper_of(paper: PaperSize | None, margins: Length, fit: bool, crop_marks: bool, where: str) -> Paper | None:
    """The page that is asked for; None for none.

    Raises:
        OptionError: There is no such format, or something is said of a page that is not there.
    """
    if paper is None:
        said = {"margins": margins is not None, "fit": fit, "crop_marks": crop_marks}
        for name in (name for name, one in said.items() if one):
            raise OptionError(where, f"{name} has no effect without paper", 'such as paper="A4"')
        return None
    width, height = _sides(paper, f"{where}: paper")
    around = MARGIN if margins is None else 0.0 if margins == 0 else in_points(margins, f"{where}: margins")
    if min(width, height) <= 2 * around + 10:
        raise OptionError(where, f"margins of {around / _MM:.0f} mm leave no space on the paper", "smaller margins=")
    if crop_marks and around < _OFF + _LONG:
        raise OptionError(where, f"crop marks need a margin of {(_OFF + _LONG) / _MM:.0f} mm", 'such as margins="10 mm"')
    return Paper(width, height, around, crop_marks)


def _sides(page: object, where: str) -> tuple[float, float]:
    if isinstance(page, str):
        name, _, turned = page.strip().partition(" ")
        known = {paper.lower(): paper for paper in PAPERS}
        if name.lower() not in known:
            raise unknown(OptionError, where, "no paper", name, PAPERS, "papers")
        if turned.strip() not in ("", "portrait", "landscape"):
            raise unknown(OptionError, where, "no way to lay it", turned, ("portrait", "landscape"), "words")
        width, height = PAPERS[known[name.lower()]]
        return (height, width) if turned.strip() == "landscape" else (width, height)
    if isinstance(page, Sequence) and len(page) == 2:
        return in_points(page[0], where), in_points(page[1], where)
    raise OptionError(
        where, f"is a format, or width and height, not {told(page)}", '"A4 landscape", or ("21 cm", "10 cm")', of_option=True
    )


def on_paper(scene: Scene, paper: Paper, where: str) -> Scene:
    """A drawing in the middle of a page.

    Raises:
        OptionError: It is larger than the room within the margins.
    """
    room = paper.room
    if scene.width > room[0] + _ROUNDED or scene.height > room[1] + _ROUNDED:
        sizes = [f"{a / _MM:.0f}×{b / _MM:.0f} mm" for a, b in ((scene.width, scene.height), room)]
        raise OptionError(
            where,
            f"the figure of {sizes[0]} is larger than the {sizes[1]} within the margins",
            "fit=True takes the size of the paper",
        )
    left, top = (paper.width - scene.width) / 2, (paper.height - scene.height) / 2
    page = Page(paper.width, paper.height, left, top, paper.crop_marks)
    root = scene.root
    if paper.crop_marks:
        root = root._replace(items=(*root.items, _crop_marks(scene)))
    return scene._replace(page=page, root=root)


def _crop_marks(scene: Scene) -> Group:
    """Two short lines outside each corner, where the figure is to be cut out."""
    ends = []
    for x, out in ((0.0, -1.0), (scene.width, 1.0)):
        for y, down in ((0.0, -1.0), (scene.height, 1.0)):
            ends.append((x + out * _OFF, y, x + out * (_OFF + _LONG), y))
            ends.append((x, y + down * _OFF, x, y + down * (_OFF + _LONG)))
    lines = segments(np.array(ends), Stroke("#000000", _THICK))
    return Group("crop-marks", "Crop marks", (lines,), kind="hairlines")
