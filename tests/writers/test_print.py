"""Files for print: pages, four inks, archives, and what readers who can't see a PDF are told."""

import io
import re
import subprocess
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from conftest import SVG, group, laid_out, quietly, svg_of
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

import facetine as ft
from facetine.export.paper import PAPERS
from facetine.messages.errors import OptionError
from facetine.writers.inks import Inks, four_inks

WHEELS = ft.demo_data("wheels")
CLOUD = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().facet("cellar")
CLOUD = CLOUD.titles("Mass and age", subtitle="Four cellars", note="Weighed once")
MM = 72 / 25.4
OPENED = []


def exported(figure, **options):
    quietly(figure.export, "out.pdf", **options)
    pdf = pikepdf.open(io.BytesIO(Path("out.pdf").read_bytes()))
    OPENED.append(pdf)
    return pdf


def pixels(name):
    return Image.open(io.BytesIO(Path(name).read_bytes()))


def content(pdf):
    return pdf.pages[0].Contents.read_bytes().decode("ascii")


# Pages and sizes.


def test_a_figure_stands_in_the_middle_of_its_page_in_every_format():
    pdf = exported(CLOUD, paper="A4 landscape", width="100 mm", height="80 mm")
    assert [float(side) for side in pdf.pages[0].MediaBox] == pytest.approx([0, 0, 297 * MM, 210 * MM], abs=0.01)
    trim = [float(side) / MM for side in pdf.pages[0].TrimBox]
    assert trim == pytest.approx([98.5, 65, 198.5, 145], abs=0.01)
    quietly(CLOUD.export, ["out.svg", "out.png"], paper="A4 landscape", width="100 mm", height="80 mm", dpi=50)
    root = ET.parse("out.svg").getroot()
    assert (root.get("width"), root.get("height")) == ("297mm", "210mm")
    moved = [float(value) for value in re.findall(r"[\d.]+", root.find(f"{SVG}g").get("transform"))]
    assert moved == pytest.approx([98.5 * MM, 65 * MM], abs=0.001)
    assert pixels("out.png").size == (585, 414)


def test_a_page_changes_nothing_of_the_drawing():
    plain, paged = content(exported(CLOUD, width="90 mm")), content(exported(CLOUD, width="90 mm", paper="A4"))
    assert paged.split("cm\n", 1)[1].removesuffix("Q\n") == plain


def test_fit_takes_the_size_from_the_page_and_keeps_texts_as_large_as_they_are():
    trim = [float(side) / MM for side in exported(CLOUD, paper="A5", margins="20 mm", fit=True).pages[0].TrimBox]
    assert trim == pytest.approx([20, 20, 128, 190], abs=0.01)
    sizes = [set(re.findall(r"/F\d ([\d.]+) Tf", content(exported(CLOUD, **how)))) for how in ({}, {"paper": "A5", "fit": True})]
    assert sizes[0] == sizes[1]


def test_crop_marks_point_at_the_corners_from_outside():
    quietly(CLOUD.export, "out.svg", paper="A5", crop_marks=True)
    root = ET.parse("out.svg").getroot()
    width, height = 85 * MM, [float(value) for value in root.find(f"{SVG}rect").attrib.values() if value != "#ffffff"][3]
    path = next(iter(group(root, "crop-marks").iter(f"{SVG}path"))).get("d")
    ends = np.array(re.findall(r"M(\S+) (\S+)L(\S+?) ([-\d.]+)", path), float)
    assert len(ends) == 8
    for x0, y0, x1, y1 in ends:
        level = y0 == y1
        assert min(abs(y0), abs(y0 - height)) < 0.01 if level else min(abs(x0), abs(x0 - width)) < 0.01
        outside = [x < -5 or x > width + 5 for x in (x0, x1)] if level else [y < -5 or y > height + 5 for y in (y0, y1)]
        assert all(outside)


