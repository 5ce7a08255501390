"""What is known of the columns."""

import pytest
from conftest import laid_out

import facetine as ft
from facetine.core.scales.formats import escaped
from facetine.data.codebook import Codebook
from facetine.data.words import as_words
from facetine.messages.errors import OptionError
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
        [{"x": {"unit": 5}}],
        5,
    ],
)
def test_what_no_entry_can_say_is_refused(given):
    with pytest.raises(OptionError, match="codebook"):
        Codebook.of(given)


def test_a_list_of_books_is_laid_over_each_other():
    book = Codebook.of([{"x": {"label": "Depth", "unit": "mm"}}, None, {"x": {"unit": "cm"}}])
    assert book.title("x") == "Depth (cm)"


def test_a_frame_can_say_classes():
    pandas = pytest.importorskip("pandas")
    book = Codebook.of(pandas.DataFrame({"column": ["age"], "classes": ["young=0..60; ripe = 60 .. 1e3"]}))
    assert book.entry("age").classes == {"young": (0.0, 60.0), "ripe": (60.0, 1000.0)}
    with pytest.raises(OptionError, match="no class"):
        Codebook.of(pandas.DataFrame({"column": ["age"], "classes": ["young 0 to 60"]}))


def test_words_of_a_book_may_hold_markup_and_data_may_not():
    book = {"gas": {"words": {"a": "CO~2~", "b": "N~2~"}}}
    figure = ft.figure({"gas": ["a", "b", "c~2~"], "v": [1, 2, 3]}, codebook=book).map(x="gas", y="v", color="gas").points()
    said = [text.content for text in laid_out(figure).scene.texts()]
    assert {"CO2", "N2", "c~2~"} <= set(said)
    labelled = figure.labels(map={"label": "gas"})
    assert "CO2" in [text.content for text in laid_out(labelled).scene.texts() if text.role not in ("tick", "legend")]


def colors_of(figure):
    scale = laid_out(figure).scales.looks["color"]
    return dict(zip(scale.labels, scale.values, strict=False))


@pytest.mark.parametrize(
    "entry",
    [
        {"order": ["washed", "bloomy", "natural", "waxed"]},
        {"words": {"washed": "Washed", "bloomy": "Bloomy", "natural": "Natural", "waxed": "Waxed"}},
        {"kind": "ordered", "order": ["washed", "bloomy", "natural", "waxed"]},
        {"order": ["washed", "bloomy", "natural", "waxed"], "colors": {"bloomy": "teal"}},
    ],
)
def test_categories_keep_their_colors_in_figures_that_show_only_some_of_them(entry):
    wheels = ft.figure(ft.demo_data("wheels"), codebook={"rind": entry}).map(x="age_days", y="mass_kg", color="rind").points()
    every, some = colors_of(wheels), colors_of(wheels.keep("lower(rind) IN ('natural', 'waxed')"))
    assert len(some) == 2
    assert some.items() <= every.items()
    assert len(set(every.values())) == 4


def test_a_book_for_all_figures_lies_under_a_figures_own():
    with ft.defaults(codebook={"mass_kg": {"label": "Mass", "unit": "kg"}, "age_days": {"label": "Age"}}):
        figure = ft.figure(ft.demo_data("wheels"), codebook={"mass_kg": {"unit": "t"}}).map(x="age_days", y="mass_kg").points()
    scales = laid_out(figure).scales
    assert (scales.first("x").title, scales.first("y").title) == ("Age", "Mass (t)")


def test_a_color_for_missing_numbers_can_stand_in_the_book():
    data = {"x": [1.0, 2], "y": [1.0, 2], "c": [5.0, None]}
    figure = ft.figure(data, codebook={"c": {"missing": "#112233"}}).map(x="x", y="y", color="c").points()
    assert laid_out(figure).scales.looks["color"].values[-1] == "#112233"
