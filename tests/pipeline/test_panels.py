"""Panels stand in a grid on axes with keys; labels stand at the outer edge of what shares an axis."""

import numpy as np
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.grammar.theme import THEMES
from facetine.pipeline.rows.panels import AxisKey, columns_beside, grid_of, outermost


@given(st.integers(1, 60), st.integers(1, 9))
def test_panels_fill_the_grid_row_by_row(count, columns):
    panels = grid_of(count, columns)
    assert [panel.number for panel in panels] == list(range(count))
    places = [(panel.rows.start, panel.columns.start) for panel in panels]
    assert places == sorted(set(places))
    assert all(column < columns for _, column in places)
    assert max(row for row, _ in places) == (count - 1) // columns


@given(st.integers(1, 60), st.integers(1, 9))
def test_every_row_and_column_of_a_shared_axis_is_labelled_once(count, columns):
    panels = grid_of(count, columns)
    below, left, above, right = outermost(panels)
    for side, line in ((below, "columns"), (above, "columns"), (left, "rows"), (right, "rows")):
        lines = [getattr(panels[number], line) for number in side]
        assert len(lines) == len(set(lines)) == len({getattr(panel, line) for panel in panels})
    for number in below:
        assert not any(
            panel.columns == panels[number].columns and panel.rows.start > panels[number].rows.start for panel in panels
        )


@given(st.integers(2, 30), st.integers(1, 6))
def test_panels_with_axes_of_their_own_are_all_labelled(count, columns):
    own = tuple(panel._replace(y=AxisKey(axis="y", part=panel.number)) for panel in grid_of(count, columns))
    _, left, _, right = outermost(own)
    assert left == right == frozenset(range(count))


@pytest.mark.parametrize(
    ("count", "said", "columns"), [(1, None, 1), (3, None, 3), (4, None, 2), (9, None, 3), (9, 5, 5), (2, 5, 2)]
)
def test_a_grid_is_about_square_where_nothing_is_said(count, said, columns):
    assert columns_beside(count, said, 500.0, THEMES["press"]) == columns
    assert columns_beside(count, None, 60.0, THEMES["press"]) == 1


def test_a_built_figure_holds_its_panels_with_keys_and_headings():
    made = laid_out(ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points().facet("cellar", per_row=3))
    panels = [place.panel for place in made.layout.panels]
    assert [panel.heading for panel in panels] == ["Loft", "North", "Quarry", "Tunnel"]
    assert {panel.x for panel in panels} | {panel.y for panel in panels} == set(made.scales.axes)
    assert [place.labelled("below") for place in made.layout.panels] == [False, True, True, True]
    assert [place.labelled("left") for place in made.layout.panels] == [True, False, False, True]


WHEELS = ft.figure(ft.demo_data("wheels"))
SEPARATE = {
    "points": WHEELS.map(x="age_days", y="mass_kg", color="rind").points(),
    "histogram": WHEELS.map(x="mass_kg").histogram(),
    "lying histogram": WHEELS.map(y="mass_kg").histogram(),
    "trend": WHEELS.map(x="moisture_pct", y="firmness_n").points().trend(),
    "log": WHEELS.map(x="age_days", y="firmness_n").points().scale("y", "log").scale("x", "sqrt"),
    "swapped": WHEELS.map(x="age_days", y="mass_kg").points().swap_axes(),
    "time": ft.figure(ft.demo_data("climate")).keep("month(time) < 3").map(x="time", y="temp_c").lines(aggregate="mean"),
    "density": WHEELS.map(x="ph").density(),
}


@pytest.mark.parametrize("name", list(SEPARATE))
@pytest.mark.parametrize("separate", ["x", "y", "xy"])
def test_each_panel_has_the_range_of_its_own_rows_and_labels_beside_it(name, separate):
    figure = SEPARATE[name].facet("cellar", separate=separate, per_row=2)
    made = laid_out(figure, "140 mm")
    shared = laid_out(SEPARATE[name].facet("cellar", per_row=2), "140 mm")
    places = made.layout.panels
    for axis in "xy":
        keys = {place.panel.key(axis) for place in places}
        assert len(keys) == (4 if axis in separate else 1)
        whole = shared.scales.first(axis).extent
        extents = [made.scales.axes[place.panel.key(axis)].extent for place in places]
        # Bins of a panel's own reach beyond its rows, and not as those of all do.
        assert (
            "histogram" in name
            or all(whole.low - 1e-9 <= extent.low < extent.high <= whole.high + abs(whole.high) * 0.05 for extent in extents)
            or axis not in separate
        )
        if axis in separate and name in ("points", "histogram", "lying histogram", "trend"):
            varying = axis == "x" if name == "histogram" else axis == "y" if name == "lying histogram" else True
            assert len({(extent.low, extent.high) for extent in extents}) > 1 or not varying
    assert all(place.labelled("below") for place in places) or "x" not in separate
    assert all(place.labelled("left") for place in places) or "y" not in separate
    texts = [text for text in made.scene.texts() if text.content.strip()]
    for number, one in enumerate(texts):
        assert one.box.x >= -0.5
        assert one.box.right <= made.scene.width + 0.5
        for other in texts[number + 1 :]:
            assert not one.box.overlaps(other.box, slack=0.3), (one.content, other.content)
    for row in (0, 1):
        boxes = [place.box for place in places if place.panel.rows.start == row]
        assert len({(round(box.y, 6), round(box.height, 6)) for box in boxes}) == 1
    for column in (0, 1):
        boxes = [place.box for place in places if place.panel.columns.start == column]
        assert len({(round(box.x, 6), round(box.width, 6)) for box in boxes}) == 1


