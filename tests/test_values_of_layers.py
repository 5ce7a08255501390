"""The numbers of every other layer, against independent computations, and against what is written on marks."""

import numpy as np
import pandas as pd
import pytest
from conftest import svg_of, texts
from scipy import stats

import facetine as ft
from facetine.layers import LAYERS, layer_class

FRAME = pd.DataFrame(ft.demo_data("wheels"))
BASE = ft.figure(FRAME)
SALES = pd.DataFrame(ft.demo_data("sales"))


def gaussian(x, sample, width):
    """A kernel density with a bandwidth that is given."""
    return stats.norm.pdf((np.asarray(x)[:, None] - sample[None]) / width).mean(axis=1) / width


def scott(sample):
    return np.std(sample, ddof=1) * len(sample) ** -0.2


def test_densities_of_groups():
    values = BASE.map(x="ph", color="rind").density().numbers("density")
    for rind, rows in FRAME.groupby("rind"):
        own, sample = values[values["group"] == rind], rows["ph"].to_numpy()
        assert own["density"].tolist() == pytest.approx(gaussian(own["x"], sample, scott(sample)).tolist(), abs=1e-9)


@pytest.mark.parametrize("layer", ["violins", "ridgelines"])
def test_densities_over_categories_with_their_quartiles(layer):
    mapping = {"x": "rind", "y": "ph"} if layer == "violins" else {"x": "ph", "y": "rind"}
    place, along = ("x", "y") if layer == "violins" else ("y", "x")
    values = getattr(BASE.map(**mapping), layer)().numbers(layer)
    for rind, rows in FRAME.groupby("rind"):
        own, sample = values[values[place] == rind], rows["ph"].to_numpy()
        assert own["density"].tolist() == pytest.approx(gaussian(own[along], sample, scott(sample)).tolist(), abs=1e-9)
        assert set(own["count"]) == {len(sample)}
        if layer == "violins":
            quartiles = own[["q1", "median", "q3"]].iloc[0].tolist()
            assert quartiles == pytest.approx(rows["ph"].quantile([0.25, 0.5, 0.75]).tolist())


def test_quantiles_against_a_normal_distribution():
    values = BASE.map(y="ph").qq().numbers("qq")
    sample = np.sort(FRAME["ph"])
    positions = (np.arange(1, len(sample) + 1) - 0.375) / (len(sample) + 0.25)
    assert values["observed"].tolist() == pytest.approx(sample.tolist())
    assert values["theory"].tolist() == pytest.approx(stats.norm.ppf(positions).tolist())


def test_stacked_areas_of_sums():
    frame = pd.DataFrame({"m": np.tile(np.arange(6), 4), "v": np.arange(24.0), "g": np.repeat(["a", "b"], 12)})
    values = ft.figure(frame).map(x="m", y="v", color="g").areas(aggregate="sum").numbers("areas").set_index(["x", "group"])
    sums = frame.groupby(["m", "g"])["v"].sum()
    assert values["sum"].to_dict() == pytest.approx(sums.to_dict())


def test_bands_around_means():
    frame = pd.DataFrame({"t": np.repeat(np.arange(5.0), 8), "v": np.random.default_rng(3).normal(size=40)})
    values = (
        ft.figure(frame).map(x="t", y="v").bands(around="mean", reach="confidence", level=0.9).numbers("bands").set_index("x")
    )
    for t, rows in frame.groupby("t"):
        low, high = stats.t.interval(0.9, 7, rows["v"].mean(), stats.sem(rows["v"]))
        assert values.loc[t, ["low", "high"]].tolist() == pytest.approx([low, high])


def test_contours_hold_the_share_that_they_say():
    values = BASE.map(x="moisture_pct", y="ph").contours(levels=[0.5]).numbers("contours")
    assert set(values["level"]) == {0.5}
    sample = FRAME[["moisture_pct", "ph"]].dropna().to_numpy().T
    spread = np.minimum(sample.std(axis=1, ddof=1), stats.iqr(sample, axis=1) / 1.349)
    width = spread * sample.shape[1] ** (-1 / 6)

    def height(points):
        apart = (points[:, :, None] - sample[:, None, :]) / width[:, None, None]
        return np.exp(-0.5 * (apart**2).sum(axis=0)).mean(axis=1)

    along, rows = height(values[["x", "y"]].to_numpy().T), height(sample)
    assert np.ptp(along) / along.mean() < 0.03
    assert (rows > along.mean()).mean() == pytest.approx(0.5, abs=0.02)


