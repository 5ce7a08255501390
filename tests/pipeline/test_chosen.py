"""Layers behind every panel, and layers in some panels only."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from test_layout import assert_sound

import facetine as ft
from facetine.messages.errors import OptionError
from facetine.scene.marks import Group

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS).dropna(subset=["moisture_pct", "firmness_n"])
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points()


def layers_of(made, panel):
    """The numbers of the layers that a panel's group holds, in drawing order."""
    (group,) = [
        item for item in made.scene.root.items if isinstance(item, Group) and item.panel == panel and item.kind == "panel"
    ]
    return [item.layer for item in group.items if isinstance(item, Group) and item.kind == "layer" and item.items]


@pytest.mark.parametrize("facet", [{"by": "rind"}, {"rows": "milk", "columns": "rind"}])
def test_a_backdrop_has_all_rows_behind_every_panel(facet):
    made = laid_out(BASE.points(backdrop=True, color="silver", size=2).facet(**facet), 180)
    assert_sound(made)
    panels = len(made.layout.panels)
    own, behind = (run.table for run in made.runs)
    assert len(own) == len(FRAME)
    assert np.bincount(behind.panel).tolist() == [len(FRAME)] * panels
    for panel in range(panels):
        assert layers_of(made, panel)[:1] == [1], "it lies behind the layer that was said before it"
        assert sorted(behind.numbers[behind.panel == panel]) == sorted(own.numbers)


def test_headings_count_what_stands_before_the_backdrop():
    figure = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points(backdrop=True).points()
    made = laid_out(figure.facet("rind", heading="{value}: {count}"))
    said = sorted(text.content for text in made.scene.texts() if text.role == "heading")
    assert said == [f"{rind}: {(FRAME.rind == rind).sum()}" for rind in sorted(set(FRAME.rind))]


@pytest.mark.parametrize("panels", ["washed", ["washed"], ("washed", "waxed"), ["waxed", "bloomy", "natural"]])
def test_a_layer_stands_in_the_panels_that_it_names(panels):
    made = laid_out(BASE.trend(panels=panels).reference(y=40, panels=panels).facet("rind"))
    named = {panels} if isinstance(panels, str) else set(panels)
    wanted = {place.panel.number for place in made.layout.panels if place.panel.name in named}
    assert [set(run.table.panel.tolist()) for run in made.runs] == [{0, 1, 2, 3}, wanted, wanted]
    whole = laid_out(BASE.trend().facet("rind")).runs[1].table
    table = made.runs[1].table
    for panel in wanted:
        np.testing.assert_array_equal(table["y"][table.panel == panel], whole["y"][whole.panel == panel])


def test_of_rows_and_columns_a_layer_names_values_of_each():
    base = BASE.facet(rows="milk", columns="rind")
    names = [f"{milk}, {rind}" for milk in ("cow", "ewe", "goat") for rind in ("bloomy", "natural", "washed", "waxed")]
    for said, wanted in (
        ({"milk": "goat"}, [name for name in names if name.startswith("goat")]),
        ({"rind": ["waxed", "bloomy"]}, [name for name in names if name.endswith(("waxed", "bloomy"))]),
        ({"milk": "cow", "rind": "natural"}, ["cow, natural"]),
    ):
        made = laid_out(base.points(panels=said, size=1), 180)
        found = {made.layout.panels[panel].panel.name for panel in made.runs[1].table.panel.tolist()}
        assert found == set(wanted)


def test_rows_of_other_panels_are_not_said_to_be_missing():
    data = {"x": [1.0, np.nan, 3.0, np.nan], "y": [1.0, 2, 3, 4], "k": ["a", "a", "b", "b"]}
    made = laid_out(ft.figure(data).map(x="x", y="y").points(panels="a").facet("k"))
    assert [str(finding) for finding in made.findings] == ["figure.points: 1 row without x left out"]


def test_truth_values_and_numbers_name_panels():
    data = {"x": [1.0, 2, 3, 4], "y": [1.0, 2, 3, 4], "flag": [True, False, True, False], "year": [2030, 2031, 2030, 2031]}
    figure = ft.figure(data).kinds(year="category").map(x="x", y="y").points()
    assert set(laid_out(figure.points(panels="yes").facet("flag")).runs[1].table.panel.tolist()) == {1}
    assert set(laid_out(figure.points(panels=[2031]).facet("year")).runs[1].table.panel.tolist()) == {1}


@pytest.mark.parametrize(
    ("figure", "said"),
    [
        (lambda: BASE.points(backdrop=True), "backdrop has no effect without panels"),
        (lambda: BASE.points(panels=["washed"]), "panels has no effect without panels"),
        (lambda: BASE.points(backdrop=True).facet("rind", separate="y"), "axes of a panel's own"),
        (lambda: BASE.points(backdrop=True, panels=["washed"]).facet("rind"), "leave out one"),
        (lambda: BASE.points(panels=["wshed"]).facet("rind"), "Did you mean 'washed'"),
        (lambda: BASE.points(panels=["goat"]).facet(rows="milk", columns="rind"), "such as"),
        (lambda: BASE.points(panels={"mlk": "goat"}).facet(rows="milk", columns="rind"), "Did you mean 'milk'"),
        (lambda: BASE.points(panels={"milk": "gote"}).facet(rows="milk", columns="rind"), "Did you mean 'goat'"),
        (lambda: BASE.points(backdrop="yes"), "backdrop"),
        (lambda: BASE.points(panels=object()), "panels"),
    ],
)
def test_wrong_calls_say_the_right_one(figure, said):
    with pytest.raises(OptionError, match=said):
        laid_out(figure())


def test_both_stand_in_plain_data():
    figure = BASE.points(backdrop=True).trend(panels={"milk": ["goat"]}).facet(rows="milk", columns="rind")
    spec = figure.to_dict()
    assert spec["layers"][1:] == [{"points": {"backdrop": True}}, {"trend": {"panels": {"milk": ["goat"]}}}]
    assert ft.from_dict(spec, WHEELS).to_dict() == spec
