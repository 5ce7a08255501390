"""Whatever a table was read from, its texts are numbers, dates or words by one rule, and what is left out is told."""

import contextlib
import csv
import datetime as dt
import json
import math
import sqlite3
import warnings

import numpy as np
import openpyxl
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import FacetineFinding, MappingError, OptionError


def as_text(path, cells, name):
    with path.with_suffix(".csv").open("w", newline="", encoding="utf-8") as file:
        csv.writer(file).writerows([[name, "id"], *([cell, f"a{row}"] for row, cell in enumerate(cells))])
    return path.with_suffix(".csv")


def as_large_text(path, cells, name):
    """One that the database reads: its cells come last."""
    rows = [[cells[0], "a" * 60], *([cells[0], "b" * 60] for _ in range(20_000)), *([cell, "c"] for cell in cells)]
    with path.with_suffix(".csv").open("w", newline="", encoding="utf-8") as file:
        csv.writer(file).writerows([[name, "id"], *rows])
    return path.with_suffix(".csv")


def as_book(path, cells, name):
    book = openpyxl.Workbook()
    for row in [[name, "id"], *([cell, f"a{row}"] for row, cell in enumerate(cells))]:
        book.active.append(row)
    book.save(path.with_suffix(".xlsx"))
    return path.with_suffix(".xlsx")


def as_lines(path, cells, name):
    lines = (json.dumps({name: cell, "id": f"a{row}"}) for row, cell in enumerate(cells))
    path.with_suffix(".jsonl").write_text("\n".join(lines) + "\n", encoding="utf-8")
    return path.with_suffix(".jsonl")


def as_database(path, cells, name):
    path.with_suffix(".db").unlink(missing_ok=True)
    with contextlib.closing(sqlite3.connect(path.with_suffix(".db"))) as opened:
        opened.execute(f'CREATE TABLE rows ("{name}" TEXT, id TEXT)')
        opened.executemany("INSERT INTO rows VALUES (?, ?)", [(cell, f"a{row}") for row, cell in enumerate(cells)])
        opened.commit()
    return path.with_suffix(".db")


READERS = [as_text, as_book, as_lines, as_database]


def read(source, **options):
    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always")
        frame = ft.read(source, **options)
    return frame, [str(one.message) for one in caught if issubclass(one.category, FacetineFinding)]


def written(value, decimal, grouped):
    """A number as people write it."""
    text = f"{value:,.2f}" if grouped else f"{value:.2f}"
    return text.translate(str.maketrans({",": ".", ".": ","})) if decimal == "," else text


