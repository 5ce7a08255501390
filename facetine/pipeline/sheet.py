"""What is laid out, and where it all goes: the values that the layout takes and makes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from facetine.grammar.theme import Theme
from facetine.pipeline.guide import Legend
from facetine.pipeline.labels import Side, XLabels
from facetine.pipeline.legend import LegendPlan
from facetine.pipeline.panels import Panel, Panels
from facetine.pipeline.scales import Scales
from facetine.pipeline.second import SecondAxis
from facetine.scene.marks import Region
from facetine.scene.typeset import Block, TextStyle


class Fonts(NamedTuple):
    """How each sort of text is set."""

    title: TextStyle
    text: TextStyle
    quiet: TextStyle
    tick: TextStyle
    heading: TextStyle


class Request(NamedTuple):
    """What is to be laid out."""

    width: float
    height: float | None
    """None for the height that suits."""
    theme: Theme
    title: str
    subtitle: str
    note: str
    scales: Scales
    panels: Panels
    legends: tuple[Legend, ...]
    seconds: Mapping[str, SecondAxis] = {}
    """The second axes by the axis beside which they stand."""
    names: float = 0.0
    """Room that the names of lines need at the right of the panels."""


class PanelPlace(NamedTuple):
    """One panel."""

    panel: Panel
    box: Region
    x_labels: XLabels
    y_labels: Side
    heading: Block | None
    heading_top: float
    shows_x: bool
    """Whether its x axis is labelled: the lowest panel of each column."""
    shows_y: bool
    shows_top: bool = False
    """Whether a second x axis is labelled above it: the uppermost panel of each column."""
    shows_right: bool = False


@dataclass(slots=True)
class Layout:
    """Every box of a figure, in points."""

    width: float
    height: float
    fonts: Fonts
    left: float = 0.0
    """Where everything written starts: the left edge of the first panel."""
    title: tuple[Block, float] | None = None
    """A block and the y of its top; likewise below."""
    subtitle: tuple[Block, float] | None = None
    y_title: tuple[Block, float] | None = None
    x_title: tuple[Block, float] | None = None
    note: tuple[Block, float] | None = None
    panels: list[PanelPlace] = field(default_factory=list)
    x_drop: float = 0.0
    """How much lower than usual the labels of the x axis stand."""
    top_labels: XLabels | None = None
    """Of a second x axis."""
    right_labels: Side | None = None
    right_titles: list[tuple[Block, float, float]] = field(default_factory=list)
    """Titles of second axes with the y of their tops and the x at which they end."""
    legends: LegendPlan | None = None
    legend_at: tuple[float, float] = (0.0, 0.0)

    @property
    def x_labels(self) -> XLabels:
        """The labels of the first panel's x axis."""
        return self.panels[0].x_labels

    @property
    def y_labels(self) -> Side:
        """The labels of the first panel's y axis."""
        return self.panels[0].y_labels


def fonts_of(theme: Theme) -> Fonts:
    """The types of a theme."""
    family, size, leading = theme.font, theme.text_size, theme.line_height
    return Fonts(
        TextStyle(family, theme.title_text_size, int(theme.title_weight), theme.text_color, leading),
        TextStyle(family, size, 400, theme.text_color, leading),
        TextStyle(family, size, 400, theme.tick_color, leading),
        TextStyle(family, theme.tick_text_size, 400, theme.tick_color, leading),
        TextStyle(family, size, int(theme.heading_weight), theme.text_color, leading),
    )
