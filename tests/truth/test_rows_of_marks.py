"""Marks know the rows that they show: what stands on the sheet is held against the data, row by row."""

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out

import facetine as ft
from facetine.layers import LAYERS
from facetine.scene.marks import Group, Markers, Paths, Rects, Text

RNG = np.random.default_rng(8)
DATA = pd.DataFrame({
    "x": RNG.uniform(0, 10, 40), "y": RNG.uniform(1, 9, 40), "z": RNG.uniform(1, 9, 40), "name": [f"r{row}" for row in range(40)],
    "kind": np.array(["p", "q", "r"], object)[RNG.integers(0, 3, 40)], "flag": RNG.random(40) < 0.5,
})  # fmt: skip
DATA.loc[[3, 17, 29], "y"] = np.nan


def marks(made, kind):
    """The marks of a class in every panel, with the number of the panel."""
    found = []

    def walk(group):
        for item in group.items:
            if isinstance(item, Group):
                walk(item)
            elif isinstance(item, kind):
                found.append((item, group.panel if group.layer is not None else None))

    walk(made.scene.root)
    return found


def in_points(made, panel, x, y):
    """Where values stand on the sheet, shape (n, 2), from the settled axes alone."""
    place = made.layout.panels[panel]
    box, axes = place.box, made.scales.under(place.panel)
    across = [axes["x"].extent.share(axes["x"].transform.forward(np.asarray(x, float)))]
    up = [axes["y"].extent.share(axes["y"].transform.forward(np.asarray(y, float)))]
    return np.column_stack([box.x + across[0] * box.width, box.bottom - up[0] * box.height])


@pytest.mark.parametrize("facet", [None, "kind"])
@pytest.mark.parametrize("scale", ["linear", "log"])
def test_points_stand_where_their_rows_say_also_shuffled_and_thinned(facet, scale):
    base = ft.figure(DATA).map(x="x", y="y", color="kind", size="z").scale("y", scale).facet(facet)
    for figure, count in ((base.points(), 37), (base.points(thin=20), 20)):
        made = laid_out(figure, "120 mm")
        seen = []
        for mark, panel in marks(made, Markers):
            if panel is None:
                assert mark.rows is None
                continue
            rows = DATA.iloc[mark.rows]
            np.testing.assert_allclose(mark.at, in_points(made, panel, rows["x"], rows["y"]), atol=1e-6)
            if facet:
                assert set(rows["kind"]) == {sorted(set(DATA["kind"]))[panel]}
            seen += mark.rows.tolist()
        assert len(seen) == len(set(seen)) == count


def test_rows_are_those_of_the_frame_that_was_given_whatever_was_left_out():
    figure = ft.figure(DATA).keep("x > 3").derive(double="2 * y").map(x="x", y="double").points(where="y > 4")
    made = laid_out(figure)
    (mark,) = [mark for mark, panel in marks(made, Markers) if panel is not None]
    assert sorted(mark.rows.tolist()) == np.flatnonzero((DATA["x"] > 3) & (DATA["y"] > 4)).tolist()
    rows = DATA.iloc[mark.rows]
    np.testing.assert_allclose(mark.at, in_points(made, 0, rows["x"], 2 * rows["y"]), atol=1e-6)


def test_vertices_of_lines_and_steps_know_their_rows():
    for options in ({}, {"steps": True}):
        made = laid_out(ft.figure(DATA).map(x="x", y="y", color="flag").lines(**options))
        seen = set()
        for mark, panel in marks(made, Paths):
            if panel is None or mark.rows is None:
                continue
            rows = DATA.iloc[mark.rows]
            expected = in_points(made, panel, rows["x"], rows["y"])
            same = np.isclose(mark.points, expected, atol=1e-6)
            assert same[:, 1].all()
            assert same.all() or options
            seen |= set(mark.rows.tolist())
        assert seen == set(np.flatnonzero(DATA["y"].notna()))


