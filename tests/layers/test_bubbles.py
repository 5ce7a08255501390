"""Points whose areas follow a number."""

import numpy as np
import pytest
from conftest import laid_out, said
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.scene.marks import Markers


def markers(figure):
    """Radius, row and style of each point, in drawing order."""
    found = []

    def walk(group):
        for item in group.items:
            if hasattr(item, "items"):
                walk(item)
            elif isinstance(item, Markers) and item.rows is not None:
                which = np.zeros(len(item.at), int) if item.which is None else item.which
                found.extend(
                    (item.styles[w].radius, row, item.styles[w])
                    for w, row in zip(which.tolist(), item.rows.tolist(), strict=True)
                )

    walk(laid_out(figure).scene.root)
    return found


def bubbles(sizes, **more):
    count = len(sizes)
    data = {"x": np.arange(count, dtype=float), "y": np.zeros(count), "s": np.asarray(sizes, float)}
    return ft.figure(data | more).map(x="x", y="y", size="s").points()


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(1, 100), min_size=3, max_size=40))
def test_areas_are_proportional_and_large_points_lie_below(sizes):
    sizes = [0.5, *sizes]
    drawn = markers(bubbles(sizes))
    radii = [radius for radius, _, _ in drawn]
    assert radii == sorted(radii, reverse=True)
    largest = max(sizes)
    for radius, row, _ in drawn:
        if sizes[row] > 0.1 * largest:
            assert (radius / max(radii)) ** 2 == pytest.approx(sizes[row] / largest, abs=0.03)


def test_a_seam_of_the_ground_sets_them_off_but_a_border_of_ones_own_stays():
    assert {style.outline for *_, style in markers(bubbles([1, 5, 9]))} == {"#ffffff"}
    dark = markers(bubbles([1, 5, 9]).theme("basalt"))
    assert {style.outline for *_, style in dark} == {laid_out(bubbles([1, 2]).theme("basalt")).scene.ground}
    own = ft.figure(x=[1.0, 2], y=[1.0, 2], s=[1.0, 9]).map(x="x", y="y", size="s").points(outline="black")
    assert {style.outline for *_, style in markers(own)} == {"#000000"}
    plain = ft.figure(x=[1.0, 2], y=[1.0, 2]).map(x="x", y="y").points()
    assert {style.outline for *_, style in markers(plain)} == {None}


def test_numbers_that_would_look_alike_are_spread_and_legend_and_note_say_so():
    figure = bubbles(np.linspace(13, 17, 9))
    radii = [radius for radius, _, _ in markers(figure)]
    assert max(radii) / min(radii) > 2
    assert np.diff(sorted(radii)).min() > 0
    assert laid_out(figure).layout.legends.legends[0].legend.title == "S, areas from 12"
    assert (max(radii) / min(radii)) ** 2 == pytest.approx((17 - 12) / (13 - 12), rel=0.02)
    assert any("13 to 17 from 12 on" in note for note in said(laid_out(figure)))
    whole = figure.scale("size", limits=(0, None))
    assert not any("spread" in note for note in said(laid_out(whole)))
    assert min(radius for radius, _, _ in markers(whole)) / max(radius for radius, _, _ in markers(whole)) == pytest.approx(
        np.sqrt(13 / 17), abs=0.02
    )


def test_groups_can_still_be_picked_one_by_one():
    data = {"x": np.arange(6.0), "y": np.zeros(6), "s": [1.0, 9, 2, 8, 3, 7], "k": list("ababab")}
    figure = ft.figure(data).map(x="x", y="y", size="s", color="k").points(draw_order="groups")
    rows = [row for _, row, _ in markers(figure)]
    assert [data["k"][row] for row in rows] == sorted(data["k"])
    assert [data["s"][row] for row in rows] == [3, 2, 1, 9, 8, 7]


def test_a_seam_is_no_faint_mark_and_no_thin_line():
    codes = [finding.code for finding in bubbles(np.linspace(1, 9, 30)).check("slide")]
    assert "mark-faint" not in codes
    assert "line-thin" not in codes
