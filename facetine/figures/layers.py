"""The layers as methods of a figure, and the verbs with many options. The stub beside this file, made by scripts/make_verbs.py,
spells them out."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterator
from dataclasses import fields
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.figures.edits import with_changes
from facetine.figures.looks import mapped, scaled, scaled_together, themed, themed_together, titled
from facetine.figures.verb import Spelled, spelled_out
from facetine.grammar.given import NOT_GIVEN, NotGiven
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.layers import LAYERS, layer_class, with_first
from facetine.layers.helping import help_of, told_options
from facetine.messages.errors import no_verb
from facetine.messages.glossary import help_text

if TYPE_CHECKING:
    from facetine.grammar.aesthetics import MapValue


class LayerVerb:
    """A method that adds a layer; its module, and with it signature and help, is loaded when it is first looked at."""

    def __init__(self, name: str) -> None:
        self.name = name

    def __get__(self, figure: object, owner: type | None = None) -> Callable[..., Any]:
        return self.method if figure is None else self.method.__get__(figure, owner)

    @cached_property
    def method(self) -> Callable[..., Any]:
        """The function, with the options of the layer as its signature."""
        name, kind = self.name, layer_class(self.name)

        def add(self: Any, *given: Any, **options: Any) -> Any:
            return self._add_layer(name, with_first(name, given, options))

        add.__name__ = name
        add.__qualname__ = f"Figure.{name}"
        add.__doc__ = help_of(kind)
        add.__module__ = "facetine"
        add.__signature__ = _signature(kind)  # type: ignore[attr-defined]
        return add


def _signature(kind: type) -> inspect.Signature:
    """The options of a layer with their types and defaults; the one that may stand first comes first."""
    parameters = [inspect.Parameter("self", inspect.Parameter.POSITIONAL_OR_KEYWORD)]
    for option in told_options(kind):
        how = inspect.Parameter.POSITIONAL_OR_KEYWORD if option.first else inspect.Parameter.KEYWORD_ONLY
        parameters.append(inspect.Parameter(option.name, how, default=option.default, annotation=option.type))
    return inspect.Signature(parameters, return_annotation="Figure")


class LayerVerbs:
    """What every figure can draw, one method for each layer of the registry."""

    __slots__ = ()

    def __getattr__(self, name: str) -> Any:
        """The method of a layer that another package adds."""
        if not name.startswith("_") and name in LAYERS:
            return LayerVerb(name).__get__(self)
        raise no_verb("a figure", name, dir(type(self)), f"layers: {', '.join(LAYERS.ours())}")


for _name in LAYERS.ours():
    setattr(LayerVerbs, _name, LayerVerb(_name))


def _aesthetics() -> Iterator[Spelled]:
    from facetine.grammar.aesthetics import AESTHETICS

    return (Spelled(name, "MapValue", f"{says[:1].upper()}{says[1:]}.") for name, says in AESTHETICS.items())


def scale_options() -> Iterator[Spelled]:
    """The options of a scale."""
    from facetine.grammar.scale import ScaleOptions

    options = (one for one in fields(ScaleOptions) if one.name != "kind")
    return (Spelled(one.name, str(one.type), help_text(one.name, "scale", one.metadata["detail"])) for one in options)


def _guides() -> Iterator[Spelled]:
    from facetine.grammar.scale import SCALED

    return (Spelled(name, "str | None", f'The title of {_guide(name)}; "" for none.') for name in SCALED)


def _guide(aesthetic: str) -> str:
    return f"the {aesthetic} axis" if aesthetic in ("x", "y") else f"the legend of {aesthetic}"


def theme_settings() -> Iterator[Spelled]:
    """The settings of a theme."""
    from facetine.grammar.theme import Theme

    return (Spelled(one.name, str(one.type), help_text(one.name, "theme", one.metadata["detail"])) for one in fields(Theme))


class OptionVerbs:
    """The verbs of a figure whose options are those of a record: mappings, scales, titles, themes."""

    __slots__ = ()
    _sentence: Sentence

    def __init__(self, said: Sentence) -> None:
        raise NotImplementedError

    @spelled_out(_aesthetics)
    def map(self, *given: object, **aesthetics: MapValue) -> Any:
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
        return type(self)(mapped(self._sentence, given, aesthetics))

    @spelled_out(scale_options)
    def scale(
        self, aesthetic: str, kind: str | NotGiven | None = NOT_GIVEN, *, for_column: str | None = None, **options: Any
    ) -> Any:
        """Says how an aesthetic's values become places, colors, sizes or shapes; later calls add to earlier ones.

        None takes an option back; .scale("x", None) takes back all that was given for the scale. A title is the same as that
        of `titles`: the later call wins.

        Args:
            aesthetic: x, y, color, outline, opacity, size, shape, dash or line_width.
            kind: linear, log, sqrt, signed_log, logit, power, category, ordered, time, duration, classed or as_given; that of
                the data by default, or with None.
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
            OptionError: An option is unknown, impossible, or has no effect on this aesthetic.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 1000], "b": [2, 3]}).map(x="a", y="b").points().scale("x", "log")
        """
        return type(self)(scaled(self._sentence, aesthetic, kind, for_column, options))

    @spelled_out(_guides)
    def titles(
        self,
        title: str | NotGiven | None = NOT_GIVEN,
        *,
        subtitle: str | NotGiven | None = NOT_GIVEN,
        note: str | NotGiven | None = NOT_GIVEN,
        source: str | NotGiven | None = NOT_GIVEN,
        **guides: str | None,
    ) -> Any:
        """Writes the texts of the figure, in inline markup; what is not given stays as it was, None takes a text back.

        Args:
            title: The title.
            subtitle: A line below it.
            note: A text below the axes.
            source: Where the data come from, on a line of its own below the note.
            **guides: Titles of axes and legends by aesthetic, such as x="Moisture (%)"; "" for none. They are the same as
                those of `scale`: the later call wins.

        Raises:
            OptionError: A text is none, or there is no such guide.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1], "b": [2]}).titles("CO~2~ in the air", x="Day")
        """
        texts = {"title": title, "subtitle": subtitle, "note": note, "source": source}
        said = titled(self._sentence.titles, texts, guides, "figure.titles")
        return type(self)(with_changes(self._sentence, titles=said))

    @spelled_out(theme_settings)
    def theme(self, name: str | Path | None = None, **settings: Any) -> Any:
        """Chooses the appearance: a theme by name, or settings laid over the one in use.

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
        return type(self)(themed(self._sentence, name, settings))


class PlateVerbs:
    """Those of a plate."""

    __slots__ = ()
    _sentence: Plate

    def __init__(self, said: Plate) -> None:
        raise NotImplementedError

    @spelled_out(theme_settings)
    def theme(self, name: str | Path | None = None, **settings: Any) -> Any:
        """Sets the appearance of all its figures: a theme by name, or settings. An inset with a text size of its own keeps it.

        Args:
            name: As for a figure.
            **settings: As for a figure, such as text_size=7.

        Raises:
            OptionError: There is no such theme or setting, or a setting has an impossible value.
        """
        return type(self)(themed_together(self._sentence, name, settings))

    @spelled_out(scale_options)
    def scale(self, aesthetic: str, kind: str | NotGiven | None = NOT_GIVEN, **options: Any) -> Any:
        """Sets a scale of all its figures that show the aesthetic; None takes back what was set here.

        Args:
            aesthetic: As for a figure.
            kind: As for a figure.
            **options: As for a figure.

        Raises:
            ScaleError: The aesthetic has no scale, or the kind is unknown.
            OptionError: An option is unknown or impossible, or no figure shows the aesthetic.
        """
        return type(self)(scaled_together(self._sentence, aesthetic, kind, options))
