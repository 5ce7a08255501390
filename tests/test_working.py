"""Working on a figure: draft, change, take back, lay over each other, put other data below."""

import json
import random
import warnings

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, quietly, svg_of, texts
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data.readers import read_columns
from facetine.export.export import rendered
from facetine.messages.errors import FacetineError, FacetineFinding, KindError, OptionError, PlanError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="firmness_n", color="rind").points(opacity=0.5).trend("linear", level=0.9)
BASE = BASE.facet("cellar").scale("x", "log", title="Age").titles("A title", note="A note").theme("ledger", text_size=8)
CHANGES = {
    "a look": lambda f: f.change("points", opacity=0.2),
    "a size": lambda f: f.change(0, size=5),
    "a method": lambda f: f.change("trend", method="loess"),
    "no band": lambda f: f.change(-1, level=None),
    "a layer less": lambda f: f.without("trend"),
    "both layers": lambda f: f.without("trend", "points").lines(),
    "a layer more": lambda f: f.rug(),
    "a layer below": lambda f: f.behind("points", "region", x=(30, 60)),
    "another layer": lambda f: f.replace("points", "density", map={"y": None}),
    "a log less": lambda f: f.scale("x", None),
    "a scale's title less": lambda f: f.scale("x", title=None),
    "a scale more": lambda f: f.scale("y", "sqrt", limits=(1, None)),
    "no panels": lambda f: f.facet(None),
    "other panels": lambda f: f.facet("milk", per_row=1),
    "no note": lambda f: f.titles(note=None),
    "another title": lambda f: f.titles("Another", x="Days"),
    "no title": lambda f: f.titles(None),
    "another theme": lambda f: f.theme("press"),
    "another mapping": lambda f: f.map(color="milk"),
    "other data": lambda f: f.data({name: values[:50] for name, values in WHEELS.items()}),
}
BACK = {
    "a look": lambda f: f.change("points", opacity=0.5),
    "a size": lambda f: f.change(0, size=None),
    "a method": lambda f: f.change("trend", method=None),
    "no band": lambda f: f.change(-1, level=0.9),
    "a layer less": lambda f: f.trend("linear", level=0.9),
    "both layers": lambda f: f.without("lines").points(opacity=0.5).trend("linear", level=0.9),
    "a layer more": lambda f: f.without("rug"),
    "a layer below": lambda f: f.without("region"),
    "another layer": lambda f: f.replace("density", "points", opacity=0.5, map={}),
    "a log less": lambda f: f.scale("x", "log", title="Age"),
    "a scale's title less": lambda f: f.scale("x", title="Age"),
    "a scale more": lambda f: f.scale("y", None),
    "no panels": lambda f: f.facet("cellar"),
    "other panels": lambda f: f.facet("cellar"),
    "no note": lambda f: f.titles(note="A note"),
    "another title": lambda f: f.titles("A title", x="Age"),
    "no title": lambda f: f.titles("A title"),
    "another theme": lambda f: f.theme("ledger", text_size=8),
    "another mapping": lambda f: f.map(color="rind"),
    "other data": lambda f: f.data(WHEELS),
}


def written(figure):
    return rendered(laid_out(figure, 120), "svg", dpi=100, transparent=False, fonts="name")


@pytest.mark.parametrize("what", CHANGES)
def test_a_figure_changed_and_changed_back_is_the_first_one_byte_for_byte(what):
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", FacetineFinding)
        changed = CHANGES[what](BASE)
        again = BACK[what](changed)
    assert written(changed) != written(BASE)
    assert written(again) == written(BASE)
    assert again.to_dict() == BASE.to_dict()
    assert not BASE.difference(again)


def test_layers_are_found_by_name_before_verb_and_by_place():
    figure = ft.figure(WHEELS).map(x="age_days", y="ph").points(name="all").points(name="late", where="age_days > 90")
    assert figure.change("late", size=2).to_dict()["layers"][1]["points"]["size"] == 2
    assert figure.without(-1).to_dict() == figure.without("late").to_dict()
    with pytest.raises(OptionError, match="2 layers are points, at places 0 and 1"):
        figure.without("points")


