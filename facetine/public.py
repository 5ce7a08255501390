"""The figure: the sentence's public face. Every verb returns a new figure and leaves the old one as it was."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self, TypeVar

from facetine.calls import verb
from facetine.changing import Changing
from facetine.composing import Composing
from facetine.errors import DataError, MappingError, OptionError, ScaleError, told, unknown
from facetine.grammar.given import NOT_GIVEN, NotGiven
from facetine.grammar.sentence import Sentence, said_texts
from facetine.reading import Reading
from facetine.repeating import Repeating
from facetine.showing import Shown
from facetine.varying import Varying
from facetine.verbs import LayerVerbs

if TYPE_CHECKING:
    from collections.abc import Mapping

    from facetine.data.expressions import Expression
    from facetine.grammar.aesthetics import MapValue
    from facetine.grammar.given import Options
    from facetine.grammar.scale import ScaleSpec

K = TypeVar("K")


class Figure(LayerVerbs, Composing, Changing, Varying, Repeating, Reading, Shown):
    """One grammar sentence: data, mapping, layers, facets, scales, titles, theme. Made by `facetine.figure`."""

    __slots__ = ("_sentence",)

    def __init__(self, sentence: Sentence) -> None:
        if not isinstance(sentence, Sentence):
            raise DataError(f"Figure: no figure is made of {told(sentence)}", "facetine.figure(data) begins one")
        self._sentence: Sentence = sentence

    def _with(self, **changes: Any) -> Self:
        sentence = replace(self._sentence, **changes)
        if changes.keys() & {"layers", "mapping", "table"}:
            sentence = sentence.with_computed("figure.map", again="table" in changes)
        return type(self)(sentence)

    def _add_layer(self, name: str, options: Options) -> Figure:
        from facetine.layers import made

        layer = made(name, options, self._sentence.table, self._sentence.codebook)
        return self._with(layers=(*self._sentence.layers, layer))

    @verb
    def map(self, *given: object, **aesthetics: MapValue) -> Figure:
        """Lets aesthetics follow columns of the data.

        Args:
            *given: Nothing: every column has the name of its aesthetic.
            **aesthetics: Aesthetic and column name; a callable that gets the frame and returns a column; None to take
                an earlier mapping away.

        Raises:
            MappingError: An aesthetic or a column is unknown.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"age": [30, 60], "mass": [4.1, 3.9]}).map(x="age", y="mass")
        """
        from facetine.grammar.aesthetics import checked_mapping

        if given:
            first = told(given[0])
            raise MappingError(f"figure.map: nothing says what {first} is mapped to", f"write .map(x={first}, y=…)")
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
    def scale(
        self, aesthetic: str, kind: str | NotGiven | None = NOT_GIVEN, *, for_column: str | None = None, **options: Any
    ) -> Figure:
        """Says how an aesthetic's values become places, colors, sizes or shapes; later calls add to earlier ones.

        None takes an option back; .scale("x", None) takes back all that was said of the scale.

        Args:
            aesthetic: x, y, color, outline, opacity, size, shape, dash or line_width.
            kind: linear, log, sqrt, signed_log, logit, power, category, ordered, time, duration, classed or as_given; that of
                the data where it is not said, or None.
            for_column: The only column that it is for, where `over_variables` or a matrix shows several:
                scale("y", "log", for_column="colonies").
            **options: title, unit, limits, ticks, minor_ticks, format, order, by, of, top, rest_as, missing, reverse, margin,
                include, second_axis, zone, legend, palette, colors, others, middle, span, shapes, dashes; base for log,
                exponent for power, threshold for signed_log, breaks for classed. Limits are two values, or quantiles:
                ("1 %", "99 %"). An order is a list, "natural", "seen", "frequent", "rising", "falling" or, of cells,
                "similar". A format is
                a specification (",.1f"), "percent", "si", "scientific", one of these between signs ("€{value:,.0f}",
                "{value} kr"), a format of dates ("%b %Y"), a dict of value and words, or a callable. A second axis shows
                the same values in another unit: second_axis={"convert": "value * 1.8 + 32", "title": "Temperature (°F)"}, where
                convert is a factor, a SQL expression in value, or a callable; of times in another zone:
                second_axis={"zone": "Asia/Tokyo"}.

        Raises:
            ScaleError: The aesthetic has no scale, or the kind is unknown.
            OptionError: An option is unknown, impossible, or says nothing for this aesthetic.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 1000], "b": [2, 3]}).map(x="a", y="b").points().scale("x", "log")
        """
        from facetine.grammar.scale import NOTHING, later_spec

        where = f"figure.scale({told(aesthetic)})"
        if not isinstance(aesthetic, str):
            raise ScaleError(f"figure.scale: {told(aesthetic)} is no aesthetic")
        if for_column is not None and not isinstance(for_column, str):
            raise OptionError(f"{where}: for_column is the name of a column, not {told(for_column)}")
        if for_column is None:
            merged = later_spec(self._sentence.scale(aesthetic), aesthetic, kind, options, where)
            return self._with(scales=_laid(self._sentence.scales, aesthetic, merged))
        if self._sentence.table is not None:
            self._sentence.table.need(for_column, where, "for_column=")
        said = self._sentence.scales_of
        merged = later_spec(said.get((aesthetic, for_column), NOTHING), aesthetic, kind, options, where)
        return self._with(scales_of=_laid(said, (aesthetic, for_column), merged))

    @verb
    def titles(
        self,
        title: str | NotGiven | None = NOT_GIVEN,
        *,
        subtitle: str | NotGiven | None = NOT_GIVEN,
        note: str | NotGiven | None = NOT_GIVEN,
        source: str | NotGiven | None = NOT_GIVEN,
        **guides: str | None,
    ) -> Figure:
        """Writes the texts of the figure, in inline markup; what is not given stays as it was, None takes a text back.

        Args:
            title: The title.
            subtitle: A line below it.
            note: A remark below the axes.
            source: Where the data come from, on a line of its own below the note.
            **guides: Titles of axes and legends by aesthetic, such as x="Moisture (%)"; "" for none.

        Raises:
            OptionError: A text is none, or there is no such guide.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).titles("CO~2~ in the air", x="Day")
        """
        from facetine.grammar.scale import SCALED

        where = "figure.titles"
        for name in guides:
            if name not in SCALED:
                raise unknown(
                    OptionError, where, "no title for", name, ("title", "subtitle", "note", "source", *SCALED), "titles"
                )
        said = said_texts({"title": title, "subtitle": subtitle, "note": note, "source": source, **guides}, where)
        texts = {name: text for name, text in said.items() if name not in guides}
        every = {**self._sentence.titles.guides, **{name: said[name] for name in guides}}
        kept = {name: text for name, text in every.items() if text is not None}
        return self._with(titles=replace(self._sentence.titles, **texts, guides=kept))

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
    def sample(self, count: int | None, *, per: str | None = None) -> Figure:
        """Draws, and computes, from a part of the rows, chosen by chance; a note says so, and the description.

        All layers have the same rows; those with data of their own have all of theirs. `points(thin=)` leaves out marks alone.

        Args:
            count: How many rows; None for all again.
            per: "group" for so many of each group that colors, shapes and the like make, "panel" of each panel; of all rows
                where nothing is said.

        Raises:
            OptionError: The count is no whole number above 0, or per is no such word.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain", color="state").points()
            >>> fig.sample(1000, per="group").numbers("points").groupby("group").size().tolist()
            [1000, 1000]
        """
        from facetine.grammar.sample import sample_said

        return self._with(sample=None if count is None else sample_said(count, per, "figure.sample"))

    @verb
    def highlight(
        self, where: Expression | None, *, others: str | None = None, legend_as: str | None = None, rest_as: str | None = None
    ) -> Figure:
        """Lets chosen rows keep their inks in every layer and panel, on top, while all others are quiet; the legend says both.

        What is computed of groups is computed of the chosen rows and of the others apart, as if a color told them apart.

        Args:
            where: An expression that holds for the chosen rows: SQL such as "cellar = 'Loft'", a narwhals expression, or a
                callable that gets the frame. None highlights nothing any more.
            others: The ink of the others; one near the ground by default.
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
        from facetine.data.expressions import true_where
        from facetine.grammar.highlight import highlight_said

        if where is None:
            return self._with(highlight=None)
        said = highlight_said(where, others, legend_as, rest_as)
        if self._sentence.table is not None:
            true_where(where, self._sentence.table, "figure.highlight")
        return self._with(highlight=said)

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


def _laid(said: Mapping[K, ScaleSpec], key: K, spec: ScaleSpec) -> dict[K, ScaleSpec]:
    """Scales with another one; one of which nothing is said any more is not among them."""
    return {name: one for name, one in {**said, key: spec}.items() if one.said()}
