"""Points: a marker for each row, or for each summary of rows."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrange.bars import group_places
from facetine.core.arrange.swarm import jitter, swarm_within, swarm_work
from facetine.core.arrays import AnyArray
from facetine.core.columns import Columns
from facetine.core.query import Source, shuffle_keys
from facetine.core.stats.groups import grouped
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.lengths import shift_option
from facetine.grammar.options import choice, number, option, whole
from facetine.layers.base import PanelView
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.ends import ENDS, given_along
from facetine.layers.example import Example
from facetine.layers.finish import Finish
from facetine.layers.look import Look, batches, combined, places
from facetine.layers.marking import Filled, Sized
from facetine.layers.summary import (
    BESIDE,
    Aggregating,
    cells,
    in_bins,
    in_their_places,
    need_slots,
    say_apart,
    say_moved,
    slots,
    summarised,
)
from facetine.layers.tallied import NAMES, beside_each_other, tallied
from facetine.messages.errors import KindError, OptionError
from facetine.scene.marks import Mark, Markers, MarkerStyle, Paths, Stroke, segments
from facetine.scene.region import Region
from facetine.scene.shapes import HOLLOW, OUTLINES, is_filled


@dataclass(frozen=True, kw_only=True)
class Points(Filled, Sized, Aggregating):
    """A marker for each row: scatter, bubbles, strips of dots. Groups are drawn interleaved, so none hides another."""

    verb: ClassVar[str] = "points"
    chosen_says: ClassVar[str] = (
        "Follows: rows at their places, aggregates, and how many lie on a spot. Of all rows: beeswarms, whose rows have "
        "made room for each other, and aggregates that chance moves."
    )
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "One category, or two",
            4,
            {"x": "rind", "y": "cellar"},
            [{"points": {"arrange": "tally", "legend": False}}],
            called='points(arrange="tally")',
        ),
        Example(
            "A category and a number",
            3,
            {"x": "milk", "y": "mass_kg"},
            [{"points": {"arrange": "beeswarm", "size": 1.3}}],
            called='points(arrange="beeswarm")',
        ),
        Example("Two numbers", 1, {"x": "age_days", "y": "firmness_n"}, ["points"]),
    )
    in_slots: ClassVar[bool] = True
    column_as: ClassVar[str] = "points"
    reaches: ClassVar[str] = "given"
    draws_rows: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True
    takes_ends: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = (
        "x",
        "y",
        *ENDS,
        "color",
        "outline",
        "opacity",
        "size",
        "shape",
        "line_width",
        "group",
        "weight",
    )
    drops_outside: ClassVar[bool] = True
    thing: ClassVar[str] = "point"
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "size", "shape", "line_width")
    bordered: ClassVar[bool] = True

    arrange: str | None = option(
        None,
        choice("overlay", "jitter", "beeswarm", "side_by_side", "tally", name="arrangements"),
        'By default points lie over each other, each group where its boxes, bars or the like stand. "tally" makes one of them, '
        "whose area tells how many rows there are.",
    )
    within: str | None = option(
        None,
        choice("jitter", "beeswarm", name="arrangements"),
    )
    shift: str | None = option(None, shift_option)
    spread_x: float | None = option(
        None,
        number(0, 1e9),
    )
    spread_y: float | None = option(None, number(0, 1e9))
    thin: int | None = option(None, whole(1))

    draw_order: str = option(
        "mixed",
        choice("mixed", "groups", name="orders"),
    )

    def small(self, size: float) -> Self:
        """With points of a size, where none is said."""
        return self if self.constant("size") is not None else replace(self, size=size)

    @property
    def computed_looks(self) -> tuple[str, ...]:  # type: ignore[override]
        """The size, where it tells how many rows lie on a spot."""
        return ("size",) if self.arrange == "tally" else ()

    @property
    def scatters(self) -> bool:  # type: ignore[override]
        """Where chance moves points."""
        return self._spread == "jitter"

    @property
    def drawn_at_once(self) -> bool:  # type: ignore[override]
        """Where points find their places beside each other."""
        return self.arrange == "tally" or self._spread == "beeswarm"

    def names(self) -> Mapping[str, Computed]:
        """With what is counted on a spot."""
        return {**super().names(), **(NAMES if self.arrange == "tally" else {})}

    def all_names(self) -> Mapping[str, Computed]:
        """With what is counted on a spot."""
        return {**super().all_names(), **NAMES}

    def summarises(self, mapped: Mapped) -> bool:
        """With an aggregate, and where rows on a spot are one mark."""
        return super().summarises(mapped) or self.arrange == "tally"

    def uses_weight(self, mapped: Mapped) -> bool:
        """Where rows are taken together."""
        return self.summarises(mapped)

    def shows(self, mapped: Mapped) -> tuple[str, ...]:
        """All but the size that tells a count, and ends of which one is missing."""
        along = set() if self.summarises(mapped) else given_along(mapped)
        unseen = {*self.computed_looks, *(name for name in ENDS if name[0] not in along)}
        return tuple(name for name in self.takes if name not in unseen)

    def look_drawn(self, context: Context) -> Drawn:
        """The count."""
        return Drawn(title=context.weight_title()) if self.arrange == "tally" else Drawn()

    def finish(self, context: Context) -> Finish | None:  # noqa: ARG002
        """Rows at their places, aggregates, or how many lie on a spot; those of a beeswarm have made room for all."""
        if self._spread == "beeswarm":
            return None
        if self.arrange == "tally":
            return Finish("tally", "spot", counts=True)
        if self.aggregate == "none":
            return Finish("rows", "row")
        # Chance would move other marks than those of all rows.
        return Finish("points", "place", {"how": self.aggregate}) if self._spread is None else None

    def compute(self, source: Source, context: Context) -> Columns:
        """The rows, or one for each x of each group or each spot; `drawn` is 0 for those that thinning leaves out."""
        if self.arrange == "tally":
            return tallied(in_bins(source, self.edges, context), self, context)
        rows = (
            summarised(in_bins(source, self.edges, context), self.aggregate, context)
            if self.aggregate != "none"
            else source.rows()
        )
        self._check_arrangement(context)
        if self.thin is not None and len(rows) > self.thin:
            chosen = np.zeros(len(rows))
            chosen[np.argsort(shuffle_keys(rows.numbers, context.seed), kind="stable")[: self.thin]] = 1.0
            context.say("rows-thinned", f"{self.thin:,} of {len(rows):,} rows drawn")
            return rows.put(drawn=chosen)
        return rows

    def _check_arrangement(self, context: Context) -> None:
        beside = self.arrange == "side_by_side"
        if self.within is not None and not beside:
            raise OptionError(
                context.where, "within= says how groups that stand side by side are spread", 'write arrange="side_by_side"'
            )
        given = [name for name in ("spread_x", "spread_y") if getattr(self, name) is not None]
        if given and self._spread != "jitter" and not (beside and not context.discrete("x") and self.within is None):
            raise OptionError(
                context.where,
                f"{given[0]}= says how far jitter goes, or how far groups stand apart on an axis of numbers",
                'write arrange="jitter"',
            )
        if len(given) > 1 and beside and self.within is None:
            raise OptionError(context.where, "groups stand side by side along one axis", "leave out spread_x or spread_y")
        if (self.arrange == "beeswarm" or self.within is not None) and not context.discrete("x"):
            way = "a beeswarm" if self.within is None else f"{self._spread} about a place"
            said = f"{way} needs categories on one axis, but {context.columns['x']!r} holds none"
            raise KindError(context.where, said, 'write .kinds(…="category") for the axis that points may leave')

    def scattered(self, rows: Columns, context: Context) -> Columns:
        """Points moved aside with their ends: where they are jittered by chance, or to the place of their group."""
        moved = self._moved(rows, context)
        ends = [name for name in ENDS if name in rows]
        return moved.put(**{name: rows[name] + (moved[name[0]] - rows[name[0]]) for name in ends}) if ends else moved

    def _moved(self, rows: Columns, context: Context) -> Columns:
        need_slots(self.shift, context)
        if self.arrange is None:
            return in_their_places(rows, context)
        if self.arrange in ("overlay", "tally") or not len(rows):
            return rows
        if self.arrange == "side_by_side" and not context.discrete("x"):
            return self._apart(rows, context)
        center, room = _own_place(rows, context, self.arrange == "side_by_side")
        rows = rows.put(x=center, room=np.full(len(rows), room))
        return self._jittered(rows, room, context) if self._spread == "jitter" else rows

    @property
    def _spread(self) -> str | None:
        """How points that share a place are spread about it."""
        return self.within if self.arrange == "side_by_side" else self.arrange

    def _jittered(self, rows: Columns, room: float, context: Context) -> Columns:
        moved = {}
        # Jitter that is said along one axis moves along that one alone.
        unsaid = self.spread_x is None and self.spread_y is None
        free = not (context.discrete("x") or context.discrete("y"))
        both = free and (unsaid or all(said is not None and said > 0 for said in (self.spread_x, self.spread_y)))
        if both:
            context.say(
                "jitter-on-both",
                "jitter moves measured numbers on both axes",
                "spread_x=0 or spread_y=0 keeps one; opacity= shows overlaps too",
                severity="warning",
            )
        for place, (axis, said) in enumerate((("x", self.spread_x), ("y", self.spread_y))):
            values = rows[axis].astype(float)
            slot = 0.5 * (room if axis == "x" else 1.0)
            usual = 0.6 * slot if context.discrete(axis) else 0.01 * float(np.ptp(values)) if free else 0.0
            spread = said if said is not None else usual if unsaid else 0.0
            if spread > 0 and not context.discrete(axis) and not both:
                say_moved("jitter moves points", spread, axis, context)
            if context.discrete(axis) and spread > slot:
                context.say("jitter-limited", f"a spread of {spread:g} would leave the slot of its category; {slot:g} is drawn")
                spread = slot
            moved[axis] = values + jitter(len(values), spread, context.seed + place)
        return rows.put(**moved)

    def _apart(self, rows: Columns, context: Context) -> Columns:
        """Groups at one place of an axis of numbers next to each other: as other layers set them, or by an even step."""
        if self.spread_x is None and self.spread_y is None:
            return rows.put(x=cells(rows, context.slot_share or BESIDE, "side_by_side", context).center)
        axis, step = ("y", self.spread_y) if self.spread_x is None else ("x", self.spread_x)
        groups, rank = np.unique(rows.group, return_inverse=True)
        moved = ((rank - (len(groups) - 1) / 2) * (step or 0.0)).astype(float)
        say_apart(moved, axis, context)
        return rows.put(**{axis: rows[axis] + moved})

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Markers; in a beeswarm beside each other."""
        if self._spread == "beeswarm":
            rows = _swarmed(rows, panel)
        if self.arrange == "tally" and len(rows):
            size = panel.looks["size"]
            rows = beside_each_other(rows, np.array(size.of_each(np.arange(len(rows))), float))
        if "drawn" in rows:
            drawn = rows["drawn"] > 0
            panel = panel._replace(looks={name: look.take(drawn) for name, look in panel.looks.items()})
            rows = rows.take(drawn)
        yield from _whiskers(rows, panel)
        yield from drawn_points(rows, panel, self.draw_order == "groups")

    def key_size(self, size: float, looks: Mapping[str, Look]) -> tuple[float, float]:
        """As large as the point itself."""
        point = float(looks["size"].values[0]) if "size" in looks else 0.0
        return max(point, 0.8 * size), max(point, 0.8 * size)

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
        """One opaque marker in the middle."""
        yield from point_key(box, looks)


