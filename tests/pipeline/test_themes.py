"""Themes, defaults and the further kinds of scales, on built figures."""

from pathlib import Path

import numpy as np
import pytest
from conftest import group, laid_out, notes, own_id, shapes, svg_of
from conftest import numbers as numbers_of
from pipeline.test_layout import FIGURES, assert_sound

import facetine as ft
from facetine.grammar.theme import THEMES
from facetine.messages.errors import OptionError, ScaleError
from facetine.scene.marks import Markers
from facetine.writers.formats import Options
from facetine.writers.opaque import FlatGroup, flattened


def numbers(**scales):
    rng = np.random.default_rng(4)
    data = {"x": rng.uniform(0, 1e4, 80), "y": rng.normal(0, 300, 80), "p": rng.uniform(0.01, 0.99, 80)}
    figure = ft.figure(data).map(x="x", y="y").points()
    for axis, kind in scales.items():
        figure = figure.scale(axis, kind)
    return figure


@pytest.mark.parametrize("theme", THEMES)
@pytest.mark.parametrize("name", ["scatter", "facets", "color bar", "horizontal", "log", "time", "many names"])
@pytest.mark.parametrize(("width", "size"), [(60, 6), (85, None), (180, 14)])
def test_no_text_overlaps_in_any_theme(theme, name, width, size):
    settings = {} if size is None else {"text_size": size}
    if theme == "lecture" and size is None:
        width = 2 * width
    assert_sound(laid_out(FIGURES[name].theme(theme, **settings), width))


def test_a_theme_without_axes_has_no_ticks_and_no_axis_titles():
    texts = {text.role for text in laid_out(FIGURES["scatter"].theme("bare")).scene.texts()}
    assert not texts & {"tick", "axis title"}
    assert "legend" in texts


def test_hairlines_are_drawn_behind_the_marks():
    root = svg_of(FIGURES["scatter"].theme("ledger"))
    panel = group(root, "panel-1")
    ids = [own_id(part) for part in panel if part.get("id")]
    assert ids[0] == "panel-1-hairlines"


def test_a_panel_may_have_a_ground_and_a_frame_of_its_own():
    figure = FIGURES["facets"].theme("ledger", panel_ground="#f3f1ea", panel_frame="teal", panel_frame_width=0.9)
    panel = group(svg_of(figure), "panel-2")
    ids = [own_id(part).removeprefix("panel-2-") for part in panel if part.get("id")]
    assert (
        ids.index("ground")
        < ids.index("hairlines")
        < ids.index("layer-1-points")
        < ids.index("frame")
        < ids.index("y-axis" if "y-axis" in ids else "x-axis")
    )
    (rect,) = shapes(group(panel, "panel-2-ground"), "rect")
    assert rect["fill"] == "#f3f1ea"
    (line,) = shapes(group(panel, "panel-2-frame"), "path")
    assert (line["stroke"], line["stroke-width"]) == ("#008080", "0.9")
    assert [float(rect[name]) for name in ("x", "y")] == numbers_of(line["d"])[:2]
    plain = svg_of(FIGURES["facets"].theme("ledger"))
    assert not any("ground" in own_id(one) or "frame" in own_id(one) for one in plain.iter() if one.get("id"))


def test_marks_are_blended_and_judged_on_the_ground_of_their_panel():
    figure = ft.figure({"a": [1.0], "b": [1.0]}).map(x="a", y="b").points(opacity=0.5, color="#000000", size=20)
    dark = figure.theme(panel_ground="#400000")
    flat = flattened(laid_out(dark).scene, Options()).root
    (mark,) = [mark for mark in flat_marks(flat) if isinstance(mark, Markers)]
    assert mark.styles[0].fill == "#200000"
    assert "mark-faint" in {one.code for one in dark.change("points", color="#500000", opacity=None).check()}
    assert "mark-faint" not in {one.code for one in figure.check()}


def flat_marks(group):
    return [mark for item in group.items for mark in (flat_marks(item) if isinstance(item, FlatGroup) else [item])]


def test_defaults_hold_for_a_stretch_of_code_or_the_session():
    data = {"a": [1.0, 2], "b": [1.0, 2]}
    with ft.defaults(theme={"name": "ledger", "text_size": 11}, width="120 mm", palette="pantry"):
        inside = ft.figure(data).map(x="a", y="b").points()
        assert laid_out(inside, None).scene.width == pytest.approx(120 / 25.4 * 72)
    assert inside._sentence.theme.hairlines == "across"
    assert inside._sentence.theme.palette == "pantry"
    assert ft.figure(data)._sentence.theme == THEMES["press"]
    with ft.defaults():
        ft.set_defaults(theme="field")
        assert ft.figure(data)._sentence.theme.hairlines == "both"
    assert ft.figure(data)._sentence.theme == THEMES["press"]


