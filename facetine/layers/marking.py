"""Looks that several layers share: of filled marks, of lines, of markers."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.grammar.options import choice, ink, number, option
from facetine.grammar.scale import DASHES, SHAPES


@dataclass(frozen=True, kw_only=True)
class Filled:
    """Marks with an inside and a border."""

    color: str | None = option(None, ink, "The inside.")
    outline: str | None = option(None, ink, "The border; none where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much a mark covers what lies below; 1 by default.")
    line_width: float | None = option(None, number(0, 100), "Width of the border in points.")


@dataclass(frozen=True, kw_only=True)
class Tinted:
    """Marks drawn in one ink, with an inside in a tint of it."""

    color: str | None = option(None, ink, "The ink; the inside is a tint of it.")
    outline: str | None = option(None, ink, "The border and all lines; the ink where it is not set.")
    opacity: float | None = option(None, number(0, 1), "How much the tint covers; the full ink is 1.")


@dataclass(frozen=True, kw_only=True)
class Stroked:
    """Lines."""

    color: str | None = option(None, ink, "The ink.")
    opacity: float | None = option(None, number(0, 1), "How much a line covers what lies below; 1 by default.")
    dash: str | None = option(None, choice(*DASHES, name="dashes"), "The pattern; solid by default.")
    line_width: float | None = option(None, number(0.01, 100), "The width in points; the theme's `line_width` by default.")


@dataclass(frozen=True, kw_only=True)
class Sized:
    """Markers."""

    size: float | None = option(None, number(0.01, 1000), "The diameter in points; the theme's `point_size` by default.")
    shape: str | None = option(None, choice(*SHAPES, name="shapes"), "The outline of a marker; a disc by default.")
