"""Files that unpack to far more than they are, or are deeper, wider or longer than any table: refused, or read, within bounds."""

import contextlib
import gzip
import io
import subprocess
import sys
import time
import tracemalloc
import zipfile
from pathlib import Path

import openpyxl
import pytest

import facetine as ft
from facetine.data.plain import MOST_TEXT
from facetine.messages.errors import DataError, ExportError, FacetineError

pytestmark = pytest.mark.runs

SHEET = "xl/worksheets/sheet1.xml"
HEAD = b'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
TAIL = b"</sheetData></worksheet>"
STRINGS = b'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><si><t>a</t></si></sst>'
SHARED = HEAD + b'<row r="1"><c r="A1" t="s"><v>%s</v></c></row><row r="2"><c r="A2"><v>1</v></c></row>' + TAIL
LAUGHS = (
    b'<?xml version="1.0"?><!DOCTYPE l [<!ENTITY a "aaaaaaaaaa">'
    + b"".join(b'<!ENTITY b%d "%s">' % (i, (b"&b%d;" % (i - 1) if i else b"&a;") * 10) for i in range(9))
    + b"]>"
)


def book(tmp_path, **parts):
    """A workbook of two rows with some of its parts exchanged, or taken away."""
    made = openpyxl.Workbook()
    for row in (("a", "b"), (1, 2), (3, 4)):
        made.active.append(row)
    plain = io.BytesIO()
    made.save(plain)
    exchanged = {name.replace("__", "/") + ".xml": content for name, content in parts.items()}
    path = tmp_path / "book.xlsx"
    with zipfile.ZipFile(plain) as source, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as target:
        for name in [*source.namelist(), *(set(exchanged) - set(source.namelist()))]:
            content = exchanged[name] if name in exchanged else source.read(name)
            if content is not None:
                target.writestr(name, content)
    return path


BOOKS = {
    "no sheet": {"xl__worksheets__sheet1": None},
    "no book": {"xl__workbook": None},
    "a sheet that is cut": {"xl__worksheets__sheet1": HEAD + b'<row r="1"><c r="A1"><v>1</v'},
    "texts that are cut": {"xl__worksheets__sheet1": SHARED % b"0", "xl__sharedStrings": STRINGS[:-20]},
    "a text that is not there": {"xl__worksheets__sheet1": SHARED % b"7", "xl__sharedStrings": STRINGS},
    "a text of no number": {"xl__worksheets__sheet1": SHARED % b"x", "xl__sharedStrings": STRINGS},
    "30 million elements": {"xl__worksheets__sheet1": HEAD + b"<row>" + b"<c/>" * 30_000_000 + b"</row>" + TAIL},
    "30 million rows": {"xl__worksheets__sheet1": HEAD + b"<row/>" * 30_000_000 + TAIL},
    "a wide row": {"xl__worksheets__sheet1": HEAD + b"<row>" + b"<c/>" * 100_000 + b"</row>" + TAIL},
    "six million cells": {"xl__worksheets__sheet1": HEAD + (b"<row>" + b"<c/>" * 16_000 + b"</row>") * 375 + TAIL},
    "200 MB of blanks": {"xl__styles": b" " * 200_000_000},
    "texts of texts": {"xl__worksheets__sheet1": SHARED % b"0", "xl__sharedStrings": LAUGHS + STRINGS.replace(b">a<", b">&b8;<")},
}


@pytest.mark.parametrize("name", list(BOOKS))
def test_a_harmful_workbook_is_one_error(name, tmp_path):
    path = book(tmp_path, **BOOKS[name])
    began = time.monotonic()
    with pytest.raises(DataError):
        ft.read(path)
    assert time.monotonic() - began < 20


def test_a_cell_at_the_far_end_of_a_sheet_is_a_column_more(tmp_path):
    made = openpyxl.Workbook()
    made.active.append(["a", "b"])
    made.active.append([1, 2])
    made.active.cell(200_000, 16_384, 5)
    made.save(tmp_path / "far.xlsx")
    table = ft.read(tmp_path / "far.xlsx")
    assert table.shape == (199_999, 3)
    assert table.iloc[-1, 2] == 5
    assert table["a"].count() == 1


def test_what_is_bounded_is_bounded_before_it_is_unpacked(tmp_path):
    path = book(tmp_path, xl__styles=b" " * 200_000_000)
    tracemalloc.start()
    with pytest.raises(DataError, match="unpacks to 190 MB"):
        ft.read(path)
    assert tracemalloc.get_traced_memory()[1] < 50_000_000
    tracemalloc.stop()


@pytest.mark.parametrize("packed", ["gz", "zst"])
def test_a_text_that_unpacks_to_more_than_the_memory_is_refused(packed, tmp_path):
    path = tmp_path / f"long.csv.{packed}"
    if packed == "gz":
        with gzip.open(path, "wb") as stream:
            stream.write(b"a,b\n")
            for _ in range(60):
                stream.write(b"1,2\n" * 500_000)
    else:
        zstandard = pytest.importorskip("zstandard")
        with zstandard.open(path, "wb") as stream:
            stream.write(b"a,b\n")
            for _ in range(60):
                stream.write(b"1,2\n" * 500_000)
    with ft.defaults(query_memory="50 MB"), pytest.raises(DataError, match="unpacks to more than 50 MB"):
        ft.read(path)


