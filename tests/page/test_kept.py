"""Layers that a browser computes anew of chosen rows, against print of the same rows: many sentences, many choices."""

import json
import math
import random

import numpy as np
import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_any_choice import CHOSEN
from test_any_sentence import sentences

import facetine as ft
from facetine.export.export import built
from facetine.grammar.plate import left_to_readers
from facetine.messages.errors import FacetineError
from facetine.page.envelope import MODULES, script_of
from facetine.page.model import model_of
from facetine.pipeline.sheet.numbers import columns_told

pytestmark = pytest.mark.pages
N = 150
MANY = 20
CLOSE = 1e-9
TURNED = {"x": "y", "y": "x", "x_low": "y_low", "x_high": "y_high", "y_low": "x_low", "y_high": "x_high"}
ASK = """
const [cases, done] = arguments;
const one = async ({ said, arrays, chosen }) => {
  const bytes = await unpacked(arrays);
  const views = said.axes.map((axis) => new View(axis));
  const rows = new Set(chosen);
  return said.layers.filter((layer) => layer.kept && layer.kept.finish !== "rows").map((layer) => {
    const panel = said.panels.find((own) => own.member === layer.member);
    const recipe = new Recipe(layer.kept, bytes, { x: views[panel.axes.x], y: views[panel.axes.y] });
    recipe.chosen = (row) => rows.has(row);
    const held = Uint32Array.from([...recipe.rows.keys()].filter((at) => rows.has(recipe.rows[at])));
    const found = FINISHES[layer.kept.finish](recipe, new Asked(recipe, held));
    const values = Object.entries(found.values).map(([name, own]) => [name, Array.from(own, String)]);
    return { number: layer.number, member: layer.member, horizontal: layer.kept.horizontal, values: Object.fromEntries(values), panels: found.panel };
  });
};
Promise.all(cases.map(one)).then(done, (problem) => done(String(problem.stack)));
"""


def frame_of(draw):
    rng = np.random.default_rng(draw.randrange(10**6))
    frame = pd.DataFrame(
        {
            "kind": rng.choice(["a", "b", "c"], N),
            "who": rng.choice(["x", "y"], N),
            "here": rng.choice(["one", "two"], N),
            "value": np.round(rng.gamma(2, 3, N) + 0.1, draw.choice([0, 1, 6])),
            "other": np.round(rng.normal(0, 2, N), 1),
            "step": rng.integers(0, 9, N),
            "time": pd.Timestamp("2031-03-01") + pd.to_timedelta(rng.integers(0, 90, N), unit="D"),
            "weight": rng.integers(1, 5, N) / 2,
            "key": np.arange(N),
        }
    )
    frame.loc[rng.choice(N, draw.randrange(8), replace=False), "value"] = np.nan
    return frame


def with_looks(draw, figure, *, weight=True, log=True, color=True):
    """A figure with groups, panels, weights and axes of its own, or without."""
    if color and draw.random() < 0.5:
        figure = figure.map(color="who")
    if weight and draw.random() < 0.4:
        figure = figure.map(weight="weight")
    if draw.random() < 0.3:
        figure = figure.facet("here", separate=draw.choice([None, "y", "xy"]))
    if log and draw.random() < 0.25:
        figure = figure.scale("y", "log")
    if draw.random() < 0.2:
        figure = figure.swap_axes()
    return figure


def sentence(draw, frame, verb):
    figure = ft.figure(frame)
    if verb == "bars":
        how = draw.choice(["count", "mean", "sum", "median", "min", "max"])
        arrange = draw.choice(
            ["stack", "share", "overlay", "side_by_side"] if how in ("count", "sum") else ["side_by_side", "overlay"]
        )
        if how == "count":
            return with_looks(draw, figure.map(x=draw.choice(["kind", "step"])), log=False).bars(arrange=arrange)
        return with_looks(draw, figure.map(x=draw.choice(["kind", "step"]), y="value"), log=False).bars(
            aggregate=how, arrange=arrange
        )
    if verb == "histogram":
        said = {"measure": draw.choice(["count", "share", "density"])} | draw.choice([{}, {"bins": 7}, {"edges": [1, 3, 4, 9]}])
        arrange = draw.choice(["stack", "share", "overlay"])
        whole = {"share_of": draw.choice(["panel", "group"])} if arrange == "overlay" else {}
        figure = with_looks(draw, figure.map(x=draw.choice(["value", "time"]) if "edges" not in said else "value"), log=False)
        return figure.histogram(arrange=arrange, **said, **whole)
    if verb == "boxes":
        said = {"whiskers": draw.choice(["1.5 iqr", "range", (10, 90)]), "notches": draw.random() < 0.3}
        return with_looks(draw, figure.map(x=draw.choice(["kind", "step"]), y="value")).boxes(**said)
    if verb == "cells":
        figure = with_looks(
            draw, figure.map(x=draw.choice(["kind", "value"]), y=draw.choice(["who", "other"])), log=False, color=False
        )
        how = draw.choice(["count", "mean", "median"])
        return figure.cells(bins=6) if how == "count" else figure.map(color="step").cells(bins=6, aggregate=how)
    if verb == "tally":
        return with_looks(draw, figure.map(x="kind", y="step"), log=False).points(arrange="tally")
    if verb == "cumulative":
        return with_looks(draw, figure.map(x=draw.choice(["value", "time"])), log=False).cumulative()
    if verb == "lines":
        how = draw.choice(["mean", "median", "sum", "none"])
        said = {} if how == "none" else {"aggregate": how} | draw.choice([{}, {"bins": 5}])
        x = "key" if how == "none" else draw.choice(["step", "time", "value"])
        return with_looks(draw, figure.map(x=x, y="other"), log=False, weight=how != "none").lines(**said)
    if verb == "points":
        return with_looks(draw, figure.map(x="step", y="value")).points(aggregate=draw.choice(["mean", "median", "max"]))
    if verb == "reference":
        said = {
            "aggregate": draw.choice(["mean", "median", "min", "max"]),
            "per": draw.choice(["panel", "group", "figure"]),
            "axis": "y",
        }
        return with_looks(draw, figure.map(x="step", y="value")).points(map={"weight": None}).reference(**said)
    if verb == "trend":
        said = {"level": draw.choice([0.95, 0.8, None]), "band": draw.choice(["confidence", "prediction"])}
        x = draw.choice(["step", "time", "other"])
        return with_looks(draw, figure.map(x=x, y="value")).trend(space=draw.choice([None, "data"]), **said)
    said = {"reach": draw.choice(["confidence", "std_error", "std_dev"]), "space": draw.choice([None, "axis"])}
    return with_looks(draw, figure.map(x=draw.choice(["kind", "step"]), y="value")).intervals(**said)


