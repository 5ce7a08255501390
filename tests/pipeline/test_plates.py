"""Figures and pictures set together: aligned, lettered, with shared looks."""

import base64
import io
from itertools import combinations

import numpy as np
import pandas as pd
import pikepdf
import pytest
from conftest import laid_out, quietly, said, svg_of
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import ExifTags, Image
from test_layout import assert_sound
from test_marginals import NAMES

import facetine as ft
from facetine.export.export import rendered
from facetine.grammar.plate import letter_texts
from facetine.messages.errors import DataError, ExportError, FacetineError, KindError, OptionError

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS)
BASE = ft.figure(WHEELS, codebook={"firmness_n": {"label": "Firmness", "unit": "N"}})
CLOUD = BASE.map(x="age_days", y="firmness_n", color="rind").points(size=2)
BOXES = BASE.map(x="rind", y="moisture_pct", color="rind").boxes()
COUNTS = BASE.map(x="mass_kg", color="milk").histogram()
PANELS = BASE.map(x="age_days", y="mass_kg", color="rind").points(size=2).facet("cellar", per_row=4)


@pytest.fixture
def photograph(tmp_path):
    y, x = np.mgrid[0:60, 0:90]
    Image.fromarray((x + y).astype("uint8")).save(tmp_path / "rind.png")
    return tmp_path / "rind.png"


def edges(layout):
    """Left, upper, right and lower edge of all panels of a figure together."""
    boxes = [place.box for place in layout.panels]
    return [min(b.x for b in boxes), min(b.y for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)]


def letters(made):
    return [text.content for text in made.scene.texts() if text.role == "letter"]


def test_panels_align_in_rows_and_columns_whatever_stands_around_them():
    plate = ft.plate(
        [[CLOUD.titles("A title"), BOXES], [COUNTS.titles(y="Wheels"), CLOUD.map(color="milk")], [PANELS, PANELS]], letters="A"
    )
    made = laid_out(plate, 180)
    assert_sound(made)
    a, b, c, d, e = map(edges, made.layouts)
    for one, other, ends in ((a, c, (0, 2)), (b, d, (0, 2)), (a, b, (1, 3)), (c, d, (1, 3))):
        assert [one[end] for end in ends] == pytest.approx([other[end] for end in ends], abs=0.01)
    assert (e[0], e[2]) == pytest.approx((a[0], b[2]), abs=0.01), "a span begins and ends with its columns"
    assert letters(made) == ["A", "B", "C", "D", "E"]
    for one, other in combinations(made.layouts, 2):
        assert not any(p.box.overlaps(q.box) for p in one.panels for q in other.panels)


@settings(max_examples=15)
@given(st.lists(NAMES, min_size=6, max_size=6), st.sampled_from(["A", "(a)", "i"]), st.integers(140, 200), st.booleans())
def test_panels_align_whatever_the_words(words, sample, width, second):
    figures = [CLOUD.titles(words[0], y=words[1]), BOXES.titles(subtitle=words[2], x=words[3]), COUNTS.titles(note=words[4])]
    last = PANELS.titles(words[5])
    if second:
        figures[0] = figures[0].scale("y", second_axis={"convert": 2.0, "title": words[3]})
        figures[2] = figures[2].marginal("top", "rug")
    made = laid_out(ft.plate([[figures[0], figures[1]], [figures[2], last]], letters=sample), width)
    assert_sound(made)
    a, b, c, d = map(edges, made.layouts)
    assert [a[0], b[0], a[2], b[2]] == pytest.approx([c[0], d[0], c[2], d[2]], abs=0.01)
    assert [a[1], c[1], a[3], c[3]] == pytest.approx([b[1], d[1], b[3], d[3]], abs=0.01)


