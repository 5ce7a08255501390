"""Columns of a legend's entries, above and beside the panels."""

import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft
from facetine.messages.errors import OptionError


def drawn(count, columns, place, width, word="k"):
    names = [f"{word}{number}" for number in range(count)]
    figure = ft.figure({"x": range(count), "y": range(count), "k": names}).map(x="x", y="y", color="k").points()
    made = laid_out(figure.theme(legend_columns=columns, legend_place=place), width, "90 mm")
    (legend,) = made.layout.legends.legends
    return names, legend.entries


@settings(max_examples=40, deadline=None)
@given(st.integers(2, 9), st.one_of(st.none(), st.integers(1, 4)), st.sampled_from(["top", "bottom", "right", "left", "inside"]))
def test_entries_stand_in_as_many_columns_as_are_said(count, columns, place):
    names, entries = drawn(count, columns, place, "180 mm")
    assert [entry.entry.label for entry in entries] == names
    rows = {}
    for entry in entries:
        rows.setdefault(round(entry.label_at[1], 3), []).append(entry.label_at[0])
    usual = count if place in ("top", "bottom") else 1
    wanted = min(count, columns or usual)
    assert max(map(len, rows.values())) == wanted
    assert len(rows) == -(-count // wanted)
    assert all(row == sorted(row) for row in rows.values())
    assert list(rows) == sorted(rows)


def test_columns_that_have_no_room_become_fewer_and_nothing_overlaps():
    names, entries = drawn(6, 4, "right", "85 mm", "a rather long name ")
    assert len({round(entry.label_at[0], 3) for entry in entries}) == 1
    assert [entry.entry.label for entry in entries] == names
    ends = [entry.label_at[1] + entry.label.height for entry in entries]
    assert all(end <= after.label_at[1] for end, after in zip(ends, entries[1:], strict=False))


@pytest.mark.parametrize("wrong", [0, 1.5, "two", True])
def test_columns_are_whole_numbers(wrong):
    with pytest.raises(OptionError, match="legend_columns is a whole number"):
        drawn(3, wrong, "top", "85 mm")


@pytest.mark.parametrize(("place", "width"), [("bottom", 85), ("left", 120)])
def test_legends_stand_below_the_titles_of_axes_or_at_the_left_of_labels(place, width):
    figure = ft.figure({"x": range(9), "y": range(9), "k": list("abc") * 3}).map(x="x", y="y", color="k").points()
    figure = figure.titles("A title", note="A note", x="Across", y="Up").theme(legend_place=place)
    for made in (laid_out(figure, width), laid_out(ft.plate([[figure, figure]], letters="A"), 2 * width)):
        assert_sound(made)
        for layout in made.layouts:
            region, box = layout.legends.region, layout.panels[0].box
            texts = {text.content: text for text in made.scene.texts()}
            if place == "left":
                assert region.right < box.x - 10
            else:
                assert texts["Across"].y < region.y
                assert region.bottom < texts["A note"].y


def test_the_shared_legend_of_a_plate_may_stand_below_it():
    figure = ft.figure({"x": range(9), "y": range(9), "k": list("abc") * 3}).map(x="x", y="y", color="k").points()
    for place in ("bottom", "left"):
        made = laid_out(
            ft.plate([[figure], [figure.titles(y="Other")]], share_legend=True).titles(note="A note").theme(legend_place=place),
            120,
        )
        assert_sound(made)
        assert sum(len(layout.legends.legends) for layout in made.layouts) == 0
        (word,) = [text for text in made.scene.texts() if text.content == "K"]
        boxes = [layout.panels[0].box for layout in made.layouts]
        assert word.x < boxes[0].x - 10 if place == "left" else word.y > boxes[1].bottom
