"""Weights: counted by every layer that has a use for them, refused or said by the others, never ignored."""

import math

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import notes
from truth.reading import Sheet, texts_of

import facetine as ft
from facetine.figures.edits import with_changes
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError

rng = np.random.default_rng(3)
N = 60
DATA = pd.DataFrame(
    {
        "k": np.array(["a", "b", "c"], object)[rng.integers(0, 3, N)],
        "x": rng.integers(0, 5, N).astype(float),
        "u": rng.normal(size=N),
        "v": rng.normal(5, 2, N),
        "yes": rng.random(N) < 0.4,
        "w": rng.uniform(0.5, 4, N),
        "one": np.ones(N),
    }
)
BASE = ft.figure(DATA)


def written(figure):
    return {text for text in texts_of(figure, "180 mm") if ":" in text}


def by_k(how):
    return {f":{how(part):.4f}" for _, part in DATA.groupby("k")}


def mean(part):
    return np.average(part.v, weights=part.w)


def quantile(part, share):
    """The mean of the weighted quantile function over [(h − 1)/n, h/n], by the area under its steps up to both ends."""
    ordered = part.sort_values("v")
    ends = np.concatenate([[0.0], np.cumsum(ordered.w) / ordered.w.sum()])
    areas = np.concatenate([[0.0], np.cumsum(np.diff(ends) * ordered.v)])
    size = ordered.w.sum() ** 2 / (ordered.w**2).sum()
    low, high = share * (size - 1) / size, (share * (size - 1) + 1) / size
    return size * (np.interp(high, ends, areas) - np.interp(low, ends, areas))


def median(part):
    return quantile(part, 0.5)


@pytest.mark.parametrize("verb", ["bars", "points", "lines", "areas"])
@pytest.mark.parametrize(
    ("how", "expected"),
    [("mean", mean), ("median", median), ("sum", lambda part: (part.w * part.v).sum()), ("count", lambda part: part.w.sum())],
)
def test_aggregates_are_weighted(verb, how, expected):
    figure = BASE.map(x="k", y="v", weight="w")._add_layer(verb, {"aggregate": how})
    assert by_k(expected) <= written(figure.labels(layer=verb, text=f":{{{how}:.4f}}", side="middle"))


def test_bars_count_weights():
    assert by_k(lambda part: part.w.sum()) <= written(BASE.map(x="k", weight="w").bars(value_labels=":{count:.4f}"))
    total = DATA.w.sum()
    assert by_k(lambda part: part.w.sum() / total) <= written(BASE.map(x="k", weight="w").bars(value_labels=":{share:.4f}"))


def test_cells_sum_weights():
    figure = BASE.map(x="k", y="yes", weight="w").cells(value_labels=":{count:.4f}")
    assert {f":{weight:.4f}" for weight in DATA.groupby(["k", "yes"]).w.sum()} <= written(figure)
    means = BASE.map(x="k", y="yes", color="v", weight="w").cells(aggregate="mean", value_labels=":{mean:.4f}")
    assert {f":{mean(part):.4f}" for _, part in DATA.groupby(["k", "yes"])} <= written(means)
    hexes = BASE.map(x="u", y="v", weight="w").cells(cell="hex", bins=2, value_labels=":{count:.4f}")
    said = [float(text[1:]) for text in texts_of(hexes, "300 mm") if text.startswith(":")]
    assert sum(said) == pytest.approx(DATA.w.sum(), abs=0.01)


def test_intervals_are_weighted():
    def ends(part):
        size = part.w.sum() ** 2 / (part.w**2).sum()
        spread = math.sqrt(np.average((part.v - mean(part)) ** 2, weights=part.w) * size / (size - 1))
        low, high = scipy.stats.t.interval(0.95, size - 1, loc=mean(part), scale=spread / math.sqrt(size))
        return f":{mean(part):.4f} {low:.4f} {high:.4f}"

    figure = BASE.map(x="k", y="v", weight="w").intervals(value_labels=":{mean:.4f} {low:.4f} {high:.4f}")
    assert {ends(part) for _, part in DATA.groupby("k")} <= written(figure)
    shares = BASE.map(x="k", y="yes", weight="w").intervals(around="share", value_labels=":{share:.4f}")
    assert by_k(lambda part: np.average(part.yes, weights=part.w)) <= written(shares)


