"""Tables in text: written-out dialects, what is found out and told, and what is refused."""

import csv
import io
import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data import engine, readers
from facetine.data.readers import read_columns
from facetine.messages.errors import DataError, FacetineFinding, OptionError, PlanError

A, B = [1.5, 2.25, 1000.0], ["north", "south", "tunnel"]
"""What most of the texts hold."""
DIALECTS = {
    # How cells are parted.
    "commas": ("a,b\n1.5,north\n2.25,south\n1000,tunnel\n", ""),
    "semicolons": ("a;b\n1.5;north\n2.25;south\n1000;tunnel\n", "semicolons"),
    "tabs": ("a\tb\n1.5\tnorth\n2.25\tsouth\n1000\ttunnel\n", "tabs"),
    "bars": ("a|b\n1.5|north\n2.25|south\n1000|tunnel\n", "bars"),
    "blanks": ("a b\n1.5 north\n2.25 south\n1000 tunnel\n", "blanks"),
    "columns of blanks": ("     a      b\n   1.5  north\n  2.25  south\n  1000 tunnel\n", "blanks"),
    "blanks at ends": ("a b  \n1.5 north  \n2.25 south \n1000 tunnel\n", "blanks"),
    "commas and blanks": ("a, b\n1.5, north\n2.25, south\n1000, tunnel\n", ""),
    # Ends of lines.
    "two signs at ends": ("a,b\r\n1.5,north\r\n2.25,south\r\n1000,tunnel\r\n", ""),
    "old ends": ("a,b\r1.5,north\r2.25,south\r1000,tunnel\r", ""),
    "no last end": ("a,b\n1.5,north\n2.25,south\n1000,tunnel", ""),
    "blank lines": ("\n\na,b\n1.5,north\n\n2.25,south\n1000,tunnel\n\n\n", ""),
    "lines of commas": (",\na,b\n1.5,north\n2.25,south\n1000,tunnel\n,\n,\n", ""),
    "mixed ends": ("a,b\r\n1.5,north\n2.25,south\r\n1000,tunnel\n", ""),
    # Quotes.
    "quoted": ('"a","b"\n"1.5","north"\n"2.25","south"\n"1000","tunnel"\n', ""),
    "quoted where needed": ('a,"b"\n1.5,"north"\n2.25,south\n1000,tunnel\n', ""),
    "single quotes": ("'a';'b'\n'1.5';'north'\n'2.25';'south'\n'1000';'tunnel'\n", "around cells"),
    "quoted thousands": ('a,b\n1.5,north\n2.25,south\n"1,000",tunnel\n', "thousands"),
    # Numbers.
    "decimal commas": ("a;b\n1,5;north\n2,25;south\n1000;tunnel\n", "a comma before decimals"),
    "commas and points": ("a;b\n1,5;north\n2,25;south\n1.000;tunnel\n", "'.' between thousands"),
    "commas and blanks in numbers": ("a;b\n1,5;north\n2,25;south\n1 000;tunnel\n", "' ' between thousands"),
    "commas and fixed blanks": ("a;b\n1,5;north\n2,25;south\n1\u00a0000;tunnel\n", "thousands"),
    "commas and narrow blanks": ("a;b\n1,5;north\n2,25;south\n1\u202f000;tunnel\n", "thousands"),
    "apostrophes": ("a;b\n1.5;north\n2.25;south\n1'000;tunnel\n", "thousands"),
    "quoted decimal commas": ('a,b\n"1,5",north\n"2,25",south\n1000,tunnel\n', "a comma before decimals"),
    "tabs and decimal commas": ("a\tb\n1,5\tnorth\n2,25\tsouth\n1000\ttunnel\n", "a comma before decimals"),
    "blanks and decimal commas": ("a b\n1,5 north\n2,25 south\n1000 tunnel\n", "a comma before decimals"),
    "powers": ("a,b\n15e-1,north\n2.25E+0,south\n1e3,tunnel\n", ""),
    "bare points": ("a,b\n1.50,north\n2.25,south\n1000.,tunnel\n", ""),
    "signs": ("a,b\n+1.5,north\n2.25,south\n+1000,tunnel\n", ""),
    "padded numbers": ("a,b\n  1.5,north\n 2.25,south\n 1000 ,tunnel\n", ""),
    # What stands around the table.
    "remarks": ("# a trial\n# of cellars\na,b\n1.5,north\n2.25,south\n1000,tunnel\n", "remarks"),
    "names in a remark": ("# a b\n1.5 north\n2.25 south\n1000 tunnel\n", None),
    "remarks between": ("# a trial\na,b\n1.5,north\n# the old cellar\n2.25,south\n1000,tunnel\n", "remarks"),
    "a title": ("The cellars\na,b\n1.5,north\n2.25,south\n1000,tunnel\n", "1 line before"),
    "a title and a gap": ("The cellars\n\n\na;b\n1.5;north\n2.25;south\n1000;tunnel\n", "3 lines before"),
    "a title with commas": ("Cellars, wheels, trials\n\na,b\n1.5,north\n2.25,south\n1000,tunnel\n", "lines before"),
    "a sign too many": ("a,b,\n1.5,north,\n2.25,south,\n1000,tunnel,\n", ""),
    "a sign too many in rows": ("a,b\n1.5,north,\n2.25,south,\n1000,tunnel,\n", ""),
    "names with blanks around": (" a , b \n1.5,north\n2.25,south\n1000,tunnel\n", ""),
}
ENCODED = {
    "a mark": ("\ufeffa,b\n1.5,north\n2.25,south\n1000,tunnel\n", "utf-8", ""),
    "two bytes": ("a,b\n1.5,north\n2.25,south\n1000,tunnel\n", "utf-16", "utf-16"),
    "a mark and semicolons": ("\ufeffa;b\n1,5;north\n2,25;south\n1000;tunnel\n", "utf-8", "semicolons"),
}
COLUMNS = {
    "whole numbers": ("n\n1\n-2\n3\n", {"n": [1, -2, 3]}),
    "numbers with gaps": ("n,m\n1,a\n,b\nNA,c\n2,d\n", {"n": [1, None, None, 2], "m": list("abcd")}),
    "a row of gaps": ("n,m\n1,a\n,\n\n2,b\n,\n", {"n": [1, None, 2], "m": ["a", None, "b"]}),
    "one column with gaps": ("n\n1\n\n2\n\n", {"n": [1, None, 2]}),
    "texts with gaps": ("n,m\n1,a\n2,\n3,NULL\n", {"n": [1, 2, 3], "m": ["a", None, None]}),
    "words that may mean nothing": ("m,n\nNone,-\n-,b\n", {"m": ["None", "-"], "n": ["-", "b"]}),
    "codes": ("plot,n\n007,1\n010,2\n123,3\n", {"plot": ["007", "010", "123"], "n": [1, 2, 3]}),
    "short codes": ("month\n01\n02\n12\n", {"month": ["01", "02", "12"]}),
    "codes of many digits": ("n\n1234567890123456\n2\n", {"n": ["1234567890123456", "2"]}),
    "truth": ("t\ntrue\nFalse\nTRUE\n", {"t": [True, False, True]}),
    "yes and no are words": ("t\nyes\nno\nyes\n", {"t": ["yes", "no", "yes"]}),
    "days": ("d\n2030-01-02\n2030-02-03\n", {"d": [np.datetime64("2030-01-02"), np.datetime64("2030-02-03")]}),
    "moments": ("d\n2030-01-02 10:30\n\n2030-02-03 11:45\n", {"d": [np.datetime64("2030-01-02T10:30"), None, np.datetime64("2030-02-03T11:45")]}),
    "dates of other orders stay texts": ("d\n03/02/2030\n04/02/2030\n", {"d": ["03/02/2030", "04/02/2030"]}),
    "endless numbers": ("n\n1.5\ninf\n-inf\n", {"n": [1.5, np.inf, -np.inf]}),
    "true minus signs": ("n\n−1.5\n2\n", {"n": [-1.5, 2]}),
    "quotes inside": ('m,n\n"a ""b""",1\nc,2\n', {"m": ['a "b"', "c"], "n": [1, 2]}),
    "quotes after a stroke": ('m,n\n"a \\"b\\", c",1\nd,2\n', {"m": ['a "b", c', "d"], "n": [1, 2]}),
    "lines inside": ('m,n\n"a\nb",1\nc,2\n', {"m": ["a\nb", "c"], "n": [1, 2]}),
    "commas inside": ('m,n\n"a, b",1\nc,2\n', {"m": ["a, b", "c"], "n": [1, 2]}),
    "names of rows": ("a b\nx1 1 2\nx2 3 4\nx3 5 6\n", {"row": ["x1", "x2", "x3"], "a": [1, 3, 5], "b": [2, 4, 6]}),
    "one column of texts": ("place of the wheel\nin the cellar\non the shelf of it\n", {"place of the wheel": ["in the cellar", "on the shelf of it"]}),
    "no rows": ("a,b\n", {"a": [], "b": []}),
    "names twice": ("a,a,b\n1,2,x\n3,4,y\n", {"a": [1, 3], "a_1": [2, 4], "b": ["x", "y"]}),
    "a column without a name": (",b\n1,x\n2,y\n", {"unnamed 1": [1, 2], "b": ["x", "y"]}),
    "letters of all sorts": ("größe,место\n1,север\n2,юг\n", {"größe": [1, 2], "место": ["север", "юг"]}),
}  # fmt: skip


