"""Texts from computed values: every name is a value in the unit of the data, and every format is understood or refused."""

import math
import re
import warnings
from pathlib import Path

import numpy as np
import pandas as pd
import pikepdf
import pytest
import scipy.stats
from conftest import pdf_of
from hypothesis import given
from hypothesis import strategies as st
from truth.reading import Sheet, texts_of

import facetine as ft
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError, OptionError

WHEELS = ft.demo_data("wheels")
TWO = ft.figure({"k": ["a", "b"], "v": [257.0, 318.0]}).map(x="k", y="v")
rng = np.random.default_rng(4)
LOG = pd.DataFrame({"k": ["a", "b"] * 40, "v": 10 ** rng.normal(1.5, 0.4, 80)})


def test_bars_write_the_values_of_the_data():
    assert {"257", "318"} <= set(texts_of(TWO.bars(value_labels="{y:.0f}")))
    assert {"a: 257", "b: 318"} <= set(texts_of(TWO.bars(value_labels="{x}: {height:.0f}")))
    lying = ft.figure({"k": ["a", "b"], "v": [257.0, 318.0]}).map(y="k", x="v").bars(value_labels="{y}={x:.0f}")
    assert {"a=257", "b=318"} <= set(texts_of(lying))
    stacked = ft.figure({"k": ["a", "a"], "g": ["u", "v"], "v": [257.0, 318.0]}).map(x="k", y="v", color="g")
    assert {"257", "318"} <= set(texts_of(stacked.bars(value_labels="{y:.0f}")))


@pytest.mark.parametrize("turned", [False, True])
def test_medians_on_a_log_axis_are_medians(turned):
    base = ft.figure(LOG).map(**({"y": "k", "x": "v"} if turned else {"x": "k", "y": "v"}))
    for form, share in (("{median:.3f}", 0.5), ("{q3:.3f}", 0.75)):
        written = texts_of(base.boxes(value_labels=form).scale("x" if turned else "y", "log"))
        for _, part in LOG.groupby("k"):
            assert f"{10 ** np.quantile(np.log10(part.v), share):.3f}" in written


def test_times_are_written_as_times():
    data = {"t": np.array(["2030-03-01", "2030-03-08"], "datetime64[us]"), "v": [3.0, 4.0]}
    assert {"01 Mar: 3", "08 Mar: 4"} <= set(texts_of(ft.figure(data).map(x="t", y="v").bars(value_labels="{x:%d %b}: {y}")))
    with pytest.raises(OptionError, match="writes numbers"):
        texts_of(ft.figure(data).map(x="t", y="v").bars(value_labels="{x:.1f}"))


def test_counts_are_whole():
    figure = ft.figure({"k": ["a"] * 50}).map(x="k")
    assert "50" in texts_of(figure.bars(value_labels="{count}"))
    assert "1,200" in texts_of(ft.figure({"k": ["a"] * 1200}).map(x="k").bars(value_labels="{count:,}"))
    assert "50" in texts_of(ft.figure({"v": np.linspace(0.1, 0.4, 50)}).map(x="v").histogram(bins=1, value_labels="{count}"))


def test_an_unknown_name_lists_all_names_of_the_layer():
    for verb in LAYERS:
        names = layer_class(verb)().names() if verb not in ("reference", "region") else {}
        if not names or "value_labels" not in layer_class(verb).__dataclass_fields__:
            continue
        with pytest.raises(OptionError) as raised:
            ft.figure(None)._add_layer(verb, {"value_labels": "{nothing}"})
        assert all(name in raised.value.detail for name in names), verb
        assert "row number" not in raised.value.detail


def test_no_layer_offers_places_on_the_page():
    for verb in LAYERS:
        for name in layer_class(verb).computed:
            assert not name.endswith(("_pt", "slot", "open_low")), (verb, name)


