"""Whatever comes in, there is a sound file or one clear error, in bounded time, and no warning from inside."""

import os
import random
import time

import numpy as np
import pytest
from odd.calls import odd_call
from odd.columns import all_of_them, texts
from odd.soundness import FORMATS, sound

import facetine as ft
from facetine.export.export import built
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError

ODD = all_of_them()
TEXTS = texts()
MANY = int(os.environ.get("FACETINE_ODD", "400"))
PLACES = {
    "histogram": ("x",), "density": ("x",), "cumulative": ("x",), "qq": ("y",), "bands": ("x", "y_low", "y_high"), "segments": ("x", "y", "x_to", "y_to"),
    "labels": ("x", "y", "label"),
}  # fmt: skip


def test_there_are_enough_odd_columns():
    assert len(ODD) >= 150


def drawn(name, verb, chance):
    """A figure of an odd column by a layer, with the column in some of its places and looks."""

    def figure():
        kind = layer_class(verb)
        mapping = {place: chance.choice(["v", "v", "n"]) for place in PLACES.get(verb, ("x", "y")) if place in kind.takes}
        for look in ("color", "size", "weight", "group", "opacity", "shape"):
            if look in kind.takes and chance.random() < 0.2:
                mapping[look] = chance.choice(["v", "n"])
        options = {"callout": {"text": "here", "x": 1, "y": 1}, "region": {"x": (1, 2)}, "reference": {"aggregate": "mean"}}.get(
            verb, {}
        )
        if "aggregate" in kind.__dataclass_fields__ and verb != "reference":
            options["aggregate"] = chance.choice(["none", "mean", "median", "count", "sum"])
        if "value_labels" in kind.__dataclass_fields__ and chance.random() < 0.4:
            options["value_labels"] = "{x} {y}"
        data = ODD[name]
        made = ft.figure(dict(data) if isinstance(data, dict) else data).map(**mapping)._add_layer(verb, options)
        if chance.random() < 0.25:
            made = made.facet("v")
        if chance.random() < 0.25:
            made = made.scale("x", chance.choice(["log", "sqrt", "signed_log", "category", "linear", "time", "duration"]))
        if chance.random() < 0.1:
            made = made.keep("n > 1")
        return made

    return figure


CASES = [(name, verb) for name in ODD for verb in LAYERS]


@pytest.mark.parametrize("part", range(20))
def test_odd_columns_in_any_layer_come_out_or_are_refused(part):
    seed = int(os.environ.get("FACETINE_SEED", "5"))
    chosen = random.Random(seed).sample(CASES, min(MANY, len(CASES)))[part::20]
    outcomes = []
    for number, (name, verb) in enumerate(chosen):
        try:
            outcomes.append(sound(drawn(name, verb, random.Random(f"{seed} {name} {verb}")), FORMATS[number % 3]))
        except FacetineError:
            raise
        except BaseException as problem:
            raise AssertionError(f"{name} in {verb} (seed {seed}): {type(problem).__name__}: {problem}") from problem
    assert any(outcomes)


@pytest.mark.parametrize("part", range(20))
def test_odd_calls_come_out_or_are_refused(part):
    first = int(os.environ.get("FACETINE_SEED", "0")) * MANY
    outcomes = []
    for number in range(first + part, first + MANY, 20):
        said, figure = odd_call(number)
        try:
            outcomes.append(sound(figure, FORMATS[number // 20 % 3]))
        except BaseException as problem:
            raise AssertionError(f"call {number}: {said}: {type(problem).__name__}: {problem}") from problem
    assert any(outcomes)


@pytest.mark.parametrize("name", list(ODD))
def test_every_odd_column_is_taken_in_or_refused_as_points(name):
    data = ODD[name]
    sound(lambda: ft.figure(dict(data) if isinstance(data, dict) else data).map(x="n", y="v").points())


WORDS = {name: values[0] for name, values in TEXTS.items() if isinstance(values, list) and isinstance(values[0], str)}
SPOTS = {
    "title": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().titles(word),
    "subtitle": lambda word: (
        ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().titles(subtitle=word, note=word)
    ),
    "axis": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().titles(x=word, y=word),
    "column": lambda word: ft.figure({word: [1.0, 2], "b": [1.0, 2]}).map(x=word, y="b").points(),
    "category": lambda word: ft.figure({"a": [word, "b"], "b": [1.0, 2]}).map(x="a", y="b").bars(),
    "legend": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2], "c": [word, "b"]}).map(x="a", y="b", color="c").points(),
    "heading": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2], "c": [word, "b"]}).map(x="a", y="b").points().facet("c"),
    "label": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2], "c": [word, "b"]}).map(x="a", y="b", label="c").labels(),
    "callout": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().callout(word or "a", x=1, y=2),
    "reference": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().reference(y=1.5, text=word),
    "name": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points(name=word),
    "format": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().scale("x", format=word),
    "value": lambda word: ft.figure({"a": ["u", "w"], "b": [1.0, 2]}).map(x="a", y="b").bars(value_labels=word),
    "codebook": lambda word: (
        ft.figure({"a": [1.0, 2], "b": [1.0, 2]}, codebook={"a": {"label": word, "unit": word}}).map(x="a", y="b").points()
    ),
    "expression": lambda word: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).keep(word).map(x="a", y="b").points(),
}


