"""One figure in several ways on a sheet, and the pages to choose layers and themes from."""

import subprocess
import sys

import pytest
from conftest import quietly

import facetine as ft
from facetine.catalogs.samples import samples
from facetine.export.export import built
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import THEMES
from facetine.layers import LAYERS
from facetine.messages.errors import FacetineError, MappingError, OptionError
from facetine.scene.markup import plain

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points(opacity=0.5).titles("Mass", note="A note")


def captions(plate):
    return [plain(one.titles.title) for one in plate._sentence.contents() if isinstance(one, Sentence)]


@pytest.mark.parametrize(("ways", "said"), [
    ({"theme": ["press", {"name": "field", "text_size": 7}]}, [".theme('press')", ".theme('field', text_size=7)"]),
    ({"facet": ["cellar", {"by": "milk", "per_row": 1}, None]}, [".facet('cellar')", ".facet('milk', per_row=1)", ".facet(None)"]),
    ({"color": ["rind", None, ft.sql("ph > 5.3")]}, [".map(color='rind')", ".map(color=None)", ".map(color=sql('ph > 5.3'))"]),
    ({"layer": ["points", "trend"]}, [".points()", ".trend()"]),
    ({"points": [{"opacity": 0.2}, {"size": 2, "color": None}]}, [".change('points', opacity=0.2)", ".change('points', size=2, color=None)"]),
    ({"scale": [{"x": "log"}, {"x": "log", "y": {"kind": "sqrt", "reverse": True}}]},
     [".scale('x', 'log')", ".scale('x', 'log').scale('y', 'sqrt', reverse=True)"]),
    ({"palette": ["orchard", "pantry"]}, ['.scale("color", palette=\'orchard\')', '.scale("color", palette=\'pantry\')']),
])  # fmt: skip
def test_every_variant_stands_under_the_call_that_makes_it(ways, said):
    figure = BASE.map(color="rind") if "palette" in ways else BASE
    sheet = figure.variants(**ways)
    assert captions(sheet) == said
    for call, one in zip(said, sheet._sentence.contents(), strict=True):
        if "layer" in ways:
            assert [layer.verb for layer in one.layers] == [call.strip(".()")]
            continue
        made = eval(f"figure{call}", {"figure": figure, "sql": ft.sql})._sentence
        assert (one.layers, one.mapping, one.facet, one.scales) == (made.layers, made.mapping, made.facet, made.scales)
        assert one.theme.hairlines == made.theme.hairlines
    made = built(sheet._sentence, None, None)
    written = [text.content for text in made.scene.texts() if text.role in ("title", "note")]
    assert written[0] == "Mass"
    assert written.count("A note") == 1


def test_two_ways_make_rows_and_columns():
    sheet = BASE.variants(color=["rind", "milk"], layer=["points", "trend", "contours"])
    assert (sheet._sentence.rows, sheet._sentence.columns) == (2, 3)
    assert captions(sheet)[1] == ".map(color='rind') .trend()"


@pytest.mark.parametrize(("count", "columns"), [(1, 1), (2, 2), (3, 3), (4, 2), (5, 3), (9, 3), (10, 4)])
def test_variants_stand_in_rows(count, columns):
    sheet = BASE.variants(points=[{"size": 1 + number} for number in range(count)])
    assert sheet._sentence.columns == columns
    assert len(sheet._sentence.contents()) == count


def test_what_can_not_be_drawn_is_left_out_and_told():
    with pytest.warns(ft.FacetineFinding, match=r"\.bars\(\) can't be drawn: figure.bars: 240 rows"):
        sheet = BASE.map(x="rind").variants(layer=["boxes", "bars"])
    assert captions(sheet) == [".boxes()"]
    with pytest.raises(FacetineError, match="rows"):
        quietly(BASE.map(x="rind").variants, layer=["bars"])


