"""The figure: the sentence's public face. Every verb returns a new figure and leaves the old one as it was."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any, Self, TypeVar

from facetine.figures.edits import Changing
from facetine.figures.layers import LayerVerbs, OptionVerbs
from facetine.figures.numbers import Reading
from facetine.figures.outlets import Shown
from facetine.figures.panels import Composing
from facetine.figures.series import Repeating
from facetine.figures.variants import Varying
from facetine.figures.verb import verb
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, told

if TYPE_CHECKING:
    from facetine.data.expressions import Expression
    from facetine.grammar.given import Options

K = TypeVar("K")


class Figure(LayerVerbs, OptionVerbs, Composing, Changing, Varying, Repeating, Reading, Shown):
    """One grammar sentence: data, mapping, layers, facets, scales, titles, theme. Made by `facetine.figure`."""

    __slots__ = ("_sentence",)

    def __init__(self, sentence: Sentence) -> None:
        if not isinstance(sentence, Sentence):
            raise DataError("Figure", f"no figure is made of {told(sentence)}", "facetine.figure(data) begins one")
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
            raise DataError(where, "the figure has no data of its own", "give them to figure(…)")
        return self._sentence.table

    def swap_axes(self) -> Figure:
        """Turns the figure: what was on x is on y, with its scale and title.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").lines().swap_axes()
        """
        return self._with(swapped=not self._sentence.swapped)

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
        from facetine.grammar.sample import sample_said

        return self._with(sample=None if count is None else sample_said(count, per, "figure.sample"))

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
            number: A whole number from 0 on; 1 by default.

        Raises:
            OptionError: It is none.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(arrange="jitter").seed(7)
        """
        from facetine.grammar.options import whole

        return self._with(seed=whole(0)(number, "figure.seed: number"))
