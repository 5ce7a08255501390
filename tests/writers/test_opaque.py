"""Formats without opacity: EPS and EMF, read back as records and through other programs."""

import io
import re
import shutil
import struct
import subprocess
from pathlib import Path

import numpy as np
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

import facetine as ft
from facetine.messages.errors import ExportError, OptionError
from facetine.scene.marks import Bitmap, Group, Markers, MarkerStyle, Paths, Rects, Scene, Stroke, Text
from facetine.scene.play import play
from facetine.scene.recorder import Recorder
from facetine.scene.shapes import OUTLINES
from facetine.scene.subset import used_faces
from facetine.writers.formats import FORMATS, Options
from facetine.writers.opaque import FlatGroup, flattened
from facetine.writers.raster import image_of
from facetine.writers.type1 import fonts_of

WHEELS = ft.demo_data("wheels")
CLOUD = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().titles("Größe ~2~ *fi* (a\\) fl")
PER = 200


def eps_of(figure, **options):
    return FORMATS["eps"].write(
        laid_out(figure, options.pop("width", "85 mm"), options.pop("height", None)).scene, Options(**options)
    )


def rendered(content):
    """An EPS as pixels, by Ghostscript."""
    if shutil.which("gs") is None:
        pytest.skip("no Ghostscript on this machine")
    Path("a.eps").write_bytes(content)
    command = ["gs", "-q", "-dSAFER", "-dNOPAUSE", "-dBATCH", "-dEPSCrop", "-sDEVICE=png16m", f"-r{PER}", "-dTextAlphaBits=4"]
    done = subprocess.run([*command, "-dGraphicsAlphaBits=4", "-sOutputFile=a.png", "a.eps"], capture_output=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    assert done.stdout + done.stderr == b""
    return np.asarray(Image.open(io.BytesIO(Path("a.png").read_bytes())).convert("RGB"), int)


def shape(points, color="#204080", opacity=1.0):
    return Paths(np.array(points, float), np.array([0]), None, color, opacity, True)


def sheet(*marks, ground="#ffffff"):
    root = Group("figure", "Figure", (Group("panel-1", "Panel", marks, kind="panel", panel=0),))
    return Scene(100.0, 80.0, ground, root)


SQUARE = [(10, 10), (60, 10), (60, 60), (10, 60)]
OTHER = [(40, 30), (90, 30), (90, 70), (40, 70)]


def flat_marks(group):
    return [mark for item in group.items for mark in (flat_marks(item) if isinstance(item, FlatGroup) else [item])]


def colors_at(scene, *places):
    """The colors of a scene at some places: by the PDF, and through EPS by Ghostscript."""
    made = rendered(FORMATS["eps"].write(scene, Options(dpi=PER)).content)
    true = np.asarray(image_of(scene, dpi=PER).convert("RGB"), int)
    at = [(int(y * PER / 72), int(x * PER / 72)) for x, y in places]
    return [tuple(made[place]) for place in at], [tuple(true[place]) for place in at]


@pytest.mark.parametrize("ground", ["#ffffff", "#203040"])
@pytest.mark.parametrize("opacities", [(0.5, 1.0), (1.0, 0.4), (0.5, 0.25)])
def test_single_overlaps_have_their_exact_colors(ground, opacities):
    scene = sheet(shape(SQUARE, "#c02040", opacities[0]), shape(OTHER, "#2040c0", opacities[1]), ground=ground)
    made, true = colors_at(scene, (20, 20), (50, 45), (80, 50), (5, 5))
    assert np.abs(np.array(made) - np.array(true)).max() <= 1
    assert not any(isinstance(mark, Bitmap) for mark in flat_marks(flattened(scene, Options()).root))


def test_marks_over_the_ground_alone_are_drawn_once():
    flat = flattened(sheet(shape(SQUARE, "#c02040", 0.5)), Options())
    (mark,) = flat_marks(flat.root)
    assert mark.fill == "#e090a0"
    assert mark.opacity == 1
    assert flat.notes


def test_a_line_and_markers_below_a_band_show_through_it():
    stroke = ft.figure({"a": [0.0, 1.0], "b": [0.0, 1.0]}).map(x="a", y="b").lines()
    line = next(mark for mark in _marks(laid_out(stroke).scene) if isinstance(mark, Paths) and mark.stroke)
    line = Paths(np.array([(0.0, 40.0), (100.0, 40.0)]), np.array([0]), line.stroke._replace(width=6, color="#108030"))
    discs = Markers(np.array([[30.0, 25.0]]), (MarkerStyle("disc", 8.0, "#f0c000", "#000000", 3.0),))
    scene = sheet(line, discs, shape(SQUARE, "#2040c0", 0.3))
    made, true = colors_at(scene, (50, 40), (30, 25), (22, 25), (50, 20), (5, 40))
    assert np.abs(np.array(made) - np.array(true)).max() <= 2
    # The band, and what it shares with the line, with the disc and with its border.
    flat = [mark for mark in flat_marks(flattened(scene, Options()).root) if isinstance(mark, Paths) and mark.fill]
    assert len(flat) == 4


def test_borders_of_see_through_markers_do_not_show_their_inside():
    discs = Markers(np.array([[30.0, 25.0], [60.0, 60.0]]), (MarkerStyle("disc", 12.0, "#3060c0", "#000000", 6.0),), None, 0.5)
    scene = sheet(discs, shape(OTHER, "#c02040", 0.3))
    made, true = colors_at(scene, (30, 25), (19, 25), (60, 60), (49, 60), (85, 35))
    assert np.abs(np.array(made) - np.array(true)).max() <= 2
    assert not any(isinstance(mark, Bitmap) for mark in flat_marks(flattened(scene, Options()).root))


@settings(max_examples=15)
@given(st.lists(st.tuples(st.integers(5, 60), st.integers(5, 50), st.integers(4, 30), st.floats(0.1, 1)), min_size=1, max_size=4))
def test_any_rectangles_look_as_they_do_with_opacity(boxes):
    colors = ("#c02040", "#2040c0", "#108030", "#f0a000")
    marks = [
        Rects(np.array([[x, y, side, side]], float), (colors[i],), None, None, opacity)
        for i, (x, y, side, opacity) in enumerate(boxes)
    ]
    scene = sheet(*marks)
    made = rendered(FORMATS["eps"].write(scene, Options(dpi=PER)).content)
    true = np.asarray(image_of(scene, dpi=PER).convert("RGB"), int)
    rows, columns = (min(made.shape[i], true.shape[i]) for i in (0, 1))
    # Edges fall on parts of pixels.
    assert (np.abs(made[:rows, :columns] - true[:rows, :columns]).max(axis=2) > 2).mean() < 0.03


SCANS = ft.demo_data("scans")


places = st.tuples(st.floats(10, 90), st.floats(10, 70))
shades = st.sampled_from(["#c02040", "#2040c0", "#108030", "#f0a000", "#000000"])
opacities = st.floats(0.2, 1)
widths = st.floats(2.5, 8)
lines = st.builds(
    Stroke, shades, widths, st.sampled_from([(), (9.0, 4.0), (3.0, 6.0)]), opacities, st.sampled_from(["butt", "round"])
)
frames = st.none() | st.builds(Stroke, shades, widths, st.just(()), opacities, st.just("butt"))


@st.composite
def any_mark(draw):
    """A mark of any sort, wide enough everywhere to be seen."""
    sort, opacity = draw(st.sampled_from(["markers", "line", "polygon", "rectangle"])), draw(opacities)
    at = np.array(draw(st.lists(places, min_size=3, max_size=6)))
    if sort == "markers":
        shape, radius, color, width = draw(st.sampled_from(sorted(OUTLINES))), draw(st.floats(4, 15)), draw(shades), draw(widths)
        bare = MarkerStyle(shape, radius, None, color, width)
        return Markers(at, (bare if OUTLINES[shape].open else bare._replace(fill=draw(shades)),), None, opacity)
    if sort == "line":
        return Paths(at, np.array([0]), draw(lines))
    if sort == "polygon":
        return Paths(at, np.array([0]), None, draw(shades), opacity, True)
    side = draw(st.floats(4, 30))
    return Rects(np.array([[*at[0], side, side]]), (draw(shades),), None, draw(frames), opacity)


@settings(max_examples=60, deadline=None)
@given(st.lists(any_mark(), min_size=1, max_size=5))
def test_any_marks_look_as_they_do_with_opacity(marks):
    scene = sheet(*marks)
    flat = flattened(scene, Options())
    assert not any("one color" in note for note in flat.notes)
    opaque = sheet(*flat_marks(flat.root))
    made, true = (np.asarray(image_of(one, dpi=PER).convert("RGB"), int) for one in (opaque, scene))
    # Edges fall on either side of a pixel: no spot wider than those differs.
    off = np.abs(made - true).max(axis=2) > 12
    assert not np.lib.stride_tricks.sliding_window_view(off, (5, 5)).all(axis=(2, 3)).any()


def cloud(rows, **options):
    return ft.figure(SCANS.head(rows)).map(x=SCANS.columns[0], y=SCANS.columns[1]).points(opacity=0.2, size=3, **options)


def images(figure):
    flat = flattened(laid_out(figure).scene, Options(dpi=144))
    return [mark for mark in flat_marks(flat.root) if isinstance(mark, Bitmap)], flat


def test_a_layer_of_very_many_marks_is_an_image_and_all_else_stays_as_it_is():
    figure = cloud(4000).trend().titles("Texts")
    (image,), flat = images(figure)
    assert any("1 layer are an image of 144 dpi" in note for note in flat.notes)
    scene = laid_out(figure).scene
    box = laid_out(figure).layout.panels[0].box
    assert image.width == pytest.approx(image.box.width * 2, abs=1)
    assert box.x - 6 < image.box.x < box.right
    assert {mark.content for mark in flat_marks(flat.root) if isinstance(mark, Text)} == {text.content for text in scene.texts()}
    # The line and the band of the trend, axes and ticks are paths as before; the points are in the image alone.
    assert not any(isinstance(mark, Markers) for mark in flat_marks(flat.root))
    assert sum(isinstance(mark, Paths) for mark in flat_marks(flat.root)) == sum(
        isinstance(mark, Paths) for mark in _marks(scene)
    )
    # It covers what the points cover, and nothing between them.
    there = image.pixels[..., 3] > 0
    assert set(np.unique(image.pixels[..., 3]).tolist()) == {0, 255}
    assert 0.05 < there.mean() < 0.95


@pytest.mark.slow
@pytest.mark.parametrize(("rows", "options"), [(240, {}), (1900, {}), (4000, {"rasterize": False})])
def test_overlapping_marks_stay_vectors(rows, options):
    found, flat = images(cloud(rows, **options))
    assert not found
    drawn = [mark for mark in flat_marks(flat.root) if isinstance(mark, Markers)]
    assert sum(len(mark.at) for mark in drawn) == rows
    rough = any("has one color" in note for note in flat.notes)
    assert rough == (rows > 1000)


def test_what_is_asked_to_be_an_image_is_one_and_boxes_below_it_are_not():
    base = ft.figure(WHEELS).map(x="rind", y="mass_kg").boxes(outliers=False)
    asked = base.points(arrange="jitter", opacity=0.4, rasterize=True)
    quietly(asked.export, "asked.eps", width="85 mm", dpi=PER)
    content = Path("asked.eps").read_bytes()
    assert content.count(b"/ImageType 3") == 1
    plain, over = rendered(eps_of(base).content), rendered(content)
    true = np.asarray(image_of(laid_out(asked).scene, dpi=PER).convert("RGB"), int)
    rows, columns = (min(over.shape[i], true.shape[i]) for i in (0, 1))
    assert (np.abs(over[:rows, :columns] - true[:rows, :columns]).max(axis=2) > 60).mean() < 0.01
    # Where there are no points the boxes are those of the figure without them.
    bare = np.asarray(image_of(laid_out(base).scene, dpi=PER).convert("RGB"), int)
    same = (true[:rows, :columns] == bare[:rows, :columns]).all(axis=2)
    assert (np.abs(over[:rows, :columns] - plain[:rows, :columns]).max(axis=2)[same] > 40).mean() < 0.005
    strokes = len(re.findall(rb"\bS\b", content))
    assert strokes >= len(re.findall(rb"\bS\b", eps_of(base).content))


def test_the_figure_of_the_readme_is_all_vectors():
    figure = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n", color="rind", shape="rind").points(opacity=0.8)
    figure = figure.facet("cellar", per_row=2).scale("x", "log")
    found, flat = images(figure)
    assert not found
    assert not any("one color" in note or "image" in note for note in flat.notes)
    made = rendered(eps_of(figure).content)
    true = np.asarray(image_of(laid_out(figure).scene, dpi=PER).convert("RGB"), int)
    rows, columns = (min(made.shape[i], true.shape[i]) for i in (0, 1))
    assert (np.abs(made[:rows, :columns] - true[:rows, :columns]).max(axis=2) > 60).mean() < 0.012


def test_many_marks_of_one_place_look_as_deep_as_they_lie():
    ring = Rects(np.array([[20.0, 20, 30, 30]] * 5), ("#2040c0",), None, None, 0.3)
    made, true = colors_at(sheet(ring), (30, 30))
    assert np.abs(np.array(made) - np.array(true)).max() <= 4


@pytest.mark.parametrize("shape", ["cross", "disc"])
def test_a_hundred_marks_of_one_place_have_its_exact_color(shape):
    style = MarkerStyle(shape, 8.0, None if OUTLINES[shape].open else "#c02040", "#c02040" if OUTLINES[shape].open else None, 5.0)
    scene = sheet(Markers(np.full((100, 2), 40.0), (style,), None, 0.02), shape_of_band())
    assert not any("one color" in note for note in flattened(scene, Options()).notes)
    made, true = colors_at(scene, (40, 40), (70, 40))
    assert np.abs(np.array(made) - np.array(true)).max() <= 20  # 100 roundings to whole colors each way


def shape_of_band():
    return shape(OTHER, "#2040c0", 0.3)


@pytest.mark.slow
@pytest.mark.parametrize("rows", [1900])
def test_rough_colors_follow_the_depth_at_the_middles(rows):
    figure = cloud(rows)
    made = rendered(eps_of(figure).content)
    true = np.asarray(image_of(laid_out(figure).scene, dpi=PER).convert("RGB"), int)
    blurred = [np.asarray(Image.fromarray(one.astype(np.uint8)).reduce(12), int) for one in (made, true)]
    side = tuple(min(blurred[0].shape[i], blurred[1].shape[i]) for i in (0, 1))
    assert np.abs(blurred[0][: side[0], : side[1]] - blurred[1][: side[0], : side[1]]).mean() < 4


def _marks(scene):
    recorder = Recorder()
    play(scene, recorder)
    return [one.mark for one in recorder.marks]


@pytest.mark.parametrize(
    "figure",
    [
        CLOUD,
        ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="ph").points(opacity=0.6).theme("field"),
        ft.figure(WHEELS).map(x="rind", y="mass_kg").boxes(notches=True),
        ft.figure(WHEELS).map(x="age_days", y="mass_kg").points(shape="hexagon", outline="black").trend("linear"),
        ft.figure(WHEELS).map(x="mass_kg", color="milk").density().theme("basalt"),
        ft.figure(WHEELS).map(x="cellar", y="rind").cells(value_labels="{count}"),
    ],
)
def test_an_eps_looks_like_the_png(figure):
    # A height of whole pixels keeps the two aligned.
    made, true = rendered(eps_of(figure, width="3.3 in", height="2.9 in", dpi=PER).content), None
    true = np.asarray(image_of(laid_out(figure, "3.3 in", "2.9 in").scene, dpi=PER).convert("RGB"), int)
    assert made.shape == true.shape
    blurred = [np.asarray(Image.fromarray(image.astype(np.uint8)).reduce(3), int) for image in (made, true)]
    assert (np.abs(blurred[0] - blurred[1]).max(axis=2) > 32).mean() < 0.01