def read(content, name="table.csv", **text):
    """The columns of a text and the notes of its reader."""
    with open(name, "wb") as file:
        file.write(content)
    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always")
        columns = read_columns(name, **text)
    return columns, [str(one.message) for one in caught if issubclass(one.category, FacetineFinding)]


def plain(array):
    """An array as a list, None where it is masked."""
    masks = np.ma.getmaskarray(array).tolist()
    values = np.asarray(array).tolist()
    return [None if gone or value != value else value for value, gone in zip(values, masks, strict=True)]


def check(columns, expected):
    assert list(columns) == list(expected)
    for name, values in expected.items():
        found = plain(columns[name])
        wanted = [value.astype(columns[name].dtype).item() if isinstance(value, np.datetime64) else value for value in values]
        assert found == wanted, name


@pytest.mark.parametrize("dialect", DIALECTS)
def test_a_text_is_read_as_it_is_written(dialect):
    check_dialect(dialect)


def check_dialect(dialect):
    text, said = DIALECTS[dialect]
    columns, notes = read(text.encode())
    if dialect == "commas and blanks":
        columns["b"] = np.char.strip(columns["b"].astype(str)).astype(object)
    check(columns, {"a": A, "b": B})
    if said is not None:
        assert said in notes[0] if said else not notes, notes


