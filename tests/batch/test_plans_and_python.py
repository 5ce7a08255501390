"""The same sentence as Python, as a part of a plan and back; a figure for each value; figures placed in documents."""

import re
import subprocess
import sys
import tomllib
import zipfile
from pathlib import Path

import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_any_sentence import frame, sentences

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import ExportError, FacetineError, OptionError

FRAME = frame(30, 1, False)


def said(figure):
    """What a figure says; None where a callable stands in it."""
    try:
        return figure.to_dict()
    except FacetineError:
        return None


@settings(deadline=None, suppress_health_check=list(HealthCheck))
@given(st.data())
def test_any_sentence_is_the_same_as_a_plan_and_as_python(data):
    try:
        figure = data.draw(sentences())
    except FacetineError:
        return
    spec = said(figure)
    if spec is None:
        return
    part = tomllib.loads(figure.to_plan("one two", data="d"))["figure"]["one two"]
    assert part.pop("data") == "d"
    assert ft.from_dict(part, FRAME).to_dict() == spec
    verbs = "".join(line.strip() for line in repr(figure).splitlines()[1:])
    assert eval(f"ft.figure(FRAME){verbs}", {"ft": ft, "FRAME": FRAME, "sql": ft.sql}).to_dict() == spec


PLAN = """# My plan.
[plan]
width = "60 mm"  # of the journal

[data.d]
file = "d.csv"

[figure.first]
data = "d"
formats = ["svg"]  # for the web
map = { x = "x", y = "y" }
layers = ["points"]  # one for each row
facet = "k"

[figure.other]
like = "first"
"""


@pytest.fixture
def folder(tmp_path):
    pd.DataFrame({"x": [1.0, 2.0, 3.0, 4.0], "y": [2.0, 1.0, 4.0, 3.0], "k": ["a", "b", "a", "b"]}).to_csv(
        tmp_path / "d.csv", index=False
    )
    (tmp_path / "plan.toml").write_text(PLAN)
    return tmp_path


def test_remarks_in_a_plan_outlive_a_figure_that_is_written_into_it(folder):
    figure = ft.plan(folder / "plan.toml").figure("first").without("points").lines(color="teal").facet(None)
    figure.to_plan("first", folder / "plan.toml")
    text = (folder / "plan.toml").read_text()
    for kept in ("# My plan.", "# of the journal", '["svg"]  # for the web', "[figure.other]", 'data = "d"'):
        assert kept in text, kept
    made = ft.plan(folder / "plan.toml").figure("first")
    assert made.to_dict()["layers"] == [{"lines": {"color": "#008080"}}]
    assert "facet" not in made.to_dict()
    # Once more, nothing changes; another name stands beside it.
    figure.to_plan("first", folder / "plan.toml")
    assert (folder / "plan.toml").read_text() == text
    figure.to_plan("third", folder / "plan.toml", data="d")
    assert ft.plan(folder / "plan.toml").figures == ["first", "other", "third"]


@pytest.mark.parametrize(
    ("call", "error"),
    [
        (lambda figure, folder: figure.to_plan(""), OptionError),
        (lambda figure, folder: figure.to_plan(3), OptionError),
        (lambda figure, folder: figure.to_plan("a", folder / "broken.toml"), ExportError),
        (lambda figure, folder: figure.scale("x", format=str).to_plan("a"), OptionError),
        (lambda figure, folder: figure.export_each("nothing", folder / "{nothing}.svg"), FacetineError),
        (lambda figure, folder: figure.export_each("k", folder / "same.svg"), OptionError),
        (lambda figure, folder: figure.export_each([], folder / "{k}.svg"), OptionError),
        (lambda figure, folder: figure.export_each(3, folder / "{k}.svg"), FacetineError),
        (lambda figure, folder: figure.export_each("k", folder / "{k}.svg", formts=["pdf"]), FacetineError),
    ],
)
def test_what_can_not_be_written_is_said(folder, call, error):
    (folder / "broken.toml").write_text("[a\n")
    figure = ft.figure(pd.read_csv(folder / "d.csv")).map(x="x", y="y").points()
    with pytest.raises(error):
        call(figure, folder)