@pytest.mark.parametrize("theme", ["press", "ledger", "field", "basalt", "bare", "lecture"])
def test_a_plate_of_six_stands_in_any_theme(theme):
    plate = ft.plate(
        [[CLOUD, BOXES], [COUNTS, CLOUD.map(color="milk")], [PANELS.facet(None), BOXES.map(y="ph")]], letters="a"
    ).theme(theme)
    width = 420 if theme == "lecture" else 180
    assert_sound(laid_out(plate, width))


def test_widths_and_heights_divide_the_room_of_panels():
    made = laid_out(ft.plate([[CLOUD, BOXES], [COUNTS, CLOUD.map(color="milk")]], widths=[2, 1], heights=[1, 2]), 180, 200)
    a, b, c, _ = map(edges, made.layouts)
    assert (a[2] - a[0]) / (b[2] - b[0]) == pytest.approx(2, abs=0.01)
    assert (c[3] - c[1]) / (a[3] - a[1]) == pytest.approx(2, abs=0.01)


def test_a_plate_in_a_plate_shows_its_outer_edges_only():
    made = laid_out(ft.plate([[CLOUD, [BOXES, COUNTS]]], letters="A", widths=[3, 2]).titles("Whole"), 180)
    assert_sound(made)
    a, b, c = map(edges, made.layouts)
    assert (a[1], a[3]) == pytest.approx((b[1], c[3]), abs=0.01)
    assert (b[0], b[2]) == pytest.approx((c[0], c[2]), abs=0.01)
    assert letters(made) == ["A", "B", "C"]
    inner = ft.plate([[BOXES], [COUNTS]]).titles("Inner", note="Below").theme(text_size=6)
    nested = laid_out(ft.plate([[CLOUD, inner]]), 180)
    assert_sound(nested)
    assert {"Inner", "Below"} <= {text.content for text in nested.scene.texts()}


def test_looks_are_settled_for_all_figures_and_legends_merge():
    few = ft.figure(FRAME[FRAME.rind != "bloomy"]).map(x="age_days", y="ph", color="rind").points()
    made = laid_out(ft.plate([[few, CLOUD]], share_legend=True), 180)
    assert_sound(made)
    assert len([text for text in made.scene.texts() if text.role == "legend title"]) == 1
    assert [text.content for text in made.scene.texts() if text.role == "legend"].count("washed") == 1
    apart = laid_out(ft.plate([[few, CLOUD]]), 180)
    assert len([text for text in apart.scene.texts() if text.role == "legend title"]) == 2
    scales = [layout.legends.legends[0].legend.entries for layout in apart.layouts]
    looks = [{entry.label: entry.keys[0][1]["color"].values for entry in entries} for entries in scales]
    assert looks[0] == looks[1]
    numbers = ft.plate([[CLOUD.map(color="age_days"), CLOUD.map(color="age_days").keep("age_days < 100")]], share_legend=True)
    assert len([text for text in laid_out(numbers, 180).scene.texts() if text.role == "legend title"]) == 1


def test_legends_may_stand_inside_the_panels_of_a_plate():
    made = laid_out(ft.plate([[CLOUD, COUNTS]]).theme(legend_place="inside"), 180)
    assert_sound(made)
    for layout in made.layouts:
        assert any(place.box.overlaps(layout.legends.region) for place in layout.panels)


def test_figures_share_a_scale_where_that_is_said():
    early, late = CLOUD.keep("age_days < 90"), CLOUD.keep("age_days >= 90")
    made = laid_out(ft.plate([[early, late]]).same_scale("x", "y"), 180)
    keys = [layout.panels[0].panel for layout in made.layouts]
    assert keys[0].x == keys[1].x
    assert keys[0].y == keys[1].y
    extent = made.scales.axes[keys[0].x].extent
    assert extent.low <= FRAME.age_days.min() <= FRAME.age_days.max() <= extent.high
    apart = laid_out(ft.plate([[early, late]]), 180)
    assert apart.layouts[0].panels[0].panel.x != apart.layouts[1].panels[0].panel.x
    some = BASE.map(x="rind", y="ph").boxes()
    both = laid_out(ft.plate([[some.keep("rind <> 'waxed'"), some]]).same_scale("x"), 180)
    assert len({made.panels[0].panel.x for made in both.layouts}) == 1
    assert both.scales.first("x").labels == ("bloomy", "natural", "washed", "waxed")
    with pytest.raises(KindError, match="is to be shared"):
        laid_out(ft.plate([[CLOUD, BOXES]]).same_scale("x"), 180)


