"""From a laid-out figure to a scene: panels with their axes and marks, titles and legends, in named groups."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.findings import Severity
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.base import PanelView
from facetine.layers.look import Look
from facetine.layers.values import readable, value_texts
from facetine.pipeline.direct import DirectNames, draw_names
from facetine.pipeline.guide import AxisTicks
from facetine.pipeline.inks import needs_halo
from facetine.pipeline.legend import draw_legends
from facetine.pipeline.runs import LayerRun, Runs
from facetine.pipeline.scales import Scales
from facetine.pipeline.settle import Axis
from facetine.pipeline.sheet import Layout, PanelPlace
from facetine.scene.marks import Group, Region, Scene, Stroke, segments
from facetine.scene.markup import plain
from facetine.scene.typeset import Block, TextStyle


def draw(layout: Layout, scales: Scales, runs: Runs, sentence: Sentence, direct: list[DirectNames]) -> Scene:
    """The scene of a figure.

    Args:
        layout: Where everything goes.
        scales: The settled scales.
        runs: The layers with their tables.
        sentence: What the figure says of theme and chance.
        direct: The layers whose lines are named at their ends.
    """
    theme, seed = sentence.theme, sentence.seed
    root = Group("figure", "Figure", kind="figure")
    scene = Scene(layout.width, layout.height, theme.ground, root)
    _titles(layout, root)
    by_panel = [_panel_rows(run.table, len(layout.panels)) for run in runs]
    halos = [needs_halo(run, runs) for run in runs]
    for number, place in enumerate(layout.panels):
        heading = place.panel.heading
        name = "Panel" if heading is None else plain(heading)
        axes = scales.under(place.panel)
        group = root.group(f"panel-{number + 1}", name, kind="panel", panel=number)
        _hairlines(place, axes, theme, group)
        for run in runs:
            rows = by_panel[run.number][number]
            own = looks_of(run, rows, scales)
            if run.source is not None:
                own = _label_looks(run, runs[run.source], own, rows, scales)
            if halos[run.number] and run.layer.dark_on_own:
                own["color"] = Look((theme.text_color,))
            view = _View(place, scales, theme, seed + 104729 * number, halos[run.number])
            _layer(run, rows, own, view, number, group)
            for names in direct:
                if names.layer == run.number and len(rows):
                    _names(names, rows, place, scales, run.usual, layout, theme, group)
        _axes(layout, place, axes, theme, group)
        _second_axes(layout, place, axes, theme, group)
        _heading(place, theme, group)
    if layout.legends is not None and layout.legends.legends:
        draw_legends(layout.legends, layout.legend_at, theme, layout.fonts.tick, root.group("legends", "Legends", kind="legend"))
    return scene


def _names(
    names: DirectNames,
    rows: Columns,
    place: PanelPlace,
    scales: Scales,
    defaults: Mapping[str, Look],
    layout: Layout,
    theme: Theme,
    into: Group,
) -> None:
    look = scales.looks["color"].look(rows["color"]) if "color" in rows else defaults["color"]
    moved = _in_points(rows, place.box, scales.under(place.panel))
    draw_names(names, moved, look, place.box, layout.fonts.text, theme.gap, place.box.bottom - layout.fonts.text.cap / 2, into)


def _titles(layout: Layout, root: Group) -> None:
    for name, said in (("title", layout.title), ("subtitle", layout.subtitle), ("note", layout.note)):
        if said is not None:
            block, top = said
            root.group(name, name.capitalize(), kind="title").items.extend(block.placed(layout.left, top, role=name))
    for name, said in (("x-title", layout.x_title), ("y-title", layout.y_title)):
        if said is not None:
            block, top = said
            title = f"Title of the {name[0]} axis"
            root.group(name, title, kind="title").items.extend(block.placed(layout.left, top, role="axis title"))
    for block, top, right in layout.right_titles:
        group = root.group("second-title", "Title of a second axis", kind="title")
        group.items.extend(block.placed(right, top, 1.0, role="axis title"))


def _panel_rows(table: Columns, panels: int) -> list[Columns]:
    """The rows of each panel, in their order."""
    if panels == 1:
        return [table]
    order = np.argsort(table.panel, kind="stable")
    ends = np.searchsorted(table.panel[order], np.arange(panels + 1))
    return [table.take(order[start:end]) for start, end in itertools.pairwise(ends)]


def _in_points(rows: Columns, box: Region, axes: Mapping[str, Axis]) -> Columns:
    """The same rows with their places in points."""
    moved: dict[str, FloatArray] = {}
    for name, values in rows.values.items():
        axis = POSITIONS.get(name)
        if axis is not None:
            moved[name] = _to_points(axis, box, axes[axis])(values)
    return rows.put(**moved)


def _to_points(name: str, box: Region, axis: Axis) -> Callable[[FloatArray], FloatArray]:
    """From an axis's space to points."""
    if name == "x":
        return lambda values: box.x + axis.extent.share(values) * box.width
    return lambda values: box.bottom - axis.extent.share(values) * box.height


