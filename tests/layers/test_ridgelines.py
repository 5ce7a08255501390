"""Distributions over the categories of an axis."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, pdf_of
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import FacetineError, KindError, OptionError
from facetine.scene.marks import Group, Paths

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS).dropna(subset=["moisture_pct", "rind"])
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="rind")
RINDS = ["bloomy", "natural", "washed", "waxed"]


def layer_marks(made):
    found = []

    def walk(group):
        for item in group.items:
            if isinstance(item, Group):
                walk(item)
            elif group.kind in ("layer", "category"):
                found.append(item)

    walk(made.scene.root)
    return found


def test_each_ridge_is_the_density_of_its_category():
    made = laid_out(BASE.ridgelines())
    table = made.runs[0].table
    for number, rind in enumerate(RINDS):
        own = table.take(table["center"] == number)
        alone = laid_out(ft.figure(FRAME[FRAME.rind == rind]).map(x="moisture_pct").density()).runs[0].table
        np.testing.assert_allclose(own["x"], alone["x"])
        np.testing.assert_allclose(own["density"], alone["density"])
    heights = table["center"] - table["y_low"]
    np.testing.assert_allclose(heights, 1.6 * table["density"] / table["density"].max())


def test_a_histogram_counts_in_the_same_bins_over_every_category():
    made = laid_out(BASE.ridgelines(form="histogram", bins=12))
    table = made.runs[0].table
    edges = np.unique(table["x"])
    for number, rind in enumerate(RINDS):
        own = table.take(table["center"] == number)
        counted, _ = np.histogram(FRAME.moisture_pct[FRAME.rind == rind], edges)
        np.testing.assert_allclose(own["density"][1:-1:2], counted / (counted.sum() * np.diff(edges)))


@given(st.floats(0.3, 6), st.sampled_from(["area", "peak"]))
def test_the_uppermost_ridge_has_its_room(rise, equal):
    made = laid_out(BASE.ridgelines(rise=rise, equal=equal))
    table, box = made.runs[0].table, made.layout.panels[0].box
    extent = made.scales.first("y").extent
    top = box.bottom - extent.share(table["y_low"]) * box.height
    assert top.min() >= box.y - 0.01
    if equal == "peak":
        peaks = [(table["center"] - table["y_low"])[table["center"] == number].max() for number in range(4)]
        np.testing.assert_allclose(peaks, rise)


def test_lines_stand_at_the_quantiles_and_later_ridges_lie_in_front():
    made = laid_out(BASE.ridgelines(quantiles=[0.75, 0.25]))
    box, axis = made.layout.panels[0].box, made.scales.first("x")
    cuts = [mark for mark in layer_marks(made) if isinstance(mark, Paths) and mark.fill is None and len(mark.points) == 4]
    assert len(cuts) == 4
    grounds = []
    for mark, rind in zip(cuts, RINDS, strict=True):
        at = axis.extent.low + (mark.points[::2, 0] - box.x) / box.width * (axis.extent.high - axis.extent.low)
        np.testing.assert_allclose(at, np.quantile(FRAME.moisture_pct[FRAME.rind == rind], [0.25, 0.75]))
        grounds.append(mark.points[0, 1])
    assert grounds == sorted(grounds), "from the top down, so that the lower ones lie over the upper ones"


def test_color_may_follow_the_category_or_run_along_the_values():
    by_rind = laid_out(BASE.map(color="rind").ridgelines())
    assert len({mark.fill for mark in layer_marks(by_rind) if mark.fill and mark.fill != "#ffffff"}) == 4
    shaded = laid_out(BASE.ridgelines(shaded=True))
    assert len({mark.fill for mark in layer_marks(shaded) if mark.fill}) > 20
    (legend,) = shaded.layout.legends.legends
    assert legend.legend.title == "Moisture (%)"
    assert legend.legend.bar is not None
    assert pdf_of(BASE.ridgelines(shaded=True)).pages


def test_weights_count_and_groups_share_a_slot():
    weighed = laid_out(ft.figure(WHEELS).map(x="moisture_pct", y="rind", weight="mass_kg").ridgelines(quantiles=[0.5]))
    plain = laid_out(BASE.ridgelines(quantiles=[0.5]))
    assert not np.array_equal(weighed.runs[0].table["density"], plain.runs[0].table["density"])
    grouped = laid_out(BASE.map(color="milk").ridgelines())
    assert len(np.unique(grouped.runs[0].table.group)) == 3
    upright = laid_out(BASE.swap_axes().ridgelines())
    assert upright.scales.first("x").kind == "levels"


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (KindError, lambda: laid_out(BASE.map(y="ph").ridgelines()), "over categories"),
        (OptionError, lambda: laid_out(BASE.map(color="milk").ridgelines(shaded=True)), "color follows 'milk'"),
        (OptionError, lambda: laid_out(BASE.ridgelines(bins=3)), 'form="histogram"'),
        (OptionError, lambda: laid_out(BASE.ridgelines(form="histogram", bandwidth=2)), "bandwidth is that of densities"),
        (OptionError, lambda: BASE.ridgelines(form="histo"), "Did you mean 'histogram'"),
        (OptionError, lambda: BASE.ridgelines(rise=0), "from 0.1"),
        (OptionError, lambda: BASE.ridgelines(quantiles=[0, 0.5]), "between 0 and 1"),
        (OptionError, lambda: BASE.ridgelines(quantiles=[2]), "from 0 to 1"),
    ],
)
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(FacetineError, match=match) as caught:
        call()
    assert type(caught.value) is error
