"""Files that come from somewhere else: plain ones alone are opened, bounded, by the readers that are meant."""

import base64
import contextlib
import gzip
import io
import json
import os
import sqlite3
import struct
import time
import xml.etree.ElementTree as ET
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pandas as pd
import pyarrow as pa
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

import facetine as ft
from facetine.data.plain import NotPlainError, must_be_plain, plain_bytes, plain_text
from facetine.export.attachment import SENTENCE
from facetine.messages.errors import ExportError, FacetineError

FIG = ft.figure({"a": [1.0, 2.0, 4.0], "b": [3.0, 5.0, 4.0]}).map(x="a", y="b").points()
PLAN = '[data.d]\nfile = "d.csv"\n[figure.f]\ndata = "d"\nmap = { x = "a", y = "b" }\nlayers = ["points"]\n'

# Every way in which a path is opened, with the suffix that it asks for.
OPENED = {
    "a table": ("csv", lambda path: ft.read(path)),
    "a theme": ("toml", lambda path: FIG.theme(str(path))),
    "a theme of a plate": ("toml", lambda path: ft.plate([[FIG]]).theme(str(path))),
    "a codebook": ("toml", lambda path: ft.figure({"a": [1]}, codebook=str(path))),
    "a picture": ("png", lambda path: ft.picture(path)),
    "a figure with its rows": ("svg", lambda path: ft.reopen(path)),
    "a document": ("docx", lambda path: ft.into_document(path, {"Figure 1": FIG})),
    "a press": ("icc", lambda path: FIG.export("a.pdf", colors="cmyk", icc=str(path))),
    "a plan": ("toml", lambda path: ft.plan(path)),
    "a plan that is run": ("toml", lambda path: ft.plan(path).export(jobs=1)),
}


@pytest.mark.parametrize("sort", ["pipe", "device", "folder"])
@pytest.mark.parametrize("name", list(OPENED))
def test_what_is_no_file_is_refused_at_once(name, sort, tmp_path):
    suffix, opened = OPENED[name]
    path = tmp_path / f"handed.{suffix}"
    if sort == "pipe":
        os.mkfifo(path)
    elif sort == "device":
        path.symlink_to("/dev/zero")
    else:
        path.mkdir()
    began = time.monotonic()
    with pytest.raises(FacetineError) as caught:
        opened(path)
    assert time.monotonic() - began < 3
    assert len(str(caught.value).splitlines()) <= 3
    assert not (tmp_path / "a.pdf").exists()


def test_a_pipe_that_a_plan_names_fails_its_figure_alone(tmp_path):
    (tmp_path / "d.csv").write_text("a,b\n1,2\n3,4\n")
    os.mkfifo(tmp_path / "e.csv")
    more = '[data.e]\nfile = "e.csv"\n[figure.g]\ndata = "e"\nmap = { x = "a", y = "b" }\nlayers = ["points"]\n'
    (tmp_path / "plan.toml").write_text(PLAN + more)
    fine, failed = ft.plan(tmp_path / "plan.toml").export(jobs=1)
    assert [Path(file.path).name for file in fine.files] == ["f.pdf"]
    assert "no plain file" in str(failed.error)


def test_what_is_too_large_is_not_read(tmp_path):
    path = tmp_path / "large.toml"
    with path.open("wb") as stream:
        stream.truncate(17 * 1024 * 1024)
    with pytest.raises(FacetineError, match="more than 16 MB"):
        FIG.theme(str(path))
    with pytest.raises(NotPlainError):
        plain_bytes(path, 1024)
    assert len(plain_bytes(path, 17 * 1024 * 1024)) == 17 * 1024 * 1024


def test_plain_files_are_read_as_they_are(tmp_path):
    path = tmp_path / "text.txt"
    path.write_bytes(b"\xef\xbb\xbfone\r\ntwo\rthree\n")
    assert plain_text(path) == "one\ntwo\nthree\n"
    must_be_plain(path)
    with pytest.raises(FileNotFoundError):
        must_be_plain(tmp_path / "none")
    (tmp_path / "link").symlink_to(path)
    assert plain_bytes(tmp_path / "link") == path.read_bytes()


def png(width, height, rows=b""):
    """A PNG that says a size, with as much of its pixels as is given."""

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")


def as_format(sort):
    buffer = io.BytesIO()
    Image.new("RGB", (4, 4), "red").save(buffer, sort)
    return buffer.getvalue()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 10 10\n{} loop\n", "no picture"),
        (as_format("GIF"), "no picture"),
        (as_format("TIFF"), "no picture"),
        (as_format("WEBP"), "no picture"),
        (as_format("BMP"), "no picture"),
        (png(40_000, 40_000), "pixels|no picture"),
        (png(10_000, 10_000), "at most 80 million"),
        (png(4, 4, b"\0" * 20), "no picture"),
        (as_format("PNG")[:40], "no picture"),
        (as_format("JPEG")[:200], "no picture"),
        (b"", "no picture"),
    ],
    ids=["program", "gif", "tiff", "webp", "bmp", "vast", "large", "cut rows", "cut png", "cut jpeg", "empty"],
)
def test_what_only_calls_itself_a_picture_is_refused_before_it_is_unpacked(content, says, tmp_path):
    path = tmp_path / "handed.png"
    path.write_bytes(content)
    began = time.monotonic()
    with pytest.raises(FacetineError, match=says):
        laid_out(ft.plate([[FIG, ft.picture(path)]]))
    assert time.monotonic() - began < 3


