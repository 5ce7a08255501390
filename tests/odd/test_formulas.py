"""Texts that a spreadsheet would compute: quoted where a table is meant for one, and nowhere else; numbers never."""

import csv
import io
import subprocess
import sys

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.export.tables import no_formula
from facetine.messages.errors import OptionError

WORDS = ["=1+1", "@SUM(A1)", "+cmd|' /C calc'!A0", "-2+3", "rind", "-5", "+7.5", "\t=1", "＝1", "- 5 rows", "'quoted", "a=b"]
QUOTED = {"=1+1", "@SUM(A1)", "+cmd|' /C calc'!A0", "-2+3", "\t=1", "＝1", "- 5 rows"}
DATA = {"k": WORDS, "v": np.linspace(-6.0, 5.0, len(WORDS))}


def figure(data=DATA):
    return ft.figure(data).map(x="k", y="v").bars()


@pytest.mark.parametrize("data", [DATA, pl.DataFrame(DATA)])
def test_formulas_are_quoted_for_a_spreadsheet_alone(data):
    plain, quoted = (figure(data).numbers("bars", spreadsheet=wish) for wish in (False, True))
    assert set(plain["x"]) == set(WORDS)
    assert {word[1:] for word in set(quoted["x"]) - set(WORDS)} == QUOTED
    assert list(quoted["y"]) == list(plain["y"])
    assert min(quoted["y"]) < 0


def test_written_tables_are_quoted_where_that_is_said(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    with open("d.csv", "w", newline="") as file:
        csv.writer(file).writerows([["k", "v"], *zip(WORDS, DATA["v"], strict=True)])
    for more in ("", "spreadsheet = true\n"):
        (tmp_path / "plan.toml").write_text(
            '[plan]\nformats = ["svg"]\n[data.d]\nfile = "d.csv"\n[figure.f]\ndata = "d"\nmap = { x = "k", y = "v" }\nlayers = ["bars"]\n'
            f'kinds = {{ k = "category" }}\nnumbers = true\n{more}'
        )
        (outcome,) = export_plan("plan.toml", jobs=1)
        assert outcome.error is None
        words = {row["x"] for row in csv.DictReader(io.StringIO((tmp_path / "figures/f.csv").read_text()))}
        assert ("'=1+1" in words) == bool(more)
        assert "-5" in words
    draw = [
        sys.executable,
        "-m",
        "facetine.cli.start",
        "draw",
        "d.csv",
        "-m",
        "x=k",
        "-m",
        "y=v",
        "-l",
        "bars",
        "-o",
        "a.svg",
        "-q",
    ]
    assert subprocess.run([*draw, "--numbers", "n.csv", "--spreadsheet"], check=False).returncode == 0
    assert "'@SUM(A1)" in (tmp_path / "n.csv").read_text()
    alone = subprocess.run([*draw, "--spreadsheet"], capture_output=True, text=True, check=False)
    assert alone.returncode == 2
    assert "--numbers" in alone.stderr


@given(st.floats(allow_nan=False, allow_infinity=False) | st.integers())
def test_no_number_is_quoted(number):
    assert no_formula(str(number)) == str(number)


@given(st.text())
def test_a_quote_is_all_that_is_added(text):
    assert no_formula(text) in (text, f"'{text}")


def test_a_plan_that_writes_no_numbers_quotes_none(tmp_path):
    (tmp_path / "d.csv").write_text("a,b\n1,2\n")
    (tmp_path / "plan.toml").write_text(
        '[data.d]\nfile = "d.csv"\n[figure.f]\ndata = "d"\nmap = { x = "a", y = "b" }\nlayers = ["points"]\nspreadsheet = true\n'
    )
    (outcome,) = export_plan(tmp_path / "plan.toml", jobs=1)
    assert "numbers = true" in str(outcome.error)


def test_a_wish_is_yes_or_no():
    with pytest.raises(OptionError, match="spreadsheet"):
        figure().numbers(spreadsheet="yes")
