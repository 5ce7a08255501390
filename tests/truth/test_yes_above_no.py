"""Yes stands above no, so that what rises in words rises on the paper."""

import re

import numpy as np
import pandas as pd
import pytest
from truth.reading import Sheet

import facetine as ft

RNG = np.random.default_rng(5)
X = RNG.uniform(0, 10, 150)
RISING = pd.DataFrame({"x": X, "ok": RNG.random(150) < 1 / (1 + np.exp(5 - X)), "kind": RNG.choice(list("ab"), 150)})
FALLING = RISING.assign(ok=~RISING["ok"])


def heights(sheet):
    """How high the words of the y axis stand on the paper, as y."""
    axis = sheet.group("y-axis")
    return {"".join(text.itertext()): float(text.get("y") or re.search(r"[\d.]+\D+([\d.]+)", text.get("transform"))[1])
            for text in axis.iter("{http://www.w3.org/2000/svg}text")}  # fmt: skip


@pytest.mark.parametrize(("rows", "rises"), [(RISING, True), (FALLING, False)])
@pytest.mark.parametrize("first", ["points", "trend"])
def test_a_logistic_curve_goes_the_way_that_its_words_go(rows, rises, first):
    figure = ft.figure(rows).map(x="x", y="ok")
    figure = figure.points().trend("logistic") if first == "points" else figure.trend("logistic").points()
    sheet = Sheet(figure)
    words = heights(sheet)
    assert words["yes"] < words["no"]
    curve = sheet.paths(2 if first == "points" else 1)[-1]["at"]
    curve = curve[np.argsort(curve[:, 0], kind="stable")]
    assert (curve[-1, 1] < curve[0, 1]) == rises
    # Points of yes stand where yes stands.
    dots = sheet.circles(1 if first == "points" else 2)
    assert (dots[:, 1] < np.mean(list(words.values()))).sum() == rows["ok"].sum()


def test_orders_that_are_said_are_read_from_the_top_and_reverse_turns_them():
    figure = ft.figure(RISING).map(x="x", y="ok").points()
    said = heights(Sheet(figure.scale("y", order=["no", "yes"])))
    assert said["no"] < said["yes"]
    turned = heights(Sheet(figure.scale("y", reverse=True)))
    assert turned["no"] < turned["yes"]


@pytest.mark.parametrize("verb", ["bars", "boxes"])
def test_yes_is_above_no_for_horizontal_bars_and_boxes_too(verb):
    figure = getattr(ft.figure(RISING).map(x=None if verb == "bars" else "x", y="ok"), verb)()
    words = heights(Sheet(figure))
    assert words["yes"] < words["no"]


def test_the_axis_of_a_share_rises():
    sheet = Sheet(ft.figure(RISING).map(x="kind", y="ok").intervals(around="share"))
    labels, at = sheet.ticks("y")
    numbers = [float(label.strip("% ")) for label in labels]
    assert np.corrcoef(numbers, at)[0, 1] < -0.99
