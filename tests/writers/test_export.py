"""Files: named right, written whole, reported."""

import io
import os
import warnings
import xml.etree.ElementTree as ET
from pathlib import Path

import pytest
from conftest import SVG, quietly
from PIL import Image

import facetine as ft
from facetine.messages.errors import ExportError, FacetineFinding

SCATTER = ft.figure({"a": [1.0, 2.0], "b": [1.0, 2.0]}).map(x="a", y="b").points()


def test_several_formats_of_one_figure(tmp_path):
    done = SCATTER.export(tmp_path / "deep" / "fig.one", formats=["pdf", "svg", "png"], width=60, height=40)
    assert sorted(path.name for path in (tmp_path / "deep").iterdir()) == ["fig.one.pdf", "fig.one.png", "fig.one.svg"]
    assert [file.path.suffix for file in done.files] == [".pdf", ".svg", ".png"]
    assert all(file.size == file.path.stat().st_size for file in done.files)
    assert done.files[0].width_mm == pytest.approx(60)
    assert "60×40 mm" in repr(done)


def test_several_paths_at_once(tmp_path):
    SCATTER.export([tmp_path / "a.pdf", tmp_path / "b.SVG"])
    assert sorted(path.name for path in tmp_path.iterdir()) == ["a.pdf", "b.SVG"]


def test_no_half_file_is_left_when_writing_fails(tmp_path, monkeypatch):
    def fails(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "replace", fails)
    with pytest.raises(ExportError, match="No space left"):
        SCATTER.export(tmp_path / "a.pdf")
    assert not list(tmp_path.iterdir())


def test_a_file_in_the_way_of_a_folder_is_told(tmp_path):
    (tmp_path / "out").write_text("")
    with pytest.raises(ExportError, match="can't write"):
        SCATTER.export(tmp_path / "out" / "a.pdf")


def test_notes_reach_the_analyst_as_warnings_and_in_the_result():
    fig = ft.figure({"a": [1.0, float("nan")], "b": [1.0, 2.0]}).map(x="a", y="b").points()
    with pytest.warns(FacetineFinding, match="figure.points: 1 row without a left out"):
        done = fig.export("a.svg")
    assert [str(note) for note in done.findings] == ["figure.points: 1 row without a left out"]
    assert done.findings[0].code == "rows-missing"


def test_an_empty_frame_draws_an_empty_labelled_figure_and_says_so():
    fig = ft.figure({"a": [], "b": []}).map(x="a", y="b").points()
    with pytest.warns(FacetineFinding, match="the figure is empty"):
        fig.export("a.svg")
    text = Path("a.svg").read_text("utf-8")
    assert ">A</text>" in text
    assert ">B</text>" in text


def test_the_alternative_text_can_be_said():
    SCATTER.export("a.svg", alt="Two points & more")
    assert ET.parse("a.svg").getroot().find(f"{SVG}desc").text == "Two points & more"


def test_a_notebook_shows_the_figure_at_the_size_of_its_export(monkeypatch):
    bundle, sizes = SCATTER._repr_mimebundle_()
    assert bundle["image/svg+xml"].startswith("<?xml")
    assert bundle["text/plain"] == repr(SCATTER)
    shown = ET.fromstring(bundle["image/svg+xml"])
    SCATTER.export("a.svg")
    assert shown.get("width") == ET.parse("a.svg").getroot().get("width")
    # The picture that stands in has more pixels than the place that it fills.
    picture = Image.open(io.BytesIO(bundle["image/png"]))
    assert picture.width > 2 * sizes["image/png"]["width"]
    assert sizes["image/png"]["width"] == round(85 / 25.4 * 96)
    assert "text/html" not in bundle
    monkeypatch.setattr("facetine.figures.outlets._SVG_LIMIT", 100)
    heavy, _ = SCATTER._repr_mimebundle_()
    assert heavy["image/png"].startswith(b"\x89PNG")
    assert "image/svg+xml" not in heavy


def test_a_session_says_the_size_of_screen_and_file():
    with ft.defaults(width="60 mm"):
        shown = ET.fromstring(SCATTER._repr_mimebundle_()[0]["image/svg+xml"])
    assert shown.get("width") == "60mm"


def test_notes_are_a_list_below_the_figure_in_a_notebook(monkeypatch):
    figure = ft.figure({"a <b>": [1.0, None], "b": [1.0, 2]}).map(x="a <b>", y="b").points()
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        bundle, _ = figure._repr_mimebundle_()
    page = ET.fromstring(bundle["text/html"])
    assert [item.text for item in page.iter("li")] == ["figure.points: 1 row without a <b> left out"]
    assert page.find(f"{SVG}svg") is not None
    monkeypatch.setattr("facetine.figures.outlets._SVG_LIMIT", 100)
    assert "data:image/png;base64," in figure._repr_mimebundle_()[0]["text/html"]


def test_an_error_is_one_block_in_a_notebook():
    with pytest.raises(ft.FacetineError) as caught:
        SCATTER.scatter()
    lines = caught.value._render_traceback_()
    assert lines == [f"VerbError: {caught.value}"]


def test_show_opens_the_system_viewer(monkeypatch):
    opened = []
    monkeypatch.setattr("webbrowser.open", opened.append)
    SCATTER.show()
    path = Path(opened[0].removeprefix("file://"))
    assert path.read_text("utf-8").startswith("<?xml")
    path.unlink()


@pytest.mark.slow
@pytest.mark.skipif(not Path("/proc/self/status").exists(), reason="peaks of memory are read from /proc")
def test_a_million_rows_need_little_memory(tmp_path):
    import subprocess
    import sys

    code = (
        "import numpy as np, re, facetine as ft; r = np.random.default_rng(0); n = 1_000_000;"
        "d = {'a': r.normal(size=n), 'b': r.normal(size=n), 'c': np.array(['u', 'v'], object)[r.integers(0, 2, n)]};"
        f"ft.figure(d).map(x='a', y='b', color='c').points(size=1).export([r'{tmp_path}/a.pdf', r'{tmp_path}/a.svg']);"
        "print(int(re.search('VmHWM: *(.+) kB', open('/proc/self/status').read().replace('\\t', ' '))[1]) / 1024)"
    )
    # The peak of this program alone: what getrusage tells begins with that of the process which started it.
    said = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True).stdout
    assert 50 < float(said) < 1000


def test_export_leaves_the_figure_as_it_was():
    before = repr(SCATTER)
    quietly(SCATTER.export, "a.pdf")
    assert repr(SCATTER) == before