@pytest.mark.parametrize("sort", ["PNG", "JPEG"])
def test_a_picture_of_the_right_sort_is_read_whatever_its_suffix(sort, tmp_path):
    path = tmp_path / "handed.img"
    path.write_bytes(as_format(sort))
    laid_out(ft.plate([[FIG, ft.picture(path)]]))


def damaged(path, change):
    """A document with one of its parts changed."""
    quietly(ft.into_document, path, {"Figure 1": FIG})
    with zipfile.ZipFile(path) as whole:
        parts = {name: whole.read(name) for name in whole.namelist()}
    change(parts)
    with zipfile.ZipFile(path, "w") as made:
        for name, content in parts.items():
            made.writestr(name, content)


def cut(parts):
    parts["word/document.xml"] = parts["word/document.xml"][:200]


def emptied(parts):
    parts["word/document.xml"] = b'<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"/>'


def gone(parts):
    del parts["word/document.xml"]


def strange(parts):
    parts["[Content_Types].xml"] = b"\x01\x02<Types"


@pytest.mark.parametrize("change", [cut, emptied, gone, strange])
def test_a_damaged_document_is_one_error_and_stays_as_it_is(change, tmp_path):
    path = tmp_path / "report.docx"
    damaged(path, change)
    before = path.read_bytes()
    with pytest.raises(FacetineError, match=r"report\.docx can't be read as a Word document") as caught:
        ft.into_document(path, {"Figure 1": FIG})
    assert len(str(caught.value).splitlines()) <= 2
    assert path.read_bytes() == before


def test_the_theme_of_a_plate_is_read_when_it_is_named(tmp_path):
    path = tmp_path / "house.toml"
    path.write_text('name = "field"\ntext_size = 11\n')
    plate = ft.plate([[FIG, FIG]]).theme(str(path), tick_length=5)
    before = laid_out(plate).scene
    path.unlink()
    after = laid_out(plate.titles("One")).scene
    sizes = [{run.size for text in scene.texts() for run in text.runs} for scene in (before, after)]
    assert 11 in sizes[0]
    assert sizes[0] <= sizes[1]
    quietly(plate.export, tmp_path / "plate.pdf", transparent="dark")
    ft.set_defaults(like=plate)
    ft.set_defaults(theme="press")


ARROWS = {
    "string_view": pa.array(["a", "b", None]).cast(pa.string_view()),
    "large_string": pa.array(["a", "b", None], pa.large_string()),
    "dictionary": pa.array(["a", "b", None]).dictionary_encode(),
    "ordered dictionary": pa.DictionaryArray.from_arrays(pa.array([0, 1, None]), pa.array(["a", "b"]), ordered=True),
}


@pytest.mark.parametrize("frame", ["arrow", "pandas"])
@pytest.mark.parametrize("name", list(ARROWS))
def test_texts_of_arrow_are_categories_in_frames_of_both_libraries(name, frame):
    table = pa.table({"k": ARROWS[name], "v": [1.0, 2.0, 3.0]})
    if frame == "pandas":
        table = pd.DataFrame({"k": pd.Series(ARROWS[name], dtype=pd.ArrowDtype(ARROWS[name].type)), "v": [1.0, 2.0, 3.0]})
    made = laid_out(ft.figure(table).map(x="k", y="v").points().scale("x", missing="drop"))
    assert made.scales.first("x").labels == ("a", "b")
    assert len(made.runs[0].table) == 2


def test_a_column_that_its_own_library_cannot_read_is_one_error():
    class Broken:
        """A frame whose column fails when it is asked for."""

        def __arrow_c_stream__(self, requested_schema=None):
            raise RuntimeError("no stream")

    with pytest.raises(FacetineError):
        ft.figure(Broken()).map(x="a")


def test_arrays_of_large_numbers_are_drawn_or_refused():
    top = np.finfo(float).max
    for layer in ("points", "lines", "bars", "histogram", "boxes", "trend", "cells", "intervals"):
        figure = ft.figure({"x": [1.0, 2, 3, 4], "y": [top, -top, 0.0, top / 2], "k": list("aabb")})
        figure = figure.map(x="y") if layer == "histogram" else figure.map(x="k" if layer == "boxes" else "x", y="y")
        with contextlib.suppress(FacetineError):
            quietly(getattr(figure, layer)().export, "large.pdf")


def carrying(path, change):
    """A figure with its rows in it, of which what it says is changed."""
    quietly(FIG.export, path, data="embed")
    root = ET.parse(path).getroot()
    for part in root.iter("{urn:facetine:figure}part"):
        if part.get("name") == SENTENCE:
            said = json.loads(gzip.decompress(base64.b64decode(part.text)))
            part.text = base64.b64encode(gzip.compress(change(said).encode())).decode()
    path.write_bytes(ET.tostring(root))


