"""What is to be laid out."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

from facetine.grammar.theme import Theme
from facetine.pipeline.guides.legend_entries import Legend
from facetine.pipeline.guides.ticks import SecondAxis
from facetine.pipeline.rows.panels import AxisKey, AxisTitle, Grid, Panels, Span
from facetine.pipeline.scales.look_scales import Scales
from facetine.scene.typeset import TextStyle


class Styles(NamedTuple):
    """How each sort of text is set."""

    title: TextStyle
    text: TextStyle
    quiet: TextStyle
    tick: TextStyle
    heading: TextStyle


PAGE_WIDTH = 180 / 25.4 * 72
"""Of a sheet that follows from its panels, where something must be known of it before: that of a journal's page."""
PAGE_HEIGHT = 297 / 25.4 * 72
"""Beyond it a sheet fits on no page."""


class PanelSize(NamedTuple):
    """What was said of the size of panels; None where nothing was."""

    width: float | None = None
    """In points."""
    height: float | None = None
    ratio: float | None = None
    """Height by width."""


class Request(NamedTuple):
    """What is to be laid out."""

    width: float | None
    """None for the one that follows from panels of a said width."""
    height: float | None
    """None for the height that suits."""
    theme: Theme
    title: str
    subtitle: str
    note: str
    scales: Scales
    panels: Panels
    grid: Grid
    legends: tuple[Legend, ...]
    axis_titles: tuple[AxisTitle, ...] = ()
    second_axes: Mapping[AxisKey, SecondAxis] = {}
    """The second axes by the axis beside which they stand."""
    names: float = 0.0
    """Room that the names of lines need at the right of the panels."""
    repeat_axes: bool = False
    """Whether every panel has the labels of its axes."""
    side: str = "right"
    """At which side of their rows headings stand."""
    spans: tuple[Span, ...] = ()
    """Outer headings."""
    size: PanelSize = PanelSize()
    tight: bool = False
    """Whether headings may be broken within syllables."""


@lru_cache(maxsize=64)
def styles_of(theme: Theme) -> Styles:
    """The types of a theme."""
    family, size, leading = theme.font, theme.text_size, theme.line_height
    return Styles(
        TextStyle(family, theme.title_text_size, int(theme.title_weight), theme.text_color, leading),
        TextStyle(family, size, 400, theme.text_color, leading),
        TextStyle(family, size, 400, theme.tick_color, leading),
        TextStyle(family, theme.tick_text_size, 400, theme.tick_color, leading),
        TextStyle(family, size, int(theme.heading_weight), theme.text_color, leading),
    )