def test_bars_rugs_segments_and_labels_know_their_rows():
    bars = laid_out(ft.figure(DATA.dropna().head(12)).map(x="name", y="y").bars())
    heights = DATA.dropna().head(12)["y"].to_numpy()
    ((rects, _),) = marks(bars, Rects)
    foot, top = in_points(bars, 0, [0, 0], [0, 1])[:, 1]
    np.testing.assert_allclose(rects.boxes[:, 3] / (foot - top), heights[rects.rows], rtol=1e-6)
    rug = laid_out(ft.figure(DATA).map(x="x").rug())
    ((lines, _),) = [(mark, panel) for mark, panel in marks(rug, Paths) if mark.rows is not None]
    np.testing.assert_allclose(lines.points[:, 0], in_points(rug, 0, DATA["x"].iloc[lines.rows], lines.rows)[:, 0], atol=1e-6)
    arrows = laid_out(ft.figure(DATA).map(x="x", y="y", x_to="z", y_to="x").segments())
    ((lines, _),) = [(mark, panel) for mark, panel in marks(arrows, Paths) if mark.rows is not None]
    rows = DATA.iloc[lines.rows[::2]]
    np.testing.assert_allclose(lines.points[::2], in_points(arrows, 0, rows["x"], rows["y"]), atol=1e-6)
    np.testing.assert_allclose(lines.points[1::2], in_points(arrows, 0, rows["z"], rows["x"]), atol=1e-6)
    named = laid_out(ft.figure(DATA).map(x="x", y="y", label="name").labels(avoid=True))
    texts = [text for text, _ in marks(named, Text) if text.role == "label"]
    assert len(texts) > 20
    assert all(text.content == f"r{text.row}" for text in texts)


ONE = {
    "bands": {"x": "x", "y_low": "y", "y_high": "z"}, "segments": {"x": "x", "y": "y", "x_to": "z", "y_to": "x"}, "labels": {"x": "x", "y": "y", "label": "name"}, "boxes": {"x": "kind", "y": "y"},
    "violins": {"x": "kind", "y": "y"}, "intervals": {"x": "kind", "y": "y"}, "bars": {"x": "kind"}, "histogram": {"x": "x"}, "density": {"x": "x"}, "cumulative": {"x": "x"}, "qq": {"y": "y"}, "rug": {"x": "x"}, "ridgelines": {"x": "y", "y": "kind"},
    "cells": {"x": "kind", "y": "flag"},
}  # fmt: skip
OPTIONS = {
    "reference": {"y": 5},
    "region": {"x": (1, 2)},
    "callout": {"text": "here", "x": 1, "y": 5},
    "function": {"expression": "x / 2"},
}


@pytest.mark.parametrize("verb", list(LAYERS))
def test_every_layer_numbers_its_marks_by_its_table(verb):
    made = laid_out(getattr(ft.figure(DATA).map(**ONE.get(verb, {"x": "x", "y": "y"})), verb)(**OPTIONS.get(verb, {})))
    numbers = made.runs[0].table.numbers
    assert len(set(numbers.tolist())) == len(numbers)
    seen = []
    for mark, panel in marks(made, (Markers, Rects, Paths)):
        if panel is not None and mark.rows is not None:
            vertices = (
                len(mark.at) if isinstance(mark, Markers) else len(mark.boxes) if isinstance(mark, Rects) else len(mark.points)
            )
            assert mark.rows.shape == (vertices,)
            seen += mark.rows.tolist()
    seen += [text.row for text, _ in marks(made, Text) if text.row is not None]
    assert seen
    assert set(seen) <= set(numbers.tolist())


def test_writers_pass_over_the_rows(tmp_path):

    from facetine.writers.formats import FORMATS, Options

    made = laid_out(ft.figure(DATA).map(x="x", y="y", color="kind").points().lines())
    before = [FORMATS[suffix].write(made.scene, Options(72)).content for suffix in ("svg", "pdf")]

    def bare(group):
        items = (
            bare(item) if isinstance(item, Group) else item._replace(rows=None) if hasattr(item, "rows") else item
            for item in group.items
        )
        return group._replace(items=tuple(items))

    scene = made.scene._replace(root=bare(made.scene.root))
    after = [FORMATS[suffix].write(scene, Options(72)).content for suffix in ("svg", "pdf")]
    assert before == after
