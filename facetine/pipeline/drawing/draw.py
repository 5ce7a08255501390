"""From a laid-out figure to a scene: panels with their axes and marks, titles and legends, in named groups."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import lru_cache, partial
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.grammar.lengths import shift_points
from facetine.grammar.theme import Theme
from facetine.layers.base import PanelView
from facetine.layers.look import Look
from facetine.layers.values import readable, value_texts
from facetine.messages.findings import Remark, Severity
from facetine.pipeline.drawing.paled import paled
from facetine.pipeline.drawing.picked import add_by_category
from facetine.pipeline.guides.direct import draw_names
from facetine.pipeline.layout.bands import Side
from facetine.pipeline.layout.body import PlacedPanel
from facetine.pipeline.layout.part import Layout
from facetine.pipeline.rows.runs import LayerRun, Runs
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.chosen import looks_of_all, pale_ink, shows_all, wholes
from facetine.pipeline.scales.clipping import CURVES
from facetine.pipeline.scales.highlighted import passes, quiet_ink, quiet_rows, with_quiet
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.member import DirectNames, Member
from facetine.pipeline.scales.shades import needs_halo
from facetine.scene.marks import Mark, Paths, Rects, Stroke, Text, segments
from facetine.scene.markup import plain
from facetine.scene.region import Region
from facetine.scene.sketch import Sketch
from facetine.scene.typeset import TextStyle

_SEARCHED = ("reference", "region", "callout")
"""The roles of texts that are noted where their place is found."""


class Drawing(NamedTuple):
    """A figure that is ready to be drawn."""

    layout: Layout
    members: Sequence[Member]
    inks: Sequence[Inks]
    """Of each of the figures; the same on all pages."""

    @classmethod
    def of(cls, layout: Layout, members: Sequence[Member]) -> Drawing:
        """Figures at their places."""
        return cls(layout, members, [Inks.of(member) for member in members])

    def draw(self, page: int, into: Sketch) -> list[Remark]:
        """Adds what stands on one of its pages, texts in the order in which they are read; returns what its layers say."""
        remarks = list[Remark]()
        notes = [words for words in self.layout.titles if words.words.role == "note"]
        for words in self.layout.titles:
            if words.words.role != "note":
                words.draw(into)
        for on_page, span in self.layout.spans:
            if on_page == page:
                span.draw(into)
        for place in self.layout.panels:
            if place.panel.page == page:
                remarks += _panel(place, self.members[place.panel.field], self.inks[place.panel.field], self.layout, into)
        self.layout.legends.draw(into)
        for words in notes:
            words.draw(into)
        return remarks


class Inks(NamedTuple):
    """What the drawing of a figure's panels has in common."""

    by_panel: list[list[Columns]]
    """The rows of each layer in each panel."""
    of_all: dict[int, list[Columns]]
    """The same of all rows, for layers that show chosen ones, by their numbers."""
    halos: list[bool]
    """Whether each layer needs a seam of the ground."""

    @classmethod
    def of(cls, member: Member) -> Inks:
        """Those of a figure's panels."""
        runs = member.runs
        panels = len(member.split.panels)
        every = {run.number: _panel_rows(run.whole, panels) for run in runs if run.whole is not None}
        return cls([_panel_rows(run.table, panels) for run in runs], every, [needs_halo(run, runs) for run in runs])


