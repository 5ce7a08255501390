"""A column read as another kind."""

import numpy as np
import pytest

import facetine as ft
from facetine.data.intake import taken_in
from facetine.data.reread import as_kind
from facetine.messages.errors import KindError, MappingError, OptionError

TABLE = taken_in(
    {
        "text": ["3", "1", "2", None],
        "year": [2030, 2029, 2030, 2031],
        "day": ["2030-01-02", "2030-01-01", None, "2030-03-01"],
        "word": ["high", "low", "low", "mid"],
        "flag": ["yes", "no", "YES", None],
    }
)


def read(name, kind):
    return as_kind(TABLE.column(name), kind, "figure.kinds")


def test_text_becomes_numbers():
    assert np.array_equal(read("text", "number").values, [3, 1, 2, np.nan], equal_nan=True)


def test_numbers_become_categories_in_their_order():
    column = read("year", "category")
    assert column.levels == (2029, 2030, 2031)
    assert column.values.tolist() == [1, 0, 1, 2]


def test_text_becomes_times():
    column = read("day", "time")
    assert column.kind == "time"
    assert column.values[0] == np.datetime64("2030-01-02", "us").astype(float)
    assert column.missing.tolist() == [False, False, True, False]


def test_text_becomes_yes_or_no():
    assert read("flag", "yes_no").values.tolist() == [1, 0, 1, -1]


def test_a_kind_that_was_said_has_no_hint():
    assert read("text", "category").hint is None


@pytest.mark.parametrize(("name", "kind"), [("word", "number"), ("word", "time"), ("word", "yes_no"), ("year", "time")])
def test_what_cannot_be_read_so_is_refused(name, kind):
    with pytest.raises(KindError, match=name):
        read(name, kind)


def test_the_verb_refuses_at_once():
    fig = ft.figure({"word": ["a", "b"]})
    with pytest.raises(OptionError, match="Did you mean 'category'"):
        fig.kinds(word="categroy")
    with pytest.raises(MappingError, match="Did you mean 'word'"):
        fig.kinds(wrod="category")
    with pytest.raises(KindError, match="'a'"):
        fig.kinds(word="number")


def test_a_column_is_read_as_a_kind_once_however_often_it_is_drawn(monkeypatch, tmp_path):
    from facetine.data import reread

    asked, read_as = [], reread.as_kind
    monkeypatch.setattr(
        reread, "as_kind", lambda column, kind, where: (asked.append(column.name), read_as(column, kind, where))[1]
    )
    fig = ft.figure({"batch": [1, 2, 1, 2], "mass": [4.1, 3.9, 4.4, 4.0]}).map(x="batch", y="mass", color="batch")
    fig = fig.kinds(batch="category").points().lines(aggregate="mean").facet("batch")
    for form in ("svg", "pdf", "svg"):
        fig.export(tmp_path / f"figure.{form}")
    assert asked == ["batch"]