def _whiskers(rows: Columns, panel: PanelView) -> Iterator[Paths]:
    """Lines between the given ends of points, one batch for each look."""
    for axis, other in (("x", "y"), ("y", "x")):
        if f"{axis}_low" not in rows or not len(rows):
            continue
        order = (f"{axis}_low", other, f"{axis}_high", other) if axis == "x" else (other, f"{axis}_low", other, f"{axis}_high")
        lines = np.column_stack([rows[name].astype(float) for name in order])
        parts, which = combined(panel.looks, ("color", "line_width", "opacity"), len(rows))
        for (shade, width, opacity), chosen in batches(Look(tuple(parts), which), len(rows)):
            yield segments(lines[chosen], Stroke(shade, width, (), opacity), rows.numbers[chosen])


def drawn_points(rows: Columns, panel: PanelView, by_group: bool = False) -> Iterator[Markers]:
    """Markers in a seeded order, or group by group, one batch for each opacity."""
    count = len(rows)
    if not count:
        return
    at, looks, numbers = places(rows), panel.looks, rows.numbers
    sized = looks["size"].which is not None
    if any(looks[name].which is not None for name in ("color", "shape", "size")):
        shuffled = np.argsort(shuffle_keys(np.arange(count), panel.seed), kind="stable")
        if sized:
            # Large points lie below small ones.
            shuffled = shuffled[np.argsort(-np.array(looks["size"].values)[looks["size"].which][shuffled], kind="stable")]
        if by_group:
            shuffled = (
                shuffled[np.argsort(rows.group[shuffled], kind="stable")] if sized else np.argsort(rows.group, kind="stable")
            )
        at, numbers = at[shuffled], numbers[shuffled]
        looks = {name: look.take(shuffled) for name, look in looks.items()}
    parts, which = combined(looks, _STYLE, count)
    styles = tuple(marker_style(*part) for part in parts)
    if sized:
        styles = tuple(_set_off(style, panel.ground) for style in styles)
    for opacity, chosen in batches(looks["opacity"], count):
        yield Markers(at[chosen], styles, None if which is None else which[chosen], opacity, numbers[chosen])