@pytest.mark.parametrize("dialect", ENCODED)
def test_an_encoding_is_found_out(dialect):
    text, encoding, said = ENCODED[dialect]
    columns, notes = read(text.encode(encoding))
    check(columns, {"a": A, "b": B})
    assert said in notes[0] if said else not notes, notes


@pytest.mark.parametrize("sort", COLUMNS)
def test_columns_are_what_all_their_cells_are(sort):
    text, expected = COLUMNS[sort]
    columns, _ = read(text.encode())
    check(columns, expected)


def test_western_letters_are_told():
    columns, notes = read("größe;preis\n1,5;2 €\n2,5;3 €\n".encode("cp1252"))
    check(columns, {"größe": [1.5, 2.5], "preis": ["2 €", "3 €"]})
    assert "the encoding cp1252" in notes[0]
    assert "encoding='cp1252'" in notes[0]


def test_what_a_note_says_silences_it():
    text = b"The cellars\na;b\n1,5;x\n2.000,5;y\n"
    columns, (note,) = read(text)
    assert "delimiter=';', decimal=',', thousands='.', skip=1" in note
    again, notes = read(text, delimiter=";", decimal=",", thousands=".", skip=1)
    assert not notes
    assert again["a"].tolist() == columns["a"].tolist() == [1.5, 2000.5]


def test_a_comma_that_may_be_either_is_a_decimal_sign_between_semicolons_only():
    assert read(b"a;b\n1,234;x\n2,345;y\n")[0]["a"].tolist() == [1.234, 2.345]
    assert read(b'a,b\n"1,234",x\n"2,345",y\n')[0]["a"].tolist() == [1234, 2345]
    assert read(b"a;b\n1,234;x\n", thousands=",", decimal=".")[0]["a"].tolist() == [1234]


