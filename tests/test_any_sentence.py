"""Any sentence is drawn soundly or refused kindly: random kinds, layers, scales, facets and turns."""

import warnings
from itertools import combinations

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.errors import FacetineError
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.scale import KINDS
from facetine.grammar.theme import THEMES
from facetine.layers import LAYERS, layer_class
from facetine.output import rendered

COLUMNS = ("number", "positive", "whole", "category", "ordered", "time", "zoned", "flag", "nothing", "constant")
WRITTEN = ("title", "tick", "heading", "axis title", "legend", "legend title", "legend tick")
LOOKS = ("color", "outline", "opacity", "size", "shape", "dash", "line_width", "group")


def frame(rows, seed, gaps):
    rng = np.random.default_rng(seed)
    data = pd.DataFrame(
        {
            "number": rng.normal(0, 50, rows),
            "positive": rng.lognormal(2, 2, rows),
            "whole": rng.integers(0, 5, rows),
            "category": np.array(["a", "b b", "a rather long name of a category"], object)[rng.integers(0, 3, rows)],
            "ordered": pd.Categorical(np.array(["low", "high"], object)[rng.integers(0, 2, rows)], ["low", "high"], ordered=True),
            "time": np.datetime64("2030-01-01") + rng.integers(0, 400, rows).astype("timedelta64[D]"),
            "zoned": pd.Timestamp("2030-10-27", tz="Europe/Berlin") + pd.to_timedelta(rng.integers(0, 9 * 3600, rows), "s"),
            "flag": rng.random(rows) < 0.5,
            "nothing": np.full(rows, np.nan),
            "constant": np.full(rows, 7.0),
        }
    )
    if gaps:
        for name in ("number", "positive", "category", "time"):
            data.loc[rng.random(rows) < 0.2, name] = None
    return data


OPTIONS = st.sampled_from(
    [
        ("format", [",.1f", "percent", "si", "scientific", "€{value}", "{value:,.0f} kr", "%H:%M", {0: "none"}, str]),
        ("second", [{"of": 2.2, "title": "Another unit"}, {"of": "value * 1.8 + 32"}, {"of": "1 / value"}]),
        ("limits", [(0, 10), (None, 3), (-5, None), ("2030-02-01", None)]),
        ("ticks", [0, 3, 12, [0, 5, 10], "every 2 months", "every 15 minutes"]),
        ("reverse", [True]),
        ("margin", [0, 0.5]),
        ("include", [0, 1000]),
        ("missing", ["show", "drop", "teal"]),
        ("order", [["b b", "a"], ["high"]]),
        ("title", ["", "CO~2~ (m s^−1^)", "الطول (mm)"]),
    ]
)


@st.composite
def sentences(draw):
    """A figure that may or may not make sense."""
    rows = draw(st.sampled_from([0, 1, 2, 3, 30]))
    figure = ft.figure(frame(rows, draw(st.integers(0, 5)), draw(st.booleans())))
    verb = draw(st.sampled_from(list(LAYERS)))
    takes = layer_class(verb).takes
    places = [name for name in takes if name in POSITIONS]
    mapping = {
        name: draw(st.sampled_from(COLUMNS)) for name in places if draw(st.booleans()) or name in layer_class(verb).required
    }
    looks = draw(st.lists(st.sampled_from(LOOKS), max_size=2, unique=True))
    mapping |= {name: draw(st.sampled_from(COLUMNS)) for name in looks}
    if "label" in takes:
        mapping["label"] = draw(st.sampled_from(COLUMNS))
    figure = figure.map(**mapping)
    options = {"reference": {"aggregate": "mean"}, "region": {"x": (0, 1)}, "callout": {"text": "here", "x": 1, "y": 1}}.get(
        verb, {}
    )
    if "aggregate" in layer_class(verb).__dataclass_fields__ and verb != "reference":
        options["aggregate"] = draw(st.sampled_from(["none", "mean", "count"]))
    if "arrange" in layer_class(verb).__dataclass_fields__:
        options["arrange"] = draw(st.sampled_from(["overlay", "stack", "abreast", "share", "jitter", "beeswarm"]))
    figure = figure._add_layer(verb, options)
    for aesthetic in draw(st.lists(st.sampled_from(["x", "y", "color", "size"]), max_size=2, unique=True)):
        figure = figure.scale(aesthetic, draw(st.sampled_from(KINDS)))
        if draw(st.booleans()):
            figure = figure.scale(aesthetic, **{name: draw(st.sampled_from(values)) for name, values in [draw(OPTIONS)]})
    if draw(st.booleans()):
        figure = figure.theme(draw(st.sampled_from(list(THEMES))), text_size=draw(st.sampled_from([6, 8, 12])))
    if draw(st.booleans()):
        figure = figure.facet(draw(st.sampled_from(["category", "ordered", "flag", "whole"])))
    return figure.swap_axes() if draw(st.booleans()) else figure


@settings(max_examples=200, suppress_health_check=list(HealthCheck), deadline=None)
@given(st.data())
def test_any_sentence_is_drawn_or_refused_in_our_own_words(data):
    warnings.simplefilter("ignore", ft.FacetineNote)
    refused: FacetineError | None = None
    try:
        figure = data.draw(sentences())
        made = laid_out(figure, "120 mm")
    except FacetineError as error:
        refused = error
    if refused is not None:
        assert refused.headline
        assert "\n" not in refused.line
        return
    drawing = rendered(made, "svg", dpi=72, transparent=False, embed_font=False).decode("utf-8")
    assert "nan" not in drawing.replace("finance", ""), figure
    assert '="inf' not in drawing, figure
    assert len(rendered(made, "pdf", dpi=72, transparent=False, embed_font=False)) > 500
    written = [text for text in made.scene.texts() if text.role in WRITTEN and text.content.strip()]
    for text in written:
        assert text.box.x >= -0.5, (figure, text.content)
        assert text.box.right <= made.scene.width + 0.5, (figure, text.content)
    for one, other in combinations(written, 2):
        assert not one.box.overlaps(other.box, slack=0.3), (figure, one.content, other.content)


@pytest.mark.parametrize("suffix", ["svg", "pdf", "png"])
def test_every_format_writes_what_any_layer_draws(suffix):
    for verb in ("points", "boxes", "violins", "cells", "contours", "trend", "histogram"):
        mapping = {"x": "category" if verb in ("boxes", "violins") else "number", "y": "positive"}
        if verb == "histogram":
            mapping = {"x": "number"}
        figure = ft.figure(frame(40, 1, True)).map(**mapping)._add_layer(verb, {}).theme("basalt")
        content = rendered(laid_out(figure), suffix, dpi=72, transparent=False, embed_font=True)
        assert len(content) > 500
