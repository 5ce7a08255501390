"""Titles of axes name what is drawn along them, with its unit, wherever they are said."""

import numpy as np
import pandas as pd
import pytest
from truth.reading import Sheet

import facetine as ft
from facetine.messages.errors import OptionError

STUDIES = pd.DataFrame({"study": ["p", "q", "r"], "rr": [0.8, 1.2, 1.0], "lo": [0.6, 0.9, 0.7], "hi": [1.1, 1.6, 1.4]})
CODEBOOK = {"rr": {"label": "Relative risk"}}
FOREST = ft.figure(STUDIES, codebook=CODEBOOK)
WHEELS = ft.figure(ft.demo_data("wheels"))


@pytest.mark.parametrize("verb", ["intervals", "points"])
@pytest.mark.parametrize("value", ["x", "y"])
def test_ends_do_not_name_an_axis(verb, value):
    other = "y" if value == "x" else "x"
    mapping = {value: "rr", other: "study", f"{value}_low": "lo", f"{value}_high": "hi"}
    assert Sheet(getattr(FOREST.map(**mapping), verb)()).title(value) == "Relative risk"
    plate = ft.plate([[getattr(FOREST.map(**mapping), verb)(), WHEELS.map(x="rind").bars()]])
    assert "Relative risk" in Sheet(plate, "180 mm").texts()


def test_ends_name_it_where_nothing_else_does():
    sheet = Sheet(FOREST.map(x="study", y_low="lo", y_high="hi").bands())
    assert sheet.title("y") == "Lo / Hi"
    both = FOREST.map(x="study", y="rr", y_low="lo", y_high="hi").bands(map={"y": None}).lines()
    assert Sheet(both).title("y") == "Relative risk"


def test_the_start_of_segments_names_their_axis():
    steps = pd.DataFrame({"a": [1.0, 2], "b": [2.0, 3], "c": [0.0, 1], "d": [1.0, 1]})
    sheet = Sheet(ft.figure(steps).map(x="a", x_to="b", y="c", y_to="d").segments())
    assert (sheet.title("x"), sheet.title("y")) == ("A", "C")


def test_a_mean_on_a_log_axis_is_called_geometric():
    cultures = ft.figure(ft.demo_data("cultures")).map(x=lambda frame: ["all"] * len(frame), y="colonies").scale("y", "log")
    said = Sheet(cultures.intervals(space="axis"))
    assert said.title("y").endswith(", geometric mean")
    assert Sheet(cultures.intervals()).title("y").endswith(", mean")
    values = ft.demo_data("cultures")["colonies"]
    values = values[values > 0]
    (row,) = cultures.intervals(space="axis").numbers(0).to_dict("records")
    assert row["mean"] == pytest.approx(np.exp(np.log(values).mean()))


TIMES = pd.DataFrame({"t": pd.date_range("2030-01-01", periods=50, freq="D")})


@pytest.mark.parametrize(
    ("figure", "axis", "title"),
    [
        (WHEELS.map(x="mass_kg").density(), "y", "Density (per kg)"),
        (WHEELS.map(y="mass_kg").density(), "x", "Density (per kg)"),
        (WHEELS.map(x="mass_kg").density().swap_axes(), "x", "Density (per kg)"),
        (WHEELS.map(x="mass_kg").density().scale("x", "log"), "y", "Density (per decade)"),
        (WHEELS.map(x="mass_kg").density().scale("x", "log", base=2), "y", "Density (per doubling)"),
        (WHEELS.map(x="mass_kg").histogram(measure="density"), "y", "Density (per kg)"),
        (ft.figure(TIMES).map(x="t").density(), "y", "Density (per day)"),
        (WHEELS.map(x="mass_kg", color="milk").histogram(measure="share"), "y", "Share of rows"),
        (WHEELS.map(x="mass_kg").cumulative(), "y", "Share of rows at or below"),
        (WHEELS.map(y="mass_kg").qq(), "x", "Normal quantiles (standard deviations)"),
        (WHEELS.map(y="mass_kg").qq(), "y", "Mass (kg)"),
        (WHEELS.map(y="mass_kg").qq(distribution="exponential"), "x", "Exponential quantiles (multiples of the mean)"),
    ],
)
def test_what_is_computed_says_its_unit(figure, axis, title):
    assert Sheet(figure).title(axis) == title


def test_a_title_is_one_thing_and_the_later_call_wins():
    base = WHEELS.map(x="age_days", y="mass_kg", color="rind").points()
    for aesthetic in ("x", "y"):
        first = base.titles(**{aesthetic: "one"}).scale(aesthetic, title="two")
        assert Sheet(first).title(aesthetic) == "two"
        second = base.scale(aesthetic, title="one").titles(**{aesthetic: "two"})
        assert Sheet(second).title(aesthetic) == "two"
        assert first.to_dict() == second.to_dict()
        assert Sheet(base.titles(**{aesthetic: "one"}).scale(aesthetic, title=None)).title(aesthetic) == Sheet(base).title(
            aesthetic
        )
        assert Sheet(base.scale(aesthetic, title="one").scale(aesthetic, None)).title(aesthetic) == Sheet(base).title(aesthetic)
        kept = base.titles(**{aesthetic: "one"}).scale(aesthetic, reverse=True)
        assert Sheet(kept).title(aesthetic) == "one"
    assert "two" in Sheet(base.titles(color="one").scale("color", title="two")).texts()
    plain = {"map": {"x": "age_days", "y": "mass_kg"}, "layers": ["points"]}
    with pytest.raises(OptionError, match="title of x is said twice"):
        ft.from_dict(plain | {"titles": {"x": "one"}, "scale": {"x": {"title": "two"}}}, ft.demo_data("wheels"))


@pytest.mark.parametrize(
    ("first", "second"), [('titles.x = "one"', 'scale.x.title = "two"'), ('scale.x.title = "one"', 'titles.x = "two"')]
)
def test_a_figure_of_a_plan_says_another_title_in_either_way(first, second, tmp_path):
    ft.demo_data("wheels").to_csv("wheels.csv", index=False)
    text = f"""
[data.wheels]
file = "wheels.csv"
[figure.a]
data = "wheels"
map = {{ x = "age_days", y = "mass_kg" }}
layers = ["points"]
{first}
[figure.b]
like = "a"
{second}
"""
    (tmp_path / "plan.toml").write_text(text)
    figures = ft.plan(tmp_path / "plan.toml")
    assert Sheet(figures.figure("a")).title("x") == "one"
    assert Sheet(figures.figure("b")).title("x") == "two"
    (tmp_path / "plan.toml").write_text(text.replace(first, f"{first}\n{second}"))
    with pytest.raises(OptionError, match="said twice"):
        ft.plan(tmp_path / "plan.toml").figure("a")