@pytest.mark.parametrize(("call", "said"), [
    (lambda f: f.change("point", size=2), "figure.change: no layer 'point'. Did you mean 'points'"),
    (lambda f: f.change("points"), "nothing says what changes"),
    (lambda f: f.change("points", sise=2), "no option 'sise'. Did you mean 'size'"),
    (lambda f: f.change(2, size=2), "no layer at place 2"),
    (lambda f: f.change(True, size=2), "by its verb, its name or its place, not True"),
    (lambda f: f.without(), "no layer is named"),
    (lambda f: f.replace("points", "boxchart"), "no layer 'boxchart'. Did you mean 'boxes'"),
    (lambda f: f.behind("lines", "rug"), "figure.behind: no layer 'lines'"),
    (lambda f: f.data(3), "no table in int"),
    (lambda f: f.data({"age_days": [1, 2]}), "figure.data: no column 'firmness_n' for y"),
    (lambda f: f.data({name: ["a"] for name in WHEELS}), "figure.data: 'age_days' was of the kind 'number'"),
    (lambda f: f.onto("points"), "figure.onto: 'points' is no figure"),
    (lambda f: f.difference(3), "figure.difference: 3 is no figure"),
    (lambda f: f + f, r"a\.onto\(b\) lays one over the other; plate"),
    (lambda f: f | 3, "no operator joins it and 3"),
    (lambda f: 3 / f, "plate"),
    (lambda f: ft.plate([[f, f]]) + f, "plate: no operator joins it and another one"),
    (lambda f: f.titles(3), "title is a text, not 3"),
    (lambda f: f.scale("x", limit=None), "no option 'limit'. Did you mean 'limits'"),
    (lambda f: f.scale("z", None), "no scale for 'z'"),
])  # fmt: skip
def test_what_is_meant_wrongly_is_answered(call, said):
    with pytest.raises(FacetineError, match=said):
        call(BASE)


def test_an_empty_figure_has_no_layer_to_change():
    with pytest.raises(OptionError, match="the figure has no layer"):
        ft.figure(WHEELS).change("points", size=2)


def test_instead_keeps_what_both_take_and_tells_what_it_drops():
    figure = ft.figure(WHEELS).map(x="rind", y="ph").points(map={"color": "milk", "shape": "milk"}, size=3, where="ph > 5")
    with pytest.warns(FacetineFinding, match="boxes does not take size, map of shape of the points"):
        made = figure.replace("points", "boxes", notches=True)
    assert made.to_dict()["layers"] == [{"boxes": {"map": {"color": "milk"}, "where": "ph > 5", "notches": True}}]


def test_other_data_go_through_the_same_steps_and_keep_their_kinds():
    figure = ft.figure({"a": [1, 2, 3], "b": ["1", "2", "x"]}).keep("a > 1").derive(c="a * 10").map(x="b", y="c").points()
    with pytest.warns(FacetineFinding, match="'b' stays of the kind 'category', though it looks like 'number' now"):
        other = figure.data({"a": [1, 2, 3, 4], "b": [1, 2, 3, 3]})
    assert laid_out(other).tables[0]["y"].tolist() == [20, 30, 40]
    assert [text for text in texts(svg_of(other)) if text in "123"] == ["2", "3"]