@pytest.mark.parametrize("paper", PAPERS)
def test_papers_have_their_sizes(paper):
    width, height = PAPERS[paper]
    assert height > width
    if paper[0] in "AB":
        # Each is a square meter, or a width of a meter, cut in half again and again.
        assert height / width == pytest.approx(2**0.5, abs=0.012)
        assert PAPERS["A4"] == pytest.approx((210 * MM, 297 * MM))
        assert PAPERS["A8"] == pytest.approx((52 * MM, 74 * MM))
        assert PAPERS["B5"] == pytest.approx((176 * MM, 250 * MM))


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ({"paper": "A44"}, "Did you mean 'A4'"),
        ({"paper": "A4 landscpae"}, "Did you mean 'landscape'"),
        ({"paper": 4}, "A4 landscape"),
        ({"paper": "A6", "width": "180 mm"}, "fit=True"),
        ({"paper": "A6", "margins": "60 mm"}, "leave no space"),
        ({"paper": "A6", "margins": 0, "crop_marks": True}, "10 mm"),
        ({"margins": "5 mm"}, "has no effect without paper"),
        ({"fit": True}, "has no effect without paper"),
        ({"crop_marks": True}, "has no effect without paper"),
        ({"paper": "A4", "fit": True, "width": "80 mm"}, "leave one of them out"),
        ({"fit": "yes", "paper": "A4"}, "fit"),
        ({"width": "1200 px"}, "formats of pixels alone"),
        ({"colors": "cymk"}, "Did you mean 'cmyk'"),
        ({"icc": "none.icc", "colors": "cmyk"}, "can't read"),
        ({"icc": "none.icc"}, "the profile of a press"),
        ({"archive": True, "colors": "cmyk"}, "needs the profile"),
        ({"archive": 1}, "archive"),
    ],
)
def test_impossible_pages_and_colors_are_refused_before_anything_is_written(options, said):
    with pytest.raises(OptionError, match=said):
        CLOUD.export("never.pdf", **options)
    assert not Path("never.pdf").exists()


@pytest.mark.parametrize(
    ("suffix", "options"), [("svg", {"colors": "cmyk"}), ("png", {"archive": True}), ("svg", {"archive": True})]
)
def test_what_says_nothing_for_a_format_is_refused(suffix, options):
    with pytest.raises(OptionError, match="has no effect on"):
        CLOUD.export(f"never.{suffix}", **options)


def test_pixels_can_be_counted_out():
    quietly(CLOUD.export, ["a.png", "a.tiff"], width="1201 px", height="799 px", dpi=173)
    assert {pixels(name).size for name in ("a.png", "a.tiff")} == {(1201, 799)}


def test_a_sheet_said_once_holds_for_screen_and_file():
    fig = CLOUD.sheet("70 mm", "66 mm")
    assert (svg_of(fig, None).get("width"), svg_of(fig, None).get("height")) == ("70mm", "66mm")
    shown = ET.fromstring(fig._repr_mimebundle_()[0]["image/svg+xml"])
    assert (shown.get("width"), shown.get("height")) == ("70mm", "66mm")
    assert svg_of(fig, "60 mm").get("width") == "60mm"
    assert fig.to_dict()["sheet"] == {"width": "70 mm", "height": "66 mm"}
    assert svg_of(ft.from_dict(fig.to_dict(), WHEELS), None).get("height") == "66mm"
    plate = ft.plate([[CLOUD, CLOUD.map(color="milk")]]).sheet("150 mm")
    assert svg_of(plate, None).get("width") == "150mm"
    assert ft.from_dict(plate.to_dict(), WHEELS).to_dict() == plate.to_dict()
    with pytest.raises(OptionError, match="neither"):
        CLOUD.sheet()
    with pytest.raises(OptionError, match="no length"):
        CLOUD.sheet("wide")
    said = laid_out(ft.plate([[fig, CLOUD]])).findings
    assert [finding.code for finding in said].count("sheet-unused") == 1


# Four inks.


@given(st.lists(st.floats(0, 1), min_size=3, max_size=3))
def test_four_inks_give_the_color_back_by_the_formula_of_the_standard(color):
    cyan, magenta, yellow, black = four_inks(np.array(color))
    assert min(cyan, magenta, yellow) == pytest.approx(0, abs=1e-12)
    assert [1 - min(1, ink + black) for ink in (cyan, magenta, yellow)] == pytest.approx(color, abs=1e-9)