@pytest.mark.parametrize("verb", ["boxes", "violins"])
def test_boxes_and_violins_have_weighted_quartiles(verb):
    base = BASE.map(x="k", y="v", weight="w")
    if verb == "boxes":
        assert by_k(median) <= written(base.boxes(value_labels=":{median:.4f}"))
        return
    sheet = Sheet(base.violins())
    lines = [path["at"] for path in sheet.paths(1) if path.get("fill") in (None, "none") and len(path["at"]) == 2]
    drawn = sorted(sheet.read("y", at[0, 1]) for at in lines)
    assert drawn == pytest.approx(sorted(median(part) for _, part in DATA.groupby("k")), abs=0.03)


def test_histograms_densities_and_cumulatives_are_weighted():
    edges = [-4, -1, 0, 1, 4]
    figure = BASE.map(x="u", weight="w").histogram(edges=edges, value_labels=":{count:.4f}")
    assert {f":{weight:.4f}" for weight in np.histogram(DATA.u, edges, weights=DATA.w)[0]} <= written(figure)
    sheet = Sheet(BASE.map(x="u", weight="w").density())
    at = sheet.paths(1)[0]["at"]
    exact = scipy.stats.gaussian_kde(DATA.u, weights=DATA.w)(sheet.read("x", at[:, 0]))
    assert sheet.read("y", at[:, 1]) == pytest.approx(exact, abs=0.005)
    sheet = Sheet(BASE.map(x="u", weight="w").cumulative())
    at = sheet.paths(1)[0]["at"]
    x, y = sheet.read("x", at[:, 0]), sheet.read("y", at[:, 1])
    middle = np.searchsorted(np.sort(DATA.u), 0.0)
    share = DATA.w[DATA.u <= 0].sum() / DATA.w.sum()
    assert 0 < middle < N
    assert y[x <= 0.0].max() == pytest.approx(share, abs=0.01)


def test_quantile_plots_are_weighted():
    sheet = Sheet(BASE.map(y="u", weight="w").qq(line=False))
    ordered = DATA.sort_values("u")
    mass = ordered.w * N / ordered.w.sum()
    shares = (np.cumsum(mass) - mass / 2 + 1 / 8) / (N + 1 / 4)
    drawn = np.sort(sheet.read("x", sheet.circles(1)[:, 0]))
    assert drawn == pytest.approx(scipy.stats.norm.ppf(shares), abs=0.02)


