"""Nothing disappears and nothing is invented: windows, groups, levels, swarms, ticks, expressions, chance."""

import contextlib
import datetime
import decimal
import re
import subprocess
import sys
import warnings

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from conftest import SVG, group, laid_out, notes
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet, texts_of

import facetine as ft
from facetine.messages.errors import FacetineError, KindError, OptionError

WHEELS = ft.demo_data("wheels")
rng = np.random.default_rng(7)


def fig(**columns):
    return ft.figure(columns)


# Windows


def test_marks_outside_or_cut_are_counted_once_a_layer():
    base = fig(k=["a", "b", "c"], v=[5.0, 20.0, 60.0]).map(x="k", y="v")
    (note,) = Sheet(base.bars().scale("y", limits=(0, 30))).said("outside-limits")
    assert "1 bar cut" in note
    wide = fig(x=[1.0, 2, 3, 50]).map(x="x")
    (note,) = Sheet(wide.histogram(edges=[0, 2, 4, 40, 60]).scale("x", limits=(0, 5))).said("outside-limits")
    assert "1 bin not shown" in note or "2 bins" in note
    (note,) = Sheet(fig(x=[1.0, 2, 30], y=[1.0, 2, 3]).map(x="x", y="y").points().scale("x", limits=(0, 10))).said(
        "outside-limits"
    )
    assert "1 point not shown" in note
    for layer in ("lines", "areas", "trend", "density", "cumulative", "contours", "segments", "labels", "rug", "cells"):
        mapping = {"x": "x", "y": "y"}
        if layer in ("density", "cumulative"):
            mapping = {"x": "x"}
        mapping |= {"segments": {"x_to": "z", "y_to": "z"}, "labels": {"label": "k"}}.get(layer, {})
        data = {"x": np.arange(20.0), "y": np.sin(np.arange(20.0)), "z": np.arange(20.0) + 1, "k": list("abcdefghijklmnopqrst")}
        figure = ft.figure(data).map(**mapping)._add_layer(layer, {}).scale("x", limits=(0, 8))
        assert len(Sheet(figure).said("outside-limits")) == 1, layer


def test_outliers_of_boxes_outside_are_counted():
    data = fig(k=["a"] * 12, v=[*np.linspace(1, 2, 10), 50.0, 60.0]).map(x="k", y="v")
    (note,) = Sheet(data.boxes().scale("y", limits=(0, 10))).said("outside-limits")
    assert "2 outliers not shown" in note


def test_bars_are_not_lifted_off_their_base():
    base = fig(k=["a", "b"], v=[257.0, 318.0]).map(x="k", y="v")
    for verb in ("bars", "areas"):
        figure = (base if verb == "bars" else fig(t=[1.0, 2], v=[257.0, 318.0]).map(x="t", y="v"))._add_layer(verb, {})
        with pytest.raises(FacetineError, match="zero"):
            texts_of(figure.scale("y", limits=(200, 350)))
    sheet = Sheet(base.bars().scale("y", limits=(0, 300)))
    feet = sheet.rects(1)[:, 1] + sheet.rects(1)[:, 3]
    assert sheet.read("y", feet) == pytest.approx([0, 0], abs=1)


def test_labels_outside_the_window_are_not_drawn_off_the_sheet():
    base = fig(x=[1.0, 2, 500], y=[1.0, 2, -400], k=["in", "side", "far"]).map(x="x", y="y", label="k")
    sheet = Sheet(base.labels().scale("x", limits=(0, 10)).scale("y", limits=(0, 10)))
    assert "far" not in sheet.texts()
    assert {"in", "side"} <= set(sheet.texts())
    bars = fig(k=["a", "b"], v=[5.0, 5000.0]).map(x="k", y="v").bars(value_labels="{y}").scale("y", limits=(0, 10))
    made = laid_out(bars)
    for text in made.scene.texts():
        assert text.box.y > -1


# What a layer can't show


def test_looks_that_a_layer_can_not_show_are_said():
    for verb, look, column in (("bars", "shape", "milk"), ("points", "dash", "rind"), ("boxes", "dash", "milk")):
        mapping = {"x": "cellar", look: column} | ({} if verb == "bars" else {"y": "mass_kg"})
        (note,) = Sheet(ft.figure(WHEELS).map(**mapping)._add_layer(verb, {})).said("look-not-shown")
        assert verb in note
        assert repr(column) in note
    shown = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind", shape="rind").points().trend()
    assert not Sheet(shown).said("look-not-shown")


