"""Direct names, stepped bars, classes, looks as given, and ticks at calendar steps."""

import numpy as np
import pytest
from conftest import laid_out, said, svg_of, texts
from hypothesis import given
from hypothesis import strategies as st
from pipeline.test_layout import assert_sound

import facetine as ft
from facetine.core.geometry.apart import moved_apart
from facetine.messages.errors import FacetineError
from facetine.scene.marks import Rects

CLIMATE = ft.figure(ft.demo_data("climate")).derive(week="date_trunc('week', time)").map(x="week", y="temp_c", color="cellar")
WHEELS = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg")


@given(st.lists(st.floats(0, 100), max_size=20), st.floats(0.1, 12))
def test_what_is_moved_apart_keeps_its_order_its_distance_and_its_room(places, size):
    at = np.array(places)
    found = moved_apart(at, size, 0.0, 100.0)
    least = min(size, 100 / max(len(at) - 1, 1))
    if len(at):
        assert np.diff(np.sort(found)).min(initial=np.inf) >= least - 1e-9
        assert found.min() >= -1e-9
        assert found.max() <= 100 + 1e-9
        order = np.argsort(at, kind="stable")
        assert (np.diff(found[order]) >= -1e-9).all()


def test_places_with_room_stay_where_they_are():
    assert moved_apart(np.array([30.0, 10, 20]), 5, 0, 100).tolist() == [30, 10, 20]


@pytest.mark.parametrize("width", [60, 85, 180])
@pytest.mark.parametrize("size", [6, 8, 14])
def test_direct_names_replace_the_legend_and_never_overlap(width, size):
    made = laid_out(CLIMATE.lines(aggregate="mean", legend="direct").theme(text_size=size), width)
    assert not made.layout.legends.legends
    names = [text for text in made.scene.texts() if text.role == "name"]
    assert {text.content for text in names} == {"Loft", "North", "Quarry", "Tunnel"}
    assert all(text.x > made.layout.panels[0].box.right for text in names)
    assert_sound(made)


def test_automatic_names_are_for_up_to_three_lines():
    assert laid_out(CLIMATE.lines(aggregate="mean", legend="auto")).layout.legends.legends
    two = CLIMATE.keep("cellar IN ('Loft', 'North')").lines(aggregate="mean", legend="auto")
    assert not laid_out(two).layout.legends.legends


def test_names_give_way_to_a_legend_beside_other_panels():
    made = laid_out(CLIMATE.lines(aggregate="mean", legend="direct").facet("cellar", per_row=2))
    assert made.layout.legends.legends


def test_a_classed_color_has_a_stepped_bar():
    figure = WHEELS.map(color="firmness_n").points().scale("color", "classed", breaks=[20, 40, 60])
    made = laid_out(figure)
    (legend,) = made.layout.legends.legends
    assert legend.legend.bar.stepped
    assert legend.legend.bar.labels == ("below", "20", "40", "60", "beyond")
    scale = made.scales.looks["color"]
    assert scale.place(np.array([5.0, 20, 39.9, 60, 100, np.nan])).tolist() == [0, 1, 1, 3, 3, 4]
    assert len(set(scale.values[:4])) == 4
    bars = [
        item
        for group in made.scene.root.items
        if hasattr(group, "items")
        for part in group.items
        if hasattr(part, "items")
        for item in part.items
    ]
    assert any(isinstance(item, Rects) and len(item.boxes) == 4 for item in bars)


def test_classes_of_sizes_are_named_in_a_legend_with_open_ends():
    said = texts(svg_of(WHEELS.map(size="firmness_n").points().scale("size", "classed", breaks=[20, 40])))
    assert {"below 20", "20 to 40", "40 and beyond"} <= set(said)


def test_a_number_of_classes_makes_round_breaks():
    made = laid_out(WHEELS.map(color="firmness_n").points().scale("color", "classed", breaks=4))
    breaks = made.scales.looks["color"].breaks
    assert 2 <= len(breaks) <= 6
    assert all(value % 5 == 0 for value in breaks)


def test_looks_can_stand_in_the_data():
    data = {
        "a": [1.0, 2, 3],
        "b": [1.0, 2, 3],
        "c": ["teal", "#ff0000", "teal"],
        "s": [4.0, 9.0, 4.0],
        "m": ["disc", "square", "disc"],
    }
    figure = ft.figure(data).map(x="a", y="b", color="c", size="s", shape="m").points()
    figure = figure.scale("color", "as_given").scale("size", "as_given").scale("shape", "as_given")
    made = laid_out(figure)
    assert set(made.scales.looks["color"].values) == {"#008080", "#ff0000"}
    assert set(made.scales.looks["size"].values) == {4.0, 9.0}
    assert not made.layout.legends.legends
    named = figure.scale("color", format={"teal": "sea", "#ff0000": "alarm"})
    assert {"sea", "alarm"} <= set(texts(svg_of(named)))


