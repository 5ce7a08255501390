"""Boxes: measured, then placed; bands stand at the edges of their panels, and panels on common tracks."""

import numpy as np
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.grammar.theme import Theme
from facetine.messages.errors import ExportError
from facetine.pipeline.guides.boxes import Heading, Words
from facetine.pipeline.layout.request import styles_of
from facetine.scene.region import Region

FONTS = styles_of(Theme())
PHRASES = st.lists(st.text("abcdefghij ", min_size=1, max_size=14).map(str.strip).filter(bool), min_size=1, max_size=8).map(
    " ".join
)


@given(PHRASES, st.floats(20, 200), st.floats(1.1, 3))
def test_a_text_is_never_higher_where_it_is_wider(text, width, more):
    words = Words(text, FONTS.text, "title", "Title", "title")
    across = words.measure("x", 100.0)
    assert across.least <= across.natural + 1e-9
    assert words.measure("y", width * more).natural <= words.measure("y", width).natural + 1e-9
    assert words.measure("y", across.natural + 1.0).natural == pytest.approx(words.block(1e5).height)
    assert words.measure("y", width).natural <= words.place(Region(5, 7, width, 100)).block.height + 1e-9


@given(PHRASES, st.floats(30, 200))
def test_a_heading_has_room_for_its_rule(text, width):
    heading = Heading(text, FONTS.heading, Theme())
    assert heading.measure("y", width).natural == pytest.approx(
        heading.place(Region(0, 0, width, 50)).block.height + 2 * Theme().gap
    )


@given(
    st.lists(st.text("abcdefgh ", min_size=1, max_size=18).map(str.strip).filter(bool), min_size=1, max_size=7, unique=True),
    st.sampled_from([None, "x", "y", "xy"]),
    st.sampled_from([90, 130, 180]),
    st.sampled_from(["numbers", "categories", "both"]),
    st.booleans(),
)
def test_panels_stand_on_common_tracks_with_their_bands_at_their_edges(names, separate, width, kind, second):
    count = 6 * len(names)
    data = {
        "f": np.repeat(names, 6), "n": np.arange(count) * 37.5, "m": np.arange(count) * 1e4 + 3,
        "k": np.array(["alder", "birch", "a long name of a tree"])[np.arange(count) % 3],
    }  # fmt: skip
    columns = {"numbers": ("n", "m"), "categories": ("n", "k"), "both": ("k", "m")}[kind]
    figure = ft.figure(data).map(x=columns[0], y=columns[1]).points().facet("f", separate=separate)
    if second and kind != "both":
        figure = figure.scale("x", second_axis={"convert": 2.5, "title": "Other"})
    try:
        made = laid_out(figure, width)
    except ExportError:
        return
    layout = made.layout
    for place in layout.panels:
        box = place.box
        assert 0 <= box.x < box.right <= layout.width + 1e-6
        assert 0 <= box.y < box.bottom <= layout.height + 1e-6
        for band in place.bands:
            edges = {
                "below": (band.region.y, box.bottom), "above": (band.region.bottom, box.y),
                "left": (band.region.right, box.x), "right": (band.region.x, box.right),
            }  # fmt: skip
            one, other = edges[band.side]
            assert one == pytest.approx(other, abs=1e-6)
            along = (band.region.width, box.width) if band.side in ("below", "above") else (band.region.height, box.height)
            assert along[0] == pytest.approx(along[1])
        for other in layout.panels:
            if other.panel.rows == place.panel.rows:
                assert (other.box.y, other.box.bottom) == pytest.approx((box.y, box.bottom), abs=0.01)
            if other.panel.columns == place.panel.columns:
                assert (other.box.x, other.box.right) == pytest.approx((box.x, box.right), abs=0.01)
            assert other.box.width == pytest.approx(box.width)
            assert other.box.height == pytest.approx(box.height)
            if other is not place:
                assert not other.box.overlaps(box)
    texts = [text for text in made.scene.texts() if text.content.strip()]
    for number, text in enumerate(texts):
        assert text.box.x >= -0.01
        assert text.box.right <= layout.width + 0.01
        assert text.box.bottom <= layout.height + 0.01
        for after in texts[number + 1 :]:
            assert not text.box.overlaps(after.box, slack=0.3), (text.content, after.content)
