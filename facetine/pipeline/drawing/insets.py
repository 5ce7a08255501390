"""Figures set into panels: placed after the tracks, drawn last, with lines to what they show larger."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import is_number
from facetine.grammar.sentence import Inset
from facetine.grammar.theme import Theme
from facetine.messages.errors import ExportError, OptionError, ScaleError, unknown
from facetine.messages.findings import Remark
from facetine.pipeline.drawing.draw import Drawing
from facetine.pipeline.layout.body import PlacedPanel
from facetine.pipeline.layout.figure_part import FigurePart
from facetine.pipeline.layout.request import Request
from facetine.pipeline.layout.rounds import SheetSize, TooSmallError, settled_sheet
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.member import Member
from facetine.scene.marks import Paths, Rects, Stroke, segments
from facetine.scene.markup import plain
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch


class PlacedInset(NamedTuple):
    """A figure at its place in a panel of another one."""

    drawing: Drawing
    region: Region
    ground: str | None
    zoomed: Region | None
    """What it shows larger, on the sheet; None where nothing is said."""
    theme: Theme
    page: int

    def draw(self, into: Sketch) -> list[Remark]:
        """Adds the zoom box and its lines, then the inset on a ground of its own; returns what its layers say."""
        group, box = into.group("inset", "Inset", kind="panel"), self.region
        frame = None
        if self.zoomed is not None:
            frame = Stroke(self.theme.axis_color, self.theme.axis_width)
            group.group("zoom", "What the inset shows", kind="part").add(self._box_and_lines(self.zoomed, frame))
        if self.ground is not None:
            group.add([Rects(np.array([[box.x, box.y, box.width, box.height]]), (self.ground,), outline=frame)])
        return self.drawing.draw(0, group)

    def _box_and_lines(self, box: Region, stroke: Stroke) -> list[Paths]:
        inner = self.region
        corners = np.array([[box.x, box.y], [box.right, box.y], [box.right, box.bottom], [box.x, box.bottom]])
        theirs = np.array([[inner.x, inner.y], [inner.right, inner.y], [inner.right, inner.bottom], [inner.x, inner.bottom]])
        # Two lines that cross neither rectangle join corners that look past each other.
        right, down = inner.x + inner.width / 2 > box.x + box.width / 2, inner.y + inner.height / 2 > box.y + box.height / 2
        chosen = (1, 3) if right == down else (0, 2)
        ends = np.array([[*corners[place], *theirs[place]] for place in chosen])
        outline = np.vstack([corners, corners[:1]])
        return [segments(np.hstack([outline[:-1], outline[1:]]), stroke), segments(ends, stroke)]


def placed_inset(inset: Inset, host: Drawing, request: Request, members: Sequence[Member]) -> PlacedInset:
    """An inset measured for its place.

    Args:
        inset: What was said of it.
        host: The figure in which it stands.
        request: What is to be laid out in it.
        members: Its figures.

    Raises:
        OptionError: There is no such panel.
        ExportError: Its place is too small for it.
        ScaleError: It is to show a part of the panel, but stands on other scales.
    """
    place = _panel(inset, host)
    region = _region(inset, host, place)
    try:
        sheet = settled_sheet(FigurePart.of(request), SheetSize(region.width, region.height, 0.5 * request.theme.gap))
    except TooSmallError as problem:
        share = problem.needed / (region.width if problem.side == "width" else region.height)
        raise ExportError(
            "figure.inset",
            f"the place is too small for the inset's texts: its {problem.side} is {share:.1f} times as much",
            "a larger place, a larger figure, or a smaller text_size in the inset's theme",
        ) from None
    ((_, layout),) = sheet.placed(0.5 * request.theme.gap, region.x, region.y).figures
    drawing = Drawing.of(layout, members)
    zoomed = _zoomed(host, place, drawing) if inset.zoom else None
    return PlacedInset(drawing, region, request.theme.ground, zoomed, request.theme, place.panel.page)


def _panel(inset: Inset, host: Drawing) -> PlacedPanel:
    main = [place for place in host.layout.panels if place.panel.role == "main"]
    if inset.panel is None:
        return main[0]
    names = {plain(place.panel.name or ""): place for place in main}
    if inset.panel not in names:
        raise unknown(OptionError, "figure.inset", "no panel", inset.panel, tuple(names), "panels")
    return names[inset.panel]


def _region(inset: Inset, host: Drawing, place: PlacedPanel) -> Region:
    left, lower, right, upper = inset.at
    if inset.units == "data":
        axes = host.members[place.panel.field].scales.under(place.panel)
        left, right = (_share(axes["x"], value) for value in (left, right))
        lower, upper = (_share(axes["y"], value) for value in (lower, upper))
    return _within(place.box, (left, right), (lower, upper))


def _within(box: Region, across: Iterable[float], up: Iterable[float]) -> Region:
    """A part of a panel, from shares of its width and of its height from the bottom, in any order."""
    (left, right), (lower, upper) = sorted(across), sorted(up)
    return Region(
        box.x + left * box.width, box.bottom - upper * box.height, (right - left) * box.width, (upper - lower) * box.height
    )


def _share(axis: Axis, value: float) -> float:
    if axis.kind in ("levels", "time"):
        raise OptionError("figure.inset", f"units='data' is for axes of numbers, and {axis.name} has none", 'units="share"')
    place = float(axis.transform.forward(np.array([value]))[0])
    share = float(axis.extent.share(np.array([place]))[0])
    if not is_number(share) or not 0 <= share <= 1:
        raise OptionError(
            "figure.inset", f"at: {value:g} lies outside the {axis.name} axis", 'values on the axis, or units="share"'
        )
    return share


def _zoomed(host: Drawing, place: PlacedPanel, inset: Drawing) -> Region:
    """What the first panel of an inset shows, in the panel around it."""
    axes = host.members[place.panel.field].scales.under(place.panel)
    own_place = inset.layout.panels[0]
    own = inset.members[own_place.panel.field].scales.under(own_place.panel)
    ends = {}
    for name in ("x", "y"):
        if own[name].kind != axes[name].kind or own[name].kind == "levels":
            raise ScaleError(
                "figure.inset",
                f"zoom shows a part of the panel, but {name} is {axes[name].kind} there, {own[name].kind} here",
                "scales of one kind, or zoom=False",
            )
        shares = axes[name].extent.share(np.array([own[name].extent.low, own[name].extent.high]))
        ends[name] = np.clip(shares, 0, 1).tolist()
    return _within(place.box, ends["x"], ends["y"])