def looks_of(run: LayerRun, rows: Columns, scales: Scales) -> dict[str, Look]:
    """The looks of a layer's rows: what follows data, else the defaults."""
    looks = dict(run.usual)
    for name in run.layer.looks:
        follows = name in run.columns or name in run.layer.computed_looks
        if follows and name in rows and name in scales.looks and run.layer.constant(name) is None:
            looks[name] = scales.looks[name].look(rows[name])
    return looks


def _label_looks(run: LayerRun, source: LayerRun, own: dict[str, Look], rows: Columns, scales: Scales) -> dict[str, Look]:
    """Texts on filled marks take an ink that is readable there, unless one is said."""
    inside = getattr(run.layer, "side", None) in ("middle", "below") and source.layer.filled_marks
    if not inside or run.layer.constant("color") is not None:
        return own
    below = looks_of(source, rows, scales)["color"]
    inks = tuple(readable(below.of(row)) for row in range(len(rows)))
    return own | {"color": Look(inks or ("#000000",), np.arange(len(rows)) if inks else None)}


class _View(NamedTuple):
    """Where and how a layer is drawn."""

    place: PanelPlace
    scales: Scales
    theme: Theme
    seed: int
    halo: bool


def _layer(run: LayerRun, rows: Columns, looks: Mapping[str, Look], view: _View, panel: int, into: Group) -> None:
    order = run.number
    layer, theme, axes, box = run.layer, view.theme, view.scales.under(view.place.panel), view.place.box
    clip = box if any(axis.window for axis in axes.values()) and not layer.drops_outside else None
    said = layer.name or f"{layer.verb.capitalize()}"
    group = into.group(f"layer-{order + 1}-{layer.verb}", said, clip, kind="layer", layer=order)
    rows = _in_points(rows, box, axes)
    style = TextStyle(theme.font, theme.tick_text_size, 400, theme.text_color, theme.line_height)
    across, up = _to_points("x", box, axes["x"]), _to_points("y", box, axes["y"])
    slots = {axis: abs(float(np.diff(move(np.array([0.0, 1.0])))[0])) if axes[axis].kind == "levels" else 0.0
             for axis, move in (("x", across), ("y", up))}  # fmt: skip
    context = run.context
    name = context.panels[panel] if len(context.panels) > 1 else ""

    def say(code: str, text: str, mend: str = "", severity: Severity = "note") -> None:
        context.findings.add(code, context.where, text, mend, severity, f"panel {name!r}" if name else "")

    shared = PanelView(box, looks, view.seed + 7919 * order, -1, style, theme.ground, across, up, view.halo, slots["x"], say)
    if run.horizontal:
        turned_box = Region(box.y, box.x, box.height, box.width)
        own = shared._replace(box=turned_box, up=1, x=up, y=across, slot=slots["y"])
        group.items.extend(mark.transposed() for mark in layer.draw(rows.renamed(TURNED), own))
    else:
        group.items.extend(layer.draw(rows, shared))
    if layer.value_template is not None:
        small = style._replace(size=theme.value_text_size)
        texts = value_texts(layer, rows, shared, run.horizontal, small)
        # Texts stand beside their marks and are not cut with them.
        (
            group
            if clip is None
            else into.group(f"values-{order + 1}-{layer.verb}", f"Values of {said}", kind="values", layer=order)
        ).items.extend(texts)


