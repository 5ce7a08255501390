"""What makes panels of a figure: facets, columns, pairs of columns, marginals, insets, and how large panels are."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Any, Self

from facetine.figures.verb import verb
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import told

if TYPE_CHECKING:
    from facetine.grammar.facet import Variable
    from facetine.grammar.given import Length
    from facetine.layers import PairLayer


class Composing:
    """The verbs of a figure that make panels."""

    __slots__ = ()
    _sentence: Sentence

    def _with(self, **changes: Any) -> Self:
        raise NotImplementedError

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
    ) -> Self:
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
        if by is None and rows is None and columns is None:
            return self._with(facet=None)
        from facetine.grammar.facet import facet_of

        options = {
            "per_row": per_row, "per_column": per_column, "order": order, "of": of, "separate": separate, "heading": heading,
            "breaks": breaks, "gap_x": gap_x, "gap_y": gap_y, "repeat_axes": repeat_axes, "empty": empty,
            "per_page": per_page, "row_headings": row_headings,
        }  # fmt: skip
        facet = facet_of(by, rows, columns, options, self._sentence.table, "figure.facet")
        return self._with(facet=facet)

    def _matrix(
        self,
        columns: Sequence[str],
        *,
        diagonal: PairLayer = "histogram",
        under_diagonal: PairLayer = "points",
        over_diagonal: PairLayer = "correlation",
        mixed: PairLayer = "boxes",
    ) -> Self:
        """Sets each of several columns against each other one; see `facetine.matrix`."""
        from facetine.grammar.matrix import Matrix, matrix_columns
        from facetine.layers import layer_said, made

        table, book = self._sentence.table, self._sentence.codebook
        names = matrix_columns(columns, table, "matrix")
        sides = {"diagonal": diagonal, "under_diagonal": under_diagonal, "over_diagonal": over_diagonal, "mixed": mixed}
        layers = {name: layer_said(given, table, book, f"matrix: {name}") for name, given in sides.items()}
        alone = made("bars", {}, table, book) if layers["diagonal"] is not None else None
        counts = {"value_labels": "{count:.0f}", "legend": False}
        crossed = made("cells", counts, table, book) if layers["mixed"] is not None else None
        return self._with(matrix=Matrix(columns=names, **layers, alone=alone, crossed=crossed))

    @verb
    def over_variables(
        self,
        *,
        x: Sequence[str] | None = None,
        y: Sequence[str] | None = None,
        by: str | None = None,
        per_row: int | None = None,
    ) -> Self:
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
        from facetine.grammar.variables import variables_of

        if x is None and y is None and by is None and per_row is None:
            return self._with(over_variables=None)
        return self._with(over_variables=variables_of(x, y, by, per_row, self._sentence.table))

    @verb
    def marginal(self, side: str, layer: str, *, size: float | None = None, panels: str = "each", **options: Any) -> Self:
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
        from facetine.grammar.marginal import Marginal, checked_panels, checked_side, checked_size
        from facetine.layers import made
        from facetine.messages.errors import told

        where = f"figure.marginal({told(side)})"
        side = checked_side(side, "figure.marginal")
        drawn = made(layer, {"legend": False, **options}, self._sentence.table, self._sentence.codebook)
        size, panels = checked_size(size, where), checked_panels(panels, where)
        new = Marginal(side=side, layer=drawn, size=size, panels=panels)
        return self._with(marginals=(*self._sentence.marginals, new))

    @verb
    def inset(
        self,
        figure: Composing,
        *,
        at: Sequence[float],
        units: str = "share",
        panel: str | None = None,
        zoom: bool = False,
    ) -> Self:
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
        from facetine.grammar.options import choice, flag
        from facetine.grammar.options import text as text_option
        from facetine.grammar.sentence import Inset, checked_place
        from facetine.messages.errors import OptionError

        where = "figure.inset"
        if not isinstance(figure, Composing):
            raise OptionError(where, f"{told(figure)} is no figure", "a plate or a picture can't stand in a panel")
        if figure._sentence.insets:
            raise OptionError(where, "the inset has an inset itself", "one inside the other can't be read")
        units = str(choice("share", "data", name="units")(units, f"{where}: units"))
        new = Inset(
            figure=figure._sentence,
            at=checked_place(at, units, where),
            units=units,
            panel=None if panel is None else text_option(panel, f"{where}: panel"),
            zoom=flag(zoom, f"{where}: zoom"),
        )
        return self._with(insets=(*self._sentence.insets, new))

    @verb
    def panel(self, *, ratio: float | None = None, width: Length = None, height: Length = None) -> Self:
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
        from facetine.grammar.options import checked
        from facetine.grammar.panel import PanelSpec, check_panel

        options = {"ratio": ratio, "width": width, "height": height}
        panel = PanelSpec(**checked(PanelSpec, options, "figure.panel"))
        check_panel(panel)
        return self._with(panel=panel)