def test_ticks_at_steps_of_the_calendar():
    sales = ft.figure(ft.demo_data("sales")).map(x="month", y="retail").lines()
    at = np.array(laid_out(sales.scale("x", ticks="every 6 months"), 180).layout.x_labels.ticks.at)
    moments = at.astype(np.int64).astype("datetime64[us]").astype("datetime64[M]")
    assert (np.diff(moments).astype(int) == 6).all()
    assert (moments.astype(int) % 6 == 0).all()
    years = laid_out(sales.scale("x", ticks="every year")).layout.x_labels.ticks.labels
    assert years == ("2028", "2029", "2030", "2031")  # the last one stands in the margin


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: WHEELS.points().scale("x", ticks="every 3 months"), "are for times"),
        (lambda: WHEELS.points().scale("x", ticks="monthly"), "says no ticks"),
        (lambda: CLIMATE.lines().scale("x", ticks="every second"), "ticks"),
        (lambda: WHEELS.points().scale("x", "classed"), "not for places"),
        (lambda: WHEELS.map(color="rind").points().scale("color", "classed"), "needs numbers"),
        (lambda: WHEELS.map(color="ph").points().scale("color", "classed", breaks=[3, 2]), "must increase"),
        (lambda: WHEELS.map(color="ph").points().scale("color", "log", breaks=[3]), "belongs to classed"),
        (lambda: WHEELS.map(color="rind").points().scale("color", "as_given"), "no color named"),
        (lambda: WHEELS.map(shape="rind").points().scale("shape", "as_given"), "no shape"),
        (lambda: WHEELS.points(legend="below"), "can't be 'below'"),
    ],
)  # fmt: skip
def test_a_wrong_guide_is_told(make, said):
    with pytest.raises(FacetineError, match=said):
        laid_out(make())


def bar_of(figure, **options):
    (legend,) = laid_out(figure, **options).layout.legends.legends
    return legend.legend.bar


def test_limits_of_colors_say_that_there_is_more_beyond_them():
    figure = WHEELS.map(color="firmness_n").points()
    assert bar_of(figure.scale("color", limits=(20, 60)), width=180).labels[:: len("ab")] == ("below 20", "beyond 60")
    assert not {"below", "beyond"} & {label.split()[0] for label in bar_of(figure.scale("color", limits=(0, 1000))).labels}
    upper = bar_of(figure.scale("color", limits=(None, 60)), width=180)
    assert upper.labels[-1] == "beyond 60"
    assert upper.at[-1] == 1.0
    assert not upper.labels[0].startswith("below")


def test_the_words_of_open_ends_and_of_missing_values_can_be_said():
    figure = WHEELS.map(color="firmness_n").points()
    words = {"below": "unter", "beyond": "über"}
    assert bar_of(figure.scale("color", limits=(20, 60), format=words), width=180).labels[-1] == "über 60"
    classed = bar_of(figure.scale("color", "classed", breaks=[20, 40], format=words), width=180)
    assert classed.labels == ("unter", "20", "40", "über")
    graded = WHEELS.map(color="grade").points().scale("color", missing="show", format={"missing": "not yet"})
    assert laid_out(graded).scales.looks["color"].labels[-1] == "not yet"


def test_signs_stand_at_the_ticks():
    made = laid_out(WHEELS.points().scale("y", format="€{value:,.2f}"))
    assert all(label.startswith("€") for label in made.layout.y_labels.ticks.labels)


def test_long_names_move_to_two_rows_before_they_are_turned():
    words = ["bloomywhite", "naturalrind", "washed-twice", "waxed-black"]
    made = laid_out(ft.figure({"k": words, "v": [1.0, 2, 3, 4]}).map(x="k", y="v").points(), 50)
    labels = made.layout.x_labels
    assert labels.angle == 0
    assert len(set(labels.drops)) == 2
    ticks = [text for text in made.scene.texts() if text.content in words]
    assert len({round(text.y, 2) for text in ticks}) == 2
    narrow = laid_out(ft.figure({"k": words, "v": [1.0, 2, 3, 4]}).map(x="k", y="v").points(), 36).layout.x_labels
    assert narrow.angle == 90


def test_many_entries_with_long_names_stand_in_columns_or_rows_without_meeting():
    from test_layout import assert_sound

    names = [
        f"{part} shelf of the {row} row" for row in ("upper", "lower", "middle") for part in ("first", "second", "third", "last")
    ]
    data = {"x": np.arange(12.0), "y": np.arange(12.0), "k": names}
    figure = ft.figure(data).map(x="x", y="y", color="k").points()
    for width in (85, 120, 180):
        made = laid_out(figure, width, "120 mm")
        assert_sound(made)
        (legend,) = made.layout.legends.legends
        assert len(legend.entries) == 12


def test_a_legend_of_opacities_shows_them_and_others_are_opaque():
    figure = WHEELS.map(color="rind", opacity="grade").points(shape="square")
    made = laid_out(figure, 180)
    (group,) = [item for item in made.scene.root.items if getattr(item, "name", "") == "legends"]
    shown = {legend.name: [entry.items[0].opacity for entry in legend.items[1:]] for legend in group.items}
    assert shown["legend-color"] == [1.0] * 4
    assert shown["legend-opacity"] == sorted(set(shown["legend-opacity"]))
    assert len(shown["legend-opacity"]) == 4


