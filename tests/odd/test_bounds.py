"""Bounds of memory and time hold whatever a plan asks, and one figure's failure is no other's."""

import json
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pandas as pd
import pytest

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data import apart as asking
from facetine.data.sql import LIMITS, Limits
from facetine.messages.errors import DataError, FacetineError

FIGURE = '[figure.{name}]\ndata = "{name}"\nmap = {{ x = "a", y = "a" }}\nlayers = ["points"]\n{more}\n'
# Runs a command in a process of its own, so that what other tests have run does not count.
MEASURED = """
import resource, subprocess, sys
code = subprocess.run(sys.argv[1:], check=False).returncode
print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss, file=sys.stderr)
sys.exit(code)
"""
COUNTING = "WITH RECURSIVE n(a) AS (SELECT 1 UNION ALL SELECT a + 1 FROM n WHERE a < {most}) SELECT {what} FROM n"


@pytest.fixture
def folder(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    sqlite3.connect("cellar.db").close()
    made = sqlite3.connect("cellar.db")
    made.execute("CREATE TABLE t (a)")
    made.commit()
    made.close()
    pd.DataFrame({"a": np.arange(400.0)}).to_csv("t.csv", index=False)
    return tmp_path


def plan_of(**sources):
    lines = ['[plan]\nformats = ["svg"]']
    for name, (source, more) in sources.items():
        lines += [f"[data.{name}]\n{source}", FIGURE.format(name=name, more=more)]
    Path("plan.toml").write_text("\n".join(lines))


HUNGRY = {
    "a long result of a database": (
        f'database = "sqlite:///cellar.db"\nsql = """{COUNTING.format(most=10**9, what="a")}"""', ""
    ),
    "long texts of a database": (
        'database = "sqlite:///cellar.db"\nsql = """'
        + COUNTING.format(most=10**6, what="a, printf('%.900000c', 'x') AS b") + '"""', ""
    ),
    "a wide result": ("file = \"t.csv\"\nsql = \"SELECT a, repeat('x', 50000000) AS b FROM it\"", ""),
    "an expression": ('file = "t.csv"', "steps = [{ derive = { b = \"repeat('x', 50000000)\" } }]"),
    "a list": ('file = "t.csv"', 'steps = [{ keep = "list_sum(range(300000000 + CAST(a AS INT))) > 0" }]'),
}  # fmt: skip


@pytest.mark.runs
@pytest.mark.skipif(not sys.platform.startswith("linux"), reason="bounds of address space are Linux's")
def test_what_takes_too_much_memory_fails_alone_and_takes_no_more(folder):
    sources = {
        f"s{number}": (said.replace("FROM it", f"FROM s{number}"), more) for number, (said, more) in enumerate(HUNGRY.values())
    }
    plan_of(fine=('file = "t.csv"', ""), **sources)
    command = [sys.executable, "-m", "facetine.cli.start", "export", "plan.toml", "--query-memory", "300 MB"]
    command += ["--query-seconds", "8", "--json"]
    done = subprocess.run([sys.executable, "-c", MEASURED, *command], capture_output=True, text=True, timeout=200, check=False)
    told = {one["figure"]: one for one in map(json.loads, done.stdout.splitlines())}
    assert "fine" in told, done.stdout + done.stderr
    assert told["fine"].get("error") is None
    for name in sources:
        assert "300 MB" in told[name]["error"] or "8 seconds" in told[name]["error"], told[name]
    assert sum("300 MB" in one.get("error", "") for one in told.values()) >= 4
    assert "Traceback" not in done.stderr
    # The largest of all processes that have ended, in kB: what it may ask, its libraries, and room to work.
    assert 50_000 < int(done.stderr.splitlines()[-1]) < 2_200_000


def test_a_query_that_does_not_end_is_ended(folder):
    plan_of(
        slow=('database = "sqlite:///cellar.db"\nsql = """' + COUNTING.format(most=10**12, what="count(*) AS a") + '"""', ""),
        fine=('file = "t.csv"', ""),
    )
    started = time.monotonic()
    with ft.defaults(query_seconds=1):
        slow, fine = export_plan("plan.toml", jobs=1)
    assert "took longer than 1 second" in str(slow.error)
    assert fine.error is None
    assert time.monotonic() - started < 20


def test_a_query_on_an_open_connection_is_ended():
    with sqlite3.connect(":memory:") as opened, ft.defaults(query_seconds=0.5), pytest.raises(DataError, match=r"0\.5 second"):
        ft.read(opened, sql=COUNTING.format(most=10**12, what="count(*)"))
    with sqlite3.connect(":memory:") as opened, ft.defaults(query_memory="1 MB"), pytest.raises(DataError, match="1 MB"):
        ft.read(opened, sql=COUNTING.format(most=10**6, what="a, a || 'text'"))


def test_the_process_that_answers_may_die(folder):
    columns = {"a": np.arange(3.0)}
    assert asking.apart("table", columns, "SELECT a + 1 AS b FROM t", "t", "test")["b"].tolist() == [1, 2, 3]
    (running,) = asking._RUNNING
    running.process.kill()
    running.process.wait()
    assert asking.apart("table", columns, "SELECT a + 1 AS b FROM t", "t", "test")["b"].tolist() == [1, 2, 3]


@pytest.mark.parametrize(
    "values",
    [
        np.array([1.5, np.nan]), np.array([1, 2**53]), np.array(["a", None], object), np.array([True, False]),
        np.array(["2030-01-01", "NaT"], "datetime64[us]"), np.ma.masked_array([1, 2], [False, True]), np.array([], float),
        np.arange(3_000_000.0), np.array(["x" * 30] * 50_000, object),
    ],
)  # fmt: skip
def test_answers_come_whole(values):
    there = asking.apart("table", {"a": values}, "SELECT a FROM t", "t", "test")["a"]
    here = asking._of_table({"a": values}, "SELECT a FROM t", "t", "test")["a"]
    assert type(there) is type(here)
    assert there.dtype == here.dtype
    assert np.ma.getmaskarray(there).tolist() == np.ma.getmaskarray(here).tolist()
    assert repr(there.tolist()) == repr(here.tolist())


def test_zones_and_notes_come_with_the_answer(folder):
    zoned = asking.in_zone(np.array(["2030-06-01T12:00"], "datetime64[us]"), "Asia/Tokyo")
    assert asking.zone_of(asking.apart("table", {"a": zoned}, "SELECT a FROM t", "t", "test")["a"]) == "Asia/Tokyo"
    Path("s.csv").write_text("a;b\n1;2\n3;4\n")
    with pytest.warns(ft.FacetineFinding, match="semicolons"):
        asking.apart("files", "s.csv", "SELECT * FROM s", {"name": "s"}, "test")


def test_an_answer_ends_where_the_default_limit_ends(monkeypatch):
    assert Limits().memory == "4 GB"
    LIMITS.set(Limits(60.0, "10 MB"))
    try:
        with pytest.raises(FacetineError, match="10 MB"):
            asking.apart("rows", {"a": np.arange(1.0)}, "SELECT unnest(range(5000000)) AS b FROM given", "test")
    finally:
        LIMITS.set(Limits())


def test_whatever_a_reader_raises_is_its_sources_failure(folder, monkeypatch):
    import facetine.batch.sources as sources

    plan_of(odd=('file = "odd.csv"', ""), fine=('file = "t.csv"', ""))
    Path("odd.csv").write_text("a\n1\n2\n")
    real = sources.columns_of

    def failing(files, *rest, **said):
        if "odd" in str(files):
            raise ZeroDivisionError("of a driver")
        return real(files, *rest, **said)

    monkeypatch.setattr(sources, "columns_of", failing)
    odd, fine = export_plan("plan.toml", jobs=1)
    assert "ZeroDivisionError: of a driver" in str(odd.error)
    assert fine.error is None
    assert Path("figures/index.html").exists()