def _tick_places(axis: Axis, at: tuple[float, ...], box: Region) -> FloatArray:
    share = axis.extent.share(np.array(at, float))
    return box.x + share * box.width if axis.name == "x" else box.bottom - share * box.height


def _hairlines(place: PanelPlace, axes: Mapping[str, Axis], theme: Theme, into: Group) -> None:
    if theme.hairlines == "none" or not theme.axes:
        return
    box, ends = place.box, []
    if axes["y"].kind != "levels":
        ends += [(box.x, y, box.right, y) for y in _tick_places(axes["y"], place.y_labels.ticks.at, box).tolist()]
    across_is_empty = not ends
    if (theme.hairlines == "both" or across_is_empty) and axes["x"].kind != "levels":
        ends += [(x, box.y, x, box.bottom) for x in _tick_places(axes["x"], place.x_labels.ticks.at, box).tolist()]
    if ends:
        stroke = Stroke(theme.hairline_color, theme.hairline_width)
        into.group("hairlines", "Hairlines", kind="hairlines").items.append(segments(np.array(ends), stroke))


def _axes(layout: Layout, place: PanelPlace, axes: Mapping[str, Axis], theme: Theme, into: Group) -> None:
    _x_axis(layout, place, axes["x"], theme, into.group("x-axis", "x axis", kind="axis"))
    _y_axis(place, axes["y"], theme, into.group("y-axis", "y axis", kind="axis"))


def _line_and_ticks(
    axis: Axis, ticks: AxisTicks, box: Region, theme: Theme, group: Group, second: bool = False
) -> tuple[FloatArray, float]:
    """Draws the line from the first to the last tick, or to the limits that were said, with its ticks outwards.

    Returns where the ticks are, and how long. An axis of categories has neither. A second axis stands on the other side
    of the panel.
    """
    at = _tick_places(axis, ticks.at, box)
    if axis.kind == "levels" or not len(at):
        return at, 0.0
    minor = _tick_places(axis, ticks.minor, box)
    every, long = np.concatenate([at, minor]), theme.tick_length
    ends_said = [end for end, said in zip((axis.extent.low, axis.extent.high), axis.stated, strict=True) if said]
    reach = np.concatenate([every, _tick_places(axis, tuple(ends_said), box)])
    # Along the axis and outwards from it, then turned to where the axis is.
    ends = [(min(reach), 0.0, max(reach), 0.0)] if len(reach) > 1 else []
    ends += [(place, 0.0, place, long) for place in at.tolist()]
    ends += [(place, 0.0, place, 0.55 * long) for place in minor.tolist()]
    lines = np.array(ends)
    if axis.name == "x":
        lines[:, [1, 3]] = box.y - lines[:, [1, 3]] if second else box.bottom + lines[:, [1, 3]]
    else:
        outwards = box.right + lines[:, [1, 3]] if second else box.x - lines[:, [1, 3]]
        lines = np.column_stack([outwards[:, 0], lines[:, 0], outwards[:, 1], lines[:, 2]])
    group.items.append(segments(lines, Stroke(theme.axis_color, theme.axis_width)))
    return at, long


def _second_axes(layout: Layout, place: PanelPlace, axes: Mapping[str, Axis], theme: Theme, into: Group) -> None:
    """The same values in other units, above and at the right."""
    box, top, right = place.box, layout.top_labels, layout.right_labels
    if top is not None:
        group = into.group("second-x-axis", "Second x axis", kind="axis")
        at, long = _line_and_ticks(axes["x"], top.ticks, box, theme, group, second=True)
        for x, block in zip(at.tolist() if place.shows_top else (), top.blocks, strict=False):
            group.items.extend(block.placed(x, box.y - long - theme.gap - block.height + block.type.descent, 0.5, role="tick"))
    if right is not None:
        group = into.group("second-y-axis", "Second y axis", kind="axis")
        at, long = _line_and_ticks(axes["y"], right.ticks, box, theme, group, second=True)
        for y, block in zip(at.tolist() if place.shows_right else (), right.blocks, strict=False):
            group.items.extend(block.placed(box.right + long + theme.gap, y - block.type.cap / 2, role="tick"))


