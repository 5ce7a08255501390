"""Sentences repeated over columns."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from test_layout import assert_sound
from test_marginals import assert_aligned, headings

import facetine as ft
from facetine.messages.errors import FacetineError, KindError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS)
BOOK = {"firmness_n": {"label": "Firmness", "unit": "N"}}
BASE = ft.figure(WHEELS, codebook=BOOK).map(x="age_days", color="milk").points(size=2)
COLUMNS = ["mass_kg", "ph", "firmness_n"]


@pytest.mark.parametrize(
    ("layer", "axis", "options"),
    [
        ("points", "y", {}), ("trend", "y", {}), ("boxes", "y", {}), ("histogram", "x", {}), ("density", "x", {}),
        ("intervals", "y", {"map": {"x": "rind"}}), ("lines", "y", {"aggregate": "mean"}),
    ],
)  # fmt: skip
def test_each_column_has_the_panel_that_its_own_figure_would_have(layer, axis, options):
    """Bins, statistics, ranges and ticks are those of a figure of that column alone."""
    figure = ft.figure(WHEELS, codebook=BOOK).map(color="milk", **({"x": "age_days"} if axis == "y" and layer != "boxes" else {}))
    figure = getattr(figure, layer)(**options)
    made = laid_out(figure.over_variables(**{axis: COLUMNS}), 170)
    assert_sound(made)
    assert_aligned(made)
    for number, column in enumerate(COLUMNS):
        alone = laid_out(figure.map(**{axis: column}), 170)
        mine, theirs = made.runs[number].table, alone.runs[0].table
        assert set(mine.values) == set(theirs.values)
        for name, values in theirs.values.items():
            if values.dtype.kind == "f":
                np.testing.assert_allclose(mine[name], values)
        place = made.layout.panels[number]
        assert made.scales.axes[place.panel.key(axis)].extent == alone.scales.first(axis).extent


def test_columns_are_titled_from_the_codebook_and_share_the_other_axis():
    made = laid_out(BASE.over_variables(y=COLUMNS, per_row=2))
    assert headings(made) == ["Mass (kg)", "pH" if "pH" in headings(made) else "Ph", "Firmness (N)"]
    assert len({place.panel.x for place in made.layout.panels}) == 1
    assert len({place.panel.y for place in made.layout.panels}) == 3
    assert len(made.layout.legends.legends) == 1
    assert [place.panel.columns.start for place in made.layout.panels] == [0, 1, 0]


def test_x_and_y_make_a_grid():
    made = laid_out(BASE.over_variables(x=["age_days", "ph"], y=["mass_kg", "firmness_n", "moisture_pct"]), 150)
    assert_sound(made)
    assert_aligned(made)
    for place in made.layout.panels:
        row, column = place.panel.rows.start, place.panel.columns.start
        run = made.runs[place.panel.field]
        names = [["mass_kg", "firmness_n", "moisture_pct"][row], ["age_days", "ph"][column]]
        assert [run.columns["y"].name, run.columns["x"].name] == names
    assert len({place.panel.x for place in made.layout.panels}) == 2
    assert len({place.panel.y for place in made.layout.panels}) == 3


def test_a_facet_stands_across_and_columns_down():
    made = laid_out(BASE.over_variables(y=["mass_kg", "rind"]).facet("cellar"), 170)
    assert_sound(made)
    assert_aligned(made)
    assert len(made.layout.panels) == 8
    for number, column in enumerate(["mass_kg", "rind"]):
        sizes = FRAME.dropna(subset=["age_days", column]).groupby("cellar").size().tolist()
        assert np.bincount(made.runs[number].table.panel).tolist() == sizes
    assert [made.scales.axes[place.panel.y].kind for place in made.layout.panels] == ["linear"] * 4 + ["levels"] * 4
    classes = laid_out(BASE.over_variables(y=["mass_kg", "ph"]).facet("age_days", breaks=[60, 180]), 170)
    assert headings(classes) == ["below 60", "60 to 180", "180 and beyond", "Mass (kg)", "pH"]


def test_swapped_columns_stand_where_the_reader_sees_them():
    both = {"x": ["mass_kg", "ph"], "y": ["age_days", "firmness_n", "eye_mm"]}
    figure = ft.figure(WHEELS).points(size=2)
    made = laid_out(figure.over_variables(**both).swap_axes(), 170)
    plain = laid_out(figure.over_variables(x=both["y"], y=both["x"]), 170)
    assert_aligned(made)

    def standing(drawn):
        return sorted((place.panel.name, place.panel.rows.start, place.panel.columns.start) for place in drawn.layout.panels)

    assert standing(made) == standing(plain)


def test_a_scale_may_be_said_of_one_column():
    made = laid_out(BASE.over_variables(y=["mass_kg", "ph"]).scale("y", "log", for_column="mass_kg"))
    assert [made.scales.axes[place.panel.y].kind for place in made.layout.panels] == ["log", "linear"]
    assert laid_out(BASE.map(y="mass_kg").scale("y", "log", for_column="mass_kg")).scales.first("y").kind == "log"


def test_columns_in_one_panel_are_series_with_the_names_of_the_codebook():
    book = {"retail": {"label": "In the shop", "unit": "kg"}, "wholesale": {"label": "To dealers", "unit": "kg"}}
    figure = (
        ft.figure(ft.demo_data("sales"), codebook=book)
        .map(x="month")
        .lines()
        .over_variables(y=["retail", "wholesale"], by="color")
    )
    made = laid_out(figure)
    assert_sound(made)
    sales = pd.DataFrame(ft.demo_data("sales"))
    table = made.runs[0].table
    for number, column in enumerate(["retail", "wholesale"]):
        np.testing.assert_allclose(table["y"][table.group == number], sales[column].dropna())
    said = [text.content for text in made.scene.texts()]
    assert {"In the shop", "To dealers", "In the shop / To dealers (kg)"} <= set(said)
    frame = pd.DataFrame({"m": [1, 2, 3], "a": [1.0, 2, 3], "b": [3.0, np.nan, 1]})
    gaps = laid_out(ft.figure(frame).map(x="m").points().over_variables(y=["a", "b"], by="shape"))
    assert len(gaps.runs[0].table) == 5
    assert sorted(gaps.runs[0].table.numbers.tolist()) == [0, 0, 1, 2, 2], "rows keep their numbers in the frame"


def test_it_goes_into_plain_data_and_back():
    figure = BASE.over_variables(y=COLUMNS, per_row=2).scale("y", "log", for_column="mass_kg", ticks=[1, 10])
    spec = figure.to_dict()
    assert spec["scale"] == {"y": {"for_column": {"mass_kg": {"kind": "log", "ticks": [1, 10]}}}}
    again = ft.from_dict(spec, WHEELS)
    assert again.to_dict() == spec
    assert repr(again) == repr(figure)
    assert "over_variables" not in figure.over_variables().to_dict()


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (MappingError, lambda: BASE.over_variables(y=["mass_kgg"]), "Did you mean 'mass_kg'"),
        (OptionError, lambda: BASE.over_variables(y="mass_kg"), "list of columns"),
        (OptionError, lambda: laid_out(ft.figure(WHEELS).points(map={"x": "ph", "y": "ph"}).over_variables(y=["mass_kg"])), "every layer maps y"),
        (OptionError, lambda: BASE.over_variables(y=[]), "no columns"),
        (OptionError, lambda: BASE.over_variables(y=["ph", "ph"]), "named twice"),
        (OptionError, lambda: BASE.over_variables(y=["ph"], by="colour"), "Did you mean 'color'"),
        (OptionError, lambda: BASE.over_variables(x=["ph"], y=["mass_kg"], by="dash"), "both are varied"),
        (OptionError, lambda: BASE.over_variables(y=["ph"], by="dash", per_row=2), "panels that wrap"),
        (OptionError, lambda: laid_out(BASE.over_variables(y=["ph"], by="color")), "shows 'milk' already"),
        (KindError, lambda: laid_out(BASE.over_variables(y=["mass_kg", "firmness_n"], by="shape")), r"is in kg and 'firmness_n' is in N(.|\n)*leave out by="),
        (KindError, lambda: laid_out(BASE.over_variables(y=["mass_kg", "rind"], by="shape")), "categories"),
        (KindError, lambda: laid_out(BASE.map(y=["mass_kg", "ph"])), r"over_variables\(y=\['mass_kg', 'ph'\]\)"),
        (OptionError, lambda: laid_out(BASE.map(y="ph").scale("y", "log", for_column="mass_kg")), "shows no such column"),
        (MappingError, lambda: BASE.scale("y", "log", for_column="mass"), "mass_kg"),
        (OptionError, lambda: laid_out(BASE.over_variables(y=["ph"], x=["mass_kg"]).facet("rind")), "no place for a facet"),
        (OptionError, lambda: laid_out(BASE.over_variables(y=["ph"]).facet("rind", per_row=2)), "per_row has no effect"),
        (OptionError, lambda: laid_out(BASE.over_variables(y=["ph"]).marginal("top", "rug")), "draw a figure for each"),
    ],
)  # fmt: skip
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(FacetineError, match=match) as caught:
        call()
    assert type(caught.value) is error