@pytest.mark.parametrize("method", ["linear", "polynomial", "robust"])
def test_trends_offer_what_they_fitted(method):
    data = WHEELS.dropna(subset=["moisture_pct"])
    base = ft.figure(data).map(x="moisture_pct", y="firmness_n").trend(method)
    names = "{count}|{residual_std:.6f}" + ("|{r2:.6f}" if method != "robust" else "")
    names += "|{slope:.6f}|{intercept:.5f}" if method == "linear" else ""
    (said,) = [text for text in texts_of(base.labels(layer="trend", text=names)) if "|" in text]
    x, y = data.moisture_pct.to_numpy(), data.firmness_n.to_numpy()
    numbers = [float(part.replace("−", "-")) for part in said.split("|")]
    assert numbers[0] == len(data)
    if method == "robust":
        return
    degree = 1 if method == "linear" else 2
    residual = y - np.polyval(np.polyfit(x, y, degree), x)
    assert numbers[1] == pytest.approx(math.sqrt((residual**2).sum() / (len(x) - degree - 1)), abs=1e-5)
    assert numbers[2] == pytest.approx(1 - residual.var() / y.var(), abs=1e-5)
    if method == "linear":
        theirs = scipy.stats.linregress(x, y)
        assert numbers[3:] == pytest.approx([theirs.slope, theirs.intercept], abs=1e-4)


def test_a_trends_p_is_that_of_its_slope():
    data = pd.DataFrame({"a": np.arange(20.0), "b": np.sin(np.arange(20.0))})
    base = ft.figure(data).map(x="a", y="b").trend().labels(layer="trend", text="p={p:.5f} c={coefficients}")
    (said,) = [text for text in texts_of(base) if text.startswith("p=")]
    theirs = scipy.stats.linregress(data.a, data.b)
    assert said.startswith(f"p={theirs.pvalue:.5f} c=")


def test_references_regions_headings_ticks_and_legends_take_templates():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg").points()
    mean = WHEELS.mass_kg.mean()
    assert f"mean {mean:.2f}" in texts_of(base.reference(aggregate="mean", text="mean {value:.2f}"))
    assert f"{mean:.2f}" in texts_of(base.reference(aggregate="mean").labels(layer="reference", text="{mean:.2f}"))
    assert "at 12.5" in texts_of(base.reference(y=12.5, text="at {value}"))
    assert "3 to 4" in texts_of(base.region(y=(3, 4), text="{y_low} to {y_high}"))
    logged = base.scale("y", "log")
    assert "at 12.5" in texts_of(logged.reference(y=12.5, text="at {value}"))
    assert "3 to 4" in texts_of(logged.region(y=(3, 4), text="{y_low} to {y_high}"))
    counts = WHEELS.cellar.value_counts()
    said = texts_of(base.facet("cellar", heading="{value} (n = {count})"))
    assert {f"{name} (n = {count})" for name, count in counts.items()} <= set(said)
    rinds = WHEELS.rind.value_counts()
    ticks = texts_of(base.scale("x", format="{value}, n = {count}"))
    assert {f"{name}, n = {count}" for name, count in rinds.items()} <= set(ticks)
    legend = texts_of(base.map(color="rind").scale("color", format="{value}: {count:,}"))
    assert {f"{name}: {count}" for name, count in rinds.items()} <= set(legend)


@pytest.mark.parametrize(
    "wrong",
    [
        "{y",
        "}",
        "{y.real}",
        "{y[0]}",
        "{y!r}",
        "{0}",
        "{}",
        "{y:{y}}",
        "{y:999999999}",
        "{y:.99f}",
        "{y:q}",
        "{y:d}",
        "{z}",
        "{y:%b}",
    ],
)
def test_a_template_that_is_not_understood_is_refused(wrong):
    with pytest.raises(OptionError):
        texts_of(ft.figure({"k": ["a"], "v": [1.5]}).map(x="k", y="v").bars(value_labels=wrong))


@pytest.mark.parametrize("wrong", ["{value", "{values}", "{value.real}", "{value:.1f}", "plain"])
def test_templates_of_words_are_refused_likewise(wrong):
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg").points()
    if wrong != "plain":
        with pytest.raises(FacetineError):
            texts_of(base.facet("cellar", heading=wrong))
    with pytest.raises(FacetineError):
        texts_of(base.scale("x", format=wrong))


def test_a_brace_is_written_by_two():
    assert "{257} 257" in texts_of(ft.figure({"k": ["a"], "v": [257.0]}).map(x="k", y="v").bars(value_labels="{{257}} {y}"))


def test_a_share_is_that_of_the_bar_where_bars_share_a_slot():
    figure = ft.figure(WHEELS).map(x="rind", color="milk").bars(arrange="share", value_labels="{share:.3f}")
    shares = pd.crosstab(WHEELS.rind, WHEELS.milk, normalize="index")
    said = {text for text in texts_of(figure, "180 mm") if re.fullmatch(r"0\.\d{3}", text)}
    assert said <= {f"{share:.3f}" for share in shares.to_numpy().ravel()}
    assert len(said) >= 6
    plain = texts_of(ft.figure(WHEELS).map(x="rind").bars(value_labels="{share:.3f}"))
    assert {f"{share:.3f}" for share in WHEELS.rind.value_counts(normalize=True)} <= set(plain)