@pytest.mark.parametrize("spot", list(SPOTS))
def test_odd_texts_stand_anywhere_or_are_refused(spot):
    for name, word in WORDS.items():
        for suffix in ("svg", "pdf"):
            try:
                sound(lambda word=word: SPOTS[spot](word), suffix)
            except AssertionError as problem:
                raise AssertionError(f"{name} as {spot} in {suffix}: {problem}") from problem


TEMPLATES = (
    "{value:1000000000}", "{value:.999999999f}", "{value!r}", "{value.__class__}", "{value[0]}", "{0}", "{", "}", "{value:{value}}", "{value:d}", "{y:1000000000}", "{y.real}", "{y:d}",
    "{x}{y}{count}", "{value:%Y}", "{count:,}", "{value:,.99f}", "{y:>99}", "{{value}}", "{value}" * 2000, "{value:" * 500, "{name:s}", "{value:🙂}", "{}", "{ value }", "{value:\x00}",
)  # fmt: skip
SAID_BY = {
    "heading": lambda form: ft.figure({"a": [1.0, 2], "b": [1.0, 2], "c": ["u", "w"]}).map(x="a", y="b").points().facet("c", heading=form),
    "heading of numbers": lambda form: ft.figure({"a": [1.0, 2], "b": [1.0, 2], "c": [3, 4]}).map(x="a", y="b").points().facet("c", heading=form),
    "format": lambda form: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().scale("x", format=form),
    "format of times": lambda form: ft.figure({"a": np.arange(2).astype("datetime64[D]"), "b": [1.0, 2]}).map(x="a", y="b").points().scale("x", format=form),
    "format of words": lambda form: ft.figure({"a": ["u", "w"], "b": [1.0, 2]}).map(x="a", y="b").points().scale("x", format=form),
    "format of a legend": lambda form: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b", color="b").points().scale("color", format=form),
    "label": lambda form: ft.figure({"a": [1.0, 2], "b": [1.0, 2]}).map(x="a", y="b").points().reference(aggregate="mean", text=form),
    "value labels": lambda form: ft.figure({"a": ["u", "w"], "b": [1.0, 2]}).map(x="a", y="b").bars(value_labels=form),
    "value labels of bins": lambda form: ft.figure({"b": [1.0, 2, 2]}).map(x="b").histogram(value_labels=form),
    "labels of a layer": lambda form: ft.figure({"a": ["u", "w"], "b": [1.0, 2]}).map(x="a", y="b").bars().labels(layer="bars", text=form),
}  # fmt: skip


@pytest.mark.parametrize("spot", list(SAID_BY))
def test_hostile_templates_write_a_value_or_are_refused(spot):
    for number, form in enumerate((*TEMPLATES, *WORDS.values())):
        try:
            sound(lambda form=form: SAID_BY[spot](form), FORMATS[number % 3])
        except BaseException as problem:
            raise AssertionError(f"{form[:60]!r} as {spot}: {type(problem).__name__}: {problem}") from problem