def _x_axis(layout: Layout, place: PanelPlace, axis: Axis, theme: Theme, group: Group) -> None:
    labels = place.x_labels
    box = place.box
    at, long = _line_and_ticks(axis, labels.ticks, box, theme, group)
    if place.shows_x:
        top = box.bottom + long + layout.x_drop + theme.gap
        drops = labels.drops or (0.0,) * len(labels.blocks)
        for x, block, drop in zip(at.tolist(), labels.blocks, drops, strict=True):
            _x_label(block, x, top + drop, labels.angle, group)
        _outer_names(labels.outer, at, box.width / max(len(at), 1), top + labels.inner_height + theme.gap, theme, group)


def _outer_names(
    outer: tuple[tuple[int, int, Block], ...], at: FloatArray, slot: float, top: float, theme: Theme, group: Group
) -> None:
    """The names of the outer of crossed columns, each under a rule across what belongs to it."""
    for first, last, block in outer:
        left, right = sorted((float(at[first]), float(at[last])))
        rule = np.array([[left - 0.42 * slot, top, right + 0.42 * slot, top]])
        group.items.append(segments(rule, Stroke(theme.axis_color, theme.axis_width)))
        group.items.extend(block.placed((left + right) / 2, top + theme.gap, 0.5, role="tick"))


def _outer_sides(
    outer: tuple[tuple[int, int, Block], ...], at: FloatArray, slot: float, right: float, theme: Theme, group: Group
) -> None:
    """Likewise beside the y axis."""
    for first, last, block in outer:
        low, high = sorted((float(at[first]), float(at[last])))
        rule = np.array([[right, low - 0.42 * slot, right, high + 0.42 * slot]])
        group.items.append(segments(rule, Stroke(theme.axis_color, theme.axis_width)))
        group.items.extend(block.placed(right - theme.gap, (low + high) / 2 - block.type.cap / 2, 1.0, role="tick"))


def _x_label(block: Block, x: float, top: float, angle: float, group: Group) -> None:
    if angle == 0:
        group.items.extend(block.placed(x, top, 0.5, role="tick"))
        return
    # Turned labels read upwards and end at the axis; their lines stand side by side around the tick.
    middle = (len(block.lines) - 1) / 2
    for number, runs in enumerate(block.lines):
        shifted = x + (number - middle) * block.type.leading + block.type.cap / 2
        line = Block((runs,), (block.widths[number],), block.type)
        for text in line.placed(shifted, top - block.type.cap, 1.0, angle, "tick"):
            group.items.append(text)


def _y_axis(place: PanelPlace, axis: Axis, theme: Theme, group: Group) -> None:
    labels = place.y_labels
    box = place.box
    at, long = _line_and_ticks(axis, labels.ticks, box, theme, group)
    if place.shows_y:
        right = box.x - long - theme.gap
        for y, block in zip(at.tolist(), labels.blocks, strict=True):
            height = block.type.cap + (len(block.lines) - 1) * block.type.leading
            group.items.extend(block.placed(right, y - height / 2, 1.0, role="tick"))
        slot = box.height / max(len(at), 1)
        _outer_sides(labels.outer, at, slot, right - labels.inner_width - theme.gap, theme, group)


def _heading(place: PanelPlace, theme: Theme, into: Group) -> None:
    if place.heading is None:
        return
    group = into.group("heading", "Heading", kind="heading")
    top = place.heading_top
    rule = np.array([[place.box.x, top - theme.gap, place.box.x + min(14.0, place.box.width), top - theme.gap]])
    group.items.append(segments(rule, Stroke(theme.text_color, 2 * theme.axis_width)))
    group.items.extend(place.heading.placed(place.box.x, top, role="heading"))