def test_labels_of_one_row_of_a_legend_stand_on_one_line():
    made = laid_out(WHEELS.map(size="mass_kg").points().scale("size", span=(None, 30)), 180)
    lines = {round(text.y, 3) for text in made.scene.texts() if text.role in ("legend", "legend title")}
    assert len(lines) == 1


def test_keys_of_shapes_have_no_color_that_stands_for_something_else():
    made = laid_out(WHEELS.map(color="rind", shape="milk").points(), 180)
    (group,) = [item for item in made.scene.root.items if getattr(item, "name", "") == "legends"]
    fills = {legend.name: {entry.items[0].styles[0].fill for entry in legend.items[1:]} for legend in group.items}
    assert len(fills["legend-color"]) == 4
    assert len(fills["legend-shape"]) == 1
    assert not fills["legend-shape"] & fills["legend-color"]
    ringed = laid_out(WHEELS.map(outline="rind", size="mass_kg").points(color="white"), 180)
    (group,) = [item for item in ringed.scene.root.items if getattr(item, "name", "") == "legends"]
    rings = {legend.name: {entry.items[0].styles[0].outline for entry in legend.items[1:]} for legend in group.items}
    assert None not in rings["legend-size"]
    assert not rings["legend-size"] & rings["legend-outline"]
    alone = laid_out(WHEELS.map(shape="milk").points(color="teal"), 180)
    (group,) = [item for item in alone.scene.root.items if getattr(item, "name", "") == "legends"]
    assert group.items[0].items[1].items[0].styles[0].fill == "#008080"


@pytest.mark.parametrize("kind", ["log", "logit", "signed_log", "sqrt", None])
def test_a_figure_without_rows_invents_no_numbers(kind):
    data = {"a": np.array([], float), "b": np.array([], float), "t": np.array([], "datetime64[us]")}
    figure = ft.figure(data).map(x="t", y="b", color="a").points().scale("y", kind).scale("color", kind)
    made = laid_out(figure)
    assert not [text for text in made.scene.texts() if text.role == "tick"]
    assert any("no rows" in note for note in said(made))
    windowed = laid_out(figure.scale("y", limits=(0.1, 0.9)))
    assert [text for text in windowed.scene.texts() if text.role == "tick"]


@pytest.mark.parametrize(
    ("limits", "kind", "said"),
    [
        (("2030-01-01", None), None, "is no number"),
        ((True, 5), None, "is no number"),
        ((5, 1), None, "make no range"),
        ((-1, 10), "log", "no place on a log scale"),
    ],
)
def test_limits_of_looks_are_checked(limits, kind, said):
    with pytest.raises(FacetineError, match=said):
        laid_out(WHEELS.map(color="firmness_n").points().scale("color", kind, limits=limits))


FEW = {"x": [1.0, 2, 3], "y": [1.0, 2, 3], "k": ["b", "c", "b"]}
MORE = {"x": [1.0, 2, 3, 4], "y": [1.0, 2, 3, 0], "k": ["a", "b", "c", "d"]}


def explained(layout, key=0):
    """What a layout's first legend says, and the looks of one key of each of its entries."""
    entries = layout.legends.legends[0].legend.entries
    return {entry.label: {name: look.values[0] for name, look in entry.keys[key][1].items()} for entry in entries}


def test_layers_with_other_values_of_one_column_share_a_legend_that_holds_all():
    figure = ft.figure(FEW).map(x="x", y="y", color="k").points().points(data=MORE, map={"shape": "k", "color": None})
    made = laid_out(figure)
    assert len(made.layout.legends.legends) == 1
    looks = explained(made.layout, key=1)
    assert list(looks) == MORE["k"]
    assert [looks[value]["shape"] for value in MORE["k"]] == list(made.scales.looks["shape"].values)
    assert len({look["shape"] for look in looks.values()}) == 4


def test_figures_of_a_plate_agree_on_looks_that_share_a_legend():
    both = ft.figure(FEW).map(x="x", y="y", color="k", shape="k").points()
    one = ft.figure(MORE).map(x="x", y="y", shape="k").points()
    first, second = map(explained, laid_out(ft.plate([[both, one]]), 180).layouts)
    assert list(first) == list(second) == ["b", "c", "a", "d"]
    assert all(first[value]["shape"] == second[value]["shape"] for value in first)


def test_looks_of_one_column_in_two_orders_have_a_legend_each():
    figure = ft.figure(MORE).map(x="x", y="y", color="k", shape="k").points().scale("color", order=["d", "c", "b", "a"])
    assert [len(placed.entries) for placed in laid_out(figure).layout.legends.legends] == [4, 4]


def test_a_figure_without_rows_takes_the_values_that_its_inset_shows():
    empty = ft.figure({"x": np.zeros(0), "y": np.zeros(0), "k": np.zeros(0, str)})
    inner = ft.figure(MORE).map(x="x", y="y", opacity="k").points()
    figure = empty.map(x="x", y="y", color="k", opacity="k").points().inset(inner, at=(0.4, 0.4, 1, 1))
    assert list(explained(laid_out(figure, 140).layout)) == MORE["k"]
