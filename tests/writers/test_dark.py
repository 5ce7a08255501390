"""Figures for grounds that are not theirs, looks that are taken over, and files that are replaced."""

from pathlib import Path

import numpy as np
import pytest
from conftest import SVG, laid_out, quietly, svg_of
from PIL import Image

import facetine as ft
from facetine.core.color.spaces import contrast, from_hex
from facetine.export import notebook as display
from facetine.export.export import built
from facetine.grammar.dark import for_dark_ground, is_dark, on_ground
from facetine.grammar.theme import THEMES
from facetine.messages.errors import OptionError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points().titles("Mass")


def inks(made):
    """The colors of all texts."""
    return {text.color for text in made.scene.texts()}


def test_dark_leaves_the_sheet_clear_and_takes_light_inks():
    BASE.export("a.png", transparent="dark", dpi=100)
    picture = np.asarray(Image.open("a.png").convert("RGBA"))
    assert picture[0, 0, 3] == 0
    BASE.export("b.svg", transparent="dark")
    assert '<rect x="0" y="0"' not in Path("b.svg").read_text("utf-8").split("<g")[0]
    made = built(for_dark_ground(BASE._sentence), "85 mm", None)
    ratios = contrast(from_hex(sorted(inks(made))), from_hex(["#000000"] * len(inks(made))))
    assert (ratios > 4.5).all()
    assert made.scales.looks["color"].values != laid_out(BASE).scales.looks["color"].values


def test_what_was_said_and_what_is_dark_already_stay():
    said = BASE.theme(text_color="#ff8800").scale("color", palette=["red", "yellow", "blue", "lime"])
    made = built(for_dark_ground(said._sentence), "85 mm", None)
    assert "#ff8800" in inks(made)
    assert made.scales.looks["color"].values == laid_out(said).scales.looks["color"].values
    dark = BASE.theme("basalt", text_color="#eeeeee")._sentence
    assert for_dark_ground(dark) == dark


def test_plates_and_insets_turn_dark_as_a_whole():
    inner = BASE.inset(BASE.titles("Inset"), at=(0.5, 0.5, 1, 1))
    for plate in (ft.plate([[BASE, inner]], letters="A"), ft.plate([[BASE, inner]]).theme("press", text_size=7)):
        made = built(for_dark_ground(plate._sentence), "180 mm", None)
        assert made.scene.ground == THEMES["basalt"].ground
        assert not any(is_dark(color) for color in inks(made))
        plain = built(plate._sentence, "180 mm", None)
        assert {text.runs[0].size for text in made.scene.texts()} == {text.runs[0].size for text in plain.scene.texts()}


def test_show_previews_a_ground(monkeypatch):
    shown = []
    monkeypatch.setattr(display, "show", lambda sentence, *_, **__: shown.append(sentence) or ())
    BASE.show(ground="black")
    BASE.show(ground="ivory")
    BASE.show()
    assert [one.theme.ground for one in shown] == ["#000000", "#fffff0", "#ffffff"]
    assert [is_dark(one.theme.text_color) for one in shown] == [False, True, True]
    assert on_ground(shown[2], "#102030", "ground").theme.ground_below == "#102030"
    with pytest.raises(OptionError, match="figure.show: ground"):
        BASE.show(ground="blakc")


@pytest.mark.parametrize(
    ("options", "said"), [({"transparent": "light"}, "can't be 'light'"), ({"transparent": 3}, "transparent")]
)
def test_other_words_are_refused(options, said):
    with pytest.raises(OptionError, match=said):
        BASE.export("a.svg", **options)


def test_another_figure_in_a_file_of_this_session_is_told():
    assert not quietly(BASE.export, "a.svg").findings
    assert not quietly(BASE.export, "a.svg").findings
    assert not quietly(BASE.change("points", opacity=0.3).titles("Again").export, "a.svg").findings
    other = quietly(BASE.map(y="ph").export, ["a.svg", "b.svg"])
    assert [str(note) for note in other.findings if note.code == "file-replaced"] == [
        "figure.export: a.svg replaces another figure, which was written there before; another name keeps both"
    ]
    assert not quietly(BASE.data(WHEELS.head(100)).export, "c.svg").findings
    assert "file-replaced" not in {note.code for note in quietly(BASE.data(WHEELS.head(50)).export, "c.svg").findings}
    assert "file-replaced" in {note.code for note in quietly(ft.plate([[BASE, BASE.lines()]]).export, "a.svg").findings}


def test_the_looks_of_a_figure_become_the_defaults():
    pleasing = BASE.theme("ledger", text_size=9).scale("color", palette="pantry").sheet("120 mm", "50 mm")
    with ft.defaults(like=pleasing):
        made = ft.figure(WHEELS).map(x="age_days", y="ph", color="rind").points()
        theme = made._sentence.theme
        assert (theme.hairlines, theme.text_size, theme.palette) == ("across", 9.0, "pantry")
        assert float(svg_of(made, None).get("width").removesuffix("mm")) == pytest.approx(120, abs=0.1)
        assert svg_of(made, None).find(f"{SVG}g") is not None
    numbers = BASE.map(color="ph").scale("color", palette="hearth")
    with ft.defaults(like=numbers):
        theme = ft.figure(WHEELS)._sentence.theme
        assert (theme.palette, theme.ramp) == ("orchard", "hearth")
    with ft.defaults(like=ft.plate([[BASE, BASE]]).theme("field"), palette="pantry"):
        assert ft.figure(WHEELS)._sentence.theme.hairlines == "both"
        assert ft.figure(WHEELS)._sentence.theme.palette == "pantry"
    assert ft.figure(WHEELS)._sentence.theme == THEMES["press"]
    with pytest.raises(OptionError, match="like is a figure, not 'ledger'"):
        ft.set_defaults(like="ledger")
