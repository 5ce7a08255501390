"""Random sentences with the places and values that their marks must have, computed from the rows by pandas and SciPy alone."""

from __future__ import annotations

import random
from typing import Any, NamedTuple

import numpy as np
import pandas as pd
import scipy.stats
from conftest import quietly
from truth.reading import Sheet

import facetine as ft

KINDS, HALVES = ["ka", "kb", "kc"], ["one", "two"]
VERBS = ("points", "strips", "bars", "means", "lines", "intervals")


class Placed(NamedTuple):
    """A figure, and what is known of it."""

    figure: Any
    rows: pd.DataFrame
    verb: str
    facet: bool
    swapped: bool
    log: bool
    limits: tuple[float, float] | None
    aggregate: str
    arrange: str | None


def placed(chance: random.Random) -> Placed:
    """A random figure over rows of its own."""
    rng = np.random.default_rng(chance.randrange(2**32))
    count = chance.randint(12, 40)
    rows = pd.DataFrame({
        "x": rng.permutation(count) / count * 9 + 0.5, "y": rng.lognormal(1, 0.6, count) + 0.2,
        "k": rng.choice(KINDS, count), "g": rng.choice(HALVES, count), "step": rng.integers(1, 5, count),
    })  # fmt: skip
    rows.loc[:5, "k"], rows.loc[:5, "g"] = np.repeat(KINDS, 2), np.tile(HALVES, 3)
    rows.loc[rng.choice(np.arange(6, count), count // 8, replace=False), "y"] = np.nan
    verb = chance.choice(VERBS)
    facet, swapped = chance.random() < 0.4, chance.random() < 0.3
    log = verb in ("points", "lines") and chance.random() < 0.3
    limits = (2.0, 7.5) if verb == "points" and chance.random() < 0.4 else None
    aggregate = chance.choice(["mean", "median", "max"]) if verb == "means" else chance.choice(["sum", "count"])
    arrange = {"strips": chance.choice(["jitter", "side_by_side", "overlay"])}.get(verb)
    base = ft.figure(rows)
    color = {} if facet else {"color": "g"}
    if verb == "points":
        figure = base.map(x="x", y="y", **color).points()
    elif verb == "strips":
        figure = base.map(x="k", y="y", **color).points(arrange=arrange)
    elif verb in ("bars", "means"):
        figure = base.map(x="k", y="y", **color).bars(aggregate=aggregate)
    elif verb == "lines":
        figure = base.map(x="step", y="y", **color).lines(aggregate="mean")
        aggregate = "mean"
    else:
        figure = base.map(x="k", y="y", **color).intervals()
    figure = figure.scale("y", "log") if log else figure
    figure = figure.scale("x", limits=limits) if limits else figure
    figure = figure.facet(columns="g") if facet else figure
    return Placed(figure.swap_axes() if swapped else figure, rows, verb, facet, swapped, log, limits, aggregate, arrange)


def checked(one: Placed, sheet: Sheet) -> tuple[int, list[str]]:
    """How many places and values were compared, and what is wrong."""
    wrong: list[str] = []
    compared = 0
    along, up = ("y", "x") if one.swapped else ("x", "y")
    for panel, half in enumerate(HALVES if one.facet else [None], 1):
        rows = one.rows if half is None else one.rows[one.rows["g"] == half]
        found, expected = _marks(one, sheet, panel, along, up), _expected(one, rows)
        if len(found) != len(expected):
            wrong.append(f"{one.verb}: {len(found)} marks for {len(expected)}")
            continue
        compared += found.size
        if len(found):
            # Every mark has one expected place, and every place its mark.
            distance = (np.abs(found[:, None] - expected[None]) / _tolerance(one, expected)).max(axis=2)
            if distance.min(axis=0).max() > 1 or distance.min(axis=1).max() > 1:
                wrong.append(f"{one.verb}: off by {max(distance.min(axis=0).max(), distance.min(axis=1).max()):.2f} tolerances")
    more, said = _numbers(one)
    return compared + more, wrong + said


def _tolerance(one: Placed, expected: np.ndarray) -> np.ndarray:
    """A hundredth of a point on the paper, and what ticks round: in the unit of each column."""
    reach = np.maximum(np.ptp(expected, axis=0), np.abs(expected).max(axis=0) * 0.3) if len(expected) else np.ones(1)
    if expected.shape[1:] == (3,):
        reach[1:] = reach[1:].max()
    tolerance = 0.006 * reach
    if one.verb in ("strips", "bars", "means", "intervals"):
        # Places about a category: anywhere in its slot.
        tolerance[0] = 0.5
    return np.where(tolerance > 0, tolerance, 1e-9)


def _expected(one: Placed, rows: pd.DataFrame) -> np.ndarray:
    there = rows.dropna(subset=["y"])
    slot = {kind: place for place, kind in enumerate(KINDS)}
    groups = ["k"] if one.facet else ["k", "g"]
    if one.verb == "points":
        there = there if one.limits is None else there[there["x"].between(*one.limits)]
        return np.column_stack([there["x"], np.log10(there["y"]) if one.log else there["y"]])
    if one.verb == "strips":
        return np.column_stack([there["k"].map(slot), there["y"]])
    if one.verb in ("bars", "means"):
        heights = there.groupby(groups)["y"].agg(one.aggregate)
        if one.verb == "bars" and not one.facet:
            tops = heights.groupby("k").cumsum()
            return np.column_stack([heights.reset_index()["k"].map(slot), tops - heights, tops])
        return np.column_stack([heights.reset_index()["k"].map(slot), np.zeros(len(heights)), heights])
    if one.verb == "lines":
        means = there.groupby(["step"] if one.facet else ["step", "g"])["y"].mean().reset_index()
        return np.column_stack([means["step"], np.log10(means["y"]) if one.log else means["y"]])
    made = there.groupby(groups)["y"].agg(["mean", "sem", "count"]).reset_index()
    reach = made["sem"] * scipy.stats.t.ppf(0.975, (made["count"] - 1).clip(lower=1))
    made = made.assign(low=made["mean"] - reach, high=made["mean"] + reach).dropna()
    return np.column_stack([made["k"].map(slot), made["low"], made["high"]])


def _marks(one: Placed, sheet: Sheet, panel: int, along: str, up: str) -> np.ndarray:
    """What stands on the paper: along the axis of places, and along that of values."""
    first = {"x": panel, "y": 1}
    place, value = (0, 1) if along == "x" else (1, 0)

    def values(at: np.ndarray) -> np.ndarray:
        read = sheet.read(up, at, log=one.log, panel=first[up])
        return np.log10(read) if one.log else read

    def places(at: np.ndarray) -> np.ndarray:
        if one.verb in ("points", "lines"):
            return sheet.read(along, at, panel=first[along])
        words = sheet.words(along, first[along])
        slope, base = np.polyfit([words[kind] for kind in KINDS], [0, 1, 2], 1)
        return slope * np.asarray(at) + base

    if one.verb in ("points", "strips"):
        dots = sheet.circles(1, panel)
        return np.column_stack([places(dots[:, place]), values(dots[:, value])])
    if one.verb in ("bars", "means"):
        rects = sheet.rects(1, panel)
        rects = rects[(rects[:, 2] > 0) & (rects[:, 3] >= 0)]
        ends = np.sort(np.column_stack([values(rects[:, value]), values(rects[:, value] + rects[:, value + 2])]), axis=1)
        return np.column_stack([places(rects[:, place] + rects[:, place + 2] / 2), ends])
    vertices = [shape["at"] for shape in sheet.paths(1, panel)]
    if one.verb == "lines":
        # A row alone between gaps is a dot: a line from its place to its place.
        every = np.unique(np.concatenate(vertices), axis=0) if vertices else np.zeros((0, 2))
        return np.column_stack([places(every[:, place]), values(every[:, value])])
    lines = np.concatenate(vertices).reshape(-1, 2, 2) if vertices else np.zeros((0, 2, 2))
    ends = np.sort(np.column_stack([values(lines[:, 0, value]), values(lines[:, 1, value])]), axis=1)
    return np.column_stack([places(lines[:, 0, place]), ends])


def _numbers(one: Placed) -> tuple[int, list[str]]:
    """The numbers that a layer gives, against pandas."""
    if one.verb not in ("bars", "means", "lines", "intervals"):
        return 0, []
    there = one.rows.dropna(subset=["y"])
    how = {"intervals": "mean"}.get(one.verb, one.aggregate)
    by = (["step"] if one.verb == "lines" else ["k"]) + ["g"]
    expected = np.sort(there.groupby(by)["y"].agg(how).to_numpy(float))
    numbers = quietly(one.figure.numbers)
    found = np.sort(numbers[how].to_numpy(float))
    same = len(found) == len(expected) and bool(np.allclose(found, expected, rtol=1e-10))
    return len(expected), [] if same else [f"{one.verb}: numbers differ"]


def verdict(seed: int) -> tuple[int, list[str]]:
    """What is compared in one random sheet, and what is wrong."""
    chance = random.Random(seed)
    figures = [placed(chance) for _ in range(2 if chance.random() < 0.25 else 1)]
    if len(figures) == 1:
        return checked(figures[0], Sheet(figures[0].figure, "150 mm", "110 mm"))
    sheet = Sheet(ft.plate([[one.figure for one in figures]]), "300 mm", "110 mm")
    compared, wrong = 0, []
    for number, one in enumerate(figures, 1):
        sheet.prefix = f"figure-{number}-"
        more, said = checked(one, sheet)
        compared, wrong = compared + more, wrong + said
    return compared, wrong
