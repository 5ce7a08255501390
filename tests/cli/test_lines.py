"""Lines of commands: what stands in data, plans and paths can't command a terminal, and any encoding can write it."""

import os
import re
import subprocess
import sys

import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.messages.errors import DataError, printable

HOSTILE = "\x1b[31m\x07\x9b2J\u202e\x1b]0;title\x07"
COMMANDING = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u2028-\u202e\u2066-\u2069]")
PLAN = '[data.d]\nfile = "d.csv"\n[figure."f\\u001b[31m"]\ndata = "d"\nmap = {{ x = "a", y = "{y}" }}\nlayers = ["points"]\n'


@pytest.fixture
def folder(tmp_path):
    frame = pd.DataFrame({"a": [1, 2, 3], "k": [f"x{HOSTILE}", "y", None], f"v{HOSTILE}": [1.0, None, 3.0]})
    frame.to_csv(tmp_path / "d.csv", index=False)
    frame.to_csv(tmp_path / "d\x1b[31m.csv", index=False)
    (tmp_path / "fine.toml").write_text(PLAN.format(y="v" + "".join(f"\\u{ord(letter):04x}" for letter in HOSTILE)))
    (tmp_path / "wrong.toml").write_text(PLAN.format(y="none\\u001b[31m"))
    return tmp_path


def run(folder, *command, **environment):
    return subprocess.run(
        [sys.executable, "-m", "facetine.cli.start", *command],
        cwd=folder, env={**os.environ, **environment}, capture_output=True, timeout=60,
    )  # fmt: skip


COMMANDS = [
    ("inspect", "d.csv"),
    ("inspect", "d\x1b[31m.csv"),
    ("draw", "d.csv"),
    ("draw", "d.csv", "-m", f"x=v{HOSTILE}", "-o", "a\x1b[31m.svg"),
    ("draw", "d.csv", "-m", "x=none\x1b[31m"),
    ("draw", "none\x1b[31m.csv"),
    ("export", "fine.toml"),
    ("export", "wrong.toml"),
    ("export", "fine.toml", "--only", "none\x1b[31m"),
    ("check", "fine.toml"),
    ("code", "fine.toml"),
    ("none\x1b[31m",),
    ("draw", "--none\x1b[31m"),
]


@pytest.mark.parametrize("command", COMMANDS, ids=range(len(COMMANDS)))
def test_no_command_passes_on_what_commands_a_terminal(command, folder):
    done = run(folder, *command)
    for stream in (done.stdout, done.stderr):
        assert not COMMANDING.search(stream.decode("utf-8"))
        assert b"Traceback" not in stream
    assert done.stdout or done.stderr


@pytest.mark.parametrize("coding", ["latin-1", "ascii", "cp1252"])
@pytest.mark.parametrize(("command", "code"), [(("inspect", "d.csv"), 0), (("draw", "d.csv", "-m", "x=größe…"), 2)])
def test_any_encoding_can_write_what_is_said(command, code, coding, folder):
    done = run(folder, *command, PYTHONIOENCODING=coding, PYTHONUTF8="0")
    assert done.returncode == code, done.stderr
    assert b"Traceback" not in done.stdout + done.stderr
    (done.stdout + done.stderr).decode(coding)


def test_without_standard_output_a_command_does_its_work(folder):
    command = f"{sys.executable} -m facetine.cli.start draw d.csv -m x=a -m y=a -o a.svg >&-"
    done = subprocess.run(command, shell=True, cwd=folder, capture_output=True, timeout=60)
    assert done.returncode == 0, done.stderr
    assert (folder / "a.svg").stat().st_size > 1000
    assert b"Traceback" not in done.stderr


def test_errors_notes_and_tables_of_python_are_as_plain(folder):
    frame = ft.read(folder / "d.csv")
    with pytest.raises(ft.FacetineError) as caught:
        ft.figure(frame).map(x="none\x1b[31m")
    assert not COMMANDING.search(str(caught.value))
    assert not COMMANDING.search(repr(ft.inspect(frame)))
    with pytest.warns(ft.FacetineFinding) as told:
        ft.figure(frame).map(x="a", y=f"v{HOSTILE}").points().export(folder / "b.svg")
    assert not any(COMMANDING.search(str(one.message)) for one in told)
    assert "\\u001b" in str(caught.value)
    assert "\\u0007" in str(DataError("", "a\x07", "b\x1b"))


@given(st.text())
def test_what_is_shown_holds_no_command_and_the_rest_as_it_is(text):
    shown = printable(text)
    assert not COMMANDING.search(shown)
    assert re.sub(r"\\u[0-9a-f]{4}", "", shown) == re.sub(r"\\u[0-9a-f]{4}", "", COMMANDING.sub("", text).replace("\u061c", ""))


def test_what_led_to_an_error_is_shown_where_that_is_asked_for(folder):
    (folder / "plan.toml").write_text(PLAN.format(y="none"))
    for command in (("export", "plan.toml"), ("draw", "d.csv", "-m", "x=none", "-o", "a.svg")):
        plain, told = run(folder, *command), run(folder, *command, "--debug")
        assert b"Traceback" not in plain.stderr
        assert b"Traceback" in told.stderr
        assert told.returncode == plain.returncode
        assert plain.stderr.split(b" in ")[0].splitlines()[0] in told.stderr
        assert not COMMANDING.search(told.stderr.decode().replace("\n", " "))
