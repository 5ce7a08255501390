"""The PDF, read back as objects."""

import io
import re

import numpy as np
import pikepdf
import pypdfium2
import pytest
from conftest import laid_out, pdf_of, placed_forms
from PIL import Image

import facetine as ft
from facetine.export.export import rendered

WHEELS = ft.demo_data("wheels")
SCATTER = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points()


def content(pdf):
    return b"".join(stream.read_bytes() for stream in pdf.pages[0].Contents.as_list()) if isinstance(
        pdf.pages[0].Contents, pikepdf.Array
    ) else pdf.pages[0].Contents.read_bytes()  # fmt: skip


def searched(figure, **options):
    """The text that a reader of the PDF can search."""
    made = laid_out(figure, **options)
    document = pypdfium2.PdfDocument(rendered(made, "pdf", dpi=100, transparent=False, fonts="name"))
    try:
        return document[0].get_textpage().get_text_bounded()
    finally:
        document.close()


def test_the_page_has_its_physical_size():
    box = [float(side) for side in pdf_of(SCATTER, "85 mm", "60 mm").pages[0].MediaBox]
    assert box == pytest.approx([0, 0, 85 / 25.4 * 72, 60 / 25.4 * 72], abs=1e-3)


def test_text_can_be_searched_also_with_ligatures_and_signs():
    found = searched(SCATTER.titles("Efficient fjords −5 °C", x="Größe µ"))
    for words in ("Efficient fjords −5 °C", "Größe µ", "Rind", "washed"):
        assert words in found


def test_fonts_are_subset_embedded_and_mapped_to_unicode():
    fonts = pdf_of(SCATTER.titles("Bold")).pages[0].Resources.Font
    assert len(fonts) == 2
    for font in fonts.values():
        inner = font.DescendantFonts[0]
        assert re.fullmatch(r"/[A-Z]{6}\+SourceSansPro-\w+", str(font.BaseFont))
        assert str(inner.FontDescriptor.FontFile3.Subtype) == "/CIDFontType0C"
        assert len(inner.FontDescriptor.FontFile3.read_bytes()) < 12_000
        assert b"beginbfchar" in font.ToUnicode.read_bytes()


def test_glyph_widths_are_those_of_the_font():
    from fontTools.cffLib import CFFFontSet

    font = next(iter(pdf_of(SCATTER).pages[0].Resources.Font.values())).DescendantFonts[0]
    outlines = CFFFontSet()
    outlines.decompile(io.BytesIO(font.FontDescriptor.FontFile3.read_bytes()), None)
    glyphs = outlines[0].CharStrings
    widths = [float(width) for width in font.W[1]]
    assert len(widths) == len(glyphs)
    for name, width in zip(glyphs.keys(), widths, strict=True):
        glyph = glyphs[name]
        glyph.decompile()
        from fontTools.pens.basePen import NullPen

        glyph.draw(NullPen())
        assert glyph.width == pytest.approx(width, abs=0.01)


def test_markers_are_form_objects_one_for_each_look():
    pdf = pdf_of(SCATTER)
    forms = pdf.pages[0].Resources.XObject
    assert len(forms) == 4
    assert all(str(form.Subtype) == "/Form" for form in forms.values())
    assert content(pdf).count(b" Do Q") == 240 + 4


def test_markers_of_many_sizes_share_a_form_and_keep_their_size():
    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind", size="firmness_n").points()
    made = laid_out(fig)
    pdf = pikepdf.open(io.BytesIO(rendered(made, "pdf", dpi=72, transparent=False, fonts="name")))
    assert len(pdf.pages[0].Resources.XObject) <= 4 + 20
    scale = made.scales.looks["size"]
    look = scale.look(made.tables[0]["size"])
    wanted = sorted(look.of(row) / 2 for row in range(240))
    found = sorted(size for layers, size, *_ in placed_forms(pdf) if "Points" in layers)
    assert len(found) == 240
    assert np.allclose(found, wanted, atol=0.001)


def test_markers_stand_where_the_data_say():
    fig = ft.figure({"a": [0.0, 10.0], "b": [0.0, 10.0]}).map(x="a", y="b").points()
    made = laid_out(fig, "85 mm", "60 mm")
    pdf = pikepdf.open(io.BytesIO(rendered(made, "pdf", dpi=72, transparent=False, fonts="name")))
    found = [(x, y) for _, _, x, y in placed_forms(pdf)]
    box = made.layout.panels[0].box
    span = made.scales.first("x").extent
    low = box.x + span.share(np.array([0.0]))[0] * box.width
    assert found[0][0] == pytest.approx(low, abs=0.006)
    assert found[0][1] < found[1][1]