@st.composite
def columns(draw):
    """Numbers in one way of writing, a few other texts among them, and what both are."""
    decimal, grouped = draw(st.sampled_from(".,")), draw(st.booleans())
    values = draw(st.lists(st.integers(-(10**8), 10**8), min_size=20, max_size=60))
    values = [value / 100 for value in values]
    words = draw(st.lists(st.sampled_from(["n.b.", "<LOD", "ausgefallen", "k. A."]), max_size=len(values) // 9 - 1))
    cells = [(written(value, decimal, grouped), value) for value in values] + [(word, math.nan) for word in words]
    cells = draw(st.permutations(cells))
    return [text for text, _ in cells], np.array([value for _, value in cells]), words


@given(columns(), st.sampled_from(READERS))
def test_numbers_beside_few_words_are_numbers_and_the_words_are_counted(tmp_path_factory, column, write):
    cells, expected, words = column
    frame, notes = read(write(tmp_path_factory.getbasetemp() / "column", cells, "no2"))
    np.testing.assert_array_equal(frame["no2"].to_numpy(float), expected)
    told = [one for one in notes if "are no numbers, and missing" in one]
    assert len(told) == bool(words)
    for word in set(words):
        assert f"{word!r} ({words.count(word)})" in told[0]
        assert f"{len(words)} of {len(cells)} values of 'no2'" in told[0]


@pytest.mark.parametrize("write", READERS)
def test_a_column_with_more_words_than_one_in_ten_stays_text_and_a_figure_says_what_was_tried(tmp_path, write):
    cells = [f"{value},5" for value in range(40)] + ["n.b."] * 5
    frame, notes = read(write(tmp_path / "column", cells, "no2"))
    assert frame["no2"].tolist() == cells
    assert not any("no2" in one for one in notes)
    said = ft.figure(frame).map(x="no2").bars().check()
    found = next(one for one in said if one.code == "numbers-as-text")
    assert "with a comma before decimals" in found.text
    assert "5 of 45 cells such as 'n.b.'" in found.text
    # What it says to do does it.
    book = {"no2": {"kind": "number", "absent": ["n.b."]}}
    assert str(book["no2"]["absent"]) in f"{found.text} {found.fix}"
    drawn = ft.figure(frame, codebook=book).map(x="no2").histogram().numbers()
    assert drawn["count"].sum() == 40


def test_no_proposal_blanks_what_can_be_read():
    cells = ["1,5", "2,75", "3,25"] * 5 + ["n.b.", "k. A."]
    (found,) = [one for one in ft.figure(x=cells).map(x="x").bars().check() if one.code == "numbers-as-text"]
    assert "1,5" not in f"{found.text} {found.fix}".partition("absent")[2]


@pytest.mark.parametrize("write", [*READERS, as_large_text])
@pytest.mark.parametrize("cells", [["0017", "0108", "1100"] * 10, ["01", "2", "12"] * 10, ["1234567890123456", "12"] * 10])
def test_what_names_something_stays_text(tmp_path, write, cells):
    frame, _ = read(write(tmp_path / "column", cells, "plot"))
    assert frame["plot"].tolist()[-len(cells) :] == cells


@pytest.mark.parametrize("write", [*READERS, as_large_text])
@pytest.mark.parametrize(
    ("words", "kept"), [(["12.5", "7.25", "100"], ["12.5", "7.25", "100"]), (["1,5", "2,5"], ["1,5", "2,5"])]
)
def test_columns_are_taken_as_they_are_written_where_that_is_said(tmp_path, write, words, kept):
    source = write(tmp_path / "column", words * 15, "plot")
    for said in (
        {"as_text": ["plot"]},
        {"codebook": {"plot": {"kind": "category"}}},
        {"codebook": {"plot": {"kind": "ordered"}}},
    ):
        frame, _ = read(source, **said)
        assert frame["plot"].tolist()[-len(kept) :] == kept
    frame, _ = read(source, codebook={"other": {"kind": "category"}})
    assert frame["plot"].dtype.kind == "f"
    with pytest.raises(MappingError, match="no column 'plto' for as_text. Did you mean 'plot'"):
        read(source, as_text=["plto"])


@pytest.mark.parametrize("write", READERS)
def test_categories_of_a_codebook_are_not_made_missing(tmp_path, write):
    cells = [*"12345" * 10, "6+", "6+"]
    source = write(tmp_path / "column", cells, "people")
    assert read(source)[0]["people"].isna().sum() == 2
    frame, _ = read(source, codebook={"people": {"order": ["1", "2", "3", "4", "5", "6+"]}})
    assert frame["people"].tolist() == cells


@pytest.mark.parametrize("write", [*READERS, as_large_text])
def test_words_that_are_said_to_mean_nothing_are_missing_without_a_note(tmp_path, write):
    cells = ["1.5", "2.5", "-999", "n.b."] * 10
    source = write(tmp_path / "column", cells, "no2")
    frame, notes = read(source, absent=["n.b.", "-999"])
    assert np.isnan(frame["no2"].to_numpy(float)[-40:]).sum() == 20
    assert set(frame["no2"].dropna()) == {1.5, 2.5}
    assert not any("no numbers" in one for one in notes)


def test_numbers_that_mean_nothing_are_missing_in_tables_that_know_numbers(tmp_path):
    table = pd.DataFrame({"n": [1, -999, 3], "v": [1.5, 2.5, -999.0], "w": ["a", "-999", "b"]})
    table.to_parquet(tmp_path / "t.parquet")
    table.to_json(tmp_path / "t.jsonl", orient="records", lines=True)
    with contextlib.closing(sqlite3.connect(tmp_path / "t.db")) as opened:
        table.to_sql("t", opened, index=False)
    for name in ("t.parquet", "t.jsonl", "t.db"):
        frame, _ = read(tmp_path / name, absent=["-999"])
        assert frame.isna().sum().tolist() == [1, 1, 1], name


@pytest.mark.parametrize("write", [as_book, as_lines, as_database])
def test_a_source_that_knows_texts_from_numbers_tells_that_texts_are_read_as_numbers(tmp_path, write):
    frame, notes = read(write(tmp_path / "column", ["12", "7", "30"], "n"))
    assert frame["n"].tolist() == [12, 7, 30]
    assert any("'n' holds numbers written as text, which are read as numbers" in one for one in notes)


def test_parquet_says_what_its_columns_are(tmp_path):
    pd.DataFrame({"n": ["1,5", "2,5"] * 10}).to_parquet(tmp_path / "t.parquet")
    frame, notes = read(tmp_path / "t.parquet")
    assert (frame["n"].tolist()[:2], notes) == (["1,5", "2,5"], [])


@pytest.mark.parametrize("write", READERS)
def test_percents_are_numbers(tmp_path, write):
    frame, notes = read(write(tmp_path / "column", ["12 %", "7,5 %", "100%"] * 10, "share"))
    assert sorted(set(frame["share"])) == [7.5, 12, 100]
    assert any("'share' holds numbers with percent signs" in one for one in notes)


@pytest.mark.parametrize("write", [*READERS, as_large_text])
@pytest.mark.parametrize("spelling", ["%Y-%m-%d", "%Y-%m-%d %H:%M", "%d.%m.%Y"])
def test_dates_beside_few_words_are_dates(tmp_path, write, spelling):
    days = [dt.datetime(2030, 1, 1, 12, 30) + dt.timedelta(days=day) for day in range(30)]
    cells = [day.strftime(spelling) for day in days] + ["unbekannt"]
    frame, notes = read(write(tmp_path / "column", cells, "day"))
    assert frame["day"].isna().sum() == 1
    assert any("1 of" in one and "values of 'day' are no dates, and missing: 'unbekannt' (1)" in one for one in notes)
    drawn = ft.figure(frame.tail(31)).map(x="day").histogram(bins=3).numbers()
    assert drawn["count"].sum() == 30
    assert str(drawn["low"].min())[:10] <= "2030-01-01"


def test_mixed_cells_of_sheets_and_databases_are_numbers_where_nine_in_ten_are(tmp_path):
    cells = [value / 2 for value in range(30)] + ["n.b.", "12,5"]
    expected = [*(value / 2 for value in range(30)), math.nan, 12.5]
    with contextlib.closing(sqlite3.connect(tmp_path / "t.db")) as opened:
        opened.execute("CREATE TABLE t (v)")
        opened.executemany("INSERT INTO t VALUES (?)", [(cell,) for cell in cells])
        opened.commit()
    cells[-1] = "12.5"
    for source in (tmp_path / "t.db", as_book(tmp_path / "t", cells, "v")):
        frame, notes = read(source)
        values = frame["v"].to_numpy(float)
        assert np.isnan(values[30])
        np.testing.assert_array_equal(values[:30], expected[:30])
        assert any("'n.b.' (1)" in one for one in notes)


AMBIGUOUS = {
    "between commas": ('pop,b\n"1,500",x\n"2,755",y\n', {}, [1500, 2755], "is taken to part thousands; decimal=',' takes it otherwise"),
    "between semicolons": ("pop;b\n1,500;x\n2,755;y\n", {}, [1.5, 2.755], "is taken to stand before decimals; decimal='.' takes it"),
    "said to be decimals": ('pop,b\n"1,500",x\n"2,755",y\n', {"decimal": ","}, [1.5, 2.755], None),
    "said to be thousands": ("pop;b\n1,500;x\n2,755;y\n", {"decimal": "."}, [1500, 2755], None),
    "another value tells": ('pop,b\n"1,500",x\n"2,7",y\n', {}, [1.5, 2.7], None),
    "another column tells": ('pop,b\n"1,500","3,25"\n"2,755","4,5"\n', {}, [1.5, 2.755], None),
}  # fmt: skip


@pytest.mark.parametrize("name", AMBIGUOUS)
def test_a_comma_that_may_be_either_sign_is_told_with_the_reading_and_the_way_out(tmp_path, name):
    text, options, expected, said = AMBIGUOUS[name]
    (tmp_path / "t.csv").write_text(text, encoding="utf-8")
    frame, notes = read(tmp_path / "t.csv", **options)
    assert frame["pop"].tolist() == expected
    told = [one for one in notes if "whose comma is taken" in one]
    assert len(told) == (said is not None)
    assert said is None or said in told[0]


def test_one_column_of_decimal_commas_in_a_file_of_points_is_read_and_told(tmp_path):
    (tmp_path / "t.csv").write_text('a,b\n1.5,"2,5"\n2.25,"3,75"\n', encoding="utf-8")
    frame, notes = read(tmp_path / "t.csv")
    assert (frame["a"].tolist(), frame["b"].tolist()) == ([1.5, 2.25], [2.5, 3.75])
    assert any("'b' is read with a comma before decimals" in one for one in notes)


@pytest.mark.parametrize(("options", "said"), [
    ({"absent": "n.b."}, "absent is a list of texts"),
    ({"absent": [None]}, "absent is a list of texts"),
    ({"as_text": 3}, "as_text is a list of texts"),
    ({"decimal": ";"}, "decimal is"),
])  # fmt: skip
@pytest.mark.parametrize("write", READERS)
def test_what_is_said_wrongly_of_cells_is_refused(tmp_path, write, options, said):
    source = write(tmp_path / "t", ["1.5", "2.5"], "a")
    with pytest.raises(OptionError, match=said):
        ft.read(source, **options)


def test_a_codebook_takes_numbers_for_missing_too():
    book = {"v": {"absent": ["-999"]}}
    drawn = ft.figure({"v": [1.0, 2.0, -999.0]}, codebook=book).map(x="v").histogram(bins=2).numbers()
    assert (drawn["count"].sum(), drawn["low"].min() > -10) == (2, True)