def test_an_eps_says_its_box_and_its_fonts():
    text = eps_of(CLOUD).content.decode("ascii")
    lines = dict(line.split(": ", 1) for line in text.splitlines() if line.startswith("%%") and ": " in line)
    scene = laid_out(CLOUD).scene
    assert text.startswith("%!PS-Adobe-3.0 EPSF-3.0\n")
    assert [int(number) for number in lines["%%BoundingBox"].split()] == [0, 0, 241, int(np.ceil(scene.height))]
    exact = [float(number) for number in lines["%%HiResBoundingBox"].split()]
    assert exact == pytest.approx([0, 0, scene.width, scene.height], abs=1e-3)
    assert lines["%%LanguageLevel"] == "3"
    assert lines["%%DocumentSuppliedResources"].startswith("font SourceSansPro")
    assert max(map(len, text.splitlines())) < 255
    assert text.count("\nshowpage\n") == 1
    assert text.count("%%BeginObject") == text.count("%%EndObject")


def test_texts_of_an_eps_are_texts():
    if shutil.which("ps2pdf") is None or shutil.which("pdftotext") is None:
        pytest.skip("no Ghostscript or poppler on this machine")
    Path("a.eps").write_bytes(eps_of(CLOUD).content)
    subprocess.run(["ps2pdf", "-dEPSCrop", "a.eps", "a.pdf"], check=True)
    said = subprocess.run(["pdftotext", "a.pdf", "-"], capture_output=True, text=True, check=True).stdout
    assert "Größe 2 fi (a\\) fl" in said.replace("\n", " ")
    fonts = subprocess.run(["pdffonts", "a.pdf"], capture_output=True, text=True, check=True).stdout.splitlines()[2:]
    assert len(fonts) == 3
    assert all(" yes yes yes " in line for line in fonts)