def test_figures_lie_over_each_other_with_what_each_says():
    below = (
        ft.figure(WHEELS).map(x="age_days", y="ph", color="rind").points(legend_as="wheels").scale("x", "log").titles("A title")
    )
    few = {"day": [10, 100, 300], "ph": [5.2, 5.3, 5.4]}
    above = (
        ft.figure(few).map(x="day", y="ph").lines(legend_as="model", color="black").scale("x", limits=(5, 500)).titles(note="N")
    )
    made = above.onto(below)
    assert [layer.verb for layer in made._sentence.layers] == ["points", "lines"]
    assert made._sentence.scale("x").said() == {"kind": "log", "limits": (5, 500)}
    tables = laid_out(made).tables
    assert len(tables[0]) == len(laid_out(below.scale("x", limits=(5, 500))).tables[0])
    assert tables[1]["x"].tolist() == pytest.approx(np.log10([10, 100, 300]).tolist())
    assert {"A title", "N", "wheels", "model"} <= set(texts(svg_of(made, 120)))
    # The same data need not be said twice.
    assert BASE.onto(BASE.without("trend")).to_dict()["layers"][0] == {"points": {"opacity": 0.5}}


@pytest.mark.parametrize(("above", "said", "error"), [
    (lambda f: f.scale("x", "linear"), "scale of x: kind is 'log' below and 'linear' above", OptionError),
    (lambda f: f.titles("Another"), "title is 'A title' below and 'Another' above", OptionError),
    (lambda f: f.facet("milk"), "facet is", OptionError),
    (lambda f: f.theme("press"), "theme is", OptionError),
    (lambda f: f.swap_axes(), "the axes of one of the two are swapped", OptionError),
    (lambda f: f.map(x=None).over_variables(x=["ph", "mass_kg"]), "a figure with over_variables has axes of several kinds", OptionError),
    (lambda f: f.map(x="milk"), r"x shows numbers \('age_days'\) below and categories \('milk'\) above", KindError),
])  # fmt: skip
def test_a_clash_of_two_figures_is_named(above, said, error):
    with pytest.raises(error, match=f"figure.onto: {said}"):
        above(BASE).onto(BASE)


def test_the_same_rows_drawn_again_are_told():
    again = ft.figure(WHEELS).map(x="age_days", y="ph").points().points(color="red")
    assert any("draw the same rows as those before them" in note for note in notes(again))
    assert not any("same rows" in note for note in notes(again.change(1, where="ph > 5.3")))
    assert not any("same rows" in note for note in notes(again.change(1, map={"y": "mass_kg"})))


def test_a_difference_is_told_verb_by_verb():
    other = BASE.change("trend", level=None).titles(note=None).rug()
    said = BASE.difference(other).splitlines()
    assert [line for line in said if "rug" in line] == ["+ .rug()"]
    assert any(line.startswith("- .trend(level=0.9") for line in said)
    assert any(line.startswith("+ .titles('A title'") for line in said)
    assert print(BASE) is None
    assert repr(BASE).splitlines()[1] == "  .map(x='age_days', y='firmness_n', color='rind')"


PLAN = """
[data.wheels]
file = "wheels.csv"

[figure.first]
data = "wheels"
map = { x = "age_days", y = "firmness_n", color = "rind" }
facet = { by = "cellar", per_row = 2 }
scale.x = { kind = "log" }
titles = { title = "A title", note = "A note" }
layers = [{ points = { opacity = 0.5, name = "wheels" } }, { trend = { method = "linear" } }]

[figure.second]
like = "first"
facet = false
map = { color = "milk" }
titles.note = false
change.wheels = { opacity = 0.2 }
change.trend = { level = false, method = "loess" }

[figure.third]
like = "second"
layers = [{ lines = {} }]
scale.x = false

[figure.fourth]
like = "first"
without = ["trend"]
"""