def _set_off(style: MarkerStyle, ground: str) -> MarkerStyle:
    """A filled marker with a thin border of the ground, so that one on another is seen."""
    if style.fill is None or style.outline is not None or not is_filled(style.shape):
        return style
    return style._replace(outline=ground, line_width=_SEAM * style.radius)


def point_key(box: Region, looks: Mapping[str, Look]) -> Iterator[Markers]:
    """One opaque marker: how points stand in a legend."""
    values = {name: looks[name].values[0] for name in _STYLE}
    values["size"] = max(values["size"], _LEAST_KEY)
    style = marker_style(*values.values())
    yield Markers(np.array([[box.x + box.width / 2, box.y + box.height / 2]]), (style,))


def _own_place(rows: Columns, context: Context, beside: bool) -> tuple[AnyArray, float]:
    """Where the points of each group may spread about, and how wide, in slots: beside boxes and violins as these stand."""
    x = rows["x"].astype(float)
    if not context.discrete("x"):
        return x, 1.0
    within = context.slot_share or BESIDE
    if context.half in ("left", "right"):
        shift, places = group_places(slots(rows), rows.group, *(context.shared or ((), False)))
        own = (within if places > 1 else 1.0) / places
        return x + shift * within + (0.22 if context.half == "left" else -0.22) * own, 0.4 * own
    if context.half == "split" and len(np.unique(rows.group)) > 1:
        return x + np.where(rows.group == rows.group.min(), -0.22, 0.22), 0.4
    if not (beside or context.beside):
        return x, 1.0
    shift, places = group_places(slots(rows), rows.group, *(context.shared or ((), False)))
    return x + shift * within, (within if places > 1 else 1.0) / places


