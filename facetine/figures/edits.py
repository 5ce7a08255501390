"""What changes a finished sentence: layers addressed, varied, taken away; other data under it; two figures as one."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Any, Self

from facetine.figures.verb import verb
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, MappingError, OptionError, note, told

if TYPE_CHECKING:
    from facetine.grammar.given import Frame, Options


class Changing:
    """The verbs of a figure that change a finished sentence."""

    __slots__ = ()
    _sentence: Sentence

    def _with(self, **changes: Any) -> Self:
        raise NotImplementedError

    @verb
    def change(self, layer: str | int, **options: Any) -> Self:
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
        from facetine.layers.changed import changed_layer, place_of

        place = place_of(self._sentence, layer, "figure.change")
        if not options:
            raise OptionError("figure.change", f"nothing says what changes in {told(layer)}", "such as opacity=0.3")
        layers = list(self._sentence.layers)
        layers[place] = changed_layer(layers[place], options, self._sentence)
        return self._with(layers=tuple(layers))

    def suggested(self) -> Self:
        """Adds the layer that suits best what is mapped to x and y, and prints the line that says it.

        Raises:
            MappingError: Neither x nor y is mapped to a column.
            DataError: The figure has no data.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure(ft.demo_data("wheels")).map(x="rind", y="mass_kg").suggested()
            .boxes()  # 'rind' is a category and 'mass_kg' is a number; boxes compare quartiles of 240 rows
        """
        from facetine.layers.suggest import suggest
        from facetine.layers.suggestions import options_for

        table = self._sentence.table
        if table is None:
            raise DataError("figure.suggested", "the figure has no data of its own", "give them to figure(…)")
        mapped = {axis: name for axis in ("x", "y") if isinstance(name := self._sentence.mapping.get(axis), str)}
        if not mapped:
            raise MappingError("figure.suggested", "no column is mapped to x or y", 'such as .map(x="…", y="…")')
        best = suggest(table, **mapped)[0]
        group = self._sentence.mapping.get("color")
        groups = {**mapped, **({"color": group} if isinstance(group, str) else {})}
        options = options_for(best.layer, table, groups)
        sys.stdout.write(f".{best.layer}({', '.join(f'{n}={v!r}' for n, v in options.items())})  # {best.reason}\n")
        return self._with(layers=(*self._sentence.layers, self._layer(best.layer, options)))

    @verb
    def without(self, *layers: str | int) -> Self:
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
        from facetine.layers.changed import place_of

        if not layers:
            raise OptionError("figure.without", "no layer is named", 'such as .without("trend")')
        gone = {place_of(self._sentence, layer, "figure.without") for layer in layers}
        return self._with(layers=tuple(one for place, one in enumerate(self._sentence.layers) if place not in gone))

    @verb
    def replace(self, layer: str | int, verb: str, *given: Any, **options: Any) -> Self:
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
        from facetine.layers import layer_class, with_first
        from facetine.layers.changed import kept_by, place_of

        place = place_of(self._sentence, layer, "figure.replace")
        old = self._sentence.layers[place]
        kept, dropped = kept_by(old, layer_class(verb))
        made = self._layer(verb, {**kept, **with_first(verb, given, options)})
        dropped = [name for name in dropped if name not in options]
        if dropped:
            note([f"figure.replace: {verb} does not take {', '.join(dropped)} of the {old.verb}, which is dropped"])
        return self._with(layers=(*self._sentence.layers[:place], made, *self._sentence.layers[place + 1 :]))

    @verb
    def behind(self, layer: str | int, verb: str, *given: Any, **options: Any) -> Self:
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
        from facetine.layers import with_first
        from facetine.layers.changed import place_of

        place = place_of(self._sentence, layer, "figure.behind")
        made = self._layer(verb, with_first(verb, given, options))
        return self._with(layers=(*self._sentence.layers[:place], made, *self._sentence.layers[place:]))

    def _layer(self, name: str, options: Options) -> Any:
        from facetine.layers import made

        return made(name, options, self._sentence.table, self._sentence.codebook)

    @verb
    def data(self, data: Frame) -> Self:
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
        from facetine.grammar.elsewhere import on_other_data

        sentence, notes = on_other_data(self._sentence, data)
        note(notes)
        return type(self)(sentence)  # type: ignore[call-arg]

    @verb
    def onto(self, below: Changing) -> Self:
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
        from facetine.grammar.overlaid import overlaid

        if not isinstance(below, Changing):
            raise OptionError("figure.onto", f"{told(below)} is no figure", "plate([[a, b]]) sets figures beside each other")
        return type(self)(overlaid(self._sentence, below._sentence))  # type: ignore[call-arg]

    @verb
    def difference(self, other: Changing) -> str:
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
        from difflib import ndiff

        from facetine.grammar.spec import spelled

        if not isinstance(other, Changing):
            raise OptionError("figure.difference", f"{told(other)} is no figure")
        one, two = ([line.strip() for line in spelled(each._sentence).splitlines()] for each in (self, other))
        return "\n".join(line for line in ndiff(one, two) if line[:1] in "+-")