def test_a_layer_without_rows_is_named():
    figure = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().lines(where="age_days < 0", name="young")
    (note,) = Sheet(figure).said("layer-empty")
    assert "lines" in note
    assert "young" in note


def test_where_sees_words_and_codes():
    data = pd.DataFrame({"s": [1, 1, 2, 3], "v": [1.0, 2, 3, 4]})
    book = {"s": {"words": {1: "spring", 2: "summer", 3: "autumn"}}}
    base = ft.figure(data, codebook=book).map(x="v", y="v")
    for where, count in (("s = 'spring'", 2), ("s = 1", 2), ("s <> 1", 2), ("s IN (1, 2)", 3), ("s = 'summer'", 1)):
        assert len(Sheet(base.points(where=where)).circles(1)) == count, where
    with pytest.raises(FacetineError, match="word"):
        texts_of(base.points(where="s = 'spring' OR s = 2"))


def test_remarks_stand_in_the_panels_of_their_rows():
    base = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().facet("cellar", per_row=2)
    order = sorted(WHEELS.cellar.unique())
    for figure in (
        base.callout("look", x=200, y=5, where="cellar = 'North'"),
        base.region(x=(100, 200), text="look", where="cellar = 'North'"),
        base.reference(y=5, text="look", where="cellar = 'North'"),
        base.callout("look", x=200, y=5, data=pd.DataFrame({"cellar": ["North"]})),
    ):
        sheet = Sheet(figure)
        there = [panel for panel in range(1, 5) if "look" in sheet.texts(group(sheet.root, f"panel-{panel}"))]
        assert there == [order.index("North") + 1]
    assert texts_of(base.callout("look", x=200, y=5)).count("look") == 4


# Groups


def test_groups_survive_a_constant_look():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean", arrange="side_by_side")
    sheet = Sheet(base.intervals(color="black"))
    groups = WHEELS.groupby(["rind", "milk"]).ngroups
    assert len(sheet.circles(2)) == groups
    bars = sheet.rects(1)
    middles = np.sort(bars[:, 0] + bars[:, 2] / 2)
    assert np.sort(sheet.circles(2)[:, 0]) == pytest.approx(middles, abs=0.1)
    assert {circle for circle in [g.get("fill") for g in sheet.layer(2).iter(f"{SVG}g")] if circle} == {"#000000"}


def test_every_discrete_look_makes_groups_and_none_takes_them_away():
    base = ft.figure(WHEELS).map(x="age_days", y="mass_kg", shape="milk")
    assert len(Sheet(base.points().trend(level=None)).paths(2)) == 3
    assert len(Sheet(base.points().trend(level=None, map={"shape": None})).paths(2)) == 1


def test_references_pool_their_panel():
    base = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="milk").points()
    assert f"{WHEELS.mass_kg.mean():.3f}" in texts_of(base.reference(aggregate="mean", text="{value:.3f}"))
    each = texts_of(base.reference(aggregate="mean", per="group", text="{value:.3f}"))
    assert {f"{value:.3f}" for value in WHEELS.groupby("milk").mass_kg.mean()} <= set(each)


def test_hexagons_of_categories_are_refused_like_squares():
    base = ft.figure(WHEELS).map(x="age_days", y="mass_kg")
    for color, answer in (("milk", 'map={"color": None} counts'), ("ph", "say what color shows")):
        with pytest.raises(OptionError, match=answer):
            texts_of(base.cells(cell="hex", map={"color": color}))
    with pytest.raises(OptionError, match='map={"color": None} counts'):
        texts_of(ft.figure(WHEELS).map(x="cellar", y="rind").cells(map={"color": "milk"}))
    for shape in ("hex", "square"):
        with pytest.raises(KindError, match="categories"):
            texts_of(base.cells(cell=shape, aggregate="mean", map={"color": "milk"}))


# Densities


def test_a_count_density_lies_over_its_histogram():
    x = rng.normal(50, 10, 400)
    sheet = Sheet(fig(x=x).map(x="x").histogram(bin_width=4).density(measure="count"))
    at = sheet.paths(2)[0]["at"]
    places, heights = sheet.read("x", at[:, 0]), sheet.read("y", at[:, 1])
    assert heights == pytest.approx(scipy.stats.gaussian_kde(x)(places) * 400 * 4, abs=0.5)
    with pytest.raises(OptionError, match="histogram"):
        texts_of(fig(x=x).map(x="x").density(measure="count"))