def _panel(place: PlacedPanel, member: Member, inks: Inks, layout: Layout, root: Sketch) -> list[Remark]:
    """One panel with its hairlines, layers, axes and headings; returns what the layers say."""
    remarks = list[Remark]()
    sentence, scales, runs = member.split.sentence, member.scales, member.runs
    theme, said, number = sentence.theme, place.panel.name, place.panel.number - member.first
    axes = scales.under(place.panel)
    name = f"panel-{place.panel.number + 1}"
    group = root.group(
        name, "Panel" if said is None else plain(said), kind="panel", panel=place.panel.number, member=member.place
    )
    for heading in place.headings:
        heading.draw(group)
    _ground(place.box, theme, group)
    _hairlines(place, axes, theme, group)
    right = layout.free_to_the_right(place)
    whiskers = _whiskers(runs, [parts[number] for parts in inks.by_panel], place.box, axes)
    taken = list[Region]()
    lines = [
        line
        for run in runs
        for line in run.layer.lines_of(_placed(run, inks.by_panel[run.number][number], place.box, axes), place.box)
    ]
    lit = sentence.highlight
    for run in runs:
        if shows_all(run, sentence):
            rows = wholes(run, inks.of_all[run.number][number])
            view = _View(place, scales, theme, sentence.seed, False, {}, _ALL, lambda: np.zeros((0, 2)), [], [], right)
            remarks += _layer(run, rows, looks_of_all(run, looks_of(run, rows, scales), theme), view, number, group)
    for run, quiet in passes(runs, lit is not None):
        rows = inks.by_panel[run.number][number]
        own = looks_of(run, rows, scales)
        if run.borrowed_from is not None:
            own = _label_looks(run, runs[run.borrowed_from], own, rows, scales)
        if inks.halos[run.number] and run.layer.dark_on_own:
            own["color"] = Look((theme.text_color,))
        told = quiet_rows(run if run.borrowed_from is None else runs[run.borrowed_from], rows) if lit is not None else None
        if lit is not None and told is not None:
            own = with_quiet(own, told, quiet_ink(lit, theme))
            if quiet is not None:
                chosen = np.flatnonzero(told == quiet)
                rows, own = rows.take(chosen), {name: look.take(chosen) for name, look in own.items()}
        elif quiet:
            continue
        others = partial(_around, [one for one in runs if one.number != run.number], inks, number, place.box, axes)
        seed, halo = sentence.seed, inks.halos[run.number]
        view = _View(place, scales, theme, seed, halo, whiskers, _OTHERS if quiet else _NO_PART, others, taken, lines, right)
        remarks += _layer(run, rows, own, view, number, group)
        if quiet:
            continue
        for names in member.direct:
            if names.layer == run.number and len(rows):
                _names(names, rows, place, scales, run.usual, layout, theme, group)
    _frame(place.box, theme, group)
    for band in place.bands:
        band.draw(group)
    return remarks


_SLACK = 0.1
"""Points by which marks at the edge of a panel may lie beyond it."""


def _beyond(rows: Columns, box: Region, in_lines: bool) -> int:
    """How many marks, or lines through them, reach beyond their panel."""
    beyond = np.zeros(len(rows), bool)
    for name, values in rows.values.items():
        low, high = (box.x, box.right) if POSITIONS.get(name) == "x" else (box.y, box.bottom)
        if name in POSITIONS:
            at = values.astype(float)
            beyond |= (at < low - _SLACK) | (at > high + _SLACK)
    if not in_lines:
        return int(beyond.sum())
    return len(grouped(rows.panel[beyond], rows.group[beyond]).starts) if beyond.any() else 0


def _around(runs: Sequence[LayerRun], inks: Inks, number: int, box: Region, axes: Mapping[str, Axis]) -> FloatArray:
    """The places of the marks of some layers in a panel."""
    return places_of(tuple(runs), [_placed(run, inks.by_panel[run.number][number], box, axes) for run in runs])


def _ground(box: Region, theme: Theme, into: Sketch) -> None:
    """What lies behind the marks, where it is not the sheet."""
    if theme.panel_ground is not None:
        place = np.array([[box.x, box.y, box.width, box.height]])
        into.group("ground", "Ground", kind="ground").add([Rects(place, (theme.panel_ground,))])


def _frame(box: Region, theme: Theme, into: Sketch) -> None:
    """A line around the panel, over its marks."""
    if theme.panel_frame is not None and theme.panel_frame_width > 0:
        corners = np.array([(box.x, box.y), (box.right, box.y), (box.right, box.bottom), (box.x, box.bottom)])
        line = Paths(corners, np.array([0]), Stroke(theme.panel_frame, theme.panel_frame_width), closed=True)
        into.group("frame", "Frame", kind="frame").add([line])


def _names(
    names: DirectNames,
    rows: Columns,
    place: PlacedPanel,
    scales: Scales,
    defaults: Mapping[str, Look],
    layout: Layout,
    theme: Theme,
    into: Sketch,
) -> None:
    look = scales.looks["color"].look(rows["color"]) if "color" in rows else defaults["color"]
    moved = _in_points(rows, place.box, scales.under(place.panel))
    draw_names(names, moved, look, place.box, layout.styles.text, theme.gap, place.box.bottom - layout.styles.text.cap / 2, into)


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


