"""What is known of the columns."""

import pytest

from facetine.data.codebook import Codebook, escaped
from facetine.data.words import as_words
from facetine.errors import OptionError
from facetine.scene.markup import plain


def test_titles_have_the_unit_in_parentheses():
    book = Codebook.of({"moisture_pct": {"label": "Moisture", "unit": "%"}, "ph": {"label": "pH"}, "rind": "Kind of rind"})
    assert book.title("moisture_pct") == "Moisture (%)"
    assert book.title("ph") == "pH"
    assert book.title("rind") == "Kind of rind"


@pytest.mark.parametrize(
    ("name", "said"),
    [
        ("mass_kg", "Mass (kg)"),
        ("age_days", "Age (days)"),
        ("cellar", "Cellar"),
        ("firmness_n", "Firmness n"),
        ("ph", "pH"),
    ],
)
def test_a_name_with_no_label_is_shown_as_words(name, said):
    assert Codebook.of(None).title(name) == said


def test_a_guessed_unit_gives_way_to_a_said_one():
    assert Codebook.of({"mass_kg": {"unit": "t"}}).title("mass_kg") == "Mass (t)"
    assert Codebook.of({"mass_kg": {"unit": ""}}).title("mass_kg") == "Mass"


def test_words_survive_odd_names():
    assert as_words("")[0] == ""
    assert as_words("__")[0] == "__"
    assert as_words("DNA_ng")[0] == "DNA ng"


@pytest.mark.parametrize("text", ["a*b*c", "x^2^", "H~2~O", "back\\slash", "plain", "*", "**"])
def test_escaped_text_is_written_as_it_stands(text):
    assert plain(escaped(text)) == text


def test_books_are_laid_over_each_other_key_by_key():
    paper = Codebook.of({"x": {"label": "Depth", "unit": "mm"}})
    figure = Codebook.of({"x": {"unit": "cm"}, "y": {"label": "Salt"}})
    both = paper.merged(figure)
    assert both.title("x") == "Depth (cm)"
    assert both.title("y") == "Salt"


@pytest.mark.parametrize(
    "given",
    [
        {"x": {"lable": "Depth"}},
        {"x": {"kind": "numbre"}},
        {"x": {"order": "abc"}},
        {"x": {"colors": {"a": "teall"}}},
        {"x": {"colors": "teal"}},
        {"x": {"unit": 5}},
        {"x": 5},
        ["x"],
    ],
)
def test_what_no_entry_can_say_is_refused(given):
    with pytest.raises(OptionError, match="codebook"):
        Codebook.of(given)
