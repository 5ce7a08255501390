"""Rows on one spot as one mark: its count, its area, its neighbours, its legend."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, svg_of, texts

import facetine as ft
from facetine.messages.errors import OptionError, ScaleError
from facetine.scene.marks import Group, Markers

WHEELS = pd.DataFrame(ft.demo_data("wheels"))
BASE = ft.figure(WHEELS).map(x="rind", y="cellar")


def markers(group, within=False):
    """All batches of markers of the layers."""
    for item in group.items:
        if isinstance(item, Markers):
            yield from [item] if within else []
        elif isinstance(item, Group):
            yield from markers(item, within or item.kind == "layer")


def drawn(figure):
    """Places and diameters of all markers in the panels."""
    batches = list(markers(laid_out(figure, "180 mm").scene.root))
    radii = [np.array([style.radius for style in mark.styles]) for mark in batches]
    which = [np.zeros(len(mark.at), int) if mark.which is None else mark.which for mark in batches]
    at = np.concatenate([mark.at for mark in batches])
    return at, 2 * np.concatenate([own[chosen] for own, chosen in zip(radii, which, strict=True)])


def test_counts_and_shares_of_spots():
    values = BASE.points(arrange="tally").numbers("points").set_index(["x", "y"])
    counts = WHEELS.groupby(["rind", "cellar"]).size()
    assert values["count"].to_dict() == counts.to_dict()
    assert values["share"].to_dict() == pytest.approx((counts / len(WHEELS)).to_dict())


def test_weights_are_summed_and_named():
    figure = BASE.map(weight="mass_kg").points(arrange="tally")
    sums = WHEELS.groupby(["rind", "cellar"])["mass_kg"].sum()
    assert figure.numbers("points").set_index(["x", "y"])["count"].to_dict() == pytest.approx(sums.to_dict())
    assert "Sum of mass" in texts(svg_of(figure))


def test_areas_are_proportional_to_counts():
    frame = pd.DataFrame({"a": [1] * 1 + [2] * 4 + [3] * 16 + [4] * 64, "b": 1})
    at, size = drawn(ft.figure(frame).map(x="a", y="b").points(arrange="tally"))
    assert (size[np.argsort(at[:, 0])] ** 2)[1:] / size.max() ** 2 == pytest.approx([1 / 16, 1 / 4, 1], rel=0.03)


def test_marks_of_groups_on_one_spot_touch_and_stand_about_it():
    figure = ft.figure({"a": [1, 1, 1, 2], "b": [1, 1, 1, 2], "c": list("ppqq")}).map(x="a", y="b", color="c")
    figure = figure.points(arrange="tally")
    at, size = drawn(figure)
    order = np.argsort(at[:, 0])
    first, second, alone = at[order]
    assert second[0] - first[0] == pytest.approx((size[order[0]] + size[order[1]]) / 2, abs=0.01)
    assert first[1] == second[1] != alone[1]
    assert any("1 mark beside those of other groups" in note for note in notes(figure))


@pytest.mark.parametrize("option", [{"size": 3}, {"aggregate": "mean"}, {"thin": 5}, {"draw_order": "groups"}])
def test_what_a_tally_has_no_use_for_is_refused(option):
    with pytest.raises(OptionError, match=f"{next(iter(option))}= has no use"):
        laid_out(BASE.map(y="ph").points(arrange="tally", **option))


def test_sizes_of_rows_are_noted_and_two_meanings_of_size_refused():
    assert any("size ('age_days') can't be shown" in note for note in notes(BASE.map(size="age_days").points(arrange="tally")))
    figure = BASE.points(arrange="tally").points(map={"size": "age_days"}, where="age_days > 90")
    with pytest.raises(ScaleError, match="one scale"):
        laid_out(figure)
    with pytest.raises(ScaleError, match="color shows count here"):
        laid_out(ft.figure(WHEELS).map(x="ph", y="mass_kg", color="rind").points().cells(map={"color": None}))


def test_the_check_proposes_it_where_rows_share_spots():
    remarks = {one.code: one for one in BASE.points().check()}
    assert 'arrange="tally"' in remarks["overplotted"].fix
    assert "overplotted" not in {one.code for one in BASE.points(arrange="tally").check()}
    scattered = ft.figure(WHEELS).map(x="ph", y="mass_kg").points(size=40)
    assert all("tally" not in one.fix for one in scattered.check())