def _placed(run: LayerRun, rows: Columns, box: Region, axes: Mapping[str, Axis]) -> Columns:
    """The rows of a layer in points, as far beside their slots as it is shifted."""
    rows, shift, axis = _in_points(rows, box, axes), shift_of(run), "y" if run.horizontal else "x"
    return rows.put(**{name: rows[name] + shift for name in (axis, f"{axis}_low", f"{axis}_high") if shift and name in rows})


def shift_of(run: LayerRun) -> float:
    """How far its marks are moved beside their slots, in points."""
    said = getattr(run.layer, "shift", None)
    # That of a layer of texts is a way in two directions, which moves no places.
    return shift_points(said) if isinstance(said, str) else 0.0


def _whiskers(runs: Runs, rows: Sequence[Columns], box: Region, axes: Mapping[str, Axis]) -> dict[int, list[Region]]:
    """For each layer whose values are written, the intervals of the other layers of a panel."""
    written = [run.number for run in runs if run.layer.value_template is not None]
    found: dict[int, list[Region]] = {number: [] for number in written}
    for run in runs if written else ():
        if run.layer.spans:
            at = _placed(run, rows[run.number], box, axes)
            along, ends = ("y", ("x_low", "x_high")) if run.horizontal else ("x", ("y_low", "y_high"))
            low, high = np.minimum(at[ends[0]], at[ends[1]]), np.maximum(at[ends[0]], at[ends[1]])
            spans = zip(low.tolist(), at[along].tolist(), (high - low).tolist(), strict=True)
            regions = [Region(a, m - 1, far, 2) if run.horizontal else Region(m - 1, a, 2, far) for a, m, far in spans if far > 0]
            for number in written:
                found[number] += regions if number != run.number else []
    return found


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
    inside = (
        getattr(run.layer, "side", None) in ("middle", "left" if source.horizontal else "below") and source.layer.filled_marks
    )
    if not inside or run.layer.constant("color") is not None:
        return own
    below = looks_of(source, rows, scales)["color"]
    inks = tuple(readable(below.of(row)) for row in range(len(rows)))
    return own | {"color": Look(inks or ("#000000",), np.arange(len(rows)) if inks else None)}


def seed_of(seed: int, panel: int, layer: int) -> int:
    """What a layer draws by chance in a panel is told apart from others by this.

    Args:
        seed: Of the figure.
        panel: The number of the panel in the figure.
        layer: The number of the layer.
    """
    return seed + 104729 * panel + 7919 * layer


class _Part(NamedTuple):
    """A part of a layer that is drawn apart from it."""

    mark: str = ""
    """What stands behind the name of its group."""
    title: str = ""


_NO_PART = _Part()
_OTHERS = _Part("-others", ", the others")
_ALL = _Part("-all", ", all rows")


class _View(NamedTuple):
    """Where and how a layer is drawn."""

    place: PlacedPanel
    scales: Scales
    theme: Theme
    seed: int
    halo: bool
    whiskers: Mapping[int, list[Region]]
    """For layers whose values are written: the intervals of others, and what these have written, in points."""
    part: _Part
    """Which part of its rows is drawn."""
    others: Callable[[], FloatArray]
    """The places of the marks of other layers."""
    taken: list[Region]
    """Where texts stand in the panel so far."""
    lines: Sequence[Region]
    """The lines of references."""
    right: float
    """How far texts may reach beside the panel."""


