"""What stands on each other can be added up, and shares are of the whole that the docs name."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, quietly
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import OptionError, ScaleError

FIELD = pd.DataFrame({
    "site": list("AABBAABB"), "half": list("ababcdcd"), "year": [1, 1, 1, 1, 2, 2, 2, 2],
    "kind": list("pqpqpqpq"), "mass": [4.0, 6.0, 1.0, 3.0, 8.0, 2.0, 5.0, 7.0],
})  # fmt: skip


def bars_of(**says):
    return ft.figure(FIELD).map(x="site", y="mass", color="kind").bars(**says)


@pytest.mark.parametrize("how", ["mean", "median", "min", "max"])
def test_means_and_the_like_stand_side_by_side_each_from_zero_to_its_own_height(how):
    sheet = Sheet(bars_of(aggregate=how))
    rects = sheet.rects(1)
    rects = rects[np.argsort(rects[:, 0])]
    bottom, top = sheet.read("y", rects[:, 1] + rects[:, 3]), sheet.read("y", rects[:, 1])
    expected = FIELD.groupby(["site", "kind"])["mass"].agg(how).to_numpy()
    np.testing.assert_allclose(bottom, 0, atol=0.02)
    np.testing.assert_allclose(top, expected, atol=0.02)
    assert (np.diff(rects[:, 0]) >= rects[:-1, 2] - 0.02).all()


@pytest.mark.parametrize("how", ["sum", "count"])
def test_sums_and_counts_stand_on_each_other(how):
    rects = Sheet(bars_of(aggregate=how)).rects(1)
    assert len(np.unique(rects[:, 0].round(2))) == 2


@pytest.mark.parametrize("name", ["survival_rate", "mean_mass", "temperature", "price per kg", "share"])
def test_given_heights_that_are_no_amounts_stand_side_by_side(name):
    rows = FIELD.iloc[:4].rename(columns={"mass": name})
    rects = Sheet(ft.figure(rows).map(x="site", y=name, color="kind").bars()).rects(1)
    assert len(np.unique(rects[:, 0].round(2))) == 4


@pytest.mark.parametrize("verb", ["bars", "areas"])
@pytest.mark.parametrize("how", ["mean", "median", "min", "max"])
@pytest.mark.parametrize("arrange", ["stack", "share"])
def test_a_stack_of_means_is_refused_with_what_would_do(verb, how, arrange):
    figure = getattr(ft.figure(FIELD).map(x="year", y="mass", color="kind"), verb)(aggregate=how, arrange=arrange)
    with pytest.raises(OptionError, match=r"a sum of \w+ is none of them") as caught:
        laid_out(figure)
    assert ("side_by_side" if verb == "bars" else "overlay") in str(caught.value)


def test_areas_of_means_lie_over_each_other_from_zero_and_show_through():
    sheet = Sheet(ft.figure(FIELD).map(x="year", y="mass", color="kind").areas(aggregate="mean"))
    expected = FIELD.groupby(["kind", "year"])["mass"].mean()
    shapes = sheet.paths(1)
    assert len(shapes) == 2
    for shape, kind in zip(shapes, ("p", "q"), strict=True):
        heights = sheet.read("y", shape["at"][:, 1])
        assert heights.min() == pytest.approx(0, abs=0.02)
        assert heights.max() == pytest.approx(expected[kind].max(), abs=0.05)
        assert float(shape.get("fill-opacity", shape.get("opacity", 1))) < 1


@pytest.mark.parametrize("kind", ["square_root", "log", "signed_log"])
@pytest.mark.parametrize("verb", ["bars", "areas"])
def test_stacks_on_uneven_axes_are_refused(kind, verb):
    figure = getattr(ft.figure(FIELD.iloc[[0, 1, 4, 5]]).map(x="year", y="mass", color="kind"), verb)(arrange="stack")
    with pytest.raises(ScaleError):
        laid_out(figure.scale("y", kind))


@pytest.mark.parametrize("verb", ["bars", "areas"])
def test_shares_of_both_signs_are_refused(verb):
    rows = FIELD.iloc[[0, 1, 4, 5]].assign(mass=[4.0, -1.0, 2.0, 3.0])
    figure = getattr(ft.figure(rows).map(x="year", y="mass", color="kind"), verb)(arrange="share")
    with pytest.raises(OptionError, match="shares are of one whole"):
        laid_out(figure)


@pytest.mark.parametrize("arrange", ["stack", "side_by_side", "overlay", "share"])
def test_the_share_of_a_bar_is_of_its_panel_and_that_of_arrange_share_of_its_slot(arrange):
    made = quietly(bars_of(aggregate="sum", arrange=arrange).numbers)
    sums = FIELD.groupby(["site", "kind"])["mass"].sum()
    whole = sums.groupby("site").transform("sum") if arrange == "share" else sums.sum()
    np.testing.assert_allclose(np.sort(made["share"]), np.sort((sums / whole).to_numpy()), rtol=1e-12)