def test_figures_of_a_plan_are_like_others(tmp_path):
    pd.DataFrame(WHEELS).to_csv(tmp_path / "wheels.csv", index=False)
    (tmp_path / "plan.toml").write_text(PLAN)
    first = ft.figure(read_columns(tmp_path / "wheels.csv")).map(x="age_days", y="firmness_n", color="rind")
    first = first.points(opacity=0.5, name="wheels").trend("linear").scale("x", "log").titles("A title", note="A note")
    second = first.map(color="milk").titles(note=None).change("wheels", opacity=0.2).change("trend", level=None, method="loess")
    expected = {
        "first": first.facet("cellar", per_row=2),
        "second": second,
        "third": second.without("points", "trend").lines().scale("x", None),
        "fourth": first.facet("cellar", per_row=2).without("trend"),
    }
    outcomes = export_plan(tmp_path / "plan.toml")
    assert [outcome.error for outcome in outcomes] == [None] * 4
    for name, figure in expected.items():
        quietly(lambda figure=figure, name=name: figure.export(tmp_path / f"{name}.pdf"))
        assert (tmp_path / f"{name}.pdf").read_bytes() == (tmp_path / "figures" / f"{name}.pdf").read_bytes(), name


@pytest.mark.parametrize(("said", "expected"), [
    ('like = "frist"', r"plan\.toml: figure\.b: like: no figure 'frist'. Did you mean 'first'"),
    ('like = "b"', r"figure\.b is like 'b', which is like it in turn"),
    ("like = 3", "like names another figure, not 3"),
])  # fmt: skip
def test_a_plan_that_is_like_nothing_is_refused(tmp_path, said, expected):
    (tmp_path / "plan.toml").write_text(PLAN + f"\n[figure.b]\n{said}\n")
    with pytest.raises(PlanError, match=expected):
        export_plan(tmp_path / "plan.toml")


def _steps():
    """Chains of changes, by random numbers."""
    layer = st.sampled_from(["points", "trend", "lines", "boxes", "rug", 0, -1, 3])
    look = st.sampled_from(
        [{"opacity": 0.3}, {"color": None}, {"color": "teal"}, {"size": 3}, {"map": {"color": None}}, {"where": "ph > 5"}]
    )
    verb = st.sampled_from(["points", "lines", "boxes", "rug", "density", "histogram", "reference", "nothing"])
    return st.lists(
        st.one_of(
            st.tuples(st.just("change"), layer, look),
            st.tuples(st.just("without"), layer),
            st.tuples(st.just("replace"), layer, verb),
            st.tuples(st.just("behind"), layer, verb),
            st.tuples(st.just("data"), st.sampled_from([10, 0, 100])),
            st.tuples(st.just("onto"), st.sampled_from(["itself", "lines", "log"])),
        ),
        min_size=1,
        max_size=5,
    )


def _told(figure, step):
    """A figure after one step of a chain."""
    verb, *given = step
    if verb == "data":
        return figure.data({name: values[: given[0]] for name, values in WHEELS.items()})
    if verb == "onto":
        other = {"itself": figure, "lines": ft.figure(WHEELS).map(x="age_days", y="ph").lines(), "log": BASE}[given[0]]
        return figure.onto(other)
    if verb == "change":
        return figure.change(given[0], **given[1])
    return getattr(figure, verb)(*given)


@settings(max_examples=60, deadline=None)
@given(_steps(), st.randoms())
def test_any_chain_of_changes_draws_or_names_its_verb(steps, chance):
    figure = random.Random(chance.random()).choice([BASE, BASE.facet(None).scale("x", None)])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", FacetineFinding)
        for step in steps:
            before = figure
            try:
                figure = _told(before, step)
            except FacetineError:
                with pytest.raises(FacetineError, match=r"^figure(\.(\w+)|: no layer)"):
                    _told(before, step)
                return
        try:
            laid_out(figure, 140)
        except FacetineError:
            return
        if all(layer.data is None for layer in figure._sentence.layers):
            plain = json.loads(json.dumps(figure.to_dict()))
            assert ft.from_dict(plain, WHEELS).to_dict() == figure.to_dict()


SCANS = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain", color="state").points().trend("linear")


