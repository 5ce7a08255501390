"""Calls that a new user writes first: each is drawn right, or answered with the right call."""

import inspect
import re

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, svg_of, texts

import facetine as ft
from facetine.errors import FacetineError, VerbError
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import told_options

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS)
PAIR = BASE.map(x="age_days", y="mass_kg")
CLOUD = PAIR.points()
RINDS = BASE.map(x="rind", y="mass_kg")
HOURS = pd.DataFrame({"time": pd.date_range("2030-01-01", periods=48, freq="h", tz="UTC"), "v": np.arange(48.0)})

# What is asked for, and what the answer must say.
ANSWERED = [
    (lambda: PAIR.scatter(), r"\.points does that"),
    (lambda: PAIR.scatter_plot(), r"\.points does that"),
    (lambda: PAIR.line(), r"\.lines does that"),
    (lambda: PAIR.bar_chart(), r"\.bars does that"),
    (lambda: PAIR.hist(), r"\.histogram does that"),
    (lambda: PAIR.heatmap(), r"\.cells does that"),
    (lambda: PAIR.box_plot(), r"\.boxes does that"),
    (lambda: PAIR.violin(), r"\.violins does that"),
    (lambda: PAIR.error_bars(), r"\.intervals does that"),
    (lambda: PAIR.regression(), r"\.trend does that"),
    (lambda: PAIR.smooth(), r"\.trend does that"),
    (lambda: PAIR.text("a"), r"\.labels does that"),
    (lambda: PAIR.annotate("a"), r"\.callout does that"),
    (lambda: PAIR.horizontal_line(3), r"\.reference\(y=…\) does that"),
    (lambda: PAIR.pie_chart(), r'bars\(arrange="share"\)'),
    (lambda: CLOUD.save("a.pdf"), r"\.export does that"),
    (lambda: CLOUD.to_pdf("a.pdf"), r'export\("figure.pdf"\)'),
    (lambda: CLOUD.title("a"), r"\.titles does that"),
    (lambda: CLOUD.x_label("a"), r"\.titles\(x=…\)"),
    (lambda: CLOUD.set_title("a"), r"\.titles does that"),
    (lambda: CLOUD.legend(False), "legend_place"),
    (lambda: CLOUD.panels("cellar"), r"\.facet does that"),
    (lambda: CLOUD.group_by("rind"), r'map\(color="column"\)'),
    (lambda: CLOUD.filter("ph > 5"), r"\.keep does that"),
    (lambda: CLOUD.flip(), r"\.swap_axes does that"),
    (lambda: CLOUD.log("x"), r'scale\("x", "log"\)'),
    (lambda: CLOUD.sort("x"), r'scale\("x", order=…\)'),
    (lambda: CLOUD.palette("a"), r'scale\("color", palette=…\)'),
    (lambda: CLOUD.style("dark"), r"\.theme does that"),
    (lambda: ft.scatter(WHEELS), r"\.points does that"),
    (lambda: ft.Figure(WHEELS), r"facetine\.figure\(data\)"),
    (lambda: ft.figure("wheels.csv"), r"facetine\.read"),
    (lambda: ft.figure(np.zeros((3, 2))), r"columns="),
    (lambda: ft.figure([1, 2, 3]), r"figure\(x=…"),
    (lambda: BASE.map("age_days", "mass_kg"), r"map\(x='age_days', y=…\)"),
    (lambda: BASE.map(x=WHEELS.ph), r"figure\(x=…\)"),
    (lambda: PAIR.map(color="blue"), r"points\(color='blue'\)"),
    (lambda: PAIR.map(size=3), r"points\(size=…\)"),
    (lambda: PAIR.points(color="rind"), r"map\(color='rind'\)"),
    (lambda: PAIR.points(shape="rind"), r"map\(shape='rind'\)"),
    (lambda: PAIR.points(size="ph"), r"map\(size='ph'\)"),
    (lambda: BASE.points(x="age_days", y="mass_kg"), r"map\(x='age_days'\)"),
    (lambda: PAIR.points(alpha=0.5), "'opacity'"),
    (lambda: PAIR.points(colour="red"), "'color'"),
    (lambda: PAIR.points(marker="circle"), "'shape'"),
    (lambda: PAIR.points(shape="circle"), "'disc'"),
    (lambda: PAIR.points(fill="red"), "'color'"),
    (lambda: PAIR.lines(width=2), "'line_width'"),
    (lambda: PAIR.lines(linestyle="dashed"), "'dash'"),
    (lambda: PAIR.lines(thickness=2), "'line_width'"),
    (lambda: RINDS.intervals(reach="sd"), "'std_dev'"),
    (lambda: RINDS.intervals(reach="se"), "'std_error'"),
    (lambda: RINDS.intervals(reach="ci"), "'confidence'"),
    (lambda: RINDS.intervals(errors="sd"), "'reach'"),
    (lambda: RINDS.bars(aggregate="avg"), "'mean'"),
    (lambda: RINDS.points(arrange="swarm"), "'beeswarm'"),
    (lambda: RINDS.bars(arrange="side by side"), "'side_by_side'"),
    (lambda: RINDS.bars(arrange="grouped"), "'side_by_side'"),
    (lambda: RINDS.points(arrange="offset"), "'side_by_side'"),
    (lambda: RINDS.bars(arrange="stacked"), "'stack'"),
    (lambda: PAIR.trend("regression"), "'linear'"),
    (lambda: PAIR.trend("smooth"), "'loess'"),
    (lambda: PAIR.trend("rolling"), "'moving'"),
    (lambda: CLOUD.facet(rows=2), "per_row=2"),
    (lambda: CLOUD.facet("cellar", columns=2), "per_row=2"),
    (lambda: CLOUD.scale("x", "logarithmic"), "'log'"),
    (lambda: CLOUD.scale("x", range=(0, 10)), "'limits'"),
    (lambda: CLOUD.scale("x", label="a"), "'title'"),
    (lambda: CLOUD.scale("x", breaks=[1, 2]), "has no effect on x"),
    (lambda: CLOUD.theme("dark"), "'basalt'"),
    (lambda: CLOUD.theme(font_size=9), "'text_size'"),
    (lambda: CLOUD.titles(caption="a"), "'note'"),
    (lambda: CLOUD.titles(xlabel="a"), "'x'"),
    (lambda: CLOUD.export("a.gif"), r"\.png"),
    (lambda: CLOUD.export("a"), r"\.pdf"),
    (lambda: CLOUD.export("a.pdf", size="85 mm"), "'width'"),
    (lambda: laid_out(PAIR.bands()), "around="),
    # Words of before, and of elsewhere.
    (lambda: CLOUD.graph_of("x"), r"\.function does that"),
    (lambda: CLOUD.equation("x"), r"\.function does that"),
    (lambda: CLOUD.vary(y=["ph"]), r"\.over_variables does that"),
    (lambda: CLOUD.repeat(y=["ph"]), r"\.over_variables does that"),
    (lambda: CLOUD.over(CLOUD), r"\.onto does that"),
    (lambda: CLOUD.overlay(CLOUD), r"\.onto does that"),
    (lambda: CLOUD.before("points", "rug"), r"\.behind does that"),
    (lambda: CLOUD.instead("points", "rug"), r"\.replace does that"),
    (lambda: CLOUD.subset("ph > 5"), r"\.keep does that"),
    (lambda: CLOUD.values("points"), r"\.numbers does that"),
    (lambda: CLOUD.matrix(["ph", "mass_kg"]), "matrix"),
    (lambda: CLOUD.suggest(), r"\.suggested does that"),
    (lambda: CLOUD.export_all("rind", "{rind}.pdf"), r"\.export_each does that"),
    (lambda: CLOUD.diff(CLOUD), r"\.difference does that"),
    (lambda: ft.read_columns("a.csv"), "; read does that"),
    (lambda: ft.read_csv("a.csv"), "; read does that"),
    (lambda: ft.load("a.csv"), "; read does that"),
    (lambda: ft.export_plan("a.toml"), "; plan does that"),
    (lambda: ft.suggest(WHEELS, x="ph"), "; inspect does that"),
    (lambda: ft.scatter_matrix(WHEELS), "; matrix does that"),
    (lambda: ft.compose(2, 2), "; plate does that"),
    (lambda: ft.melt(WHEELS), "; unpivot does that"),
    (lambda: ft.use_theme("dark"), "; set_defaults does that"),
    (lambda: ft.clipboard(), "; pasted does that"),
    (lambda: ft.histogram(WHEELS), r"\.histogram does that"),
    (lambda: CLOUD.reference(y=3, label="limit"), "'text'"),
    (lambda: CLOUD.region(x=(1, 2), label="late"), "'text'"),
    (lambda: CLOUD.reference(y=3, text="a", label_at="end"), "'text_at'"),
    (lambda: PAIR.points(key="measured"), "'legend_as'"),
    (lambda: PAIR.points(label="measured"), "'legend_as'|map={'label'"),
    (lambda: RINDS.bars(aggregate="mean").labels(of="bars", text="{mean}"), "'layer'"),
    (lambda: PAIR.trend("quantile", share=0.9), "'quantile'"),
    (lambda: PAIR.trend("loess", span=0.3), "'local_share'"),
    (lambda: PAIR.trend("loess", fraction=0.3), "'local_share'"),
    (lambda: PAIR.lines(follow="data"), "'join_by'"),
    (lambda: PAIR.lines(join_by="data"), "x, rows"),
    (lambda: PAIR.function(function="x"), "'expression'"),
    (lambda: RINDS.violins(same="width"), "'equal'"),
    (lambda: RINDS.violins(equal="width"), "'peak'"),
    (lambda: RINDS.violins(equal="count"), "'row_area'"),
    (lambda: RINDS.intervals(bar_width=0.5), "'slot_share'"),
    (lambda: PAIR.points(shape="ring"), "'open_disc'"),
    (lambda: PAIR.points(shape="spike"), "'triangle_down'"),
    (lambda: PAIR.points(shape="upright"), "'vertical_line'"),
    (lambda: PAIR.points(shape="level"), "'horizontal_line'"),
    (lambda: PAIR.points(aggregate="mean", bins=[0, 10, 20]), "edges="),
    (lambda: BASE.map(x="ph").histogram(bins=[4, 5, 6]), "edges="),
    (lambda: BASE.map(x="ph").histogram(bins="1 moon"), "1 month"),
    (lambda: CLOUD.scale("x", "symlog"), "'signed_log'"),
    (lambda: CLOUD.scale("x", second={"of": 2}), "'second_axis'"),
    (lambda: CLOUD.scale("x", secondary={"factor": 2}), "'second_axis'"),
    (lambda: CLOUD.scale("x", second_axis={"of": 2}), "convert"),
    (lambda: CLOUD.scale("x", second_axis={"convert": 2, "label": "a"}), "'title'"),
    (lambda: CLOUD.scale("color", ramp="cellar"), "'palette'"),
    (lambda: CLOUD.scale("color", colormap="cellar"), "'palette'"),
    (lambda: CLOUD.scale("color", palette="celar"), "'cellar'"),
    (lambda: BASE.map(x="rind").bars().scale("x", most=2), "'top'"),
    (lambda: BASE.map(x="rind").bars().scale("x", top=2, rest="others"), "'rest_as'"),
    (lambda: CLOUD.highlight("ph > 5", label="sour"), "'legend_as'"),
    (lambda: CLOUD.highlight("ph > 5", rest="the others"), "'rest_as'"),
    (lambda: CLOUD.export("a.pdf", page="A4"), "'paper'"),
    (lambda: CLOUD.export("a.png", profile=True), "'icc'"),
    (lambda: CLOUD.check(mend=True), "'fix'"),
    (lambda: ft.read("a.db", sql="SELECT 1", values={"a": 1}), "'parameters'"),
    (lambda: ft.read("a.db", sql="SELECT 1", params={"a": 1}), "'parameters'"),
    (lambda: ft.read("a.csv", sep=";"), "'delimiter'"),
    (lambda: ft.set_defaults(look=CLOUD), "'like'"),
    (lambda: ft.matrix(WHEELS, ["ph", "mass_kg"], lower="points"), "'under_diagonal'"),
    (lambda: ft.matrix(WHEELS, ["ph", "mass_kg"], upper="contours"), "'over_diagonal'"),
    (lambda: ft.figure(WHEELS, codebook={"rind": {"values": {"washed": "W"}}}), "'words'"),
    (lambda: RINDS.boxes(value_labels="{upper}"), "'q3'|whisker_high"),
    (lambda: PAIR.points().scale("color", colours=["red"]), "'palette'"),
]


