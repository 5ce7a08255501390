"""Families found, faces loaded, other families standing in, and text that runs from right to left."""

import io
import os
import re
import subprocess
import sys

import pypdfium2
import pytest
from bidi.algorithm import get_display
from conftest import laid_out, notes, pdf_of, svg_of
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.export.export import rendered
from facetine.messages.errors import OptionError
from facetine.scene.catalog import SHIPPED, catalog, nearest, substitutes
from facetine.scene.direction import base_level, levels, visual
from facetine.scene.fonts import face, pieces
from facetine.scene.typeset import TextStyle, set_text

PLAIN = TextStyle(SHIPPED, 8.0, 400, "#000000")
ARABIC, VARIABLE = "Noto Sans Arabic", "Literata"
WHEELS = ft.demo_data("wheels")
SCATTER = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()
mixed = st.text("abc 12(),.-αжش عربي בית中文", max_size=24)


def drawn_text(figure):
    """The text page of a figure's PDF."""
    pdf = rendered(laid_out(figure), "pdf", dpi=100, transparent=False, fonts="name")
    return pypdfium2.PdfDocument(pdf)[0].get_textpage()


def test_the_shipped_family_and_installed_packages_are_found():
    families = catalog()
    assert families[SHIPPED].source == "shipped"
    assert families[VARIABLE].source == families[ARABIC].source == "package"
    assert list(families) == sorted(families)


def test_family_names_may_be_in_small_letters_and_wrong_ones_name_the_nearest():
    assert face("literata").key.family == VARIABLE
    with pytest.raises(OptionError, match="Did you mean 'Literata'"):
        face("Litterata")
    with pytest.raises(OptionError, match=r"figure.theme: font: no family 'Literta'"):
        SCATTER.theme(font="Literta")
    with pytest.raises(OptionError, match="no family"), ft.defaults(theme={"font": "Literta"}):
        pass


@pytest.mark.parametrize("name", [SHIPPED, VARIABLE, ARABIC])
def test_faces_of_a_family_come_at_the_weight_that_is_asked_for(name):
    widths = [face(name, weight).shape("nnnn").width for weight in (400, 600, 700)]
    assert widths == sorted(set(widths))


def test_a_variable_face_is_cut_at_its_weight():
    assert face(VARIABLE, 530).key.weight == 530
    assert not face(VARIABLE, 530).face.axis_infos
    assert face(VARIABLE, 9_999).key.weight == 900


def test_italics_are_taken_where_a_family_has_them():
    assert face(VARIABLE, 400, italic=True).key.italic
    assert not face(ARABIC, 400, italic=True).key.italic
    upright = nearest(catalog()[SHIPPED].faces, 400, italic=False)
    assert upright.path.name == "SourceSansPro-Regular.otf"


def run_with_fonts(folder, code):
    env = {**os.environ, "XDG_DATA_HOME": str(folder), "XDG_DATA_DIRS": str(folder / "none"), "HOME": str(folder)}
    done = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=True)
    return done.stdout


@pytest.mark.skipif(sys.platform != "linux", reason="the folders are those of Linux")
def test_fonts_of_the_machine_are_found_but_not_those_that_may_not_be_embedded(tmp_path):
    (tmp_path / "fonts" / "deep").mkdir(parents=True)
    source = next(file.path for file in catalog()[SHIPPED].faces if file.path.name.endswith("-Regular.otf"))
    for name, rights in (("Cellar Hand", 0), ("Cellar Locked", 2)):
        font = TTFont(source)
        font["name"].setName(name, 1, 3, 1, 0x409)
        font["name"].setName(name, 1, 1, 0, 0)
        font["OS/2"].fsType = rights
        font.save(tmp_path / "fonts" / "deep" / f"{name}.otf")
    (tmp_path / "fonts" / "broken.ttf").write_bytes(b"no font at all")
    said = run_with_fonts(
        tmp_path,
        "from facetine.cli.main import main; import sys; sys.argv = ['facetine', 'catalog', 'fonts']\n"
        "try: main()\nexcept SystemExit: pass\n",
    )
    assert re.search(r"^Cellar Hand +400; a font of this machine$", said, re.MULTILINE)
    assert "Locked" not in said
    assert re.search(r"^Source Sans Pro .*comes with Facetine$", said, re.MULTILINE)


@pytest.mark.parametrize("name", [SHIPPED, VARIABLE])
def test_small_figures_have_the_size_and_place_that_the_font_says(name):
    used = face(name)
    table = TTFont(io.BytesIO(bytes(used.face.blob.data)), lazy=True)["OS/2"]
    units, measures = used.units, used.measures
    assert measures.super_rise == pytest.approx(table.ySuperscriptYOffset / units)
    assert measures.sub_drop == pytest.approx(table.ySubscriptYOffset / units)
    assert measures.super_size == pytest.approx(max(table.ySuperscriptXSize, table.ySuperscriptYSize) / units)
    assert measures.cap == pytest.approx(table.sCapHeight / units)
    line = set_text("m s^−1^ CO~2~", PLAIN._replace(family=name)).lines[0]
    assert [run.text for run in line] == ["m s", "−1", " CO", "2"]
    assert line[1].size == pytest.approx(8 * measures.super_size, abs=0.01)
    assert line[1].shift == pytest.approx(8 * measures.super_rise)
    assert line[3].shift == pytest.approx(-8 * measures.sub_drop)


@given(mixed)
def test_pieces_make_up_the_text_and_each_has_its_glyphs(text):
    cut = list(pieces(text, face(SHIPPED)))
    assert "".join(piece for piece, _ in cut) == text
    for piece, used in cut:
        for char in piece:
            if ord(char) not in used.characters:
                assert char == " " or not substitutes(char)