def test_each_figure_is_drawn_as_it_is_alone():
    made = laid_out(ft.plate([[CLOUD, BOXES], [COUNTS, PANELS]]), 180)
    for number, figure in enumerate([CLOUD, BOXES, COUNTS, PANELS]):
        alone = laid_out(figure, 90)
        mine = made.runs[number].table
        for name, values in alone.runs[0].table.values.items():
            if values.dtype.kind == "f":
                np.testing.assert_allclose(mine[name], values)


def test_pictures_stand_as_panels_do_with_a_bar_of_the_right_length(photograph):
    picture = ft.picture(photograph, scale_bar="2 mm", pixels_per_mm=15, alt="A rind")
    made = laid_out(ft.plate([[picture, CLOUD]], letters="A"), 180)
    assert_sound(made)
    drawing = svg_of(ft.plate([[picture, CLOUD]], letters="A"), 180)
    (image,) = [element for element in drawing.iter() if element.tag.endswith("image")]
    box = {name: float(image.get(name)) for name in ("x", "y", "width", "height")}
    assert box["width"] / box["height"] == pytest.approx(90 / 60, rel=1e-3)
    assert box["y"] == pytest.approx(edges(made.layouts[0])[1], abs=0.01)
    (bar,) = [group for group in drawing.iter() if group.get("id", "").endswith("scale-bar")]
    (rect,) = [element for element in bar.iter() if element.tag.endswith("rect")]
    assert float(rect.get("width")) == pytest.approx(box["width"] * 30 / 90, rel=1e-3), "2 mm are 30 of 90 pixels"
    assert [text.content for text in made.scene.texts() if text.role == "value"] == ["2 mm"]
    document = pikepdf.open(io.BytesIO(rendered(made, "pdf", dpi=100, transparent=False, fonts="name")))
    images = [thing for thing in document.pages[0].Resources.XObject.values() if thing.get("/Subtype") == "/Image"]
    assert [(int(thing.Width), int(thing.Height)) for thing in images] == [(90, 60)]
    filled = laid_out(ft.plate([[ft.picture(photograph, fit="fill"), CLOUD]]), 180)
    assert_sound(filled)
    assert "A rind" in made.scene.description


