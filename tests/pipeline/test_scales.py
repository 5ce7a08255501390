"""Scales, layers and notes, on built figures."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, said, shapes, svg_of, texts
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.core.color.palettes import QUALITATIVE
from facetine.messages.errors import KindError, OptionError, ScaleError

WHEELS = ft.demo_data("wheels")
ORCHARD = QUALITATIVE["orchard"]


def fig(**columns):
    return ft.figure(columns)


def ticks(figure, axis, width="85 mm"):
    made = laid_out(figure, width)
    return (made.layout.x_labels if axis == "x" else made.layout.y_labels).ticks


def colors(figure):
    """The color of every level of the figure's color scale."""
    scale = laid_out(figure).scales.looks["color"]
    return dict(zip(scale.labels, scale.values, strict=True))


@given(st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=20))
def test_all_data_lie_on_the_axis(values):
    made = laid_out(fig(a=values, b=values).map(x="a", y="b").points())
    share = made.scales.first("x").extent.share(np.array(values))
    assert (share >= -1e-9).all()
    assert (share <= 1 + 1e-9).all()


def test_limits_are_a_window_and_what_lies_outside_is_said():
    figure = fig(a=[1.0, 2, 30], b=[1.0, 2, 3]).map(x="a", y="b").points().scale("x", limits=(0, 10))
    made = laid_out(figure)
    assert len(made.tables[0]) == 2
    assert said(made) == ("figure.points: 1 point not shown: outside the limits of x",)
    span = made.scales.first("x").extent
    assert (span.low, span.high) == (0, 10)


def test_one_end_of_the_limits_may_follow_the_data():
    span = laid_out(fig(a=[1.0, 20], b=[1.0, 2]).map(x="a", y="b").points().scale("x", limits=(0, None))).scales.first("x").extent
    assert span.low == 0
    assert span.high > 20


def test_reverse_margin_and_include():
    base = fig(a=[1.0, 2], b=[1.0, 2]).map(x="a", y="b").points()
    assert laid_out(base.scale("x", reverse=True)).scales.first("x").extent.share(np.array([1.0, 2])).tolist()[0] > 0.5
    span = laid_out(base.scale("x", margin=0)).scales.first("x").extent
    assert (span.low, span.high) == (1, 2)
    assert laid_out(base.scale("x", include=[0, 5])).scales.first("x").extent.low < 0


def test_ticks_can_be_listed_or_counted():
    base = fig(a=[0.0, 100], b=[1.0, 2]).map(x="a", y="b").points()
    assert ticks(base.scale("x", ticks=[0, 33, 100, 500]), "x").labels == ("0", "33", "100", "500")
    limited = ticks(base.scale("x", ticks=[0, 33, 100, 500], limits=(0, 100)), "x")
    assert (limited.labels, limited.beyond) == (("0", "33", "100"), ("500",))
    assert len(ticks(base.scale("x", ticks=0), "x").at) == 0
    assert len(ticks(base.scale("x", ticks=3), "x").at) <= 4
    assert ticks(base.scale("x", minor_ticks=True), "x").minor


def test_formats_of_an_axis():
    base = fig(a=[0.0, 1], b=[1.0, 2]).map(x="a", y="b").points()
    assert "50 %" in ticks(base.scale("x", format="percent", ticks=[0, 0.5, 1]), "x").labels
    assert ticks(base.scale("x", format={0: "none", 1: "all"}, ticks=[0, 1]), "x").labels == ("none", "all")
    assert ticks(base.scale("x", format=lambda value: f"*{value:g}*", ticks=[0, 1]), "x").labels == ("*0*", "*1*")


def test_log_axes_drop_what_has_no_place_and_say_so():
    figure = fig(a=[0.0, -1, 1, 10, 1000], b=[1.0, 2, 3, 4, 5]).map(x="a", y="b").points().scale("x", "log")
    made = laid_out(figure)
    assert len(made.tables[0]) == 3
    assert said(made) == ("figure.points: 2 rows with a of zero or less left out: a log scale has no place for them",)
    assert np.allclose(made.tables[0]["x"], [0, 1, 3])