def test_greek_and_cyrillic_stay_in_the_shipped_family_and_packages_come_before_the_machine():
    assert [used.key.family for _, used in pieces("μέσος влажность", face(SHIPPED))] == [SHIPPED]
    assert substitutes("ع")[0].source == "package"
    assert [used.key.family for _, used in pieces("abc ж", face(ARABIC))][-1] == SHIPPED


def test_marks_stay_with_the_letter_that_bears_them():
    for piece, _ in pieces("شَدّ n̈ é", face(SHIPPED)):
        assert not re.match("[\u0300-\u036f\u064b-\u0652]", piece)


def test_letters_are_taken_whole_from_a_face_that_has_them():
    greek = next(char for char in "ώήίύό" if ord(char) not in face(ARABIC).characters)
    line = set_text(f"a{greek}", PLAIN._replace(family=ARABIC)).lines[0]
    assert line[-1].face.startswith(SHIPPED)
    assert line[-1].text == greek


def test_blanks_at_the_ends_of_spans_are_kept_in_an_svg():
    root = svg_of(SCATTER.titles("mean *n* of CO~2~ here"))
    (title,) = [one for one in root.iter("{http://www.w3.org/2000/svg}text") if "mean" in "".join(one.itertext())]
    assert "".join(title.itertext()) == "mean n of CO2 here"
    assert title.get("{http://www.w3.org/XML/1998/namespace}space") == "preserve"


def test_characters_that_no_font_has_are_named():
    (said,) = [note for note in notes(SCATTER.titles("lost \U0010fffd")) if note.startswith("fonts:")]
    assert "U+10FFFD" in said
    assert not [note for note in notes(SCATTER.titles("μέσος")) if note.startswith("fonts:")]


def test_wide_characters_break_anywhere_without_a_hyphen():
    block = set_text("白カビチーズの水分と硬さの関係", PLAIN, 40.0)
    joined = ["".join(run.text for run in line) for line in block.lines]
    assert len(joined) > 2
    assert "".join(joined) == "白カビチーズの水分と硬さの関係"


@given(mixed)
def test_runs_stand_in_the_order_of_the_bidirectional_algorithm(text):
    text = text.replace("(", "").replace(")", "")  # brackets are mirrored besides
    base = base_level(text)
    of_each = levels(text, base)
    stretches, start = [], 0
    for place in range(1, len(text) + 1):
        if place == len(text) or of_each[place] != of_each[start]:
            stretches.append((text[start:place], of_each[start]))
            start = place
    shown = "".join(part[::-1] if level % 2 else part for part, level in visual(stretches, [level for _, level in stretches]))
    assert shown.strip() == get_display(text).strip()  # blanks at an end are set to the paragraph's direction last


@given(mixed)
def test_runs_keep_the_order_of_the_text_and_their_width(text):
    block = set_text(text.strip(), PLAIN)
    for line in block.lines:
        assert "".join(run.text for run in line) == text.strip()
        assert sum(run.width for run in line) == pytest.approx(block.width)


def test_arabic_letters_stand_from_right_to_left_in_the_document():
    page = drawn_text(SCATTER.titles("الطول 12 ab"))
    found = [(page.get_text_range(at, 1), page.get_charbox(at)[0]) for at in range(page.count_chars())]
    left = {char: x for char, x in reversed(found) if char in "لط1ab"}
    assert left["a"] < left["b"] < left["1"] < left["ط"] < left["ل"]


def test_an_svg_keeps_the_text_in_the_order_of_reading_and_says_its_direction():
    root = svg_of(SCATTER.titles("الطول (12) ab"))
    (title,) = [one for one in root.iter("{http://www.w3.org/2000/svg}text") if "الطول" in "".join(one.itertext())]
    assert "".join(title.itertext()) == "الطول (12) ab"
    assert title.get("direction") == "rtl"
    assert title.get("text-anchor") == "end"


def test_quadratic_outlines_are_embedded_as_such_and_hold_only_what_is_used():
    pdf = pdf_of(SCATTER.theme(font=VARIABLE).titles("Éfficient"))
    for font in pdf.pages[0].Resources.Font.values():
        inner = font.DescendantFonts[0]
        assert str(inner.Subtype) == "/CIDFontType2"
        assert str(inner.CIDToGIDMap) == "/Identity"
        cut = TTFont(io.BytesIO(inner.FontDescriptor.FontFile2.read_bytes()))
        widths = [cut["hmtx"][name][0] * 1000 / cut["head"].unitsPerEm for name in cut.getGlyphOrder()]
        assert [float(width) for width in inner.W[1]] == pytest.approx(widths, abs=0.01)
        assert len(widths) < 60


@pytest.mark.parametrize("family", [SHIPPED, VARIABLE])
def test_what_is_written_can_be_searched_in_any_family(family):
    found = drawn_text(SCATTER.theme(font=family).titles("Éfficient μέσος −5 °C")).get_text_bounded()
    assert "Éfficient μέσος −5 °C" in found


def test_marks_stand_over_their_letters():
    page = drawn_text(SCATTER.titles("mn\u0308x").theme(font=ARABIC if ord("\u0308") in face(ARABIC).characters else VARIABLE))
    boxes = {page.get_text_range(at, 1): page.get_charbox(at) for at in range(page.count_chars())}
    mark = next(box for char, box in boxes.items() if "\u0308" in char)
    assert boxes["m"][0] < (mark[0] + mark[2]) / 2 < boxes["x"][2]


def test_an_embedded_font_of_a_web_page_says_its_sort():
    for family, sort in ((SHIPPED, "opentype"), (VARIABLE, "truetype")):
        root = svg_of(SCATTER.theme(font=family), fonts="embed")
        assert f"format('{sort}')" in root.find("{http://www.w3.org/2000/svg}style").text
