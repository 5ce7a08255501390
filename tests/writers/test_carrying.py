"""Figures that carry their data and their sentence, and what is had again of them."""

import datetime
import decimal
import gzip
import json
from pathlib import Path

import numpy as np
import pandas as pd
import pikepdf
import pytest
from conftest import quietly
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.data.carried import packed, unpacked
from facetine.data.intake import taken_in
from facetine.messages.errors import ExportError, FacetineError, OptionError

WHEELS = ft.demo_data("wheels")
BOOK = {
    "rind": {"label": "Rind *kind*", "words": {"washed": "~w~ashed"}, "order": ["washed", "waxed", "natural", "bloomy"]},
    "age_class": {"from": "age_days", "classes": {"young": [0, 60], "old": [60, 1000]}},
    "mass_kg": {"label": "Mass", "unit": "kg"},
}
CLOUD = ft.figure(WHEELS, codebook=BOOK).map(x="age_days", y="mass_kg", color="rind").points(opacity=0.5).titles("Mass")
FIGURES = {
    "cloud": CLOUD,
    "facets": CLOUD.facet("cellar").trend("loess").scale("x", "log").seed(4),
    "kept": CLOUD.keep("age_days > 60").derive(g="mass_kg * 1000").map(y="g"),
    "classes": ft.figure(WHEELS, codebook=BOOK).map(x="age_class", y="ph", color="milk").boxes(),
    "themed": CLOUD.theme("field", text_size=7).sheet("70 mm", "65 mm"),
    "grades": ft.figure(WHEELS).map(x="grade", color="brushed").bars(),
    "times": ft.figure(ft.demo_data("climate").head(900)).map(x="time", y="temp_c", color="cellar").lines(),
    "labels": ft.figure(WHEELS.head(9)).map(x="age_days", y="ph").points().labels(map={"label": "wheel"}),
    "where": CLOUD.lines(where="milk = 'ewe'", aggregate="mean"),
    "years": ft.figure({"year": [2029, 2030, 2029], "v": [1.5, 2, 3]}).kinds(year="category").map(x="year", y="v").points(),
}  # fmt: skip


@pytest.mark.parametrize("suffix", ["svg", "svgz", "pdf"])
@pytest.mark.parametrize("name", FIGURES)
def test_a_figure_that_is_opened_again_exports_to_the_same_bytes(name, suffix):
    first, second = f"first.{suffix}", f"second.{suffix}"
    quietly(FIGURES[name].export, first, data="embed")
    again = ft.reopen(first)
    quietly(again.figure.export, second, data="embed")
    assert Path(first).read_bytes() == Path(second).read_bytes()


def test_it_looks_as_it_did_without_the_data():
    quietly(CLOUD.export, ["a.svg", "b.svg"])
    quietly(CLOUD.export, "a.svg", data="embed")
    quietly(ft.reopen("a.svg").figure.export, "b.svg", width="85 mm")
    quietly(CLOUD.export, "c.svg")
    assert Path("b.svg").read_bytes() == Path("c.svg").read_bytes()


def test_only_rows_and_columns_that_the_figure_uses_travel():
    fig = CLOUD.keep("rind <> 'waxed'").facet("milk")
    quietly(fig.export, "a.pdf", data="embed")
    again = ft.reopen("a.pdf")
    assert set(again.data.columns) == {"age_days", "mass_kg", "rind", "milk"}
    kept = WHEELS[WHEELS["rind"] != "waxed"]
    assert len(again.data) == len(kept)
    assert again.data["mass_kg"].tolist() == kept["mass_kg"].tolist()
    assert again.data["milk"].tolist() == kept["milk"].tolist()
    assert again.spec["map"] == {"x": "age_days", "y": "mass_kg", "color": "rind"}
    assert "steps" not in again.spec


ODD = {
    "number": [0.1, np.nan, 1e-300, -3.5e17],
    "whole": [1, 2, 3, 4],
    "text": ["a,b", 'say "x"', "line\nbreak", "nul\u2028é"],
    "gaps": ["a", None, "b", None],
    "flags": [True, False, True, True],
    "some": [True, None, False, True],
    "when": pd.to_datetime(["2029-01-01 03:04:05.678901", None, "1969-12-31", "2100-01-01"], format="ISO8601"),
    "zoned": pd.to_datetime(["2029-03-25 00:30", "2029-03-25 02:30", None, "2029-10-28"], format="ISO8601")
    .tz_localize("UTC")
    .tz_convert("Europe/Oslo"),
    "day": [datetime.date(2029, 1, 2), None, datetime.date(1900, 1, 1), datetime.date(2029, 12, 31)],
    "price": [decimal.Decimal("1.10"), decimal.Decimal("2.25"), None, decimal.Decimal("-3.00")],
    "took": pd.to_timedelta(["1h", "2h", None, "90s"]),
    "grade": pd.Categorical(["fine", "plain", None, "fine"], categories=["plain", "fine"], ordered=True),
    "own": pd.Categorical(["z", "a", None, "z"], categories=["z", "q", "a"]),
}


@pytest.mark.parametrize("name", ODD)
def test_columns_of_all_kinds_are_the_same_again(name):
    table = taken_in(pd.DataFrame({name: ODD[name]}), "figure")
    text, told = packed(table, [name])
    before, after = table.column(name), taken_in(unpacked(text, json.loads(json.dumps(told))), "figure").column(name)
    assert (after.kind, after.levels, after.zone, after.stored, after.places) == (
        before.kind, before.levels, before.zone, before.stored, before.places,
    )  # fmt: skip
    assert np.array_equal(before.values, after.values, equal_nan=not before.discrete)
    assert after.own_order == before.own_order


