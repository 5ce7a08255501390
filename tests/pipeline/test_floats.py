"""Legends inside a panel: in its emptiest corner, and said where they cover marks."""

import numpy as np
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import ExportError

CORNERS = {"upper right": (9, 9), "upper left": (1, 9), "lower right": (9, 1), "lower left": (1, 1)}


def figure(x, y):
    data = {"x": [0.0, 10.0, *x], "y": [5.0, 5.0, *y], "k": ["a", "b"] + ["a"] * len(x)}
    return ft.figure(data).map(x="x", y="y", color="k").points().theme(legend_place="inside")


@pytest.mark.parametrize("free", list(CORNERS))
def test_a_legend_stands_in_the_corner_without_points(free):
    taken = [place for corner, place in CORNERS.items() if corner != free]
    rng = np.random.default_rng(1)
    x, y = (np.concatenate([rng.normal(place[axis], 0.4, 30) for place in taken]) for axis in (0, 1))
    made = laid_out(figure(x, y))
    region, box = made.layout.legends.region, made.layout.panels[0].box
    middle = box.x + box.width / 2, box.y + box.height / 2
    assert (region.x > middle[0]) == ("right" in free)
    assert (region.y > middle[1]) == ("lower" in free)
    assert not [finding for finding in made.findings if finding.code == "legend-over-marks"]


@given(st.integers(1, 400), st.integers(0, 5), st.sampled_from([60, 90, 140]))
def test_marks_under_a_legend_are_counted(count, seed, width):
    rng = np.random.default_rng(seed)
    try:
        made = laid_out(figure(rng.uniform(0, 10, count), rng.uniform(0, 10, count)), width)
    except ExportError:
        return
    region, place = made.layout.legends.region, made.layout.panels[0]
    box, gap = place.box, made.layout.legends.plan.theme.gap
    assert box.x <= region.x
    assert region.right <= box.right
    assert box.y <= region.y
    assert region.bottom <= box.bottom
    table, axes = made.runs[0].table, made.scales.under(place.panel)
    x = box.x + axes["x"].extent.share(table["x"]) * box.width
    y = box.bottom - axes["y"].extent.share(table["y"]) * box.height
    under = (x > region.x - gap) & (x < region.right + gap) & (y > region.y - gap) & (y < region.bottom + gap)
    said = [finding.text for finding in made.findings if finding.code == "legend-over-marks"]
    assert bool(said) == bool(under.sum())
    assert not said or f"{int(under.sum()):,} mark" in said[0]


def test_a_legend_for_which_no_panel_has_room_is_refused():
    wheels = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg", color="rind").points()
    with pytest.raises(ExportError, match="no panel has space"):
        laid_out(wheels.theme(legend_place="inside").facet("cellar", per_row=4), "60 mm", "40 mm")
