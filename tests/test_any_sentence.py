"""Any sentence is drawn soundly or refused kindly: sentences by the kinds that their layers take, in all their options."""

import os
import re
import warnings
from collections import Counter
from itertools import combinations

import numpy as np
import pandas as pd
import pytest
from conftest import IN_CI, laid_out
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.export.export import rendered
from facetine.grammar.scale import PLACE_KINDS
from facetine.grammar.theme import THEMES
from facetine.layers import LAYERS, layer_class
from facetine.layers.trend import METHODS
from facetine.messages.errors import FacetineError

NUMBERS = ("number", "positive", "whole", "constant", "share")
CATEGORIES = ("category", "ordered", "flag")
TIMES = ("time", "zoned")
WRITTEN = ("title", "tick", "heading", "axis title", "legend", "legend title", "legend tick")
ARRANGED = ("overlay", "stack", "side_by_side", "share", "jitter", "beeswarm", "tally")
# Kinds of scales and the columns that have a place on them.
STAND_ON = {
    "linear": NUMBERS, "log": ("positive",), "sqrt": ("positive", "whole"), "signed_log": NUMBERS, "logit": ("share",),
    "power": ("positive", "whole"), "duration": ("positive", "whole"), "category": CATEGORIES, "ordered": CATEGORIES, "time": TIMES,
}  # fmt: skip


def frame(rows, seed, gaps):
    rng = np.random.default_rng(seed)
    data = pd.DataFrame(
        {
            "number": rng.normal(0, 50, rows),
            "positive": rng.lognormal(2, 2, rows) + 0.01,
            "whole": rng.integers(0, 5, rows),
            "share": rng.uniform(0.01, 0.99, rows),
            "category": np.array(["a", "b b", "a rather long name of a category"], object)[rng.integers(0, 3, rows)],
            "ordered": pd.Categorical(np.array(["low", "high"], object)[rng.integers(0, 2, rows)], ["low", "high"], ordered=True),
            "time": np.datetime64("2030-01-01") + rng.integers(0, 400, rows).astype("timedelta64[D]"),
            "zoned": pd.Timestamp("2030-10-27", tz="Europe/Berlin") + pd.to_timedelta(rng.integers(0, 9 * 3600, rows), "s"),
            "flag": rng.random(rows) < 0.5,
            "nothing": np.full(rows, np.nan),
            "constant": np.full(rows, 7.0),
            "mass": rng.uniform(0, 3, rows).round(1),
        }
    )
    if gaps:
        for name in ("number", "positive", "category", "time"):
            data.loc[rng.random(rows) < 0.2, name] = None
    return data


NUMBER, CATEGORY = st.sampled_from(NUMBERS), st.sampled_from(CATEGORIES)
EITHER = st.sampled_from((*NUMBERS, *CATEGORIES, *TIMES))
PLACE = st.sampled_from((*NUMBERS, *TIMES))


@st.composite
def placed(draw, verb):
    """Columns for the places of a layer, of kinds that it takes."""
    if verb in ("histogram", "density", "cumulative"):
        return {draw(st.sampled_from(["x", "y"])): draw(PLACE)}
    if verb == "bars":
        return {"x": draw(EITHER)} if draw(st.booleans()) else {"x": draw(CATEGORY), "y": draw(NUMBER)}
    if verb in ("boxes", "violins", "intervals"):
        return dict(zip(draw(st.permutations(["x", "y"])), (draw(CATEGORY), draw(NUMBER)), strict=True))
    if verb == "qq":
        return {"y": draw(NUMBER)} | ({"x": draw(NUMBER)} if draw(st.booleans()) else {})
    if verb == "bands":
        return {"x": draw(PLACE), "y_low": "number", "y_high": "share"}
    if verb == "segments":
        return {"x": "number", "y": "share", "x_to": "positive", "y_to": "whole"}
    if verb in ("trend", "contours", "lines", "areas", "function"):
        return {"x": draw(PLACE), "y": draw(NUMBER)}
    return {"x": draw(EITHER), "y": draw(EITHER)}


@st.composite
def optioned(draw, verb, mapping):
    """Options of a layer that go together."""
    entries = layer_class(verb).__dataclass_fields__
    options = {
        "reference": {"aggregate": "mean", "axis": "y"},
        "callout": {"text": "here"},
        "function": {"expression": "x / 2 + 1"},
    }.get(verb, {})
    if verb == "region":
        options = {"text": "here"}
    if "aggregate" in entries and verb != "reference":
        single = verb == "points" or (verb == "bars" and "y" not in mapping) or verb == "cells"
        choices = ["none"] if single else ["mean", "median", "count", "sum"] if verb != "bars" else ["mean", "median", "max"]
        options["aggregate"] = draw(st.sampled_from(choices if verb != "lines" else ["none", *choices]))
    if "arrange" in entries:
        own = [
            word for word in ARRANGED if _takes(verb, word) and not (word == "beeswarm" and mapping.get("x") not in CATEGORIES)
        ]
        options["arrange"] = draw(st.sampled_from(own))
    if verb == "trend":
        options["method"] = draw(st.sampled_from([method for method in METHODS if method != "logistic"]))
        options |= {"equation": True} if options["method"] in ("linear", "polynomial") and draw(st.booleans()) else {}
    if "value_labels" in entries and draw(st.booleans()):
        options["value_labels"] = draw(st.sampled_from([f"{{{name}}}" for name in layer_class(verb)(**options).names()]))
    return options


