"""Lines: each group's rows joined."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import ClassVar

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.geometry.curves import enough
from facetine.core.query import Source
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, flag, option
from facetine.grammar.scale import DASHES
from facetine.layers.base import PanelView
from facetine.layers.bridges import STRETCH, bridge_option, stretch_starts, stretches
from facetine.layers.context import Context
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look, batches, combined, places
from facetine.layers.marking import Stroked
from facetine.layers.summary import (
    Aggregating,
    at_one_place,
    in_bins,
    in_their_places,
    summarised_with_gaps,
)
from facetine.messages.errors import KindError, OptionError
from facetine.scene.marks import Paths, Stroke, segments
from facetine.scene.region import Region

_UNSEEN = 0.01
"""In points: the smallest step that files write."""


def _rises_as_it_comes(rows: Columns) -> bool:
    """Whether lines of shares against shares rise all the way in the order of their rows: upright parts are meant then."""
    order = np.lexsort((rows.numbers, rows.group, rows.panel))
    x, y = rows["x"][order].astype(float), rows["y"][order].astype(float)
    same = (np.diff(rows.group[order]) == 0) & (np.diff(rows.panel[order]) == 0)
    shares = all(len(one) and np.nanmin(one) >= 0 and np.nanmax(one) <= 1 for one in (x, y))
    return bool(shares and (np.diff(x)[same] >= 0).all() and (np.diff(y)[same] >= 0).all())


@dataclass(frozen=True, kw_only=True)
class Lines(Stroked, Aggregating):
    """A line through the rows of each group; a row without y interrupts it."""

    verb: ClassVar[str] = "lines"
    chosen_says: ClassVar[str] = "Follows: rows as they are, or aggregates; lines break where those of all rows do."
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "A time and a number", 1, {"x": "time", "y": "temp_c", "color": "cellar"}, [{"lines": {"legend": False}}], "climate"
        ),
        Example(
            "A time and a number",
            5,
            {"x": "month", "y": "retail"},
            [{"lines": {"steps": True}}],
            "sales",
            called="lines(steps=True)",
        ),
    )
    column_as: ClassVar[str] = "lines"
    through_rows: ClassVar[bool] = True
    ends_count: ClassVar[bool] = True
    missing_says: ClassVar[str] = (
        "A row without y interrupts the line, unless `bridge=` joins its neighbours; a finding counts them."
    )
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    line_marks: ClassVar[bool] = True
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    keeps_gaps: ClassVar[bool] = True
    settled_columns: ClassVar[tuple[str, ...]] = (STRETCH,)

    steps: bool = option(False, flag)
    bridge: bool | float | str | None = option(None, bridge_option)
    gaps: str = option("open", choice("open", "dotted", name="words"))
    arrange: str | None = option(
        None,
        choice("overlay", "side_by_side", name="arrangements"),
        "By default the line of a group goes where its boxes, bars or the like stand, if they stand side by side.",
    )
    join_by: str = option("x", choice("x", "rows"))

    def a_mark_each(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """A line is of many rows, and those without a group are none."""
        return False

    def finish(self, context: Context) -> Finish:  # noqa: ARG002
        """Aggregates, or rows as they are, joined where those of all rows are."""
        return Finish("lines", "row" if self.aggregate == "none" else "place", {"how": self.aggregate, "steps": self.steps})

    def compute(self, source: Source, context: Context) -> Columns:
        """Rows in the order in which they are joined, groups one after the other."""
        if self.join_by == "rows" and (self.bridge is not None or self.gaps != "open"):
            raise OptionError(context.where, "bridge and gaps are for lines along x, not for rows as they come")
        if self.aggregate != "none":
            return stretches(
                summarised_with_gaps(in_bins(source, self.edges, context), self.aggregate, context), self.bridge, context
            )
        rows = source.rows()
        if self.join_by == "rows":
            return rows.take(np.lexsort((rows.group, rows.panel)))
        groups = at_one_place(rows)
        if len(groups.starts) < len(rows) and not _rises_as_it_comes(rows):
            context.say(
                "rows-at-one-place",
                f"several rows of one line have the same {context.columns['x']}",
                'aggregate="mean" draws their mean, map={"group": …} a line for each, join_by="rows" joins them as they come',
                severity="warning",
            )
        return stretches(rows.take(groups.order), self.bridge, context)

    def scattered(self, rows: Columns, context: Context) -> Columns:
        """Lines through the places of their groups."""
        apart = self.arrange == "side_by_side"
        if apart and not context.discrete("x"):
            raise KindError(
                context.where,
                f"lines side by side need categories on x, but {context.columns['x']!r} holds none",
                'leave out arrange=, or write .kinds(…="category") where its values are names',
            )
        return rows if self.arrange == "overlay" else in_their_places(rows, context, alone=apart)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """A line for each group."""
        if self.gaps == "dotted":
            yield from _over_gaps(rows, panel)
        yield from drawn_lines(rows, panel, self.steps)

    def key_size(self, size: float, looks: Mapping[str, Look]) -> tuple[float, float]:  # noqa: ARG002
        """Long enough for a dash to be told."""
        return 1.9 * size, 0.8 * size

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


SEAM = 0.7
"""Width of the seam of the ground at either side of a line over marks of its own color, in points."""


def drawn_lines(rows: Columns, panel: PanelView, steps: bool = False) -> Iterator[Paths]:
    """A line through the rows of each group, which stand together; it breaks where a value is missing."""
    if not len(rows):
        return
    at = places(rows)
    fresh = np.flatnonzero(np.append(True, rows.group[1:] != rows.group[:-1]))
    ends = np.append(fresh[1:], len(rows))
    for start, end in zip(fresh.tolist(), ends.tolist(), strict=True):
        inner = slice(start, end)
        if any(look.which is not None and np.ptp(look.which[inner]) for look in panel.looks.values()):
            for part in _parts(stretch_starts(rows, inner), start, end):
                own = {name: look.take(part) for name, look in panel.looks.items()}
                yield from _piecewise(at[part], own, steps, rows.numbers[part])
            continue
        line, starts, numbers = _unbroken(at[inner], rows.numbers[inner], stretch_starts(rows, inner), steps)
        if not len(line):
            continue
        looks = {name: look.of(start) for name, look in panel.looks.items()}
        if panel.halo:
            yield Paths(line, starts, Stroke(panel.ground, looks["line_width"] + 2 * SEAM, cap="round"))
        yield Paths(line, starts, _stroke(looks["color"], looks["line_width"], looks["dash"], looks["opacity"]), rows=numbers)


def eased(rows: Columns, panel: PanelView, *drawn: str) -> tuple[Columns, PanelView]:
    """Rows of computed curves without those that can't be seen to be missing, so that a curve has vertices to be edited by.

    Args:
        rows: Those of the curves, in points.
        panel: With their looks.
        *drawn: The columns that are drawn.
    """
    if not len(rows):
        return rows, panel
    groups, kept = grouped(rows.group), []
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        which = groups.order[start : start + size]
        if any(look.which is not None and np.ptp(look.which[which]) for look in panel.looks.values()):
            kept.append(which)
            continue
        curves = np.array([rows[name][which] for name in drawn], float)
        kept.append(which[enough(rows["x"][which], curves, _UNSEEN)])
    chosen = np.concatenate(kept)
    if len(chosen) == len(rows):
        return rows, panel
    looks = {name: look.take(chosen) for name, look in panel.looks.items()}
    return rows.take(chosen), panel._replace(looks=looks)


def _piecewise(at: FloatArray, looks: Mapping[str, Look], steps: bool, numbers: IntArray) -> Iterator[Paths]:
    """A line whose look follows the rows: each row's reaches halfway to its neighbours, in steps up to the next row."""
    count = len(at)
    if steps:
        corner = np.column_stack([np.append(at[1:, 0], at[-1:, 0]), at[:, 1]])
        before, after = at, np.append(at[1:], at[-1:], axis=0)
        parts = np.stack([before, corner, after], axis=1)
    else:
        middle = (at[1:] + at[:-1]) / 2
        # Next to a gap a row reaches no farther than itself.
        before = np.concatenate([at[:1], np.where(np.isfinite(middle), middle, at[1:])])
        after = np.concatenate([np.where(np.isfinite(middle), middle, at[:-1]), at[-1:]])
        parts = np.stack([before, at, after], axis=1)
    good = np.isfinite(parts).all(axis=(1, 2))
    found, which = combined(looks, ("color", "line_width", "dash", "opacity"), count)
    for (shade, width, dash, opacity), chosen in batches(Look(tuple(found), which), count):
        rows = np.zeros(count, bool)
        rows[chosen] = True
        drawn = parts[rows & good].reshape(-1, 2)
        if len(drawn):
            stroke = _stroke(shade, width, dash, opacity)._replace(cap="butt")
            yield Paths(drawn, np.arange(0, len(drawn), 3), stroke, rows=numbers[rows & good].repeat(3))


