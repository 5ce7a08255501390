"""A run reads the columns that its figures use, and shares these with its processes."""

import sqlite3
from pathlib import Path

import numpy as np
import pandas as pd
import pytest

import facetine as ft
from facetine.batch.making import Figures
from facetine.batch.plan import read_plan
from facetine.batch.runner import export_plan
from facetine.batch.running import _shared
from facetine.batch.sources import Sources
from facetine.batch.tasks import tasks_of
from facetine.messages.errors import DataError

WHEELS = ft.demo_data("wheels")
PLAN = """
[plan]
formats = ["svg", "pdf"]

[data.d]
{source}

[codebook.age_class]
from = "age_days"
classes = {{ young = [0, 90], old = [90, 1000] }}

[figure.one]
data = "d"
map = {{ x = "mass_kg", y = "ph", color = "age_class" }}
steps = [{{ keep = "moisture_pct > 30" }}]
layers = ["points"]

[figure.two]
data = "d"
map = {{ x = "rind" }}
layers = ["bars"]
each = "cellar"
"""
USED = ["cellar", "rind", "age_days", "mass_kg", "moisture_pct", "ph"]


def states(outcomes):
    return [outcome.state for outcome in outcomes]


def drawn(folder):
    return {str(path.relative_to(folder)): path.read_bytes() for path in folder.rglob("*") if path.suffix in (".svg", ".pdf")}


def database(path, rows=WHEELS):
    """A database whose view has a column that can't be read."""
    connection = sqlite3.connect(path)
    with connection:
        connection.execute("DROP VIEW IF EXISTS wheels")
        rows.to_sql("plain", connection, index=False, if_exists="replace")
        connection.execute("CREATE VIEW wheels AS SELECT *, json(rind || '{') AS broken FROM plain")
    connection.close()


SOURCES = {
    "database": 'database = "sqlite:///w.db"\ntable = "wheels"\nrow_order = "wheel"',
    "table of a file": 'file = "w.db#wheels"',
    "parquet": 'file = "w.parquet"',
}


@pytest.fixture
def folder(tmp_path):
    database(tmp_path / "w.db")
    WHEELS.to_parquet(tmp_path / "w.parquet")
    WHEELS.to_csv(tmp_path / "w.csv", index=False)
    return tmp_path


@pytest.mark.parametrize("kind", SOURCES)
@pytest.mark.parametrize("jobs", [1, 2])
def test_a_run_that_reads_some_columns_draws_what_one_of_all_columns_does(folder, kind, jobs):
    for name, source in (("some", SOURCES[kind]), ("all", 'file = "w.csv"')):
        plan = folder / f"{name}.toml"
        plan.write_text(PLAN.format(source=source))
        outcomes = export_plan(plan, out=folder / name, jobs=jobs)
        assert states(outcomes) == ["written"] * 5, [outcome.error for outcome in outcomes]
    assert drawn(folder / "some") == drawn(folder / "all")
    assert len(drawn(folder / "some")) == 10
    with pytest.raises(DataError):
        ft.read(folder / "w.db", sql="SELECT broken FROM wheels")


@pytest.mark.parametrize("kind", SOURCES)
def test_what_is_shared_are_the_columns_that_figures_may_ask_for(folder, kind):
    plan_file = folder / "plan.toml"
    plan_file.write_text(PLAN.format(source=SOURCES[kind]))
    plan = read_plan(plan_file)
    sources = Sources(plan)
    figures = Figures(plan, sources)
    _shared(plan, tasks_of(plan, None, folder / "out", figures), sources, folder / "store")
    assert sorted(sources.table("d").read) == sorted(USED)
    other = Sources(plan, folder / "store").table("d")
    assert sorted(other.read) == sorted(USED)
    assert [name for name in other if name != "broken"] == list(WHEELS.columns)
    assert other["mass_kg"].tolist() == WHEELS["mass_kg"].tolist()
    assert isinstance(other["mass_kg"], np.memmap)
    if kind == "parquet":
        assert other["milk"].tolist() == WHEELS["milk"].tolist()


def test_only_columns_that_are_used_make_a_figure_of_a_database_anew(folder):
    plan = folder / "plan.toml"
    plan.write_text(PLAN.format(source=SOURCES["database"]))
    export_plan(plan)
    database(folder / "w.db", WHEELS.assign(eye_mm=0.0))
    assert states(export_plan(plan)) == ["unchanged"] * 5
    database(folder / "w.db", WHEELS.assign(age_days=WHEELS["age_days"] + 1))
    assert states(export_plan(plan)) == ["written"] * 5


def test_a_query_over_a_source_reads_what_it_names(folder):
    plan = folder / "plan.toml"
    late = '[data.late]\nfrom = "d"\nsql = "SELECT cellar, ph FROM d WHERE age_days > 200 ORDER BY wheel"\n'
    figure = '[figure.a]\ndata = "late"\nmap = { x = "cellar", y = "ph" }\nlayers = ["boxes"]\n'
    for source, fine in (
        (SOURCES["parquet"], True),
        ('database = "sqlite:///w.db"\nsql = "SELECT cellar, ph, wheel FROM plain"', False),
    ):
        plan.write_text(f"[data.d]\n{source}\n{late}{figure}")
        outcome = export_plan(plan, force=True)[0]
        assert (outcome.error is None) == fine
        if not fine:
            assert "age_days" in str(outcome.error)
    table = ft.plan(plan)
    assert list(table.table("d")) == ["cellar", "ph", "wheel"]


def test_a_table_of_a_plan_has_all_its_columns(folder):
    plan = folder / "plan.toml"
    plan.write_text(PLAN.format(source=SOURCES["parquet"]))
    table = ft.plan(plan).table("d")
    assert type(table) is dict
    assert pd.DataFrame(table)["grade"].astype(object).fillna("").tolist() == WHEELS["grade"].astype(object).fillna("").tolist()


def test_draw_reads_the_columns_that_it_is_told_of(folder, monkeypatch):
    from facetine.cli.start import main

    monkeypatch.chdir(folder)
    said = [
        "draw",
        "w.db#wheels",
        "-m",
        "x=ph",
        "-l",
        "points:color=teal",
        "-f",
        "cellar",
        "-m",
        "y=mass_kg",
        "-o",
        "o.svg",
        "-q",
    ]
    monkeypatch.setattr("sys.argv", ["facetine", *said])
    with pytest.raises(SystemExit) as ended:
        main()
    assert not ended.value.code
    assert Path("o.svg").stat().st_size > 5000


def test_rows_that_a_database_has_not_taken_in_yet_are_seen(folder):
    plan = folder / "plan.toml"
    plan.write_text(PLAN.format(source=SOURCES["table of a file"]))
    connection = sqlite3.connect(folder / "w.db")
    connection.execute("PRAGMA journal_mode = wal")
    connection.execute("PRAGMA wal_autocheckpoint = 0")
    export_plan(plan)
    assert states(export_plan(plan)) == ["unchanged"] * 5
    before = (folder / "w.db").read_bytes()
    with connection:
        connection.execute("UPDATE plain SET ph = ph + 0.1 WHERE rowid < 50")
    assert (folder / "w.db").read_bytes() == before
    assert states(export_plan(plan)) == ["written"] * 5
    connection.close()