@pytest.mark.parametrize(("content", "said"), [
    (b"a,b\n1,2,3\n", "line 2 has 3 fields, the first line has 2"),
    (b"a,b\n1,2\n3\n4,5\n", "line 3 has 1 fields"),
    (b'a,b\n"x\ny",2\n3,4,5\n', "line 4 has 3 fields"),
    (b"a b\n1;2;3\n4;5;6\n", "no table"),
    (b"1,2\n3,4\n", "holds numbers, no column names: 1, 2"),
    (b"<html>\n<body>\n", "no column names"),
    (b"\n \n\n", "empty"),
    (b"a,b\n1,\0\n", "no text"),
])  # fmt: skip
def test_what_is_no_table_is_refused_by_its_line(content, said):
    with pytest.raises(DataError, match=said):
        read(content)


@pytest.mark.parametrize(("text", "error", "said"), [
    ({"delimiter": ";;"}, OptionError, "delimiter is one sign"),
    ({"decimal": ";"}, OptionError, "decimal is"),
    ({"thousands": "x"}, OptionError, "thousands holds"),
    ({"thousands": ",", "decimal": ","}, OptionError, "can't stand before decimals"),
    ({"encoding": "martian"}, OptionError, "no encoding 'martian'"),
    ({"encoding": "ascii"}, DataError, "no text in ascii"),
    ({"skip": -1}, OptionError, "skip is a number"),
    ({"header": "yes"}, OptionError, "header is True or False"),
    ({"separator": ";"}, OptionError, "no option 'separator'"),
])  # fmt: skip
def test_what_is_said_wrongly_of_a_text_is_refused(text, error, said):
    with pytest.raises(error, match=said):
        read("größe,b\n1,x\n".encode(), **text)


def test_what_is_said_of_a_text_is_refused_for_other_files(tmp_path):
    (tmp_path / "rows.jsonl").write_text('{"x": 1}\n')
    with pytest.raises(OptionError, match=r"delimiter has no effect on rows\.jsonl"):
        ft.read(tmp_path / "rows.jsonl", delimiter=";")
    with pytest.raises(OptionError, match="skip has no effect on a database"):
        ft.read("sqlite:///cellar.db", sql="SELECT 1", skip=1)


def test_columns_without_names_are_numbered_when_it_is_said():
    columns, _ = read(b"1,2\n3,4\n", header=False)
    check(columns, {"column 1": [1, 3], "column 2": [2, 4]})


def test_a_query_sees_the_numbers_that_are_read():
    columns, _ = read(b"a;b\n1,5;x\n;y\n2,5;z\n", "cellar.csv", sql="SELECT sum(a) AS total, count(a) AS n FROM cellar")
    assert (columns["total"].tolist(), columns["n"].tolist()) == ([4.0], [2])


def test_files_that_write_decimals_in_two_ways_are_no_one_table(tmp_path):
    (tmp_path / "one.csv").write_text("a;b\n1.5;x\n")
    (tmp_path / "two.csv").write_text("a;b\n1,5;x\n")
    with pytest.raises(DataError, match=r"two ways: '\.' in one\.csv, ',' in two\.csv"):
        read_columns([tmp_path / "one.csv", tmp_path / "two.csv"])


@pytest.mark.parametrize("dialect", DIALECTS)
def test_large_files_are_read_by_the_same_signs(dialect, monkeypatch):
    monkeypatch.setattr(readers, "_SMALL", 0)
    check_dialect(dialect)


WORDS = (
    st.text("abcdefgh äöß,;|\"'\n", min_size=1, max_size=8).map(str.strip).filter(lambda word: word and word[0] not in "'\"<{#")
)