@pytest.mark.parametrize(("call", "answer"), ANSWERED, ids=[str(number) for number in range(len(ANSWERED))])
def test_the_answer_says_the_right_call(call, answer):
    with pytest.raises(FacetineError) as caught:
        call()
    assert re.search(answer, str(caught.value)), str(caught.value)
    assert len(str(caught.value).splitlines()) <= 2


def axis(figure, name="x"):
    return laid_out(figure, "120 mm").scales.first(name)


DRAWN = {
    "arrays by keyword": lambda: len(laid_out(ft.figure(mass=[1.0, 2], ph=[3.0, 4]).map(x="mass", y="ph").points()).runs[0].rows) == 2,
    "rows as dicts": lambda: len(laid_out(ft.figure([{"a": 1, "b": 2}]).map(x="a", y="b").points()).runs[0].rows) == 1,
    "an array with names": lambda: "B" in texts(svg_of(ft.figure(np.eye(3), columns=["a", "b", "c"]).map(x="a", y="b").points())),
    "an index": lambda: "K" in texts(svg_of(ft.figure(pd.DataFrame({"b": [1.0]}, pd.Index(["u"], name="k")), reset=True).map(x="k", y="b").points())),
    "bars by height": lambda: axis(BASE.map(x="rind").bars().scale("x", order="falling")).labels[0] == "bloomy",
    "the largest two": lambda: axis(BASE.map(x="rind").bars().scale("x", top=2)).labels[-1] == "all others",
    "a window by quantile": lambda: axis(CLOUD.scale("x", limits=("0 %", "50 %"))).extent.high == pytest.approx(WHEELS.age_days.median()),
    "a zone": lambda: "Asia/Tokyo" in axis(ft.figure(HOURS).map(x="time", y="v").lines().scale("x", zone="Asia/Tokyo")).title,
    "a unit": lambda: axis(CLOUD.scale("y", unit="lb"), "y").title == "Mass (lb)",
    "a bridge": lambda: not laid_out(ft.figure(HOURS.drop([5, 6])).map(x="time", y="v").lines(bridge="4 hours")).findings,
    "a function": lambda: len(laid_out(CLOUD.function("0.01 * x + 2")).runs[1].table) > 10,
    "a line of a slope": lambda: len(laid_out(CLOUD.reference(slope=0.01, intercept=2)).runs[1].table) > 2,
    "two lines": lambda: len(laid_out(CLOUD.reference(y=[2, 4])).runs[1].table) == 2,
    "the highest": lambda: f"{WHEELS.mass_kg.max():.1f}" in texts(svg_of(CLOUD.callout("{y:.1f}", at="highest"))),
    "a legend of layers": lambda: {"measured", "model"} <= set(texts(svg_of(PAIR.points(legend_as="measured").trend(legend_as="model")))),
    "a ribbon": lambda: len(laid_out(ft.figure(x=[1.0, 1, 2, 2], y=[1.0, 2, 3, 5]).map(x="x", y="y").bands(around="mean")).runs[0].table) == 2,
}  # fmt: skip


