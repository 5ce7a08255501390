"""The layers as methods of a figure, and the verbs with many options. Made by scripts/make_verbs.py from the layers; do not edit."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, Literal, Self

from facetine.data.expressions import Expression
from facetine.data.table import Levels
from facetine.figures.figure import Figure
from facetine.grammar.aesthetics import MapValue
from facetine.grammar.given import Ends, Frame, NotGiven, Options, Place
from facetine.grammar.scale import Format

class LayerVerbs:
    def points(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | str | None = None,
        edges: Levels | None = None,
        size: float | None = None,
        shape: Literal["disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond"] | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        arrange: Literal["overlay", "jitter", "beeswarm", "side_by_side", "tally"] | None = None,
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
            aggregate: What is drawn of several rows that share a place. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". With aggregate=; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. With aggregate=.
            size: The diameter of a point, or the size of a text, in points. The theme's `point_size` by default. It is a number from 0.01 to 1000.
            shape: The outline of a marker, or of a region. A disc by default. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            arrange: How marks that fall on the same place share it. By default points lie over each other, each group where its boxes, bars or the like stand. "tally" makes one of them, whose area tells how many rows there are. It is one of "overlay", "jitter", "beeswarm", "side_by_side", "tally".
            within: How the points of a group share its own place where arrange="side_by_side" sets groups side by side. It is one of "jitter", "beeswarm".
            shift: How far marks stand beside their places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            spread_x: How far jitter goes along x, either way (0.3 of a slot, and never out of it), or how far groups stand apart on numbers. It is a number of at least 0.
            spread_y: Likewise along y. It is a number of at least 0.
            thin: How many rows are drawn at most, a seeded choice; all are where it is not set. It is a whole number of at least 1.
            draw_order: Whether groups are drawn interleaved, or one after the other, so that each is one group of the file. It is one of "mixed", "groups".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, x_low, x_high, y_low, y_high, color, outline, opacity, size, shape, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max, share.
        """

    def lines(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | str | None = None,
        edges: Levels | None = None,
        color: str | None = None,
        opacity: float | None = None,
        dash: Literal["solid", "dotted", "long", "dash_dot", "dashed"] | None = None,
        line_width: float | None = None,
        steps: bool = False,
        bridge: bool | float | str | None = None,
        gaps: Literal["open", "dotted"] = "open",
        arrange: Literal["overlay", "side_by_side"] | None = None,
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
            aggregate: What is drawn of several rows that share a place. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". With aggregate=; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. With aggregate=.
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            steps: Whether a value holds until the next one.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; by default 1.5 times the usual distance where one is plain to see, and the nights, weekends and holidays that a series always leaves out.
            gaps: What stands where a value is missing. It is one of "open", "dotted".
            arrange: How marks that fall on the same place share it. By default the line of a group goes where its boxes, bars or the like stand, if they stand side by side. It is one of "overlay", "side_by_side".
            join_by: Whether a line joins rows by increasing x or in the order of the rows. It is one of "x", "rows".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max.
        """

    def areas(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | str | None = None,
        edges: Levels | None = None,
        color: str | None = None,
        outline: str | None = None,
        opacity: float | None = None,
        line_width: float | None = None,
        bridge: bool | float | str | None = None,
        gaps: Literal["zero"] | None = None,
        arrange: Literal["stack", "share", "overlay"] | None = None,
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
        """The area between a line and zero.

        Args:
            aggregate: What is drawn of several rows that share a place. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". With aggregate=; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. With aggregate=.
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; by default 1.5 times the usual distance where one is plain to see, and the nights, weekends and holidays that a series always leaves out.
            gaps: What stands where a value is missing. By default an area breaks where a value is missing, and so does what stands on it; counts of no rows are zero. It is one of "zero".
            arrange: How marks that fall on the same place share it. Counts, sums and given amounts stand on each other by default; means and the like, and heights that are no amounts (shares, temperatures, rates), lie over each other and show through. It is one of "stack", "share", "overlay".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, color, opacity, outline, line_width, group, weight.

        Computes, for templates: x, y, mean, count, median, sum, min, max.
        """

    def bands(
        self,
        *,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | str | None = None,
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
        """The area between y_low and y_high, or an interval around a center of the rows at each x.

        Args:
            aggregate: What is drawn of several rows that share a place. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". With aggregate=; the result stands in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. With aggregate=.
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 0.3 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            around: The center of an interval: a mean, a median, or the share of yes. It is one of "mean", "median", "share".
            reach: What the ends of an interval are. A confidence interval by default. It is one of "confidence", "std_error", "std_dev", "quartiles", "range".
            level: The level of a confidence interval, from 0 to 1. 0.95 by default. It is a number from 0.01 to 0.9999.
            bootstrap: How many samples a seeded bootstrap takes; 0 for the formula. It is a whole number from 0 to 1e+06.
            bridge: How far apart neighbours may be that are joined: "2 hours", a number, True for any; by default 1.5 times the usual distance where one is plain to see, and the nights, weekends and holidays that a series always leaves out.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, x_low, x_high, y_low, y_high, color, opacity, outline, line_width, group, weight.

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
        arrange: Literal["stack", "side_by_side", "share", "overlay"] | None = None,
        aggregate: Literal["none", "mean", "median", "sum", "count", "min", "max"] = "none",
        bins: int | str | None = None,
        edges: Levels | None = None,
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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            bar_width: The share of its slot that a bar fills, from 0.01 to 1. The theme's by default. It is a number from 0.01 to 1.
            arrange: How marks that fall on the same place share it. Counts, sums and given amounts stand on each other by default; means and the like, and heights that are no amounts (shares, temperatures, rates), side by side. It is one of "stack", "side_by_side", "share", "overlay".
            aggregate: What is drawn of several rows that share a place. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". Where bars count or aggregate; they stand in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. Where bars count or aggregate.
            value_labels: What is written on each mark: a template such as "{count:,}".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
        bins: int | str | None = None,
        bin_width: str | float | None = None,
        edges: Levels | None = None,
        rule: Literal["freedman_diaconis", "scott", "sturges", "rice", "square_root"] = "freedman_diaconis",
        measure: Literal["count", "share", "density"] = "count",
        share_of: Literal["panel", "group"] = "panel",
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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. A thin line in the color of the sheet where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". So many are of even width on the axis. It is a whole number from 1 to 2000.
            bin_width: The width of bins in the unit of the data; for times days, or such as "2 hours".
            edges: The ends of the intervals, in the unit of the data.
            rule: What chooses the width of bins where none is given. It is one of "freedman_diaconis", "scott", "sturges", "rice", "square_root".
            measure: What the height of a mark shows. It is one of "count", "share", "density".
            share_of: What shares and densities are parts of: all rows of the panel, or those of each group. Stacked or not. It is one of "panel", "group".
            arrange: How marks that fall on the same place share it. It is one of "stack", "share", "overlay".
            value_labels: What is written on each mark: a template such as "{count:,}".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. Of the curve, and of the area under it.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            bandwidth: How far a density is smoothed: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            measure: What the height of a mark shows. "count" lies over a histogram. It is one of "density", "count".
            bin_width: The width of bins in the unit of the data; for times days, or such as "2 hours". A count lies over bins of it; over those of the figure's histogram by default.
            support: The smallest and the largest value that can occur, where there are any.
            filled: Whether the area inside or below a line is filled.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            size: The diameter of a point, or the size of a text, in points. The theme's `point_size` by default. It is a number from 0.01 to 1000.
            shape: The outline of a marker, or of a region. A disc by default. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            distribution: What y is compared with where x is not mapped. It is one of "normal", "uniform", "exponential".
            line: Whether the line through the quartiles is drawn.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. The inside is a tint of it.
            outline: The color of the border of a mark. And of all lines; the color where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. Of the tint; the border and lines are opaque. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. 0.8 by default. It is a number from 0.01 to 100.
            whiskers: How far whiskers reach: "1.5 iqr", "range", or percentiles such as (10, 90).
            notches: Whether a box narrows to an interval around its median.
            outliers: Whether values beyond the whiskers are drawn.
            box_width: The share of its slot that a box fills; the theme's bar_width by default. It is a number from 0.01 to 1.
            arrange: How marks that fall on the same place share it. It is one of "side_by_side", "overlay".
            shift: How far marks stand beside their places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            value_labels: What is written on each mark: a template such as "{count:,}". Such as "{median:.1f}".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. The inside is a tint of it.
            outline: The color of the border of a mark. And of all lines; the color where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. Of the tint; the border and lines are opaque. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. 0.7 by default. It is a number from 0.01 to 100.
            half: One side of a violin only; "split" shares it between two groups. It is one of "left", "right", "split".
            bandwidth: How far a density is smoothed: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            support: The smallest and the largest value that can occur, where there are any.
            quartiles: Whether lines mark the quartiles.
            equal: What is equal among the shapes of a panel: "peak" for the widest place, "area", or "row_area" for the area of one row. It is one of "peak", "area", "row_area".
            violin_width: The share of its slot that the widest violin fills; the theme's bar_width by default. It is a number from 0.01 to 1.
            arrange: How marks that fall on the same place share it. It is one of "side_by_side", "overlay".
            shift: How far marks stand beside their places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
        bins: int | str | None = None,
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
        """Densities, or histograms, over the categories of an axis; they overlap, and the axis has space for the uppermost.

        Args:
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. The inside is a tint of it.
            outline: The color of the border of a mark. And of all lines; the color where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. Of the tint; the border and lines are opaque. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. 0.7 by default. It is a number from 0.01 to 100.
            form: What rises over a category. It is one of "density", "histogram".
            rise: How high the highest ridge is, in slots of the axis. It is a number from 0.1 to 20.
            equal: What is equal among the shapes of a panel: "peak" for the widest place, "area", or "row_area" for the area of one row. It is one of "area", "peak".
            bandwidth: How far a density is smoothed: "scott", "silverman", or a number in the unit of the data; for times days, or such as "2 hours".
            support: The smallest and the largest value that can occur, where there are any.
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data.
            quantiles: Shares below lines in every ridge, such as [0.25, 0.5, 0.75].
            shaded: Whether color runs along the values, on a ramp.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            opacity: How much a mark covers what lies below it, from 0 to 1. 0.6 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. 0.4 by default. It is a number from 0.01 to 100.
            length: The length of ticks, in points. It is a number from 0.1 to 1000.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
        bins: int | str | None = None,
        edges: Levels | None = None,
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
        """A dot at the center and a line to both ends; or ends as they are given, along y, along x, or along both as a cross.

        Args:
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. Of line and dot.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0.01 to 100.
            size: The diameter of a point, or the size of a text, in points. Of the dot; 0 for none. It is a number from 0 to 1000.
            shape: The outline of a marker, or of a region. It is one of "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square", "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond".
            around: The center of an interval: a mean, a median, or the share of yes. It is one of "mean", "median", "share".
            reach: What the ends of an interval are. It is one of "confidence", "std_error", "std_dev", "quartiles", "range".
            level: The level of a confidence interval, from 0 to 1. It is a number from 0.01 to 0.9999.
            bootstrap: How many samples a seeded bootstrap takes; 0 for the formula. It is a whole number from 0 to 1e+06.
            bootstrap_ends: How the ends follow from the samples of the bootstrap. It is one of "bias_corrected", "percentile".
            space: Whether it is computed from the data, or from places along the axes. From the data by default. It is one of "data", "axis".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". Where intervals are computed; they stand in the middle. It is a whole number from 1 to 2000.
            edges: The ends of the intervals, in the unit of the data. Where intervals are computed.
            boxed: Whether the range is a box with the center as a line, instead of a line with a dot.
            caps: Length of the caps at both ends, in points. It is a number from 0 to 100.
            slot_share: The share of its slot within which groups stand side by side. It is a number from 0.01 to 1.
            arrange: How marks that fall on the same place share it. Side by side on categories by default; on numbers they stay where they are. It is one of "side_by_side", "overlay".
            shift: How far marks stand beside their places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.
            value_labels: What is written on each mark: a template such as "{count:,}". Such as "{mean:.1f}", at the upper end.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, x_low, x_high, y_low, y_high, color, opacity, line_width, size, shape, group, weight.

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
            method: How a line is fitted, or which coefficient is computed. It is one of "linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving".
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. Of the line and of its band.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            level: The level of a confidence interval, from 0 to 1. None for no band.
            band: Whether the band holds the line, or one more value.
            robust_errors: Whether the errors of linear and polynomial fits allow for unequal variances (HC3).
            degree: The degree of a polynomial: 2 by default, also for loess, which takes 0 to 2. It is a whole number from 0 to 12.
            local_share: Share of the rows that each local fit of loess sees. It is a number from 0.01 to 10.
            quantile: The quantile of method "quantile", from 0 to 1. It is a number from 0.001 to 0.999.
            window: Rows of a moving average. It is a whole number of at least 1.
            space: Whether it is computed from the data, or from places along the axes. From places by default. It is one of "data", "axis".
            compare: "slopes" computes the difference of each group's slope to the first one's. It is one of "slopes".
            equation: Whether the equation of a straight line or polynomial is written.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x, y, color, opacity, dash, line_width, group, weight.

        Computes, for templates: x, y, slope, slope_low, slope_high, intercept, coefficients, origin, r2, count, residual_std, p, slope_difference, slope_difference_low, slope_difference_high, slope_difference_p.
        """

    def cells(
        self,
        *,
        color: str | None = None,
        outline: str | None = None,
        line_width: float | None = None,
        opacity: float | None = None,
        cell: Literal["square", "hex"] = "square",
        bins: int | str | None = None,
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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. One for all cells.
            outline: The color of the border of a mark. None where it is not set.
            line_width: The width of a line or a border, in points. 0.5 by default. It is a number from 0 to 100.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            cell: The shape of cells of numbers. It is one of "square", "hex".
            bins: How many intervals the range is divided into; of times also how long they are, such as "1 month". Along each number axis; about one for each 6.5 points by default. It is a whole number from 1 to 1000.
            all_pairs: Whether combinations that do not occur are drawn too.
            aggregate: What is drawn of several rows that share a place. In a cell, of color. It is one of "none", "mean", "median", "sum", "count", "min", "max".
            gap: Space between cells, as a share of their size. It is a number from 0 to 0.9.
            value_labels: What is written on each mark: a template such as "{count:,}".
            edges: The ends of cells along x and y in the unit of the data: two lists, either of which may be None.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. Of the lines, or of the filled steps.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. 0.8 by default. It is a number from 0.01 to 100.
            filled: Whether the area inside or below a line is filled. Deeper with each level.
            levels: The levels of contours: for densities shares of the rows that are enclosed, nine from 0.9 to 0.1 by default, or how many; for given values the values, or about how many.
            given: Whether `color` holds heights on a grid of x and y, instead of rows that are counted.
            smoothing: Factor of the bandwidths that the rule gives. It is a number from 0.01 to 100.
            bandwidth: The bandwidths along x and y in the unit of the data, or one for both.
            support: The smallest and the largest values that can occur, such as {"x": (0, None)}.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            method: How a line is fitted, or which coefficient is computed. It is one of "pearson", "spearman".
            level: The level of a confidence interval, from 0 to 1. It is a number from 0.01 to 0.999.
            text: What is written: a template such as "{mean:.1f}", in inline markup.
            shade: Whether the panel is shaded by sign and strength.
            space: Whether it is computed from the data, or from places along the axes. From places by default. It is one of "data", "axis".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
        priority: str | None = None,
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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. That of titles by default.
            size: The diameter of a point, or the size of a text, in points. That of tick labels by default. It is a number from 1 to 300.
            side: The side at which something stands. It is one of "above", "below", "left", "right", "middle".
            gap: Space between a place and its label, or between texts that belong together, in points. It is a number from 0 to 100.
            avoid: Whether labels are moved off the marks of all layers and each other, or left out and counted where there is no space; where neither this nor a side or a shift is given, those of fewer than 200 rows are.
            priority: The column whose largest values keep their labels where there is no space for all.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets a text off; where it lies on marks by default.
            layer: A layer of the figure: its verb, its name or its place.
            text: What is written: a template such as "{mean:.1f}", in inline markup. Of another layer's marks.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. Of its colors: a text explains itself.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            arrow: Whether segments end in an arrow's head.
            head: Length of an arrow's head, in points. It is a number from 0.5 to 200.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. That of the text by default.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Dashed by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. 0.7 by default. It is a number from 0.01 to 100.
            x: Where a vertical line stands: a number, a date or a category; or a list of them.
            y: Where a horizontal line stands; or a list.
            slope: How much y rises where x rises by one. It is a number.
            intercept: The y of a line where x is 0; 0 by default. It is a number.
            aggregate: What is drawn of several rows that share a place. Instead of a given place. It is one of "mean", "median", "min", "max".
            axis: The axis of which something is given, x or y. It is one of "x", "y".
            per: Whether something is for each panel, each group, or all. It is one of "panel", "group", "figure".
            text: What is written: a template such as "{mean:.1f}", in inline markup. At its end, such as "mean {value:.1f}".
            text_at: Where along the line its text stands: "start", "middle", "end", or a share of its length from 0 to 1.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets a text off; where it lies on marks by default.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            outline: The color of the border of a mark. None where it is not set.
            opacity: How much a mark covers what lies below it, from 0 to 1. 0.18 by default. It is a number from 0 to 1.
            line_width: The width of a line or a border, in points. It is a number from 0 to 100.
            x: Its left and right end; None for the edge of the panel.
            y: Its lower and upper end; None for the edge of the panel.
            shape: The outline of a marker, or of a region. It is one of "rectangle", "ellipse".
            text: What is written: a template such as "{mean:.1f}", in inline markup. Inside, at the top left, such as "{x_low} to {x_high}".
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            text: What is written: a template such as "{mean:.1f}", in inline markup. With at= a template, such as "{y:.1f}".
            at: Which row of each group is meant. It is one of "highest", "lowest", "first", "last".
            x: Where its text stands on x: a number, a date or a category.
            y: Where its text stands on y.
            x_to: Where its arrow points on x; there is none by default.
            y_to: Where its arrow points on y; there is none by default.
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar. Of text and arrow; that of titles by default.
            line_width: The width of a line or a border, in points. 0.6 by default. It is a number from 0.01 to 100.
            size: The diameter of a point, or the size of a text, in points. That of tick labels by default. It is a number from 1 to 300.
            shift: How far its text is moved from where it would stand, to the right and down, such as ("2 mm", "-1 mm").
            halo: Whether a halo in the color of the ground sets a text off; where it lies on marks by default.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

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
            expression: SQL in the columns of the data, a narwhals expression, or a callable.
            color: The color of the body of a mark: of a line or a text, or the inside of a point or bar.
            opacity: How much a mark covers what lies below it, from 0 to 1. 1 by default. It is a number from 0 to 1.
            dash: The pattern of a line. Solid by default. It is one of "solid", "dotted", "long", "dash_dot", "dashed".
            line_width: The width of a line or a border, in points. The theme's by default. It is a number from 0.01 to 100.
            limits: The window that is shown, from one end to the other; an end that is None follows the data.
            map: Aesthetics and the columns that they follow, such as {"color": "rind"}.
            data: A table: a data frame, a dict of arrays, or what else narwhals takes.
            where: An expression: only rows for which it holds are drawn and computed from.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never. "direct" names lines at their ends, "auto" up to three.
            legend_as: What marks are called in a legend of layers or of chosen rows.
            name: What something is called: a layer in the groups of a file, a figure in a plan.
            backdrop: Whether all its rows stand behind every panel of a facet.
            panels: The only panels in which it stands, by their values, such as ["Loft"]; of rows and columns {"milk": "goat"}.
            rasterize: Whether marks become an image inside vector files, while axes and texts stay vectors: "auto" from 20,000 marks on, True, False, or pixels an inch. What the export says by default.

        Follows columns by map(…) or map={…}: x.
        """

class OptionVerbs:
    def map(
        self,
        *given: object,
        x: MapValue | NotGiven = ...,
        y: MapValue | NotGiven = ...,
        x_low: MapValue | NotGiven = ...,
        x_high: MapValue | NotGiven = ...,
        y_low: MapValue | NotGiven = ...,
        y_high: MapValue | NotGiven = ...,
        x_to: MapValue | NotGiven = ...,
        y_to: MapValue | NotGiven = ...,
        color: MapValue | NotGiven = ...,
        outline: MapValue | NotGiven = ...,
        opacity: MapValue | NotGiven = ...,
        size: MapValue | NotGiven = ...,
        shape: MapValue | NotGiven = ...,
        dash: MapValue | NotGiven = ...,
        line_width: MapValue | NotGiven = ...,
        label: MapValue | NotGiven = ...,
        weight: MapValue | NotGiven = ...,
        group: MapValue | NotGiven = ...,
    ) -> Self:
        """Lets aesthetics follow columns of the data.

        Args:
            *given: Nothing: every column has the name of its aesthetic.
            x: Place from left to right.
            y: Place from bottom to top.
            x_low: Left end of a range.
            x_high: Right end of a range.
            y_low: Lower end of a range.
            y_high: Upper end of a range.
            x_to: Where a segment ends, from left to right.
            y_to: Where a segment ends, from bottom to top.
            color: The body of a mark: the color of a line, the inside of a point or bar.
            outline: The border of a mark.
            opacity: How much a mark covers what lies below it, 0 to 1.
            size: The area of a point.
            shape: The outline of a point.
            dash: The pattern of a line.
            line_width: The width of a line.
            label: The text of a mark.
            weight: How much a row counts in what is computed.
            group: Which rows belong together.

        Raises:
            MappingError: An aesthetic or a column is unknown.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"age": [30, 60], "mass": [4.1, 3.9]}).map(x="age", y="mass")
        """

    def scale(
        self,
        aesthetic: str,
        kind: str | NotGiven | None = ...,
        *,
        for_column: str | None = None,
        title: str | NotGiven | None = ...,
        limits: Ends | Mapping[str, Ends] | NotGiven | None = ...,
        ticks: tuple[object, ...] | int | str | NotGiven | None = ...,
        minor_ticks: bool | NotGiven | None = ...,
        format: Format | NotGiven | None = ...,
        order: Levels | str | NotGiven | None = ...,
        by: str | NotGiven | None = ...,
        of: str | NotGiven | None = ...,
        top: int | NotGiven | None = ...,
        rest_as: str | NotGiven | None = ...,
        missing: str | NotGiven | None = ...,
        reverse: bool | NotGiven | None = ...,
        margin: float | NotGiven | None = ...,
        include: Place | Sequence[Place] | NotGiven | None = ...,
        second_axis: Options | NotGiven | None = ...,
        palette: str | tuple[str, ...] | NotGiven | None = ...,
        colors: Mapping[str, str] | tuple[str, ...] | NotGiven | None = ...,
        others: str | NotGiven | None = ...,
        middle: float | NotGiven | None = ...,
        span: tuple[float | None, float | None] | NotGiven | None = ...,
        shapes: tuple[str, ...] | Mapping[str, str] | NotGiven | None = ...,
        dashes: tuple[str, ...] | Mapping[str, str] | NotGiven | None = ...,
        breaks: tuple[float, ...] | int | NotGiven | None = ...,
        base: float | NotGiven | None = ...,
        exponent: float | NotGiven | None = ...,
        legend: bool | NotGiven | None = ...,
        unit: str | NotGiven | None = ...,
        zone: str | NotGiven | None = ...,
        threshold: float | NotGiven | None = ...,
    ) -> Self:
        """Says how an aesthetic's values become places, colors, sizes or shapes; later calls add to earlier ones.

        None takes an option back; .scale("x", None) takes back all that was given for the scale. A title is the same as that
        of `titles`: the later call wins.

        Args:
            aesthetic: x, y, color, outline, opacity, size, shape, dash or line_width.
            kind: linear, log, sqrt, signed_log, logit, power, category, ordered, time, duration, classed or as_given; that of
                the data by default, or with None.
            for_column: The only column that it is for, where `over_variables` or a matrix shows several:
                scale("y", "log", for_column="colonies").
            title: The title of an axis, a legend or a picture; "" for none.
            limits: The window that is shown, an end that is None follows the data; by quantile ("1 %", "99 %"); of panels {"Loft": (0, 10)}.
            ticks: A list of values, all of which are drawn, about how many, or for times such as "every 3 months".
            minor_ticks: Whether there are ticks without labels between.
            format: How values are written, such as ",.1f", "percent", "si", "absolute", "€{value}" or "%b %Y"; a dict of value and words, or a callable.
            order: Values in their order, others follow; or "natural", "seen" as in the data, "frequent", "rising" or "falling" by the value drawn (of cells their total), or by a statistic: by=, of=; "similar" sets rows or columns of cells that are alike beside each other.
            by: The statistic that an order goes by.
            of: The column of a statistic.
            top: How many levels are kept: the largest by the statistic of the order, else the most frequent.
            rest_as: What the other levels or rows are called, which are pooled. None leaves them out.
            missing: What becomes of rows without a value: "drop", "show", or a color.
            reverse: Whether a scale runs the other way.
            margin: Space at both ends of an axis, as a share of the range.
            include: A value that the range must hold, or several.
            second_axis: A second axis with the same values in another unit: convert, title, ticks, format; or of times in another zone. Such as {"convert": "value * 1.8 + 32", "title": "Temperature (°F)"}, or {"zone": "Asia/Tokyo"}.
            palette: Colors: the name of a palette for categories or of a ramp for numbers, or a list of colors. A list holds those of categories in their order, or of numbers from low to high. Categories with the name of a ramp take even steps of it.
            colors: Colors of some categories, by name. Or a list, in the order of the categories, or of numbers from low to high.
            others: The color of all categories, or rows, that are not named.
            middle: The value at the middle of a diverging ramp.
            span: The smallest and the largest size in points, or opacity.
            shapes: Shapes for categories, in order; or of some categories: {"washed": "open_disc"}.
            dashes: Dashes for categories, in order; or of some categories.
            breaks: Where classes of numbers begin: a list, or how many classes.
            base: Base of a log scale; 10 by default.
            exponent: Exponent of a power scale; 0.5 by default.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never.
            unit: The unit of a column; "" for none.
            zone: The time zone in which times are shown, such as "Asia/Tokyo".
            threshold: Below it a signed logarithm is about linear; 1 by default.

        Raises:
            ScaleError: The aesthetic has no scale, or the kind is unknown.
            OptionError: An option is unknown, impossible, or has no effect on this aesthetic.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 1000], "b": [2, 3]}).map(x="a", y="b").points().scale("x", "log")
        """

    def titles(
        self,
        title: str | NotGiven | None = ...,
        *,
        subtitle: str | NotGiven | None = ...,
        note: str | NotGiven | None = ...,
        source: str | NotGiven | None = ...,
        x: str | NotGiven | None = ...,
        y: str | NotGiven | None = ...,
        color: str | NotGiven | None = ...,
        outline: str | NotGiven | None = ...,
        opacity: str | NotGiven | None = ...,
        size: str | NotGiven | None = ...,
        shape: str | NotGiven | None = ...,
        dash: str | NotGiven | None = ...,
        line_width: str | NotGiven | None = ...,
    ) -> Self:
        """Writes the texts of the figure, in inline markup; what is not given stays as it was, None takes a text back.

        Args:
            title: The title.
            subtitle: A line below it.
            note: A text below the axes.
            source: Where the data come from, on a line of its own below the note.
            x: The title of the x axis; "" for none.
            y: The title of the y axis; "" for none.
            color: The title of the legend of color; "" for none.
            outline: The title of the legend of outline; "" for none.
            opacity: The title of the legend of opacity; "" for none.
            size: The title of the legend of size; "" for none.
            shape: The title of the legend of shape; "" for none.
            dash: The title of the legend of dash; "" for none.
            line_width: The title of the legend of line_width; "" for none.

        Raises:
            OptionError: A text is none, or there is no such guide.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).titles("CO~2~ in the air", x="Day")
        """

    def theme(
        self,
        name: str | Path | None = None,
        *,
        font: str | NotGiven = ...,
        text_size: float | NotGiven = ...,
        tick_size: float | NotGiven | None = ...,
        value_size: float | NotGiven | None = ...,
        title_size: float | NotGiven | None = ...,
        title_weight: float | NotGiven = ...,
        heading_weight: float | NotGiven = ...,
        text_color: str | NotGiven = ...,
        tick_color: str | NotGiven = ...,
        line_height: float | NotGiven = ...,
        ground: str | NotGiven = ...,
        panel_ground: str | NotGiven | None = ...,
        panel_frame: str | NotGiven | None = ...,
        panel_frame_width: float | NotGiven = ...,
        margin: float | NotGiven = ...,
        axis_color: str | NotGiven = ...,
        axis_width: float | NotGiven = ...,
        tick_length: float | NotGiven = ...,
        axes: bool | NotGiven = ...,
        hairlines: str | NotGiven = ...,
        hairline_color: str | NotGiven = ...,
        hairline_width: float | NotGiven = ...,
        gap: float | NotGiven = ...,
        block_gap: float | NotGiven = ...,
        panel_gap: float | NotGiven = ...,
        legend_place: str | NotGiven = ...,
        legend_shift: tuple[str, str] | NotGiven | None = ...,
        legend_columns: int | NotGiven | None = ...,
        point_size: float | NotGiven = ...,
        line_width: float | NotGiven = ...,
        bar_width: float | NotGiven = ...,
        palette: str | tuple[str, ...] | NotGiven = ...,
        ramp: str | tuple[str, ...] | NotGiven = ...,
        missing_color: str | NotGiven = ...,
        readout_size: float | NotGiven = ...,
        quiet_opacity: float | NotGiven = ...,
    ) -> Self:
        """Chooses the appearance: a theme by name, or settings laid over the one in use.

        Args:
            name: One of press, ledger, field, basalt, bare and lecture; or a TOML file of settings, in which `name` is the
                theme that it starts from.
            font: The family of all text: one that `facetine catalog fonts` lists.
            text_size: Size of axis titles, legends and labels, in points.
            tick_size: Size of tick labels, in points; 0.9 of the text where it is not set.
            value_size: Size of the values written on marks, in points; that of tick labels where it is not set.
            title_size: Size of the title, in points; 1.25 of the text where it is not set.
            title_weight: Weight of the title from 200 to 900: 400 is regular, 700 bold.
            heading_weight: Weight of panel headings from 200 to 900.
            text_color: The color of titles and legends.
            tick_color: The color of tick labels, subtitle and note.
            line_height: Distance of baselines, in shares of the text size.
            ground: The color of the sheet.
            panel_ground: The color behind the marks of each panel; the sheet's where it is not set.
            panel_frame: The color of a line around each panel; none where it is not set.
            panel_frame_width: Width of that line, in points.
            margin: Space between the sheet's edge and everything on it, in points.
            axis_color: The color of axis lines and ticks.
            axis_width: Width of axis lines and ticks, in points.
            tick_length: Length of ticks, outwards, in points.
            axes: Whether axes, ticks and their titles are drawn.
            hairlines: Thin lines at the ticks behind the marks: "none", "across" or "both".
            hairline_color: The color of hairlines.
            hairline_width: Width of hairlines, in points.
            gap: Space between a place and its label, or between texts that belong together, in points.
            block_gap: Space between title, legend, panels and note, in points.
            panel_gap: Space between panels, in points.
            legend_place: Where legends go: "auto", "top", "right", "bottom", "left", "inside" (in the emptiest corner of a panel) or "none".
            legend_shift: How far the legends are moved from there, to the right and down, such as ("2 mm", "-1 mm").
            legend_columns: At most so many entries of a legend stand beside each other; as many as fit above the panels, else one, by default.
            point_size: Diameter of points, in points.
            line_width: The width of a line or a border, in points.
            bar_width: The share of its slot that a bar fills, from 0.01 to 1.
            palette: Colors: the name of a palette for categories or of a ramp for numbers, or a list of colors. Of categories.
            ramp: Colors of numbers: a ramp's name, or a list of colors from low to high.
            missing_color: The color of marks of rows without a value, where they are shown.
            readout_size: The size of the texts beside a mark that is read, on a page, in points.
            quiet_opacity: How much marks that are not chosen cover what lies below them, on a page.

        Raises:
            OptionError: There is no such theme or setting, or a setting has an impossible value.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).theme("press", text_size=9)
        """

class PlateVerbs:
    def theme(
        self,
        name: str | Path | None = None,
        *,
        font: str | NotGiven = ...,
        text_size: float | NotGiven = ...,
        tick_size: float | NotGiven | None = ...,
        value_size: float | NotGiven | None = ...,
        title_size: float | NotGiven | None = ...,
        title_weight: float | NotGiven = ...,
        heading_weight: float | NotGiven = ...,
        text_color: str | NotGiven = ...,
        tick_color: str | NotGiven = ...,
        line_height: float | NotGiven = ...,
        ground: str | NotGiven = ...,
        panel_ground: str | NotGiven | None = ...,
        panel_frame: str | NotGiven | None = ...,
        panel_frame_width: float | NotGiven = ...,
        margin: float | NotGiven = ...,
        axis_color: str | NotGiven = ...,
        axis_width: float | NotGiven = ...,
        tick_length: float | NotGiven = ...,
        axes: bool | NotGiven = ...,
        hairlines: str | NotGiven = ...,
        hairline_color: str | NotGiven = ...,
        hairline_width: float | NotGiven = ...,
        gap: float | NotGiven = ...,
        block_gap: float | NotGiven = ...,
        panel_gap: float | NotGiven = ...,
        legend_place: str | NotGiven = ...,
        legend_shift: tuple[str, str] | NotGiven | None = ...,
        legend_columns: int | NotGiven | None = ...,
        point_size: float | NotGiven = ...,
        line_width: float | NotGiven = ...,
        bar_width: float | NotGiven = ...,
        palette: str | tuple[str, ...] | NotGiven = ...,
        ramp: str | tuple[str, ...] | NotGiven = ...,
        missing_color: str | NotGiven = ...,
        readout_size: float | NotGiven = ...,
        quiet_opacity: float | NotGiven = ...,
    ) -> Self:
        """Sets the appearance of all its figures: a theme by name, or settings. An inset with a text size of its own keeps it.

        Args:
            name: As for a figure.
            font: The family of all text: one that `facetine catalog fonts` lists.
            text_size: Size of axis titles, legends and labels, in points.
            tick_size: Size of tick labels, in points; 0.9 of the text where it is not set.
            value_size: Size of the values written on marks, in points; that of tick labels where it is not set.
            title_size: Size of the title, in points; 1.25 of the text where it is not set.
            title_weight: Weight of the title from 200 to 900: 400 is regular, 700 bold.
            heading_weight: Weight of panel headings from 200 to 900.
            text_color: The color of titles and legends.
            tick_color: The color of tick labels, subtitle and note.
            line_height: Distance of baselines, in shares of the text size.
            ground: The color of the sheet.
            panel_ground: The color behind the marks of each panel; the sheet's where it is not set.
            panel_frame: The color of a line around each panel; none where it is not set.
            panel_frame_width: Width of that line, in points.
            margin: Space between the sheet's edge and everything on it, in points.
            axis_color: The color of axis lines and ticks.
            axis_width: Width of axis lines and ticks, in points.
            tick_length: Length of ticks, outwards, in points.
            axes: Whether axes, ticks and their titles are drawn.
            hairlines: Thin lines at the ticks behind the marks: "none", "across" or "both".
            hairline_color: The color of hairlines.
            hairline_width: Width of hairlines, in points.
            gap: Space between a place and its label, or between texts that belong together, in points.
            block_gap: Space between title, legend, panels and note, in points.
            panel_gap: Space between panels, in points.
            legend_place: Where legends go: "auto", "top", "right", "bottom", "left", "inside" (in the emptiest corner of a panel) or "none".
            legend_shift: How far the legends are moved from there, to the right and down, such as ("2 mm", "-1 mm").
            legend_columns: At most so many entries of a legend stand beside each other; as many as fit above the panels, else one, by default.
            point_size: Diameter of points, in points.
            line_width: The width of a line or a border, in points.
            bar_width: The share of its slot that a bar fills, from 0.01 to 1.
            palette: Colors: the name of a palette for categories or of a ramp for numbers, or a list of colors. Of categories.
            ramp: Colors of numbers: a ramp's name, or a list of colors from low to high.
            missing_color: The color of marks of rows without a value, where they are shown.
            readout_size: The size of the texts beside a mark that is read, on a page, in points.
            quiet_opacity: How much marks that are not chosen cover what lies below them, on a page.

        Raises:
            OptionError: There is no such theme or setting, or a setting has an impossible value.
        """

    def scale(
        self,
        aesthetic: str,
        kind: str | NotGiven | None = ...,
        *,
        title: str | NotGiven | None = ...,
        limits: Ends | Mapping[str, Ends] | NotGiven | None = ...,
        ticks: tuple[object, ...] | int | str | NotGiven | None = ...,
        minor_ticks: bool | NotGiven | None = ...,
        format: Format | NotGiven | None = ...,
        order: Levels | str | NotGiven | None = ...,
        by: str | NotGiven | None = ...,
        of: str | NotGiven | None = ...,
        top: int | NotGiven | None = ...,
        rest_as: str | NotGiven | None = ...,
        missing: str | NotGiven | None = ...,
        reverse: bool | NotGiven | None = ...,
        margin: float | NotGiven | None = ...,
        include: Place | Sequence[Place] | NotGiven | None = ...,
        second_axis: Options | NotGiven | None = ...,
        palette: str | tuple[str, ...] | NotGiven | None = ...,
        colors: Mapping[str, str] | tuple[str, ...] | NotGiven | None = ...,
        others: str | NotGiven | None = ...,
        middle: float | NotGiven | None = ...,
        span: tuple[float | None, float | None] | NotGiven | None = ...,
        shapes: tuple[str, ...] | Mapping[str, str] | NotGiven | None = ...,
        dashes: tuple[str, ...] | Mapping[str, str] | NotGiven | None = ...,
        breaks: tuple[float, ...] | int | NotGiven | None = ...,
        base: float | NotGiven | None = ...,
        exponent: float | NotGiven | None = ...,
        legend: bool | NotGiven | None = ...,
        unit: str | NotGiven | None = ...,
        zone: str | NotGiven | None = ...,
        threshold: float | NotGiven | None = ...,
    ) -> Self:
        """Sets a scale of all its figures that show the aesthetic; None takes back what was set here.

        Args:
            aesthetic: As for a figure.
            kind: As for a figure.
            title: The title of an axis, a legend or a picture; "" for none.
            limits: The window that is shown, an end that is None follows the data; by quantile ("1 %", "99 %"); of panels {"Loft": (0, 10)}.
            ticks: A list of values, all of which are drawn, about how many, or for times such as "every 3 months".
            minor_ticks: Whether there are ticks without labels between.
            format: How values are written, such as ",.1f", "percent", "si", "absolute", "€{value}" or "%b %Y"; a dict of value and words, or a callable.
            order: Values in their order, others follow; or "natural", "seen" as in the data, "frequent", "rising" or "falling" by the value drawn (of cells their total), or by a statistic: by=, of=; "similar" sets rows or columns of cells that are alike beside each other.
            by: The statistic that an order goes by.
            of: The column of a statistic.
            top: How many levels are kept: the largest by the statistic of the order, else the most frequent.
            rest_as: What the other levels or rows are called, which are pooled. None leaves them out.
            missing: What becomes of rows without a value: "drop", "show", or a color.
            reverse: Whether a scale runs the other way.
            margin: Space at both ends of an axis, as a share of the range.
            include: A value that the range must hold, or several.
            second_axis: A second axis with the same values in another unit: convert, title, ticks, format; or of times in another zone. Such as {"convert": "value * 1.8 + 32", "title": "Temperature (°F)"}, or {"zone": "Asia/Tokyo"}.
            palette: Colors: the name of a palette for categories or of a ramp for numbers, or a list of colors. A list holds those of categories in their order, or of numbers from low to high. Categories with the name of a ramp take even steps of it.
            colors: Colors of some categories, by name. Or a list, in the order of the categories, or of numbers from low to high.
            others: The color of all categories, or rows, that are not named.
            middle: The value at the middle of a diverging ramp.
            span: The smallest and the largest size in points, or opacity.
            shapes: Shapes for categories, in order; or of some categories: {"washed": "open_disc"}.
            dashes: Dashes for categories, in order; or of some categories.
            breaks: Where classes of numbers begin: a list, or how many classes.
            base: Base of a log scale; 10 by default.
            exponent: Exponent of a power scale; 0.5 by default.
            legend: Whether a legend explains it: where no axis and no heading says the same by default, or always, or never.
            unit: The unit of a column; "" for none.
            zone: The time zone in which times are shown, such as "Asia/Tokyo".
            threshold: Below it a signed logarithm is about linear; 1 by default.

        Raises:
            ScaleError: The aesthetic has no scale, or the kind is unknown.
            OptionError: An option is unknown or impossible, or no figure shows the aesthetic.
        """