def test_groups_are_layers_that_can_be_hidden():
    root = pdf_of(SCATTER.facet("cellar")).Root
    names = [str(layer.Name) for layer in root.OCProperties.OCGs]
    assert {"Loft", "North", "Points", "x axis", "Legends", "Rind"} <= set(names)
    assert len(root.OCProperties.D.Order) > 4


def test_marked_content_is_balanced():
    depth = states = 0
    for _, operator in pikepdf.parse_content_stream(pdf_of(SCATTER.facet("cellar").scale("x", limits=(20, 100))).pages[0]):
        depth += {"BDC": 1, "BMC": 1, "EMC": -1}.get(str(operator), 0)
        states += {"q": 1, "Q": -1}.get(str(operator), 0)
        assert depth >= 0
        assert states >= 0
    assert depth == states == 0


def test_opacity_is_a_graphics_state():
    states = pdf_of(SCATTER.points(opacity=0.3)).pages[0].Resources.ExtGState
    assert [float(state.ca) for state in states.values()] == [0.3]


def test_an_outlined_marker_that_shines_through_is_composited_as_a_whole():
    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points(opacity=0.5, outline="black", line_width=0.5)
    forms = pdf_of(fig).pages[0].Resources.XObject
    assert any("/Group" in form for form in forms.values())


def test_the_document_knows_its_title_and_no_date():
    pdf = pdf_of(SCATTER.titles("Mass and age"))
    assert str(pdf.docinfo["/Title"]) == "Mass and age"
    assert not {"/CreationDate", "/ModDate"} & set(pdf.docinfo.keys())


@pytest.mark.parametrize("suffix", ["svg", "pdf", "png"])
def test_the_same_figure_gives_the_same_bytes(suffix):
    def written():
        frame = WHEELS.copy()
        fig = ft.figure(frame).map(x="age_days", y="mass_kg", color="ph", shape="rind").points(opacity=0.5).facet("milk")
        return rendered(laid_out(fig), suffix, dpi=80, transparent=False, fonts="embed")

    assert written() == written()


def test_the_same_bytes_come_from_another_process(tmp_path):
    import subprocess
    import sys

    code = (
        "import warnings; warnings.simplefilter('ignore'); import facetine as ft;"
        "ft.figure(ft.demo_data('wheels')).map(x='age_days', y='mass_kg', color='rind').points().export('{}')"
    )
    for number, seed in enumerate(("0", "7")):
        path = tmp_path / f"{number}.pdf"
        subprocess.run([sys.executable, "-c", code.format(path)], check=True, env={"PYTHONHASHSEED": seed, "PATH": ""})
    assert (tmp_path / "0.pdf").read_bytes() == (tmp_path / "1.pdf").read_bytes()


def image_of(figure, dpi=100, transparent=False):
    made = laid_out(figure, "80 mm", "50 mm")
    return Image.open(io.BytesIO(rendered(made, "png", dpi=dpi, transparent=transparent, fonts="name")))


def test_a_png_has_its_size_and_resolution():
    image = image_of(SCATTER, 254)
    assert image.size == (800, 500)
    assert image.info["dpi"] == pytest.approx((254, 254), abs=0.1)


def test_a_transparent_png_is_clear_where_nothing_is():
    image = image_of(SCATTER, transparent=True)
    assert image.mode == "RGBA"
    assert image.getpixel((0, 0))[3] == 0
    assert image_of(SCATTER).getpixel((0, 0)) == (255, 255, 255)


def test_a_png_of_several_sheets_equals_that_of_one(monkeypatch):
    from facetine.writers import raster

    whole = np.asarray(image_of(SCATTER.points(opacity=0.4))).astype(int)
    monkeypatch.setattr(raster, "_MARKERS_A_PAGE", 60)
    monkeypatch.setattr("facetine.writers.pdf._CHUNK", 50)
    cut = np.asarray(image_of(SCATTER.points(opacity=0.4))).astype(int)
    assert np.abs(whole - cut).max() <= 3


def test_colors_arrive_in_the_png():
    fig = ft.figure({"k": ["a"], "v": [1.0]}).map(x="k", y="v").bars(color="#336699")
    colors = image_of(fig).convert("RGB").getcolors(100_000)
    assert (0x33, 0x66, 0x99) in {color for _, color in colors}