def test_missing_and_infinite_values_are_counted_and_said_once():
    figure = fig(a=[1.0, np.nan, np.inf, 4], b=[1.0, 2, 3, np.nan]).map(x="a", y="b").points().points(size=2)
    assert notes(figure) == (
        "figure.points: 1 row with an infinite a left out",
        "figure.points: 1 row without a left out",
        "figure.points: 1 row without b left out",
        'figure.points: these points draw the same rows as those before them; change("points", …) varies a layer that is there',
    )


def test_time_axes_have_calendar_ticks_and_take_limits_as_text():
    sales = ft.figure(ft.demo_data("sales")).map(x="month", y="retail").lines()
    assert "Jan\n2029" in ticks(sales, "x").labels
    short = sales.scale("x", limits=("2029-03", "2029-09"))
    assert ticks(short, "x").labels[0].endswith("2029")
    assert ticks(sales.scale("x", format="%m/%Y", ticks=["2029-06-01"]), "x").labels == ("06/2029",)
    with pytest.raises(ScaleError, match="no date"):
        laid_out(sales.scale("x", limits=("spring", None)))


def test_categories_on_y_are_read_from_the_top():
    made = laid_out(fig(a=[1.0, 2], k=["first", "second"]).map(x="a", y="k").points())
    share = made.scales.first("y").extent.share(np.array([0.0, 1.0]))
    assert share[0] > share[1]


def test_orders_the_scales_then_the_codebooks_then_the_datas_then_natural():
    data = {"k": ["site 10", "site 2", "site 1"], "v": [1.0, 2, 3]}
    plain = ft.figure(data).map(x="k", y="v").points()
    assert ticks(plain, "x").labels == ("site 1", "site 2", "site 10")
    booked = ft.figure(data, codebook={"k": {"order": ["site 2"]}}).map(x="k", y="v").points()
    assert ticks(booked, "x").labels == ("site 2", "site 1", "site 10")
    assert ticks(booked.scale("x", order=["site 10", "site 1"]), "x").labels == ("site 10", "site 1", "site 2")
    frame = pd.DataFrame({"k": pd.Categorical(["b", "a", "c"], categories=["c", "b", "a"]), "v": [1, 2, 3]})
    assert ticks(ft.figure(frame).map(x="k", y="v").points(), "x").labels == ("c", "b", "a")


def test_a_missing_category_is_dropped_or_shown_in_its_own_place():
    base = ft.figure(WHEELS).map(x="grade").bars()
    assert ticks(base, "x").labels == ("plain", "sound", "fine", "grand")
    assert notes(base) == ("figure.bars: 26 rows without grade left out",)
    shown = base.scale("x", missing="show")
    assert ticks(shown, "x").labels[-1] == "missing"
    assert notes(shown) == ()


def test_plain_data_are_no_markup():
    figure = fig(a=[1.0, 2], k=["5*3*2", "H^2^"]).map(x="a", y="k").points()
    assert {"5*3*2", "H^2^"} <= set(texts(svg_of(figure)))


def test_categories_get_the_palette_in_order():
    assert colors(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind").points()) == dict(
        zip(("bloomy", "natural", "washed", "waxed"), ORCHARD, strict=False)
    )


def test_said_colors_win_and_others_are_quiet():
    base = ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind").points()
    found = colors(base.scale("color", colors={"waxed": "red"}, others="silver"))
    assert found == {"bloomy": "#c0c0c0", "natural": "#c0c0c0", "washed": "#c0c0c0", "waxed": "#ff0000"}
    booked = ft.figure(WHEELS, codebook={"rind": {"colors": {"washed": ORCHARD[0]}}}).map(x="ph", y="mass_kg", color="rind")
    found = colors(booked.points())
    assert found["washed"] == ORCHARD[0]
    assert len(set(found.values())) == 4


def test_a_missing_color_is_dropped_shown_gray_or_painted():
    base = ft.figure(WHEELS).map(x="ph", y="mass_kg", color="grade").points()
    assert len(laid_out(base.scale("color", missing="drop")).tables[0]) == 214
    assert colors(base)["missing"] == "#8a9097"
    shown = base.scale("color", missing="show")
    assert len(laid_out(shown).tables[0]) == 240
    assert colors(shown)["missing"] == "#8a9097"
    assert colors(base.scale("color", missing="black"))["missing"] == "#000000"