def _takes(verb, word):
    try:
        return ft.figure(None)._add_layer(verb, {"arrange": word}) is not None
    except FacetineError:
        return False


@st.composite
def sentences(draw, verb=None, **fixed):
    """A figure that mostly makes sense: a layer with columns of its kinds, looks, scales on which they stand, and panels."""
    rows = draw(st.sampled_from([0, 1, 2, 3, 30, 30, 60, 60]))
    figure = ft.figure(frame(rows, draw(st.integers(0, 99)), draw(st.booleans())))
    verb = verb or draw(st.sampled_from(list(LAYERS)))
    mapping = draw(placed(verb))
    takes = layer_class(verb).takes
    for name in draw(
        st.lists(st.sampled_from(["color", "group", "opacity", "weight", "shape", "dash", "size"]), max_size=2, unique=True)
    ):
        numeric = draw(st.booleans()) and verb in ("points", "lines", "rug", "segments")
        mapping[name] = (
            "mass" if name == "weight" else draw(NUMBER) if numeric and name in ("color", "opacity", "size") else draw(CATEGORY)
        )
    mapping = {name: column for name, column in mapping.items() if name in takes or draw(st.integers(0, 4)) == 0}
    if verb == "labels":
        mapping["label"] = draw(EITHER)
    figure = figure.map(**mapping)
    if verb in ("region", "callout"):
        figure = figure.points()
    options = draw(optioned(verb, mapping)) | fixed
    if verb in ("region", "callout"):
        figure = figure.map(x="number", y="share")
        options |= {"x": (0, 10)} if verb == "region" else {"x": 1, "y": 0.5}
    figure = figure._add_layer(verb, options)
    for axis in ("x", "y"):
        column = figure._sentence.mapping.get(axis)
        kinds = [kind for kind in PLACE_KINDS if column in STAND_ON[kind]]
        if kinds and draw(st.integers(0, 2)) == 0:
            figure = figure.scale(axis, draw(st.sampled_from(kinds)))
        if kinds and draw(st.integers(0, 3)) == 0:
            figure = figure.scale(axis, **draw(said(column)))
    if draw(st.booleans()):
        figure = figure.theme(draw(st.sampled_from(list(THEMES))), text_size=draw(st.sampled_from([6, 8, 12])))
    if draw(st.integers(0, 2)) == 0:
        separate = draw(st.sampled_from([None, None, "x", "y", "xy"]))
        by = draw(st.sampled_from(["category", "ordered", "flag"]))
        if draw(st.integers(0, 2)) == 0:
            crossing = {
                "rows": by,
                "columns": "flag" if by != "flag" else "ordered",
                "empty": draw(st.sampled_from(["keep", "drop"])),
            }
            shared = draw(st.sampled_from([separate, {"y": "row"}, {"x": "column", "y": "row"}]))
            figure = figure.facet(**crossing, separate=shared, heading="{value} ({count})")
        else:
            figure = figure.facet(by, heading="{value} ({count})", separate=separate)
    if draw(st.integers(0, 3)) == 0:
        figure = figure.highlight(draw(st.sampled_from(["category = 'a'", "whole > 2", "number > 1000"])))
    return figure.swap_axes() if draw(st.integers(0, 3)) == 0 else figure


@st.composite
def said(draw, column):
    """An option of a scale that suits a column."""
    both = [("reverse", [True]), ("title", ["", "CO~2~ (m s^−1^)", "الطول (mm)"])]
    if column in CATEGORIES:
        options = [*both, ("missing", ["show", "drop", "teal"]), ("format", ["{value} of {count}", str])]
    elif column in TIMES:
        options = [*both, ("format", ["%b %Y", "%d %b"]), ("margin", [0, 0.5]), ("limits", [("2030-02-01", None)])]
    else:
        options = [
            *both, ("format", [",.1f", "percent", "si", "scientific", "€{value}", "{value:,.0f} kr", {0: "none"}, str]), ("margin", [0, 0.5]),
            ("second_axis", [{"convert": 2.2, "title": "Another unit"}, {"convert": "value * 1.8 + 32"}]), ("limits", [(0, 10), (None, 3), (0, None)]),
            ("ticks", [0, 3, 12, [0, 5, 10]]), ("include", [5, 1000]),
        ]  # fmt: skip
    name, values = draw(st.sampled_from(options))
    return {name: draw(st.sampled_from(values))}


