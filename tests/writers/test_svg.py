"""The SVG, read back as XML."""

import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest
from conftest import SVG, group, laid_out, numbers, own_id, shapes, svg_of, texts
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.export.export import rendered
from facetine.writers.numbers import filled, short

WHEELS = ft.demo_data("wheels")
SCATTER = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()


def test_the_sheet_has_its_physical_size():
    root = svg_of(SCATTER, "85 mm", "60 mm")
    assert (root.get("width"), root.get("height")) == ("85mm", "60mm")
    box = [float(number) for number in root.get("viewBox").split()]
    assert box == pytest.approx([0, 0, 85 / 25.4 * 72, 60 / 25.4 * 72], abs=1e-3)


def test_text_is_text_in_the_named_family():
    root = svg_of(SCATTER.titles("A title"))
    assert "A title" in texts(root)
    assert root.find(f"{SVG}g").get("font-family").startswith("'Source Sans Pro'")
    assert not list(shapes(group(root, "title"), "path"))


def test_every_row_is_a_marker_at_its_place():
    made = laid_out(SCATTER)
    root = ET.fromstring(rendered(made, "svg", dpi=72, transparent=False, fonts="name"))
    box = made.layout.panels[0].box
    x, y = made.scales.first("x").extent, made.scales.first("y").extent
    expected = np.column_stack(
        [
            box.x + x.share(WHEELS.age_days.to_numpy(float)) * box.width,
            box.bottom - y.share(WHEELS.mass_kg.to_numpy(float)) * box.height,
        ]
    )
    circles = shapes(group(root, "panel-1-layer-1-points"), "circle")
    found = np.array([(float(c["cx"]), float(c["cy"])) for c in circles])
    assert np.allclose(found, expected, atol=0.0051)


def test_groups_are_named_and_their_ids_are_unique():
    root = svg_of(SCATTER.map(color="rind").facet("cellar"))
    ids = [own_id(element) for element in root.iter() if element.get("id")]
    assert len(ids) == len(set(ids))
    assert {"panel-1", "panel-2-x-axis", "panel-4-layer-1-points", "legends"} <= set(ids)
    titles = [title.text for title in group(root, "panel-1").findall(f"{SVG}title")]
    assert titles == ["Loft"]


@pytest.mark.parametrize("hostile", ["<script>alert(1)</script>", 'a" onload="x', "a & b", "]]>", "\x07bell", "a\u2028b"])
def test_any_text_is_escaped(hostile):
    fig = ft.figure({hostile: [1.0, 2.0], "k": [hostile, "other"]}).map(x=hostile, y=hostile, color="k").points()
    root = svg_of(fig.titles(hostile.replace("*", "")))
    assert not list(root.iter(f"{SVG}script"))
    assert any(hostile.replace("\x07", "")[:5] in text for text in texts(root))


def test_markup_becomes_spans():
    root = svg_of(SCATTER.titles("CO~2~ in *vitro*"))
    spans = list(group(root, "title").iter(f"{SVG}tspan"))
    assert [span.text for span in spans] == ["CO", "2", " in ", "vitro"]
    assert float(spans[1].get("dy")) > 0
    assert float(spans[2].get("dy")) < 0
    assert spans[3].get("font-style") == "italic"


@pytest.mark.parametrize("shape", ["triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon"])
def test_markers_are_paths_around_their_place(shape):
    fig = ft.figure({"a": [1.0, 2.0], "b": [1.0, 2.0]}).map(x="a", y="b").points(shape=shape, size=10)
    made = laid_out(fig)
    root = ET.fromstring(rendered(made, "svg", dpi=72, transparent=False, fonts="name"))
    box = made.layout.panels[0].box
    paths = shapes(group(root, "panel-1-layer-1-points"), "path")
    assert len(paths) == 2
    start = numbers(paths[0]["d"])[:2]
    assert box.x < start[0] < box.right
    assert box.y < start[1] < box.bottom


def test_the_font_travels_along_on_request():
    style = svg_of(SCATTER.titles("Title"), fonts="embed").find(f"{SVG}style").text
    assert style.count("@font-face") == 2
    assert "base64," in style
    assert svg_of(SCATTER).find(f"{SVG}style") is None


def test_an_embedded_font_has_the_letters_that_are_written():
    import base64
    import io
    import re

    from fontTools.ttLib import TTFont

    style = svg_of(SCATTER.titles("Qwx"), fonts="embed").find(f"{SVG}style").text
    fonts = [TTFont(io.BytesIO(base64.b64decode(data))) for data in re.findall(r"base64,([^)]+)\)", style)]
    assert any({ord(letter) for letter in "Qwx"} <= set(font.getBestCmap()) for font in fonts)


def test_a_transparent_sheet_has_no_ground():
    assert svg_of(SCATTER).find(f"{SVG}rect") is not None
    assert svg_of(SCATTER, transparent=True).find(f"{SVG}rect") is None


def test_the_title_and_description_are_there_for_readers_who_can_not_see():
    root = svg_of(SCATTER.titles("Mass *and* age"))
    assert root.find(f"{SVG}title").text == "Mass and age"
    assert "points" in root.find(f"{SVG}desc").text


def test_several_figures_in_one_page_share_no_id_and_the_same_figure_keeps_its_own():
    one, again, other = svg_of(SCATTER), svg_of(SCATTER), svg_of(SCATTER.titles("Other"))
    ids = [{element.get("id") for element in root.iter() if element.get("id")} for root in (one, again, other)]
    assert ids[0] == ids[1]
    assert not ids[0] & ids[2]


