"""Columns of yes and no made one category by the codebook."""

import pandas as pd
import pytest
from conftest import laid_out, notes

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data.codebook import Codebook
from facetine.messages.errors import FacetineError

WHEELS = ft.demo_data("wheels")
FLAGS = {"flags": {"brushed": "brushed", "wrapped": "wrapped"}, "none": "untreated", "both": "both"}


def counts(figure):
    values = figure.numbers("bars")
    return dict(zip(values["x"], values["count"], strict=True))


def test_rows_are_counted_by_their_flags_in_the_order_that_was_said():
    figure = ft.figure(WHEELS, codebook={"treatment": FLAGS}).map(x="treatment").bars()
    b, w = WHEELS["brushed"], WHEELS["wrapped"]
    expected = {"brushed": (b & ~w).sum(), "wrapped": (w & ~b).sum(), "both": (b & w).sum(), "untreated": (~b & ~w).sum()}
    assert counts(figure) == expected
    assert laid_out(figure).scales.first("x").labels == ("brushed", "wrapped", "both", "untreated")
    said = ", ".join(f"{name} {count}" for name, count in expected.items())
    assert any(f"'treatment' is made of flags: {said}" in note for note in notes(figure))
    facet = ft.figure(WHEELS, codebook={"treatment": FLAGS}).map(x="ph").histogram().facet("treatment")
    assert any("made of flags" in note for note in notes(facet))


def test_missing_flags_stay_missing_and_rows_without_a_word_too():
    frame = pd.DataFrame({"a": [True, None, False, True, None], "b": [None, True, False, False, None]}, dtype="boolean")
    figure = ft.figure(frame, codebook={"t": {"flags": {"a": "first", "b": "second"}}}).map(x="t").bars()
    assert counts(figure) == {"first": 1}
    said = next(note for note in notes(figure) if "made of flags" in note)
    assert "3 with a missing flag" in said
    assert "1 without a flag, which none= would name" in said
    assert any("4 rows without t left out" in note for note in notes(figure))


def test_flags_may_be_zeros_and_ones_words_and_a_frame():
    frame = pd.DataFrame({"a": [0, 1, 0], "b": ["yes", "no", "no"]})
    table = pd.DataFrame({"column": ["t"], "flags": ["a=first; b=second"], "none": ["neither"]})
    figure = ft.figure(frame, codebook=table).map(x="t").bars()
    assert counts(figure) == {"second": 1, "first": 1, "neither": 1}
    assert Codebook.of(table).entry("t").known == ("first", "second", "neither")


def test_colors_orders_and_markup_hold_for_the_words():
    book = {
        "t": FLAGS
        | {"flags": {"brushed": "*brushed*", "wrapped": "wrapped"}, "colors": {"both": "#123456"}, "order": ["untreated"]}
    }
    figure = ft.figure(WHEELS, codebook=book).map(x="age_days", y="ph", color="t").points()
    scale = laid_out(figure).scales.looks["color"]
    assert scale.labels == ("untreated", "*brushed*", "wrapped", "both")
    assert scale.values[3] == "#123456"


def test_plans_say_flags(tmp_path):
    WHEELS.to_csv(tmp_path / "w.csv", index=False)
    (tmp_path / "p.toml").write_text(
        '[data.w]\nfile = "w.csv"\n[codebook.treatment]\nflags = { brushed = "brushed", wrapped = "wrapped" }\n'
        'none = "untreated"\nboth = "both"\n[figure.a]\ndata = "w"\nmap = { x = "treatment" }\nlayers = ["bars"]\nformats = ["svg"]\n'
    )
    (outcome,) = export_plan(tmp_path / "p.toml")
    assert outcome.error is None
    assert "untreated" in (tmp_path / "figures" / "a.svg").read_text()


@pytest.mark.parametrize(("entry", "said"), [
    ({"flags": {"brushed": "brushed"}}, "two columns of yes and no at least"),
    ({"flags": ["brushed", "wrapped"]}, "flags is a table"),
    ({"flags": {"brushed": 1, "wrapped": "b"}}, "columns with a word each"),
    ({"none": "x"}, "there are none"),
    ({"flags": {"brushed": "a", "wrapped": "a"}}, "are called 'a'"),
    (FLAGS | {"none": "both"}, "are called 'both'"),
    (FLAGS | {"from": "rind"}, "from makes it too"),
    (FLAGS | {"none": 3}, "none is a word"),
    ({"flags": {"brushed": "a", "wrapped": "b"}}, "21 rows have several flags, such as 'brushed' and 'wrapped' in row 1"),
    ({"flags": {"brushed": "a", "wraped": "b"}}, "no column 'wraped' for flags. Did you mean 'wrapped'"),
    ({"flags": {"brushed": "a", "rind": "b"}}, "can't be read as yes_no"),
])  # fmt: skip
def test_flags_that_can_not_be_are_refused(entry, said):
    with pytest.raises(FacetineError, match=said):
        laid_out(ft.figure(WHEELS, codebook={"t": entry}).map(x="t").bars())
