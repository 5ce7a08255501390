"""Panels stand in a grid on axes with keys; labels stand at the outer edge of what shares an axis."""

import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.grammar.theme import THEMES
from facetine.pipeline.panels import AxisKey, columns_beside, grid_of, outermost


@given(st.integers(1, 60), st.integers(1, 9))
def test_panels_fill_the_grid_row_by_row(count, columns):
    panels = grid_of(count, columns)
    assert [panel.number for panel in panels] == list(range(count))
    places = [(panel.rows.start, panel.columns.start) for panel in panels]
    assert places == sorted(set(places))
    assert all(column < columns for _, column in places)
    assert max(row for row, _ in places) == (count - 1) // columns


@given(st.integers(1, 60), st.integers(1, 9))
def test_every_row_and_column_of_a_shared_axis_is_labelled_once(count, columns):
    panels = grid_of(count, columns)
    below, left, above, right = outermost(panels)
    for side, line in ((below, "columns"), (above, "columns"), (left, "rows"), (right, "rows")):
        lines = [getattr(panels[number], line) for number in side]
        assert len(lines) == len(set(lines)) == len({getattr(panel, line) for panel in panels})
    for number in below:
        assert not any(
            panel.columns == panels[number].columns and panel.rows.start > panels[number].rows.start for panel in panels
        )


@given(st.integers(2, 30), st.integers(1, 6))
def test_panels_with_axes_of_their_own_are_all_labelled(count, columns):
    own = tuple(panel._replace(y=AxisKey(axis="y", part=panel.number)) for panel in grid_of(count, columns))
    _, left, _, right = outermost(own)
    assert left == right == frozenset(range(count))


@pytest.mark.parametrize(
    ("count", "said", "columns"), [(1, None, 1), (3, None, 3), (4, None, 2), (9, None, 3), (9, 5, 5), (2, 5, 2)]
)
def test_a_grid_is_about_square_where_nothing_is_said(count, said, columns):
    assert columns_beside(count, said, 500.0, THEMES["press"]) == columns
    assert columns_beside(count, None, 60.0, THEMES["press"]) == 1


def test_a_built_figure_holds_its_panels_with_keys_and_headings():
    made = laid_out(ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points().facet("cellar", per_row=3))
    panels = [place.panel for place in made.layout.panels]
    assert [panel.heading for panel in panels] == ["Loft", "North", "Quarry", "Tunnel"]
    assert {panel.x for panel in panels} | {panel.y for panel in panels} == set(made.scales.axes)
    assert [place.shows_x for place in made.layout.panels] == [False, True, True, True]
    assert [place.shows_y for place in made.layout.panels] == [True, False, False, True]