def test_a_pdf_of_four_inks_has_no_other_color_and_dark_texts_in_black_alone():
    pdf = exported(CLOUD.map(color="ph"), colors="cmyk")
    drawn = content(pdf)
    assert not re.search(r"\b(rg|RG)\b", drawn)
    texts = re.findall(r"BT ([\d. ]+) k", drawn)
    assert texts
    assert set(texts) == {"0 0 0 1"}
    shading = next(iter(pdf.pages[0].Resources.Shading.values()))
    assert str(shading.ColorSpace) == "/DeviceCMYK"
    assert len(shading.Function.read_bytes()) == 4 * int(shading.Function.Size[0])
    forms = [form.read_bytes().decode() for form in pdf.pages[0].Resources.XObject.values()]
    assert forms
    assert not any(re.search(r"\brg\b", form) for form in forms)


def press():
    """A profile of four inks: that of the rasteriser of PostScript, where it is installed."""
    found = Path("/usr/share/color/icc/ghostscript/default_cmyk.icc")
    if not found.exists():
        pytest.skip("no profile of a press on this machine")
    return found


def test_a_press_says_its_own_inks():
    content_ = press().read_bytes()
    inks = Inks("cmyk", content_)
    made = inks.amounts("#804020")
    back = ImageCms.profileToProfile(
        Image.new("CMYK", (1, 1), tuple(round(255 * amount) for amount in made)), ImageCms.ImageCmsProfile(io.BytesIO(content_)),
        ImageCms.createProfile("sRGB"), outputMode="RGB",
    )  # fmt: skip
    assert np.abs(np.array(back.getpixel((0, 0))) - (0x80, 0x40, 0x20)).max() <= 12
    assert inks.amounts("#1c1f24", text=True) == (0, 0, 0, 1)
    pdf = exported(CLOUD, colors="cmyk", icc=press(), archive=True)
    assert pdf.Root.OutputIntents[0].DestOutputProfile.read_bytes() == content_
    assert int(pdf.Root.OutputIntents[0].DestOutputProfile.N) == 4


@pytest.mark.parametrize("suffix", ["tiff", "jpg"])
def test_pixels_of_four_inks(suffix):
    quietly(CLOUD.export, f"a.{suffix}", colors="cmyk", dpi=80)
    quietly(CLOUD.export, "a.png", dpi=80)
    image = pixels(f"a.{suffix}")
    assert image.mode == "CMYK"
    inks = np.asarray(image, float)
    back = 255 - np.minimum(255, inks[..., :3] + inks[..., 3:])
    assert np.abs(back - np.asarray(pixels("a.png").convert("RGB"), float)).mean() < (1 if suffix == "tiff" else 3)