@pytest.mark.parametrize(
    ("said", "answer"),
    [({"them": "press"}, "Did you mean 'theme'"), ({"theme": "pres"}, "Did you mean 'press'"), ({"width": "wide"}, "no length"),
     ({"theme": {"text_siz": 3}}, "Did you mean 'text_size'"), ({"palette": "orchad"}, "Did you mean 'orchard'"), ({"theme": 3}, "a name")],
)  # fmt: skip
def test_wrong_defaults_are_told(said, answer):
    with pytest.raises(OptionError, match=answer):
        ft.set_defaults(**said)


@pytest.mark.parametrize("kind", ["sqrt", "signed_log", "power", "duration"])
def test_every_kind_of_axis_draws_all_rows(kind):
    made = laid_out(numbers(x=kind))
    assert len(made.tables[0]) == 80
    assert_sound(made)
    share = made.scales.first("x").extent.share(made.tables[0]["x"])
    assert (share >= 0).all()
    assert (share <= 1).all()


def test_a_logit_axis_leaves_out_what_is_no_share_and_says_so():
    figure = ft.figure({"p": [0.0, 0.2, 0.9, 1.0, 1.5], "q": [1.0, 2, 3, 4, 5]}).map(x="q", y="p").points().scale("y", "logit")
    assert len(laid_out(figure).tables[0]) == 2
    assert "3 rows with p not between 0 and 1 left out" in notes(figure)[0]


def test_options_of_a_kind_belong_to_it():
    base = numbers()
    assert laid_out(base.scale("x", "log", base=2)).scales.first("x").transform.base == 2
    assert laid_out(base.scale("y", "signed_log", threshold=10)).scales.first("y").transform.threshold == 10
    assert laid_out(base.scale("x", "power", exponent=0.25)).scales.first("x").transform.exponent == 0.25
    with pytest.raises(OptionError, match="base has no effect"):
        base.scale("x", "sqrt", base=2)


def test_counts_on_a_square_root_axis_are_moved_too():
    made = laid_out(
        ft.figure({"v": np.repeat([1.0, 2.0, 3.0], [1, 4, 25])})
        .map(x="v")
        .histogram(edges=[0.5, 1.5, 2.5, 3.5])
        .scale("y", "sqrt")
    )
    assert made.tables[0]["y_high"].tolist() == pytest.approx([1, 2, 5])
    with pytest.raises(ScaleError, match="stand on zero"):
        laid_out(ft.figure({"v": [1.0, 2]}).map(x="v").histogram().scale("y", "log"))


def test_colors_can_follow_a_logarithm():
    data = {"a": [1.0, 2, 3, 4], "b": [1.0, 2, 3, 4], "c": [1.0, 10.0, 100.0, 0.0]}
    made = laid_out(ft.figure(data).map(x="a", y="b", color="c").points().scale("color", "log"))
    scale = made.scales.looks["color"]
    assert len(made.tables[0]) == 3
    middle = scale.place(np.array([10.0]))[0]
    assert middle == pytest.approx((len(scale.values) - 2) / 2, abs=1)


def test_a_theme_can_stand_in_a_file():
    Path("house.toml").write_text('name = "ledger"\ntext_size = 7\nhairline_color = "teal"\n', "utf-8")
    made = FIGURES["scatter"].theme("house.toml", margin=9)._sentence.theme
    assert (made.text_size, made.hairlines, made.hairline_color, made.margin) == (7.0, "across", "#008080", 9.0)
    Path("table.toml").write_text("[theme]\ntext_size = 9\n", "utf-8")
    with ft.defaults(theme=Path("table.toml")):
        assert ft.figure(None)._sentence.theme.text_size == 9.0


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('name = "ledger"\ntext_sise = 7\n', r"house.toml, line 2: .*Did you mean 'text_size'"),
        ('name = "leger"\n', r"house.toml, line 1: .*Did you mean 'ledger'"),
        ('\n\ntext_size = "large"\n', r"house.toml, line 3: .*text_size"),
        ("text_size = \n", "no TOML"),
        ("theme = 4\n", "theme is a table"),
    ],
)
def test_what_is_wrong_in_a_themes_file_names_the_line(text, said):
    Path("house.toml").write_text(text, "utf-8")
    with pytest.raises(OptionError, match=said):
        FIGURES["scatter"].theme("house.toml")
    with pytest.raises(OptionError, match="can't be read"):
        FIGURES["scatter"].theme("no_house.toml")
