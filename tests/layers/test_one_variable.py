"""Layers of one variable alone, in one slot without a label."""

import pandas as pd
import pytest
from conftest import laid_out, svg_of, texts

import facetine as ft
from facetine.messages.errors import MappingError

FRAME = pd.DataFrame(ft.demo_data("wheels"))
BASE = ft.figure(FRAME)
LAYERS = ("boxes", "violins", "points", "intervals")


@pytest.mark.parametrize("axis", ["x", "y"])
@pytest.mark.parametrize("layer", LAYERS)
def test_one_variable_stands_in_a_slot_without_a_label(layer, axis):
    figure = getattr(BASE.map(**{axis: "ph"}), layer)()
    shown = texts(svg_of(figure, 100))
    assert not any("blank" in text or "rows" in text for text in shown)
    assert any(text.startswith("pH") for text in shown)
    other = "y" if axis == "x" else "x"
    values = figure.numbers(layer)
    assert set(values[other]) == {""}
    assert laid_out(figure).layouts[0].panels[0].box.width > 100


def test_its_numbers_are_those_of_all_rows():
    box = BASE.map(x="ph").boxes().numbers("boxes").iloc[0]
    assert [box["q1"], box["median"], box["q3"]] == pytest.approx(FRAME["ph"].quantile([0.25, 0.5, 0.75]).tolist())
    mean = BASE.map(y="ph").intervals().numbers("intervals").iloc[0]
    assert [mean["mean"], mean["count"]] == pytest.approx([FRAME["ph"].mean(), FRAME["ph"].count()])


def test_groups_panels_and_several_columns_have_a_slot_each():
    groups = BASE.map(x="ph", color="rind").boxes().numbers("boxes").dropna(subset="median")
    assert dict(zip(groups["group"], groups["median"], strict=True)) == pytest.approx(
        FRAME.groupby("rind")["ph"].median().to_dict()
    )
    panels = BASE.map(y="ph").violins().points(arrange="jitter").facet("rind").numbers("points")
    assert panels.groupby("panel").size().to_dict() == FRAME.groupby("rind")["ph"].count().to_dict()
    varied = BASE.over_variables(x=["ph", "mass_kg"]).boxes()
    assert {"Mass (kg)", "pH"} <= set(texts(svg_of(varied, 120)))


def test_a_title_and_a_column_of_the_same_name_stay():
    frame = FRAME[["ph"]].assign(**{"all rows": 1.0})
    assert "Wheels" in texts(svg_of(ft.figure(frame).map(x="ph").boxes().titles(y="Wheels"), 100))


@pytest.mark.parametrize("call", [
    lambda: BASE.map(x="rind").intervals(), lambda: BASE.map(x="rind").points(), lambda: BASE.map(x="ph").points().lines(),
])  # fmt: skip
def test_categories_alone_and_other_layers_need_both_axes(call):
    with pytest.raises(MappingError, match="nothing is mapped to y"):
        laid_out(call())
