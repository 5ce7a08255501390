"""Texts placed by hand: shifted, with halos, along lines, off the marks of other layers, and turned with the axes."""

import io
from itertools import combinations

import numpy as np
import pytest
from conftest import SVG, group, laid_out, notes, pdf_of, svg_of, texts

import facetine as ft
from facetine.messages.errors import OptionError
from facetine.pipeline.drawing.draw import places_of
from facetine.scene.halo import Halo, halo_of
from facetine.scene.marks import Paths
from facetine.scene.typeset import TextStyle, set_text

WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="firmness_n").points()
MM = 72 / 25.4


def written(figure, role, width="85 mm"):
    """The texts of a role with their places."""
    return [text for text in laid_out(figure, width).scene.texts() if text.role == role]


LAYERS = {
    "labels": lambda f, **said: f.labels(map={"label": "wheel"}, where="age_days > 330", side="left", **said),
    "callout": lambda f, **said: f.callout("here", x=200, y=40, **said),
    "callout at": lambda f, **said: f.callout("top", at="highest", **said),
    "reference": lambda f, **said: f.reference(y=30, text="level", **said),
    "slope": lambda f, **said: f.reference(slope=0.1, intercept=20, text="slope", **said),
}
ROLES = {"labels": "label", "callout": "callout", "callout at": "callout", "reference": "reference", "slope": "reference"}


@pytest.mark.parametrize("swapped", [False, True])
@pytest.mark.parametrize("layer", LAYERS)
def test_a_shift_moves_texts_right_and_down_by_so_much(layer, swapped):
    def made(**said):
        figure = LAYERS[layer](BASE, **said)
        return written(figure.swap_axes() if swapped else figure, ROLES[layer])

    before, after = made(), made(shift=("-2 mm", "3 pt"))
    assert before
    for one, other in zip(before, after, strict=True):
        assert (other.x - one.x, other.y - one.y) == pytest.approx((-2 * MM, 3.0), abs=0.01)


@pytest.mark.parametrize("layer", LAYERS)
def test_halos_are_said_or_follow_what_lies_below(layer):
    for said, expected in ((True, True), (False, False)):
        assert all((text.halo is not None) is expected for text in written(LAYERS[layer](BASE, halo=said), ROLES[layer]))


def test_only_texts_over_marks_have_a_halo_by_themselves():
    crowd, free = (written(BASE.callout("here", x=x, y=y), "callout")[0] for x, y in ((40, 15), (400, 20)))
    assert crowd.halo == Halo("#ffffff", crowd.halo.reach)
    assert free.halo is None
    dark = BASE.theme("basalt", panel_ground="#102030").callout("here", x=40, y=15)
    assert written(dark, "callout")[0].halo.color == "#102030"


def test_a_halo_is_a_path_below_its_text_and_the_text_stands_once():
    figure = BASE.callout("here", x=40, y=15)
    layer = group(svg_of(figure), "panel-1-layer-2-callout")
    below, text = (one for one in layer if one.tag != f"{SVG}title")
    assert (below.tag, text.tag) == (f"{SVG}path", f"{SVG}text")
    assert below.get("stroke") == below.get("fill") == "#ffffff"
    pdfium = pytest.importorskip("pypdfium2")
    document = pdf_of(figure)
    kept = io.BytesIO()
    document.save(kept)
    assert pdfium.PdfDocument(kept.getvalue())[0].get_textpage().get_text_range().count("here") == 1


def test_a_halo_follows_the_letters():
    (text,) = set_text("Il", TextStyle("Source Sans Pro", 20.0, 400, "#000000")).placed(10.0, 30.0)
    made = halo_of(text, Halo("#ffffff", 1.5))
    assert isinstance(made, Paths)
    assert made.stroke.width == 3.0
    low, high = made.points.min(axis=0), made.points.max(axis=0)
    box = text.box
    assert box.x <= low[0] < high[0] <= box.right
    assert high[1] == pytest.approx(text.y, abs=0.3)
    assert (
        halo_of(
            next(set_text(" ", text_style := TextStyle("Source Sans Pro", 8.0, 400, "#000000")).placed(0.0, 0.0)), Halo("#fff", 1)
        )
        is None
    )
    assert text_style.size == 8.0


