"""Tracks keep their least sizes, share the rest, and fill their line."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from facetine.core.geometry.tracks import Need, TooSmallError, Track, edges_of

SIZES = st.floats(0, 500)
TRACKS = st.lists(st.builds(Track, SIZES, st.sampled_from([0.0, 0.0, 1.0, 1.0, 2.0, 0.5])), min_size=1, max_size=12)


@st.composite
def needs(draw, count):
    ends = draw(st.lists(st.tuples(st.integers(0, count - 1), st.integers(0, count - 1), SIZES), max_size=4))
    return [Need(min(one, other), max(one, other), least) for one, other, least in ends]


@given(TRACKS, st.floats(0, 5000), st.data())
def test_sizes_are_at_least_the_least_and_fill_the_line(tracks, total, data):
    spans = data.draw(needs(len(tracks)))
    natural = np.diff(edges_of(tracks, None, spans))
    assert (natural >= [track.least - 1e-9 for track in tracks]).all()
    for need in spans:
        assert natural[need.first : need.last + 1].sum() >= need.least - 1e-6
    if natural.sum() > total + 1e-6:
        with pytest.raises(TooSmallError) as raised:
            edges_of(tracks, total, spans)
        assert raised.value.needed == pytest.approx(natural.sum())
        assert edges_of(tracks, raised.value.needed, spans)[-1] == pytest.approx(natural.sum())
        return
    assume(natural.sum() <= total)
    edges = edges_of(tracks, total, spans)
    assert (np.diff(edges) >= natural - 1e-6).all()
    assert edges[0] == 0
    assert (np.diff(edges) >= 0).all()
    if any(track.share for track in tracks):
        assert edges[-1] == pytest.approx(total)
    else:
        np.testing.assert_allclose(np.diff(edges), natural)


@given(TRACKS, st.floats(0, 5000))
def test_what_grows_grows_as_its_share(tracks, more):
    least = edges_of(tracks)[-1]
    sizes = np.diff(edges_of(tracks, least + more))
    grown = [(size, track) for size, track in zip(sizes, tracks, strict=True) if track.share and size > track.least + 1e-6]
    for size, track in grown[1:]:
        assert size / track.share == pytest.approx(grown[0][0] / grown[0][1].share)
    for size, track in zip(sizes, tracks, strict=True):
        if track.share and grown:
            assert size >= min(track.share * grown[0][0] / grown[0][1].share, max(size, track.least)) - 1e-6
        if not track.share:
            assert size == pytest.approx(track.least)


@given(TRACKS, st.floats(0, 1000), st.floats(0, 1000))
def test_no_track_shrinks_when_the_line_grows(tracks, one, other):
    least = edges_of(tracks)[-1]
    small, large = (np.diff(edges_of(tracks, least + more)) for more in sorted((one, other)))
    assert (large >= small - 1e-6).all()


def test_a_need_goes_to_what_can_grow_else_to_the_last():
    assert edges_of([Track(10), Track(5, 1), Track(5, 3)], None, [Need(0, 2, 40)]).tolist() == [0, 10, 20, 40]
    assert edges_of([Track(10), Track(5)], None, [Need(0, 1, 40)]).tolist() == [0, 10, 40]
    assert edges_of([Track(10), Track(5)], None, [Need(0, 1, 12)]).tolist() == [0, 10, 15]
