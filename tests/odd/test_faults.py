"""Threads, processes and files that do not behave: nothing is torn, nothing is lost, and the wrong file is never read."""

import io
import os
import signal
import stat
import subprocess
import sys
import textwrap
import threading
import time
import xml.etree.ElementTree as ET
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from PIL import Image

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.data.readers import read_columns
from facetine.messages.errors import ExportError, FacetineError

BASE = ft.figure({"a": np.arange(40.0), "b": np.sin(np.arange(40.0)), "k": ["u", "v"] * 20}).map(x="a", y="b", color="k").points()


def read(path):
    """Whether a file is whole."""
    content = Path(path).read_bytes()
    if path.suffix == ".png":
        Image.open(io.BytesIO(content)).load()
    elif path.suffix == ".pdf":
        pikepdf.open(io.BytesIO(content)).close()
    else:
        assert content.rstrip().endswith(b"</svg>")
    return content


def test_threads_export_all_formats_as_one_thread_does(tmp_path):
    def export(number):
        paths = [tmp_path / f"{number}.{suffix}" for suffix in ("png", "pdf", "svg")]
        BASE.titles(f"Figure {number % 4}").export(paths, dpi=60) if number % 2 else [
            BASE.titles(f"Figure {number % 4}").export(path) for path in paths
        ]
        return [read(path) for path in paths]

    alone = {number: export(number) for number in range(4)}
    with ThreadPoolExecutor(8) as pool:
        many = list(pool.map(export, range(40)))
    for number, contents in enumerate(many):
        assert contents == alone[number % 4], number


