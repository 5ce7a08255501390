"""The figure: the sentence's public face. Every verb returns a new figure and leaves the old one as it was."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from facetine.figures import edits
from facetine.figures.layers import LayerVerbs, OptionVerbs
from facetine.figures.numbers import numbers_of, standing_at
from facetine.figures.outlets import Shown
from facetine.figures.panels import faceted, over_variables, sized, with_inset, with_marginal
from facetine.figures.plate import Plate
from facetine.figures.series import exported_each, plan_part
from facetine.figures.variants import compared
from facetine.figures.verb import verb
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, told

if TYPE_CHECKING:
    from facetine.data.expressions import Expression
    from facetine.export.export import ExportResult
    from facetine.export.paper import PaperSize
    from facetine.grammar.facet import Variable
    from facetine.grammar.given import Frame, Length, Options, Targets


class Figure(LayerVerbs, OptionVerbs, Shown):
    """One grammar sentence: data, mapping, layers, facets, scales, titles, theme. Made by `facetine.figure`."""

    __slots__ = ("_sentence",)

    def __init__(self, sentence: Sentence) -> None:
        if not isinstance(sentence, Sentence):
            raise DataError("Figure", f"no figure is made of {told(sentence)}", "facetine.figure(data) begins one")
        self._sentence: Sentence = sentence

    def _add_layer(self, name: str, options: Options) -> Figure:
        return Figure(edits.added(self._sentence, name, options))

    @verb
    def kinds(self, **columns: str) -> Figure:
        """Says what columns are, where the data do not.

        Args:
            **columns: Column name and kind: number, category, ordered, time or yes_no.

        Raises:
            MappingError: There is no such column.
            OptionError: There is no such kind.
            KindError: The column can't be read so.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"year": [2029, 2030]}).kinds(year="category")
        """
        return Figure(self._sentence.with_kinds(columns, "figure.kinds"))

    @verb
    def keep(self, expression: Expression) -> Figure:
        """Keeps the rows for which an expression holds; nothing is computed from the others.

        Args:
            expression: SQL such as "age_days > 90", a narwhals expression, or a callable that gets the frame.

        Raises:
            DataError: The figure has no data of its own.
            MappingError: The expression fails, or is neither true nor false.

        Example:
            >>> import facetine as ft
            >>> ft.figure({"age": [30, 60, 90]}).keep("age > 45")
            figure(2 rows × 1 column)
              .keep('age > 45')
        """
        return Figure(edits.kept_rows(self._sentence, expression))

    @verb
    def derive(self, **columns: Expression) -> Figure:
        """Adds columns.

        Args:
            **columns: Name and expression: SQL such as "mass_kg * 1000", a narwhals expression, or a callable.

        Raises:
            DataError: The figure has no data of its own.
            MappingError: An expression fails.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"kg": [1.5, 2.0]}).derive(g="kg * 1000").map(x="kg", y="g").points()
        """
        return Figure(edits.with_derived(self._sentence, columns))

    @verb
    def sample(self, count: int | None, *, per: str | None = None) -> Figure:
        """Draws, and computes, from a part of the rows, chosen by chance; a finding and the description say so.

        All layers have the same rows; those with data of their own have all of theirs. `points(thin=)` leaves out marks alone.

        Args:
            count: How many rows; None for all again.
            per: "group" for so many of each group, "panel" for so many of each panel; of all rows by default.

        Raises:
            OptionError: The count is no whole number above 0, or per is no such word.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain", color="state").points()
            >>> fig.sample(1000, per="group").numbers("points").groupby("group").size().tolist()
            [1000, 1000]
        """
        return Figure(edits.sampled(self._sentence, count, per))

    @verb
    def highlight(
        self, where: Expression | None, *, others: str | None = None, legend_as: str | None = None, rest_as: str | None = None
    ) -> Figure:
        """Lets chosen rows keep their colors in every layer and panel, on top, while all others are quiet; the legend says both.

        What is computed of groups is computed of the chosen rows and of the others apart, as if a color told them apart.

        Args:
            where: An expression that holds for the chosen rows: SQL such as "cellar = 'Loft'", a narwhals expression, or a
                callable that gets the frame. None highlights nothing any more.
            others: The color of the others; one near the ground by default.
            legend_as: What the chosen rows are called in the legend: by default the value that the expression asks for, or the
                expression.
            rest_as: What the others are called there; "all others" by default.

        Raises:
            MappingError: The expression fails, or is neither true nor false.
            OptionError: There is no such color, or both are called the same.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="firmness_n", color="rind").points()
            >>> fig.highlight("cellar = 'Loft'", others="silver").map(color=None).points()
            figure(240 rows × 13 columns)
              .map(x='age_days', y='firmness_n')
              .points()
              .points()
              .highlight("cellar = 'Loft'", others='#c0c0c0')
        """
        return Figure(edits.highlighted(self._sentence, where, others, legend_as, rest_as))

    @verb
    def choose(
        self, name: str | None, *, along: str | None = None, by: str | None = None, multiple: bool = False, start: Any = None
    ) -> Figure:
        """Says what a reader of its page can choose: rows within a brush, or those of marks that are picked.

        Without any choice on a sheet all rows can be brushed and picked everywhere, and every figure shows them. With one,
        brushes and picks are what is said, and the figures that `respond` show them, and the one that chooses.

        Args:
            name: What it is called; None takes all choices of the figure away.
            along: "x", "y" or "xy": the axes along which a brush is drawn. Without it marks are picked.
            by: The column whose value is picked: all of its rows are chosen.
            multiple: Whether what is picked is put to what was picked before.
            start: What is chosen at first, and drawn on paper: {"age_days": (20, 80)}, {"rind": ["washed", "waxed"]}, or an
                expression.

        Raises:
            OptionError: It is no name, or options do not go together.
            MappingError: There is no such column, or the expression fails.

        Example:
            >>> import facetine as ft
            >>> ages = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> ages = ages.choose("ages", along="x", start={"age_days": (20, 80)})
            >>> others = ages.choose(None).map(x="ph").respond("ages")
            >>> both = ft.plate([[ages, others]])
        """
        return Figure(edits.with_choice(self._sentence, name, along, by, multiple, start))

    @verb
    def respond(self, name: str | None, how: str = "highlight", *, show_all: bool | None = None) -> Figure:
        """Says what the figure does with a choice of its sheet.

        Args:
            name: Of the choice; None takes all responses away.
            how: "highlight": the chosen rows keep their looks, all others are quiet. "keep": what layers compute is computed of
                the chosen rows; scales, bins, the order of categories and the places of marks stay those of all rows.
                "limits": the axis that shows what a brush is drawn along has the limits of the chosen interval, so that one
                figure is the overview and this the detail.
            show_all: With "keep": whether what all rows make is seen behind what the chosen ones do; by default where marks
                are counts.

        Raises:
            OptionError: There is no such response.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points().respond("ages")
        """
        return Figure(edits.responding(self._sentence, name, how, show_all))

    @verb
    def seed(self, number: int) -> Figure:
        """Governs all that is left to chance: the order of drawing, jitter, thinning, bootstrap samples.

        Args:
            number: A whole number from 0 on; 1 by default.

        Raises:
            OptionError: It is none.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(arrange="jitter").seed(7)
        """
        return Figure(edits.seeded(self._sentence, number))

    def swap_axes(self) -> Figure:
        """Turns the figure: what was on x is on y, with its scale and title.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines().swap_axes()
        """
        return Figure(edits.with_changes(self._sentence, swapped=not self._sentence.swapped))

    @verb
    def facet(
        self,
        by: Variable | None = None,
        *,
        rows: Variable | None = None,
        columns: Variable | None = None,
        per_row: int | None = None,
        per_column: int | None = None,
        order: Sequence[object] | str | Mapping[str, Sequence[object] | str] | None = None,
        of: str | None = None,
        separate: str | Mapping[str, str] | None = None,
        heading: str | Callable[[object], str] | None = None,
        breaks: Sequence[float] | Mapping[str, Any] | None = None,
        gap_x: Length = None,
        gap_y: Length = None,
        repeat_axes: bool = False,
        empty: str = "keep",
        per_page: int | None = None,
        row_headings: str = "right",
    ) -> Figure:
        """Makes a panel for each value of a column, or for each pair of values of two; on the same axes or each on its own.

        Args:
            by: The column, whose panels are wrapped; a tuple of columns, for each combination that occurs; or an
                expression: SQL such as "age_days > 90", a narwhals expression or a callable. No column at all takes the
                facet away.
            rows: The column, columns or expression whose values are rows of panels, instead; several columns are nested.
            columns: Likewise of columns of panels.
            per_row: How many panels stand side by side; as many as make the grid about square by default.
            per_column: How many stand below each other; the panels then follow each other downwards.
            order: The values in their order, others follow; or "natural", "seen", "frequent", "rising" or "falling" by the
                medians of what is drawn. Of several columns a dict, such as {"milk": ["ewe", "goat"]}.
            of: The column by whose medians they rise or fall instead.
            separate: The axes that each panel has of its own, "x", "y" or "xy"; bins, categories and statistics too are
                then those of the panel. Of rows and columns also {"y": "row", "x": "column"}: one for each of these.
            heading: What stands over a panel: "{value}", "{name}: {value} (n = {count})", or a callable that gets the value;
                of rows and columns, over each column and beside each row. Yes and no have "{name}: {value}" by default.
            breaks: Where classes of a column of numbers part, such as [60, 180]: a panel for each of three; or their ranges by
                name, {"young": [None, 60], "old": [60, None]}; of rows and columns either by column, {"age_days": [60, 180]}.
            gap_x: Space between columns of panels, such as "4 mm"; the theme's by default.
            gap_y: Space between rows of panels.
            repeat_axes: Whether every panel has the labels of its axes, and not only the outermost ones.
            empty: "drop" leaves out pairs of values that do not occur.
            per_page: How many panels stand on a page, all pages on the same tracks: pages of a PDF, numbered files of any
                other format. Of rows and columns, as many whole rows as hold no more.
            row_headings: "left" sets the headings of rows at the left.

        Raises:
            MappingError: There is no such column.
            OptionError: An option is impossible.

        Example:
            >>> import facetine as ft
            >>> wheels = ft.demo_data("wheels")
            >>> fig = ft.figure(wheels).map(x="age_days", y="mass_kg").points().facet("cellar", per_row=2)
            >>> fig = fig.facet(rows="milk", columns="rind", separate={"y": "row"})
        """
        options = {
            "per_row": per_row, "per_column": per_column, "order": order, "of": of, "separate": separate, "heading": heading,
            "breaks": breaks, "gap_x": gap_x, "gap_y": gap_y, "repeat_axes": repeat_axes, "empty": empty,
            "per_page": per_page, "row_headings": row_headings,
        }  # fmt: skip
        return Figure(faceted(self._sentence, by, rows, columns, options))

    @verb
    def over_variables(
        self,
        *,
        x: Sequence[str] | None = None,
        y: Sequence[str] | None = None,
        by: str | None = None,
        per_row: int | None = None,
    ) -> Figure:
        """Repeats the sentence over columns, each in a panel with its own title, kind and scale.

        With x and y there is a panel for each pair. With a facet of one variable, columns stand below each other and the
        values of the facet side by side. No columns at all take it away.

        Args:
            x: Columns for x.
            y: Columns for y.
            by: color, dash, shape or outline: sets the columns into one panel instead, as series that this aesthetic tells
                apart; they must be in one unit.
            per_row: How many panels stand side by side.

        Raises:
            MappingError: There is no such column.
            OptionError: An option is impossible.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days").points().over_variables(y=["mass_kg", "ph"])
            >>> sales = ft.figure(ft.demo_data("sales")).map(x="month").lines()
            >>> sales = sales.over_variables(y=["retail", "wholesale"], by="color")
        """
        return Figure(over_variables(self._sentence, x, y, by, per_row))

    @verb
    def marginal(self, side: str, layer: str, *, size: float | None = None, panels: str = "each", **options: Any) -> Figure:
        """Shows the distribution along an axis at a side of every panel, aligned with it; several calls add several.

        It shows the rows that have a place in the panel, also where points are thinned, in the figure's groups and colors.

        Args:
            side: top, right, bottom or left.
            layer: What is drawn there: histogram, density, boxes, rug, bars for the counts of a category, or any layer that
                can stand along one axis.
            size: How deep it is, as a share of the panel's side; a quarter for a histogram.
            panels: "edge" sets it once at the edge of panels in rows and columns, for all panels behind it.
            **options: Options of the layer.

        Raises:
            OptionError: There is no such side or layer, or an option is impossible.

        Example:
            >>> import facetine as ft
            >>> scans = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain").points(thin=2000)
            >>> fig = scans.marginal("top", "histogram").marginal("right", "density")
        """
        return Figure(with_marginal(self._sentence, side, layer, size, panels, options))

    @verb
    def inset(
        self,
        figure: Figure,
        *,
        at: Sequence[float],
        units: str = "share",
        panel: str | None = None,
        zoom: bool = False,
    ) -> Figure:
        """Sets a figure into a panel of this one, drawn last; several calls set several.

        Args:
            figure: What is set in; its texts are a little smaller where it does not say their size.
            at: Left, lower, right and upper edge.
            units: "share" for shares of the panel, "data" for values on its axes.
            panel: Which panel, by what it is called; the first by default.
            zoom: Whether a box in the panel shows which part of it the inset shows, with lines between the two.

        Raises:
            OptionError: It is no figure, or its place is none.

        Example:
            >>> import facetine as ft
            >>> wheels = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="firmness_n").points(size=2)
            >>> young = wheels.scale("x", limits=(0, 60)).titles(x="", y="")
            >>> fig = wheels.inset(young, at=(0.5, 0.05, 1.0, 0.5), zoom=True)
        """
        return Figure(with_inset(self._sentence, figure, at, units, panel, zoom))

    @verb
    def panel(self, *, ratio: float | None = None, width: Length = None, height: Length = None) -> Figure:
        """Says how large panels are, or how high for their width; the sheet follows where an export does not say its size.

        Args:
            ratio: Height by width: 1 for a square.
            width: Of each panel, such as "40 mm".
            height: Of each panel.

        Raises:
            OptionError: A length is none, or all three are given.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points().panel(ratio=1)
        """
        return Figure(sized(self._sentence, ratio, width, height))

    @verb
    def change(self, layer: str | int, **options: Any) -> Figure:
        """Varies a layer that is there; what is not given stays as it was.

        Args:
            layer: Its verb, such as "points"; the name that it was given; or its place, 0 for the first and -1 for the last.
            **options: Its options; None takes one back to its default, or means what it means in the layer itself, such as
                level=None for no band.

        Raises:
            OptionError: There is no such layer, or several, or an option is impossible.
            MappingError: A mapping names an unknown aesthetic or column.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(color="teal", size=5)
            >>> fig.change("points", size=3, color=None)
            figure(2 rows × 2 columns)
              .map(x='a', y='b')
              .points(size=3.0)
        """
        return Figure(edits.changed(self._sentence, layer, options))

    def suggested(self) -> Figure:
        """Adds the layer that suits best what is mapped to x and y, and prints the line that says it.

        Raises:
            MappingError: Neither x nor y is mapped to a column.
            DataError: The figure has no data.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="rind", y="mass_kg").suggested()
            .boxes()  # 'rind' is a category and 'mass_kg' is a number; boxes compare quartiles of 240 rows
        """
        return Figure(edits.suggested(self._sentence))

    @verb
    def without(self, *layers: str | int) -> Figure:
        """Takes layers away.

        Args:
            *layers: Each by its verb, its name or its place, as in `change`.

        Raises:
            OptionError: There is no such layer, or several.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points().lines()
            >>> fig.without("points")
            figure(2 rows × 2 columns)
              .map(x='a', y='b')
              .lines()
        """
        return Figure(edits.without(self._sentence, layers))

    @verb
    def replace(self, layer: str | int, verb: str, *given: Any, **options: Any) -> Figure:
        """Draws a layer of another kind in the place of one that is there.

        It keeps what both take: the mapping, data of its own, where, fixed colors and sizes, names and legends. A finding lists
        what was dropped.

        Args:
            layer: The old one, as in `change`.
            verb: The verb of the new one, such as "boxes".
            *given: What may stand first in it, such as the method of a trend.
            **options: Its options.

        Raises:
            OptionError: There is no such layer, or an option is impossible.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="rind", y="mass_kg").points(color="teal")
            >>> fig.replace("points", "boxes", notches=True)
            figure(240 rows × 13 columns)
              .map(x='rind', y='mass_kg')
              .boxes(color='#008080', notches=True)
        """
        return Figure(edits.replaced(self._sentence, layer, verb, given, options))

    @verb
    def behind(self, layer: str | int, verb: str, *given: Any, **options: Any) -> Figure:
        """Adds a layer below one that is there.

        Args:
            layer: The one that lies over it, as in `change`.
            verb: The verb of the new one, such as "region".
            *given: What may stand first in it, such as the method of a trend.
            **options: Its options.

        Raises:
            OptionError: There is no such layer, or an option is impossible.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points()
            >>> fig.behind("points", "region", x=(1.2, 1.8))
            figure(2 rows × 2 columns)
              .map(x='a', y='b')
              .region(x=(1.2, 1.8))
              .points()
        """
        return Figure(edits.behind(self._sentence, layer, verb, given, options))

    @verb
    def data(self, data: Frame) -> Figure:
        """Puts other data under the same sentence: they are kept, derived, mapped and drawn as those before.

        Args:
            data: As for `facetine.figure`; with all columns that the sentence uses. Their kinds stay what they were; a finding
                says where that is not what the new data look like.

        Raises:
            DataError: They hold no table.
            MappingError: A column that is used is not there.
            KindError: A column can't be read in the kind that it had.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points()
            >>> fig.data({"a": [1, 2, 3], "b": [3, 4, 6], "c": [0, 0, 1]})
            figure(3 rows × 3 columns)
              .map(x='a', y='b')
              .points()
        """
        return Figure(edits.on_data(self._sentence, data))

    @verb
    def onto(self, below: Figure) -> Figure:
        """Lays this figure over another one: its layers are drawn last, on the same axes.

        Layers, scales, titles and all else are those of both. Where the two have different data or mappings,
        each layer keeps its own.

        Args:
            below: The other figure.

        Raises:
            OptionError: Both say something, and not the same: the message names it.

        Example:
            >>> import facetine as ft
            >>> old = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines(legend_as="before")
            >>> new = ft.figure({"a": [1, 2], "b": [4, 6]}).map(x="a", y="b").points(legend_as="after")
            >>> new.onto(old)
            figure(2 rows × 2 columns)
              .map(x='a', y='b')
              .lines(legend_as='before')
              .points(data=<2 rows × 2 columns>, legend_as='after')
        """
        return Figure(edits.laid_onto(self._sentence, below))

    @verb
    def difference(self, other: Figure) -> str:
        """What differs in the sentence of another figure, verb by verb.

        Args:
            other: The other figure.

        Returns:
            A line for each verb that only one of the two says: "-" before those of this figure, "+" before those of the
            other. An empty text where they say the same.

        Raises:
            OptionError: It is no figure.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(size=5)
            >>> print(fig.difference(fig.change("points", size=3).scale("x", "log")))
            - .points(size=5.0)
            + .points(size=3.0)
            + .scale('x', 'log')
        """
        return edits.difference(self._sentence, other)

    @verb
    def variants(self, **ways: Sequence[Any]) -> Plate:
        """Sets the figure in several ways on one sheet, each under the call that makes it.

        Args:
            **ways: One or two of these, each with a list; two make rows and columns of all combinations. An aesthetic with
                columns, such as color=["rind", "milk", None]; facet with columns; theme with names or settings; palette
                with names of palettes or ramps, of the color; scale with dicts of aesthetic and kind, such as
                [{"x": "linear"}, {"x": "log"}]; layer with verbs, in the place of the first layer; or a layer, by its verb or
                name, with dicts of its options, such as points=[{"opacity": 0.2}, {"opacity": 1}].

        Returns:
            A plate. Variants that can't be drawn are left out, and a finding says why.

        Raises:
            OptionError: Nothing, or something unknown, is varied; or there are more than 24 variants.
            FacetineError: None of them can be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> sheet = fig.variants(theme=["press", "field", "basalt"])
            >>> both = fig.variants(color=["rind", "milk"], layer=["points", "trend"])
        """
        return Plate(compared(self._sentence, ways))

    @verb
    def export_each(
        self,
        by: str | Sequence[str],
        path: Targets,
        *,
        width: Length = None,
        height: Length = None,
        dpi: float | None = None,
        transparent: bool | str = False,
        formats: Sequence[str] | str | None = None,
        alt: str | None = None,
        fonts: str = "name",
        colors: str = "rgb",
        icc: bool | str | os.PathLike[str] = False,
        archive: bool = False,
        paper: PaperSize | None = None,
        margins: Length = None,
        fit: bool = False,
        crop_marks: bool = False,
        data: str | None = None,
        rasterize: bool | float | str = False,
        interactive: bool = True,
    ) -> ExportResult:
        """Writes a figure of the rows of each value of a column, or of each combination that occurs of several.

        Texts of the figure may name the value, such as titles("Wheels of {cellar}").

        Args:
            by: The column, or several.
            path: A file whose name says the value, such as "out/{cellar}.pdf"; or several. Signs that no file system takes
                are replaced, and names that would be one are numbered, which a finding reports.
            width: As for `export`, and so are all options below.
            height: The height of the sheet.
            dpi: Pixels an inch.
            transparent: Whether the sheet stays unpainted.
            formats: Several formats for a path without a suffix.
            alt: The figure in words.
            fonts: Of an SVG.
            colors: "rgb" or "cmyk".
            icc: The color profile.
            archive: Whether a PDF is one for archives.
            paper: The paper on which it is set.
            margins: Those of the paper.
            fit: Whether it takes the size of the paper.
            crop_marks: Whether marks say where it is cut out.
            data: "embed" for rows inside the file.
            rasterize: Which layers become images.
            interactive: Whether pages can be read by hand.

        Returns:
            The files written, and the findings.

        Raises:
            OptionError: There are more than 2,000 values, or the name does not tell them apart.
            MappingError: There is no such column.
            FacetineError: As for `export`; what was written before it stays.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
            >>> fig.export_each("cellar", "out/{cellar}.pdf")  # doctest: +SKIP
        """
        options = {
            "width": width, "height": height, "dpi": dpi, "transparent": transparent, "formats": formats, "alt": alt,
            "fonts": fonts, "colors": colors, "icc": icc, "archive": archive, "paper": paper, "margins": margins, "fit": fit,
            "crop_marks": crop_marks, "data": data, "rasterize": rasterize, "interactive": interactive,
        }  # fmt: skip
        return exported_each(self._sentence, by, path, options)

    @verb
    def to_plan(self, name: str, file: str | os.PathLike[str] | None = None, *, data: str | None = None) -> str:
        """The figure as a part of a plan, in TOML.

        Args:
            name: What it is called there.
            file: A plan into which it is written, where it takes the place of the figure of that name; all else, and
                remarks beside what stays, are kept. A new plan is made where there is none.
            data: The source of its data in the plan.

        Returns:
            The part that says the figure.

        Raises:
            OptionError: A callable stands in the figure, which a plan can't hold.
            ExportError: The plan can't be written, or is none.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).map(x="a", y="b").points(size=5)
            >>> print(fig.to_plan("first", data="rows"))
            [figure.first]
            data = "rows"
            map = {x = "a", y = "b"}
            layers = [{points = {size = 5.0}}]
            <BLANKLINE>
        """
        return plan_part(self._sentence, name, file, data)

    @verb
    def numbers(
        self,
        layer: str | int | None = None,
        *,
        spreadsheet: bool = False,
        width: Length = None,
        height: Length = None,
    ) -> Any:
        """The numbers behind the picture: a row for each mark, in the unit of the data.

        Args:
            layer: The verb, the name or the place of a layer, or the side of a marginal: "top", "right", "bottom" or
                "left"; all layers by default, whose verb a first column holds.
            spreadsheet: Whether texts that a spreadsheet would take for formulas, such as "=1+1", get a quote before them;
                numbers never do.
            width: Of the sheet, as for `export`: cells and curves are as fine as the panels have space for, by default.
            height: Its height.

        Returns:
            A frame of the library whose frame the figure has, else of pandas, with the panel and the group where there are
            several, the number of the row where marks are rows of the data, places, and every name that the layer computes:
            docs/layers.md lists them. Categories are the words that stand in the figure.

        Raises:
            OptionError: There is no such layer, or several.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"k": ["a", "a", "b"], "v": [1.0, 3.0, 5.0]}).map(x="k", y="v").bars(aggregate="mean")
            >>> fig.numbers("bars")[["x", "mean"]].to_dict("list")
            {'x': ['a', 'b'], 'mean': [2.0, 5.0]}
        """
        return numbers_of(self._sentence, layer, width, height, spreadsheet=spreadsheet)

    @verb
    def at(self, layer: str | int, *, rows: Sequence[int], width: Length = None, height: Length = None) -> Any:
        """Where rows stand on the sheet, in millimetres from its left and upper edge: the middle of each mark.

        Args:
            layer: The verb, the name or the place of a layer.
            rows: Numbers of rows, counted from 0 in the frame that was given; of layers that compute, in `numbers(layer)`.
            width: Of the sheet, as for `export`.
            height: Its height.

        Returns:
            A frame with row, page, panel (counted from 0), x_mm and y_mm; a row that is not drawn is not among them.

        Raises:
            OptionError: There is no such layer, or rows are no numbers of rows.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2, 3], "b": [3, 4, 6]}).map(x="a", y="b").points()
            >>> fig.at("points", rows=[0, 2])["row"].tolist()
            [0, 2]
        """
        return standing_at(self._sentence, layer, rows, width, height)