def test_missing_numbers_can_be_shown_too():
    base = fig(a=[1.0, 2], b=[1.0, 2], c=[np.nan, 1.0]).map(x="a", y="b", color="c").points()
    assert len(laid_out(base.scale("color", missing="drop")).tables[0]) == 1
    made = laid_out(base)
    assert len(made.tables[0]) == 2
    look = made.scales.looks["color"].look(made.tables[0]["color"])
    assert look.of(0) == "#8a9097"


def test_numbers_follow_the_ramp_from_low_to_high():
    scale = laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="age_days").points()).scales.looks["color"]
    look = scale.look(np.array([float(WHEELS.age_days.min()), float(WHEELS.age_days.max())]))
    assert look.of(0) == scale.values[0]
    assert look.of(1) == scale.values[-2]


def test_a_middle_makes_a_diverging_ramp_centered_there():
    scale = laid_out(fig(a=[1.0, 2], b=[1.0, 2], c=[-1.0, 9]).map(x="a", y="b", color="c").points().scale("color", middle=0))
    scale = scale.scales.looks["color"]
    assert (scale.low, scale.high) == (-9, 9)


def test_areas_of_points_are_proportional_to_the_numbers():
    made = laid_out(fig(a=[1.0, 2, 3], b=[1.0, 2, 3], c=[1.0, 4, 16]).map(x="a", y="b", size="c").points())
    look = made.scales.looks["size"].look(made.tables[0]["size"])
    sizes = np.array([look.of(row) for row in range(3)])
    assert np.allclose(sizes**2 / sizes[2] ** 2, [1 / 16, 4 / 16, 1], atol=0.01)


def test_shapes_dashes_and_opacity_are_distinct():
    many = ft.figure(WHEELS).map(x="ph", y="mass_kg", shape="rind", opacity="milk").points()
    looks = laid_out(many).scales.looks
    assert len(set(looks["shape"].values)) == 4
    assert len(set(looks["opacity"].values)) == 3
    climate = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", dash="cellar").lines()
    assert len(set(laid_out(climate).scales.looks["dash"].values)) == 4


def test_too_many_shapes_are_refused_and_too_many_colors_said():
    data = {"k": [f"k{i}" for i in range(12)], "v": [float(i) for i in range(12)]}
    more = {"k": [f"k{i}" for i in range(18)], "v": [float(i) for i in range(18)]}
    with pytest.raises(ScaleError, match="18 categories, but there are 17 shapes"):
        laid_out(ft.figure(more).map(x="v", y="v", shape="k").points())
    assert any("shapes can hardly be told apart" in note for note in notes(ft.figure(data).map(x="v", y="v", shape="k").points()))
    figure = ft.figure(data).map(x="v", y="v", color="k").points()
    assert len(set(colors(figure).values())) == 12
    assert any("colors that can be told apart" in note for note in notes(figure))


def test_aesthetics_of_one_column_share_a_legend():
    made = laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind", shape="rind").points())
    assert len(made.layout.legends.legends) == 1
    two = laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind", shape="milk").points())
    assert len(two.layout.legends.legends) == 2


def test_a_layer_may_stay_out_of_the_legend():
    made = laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind").points(legend=False))
    assert not made.layout.legends.legends