def _swarmed(rows: Columns, panel: PanelView) -> Columns:
    """Points of each category moved across until none overlap, or as far as their slot reaches."""
    x = rows["x"].astype(float).copy()
    size = max(panel.looks["size"].values)
    room = float(rows["room"][0]) if "room" in rows and len(rows) else 1.0
    reach = max(0.5 * 0.96 * room * panel.slot - size / 2, 0.1 * size) if panel.slot else np.inf
    groups = grouped(x)
    tight = 1.0
    for start, count in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        chosen = groups.order[start : start + count]
        # Twice the work takes half a minute, and its points lie on each other then, however they are moved.
        if swarm_work(rows["y"][chosen], size * 1.05) > _MOST_WORK:
            said = f"a swarm of {count:,} points of {size:.3g} pt is too dense to be laid out"
            raise OptionError("figure.points", said, "a smaller size=, thin=2000, .violins() or .boxes() shows so many rows")
        swarm = swarm_within(rows["y"][chosen], size * 1.05, reach)
        x[chosen] += swarm.shift
        tight = min(tight, swarm.spacing)
    if tight < 1:
        panel.say(
            "swarm-tightened",
            f"the swarm is wider than its slot; its points stand {tight:.0%} of their distance apart and overlap",
            "a smaller size=, thin=, .boxes() or .violins() shows so many rows",
        )
    return rows.put(x=x)


# A color must be seen in the legend, however small the points are.
_LEAST_KEY = 2.6
_MOST_WORK = 3_000_000
"""Pairs of points that a swarm may look at in a category."""
# Between points of unlike sizes, as a share of the radius, so that files need one form for all sizes.
_SEAM = 0.1
_STYLE = ("shape", "size", "color", "outline", "line_width")
# Strokes of crosses and pluses, as a share of the radius, so that they weigh as much as a filled shape.
_STROKE = 0.55


def marker_style(shape: str, size: float, fill: str, outline: str | None, line_width: float) -> MarkerStyle:
    """How a point is drawn: filled, filled by half, as strokes, or as the border of a shape in the color that would fill it."""
    radius = size / 2
    if shape in HOLLOW:
        width = round(radius * _STROKE, 3)
        return MarkerStyle(HOLLOW[shape], round(radius - width / 2, 4), None, outline or fill, width)
    if OUTLINES[shape].open:
        return MarkerStyle(shape, radius, None, outline or fill, round(radius * _STROKE, 3))
    if not is_filled(shape):
        return MarkerStyle(shape, radius, outline or fill, None, 0.0)
    return MarkerStyle(shape, radius, fill, outline, line_width if outline else 0.0)