@settings(max_examples=60)
@given(
    st.lists(st.floats(allow_nan=True, allow_infinity=False), min_size=1, max_size=8),
    st.lists(st.text(st.characters(exclude_categories=("Cs",), exclude_characters="\0"), max_size=8), min_size=8, max_size=8),
)
def test_any_numbers_and_texts_are_the_same_again(numbers, texts):
    table = taken_in({"n": np.array(numbers), "t": texts[: len(numbers)]}, "figure")
    text, told = packed(table, ["n", "t"])
    again = taken_in(unpacked(text, told), "figure")
    for name in ("n", "t"):
        assert np.array_equal(
            table.column(name).plain(), again.column(name).plain(), equal_nan=table.column(name).kind == "number"
        )


def test_a_pdf_carries_them_as_associated_files():
    quietly(CLOUD.export, "a.pdf", data="embed", archive=True)
    with pikepdf.open("a.pdf") as pdf:
        found = {str(spec.UF): (str(spec.AFRelationship), str(spec.EF.F.Subtype)) for spec in pdf.Root.AF}
        rows = pdf.attachments["facetine-rows.csv"].get_file().read_bytes().decode()
        assert b"<pdfaid:part>3</pdfaid:part>" in pdf.Root.Metadata.read_bytes()
    assert found == {"facetine-rows.csv": ("/Data", "/text/csv"), "facetine-figure.json": ("/Source", "/application/json")}
    assert rows.splitlines()[0] == "rind,age_days,mass_kg"
    assert len(rows.splitlines()) == 241


@pytest.mark.parametrize(
    ("figure", "options", "error", "said"),
    [
        (CLOUD, {"path": "a.png"}, OptionError, "has no effect on"),
        (CLOUD, {"path": "a.svg", "data": "embd"}, OptionError, "Did you mean 'embed'"),
        (CLOUD.scale("x", format=lambda value: "x"), {"path": "a.svg"}, OptionError, "callable"),
        (ft.plate([[CLOUD, CLOUD]]), {"path": "a.svg"}, OptionError, "not for plates"),
        (ft.figure(None).reference(y=2), {"path": "a.svg"}, OptionError, "no data of its own"),
        (CLOUD.points(data={"age_days": [1.0], "mass_kg": [2.0], "rind": ["waxed"]}), {"path": "a.svg"}, OptionError, "table"),
    ],
)
def test_what_can_not_travel_is_refused(figure, options, error, said):
    with pytest.raises(error, match=said):
        figure.export(**{"data": "embed", **options})
    assert not list(Path().iterdir())


def test_files_that_carry_nothing_or_are_damaged_say_so():
    quietly(CLOUD.export, ["a.svg", "a.pdf"])
    for name in ("a.svg", "a.pdf"):
        with pytest.raises(ExportError, match="carries no data"):
            ft.reopen(name)
    quietly(CLOUD.export, "b.svg", data="embed")
    whole = Path("b.svg").read_text("utf-8")
    Path("c.svg").write_text(whole.replace("H4sI", "H4sJ", 1), "utf-8")
    Path("d.svg").write_text(whole[: len(whole) // 2], "utf-8")
    Path("e.pdf").write_bytes(b"%PDF-1.7 nothing")
    Path("f.svgz").write_bytes(gzip.compress(whole.encode())[:-9])
    for name in ("c.svg", "d.svg", "e.pdf", "f.svgz"):
        with pytest.raises(ExportError, match="reopen"):
            ft.reopen(name)
    for name in ("none.svg", "a.txt"):
        Path("a.txt").write_text("x")
        with pytest.raises(ExportError, match="reopen"):
            ft.reopen(name)
    with pytest.raises(ExportError, match="no path"):
        ft.reopen(3)


@pytest.mark.parametrize("hostile", ["]]></metadata>", "a,b", '"', "<script>", "\u2028", "../x", "é\u4e2d"])
def test_hostile_names_and_values_travel(hostile):
    fig = ft.figure({hostile: [1.0, 2], "k": [hostile, "other"]}).map(x=hostile, y=hostile, color="k").points()
    for name in ("a.svg", "a.pdf"):
        quietly(fig.export, name, data="embed")
        again = ft.reopen(name).data
        assert again[hostile].tolist() == [1, 2]
        assert again["k"].tolist() == [hostile, "other"]


def test_a_changed_sentence_in_a_file_can_only_say_what_a_sentence_can():
    quietly(CLOUD.export, "a.svg", data="embed")
    text = Path("a.svg").read_text("utf-8")
    import base64
    import re

    parts = re.findall(r'(<part name="facetine-figure.json"[^>]*>)([^<]*)', text)
    sentence = json.loads(gzip.decompress(base64.b64decode(parts[0][1])))
    sentence["figure"]["steps"] = [{"keep": "read_text('/etc/hostname') IS NOT NULL"}]
    packed_again = base64.b64encode(gzip.compress(json.dumps(sentence).encode())).decode()
    Path("b.svg").write_text(text.replace(parts[0][1], packed_again), "utf-8")
    with pytest.raises(FacetineError):
        ft.reopen("b.svg")
