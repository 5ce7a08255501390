"""Chosen rows in their own inks over all others in a quiet one, in every layer, panel, legend and file."""

import numpy as np
import pandas as pd
import pytest
from conftest import SVG, laid_out, notes, own_id, svg_of, texts
from test_layers import ONE_OF_EACH, sample

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import MappingError, OptionError

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="firmness_n")
LOFT = "cellar = 'Loft'"
# They show all rows together, or none.
TOGETHER = {"cells", "correlation", "reference", "region", "callout", "function"}


def inks(element):
    """The colors of all shapes inside, in drawing order."""
    return [color for one in element.iter() for name in ("fill", "stroke") if (color := one.get(name)) not in (None, "none")]


def layer_groups(figure, layer=1):
    """The groups of a layer in the file: that of the others and that of the chosen rows."""
    found = [one for one in svg_of(figure, 120).iter(f"{SVG}g") if own_id(one).startswith(f"panel-1-layer-{layer}-")]
    return [one for one in found if len(own_id(one).split("-")) <= 6]


@pytest.mark.parametrize("layer", [name for name in ONE_OF_EACH if name not in TOGETHER | {"labels"}])
def test_every_layer_draws_the_others_quietly_and_first(layer):
    figure = ONE_OF_EACH[layer](ft.figure(sample(60))).highlight("k = 'u'", others="#abcdef")
    others, chosen = layer_groups(figure)
    assert own_id(others).endswith("-others")
    assert "#abcdef" in inks(others)
    assert "#abcdef" not in inks(chosen)
    assert {"u", "all others"} <= set(texts(svg_of(figure, 120)))


def test_labels_of_the_others_are_quiet_and_all_make_room_for_each_other():
    figure = BASE.labels(map={"label": "wheel"}, where="age_days > 300").highlight(LOFT, others="#abcdef")
    (found,) = layer_groups(figure)
    written = {text.text: text.get("fill") == "#abcdef" for text in found.iter(f"{SVG}text")}
    lofts = WHEELS[WHEELS["age_days"] > 300].set_index("wheel")["cellar"] == "Loft"
    assert set(written.values()) == {True, False}
    assert all(quiet != lofts[name] for name, quiet in written.items())


@pytest.mark.parametrize("layer", sorted(TOGETHER))
def test_layers_of_all_rows_stay_as_they_are(layer):
    figure = ONE_OF_EACH[layer](ft.figure(sample(60)))
    lit = figure.highlight("k = 'u'", others="#abcdef")
    last = len(figure._sentence.layers)
    (plain,), (same,) = layer_groups(figure, last), layer_groups(lit, last)
    assert inks(plain) == inks(same)
    assert any("show the chosen rows and all others together" in note for note in notes(lit)) == (
        layer in ("cells", "correlation")
    )


def test_what_is_computed_is_computed_apart():
    values = ft.figure(WHEELS).map(x="rind", y="ph").boxes().highlight(LOFT).numbers("boxes")
    for name, kept in (("Loft", WHEELS[WHEELS["cellar"] == "Loft"]), ("all others", WHEELS[WHEELS["cellar"] != "Loft"])):
        medians = values[values["group"] == name].dropna(subset=["median"]).set_index("x")["median"]
        assert medians.to_dict() == pytest.approx(kept.groupby("rind")["ph"].median().to_dict())


def test_points_keep_their_colors_and_lie_on_top():
    figure = BASE.map(color="rind").points().highlight(LOFT, others="silver")
    others, chosen = layer_groups(figure)
    assert len(list(others.iter(f"{SVG}circle"))) == int((WHEELS["cellar"] != "Loft").sum())
    assert len(list(chosen.iter(f"{SVG}circle"))) == int((WHEELS["cellar"] == "Loft").sum())
    before = set(inks(layer_groups(figure.highlight(None))[0]))
    assert set(inks(chosen)) <= before
    two = figure.lines(map={"y": "mass_kg"}).facet("milk")
    names = [own_id(one) for one in svg_of(two, 160).iter(f"{SVG}g") if own_id(one).startswith("panel-1-layer-")]
    order = ["layer-1-points-others", "layer-2-lines-others", "layer-1-points", "layer-2-lines"]
    assert [name for name in names if name.removeprefix("panel-1-") in order] == [f"panel-1-{name}" for name in order]


def test_the_legend_says_both_and_explains_no_color_that_is_not_there():
    lines = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", color="cellar").lines(aggregate="mean")
    said = texts(svg_of(lines.highlight("cellar = 'Quarry'", rest_as="other cellars"), 120))
    assert said[-2:] == ["Quarry", "other cellars"]
    assert "Cellar" not in said
    some = set(texts(svg_of(BASE.map(color="rind").points().highlight("rind <> 'waxed'", legend_as="soft"), 120)))
    assert {"soft", "all others", "washed"} <= some
    assert "waxed" not in some
    shapes = BASE.map(color="rind", shape="rind").points().highlight("rind = 'washed'", others="#abcdef")
    legend = next(one for one in svg_of(shapes, 120).iter(f"{SVG}g") if own_id(one) == "legends-legend-color-shape")
    entries = [one for one in legend.iter(f"{SVG}g") if "entry-" in own_id(one)]
    assert ["#abcdef" in inks(entry) for entry in entries] == [True, True, False, True]


