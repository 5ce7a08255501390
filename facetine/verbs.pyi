"""The layers as methods of a figure. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping
from typing import Any

from facetine.public import Figure

class LayerVerbs:
    def points(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        size: float | None = None,
        shape: str | None = None,
        line_width: float | None = None,
        aggregate: str = "none",
        map: Mapping[str, Any] = ...,
        data: Any = None,
        legend: bool = True,
        name: str | None = None,
    ) -> Figure:
        """A marker for each row: scatter, bubbles, strips of dots. Groups are drawn interleaved, so none hides another.

        Args:
            color: The inside of the points.
            outline: Their border; none where it is not set.
            opacity: How much a point covers what lies below it; 1 by default.
            size: Their diameter in points; the theme's `point_size` by default.
            shape: Their outline; a disc by default.
            line_width: Width of their border in points.
            aggregate: What is drawn of the rows at one x.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            legend: Whether its looks are explained in the legends.
            name: What it is called in the file's groups.
        """

    def lines(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: str | None = None,
        line_width: float | None = None,
        steps: bool = False,
        follow: str = "x",
        aggregate: str = "none",
        map: Mapping[str, Any] = ...,
        data: Any = None,
        legend: bool = True,
        name: str | None = None,
    ) -> Figure:
        """A line through the rows of each group; a row without y interrupts it.

        Args:
            color: Their ink.
            opacity: How much they cover what lies below; 1 by default.
            dash: Their pattern; solid by default.
            line_width: Their width in points.
            steps: Whether a value holds until the next one.
            follow: Whether rows are joined by increasing x or as they come.
            aggregate: What is drawn of the rows at one x.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            legend: Whether its looks are explained in the legends.
            name: What it is called in the file's groups.
        """

    def bars(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        bar_width: float | None = None,
        arrange: str = "stack",
        aggregate: str = "none",
        map: Mapping[str, Any] = ...,
        data: Any = None,
        legend: bool = True,
        name: str | None = None,
    ) -> Figure:
        """Bars from zero: with y mapped, the heights as given; without, the number of rows at each x.

        Args:
            color: The inside of the bars.
            outline: Their border; none where it is not set.
            opacity: How much they cover what lies below; 1 by default.
            line_width: Width of their border in points.
            bar_width: Share of its slot that a bar fills; the theme's by default.
            arrange: How bars in one slot share it.
            aggregate: What is drawn of the rows at one x.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            legend: Whether its looks are explained in the legends.
            name: What it is called in the file's groups.
        """
