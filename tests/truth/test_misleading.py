"""Titles, inks and kinds: an axis says what is drawn along it, no mark vanishes, and no kind is taken without a word."""

import re

import numpy as np
import pytest
from conftest import SVG, laid_out, notes
from truth.reading import Sheet, texts_of

import facetine as ft
from facetine.core.color.palettes import SEQUENTIAL
from facetine.data.readers import read_columns
from facetine.grammar.theme import THEMES
from facetine.messages.errors import FacetineError, KindError, OptionError

WHEELS = ft.demo_data("wheels")
W = ft.figure(WHEELS)
rng = np.random.default_rng(8)


def luminance(ink):
    parts = [int(ink[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one, other):
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


def inks(element, key="fill"):
    return {mark.get(key) for mark in element.iter() if mark.get(key) not in (None, "none")}


# Titles


@pytest.mark.parametrize(
    ("figure", "axis", "title"),
    [
        (W.map(x="rind", y="mass_kg").bars(aggregate="mean"), "y", "Mass (kg), mean"),
        (W.map(x="rind", y="mass_kg").bars(aggregate="median"), "y", "Mass (kg), median"),
        (W.map(x="rind", y="mass_kg").bars(aggregate="sum"), "y", "Sum of mass (kg)"),
        (W.map(x="rind", y="mass_kg").bars(aggregate="count"), "y", "Count"),
        (W.map(y="rind", x="mass_kg").bars(aggregate="max"), "x", "Mass (kg), maximum"),
        (W.map(x="rind", y="mass_kg").points(aggregate="mean"), "y", "Mass (kg), mean"),
        (W.map(x="age_days", y="mass_kg").lines(aggregate="min"), "y", "Mass (kg), minimum"),
        (W.map(x="rind", y="mass_kg").intervals(), "y", "Mass (kg), mean"),
        (W.map(x="rind", y="mass_kg").intervals(around="median"), "y", "Mass (kg), median"),
        (W.map(x="rind", y="mass_kg").points().intervals(), "y", "Mass (kg)"),
        (W.map(x="rind", y="mass_kg").bars(aggregate="mean").intervals(), "y", "Mass (kg), mean"),
        (W.map(x="rind").bars(), "y", "Count"),
        (W.map(x="rind", weight="mass_kg").bars(), "y", "Sum of mass"),
        (W.map(x="rind", color="milk").bars(arrange="share"), "y", "Share of rows"),
        (W.map(x="ph").histogram(), "y", "Count"),
        (W.map(x="ph", weight="mass_kg").histogram(), "y", "Sum of mass"),
        (W.map(x="ph").histogram(measure="share"), "y", "Share of rows"),
        (W.map(x="ph").histogram(measure="density").density(), "y", "Density (per unit of pH)"),
        (W.map(x="ph").histogram().density(measure="count"), "y", "Count"),
        (W.map(x="ph", weight="mass_kg").cumulative(), "y", "Share of weight at or below"),
        (W.map(x="cellar", y="wrapped").intervals(around="share"), "y", "Share of wrapped"),
    ],
)
def test_axis_titles_say_what_is_drawn(figure, axis, title):
    assert Sheet(figure).title(axis) == title


def test_titles_use_the_codebooks_words():
    book = {"mass_kg": {"label": "Weight of the wheel", "unit": "kg"}}
    figure = ft.figure(WHEELS, codebook=book).map(x="rind", weight="mass_kg").bars()
    assert Sheet(figure).title("y") == "Sum of weight of the wheel"


@pytest.mark.parametrize(
    ("figure", "title"),
    [
        (W.map(x="rind", y="milk").cells(), "Count"),
        (W.map(x="rind", y="milk", weight="mass_kg").cells(), "Sum of mass"),
        (W.map(x="rind", y="milk", color="ph").cells(aggregate="mean"), "pH, mean"),
        (W.map(x="age_days", y="mass_kg", color="ph").points(), "pH"),
    ],
)
def test_color_bars_say_what_is_drawn(figure, title):
    assert title in texts_of(figure)


def test_several_columns_on_one_axis_are_named():
    data = {"t": [1.0, 2, 3], "in_kg": [1.0, 2, 3], "out_kg": [3.0, 2, 1], "ph": [5.0, 5, 5]}
    base = ft.figure(data).map(x="t")
    same = base.lines(map={"y": "in_kg"}).lines(map={"y": "out_kg"})
    assert Sheet(same).title("y") == "kg"
    other = Sheet(base.lines(map={"y": "in_kg"}).points(map={"y": "ph"}))
    assert other.title("y") == "In (kg) / pH"
    assert len(other.said("several-on-one-axis")) == 1
    assert Sheet(base.lines(map={"y": "in_kg"}).points(map={"y": "ph"}).titles(y="Both")).title("y") == "Both"


# Numbers as colors


@pytest.mark.parametrize("verb", ["histogram", "density", "cumulative", "trend", "contours", "boxes", "violins", "areas"])
def test_a_number_colors_no_summary(verb):
    mapping = {"x": "ph"} | ({} if verb in ("histogram", "density", "cumulative") else {"y": "mass_kg"})
    if verb in ("boxes", "violins"):
        mapping["x"] = "rind"
    base = ft.figure(WHEELS.groupby("ph", as_index=False).first() if verb == "areas" else WHEELS).map(**mapping)
    sheet = Sheet(base.map(color="age_days")._add_layer(verb, {}))
    assert len(sheet.said("look-dropped")) == 1
    assert "Age (days)" not in sheet.texts()
    with pytest.raises(KindError, match="several rows"):
        texts_of(base._add_layer(verb, {"map": {"color": "age_days"}}))


def test_lines_follow_a_number_piece_by_piece():
    data = {"x": np.arange(6.0), "y": [0.0, 1, 0, 1, 0, 1], "c": np.arange(6.0)}
    sheet = Sheet(ft.figure(data).map(x="x", y="y", color="c").lines())
    drawn = sheet.paths(1)
    assert len({path["stroke"] for path in drawn}) == 6
    starts = sorted((sheet.read("x", path["at"][:, 0].min()), path["stroke"]) for path in drawn)
    points = Sheet(ft.figure(data).map(x="x", y="y", color="c").points())
    shades = {
        round(float(points.read("x", float(disc.get("cx"))))): disc.get("fill") for disc in points.layer(1).iter(f"{SVG}circle")
    }
    assert [stroke for _, stroke in starts] == [shades[number] for number in range(6)]
    for look in ("opacity", "line_width"):
        key = "stroke-opacity" if look == "opacity" else "stroke-width"
        made = Sheet(ft.figure(data).map(x="x", y="y", **{look: "c"}).lines()).paths(1)
        assert len({path.get(key) for path in made}) >= 5


# Inks


def test_a_fit_for_all_rows_takes_no_groups_ink():
    base = W.map(x="age_days", y="mass_kg", color="rind").points().trend(map={"color": None})
    sheet = Sheet(base)
    groups = inks(sheet.layer(1))
    lines = inks(sheet.layer(2), "stroke")
    assert lines == {THEMES["press"].text_color}
    assert not lines & groups


def test_lines_do_not_vanish_on_bars_of_their_own_color():
    over = Sheet(W.map(x="ph").histogram().density(measure="count"))
    assert not inks(over.layer(1)) & inks(over.layer(2), "stroke")
    bars = Sheet(W.map(x="rind", y="mass_kg").bars(aggregate="mean").intervals())
    assert not inks(bars.layer(1)) & inks(bars.layer(2), "stroke")
    grouped = Sheet(W.map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean", arrange="side_by_side").intervals())
    assert not inks(grouped.layer(1)) & inks(grouped.layer(2), "stroke")
    said = Sheet(W.map(x="rind", y="mass_kg").bars(aggregate="mean", color="teal").intervals(color="teal"))
    assert "#ffffff" in inks(said.layer(2), "stroke")


@pytest.mark.parametrize("theme", ["press", "basalt"])
def test_texts_on_cells_and_bars_are_readable(theme):
    figure = W.map(x="rind", y="milk").cells().labels(layer="cells", text="{count}").theme(theme)
    sheet = Sheet(figure, "160 mm")
    grounds = {
        tuple(np.round(rect[:2] + rect[2:] / 2)): mark.get("fill")
        for rect, mark in zip(sheet.rects(1), sheet.layer(1).iter(f"{SVG}rect"), strict=True)
    }
    texts = list(sheet.layer(2).iter(f"{SVG}text"))
    assert len(texts) == len(grounds)
    for text in texts:
        x, y = float(text.get("x")), float(text.get("y"))
        near = min(grounds, key=lambda at: abs(at[0] - x) + abs(at[1] - y))
        assert contrast(text.get("fill"), grounds[near]) >= 4, (text.get("fill"), grounds[near])
    said = Sheet(W.map(x="rind", y="milk").cells().labels(layer="cells", text="{count}", color="red"))
    assert {text.get("fill") for text in said.layer(2).iter(f"{SVG}text")} == {"#ff0000"}


def test_the_size_of_values_is_a_setting():
    sheet = Sheet(W.map(x="rind").bars(value_labels="{count}").theme(value_size=11))
    assert {text.get("font-size") for text in sheet.layer(1).iter(f"{SVG}text")} == {"11"}


@pytest.mark.parametrize("theme", ["press", "basalt"])
@pytest.mark.parametrize("ramp", list(SEQUENTIAL))
def test_points_and_lines_of_numbers_stand_out(theme, ramp):
    data = {"x": np.arange(30.0), "y": np.sin(np.arange(30.0)), "c": np.arange(30.0)}
    ground = THEMES[theme].ground
    base = ft.figure(data).map(x="x", y="y", color="c").theme(theme).scale("color", palette=ramp)
    for verb, key in (("points", "fill"), ("lines", "stroke")):
        shades = inks(Sheet(base._add_layer(verb, {})).layer(1), key)
        assert min(contrast(shade, ground) for shade in shades) >= 2.95
        assert len(shades) >= 25
    cells = {"x": list("abcdef") * 2, "y": ["u"] * 6 + ["v"] * 6, "c": np.arange(12.0)}
    faint = inks(Sheet(ft.figure(cells).map(x="x", y="y", color="c").cells().scale("color", palette=ramp)).layer(1))
    assert min(contrast(shade, "#ffffff") for shade in faint) < 2


# Words while drawing


@pytest.mark.parametrize(
    ("code", "figure"),
    [
        ("look-suggests-order", W.map(x="age_days", y="mass_kg", size="rind").points()),
        ("look-suggests-order", W.map(x="age_days", y="mass_kg", opacity="rind").points()),
        (
            "many-shapes",
            ft.figure({"x": np.arange(7.0), "y": np.arange(7.0), "k": list("abcdefg")}).map(x="x", y="y", shape="k").points(),
        ),
        (
            "many-colors",
            ft.figure({"x": np.arange(9.0), "y": np.arange(9.0), "k": list("abcdefghi")}).map(x="x", y="y", color="k").points(),
        ),
        (
            "many-looks",
            W.map(x="age_days", y="mass_kg", color="rind", shape="milk", size="ph", opacity="firmness_n").points(),
        ),
        ("jitter-on-both", W.map(x="age_days", y="mass_kg").points(arrange="jitter")),
        ("density-below-zero", W.map(x="age_days").density()),
        ("density-below-zero", W.map(x="rind", y="age_days").violins()),
    ],
)
def test_a_word_while_drawing(code, figure):
    assert len(Sheet(figure).said(code)) == 1
    calm = W.map(x="age_days", y="mass_kg", color="rind").points()
    assert not Sheet(calm).said(code)


# Kinds


def test_dates_that_fit_two_orders_are_said_and_can_be_turned():
    data = {"date": ["03/04/2030", "05/06/2030", "07/02/2030"], "v": [1.0, 2, 3]}
    base = ft.figure(data).map(x="date", y="v").points()
    (note,) = [note for note in notes(base) if "two orders" in note]
    assert "%d/%m/%Y was taken" in note
    fix = re.search(r"\.kinds\(date=\"(.+?)\"\)", note)[1]
    assert fix == "time:%m/%d/%Y"
    turned = base.kinds(date=fix)
    assert not [note for note in notes(turned) if "two orders" in note]

    def months(figure):
        at = np.sort(laid_out(figure).tables[0]["x"])
        return at.astype(np.int64).astype("datetime64[us]").astype("datetime64[D]").astype(str).tolist()

    assert months(base) == ["2030-02-07", "2030-04-03", "2030-06-05"]
    assert months(turned) == ["2030-03-04", "2030-05-06", "2030-07-02"]
    clear = ft.figure({"date": ["03/14/2030", "05/06/2030"], "v": [1.0, 2]}).map(x="date", y="v").points()
    assert not notes(clear)
    assert months(clear) == ["2030-03-14", "2030-05-06"]
    booked = ft.figure(data, codebook={"date": {"pattern": "%m/%d/%Y"}}).map(x="date", y="v").points()
    assert months(booked) == ["2030-03-04", "2030-05-06", "2030-07-02"]


def test_dates_in_files_are_read_likewise(tmp_path):
    (tmp_path / "d.csv").write_text("date,v\n03/04/2030,1\n05/06/2030,2\n", "utf-8")
    base = ft.figure(read_columns(tmp_path / "d.csv")).map(x="date", y="v").points()
    assert any("two orders" in note for note in notes(base))
    assert laid_out(base).scales.first("x").kind == "time"


def test_mixed_spellings_are_said():
    base = ft.figure({"date": ["2030-01-05", "05/01/2030"], "v": [1.0, 2]}).map(x="date", y="v").points()
    assert any("several spellings" in note for note in notes(base))
    with pytest.raises(KindError, match="several spellings"):
        texts_of(base.kinds(date="time"))


def test_numbers_in_text_are_counted_and_fixed():
    data = {"price": ["1,234.5", "17", "n/a", "..", "2,000"], "v": [1.0, 2, 3, 4, 5]}
    base = ft.figure(data).map(x="price", y="v").points()
    (note,) = [note for note in notes(base) if "numbers written as text" in note]
    assert "beside 2 of 5 cells" in note
    assert "'n/a'" in note
    book = {"price": {"kind": "number", "absent": ["n/a", ".."]}}
    assert str(book["price"]["absent"][0]) in note
    made = laid_out(ft.figure(data, codebook=book).map(x="price", y="v").points())
    assert sorted(made.tables[0]["x"]) == [17.0, 1234.5, 2000.0]
    with pytest.raises(KindError, match=r"'\.\.', 'n/a'"):
        base.kinds(price="number")
    clean = ft.figure({"price": ["1,234.5", "17"], "v": [1.0, 2]}).map(x="price", y="v").kinds(price="number").points()
    assert sorted(laid_out(clean).tables[0]["x"]) == [17.0, 1234.5]
    comma = {"price": {"decimal": ",", "thousands": "."}}
    made = laid_out(ft.figure({"price": ["1.234,5", "17"], "v": [1.0, 2]}, codebook=comma).map(x="price", y="v").points())
    assert sorted(made.tables[0]["x"]) == [17.0, 1234.5]
    with pytest.raises(OptionError, match="decimal"):
        ft.figure(data, codebook={"price": {"decimal": "x"}})


def test_an_unnamed_column_of_row_numbers_is_set_aside(tmp_path):
    WHEELS.head(5).to_csv(tmp_path / "w.csv")
    base = ft.figure(read_columns(tmp_path / "w.csv")).map(x="age_days", y="mass_kg").points()
    assert any("numbers the rows" in note for note in notes(base))
    with pytest.raises(FacetineError, match="no column"):
        base.map(x="column0")


def test_inspect_does_not_group_years():
    from facetine.data.inspected import facts
    from facetine.data.intake import taken_in

    (fact,) = facts(taken_in({"year": [2029, 2030]}))
    assert fact.range == "2029 … 2030"


# Guides and settings


def test_the_axis_line_reaches_the_limits_that_were_said():
    sheet = Sheet(ft.figure({"x": [1.0, 7], "y": [1.0, 7]}).map(x="x", y="y").points().scale("x", limits=(0.3, 8.7)))
    path = sheet.group("x-axis").find(f"{SVG}path").get("d")
    first, last = (float(number) for number in re.match(r"M(\S+) \S+L(\S+) ", path).groups())
    assert sheet.read("x", [first, last]) == pytest.approx([0.3, 8.7], abs=0.02)


def test_an_unknown_font_is_refused_where_defaults_are_said():
    with pytest.raises(FacetineError, match="font"):
        ft.set_defaults(theme={"font": "No Such Family"})
    with pytest.raises(FacetineError, match="font"), ft.defaults(theme={"font": "No Such Family"}):
        pass


def test_a_resolution_for_vectors_is_said():
    base = ft.figure({"x": [1.0], "y": [1.0]}).map(x="x", y="y").points()
    with pytest.warns(ft.FacetineFinding, match="dpi=200 has no effect on"):
        done = base.export("a.pdf", dpi=200)
    assert [note.code for note in done.findings] == ["dpi-unused"]
    assert not base.export("a.png", dpi=200).findings
    assert not base.export("a.svg").findings


def test_the_docs_promise_in_gray_only_what_holds():
    from pathlib import Path

    top = Path(__file__).parents[2]
    said = (top / "README.md").read_text("utf-8") + (top / "docs" / "index.md").read_text("utf-8")
    for line in re.findall(r"[^.\n]*\bgray\b[^.\n]*", said):
        assert not re.search(r"\ball (palettes|colors).* gray", line) or "first four" in line or "as they are" in line, line


@pytest.mark.parametrize("verb", ["points", "lines", "areas"])
def test_a_count_never_stands_on_the_axis_of_the_categories_that_it_counts(verb):
    data = {"k": ["a", "b", "a", "b"], "c": ["u", "v", "v", "v"]}
    with pytest.raises(ft.KindError, match="no count of 'c'"):
        laid_out(getattr(ft.figure(data).map(x="k", y="c"), verb)(aggregate="count"))


def test_a_count_of_cells_never_takes_the_colors_of_categories():
    data = {"a": ["p", "q", "p"], "b": ["r", "r", "r"], "c": ["u", "v", "v"]}
    with pytest.raises(ft.KindError, match="no count of 'c'"):
        laid_out(ft.figure(data).map(x="a", y="b", color="c").cells(aggregate="count"))