def test_the_fonts_of_an_eps_have_the_outlines_of_the_face():
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.t1Lib import T1Font

    for face in used_faces(laid_out(CLOUD).scene):
        (font,) = fonts_of(face.name, "Test", dict(face.glyphs))
        Path("test.pfa").write_text(font.program, "ascii")
        read = T1Font("test.pfa", kind="OTHER")
        glyphs = read.getGlyphSet()
        for glyph, text in face.glyphs.items():
            name = read.font["Encoding"][font.codes[glyph]]
            assert name == "uni" + text.encode("utf-16-be").hex().upper()
            pen = RecordingPen()
            glyphs[name].draw(pen)
            from facetine.scene.letters import glyph_outline

            ours = [values for command, values in glyph_outline(face.name, glyph) if command != "Z"]
            theirs = [
                tuple(v for point in points for v in point)
                for command, points in pen.value
                if command not in ("closePath", "endPath")
            ]
            theirs = [values for values in theirs if values]
            assert [tuple(np.round(values)) for values in ours] == theirs


@pytest.mark.parametrize(
    "hostile", ["a) showpage (", "%%EOF", "\\", "(((", "}{", "é\u4e2d", "\ud83e\uddc0 x", "<~", "line\nbreak"]
)
@pytest.mark.parametrize("suffix", ["eps", "emf"])
def test_any_text_goes_into_files_without_breaking_them(hostile, suffix):
    figure = ft.figure({hostile: [1.0, 2.0], "k": [hostile, "other"]}).map(x=hostile, y=hostile, color="k").points()
    figure = figure.titles(hostile.replace("*", ""))
    if suffix == "eps":
        written = eps_of(figure).content
        assert written.count(b"\n%%EOF\n") == 1
        assert np.ptp(rendered(written)) > 100
    else:
        quietly(figure.export, "a.emf")
        assert records(Path("a.emf").read_bytes())[-1][0] == 14