def checked(figure):
    """Whether a figure is drawn; what is drawn is sound, and what is refused is refused in our own words."""
    refused: FacetineError | None = None
    try:
        made = laid_out(figure, "140 mm")
    except FacetineError as error:
        refused = error
    if refused is not None:
        assert refused.headline
        assert "\n" not in refused.line
        return False
    drawing = rendered(made, "svg", dpi=72, transparent=False, fonts="name").decode("utf-8")
    bare = re.sub(r"<(title|desc|text|tspan)[^>]*>[^<]*", "", drawing)
    assert not re.search(r"\b(nan|inf|NaN|Infinity)\b", bare), figure
    assert len(rendered(made, "pdf", dpi=72, transparent=False, fonts="name")) > 500
    written = [text for text in made.scene.texts() if text.role in WRITTEN and text.content.strip()]
    for text in written:
        assert text.box.x >= -0.5, (figure, text.content)
        assert text.box.right <= made.scene.width + 0.5, (figure, text.content)
        assert text.box.y >= -0.5, (figure, text.content)
        assert text.box.bottom <= made.scene.height + 0.5, (figure, text.content)
    for one, other in combinations(written, 2):
        assert not one.box.overlaps(other.box, slack=0.3), (figure, one.content, other.content)
    for finding in made.findings:
        assert finding.where
        assert finding.text
        assert finding.code == finding.code.lower()
    return True


def some(name, usual):
    """So many examples as the environment says, in CI others in every run."""
    return settings(
        derandomize=not IN_CI,
        max_examples=int(os.environ.get(name, str(usual))),
        suppress_health_check=list(HealthCheck),
        deadline=None,
    )


def count_one(data, figures, counted):
    """Draws one of these figures, and counts whether it was drawn or refused."""
    warnings.simplefilter("ignore", ft.FacetineFinding)
    try:
        figure = data.draw(figures)
    except FacetineError:
        counted[False] += 1
        return
    counted[checked(figure)] += 1


COUNTED: Counter[bool] = Counter()


@some("FACETINE_SENTENCES", 200)
@given(st.data())
def test_any_sentence_is_drawn_or_refused_in_our_own_words(data):
    count_one(data, sentences(), COUNTED)


def test_most_random_sentences_are_drawn():
    """Runs behind the one above, whose sentences it counts; alone it draws some of its own."""
    if sum(COUNTED.values()) < 100:
        test_any_sentence_is_drawn_or_refused_in_our_own_words()
    assert COUNTED[True] >= 0.6 * sum(COUNTED.values()), COUNTED


CASES = [
    *[(verb, {}) for verb in LAYERS],
    *[(verb, {"arrange": word}) for verb in LAYERS if "arrange" in layer_class(verb).__dataclass_fields__ for word in ARRANGED if _takes(verb, word)],
    *[("trend", {"method": method, "equation": False}) for method in METHODS],
]  # fmt: skip


@pytest.mark.parametrize(("verb", "fixed"), CASES, ids=[f"{verb}-{'-'.join(map(str, fixed.values()))}" for verb, fixed in CASES])
def test_every_layer_every_arrangement_and_every_method_occurs(verb, fixed):
    """Each is drawn at least once in a few sentences of its own."""
    warnings.simplefilter("ignore", ft.FacetineFinding)
    drawn = []

    @settings(max_examples=8, suppress_health_check=list(HealthCheck), deadline=None, derandomize=True)
    @given(st.data())
    def some(data):
        figure = data.draw(sentences(verb, **fixed))
        if fixed.get("arrange") == "beeswarm" or (verb == "lines" and fixed.get("arrange") == "side_by_side"):
            figure = figure.map(x="category", y="number")
        if fixed.get("method") == "logistic":
            figure = figure.map(x="number", y="flag")
        drawn.append(checked(figure))

    some()
    assert any(drawn)


@pytest.mark.parametrize("kind", PLACE_KINDS)
def test_every_kind_of_scale_occurs(kind):
    column = STAND_ON[kind][0]
    figure = ft.figure(frame(40, 1, True)).map(x=column, y="number").points().scale("x", kind)
    assert checked(figure)


@pytest.mark.parametrize("suffix", ["svg", "pdf", "png"])
def test_every_format_writes_what_any_layer_draws(suffix):
    for verb in ("points", "boxes", "violins", "cells", "contours", "trend", "histogram"):
        mapping = {"x": "category" if verb in ("boxes", "violins") else "number", "y": "positive"}
        if verb == "histogram":
            mapping = {"x": "number"}
        figure = ft.figure(frame(40, 1, True)).map(**mapping)._add_layer(verb, {}).theme("basalt")
        content = rendered(laid_out(figure), suffix, dpi=72, transparent=False, fonts="embed")
        assert len(content) > 500
