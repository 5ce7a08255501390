"""Several files as one table, limits of queries, and queries that give the same rows every time."""

import numpy as np
import pandas as pd
import pytest

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data.readers import read_columns
from facetine.messages.errors import DataError, FacetineError, OptionError, PlanError

PLAN = """
[data.runs]
{source}

[data.some]
from = "runs"
sql = "{sql}"

[figure.one]
data = "some"
map = {{ x = "v", y = "w" }}
layers = ["points"]
"""


@pytest.fixture
def runs(tmp_path):
    for number in range(3):
        rows = {"v": np.arange(4) + 10 * number, "w": np.ones(4)}
        pd.DataFrame(rows if number < 2 else {"w": rows["w"], "v": rows["v"]}).to_csv(
            tmp_path / f"run[{number}].csv", index=False
        )
        pd.DataFrame(rows).to_parquet(tmp_path / f"run{number}.parquet")
    return tmp_path


@pytest.mark.parametrize("pattern", ["run[[]*.csv", "run*.parquet"])
def test_files_in_a_list_are_one_table(runs, pattern):
    files = sorted(runs.glob(pattern))
    assert len(files) == 3
    found = read_columns(files)
    assert found["v"].tolist() == [10 * number + step for number in range(3) for step in range(4)]
    assert read_columns(files, sql="SELECT sum(v) AS s FROM runs", name="runs")["s"].tolist() == [sum(found["v"].tolist())]
    assert len(ft.read(files)) == 12


def test_files_that_do_not_belong_together_are_refused(runs):
    pd.DataFrame({"v": [1], "extra": [2]}).to_csv(runs / "other.csv", index=False)
    with pytest.raises(DataError, match="other.csv has no column 'w'"):
        read_columns([runs / "run[0].csv", runs / "other.csv"])
    with pytest.raises(DataError, match="two kinds"):
        read_columns([runs / "run[0].csv", runs / "run0.parquet"])
    with pytest.raises(DataError, match="none in it"):
        read_columns([])
    with pytest.raises(DataError, match="no file"):
        read_columns([runs / "run[0].csv", runs / "run[7].csv"])


@pytest.mark.parametrize(
    "source", ['glob = "run[[]*.csv"', 'glob = "run?.parquet"', 'file = ["run[0].csv", "run[1].csv", "run[2].csv"]']
)
def test_plans_take_patterns_and_lists_of_files(runs, source):
    (runs / "plan.toml").write_text(PLAN.format(source=source, sql="SELECT * FROM runs WHERE v > 5"))
    (outcome,) = export_plan(runs / "plan.toml")
    assert outcome.error is None, outcome.error
    assert outcome.files


@pytest.mark.parametrize(
    "source", ['glob = "none*.csv"', 'glob = ""', 'glob = "/run*.csv"', "file = []", 'file = "a.csv"\nglob = "*.csv"']
)
def test_wrong_sources_are_one_error(runs, source):
    (runs / "plan.toml").write_text(PLAN.format(source=source, sql="SELECT * FROM runs"))
    try:
        (outcome,) = export_plan(runs / "plan.toml")
    except PlanError:
        return
    assert isinstance(outcome.error, FacetineError)


@pytest.mark.parametrize(
    "sql",
    [
        "SELECT random() AS v, w FROM runs", "SELECT v, w FROM runs WHERE DATE '2030-01-01' < today()", "SELECT v, w FROM runs ORDER BY uuid()",
        "SELECT v, w FROM runs USING SAMPLE 10%", "SELECT v, w FROM (SELECT * FROM runs WHERE v > random()) AS t", "DROP TABLE runs",
        "SELECT v, w FROM runs WHERE getenv('HOME') <> ''",
    ],
)  # fmt: skip
def test_queries_of_plans_give_the_same_rows_every_time(runs, sql):
    (runs / "plan.toml").write_text(PLAN.format(source='glob = "run?.parquet"', sql=sql))
    (outcome,) = export_plan(runs / "plan.toml")
    assert isinstance(outcome.error, OptionError)
    assert "data.some" in str(outcome.error)
    assert not outcome.files


def test_the_limits_of_queries_are_settings(runs):
    file = runs / "run0.parquet"
    endless = "SELECT count(*) AS n FROM runs, range(100000000000) AS r(i) WHERE sqrt(i + v) < 0"
    with ft.defaults(query_seconds=0.5), pytest.raises(DataError, match=r"longer than 0.5 seconds"):
        read_columns(file, sql=endless, name="runs")
    with ft.defaults(query_memory="20 MB"), pytest.raises(FacetineError, match="20 MB"):
        read_columns(file, sql="SELECT list(i) AS l FROM range(50000000) AS r(i)", name="runs")
    assert len(read_columns(file, sql="SELECT * FROM runs", name="runs")["v"]) == 4
    for wrong in (
        {"query_seconds": 0},
        {"query_seconds": "long"},
        {"query_seconds": True},
        {"query_memory": 5},
        {"query_memory": "much"},
    ):
        with pytest.raises(OptionError, match="query_"), ft.defaults(**wrong):
            pass


def test_files_as_a_folder_lists_them_come_in_the_order_of_their_names(runs):
    found = ft.read(runs.glob("run*.parquet"), names="run")
    assert found["run"].tolist() == ["run0"] * 4 + ["run1"] * 4 + ["run2"] * 4
    backwards = iter([runs / "run2.parquet", runs / "run0.parquet"])
    assert read_columns(backwards, names="run")["run"].tolist() == ["run0"] * 4 + ["run2"] * 4
    listed = [runs / "run2.parquet", runs / "run0.parquet"]
    assert read_columns(listed, names="run")["run"].tolist() == ["run2"] * 4 + ["run0"] * 4
    with pytest.raises(DataError, match="a list of files, but none in it"):
        ft.read(runs.glob("none*"))