@given(
    st.lists(st.tuples(st.floats(-1e6, 1e6), WORDS, st.integers(-999, 999)), min_size=2, max_size=12),
    st.sampled_from(",;\t|"),
    st.sampled_from(["\n", "\r\n"]),
    st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]),
)
def test_what_a_writer_wrote_is_read_back(rows, delimiter, end, encoding):
    made = io.StringIO(newline="")
    writer = csv.writer(made, delimiter=delimiter, lineterminator=end)
    writer.writerow(["number", "word", "whole"])
    writer.writerows([(repr(number), f"w {word}", whole) for number, word, whole in rows])
    columns, _ = read(made.getvalue().encode(encoding))
    assert columns["number"].tolist() == [row[0] for row in rows]
    assert columns["word"].tolist() == [f"w {row[1]}" for row in rows]
    assert columns["whole"].tolist() == [row[2] for row in rows]


def test_texts_that_are_missing_are_missing_in_a_frame(tmp_path):
    (tmp_path / "gaps.csv").write_text("n,m\n1,a\n,\n3,NULL\n")
    assert ft.read(tmp_path / "gaps.csv")["m"].isna().tolist() == [False, True, True]


@pytest.mark.parametrize("count", [1, 2])
def test_large_files_keep_codes_and_signs_that_only_come_later(tmp_path, monkeypatch, count):
    monkeypatch.setattr(readers, "_SMALL", 0)
    files = [tmp_path / f"{number}.csv" for number in range(count)]
    for file in files:
        file.write_text("plot;n\n007;1,5\n010;+2,5\n011;NA\n")
    with pytest.warns(FacetineFinding, match="semicolons"):
        columns = read_columns(files)
    check(columns, {"plot": ["007", "010", "011"] * count, "n": [1.5, 2.5, None] * count})
    with pytest.warns(FacetineFinding, match="semicolons"):
        assert read_columns(files, sql='SELECT sum(n) AS total FROM "0"', delimiter=None)["total"].tolist() == [4.0 * count]


def test_a_plan_says_how_its_texts_are_written(tmp_path):
    (tmp_path / "cellar.csv").write_text("a;b\n1,5;x\n2,5;y\n")
    (tmp_path / "plan.toml").write_text(
        '[data.cellar]\nfile = "cellar.csv"\ndelimiter = ";"\ndecimal = ","\n\n'
        '[figure.one]\ndata = "cellar"\nmap = { x = "a" }\nlayers = [{ histogram = {} }]\n'
    )
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        (done,) = export_plan(tmp_path / "plan.toml")
    assert done.error is None
    (tmp_path / "wrong.toml").write_text(
        '[data.cellar]\nfile = "cellar.csv"\n\n[data.late]\nfrom = "cellar"\nsql = "SELECT a FROM cellar"\ndecimal = ","\n\n'
        '[figure.one]\ndata = "late"\nmap = { x = "a" }\nlayers = [{ histogram = {} }]\n'
    )
    with pytest.raises(PlanError, match="decimal has no effect on a source that is made from another one"):
        export_plan(tmp_path / "wrong.toml")


@pytest.mark.parametrize("quote", ['"', "'"])
@pytest.mark.parametrize("more", range(0, 60, 7))
def test_large_files_whose_beginning_ends_within_a_cell_are_read(monkeypatch, more, quote):
    monkeypatch.setattr(readers, "_SMALL", 0)
    monkeypatch.setattr(engine, "_HEAD", 2000)
    rows = "".join(f"{quote}one {number}\ntwo, more\nthree{quote},{number}\n" for number in range(200))
    columns, _ = read(f"{quote}m{quote},n\n{'x' * (more + 1)},-1\n{rows}".encode())
    check(columns, {
        "m": ["x" * (more + 1), *(f"one {number}\ntwo, more\nthree" for number in range(200))], "n": [-1, *range(200)],
    })  # fmt: skip


@pytest.mark.parametrize("encoding", ["utf-16", "utf-8-sig", "utf-8", "latin-1"])
def test_large_files_are_read_in_their_encoding(monkeypatch, encoding):
    monkeypatch.setattr(readers, "_SMALL", 0)
    monkeypatch.setattr(engine, "_HEAD", 2001)
    words = [f"größe {number}" for number in range(900)]
    columns, _ = read("".join(["m,n\n", *(f"{word},{number}.5\n" for number, word in enumerate(words))]).encode(encoding))
    check(columns, {"m": words, "n": [number + 0.5 for number in range(900)]})