def test_a_subset_holds_the_same_rows_in_all_layers_and_is_told():
    figure = SCANS.sample(1000)
    points = figure.numbers("points")
    assert len(points) == 1000
    assert any("1,000 of 50,000 rows are drawn and computed from, by chance" in note for note in notes(figure))
    assert "A part of the rows, chosen by chance: 1,000 of 50,000." in figure.describe()
    own = pd.DataFrame(ft.demo_data("scans")).iloc[points["row"]]
    for state, rows in own.groupby("state"):
        slope = np.polyfit(rows["glow"], rows["grain"], 1)[0]
        trend = figure.numbers("trend")
        assert trend[trend["group"] == state]["slope"].iloc[0] == pytest.approx(slope)
    assert set(figure.numbers("points")["row"]) == set(points["row"])
    assert set(figure.seed(7).numbers("points")["row"]) != set(points["row"])
    assert figure.sample(None).to_dict() == SCANS.to_dict()
    assert not any("by chance" in note for note in notes(SCANS.sample(10**6)))


def test_a_subset_of_each_group_or_panel_also_goes_through_plain_data():
    groups = SCANS.sample(300, per="group")
    assert groups.numbers("points").groupby("group").size().tolist() == [300, 300]
    panels = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().facet("cellar").sample(10, per="panel")
    assert panels.numbers("points").groupby("panel").size().tolist() == [10] * 4
    for figure, data in ((groups, ft.demo_data("scans")), (panels, WHEELS)):
        again = ft.from_dict(json.loads(json.dumps(figure.to_dict())), data)
        assert again.to_dict() == figure.to_dict()
        assert again.numbers("points")["row"].tolist() == figure.numbers("points")["row"].tolist()


@pytest.mark.parametrize(("call", "said"), [
    (lambda f: f.sample(0), "count is a whole number of at least 1"),
    (lambda f: f.sample(5, per="row"), "per: can't be 'row'"),
    (lambda f: f.sample(5, per="panel").numbers(), "but there is one panel"),
    (lambda f: f.map(color=None).sample(5, per="group").numbers(), "nothing makes groups of the whole figure"),
    (lambda f: ft.figure().points(data=WHEELS, map={"x": "ph", "y": "ph"}).sample(5).numbers(), "no data of its own"),
])  # fmt: skip
def test_a_subset_that_can_not_be_is_refused(call, said):
    with pytest.raises(OptionError, match=f"figure.sample: .*{said}"):
        call(SCANS)


def test_a_source_stands_on_a_line_of_its_own_below_the_note():
    figure = BASE.titles(source="Cellar trial")
    lines = [text.content for text in laid_out(figure).scene.texts() if text.role == "note"]
    assert lines == ["A note", "Cellar trial"]
    assert [text for text in texts(svg_of(figure.titles(note=None))) if text in ("A note", "Cellar trial")] == ["Cellar trial"]
    assert figure.titles(source=None).to_dict() == BASE.to_dict()
    plate = ft.plate([[BASE]]).titles(note="N", source="S")
    assert plate.to_dict()["plate"]["titles"]["source"] == "S"
    assert {"N", "S"} <= set(texts(svg_of(plate, 140)))


def test_options_that_have_no_truth_value_are_kept_and_compared():
    held = pd.Series([0, 1, 2])
    figure = ft.figure(WHEELS).map(x="ph", y="mass_kg").points().scale("y", include=held)
    assert figure._sentence.scale("y").include is held
    assert figure.onto(figure.without("points").lines())._sentence.scale("y").include is held
    with pytest.raises(OptionError, match="scale of y: include is"):
        figure.onto(figure.scale("y", include=pd.Series([0, 5])))


@pytest.mark.parametrize("option", ["where", "panels", "data"])
def test_false_takes_back_what_a_layer_is_drawn_from_and_where(option):
    plain = ft.figure({"a": [1, 2], "b": [3, 4]}).map(x="a", y="b").points(size=3)
    said = plain.change("points", where="a > 1", panels=["x"], data={"a": [1], "b": [2]})
    assert repr(said.change("points", **{option: False})) == repr(said.change("points", **{option: None}))
    assert repr(said.change("points", where=False, panels=False, data=False)) == repr(plain)
