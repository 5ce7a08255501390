"""Completion in a real bash: what it proposes behind what has been typed. The other shells get their words from the same table."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import click
import pytest

import facetine as ft
from facetine.cli.completing import WAYS, shell_class
from facetine.cli.main import _COMMANDS, app

BASH = shutil.which("bash")
PLAN = '[data.w]\nfile = "w.csv"\n[figure.firmness]\ndata = "w"\nmap = { x = "ph" }\nlayers = ["histogram"]\n[plate.both]\nrows = [["firmness"]]\n'


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """A folder with data and a plan, and the command in the path."""
    made = tmp_path_factory.mktemp("complete")
    wheels = ft.demo_data("wheels").rename(columns={"eye_mm": "eye (mm)"})
    wheels.to_csv(made / "w.csv", index=False)
    (made / "plan.toml").write_text(PLAN)
    (made / "bin").mkdir()
    (made / "bin/facetine").write_text(f'#!/bin/sh\nexec {sys.executable} -m facetine.cli.main "$@"\n')
    (made / "bin/facetine").chmod(0o755)
    environment = {**os.environ, "PATH": f"{made / 'bin'}:{os.environ['PATH']}"}
    source = subprocess.run(
        ["facetine", "completion", "bash"], env=environment, capture_output=True, text=True, check=True
    ).stdout
    (made / "complete.bash").write_text(source)
    return made, environment


DRIVER = """
source complete.bash
line=$1
COMP_LINE=$line COMP_POINT=${#line} COMP_WORDS=(facetine) COMP_CWORD=1
compopt() { printf "compopt %%s %%s\n" "$@" >&2; }
%s facetine
printf '%%s\\n' "${COMPREPLY[@]}"
"""


def proposed(folder, line):
    """What bash proposes at the end of a line."""
    made, environment = folder
    function = next(word for word in (made / "complete.bash").read_text().split() if word.endswith("()"))[:-2]
    command = [BASH, "--norc", "-c", DRIVER % function, "bash", line]
    done = subprocess.run(command, cwd=made, env=environment, capture_output=True, text=True, check=True)
    return [word for word in done.stdout.split("\n") if word], done.stderr


COLUMNS = {"mass_kg", "moisture_pct", "milk"}
CASES = {
    "facetine ": {"draw", "export", "check", "inspect"},
    "facetine dr": {"draw"},
    "facetine draw w.csv --ma": {"--map", "--marginal"},
    "facetine draw w.csv -m ": {"x=", "y=", "color="},
    "facetine draw w.csv -m x=m": COLUMNS,
    "facetine draw w.csv -m x=eye": {"eye\\ \\(mm\\)"},
    "facetine draw w.csv -m 'x=eye": {"'x=eye (mm)"},
    "facetine draw w.csv -m x=ph -l hi": {"histogram"},
    "facetine draw w.csv -m x=ph -l points:op": {"opacity="},
    "facetine draw w.csv -m x=ph -l points:opacity=0.5,arr": {"0.5,arrange="},
    "facetine draw w.csv -m x=ph -l points:arrange=": {"jitter", "beeswarm"},
    "facetine draw w.csv -m x=ph -s x=l": {"log", "linear"},
    "facetine draw w.csv -m x=ph -s color=palette=or": {"orchard"},
    "facetine draw w.csv -m x=ph --theme le": {"ledger", "lecture"},
    "facetine draw w.csv -m x=ph --set text_s": {"text_size="},
    "facetine draw w.csv -m x=ph --kind bru": {"brushed="},
    "facetine draw w.csv -m x=ph --kind brushed=": {"number", "category"},
    "facetine draw w.csv --derive twice=2*ph -m x=tw": {"twice"},
    "facetine draw w.csv -m x=ph --marginal top=hi": {"histogram"},
    "facetine draw w.csv --read dec": {"decimal="},
    "facetine draw w.csv -m x=ph -f ce": {"cellar"},
    "facetine export plan.toml --only ": {"firmness", "both"},
    "facetine check plan.toml --only fi": {"firmness"},
    "facetine check w.csv --profile p": {"print", "poster"},
    "facetine code plan.toml --only b": {"both"},
    "facetine catalog pal": {"palettes"},
    "facetine completion z": {"zsh"},
}


@pytest.mark.skipif(BASH is None, reason="no bash on this machine")
@pytest.mark.parametrize("line", CASES)
def test_bash_proposes_what_may_follow(folder, line):
    words, _ = proposed(folder, line)
    expected = CASES[line]
    assert expected <= set(words), words


@pytest.mark.skipif(BASH is None, reason="no bash on this machine")
def test_bash_leaves_files_to_itself_and_errors_alone(folder):
    assert "compopt -o default" in proposed(folder, "facetine draw ")[1]
    assert proposed(folder, "facetine draw nothing.csv -m x=") == ([], "")
    # What goes on gets no blank behind it.
    assert "compopt -o nospace" in proposed(folder, "facetine draw w.csv -m x")[1]


@pytest.mark.skipif(BASH is None, reason="no bash on this machine")
def test_what_bash_completes_is_what_the_command_takes(folder):
    made, environment = folder
    line = "facetine draw w.csv -m x=eye"
    (word,) = proposed(folder, line)[0]
    command = [BASH, "-c", f"{line.removesuffix('eye')}{word} -l histogram -o eye.svg"]
    done = subprocess.run(command, cwd=made, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert Path(made / "eye.svg").exists()


@pytest.mark.parametrize("shell", ["bash", "zsh", "fish"])
def test_every_shell_asks_the_same_table(shell, folder, monkeypatch):
    made, _ = folder
    monkeypatch.chdir(made)
    line = ["draw", "w.csv", "-m", "x=ph", "-l"]
    kind = shell_class(shell)
    found = kind(app, {}, "facetine", "_FACETINE_COMPLETE").get_completions(line, "his")
    assert [item.value for item in found] == ["histogram"]
    assert "_FACETINE_COMPLETE" in kind(app, {}, "facetine", "_FACETINE_COMPLETE").source()


def test_options_with_words_of_ours_are_all_completed():
    """No option takes a layer, a column, a theme, a scale or a figure without completion."""
    meant = {"FIGURE", "LAYER", "SCALE", "COLUMN", "COLUMN=KIND", "SETTING=VALUE", "SIDE=LAYER", "AXES", "EXPRESSION"}
    assert len(WAYS) > 12
    for name in _COMMANDS:
        command = app.get_command(click.Context(app), name)
        for parameter in command.params:
            if parameter.metavar in meant:
                assert parameter._custom_shell_complete is not None, (name, parameter.name)