def test_a_density_beside_a_far_value_keeps_its_area():
    x = np.append(rng.normal(size=300), 1e12)
    table = laid_out(fig(x=x).map(x="x").density(bandwidth=0.3)).tables[0]
    assert np.trapezoid(table["density"], table["x"]) == pytest.approx(1, abs=1e-3)


@pytest.mark.parametrize("far", [(), (1000.0,), (50.0, -80.0)])
def test_contours_enclose_the_share_they_say(far):
    r = np.random.default_rng(2)
    x, y = np.append(r.normal(size=900), far), np.append(r.normal(size=900), far)
    from truth.test_weights import enclosed

    sheet = Sheet(
        fig(x=x, y=y).map(x="x", y="y").contours(levels=[0.5]).scale("x", limits=(-5, 5)).scale("y", limits=(-5, 5)), "200 mm"
    )
    points = np.column_stack([x, y])
    held = np.zeros(len(x), bool)
    for path in sheet.paths(1):
        ring = np.column_stack([sheet.read("x", path["at"][:, 0]), sheet.read("y", path["at"][:, 1])])
        held ^= enclosed(ring, points)
    assert held.mean() == pytest.approx(0.5, abs=0.02)


# Swarms and jitter


def test_swarms_and_jitter_stay_in_their_slot():
    data = pd.DataFrame({"k": np.repeat(["a", "b", "c"], 300), "v": np.tile(rng.normal(size=300) * 0.01, 3)})
    sheet = Sheet(ft.figure(data).map(x="k", y="v").points(arrange="beeswarm"), "60 mm")
    assert sheet.said("swarm-tightened")
    places = [float(text.get("x")) for text in sheet.group("x-axis").iter(f"{SVG}text")]
    slot = np.diff(places)[0]
    at = sheet.circles(1)[:, 0]
    nearest = np.abs(at[:, None] - np.array(places)).min(axis=1)
    assert nearest.max() <= slot / 2
    assert len(at) == 900
    (note,) = Sheet(ft.figure(data).map(x="k", y="v").points(arrange="jitter", spread_x=2)).said("jitter-limited")
    sheet = Sheet(ft.figure(data).map(x="k", y="v").points(arrange="jitter", spread_x=2), "60 mm")
    assert np.abs(sheet.circles(1)[:, 0][:, None] - np.array(places)).min(axis=1).max() <= slot / 2 + 0.1
    assert "leave the slot" in note


def test_jitter_lands_on_its_own_box():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="milk").boxes(outliers=False)
    sheet = Sheet(base.points(arrange="jitter", size=1.5), "180 mm")
    boxes = [path for path in sheet.paths(1) if path.get("fill") not in (None, "none")]
    ranges = {}
    for path in boxes:
        ranges.setdefault(path["fill"], []).append((path["at"][:, 0].min(), path["at"][:, 0].max()))
    discs = list(sheet.layer(2).iter(f"{SVG}circle"))
    assert len(discs) == len(WHEELS)
    for disc in discs:
        x = float(disc.get("cx"))
        assert any(low - 3 <= x <= high + 3 for low, high in ranges[disc.get("fill")]), x


def test_jitter_stands_beside_half_violins():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg").violins(half="left")
    sheet = Sheet(base.points(arrange="jitter"), "120 mm")
    centers = [float(text.get("x")) for text in sheet.group("x-axis").iter(f"{SVG}text")]
    at = sheet.circles(2)[:, 0]
    nearest = at - np.array(centers)[np.abs(at[:, None] - np.array(centers)).argmin(axis=1)]
    assert nearest.min() > 0


# Kinds, levels, colors


def test_times_with_and_without_zones_are_refused_on_one_axis():
    naive = pd.to_datetime(["2030-01-01", "2030-01-02"])
    aware = naive.tz_localize("Asia/Tokyo")
    with pytest.raises(FacetineError, match="zone"):
        texts_of(ft.figure({"t": naive, "v": [1.0, 2]}).map(x="t", y="v").points().points(data={"t": aware, "v": [1.0, 2]}))
    moments = [datetime.datetime(2030, 1, 1), datetime.datetime(2030, 1, 2, tzinfo=datetime.UTC)]
    with pytest.raises(FacetineError, match="zone"):
        texts_of(fig(t=moments, v=[1.0, 2]).map(x="t", y="v").points())