@settings(max_examples=25)
@given(st.text(st.characters(exclude_categories=("Cs",)), min_size=1, max_size=30))
def test_every_text_leaves_the_structure_whole(text):
    scene = laid_out(ft.figure({"a": [1.0], "b": [2.0]}).map(x="a", y="b").points().titles(text.replace("\\", "\\\\"))).scene
    written = FORMATS["eps"].write(scene, Options()).content
    assert written.isascii()
    body = re.sub(rb"\((?:\\.|[^\\()])*\)", b"()", written[written.index(b"%%Page: 1 1") :])
    assert body.count(b"{") == body.count(b"}")
    assert not re.search(rb"\((?!\))", body)
    assert records(FORMATS["emf"].write(scene, Options()).content)


# EMF.


def records(content):
    """Kind and body of every record; all lengths add up."""
    found, at = [], 0
    while at < len(content):
        kind, size = struct.unpack_from("<II", content, at)
        assert size % 4 == 0
        assert size >= 8
        found.append((kind, content[at + 8 : at + size]))
        at += size
    assert at == len(content)
    head = struct.unpack_from("<4sIIIH", found[0][1], 32)
    assert head[0] == b" EMF"
    assert head[2:4] == (len(content), len(found))
    assert head[4] > max((struct.unpack_from("<I", body)[0] for kind, body in found if kind in (39, 82, 95)), default=0)
    return found