# A color must be seen in the legend, however fine the lines are.
_LEAST_KEY = 0.9


def line_key(box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
    """A short line across: how lines stand in a legend."""
    values = {name: look.values[0] for name, look in looks.items()}
    middle = box.y + box.height / 2
    ends = np.array([[box.x, middle, box.right, middle]])
    width = max(values["line_width"], _LEAST_KEY)
    yield segments(ends, _stroke(values["color"], width, values.get("dash", "solid"), 1.0))


def _stroke(ink: str, width: float, dash: str, opacity: float) -> Stroke:
    pattern = tuple(round(length * width, 3) for length in DASHES[dash])
    return Stroke(ink, width, pattern, opacity, cap="butt" if pattern else "round")


def _stepped(at: FloatArray, numbers: IntArray) -> tuple[FloatArray, IntArray]:
    """Each value held until the next x, and the row of each vertex."""
    if len(at) < 2:
        return at, numbers
    out = np.repeat(at, 2, axis=0)[:-1]
    out[1::2, 0] = at[1:, 0]
    return out, np.repeat(numbers, 2)[:-1]


def _parts(starts: IntArray, first: int, end: int) -> list[slice]:
    """The unbroken stretches of rows from the first one to an end."""
    edges = [*(first + starts).tolist(), end]
    return [slice(start, stop) for start, stop in pairwise(edges)]


def _unbroken(at: FloatArray, numbers: IntArray, starts: IntArray, steps: bool) -> tuple[FloatArray, IntArray, IntArray]:
    """The vertices of stretches, where each begins, and their rows."""
    if len(starts) < 2:
        return _without_gaps(*(_stepped(at, numbers) if steps else (at, numbers)))
    lines, begins, rows, count = list[FloatArray](), list[IntArray](), list[IntArray](), 0
    for part in _parts(starts, 0, len(at)):
        line, own, which = _unbroken(at[part], numbers[part], starts[:1], steps)
        lines, rows = [*lines, line], [*rows, which]
        begins.append(own + count)
        count += len(line)
    return np.concatenate(lines), np.concatenate(begins), np.concatenate(rows)


def _over_gaps(rows: Columns, panel: PanelView) -> Iterator[Paths]:
    """Thin dotted lines from where a stretch of a line ends to where its next one begins."""
    there = rows.take(np.isfinite(rows["y"]))
    kept = np.flatnonzero(np.isfinite(rows["y"]))
    if not len(there):
        return
    stretch = there[STRETCH] if STRETCH in there else np.zeros(len(there))
    lost = np.append(0, np.diff(kept) > 1)
    for row in np.flatnonzero((np.diff(there.group) == 0) & ((np.diff(stretch) != 0) | (lost[1:] > 0))).tolist():
        ends = np.array([[there["x"][row], there["y"][row], there["x"][row + 1], there["y"][row + 1]]])
        looks = {name: look.of(int(kept[row])) for name, look in panel.looks.items()}
        yield segments(ends, _stroke(looks["color"], 0.7 * looks["line_width"], "dotted", looks["opacity"]))


def _without_gaps(at: FloatArray, numbers: IntArray) -> tuple[FloatArray, IntArray, IntArray]:
    """The vertices that are there, where each unbroken stretch of two or more begins, and their rows; a lone one is doubled."""
    good = np.asarray(np.isfinite(at).all(axis=1))
    if good.all():
        line, fresh = at, np.zeros(len(at), bool)
        if len(line):
            fresh[0] = True
    else:
        line, numbers = at[good], numbers[good]
        fresh = np.append(True, ~good[:-1])[good]
        if len(fresh):
            fresh[0] = True
    alone = fresh & np.append(fresh[1:], True)
    if alone.any():
        # A stretch of a single row is drawn as a dot by its round cap, not lost.
        times = np.where(alone, 2, 1)
        line, numbers = np.repeat(line, times, axis=0), np.repeat(numbers, times)
        keep = np.repeat(fresh, times)
        second = np.cumsum(times)[alone] - 1
        keep[second] = False
        fresh = keep
    return line, np.flatnonzero(fresh).astype(np.int64), numbers