def test_a_text_is_left_out_for_its_own_value_only_and_hyphens_stay():
    data = {"k": ["banana", "one-two", "none"], "v": [1.0, -2.0, 3.0]}
    said = texts_of(ft.figure(data).map(x="k", y="v").bars(value_labels="{x}: {y}"))
    assert {"banana: 1", "one-two: −2", "none: 3"} <= set(said)


def test_no_value_label_is_dropped_without_a_word():
    data = {"k": [f"k{n}" for n in range(40)], "v": np.full(40, 123456.5)}
    sheet = Sheet(ft.figure(data).map(x="k", y="v").bars(value_labels="{y:,.1f}"), "60 mm")
    written = sum(text == "123,456.5" for text in sheet.texts(sheet.layer(1)))
    (note,) = sheet.said("labels-left-out")
    assert int(re.search(r"(\d+) value label", note)[1]) + written == 40


def test_a_center_without_a_place_writes_no_nan():
    data = pd.DataFrame({"k": ["a"] * 6 + ["b"] * 6, "v": [-5.0, 1, -4, 2, -3, 1.5, 10, 20, 30, 11, 12, 13]})
    for suffix in ("svg", "pdf"):
        for layer in ("intervals", "points"):
            base = ft.figure(data).map(x="k", y="v").scale("y", "log")
            figure = base.intervals(value_labels="{mean:.1f}") if layer == "intervals" else base.points(aggregate="mean")
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                figure.export(f"{layer}.{suffix}")
    assert "nan" not in Path("intervals.svg").read_text("utf-8")
    with pikepdf.open("intervals.pdf") as pdf:
        content = (
            b"".join(stream.read_bytes() for stream in pdf.pages[0].Contents)
            if isinstance(pdf.pages[0].Contents, pikepdf.Array)
            else pdf.pages[0].Contents.read_bytes()
        )
    assert b"nan" not in content


@given(st.sampled_from([math.nan, math.inf, -math.inf]), st.sampled_from(["svg", "pdf"]))
def test_writers_refuse_what_is_not_finite(number, suffix):
    from facetine.scene.marks import Group, Markers, MarkerStyle, Paths, Rects, Scene, Stroke
    from facetine.writers.formats import FORMATS, Options

    at = np.array([[1.0, number]])
    marks = [
        Markers(at, (MarkerStyle("disc", 1.0, "#000000"),)),
        Rects(np.array([[1.0, 2.0, number, 3.0]]), ("#000000",)),
        Paths(np.array([[1.0, 2.0], [3.0, number]]), np.zeros(1, np.int64), Stroke("#000000", 1.0)),
    ]
    for mark in marks:
        scene = Scene(100, 100, "#ffffff", Group("figure", "Figure", (mark,)))
        with pytest.raises(FacetineError, match="finite"):
            FORMATS[suffix].write(scene, Options(72))


def test_ends_off_a_log_scale_are_drawn_open_to_the_end_of_the_axis():
    data = pd.DataFrame({"k": ["a"] * 4 + ["b"] * 4, "v": [0.5, 1, 9, 30, 10, 11, 12, 13]})
    part = data.v[:4]
    low = part.mean() - scipy.stats.t.ppf(0.975, 3) * scipy.stats.sem(part)
    assert low < 0 < part.mean()
    sheet = Sheet(ft.figure(data).map(x="k", y="v").intervals().scale("y", "log"))
    assert len(sheet.said("open-ends")) == 1
    lines = [path["at"] for path in sheet.paths(1)]
    axis = sheet.group("y-axis").find("{http://www.w3.org/2000/svg}path").get("d")
    bottom = max(float(number) for number in re.findall(r"M\S+ (\S+?)L", axis))
    lowest = max(at[:, 1].max() for at in lines)
    assert lowest >= bottom - 0.1
    high = part.mean() + scipy.stats.t.ppf(0.975, 3) * scipy.stats.sem(part)
    tops = [sheet.read("y", at[:, 1].min(), log=True) for at in lines]
    assert min(abs(top - high) / high for top in tops) < 0.01
    assert len(pdf_of(ft.figure(data).map(x="k", y="v").intervals().scale("y", "log")).pages) == 1