def test_legend_keys_are_opaque():
    root = svg_of(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind").points(opacity=0.2))
    faint = [g for g in root.iter() if g.get("fill-opacity")]
    assert len(faint) == 1


def test_groups_are_interleaved_and_the_order_is_always_the_same():
    figure = ft.figure({"a": np.arange(100.0), "b": np.arange(100.0), "k": ["u"] * 50 + ["v"] * 50})
    figure = figure.map(x="a", y="b", color="k").points()

    def order():
        return [circle["fill"] for circle in shapes(svg_of(figure), "circle") if "fill" in circle][:100]

    assert order() == order()
    assert len(set(order()[:20])) == 2


def bars_of(figure):
    table = laid_out(figure).tables[0]
    return table["y_low"], table["y_high"]


def test_bars_count_rows_where_no_height_is_mapped():
    low, high = bars_of(ft.figure(WHEELS).map(x="rind").bars())
    assert (low == 0).all()
    assert high.tolist() == WHEELS.rind.value_counts().sort_index().tolist()


def test_stacked_counts_sum_up_and_shares_to_one():
    base = ft.figure(WHEELS).map(x="rind", color="milk")
    table = laid_out(base.bars()).tables[0]
    tops = pd.Series(table["y_high"]).groupby(np.asarray(table["x"])).max()
    assert tops.tolist() == WHEELS.rind.value_counts().sort_index().tolist()
    table = laid_out(base.bars(arrange="share")).tables[0]
    assert np.allclose(pd.Series(table["y_high"]).groupby(np.asarray(table["x"])).max(), 1)


def test_clustered_bars_stand_side_by_side():
    table = laid_out(ft.figure(WHEELS).map(x="rind", color="milk").bars(arrange="side_by_side")).tables[0]
    order = np.argsort(table["x_low"])
    assert (table["x_low"][order][1:] >= table["x_high"][order][:-1] - 1e-9).all()


def test_bars_of_repeated_rows_ask_for_an_aggregate(tmp_path):
    with pytest.raises(OptionError, match="240 rows share 4 bars") as caught:
        ft.figure(WHEELS).map(x="rind", y="mass_kg").bars().export("never.svg")
    assert "mean, median, sum, count, min, max" in str(caught.value)
    assert not (tmp_path / "never.svg").exists()


@pytest.mark.parametrize("how", ["mean", "median", "sum", "min", "max", "count"])
def test_aggregates_are_those_of_the_frame(how):
    _, high = bars_of(ft.figure(WHEELS).map(x="rind", y="mass_kg").bars(aggregate=how))
    assert np.allclose(high, getattr(WHEELS.groupby("rind").mass_kg, how)())


def test_a_category_on_y_draws_lying_bars():
    made = laid_out(ft.figure(WHEELS).map(y="rind").bars())
    table = made.tables[0]
    assert (table["x_low"] == 0).all()
    assert table["x_high"].sum() == 240
    assert made.scales.first("x").title == "Count"


def test_bars_grow_out_of_the_axis():
    made = laid_out(ft.figure(WHEELS).map(x="rind").bars())
    assert made.scales.first("y").extent.low == 0


def test_bars_over_time_have_the_width_of_the_smallest_gap():
    table = laid_out(ft.figure(ft.demo_data("sales")).map(x="month", y="retail").bars(bar_width=1)).tables[0]
    order = np.argsort(table["x_low"])
    assert (table["x_high"][order][:-1] <= table["x_low"][order][1:] + 1).all()


def test_a_number_can_not_color_bars_that_stand_for_many_rows():
    with pytest.raises(KindError, match="every mark stands for several rows"):
        laid_out(ft.figure(WHEELS).map(x="rind").bars(map={"color": "mass_kg"}))
    inherited = notes(ft.figure(WHEELS).map(x="rind", color="mass_kg").bars())
    assert any("color follows 'mass_kg'" in note for note in inherited)


def test_lines_follow_x_or_the_rows():
    data = {"t": [3.0, 1, 2], "v": [30.0, 10, 20]}
    base = ft.figure(data).map(x="t", y="v")
    assert laid_out(base.lines()).tables[0]["x"].tolist() == [1, 2, 3]
    assert laid_out(base.lines(join_by="rows")).tables[0]["x"].tolist() == [3, 1, 2]


def test_lines_with_several_rows_at_one_x_say_so():
    base = ft.figure({"t": [1.0, 1, 2], "v": [1.0, 3, 2]}).map(x="t", y="v")
    assert "aggregate" in notes(base.lines())[0]
    assert laid_out(base.lines(aggregate="mean")).tables[0]["y"].tolist() == [2, 2]
    assert notes(base.lines(aggregate="mean")) == ()


def test_steps_hold_a_value_until_the_next():
    root = svg_of(ft.figure({"t": [1.0, 2], "v": [1.0, 3]}).map(x="t", y="v").lines(steps=True))
    path = next(shape["d"] for shape in shapes(root, "path") if shape.get("stroke-linecap"))
    assert path.count("L") == 2


def test_a_lone_row_between_gaps_is_not_lost():
    root = svg_of(ft.figure({"t": [1.0, 2, 3], "v": [np.nan, 3, np.nan]}).map(x="t", y="v").lines())
    assert any(shape.get("stroke-linecap") == "round" for shape in shapes(root, "path"))


@given(st.permutations(range(30)))
def test_the_order_of_rows_changes_nothing_that_is_computed(order):
    rows = WHEELS.iloc[:30]
    mixed = rows.iloc[list(order)]
    one = laid_out(ft.figure(rows).map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean")).tables[0]
    other = laid_out(ft.figure(mixed).map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean")).tables[0]
    assert np.allclose(one["y_high"], other["y_high"])


def test_panels_hold_the_rows_of_their_value():
    made = laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg").points().facet("cellar"))
    counts = np.bincount(made.tables[0].panel)
    assert counts.tolist() == WHEELS.cellar.value_counts().sort_index().tolist()
    assert len(made.layout.panels) == 4


def test_panels_are_in_the_said_order_with_the_said_headings():
    figure = ft.figure(WHEELS).map(x="ph", y="mass_kg").points().facet("cellar", order=["Tunnel"], heading="{name}: {value}")
    heads = [text.content for text in laid_out(figure).scene.texts() if text.role == "heading"]
    assert heads == ["Cellar: Tunnel", "Cellar: Loft", "Cellar: North", "Cellar: Quarry"]
    upper = figure.facet("cellar", heading=str.upper)
    assert "LOFT" in [text.content for text in laid_out(upper).scene.texts()]


def test_data_that_know_nothing_of_the_facet_stand_in_every_panel():
    figure = ft.figure(WHEELS).map(x="ph", y="mass_kg").points().facet("cellar")
    figure = figure.lines(data={"ph": [5.0, 6.0], "mass_kg": [1.0, 9.0]})
    assert np.bincount(laid_out(figure).tables[1].panel).tolist() == [2, 2, 2, 2]


def test_a_number_makes_panels_of_its_values():
    made = laid_out(ft.figure(ft.demo_data("cores")).map(x="salt_pct", y="depth_mm").points().facet("year"))
    assert len(made.layout.panels) == 7


def test_splitting_into_panels_equals_separate_figures():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg").bars(aggregate="median")
    table = laid_out(base.facet("milk")).tables[0]
    for number, milk in enumerate(sorted(WHEELS.milk.unique())):
        alone = laid_out(ft.figure(WHEELS[WHEELS.milk == milk]).map(x="rind", y="mass_kg").bars(aggregate="median"))
        assert np.allclose(table["y_high"][table.panel == number], alone.tables[0]["y_high"])


def test_titles_of_guides_the_figures_then_the_scales_then_the_codebooks_then_words():
    data = {"mass_kg": [1.0, 2], "b": [1.0, 2]}
    base = ft.figure(data).map(x="mass_kg", y="b").points()
    assert "Mass (kg)" in texts(svg_of(base))
    booked = ft.figure(data, codebook={"mass_kg": {"label": "Weight", "unit": "kg"}}).map(x="mass_kg", y="b").points()
    assert "Weight (kg)" in texts(svg_of(booked))
    assert "Scale" in texts(svg_of(booked.scale("x", title="Scale")))
    assert "Figure" in texts(svg_of(booked.scale("x", title="Scale").titles(x="Figure")))
    assert "B" not in texts(svg_of(booked.titles(y="")))


def test_characters_without_a_glyph_are_said():
    figure = fig(a=[1.0], b=[1.0]).map(x="a", y="b").points().titles("A \U0001f9c0 title")
    assert any("U+1F9C0" in note for note in notes(figure))


@pytest.mark.parametrize("count", [0, 1])
@pytest.mark.parametrize("layer", ["points", "lines", "bars"])
def test_no_row_and_one_row_can_be_drawn(layer, count):
    data = {"a": np.ones(count), "b": np.ones(count), "k": np.array(["u"] * count, object)}
    for color in ("k", "a"):
        figure = ft.figure(data)._add_layer(layer, {}).map(x="a", y="b", color=color).facet("k")
        if layer != "bars" or color == "k":
            assert svg_of(figure) is not None


def test_all_missing_columns_draw_empty_axes():
    figure = ft.figure({"a": [None, None], "b": [1.0, 2]}).map(x="a", y="b").points()
    assert "figure: there are no rows to draw; the figure is empty" in notes(figure)
