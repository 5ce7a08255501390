"""The layers as methods of a figure. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping, Sequence
from typing import Any, Literal

from facetine.data.expressions import Expression
from facetine.data.table import Levels
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Ends, Frame, Place
from facetine.public import Figure

class LayerVerbs:
    def points(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | None = None,
        edges: Levels | None = None,
        size: float | None = None,
        shape: Literal["disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond"] | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        arrange: Literal["overlay", "jitter", "beeswarm", "side_by_side", "tally"] = "overlay",
        within: Literal["jitter", "beeswarm"] | None = None,
        shift: str | None = None,
        spread_x: float | None = None,
        spread_y: float | None = None,
        thin: int | None = None,
        draw_order: Literal["mixed", "groups"] = "mixed",
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A marker for each row: scatter, bubbles, strips of dots. Groups are drawn interleaved, so none hides another.

        Args:
            aggregate: What is drawn of the rows at one x. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: With aggregate=: into how many intervals x is divided; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: Likewise: the ends of the intervals themselves, in the unit of the data.
            size: The diameter in points; the theme's `point_size` by default. It is a number from 0.01 to 1000.
            shape: The outline of a marker; a disc by default. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much a mark covers what lies below; 1 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            arrange: How points on the same place share it; "tally" makes one of them, whose area tells how many rows there are. It is one of "overlay", "jitter", "beeswarm", "side_by_side", "tally".
            within: How the points of a group share its own place where arrange="side_by_side" sets groups side by side. It is one of "jitter", "beeswarm".
            shift: How far it stands beside its places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            spread_x: How far jitter goes along x, either way (0.3 of a slot, and never out of it), or how far groups stand apart on numbers. It is a number of at least 0.
            spread_y: Likewise along y. It is a number of at least 0.
            thin: How many rows are drawn at most, a seeded choice; all are where it is not set. It is a whole number of at least 1.
            draw_order: Whether groups are drawn interleaved, or one after the other, so that each is one group of the file. It is one of "mixed", "groups".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, size, shape, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max, share.
        """

    def lines(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | None = None,
        edges: Levels | None = None,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        steps: bool = False,
        bridge: bool | float | str | None = None,
        gaps: Literal["open", "dotted"] = "open",
        join_by: Literal["x", "rows"] = "x",
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A line through the rows of each group; a row without y interrupts it.

        Args:
            aggregate: What is drawn of the rows at one x. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: With aggregate=: into how many intervals x is divided; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: Likewise: the ends of the intervals themselves, in the unit of the data.
            color: The ink.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            steps: Whether a value holds until the next one.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; 1.5 times the usual distance where one is plain to see.
            gaps: Whether a dotted line leads over gaps. It is one of "open", "dotted".
            join_by: Whether rows are joined by increasing x or as they come. It is one of "x", "rows".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max.
        """

    def areas(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | None = None,
        edges: Levels | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        bridge: bool | float | str | None = None,
        arrange: Literal["stack", "share", "overlay"] = "stack",
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """The room between a line and zero.

        Args:
            aggregate: What is drawn of the rows at one x. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: With aggregate=: into how many intervals x is divided; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: Likewise: the ends of the intervals themselves, in the unit of the data.
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much a mark covers what lies below; 1 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; 1.5 times the usual distance where one is plain to see.
            arrange: How groups share the room at one x. It is one of "stack", "share", "overlay".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, outline, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max.
        """

    def bands(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | None = None,
        edges: Levels | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        around: Literal["mean", "median", "share"] | None = None,
        reach: Literal["confidence", "std_error", "std_dev", "quartiles", "range"] | None = None,
        level: float | None = None,
        bootstrap: int | None = None,
        bridge: bool | float | str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """The room between y_low and y_high, or an interval around a center of the rows at each x.

        Args:
            aggregate: What is drawn of the rows at one x. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: With aggregate=: into how many intervals x is divided; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: Likewise: the ends of the intervals themselves, in the unit of the data.
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much they cover what lies below; 0.3 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            around: The center of the rows at each x, around which the band lies, as in `intervals`. It is one of "mean", "median", "share".
            reach: What its ends are; a confidence interval by default. It is one of "confidence", "std_error", "std_dev", "quartiles", "range".
            level: Level of a confidence interval; 0.95 by default. It is a number from 0.01 to 0.9999.
            bootstrap: Samples of a seeded bootstrap; the formula by default. It is a whole number from 0 to 1e+06.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; 1.5 times the usual distance where one is plain to see.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, y_low, y_high, color, opacity, outline, line_width, group, weight.

        Computes, for templates: x, low, high, y, center, count, mean, median, share.
        """

    def bars(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        bar_width: float | None = None,
        arrange: Literal["stack", "side_by_side", "share", "overlay"] = "stack",
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        value_labels: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Bars from zero: with y mapped, the heights as given; without, the number of rows at each x.

        Args:
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much a mark covers what lies below; 1 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            bar_width: Share of its slot that a bar fills; the theme's by default. It is a number from 0.01 to 1.
            arrange: How bars in one slot share it. It is one of "stack", "side_by_side", "share", "overlay".
            aggregate: What is drawn of the rows at one x. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            value_labels: What is written on the bars, such as "{count:,}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, line_width, group, weight.

        Computes, for templates: x, y, height, count, share, mean, median, sum, min, max.
        """

    def histogram(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        bins: int | None = None,
        bin_width: str | float | None = None,
        edges: Levels | None = None,
        rule: Literal["freedman_diaconis", "scott", "sturges", "rice", "square_root"] = "freedman_diaconis",
        measure: Literal["count", "share", "density"] = "count",
        arrange: Literal["stack", "share", "overlay"] = "stack",
        value_labels: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Bars over intervals of a number or a time, the same intervals in all panels and groups.

        Args:
            color: The inside.
            outline: Their border; a thin line in the color of the sheet where it is not set.
            opacity: How much a mark covers what lies below; 1 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            bins: How many intervals over the range, of even width on the axis. It is a whole number from 1 to 2000.
            bin_width: Their width in the unit of the data, on any axis; for times days, or such as "2 hours".
            edges: The ends of the intervals themselves, in the unit of the data.
            rule: What chooses the width where nothing is said. It is one of "freedman_diaconis", "scott", "sturges", "rice", "square_root".
            measure: What the height shows. It is one of "count", "share", "density".
            arrange: How groups share an interval. It is one of "stack", "share", "overlay".
            value_labels: What is written on the bars, such as "{count:.0f}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, line_width, group, weight.

        Computes, for templates: count, share, density, low, high.
        """

    def density(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        bandwidth: str | float = "scott",
        measure: Literal["density", "count"] = "density",
        bin_width: str | float | None = None,
        support: Ends = (None, None),
        filled: bool = False,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A curve that shows where values are dense, by a Gaussian kernel.

        Args:
            color: Ink of the curve, and of the area under it.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            bandwidth: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            measure: The height: "count" lies over a histogram. It is one of "density", "count".
            bin_width: The width of the bins over which a count lies; that of the figure's histogram by default.
            support: The smallest and the largest value that can occur, where there are any.
            filled: Whether the area below the curve is filled.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, density, count.
        """

    def cumulative(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Steps from 0 to 1: the share of values at or below each.

        Args:
            color: The ink.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, share.
        """

    def qq(
        self,
        *,
        size: float | None = None,
        shape: Literal["disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond"] | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        distribution: Literal["normal", "uniform", "exponential"] = "normal",
        line: bool = True,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Sorted values against the quantiles of a distribution, or of x as a second sample, with the line through the quartiles.

        Args:
            size: The diameter in points; the theme's `point_size` by default. It is a number from 0.01 to 1000.
            shape: The outline of a marker; a disc by default. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much a mark covers what lies below; 1 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            distribution: What y is compared with where x is not mapped. It is one of "normal", "uniform", "exponential".
            line: Whether the line through the quartiles is drawn.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, size, shape, group, weight.

        Computes, for templates: x, y, theory, observed.
        """

    def boxes(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        whiskers: str | tuple[float, float] = "1.5 iqr",
        notches: bool = False,
        outliers: bool = True,
        box_width: float | None = None,
        arrange: Literal["side_by_side", "overlay"] = "side_by_side",
        shift: str | None = None,
        value_labels: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A box from quartile to quartile with the median, whiskers, and points for what lies beyond them.

        Args:
            color: The ink; the inside is a tint of it.
            outline: The border and all lines; the ink where it is not set.
            opacity: How much the tint covers; the full ink is 1. It is a number from 0 to 1.
            line_width: Width of its lines in points; 0.8 by default. It is a number from 0.01 to 100.
            whiskers: How far they reach: "1.5 iqr", "range", or percentiles such as (10, 90).
            notches: Whether the box narrows to an interval around its median.
            outliers: Whether values beyond the whiskers are drawn.
            box_width: Share of its slot that a box fills; the theme's by default. It is a number from 0.01 to 1.
            arrange: How groups share a slot. It is one of "side_by_side", "overlay".
            shift: How far it stands beside its places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            value_labels: What is written at the boxes, such as "{median:.1f}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, line_width, group, weight.

        Computes, for templates: x, y, count, whisker_low, q1, median, q3, whisker_high, notch_low, notch_high.
        """

    def violins(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        half: Literal["left", "right", "split"] | None = None,
        bandwidth: str | float = "scott",
        support: Ends = (None, None),
        quartiles: bool = True,
        equal: Literal["peak", "area", "row_area"] = "peak",
        violin_width: float | None = None,
        arrange: Literal["side_by_side", "overlay"] = "side_by_side",
        shift: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Densities of each category, mirrored, or halves that face each other for a color of two values.

        Args:
            color: The ink; the inside is a tint of it.
            outline: The border and all lines; the ink where it is not set.
            opacity: How much the tint covers; the full ink is 1. It is a number from 0 to 1.
            line_width: Width of its lines in points; 0.7 by default. It is a number from 0.01 to 100.
            half: One side only; "split" shares two groups. It is one of "left", "right", "split".
            bandwidth: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            support: The smallest and the largest value that can occur, where there are any.
            quartiles: Whether lines mark the quartiles.
            equal: What is equal among the violins of a panel: the widest place, the area, or the area of a row. It is one of "peak", "area", "row_area".
            violin_width: Share of its slot that the widest fills; the theme's by default. It is a number from 0.01 to 1.
            arrange: How groups share a slot. It is one of "side_by_side", "overlay".
            shift: How far it stands beside its places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, line_width, group, weight.

        Computes, for templates: x, y, count, q1, median, q3, density.
        """

    def ridgelines(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        form: Literal["density", "histogram"] = "density",
        rise: float = 1.6,
        equal: Literal["area", "peak"] = "area",
        bandwidth: str | float = "scott",
        support: Ends = (None, None),
        bins: int | None = None,
        edges: Levels | None = None,
        quantiles: tuple[float, ...] | None = None,
        shaded: bool = False,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Densities, or histograms, over the categories of an axis; they overlap, and the axis gives the uppermost its room.

        Args:
            color: The ink; the inside is a tint of it.
            outline: The border and all lines; the ink where it is not set.
            opacity: How much the tint covers; the full ink is 1. It is a number from 0 to 1.
            line_width: Width of its lines in points; 0.7 by default. It is a number from 0.01 to 100.
            form: What rises over a category. It is one of "density", "histogram".
            rise: How high the highest ridge is, in slots of the axis. It is a number from 0.1 to 20.
            equal: What is equal among ridges: "peak" gives all the same height. It is one of "area", "peak".
            bandwidth: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            support: The smallest and the largest value that can occur, where there are any.
            bins: How many bins a histogram has over the range. It is a whole number from 1 to 2000.
            edges: The ends of its bins themselves, in the unit of the data.
            quantiles: Shares below lines in every ridge, such as [0.25, 0.5, 0.75].
            shaded: Whether color runs along the values, on a ramp.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, outline, opacity, line_width, group, weight.

        Computes, for templates: x, y, count, density.
        """

    def rug(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        length: float = 4.0,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Ticks at the edges of the panel: one for each x at the bottom, one for each y at the left.

        Args:
            color: Their ink.
            opacity: How much they cover; 0.6 by default. It is a number from 0 to 1.
            line_width: Their width in points; 0.4 by default. It is a number from 0.01 to 100.
            length: Their length in points. It is a number from 0.1 to 1000.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, line_width, group.

        Computes, for templates: x, y.
        """

    def intervals(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        size: float | None = None,
        shape: Literal["disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond"] | None = None,
        around: Literal["mean", "median", "share"] = "mean",
        reach: Literal["confidence", "std_error", "std_dev", "quartiles", "range"] = "confidence",
        level: float = 0.95,
        bootstrap: int = 0,
        bootstrap_ends: Literal["bias_corrected", "percentile"] = "bias_corrected",
        space: Literal["data", "axis"] | None = None,
        boxed: bool = False,
        caps: float = 0.0,
        slot_share: float | None = None,
        arrange: Literal["side_by_side", "overlay"] | None = None,
        shift: str | None = None,
        value_labels: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A dot at the center and a line to both ends; or ends as they are given in y_low and y_high.

        Args:
            color: Ink of line and dot.
            opacity: How much they cover; 1 by default. It is a number from 0 to 1.
            line_width: Width of the line in points. It is a number from 0.01 to 100.
            size: Diameter of the dot in points; 0 for none. It is a number from 0 to 1000.
            shape: Its outline. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            around: The center: a mean, a median, or the share of yes. It is one of "mean", "median", "share".
            reach: What the ends are. It is one of "confidence", "std_error", "std_dev", "quartiles", "range".
            level: Level of a confidence interval. It is a number from 0.01 to 0.9999.
            bootstrap: Samples of a seeded bootstrap; 0 for the formula. It is a whole number from 0 to 1e+06.
            bootstrap_ends: How the ends follow from the samples of the bootstrap. It is one of "bias_corrected", "percentile".
            space: Whether it is computed from the data, as by default, or from places on the axis. It is one of "data", "axis".
            boxed: Whether the range is a box with the center as a line, instead of a line with a dot.
            caps: Length of the caps at both ends in points. It is a number from 0 to 100.
            slot_share: Share of its slot within which groups stand side by side. It is a number from 0.01 to 1.
            arrange: How groups share a slot: side by side on an axis of categories; on one of numbers they stay where they are. It is one of "side_by_side", "overlay".
            shift: How far it stands beside its places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            value_labels: What is written at the upper end, such as "{mean:.1f}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, y_low, y_high, color, opacity, line_width, size, shape, group, weight.

        Computes, for templates: x, y, center, low, high, count, mean, median, share.
        """

    def trend(
        self,
        method: Literal["linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving"] = "linear",
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        level: float | None = 0.95,
        band: Literal["confidence", "prediction"] = "confidence",
        robust_errors: bool = False,
        degree: int | None = None,
        local_share: float = 0.7,
        quantile: float = 0.5,
        window: int = 7,
        space: Literal["data", "axis"] | None = None,
        compare: Literal["slopes"] | None = None,
        equation: bool = False,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A line fitted to each group, with a band for what is known of it.

        Args:
            method: How the line is fitted. It is one of "linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving".
            color: Ink of the line, and of its band.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            level: Level of the band; None for no band.
            band: Whether the band holds the line, or one more value. It is one of "confidence", "prediction".
            robust_errors: Whether the errors of linear and polynomial fits allow for unequal variances (HC3).
            degree: Of the polynomial: 2 by default, also for loess, which takes 0 to 2. It is a whole number from 0 to 12.
            local_share: Share of the rows that each local fit of loess sees. It is a number from 0.01 to 10.
            quantile: The quantile of method "quantile". It is a number from 0.001 to 0.999.
            window: Rows of a moving average. It is a whole number of at least 1.
            space: Whether it is fitted to places on the axes, as by default, or to the data. It is one of "data", "axis".
            compare: "slopes" computes the difference of each group's slope to the first one's. It is one of "slopes".
            equation: Whether the equation of a straight line or polynomial is written.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, slope, slope_low, slope_high, intercept, coefficients, r2, count, residual_std, p, slope_difference, slope_difference_low, slope_difference_high, slope_difference_p.
        """

    def cells(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        line_width: float | None = None,
        opacity: float | None = None,
        cell: Literal["square", "hex"] = "square",
        bins: int | None = None,
        all_pairs: bool = False,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        gap: float = 0.0,
        value_labels: str | None = None,
        edges: Any = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A heat map: with color mapped, one cell for each x and y as given; without it, counts of the rows in each.

        Args:
            color: One color for all cells.
            outline: The border of each; none where it is not set.
            line_width: Width of the borders in points; 0.5 by default. It is a number from 0 to 100.
            opacity: How much they cover what lies below; 1 by default. It is a number from 0 to 1.
            cell: The shape of cells of numbers. It is one of "square", "hex".
            bins: Cells along each number axis; about one for each 6.5 points by default. It is a whole number from 1 to 1000.
            all_pairs: Whether combinations that do not occur are drawn too.
            aggregate: What color shows of several rows in one cell. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            gap: Room between cells, as a share of their size. It is a number from 0 to 0.9.
            value_labels: What is written in the cells, such as "{count}".
            edges: Ends of cells along x and y in the unit of the data: two lists, either of which may be None.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, weight.

        Computes, for templates: x, y, count, share, value, mean, median, sum, min, max.
        """

    def contours(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        filled: bool = False,
        levels: int | tuple[float, ...] | None = None,
        given: bool = False,
        smoothing: float = 1.0,
        bandwidth: tuple[str | float, str | float] | None = None,
        support: Mapping[str, tuple[float | None, float | None]] | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """Lines, or filled steps, around where rows are dense; each encloses a share of them.

        Args:
            color: Ink of the lines, or of the filled steps.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: Width of the lines in points; 0.8 by default. It is a number from 0.01 to 100.
            filled: Whether the room inside is filled, deeper with each level.
            levels: Of densities: shares of the rows that are enclosed, nine from 0.9 to 0.1 by default, or how many; of given values: the values, or about how many.
            given: Whether `color` holds heights on a grid of x and y, instead of rows that are counted.
            smoothing: Factor of the bandwidths that the rule gives. It is a number from 0.01 to 100.
            bandwidth: The bandwidths along x and y in the unit of the data, or one for both.
            support: The smallest and the largest values that can occur, such as {"x": (0, None)}.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, level.
        """

    def correlation(
        self,
        method: Literal["pearson", "spearman"] = "pearson",
        *,
        level: float = 0.95,
        text: str = "{r:.2f}\n{low:.2f} to {high:.2f}",
        shade: bool = True,
        space: Literal["data", "axis"] | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """The correlation of x and y over all rows of a panel, with its interval, written over a shade of its strength.

        Args:
            method: Of places, or of ranks. It is one of "pearson", "spearman".
            level: Of the interval. It is a number from 0.01 to 0.999.
            text: What is written.
            shade: Whether the panel is shaded by sign and strength.
            space: Whether it is of places on the axes, as by default, or of the data. It is one of "data", "axis".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y.

        Computes, for templates: r, low, high, count.
        """

    def labels(
        self,
        *,
        color: str | None = None,
        size: float | None = None,
        side: Literal["above", "below", "left", "right", "middle"] | None = None,
        gap: float = 3.0,
        avoid: bool | None = None,
        shift: tuple[str, str] | None = None,
        halo: bool | None = None,
        layer: str | None = None,
        text: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str = False,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """The text of a column at x and y; or what another layer computed, at its marks.

        Args:
            color: Ink of the text; that of titles by default.
            size: Size of the text in points; that of tick labels by default. It is a number from 1 to 300.
            side: Where a label stands beside its place: above it by default, in the middle of cells. It is one of "above", "below", "left", "right", "middle".
            gap: Room between a place and its label in points. It is a number from 0 to 100.
            avoid: Whether labels are moved off the marks of all layers and each other, or left out and counted without room; where neither this nor a side or a shift is said, those of fewer than 200 rows are.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets its text off; where that lies on marks, if it is not said.
            layer: The layer whose computed values are written, by its method or name.
            text: What is written of them, such as "{mean:.1f}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its colors are explained in the legends; a text explains itself.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, label, color, group.
        """

    def segments(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        arrow: bool = False,
        head: float = 5.0,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A line from x, y to x_to, y_to, with an arrow's head where wanted.

        Args:
            color: The ink.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            arrow: Whether they end in an arrow's head.
            head: Length of the head in points. It is a number from 0.5 to 200.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, x_to, y_to, color, opacity, dash, line_width, group.

        Computes, for templates: x, y, x_to, y_to.
        """

    def reference(
        self,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        x: Place | Sequence[Place] | None = None,
        y: Place | Sequence[Place] | None = None,
        slope: float | None = None,
        intercept: float | None = None,
        aggregate: Literal["mean", "median", "min", "max"] | None = None,
        axis: Literal["x", "y"] = "y",
        per: Literal["panel", "group", "figure"] = "panel",
        text: str | None = None,
        text_at: str | float | None = None,
        shift: tuple[str, str] | None = None,
        halo: bool | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A line across the panel at y, upright at x, or of a slope; at fixed values or at an aggregate of the data.

        Args:
            color: Its ink; that of the text by default.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: Its pattern; dashed by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: Its width in points; 0.7 by default. It is a number from 0.01 to 100.
            x: Where an upright line stands: a number, a date or a category; or a list of them.
            y: Where a level line stands; or a list.
            slope: How much y rises where x rises by one, for a line across the panel. It is a number.
            intercept: The y of that line where x is 0; 0 by default. It is a number.
            aggregate: What is computed instead. It is one of "mean", "median", "min", "max".
            axis: Of which axis the aggregate is. It is one of "x", "y".
            per: Whether the aggregate is that of a panel, of each group in it, or of all. It is one of "panel", "group", "figure".
            text: What is written at its end, such as "mean {value:.1f}".
            text_at: Where along the line that stands: "start", "middle", "end", or a share of its length from 0 to 1.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets its text off; where that lies on marks, if it is not said.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: value, mean, median, min, max, count, slope, intercept.
        """

    def region(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        x: Ends | None = None,
        y: Ends | None = None,
        shape: Literal["rectangle", "ellipse"] = "rectangle",
        text: str | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A part of the panel set off by a tint: between two x, two y, or both.

        Args:
            color: The inside.
            outline: The border; none where it is not set.
            opacity: How much the inside covers; 0.18 by default. It is a number from 0 to 1.
            line_width: Width of the border in points. It is a number from 0 to 100.
            x: Its left and right end; None for the edge of the panel.
            y: Its lower and upper end; None for the edge of the panel.
            shape: Its outline. It is one of "rectangle", "ellipse".
            text: What is written inside, at the top left, such as "{x_low} to {x_high}".
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Computes, for templates: x_low, x_high, y_low, y_high.
        """

    def callout(
        self,
        text: str | None = None,
        *,
        at: Literal["highest", "lowest", "first", "last"] | None = None,
        x: Place | None = None,
        y: Place | None = None,
        x_to: Place | None = None,
        y_to: Place | None = None,
        color: str | None = None,
        line_width: float | None = None,
        size: float | None = None,
        shift: tuple[str, str] | None = None,
        halo: bool | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A remark in the panel, with an arrow to what it is about; or at the highest, lowest, first or last row of each group.

        Args:
            text: What is written, in inline markup; with at= a template, such as "{y:.1f}".
            at: Which row of each group it is about. It is one of "highest", "lowest", "first", "last".
            x: Where it stands: a number, a date or a category.
            y: Likewise.
            x_to: Where the arrow points; none where it is not given.
            y_to: Likewise.
            color: Ink of text and arrow; that of titles by default.
            line_width: Width of the arrow in points; 0.6 by default. It is a number from 0.01 to 100.
            size: Size of the text in points; that of tick labels by default. It is a number from 1 to 300.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets its text off; where that lies on marks, if it is not said.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x, y, color, group.

        Computes, for templates: x, y.
        """

    def function(
        self,
        expression: Any = None,
        *,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        limits: Ends | None = None,
        map: Mapping[str, MapValue] = ...,
        data: Frame = None,
        where: Expression | None = None,
        legend: bool | str | None = None,
        legend_as: str | None = None,
        name: str | None = None,
        backdrop: bool = False,
        panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = None,
        rasterize: bool | float | str | None = None,
    ) -> Figure:
        """A function of x, over the whole axis of each panel or between limits.

        Args:
            expression: SQL in x such as "0.5 * x + 2" or "sin(x)", or a callable of an array.
            color: The ink.
            opacity: How much a line covers what lies below; 1 by default. It is a number from 0 to 1.
            dash: The pattern; solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width in points; the theme's `line_width` by default. It is a number from 0.01 to 100.
            limits: From where to where on x; over the whole axis where it is not set.
            map: Mappings of this layer, over the figure's; None takes one away.
            data: A table of its own, instead of the figure's.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether its looks are explained in the legends: where no axis and no heading says the same, or always, or never; "direct" names lines at their ends, "auto" up to three.
            legend_as: What its marks are called in a legend of layers, whose looks are constants.
            name: What it is called in the file's groups.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether its marks become an image in vector files: "auto" from 20,000 on, True, False, or pixels an inch; what the export says where it is not set.

        Follows columns by map(…) or map={…}: x.
        """
