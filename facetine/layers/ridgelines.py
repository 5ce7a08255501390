"""Ridgelines: distributions over the categories of an axis, each rising over the ones before it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns
from facetine.core.query import Between, Bins, Quantiles, Query, Source, Total
from facetine.core.stats.groups import grouped
from facetine.data.table import Levels
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.given import Ends
from facetine.grammar.options import Check, choice, flag, names, number, option, pair
from facetine.layers.bars import square_key
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Computed, Context, Drawn, Space
from facetine.layers.density import Kernel, bandwidth_option, say_below_zero, within_support
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.marking import Tinted
from facetine.layers.summary import COUNT, PLACE_X, PLACE_Y, each_part, need_numbers
from facetine.layers.widths import bins_option, edges_in_data, edges_option, usual_edges
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark, Paths, Rects, Stroke, segments
from facetine.scene.region import Region

_TINT = 0.55
"""How much of a ridge's ink its inside has; those behind it show through."""


def _shares() -> Check:
    def check(value: object, where: str) -> tuple[float, ...]:
        found = tuple(float(number(0, 1)(share, where)) for share in names(value, where))
        if any(not 0 < share < 1 for share in found):
            raise OptionError(where, "are shares between 0 and 1", "such as [0.25, 0.5, 0.75]", of_option=True)
        return tuple(sorted(found))

    return check