@pytest.mark.parametrize("said", ["show", "#ff0000"])
def test_missing_colors_have_a_key_wherever_they_are_drawn(said):
    base = (
        fig(x=[1.0, 2, 3], y=[1.0, 2, 3], c=[1.0, np.nan, 3]).map(x="x", y="y", color="c").points().scale("color", missing=said)
    )
    sheet = Sheet(base)
    ink = "#8a9097" if said == "show" else said
    assert "missing" in sheet.texts()
    assert any(mark.get("fill") == ink for mark in sheet.layer(1).iter())
    cells = fig(x=["a", "b", "a"], y=["u", "u", "v"], c=[1.0, 2, 3]).map(x="x", y="y", color="c").cells(all_pairs=True)
    assert "missing" in texts_of(cells)
    assert "missing" not in texts_of(fig(x=["a", "b"], y=["u", "v"]).map(x="x", y="y").cells(all_pairs=True))


def test_order_and_colors_may_name_what_the_codebook_knows_and_the_data_lack():
    part = WHEELS[WHEELS.rind != "waxed"]
    book = {"rind": {"order": ["waxed", "washed", "bloomy", "natural"]}}
    base = ft.figure(part, codebook=book).map(x="rind")
    sheet = Sheet(base.bars().scale("x", order=["waxed", "natural", "washed", "bloomy"]))
    assert sheet.texts(sheet.group("x-axis")) == ["natural", "washed", "bloomy"]
    texts_of(base.map(color="rind").bars().scale("color", colors={"waxed": "#112233"}))
    kept = ft.figure(WHEELS).keep("rind <> 'waxed'").map(x="rind", color="rind").bars()
    texts_of(kept.scale("x", order=["waxed", "natural"]).scale("color", colors={"waxed": "#112233"}))
    for wrong in (
        base.bars().scale("x", order=["naturel"]),
        base.map(color="rind").bars().scale("color", colors={"naturel": "red"}),
    ):
        with pytest.raises(OptionError, match="Did you mean 'natural'"):
            texts_of(wrong)


# Ticks and edges


@given(st.integers(-3000, 3000), st.integers(1, 400), st.sampled_from(["60 mm", "120 mm", "240 mm"]))
@settings(max_examples=30)
def test_columns_of_whole_numbers_have_whole_ticks(low, reach, width):
    sheet = Sheet(fig(year=[low, low + reach], v=[1.5, 2.5]).map(x="year", y="v").points(), width)
    labels, _ = sheet.ticks("x")
    assert labels
    assert all(re.fullmatch(r"−?[\d,]+", label) for label in labels), labels
    assert "−0" not in labels


@given(
    st.floats(-1e6, 1e6),
    st.floats(1e-3, 1e6),
    st.sampled_from([".0f", ".1f", ",.2f", "percent", "si", "scientific", "{value:.0f} kg", ".3g"]),
)
@settings(max_examples=60)
def test_no_axis_shows_two_equal_labels_without_a_word(low, reach, form):
    sheet = Sheet(fig(a=[low, low + reach], b=[1.0, 2]).map(x="a", y="b").points().scale("x", format=form))
    labels = sheet.texts(sheet.group("x-axis")) if sheet.has("x-axis") else []
    assert len(labels) >= 2
    assert (len(set(labels)) == len(labels)) != bool(sheet.said("ticks-alike")), labels
    assert not {"−0", "−0.0", "−0.00", "−0 kg"} & set(labels)


def test_ticks_are_those_that_the_format_tells_apart():
    sheet = Sheet(fig(a=[0.0, 2.1], b=[1.0, 2]).map(x="a", y="b").points().scale("x", format=".0f"), "200 mm")
    labels, at = sheet.ticks("x")
    assert labels == ["0", "1", "2"]
    assert not sheet.said("ticks-alike")
    assert np.diff(at) == pytest.approx(np.diff(at)[0])


def test_values_fall_into_the_bins_that_their_digits_say():
    x = np.array([0.1, 0.2, 0.3, 0.3, 0.6, 0.7, 0.9])
    sheet = Sheet(fig(x=x).map(x="x").histogram(bin_width=0.1, value_labels="{low:.1f} {count}"), "200 mm")
    assert {"0.3 2", "0.6 1", "0.7 1", "0.9 1"} <= set(sheet.texts()) or {"0.3 2", "0.6 1", "0.7 1", "0.8 1"} <= set(
        sheet.texts()
    )


