"""What panels are of, how they are headed, on which pages and how large they stand."""

import io

import narwhals as nw
import numpy as np
import pandas as pd
import pikepdf
import pytest
from conftest import laid_out, notes, quietly
from hypothesis import given
from hypothesis import strategies as st
from test_layout import assert_sound

import facetine as ft
from facetine.export.export import rendered
from facetine.messages.errors import DataError, ExportError, KindError, MappingError, OptionError, ScaleError

WHEELS = ft.demo_data("wheels")
FRAME = pd.DataFrame(WHEELS)
SEEN = FRAME.dropna(subset=["moisture_pct", "firmness_n"])
APART = {"x": [1.0, 2, 3, 4], "a": ["p", "q", None, None], "b": [None, None, "u", "v"]}
BASE = ft.figure(WHEELS).map(x="moisture_pct", y="firmness_n").points(size=2)


def headings(scene):
    return [text.content for text in scene.texts() if text.role == "heading"]


def counts(made):
    return np.bincount(made.runs[0].table.panel, minlength=len(made.layout.panels)).tolist()


def test_an_expression_makes_panels_that_say_what_they_are():
    made = laid_out(BASE.facet("age_days > 150"))
    old = (SEEN.age_days > 150).sum()
    assert headings(made.scene) == ["age_days > 150: no", "age_days > 150: yes"]
    assert counts(made) == [len(SEEN) - old, old]
    called = laid_out(BASE.facet(lambda frame: ["late" if age > 150 else "early" for age in frame["age_days"]]))
    assert headings(called.scene) == ["early", "late"]
    assert counts(called) == counts(made)
    old_ones = nw.col("age_days") > 150
    for crossed in (BASE.facet(rows=old_ones), BASE.facet(columns=old_ones), BASE.facet(old_ones)):
        assert counts(laid_out(crossed)) == counts(made)
    assert len(laid_out(BASE.facet(rows=old_ones, columns=nw.col("mass_kg") > 4)).layout.panels) == 4
    crossed = laid_out(BASE.facet(rows="mass_kg > 3", columns="milk"), 120)
    assert counts(crossed) == [
        int(((SEEN.mass_kg > 3) == heavy).mul(SEEN.milk == milk).sum())
        for heavy in (False, True)
        for milk in ("cow", "ewe", "goat")
    ]


def test_layers_of_other_data_stand_in_all_panels_of_an_expression():
    other = {"moisture_pct": [50.0], "firmness_n": [30.0]}
    made = laid_out(BASE.points(data=other).facet("age_days > 150"))
    assert len(made.runs[1].table) == 2


def test_several_columns_make_a_panel_for_each_combination_that_occurs():
    made = laid_out(BASE.facet(("milk", "rind"), heading="{value} ({count})"), 180)
    sizes = SEEN.groupby(["milk", "rind"]).size()
    assert headings(made.scene) == [f"{milk}, {rind} ({count})" for (milk, rind), count in sizes.items()]
    assert counts(made) == sizes.tolist()
    assert_sound(made)


@pytest.mark.parametrize("side", ["right", "left"])
def test_nested_columns_have_outer_headings_along_what_belongs_to_them(side):
    figure = BASE.facet(rows=("milk", "brushed"), columns=("wrapped", "grade"), row_headings=side)
    made = laid_out(figure, 250)
    assert_sound(made)
    panels = made.layout.panels
    outer = [span.region for _, span in made.layout.spans]
    across, down = outer[:2], outer[2:]
    assert len(down) == 3
    left, right = min(place.box.x for place in panels), max(place.box.right for place in panels)
    assert across[0].x == pytest.approx(left)
    assert across[-1].right == pytest.approx(right)
    assert [region.y for region in down] == pytest.approx(
        [min(p.box.y for p in panels if p.panel.rows.start == row) for row in (0, 2, 4)]
    )
    assert all(region.x > right if side == "right" else region.right < left for region in down)
    for milk in ("cow", "ewe", "goat"):
        assert headings(made.scene).count(milk) == 1


