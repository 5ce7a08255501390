"""Whole numbers of more digits than a float holds stay as they are, but for places, which are said to be rounded."""

import numpy as np
import pandas as pd
import polars as pl
import pytest
from conftest import laid_out, quietly
from hypothesis import given, settings
from hypothesis import strategies as st
from truth.reading import Sheet

import facetine as ft

IDS = [9007199254740993, 9007199254740992, 12345678901234567, 12345678901234568, -9007199254740993]
FORMS = {
    "pandas": lambda ids: pd.DataFrame({"id": pd.array(ids, dtype="Int64"), "x": np.arange(float(len(ids)))}),
    "polars": lambda ids: pl.DataFrame({"id": pl.Series(ids, dtype=pl.Int64), "x": np.arange(float(len(ids)))}),
    "lists": lambda ids: {"id": ids, "x": list(range(len(ids)))},
    "objects": lambda ids: {"id": np.array([*ids, None], object)[:-1], "x": np.arange(float(len(ids)))},
}


def file_of(ids, folder, suffix):
    path = folder / f"ids.{suffix}"
    frame = pl.DataFrame({"id": pl.Series(ids, dtype=pl.Int64), "x": np.arange(float(len(ids)))})
    frame.write_csv(path) if suffix == "csv" else frame.write_parquet(path)
    return ft.read(str(path))


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("gap", [False, True])
def test_frames_keep_them(form, gap):
    kept_everywhere(FORMS[form], [*IDS, None] if gap else IDS)


@pytest.mark.parametrize("gap", [False, True])
def test_files_keep_them(tmp_path, gap):
    kept_everywhere(lambda ids: file_of(ids, tmp_path, "parquet"), [*IDS, None] if gap else IDS)


@pytest.mark.parametrize("gap", [False, True])
def test_in_a_text_so_many_digits_are_names(tmp_path, gap):
    found = file_of([*IDS, None] if gap else IDS, tmp_path, "csv")
    assert [value for value in found["id"] if value == value and value is not None] == list(map(str, IDS))
    as_numbers = quietly(ft.figure(found).kinds(id="number").map(x="x", y="id").points().numbers)
    assert as_numbers["y"].dropna().tolist() == list(map(float, IDS))


def kept_everywhere(make, ids):
    words = [str(number) for number in IDS]
    base = ft.figure(make(ids))
    bars = base.kinds(id="category").map(x="id", y="x").bars(bar_width=0.5)
    assert [str(value) for value in quietly(bars.numbers)["x"] if value == value] == words
    drawn = Sheet(bars, "240 mm").texts()
    assert set(words) <= {text.replace("−", "-").replace(",", "") for text in drawn}
    labels = Sheet(base.map(x="x", y="x", label="id").labels(avoid=False), "240 mm")
    assert set(words) <= {text.replace("−", "-") for text in labels.texts()}
    assert not labels.said("whole-numbers-rounded")
    one = base.keep("id = 9007199254740993").map(x="x", y="x", color="id").kinds(id="category").points()
    assert laid_out(one).scales.looks["color"].labels == ("9007199254740993",)
    assert len(quietly(one.numbers)) == 1
    placed = laid_out(base.map(x="id", y="x").points())
    assert [finding.code for finding in placed.findings].count("whole-numbers-rounded") == 1


@settings(max_examples=20, deadline=None)
@given(st.lists(st.integers(-(2**62), 2**62), min_size=2, max_size=8, unique=True))
def test_no_two_of_them_become_one(ids):
    figure = ft.figure({"id": ids, "x": list(range(len(ids)))}).kinds(id="category").map(x="x", y="x", color="id").points()
    assert sorted(map(int, quietly(figure.numbers)["group"])) == sorted(ids)


def test_they_travel_with_the_file(tmp_path):
    figure = ft.figure(FORMS["pandas"]([*IDS, None])).map(x="x", y="x", label="id").labels(avoid=False)
    quietly(figure.export, str(tmp_path / "ids.pdf"), width="240 mm", data="embed")
    again = ft.reopen(str(tmp_path / "ids.pdf"))
    assert set(map(str, IDS)) <= {text.replace("−", "-") for text in Sheet(again.figure, "240 mm").texts()}
