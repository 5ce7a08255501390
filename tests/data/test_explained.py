"""What a codebook says of columns shows in every figure: words, classes, derived columns, colors."""

import pandas as pd
import pytest
from conftest import laid_out, svg_of, texts

import facetine as ft
from facetine.data.codebook import Codebook
from facetine.messages.errors import FacetineError, KindError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
CODES = {"season": [1, 2, 1, None, 3], "y": [1.0, 2, 3, 4, 5], "late": [True, False, True, True, None]}
BOOK = {
    "season": {
        "label": "Season",
        "words": {1: "spring", 2: "summer", 3: "autumn"},
        "colors": {"1": "#2b5a41", "summer": "gold"},
    },
    "late": {"words": {True: "after noon", False: "before noon"}},
    "age_class": {"label": "Age", "from": "age_days", "classes": {"old": [180, 1000], "young": [0, 60], "ripe": [60, 180]}},
    "both": {"from": "brushed AND wrapped", "words": {"true": "both", "false": "not both"}},
}


def test_codes_are_called_by_their_words_in_the_order_of_the_book():
    made = laid_out(ft.figure(CODES, codebook=BOOK).map(x="season", color="season").bars())
    assert made.scales.first("x").labels == ("spring", "summer", "autumn")
    assert made.tables[0]["count"].tolist() == [2, 1, 1]
    colors = dict(zip(made.scales.looks["color"].labels, made.scales.looks["color"].values, strict=True))
    assert (colors["spring"], colors["summer"]) == ("#2b5a41", "#ffd700")


def test_words_stand_in_headings_legends_and_ticks():
    said = texts(svg_of(ft.figure(CODES, codebook=BOOK).map(x="season", y="y", color="late").points().facet("season")))
    assert {"Season", "spring", "summer", "after noon", "before noon"} <= set(said)


def test_orders_may_be_given_by_code_or_by_word():
    for order in ([3, 1], ["autumn", "spring"]):
        book = {"season": BOOK["season"] | {"order": order}}
        axis = laid_out(ft.figure(CODES, codebook=book).map(x="season").bars()).scales.first("x")
        assert axis.labels == ("autumn", "spring", "summer")


def test_classes_are_ordered_and_made_from_another_column():
    made = laid_out(ft.figure(WHEELS, codebook=BOOK).map(x="age_class").bars())
    assert made.scales.first("x").labels == ("young", "ripe", "old")
    assert made.scales.first("x").title == "Age"
    expected = pd.cut(WHEELS.age_days, [0, 60, 180, 1001], right=False).value_counts(sort=False)
    assert made.tables[0]["count"].tolist() == expected.tolist()


def test_a_column_is_derived_by_an_expression():
    made = laid_out(ft.figure(WHEELS, codebook=BOOK).map(x="both").bars())
    assert made.scales.first("x").labels == ("both", "not both")
    assert made.tables[0]["count"][0] == (WHEELS.brushed & WHEELS.wrapped).sum()


def test_derived_columns_can_be_kept_by():
    fig = ft.figure(WHEELS, codebook=BOOK).keep("age_class = 'old'")
    assert fig._sentence.table.height == (WHEELS.age_days >= 180).sum()


def test_the_book_says_what_becomes_of_missing_values():
    base = ft.figure(WHEELS, codebook={"grade": {"missing": "show"}}).map(x="grade")
    assert laid_out(base.bars()).scales.first("x").labels[-1] == "missing"
    assert laid_out(base.bars().scale("x", missing="drop")).scales.first("x").labels[-1] == "grand"
    painted = ft.figure(WHEELS, codebook={"grade": {"missing": "black"}}).map(x="ph", y="mass_kg", color="grade").points()
    assert laid_out(painted).scales.looks["color"].values[-1] == "#000000"


def test_colors_follow_categories_also_where_only_some_are_shown():
    book = {"rind": {"colors": {"washed": "#111111", "bloomy": "#222222", "natural": "#333333", "waxed": "#444444"}}}
    base = ft.figure(WHEELS, codebook=book).map(x="ph", y="mass_kg", color="rind").points()

    def colors(figure):
        scale = laid_out(figure).scales.looks["color"]
        return dict(zip(scale.labels, scale.values, strict=True))

    some = colors(base.keep("rind IN ('waxed', 'natural')"))
    assert some == {"natural": "#333333", "waxed": "#444444"}


TOML = """
# What is known of the wheels.
[codebook.moisture_pct]
label = "Moisture"
unit = "%"

[codebook.rind]
label = "Rind"
order = ["washed", "bloomy"]
"""


def test_a_book_comes_from_toml_from_a_frame_or_from_a_dict(tmp_path):
    (tmp_path / "book.toml").write_text(TOML)
    (tmp_path / "bare.toml").write_text(TOML.replace("codebook.", ""))
    frame = pd.DataFrame(
        {
            "column": ["moisture_pct", "rind", "season"],
            "label": ["Moisture", "Rind", None],
            "unit": ["%", None, None],
            "order": [None, "washed; bloomy", None],
            "words": [None, None, "1=spring; 2=summer"],
        }
    )
    for given in (tmp_path / "book.toml", str(tmp_path / "bare.toml"), frame):
        book = Codebook.of(given)
        assert book.title("moisture_pct") == "Moisture (%)"
        assert book.entry("rind").order == ("washed", "bloomy")
    assert Codebook.of(frame).entry("season").words == {"1": "spring", "2": "summer"}


def test_an_error_in_a_file_names_the_line(tmp_path):
    (tmp_path / "book.toml").write_text(TOML + 'colour = "red"\n')
    with pytest.raises(OptionError, match=r"book.toml, line 10: .*no key 'colour'. Did you mean 'colors'"):
        Codebook.of(tmp_path / "book.toml")
    with pytest.raises(OptionError, match="can't be read"):
        Codebook.of(tmp_path / "none.toml")
    (tmp_path / "broken.toml").write_text("[x")
    with pytest.raises(OptionError, match="no TOML"):
        Codebook.of(tmp_path / "broken.toml")


@pytest.mark.parametrize(
    ("error", "entry", "said"),
    [
        (OptionError, {"classes": {"a": [0, 5], "b": [4, 9]}}, "overlap"),
        (OptionError, {"classes": {"a": [5, 0]}}, "is a range"),
        (OptionError, {"classes": [0, 5]}, "is a table"),
        (OptionError, {"words": ["spring"]}, "is a table"),
        (OptionError, {"missing": "hide"}, "missing"),
        (OptionError, {"from": 3}, "from is text"),
        (KindError, {"from": "rind", "classes": {"a": [0, 5]}}, "classes need numbers"),
        (MappingError, {"from": "rind", "words": {"1": "one"}}, "none of its values"),
        (MappingError, {"from": "rind = "}, "can't be evaluated"),
    ],
)
def test_a_wrong_entry_is_told(error, entry, said):
    with pytest.raises(FacetineError, match=said) as caught:
        laid_out(ft.figure(WHEELS, codebook={"made": entry}).map(x="made").bars())
    assert isinstance(caught.value, error)
    assert "made" in str(caught.value)


def test_an_entry_for_a_column_that_is_not_there_does_no_harm():
    book = {"nowhere": {"words": {"1": "one"}}, "far": {"from": "nowhere", "classes": {"a": [0, 1]}}}
    assert len(laid_out(ft.figure(WHEELS, codebook=book).map(x="rind").bars()).tables[0]) == 4