@pytest.mark.parametrize("name", list(DRAWN))
def test_a_first_guess_is_drawn(name):
    assert DRAWN[name]()


def test_there_are_many_of_them():
    assert len(ANSWERED) + len(DRAWN) >= 150


def test_an_unknown_verb_is_an_attribute_that_is_not_there():
    assert not hasattr(CLOUD, "scatter")
    assert getattr(CLOUD, "scatter", None) is None
    with pytest.raises(AttributeError):
        CLOUD.scatter()
    assert issubclass(VerbError, FacetineError)


@pytest.mark.parametrize("verb", LAYERS.ours())
def test_the_signature_shows_the_options_with_words_and_defaults(verb):
    method = getattr(ft.Figure, verb)
    parameters = inspect.signature(method).parameters
    options = told_options(layer_class(verb))
    assert list(parameters) == ["self", *(option.name for option in options)]
    for option in options:
        assert parameters[option.name].default == option.default
        assert option.name in method.__doc__
        if option.accepts:
            assert option.accepts in method.__doc__
    assert inspect.signature(getattr(CLOUD, verb)).parameters.keys() == {option.name for option in options}


def test_words_that_errors_list_are_all_there_up_to_twelve():
    with pytest.raises(FacetineError) as caught:
        PAIR.trend("none such")
    assert "linear, polynomial, loess, logistic, robust, quantile, moving" in str(caught.value)