def test_correlations_with_their_interval():
    (row,) = BASE.map(x="moisture_pct", y="firmness_n").correlation().numbers("correlation").to_dict("records")
    pairs = FRAME[["moisture_pct", "firmness_n"]].dropna()
    found = stats.pearsonr(pairs["moisture_pct"], pairs["firmness_n"])
    interval = found.confidence_interval(0.95)
    assert [row["r"], row["low"], row["high"], row["count"]] == pytest.approx([found.statistic, *interval, len(pairs)])


def test_graphs_are_those_of_their_function():
    values = BASE.map(x="age_days", y="mass_kg").points().function("2 + 6 * exp(-x / 90)").numbers("function")
    assert len(values) > 50
    assert values["y"].tolist() == pytest.approx((2 + 6 * np.exp(-values["x"] / 90)).tolist(), rel=1e-6)


def test_places_that_are_said_are_told_again():
    figure = BASE.map(x="age_days", y="ph").points()
    assert figure.region(x=(3, 4), y=(5.0, 5.2)).numbers("region").iloc[0].tolist() == pytest.approx([3, 4, 5.0, 5.2])
    fixed = figure.callout("o", x=3, y=5, x_to=4, y_to=5.2).numbers("callout").iloc[0]
    assert fixed[["x", "y", "x_to", "y_to"]].tolist() == [3.0, 5.0, 4.0, 5.2]
    highest = figure.callout("{y}", at="highest").numbers("callout")
    assert highest["y"].tolist() == [FRAME["ph"].max()]
    lines = figure.reference(aggregate="mean", axis="y", per="group", map={"color": "rind"}).numbers("reference")
    assert dict(zip(lines["group"], lines["mean"], strict=True)) == pytest.approx(FRAME.groupby("rind")["ph"].mean().to_dict())
    assert figure.reference(x=[3, 5]).numbers("reference")["x"].tolist() == [3.0, 5.0]


def test_rows_of_segments_rugs_and_labels():
    segments = ft.figure(SALES).map(x="month", y="retail", x_to="month", y_to="wholesale").segments().numbers("segments")
    assert segments["y"].tolist() == SALES["retail"].tolist()
    assert segments["y_to"].tolist() == SALES["wholesale"].tolist()
    rug = BASE.map(x="age_days", y="ph").rug(where="ph > 5.5").numbers("rug")
    assert sorted(rug["row"]) == FRAME.query("ph > 5.5").index.tolist()
    labels = BASE.map(x="rind", y="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{mean:.3f}").numbers("labels")
    means = FRAME.groupby("rind")["mass_kg"].mean()
    assert dict(zip(labels["x"], labels["text"], strict=True)) == {rind: f"{mean:.3f}" for rind, mean in means.items()}


WITH_TEXTS = {
    "bars": ({"x": "rind", "y": "mass_kg"}, {"aggregate": "mean"}),
    "histogram": ({"x": "ph"}, {"bins": 6}),
    "boxes": ({"x": "rind", "y": "ph"}, {}),
    "cells": ({"x": "rind", "y": "cellar"}, {}),
    "intervals": ({"x": "rind", "y": "ph"}, {"level": 0.9}),
}


def test_every_layer_that_writes_values_is_here():
    assert set(WITH_TEXTS) == {verb for verb in LAYERS if "value_labels" in layer_class(verb).__dataclass_fields__}


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("layer", WITH_TEXTS)
def test_what_is_written_on_marks_is_what_values_gives(layer, turned):
    mapping, options = WITH_TEXTS[layer]
    other = {"x": "y", "y": "x"}
    mapping = {other[name]: column for name, column in mapping.items()} if turned else mapping
    figure = getattr(BASE.map(**mapping), layer)(**options)
    values = figure.numbers(layer, width=300)
    numbers = [name for name in values.select_dtypes("number").columns if name not in ("x", "y", "row")]
    assert len(numbers) >= 2
    for name in numbers:
        written = figure.change(layer, value_labels=f"≈{{{name}:.5f}}").theme(value_size=2)
        found = sorted(text for text in texts(svg_of(written, "300 mm", "300 mm")) if text.startswith("≈"))
        expected = sorted(f"≈{value:.5f}" for value in values[name].dropna())
        assert found == expected, name
