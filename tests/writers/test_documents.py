"""Figures in Word documents and on the clipboard."""

import contextlib
import io
import os
import shutil
import subprocess
import sys
import time
import xml.etree.ElementTree as ET
import zipfile
from pathlib import Path

import docx
import numpy as np
import pikepdf
import pytest
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from PIL import Image

import facetine as ft
from facetine.messages.errors import ExportError, OptionError

WHEELS = ft.demo_data("wheels")
CLOUD = (
    ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().titles("Mass & *age*", note="Weighed once").sheet("80 mm", "60 mm")
)
BARS = ft.figure(WHEELS).map(x="rind").bars().titles("Rinds").sheet("70 mm", "50 mm")
SVG_BLIP = "{http://schemas.microsoft.com/office/drawing/2016/SVG/main}svgBlip"


def report():
    """A document with a marked paragraph, a bookmark, a table and words around them."""
    document = docx.Document()
    document.add_heading("Report", 1)
    document.add_paragraph("Before.")
    document.add_paragraph("[[Figure 1]]")
    document.add_paragraph("Between.")
    marked = document.add_paragraph("")
    for tag in ("w:bookmarkStart", "w:bookmarkEnd"):
        mark = OxmlElement(tag)
        mark.set(qn("w:id"), "7")
        if tag.endswith("Start"):
            mark.set(qn("w:name"), "Figure_2")
        marked._p.append(mark)
    document.add_table(1, 1).cell(0, 0).paragraphs[0].text = "[[Figure 3]]"
    document.add_paragraph("After.")
    document.save("report.docx")


def drawings():
    document = docx.Document("report.docx")
    found = {}
    for inline in document.element.body.iter(qn("wp:inline")):
        properties, extent = next(inline.iter(qn("wp:docPr"))), next(inline.iter(qn("wp:extent")))
        blip = next(inline.iter(qn("a:blip")))
        parts = document.part.related_parts
        found[properties.get("name")] = {
            "size": (int(extent.get("cx")) / 36000, int(extent.get("cy")) / 36000),
            "alt": properties.get("descr"),
            "png": parts[blip.get(qn("r:embed"))].blob,
            "svg": parts[next(blip.iter(SVG_BLIP)).get(qn("r:embed"))].blob,
        }
    return found


def words():
    return [paragraph.text for paragraph in docx.Document("report.docx").paragraphs]


def test_places_are_filled_by_text_and_by_bookmark_in_tables_and_at_the_end():
    report()
    done = ft.into_document("report.docx", {"Figure 1": CLOUD, "Figure 2": BARS, "Figure 3": BARS, "Figure 9": CLOUD})
    assert (done.filled, done.appended, done.replaced) == (("Figure 1", "Figure 2", "Figure 3"), ("Figure 9",), ())
    assert words() == [
        "Report", "Before.", "", "Figure 1. Mass & age. Weighed once.", "Between.", "", "Figure 2. Rinds.", "After.", "",
        "Figure 9. Mass & age. Weighed once.",
    ]  # fmt: skip
    cell = docx.Document("report.docx").tables[0].cell(0, 0)
    assert [paragraph.text for paragraph in cell.paragraphs] == ["", "Figure 3. Rinds."]


def test_a_figure_has_its_size_its_two_forms_and_its_words():
    report()
    ft.into_document("report.docx", {"Figure 1": CLOUD})
    (found,) = drawings().values()
    assert found["size"] == pytest.approx((80, 60), abs=0.01)
    assert "Mass (kg) against Age (days)" in found["alt"]
    image = Image.open(io.BytesIO(found["png"]))
    assert image.size == (945, 709)
    root = ET.fromstring(found["svg"])
    assert (root.get("width"), root.get("height")) == ("80mm", "60mm")
    assert not list(root.iter("{http://www.w3.org/2000/svg}text")), "letters are outlines by default"
    with zipfile.ZipFile("report.docx") as package:
        assert b"image/svg+xml" in package.read("[Content_Types].xml")
        assert package.testzip() is None


def test_run_again_it_replaces_its_own_figures_and_nothing_else():
    report()
    ft.into_document("report.docx", {"Figure 1": CLOUD, "Figure 2": BARS})
    before, first = words(), drawings()
    document = docx.Document("report.docx")
    document.paragraphs[1].text = "Changed by hand."
    document.save("report.docx")
    done = ft.into_document("report.docx", {"Figure 1": CLOUD.titles("Heavier").sheet("90 mm", "55 mm")})
    assert done.replaced == ("Figure 1",)
    after = drawings()
    assert after["Facetine: Figure 1"]["size"] == pytest.approx((90, 55), abs=0.01)
    assert after["Facetine: Figure 1"]["svg"] != first["Facetine: Figure 1"]["svg"]
    assert after["Facetine: Figure 2"] == first["Facetine: Figure 2"]
    assert words() == ["Report", "Changed by hand.", "", "Figure 1. Heavier. Weighed once.", *before[4:]]
    with zipfile.ZipFile("report.docx") as package:
        pictures = [name for name in package.namelist() if name.startswith("word/media")]
    assert len(pictures) == 4, "what was replaced is gone"


