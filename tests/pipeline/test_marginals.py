"""Distributions at the edges of panels: aligned with them, of the same rows, in the same colors."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from hypothesis import given
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft
from facetine.messages.errors import KindError, MappingError, OptionError
from facetine.scene.marks import Group, Markers, Rects

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS)
SEEN = FRAME.dropna(subset=["moisture_pct", "firmness_n"])
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n", color="rind").points(size=2)
SIDES = ("top", "right", "bottom", "left")
NAMES = st.text("abcdefg hij", min_size=1, max_size=24).filter(str.strip)


def headings(made):
    return [text.content for text in made.scene.texts() if text.role == "heading"]


def assert_aligned(made):
    """Panels of one column have the same left and right edges, those of one row the same upper and lower ones."""
    for line, ends in (("columns", ("x", "right")), ("rows", ("y", "bottom"))):
        seen = {}
        for place in made.layout.panels:
            seen.setdefault(getattr(place.panel, line), []).append([getattr(place.box, end) for end in ends])
        for boxes in seen.values():
            assert np.ptp(np.array(boxes), axis=0).max() < 0.01


def main_and(made, field):
    return (
        [place for place in made.layout.panels if place.panel.field == 0],
        [place for place in made.layout.panels if place.panel.field == field],
    )


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("layer", ["histogram", "density", "boxes", "rug", "cumulative", "violins"])
def test_a_marginal_stands_at_its_side_on_the_axis_of_the_panel(side, layer):
    made = laid_out(BASE.marginal(side, layer))
    assert_sound(made)
    assert_aligned(made)
    (main,), (own,) = main_and(made, 1)
    shared = "x" if side in ("top", "bottom") else "y"
    assert own.panel.key(shared) == main.panel.key(shared)
    assert own.panel.key("y" if shared == "x" else "x") != main.panel.key("y" if shared == "x" else "x")
    near = {
        "top": own.box.bottom < main.box.y, "bottom": own.box.y > main.box.bottom,
        "left": own.box.right < main.box.x, "right": own.box.x > main.box.right,
    }  # fmt: skip
    assert near[side]
    extent = made.scales.axes[main.panel.key(shared)].extent
    values = SEEN["moisture_pct" if shared == "x" else "firmness_n"]
    assert extent.low <= values.min() <= values.max() <= extent.high


@pytest.mark.parametrize("facet", [None, {"by": "cellar", "per_row": 2}, {"rows": "milk", "columns": "cellar"}])
def test_bars_count_the_rows_of_their_own_panel_in_its_colors(facet):
    figure = BASE.facet(**facet) if facet else BASE
    made = laid_out(figure.marginal("top", "histogram").marginal("right", "histogram"), 180)
    assert_sound(made)
    assert_aligned(made)
    points, top, right = (run.table for run in made.runs)
    for bars, axis in ((top, "x"), (right, "y")):
        low, high = ("x_low", "x_high") if axis == "x" else ("y_low", "y_high")
        for panel in np.unique(points.panel):
            inside = points[axis][points.panel == panel]
            own = bars.take(bars.panel == panel)
            for start, end in {*zip(own[low].tolist(), own[high].tolist(), strict=True)}:
                counted = ((inside >= start) & ((inside < end) | ((inside == end) & (end == own[high].max())))).sum()
                assert own["count"][own[low] == start].sum() == counted
    scene = made.scene
    fills = {name: set() for name in ("points", "histogram")}

    def walk(group, layer=""):
        for item in group.items:
            if isinstance(item, Group):
                walk(item, item.name.split("-")[-1] if item.kind == "layer" else layer)
            elif isinstance(item, Markers) and layer == "points":
                fills["points"] |= {style.fill for style in item.styles}
            elif isinstance(item, Rects) and layer == "histogram":
                fills["histogram"] |= set(item.fills)

    walk(scene.root)
    assert fills["histogram"] == fills["points"]
    assert len(made.layout.legends.legends) == 1


def test_at_the_edge_all_panels_of_a_column_or_a_row_are_counted():
    figure = BASE.facet(rows="milk", columns="cellar")
    made = laid_out(figure.marginal("top", "histogram", panels="edge").marginal("right", "histogram", panels="edge"), 180)
    assert_sound(made)
    assert_aligned(made)
    _points, top, right = (run.table for run in made.runs)
    assert sorted(np.bincount(top.panel, top["count"]).tolist()) == sorted(SEEN.groupby("cellar").size().tolist())
    assert sorted(np.bincount(right.panel, right["count"]).tolist()) == sorted(SEEN.groupby("milk").size().tolist())
    (mains, over), beside = main_and(made, 1), main_and(made, 2)[1]
    assert [place.box.x for place in over] == pytest.approx(sorted({round(place.box.x, 6) for place in mains}), abs=0.01)
    assert [place.box.y for place in beside] == pytest.approx(sorted({round(place.box.y, 6) for place in mains}), abs=0.01)
    some = FRAME.assign(milk=FRAME.milk.where(FRAME.cellar != "Loft"), cellar=FRAME.cellar.where(FRAME.rind != "waxed"))
    there = some.dropna(subset=["moisture_pct", "firmness_n", "milk", "cellar"])
    figure = ft.figure(some).map(x="moisture_pct", y="firmness_n").points().facet(rows="milk", columns="cellar", empty="drop")
    edge = laid_out(figure.marginal("top", "histogram", panels="edge"), 180)
    assert "Loft" not in headings(edge), "a column without any panel has no marginal"
    assert np.bincount(edge.runs[1].table.panel, edge.runs[1].table["count"]).tolist() == there.groupby("cellar").size().tolist()
    single = laid_out(BASE.facet("milk", per_row=1).marginal("top", "histogram", panels="edge"), 120)
    assert single.runs[1].table["count"].sum() == len(SEEN)


def test_all_rows_are_counted_where_points_are_thinned_and_the_title_says_so():
    scans = ft.demo_data("scans")
    figure = ft.figure(scans).map(x="glow", y="grain").points(thin=500)
    made = laid_out(figure.marginal("top", "histogram").marginal("right", "density"))
    frame = pd.DataFrame(scans)
    assert made.runs[1].table["count"].sum() == frame[["glow", "grain"]].dropna().shape[0]
    said = [text.content for text in made.scene.texts() if text.role == "axis title"]
    assert "Count of all rows" in said
    assert any(text.startswith("Density") for text in said)


def test_categories_are_counted_along_their_axis():
    made = laid_out(ft.figure(WHEELS).map(x="rind", y="mass_kg").boxes().marginal("top", "bars").marginal("right", "histogram"))
    assert_sound(made)
    assert_aligned(made)
    frame = pd.DataFrame(WHEELS).dropna(subset=["rind", "mass_kg"])
    assert made.runs[1].table["y"].tolist() == frame.groupby("rind").size().tolist()


def test_a_marginal_has_the_windows_scales_and_turns_of_its_figure():
    plain = laid_out(BASE.scale("x", "log").scale("y", limits=(0, 50)).marginal("top", "histogram").marginal("right", "rug"))
    assert_aligned(plain)
    assert plain.scales.first("x").kind == "log"
    turned = laid_out(BASE.swap_axes().marginal("top", "histogram"))
    assert turned.runs[1].table["count"].sum() == len(SEEN)
    assert turned.scales.first("x").title.startswith("Firmness")
    swapped = turned.scales.first("x").extent
    assert swapped.low <= SEEN.firmness_n.min() <= SEEN.firmness_n.max() <= swapped.high
    own = laid_out(BASE.facet("rind", separate="x", per_row=2).marginal("top", "histogram"), 150)
    mains, tops = main_and(own, 1)
    assert [place.panel.x for place in mains] == [place.panel.x for place in tops]


@given(st.lists(NAMES, min_size=2, max_size=5, unique=True), st.sampled_from(SIDES), st.sampled_from(SIDES), st.integers(85, 180))
def test_panels_are_aligned_whatever_the_words(words, one, other, width):
    rows = 6 * len(words)
    frame = {"p": [words[i % len(words)] for i in range(rows)], "v": np.arange(rows) * 1e4, "w": np.arange(rows) % 7}
    figure = ft.figure(frame).map(x="v", y="w", color="p").points().facet("p", per_row=2)
    figure = figure.scale("x", second_axis={"convert": 2.0, "title": words[0]}) if len(words) % 2 else figure
    made = laid_out(figure.marginal(one, "histogram").marginal(other, "boxes").titles(words[0], y=words[-1]), width)
    assert_aligned(made)
    assert_sound(made)


def test_a_marginal_shows_no_rows_that_the_panel_leaves_out():
    some = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points(where="milk = 'cow'").trend(where="milk = 'cow'")
    made = laid_out(some.marginal("top", "histogram"))
    assert made.runs[2].table["count"].sum() == (SEEN.milk == "cow").sum()
    own = laid_out(some.marginal("top", "histogram", where="milk = 'ewe'"))
    assert own.runs[2].table["count"].sum() == (SEEN.milk == "ewe").sum()


def test_marginals_stand_on_every_page():
    made = laid_out(BASE.facet("cellar", per_page=2, per_row=2).marginal("top", "histogram"), 150)
    assert len(made.pages) == 2
    for page in (0, 1):
        roles = [place.panel.role for place in made.layout.panels if place.panel.page == page]
        assert sorted(roles) == ["main", "main", "over", "over"]
    assert_aligned(made)


def test_it_goes_into_plain_data_and_back():
    figure = BASE.marginal("top", "histogram", bins=7).marginal("right", "rug", size=0.1)
    spec = figure.to_dict()
    assert spec["marginals"] == [{"side": "top", "layer": "histogram", "bins": 7}, {"side": "right", "layer": "rug", "size": 0.1}]
    assert ft.from_dict(spec, WHEELS).to_dict() == spec
    explained = BASE.map(color=None).marginal("top", "histogram", map={"color": "rind"}, legend=True)
    assert len(laid_out(ft.from_dict(explained.to_dict(), WHEELS)).layout.legends.legends) == 1


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (OptionError, lambda: BASE.marginal("tp", "histogram"), "Did you mean 'top'"),
        (OptionError, lambda: BASE.marginal(3, "histogram"), "no side"),
        (OptionError, lambda: BASE.marginal("top", "histogran"), "Did you mean 'histogram'"),
        (OptionError, lambda: BASE.marginal("top", "histogram", size=0), "from 0.02"),
        (OptionError, lambda: BASE.marginal("top", "histogram", bons=3), "Did you mean 'bins'"),
        (OptionError, lambda: BASE.marginal("top", "histogram", panels="edges"), "Did you mean 'edge'"),
        (OptionError, lambda: laid_out(BASE.marginal("top", "histogram", panels="edge")), "without panels"),
        (OptionError, lambda: laid_out(BASE.facet("milk").marginal("top", "histogram", panels="edge")), "are wrapped"),
        (
            OptionError,
            lambda: laid_out(BASE.facet(rows="milk", columns="rind", separate="x").marginal("top", "rug", panels="edge")),
            "each has its own",
        ),
        (MappingError, lambda: laid_out(ft.figure(WHEELS).map(x="ph").histogram().marginal("right", "rug")), "no column stands"),
        (KindError, lambda: laid_out(BASE.map(x="rind").marginal("top", "histogram")), "holds categories"),
    ],
)
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(error, match=match):
        call()