VERBS = ("bars", "histogram", "boxes", "cells", "tally", "cumulative", "lines", "points", "reference", "trend", "intervals")


def expression(draw):
    return draw.choice(
        [
            f"other > {draw.uniform(-3, 2):.2f}",
            f"step BETWEEN {draw.randrange(4)} AND {draw.randrange(4, 9)}",
            f"key = {draw.randrange(N)}",
            f"kind = '{draw.choice('abc')}'",
            f"key % {draw.randrange(2, 6)} = 0",
            "here = 'one'",
            "other > -100",
        ]
    )


def told(run, member):
    """What a layer says of its results: columns of numbers, without single rows beside them, or bins without rows."""
    columns = columns_told(run, member)
    lost = None
    if run.layer.verb in ("boxes", "histogram"):
        counts = np.array(columns["count"].values, float)
        lost = np.isnan(counts) | (counts == 0)
    made = {}
    for name, one in columns.items():
        if one.sort == "words" or name in ("panel", "group", "row"):
            continue
        values = np.array([math.nan if value is None else value for value in one.values], float)
        made[name] = values if lost is None else values[~lost]
    return made


def compared(browser, cases):
    """How many numbers a browser computed of chosen rows as print did; fails where one differs.

    Args:
        browser: Any.
        cases: Plates, each of a figure that chooses rows at first and of one that keeps them.
    """
    asked, expected = [], []
    for plate in cases:
        paper, live = (built(said, "200 mm", None) for said in (plate._sentence, left_to_readers(plate._sentence)))
        model = model_of(live)
        chosen = sorted(paper.members[0][0].choices[0].started.tolist())
        asked.append({"said": json.loads(json.dumps(model.said)), "arrays": model.arrays, "chosen": chosen})
        expected.append(paper)
    browser.get("data:text/html,<title>kept</title>")
    browser.set_script_timeout(120)
    code = script_of(tuple(name for name in MODULES if name != "start"))
    answers = browser.execute_async_script(f"{code}\n{ASK}", asked)
    assert not isinstance(answers, str), answers
    count = 0
    for answer, plate, paper, case in zip(answers, cases, expected, asked, strict=True):
        runs = {
            (run.number, one.place): (run, one) for some in paper.members for one in some if one.responses for run in one.runs
        }
        for layer in answer if case["chosen"] else ():
            run, member = runs[layer["number"], layer["member"]]
            count += same(layer, run, member, plate)
    return count


def same(layer, run, member, plate):
    want, about = told(run, member), f"{plate._sentence.cells[1].content} {run.layer.verb}"
    count = 0
    for name, values in layer["values"].items():
        own = TURNED.get(name, name) if layer["horizontal"] else name
        if own not in want:
            continue
        got = np.array([float(value.replace("Infinity", "inf")) for value in values])
        assert got.shape == want[own].shape, (about, own, len(got), len(want[own]))
        scale = max(1.0, float(np.nanmax(np.abs(want[own]), initial=0.0)))
        close = np.isclose(got, want[own], rtol=0, atol=CLOSE * scale, equal_nan=True)
        assert close.all(), (about, own, got[~close][:3], want[own][~close][:3])
        if own == "count" and "weight" not in run.columns:
            assert np.array_equal(got, want[own])
        count += len(got)
    return count


def choosing(frame, start, along=("other", "step")):
    return ft.figure(frame).map(x=along[0], y=along[1]).points().choose("some", along="x", start=start)


@pytest.mark.parametrize("verb", VERBS)
def test_what_a_browser_computes_of_chosen_rows_is_what_print_does(verb, browser):
    draw, cases = random.Random(f"kept {verb}"), []
    while len(cases) < MANY:
        frame, start = frame_of(draw), expression(draw)
        cases.append(ft.plate([[choosing(frame, start), sentence(draw, frame, verb).respond("some", "keep")]]))
    assert compared(browser, cases) > 100


def test_any_sentence_is_computed_in_a_browser_as_in_print(browser):
    cases = []

    @settings(max_examples=70, deadline=None, database=None, suppress_health_check=list(HealthCheck))
    @given(sentences(), st.sampled_from(CHOSEN[1:]))
    def gathered(figure, start):
        source = choosing(figure._sentence.table.given, start, ("share", "mass"))
        plate = ft.plate([[source, figure.respond("some", "keep")]])
        try:
            built(plate._sentence, "200 mm", None)
        except FacetineError:
            return
        cases.append(plate)

    gathered()
    assert compared(browser, cases) > 20
