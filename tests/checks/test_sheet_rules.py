"""What the check says of a sheet as a whole, and that it goes on past a figure that is impossible."""

import json
import subprocess
import sys

import pytest

import facetine as ft

WHEELS = ft.demo_data("wheels")


def codes(figure, **size):
    return {one.code: one.severity for one in figure.check(**size)}


def test_panels_that_show_nothing_are_found():
    base = ft.figure(WHEELS).map(x="mass_kg", y="ph").points()
    small = base.facet(rows="milk", columns=["rind", "cellar"])
    assert codes(small, width="160 mm")["panels-small"] == "warning"
    assert "panels-small" not in codes(base.facet("cellar", per_row=2), width="85 mm")
    assert "panels-small" not in codes(base, width="20 mm")


@pytest.mark.parametrize(("title", "lines"), [("One line", 1), ("word " * 90, 3)])
def test_titles_over_two_lines_are_found(title, lines):
    figure = ft.figure(WHEELS).map(x="mass_kg", y="ph").points().titles(title)
    assert ("title-long" in codes(figure, width="85 mm")) == (lines > 2)


@pytest.mark.parametrize(
    ("options", "titles", "said"),
    [
        ({}, {}, False),
        ({"reverse": True}, {}, True),
        ({"reverse": True}, {"y": "pH, reversed"}, False),
        ({"reverse": True}, {"note": "The scale runs downwards."}, False),
    ],
)
def test_a_turned_axis_that_nobody_says_is_found(options, titles, said):
    figure = ft.figure(WHEELS).map(x="mass_kg", y="ph").points().scale("y", **options).titles("t", **titles)
    assert ("axis-backwards" in codes(figure)) == said
    if said:
        fix = next(one.fix for one in figure.check() if one.code == "axis-backwards")
        again = eval(fix, {"figure": figure})
        assert "axis-backwards" not in codes(again)


def test_a_depth_needs_no_word_and_categories_are_not_turned():
    cores = ft.demo_data("cores")
    assert "axis-backwards" not in codes(ft.figure(cores).map(x="salt_pct", y="depth_mm").points().scale("y", reverse=True))
    bars = ft.figure(WHEELS).map(y="rind").bars().scale("y", reverse=True)
    assert "axis-backwards" not in codes(bars)


PLAN = """
[data.wheels]
file = "wheels.csv"
[figure.impossible]
data = "wheels"
map = { x = "mass_kg", y = "rind" }
layers = ["trend"]
[figure.unread]
data = "wheels"
map = { x = "mass_kgs" }
layers = ["histogram"]
[figure.empty]
data = "wheels"
steps = [{ keep = "mass_kg > 1e9" }]
map = { x = "mass_kg" }
layers = ["histogram"]
[figure.nobody]
data = "wheels"
steps = [{ keep = "mass_kg > 1e9" }]
map = { x = "mass_kg" }
layers = ["histogram"]
each = "cellar"
[figure.sound]
data = "wheels"
map = { x = "mass_kg" }
layers = ["histogram"]
"""


def test_the_check_of_a_plan_goes_on_past_impossible_figures_with_their_lines(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    (tmp_path / "plan.toml").write_text(PLAN)
    command = [sys.executable, "-m", "facetine.cli.main", "check", "plan.toml", "--json"]
    done = subprocess.run(command, cwd=tmp_path, capture_output=True, text=True, check=False)
    assert done.returncode == 1
    found = [json.loads(line) for line in done.stdout.splitlines()]
    errors = {one["figure"]: one["error"] for one in found if "error" in one}
    assert set(errors) == {"impossible", "unread", "nobody"}
    assert errors["impossible"].startswith("plan.toml, line ")
    assert "plan.toml, line 10: " in errors["unread"]
    assert next(one["code"] for one in found if one["figure"] == "empty") == "figure-empty"
    done = subprocess.run([*command[:-1]], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert done.stdout.splitlines()[-2:][0].startswith("sound") or "\nsound\n" in done.stdout


def test_an_impossible_figure_of_the_command_line_is_a_wrong_call(tmp_path):
    WHEELS.to_csv(tmp_path / "wheels.csv", index=False)
    command = [sys.executable, "-m", "facetine.cli.main", "check", "wheels.csv", "-m", "x=mass_kg", "-m", "y=rind", "-l", "trend"]
    done = subprocess.run(command, cwd=tmp_path, capture_output=True, text=True, check=False)
    assert (done.returncode, done.stdout) == (2, "")


def test_lengths_on_an_axis_of_times_are_refused():
    days = ft.demo_data("climate").head(5)
    base = ft.figure({"k": list("abcde"), "t": days["time"].to_numpy(), "v": [1.0, 2, 3, 4, 5]})
    for figure in (base.map(x="k", y="t").bars(), base.map(y="k", x="t").bars(), base.map(x="v", y="t").areas()):
        with pytest.raises(ft.KindError, match="is counted from zero, and 't' holds times"):
            figure.export("never.svg")
    # Amounts over time stand on zero as ever.
    assert base.map(x="t", y="v").bars().numbers()["height"].tolist() == [1, 2, 3, 4, 5]


@pytest.mark.parametrize("layer", ["cumulative", "histogram", "bars"])
def test_what_a_layer_computes_is_no_length_on_an_axis_of_times(layer):
    data = {"day": ["2030-01-01", "2030-01-03", "2030-01-09"], "m": [1.0, 2.0, 4.0]}
    fig = getattr(ft.figure(data).map(x="m", y="day").points(), layer)(map={"y": None})
    with pytest.raises(ft.KindError, match=f"{layer}: .*y.* holds times|{layer}: a length on y"):
        fig.export("never.svg")