def test_threads_that_write_one_target_leave_it_whole(tmp_path):
    target = tmp_path / "one.svg"
    failures = []

    def write(number):
        for _ in range(10):
            try:
                BASE.titles(f"Writer {number}").export(target)
                read(target)
            except Exception as problem:
                failures.append(problem)

    threads = [threading.Thread(target=write, args=(number,)) for number in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert not failures
    assert [path.name for path in tmp_path.iterdir()] == ["one.svg"]


def test_killed_exports_leave_no_torn_file_and_their_parts_are_removed(tmp_path):
    code = textwrap.dedent(
        """
        import facetine as ft, numpy as np
        fig = ft.figure({"a": np.arange(20000.0), "b": np.arange(20000.0)}).map(x="a", y="b").points()
        print("ready", flush=True)
        while True:
            fig.export("big.svg")
        """
    )
    for wait in (0.05, 0.2, 0.35):
        process = subprocess.Popen([sys.executable, "-c", code], cwd=tmp_path, stdout=subprocess.PIPE)
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(wait)
        process.send_signal(signal.SIGKILL)
        process.wait()
        process.stdout.close()
        if (tmp_path / "big.svg").exists():
            read(tmp_path / "big.svg")
    from facetine.export import files

    dead = subprocess.Popen([sys.executable, "-c", ""])
    dead.wait()
    left = tmp_path / f".facetine-{files._HOST}-{dead.pid}-00.part"
    left.write_bytes(b"half")
    BASE.export(tmp_path / "after.svg")
    assert not [path.name for path in tmp_path.iterdir() if path.name.startswith(".facetine-")]


def test_modes_are_kept_links_are_followed_and_odd_targets_are_refused(tmp_path):
    target = tmp_path / "real.svg"
    BASE.export(target)
    target.chmod(0o640)
    link = tmp_path / "link.svg"
    link.symlink_to(target)
    BASE.titles("New").export(link)
    assert link.is_symlink()
    assert b"New" in target.read_bytes()
    assert stat.S_IMODE(target.stat().st_mode) == 0o640
    target.chmod(0o440)
    with pytest.raises(ExportError, match="read-only"):
        BASE.export(target)
    os.mkfifo(tmp_path / "pipe.svg")
    with pytest.raises(ExportError, match="no plain file"):
        BASE.export(tmp_path / "pipe.svg")
    (tmp_path / "folder.svg").mkdir()
    with pytest.raises(ExportError):
        BASE.export(tmp_path / "folder.svg")
    null = tmp_path / "null.svg"
    null.symlink_to("/dev/null")
    with pytest.raises(ExportError, match="no plain file"):
        BASE.export(null)


def test_links_that_lead_round_or_nowhere_are_told_or_followed(tmp_path):
    loop, far = tmp_path / "loop.pdf", tmp_path / "far.pdf"
    loop.symlink_to(loop)
    far.symlink_to(tmp_path / "new" / "there.pdf")
    with pytest.raises(ExportError, match=r"can't write .*levels of symbolic links"):
        BASE.export(loop)
    BASE.export(far)
    assert far.is_symlink()
    assert (tmp_path / "new" / "there.pdf").read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize("path", [b"bytes.svg", Path("path.svg"), "text.svg"])
def test_paths_of_every_make_are_taken(path, tmp_path):
    (file,) = BASE.export(path, width=np.float64(80), height=np.int64(50)).files
    assert file.path.exists()
    BASE.export("n.png", dpi=np.int64(40))


@pytest.mark.parametrize(
    "path", ["a\nb.svg", "a\x00.svg", "\x1b.svg", 3.5, object(), ["a.svg", None], "x" * 5000 + ".svg", "\ud800.svg"]
)
def test_impossible_paths_are_refused(path):
    with pytest.raises(FacetineError) as raised:
        BASE.export(path)
    assert len(str(raised.value)) <= 600


@pytest.mark.parametrize("name", ["run[1].csv", "x*.csv", "a?.csv", "{a,b}.csv"])
def test_a_path_is_a_path_and_no_pattern(tmp_path, name):
    for other in ("run1.csv", "xa.csv", "xb.csv", "ab.csv", "a.csv", "b.csv"):
        (tmp_path / other).write_text("v\n99\n", "utf-8")
    with pytest.raises(FacetineError, match="no file"):
        read_columns(tmp_path / name)
    (tmp_path / name).write_text("v\n1\n2\n", "utf-8")
    assert read_columns(tmp_path / name)["v"].tolist() == [1, 2]


def test_a_named_pipe_is_no_table(tmp_path):
    os.mkfifo(tmp_path / "pipe.csv")
    with pytest.raises(FacetineError, match="plain file"):
        read_columns(tmp_path / "pipe.csv")


@pytest.mark.parametrize(
    "plan",
    [
        "a = " + "[" * 3000 + "]" * 3000, "a = 1" + "0" * 5000, "[data.x]\nfile = 'a\\u0000.csv'", "[figure.one]\nlayers = 3", "\x00", "[plan]\nout = '../..'",
        "[data.w]\nfile = 'w.csv'\nsql = ''\n[figure.one]\ndata = 'w'\nlayers = ['points']", "[data.w]\nfile = 'w.csv'\nsql = 'DROP TABLE w'\n[figure.one]\ndata = 'w'\nmap = { x = 'v' }\nlayers = ['rug']",
    ],
)  # fmt: skip
def test_odd_plans_are_one_error_each(tmp_path, plan):
    (tmp_path / "w.csv").write_text("v\n1\n2\n", "utf-8")
    (tmp_path / "plan.toml").write_text(plan, "utf-8")
    done = subprocess.run(
        [sys.executable, "-m", "facetine.cli.start", "export", str(tmp_path / "plan.toml")],
        capture_output=True,
        text=True,
        cwd=tmp_path,
        check=False,
    )
    assert done.returncode in (1, 2), done.stderr
    assert "Traceback" not in done.stderr
    assert len(done.stderr) <= 800
    assert not (tmp_path.parent / "one.pdf").exists()


def test_a_byte_order_mark_is_no_part_of_a_plan_or_codebook(tmp_path):
    (tmp_path / "w.csv").write_text("v\n1\n2\n", "utf-8")
    (tmp_path / "plan.toml").write_text(
        "\ufeff[data.w]\nfile = 'w.csv'\n[figure.one]\ndata = 'w'\nmap = { x = 'v' }\nlayers = ['rug']\n", "utf-8"
    )
    (outcome,) = export_plan(tmp_path / "plan.toml")
    assert outcome.error is None, outcome.error


def test_a_closed_or_full_output_is_no_traceback(tmp_path):
    BASE  # noqa: B018
    (tmp_path / "w.csv").write_text("v\n1\n2\n", "utf-8")
    command = [sys.executable, "-m", "facetine.cli.start", "draw", "w.csv", "--map", "x=v", "--layer", "rug", "-o", "a.svg"]
    with open("/dev/full", "w", encoding="utf-8") as full:
        done = subprocess.run(command, stdout=full, stderr=subprocess.PIPE, text=True, cwd=tmp_path, check=False)
    assert "Traceback" not in done.stderr
    reader, writer = os.pipe()
    os.close(reader)
    done = subprocess.run(command, stdout=writer, stderr=subprocess.PIPE, text=True, cwd=tmp_path, check=False)
    os.close(writer)
    assert "Traceback" not in done.stderr


@pytest.mark.skipif(not Path("/proc").exists(), reason="what a process has loaded can be seen in /proc alone")
def test_an_interrupt_is_one_line_and_its_own_exit_code(tmp_path):
    (tmp_path / "w.csv").write_text("v\n" + "\n".join(map(str, range(200_000))), "utf-8")
    command = [
        sys.executable,
        "-m",
        "facetine.cli.start",
        "draw",
        "w.csv",
        "--map",
        "x=v",
        "--map",
        "y=v",
        "--layer",
        "points",
        "-o",
        "a.png",
    ]
    for wait in (0.0, 0.45):
        process = subprocess.Popen(command, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL, text=True, cwd=tmp_path)
        # Before our first line runs, the interpreter answers an interrupt in its own words.
        while process.poll() is None and "numpy" not in Path(f"/proc/{process.pid}/maps").read_text("utf-8"):
            time.sleep(0.01)
        time.sleep(wait)
        process.send_signal(signal.SIGINT)
        _, said = process.communicate(timeout=30)
        if process.returncode != 0:
            assert "Traceback" not in said, said
            assert process.returncode in (130, -2), said


@pytest.mark.slow
def test_an_interrupt_ends_a_query_at_once(tmp_path):
    (tmp_path / "rows.csv").write_text("v\n1\n2\n")
    endless = "SELECT v, count(*) AS n FROM a, range(100000000000) AS r(i) WHERE sqrt(i + v) < 0 GROUP BY v"
    figure = '[figure.x]\ndata = "b"\nmap = { x = "v", y = "n" }\nlayers = ["points"]\n'
    (tmp_path / "plan.toml").write_text(f'[data.a]\nfile = "rows.csv"\n[data.b]\nfrom = "a"\nsql = "{endless}"\n{figure}')
    call = [sys.executable, "-m", "facetine.cli.start", "export", "plan.toml"]
    process = subprocess.Popen(call, cwd=tmp_path, stderr=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    time.sleep(5)
    started = time.perf_counter()
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=50)
    assert process.returncode == 130, said
    assert time.perf_counter() - started < 5
    assert "Traceback" not in said
    assert len(said.splitlines()) == 1, said


@pytest.mark.slow
def test_many_categories_and_labels_take_seconds():
    count = 100_000
    started = time.perf_counter()
    figure = ft.figure({"k": [f"k{number}" for number in range(count)], "v": np.arange(float(count))}).map(x="k", y="v").points()
    done = figure.export("many.svg")
    assert time.perf_counter() - started < 9
    assert any("leave space for the name" in note.text for note in done.findings)
    rng = np.random.default_rng(1)
    data = {"x": rng.normal(size=2000), "y": rng.normal(size=2000), "k": [f"W{number:04d}" for number in range(2000)]}
    started = time.perf_counter()
    done = ft.figure(data).map(x="x", y="y", label="k").labels(avoid=True).export("labels.svg", width="180 mm")
    assert time.perf_counter() - started < 6
    (lost,) = [note for note in done.findings if note.code == "labels-left-out"]
    drawn = sum(text.startswith("W") for text in ET.parse("labels.svg").getroot().itertext())
    assert lost.text.startswith(f"{2000 - drawn:,} labels left out")
    assert drawn > 100