def test_a_file_that_is_no_press_profile_is_refused():
    Path("a.icc").write_bytes(b"none")
    Path("b.icc").write_bytes(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    for name, said in (("a.icc", "no ICC profile"), ("b.icc", "not of four inks")):
        with pytest.raises(OptionError, match=said):
            CLOUD.export("never.pdf", colors="cmyk", icc=name)


# What the document says of itself.


def told(element, found=None):
    """Role and marks of every element, in reading order."""
    found = [] if found is None else found
    children = element.K if isinstance(element.get("/K"), pikepdf.Array) else [element.K]
    for child in children:
        if isinstance(child, pikepdf.Dictionary):
            marks = child.K if isinstance(child.K, pikepdf.Array) else [child.K]
            found.append((str(child.S), [int(mark) for mark in marks], child))
    return found


def texts_by_mark(drawn, pdf):
    """What each marked line of text says, by the fonts' own tables."""
    tables = {}
    for name, font in pdf.pages[0].Resources.Font.items():
        pairs = re.findall(rb"<([0-9a-f]{4})> <([0-9a-f]+)>", font.ToUnicode.read_bytes())
        tables[name] = {code.decode(): bytes.fromhex(text.decode()).decode("utf-16-be") for code, text in pairs}
    said = {}
    for number, body in re.findall(r"<</MCID (\d+)>> BDC\n(.*?)EMC", drawn, re.DOTALL):
        text = ""
        for font, run in re.findall(r"(/F\d+) [\d.]+ Tf(.*?)(?=/F|ET)", body, re.DOTALL):
            text += "".join(
                tables[font][code[at : at + 4]] for code in re.findall(r"<([0-9a-f]+)>", run) for at in range(0, len(code), 4)
            )
        said[int(number)] = text
    return said


def test_texts_are_read_in_order_around_the_figure_in_words():
    pdf = exported(CLOUD, width="120 mm")
    said = texts_by_mark(content(pdf), pdf)
    elements = told(pdf.Root.StructTreeRoot.K)
    lines = [(role, " ".join(said[mark] for mark in marks)) for role, marks, _ in elements if role != "/Figure"]
    assert lines[:4] == [("/H1", "Mass and age"), ("/P", "Four cellars"), ("/P", "Mass (kg)"), ("/P", "Age (days)")]
    assert [text for role, text in lines if role == "/H2"] == ["Loft", "North", "Quarry", "Tunnel"]
    assert lines[-1] == ("/P", "Weighed once")
    assert ("/P", "Rind bloomy natural washed waxed") not in lines[:4]
    (figure,) = [element for role, _, element in elements if role == "/Figure"]
    assert "Mass (kg) against Age (days)" in str(figure.Alt)
    assert bool(pdf.Root.MarkInfo.Marked)
    assert str(pdf.Root.Lang) == "en"


def test_everything_drawn_is_marked_once_and_known_to_the_tree():
    pdf = exported(ft.plate([[CLOUD, CLOUD.map(color="ph")]], letters="A").titles("Two"), width="180 mm")
    drawn = content(pdf)
    marks = [int(number) for number in re.findall(r"MCID (\d+)", drawn)]
    assert marks == sorted(set(marks))
    owners = pdf.Root.StructTreeRoot.ParentTree.Nums[1]
    assert len(owners) == len(marks)
    for _, numbers, element in told(pdf.Root.StructTreeRoot.K):
        assert all(owners[number].objgen == element.objgen for number in numbers)
    depth, painted = 0, 0
    for line in drawn.splitlines():
        if re.search(r"(MCID \d+>> BDC|/Artifact BMC)$", line):
            depth += 1
            assert depth == 1
        elif line == "EMC" and depth:
            depth -= 1
        elif re.search(r"\b(Tj|TJ|Do|S|f\*?|B\*?|sh)( Q)?$", line):
            painted += 1
            assert depth == 1, line
    assert painted > 50


def test_the_document_says_what_it_is_about():
    info = exported(CLOUD).docinfo
    assert str(info["/Title"]) == "Mass and age"
    assert str(info["/Keywords"]) == "Age (days), Mass (kg), Rind"


# The rules of PDF/A-2u (ISO 19005-2) that can be read off a file.


def archived(figure=CLOUD, **options):
    return exported(figure, archive=True, **options)


def test_an_archive_names_its_standard_and_says_the_same_twice():
    pdf = archived()
    xmp = pdf.Root.Metadata.read_bytes().decode("utf-8")
    root = ET.fromstring(re.sub(r"<\?xpacket.*?\?>", "", xmp))
    found = {element.tag.rpartition("}")[2]: "".join(element.itertext()).strip() for element in root.iter()}
    assert (found["conformance"], found["CreatorTool"], found["Keywords"]) == ("U", "Facetine", str(pdf.docinfo["/Keywords"]))
    assert "{http://www.aiim.org/pdfa/ns/id/}part" in {element.tag for element in root.iter()}
    said = next(root.iter("{http://purl.org/dc/elements/1.1/}description"))
    assert "".join(said.itertext()) == str(pdf.docinfo["/Subject"])
    assert found["title"] == str(pdf.docinfo["/Title"])
    assert "/Filter" not in pdf.Root.Metadata or str(pdf.Root.Metadata.Filter) == "/FlateDecode"


def test_an_archive_says_what_its_colors_are():
    (intent,) = archived().Root.OutputIntents
    assert str(intent.S) == "/GTS_PDFA1"
    profile = ImageCms.ImageCmsProfile(io.BytesIO(intent.DestOutputProfile.read_bytes())).profile
    assert profile.xcolor_space.strip() == "RGB"
    assert profile.version <= 4.2


def test_an_archive_holds_nothing_that_is_forbidden():
    pdf = archived()
    for thing in pdf.objects:
        if isinstance(thing, pikepdf.Dictionary | pikepdf.Stream):
            assert not {"/JS", "/AA", "/OpenAction", "/TR", "/HTP", "/Alternates", "/OPI", "/PS", "/F"} & set(thing.keys())
            assert "LZW" not in str(thing.get("/Filter", ""))
            assert thing.get("/Interpolate", False) is False
    assert "/Encrypt" not in pdf.trailer
    assert len(pdf.trailer.ID) == 2
    assert "/AS" not in pdf.Root.OCProperties.D
    assert str(pdf.Root.OCProperties.D.Name)
    assert Path("out.pdf").read_bytes().startswith(b"%PDF-1.7\n%")
    assert min(Path("out.pdf").read_bytes()[10:14]) > 127


def test_every_layer_of_an_archive_stands_in_the_order():
    pdf = archived()

    def listed(order):
        return [thing for one in order for thing in (listed(one) if isinstance(one, pikepdf.Array) else [one.objgen])]

    assert sorted(listed(pdf.Root.OCProperties.D.Order)) == sorted(layer.objgen for layer in pdf.Root.OCProperties.OCGs)


def test_every_glyph_of_an_archive_has_a_text_and_its_own_width():
    from fontTools.cffLib import CFFFontSet

    pdf = archived()
    used = {}
    for font, run in re.findall(r"(/F\d+) [\d.]+ Tf(.*?)(?=/F\d|ET)", content(pdf), re.DOTALL):
        for code in re.findall(r"<([0-9a-f]+)>", run):
            used.setdefault(font, set()).update(int(code[at : at + 4], 16) for at in range(0, len(code), 4))
    assert used
    for name, codes in used.items():
        font = pdf.pages[0].Resources.Font[name]
        mapped = dict(re.findall(rb"<([0-9a-f]{4})> <([0-9a-f]+)>", font.ToUnicode.read_bytes()))
        assert 0 not in codes, "no glyph that stands for none"
        assert all(f"{code:04x}".encode() in mapped for code in codes)
        assert not {b"0000", b"feff", b"fffe"} & {text for key, text in mapped.items() if int(key, 16) in codes}
        inner = font.DescendantFonts[0]
        cff = CFFFontSet()
        cff.decompile(io.BytesIO(inner.FontDescriptor.FontFile3.read_bytes()), None)
        widths = [float(width) for width in inner.W[1]]
        outlines = cff[0].CharStrings
        for code in codes:
            glyph = outlines[cff[0].charset[code]]
            glyph.draw(_Nothing())
            assert widths[code] == pytest.approx(glyph.width, abs=1)


class _Nothing:
    def __getattr__(self, _):
        return lambda *_: None


def test_the_same_archive_has_the_same_bytes():
    first = [archived() and Path("out.pdf").read_bytes() for _ in range(2)]
    assert first[0] == first[1]


@pytest.mark.parametrize("options", [{}, {"archive": True}, {"colors": "cmyk"}, {"paper": "A4", "crop_marks": True}])
def test_other_readers_take_the_document(options):
    exported(CLOUD, **options)
    for command in (["qpdf", "--check", "out.pdf"], ["pdftotext", "out.pdf", "-"], ["mutool", "info", "out.pdf"]):
        try:
            done = subprocess.run(command, capture_output=True, text=True, timeout=60, check=False)
        except FileNotFoundError:
            continue
        assert done.returncode == 0, done.stderr
        if command[0] == "pdftotext":
            assert done.stdout.startswith("Mass and age\nFour cellars")


def test_an_option_that_one_of_several_formats_can_not_take_is_said():
    done = quietly(CLOUD.export, "a", formats=["pdf", "emf", "png"], colors="cmyk", dpi=50)
    said = [str(note) for note in done.findings if note.code == "option-unused"]
    assert said == ["figure.export: colors='cmyk' has no effect on .emf, .png"]
    with pytest.raises(OptionError, match="holds pixels alone"):
        CLOUD.export("a.png", rasterize="auto")
    assert not [note for note in quietly(CLOUD.export, "a", formats=["pdf", "svg"]).findings if note.code == "option-unused"]


def test_an_archive_with_empty_boxes_is_said_to_be_none():
    done = quietly(CLOUD.titles("A\U000e0ffe").export, "a.pdf", archive=True)
    lost = [note for note in done.findings if "no archive may hold" in note.text]
    assert len(lost) == ("letters-lost" in [note.code for note in done.findings])
    assert not [note for note in quietly(CLOUD.export, "a.pdf", archive=True).findings if "archive" in note.text]
