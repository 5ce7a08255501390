"""The figure: the sentence's public face. Every verb returns a new figure and leaves the old one as it was."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.calls import verb
from facetine.errors import DataError, OptionError, ScaleError, told, unknown
from facetine.grammar.sentence import Sentence, Titles
from facetine.showing import Shown
from facetine.verbs import LayerVerbs

if TYPE_CHECKING:
    from facetine.data.expressions import Expression
    from facetine.grammar.aesthetics import MapValue
    from facetine.grammar.facet import Variable
    from facetine.grammar.given import Length, Options
    from facetine.layers import PairLayer


class Figure(LayerVerbs, Shown):
    """One grammar sentence: data, mapping, layers, facets, scales, titles, theme. Made by `facetine.figure`."""

    __slots__ = ("_sentence",)

    def __init__(self, sentence: Sentence) -> None:
        self._sentence: Sentence = sentence

    def _with(self, **changes: Any) -> Figure:
        return Figure(replace(self._sentence, **changes))

    def _add_layer(self, name: str, options: Options) -> Figure:
        from facetine.layers import made

        layer = made(name, options, self._sentence.table, self._sentence.codebook)
        return self._with(layers=(*self._sentence.layers, layer))

    @verb
    def map(self, **aesthetics: MapValue) -> Figure:
        """Lets aesthetics follow columns of the data.

        Args:
            **aesthetics: Aesthetic and column name; a callable that gets the frame and returns a column; None to take
                an earlier mapping away.

        Raises:
            MappingError: An aesthetic or a column is unknown.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"age": [30, 60], "mass": [4.1, 3.9]}).map(x="age", y="mass")
        """
        from facetine.grammar.aesthetics import checked_mapping

        sentence = self._sentence
        mapping = dict(sentence.mapping) | checked_mapping(aesthetics, sentence.table, "figure.map")
        return self._with(mapping={name: column for name, column in mapping.items() if column is not None})

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
        from facetine.data.expressions import kept, true_where

        table = self._own_table("figure.keep")
        mask = true_where(expression, table, "figure.keep")
        steps = (*self._sentence.steps, ("keep", {"expression": expression}))
        return self._with(table=kept(table, mask), steps=steps)

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
        from facetine.data.expressions import evaluated, with_column

        table = self._own_table("figure.derive")
        for name, expression in columns.items():
            table = with_column(table, evaluated(expression, table, name, f"figure.derive: {name}"))
        return self._with(table=table, steps=(*self._sentence.steps, ("derive", columns)))

    def _own_table(self, where: str) -> Any:
        if self._sentence.table is None:
            raise DataError(f"{where}: the figure has no data of its own", "give them to figure(…)")
        return self._sentence.table

    def swap_axes(self) -> Figure:
        """Turns the figure: what was on x is on y, with its scale and title.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines().swap_axes()
        """
        return self._with(swapped=not self._sentence.swapped)

    @verb
    def scale(self, aesthetic: str, kind: str | None = None, *, of: str | None = None, **options: Any) -> Figure:
        """Says how an aesthetic's values become places, colors, sizes or shapes; later calls add to earlier ones.

        Args:
            aesthetic: x, y, color, outline, opacity, size, shape, dash or line_width.
            kind: linear, log, sqrt, symlog, logit, power, category, ordered, time, duration, classed or as_given; that of
                the data where it is not said.
            of: The column of which it is said, where `vary` shows several: scale("y", "log", of="colonies").
            **options: title, limits, ticks, minor_ticks, format, order, missing, reverse, margin, include, second,
                palette, colors, others, ramp, middle, span, shapes, dashes; base for log, exponent for power, threshold
                for symlog, breaks for classed. A format is a specification (",.1f"), "percent", "si", "scientific", one
                of these between signs ("€{value:,.0f}", "{value} kr"), a format of dates ("%b %Y"), a dict of value and
                words, or a callable. A second axis shows the same values in another unit: second={"of": "value * 1.8 +
                32", "title": "Temperature (°F)"}, where of is a factor, a SQL expression in value, or a callable.

        Raises:
            ScaleError: The aesthetic has no scale, or the kind is unknown.
            OptionError: An option is unknown, impossible, or says nothing for this aesthetic.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 1000], "b": [2, 3]}).map(x="a", y="b").points().scale("x", "log")
        """
        from facetine.grammar.scale import ScaleSpec, scale_spec

        where = f"figure.scale({told(aesthetic)})"
        if not isinstance(aesthetic, str):
            raise ScaleError(f"figure.scale: {told(aesthetic)} is no aesthetic")
        spec = scale_spec(aesthetic, options | ({"kind": kind} if kind is not None else {}), where)
        if of is not None:
            if self._sentence.table is not None:
                self._sentence.table.need(of, where, "of=")
            said = self._sentence.scales_of
            together = ScaleSpec(**(said.get((aesthetic, of), ScaleSpec()).said() | spec.said()))
            return self._with(scales_of={**said, (aesthetic, of): together})
        before = self._sentence.scale(aesthetic)
        merged = ScaleSpec(**(before.said() | spec.said()))
        return self._with(scales={**self._sentence.scales, aesthetic: merged})

    @verb
    def facet(
        self,
        by: Variable | None = None,
        *,
        rows: Variable | None = None,
        columns: Variable | None = None,
        per_row: int | None = None,
        per_column: int | None = None,
        order: Sequence[object] | Mapping[str, Sequence[object]] | None = None,
        separate: str | Mapping[str, str] | None = None,
        heading: str | Callable[[object], str] | None = None,
        breaks: Sequence[float] | None = None,
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
            order: The values in their order; others follow. Of several columns a dict, such as {"milk": ["ewe", "goat"]}.
            separate: The axes that each panel has of its own, "x", "y" or "xy"; bins, categories and statistics too are
                then those of the panel. Of rows and columns also {"y": "row", "x": "column"}: one for each of these.
            heading: What stands over a panel: "{value}", "{name}: {value} (n = {count})", or a callable that gets the value;
                of rows and columns, over each column and beside each row. Yes and no have "{name}: {value}" by default.
            breaks: Where classes of a column of numbers part, such as [60, 180]: a panel for each of three.
            gap_x: Room between columns of panels, such as "4 mm"; the theme's by default.
            gap_y: Room between rows of panels.
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
            "per_row": per_row, "per_column": per_column, "order": order, "separate": separate, "heading": heading,
            "breaks": breaks, "gap_x": gap_x, "gap_y": gap_y, "repeat_axes": repeat_axes, "empty": empty,
            "per_page": per_page, "row_headings": row_headings,
        }  # fmt: skip
        facet = facet_of(by, rows, columns, options, self._sentence.table, "figure.facet")
        return self._with(facet=facet)

    @verb
    def matrix(
        self,
        columns: Sequence[str],
        *,
        diagonal: PairLayer = "histogram",
        lower: PairLayer = "points",
        upper: PairLayer = "correlation",
        mixed: PairLayer = "boxes",
    ) -> Figure:
        """Sets each of several columns against each other one; `facetine.matrix` begins such a figure in one call.

        Args:
            columns: Numbers and categories.
            diagonal: The layer of each number alone, on a measure of its own; categories are counted by bars.
            lower: The layer of pairs of numbers under the diagonal: its name, or a dict of name and options, such as
                {"points": {"opacity": 0.3}}; "none" for nothing.
            upper: Likewise above the diagonal; correlations, of all rows of a pair, by default.
            mixed: The layer of a number and a category; two categories are counted in cells.

        Raises:
            MappingError: There is no such column.
            OptionError: There are fewer than two columns, or a layer or an option is unknown.

        Example:
            >>> import facetine as ft
            >>> wheels = ft.figure(ft.demo_data("wheels")).map(color="rind")
            >>> fig = wheels.matrix(["mass_kg", "ph", "firmness_n"], diagonal="density", upper="contours")
        """
        from facetine.grammar.matrix import Matrix, matrix_columns
        from facetine.layers import layer_said

        table, book = self._sentence.table, self._sentence.codebook
        names = matrix_columns(columns, table, "figure.matrix")
        sides = {"diagonal": diagonal, "lower": lower, "upper": upper, "mixed": mixed}
        layers = {name: layer_said(given, table, book, f"figure.matrix: {name}") for name, given in sides.items()}
        return self._with(matrix=Matrix(columns=names, **layers))

    @verb
    def vary(
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
            by: color, dash, shape or outline: sets the columns into one panel instead, as series that the look tells
                apart; they must be in one unit.
            per_row: How many panels stand side by side.

        Raises:
            MappingError: There is no such column.
            OptionError: An option is impossible.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="age_days").points().vary(y=["mass_kg", "ph"])
            >>> sales = ft.figure(ft.demo_data("sales")).map(x="month").lines().vary(y=["retail", "wholesale"], by="color")
        """
        from facetine.grammar.vary import vary_of

        if x is None and y is None and by is None and per_row is None:
            return self._with(vary=None)
        return self._with(vary=vary_of(x, y, by, per_row, self._sentence.table))

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
        from facetine.errors import told
        from facetine.grammar.marginal import Marginal, checked_panels, checked_side, checked_size
        from facetine.layers import made

        where = f"figure.marginal({told(side)})"
        side = checked_side(side, "figure.marginal")
        drawn = made(layer, {"legend": False, **options}, self._sentence.table, self._sentence.codebook)
        size, panels = checked_size(size, where), checked_panels(panels, where)
        new = Marginal(side=side, layer=drawn, size=size, panels=panels)
        return self._with(marginals=(*self._sentence.marginals, new))

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
        from facetine.errors import OptionError
        from facetine.grammar.inset import Inset, checked_place
        from facetine.grammar.options import choice, flag
        from facetine.grammar.options import text as text_option

        where = "figure.inset"
        if not isinstance(figure, Figure):
            raise OptionError(f"{where}: {told(figure)} is no figure", "a plate or a picture can't stand in a panel")
        if figure._sentence.insets:
            raise OptionError(f"{where}: the inset has an inset itself", "one inside the other can't be read")
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
        from facetine.grammar.options import checked
        from facetine.grammar.panel import PanelSpec, check_panel

        options = {"ratio": ratio, "width": width, "height": height}
        panel = PanelSpec(**checked(PanelSpec, options, "figure.panel"))
        check_panel(panel)
        return self._with(panel=panel)

    @verb
    def titles(self, title: str | None = None, *, subtitle: str | None = None, note: str | None = None, **guides: str) -> Figure:
        """Writes the texts of the figure, in inline markup; what is not given stays as it was.

        Args:
            title: The title.
            subtitle: A line below it.
            note: A remark below the axes.
            **guides: Titles of axes and legends by aesthetic, such as x="Moisture (%)"; "" for none.

        Raises:
            OptionError: A text is none, or there is no such guide.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).titles("CO~2~ in the air", x="Day")
        """
        from facetine.grammar.scale import SCALED

        where = "figure.titles"
        for name, text in {"title": title, "subtitle": subtitle, "note": note, **guides}.items():
            if name in guides and name not in SCALED:
                raise unknown(OptionError, where, "no title for", name, ("title", "subtitle", "note", *SCALED), "titles")
            if text is not None and not isinstance(text, str):
                raise OptionError(f"{where}: {name} is a text, not {told(text)}")
        old = self._sentence.titles
        new = Titles(
            old.title if title is None else title,
            old.subtitle if subtitle is None else subtitle,
            old.note if note is None else note,
            {**old.guides, **guides},
        )
        return self._with(titles=new)

    @verb
    def theme(self, name: str | Path | None = None, **settings: Any) -> Figure:
        """Chooses the looks: a theme by name, or settings laid over the one in use.

        Args:
            name: One of press, ledger, field, basalt, bare and lecture; or a TOML file of settings, in which `name` is the
                theme that it starts from.
            **settings: Any of its settings, such as text_size=9; lengths in points.

        Raises:
            OptionError: There is no such theme or setting, or a setting has an impossible value.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).theme("press", text_size=9)
        """
        from facetine.grammar.theme import THEMES, themed

        new = themed(self._sentence.theme, name, settings, "figure.theme")
        if new.font != THEMES["press"].font:
            from facetine.scene.catalog import family

            family(new.font, "figure.theme: font")
        before = {} if name is not None else dict(self._sentence.theme_said)
        settings_said = before | ({"name": str(name)} if name is not None else {}) | settings
        return self._with(theme=new, theme_said=settings_said)

    @verb
    def seed(self, number: int) -> Figure:
        """Governs all that is left to chance: the order of drawing, jitter, thinning, bootstrap samples.

        Args:
            number: A whole number from 0 on; 1 where nothing is said.

        Raises:
            OptionError: It is none.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(arrange="jitter").seed(7)
        """
        from facetine.grammar.options import whole

        return self._with(seed=whole(0)(number, "figure.seed: number"))
