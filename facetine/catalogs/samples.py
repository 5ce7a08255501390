"""Pages to choose from: every layer under the kinds of variables that it suits, and one figure in every theme."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

if TYPE_CHECKING:
    from facetine.figures.plate import Plate
    from facetine.grammar.given import Options

_ACROSS = 5
_SMALL: dict[str, Any] = {
    "text_size": 5.5, "tick_size": 5.0, "title_size": 6.0, "title_weight": 400, "point_size": 2.0, "line_width": 0.8,
    "panel_gap": 6.0,
}  # fmt: skip


class Sample(NamedTuple):
    """A small figure of a layer, as plain data."""

    mapped: Options
    layers: list[str | Options]
    data: str = "wheels"
    keep: str | None = None


_AGES = {"x": "age_days", "y": "ph"}
_MONTHS = {"x": "month", "y": "retail"}
_PAIR = {"x": "moisture_pct", "y": "ph"}
_GROUPS = {"x": "rind", "y": "cellar"}
_QUIET: Options = {"points": {"color": "silver"}}
SAMPLES: Mapping[str, Mapping[str, Sample]] = {
    "One number": {
        "histogram": Sample({"x": "mass_kg"}, [{"histogram": {"bins": 12}}]),
        "density": Sample({"x": "mass_kg"}, [{"density": {"filled": True}}]),
        "cumulative": Sample({"x": "mass_kg"}, ["cumulative"]),
        "qq": Sample({"y": "ph"}, ["qq"]),
        "rug": Sample({"x": "mass_kg"}, ["density", "rug"]),
    },
    "One category, or two": {
        "bars": Sample({"x": "rind"}, ["bars"]),
        "bars of groups": Sample({"x": "rind", "color": "milk"}, [{"bars": {"legend": False}}]),
        "cells": Sample(_GROUPS, [{"cells": {"legend": False, "outline": "white"}}]),
        'points(arrange="tally")': Sample(_GROUPS, [{"points": {"arrange": "tally", "legend": False}}]),
    },
    "A category and a number": {
        "boxes": Sample({"x": "rind", "y": "firmness_n"}, ["boxes"]),
        "violins": Sample({"x": "milk", "y": "mass_kg"}, ["violins"]),
        'points(arrange="beeswarm")': Sample({"x": "milk", "y": "mass_kg"}, [{"points": {"arrange": "beeswarm", "size": 1.3}}]),
        "intervals": Sample({"x": "rind", "y": "mass_kg"}, ["intervals"]),
        "ridgelines": Sample({"x": "moisture_pct", "y": "rind"}, ["ridgelines"]),
    },
    "Two numbers": {
        "points": Sample({"x": "age_days", "y": "firmness_n"}, ["points"]),
        "trend": Sample({"x": "age_days", "y": "firmness_n"}, [_QUIET, {"trend": {"method": "loess"}}]),
        "contours": Sample(_PAIR, ["contours"]),
        'cells(cell="hex")': Sample(_PAIR, [{"cells": {"cell": "hex", "bins": 14, "legend": False}}]),
        "correlation": Sample({"x": "moisture_pct", "y": "firmness_n"}, ["correlation"]),
    },
    "A time and a number": {
        "lines": Sample({"x": "time", "y": "temp_c", "color": "cellar"}, [{"lines": {"legend": False}}], "climate"),
        "areas": Sample(_MONTHS, [{"areas": {"opacity": 0.5}}], "sales"),
        "bands": Sample({"x": "time", "y": "temp_c"}, [{"bands": {"around": "mean", "reach": "range"}}], "climate"),
        "segments": Sample({"x": "month", "y": "wholesale", "x_to": "month", "y_to": "retail"}, ["segments"], "sales"),
        "lines(steps=True)": Sample(_MONTHS, [{"lines": {"steps": True}}], "sales"),
    },
    "Beside other layers": {
        "labels": Sample({"x": "age_days", "y": "mass_kg", "label": "wheel"}, ["points", "labels"], keep="mass_kg > 9.2"),
        "reference": Sample(_AGES, [_QUIET, {"reference": {"aggregate": "mean", "text": "mean"}}]),
        "region": Sample(_AGES, ["points", {"region": {"x": [300, 400], "text": "late"}}]),
        "callout": Sample(_MONTHS, ["lines", {"callout": {"text": "{y:,.0f}", "at": "highest"}}], "sales"),
        "function": Sample({"x": "age_days", "y": "mass_kg"}, [_QUIET, {"function": {"expression": "2 + 6 * exp(-x / 90)"}}]),
    },
}
"""By the kinds of variables, then by the layer."""


def layer_page() -> Plate:
    """One page: which layer suits which kinds of variables."""
    from facetine.figures.plate import plate

    data = _data()
    rows = []
    for kinds, samples in SAMPLES.items():
        small = [_small(name, sample, data[sample.data]) for name, sample in samples.items()]
        small += [None] * (_ACROSS - len(small))
        rows.append([plate([small], gap_x="4 mm").titles(f"**{kinds}**")])
    whole = plate(rows, gap_y="5 mm").titles("**Layers**", subtitle="Which layer suits which kinds of variables")
    return whole._with(compares=True).sheet("180 mm", "245 mm")


def _data() -> dict[str, Any]:
    from facetine.data.demo import demo_data

    climate: Any = demo_data("climate")
    return {"wheels": demo_data("wheels"), "sales": demo_data("sales"), "climate": climate[climate["time"] < "2030-01-08"]}


def _small(name: str, sample: Sample, data: Any) -> Any:
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