def test_every_reference_leads_to_an_id(wheels):
    fig = SCATTER.map(color="ph", shape="rind").points(shape="hexagon").scale("y", limits=(2, 4)).lines(data=None)
    root = svg_of(fig)
    ids = {element.get("id") for element in root.iter() if element.get("id")}
    used = set(re.findall(r"url\(#([^)]+)\)", ET.tostring(root, "unicode")))
    used |= {element.get("{http://www.w3.org/1999/xlink}href")[1:] for element in root.iter(f"{SVG}use")}
    used |= {root.get("aria-labelledby"), root.get("aria-describedby")} - {None}
    assert used
    assert used <= ids


def test_screen_readers_learn_what_groups_are():
    root = svg_of(SCATTER.titles("Mass"))
    assert root.get("role") == "graphics-document document"
    assert root.find(f".//*[@id='{root.get('aria-labelledby')}']").text == "Mass"
    assert group(root, "panel-1").get("role") == "graphics-object group"
    assert group(root, "panel-1-layer-1-points").get("role") == "graphics-symbol img"


def discs_by_group(root, layer):
    return {
        own_id(part).removeprefix(f"panel-1-{layer}-"): len(shapes(part, "circle"))
        for part in group(root, f"panel-1-{layer}")
        if own_id(part)
    }


def test_points_drawn_group_by_group_can_be_picked_by_category():
    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind")
    counts = {name: int(count) for name, count in WHEELS["rind"].value_counts().items()}
    assert discs_by_group(svg_of(fig.points(draw_order="groups")), "layer-1-points") == counts
    assert discs_by_group(svg_of(fig.points()), "layer-1-points") == {}
    both = svg_of(fig.map(shape="milk").points(draw_order="groups"))
    titles = [title.text for title in group(both, "panel-1-layer-1-points").iter(f"{SVG}title")][1:]
    assert titles == [f"{rind}, {milk}" for rind in sorted(counts) for milk in ("cow", "ewe", "goat")]


@pytest.mark.parametrize("arrange", ["stack", "side_by_side", "overlay"])
def test_bars_of_a_category_are_a_group(arrange):
    fig = ft.figure(WHEELS).map(x="cellar", color="rind").bars(arrange=arrange)
    parts = [part for part in group(svg_of(fig), "panel-1-layer-1-bars") if own_id(part)]
    assert [part.find(f"{SVG}title").text for part in parts] == sorted(WHEELS["rind"].unique())
    assert {len(shapes(part, "rect")) for part in parts} == {4}


def test_many_markers_of_one_shape_share_a_definition():
    fig = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points(shape="hexagon", size=10)
    root = svg_of(fig)
    places = [(float(use["x"]), float(use["y"])) for use in shapes(group(root, "panel-1-layer-1-points"), "use")]
    assert len(places) == len(WHEELS)
    few = svg_of(ft.figure(WHEELS.head(3)).map(x="age_days", y="mass_kg").points(shape="hexagon", size=10))
    assert len(shapes(group(few, "panel-1-layer-1-points"), "path")) == 3


def test_lines_break_at_gaps():
    fig = ft.figure({"t": [1.0, 2, 3, 4, 5], "v": [1.0, 2, np.nan, 2, 1]}).map(x="t", y="v").lines()
    (path,) = shapes(group(svg_of(fig), "panel-1-layer-1-lines"), "path")
    assert path["d"].count("M") == 2
    assert path["d"].count("L") == 2


def test_what_is_cut_at_limits_is_clipped_to_the_panel():
    fig = ft.figure({"t": [1.0, 2, 3], "v": [1.0, 9, 1]}).map(x="t", y="v").lines().scale("y", limits=(0, 5))
    made = laid_out(fig)
    root = ET.fromstring(rendered(made, "svg", dpi=72, transparent=False, fonts="name"))
    layer = group(root, "panel-1-layer-1-lines")
    clip = layer.get("clip-path").removeprefix("url(#").removesuffix(")")
    rect = root.find(f".//{SVG}clipPath[@id='{clip}']/{SVG}rect")
    assert float(rect.get("height")) == pytest.approx(made.layout.panels[0].box.height, abs=0.01)


def test_a_color_bar_is_one_gradient():
    root = svg_of(SCATTER.map(color="ph"))
    stops = list(root.iter(f"{SVG}stop"))
    assert len(stops) > 16
    offsets = [float(stop.get("offset")) for stop in stops]
    assert offsets == sorted(offsets)
    assert offsets[0] == 0
    assert offsets[-1] == 1


@given(st.lists(st.floats(-1e4, 1e4), min_size=2, max_size=20).filter(lambda values: len(values) % 2 == 0))
def test_filled_templates_read_back(values):
    array = np.array(values).reshape(-1, 2)
    text = filled([("", " ", "\n")], None, array)
    found = np.array([[float(number) for number in line.split()] for line in text.splitlines()])
    assert np.allclose(found, array, atol=0.00501)


def test_many_and_few_numbers_are_written_alike():
    values = np.round(np.random.default_rng(3).uniform(0, 500, (3000, 1)), 2)
    many = filled([("", "\n")], None, values).splitlines()
    few = [filled([("", "")], None, values[i : i + 1]) for i in range(200)]
    assert many[:200] == few
    assert many[:200] == [short(value) for value in values[:200, 0]]
