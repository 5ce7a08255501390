"""Rows and edges said on the command line come out as the verbs say them, with the same errors."""

import subprocess
import sys

import pytest

import facetine as ft


@pytest.fixture
def folder(tmp_path):
    ft.demo_data("wheels").to_csv(tmp_path / "wheels.csv", index=False)
    return tmp_path


def run(folder, *command):
    done = subprocess.run(
        [sys.executable, "-m", "facetine.cli.start", *command], cwd=folder, capture_output=True, text=True, check=False
    )
    assert "Traceback" not in done.stderr
    return done


MAPPED = ("-m", "x=g", "-m", "y=ph", "-l", "points")
ROWS = ("--derive", "g=mass_kg * 1000", "--keep", "age_days > 90", "--keep", "rind <> 'waxed'", "--where", "ph > 5")


def test_a_figure_of_the_command_line_is_that_of_the_verbs(folder):
    edges = ("--marginal", "top=histogram:bins=12", "--marginal", "right=density", "--sample", "60")
    assert run(folder, "draw", "wheels.csv", *MAPPED, *ROWS, *edges, "-o", "a.svg", "-q").returncode == 0
    figure = (
        ft.figure(ft.read(folder / "wheels.csv")).derive(g="mass_kg * 1000").keep("age_days > 90").keep("rind <> 'waxed'")
        .map(x="g", y="ph").points(where="ph > 5").marginal("top", "histogram", bins=12).marginal("right", "density").sample(60)
    )  # fmt: skip
    figure.export(folder / "b.svg")
    assert (folder / "a.svg").read_bytes() == (folder / "b.svg").read_bytes()


@pytest.mark.parametrize(
    ("options", "said"),
    [
        (("--keep", "age_dayz > 90"), "Did you mean 'age_days'"), (("--keep", "random() > 1"), "gives another figure each time"),
        (("--derive", "mass_kg"), "name=value"), (("--marginal", "up=histogram"), "sides: top"), (("--marginal", "top=histgram"), "Did you mean 'histogram'"),
        (("--where", "age_dayz > 90"), "Did you mean 'age_days'"), (("--sample", "0"), "sample"), (("--sample", "many"), "--sample"),
    ],
)  # fmt: skip
@pytest.mark.parametrize("command", ["draw", "check"])
def test_what_is_wrong_is_told_as_by_the_verbs(command, options, said, folder):
    out = ("-o", "a.svg") if command == "draw" else ()
    done = run(folder, command, "wheels.csv", "-m", "x=mass_kg", "-m", "y=ph", "-l", "points", *options, *out)
    assert done.returncode == 2
    assert len(done.stderr.splitlines()) == 1
    assert said in done.stderr
    assert not (folder / "a.svg").exists()


@pytest.mark.slow
def test_where_holds_for_a_figure_that_is_proposed_too(folder):
    assert (
        run(
            folder,
            "draw",
            "wheels.csv",
            "--where",
            "age_days > 90",
            "--keep",
            "ph > 5.2",
            "--numbers",
            "n.csv",
            "-q",
            "-o",
            "a.svg",
        ).returncode
        == 0
    )
    assert (
        run(
            folder, "draw", "wheels.csv", "--keep", "ph > 5.2 AND age_days > 90", "--numbers", "m.csv", "-q", "-o", "b.svg"
        ).returncode
        == 0
    )
    rows = [len((folder / name).read_text().splitlines()) for name in ("n.csv", "m.csv")]
    assert rows[0] <= rows[1] < 241
    wrong = run(folder, "draw", "wheels.csv", "--where", "age_dayz > 90", "-o", "c.svg")
    assert "Did you mean 'age_days'" in wrong.stderr


def test_several_distributions_stand_at_one_side(folder):
    sides = ("--marginal", "top=histogram", "--marginal", "top=rug")
    assert (
        run(folder, "draw", "wheels.csv", "-m", "x=mass_kg", "-m", "y=ph", "-l", "points", *sides, "-q", "-o", "a.svg").returncode
        == 0
    )


def test_the_check_sees_the_same_rows_kinds_and_scales(folder):
    given = ("wheels.csv", "-m", "x=cellar", "-m", "y=mass_kg", "-l", "points", "--kind", "cellar=category")
    found = run(folder, "check", *given, "--scale", "y=log", "--keep", "age_days > 1e9")
    assert found.returncode in (1, 2)
    assert "no row" in (found.stdout + found.stderr).lower() or "0 rows" in found.stdout + found.stderr
    wrong = run(folder, "check", *given, "--scale", "y=lgo")
    assert "Did you mean 'log'" in wrong.stderr
    (folder / "plan.toml").write_text("[figure.f]\n")
    assert "leave --map" in run(folder, "check", "plan.toml", "--keep", "a > 1").stderr