def test_a_caption_that_was_changed_in_the_document_stays():
    report()
    ft.into_document("report.docx", {"Figure 1": CLOUD})
    document = docx.Document("report.docx")
    document.paragraphs[3].runs[0].text = "Figure 1. My own words."
    document.save("report.docx")
    ft.into_document("report.docx", {"Figure 1": CLOUD.titles("Other")})
    assert words()[3] == "Figure 1. My own words."


def test_the_same_figures_again_change_nothing_of_the_text():
    report()
    figures = {"Figure 1": CLOUD, "Figure 9": BARS}
    ft.into_document("report.docx", figures)
    texts, found = words(), drawings()
    ft.into_document("report.docx", figures)
    assert (words(), drawings()) == (texts, found)


def test_a_missing_document_is_made_and_captions_can_be_said_or_left_out():
    done = ft.into_document("report.docx", {"Figure 1": (CLOUD, "As said."), "Plate": ft.plate([[CLOUD, BARS]])})
    assert done.appended == ("Figure 1", "Plate")
    assert "Figure 1. As said." in words()
    assert drawings()["Facetine: Plate"]["size"][0] == pytest.approx(180, abs=0.01)
    Path("report.docx").unlink()
    ft.into_document("report.docx", {"Figure 1": CLOUD}, captions=False)
    assert words() == [""]


@pytest.mark.parametrize(
    ("path", "figures", "error", "said"),
    [
        ("a.doc", {"F": CLOUD}, ExportError, "no Word document"),
        ("a.docx", {}, OptionError, "names and figures"),
        ("a.docx", [CLOUD], OptionError, "names and figures"),
        ("a.docx", {"F": 3}, OptionError, "no figure"),
        ("a.docx", {"F": (CLOUD, 3)}, OptionError, "is a text"),
        (3, {"F": CLOUD}, ExportError, "no path"),
        ("broken.docx", {"F": CLOUD}, ExportError, "can't be read as a Word document"),
    ],
)
def test_what_can_not_be_placed_is_refused_and_nothing_is_written(path, figures, error, said):
    Path("broken.docx").write_bytes(b"none")
    with pytest.raises(error, match=said):
        ft.into_document(path, figures)
    assert [file.name for file in Path().iterdir()] == ["broken.docx"]


def test_without_the_library_it_says_what_is_missing(monkeypatch):
    import sys

    monkeypatch.setitem(sys.modules, "docx", None)
    with pytest.raises(ExportError, match=r"facetine\[documents\]"):
        ft.into_document("a.docx", {"F": CLOUD})


# The clipboard.


@pytest.fixture
def screen(monkeypatch):
    if shutil.which("Xvfb") is None or shutil.which("xclip") is None:
        pytest.skip("no Xvfb or xclip on this machine")
    reading, writing = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(writing), "-screen", "0", "640x480x24"], pass_fds=[writing], stderr=subprocess.DEVNULL
    )
    os.close(writing)
    with os.fdopen(reading) as told:
        number = told.readline().strip()
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.setenv("DISPLAY", f":{number}")
    yield number
    server.terminate()
    server.wait()


def on_clipboard(target):
    command = ["xclip", "-selection", "clipboard", "-target", target, "-o"]
    return subprocess.run(command, capture_output=True, check=True).stdout


def copied_elsewhere(text):
    """Puts a text on the clipboard by another program, which says that it is done before the screen knows of it."""
    subprocess.run(["xclip", "-selection", "clipboard", "-in"], input=text, check=True)
    for _ in range(100):
        with contextlib.suppress(subprocess.CalledProcessError):
            if on_clipboard("UTF8_STRING") == text:
                return
        time.sleep(0.05)
    raise AssertionError("the other program never had the clipboard")


def test_the_clipboard_offers_all_forms_at_once(screen):
    CLOUD.copy(dpi=100)
    offered = on_clipboard("TARGETS").decode().split()
    assert offered == ["TARGETS", "image/svg+xml", "application/pdf", "image/x-emf", "image/png"]
    assert Image.open(io.BytesIO(on_clipboard("image/png"))).size == (315, 237)
    assert ET.fromstring(on_clipboard("image/svg+xml")).get("width") == "80mm"
    with pikepdf.open(io.BytesIO(on_clipboard("application/pdf"))) as pdf:
        assert float(pdf.pages[0].mediabox[2]) == pytest.approx(80 * 72 / 25.4, abs=0.01)
    assert on_clipboard("image/x-emf")[40:44] == b" EMF"
    # Another program may ask again, and for something that is not there.
    assert on_clipboard("image/png") == on_clipboard("image/png")
    with pytest.raises(subprocess.CalledProcessError):
        on_clipboard("image/tiff")