def _layer(run: LayerRun, rows: Columns, looks: Mapping[str, Look], view: _View, panel: int, into: Sketch) -> list[Remark]:
    order = run.number
    layer, theme = run.prepared.get(panel, run.layer), view.theme
    axes, box = view.scales.under(view.place.panel), view.place.box
    windows = any(axis.window for axis in axes.values()) and not layer.drops_outside
    placed = _placed(run, rows, box, axes)
    thing = "line" if layer.through_rows else layer.thing
    beyond = _beyond(placed, box, thing in CURVES) if run.whole is not None and view.part is not _ALL else 0
    clip = box if windows or layer.over_edges or beyond else None
    said = f"{layer.name or layer.verb.capitalize()}{view.part.title}{', all rows' if run.stays else ''}"
    mark = view.part.mark
    group = into.group(f"layer-{order + 1}-{layer.verb}{mark}", said, clip, kind="layer", layer=order, raster=layer.rasterize)
    levels, rows = rows, placed
    style = TextStyle(theme.font, theme.tick_text_size, 400, theme.text_color, theme.line_height)
    across, up = _to_points("x", box, axes["x"]), _to_points("y", box, axes["y"])
    slots = {axis: abs(float(np.diff(move(np.array([0.0, 1.0])))[0])) if axes[axis].kind == "levels" else 0.0
             for axis, move in (("x", across), ("y", up))}  # fmt: skip
    remarks, where, names = list[Remark](), run.context.where, run.context.panels
    called = f"panel {names[panel]!r}" if len(names) > 1 and names[panel] else ""

    def say(code: str, text: str, fix: str = "", severity: Severity = "info") -> None:
        remarks.append(Remark(code, where, text, fix, severity, called))

    def tally(code: str, amount: int, thing: str, fate: str, fix: str = "") -> None:
        remarks.append(Remark(code, where, fate, fix, place=called, counted=(amount, thing)))

    if shift := shift_of(run):
        axis, move = ("y", up) if run.horizontal else ("x", across)
        far = np.abs(rows[axis] - move(np.round(levels[axis]))) > 0.5 * slots[axis]
        if far.any():
            say("outside-slot", f"shifted by {shift:g} pt, marks leave the slot of their category", "a smaller shift=", "warning")
    seed, ground = seed_of(view.seed, panel, order), theme.ground_below
    shared = PanelView(
        box, looks, seed, -1, style, ground, across, up, view.halo, slots["x"], view.others, view.taken, view.lines, say, tally
    )
    if run.horizontal and not layer.stands_level:
        turned_box = Region(box.y, box.x, box.height, box.width)
        own = shared._replace(box=turned_box, up=1, x=up, y=across, slot=slots["y"])
        marks: Iterable[Mark] = (mark.transposed() for mark in layer.draw(rows.renamed(TURNED), own))
    else:
        marks = layer.draw(rows, shared)
    pale = lru_cache(partial(pale_ink, theme=theme)) if run.stays else None
    marks = marks if pale is None else paled(marks, pale)
    add_by_category(_about(_noted(marks, view.taken), rows), group, run, rows, view.scales.looks)
    if beyond:
        tally("beyond-axes", beyond, thing, "of the chosen rows beyond the axes, which are those of all rows, cut there")
    if layer.value_template is not None and view.part is not _ALL:
        small = style._replace(size=theme.value_text_size)
        texts = list(value_texts(layer, rows, shared, run.horizontal, small, view.whiskers.get(run.number, ()), view.right))
        for number, taken in view.whiskers.items():
            taken += [text.box for text in texts] if number != run.number else []
        view.taken.extend(text.box for text in texts)
        # Texts stand beside their marks and are not cut with them.
        (
            group
            if clip is None
            else into.group(f"values-{order + 1}-{layer.verb}{mark}", f"Values of {said}", kind="values", layer=order)
        ).add(_about(texts if pale is None else paled(texts, pale), rows))
    return remarks


def _about(marks: Iterable[Mark], rows: Columns) -> Iterator[Mark]:
    """Marks as they are; texts with the places of the rows of which they tell.

    Args:
        marks: Those of a layer in a panel.
        rows: Its rows in points, under the numbers that its texts have.
    """
    row_of: dict[int, int] = {}
    places: dict[str, list[list[float]]] = {}
    for mark in marks:
        if isinstance(mark, Text) and mark.row is not None:
            if not row_of:
                row_of = {number: row for row, number in enumerate(rows.numbers.tolist())}
                places = {axis: _places_on(axis, rows) for axis in ("x", "y")}
            row = row_of.get(mark.row)
            if row is not None:
                yield mark._replace(about=(_nearest(places["x"], row, mark.x), _nearest(places["y"], row, mark.y)))
                continue
        yield mark


def _places_on(axis: str, rows: Columns) -> list[list[float]]:
    """The places of all rows along an axis; their ends where they have no place of their own."""
    ends = [f"{axis}_{end}" for end in ("low", "high", "to")]
    return [rows[name].tolist() for name in ([axis] if axis in rows else ends) if name in rows]


def _nearest(places: list[list[float]], row: int, near: float) -> float:
    """Of the places of a row the nearest one; NaN where it has none."""
    there = [column[row] for column in places if math.isfinite(column[row])]
    return min(there, key=lambda place: abs(place - near), default=float("nan"))


def _noted(marks: Iterable[Mark], taken: list[Region]) -> Iterator[Mark]:
    """Marks as they are drawn; texts of those that search no place for them are kept clear too."""
    for mark in marks:
        if isinstance(mark, Text) and mark.role not in _SEARCHED:
            taken.append(mark.box)
        yield mark


