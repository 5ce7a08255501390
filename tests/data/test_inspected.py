"""What a table holds at a glance, and the codebook to begin with."""

import tomllib
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.data.codebook import Codebook
from facetine.data.inspected import facts, starter_codebook
from facetine.data.intake import taken_in
from facetine.layers.suggest import suggest

FRAME = pd.DataFrame(
    {
        "mass_kg": [1.5, None, 3.25],
        "count": [1, 20000, 3],
        "kind": ["b", "a", None],
        "grade": pd.Categorical(["low", "high", "low"], ["low", "high"], ordered=True),
        "when": pd.to_datetime(["2030-01-01", "2030-02-01 14:30", None], format="mixed"),
        "done": [True, False, True],
        "empty": [np.nan, np.nan, np.nan],
    }
)


def told():
    return {fact.name: fact for fact in facts(taken_in(FRAME, "test"))}


def test_every_column_is_told_with_kind_range_and_gaps():
    found = told()
    assert list(found) == list(FRAME.columns)
    assert {name: fact.kind for name, fact in found.items()} == {
        "mass_kg": "number", "count": "number", "kind": "category", "grade": "ordered", "when": "time", "done": "yes_no",
        "empty": "number",
    }  # fmt: skip
    assert {name: fact.missing for name, fact in found.items() if fact.missing} == {
        "mass_kg": 1,
        "kind": 1,
        "when": 1,
        "empty": 3,
    }
    assert found["mass_kg"].range == "1.5 … 3.25"
    assert found["count"].range == "1 … 20,000"
    assert found["kind"].range == "a, b"
    assert found["grade"].range == "low, high"
    assert found["when"].range == "01 Jan 2030 … 01 Feb 2030 14:30"
    assert found["done"].range == "no, yes"
    assert found["empty"].range == "no value"


def test_many_categories_are_cut_short():
    frame = {"site": [f"site {number}" for number in range(20)]}
    (fact,) = facts(taken_in(frame, "test"))
    assert fact.range.startswith("site 0, site 1, ")
    assert fact.range.endswith(", …")
    assert fact.distinct == 20


def test_a_starter_holds_labels_units_and_orders():
    book = tomllib.loads(starter_codebook(taken_in(FRAME, "test")))["codebook"]
    assert book["mass_kg"] == {"label": "Mass", "unit": "kg"}
    assert book["kind"]["order"] == ["a", "b"]
    assert book["grade"]["order"] == ["low", "high"]
    assert "unit" not in book["when"]


@given(st.lists(st.text(max_size=12), min_size=1, max_size=5, unique=True), st.text(max_size=6))
def test_a_starter_of_any_names_and_categories_is_a_codebook(names, category):
    frame = {name: [category, "other"] for name in names}
    table = taken_in(frame, "test")
    text = starter_codebook(table)
    given_entries = tomllib.loads(text)["codebook"]
    assert set(given_entries) == set(names)
    Codebook.of(given_entries)


def test_a_starter_changes_no_figure():
    wheels = ft.demo_data("wheels")
    Path("book.toml").write_text(starter_codebook(taken_in(wheels, "test")), "utf-8")
    plain = ft.figure(wheels).map(x="age_days", y="mass_kg", color="rind").points()
    booked = ft.figure(wheels, codebook="book.toml").map(x="age_days", y="mass_kg", color="rind").points()
    plain.export("plain.svg")
    booked.export("booked.svg")
    assert Path("plain.svg").read_bytes() == Path("booked.svg").read_bytes()


KINDS = ("mass_kg", "kind", "grade", "when", "done")


@pytest.mark.parametrize("x", KINDS)
@pytest.mark.parametrize("y", [*KINDS, None])
@pytest.mark.parametrize("rows", [3, 200])
def test_every_suggestion_can_be_drawn(x, y, rows):
    from conftest import laid_out

    frame = pd.concat([FRAME] * (rows // 3), ignore_index=True)
    found = suggest(frame, x=x, y=y)
    assert found
    for suggestion in found:
        assert suggestion.reason
        mapping = {"x": x} | ({"y": y} if y is not None else {})
        if suggestion.layer == "bars" and y is None:
            mapping = {"x": x}
        figure = ft.figure(frame).map(**mapping)
        made = laid_out(getattr(figure, suggestion.layer)())
        assert made.scene.texts()
