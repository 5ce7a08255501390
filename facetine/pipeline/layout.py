"""Where everything on the sheet goes: first measured, then placed. Nothing is cut, nothing overlaps.

From the top: title, subtitle, legends, the title of the y axis, the panels with their headings and ticks, the title of
the x axis, the note. All of it starts at the left edge of the first panel.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.errors import ExportError
from facetine.findings import Findings, so_many
from facetine.grammar.lengths import LARGEST
from facetine.grammar.theme import Theme
from facetine.pipeline.body import Body, PlacedPanel
from facetine.pipeline.floats import placed_float
from facetine.pipeline.legend import LegendPlan
from facetine.pipeline.part import FigurePart
from facetine.pipeline.placed import Layout
from facetine.pipeline.sheet import PAGE_HEIGHT, Request
from facetine.scene.region import Region

_ROUNDS = 16
_FREE = 4
"""Rounds in which rooms may shrink; after them they only grow, which ends since the sheet does."""


def lay_out(request: Request, findings: Findings, marks: Callable[[PlacedPanel], FloatArray] | None = None) -> Layout:
    """Measures all parts and places them, then what floats in the panels.

    The width of the y labels depends on the height of the panels, which depends on how titles wrap, which depends on
    the width of the y labels; a few rounds settle it. From the fifth one on each round needs more room than the one
    before it, or is the last.

    Args:
        request: What is to be laid out.
        findings: Takes remarks.
        marks: What stands in a panel at its place, which floats avoid; shape (n, 4).

    Raises:
        ExportError: The sheet is too small for what must stand on it.
    """
    part = FigurePart.of(request)
    for turn in range(_ROUNDS):
        sheet = _measured(part, request)
        part = sheet.part.settled(growing=turn >= _FREE)
        if part is sheet.part:
            break
    _say_unnamed(sheet.part.body, findings)
    if request.height is None and sheet.height > PAGE_HEIGHT:
        findings.add(
            "sheet-tall",
            "figure.export",
            f"the sheet is {sheet.height / 72 * 25.4:.0f} mm high, more than a page",
            "a larger width=, or .facet(per_row=…) for more panels side by side, or per_page=… for pages"
            if len(request.panels) > 1
            else "height= says another one",
        )
    layout = sheet.placed(request.theme.margin)
    if sheet.part.plan.side == "inside":
        layout = _with_legends_inside(layout, sheet.part.plan, request.theme, findings, marks)
    return layout


class _Sheet(NamedTuple):
    """What one round finds: the part as it was measured, and the size of the sheet."""

    part: FigurePart
    inner_width: float
    inner_height: float
    width: float
    height: float

    def placed(self, margin: float) -> Layout:
        """Everything at its place."""
        part = self.part
        inner = Region(margin + part.left, margin + part.above, self.inner_width, self.inner_height)
        layout = part.place(inner, margin, self.width - margin)
        return replace(layout, width=self.width, height=self.height)


def _measured(part: FigurePart, request: Request) -> _Sheet:
    """The part with everything fitted, its rooms beside the panels as they were found before.

    Raises:
        ExportError: It does not fit on the sheet; or the sheet would be higher than any may be.
    """
    margin = request.theme.margin
    room = None if request.width is None else request.width - 2 * margin - part.left
    part = part.planned(part.least_width + part.right if room is None else room)
    inner, least = None if room is None else room - part.right, part.least_width
    if inner is not None and least > inner + 1e-9:
        raise _too_small("width", least + part.left + part.right + 2 * margin, request)
    inner = least if inner is None else inner
    part = part.across(inner)
    free = None if request.height is None else request.height - 2 * margin - part.above - part.below
    if free is not None and part.least_height(natural=False) > free + 1e-9:
        part = part.narrowed(free)
        if part.least_height(natural=False) > free + 1e-9:
            needed = part.least_height(natural=False) + part.above + part.below + 2 * margin
            raise _too_small("height", needed, request)
    inner_height = part.least_height(natural=True) if free is None else free
    part = part.down(inner_height, natural=free is None)
    width = part.left + inner + part.right + 2 * margin if request.width is None else request.width
    height = request.height if request.height is not None else inner_height + part.above + part.below + 2 * margin
    if height > LARGEST:
        raise _too_high(height)
    return _Sheet(part, inner, inner_height, width, height)


def _too_small(side: str, needed: float, request: Request) -> ExportError:
    millimetres, count = math.ceil(needed / 72 * 25.4 / 5) * 5, len(request.panels)
    said = getattr(request.size, side) is not None
    return ExportError(
        f"figure.export: the {side} is too small for the figure's texts and {count} panel{'s' if count != 1 else ''}",
        f'{side}="{millimetres} mm" would do; or '
        + (f".panel({side}=…) makes panels smaller" if said else "a smaller text_size, or shorter titles"),
    )


def _too_high(height: float) -> ExportError:
    metres = f"{height / 72 * 0.0254:,.1f} m high, more than {LARGEST / 72 * 0.0254:.2f} m"
    return ExportError(
        f"figure.export: the sheet would be {metres}",
        "height= says another one; .facet(per_row=…) sets more panels beside each other; .keep(…) leaves categories out",
    )


def _with_legends_inside(
    layout: Layout, plan: LegendPlan, theme: Theme, findings: Findings, marks: Callable[[PlacedPanel], FloatArray] | None
) -> Layout:
    """The legends in the corner of a panel where they cover the fewest marks.

    Raises:
        ExportError: No panel has room for them.
    """
    standing = [np.zeros((0, 4)) if marks is None else marks(place) for place in layout.panels]
    corner = placed_float(plan.width, plan.height, theme.gap, layout.panels, standing)
    if corner is None:
        raise ExportError(
            "figure.theme: legend_place='inside': no panel has room for the legends",
            'legend_place="auto" sets them beside the panels',
        )
    if corner.covered:
        findings.add(
            "legend-over-marks",
            "figure.theme: legend_place",
            f"the legends lie over {so_many(corner.covered, 'mark')}",
            'legend_place="auto" sets them beside the panels',
            "warning",
        )
    return replace(layout, legends=plan.place(corner.region))


def _say_unnamed(body: Body, findings: Findings) -> None:
    """Says of the layout that stands, not of the tries before it, which categories have no room for their names."""
    mends = {"x": "map the column to y, or make the figure wider", "y": "make the figure higher"}
    told: set[tuple[str, str]] = set()
    bands = ((side, band) for (side, *_), band in body.bands.fitted.items())
    for side, band in sorted(bands, key=lambda item: item[1].along):
        axis, ticks = band.fitter.axis, band.labels.ticks
        if side not in ("below", "left"):
            continue
        named, where = len(ticks.at), f"figure.scale({axis.name!r})"
        if axis.kind == "levels" and body.theme.axes and 0 < named < len(axis.labels) and (axis.name, "names") not in told:
            told.add((axis.name, "names"))
            every = _ordinal(math.ceil(len(axis.labels) / named))
            text = f"{len(axis.labels)} categories on {axis.name} leave room for the name of every {every} one only"
            findings.add("names-left-out", where, text, mends[axis.name])
        if ticks.thinned and (axis.name, "ticks") not in told:
            told.add((axis.name, "ticks"))
            findings.add(
                "ticks-thinned",
                where,
                f"ticks whose labels would be the same in the format {axis.spec.format!r} are left out",
                "a format with more digits tells them apart",
            )


def _ordinal(number: int) -> str:
    return {2: "second", 3: "third"}.get(number, f"{number}th")