def test_the_key_of_lines_named_at_their_ends_has_their_color():
    lines = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", color="cellar").lines(aggregate="mean", legend="direct")
    root = svg_of(lines.highlight("cellar = 'Quarry'"), 120)
    (chosen,) = [one for one in root.iter(f"{SVG}g") if own_id(one) == "legends-legend-highlight-entry-1"]
    (drawn,) = [one for one in root.iter(f"{SVG}g") if own_id(one) == "panel-1-layer-1-lines"]
    assert set(inks(chosen)) - {"#1c1f24"} == set(inks(drawn))


def test_a_label_may_be_said_and_expressions_may_be_callables():
    figure = BASE.points().highlight(lambda frame: frame["ph"] > 5.4)
    assert "highlighted" in texts(svg_of(figure, 120))
    assert "sour" in texts(svg_of(BASE.points().highlight("ph < 5.1", legend_as="sour"), 120))
    assert "ph < 5.1" in texts(svg_of(BASE.points().highlight("ph < 5.1"), 120))


def test_it_is_told_in_words_and_to_the_check():
    figure = BASE.points().highlight(LOFT)
    assert "Highlighted: Loft, 50 rows of 240" in figure.describe()
    assert not {"mark-faint", "color-of-two-meanings"} & {one.code for one in figure.check()}
    assert any("no row is chosen by 'Attic'" in note for note in notes(BASE.points().highlight("cellar = 'Attic'")))
    away = BASE.points().lines(data=pd.DataFrame({"age_days": [1, 2], "firmness_n": [3, 4]})).highlight(LOFT)
    assert any("the lines with data of their own know nothing of it" in note for note in notes(away))


def test_it_can_be_taken_back_laid_over_and_put_on_other_data():
    plain = BASE.points()
    lit = plain.highlight(LOFT)
    assert lit.highlight(None).to_dict() == plain.to_dict()
    assert ft.from_dict(lit.to_dict(), WHEELS).to_dict() == lit.to_dict()
    assert lit.onto(BASE.lines()).to_dict()["highlight"] == {"where": LOFT}
    assert plain.difference(lit) == f"+ .highlight({LOFT!r})"
    with pytest.raises(OptionError, match="highlight is"):
        lit.onto(BASE.lines().highlight("ph > 5"))
    with pytest.raises(MappingError, match="cellar"):
        lit.data(WHEELS.drop(columns="cellar"))


def test_plans_say_it_in_a_word_or_a_table(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    said = '[plan]\nformats = ["svg"]\n[data.w]\nfile = "wheels.csv"\n'
    for name, how in (("a", f'"{LOFT}"'), ("b", f'{{ where = "{LOFT}", others = "#abcdef", rest_as = "elsewhere" }}')):
        said += f'[figure.{name}]\ndata = "w"\nmap = {{ x = "ph", y = "mass_kg" }}\nlayers = ["points"]\nhighlight = {how}\n'
    (tmp_path / "p.toml").write_text(said + '[figure.c]\nlike = "b"\nhighlight = false\n')
    assert all(outcome.error is None for outcome in export_plan(tmp_path / "p.toml"))
    drawn = {name: (tmp_path / "figures" / f"{name}.svg").read_text() for name in "abc"}
    assert ["all others" in drawn[name] for name in "abc"] == [True, False, False]
    assert ["elsewhere" in drawn[name] and "#abcdef" in drawn[name] for name in "abc"] == [False, True, False]


@pytest.mark.parametrize(("call", "error", "said"), [
    (lambda f: f.highlight("cellars = 'Loft'"), MappingError, "cellars"),
    (lambda f: f.highlight("age_days"), MappingError, "yes or no"),
    (lambda f: f.highlight(True), OptionError, "says of no row whether it is chosen"),
    (lambda f: f.highlight(LOFT, others="silvr"), OptionError, "silver"),
    (lambda f: f.highlight(LOFT, legend_as=3), OptionError, "legend_as is a text"),
    (lambda f: f.highlight(LOFT, rest_as="Loft"), OptionError, "both called 'Loft'"),
])  # fmt: skip
def test_what_can_not_be_is_refused(call, error, said):
    with pytest.raises(error, match=said):
        call(BASE.points())


def test_halves_of_a_file_hold_every_row_once():
    figure = BASE.points(arrange="jitter").highlight(LOFT)
    rows = np.concatenate([mark.rows for mark in marks(laid_out(figure, 120).scene.root)])
    assert sorted(rows.tolist()) == list(range(240))


def marks(group):
    for item in group.items:
        if hasattr(item, "items"):
            yield from marks(item)
        elif getattr(item, "rows", None) is not None:
            yield item