def _ticks(place: PlacedPanel, side: Side) -> list[float]:
    """Where the ticks of an axis are, in points."""
    band = place.band(side)
    places: list[float] = band.at(band.labels.ticks.at).tolist() if band is not None else []
    return places


def _hairlines(place: PlacedPanel, axes: Mapping[str, Axis], theme: Theme, into: Sketch) -> None:
    if theme.hairlines == "none" or not theme.axes:
        return
    box, ends = place.box, []
    if axes["y"].kind != "levels":
        ends += [(box.x, y, box.right, y) for y in _ticks(place, "left")]
    across_is_empty = not ends
    if (theme.hairlines == "both" or across_is_empty) and axes["x"].kind != "levels":
        ends += [(x, box.y, x, box.bottom) for x in _ticks(place, "below")]
    if ends:
        stroke = Stroke(theme.hairline_color, theme.hairline_width)
        into.group("hairlines", "Hairlines", kind="hairlines").add([segments(np.array(ends), stroke)])


_BIT = 2.5
"""Points between two places on a line."""


_MOST = 20_000


_CELL = 1.5
"""Where there are more places than that, one is kept for each cell of so many points."""


def places_of(runs: Runs, rows: Sequence[Columns]) -> FloatArray:
    """The places of the marks of layers in a panel, shape (n, 2), in points.

    Args:
        runs: The layers.
        rows: Their computed rows in the panel, in points, x and y as the reader sees them.
    """
    found = [_of_layer(run, one) for run, one in zip(runs, rows, strict=True) if len(one) and not run.layer.explains]
    every: FloatArray = np.concatenate([np.zeros((0, 2)), *found])
    every = every[np.isfinite(every).all(axis=1)]
    if len(every) <= _MOST:
        return every
    cells: FloatArray = np.unique(np.floor(every / _CELL), axis=0)
    return (cells + 0.5) * _CELL


def _of_layer(run: LayerRun, rows: Columns) -> FloatArray:
    values: Mapping[str, FloatArray] = rows.values
    corners = ("x_low", "x_high", "y_low", "y_high")
    value, place = run.value_axis, "x" if run.value_axis == "y" else "y"
    ends = (f"{value}_low", f"{value}_high")
    if all(name in values for name in corners):
        left, right, low, high = (values[name].astype(float) for name in corners)
        borders = [(left, low, right, low), (right, low, right, high), (right, high, left, high), (left, high, left, low)]
        return np.concatenate([_between(np.column_stack(border)) for border in borders])
    made = []
    # What lies on a band can be read; it is its line that is kept free.
    if (run.layer.spans or run.layer.kept_free) and all(name in values for name in (place, *ends)):
        low, high, at = values[ends[0]].astype(float), values[ends[1]].astype(float), values[place].astype(float)
        made.append(_between(np.column_stack((at, low, at, high) if value == "y" else (low, at, high, at))))
    if "x" in values and "y" in values:
        made.append(_along(rows, place, value, value) if run.layer.line_marks else np.column_stack([values["x"], values["y"]]))
    return np.concatenate([np.zeros((0, 2)), *made]).astype(float)


def _along(rows: Columns, place: str, end: str, value: str) -> FloatArray:
    """Places along the lines that join the rows of each group."""
    at, far = rows[place].astype(float), rows[end].astype(float)
    same = rows.group[1:] == rows.group[:-1]
    ends = np.column_stack([at[:-1], far[:-1], at[1:], far[1:]])[same]
    points = np.concatenate([np.column_stack([at, far]), _between(ends)])
    return points if value == "y" else points[:, ::-1]


def _between(ends: FloatArray) -> FloatArray:
    """Places on straight lines, shape (m, 2).

    Args:
        ends: Shape (n, 4): x and y of the one end, x and y of the other.
    """
    ends = ends[np.isfinite(ends).all(axis=1)]
    if not len(ends):
        return np.zeros((0, 2))
    long = np.hypot(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1])
    counts = np.minimum(np.ceil(long / _BIT).astype(np.int64) + 1, 4000)
    which = np.repeat(np.arange(len(ends)), counts)
    step = np.arange(len(which)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = (step / np.maximum(counts[which] - 1, 1))[:, None]
    places: FloatArray = ends[which, :2] * (1 - share) + ends[which, 2:] * share
    return places