def test_a_large_picture_goes_over_in_pieces(screen):
    large = ft.figure({"x": np.arange(9000.0), "y": np.random.default_rng(2).normal(size=9000)}).map(x="x", y="y").points()
    large.copy("svg", width="80 mm", height="60 mm")
    content = on_clipboard("image/svg+xml")
    assert len(content) > 200_000
    ET.fromstring(content)
    assert on_clipboard("TARGETS").decode().split() == ["TARGETS", "image/svg+xml"]


def test_who_copies_next_has_the_clipboard(screen):
    CLOUD.copy("png", dpi=50)
    copied_elsewhere(b"words")
    CLOUD.copy("svg")
    assert on_clipboard("TARGETS").decode().split() == ["TARGETS", "image/svg+xml"]


def test_a_table_copied_from_a_spreadsheet_is_read_and_drawn(screen, tmp_path):
    copied = b"Cellar\tMass (kg)\tDay\nLoft\t1,5\t2030-01-02\nNorth\t2.000,25\t2030-01-03\n"
    copied_elsewhere(copied)
    with pytest.warns(ft.FacetineFinding, match="the clipboard is read with a comma before decimals"):
        table = ft.pasted()
    assert table["Mass (kg)"].tolist() == [1.5, 2000.25]
    assert ft.pasted(decimal=",", thousands=".")["Day"].dt.day.tolist() == [2, 3]
    with pytest.raises(OptionError, match="no option 'encoding'"):
        ft.pasted(encoding="utf-8")
    command = [sys.executable, "-m", "facetine.cli.main", "draw", "pasted", "-m", "x=Cellar", "-m", "y=Mass (kg)", "-l", "bars"]
    done = subprocess.run([*command, "-o", tmp_path / "a.svg"], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    copied_elsewhere(b" ")
    with pytest.raises(ExportError, match="no text on the clipboard"):
        ft.pasted()


def test_without_a_screen_or_a_program_it_says_what_is_missing(monkeypatch):
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    monkeypatch.delenv("DISPLAY", raising=False)
    with pytest.raises(ExportError, match="no screen") as caught:
        CLOUD.copy()
    assert 'export("figure.svg", "figure.png")' in caught.value.detail
    monkeypatch.setenv("DISPLAY", ":77")
    with pytest.raises(ExportError, match="the screen gives no clipboard"):
        CLOUD.copy()
    monkeypatch.delenv("DISPLAY")
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-0")
    monkeypatch.setenv("PATH", "")
    with pytest.raises(ExportError, match="wl-copy"):
        CLOUD.copy()
    with pytest.raises(OptionError, match="formats: svg, pdf, emf, png"):
        CLOUD.copy("tiff")


def test_a_place_within_a_sentence_is_filled_there():
    document = docx.Document()
    paragraph = document.add_paragraph("As ")
    paragraph.add_run("seen in [[Fig").bold = True
    paragraph.add_run("ure 1]] above, ")
    paragraph.add_run("all is well.")
    document.save("a.docx")
    done = ft.into_document("a.docx", {"Figure 1": CLOUD})
    assert (done.filled, done.appended, done.findings) == (("Figure 1",), (), ())
    (read,) = docx.Document("a.docx").paragraphs
    assert read.text == "As seen in  above, all is well."
    order = ["drawing" if list(run._r.iter(qn("wp:inline"))) else run.text for run in read.runs if run.text or len(run._r)]
    assert [one for one in order if one] == ["As ", "seen in ", "drawing", " above, ", "all is well."]
    again = ft.into_document("a.docx", {"Figure 1": CLOUD.titles("Another")})
    assert again.replaced == ("Figure 1",)
    assert len(docx.Document("a.docx").paragraphs) == 1


def test_places_without_a_figure_and_figures_without_a_place_are_told():
    document = docx.Document()
    for text in ("[[Figure 1]]", "See [[Figur 2]] and [[Table 1]].", "[[Figure 1]]"):
        document.add_paragraph(text)
    document.save("a.docx")
    done = ft.into_document("a.docx", {"Figure 1": CLOUD, "Figure 2": CLOUD})
    told = [(one.code, one.severity, f"{one.text}; {one.fix}") for one in done.findings]
    assert told == [
        ("place-appended", "warning", "'Figure 2' has no place in the document, and stands at its end; [[Figure 2]] is one"),
        ("place-left", "warning", "[[Figur 2]] stands in the document without a figure; did you mean 'Figure 2'?"),
        ("place-left", "warning", "[[Table 1]] stands in the document without a figure; the figures are 'Figure 1', 'Figure 2'"),
        ("place-left", "warning", "[[Figure 1]] stands in the document once more; the figures are 'Figure 1', 'Figure 2'"),
    ]
    # A document that is made anew has no places.
    assert ft.into_document("new.docx", {"Figure 1": CLOUD}).findings == ()
