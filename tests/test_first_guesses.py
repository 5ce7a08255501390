"""Calls that a new user writes first: each is drawn right, or answered with the right call."""

import inspect
import pickle
import re
from xml.etree import ElementTree

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, svg_of, texts

import facetine as ft
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import told_options
from facetine.messages.errors import FacetineError, VerbError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS)
PAIR = BASE.map(x="age_days", y="mass_kg")
CLOUD = PAIR.points()
RINDS = BASE.map(x="rind", y="mass_kg")
HOURS = pd.DataFrame({"time": pd.date_range("2030-01-01", periods=48, freq="h", tz="UTC"), "v": np.arange(48.0)})
NUMBERED = WHEELS.reset_index().rename(columns={"index": ""})
DAILY = pd.DataFrame({"day": pd.date_range("2030-01-01", periods=90), "v": np.arange(90.0)})
YEARS = pd.DataFrame({"year": [2030, 2030, 2031], "month": [1, 2, 1], "v": [1.0, 2, 3]})
CURVE = pd.DataFrame({"false": [0, 0, 0, 0.1, 0.1, 0.4, 1], "true": [0, 0.2, 0.5, 0.5, 0.8, 1, 1]})
AGES = {"age": {"from": "age_days", "classes": {"young": [None, 60], "old": [60, None]}}}

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
    # What is computed, written as a column; options by the words of other layers.
    (lambda: BASE.map(x="rind", y="mean(ph)"), r'map\(y="ph"\)\.bars\(aggregate="mean"\)'),
    (lambda: CLOUD.facet("cellar", rows=2), "per_row=2 sets the 4 panels in 2 rows"),
    (lambda: CLOUD.facet("cellar", rows=4), "per_row=1 sets the 4 panels in 4 rows"),
    (lambda: laid_out(PAIR.histogram()), r"""map=\{"y": None, "weight": 'mass_kg'\}"""),
    (lambda: PAIR.trend(band=False), "level=None"),
    (lambda: BASE.map(x="rind", y="ph", color="milk").cells(aggregate="mean").numbers("cells"), r'map=\{"color": None\}'),
    (lambda: BASE.map(x="rind", y="cellar", color="milk").cells().numbers("cells"), r"\.facet\(…\)"),
    (lambda: CLOUD.facet(rows="ph", columns="moisture_pct", breaks=[45, 50]), "breaks=\\{'ph'"),
    (lambda: PAIR.map(color="ph").points().scale("color", palette="none such"), "palettes and ramps: .*, lantern"),
    (lambda: RINDS.bars(width=0.9), "'bar_width'"),
    (lambda: RINDS.bars(gap=0.1), "'bar_width'"),
    (lambda: CLOUD.reference(5), r"\.reference\(y=5\)"),
    (lambda: PAIR.trend(ci=0.75), "'level'"),
    (lambda: CLOUD.scale("size", range=(1, 5)), r"span=\(1, 5\)"),
    (lambda: CLOUD.theme(grid=True), "'hairlines'"),
    (lambda: RINDS.boxes().swap_axes().scale("y", order=["washed"]).numbers("boxes"), r"scale\('y'\).*'mass_kg'"),
    (lambda: ft.figure(NUMBERED).map(x="Unnamed: 0", y="ph"), "give it a name"),
    (lambda: ft.figure(NUMBERED).map(x="index", y="ph"), "give it a name"),
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
    "columns called x and y": lambda: texts(svg_of(ft.figure(x=[1, 2], y=[2, 1]).points())).count("X") == 1,
    "classes with open ends": lambda: axis(ft.figure(WHEELS, codebook=AGES).map(x="age", y="ph").boxes()).labels == ("young", "old"),
    "names of classes of panels": lambda: {"dry", "wet"} <= set(texts(svg_of(CLOUD.facet("moisture_pct", breaks={"dry": [None, 45], "wet": [45, None]})))),
    "breaks of rows and columns": lambda: "below 5.5" in texts(svg_of(CLOUD.facet(rows="ph", columns="rind", breaks={"ph": [5.5]}))),
    "bars a month": lambda: len(ft.figure(DAILY).map(x="day", y="v").bars(aggregate="mean", bins="1 month").numbers("bars")) == 3,
    "points a month": lambda: len(ft.figure(DAILY).map(x="day", y="v").points(aggregate="mean", bins="1 month").numbers("points")) == 3,
    "a line a month": lambda: len(ft.figure(DAILY).map(x="day", y="v").lines(aggregate="mean", bins="1 month").numbers("lines")) == 3,
    "intervals a month": lambda: len(ft.figure(DAILY).map(x="day", y="v").intervals(bins="1 month").numbers("intervals")) == 3,
    "a ramp for a column of numbers": lambda: bool(svg_of(PAIR.map(color="ph").points().scale("color", palette="cellar"))),
    "years crossed with months": lambda: {"2030", "2031"} <= set(texts(svg_of(ft.figure(YEARS).map(x=("year", "month"), y="v").bars()))),
    "a curve that climbs at one x": lambda: not laid_out(ft.figure(CURVE).map(x="false", y="true").lines()).findings,
    "a ribbon": lambda: len(laid_out(ft.figure(x=[1.0, 1, 2, 2], y=[1.0, 2, 3, 5]).map(x="x", y="y").bands(around="mean")).runs[0].table) == 2,
}  # fmt: skip


@pytest.mark.parametrize("name", list(DRAWN))
def test_a_first_guess_is_drawn(name):
    assert DRAWN[name]()


def test_there_are_many_of_them():
    assert len(ANSWERED) + len(DRAWN) >= 170


@pytest.mark.parametrize(("said", "moved", "still"), [("spread_x", "x", "y"), ("spread_y", "y", "x")])
def test_jitter_along_one_axis_leaves_the_other(said, moved, still):
    jittered = laid_out(PAIR.points(arrange="jitter", **{said: 0.2})).runs[0].table
    plain = laid_out(CLOUD).runs[0].table
    assert np.abs(jittered[moved] - plain[moved]).max() > 0.05
    np.testing.assert_array_equal(jittered[still], plain[still])


@pytest.mark.parametrize(("suffix", "magic"), [("tif", b"II*\0"), ("jpeg", b"\xff\xd8\xff")])
def test_the_other_spelling_of_a_suffix_is_that_format(tmp_path, suffix, magic):
    CLOUD.export(tmp_path / f"a.{suffix}", width="60 mm")
    assert (tmp_path / f"a.{suffix}").read_bytes().startswith(magic)


def test_a_page_for_a_format_without_pages_is_noted(tmp_path):
    with pytest.warns(ft.FacetineFinding, match=r"paper='A4' has no effect on \.emf"):
        CLOUD.export(tmp_path / "a.emf", width="60 mm", paper="A4")


@pytest.mark.parametrize("made", [CLOUD.facet("cellar"), ft.plate([[CLOUD, RINDS.boxes()]])], ids=["figure", "plate"])
def test_what_is_drawn_can_be_pickled(made):
    assert ElementTree.tostring(svg_of(pickle.loads(pickle.dumps(made)))) == ElementTree.tostring(svg_of(made))


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
