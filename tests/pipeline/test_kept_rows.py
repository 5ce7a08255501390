"""Figures that are computed of the rows that another one chooses at first: their numbers, their scales, and what they say."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, own_id, quietly, shapes, svg_of, texts
from hypothesis import given, settings
from hypothesis import strategies as st
from page.test_members import frames
from scipy import stats

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import FacetineError, OptionError
from facetine.pipeline.sheet.numbers import columns_told

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS)
YOUNG = WHEELS[WHEELS["age_days"].between(20, 80)]


def beside(figure, start="age_days BETWEEN 20 AND 80", frame=WHEELS, along=("age_days", "mass_kg"), **how):
    """A plate of a figure that chooses rows and one that is computed of them."""
    source = ft.figure(frame).map(x=along[0], y=along[1]).points().choose("young", along="x", start=start)
    return ft.plate([[source, figure.respond("young", "keep", **how)]])


def kept(figure, *args, layer=0, **options):
    """What a layer of the figure says, and the figure's part of the sheet."""
    made = laid_out(beside(figure, *args, **options), "180 mm")
    member = made.members[1][0]
    told = {name: one.values for name, one in columns_told(member.runs[layer], member).items()}
    return pd.DataFrame(told), member


@settings(max_examples=6, deadline=None)
@given(frames(), st.floats(-2, 1.5).map(lambda value: round(value, 2)))
def test_counts_and_aggregates_are_those_that_a_data_frame_library_finds_of_the_chosen_rows(frame, low):
    chosen = frame[frame["other"] > low]
    start, along = f"other > {low}", ("other", "value")
    told, _ = quietly(kept, ft.figure(frame).map(x="kind", color="who").bars(), start, frame, along)
    counts = chosen.groupby(["kind", "who"]).size()
    assert {(row.x, row.group): row.count_ for row in told.rename(columns={"count": "count_"}).itertuples()} == dict(counts)
    for how in ("mean", "median", "max"):
        told, _ = quietly(kept, ft.figure(frame).map(x="kind", y="value").bars(aggregate=how), start, frame, along)
        expected = chosen.dropna().groupby("kind")["value"].agg(how)
        assert dict(zip(told["x"], told[how], strict=True)) == pytest.approx(dict(expected), rel=1e-12)


@settings(max_examples=6, deadline=None)
@given(frames(), st.floats(-2, 1.5).map(lambda value: round(value, 2)))
def test_bins_boxes_and_intervals_are_those_of_the_chosen_rows_in_the_edges_of_all(frame, low):
    chosen = frame[frame["other"] > low]
    start, along = f"other > {low}", ("other", "value")
    base = ft.figure(frame)
    told, _ = quietly(kept, base.map(x="value").histogram(measure="share"), start, frame, along)
    all_rows = pd.DataFrame(base.map(x="value").histogram(measure="share").numbers())
    edges = sorted({*all_rows["low"], *all_rows["high"]})
    expected = np.histogram(chosen["value"].dropna(), edges)[0]
    assert told["count"].tolist() == expected.tolist()
    assert told["share"].to_numpy() == pytest.approx(expected / expected.sum(), rel=1e-12)
    boxes, _ = quietly(kept, base.map(x="kind", y="value").boxes(outliers=False), start, frame, along)
    for name, share in (("q1", 0.25), ("median", 0.5), ("q3", 0.75)):
        quantiles = chosen.dropna().groupby("kind")["value"].quantile(share)
        assert dict(zip(boxes["x"], boxes[name], strict=True)) == pytest.approx(dict(quantiles), rel=1e-12, abs=1e-12)
    means, _ = quietly(kept, base.map(x="kind", y="value").intervals(), start, frame, along)
    for row in means.itertuples():
        own = chosen.loc[chosen["kind"] == row.x, "value"].dropna()
        if len(own) > 1 and own.nunique() > 1:
            ends = stats.t.interval(0.95, len(own) - 1, own.mean(), stats.sem(own))
            assert (row.low, row.high) == pytest.approx(ends, rel=1e-9)


