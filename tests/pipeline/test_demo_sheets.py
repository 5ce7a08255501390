"""The demo figures and those of the paper, in every theme, at the widths and sizes of type that papers have."""

import runpy
import shutil
import sys
import tempfile
import warnings
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from conftest import laid_out

import facetine as ft
from facetine.data.demo import write_demo_data
from facetine.grammar.theme import THEMES
from facetine.messages.errors import ExportError

ROOT = Path(__file__).parents[2]


def demo_figures():
    """The figures of the demo plan, by name."""
    folder = Path(tempfile.mkdtemp())
    try:
        write_demo_data(folder / "data")
        shutil.copy(ROOT / "facetine/batch/demo_plan.toml", folder / "plan.toml")
        plan = ft.plan(folder / "plan.toml")
        found = {name: figure for name in plan.figures if isinstance(figure := plan.figure(name), ft.Figure)}
        # What one responds to is chosen by another figure of its plate.
        return found | {name: found[name].respond(None) for name in ("weeks", "kept_rinds", "kept_moisture")}
    finally:
        shutil.rmtree(folder)


def figures_of(script, monkeypatch, folder):
    """The figures of an example, each remembered as it is exported."""
    caught, export = {}, ft.Figure.export

    def remembered(figure, path, **options):
        caught[Path(path).stem] = figure
        return export(figure, path, **options)

    monkeypatch.setattr(ft.Figure, "export", remembered)
    monkeypatch.setattr(sys, "argv", [script, str(folder)])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        runpy.run_path(str(ROOT / "examples" / script), run_name="__main__")
    return caught


def paper_figures(monkeypatch, folder):
    """The six figures of the paper."""
    caught = figures_of("paper/figures.py", monkeypatch, folder)
    assert len(caught) == 6
    return caught


EXAMPLES = sorted(path.name for path in (ROOT / "examples").glob("*.py"))
DEMO = demo_figures()


def assert_apart(made):
    """No text leaves the sheet, and no two overlap: of texts that overlap in height, neighbours are compared in order."""
    texts = [text for text in made.scene.texts() if text.content.strip()]
    boxes = np.array([[text.box.x, text.box.y, text.box.right, text.box.bottom] for text in texts])
    if not texts:
        # A theme may leave out all that a small figure would write.
        return
    low, high = boxes[:, :2].min(), boxes[:, 2:].max(axis=0)
    assert low >= -0.1, "a text leaves the sheet"
    assert (high <= np.array([made.scene.width, made.scene.height]) + 0.1).all(), "a text leaves the sheet"
    wide = np.minimum(boxes[:, None, 2], boxes[None, :, 2]) - np.maximum(boxes[:, None, 0], boxes[None, :, 0])
    tall = np.minimum(boxes[:, None, 3], boxes[None, :, 3]) - np.maximum(boxes[:, None, 1], boxes[None, :, 1])
    both = np.triu((wide > 0.3) & (tall > 0.3), 1)
    found = [(texts[one].content, texts[other].content) for one, other in np.argwhere(both).tolist()]
    assert not found, f"texts overlap: {found[:3]}"


def refused(figure, width):
    """The width that a refusal names, None where the figure has room."""
    try:
        laid_out(figure, width)
    except ExportError as refusal:
        return float(str(refusal).split('width="')[1].split(" mm")[0])
    return None


def checked(figure, theme, width, size):
    figure = figure.theme(theme, text_size=size)
    if (width, size) == (60, 14) and (wider := refused(figure, width)):
        width = wider
    made = laid_out(figure, width)
    assert_apart(made)
    return made


@pytest.mark.parametrize("name", DEMO)
@pytest.mark.parametrize("theme", THEMES)
def test_no_text_of_a_demo_figure_overlaps_or_leaves_the_sheet(name, theme):
    # Sixteen panels have no room in a column.
    for width in (180,) if name == "numbers" else (60, 85, 180):
        for size in (6, 8) if name == "numbers" else (6, 8, 14):
            checked(DEMO[name], theme, width, size)


@pytest.mark.parametrize("script", EXAMPLES)
def test_no_text_of_an_example_overlaps_or_leaves_the_sheet(script, monkeypatch, tmp_path):
    for figure in figures_of(script, monkeypatch, tmp_path).values():
        for width, size in ((60, 6), (85, 8), (180, 14)):
            assert_apart(laid_out(figure.theme(text_size=size), width))


def test_no_text_of_the_paper_overlaps_or_leaves_the_sheet(monkeypatch, tmp_path):
    for figure in paper_figures(monkeypatch, tmp_path).values():
        for theme in THEMES:
            for width, size in ((60, 6), (85, 8), (180, 14)):
                checked(figure, theme, width, size)


def test_the_same_rind_has_the_same_color_in_all_figures_of_the_paper(monkeypatch, tmp_path):
    seen = {}
    for figure in paper_figures(monkeypatch, tmp_path).values():
        scale = laid_out(figure).scales.looks["color"]
        for label, color in zip(scale.labels, scale.values, strict=False):
            assert seen.setdefault(label, color) == color
    assert len(set(seen.values())) == len(seen) >= 4


@pytest.mark.parametrize("name", DEMO)
def test_labels_of_a_demo_figure_say_different_things(name):
    made = laid_out(DEMO[name], 180)
    for labels in (made.layout.x_labels, made.layout.y_labels):
        assert len(set(labels.ticks.labels)) == len(labels.ticks.labels) or made.scales.first("x").kind == "time"
        assert all(after > before for before, after in pairwise(labels.ticks.at))
