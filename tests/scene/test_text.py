"""Markup, measuring and wrapping."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from facetine.core.scales.formats import escaped
from facetine.messages.errors import OptionError
from facetine.scene.fonts import face
from facetine.scene.markup import Piece, parsed, plain
from facetine.scene.typeset import TextStyle, balanced, set_text

PLAIN = TextStyle("Source Sans Pro", 8.0, 400, "#000000")
words = st.lists(st.text("abcdefghij-/", min_size=1, max_size=14), min_size=1, max_size=12)


def content(block):
    return ["".join(run.text for run in line) for line in block.lines]


@pytest.mark.parametrize(
    ("text", "spans"),
    [
        ("CO~2~", (Piece("CO"), Piece("2", level=-1))),
        ("m s^−1^", (Piece("m s"), Piece("−1", level=1))),
        ("*n* = 240", (Piece("n", italic=True), Piece(" = 240"))),
        ("a **b** c", (Piece("a "), Piece("b", bold=True), Piece(" c"))),
        ("**bo*th***", (Piece("bo", bold=True), Piece("th", bold=True, italic=True))),
        (r"5 \* 3", (Piece("5 * 3"),)),
        ("3 * 4 * 5", (Piece("3 * 4 * 5"),)),
        ("~100 and ^", (Piece("~100 and ^"),)),
        ("", ()),
    ],
)
def test_markup(text, spans):
    assert parsed(text) == spans


@given(st.text(max_size=30).filter(lambda text: "\n" not in text))
def test_escaped_text_always_comes_back(text):
    assert "".join(span.text for span in parsed(escaped(text))) == text
    assert all(span[1:] == (False, False, 0) for span in parsed(escaped(text)))


@given(st.text("ab*~^\\ ", max_size=20))
def test_markup_never_loses_a_letter(text):
    assert [c for c in plain(text) if c in "ab"] == [c for c in text if c in "ab"]


def test_widths_are_those_of_the_font():
    font = face("Source Sans Pro")
    assert set_text("AVAVAV", PLAIN).width < 6 * set_text("A", PLAIN).width  # kerned
    assert set_text("nn", PLAIN).width == pytest.approx(2 * font.font.get_glyph_h_advance(font.shape("n").ids[0]) * 8 / 1000)


def test_superscripts_are_smaller_and_higher():
    line = set_text("x^2^", PLAIN).lines[0]
    assert line[1].size < line[0].size
    assert line[1].shift > 0


@given(words, st.floats(30, 200))
def test_wrapped_lines_fit_and_keep_every_word(given_words, width):
    text = " ".join(given_words)
    block = set_text(text, PLAIN, width)
    assert block.width <= width + 1e-6
    joined = "".join(content(block))
    assert [c for c in joined if c.isalpha()] == [c for c in text if c.isalpha()]


@given(words, st.floats(40, 200))
def test_balanced_lines_are_as_many_and_no_longer(given_words, width):
    text = " ".join(given_words)
    greedy, even = set_text(text, PLAIN, width), balanced(text, PLAIN, width)
    assert len(even.lines) <= max(len(greedy.lines), 1)
    assert even.width <= width + 1e-6


def test_line_breaks_are_kept():
    assert content(set_text("one\ntwo", PLAIN, 500.0)) == ["one", "two"]


def test_markup_survives_wrapping():
    block = set_text("a rather *long italic stretch* here", PLAIN, 60.0)
    italics = "".join(run.text for line in block.lines for run in line if "i" in run.face.split("/")[1])
    assert italics.replace(" ", "") == "longitalicstretch"


def test_an_unknown_family_is_refused():
    with pytest.raises(OptionError, match="no family"):
        face("Nowhere Sans")