def test_printed_code_makes_the_same_files(folder):
    export_plan(folder / "plan.toml")
    command = [sys.executable, "-m", "facetine.cli.main", "code", "plan.toml"]
    done = subprocess.run([*command, "--only", "other"], capture_output=True, cwd=folder, timeout=60)
    assert done.returncode == 0, done.stderr
    code = done.stdout.decode()
    names: dict[str, object] = {}
    exec(code, names)
    names["other"].export(folder / "again.svg", width="60 mm")
    again = re.sub(r"again|other", "", (folder / "again.svg").read_text())
    assert again == re.sub(r"again|other", "", (folder / "figures/other.svg").read_text())
    wrong = subprocess.run([*command, "--only", "othr"], capture_output=True, cwd=folder, timeout=60)
    assert wrong.returncode == 2
    assert b"Did you mean 'other'" in wrong.stderr


def test_a_figure_for_each_value_holds_its_rows_alone(folder):
    figure = ft.figure(pd.read_csv(folder / "d.csv")).map(x="x", y="y").points().titles("Rows of {k}")
    done = figure.export_each("k", folder / "out" / "{k}.svg")
    assert [file.path.name for file in done.files] == ["a.svg", "b.svg"]
    for name in ("a", "b"):
        alone = figure.keep(f"k = '{name}'").titles(f"Rows of {name}")
        alone.export(folder / "alone.svg")
        assert (folder / f"out/{name}.svg").read_text() == (folder / "alone.svg").read_text()


def test_documents_of_a_plan_hold_its_figures(folder):
    pytest.importorskip("docx")
    (folder / "plan.toml").write_text(PLAN + '\n[document.report]\nfile = "report.docx"\nfigures = { "Figure 1" = "first" }\n')
    outcomes = export_plan(folder / "plan.toml")
    assert [outcome.state for outcome in outcomes] == ["written"] * 3
    with zipfile.ZipFile(folder / "report.docx") as packed:
        assert any(name.endswith(".svg") for name in packed.namelist())
    for old, new, match in (('"first" }', '"frist" }', "Did you mean 'first'"), ("report.docx", "../report.docx", "leaves")):
        (folder / "plan.toml").write_text(
            (PLAN + '\n[document.report]\nfile = "report.docx"\nfigures = { "Figure 1" = "first" }\n').replace(old, new)
        )
        failed = [outcome for outcome in export_plan(folder / "plan.toml") if outcome.error is not None]
        assert len(failed) == 1
        assert match in str(failed[0].error)


@pytest.mark.slow
def test_printed_code_of_a_whole_plan_makes_every_figure(tmp_path):
    from facetine.batch.coding import variable
    from facetine.data.demo import write_demo_data

    (tmp_path / "deep").mkdir()
    write_demo_data(tmp_path / "deep" / "data")
    source = Path(ft.__file__).parent / "batch" / "demo_plan.toml"
    (tmp_path / "deep" / "plan.toml").write_bytes(source.read_bytes())
    # From another folder than that of the plan, whose database and queries it reaches all the same.
    command = [sys.executable, "-m", "facetine.cli.main", "code", "deep/plan.toml"]
    code = subprocess.run(command, capture_output=True, cwd=tmp_path, timeout=60, check=True).stdout.decode()
    names: dict[str, object] = {}
    exec(code, names)
    plan = ft.plan(tmp_path / "deep" / "plan.toml")
    for name in plan.figures:
        ours, printed = tmp_path / "ours" / f"{name}.svg", tmp_path / "printed" / f"{name}.svg"
        both = [plan.figure(name), names[variable(name)]]
        if name in ("weeks", "kept_rinds", "kept_moisture"):
            # What it responds to is chosen by another figure of its plate, which is drawn too.
            both = [figure.respond(None) for figure in both]
        for figure, path in zip(both, (ours, printed), strict=True):
            figure.export(path, width="180 mm")
        assert ours.read_bytes() == printed.read_bytes(), name
    with pytest.raises(FacetineError, match="Did you mean 'ewe'"):
        plan.table("ewee")


def test_printed_code_tells_sources_from_figures_of_their_names(tmp_path):
    (tmp_path / "a.csv").write_text("x,y\n1,2\n3,4\n")
    figure = 'map = { x = "x", y = "y" }\nlayers = ["points"]\n'
    said = f'[data.a]\nfile = "a.csv"\n[figure.a]\ndata = "a"\n{figure}[figure.b]\ndata = "a"\n{figure}'
    (tmp_path / "plan.toml").write_text(said)
    command = [sys.executable, "-m", "facetine.cli.main", "code", "plan.toml"]
    code = subprocess.run(command, capture_output=True, cwd=tmp_path, timeout=60, check=True).stdout.decode()
    names: dict[str, object] = {}
    exec(code.replace("a.csv", str(tmp_path / "a.csv")), names)
    for name in ("a", "b"):
        assert names[name].export(tmp_path / f"{name}.svg").files
