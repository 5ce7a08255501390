"""A first look: tables inspected, figures before they have a layer, the layer that suits."""

import warnings

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out, notes, quietly, svg_of, texts
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import DataError, MappingError

WHEELS = ft.demo_data("wheels")
DEMO = ("wheels", "climate", "scans", "cultures", "cores", "sales")


@pytest.mark.parametrize("name", DEMO)
def test_a_table_is_told_with_figures_that_can_be_drawn(name, capsys):
    data = ft.demo_data(name)
    seen = ft.inspect(data)
    said = capsys.readouterr().out
    frame = pd.DataFrame(data)
    assert said.startswith(f"{len(frame):,} rows, {len(frame.columns)} columns\n")
    for column in frame:
        line = next(line for line in said.splitlines() if line.startswith(f"  {column} "))
        missing = int(frame[column].isna().sum())
        assert (f"{missing:,}" in line.split()) == bool(missing) or not missing
    assert 2 <= len(seen.suggestions) <= 3
    for suggestion in seen.suggestions:
        assert suggestion.sentence in said
        made = eval(suggestion.sentence, {"ft": ft, "data": data})
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            assert laid_out(made).scene.texts()
    html = seen._repr_html_()
    assert html.count("<tr>") == len(frame.columns) + 1
    assert html.count("<code>") == len(seen.suggestions)


def test_facts_are_those_of_the_frame():
    seen = quietly(ft.inspect, WHEELS)
    frame = pd.DataFrame(WHEELS)
    for one in seen.columns:
        assert one.distinct == frame[one.name].nunique()
        assert one.missing == frame[one.name].isna().sum()
    assert {one.name: one.kind for one in seen.columns}["grade"] == "ordered"


def test_hostile_names_and_cells_are_shown_as_they_are(capsys):
    seen = ft.inspect({"<b>": ["<i>a</i>", "b" * 50], "n": [1.0, np.nan]})
    assert "<i>" not in seen._repr_html_()
    assert "b" * 17 + "…" in capsys.readouterr().out
    with pytest.raises(DataError, match="no table in nothing"):
        ft.inspect(None)


@given(st.sampled_from(DEMO), st.data())
def test_any_mapping_without_a_layer_shows_its_axes(name, data):
    frame = pd.DataFrame(ft.demo_data(name)).head(300)
    columns = data.draw(st.lists(st.sampled_from(list(frame)), min_size=1, max_size=2, unique=True))
    axes = data.draw(st.permutations(["x", "y"]))[: len(columns)]
    figure = ft.figure(frame).map(**dict(zip(axes, columns, strict=True)))
    shown = texts(svg_of(figure, 120))
    assert any(text.endswith("no layer yet") for text in shown)
    assert any("there is no layer yet" in note for note in notes(figure))
    # The ticks are those of the same figure with points, but for room that marks take.
    assert any(any(sign.isdigit() for sign in text) or text in set(map(str, frame[columns[0]])) for text in shown)


def test_a_figure_without_mapping_or_data_has_nothing_to_show():
    for figure in (ft.figure(WHEELS), ft.figure(WHEELS).map(color="rind"), ft.figure(None)):
        with pytest.raises(MappingError, match="no layer, so there is nothing to draw"):
            laid_out(figure)


@pytest.mark.parametrize(("mapping", "line"), [
    ({"x": "rind", "y": "mass_kg"}, ".boxes()"),
    ({"x": "age_days", "y": "mass_kg"}, ".points()"),
    ({"x": "ph"}, ".histogram()"),
    ({"y": "rind"}, ".bars()"),
    ({"x": "rind", "y": "milk"}, ".cells()"),
])  # fmt: skip
def test_the_layer_that_suits_is_added_and_said(mapping, line, capsys):
    figure = ft.figure(WHEELS).map(**mapping).suggested()
    assert capsys.readouterr().out.startswith(f"{line}  # ")
    verb = line[1:-2]
    assert figure.to_dict() == getattr(ft.figure(WHEELS).map(**mapping), verb)().to_dict()
    assert laid_out(figure).scene.texts()


def test_lines_over_repeated_times_are_suggested_with_their_mean(capsys):
    climate = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c")
    assert climate.suggested().to_dict()["layers"] == [{"lines": {"aggregate": "mean"}}]
    assert climate.map(color="cellar").suggested().to_dict()["layers"] == [{"lines": {}}]
    assert capsys.readouterr().out.splitlines()[0].startswith(".lines(aggregate='mean')  # 'time' is a time")


def test_nothing_is_suggested_where_nothing_is_mapped():
    with pytest.raises(MappingError, match="no column is mapped to x or y"):
        ft.figure(WHEELS).map(color="rind").suggested()
    with pytest.raises(DataError, match="no data of its own"):
        ft.figure(None).suggested()