def emf_of(figure, **options):
    return FORMATS["emf"].write(laid_out(figure, **options).scene, Options())


def test_an_emf_has_its_physical_size():
    (_, head), *_ = records(emf_of(CLOUD, width="85 mm", height="60 mm").content)
    frame = struct.unpack_from("<4i", head, 16)
    assert frame[2:] == (8500, 6000)
    size, millimeters = struct.unpack_from("<2i", head, 64), struct.unpack_from("<2i", head, 72)
    box = struct.unpack_from("<4i", head, 0)
    assert [(box[2 + i] + 1) * millimeters[i] / size[i] for i in (0, 1)] == pytest.approx([85, 60], abs=0.05)


def test_every_row_is_an_ellipse_of_an_emf_at_its_place():
    figure = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()
    made = laid_out(figure)
    corners = [struct.unpack("<4i", body) for kind, body in records(emf_of(figure).content) if kind == 42]
    middles = np.array([((a + c) / 200, (b + d) / 200) for a, b, c, d in corners])
    box, x, y = made.layout.panels[0].box, made.scales.first("x").extent, made.scales.first("y").extent
    across = box.x + x.share(WHEELS.age_days.to_numpy(float)) * box.width
    down = box.bottom - y.share(WHEELS.mass_kg.to_numpy(float)) * box.height
    assert np.allclose(middles, np.column_stack([across, down]), atol=0.011)