def test_few_whole_numbers_have_a_bin_each():
    sheet = Sheet(fig(x=[1, 2, 2, 3, 5, 5, 5]).map(x="x").histogram(value_labels="{count}"))
    rects = sheet.rects(1)
    middles = sheet.read("x", rects[:, 0] + rects[:, 2] / 2)
    assert middles == pytest.approx([1, 2, 3, 5], abs=0.02)


@pytest.mark.parametrize("x", [[-1.7e308, 1.7e308, 0.0], [1.7e308] * 3, [5e-324, 1.0]])
def test_extreme_numbers_have_a_histogram_or_an_error(x):
    with warnings.catch_warnings():
        warnings.simplefilter("error", RuntimeWarning)
        with contextlib.suppress(FacetineError):
            texts_of(fig(x=x).map(x="x").histogram())


def test_more_bins_than_a_sheet_can_show_are_refused_or_said():
    x = np.append(rng.normal(size=5000), 1e5)
    assert Sheet(fig(x=x).map(x="x").histogram()).said("bins-limited")
    with pytest.raises(OptionError, match="bins"):
        texts_of(fig(x=x).map(x="x").histogram(bin_width=1e-3))


# Expressions


def test_expressions_see_whole_numbers_dates_truth_values_and_decimals():
    data = {
        "year": [2030, 2031], "month": [2, 3], "day": [datetime.date(2030, 2, 1), datetime.date(2031, 3, 1)],
        "yes": [True, False], "price": [decimal.Decimal("1.10"), decimal.Decimal("2.20")], "v": [1.0, 2.0],
    }  # fmt: skip
    base = ft.figure(data)
    made = base.derive(t="make_date(year, month, 1)").map(x="t", y="v").points()
    assert laid_out(made).scales.first("x").kind == "time"
    assert len(Sheet(base.keep("yes").map(x="v", y="v").points()).circles(1)) == 1
    assert len(Sheet(base.keep("day > DATE '2030-06-01'").map(x="v", y="v").points()).circles(1)) == 1
    assert len(Sheet(base.keep("price + 1.1 = 2.2").map(x="v", y="v").points()).circles(1)) == 1
    assert len(Sheet(base.keep("year % 2 = 1").map(x="v", y="v").points()).circles(1)) == 1
    import polars as pl

    polars = ft.figure(pl.DataFrame({name: data[name] for name in ("year", "month", "day", "yes", "price", "v")}))
    for where in ("yes", "day > DATE '2030-06-01'", "price + 1.1 = 2.2", "make_date(year, month, 1) = DATE '2030-02-01'"):
        assert len(Sheet(polars.keep(where).map(x="v", y="v").points()).circles(1)) == 1, where
    with_gaps = ft.figure(pd.DataFrame({"n": pd.array([1, None, 3], "Int64"), "v": [1.0, 2, 3]}))
    assert len(Sheet(with_gaps.keep("n IS NULL").map(x="v", y="v").points()).circles(1)) == 1


# Chance


def test_the_seed_governs_all_chance_and_nothing_else_does():
    data = WHEELS.assign(one="all")
    figures = {
        "order": ft.figure(data).map(x="age_days", y="mass_kg", color="rind").points(),
        "jitter": ft.figure(data).map(x="rind", y="mass_kg").points(arrange="jitter"),
        "thin": ft.figure(data).map(x="age_days", y="mass_kg").points(thin=50),
        "bootstrap": ft.figure(data).map(x="rind", y="mass_kg").intervals(bootstrap=200, value_labels="{low:.6f}"),
    }
    from xml.etree.ElementTree import tostring

    from conftest import svg_of

    def bytes_of(figure):
        return tostring(svg_of(figure))

    for name, figure in figures.items():
        assert bytes_of(figure) == bytes_of(figure), name
        assert bytes_of(figure) == bytes_of(figure.seed(1)), name
        assert bytes_of(figure) != bytes_of(figure.seed(2)), name
    still = (
        ft.figure(data).map(x="rind", y="mass_kg").boxes().trend if False else ft.figure(data).map(x="rind", y="mass_kg").boxes()
    )
    assert bytes_of(still) == bytes_of(still.seed(9))
    with pytest.raises(OptionError):
        ft.figure(data).theme(seed=3)


