"""Legends of layers, legends that would repeat what is said, and classes with their ranges."""

import numpy as np
import pytest
from conftest import laid_out, svg_of, texts

import facetine as ft
from facetine.messages.errors import OptionError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg")
BOOK = {"age_class": {"from": "age_days", "classes": {"young": [0, 60], "ripe": [60, 180], "old": [180, 1000]}}}


def entries(figure, width="85 mm"):
    """Of each legend: its title, and what its entries are called."""
    layout = laid_out(figure, width).layout
    return [(one.legend.title, [entry.label for entry in one.legend.entries]) for one in layout.legends.legends]


def inks(figure):
    layout = laid_out(figure).layout
    return {entry.label: entry.keys[0][1]["color"].values[0] for one in layout.legends.legends for entry in one.legend.entries}


def test_layers_of_constants_stand_in_one_legend():
    figure = (
        BASE.points(color="teal", legend_as="measured")
        .trend(color="black", legend_as="model")
        .points(color="red", legend=False, legend_as="no")
    )
    assert entries(figure) == [("", ["measured", "model"])]
    assert inks(figure) == {"measured": "#008080", "model": "#000000"}
    assert {"measured", "model"} <= set(texts(svg_of(figure)))


def test_layers_of_one_name_share_an_entry():
    layout = laid_out(BASE.points(legend_as="wheels", color="teal").trend(legend_as="wheels", color="teal")).layout
    (entry,) = layout.legends.legends[0].legend.entries
    assert [layer.verb for layer, _ in entry.keys] == ["points", "trend"]


def test_two_frames_are_told_apart_without_a_column():
    loft, north = (WHEELS[WHEELS.cellar == name] for name in ("Loft", "North"))
    figure = (
        ft.figure(None).map(x="age_days", y="mass_kg").points(data=loft, legend_as="Loft").points(data=north, legend_as="North")
    )
    found = inks(figure)
    assert list(found) == ["Loft", "North"]
    assert len(set(found.values())) == 2
    drawn = [layer.usual["color"].values[0] for layer in laid_out(figure).runs]
    assert drawn == list(found.values())


def test_one_name_or_a_said_color_changes_no_ink():
    plain = laid_out(BASE.points()).runs[0].usual["color"].values
    assert laid_out(BASE.points(legend_as="wheels")).runs[0].usual["color"].values == plain
    both = inks(BASE.points(legend_as="a", color="red").points(legend_as="b", color="blue"))
    assert both == {"a": "#ff0000", "b": "#0000ff"}


def test_a_legend_that_repeats_an_axis_or_headings_is_left_out():
    boxes = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="rind").boxes()
    assert entries(boxes) == []
    assert entries(BASE.map(color="cellar").points().facet("cellar")) == []
    assert entries(BASE.map(color="milk").points().facet(rows="milk", columns="rind"), "180 mm") == []
    # The axis says nothing where there is none, and another column says something new.
    assert entries(boxes.theme("bare"))
    assert entries(boxes.map(color="milk"))
    assert entries(BASE.map(color="rind").points().facet("cellar"))


@pytest.mark.parametrize("asked", [{"legend": True}, {"title": "Rinds"}, {"format": "{value}: {count}"}])
def test_it_is_there_where_it_is_asked_for_or_says_more(asked):
    boxes = ft.figure(WHEELS).map(x="rind", y="mass_kg", color="rind").boxes()
    assert len(entries(boxes.scale("color", **asked))) == 1
    assert len(entries(ft.figure(WHEELS).map(x="rind", y="mass_kg", color="rind").boxes(legend=True))) == 1


def test_a_legend_can_be_left_out_for_one_aesthetic():
    figure = BASE.map(color="rind", shape="milk").points()
    assert [title for title, _ in entries(figure)] == ["Rind", "Milk"]
    assert [title for title, _ in entries(figure.scale("shape", legend=False))] == ["Rind"]
    with pytest.raises(OptionError, match="has no effect on x"):
        figure.scale("x", legend=False)


def test_classes_show_their_ranges_in_the_legend():
    figure = ft.figure(WHEELS, codebook=BOOK).map(x="moisture_pct", y="mass_kg", color="age_class").points()
    ((_, labels),) = entries(figure, "180 mm")
    assert labels == ["young (0–60 days)", "ripe (60–180 days)", "old (180–1000 days)"]
    ((_, plain),) = entries(figure.scale("color", format={"young": "Y"}), "180 mm")
    assert "Y" in plain


def test_keys_travel_as_plain_data_and_are_counted_in_no_row():
    figure = BASE.points(legend_as="*measured*", color="teal")
    assert ft.from_dict(figure.to_dict(), WHEELS).to_dict() == figure.to_dict()
    assert np.array_equal(laid_out(figure).runs[0].rows["x"], laid_out(BASE.points()).runs[0].rows["x"])
    with pytest.raises(OptionError, match="legend_as is a text"):
        BASE.points(legend_as=3)