def test_texts_of_an_emf_are_texts_with_their_widths():
    made = laid_out(CLOUD)
    said, wide = [], []
    for kind, body in records(emf_of(CLOUD).content):
        if kind == 84:
            count, offset = struct.unpack_from("<II", body, 36)
            said.append(body[offset - 8 : offset - 8 + 2 * count].decode("utf-16-le"))
            (at,) = struct.unpack_from("<I", body, 64)
            wide.append(sum(struct.unpack_from(f"<{count}I", body, at - 8)) / 100)
    runs = [run for text in made.scene.texts() for run in text.standing]
    assert said == [run.text for run in runs]
    assert wide == pytest.approx([run.width for run in runs], abs=0.02)


def test_an_emf_says_which_fonts_it_needs():
    assert any("Source Sans Pro" in note for note in emf_of(CLOUD).notes)
    faces = {body[32:96].decode("utf-16-le").rstrip("\0") for kind, body in records(emf_of(CLOUD).content) if kind == 82}
    assert faces == {"Source Sans Pro"}


@pytest.mark.parametrize("suffix", ["eps", "emf"])
def test_the_same_figure_has_the_same_bytes(suffix):
    figure = CLOUD.points(opacity=0.4).trend("linear")
    assert FORMATS[suffix].write(laid_out(figure).scene, Options()) == FORMATS[suffix].write(laid_out(figure).scene, Options())


def test_what_these_formats_do_not_hold_is_refused():
    for name, options in (
        ("a.emf", {"colors": "cmyk"}),
        ("a.eps", {"archive": True}),
        ("a.emf", {"fonts": "embed"}),
    ):
        with pytest.raises(OptionError, match="has no effect on"):
            CLOUD.export(name, **options)
    with pytest.raises(ExportError, match="suffixes"):
        CLOUD.export("a.esp")
    assert quietly(CLOUD.export, "a.eps", colors="cmyk").files
    assert b"setrgbcolor} def" in Path("a.eps").read_bytes()
    assert not re.search(rb"[\d.]+ rg\b", Path("a.eps").read_bytes())


def test_an_eps_may_be_without_a_ground():
    painted, clear = eps_of(CLOUD).content, eps_of(CLOUD, ground=False).content
    assert len(painted) > len(clear)
    assert b" re f\n%%BeginObject" in painted