def test_thinning_keeps_the_axes_of_all_rows():
    base = ft.figure(ft.demo_data("scans")).map(x="glow", y="grain")
    whole, thin = laid_out(base.points()), laid_out(base.points(thin=20))
    for axis in "xy":
        assert thin.scales.first(axis).extent == whole.scales.first(axis).extent
    assert len(Sheet(base.points(thin=20)).circles(1)) == 20


# Notes


def test_notes_name_panel_and_group_and_count_the_others():
    data = pd.DataFrame(
        {"p": np.repeat(["u", "v", "w"], 5), "g": (["a"] * 4 + ["b"]) * 3, "x": np.arange(15.0), "y": np.arange(15.0)}
    )
    figure = ft.figure(data).map(x="x", y="y", color="g").trend().facet("p")
    (note,) = [note for note in notes(figure) if "line" in note]
    assert "figure.trend" in note
    assert "panel 'u'" in note
    assert "group 'b'" in note
    assert "2 others alike" in note


def test_notes_point_at_the_callers_line_and_none_comes_twice(tmp_path):
    script = tmp_path / "mine.py"
    script.write_text(
        "import facetine as ft\n"
        "fig = ft.figure({'a': [1.0, None], 'b': [1.0, 2]}).map(x='a', y='b').points()\n"
        "def inner():\n"
        "    return fig.export('a.svg')\n"
        "inner()\n",
        "utf-8",
    )
    done = subprocess.run([sys.executable, str(script)], capture_output=True, text=True, cwd=tmp_path, check=True)
    assert f"{script}:4: FacetineFinding" in done.stderr
    assert done.stderr.count("without a left out") == 1
    assert "facetine/" not in done.stderr


def test_a_line_breaks_at_a_gap_also_when_the_axes_are_swapped():
    data = {"t": [1.0, 2, 3, 4, 5], "v": [1.0, 2, np.nan, 2, 1]}
    for figure in (ft.figure(data).map(x="t", y="v").lines(), ft.figure(data).map(x="t", y="v").lines().swap_axes()):
        (path,) = Sheet(figure).paths(1)
        assert path["d"].count("M") == 2
        made = laid_out(figure)
        assert [str(note) for note in made.findings] == ["figure.lines: 1 row without v left out: gaps where they would be"]


def test_a_row_is_counted_as_left_out_once():
    data = {"x": [np.nan, 1.0, -1.0], "y": [-1.0, 1.0, np.nan]}
    made = laid_out(ft.figure(data).map(x="x", y="y").points().scale("x", "log").scale("y", "log"))
    assert sum(int(note.text.split()[0]) for note in made.findings) == 2


def test_a_line_of_means_breaks_where_no_row_has_a_value():
    data = {"t": [1.0, 1, 2, 2, 3, 3, 4, 4, 5], "v": [1.0, 3, 2, 4, np.nan, np.nan, 2, np.nan, 1]}
    (path,) = Sheet(ft.figure(data).map(x="t", y="v").lines(aggregate="mean")).paths(1)
    assert path["d"].count("M") == 2
    table = laid_out(ft.figure(data).map(x="t", y="v").lines(aggregate="mean")).runs[0].table
    np.testing.assert_array_equal(table["y"], [2.0, 3.0, np.nan, 2.0, 1.0])


def test_a_line_of_counts_breaks_where_no_row_has_a_value():
    data = {"t": [1.0, 1, 2, 3, 4], "v": [1.0, 3, 2, np.nan, 2]}
    figure = ft.figure(data).map(x="t", y="v").lines(aggregate="count")
    (path,) = Sheet(figure).paths(1)
    assert path["d"].count("M") == 2
    np.testing.assert_array_equal(laid_out(figure).runs[0].table["y"], [2.0, 1.0, np.nan, 1.0])


@pytest.mark.parametrize("layer", ["points", "segments"])
def test_colors_of_the_widest_range_a_float_can_hold(layer):
    far = np.finfo(float).max
    data = {"x": [1.0, 2, 3], "y": [1.0, 2, 3], "v": [-far, 0.0, far]}
    ends = {"x_to": "y", "y_to": "x"} if layer == "segments" else {}
    made = laid_out(getattr(ft.figure(data).map(x="x", y="y", color="v", **ends), layer)())
    scale = made.scales.looks["color"]
    np.testing.assert_array_equal(scale.share(np.array(data["v"])), [0.0, 0.5, 1.0])
    (legend,) = made.layout.legends.legends
    assert all(0 <= place <= 1 for place in legend.legend.bar.at)