STRANGE = {
    "a codebook's path": lambda said: json.dumps(said | {"codebook": "/dev/zero"}),
    "a codebook of no tables": lambda said: json.dumps(said | {"codebook": {"a": "/dev/zero"}}),
    "a theme's path": lambda said: json.dumps(said | {"figure": said["figure"] | {"theme": "/dev/zero.toml"}}),
    "a theme that begins with a path": lambda said: json.dumps(said | {"figure": said["figure"] | {"theme": {"name": "z.toml"}}}),
    "an inset's theme": lambda said: json.dumps(
        said | {"figure": said["figure"] | {"insets": [{"figure": said["figure"] | {"theme": "z.toml"}}]}}
    ),
    "a plate": lambda said: json.dumps(said | {"figure": {"plate": {"rows": [[0]]}}}),
    "no figure": lambda said: json.dumps(said | {"figure": [1]}),
    "no verb": lambda said: json.dumps(said | {"figure": {"exec": "x"}}),
    "no layer": lambda said: json.dumps(said | {"figure": {"layers": [{"exec": {}}]}}),
    "columns of nothing": lambda said: json.dumps(said | {"columns": 3}),
    "deep": lambda said: json.dumps(said)[:-1] + ', "x": ' + "[" * 100_000 + "]" * 100_000 + "}",
    "nothing": lambda said: "",
    "a number": lambda said: "3",
}


@pytest.mark.parametrize("name", list(STRANGE))
def test_what_a_figure_carries_is_data_and_nothing_else(name, tmp_path):
    path = tmp_path / "handed.svg"
    carrying(path, STRANGE[name])
    began = time.monotonic()
    with pytest.raises(ExportError, match="reopen") as caught:
        ft.reopen(path)
    assert time.monotonic() - began < 3
    assert len(str(caught.value).splitlines()) <= 2


def test_what_a_figure_carries_is_bounded(tmp_path, monkeypatch):
    path = tmp_path / "handed.svg"
    carrying(path, json.dumps)
    assert len(ft.reopen(path).data) == 3
    monkeypatch.setattr("facetine.figures.reopened.MOST_FIGURE", 40_000)
    carrying(path, lambda said: json.dumps(said) + " " * 100_000)
    with pytest.raises(ExportError, match="too large|more than"):
        ft.reopen(path)


COLUMNS = st.one_of(
    st.lists(st.text(st.characters(exclude_categories=("Cs",)), max_size=6), min_size=2, max_size=6),
    st.lists(st.integers(-(2**63), 2**63 - 1), min_size=2, max_size=6),
    st.lists(st.integers(0, 2**64 - 1), min_size=2, max_size=6),
    st.lists(st.integers(-(2**80), 2**80), min_size=2, max_size=6),
    st.lists(st.floats(allow_nan=False), min_size=2, max_size=6),
    st.lists(st.booleans(), min_size=2, max_size=6),
)


@settings(max_examples=60, deadline=None)
@given(COLUMNS)
def test_any_column_comes_back_as_it_went_in(values):
    frame = pd.DataFrame({"k": values, "v": np.arange(len(values), dtype=float)})
    try:
        quietly(ft.figure(frame).map(x="k", y="v").points().export, "round.svg", data="embed")
    except FacetineError:
        return
    assert ft.reopen("round.svg").data["k"].tolist() == values


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    """A table in every kind of file."""
    folder = tmp_path_factory.mktemp("whole")
    frame = pd.DataFrame({"a": np.arange(40), "b": np.linspace(0.1, 0.9, 40), "k": ["x", "y"] * 20})
    frame.to_csv(folder / "t.csv", index=False)
    frame.to_csv(folder / "t.csv.gz", index=False)
    frame.to_parquet(folder / "t.parquet")
    frame.to_excel(folder / "t.xlsx", index=False)
    frame.to_feather(folder / "t.feather")
    frame.to_json(folder / "t.jsonl", orient="records", lines=True)
    with contextlib.closing(sqlite3.connect(folder / "t.db")) as made:
        frame.to_sql("t", made)
    return folder


KINDS = ("t.csv", "t.csv.gz", "t.parquet", "t.xlsx", "t.feather", "t.jsonl", "t.db")


@settings(max_examples=120, deadline=None)
@given(st.sampled_from(KINDS), st.randoms(use_true_random=False), st.booleans())
def test_a_damaged_table_is_read_or_is_one_error(whole, name, chance, cut):
    content = bytearray((whole / name).read_bytes())
    if cut:
        content = content[: chance.randrange(len(content))]
    else:
        for _ in range(chance.choice([1, 5, 50])):
            content[chance.randrange(len(content))] = chance.randrange(256)
    Path(f"damaged{name}").write_bytes(content)
    try:
        quietly(ft.read, f"damaged{name}" + ("#t" if name == "t.db" else ""))
    except FacetineError as problem:
        assert len(str(problem).splitlines()) <= 2  # noqa: PT017
