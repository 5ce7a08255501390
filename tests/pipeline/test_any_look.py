"""Any text and any setting of a theme: drawn soundly, or refused in one line."""

import pypdfium2
import pytest
from conftest import laid_out, svg_of
from hypothesis import given, settings
from hypothesis import strategies as st
from test_layout import FIGURES, assert_sound

import facetine as ft
from facetine.export.export import rendered
from facetine.grammar.scale import RAMPS
from facetine.grammar.theme import THEMES
from facetine.messages.errors import FacetineError
from facetine.scene.markup import plain

ALPHABETS = (
    "abc defg",
    "μέσος Ж ü",
    "الطول (12) ",
    "בית ab 1,",
    "白カビ、湿度。",
    "m s^−1^ *n* CO~2~ ",
    "longwordwithoutanyblank",
    "a\nb ",
)
words = st.sampled_from(ALPHABETS).flatmap(lambda letters: st.text(letters, max_size=60))

SETTINGS = {
    "text_size": st.floats(4, 16),
    "tick_size": st.floats(4, 14),
    "title_size": st.floats(5, 30),
    "title_weight": st.sampled_from([200, 400, 600, 900]),
    "line_height": st.floats(1.1, 1.8),
    "margin": st.floats(0.5, 20),
    "axis_width": st.floats(0, 3),
    "tick_length": st.floats(0, 12),
    "gap": st.floats(1.5, 8),
    "block_gap": st.floats(3, 20),
    "panel_gap": st.floats(6, 30),
    "legend_place": st.sampled_from(["auto", "top", "right", "bottom", "left", "inside", "none"]),
    "legend_columns": st.integers(1, 6),
    "hairlines": st.sampled_from(["none", "across", "both"]),
    "axes": st.booleans(),
    "point_size": st.floats(0.5, 12),
    "font": st.sampled_from(["Source Sans Pro", "Literata", "Noto Sans Arabic"]),
    "ramp": st.sampled_from(RAMPS),
}


def built_or_refused(figure, width):
    """A figure built; None where it says itself that the sheet is too small."""
    try:
        return laid_out(figure, width)
    except FacetineError as refusal:
        if "too small" not in refusal.headline and "no panel has room for the legends" not in refusal.headline:
            raise
        return None


@settings(max_examples=150)
@given(words, words, words, words, st.sampled_from([50, 85, 180]))
def test_any_texts_stand_apart_on_the_sheet(title, subtitle, note, axis, width):
    figure = FIGURES["scatter"].titles(title, subtitle=subtitle, note=note, x=axis, y=axis, color=axis)
    made = built_or_refused(figure, width)
    if made is not None:
        assert_sound(made)


@settings(max_examples=150)
@given(st.data(), st.sampled_from([*FIGURES]), st.sampled_from([*THEMES]), st.sampled_from([70, 120, 180]))
def test_any_settings_make_a_sound_figure_or_are_refused(data, name, theme, width):
    chosen = data.draw(st.lists(st.sampled_from([*SETTINGS]), max_size=5, unique=True))
    looks = {setting: data.draw(SETTINGS[setting]) for setting in chosen}
    made = built_or_refused(FIGURES[name].theme(theme, **looks), width)
    if made is not None:
        assert_sound(made)
        assert len(rendered(made, "pdf", dpi=72, transparent=False, fonts="name")) > 500


@given(st.text("abcxyz ÄéßñΩжЯ0123456789−µ°", min_size=1, max_size=40).filter(lambda text: text.strip()))
def test_what_a_title_says_is_found_in_the_document(text):
    text = " ".join(text.split())
    made = laid_out(FIGURES["scatter"].titles(text), 180)
    document = pypdfium2.PdfDocument(rendered(made, "pdf", dpi=72, transparent=False, fonts="name"))
    found = document[0].get_textpage().get_text_bounded()
    document.close()
    assert text.replace(" ", "") in "".join(found.split())


@given(words)
def test_what_a_title_says_is_the_text_of_the_svg(text):
    root = svg_of(FIGURES["scatter"].titles(text), "180 mm")
    titles = [one for one in root.iter("{http://www.w3.org/2000/svg}g") if one.get("id", "").endswith("title")]
    said = "".join("".join(line.itertext()) for group in titles[:1] for line in group if line.tag.endswith("text"))
    if text.strip() and "\n" not in text:
        assert plain(text).replace(" ", "") in said.replace(" ", "").replace("-", "")


@pytest.mark.parametrize("theme", THEMES)
def test_themes_say_everything_once(theme):
    made = laid_out(ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points().theme(theme).titles("Once"))
    said = [text.content for text in made.scene.texts()]
    assert said.count("Once") == 1
    assert len([text for text in made.scene.texts() if text.role == "axis title"]) == (0 if theme == "bare" else 2)
