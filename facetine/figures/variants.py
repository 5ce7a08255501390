"""The same figure said in several ways, on one sheet, to choose by eye."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import product
from typing import TYPE_CHECKING, Any, NamedTuple

from facetine.figures.verb import verb
from facetine.grammar.aesthetics import AESTHETICS
from facetine.messages.errors import FacetineError, OptionError, note, told, unknown

if TYPE_CHECKING:
    from facetine.figures.plate import Plate

_MOST = 24
_WAYS = ("theme", "facet", "layer", "palette", "scale")
"""What can be varied beside mappings and the options of a layer."""


class Variant(NamedTuple):
    """One way to say a figure."""

    said: str
    """The call that does it."""
    made: Callable[[Any], Any]
    """From a figure to the varied one."""


class Varying:
    """The verb that sets variants of a figure beside each other."""

    __slots__ = ()
    _sentence: Any

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
        from facetine.figures.plate import plate

        where = "figure.variants"
        lists = [_variants(self, name, given, where) for name, given in ways.items()]
        if not 1 <= len(lists) <= 2:
            said = f"{len(lists)} ways vary the figure, and one or two can"
            raise OptionError(where, said, 'such as theme=["press", "field"]')
        count = len(lists[0]) * (len(lists[1]) if len(lists) > 1 else 1)
        if count > _MOST:
            raise OptionError(where, f"{count} variants are more than a sheet shows", f"at most {_MOST}")
        drawn = [_drawn(self, combination) for combination in product(*lists)]
        lost = [one for one in drawn if isinstance(one, tuple)]
        if len(lost) == len(drawn):
            raise lost[0][1]
        note([f"{where}: {said.replace(chr(10), '')} can't be drawn: {problem.headline}" for said, problem in lost])
        made = [None if isinstance(one, tuple) else one for one in drawn]
        if len(lists) == 1:
            made = [one for one in made if one is not None]
            # Panels need the width, and texts of some themes.
            across = 1 if "facet" in ways else min(_across(len(made)), 2) if "theme" in ways else _across(len(made))
        else:
            across = len(lists[1])
        made += [None] * (-len(made) % across)
        sheet = plate([made[start : start + across] for start in range(0, len(made), across)])
        return sheet._with(compares=True, titles=_titles(self._sentence.titles))


def _titles(own: Any) -> Any:
    """The figure's own texts, over the sheet; those of its axes stay with each variant."""
    from facetine.grammar.sentence import Titles

    return Titles(own.title, own.subtitle, own.note, own.source)


def _across(count: int) -> int:
    """How many variants stand beside each other."""
    return count if count <= 3 else 2 if count == 4 else 3 if count <= 9 else 4


def _drawn(figure: Any, combination: tuple[Variant, ...]) -> Any:
    """A variant under its call; the call and the error of one that can't be drawn."""
    from facetine.core.scales.formats import escaped
    from facetine.export.export import built

    said = "\n".join(variant.said for variant in combination)
    try:
        made = figure
        for variant in combination:
            made = variant.made(made)
        built(made._sentence, None, None)
    except FacetineError as problem:
        return said, problem
    theme = made._sentence.theme
    smaller = made if theme.title_size is not None else made.theme(title_size=theme.text_size)
    return smaller.titles(escaped(said), subtitle=None, note=None, source=None)


def _variants(figure: Any, name: str, given: object, where: str) -> list[Variant]:
    if isinstance(given, str | Mapping) or not isinstance(given, Sequence) or not given:
        raise OptionError(where, f"{name} is a list of what it may be, not {told(given)}", f"such as {name}=[…, …]")
    if name in AESTHETICS:
        return [_mapped(name, value) for value in given]
    if name in _WAYS:
        return [_way(name, value, f"{where}: {name}") for value in given]
    layers = [word for layer in figure._sentence.layers for word in (layer.verb, layer.name) if word]
    if name not in layers:
        raise unknown(OptionError, where, "nothing to vary is called", name, (*_WAYS, *AESTHETICS, *layers), "what can be varied")
    for value in given:
        if not isinstance(value, Mapping):
            raise OptionError(where, f"{name} is a list of dicts of options, not of {told(value)}", 'such as {"opacity": 0.5}')
    return [_changed(name, dict(value)) for value in given if isinstance(value, Mapping)]


def _mapped(name: str, value: Any) -> Variant:
    return Variant(f".map({name}={value!r})", lambda figure: figure.map(**{name: value}))


def _changed(layer: str, options: dict[str, Any]) -> Variant:
    said = ", ".join(f"{name}={value!r}" for name, value in options.items())
    return Variant(f".change({layer!r}, {said})", lambda figure: figure.change(layer, **options))


def _way(name: str, value: Any, where: str) -> Variant:
    """One way to say a theme, panels, a layer, colors or scales."""
    if name == "palette":
        return Variant(f'.scale("color", {name}={value!r})', lambda figure: figure.scale("color", **{name: value}))
    if name == "scale":
        if not isinstance(value, Mapping) or not value:
            raise OptionError(
                where, f"is a list of dicts of aesthetic and kind, not of {told(value)}", 'such as {"x": "log"}', of_option=True
            )
        steps = [(aesthetic, dict(kind) if isinstance(kind, Mapping) else {"kind": kind}) for aesthetic, kind in value.items()]
        return Variant("".join(_called("scale", (one,), said) for one, said in steps), lambda figure: _scaled(figure, steps))
    if name == "layer":
        if not isinstance(value, str):
            raise OptionError(where, f"is a list of verbs, not of {told(value)}", 'such as ["points", "boxes"]', of_option=True)
        return Variant(f".{value}()", lambda figure: _with_layer(figure, value))
    options = dict(value) if isinstance(value, Mapping) else {}
    given = () if isinstance(value, Mapping) else (value,)
    first = options.pop("name", None) if name == "theme" else options.pop("by", None)
    given = given if first is None else (first,)
    return Variant(_called(name, given, options), lambda figure: getattr(figure, name)(*given, **options))


def _called(verb: str, given: tuple[Any, ...], options: Mapping[str, Any]) -> str:
    said = [*map(repr, given), *(repr(value) if name == "kind" else f"{name}={value!r}" for name, value in options.items())]
    return f".{verb}({', '.join(said)})"


def _scaled(figure: Any, steps: list[tuple[str, dict[str, Any]]]) -> Any:
    for aesthetic, options in steps:
        figure = figure.scale(aesthetic, **options)
    return figure


def _with_layer(figure: Any, verb: str) -> Any:
    """The figure with a layer of another kind in the place of its first one, or as its first one."""
    if not figure._sentence.layers:
        return figure._add_layer(verb, {})
    return figure if figure._sentence.layers[0].verb == verb else figure.replace(0, verb)
