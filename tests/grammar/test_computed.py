"""Expressions in the place of columns, and results of intervals of x."""

import json

import numpy as np
import pandas as pd
import pytest
from conftest import notes, svg_of, texts
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import KindError, MappingError, OptionError

FRAME = pd.DataFrame(ft.demo_data("wheels"))
BASE = ft.figure(FRAME)


def test_what_is_mapped_may_be_computed():
    figure = BASE.map(x=ft.sql("mass_kg * 1000"), y="ph", color=ft.sql("ph > 5.3")).points().facet("cellar")
    values = figure.numbers("points")
    own = FRAME.loc[values["row"]]
    assert values["x"].tolist() == pytest.approx((own["mass_kg"] * 1000).tolist())
    assert (values["group"] == "yes").tolist() == (own["ph"] > 5.3).tolist()
    shown = texts(svg_of(figure, 120))
    assert {"Mass kg * 1000", "yes", "no"} <= set(shown)
    assert any(text.endswith("> 5.3") for text in shown)
    assert "Mass (g)" in texts(svg_of(figure.titles(x="Mass (g)"), 120))


def test_plain_data_hold_the_expression_and_make_the_same_figure():
    figure = BASE.map(x=("rind", ft.sql("brushed")), y=ft.sql("ph + 1")).boxes(map={"color": ft.sql("milk = 'cow'")})
    plain = json.loads(json.dumps(figure.to_dict()))
    assert plain["map"]["y"] == {"sql": "ph + 1"}
    again = ft.from_dict(plain, FRAME)
    assert again.to_dict() == figure.to_dict()
    assert svg_of(again, 120)[0].text == svg_of(figure, 120)[0].text
    assert repr(figure).splitlines()[1] == "  .map(x=('rind', sql('brushed')), y=sql('ph + 1'))"


def test_what_is_computed_follows_the_rows_that_are_kept_derived_and_replaced():
    figure = BASE.map(x=ft.sql("mass_kg * 2"), y="ph").points()
    assert figure.derive(mass_kg="mass_kg * 10").numbers("points")["x"].max() == pytest.approx(20 * FRAME["mass_kg"].max())
    late = figure.keep("age_days > 200").numbers("points")
    assert late["x"].max() == pytest.approx(2 * FRAME.query("age_days > 200")["mass_kg"].max())
    assert len(figure.data(FRAME[:20]).numbers("points")) == FRAME[:20]["ph"].notna().sum()
    over = figure.onto(BASE.map(x="mass_kg", y="ph").lines(aggregate="mean"))
    assert over.numbers("points")["x"].tolist() == figure.numbers("points")["x"].tolist()


def test_a_layer_with_data_of_its_own_computes_from_them():
    other = {"kg": [1.0, 2.0], "acid": [5.0, 5.5]}
    figure = BASE.map(x="mass_kg", y="ph").points().lines(data=other, map={"x": ft.sql("kg + 1"), "y": "acid"})
    assert figure.numbers("lines")["x"].tolist() == [2, 3]
    assert figure.change("lines", map={"x": ft.sql("kg * 3"), "y": "acid"}).numbers("lines")["x"].tolist() == [3, 6]


def test_a_plan_may_compute_what_it_maps(tmp_path):
    FRAME.to_csv(tmp_path / "wheels.csv", index=False)
    (tmp_path / "plan.toml").write_text(
        '[data.w]\nfile = "wheels.csv"\n[figure.a]\ndata = "w"\nnumbers = true\n'
        'map = { x = { sql = "mass_kg * 1000" }, y = "ph" }\nlayers = ["points"]\n'
    )
    (outcome,) = export_plan(tmp_path / "plan.toml")
    assert outcome.error is None
    assert pd.read_csv(outcome.numbers.path)["x"].max() == pytest.approx(1000 * FRAME["mass_kg"].max())


@pytest.mark.parametrize(("call", "said"), [
    (lambda: BASE.map(x="mass_kg * 1000"), r"no column 'mass_kg \* 1000' for x(.|\n)*x=facetine.sql\('mass_kg \* 1000'\)"),
    (lambda: BASE.map(x="age_days", y="ph").points(map={"color": "ph > 5"}), r"color=facetine.sql\('ph > 5'\)"),
    (lambda: BASE.map(x=ft.sql("mass * 1000")), "no column 'mass'. Did you mean 'mass_kg'"),
    (lambda: ft.sql("SELECT 1; DROP"), "facetine.sql"),
    (lambda: ft.sql("random()"), "facetine.sql"),
    (lambda: ft.sql(3), "facetine.sql: 3 is no expression"),
    (lambda: BASE.map(x={"sq": "a"}), "an expression is written { sql ="),
    (lambda: BASE.map(x="mass of all"), "^figure.map: no column 'mass of all' for x"),
])  # fmt: skip
def test_what_is_no_expression_is_answered(call, said):
    with pytest.raises((MappingError, OptionError), match=said):
        call()


@given(st.integers(1, 12), st.sampled_from(["mean", "median", "sum", "count", "min", "max"]))
def test_results_of_intervals_are_those_of_their_rows(count, how):
    frame = FRAME.dropna(subset=["ph"])
    values = ft.figure(frame).map(x="age_days", y="ph").points(aggregate=how, bins=count).numbers("points")
    edges = np.linspace(frame["age_days"].min(), frame["age_days"].max(), count + 1)
    place = np.clip(np.searchsorted(edges, frame["age_days"], side="right") - 1, 0, count - 1)
    expected = frame.groupby(place)["ph"].agg(how)
    assert values["x"].tolist() == pytest.approx(((edges[:-1] + edges[1:]) / 2)[expected.index].tolist())
    assert values["y"].tolist() == pytest.approx(expected.tolist())


def test_intervals_may_have_edges_and_those_outside_are_counted():
    figure = BASE.map(x="age_days", y="ph", color="rind")
    lines = figure.lines(aggregate="mean", edges=[0, 50, 100, 150])
    assert set(lines.numbers("lines")["x"]) == {25, 75, 125}
    outside = int((FRAME.dropna(subset=["ph"])["age_days"] > 150).sum())
    assert any(f"{outside} rows outside the edges" in note for note in notes(lines))
    bands = BASE.map(x="age_days", y_low="ph", y_high="firmness_n").bands(aggregate="median", edges=[0, 60, 600]).numbers("bands")
    young = FRAME.query("age_days < 60")
    assert bands.loc[0, ["y_low", "y_high"]].tolist() == [young["ph"].median(), young["firmness_n"].median()]
    areas = BASE.map(x="age_days").areas(aggregate="count", bins=4, map={"y": "ph"}).numbers("areas")
    assert areas["count"].sum() == FRAME["ph"].notna().sum()


@pytest.mark.parametrize(("call", "error", "said"), [
    (lambda f: f.points(bins=5).numbers(), OptionError, "bins= says which rows share a result"),
    (lambda f: f.points(aggregate="mean", bins=0), OptionError, "bins is a whole number from 1"),
    (lambda f: f.points(aggregate="mean", bins="few"), OptionError, "bins is how many"),
    (lambda f: f.points(aggregate="mean", edges=[0, 50, 20]), OptionError, "edges must increase"),
    (lambda f: f.map(x="rind").points(aggregate="mean", bins=3).numbers(), KindError, "x needs numbers"),
])  # fmt: skip
def test_intervals_that_can_not_be_are_refused(call, error, said):
    with pytest.raises(error, match=said):
        call(BASE.map(x="age_days", y="ph"))
