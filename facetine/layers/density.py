"""Densities of one variable: a smooth histogram."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.core.columns import Columns
from facetine.core.stats.density import bandwidth, density_curve
from facetine.errors import KindError, OptionError
from facetine.grammar.options import choice, flag, ink, number, option, pair
from facetine.grammar.scale import DASHES
from facetine.layers.areas import ribbons
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.lines import drawn_lines, line_key
from facetine.layers.summary import each_group, need_numbers
from facetine.scene.marks import Paths, Region


def bandwidth_option(value: Any, where: str) -> str | float:
    """A rule's name, or a bandwidth above zero.

    Raises:
        OptionError: It is neither.
    """
    if isinstance(value, str):
        return str(choice("scott", "silverman", name="rules, beside a number")(value, where))
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 < value < math.inf:
        raise OptionError(f'{where} is "scott", "silverman" or a number above 0, not {value!r}')
    return float(value)


@dataclass(frozen=True, kw_only=True)
class Density(DrawnLayer):
    """A curve that shows where values are dense, by a Gaussian kernel."""

    verb: ClassVar[str] = "density"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ()
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    space: ClassVar[Any] = "axis"
    from_zero: ClassVar[bool] = True
    can_turn: ClassVar[bool] = True

    color: str | None = option(None, ink, "Ink of the curve, and of the area under it.")
    opacity: float | None = option(None, number(0, 1), "How much the curve covers what lies below; 1 by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Its pattern; solid by default.")
    line_width: float | None = option(None, number(0.01, 100), "Its width in points.")
    bandwidth: Any = option("scott", bandwidth_option, '"scott", "silverman", or a number in the unit of the axis.')
    measure: str = option(
        "density",
        choice("density", "count", name="measures"),
        'The height: "count" lies over a histogram of `bin_width`.',
    )
    bin_width: float = option(1.0, number(1e-300), "The width of the bins over which a count is to lie.")
    bounds: Any = option((None, None), pair, "The smallest and the largest value that can occur, where there are any.")
    filled: bool = option(False, flag, "Whether the area below the curve is filled.")

    def lacks(self, mapped: Mapping[str, Any]) -> str | None:
        """One of x and y."""
        return None if mapped.get("x") is not None or mapped.get("y") is not None else "x"

    def value_title(self) -> str:
        """The measure."""
        return self.measure.capitalize()

    def compute(self, rows: Columns, context: Context) -> Columns:
        """256 places of each group's curve."""
        if "y" in rows:
            raise KindError(
                f"{context.where}: both x and y are mapped, but a density computes one of them",
                'take one away with map={"y": None}, or draw .contours()',
            )
        need_numbers(context, "x")
        low, high = (bound if bound is not None else end for bound, end in zip(self.bounds, (-math.inf, math.inf), strict=True))

        def make(part: Columns) -> Mapping[str, AnyArray]:
            weights = part.get("weight")
            width = bandwidth(part["x"], self.bandwidth, weights)
            curve = density_curve(part["x"], width, weights, low, high)
            if not len(curve.at):
                said = f"{len(part)} value" + ("s" if len(part) != 1 else "")
                context.say(f"{context.where}: no density of {said} without spread; a group is left out")
            mass = float(len(part)) if weights is None else float(weights.sum())
            count = curve.value * mass * self.bin_width
            return {"x": curve.at, "density": curve.value, "count": count}

        made = each_group(rows, make, ("x", "density", "count"))
        return made.put(y=made[self.measure], y_low=np.zeros(len(made)), y_high=made[self.measure])

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Paths]:
        """The curves, over their areas."""
        if self.filled:
            yield from ribbons(rows, panel, 0.25)
        yield from drawn_lines(rows, panel)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)