@pytest.mark.parametrize("letters", [4_000, 40_000])
def test_long_texts_take_no_longer_than_they_are(letters):
    for word in ("x" * letters, "word " * (letters // 5), "*a" * (letters // 2)):
        started = time.perf_counter()
        assert sound(lambda word=word: SPOTS["title"](word))
        assert time.perf_counter() - started < 3


def test_what_can_not_be_shown_is_said():
    made = built(SPOTS["title"]("a\ud800b")._sentence, "90 mm", None)
    assert any(finding.code == "letters-replaced" for finding in made.findings)
    assert "a\ufffdb" in [text.content for text in made.scene.texts()]
    long = built(SPOTS["title"]("word " * 2000)._sentence, "90 mm", None)
    assert any(finding.code == "text-cut" for finding in long.findings)


def test_masked_times_and_durations_keep_their_gaps():
    days = np.ma.array(np.arange(6).astype("datetime64[D]"), mask=[1, 0, 0, 0, 0, 1])
    made = built(ft.figure({"t": days, "n": range(6)}).map(x="t", y="n").points()._sentence, "90 mm", None)
    assert len(made.tables[0]) == 4
    for hours in (
        np.arange(6).astype("timedelta64[h]"),
        ODD["pandas timedelta"]["v"],
        ODD["polars Duration"]["v"],
        ODD["arrow duration"]["v"],
    ):
        made = built(ft.figure({"d": hours, "n": range(6)}).map(x="d", y="n").points()._sentence, "90 mm", None)
        assert made.scales.first("x").kind == "duration"


def test_far_times_are_refused_and_fine_ones_are_said():
    with pytest.raises(FacetineError, match="years from 1970"):
        built(
            ft.figure({"t": np.array([10**6, 0], "datetime64[Y]"), "n": [1, 2]}).map(x="t", y="n").points()._sentence,
            "90 mm",
            None,
        )
    fine = np.datetime64("2030-01-01", "ns") + np.arange(3)
    made = built(ft.figure({"t": fine, "n": [1, 2, 3]}).map(x="t", y="n").points()._sentence, "90 mm", None)
    assert any(finding.code == "times-cut" for finding in made.findings)


@pytest.mark.parametrize(
    "expression",
    [
        "a) AS b FROM given ORDER BY a DESC --", "random() > 0.5", "now() > DATE '2030-01-01'", "uuid() = 'x'", "current_date > DATE '2030-01-01'", "a > (SELECT 1)",
        "*", "a, b", "a; DROP TABLE given", "a AS c", "a FROM given", "a ORDER BY a", "a > ?", "getenv('HOME') = 'x'", "a > 1 UNION SELECT 2", "\x00", "a\x07 > 1", "",
        "(" * 5000 + "a" + ")" * 5000, "read_text('/etc/passwd') = ''", "a" + " + a" * 20_000,
    ],
)  # fmt: skip
def test_what_is_no_single_expression_is_refused(expression):
    base = ft.figure({"a": [1.0, 2], "b": [1.0, 2]})
    with pytest.raises(FacetineError) as raised:
        base.keep(expression)
    assert len(str(raised.value)) <= 600
    with pytest.raises(FacetineError):
        base.derive(c=expression)


def test_endless_expressions_are_ended():
    started = time.perf_counter()
    with ft.defaults(query_seconds=1), pytest.raises(FacetineError):
        ft.figure({"a": [1.0]}).derive(c="list_sum(list_transform(range(1000000000000), x -> x % 7))")
    assert time.perf_counter() - started < 10


def test_sheets_and_pixels_have_a_ceiling():
    many = ft.figure({"k": [f"k{number}" for number in range(60_000)], "v": np.arange(60_000.0)}).map(y="k", x="v").bars()
    with pytest.raises(FacetineError):
        built(
            ft.figure({"k": [f"k{n}" for n in range(199)], "v": np.ones(199)})
            .map(x="v", y="v")
            .points()
            .facet("k", per_row=1)
            ._sentence,
            "900 mm",
            None,
        )
    started = time.perf_counter()
    sound(lambda: many)
    assert time.perf_counter() - started < 8
    with pytest.raises(FacetineError, match="million pixels"):
        ft.figure({"a": [1.0], "b": [1.0]}).map(x="a", y="b").points().export(
            "never.png", width="300 mm", height="300 mm", dpi=1500
        )