def test_the_order_of_rows_and_of_columns_is_said_by_their_names():
    facet = {"rows": ("milk", "brushed"), "columns": "rind", "order": {"milk": ["goat", "cow"], "rind": ["waxed"]}}
    made = laid_out(BASE.facet(**facet), 180)
    names = [place.panel.name for place in made.layout.panels]
    assert names[0] == "goat, Brushed: no, waxed"
    assert list(dict.fromkeys(name.split(",")[0] for name in names)) == ["goat", "cow", "ewe"]
    again = ft.from_dict(BASE.facet(**facet).to_dict(), WHEELS)
    assert [place.panel.name for place in laid_out(again, 180).layout.panels] == names


@pytest.mark.parametrize(
    "facet", [{"by": ("milk", "rind"), "per_page": 5, "per_row": 2}, {"rows": "rind", "columns": "milk", "per_page": 7}]
)
def test_pages_stand_on_the_same_tracks(facet, tmp_path):
    made = laid_out(BASE.facet(**facet).titles("Wheels", note="All of them"), 120)
    pages = {}
    for place in made.layout.panels:
        pages.setdefault(place.panel.page, []).append(place)
    count = len(made.pages)
    assert sorted(pages) == list(range(count))
    assert max(map(len, pages.values())) <= facet["per_page"]
    boxes = [{(place.panel.rows.start, place.panel.columns.start): place.box for place in places} for places in pages.values()]
    for later in boxes[1:]:
        assert all(boxes[0][at] == box for at, box in later.items())
    for page, places in pages.items():
        scene = made.pages[page]
        assert next(text.content for text in scene.texts()) == "Wheels"
        lowest = {p.panel.columns.start: p for p in sorted(places, key=lambda p: p.panel.rows.start)}
        assert all(place.labelled("below") for place in lowest.values()), "also where the last page is not full"
    document = pikepdf.open(io.BytesIO(rendered(made, "pdf", dpi=100, transparent=False, fonts="name")))
    assert len(document.pages) == count
    names = [str(layer.Name) for layer in document.Root.OCProperties.OCGs]
    assert names.count("Title") == count
    done = quietly(BASE.facet(**facet).export, [tmp_path / "all.pdf", tmp_path / "each.svg"])
    assert [file.path.name for file in done.files] == ["all.pdf", *(f"each-{number}.svg" for number in range(1, count + 1))]
    assert all(file.path.exists() for file in done.files)


def test_a_window_of_one_panel_leaves_the_others_alone():
    made = laid_out(BASE.facet("rind", separate="y").scale("y", limits={"waxed": (0, 100)}))
    extents = {place.panel.name: made.scales.axes[place.panel.y].extent for place in made.layout.panels}
    assert (extents["waxed"].low, extents["waxed"].high) == (0, 100)
    plain = laid_out(BASE.facet("rind", separate="y"))
    for place in plain.layout.panels:
        if place.panel.name != "waxed":
            assert extents[place.panel.name] == plain.scales.axes[place.panel.y].extent
    rows = laid_out(BASE.facet(rows="milk", columns="rind", separate={"y": "row"}).scale("y", limits={"goat": (10, None)}), 180)
    assert [rows.scales.axes[place.panel.y].extent.low == 10 for place in rows.layout.panels] == [False] * 8 + [True] * 4


@given(st.floats(0.2, 3), st.sampled_from([None, "rind"]), st.integers(60, 180))
def test_panels_have_the_ratio_that_was_said(ratio, by, width):
    figure = BASE.panel(ratio=ratio)
    made = laid_out(figure.facet(by) if by else figure, width)
    for place in made.layout.panels:
        assert place.box.height == pytest.approx(ratio * place.box.width, abs=0.01)
    assert made.layout.width == pytest.approx(width / 25.4 * 72)
    assert_sound(made)


def test_panels_have_the_size_that_was_said_and_the_sheet_follows():
    made = laid_out(BASE.facet("rind", per_row=3).panel(width="40 mm", height="30 mm"), None)
    for place in made.layout.panels:
        assert (place.box.width, place.box.height) == pytest.approx((40 / 25.4 * 72, 30 / 25.4 * 72))
    assert made.layout.width > max(place.box.right for place in made.layout.panels)
    assert_sound(made)
    with pytest.raises(ExportError, match=r'width="\d+ mm" would do; or .panel\(width=…\)') as caught:
        laid_out(BASE.facet("rind", per_row=3).panel(width="40 mm"), 85)
    needed = int(caught.value.detail.split('"')[1].split()[0])
    laid_out(BASE.facet("rind", per_row=3).panel(width="40 mm"), needed)
    square = laid_out(BASE.panel(ratio=1), 150, 60)
    assert square.layout.panels[0].box.width == pytest.approx(square.layout.panels[0].box.height, abs=0.01)


