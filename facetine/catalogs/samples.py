"""Pages to choose from: every layer under the kinds of variables that it suits, and one figure in every theme."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Any

from facetine.layers import LAYERS, layer_class
from facetine.layers.example import Example

if TYPE_CHECKING:
    from facetine.figures.plate import Plate

_ACROSS = 5
_SMALL: dict[str, Any] = {
    "text_size": 5.5, "tick_size": 5.0, "title_size": 6.0, "title_weight": 400, "point_size": 2.0, "line_width": 0.8,
    "panel_gap": 6.0,
}  # fmt: skip


_SUITS = (
    "One number", "One category, or two", "A category and a number", "Two numbers", "A time and a number", "Beside other layers",
)  # fmt: skip
"""The rows of the page, in their order; what suits something else stands below them."""


def samples() -> dict[str, dict[str, Example]]:
    """The examples of all layers by the kinds of variables that they suit, each by what it is called."""
    every = [(one.called or verb, one) for verb in LAYERS for one in layer_class(verb).examples]
    rows = dict.fromkeys([*_SUITS, *(one.suits for _, one in every)])
    ordered = sorted(every, key=lambda pair: pair[1].place)
    return {suits: {called: one for called, one in ordered if one.suits == suits} for suits in rows}


def layer_page() -> Plate:
    """One page: which layer suits which kinds of variables."""
    from facetine.figures.plate import Plate, plate

    data = _data()
    rows = []
    for kinds, shown in samples().items():
        small = [_small(name, sample, data[sample.data]) for name, sample in shown.items()]
        small += [None] * (_ACROSS - len(small))
        rows.append([plate([small], gap_x="4 mm").titles(f"**{kinds}**")])
    whole = plate(rows, gap_y="5 mm").titles("**Layers**", subtitle="Which layer suits which kinds of variables")
    return Plate(replace(whole._sentence, compares=True)).sheet("180 mm", "245 mm")


def _data() -> dict[str, Any]:
    from facetine.data.demo import demo_data

    climate: Any = demo_data("climate")
    return {"wheels": demo_data("wheels"), "sales": demo_data("sales"), "climate": climate[climate["time"] < "2030-01-08"]}


def _small(name: str, sample: Example, data: Any) -> Any:
    from facetine.core.scales.formats import escaped
    from facetine.figures.start import from_dict

    steps = [{"keep": sample.keep}] if sample.keep is not None else []
    made = from_dict({"steps": steps, "map": sample.mapped, "layers": sample.layers}, data)
    return made.theme("press", **_SMALL).titles(escaped(name), x="", y="")


def theme_page() -> Plate:
    """One page: the same figure in every theme."""
    from facetine.data.demo import demo_data
    from facetine.figures.start import figure
    from facetine.grammar.theme import THEMES

    wheels = figure(demo_data("wheels"), codebook={"firmness_n": {"label": "Firmness", "unit": "N"}})
    shown = wheels.map(x="age_days", y="firmness_n", color="rind").points().trend("loess", level=None)
    page = shown.titles("Themes", subtitle="One figure in each of them").variants(theme=list(THEMES))
    return page.sheet("180 mm")
