"""Looks that several layers share: of filled marks, of lines, of markers."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.grammar.options import choice, ink, number, option
from facetine.grammar.scale import DASHES, SHAPES


@dataclass(frozen=True, kw_only=True)
class Filled:
    """Marks with an inside and a border."""

    color: str | None = option(None, ink)
    outline: str | None = option(None, ink, "None where it is not set.")
    opacity: float | None = option(None, number(0, 1), "1 by default.")
    line_width: float | None = option(None, number(0, 100))


@dataclass(frozen=True, kw_only=True)
class Tinted:
    """Marks of one color, with an inside in a tint of it."""

    color: str | None = option(None, ink, "The inside is a tint of it.")
    outline: str | None = option(None, ink, "And of all lines; the color where it is not set.")
    opacity: float | None = option(None, number(0, 1), "Of the tint; the border and lines are opaque.")


@dataclass(frozen=True, kw_only=True)
class Stroked:
    """Lines."""

    color: str | None = option(None, ink)
    opacity: float | None = option(None, number(0, 1), "1 by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "Solid by default.")
    line_width: float | None = option(None, number(0.01, 100), "The theme's by default.")


@dataclass(frozen=True, kw_only=True)
class Sized:
    """Markers."""

    size: float | None = option(None, number(0.01, 1000), "The theme's `point_size` by default.")
    shape: str | None = option(None, choice(*SHAPES, name="shapes"), "A disc by default.")