def test_points_stand_on_the_axis_of_their_own_panel():
    data = {"x": [1.0, 2, 3, 1, 2, 3], "y": [1.0, 2, 3, 100, 200, 300], "k": ["a"] * 3 + ["b"] * 3}
    made = laid_out(ft.figure(data).map(x="x", y="y").points().facet("k", separate="y"))
    heights = []
    for place in made.layout.panels:
        axis = made.scales.axes[place.panel.y]
        heights.append(
            [place.box.height * axis.extent.share(value) for value in ((1.0, 3.0) if place.panel.number == 0 else (100.0, 300.0))]
        )
    assert heights[0] == pytest.approx(heights[1])
    note = laid_out(ft.figure(data).map(x="x", y="y").points().facet("k", separate="y").scale("y", limits=(0, 10)))
    assert [str(finding) for finding in note.findings if finding.code == "outside-limits"] == [
        "figure.points: 3 points not shown: outside the limits of y"
    ]


def test_what_separate_can_not_do_is_refused():
    with pytest.raises(ft.OptionError, match="separate: can't be 'z'"):
        WHEELS.facet("cellar", separate="z")
    spec = SEPARATE["points"].facet("cellar", separate="xy").to_dict()
    assert spec["facet"] == {"by": "cellar", "separate": "xy"}
    assert ft.from_dict(spec, ft.demo_data("wheels")).to_dict() == spec


ALONE = {
    **SEPARATE,
    "cells": WHEELS.map(x="age_days", y="mass_kg").cells(bins=6),
    "cells of categories": WHEELS.map(x="milk", y="rind").cells(),
    "boxes": WHEELS.map(x="rind", y="mass_kg").boxes(),
    "lying bars": WHEELS.map(y="rind").bars(value_labels="{count:.0f}"),
    "violins": WHEELS.map(x="rind", y="firmness_n").violins(),
    "contours": WHEELS.map(x="moisture_pct", y="firmness_n").contours(),
    "intervals": WHEELS.map(x="rind", y="mass_kg", color="milk").intervals(),
    "density over a histogram": WHEELS.map(x="ph").histogram().density(measure="count"),
    "lines": WHEELS.map(x="rind", y="mass_kg", color="milk").lines(aggregate="median").labels(layer="lines", text="{median:.1f}"),
}


@pytest.mark.parametrize("name", list(ALONE))
def test_a_panel_on_axes_of_its_own_is_computed_as_if_it_were_a_figure(name):
    figure = ALONE[name]
    made = laid_out(figure.facet("cellar", separate="xy", per_row=2), "180 mm", "150 mm")
    for place in made.layout.panels:
        cellar = made.layout.panels[place.panel.number].panel.heading
        single = laid_out(figure.keep(f"cellar = '{cellar}'"), "90 mm", "75 mm")
        for axis in "xy":
            whole, own = single.scales.first(axis), made.scales.axes[place.panel.key(axis)]
            assert own.labels == whole.labels
            assert (own.extent.low, own.extent.high) == pytest.approx((whole.extent.low, whole.extent.high), rel=1e-3)
        for run, alone in zip(made.runs, single.runs, strict=True):
            table = run.table.take(run.table.panel == place.panel.number)
            if name in ("contours", "violins", "trend", "density", "cells of categories"):
                # How finely a curve is drawn follows the room of a panel.
                assert len(table) > 0
                continue
            assert len(table) == len(alone.table)
            for column in ("x", "y", "count", "median", "low", "high"):
                if column in table:
                    np.testing.assert_allclose(np.sort(table[column]), np.sort(alone.table[column]), rtol=1e-9)


def test_a_region_over_categories_stands_at_its_own_on_each_axis():
    data = {"k": ["a", "b", "c", "b", "c", "d"], "v": [1.0, 2, 3, 4, 5, 6], "f": ["one"] * 3 + ["two"] * 3}
    figure = ft.figure(data).map(x="k", y="v").points().reference(x="c").facet("f", separate="x")
    made = laid_out(figure)
    assert [axis.labels for key, axis in made.scales.axes.items() if key.axis == "x"] == [("a", "b", "c"), ("b", "c", "d")]
    assert made.runs[1].table["x"].tolist() == [2.0, 1.0]
    assert made.runs[0].table["x"].tolist() == [0.0, 1.0, 2.0, 0.0, 1.0, 2.0]


def test_second_axes_stand_beside_each_axis_of_a_panel():
    made = laid_out(SEPARATE["points"].scale("y", second_axis={"convert": 2.2046}).facet("cellar", separate="y"), "180 mm")
    for place in made.layout.panels:
        assert place.labelled("right")
        right, axis = place.labels("right"), made.scales.axes[place.panel.y]
        said = [float(label.replace(",", "")) for label in right.ticks.labels]
        np.testing.assert_allclose(axis.transform.inverse(np.array(right.ticks.at)) * 2.2046, said, atol=1e-6)