@pytest.mark.parametrize(("sort", "mode"), [("PNG", "RGBA"), ("JPEG", "RGB"), ("JPEG", "L"), ("PNG", "P")])
def test_pictures_of_all_sorts_keep_their_colors(sort, mode, tmp_path):
    name = tmp_path / f"patch.{sort.lower()}"
    Image.new("RGB", (40, 40), "#c83214").convert(mode).save(name, sort)
    made = laid_out(ft.plate([[ft.picture(name)], [CLOUD]]), 80)
    pixels = Image.open(io.BytesIO(rendered(made, "png", dpi=50, transparent=False, fonts="name"))).convert("RGB")
    seen = pixels.getpixel((pixels.width // 2, 20))
    wanted = (0xC8, 0x32, 0x14) if mode != "L" else (91, 91, 91)
    assert np.abs(np.array(seen) - wanted).max() < 25


def test_pictures_of_cameras_stand_upright_and_those_of_instruments_keep_their_grays(tmp_path):
    lying = Image.new("RGB", (60, 40), "#c83214")
    lying.paste("#1432c8", (0, 0, 60, 20))
    exif = lying.getexif()
    exif[ExifTags.Base.Orientation] = 6  # its upper edge is the right one of what was seen
    lying.save(tmp_path / "lying.jpg", exif=exif, quality=95)
    deep = np.repeat(np.linspace(0, 65535, 40).astype("uint16")[None], 40, axis=0)
    Image.fromarray(deep).save(tmp_path / "deep.png")
    lying.convert("CMYK").save(tmp_path / "inks.jpg", quality=95)
    camera, instrument, print_ = (ft.picture(tmp_path / name) for name in ("lying.jpg", "deep.png", "inks.jpg"))
    assert camera.size == (40, 60)
    made = laid_out(ft.plate([[camera, instrument, print_], [CLOUD, CLOUD, CLOUD]]), 120)
    pixels = Image.open(io.BytesIO(rendered(made, "png", dpi=144, transparent=False, fonts="name"))).convert("RGB")
    drawn = svg_of(ft.plate([[camera, instrument, print_], [CLOUD, CLOUD, CLOUD]]), 120)
    boxes = [element for element in drawn.iter() if element.tag.endswith("image")]

    def seen(element, across, down):
        x, y, width, height = (float(element.get(name)) for name in ("x", "y", "width", "height"))
        inside = Image.open(
            io.BytesIO(base64.b64decode(next(v for v in element.attrib.values() if v.startswith("data")).split(",")[1]))
        )
        inside = inside.convert("RGB")
        own = inside.getpixel((int(across * inside.width), int(down * inside.height)))
        printed = pixels.getpixel((int(2 * (x + across * width)), int(2 * (y + down * height))))
        assert np.abs(np.array(own) - printed).max() < 12, "the SVG and the PDF show the same"
        return np.array(printed)

    for place, (across, wanted) in enumerate([(0.75, (20, 50, 200)), (0.25, (200, 50, 20))]):
        assert np.abs(seen(boxes[0], across, 0.5) - wanted).max() < 25, place
    for share in (0.1, 0.5, 0.9):
        assert np.abs(seen(boxes[1], share, 0.5) - 255 * share).max() < 12
    assert np.abs(seen(boxes[2], 0.5, 0.25) - (20, 50, 200)).max() < 25


def test_a_figure_stands_in_a_panel_of_another(tmp_path):
    inner = CLOUD.scale("x", limits=(0, 60)).scale("y", limits=(0, 30)).titles(x="", y="")
    made = laid_out(CLOUD.inset(inner, at=(0.5, 0.02, 1, 0.5), zoom=True), 120)
    host, own = made.layouts
    box, inside = host.panels[0].box, own.panels[0].box
    assert inside.x > box.x + 0.5 * box.width
    assert inside.bottom < box.bottom
    assert len([text for text in made.scene.texts() if text.role == "legend title"]) == 1
    root = made.scene.root.items
    assert root[-1].name == "inset", "it is drawn last"
    zoom = next(item for item in root[-1].items if getattr(item, "name", "") == "zoom")
    x, y = zoom.items[0].points[:, 0], zoom.items[0].points[:, 1]
    axes = made.scales.under(host.panels[0].panel)
    low, high = (box.x + box.width * float(axes["x"].extent.share(np.array([v]))[0]) for v in (0, 60))
    assert (x.min(), x.max()) == pytest.approx((max(low, box.x), high), abs=0.01)
    assert y.max() - y.min() == pytest.approx(box.height * float(axes["y"].extent.share(np.array([30.0]))[0]), abs=0.01)
    data = laid_out(CLOUD.inset(inner, at=(300, 10, 500, 50), units="data"), 120)
    placed = data.layouts[1].panels[0].box
    assert placed.x > box.x + box.width * float(axes["x"].extent.share(np.array([300.0]))[0]) - 1
    named = laid_out(
        PANELS.facet("cellar", per_row=2).inset(
            COUNTS.titles(x="", y="").theme(text_size=5), at=(0.3, 0.3, 1, 1), panel="Quarry"
        ),
        180,
    )
    quarry = next(place.box for place in named.layouts[0].panels if place.panel.name == "Quarry")
    assert named.layouts[1].panels[0].box.overlaps(quarry)
    assert quietly(ft.plate([[CLOUD.inset(inner, at=(0.5, 0, 1, 0.5)), BOXES]]).export, tmp_path / "both.pdf").files


def test_unlike_looks_are_told():
    made = laid_out(ft.plate([[CLOUD, BOXES.theme(text_size=12)]]), 180)
    assert any("unlike text sizes: 8.0, 12.0" in line or "unlike text sizes" in line for line in said(made))
    assert not any(
        "unlike" in line for line in said(laid_out(ft.plate([[CLOUD, BOXES.theme(text_size=12)]]).theme(text_size=8), 180))
    )


def test_looks_and_scales_are_laid_over_all_figures():
    made = laid_out(ft.plate([[CLOUD, BOXES]]).scale("color", legend=True, colors={"washed": "#123456"}).theme("basalt"), 180)
    assert made.scene.ground != "#ffffff"
    dark = laid_out(ft.plate([[CLOUD.theme("basalt"), BOXES.theme("basalt")]]), 180)
    assert dark.scene.ground == made.scene.ground, "the sheet looks as its figures do"
    for layout in made.layouts:
        inks = {entry.label: entry.keys[0][1]["color"].values[0] for entry in layout.legends.legends[0].legend.entries}
        assert inks["washed"] == "#123456"
    inner = CLOUD.scale("x", limits=(0, 60)).titles(x="", y="")
    holding = CLOUD.inset(inner, at=(0.5, 0.02, 1, 0.5))
    insets = laid_out(ft.plate([[holding, BOXES]]).scale("y", "log").theme(tick_color="#123456"), 180)
    host, _, own = insets.layouts
    assert [insets.scales.axes[layout.panels[0].panel.y].kind for layout in (host, own)] == ["log", "log"]
    assert {text.color for text in insets.scene.texts() if text.role == "tick"} == {"#123456"}
    small = laid_out(ft.plate([[CLOUD.inset(inner.theme(text_size=5), at=(0.5, 0.02, 1, 0.5)), BOXES]]).theme(text_size=9), 180)
    assert {run.size for text in small.scene.texts() if text.role == "tick" for run in text.runs} == {4.5, 8.1}
    varied = BASE.map(x="age_days").points().over_variables(y=["mass_kg", "ph"])
    logged = laid_out(ft.plate([[varied]]).scale("y", "log"), 180)
    assert [logged.scales.axes[place.panel.y].kind for place in logged.layout.panels] == ["log", "log"]


@pytest.mark.parametrize(
    ("sample", "expected"),
    [("A", "A B C D"), ("(a)", "(a) (b) (c) (d)"), ("i", "i ii iii iv"), ("I)", "I) II) III) IV)"), ("1.", "1. 2. 3. 4.")],
)
def test_letters_follow_their_first(sample, expected):
    assert letter_texts(sample, 4) == expected.split()
    assert letter_texts("A", 28)[-1] == "AB"


def test_it_goes_into_plain_data_and_back(photograph):
    plate = ft.plate(
        [[CLOUD, [BOXES, ft.picture(photograph)]], [COUNTS, COUNTS]], letters="(a)", widths=[2, 1], share_legend=True
    )
    plate = plate.same_scale("y").titles("Title", note="Note").theme("press", text_size=7).scale("color", palette="orchard")
    spec = plate.to_dict()
    again = ft.from_dict(spec, WHEELS)
    assert again.to_dict() == spec
    assert repr(again) == repr(plate)
    inset = CLOUD.inset(COUNTS, at=(0.5, 0.5, 1, 1), zoom=False)
    assert ft.from_dict(inset.to_dict(), WHEELS).to_dict() == inset.to_dict()
    with pytest.raises(OptionError, match=r"plate\.scale\('x'\) holds the callable"):
        plate.scale("x", format=str).to_dict()


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (OptionError, lambda: ft.plate([[CLOUD, "x"]]), "'x' is no figure"),
        (OptionError, lambda: ft.plate(CLOUD), "rows are lists"),
        (OptionError, lambda: ft.plate([]), "rows are lists"),
        (OptionError, lambda: ft.plate([[]]), "a row is empty"),
        (OptionError, lambda: ft.plate([[None]]), "no figures"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES], [BOXES, CLOUD]]), "stands twice"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]], letters="x"), "no letters"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]], letters=["A"]), "1 of 2"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]], widths=[1]), "1 numbers for 2 columns"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]], widths=[1, 0]), "above zero"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]], letter_place="top"), "corner"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]]).same_scale("z"), "axes"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]]).titles(titel="x"), "plate.titles: no option"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]]).same_scale("color"), "shared already"),
        (OptionError, lambda: ft.plate([[CLOUD, BOXES]]).scale("size", span=(1, 2)), "no figure of the plate maps size"),
        (OptionError, lambda: ft.plate([[CLOUD, ft.plate([[BOXES]], letters="A")]]), "the outer one"),
        (OptionError, lambda: laid_out(ft.plate([[PANELS.facet("cellar", separate="x"), CLOUD]]).same_scale("x")), "several x axes"),
        (OptionError, lambda: laid_out(ft.plate([[PANELS.facet("cellar", per_page=2)]]), 180), "per_page makes pages"),
        (ExportError, lambda: laid_out(ft.plate([[CLOUD, BOXES, COUNTS]]), 40), r'width="\d+ mm" would do'),
        (ExportError, lambda: laid_out(ft.plate([[CLOUD], [BOXES], [COUNTS]]), 80, 40), r'height="\d+ mm" would do'),
        (DataError, lambda: ft.picture("never.png"), "can't be read"),
        (OptionError, lambda: CLOUD.inset("x", at=(0, 0, 1, 1)), "no figure"),
        (OptionError, lambda: CLOUD.inset(BOXES, at=(0, 0, 1)), "left, lower, right, upper"),
        (OptionError, lambda: CLOUD.inset(BOXES, at=(1, 0, 0, 1)), "no rectangle"),
        (OptionError, lambda: CLOUD.inset(BOXES, at=(0, 0, 2, 1)), "beyond the panel"),
        (OptionError, lambda: laid_out(PANELS.inset(BOXES, at=(0, 0, 1, 1), panel="Lft"), 400), "Did you mean 'Loft'"),
        (ExportError, lambda: laid_out(CLOUD.inset(BOXES, at=(0, 0, 0.1, 0.1))), "too small for the inset"),
        (OptionError, lambda: laid_out(CLOUD.inset(BOXES, at=(0, 0, 0.6, 1)).inset(BOXES, at=(0.4, 0, 1, 1)), 180), "over each other"),
    ],
)  # fmt: skip
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(FacetineError, match=match) as caught:
        call()
    assert type(caught.value) is error


def test_a_size_that_would_do_does():
    plate = ft.plate([[CLOUD, BOXES, COUNTS]])
    with pytest.raises(ExportError) as caught:
        laid_out(plate, 40)
    assert_sound(laid_out(plate, int(caught.value.detail.split('"')[1].split()[0])))


def test_pictures_that_are_none_are_refused(tmp_path, photograph):
    (tmp_path / "text.png").write_text("no picture")
    with pytest.raises(DataError, match="is no picture"):
        ft.picture(tmp_path / "text.png")
    with pytest.raises(OptionError, match="belong together"):
        ft.picture(photograph, scale_bar="5 mm")
    with pytest.raises(OptionError, match="longer than the picture"):
        ft.picture(photograph, scale_bar="5 mm", pixels_per_mm=40)
    with pytest.raises(OptionError, match="no length"):
        laid_out(ft.plate([[ft.picture(photograph, scale_bar="5 feet", pixels_per_mm=1)]]))
