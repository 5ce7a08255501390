"""Contours: lines of equal density, or of equal given values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.core.columns import Columns
from facetine.core.geometry.contours import contour_pieces
from facetine.core.scales.ticks import linear_ticks
from facetine.core.stats.density import Surface, bandwidth, density_surface, mass_levels
from facetine.core.stats.groups import grouped
from facetine.errors import DataError, OptionError
from facetine.grammar.options import choice, flag, ink, number, option
from facetine.grammar.scale import DASHES
from facetine.layers.base import Context, DrawnLayer, Look, PanelView
from facetine.layers.lines import line_key
from facetine.layers.summary import each_group, need_numbers
from facetine.scene.marks import Mark, Paths, Region, Stroke

_SHARES = (0.9, 0.7, 0.5, 0.3, 0.1)
_NAMES = ("x", "y", "piece", "level")


def _levels(value: Any, where: str) -> Any:
    if isinstance(value, int) and not isinstance(value, bool) and 1 <= value <= 50:
        return value
    good = isinstance(value, list | tuple | np.ndarray) and len(value) > 0
    if not good or any(isinstance(level, bool) or not isinstance(level, int | float | np.number) for level in value):
        raise OptionError(f"{where} is a number of levels up to 50, or a list of them, not {value!r}")
    return tuple(sorted(float(level) for level in value))


@dataclass(frozen=True, kw_only=True)
class Contours(DrawnLayer):
    """Lines, or filled steps, around where rows are dense; each encloses a share of them."""

    verb: ClassVar[str] = "contours"
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "color", "opacity", "dash", "line_width", "group", "weight")
    required: ClassVar[tuple[str, ...]] = ("x", "y")
    looks: ClassVar[tuple[str, ...]] = ("color", "opacity", "dash", "line_width")
    space: ClassVar[Any] = "axis"
    usual: ClassVar[Mapping[str, Any]] = {"line_width": 0.8}

    color: str | None = option(None, ink, "Ink of the lines, or of the filled steps.")
    opacity: float | None = option(None, number(0, 1), "How much they cover; 1 by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Pattern of the lines; solid by default.")
    line_width: float | None = option(None, number(0.01, 100), "Width of the lines in points; 0.8 by default.")
    filled: bool = option(False, flag, "Whether the room inside is filled, deeper with each level.")
    levels: Any = option(
        None, _levels, "Of densities: shares of the rows that are enclosed, 0.9 to 0.1 by default, or how many; "
        "of given values: the values, or about how many."
    )  # fmt: skip
    given: bool = option(False, flag, "Whether `color` holds heights on a grid of x and y, instead of rows that are counted.")
    bandwidth: Any = option(1.0, number(0.01, 100), "Factor of the bandwidth that Scott's rule gives along each axis.")

    def compute(self, rows: Columns, context: Context) -> Columns:
        """The vertices of every line, numbered by piece, with the level of each."""
        need_numbers(context, "x", "y")
        if self.given:
            if "color" not in rows or context.discrete("color"):
                raise OptionError(f"{context.where}: given=True needs the heights in color", 'write map={"color": "…"}')
            made = each_group(rows, lambda part: self._from_grid(part, context), _NAMES)
            return made.put(color=made["level"])

        def make(part: Columns) -> Mapping[str, AnyArray]:
            weights = part.get("weight")
            widths = [self._width(part[axis], weights) for axis in ("x", "y")]
            if len(part) < 3 or min(widths) <= 0:
                context.say(f"{context.where}: a group of {len(part)} rows without spread has no contours and is left out")
                return {name: np.zeros(0) for name in _NAMES}
            surface = density_surface(part["x"], part["y"], widths[0], widths[1], weights)
            shares = self._shares(context)
            return self._traced(surface, mass_levels(surface, shares), shares)

        return each_group(rows, make, _NAMES)

    def _width(self, values: FloatArray, weights: FloatArray | None) -> float:
        """Scott's bandwidth for two variables: s n^(−1/6)."""
        one = bandwidth(values, "scott", weights)
        return float(self.bandwidth) * one * float(len(values) ** (1 / 5 - 1 / 6))

    def _shares(self, context: Context) -> FloatArray:
        if self.levels is None:
            return np.array(_SHARES)
        if isinstance(self.levels, int):
            return np.linspace(0, 1, self.levels + 2)[1:-1][::-1]
        if not all(0 < level < 1 for level in self.levels):
            raise OptionError(f"{context.where}: levels of densities are shares between 0 and 1, not {self.levels!r}")
        return np.array(self.levels)[::-1]

    def _from_grid(self, part: Columns, context: Context) -> Mapping[str, AnyArray]:
        xs, column = np.unique(part["x"], return_inverse=True)
        ys, row = np.unique(part["y"], return_inverse=True)
        if len(xs) < 2 or len(ys) < 2 or len(part) != len(xs) * len(ys):
            raise DataError(
                f"{context.where}: heights are given at {len(part)} places, which are no full grid of {len(xs)} × {len(ys)}",
                "contours of given values need one height for every pair of x and y",
            )
        height = np.zeros((len(ys), len(xs)))
        height[row, column] = part["color"]
        surface = Surface(xs, ys, height)
        if isinstance(self.levels, tuple):
            levels = np.array(self.levels)
        else:
            levels = np.array(linear_ticks(float(height.min()), float(height.max()), self.levels or 7).at)
        return self._traced(surface, levels, levels)

    def _traced(self, surface: Surface, heights: FloatArray, names: FloatArray) -> Mapping[str, AnyArray]:
        """Vertices of all levels, lowest first; holes belong to the piece around them."""
        made: dict[str, list[FloatArray]] = {name: [] for name in _NAMES}
        piece = 0
        for height, name in sorted(zip(heights.tolist(), names.tolist(), strict=True)):
            for rings in contour_pieces(surface, height, self.filled):
                for ring in rings:
                    made["x"].append(ring[:, 0])
                    made["y"].append(ring[:, 1])
                    made["piece"].append(np.full(len(ring), float(piece)))
                    made["level"].append(np.full(len(ring), name))
                piece += 1
        return {name: np.concatenate(parts) if parts else np.zeros(0) for name, parts in made.items()}

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Pieces, lower levels first."""
        if not len(rows):
            return
        groups = grouped(rows.group, rows["piece"])
        # Steps of a density lie over each other and deepen; those of given heights have colors of their own.
        veil = 1.0 if self.given else min(0.9, 1.6 / (len(np.unique(rows["level"])) + 2))
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            chosen = np.sort(groups.order[start : start + size])
            looks = {name: look.of(int(chosen[0])) for name, look in panel.looks.items()}
            at = np.column_stack([rows["x"][chosen], rows["y"][chosen]])
            if self.filled:
                yield Paths(
                    at,
                    _ring_starts(at),
                    None,
                    looks["color"],
                    looks["opacity"] * veil,
                    closed=True,
                )
                continue
            pattern = tuple(length * looks["line_width"] for length in DASHES[looks["dash"]])
            stroke = Stroke(looks["color"], looks["line_width"], pattern, looks["opacity"])
            yield Paths(at, np.zeros(1, np.int64), stroke)

    def key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Paths]:
        """A short line across."""
        yield from line_key(box, looks)


def _ring_starts(at: FloatArray) -> AnyArray:
    """Where each closed ring begins: a ring ends where it comes back to its first vertex."""
    starts, first = [0], 0
    for place in range(1, len(at)):
        if place > first and (at[place] == at[first]).all() and place + 1 < len(at):
            first = place + 1
            starts.append(first)
    return np.array(starts, np.int64)