@dataclass(frozen=True, kw_only=True)
class Ridgelines(Tinted, DrawnLayer):
    """Densities, or histograms, over the categories of an axis; they overlap, and the axis has space for the uppermost."""

    verb: ClassVar[str] = "ridgelines"
    chosen_says: ClassVar[str] = "Of all rows: its curve is made of every row anew, and its bandwidth with it."
    examples: ClassVar[tuple[Example, ...]] = (
        Example("A category and a number", 5, {"x": "moisture_pct", "y": "rind"}, ["ridgelines"]),
    )
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    computes_in: ClassVar[Space] = "axis"
    thing: ClassVar[str] = "ridge"
    because: ClassVar[str] = "a bump is as wide here as there"
    weighs: ClassVar[str] = "a row counts as often as its weight says; weighted quantiles"
    filled_marks: ClassVar[bool] = True
    computed: ClassVar[Mapping[str, Computed]] = {
        "x": PLACE_X, "y": PLACE_Y, "count": COUNT, "density": Computed(),
    }  # fmt: skip
    can_turn: ClassVar[bool] = True
    usual: ClassVar[Mapping[str, LookValue]] = {"line_width": 0.7}

    line_width: float | None = option(None, number(0.01, 100), "0.7 by default.")
    form: str = option("density", choice("density", "histogram", name="forms"))
    rise: float = option(1.6, number(0.1, 20))
    equal: str = option("area", choice("area", "peak", name="measures"))
    bandwidth: str | float = option(
        "scott",
        bandwidth_option,
    )
    support: Ends = option((None, None), pair)
    bins: int | str | None = option(None, bins_option(1, 2000))
    edges: Levels | None = option(None, edges_option)
    quantiles: tuple[float, ...] | None = option(None, _shares())
    shaded: bool = option(False, flag)

    @property
    def computed_looks(self) -> tuple[str, ...]:  # type: ignore[override]
        """The color, where it runs along the values."""
        return ("color",) if self.shaded else ()

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """Always."""
        return True

    def names(self) -> Mapping[str, Computed]:
        """All that it computes."""
        return self.computed

    def look_drawn(self, context: Context) -> Drawn:
        """The values, where color runs along them."""
        title = context.titles.get("y")
        return Drawn(title=title.whole if self.shaded and title is not None else "")

    def beyond_slots(self) -> tuple[float, float]:
        """Room for the uppermost ridge, before the first slot."""
        return max(0.0, self.rise - 0.5), 0.0

    def prepare(self, source: Source, context: Context) -> Self:
        """The edges of a histogram, the same for all ridges."""
        need_numbers(context, "y")
        if not context.discrete("x"):
            raise KindError(
                context.where, "ridges rise over categories, and neither axis holds any", 'write .kinds(…="category") for one'
            )
        if self.shaded and "color" in context.columns:
            raise OptionError(
                context.where,
                f"shaded runs colors along the values, and color follows {context.columns['color']!r}",
                'map={"color": None}, or leave out shaded',
            )
        if self.form == "density":
            if self.bins is not None or self.edges is not None:
                name = "edges" if self.bins is None else "bins"
                raise OptionError(context.where, f"{name} are those of a histogram", 'form="histogram"')
            return self
        if self.bandwidth != "scott":
            raise OptionError(context.where, "bandwidth is that of densities", 'bins=, or form="density"')
        if self.bins is not None and self.edges is not None:
            raise OptionError(context.where, "bins and edges say the same thing", "give one of them")
        if self.edges is None:
            found = usual_edges(Asked(source, "y"), context.axis("y"), self.bins, context.where)
            return replace(self, bins=None, edges=tuple(found.tolist()))
        axis = context.axis("y")
        given = edges_in_data(self.edges, axis, context.where)
        return replace(self, edges=tuple((axis.transform.forward(given) if self.works_in == "axis" else given).tolist()))

    def compute(self, source: Source, context: Context) -> Columns:
        """The line over each category, from the lowest to the highest value, and its quantiles."""
        axis = context.axis("y")
        if self.edges is not None:
            _say_outside(source, self.edges, context)
        kernel = Kernel.of(self.bandwidth, self.support, axis, context.where)
        source = within_support(source, "y", kernel, axis, context)
        shares = self.quantiles or ()
        cuts = tuple(f"quantile {place}" for place in range(len(shares)))
        asked = (Total("count", "count"), *((Quantiles(cuts, "y", shares),) if shares else ()))

        def make(part: Source) -> Mapping[str, AnyArray]:
            found = part.ask(Query(asked))
            at, height = self._steps(part, context) if self.form == "histogram" else self._curve(part, kernel, context)
            if not len(at):
                context.say("group-without-spread", "a group without spread has no density and is left out", part=found)
            filled = {name: np.full(len(at), found[name][0]) for name in ("count", *cuts)}
            return {"y": at, "density": height, **filled}

        ridges = each_part(source, make, ("y", "density", "count", *cuts), "x")
        if self.form == "density":
            say_below_zero(Asked(source, "y").low, ridges["y"], context.columns.get("y"), kernel, axis, context)
        return ridges.put(color=axis.transform.inverse(ridges["y"])) if self.shaded else ridges

    def _curve(self, part: Source, kernel: Kernel, context: Context) -> tuple[FloatArray, FloatArray]:
        curve = kernel.curve(part, "y", context.axis("y"))
        return curve.at, curve.value * context.axis("y").unit_length

    def _steps(self, part: Source, context: Context) -> tuple[FloatArray, FloatArray]:
        """The outline of bars, from the ground at the first edge to the ground at the last."""
        edges = np.array(self.edges, float)
        counted = part.ask(Query((Total("count", "count"),), bins=(Bins("y", edges),)))
        height = np.zeros(len(edges) - 1)
        height[counted["bin of y"]] = counted["count"]
        height = height / (max(height.sum(), 1e-300) * np.diff(edges)) * context.axis("y").unit_length
        return np.repeat(edges, 2), np.concatenate([[0.0], np.repeat(height, 2), [0.0]])

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """Heights in slots: the highest ridge of a panel, or each, rises as high as was said."""
        if not len(rows):
            return rows.put(x_low=rows["x"], x_high=rows["x"], center=rows["x"])
        center = rows["x"].astype(float)
        by = grouped(rows.panel, rows.group, rows["x"]) if self.equal == "peak" else grouped(rows.panel)
        largest = np.empty(len(rows))
        largest[by.order] = np.repeat(np.maximum.reduceat(rows["density"][by.order], by.starts), by.sizes)
        # Categories are read from the top, so that a ridge rises towards the one before.
        top = center - self.rise * np.divide(rows["density"], largest, out=np.zeros(len(rows)), where=largest > 0)
        return rows.put(x=center, x_low=top, x_high=center, center=center)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Ridges from the first category on, so that the later ones lie in front."""
        groups = grouped(rows["center"] if panel.up > 0 else -rows["center"], rows.group)
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            chosen = groups.order[start : start + size]
            part, row = rows.take(chosen), int(chosen[0])
            shade = panel.looks["color"].of(row)
            ink = panel.looks["outline"].of(row) or (panel.type.color if self.shaded else shade)
            stroke = Stroke(ink, panel.looks["line_width"].of(row))
            tint = (1.0 if self.shaded else _TINT) * panel.looks["opacity"].of(row)
            line = np.column_stack([part["x_low"], part["y"]])
            ring = np.concatenate([line, np.column_stack([part["x_high"], part["y"]])[::-1]])
            if self.shaded:
                middle = panel.looks["color"].of(int(chosen[int(np.argmax(part["density"]))]))
                yield Paths(ring, np.zeros(1, np.int64), None, middle, tint, closed=True)
                yield from _strips(part, panel.looks["color"].take(chosen), tint)
            else:
                numbers = np.concatenate([part.numbers, part.numbers[::-1]])
                # The ground below keeps the ridges behind from showing through in full.
                yield Paths(ring, np.zeros(1, np.int64), None, panel.ground, 0.6, closed=True)
                yield Paths(ring, np.zeros(1, np.int64), None, shade, tint, closed=True, rows=numbers)
            yield Paths(line, np.zeros(1, np.int64), stroke, rows=part.numbers)
            yield from self._cuts(part, panel, stroke)

    def _cuts(self, part: Columns, panel: PanelView, stroke: Stroke) -> Iterator[Paths]:
        """Lines from the ground to the ridge at its quantiles."""
        count = len(self.quantiles or ())
        if count:
            at = panel.y(np.array([part[f"quantile {place}"][0] for place in range(count)]))
            order = np.argsort(part["y"])
            top = np.interp(at, part["y"][order], part["x_low"][order])
            ground = np.full(count, part["x_high"][0])
            yield segments(np.column_stack([ground, at, top, at]), stroke, np.repeat(part.numbers[:1], count))

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _strips(part: Columns, look: Look, opacity: float) -> Iterator[Paths]:
    """The inside of a ridge in strips across, each of the color of its values."""
    which = np.zeros(len(part), np.int64) if look.which is None else look.which
    ends = np.flatnonzero(np.diff(which)) + 1
    last = len(part)
    for first, end in zip([0, *ends.tolist()], [*ends.tolist(), last], strict=True):
        # Each reaches one place farther, under the next one, so that no seam shows.
        inside = slice(first, min(end + 2, last))
        y, low, high = part["y"][inside], part["x_low"][inside], part["x_high"][inside]
        ring = np.concatenate([np.column_stack([low, y]), np.column_stack([high, y])[::-1]])
        numbers = np.concatenate([part.numbers[inside], part.numbers[inside][::-1]])
        yield Paths(ring, np.zeros(1, np.int64), None, look.values[which[first]], opacity, closed=True, rows=numbers)


def _say_outside(source: Source, edges: Levels, context: Context) -> None:
    """Counts the rows that no bin holds."""
    rows = Query((Total("rows", "rows"),), by_group=False)
    inside = source.ask(rows._replace(filters=(Between("y", float(edges[0]), float(edges[-1])),)))  # type: ignore[arg-type]
    outside = int(source.ask(rows)["rows"].sum() - inside["rows"].sum())
    if outside:
        context.say("rows-outside-edges", f"{so_many_rows(outside)} outside the edges not counted in any bin")