@pytest.mark.parametrize("swapped", [False, True])
def test_labels_keep_off_the_lines_of_other_layers_and_each_other(swapped):
    figure = BASE.labels(map={"label": "wheel"}, where="age_days > 280").trend()
    figure = figure.swap_axes() if swapped else figure
    boxes = [text.box for text in written(figure, "label", "120 mm")]
    assert len(boxes) > 8
    made = laid_out(figure, "120 mm").scene
    line = next(
        mark
        for mark in marks(made.root)
        if isinstance(mark, Paths)
        and mark.stroke is not None
        and len(mark.points) > 1
        and not mark.closed
        and mark.rows is not None
    )
    share = np.linspace(0, 1, 400)[:, None]
    way = line.points[0] * (1 - share) + line.points[-1] * share
    for box in boxes:
        assert not ((way[:, 0] > box.x) & (way[:, 0] < box.right) & (way[:, 1] > box.y) & (way[:, 1] < box.bottom)).any()
    for one, other in combinations(boxes, 2):
        assert not one.overlaps(other, 0.2)


def marks(found):
    for item in found.items:
        if hasattr(item, "items"):
            yield from marks(item)
        else:
            yield item


def test_places_of_marks_are_points_lines_and_borders():
    figure = ft.figure({"a": [0, 100], "b": [0, 0], "c": list("uv")})
    made = laid_out(figure.map(x="a", y="b").lines())
    run = made.runs[0]
    places = places_of((run,), [run.table.put(x=np.array([0.0, 100.0]), y=np.array([0.0, 0.0]))])
    assert np.diff(np.unique(places[:, 0])).max() <= 2.6
    assert places[:, 1].max() == 0
    apart = run.table.put(x=np.array([0.0, 100.0]), y=np.array([0.0, np.nan]))
    assert len(places_of((run,), [apart])) == 1


@pytest.mark.parametrize(("at", "share"), [("start", 0.0), ("middle", 0.5), ("end", 1.0), (0.25, 0.25)])
def test_labels_of_references_stand_along_the_line(at, share):
    figure = BASE.reference(y=30, text="level", text_at=at)
    (text,), made = written(figure, "reference"), laid_out(figure)
    line = next(mark for mark in marks(made.scene.root) if isinstance(mark, Paths) and mark.stroke and mark.stroke.dash)
    left, right = line.points[:, 0]
    assert text.x == pytest.approx(left + share * (right - left), abs=0.1)
    assert text.box.x >= left - 0.1
    assert text.box.right <= right + 0.1
    upright = BASE.reference(x=100, text="day", text_at=at)
    (text,) = written(upright, "reference")
    line = next(m for m in marks(laid_out(upright).scene.root) if isinstance(m, Paths) and m.stroke and m.stroke.dash)
    top, bottom = sorted(line.points[:, 1])
    assert top - 1 <= text.box.y
    assert text.box.bottom <= bottom + 1
    assert (text.box.y - top) / (bottom - top) == pytest.approx(1 - share, abs=0.12)


def test_what_is_said_of_places_turns_with_the_axes():
    figure = BASE.reference(y=30).reference(x=120).region(x=(200, 300), y=(40, 60)).callout("o", x=60, y=20).swap_axes()
    made = laid_out(figure, "120 mm")
    (box,) = [place.box for place in made.layout.panels]
    x, y = (made.scales.first(axis) for axis in ("x", "y"))
    at_x, at_y = (lambda v: box.x + float(x.extent.share(np.array([v]))[0]) * box.width), (
        lambda v: box.bottom - float(y.extent.share(np.array([v]))[0]) * box.height
    )  # fmt: skip
    upright, level = [m.points for m in marks(made.scene.root) if isinstance(m, Paths) and m.stroke and m.stroke.dash]
    assert upright[:, 0] == pytest.approx([at_x(30)] * 2, abs=0.01)
    assert level[:, 1] == pytest.approx([at_y(120)] * 2, abs=0.01)
    (ring,) = [m.points for m in marks(made.scene.root) if isinstance(m, Paths) and m.closed and m.opacity < 0.5]
    assert sorted(set(ring[:, 0].round(2))) == pytest.approx([at_x(40), at_x(60)], abs=0.02)
    assert sorted(set(ring[:, 1].round(2))) == pytest.approx([at_y(300), at_y(200)], abs=0.02)
    (text,) = written(figure, "callout", "120 mm")
    assert text.x == pytest.approx(at_x(20), abs=0.01)