def enclosed(ring, points):
    """Which points lie inside a ring: those from which a ray to the right crosses it an odd number of times."""
    x, y = points[:, 0][:, None], points[:, 1][:, None]
    first, then = ring, np.roll(ring, -1, axis=0)
    spans = (first[:, 1] > y) != (then[:, 1] > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        cross = first[:, 0] + (y - first[:, 1]) / (then[:, 1] - first[:, 1]) * (then[:, 0] - first[:, 0])
    return (spans & (x < cross)).sum(axis=1) % 2 == 1


def test_contours_enclose_weight():
    r = np.random.default_rng(1)
    data = pd.DataFrame({"x": r.normal(size=800), "y": r.normal(size=800)})
    data["w"] = np.where(data.x > 0, 9.0, 1.0)
    heavy = Sheet(ft.figure(data).map(x="x", y="y", weight="w").contours(levels=[0.5]))
    at = np.concatenate([path["at"] for path in heavy.paths(1)])
    ring = np.column_stack([heavy.read("x", at[:, 0]), heavy.read("y", at[:, 1])])
    held = enclosed(ring, data[["x", "y"]].to_numpy())
    assert data.w[held].sum() / data.w.sum() == pytest.approx(0.5, abs=0.02)


def fitted(method, weights):
    x, y, at = DATA.u.to_numpy(), DATA.v.to_numpy(), np.array([0.0, 1.0])
    if method in ("linear", "polynomial"):
        return np.polyval(np.polyfit(x, y, 1 if method == "linear" else 2, w=np.sqrt(weights)), at)
    raise AssertionError(method)


@pytest.mark.parametrize("method", ["linear", "polynomial", "loess", "logistic", "robust", "quantile", "moving"])
def test_every_trend_is_weighted_and_its_unit_of_weights_changes_nothing(method):
    y = "yes" if method == "logistic" else "v"

    def curve(weight):
        mapping = {"x": "u", "y": y} | ({"weight": weight} if weight else {})
        sheet = Sheet(
            ft.figure(DATA.assign(big=DATA.w * 1000))
            .map(**mapping)
            .trend(method, **({"quantile": 0.3} if method == "quantile" else {})),
            "200 mm",
            "150 mm",
        )
        (line,) = [path["at"] for path in sheet.paths(1) if path.get("fill") in (None, "none")]
        edges = [line]
        for ring in (path["at"] for path in sheet.paths(1) if path.get("fill") not in (None, "none")):
            half = len(ring) // 2
            edges += [ring[:half], ring[half:][::-1]]
        across = np.linspace(line[0, 0], line[-1, 0], 60)
        read = [sheet.read("y", np.interp(across, edge[:, 0], edge[:, 1])) for edge in edges]
        return sheet.read("x", across), np.concatenate(read)

    plain, weighed, scaled, ones = curve(None), curve("w"), curve("big"), curve("one")
    assert plain[1] == pytest.approx(ones[1], abs=0.02)
    assert weighed[1] == pytest.approx(scaled[1], abs=0.02)
    assert np.abs(plain[1] - weighed[1]).max() > 0.02
    if method in ("linear", "polynomial"):
        drawn = np.interp([0.0, 1.0], weighed[0], weighed[1][:60])
        assert drawn == pytest.approx(fitted(method, DATA.w), abs=0.05)


def test_references_are_weighted():
    figure = BASE.map(x="k", y="v", weight="w").points().reference(aggregate="mean", text=":{value:.4f}")
    assert f":{np.average(DATA.v, weights=DATA.w):.4f}" in texts_of(figure)


def test_rows_of_weight_zero_count_nowhere():
    data = pd.concat([DATA, pd.DataFrame({"k": ["a"] * 5, "u": [99.0] * 5, "v": [1e6] * 5, "w": [0.0] * 5, "yes": [True] * 5})])
    for figure in (
        ft.figure(data).map(x="k", y="v", weight="w").boxes(value_labels=":{median:.6f} {whisker_high:.6f}"),
        ft.figure(data).map(x="k", y="v", weight="w").intervals(value_labels=":{mean:.6f} {low:.6f}"),
        ft.figure(data)
        .map(x="u", y="v", weight="w")
        .trend()
        .labels(layer="trend", text=":{slope:.6f} {count} {residual_std:.6f}"),
    ):
        with_rows = written(figure)
        assert any("of zero count nowhere" in note for note in notes(figure))
        said = {name: getattr(figure._sentence, name) for name in ("mapping", "layers")}
        without = written(ft.Figure(with_changes(ft.figure(DATA)._sentence, **said)))
        assert with_rows == without


@pytest.mark.parametrize("wrong", [-1.0, np.inf])
@pytest.mark.parametrize("verb", [verb for verb in LAYERS if layer_class(verb).weighs])
def test_negative_and_infinite_weights_are_one_error_everywhere(verb, wrong):
    data = DATA.assign(w=np.where(np.arange(N) == 7, wrong, DATA.w))
    kind = layer_class(verb)
    mapping = {"x": "k" if verb in ("bars", "boxes", "violins", "intervals") else "u", "weight": "w"}
    if verb not in ("histogram", "density", "cumulative", "bars"):
        mapping["y"] = "v"
    if verb == "qq":
        del mapping["x"]
    if verb == "bands":
        mapping = {"x": "k", "y_low": "u", "y_high": "v", "weight": "w"}
    options = {"aggregate": "mean"} if "aggregate" in kind.__dataclass_fields__ and verb not in ("bars", "cells") else {}
    with pytest.raises(FacetineError, match="weight 'w' holds 1 row with a negative or infinite value"):
        texts_of(ft.figure(data).map(**mapping)._add_layer(verb, options))


def test_a_weight_without_a_use_is_refused_or_said():
    with pytest.raises(FacetineError, match="weight"):
        texts_of(BASE.map(x="k", y="v").points(map={"weight": "w"}))
    with pytest.raises(FacetineError, match="weight"):
        BASE.map(x="k", y="v").rug(map={"weight": "w"})
    for figure in (BASE.map(x="k", y="v", weight="w").points(), BASE.map(x="u", y="v", weight="w").rug()):
        assert any("has no use" in note for note in notes(figure))
    assert not any("has no use" in note for note in notes(BASE.map(x="u", y="v", weight="w").points().trend()))


def test_the_docs_say_what_weights_mean_for_every_method():
    for verb in LAYERS:
        kind = layer_class(verb)
        assert bool(kind.weighs) == ("weight" in kind.takes), verb