def test_a_line_with_its_band_is_fitted_to_the_chosen_rows_alone():
    told, _ = kept(BASE.map(x="age_days", y="firmness_n").trend())
    x, y = YOUNG["age_days"].to_numpy(float), YOUNG["firmness_n"].to_numpy()
    fit = stats.linregress(x, y)
    assert told["slope"].iloc[0] == pytest.approx(fit.slope, rel=1e-10)
    assert told["p"].iloc[0] == pytest.approx(fit.pvalue, rel=1e-7)
    assert (told["x"].min(), told["x"].max()) == (20, 80)
    middle = told.iloc[len(told) // 2]
    rest = y - fit.intercept - fit.slope * x
    error = np.sqrt(rest @ rest / (len(x) - 2) * (1 / len(x) + (middle["x"] - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum()))
    assert middle["y_high"] - middle["y"] == pytest.approx(stats.t.ppf(0.975, len(x) - 2) * error, rel=1e-9)


FIGURES = {
    "bars": BASE.map(x="rind", color="milk").bars(),
    "side by side": BASE.map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean"),
    "histogram": BASE.map(x="mass_kg", color="rind").histogram().facet("milk", separate="x"),
    "boxes": BASE.map(x="cellar", y="ph", color="milk").boxes(),
    "cells": BASE.map(x="moisture_pct", y="ph").cells(),
    "tally": BASE.map(x="rind", y="cellar").points(arrange="tally"),
    "jitter": BASE.map(x="rind", y="ph").points(arrange="jitter"),
    "lines": BASE.map(x="age_days", y="firmness_n", color="milk").lines(aggregate="mean", bins=9),
    "log": BASE.map(x="mass_kg", y="firmness_n").points().trend().scale("x", "log"),
    "pooled": BASE.map(x="cellar").bars().scale("x", top=2),
    "lying": BASE.map(y="rind", x="mass_kg", color="milk").intervals(),
    "cumulative": BASE.map(x="mass_kg", color="milk").cumulative(),
    "matrix": ft.matrix(WHEELS, ["mass_kg", "ph", "firmness_n"]),
}


@pytest.mark.parametrize("name", FIGURES)
def test_choosing_rows_changes_no_scale(name):
    """Limits, ticks, levels, classes of colors and sizes are those of all rows."""
    chosen, whole = (quietly(laid_out, one, "180 mm") for one in (beside(FIGURES[name]), beside(FIGURES[name], start=None)))
    for some, every in zip(chosen.members[1], whole.members[1], strict=True):
        for key, axis in every.scales.axes.items():
            assert some.scales.axes[key].extent == axis.extent
            assert some.scales.axes[key].labels == axis.labels
        for look, scale in every.scales.looks.items():
            own = some.scales.looks[look]
            assert (own.values, own.low, own.high, own.breaks) == (scale.values, scale.low, scale.high, scale.breaks)
        for run in some.runs:
            assert run.whole is not None or run.stays


@pytest.mark.parametrize("name", ["bars", "side by side", "boxes", "jitter", "lying"])
def test_marks_of_chosen_rows_stand_where_those_of_all_rows_do(name):
    run = quietly(laid_out, beside(FIGURES[name]), "180 mm").members[1][0].runs[0]
    across, value = ("y", "x value") if run.horizontal else ("x", "y value")
    names = [one for one in (across, f"{across}_low", f"{across}_high") if one in run.table]
    results = run.layer.results(run.context.columns)

    def places(table):
        keys = zip(
            table.group.tolist(),
            table["x value"].tolist() if results else table.numbers.tolist(),
            strict=True,
        )
        return {key: tuple(float(table[one][row]) for one in names) for row, key in enumerate(keys)}

    some, every = places(run.table), places(run.whole)
    assert 0 < len(some) <= len(every)
    assert all(every[key] == place for key, place in some.items())
    assert value in run.table


def test_what_all_rows_make_is_outlined_behind_counts_and_where_that_is_asked_for():
    def groups(figure, **how):
        sheet = svg_of(beside(figure, **how), "180 mm")
        return {own_id(one): one for one in sheet.iter() if "figure-2" in one.get("id", "") and "-layer-" in one.get("id", "")}

    counts, means = BASE.map(x="rind").bars(), BASE.map(x="rind", y="ph").bars(aggregate="mean")
    found = groups(counts)
    behind, before = next(one for name, one in found.items() if name.endswith("-all")), next(iter(found.values()))
    assert behind is before
    heights = [float(one["height"]) for one in shapes(behind, "rect")]
    every = WHEELS["rind"].value_counts()
    assert sorted(np.array(heights) / max(heights)) == pytest.approx(sorted(every / every.max()), abs=1e-3)
    assert not any(name.endswith("-all") for name in groups(means))
    assert any(name.endswith("-all") for name in groups(means, show_all=True))
    assert not any(name.endswith("-all") for name in groups(counts, show_all=False))
    assert not any(name.endswith("-all") for name in groups(BASE.map(x="rind", color="milk").bars(arrange="share")))


def test_a_figure_says_of_which_rows_it_is_and_what_of_it_is_not():
    figure = BASE.map(x="age_days", y="firmness_n").points().trend("loess").trend().titles(note="A note of its own.")
    made = beside(figure, show_all=True)
    lines = texts(svg_of(made, "180 mm"))
    lines = [*lines, " ".join(lines)]
    assert "A note of its own." in lines
    assert any(
        f"Of {len(YOUNG)} of {len(WHEELS)} rows (young). Pale marks: all rows. Of all rows: trend." in one for one in lines
    )
    assert any(f"of {len(YOUNG)} of {len(WHEELS)} rows (young)" in one for one in notes_of(made))
    words = made.describe()
    assert f"Of {len(YOUNG)} of {len(WHEELS)} rows (young)" in words
    boxes = beside(BASE.map(x="rind", y="ph", color="milk").boxes()).describe()
    assert f"cow ({(YOUNG['milk'] == 'cow').sum()} rows)" in boxes
    assert any(
        "Of all rows: points" in one
        for one in texts(svg_of(beside(BASE.map(x="rind", y="ph").points(arrange="beeswarm")), "180 mm"))
    )


def notes_of(figure):
    return tuple(map(str, laid_out(figure, "180 mm").findings))


def test_where_nothing_is_chosen_at_first_the_figure_is_of_all_rows_and_a_warning_says_so():
    figure = BASE.map(x="rind").bars()
    none = beside(figure, start="age_days > 10000")
    assert any("'young' holds no row, so that all are shown" in one for one in notes_of(none))
    assert kept(figure, "age_days > 10000")[0]["count"].tolist() == kept(figure, None)[0]["count"].tolist()


def test_marks_beyond_the_axes_of_all_rows_are_cut_there_and_counted():
    figure = BASE.map(x="rind", y="mass_kg").bars(aggregate="mean")
    said = notes_of(beside(figure, "mass_kg > 6"))
    assert any("4 bars of the chosen rows beyond the axes, which are those of all rows, cut there" in one for one in said)


def test_lines_beyond_the_axes_are_counted_as_lines_and_stacks_are_outlined_as_one():
    lines = BASE.map(x="age_days", y="firmness_n", color="milk").lines(aggregate="mean", bins=6)
    said = [one for one in notes_of(beside(lines, "firmness_n > 60")) if "beyond the axes" in one]
    assert said, notes_of(beside(lines, "firmness_n > 60"))
    assert any(word in said[0] for word in ("1 line of the chosen", "2 lines of the chosen", "3 lines of the chosen"))
    sheet = svg_of(beside(BASE.map(x="rind", color="milk").bars()), "180 mm")
    behind = next(one for one in sheet.iter() if one.get("id", "").endswith("-bars-all"))
    assert len(shapes(behind, "rect")) == WHEELS["rind"].nunique()


def test_lines_break_where_those_of_all_rows_do():
    frame = pd.DataFrame({"x": range(12), "y": [1.0, 2, 3, np.nan, 5, 6, 7, 8, 9, 10, 11, 12], "k": [0, 1] * 6})
    told, member = kept(ft.figure(frame).map(x="x", y="y").lines(), "k = 1", frame, ("x", "k"))
    assert told["x"].tolist() == [1, 5, 7, 9, 11]
    stretches = member.runs[0].table["stretch"].tolist() if "stretch" in member.runs[0].table else None
    sheet = svg_of(beside(ft.figure(frame).map(x="x", y="y").lines(), "k = 1", frame, ("x", "k")), "180 mm")
    line = next(one for one in sheet.iter() if one.get("id", "").endswith("figure-2-panel-1-layer-1-lines"))
    assert sum(path["d"].count("M") for path in shapes(line, "path")) == 2, stretches


def test_rows_that_several_choices_hold_are_those_of_which_a_figure_is_computed():
    ages = BASE.map(x="age_days", y="ph").points().choose("young", along="x", start={"age_days": (20, 80)})
    kinds = BASE.map(x="rind").bars().choose("kind", by="rind", start={"rind": "washed"})
    both = BASE.map(x="milk").bars().respond("young", "keep").respond("kind", "keep")
    member = laid_out(ft.plate([[ages, kinds, both]]), "180 mm").members[2][0]
    found = pd.DataFrame({name: one.values for name, one in columns_told(member.runs[0], member).items()})
    expected = YOUNG[YOUNG["rind"] == "washed"]["milk"].value_counts()
    assert dict(zip(found["x"], found["count"], strict=True)) == dict(expected)


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: BASE.respond("young", "kept"), "no response 'kept'. Did you mean 'keep'?"),
        (lambda: BASE.respond("young", "highlight", show_all=True), "show_all has no effect on 'highlight'"),
        (lambda: BASE.respond("young", "limits", show_all=False), "show_all has no effect on 'limits'"),
        (lambda: BASE.respond("young", "keep", show_all="yes"), "show_all is True or False"),
    ],
)
def test_what_can_be_no_response_is_refused_at_once(make, said):
    with pytest.raises(OptionError) as caught:
        make()
    assert said in str(caught.value)


