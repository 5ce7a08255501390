"""Sheets of many panels in any theme, at any width: drawn without a text cut or over another one, or refused with a size that does."""

import re

import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st
from test_layout import assert_sound
from test_marginals import assert_aligned

import facetine as ft
from facetine.grammar.theme import THEMES
from facetine.messages.errors import ExportError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points(size=1.5)
COLUMNS = ["mass_kg", "ph", "firmness_n", "moisture_pct", "eye_mm", "age_days", "rind", "milk"]
SHEETS = {
    "crossed": BASE.facet(rows="cellar", columns="rind"),
    "sixty": BASE.derive(number="age_days % 60").facet("number"),
    "matrix": ft.matrix(WHEELS, COLUMNS),
    "plate": ft.plate(
        [
            [BASE, BASE.map(color="rind")],
            [BASE.facet("milk"), BASE.marginal("top", "rug")],
            [BASE.map(y="ph"), BASE.map(y="mass_kg")],
        ],
        letters="A",
    ),
    "marginals": BASE.facet("cellar", per_row=2).marginal("top", "histogram").marginal("right", "boxes"),
}


def drawn(figure, width):
    """A figure at a width, or at the one that its error names."""
    try:
        return laid_out(figure, width)
    except ExportError as error:
        (said,) = re.findall(r'width="(\d+) mm" would do', str(error))
    return laid_out(figure, int(said))


@pytest.mark.parametrize("sheet", SHEETS)
@pytest.mark.parametrize(("theme", "width"), [*((theme, 180) for theme in THEMES), ("press", 60), ("press", 85), ("field", 85)])
def test_no_text_is_cut_or_meets_another(sheet, theme, width):
    made = drawn(SHEETS[sheet].theme(theme), width)
    assert_sound(made)
    for layout in made.layouts:
        for place in layout.panels:
            assert place.box.width >= 1.9
            assert place.box.height >= 0.5
    if sheet != "plate":
        assert_aligned(made)


@settings(max_examples=12)
@given(st.integers(5, 60), st.sampled_from(["wrapped", "crossed", "left"]), st.sampled_from([60, 85, 180]))
def test_headings_of_any_length_find_their_room(letters, form, width):
    words = [("ab cdefg hijklm " * 5)[number : number + letters] for number in range(4)]
    frame = {
        "x": list(range(16)),
        "y": list(range(16)),
        "p": [words[n % 4] for n in range(16)],
        "q": [words[n // 4] for n in range(16)],
    }
    figure = ft.figure(frame).map(x="x", y="y").points()
    crossing = {"rows": "p", "columns": "q", "row_headings": "left" if form == "left" else "right"}
    figure = figure.facet("p") if form == "wrapped" else figure.facet(**crossing)
    made = drawn(figure, width)
    assert_sound(made)
    assert_aligned(made)