def test_panels_whose_marks_a_shared_axis_crowds_are_told():
    frame = {"v": [1.0, 2, 3, 1000, 2000, 9000], "w": [1, 2, 3, 1, 2, 3], "p": list("aaabbb")}
    figure = ft.figure(frame).map(x="w", y="v").points()
    (said,) = [line for line in notes(figure.facet("p")) if "within 5%" in line]
    assert "panel 'a'" in said
    assert 'separate="y"' in said
    assert not notes(figure.facet("p", separate="y"))


def test_a_sheet_higher_than_a_page_is_told():
    (said,) = [line for line in notes(BASE.facet("age_days", per_row=2)) if "more than a page" in line]
    assert "per_page" in said
    assert "per_row" in said


@pytest.mark.parametrize(
    ("error", "call", "match"),
    [
        (OptionError, lambda: BASE.facet(3), "per_row=3"),
        (DataError, lambda: laid_out(ft.figure(APART).map(x="x").rug().facet(rows="a", columns="b")), "no row has both"),
        (OptionError, lambda: BASE.facet("'x' || 'y'"), "no column"),
        (MappingError, lambda: BASE.facet("age_dys > 3"), "age_days"),
        (MappingError, lambda: BASE.facet(("milk", "rnd")), "rind"),
        (OptionError, lambda: BASE.facet(rows="milk", columns="rind", order={"cellar": ["Loft"]}), "milk, rind"),
        (OptionError, lambda: BASE.facet("rind", row_headings="left"), "panels in rows"),
        (OptionError, lambda: BASE.facet(rows="milk", columns="milk"), "are both 'milk'"),
        (OptionError, lambda: BASE.facet(nw.col("ph") > 5, columns="milk"), "say the panels twice"),
        (OptionError, lambda: BASE.facet(rows="milk", row_headings="lft"), "left"),
        (OptionError, lambda: BASE.facet("rind", per_page=0), "per_page"),
        (KindError, lambda: laid_out(ft.figure({"a": range(5000)}).map(x="a").rug().facet("a")), r"5,000 panels(.|\n)*breaks(.|\n)*keep(.|\n)*per_page"),
        (ScaleError, lambda: laid_out(BASE.facet("rind").scale("y", limits={"waxed": (0, 1)})), 'separate="y"'),
        (OptionError, lambda: laid_out(BASE.facet("rind", separate="y").scale("y", limits={"wxed": (0, 1)})), "waxed"),
        (OptionError, lambda: laid_out(BASE.scale("y", limits={"waxed": (0, 1)})), "without panels"),
        (OptionError, lambda: BASE.scale("size", limits={"waxed": (0, 1)}), "for x and y"),
        (OptionError, lambda: BASE.scale("y", limits={}), "names no panel"),
        (OptionError, lambda: BASE.panel(ratio=1, width=40, height=40), "one side twice"),
        (OptionError, lambda: BASE.panel(ratio=0), "from 0.01"),
        (OptionError, lambda: BASE.panel(width="4 mn"), "no known unit"),
    ],
)  # fmt: skip
def test_wrong_calls_say_the_right_one(error, call, match):
    with pytest.raises(error, match=match):
        call()


def test_a_column_of_one_value_makes_one_panel_and_says_so():
    assert any("one value" in line for line in notes(BASE.keep("cellar = 'Loft'").facet("cellar")))


@pytest.mark.parametrize("seed", range(8))
def test_labels_too_wide_for_narrow_panels_never_meet(seed):
    rng = np.random.default_rng(seed)
    times = pd.Timestamp("2030-10-27", tz="Europe/Berlin") + pd.to_timedelta(rng.integers(0, 9 * 3600, 30), "s")
    data = pd.DataFrame({"zoned": times, "k": rng.choice(list("abc"), 30)})
    made = laid_out(ft.figure(data).map(x="zoned", y="zoned").points().facet("k", separate="xy", per_row=3), 140)
    assert_sound(made)