TOML = {
    "deep": "a = " + "[" * 100_000 + "]" * 100_000,
    "deep tables": "".join(f"[{'.'.join('a' * (i + 1))}]\n" for i in range(1200)),
    "a long key": "a" + ".a" * 400_000 + " = 1",
    "a million keys": "".join(f"k{i} = 1\n" for i in range(1_000_000)),
    "many tables": "".join(f"[figure.f{i}]\n" for i in range(200_000)),
    "one long text": 'a = "' + "x" * (MOST_TEXT - 10) + '"',
    "a long number": "a = " + "1" * 5_000_000,
    "many remarks": "# x\n" * 3_000_000,
    "open quotes": "a = '''" + "x\n" * 2_000_000,
}


@pytest.mark.parametrize("name", list(TOML))
@pytest.mark.parametrize("sort", ["plan", "codebook"])
def test_a_harmful_text_of_settings_is_one_error(name, sort, tmp_path):
    path = tmp_path / "handed.toml"
    path.write_text(TOML[name])
    opened = {"plan": lambda: ft.plan(path), "codebook": lambda: ft.figure({"a": [1.0]}, codebook=str(path))}
    # Of the processor, which other work of the machine does not change.
    began = time.process_time()
    # Some of them say something, if much.
    fine = sort == "codebook" and name in ("many remarks", "one long text")
    with contextlib.nullcontext() if fine else pytest.raises(FacetineError):
        opened[sort]()
    assert time.process_time() - began < 20, name


def test_a_parquet_of_very_many_equal_rows_is_refused_by_its_memory(tmp_path):
    import pyarrow as pa
    import pyarrow.parquet as pq

    path = tmp_path / "long.parquet"
    columns = {f"c{i}": pa.array([1.5]).take(pa.array([0] * 1_000_000)) for i in range(8)}
    pq.write_table(pa.table(columns), path, compression="zstd", use_dictionary=True)
    assert path.stat().st_size < 100_000
    with ft.defaults(query_memory="20 MB"), pytest.raises(DataError, match="20 MB"):
        ft.read(path)
    assert len(ft.read(path)) == 1_000_000


def test_a_file_that_only_calls_itself_a_database_is_one_error(tmp_path):
    for name, content in {
        "a.duckdb": b"\0" * 8 + b"DUCK" + b"\xff" * 90_000,
        "b.db": b"SQLite format 3\0" + b"\xff" * 9000,
    }.items():
        Path(tmp_path / name).write_bytes(content)
        with pytest.raises(DataError):
            ft.read(f"{tmp_path / name}#t")


def test_a_document_that_unpacks_to_very_much_is_refused_and_stays_as_it_is(tmp_path):
    docx = pytest.importorskip("docx")
    plain = io.BytesIO()
    docx.Document().save(plain)
    path = tmp_path / "bomb.docx"
    with zipfile.ZipFile(plain) as source, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as target:
        for name in source.namelist():
            content = source.read(name)
            target.writestr(
                name,
                content.replace(b"<w:body>", b"<w:body>" + b"<w:p/>" * 20_000_000) if name.endswith("document.xml") else content,
            )
    before = path.read_bytes()
    with pytest.raises(ExportError, match="unpacks to"):
        ft.into_document(path, {"Figure 1": ft.figure({"a": [1.0]}).map(x="a").rug()})
    assert path.read_bytes() == before


def test_an_arrow_file_of_one_long_text_many_times_is_refused(tmp_path):
    import pyarrow as pa
    import pyarrow.feather as feather

    words = pa.DictionaryArray.from_arrays(pa.array([0] * 200_000, pa.int32()), pa.array(["x" * 100_000]))
    feather.write_feather(pa.table({"a": words}), tmp_path / "long.arrow", compression="zstd")
    with ft.defaults(query_memory="500 MB"), pytest.raises(DataError, match="500 MB"):
        ft.read(tmp_path / "long.arrow")


@pytest.mark.skipif(not sys.platform.startswith("linux"), reason="the largest size of a process is read as Linux tells it")
@pytest.mark.parametrize(
    "expression", ["len(range(1000000000)) > 0", "len(repeat('x', 2000000000)) > 0", "list_sum(list_resize([1], 900000000)) > 0"]
)
def test_expressions_that_grow_end_at_their_memory_in_a_session_too(expression):
    code = (
        "import facetine as ft\n"
        "ft.set_defaults(query_memory='300 MB')\n"
        f"try: ft.figure({{'a': [1.0, 2.0]}}).keep({expression!r})\n"
        "except ft.FacetineError as error: assert '300 MB' in str(error), error\n"
        "print(next(line.split()[1] for line in open('/proc/self/status') if line.startswith('VmHWM')))\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert int(done.stdout) < 400_000