def test_a_dark_variant_stands_on_its_own_ground():
    made = laid_out_plate(BASE.variants(theme=["press", "basalt"]))
    grounds = [
        group
        for one in made.scene.root.items
        if hasattr(one, "items")
        for group in one.items
        if getattr(group, "kind", "") == "ground"
    ]
    ((rects,),) = [group.items for group in grounds]
    assert rects.fills == (THEMES["basalt"].ground,)
    left, top, width, height = rects.boxes[0]
    texts = [text for text in made.scene.texts() if text.color == THEMES["basalt"].text_color]
    assert texts
    for text in texts:
        assert left <= text.box.x
        assert text.box.right <= left + width
        assert top <= text.box.y
        assert text.box.bottom <= top + height
    assert not any(finding.code == "plate-unlike" for finding in made.findings)
    assert "text-faint" not in {one.code for one in BASE.variants(theme=["press", "basalt"]).check()}


def laid_out_plate(plate):
    return built(plate._sentence, "180 mm", None)


@pytest.mark.parametrize(("ways", "error", "said"), [
    ({}, OptionError, "0 ways vary the figure"),
    ({"theme": ["press"], "facet": ["rind"], "color": ["rind"]}, OptionError, "3 ways"),
    ({"theme": "press"}, OptionError, "theme is a list of what it may be"),
    ({"theme": []}, OptionError, "theme is a list"),
    ({"theme": ["pres"]}, OptionError, "press"),
    ({"colour": ["rind"]}, OptionError, "Did you mean 'color'"),
    ({"boxes": [{"notches": True}]}, OptionError, "nothing to vary is called 'boxes'"),
    ({"points": ["big"]}, OptionError, "dicts of options"),
    ({"scale": ["log"]}, OptionError, "dicts of aesthetic and kind"),
    ({"layer": [3]}, OptionError, "list of verbs"),
    ({"color": ["rnd"]}, MappingError, "Did you mean 'rind'"),
    ({"points": [{"size": n + 1} for n in range(25)]}, OptionError, "25 variants are more"),
])  # fmt: skip
def test_what_can_not_be_varied_is_refused(ways, error, said):
    with pytest.raises(error, match=said):
        BASE.variants(**ways)


def test_the_page_of_layers_shows_every_layer_once_at_least():
    shown = {
        layer if isinstance(layer, str) else next(iter(layer))
        for row in samples().values()
        for one in row.values()
        for layer in one.layers
    }
    assert shown == set(LAYERS)
    for row in samples().values():
        for name, one in row.items():
            last = one.layers[-1] if isinstance(one.layers[-1], str) else next(iter(one.layers[-1]))
            assert name.split("(")[0].split(" ")[0] == last
    page = ft.catalog("layers").figure()
    made = quietly(built, page._sentence, None, None)
    written = {text.content for text in made.scene.texts() if text.role == "title"}
    assert set(samples()) <= written
    assert not any(finding.severity == "warning" for finding in made.findings)
    assert made.scene.height == pytest.approx(245 / 25.4 * 72)


def test_the_page_of_themes_shows_all_of_them():
    page = ft.catalog("themes").figure()
    assert captions(page) == [f".theme({name!r})" for name in THEMES]


@pytest.mark.slow
def test_pages_from_the_command_line(tmp_path):
    command = [sys.executable, "-m", "facetine.cli.start", "catalog"]
    done = subprocess.run([*command, "themes", "--figure", "t.svg"], capture_output=True, text=True, cwd=tmp_path, check=False)
    assert (done.returncode, done.stdout) == (0, "wrote t.svg\n"), done.stderr
    refused = subprocess.run([*command, "scales", "--figure", "s.svg"], capture_output=True, text=True, cwd=tmp_path, check=False)
    assert refused.returncode == 2
    assert "layers, themes, palettes and fonts have one" in refused.stderr
    with pytest.raises(OptionError, match="no figure of rules"):
        ft.catalog("rules").figure()
