"""A part on a sheet: measured round by round until its rooms are right."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from facetine.grammar.lengths import LARGEST
from facetine.messages.errors import ExportError
from facetine.pipeline.layout.part import Part, Placement
from facetine.scene.region import Region

_ROUNDS = 16
_TRIES = 8
_FREE = 4
"""Rounds in which rooms may shrink; after them they only grow, which ends since the sheet does."""


class TooSmallError(ValueError):
    """A part does not fit on its sheet.

    Args:
        side: width or height.
        needed: The size that would do, in points.
    """

    def __init__(self, side: str, needed: float) -> None:
        super().__init__(f"the {side} is less than {needed:g}")
        self.side, self.needed = side, needed


class SheetSize(NamedTuple):
    """The size of a sheet, as far as it was said, and its margin, in points."""

    width: float | None
    height: float | None
    margin: float
    tight: bool = False
    """Whether headings may be broken within syllables, since there is no room for these."""


class Sheet(NamedTuple):
    """What one round finds: the part as it was measured, and the size of the sheet."""

    part: Part
    inner_width: float
    inner_height: float
    width: float
    height: float

    def placed(self, margin: float, left: float = 0.0, top: float = 0.0) -> Placement:
        """Everything at its place.

        Args:
            margin: Around it.
            left: Where the sheet begins, on the sheet around it.
            top: Likewise.
        """
        part = self.part
        inner = Region(left + margin + part.left, top + margin + part.above, self.inner_width, self.inner_height)
        outer = Region(left + margin, top + margin, self.width - 2 * margin, self.height - 2 * margin)
        return part.place(inner, outer)


def size_that_does(make: Callable[[SheetSize], Part], size: SheetSize, problem: TooSmallError) -> int:
    """A width, or a height, in millimetres that does where the one that was said does not: tried, since labels change with it.

    Args:
        make: The part for a sheet.
        size: Which was said.
        problem: What it lacks.
    """
    for _ in range(_TRIES):
        millimetres = math.ceil(problem.needed / 72 * 25.4 / 5) * 5
        points = millimetres / 25.4 * 72
        larger = size._replace(width=points) if problem.side == "width" else size._replace(height=points)
        try:
            sheet_for(make, larger)
        except TooSmallError as again:
            if again.side != problem.side:
                break
            problem = TooSmallError(again.side, max(again.needed, points + 1.0))
        else:
            break
    return millimetres


def sheet_for(make: Callable[[SheetSize], Part], size: SheetSize) -> Sheet:
    """A part measured for a sheet; where syllables of headings have no room, they give way.

    Args:
        make: The part for a sheet.
        size: The sheet.

    Raises:
        TooSmallError: It does not fit.
        ExportError: The sheet would be higher than any may be.
    """
    try:
        return settled_sheet(make(size), size)
    except TooSmallError as problem:
        if problem.side != "width":
            raise
    size = size._replace(tight=True)
    return settled_sheet(make(size), size)


def settled_sheet(part: Part, size: SheetSize) -> Sheet:
    """A part measured for a sheet.

    The width of y labels depends on the height of the panels, which depends on how titles wrap, which depends on the
    width of the y labels; a few rounds settle it. From the fifth one on each round needs more room than the one before
    it, or is the last.

    Raises:
        TooSmallError: It does not fit.
        ExportError: The sheet would be higher than any may be.
    """
    for turn in range(_ROUNDS):
        sheet = _measured(part, size)
        part = sheet.part.settled(growing=turn >= _FREE)
        if part is sheet.part:
            break
    return sheet


def _measured(part: Part, size: SheetSize) -> Sheet:
    """The part with everything fitted, its rooms beside the panels as they were found before."""
    margin = size.margin
    room = None if size.width is None else size.width - 2 * margin - part.left
    part = part.planned(part.least_width + part.right if room is None else room)
    inner, least = None if room is None else room - part.right, part.least_width
    if inner is not None and least > inner + 1e-9:
        raise TooSmallError("width", least + part.left + part.right + 2 * margin)
    inner = least if inner is None else inner
    part = part.across(inner)
    free = None if size.height is None else size.height - 2 * margin - part.above - part.below
    if free is not None and part.least_height(natural=False) > free + 1e-9:
        part = part.narrowed(free)
        if part.least_height(natural=False) > free + 1e-9:
            raise TooSmallError("height", part.least_height(natural=False) + part.above + part.below + 2 * margin)
    inner_height = part.least_height(natural=True) if free is None else free
    height = size.height if size.height is not None else inner_height + part.above + part.below + 2 * margin
    if height > LARGEST:
        # Before the labels of thousands of categories are set.
        raise _too_high(height)
    part = part.down(inner_height, natural=free is None)
    width = part.left + inner + part.right + 2 * margin if size.width is None else size.width
    return Sheet(part, inner, inner_height, width, height)


def _too_high(height: float) -> ExportError:
    metres = f"{height / 72 * 0.0254:,.1f} m high, more than {LARGEST / 72 * 0.0254:.2f} m"
    return ExportError(
        "figure.export",
        f"the sheet would be {metres}",
        "height= says another one; .facet(per_row=…) sets more panels beside each other; .keep(…) leaves categories out",
    )
