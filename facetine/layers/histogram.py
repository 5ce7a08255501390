"""Histograms: how often values fall where."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Self

import numpy as np

from facetine.core.arrange.bars import shares, stacked
from facetine.core.arrays import AnyArray
from facetine.core.columns import Columns
from facetine.core.stats.binning import RULES, chosen_edges, counted
from facetine.errors import KindError, OptionError
from facetine.grammar.options import choice, ink, number, option, whole
from facetine.layers.bars import rectangles, square_key
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.summary import each_group, need_numbers, slots
from facetine.layers.values import template
from facetine.scene.marks import Rects, Region

# Bars narrower than this, in points, stand without a line between them.
_LEAST_PARTED = 3.0
MEASURES = ("count", "share", "density")


def _edges(value: Any, where: str) -> tuple[float, ...]:
    good = isinstance(value, list | tuple | np.ndarray) and len(value) > 1
    if not good or any(isinstance(edge, bool) or not isinstance(edge, int | float | np.number) for edge in value):
        raise OptionError(f"{where} is a list of numbers, not {value!r}")
    edges = tuple(float(edge) for edge in value)
    if any(after <= before for before, after in itertools.pairwise(edges)):
        raise OptionError(f"{where} must increase, which {value!r} does not")
    return edges


@dataclass(frozen=True, kw_only=True)
class Histogram(DrawnLayer):
    """Bars over intervals of a number or a time, the same intervals in all panels and groups."""

    verb: ClassVar[str] = "histogram"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "outline", "opacity", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "outline", "line_width")
    space: ClassVar[Any] = "axis"
    from_zero: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True

    color: str | None = option(None, ink, "The inside of the bars.")
    outline: str | None = option(None, ink, "Their border; a thin line in the color of the sheet where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much they cover what lies below; 1 by default.")
    line_width: float | None = option(None, number(0, 100), "Width of their border in points.")
    bins: int | None = option(None, whole(1, 2000), "How many intervals over the range.")
    bin_width: float | None = option(None, number(0), "Their width in the unit of the data; days for times.")
    edges: Any = option(None, _edges, "The ends of the intervals themselves.")
    rule: str = option("freedman_diaconis", choice(*RULES, name="rules"), "What chooses the width where nothing is said.")
    measure: str = option("count", choice(*MEASURES, name="measures"), "What the height shows.")
    arrange: str = option("stack", choice("stack", "share", "overlay", name="arrangements"), "How groups share an interval.")
    value_labels: str | None = option(None, template, 'What is written on the bars, such as "{count:.0f}".')

    def lacks(self, mapped: Mapping[str, Any]) -> str | None:
        """One of x and y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def value_title(self) -> str:
        """The measure."""
        return "Share" if self.arrange == "share" else self.measure.capitalize()

    def prepare(self, rows: Columns, context: Context) -> Self:
        """The edges, from all rows at once."""
        if "y" in rows:
            raise KindError(
                f"{context.where}: both x and y are mapped, but a histogram computes one of them",
                'take one away with map={"y": None}, or draw .cells()',
            )
        need_numbers(context, "x")
        if sum(given is not None for given in (self.bins, self.bin_width, self.edges)) > 1:
            raise OptionError(f"{context.where}: bins, bin_width and edges say the same thing", "give one of them")
        if self.edges is not None:
            return self
        width = self.bin_width
        if width is not None:
            if width <= 0:
                raise OptionError(f"{context.where}: bin_width is above 0, not {width!r}")
            width *= 86_400e6 if context.kinds.get("x") == "time" else 1.0
        edges = chosen_edges(rows["x"], bins=self.bins, width=width, rule=self.rule)  # type: ignore[arg-type]
        return replace(self, edges=tuple(edges.tolist()))

    def compute(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """One row an interval of each group, also where nothing fell."""
        edges = np.array(self.edges)
        totals = _panel_totals(rows)

        def make(part: Columns) -> Mapping[str, AnyArray]:
            weight = counted(part["x"], edges, part.get("weight")).weight
            total = weight.sum() if self.arrange == "overlay" else totals[int(part.panel[0])]
            share = weight / total if total else weight
            return {
                "x": (edges[:-1] + edges[1:]) / 2,
                "x_low": edges[:-1],
                "x_high": edges[1:],
                "count": weight,
                "share": share,
                "density": share / np.diff(edges),
            }

        made = each_group(rows, make, ("x", "x_low", "x_high", "count", "share", "density"))
        return made.put(y=made[self.measure])

    def arrange_rows(self, rows: Columns, context: Context) -> Columns:  # noqa: ARG002
        """Bars on top of each other, or over each other."""
        low, high = np.zeros(len(rows)), rows["y"]
        if self.arrange != "overlay" and len(rows):
            value = shares(slots(rows), high) if self.arrange == "share" else high
            low, high = stacked(slots(rows), rows.group, value)
        return rows.put(y_low=low, y_high=high, y=high)

    def labelled_rows(self, rows: Columns) -> Columns:
        """Bars that have a height."""
        numbered = rows.put(**{"row number": np.arange(len(rows))})
        return numbered.take(rows["count"] > 0)

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Rects]:
        """Rectangles where something fell, set off from each other by a thin line of the sheet's color."""
        filled = rows["count"] > 0
        looks = {name: look.take(filled) for name, look in panel.looks.items()}
        widths = np.abs(rows["x_high"] - rows["x_low"])
        if looks["outline"] == Look((None,)) and len(widths) and widths.min() > _LEAST_PARTED:
            looks |= {"outline": Look((panel.ground,)), "line_width": Look((0.4,))}
        yield from rectangles(rows.take(filled), looks)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Rects]:
        """A filled square."""
        yield from square_key(box, looks)


def _panel_totals(rows: Columns) -> AnyArray:
    return np.bincount(rows.panel, rows.get("weight"), minlength=1).astype(float)