def test_a_figure_is_not_computed_of_what_it_chooses_itself_nor_of_rows_of_another_frame(tmp_path):
    own = BASE.map(x="age_days").histogram().choose("young", along="x").respond("young", "keep")
    with pytest.raises(OptionError, match="chooses 'young' itself"):
        own.export(tmp_path / "own.svg")
    other = ft.figure(WHEELS.copy()).map(x="rind").bars()
    with pytest.raises(OptionError, match="chooses rows of another frame"):
        beside(other).export(tmp_path / "other.svg", width="160 mm")
    assert not list(tmp_path.iterdir())


def test_two_choices_do_not_differ_on_what_all_rows_make():
    ages = BASE.map(x="age_days", y="ph").points().choose("young", along="x")
    kinds = BASE.map(x="rind").bars().choose("kind", by="rind")
    both = BASE.map(x="milk").bars().respond("young", "keep", show_all=True).respond("kind", "keep", show_all=False)
    with pytest.raises(OptionError, match="shows what all rows make, and another one hides it"):
        laid_out(ft.plate([[ages, kinds, both]]), "180 mm")


@pytest.mark.parametrize("swapped", [False, True])
def test_what_is_not_of_the_chosen_rows_is_pale_in_all_of_its_inks_and_named(swapped):
    """Texts and borders too; layers of other data keep their inks, and are named."""
    other = pd.DataFrame({"rind": ["washed", "bloomy"], "ph": [5.5, 5.3]})
    figure = (
        BASE.map(x="rind", y="ph").violins(color="black").boxes(outline="black").points(data=other, color="black", shape="square")
    )
    figure = figure.swap_axes() if swapped else figure
    made = beside(figure, show_all=True)
    sheet = svg_of(made, "180 mm")
    groups = {own_id(one): one for one in sheet.iter() if "figure-2" in one.get("id", "") and "-layer-" in one.get("id", "")}

    def inks(name):
        found = next(one for own, one in groups.items() if own.endswith(name))
        return {one.get(part) for one in found.iter() for part in ("fill", "stroke")} - {None, "none", "#ffffff"}

    assert "#000000" not in inks("-violins")
    assert "#000000" not in inks("-boxes-all")
    assert "#000000" in inks("-boxes")
    assert inks("-points") == {"#000000"}
    said = " ".join(notes_of(made))
    assert "Of all rows: violins" in said
    assert "Of other data: points" in said
    correlation = svg_of(beside(ft.matrix(WHEELS, ["mass_kg", "ph"])), "180 mm")
    found = next(one for one in correlation.iter() if one.get("id", "").endswith("-correlation"))
    assert not {one.get("fill") for one in found.iter("{*}text")} & {"#1c1f24", "#4a5059"}