def test_labels_of_lying_bars_stand_beyond_or_inside_their_ends():
    for figure in (
        ft.figure(WHEELS).map(y="rind", x="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{mean:.1f}"),
        ft.figure(WHEELS).map(x="rind", y="mass_kg").bars(aggregate="mean").labels(layer="bars", text="{mean:.1f}").swap_axes(),
    ):
        made = laid_out(figure)
        (bars,) = [mark.boxes for mark in marks(made.scene.root) if hasattr(mark, "boxes") and len(mark.boxes) == 4]
        found = sorted((text.box for text in written(figure, "label")), key=lambda box: box.y)
        for bar, box in zip(bars[np.argsort(bars[:, 1])], found, strict=True):
            assert bar[0] + bar[2] + 1.5 < box.x <= bar[0] + bar[2] + 3.01  # the longest one is kept on the sheet
            assert box.y + box.height / 2 == pytest.approx(bar[1] + bar[3] / 2, abs=1.5)


def test_callouts_of_groups_do_not_stand_on_each_other():
    lines = ft.figure(ft.demo_data("climate")).map(x="time", y="temp_c", color="cellar").lines(aggregate="mean")
    for at in ("highest", "last"):
        boxes = [text.box for text in written(lines.callout("{y:.1f} °C", at=at), "callout")]
        assert len(boxes) == 4
        assert not any(one.overlaps(other, 0.1) for one, other in combinations(boxes, 2))


def test_legends_are_shifted_and_told_where_they_leave_the_sheet():
    figure = BASE.map(color="rind")

    def places(figure):
        return {text.content: (text.x, text.y) for text in written(figure, "legend")}

    before, after = places(figure), places(figure.theme(legend_shift=("2 mm", "-1 mm")))
    for name, (x, y) in before.items():
        assert after[name] == pytest.approx((x + 2 * MM, y - MM), abs=0.01)
    away = figure.theme(legend_shift=("0 mm", "-20 mm"))
    assert any("of the legends stand beyond the sheet" in note for note in notes(away))
    assert not any("beyond the sheet" in note for note in notes(figure))


@pytest.mark.parametrize(("call", "said"), [
    (lambda f: f.callout("a", x=1, y=2, shift="2 mm"), "no way in two directions"),
    (lambda f: f.callout("a", x=1, y=2, shift=("2 mm",)), "no way in two directions"),
    (lambda f: f.callout("a", x=1, y=2, shift=("2 ells", "1 mm")), "no known unit"),
    (lambda f: f.reference(y=3, text_at="middle"), "have no effect without text"),
    (lambda f: f.reference(y=3, text="a", text_at="centre"), "text_at"),
    (lambda f: f.reference(y=3, text="a", text_at=1.5), "text_at"),
    (lambda f: f.labels(map={"label": "wheel"}, avoid=True, shift=("1 mm", "1 mm")), "leave one of them out"),
    (lambda f: f.theme(legend_shift="2 mm"), "no way in two directions"),
    (lambda f: f.callout("a", x=1, y=2, halo="yes"), "halo"),
])  # fmt: skip
def test_what_can_not_be_is_refused(call, said):
    with pytest.raises(OptionError, match=said):
        laid_out(call(BASE))


def test_they_go_through_plain_data():
    figure = BASE.reference(y=3, text="a", text_at=0.5, shift=("1 pt", "2 pt"), halo=True).theme(legend_shift=("1 mm", "0 mm"))
    assert ft.from_dict(figure.to_dict(), WHEELS).to_dict() == figure.to_dict()
    assert "here" in texts(svg_of(BASE.callout("here", x=40, y=15)))