def test_a_response_is_plain_data_and_comes_back_from_it():
    figure = BASE.map(x="rind").bars().respond("young", "keep", show_all=False).respond("kind", "keep")
    plain = figure.to_dict()
    assert plain["respond"] == {"young": {"how": "keep", "show_all": False}, "kind": "keep"}
    assert ft.from_dict(plain, WHEELS).to_dict() == plain
    assert ".respond('young', 'keep', show_all=False)" in repr(figure)
    with pytest.raises(FacetineError, match="no option 'showall'"):
        ft.from_dict(plain | {"respond": {"young": {"how": "keep", "showall": True}}}, WHEELS)


def test_a_plan_says_the_same(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    (tmp_path / "plan.toml").write_text(
        """
[plan]
formats = ["svg", "html"]
[data.wheels]
file = "wheels.csv"
[figure.ages]
data = "wheels"
alone = false
map = { x = "age_days", y = "ph" }
layers = ["points"]
choose = { young = { along = "x", start = { age_days = [20, 80] } } }
[figure.rinds]
data = "wheels"
alone = false
map = { x = "rind" }
layers = ["bars"]
respond = { young = { how = "keep", show_all = false } }
[plate.both]
rows = [["ages", "rinds"]]
"""
    )
    (outcome,) = export_plan(tmp_path / "plan.toml", jobs=1)
    assert outcome.error is None
    assert f"Of {len(YOUNG)} of {len(WHEELS)} rows (young)." in (tmp_path / "figures" / "both.svg").read_text("utf-8")
    assert '"responses":{"1":{"young":{"how":"keep","all":false}}}' in (tmp_path / "figures" / "both.html").read_text("utf-8")


def test_layers_say_what_they_do_with_chosen_rows():
    from facetine.layers import LAYERS, layer_class

    for verb in LAYERS:
        assert layer_class(verb).chosen_says.split()[0] in ("Follows:", "Of"), verb
    assert notes(BASE.map(x="rind").bars()) == ()
