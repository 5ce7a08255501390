"""What goes wrong around a run: no room on the disk, folders that can't be written, data that change or go away."""

import os
import shutil
import subprocess
import sys

import pytest
from test_runs import COMMAND, FIGURE, HEAD, contents, write

pytestmark = pytest.mark.runs

ENV = os.environ | {"PYTHONPATH": os.pathsep.join(filter(None, sys.path))}


def export(folder, *options):
    done = subprocess.run([*COMMAND, "plan.toml", *options], cwd=folder, capture_output=True, timeout=120, env=ENV)
    return done.returncode, done.stdout.decode(), done.stderr.decode()


@pytest.fixture
def small_disk(tmp_path):
    """A folder with room for some of the figures."""
    folder = tmp_path / "small"
    folder.mkdir()
    made = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=300k", "tmpfs", folder], capture_output=True, check=False)
    if made.returncode:
        pytest.skip("no right to mount a file system here")
    yield folder
    subprocess.run(["umount", "-l", folder], check=True)


def test_a_full_disk_fails_what_has_no_room_and_leaves_the_rest_whole(small_disk, tmp_path):
    write(small_disk, 60)
    code, _, err = export(small_disk)
    assert code == 1
    failed = [line for line in err.splitlines() if "No space left" in line]
    assert len(failed) >= 20
    assert "Traceback" not in err
    (tmp_path / "room").mkdir()
    write(tmp_path / "room", 60)
    assert export(tmp_path / "room", "-q")[0] == 0
    whole, there = contents(tmp_path / "room/figures"), contents(small_disk / "figures")
    assert 20 <= len(there) < len(whole)
    assert all(whole[name] == content for name, content in there.items())


def test_what_stands_in_the_way_of_a_folder_or_file_is_said(tmp_path):
    write(tmp_path, 3)
    (tmp_path / "figures").write_text("a file")
    code, _, err = export(tmp_path)
    assert code == 2
    assert err.splitlines()[-1].startswith("facetine: export: can't write in")
    (tmp_path / "figures").unlink()
    (tmp_path / "figures/f01.svg").mkdir(parents=True)
    code, _, err = export(tmp_path)
    assert code == 1
    assert "f01" in err
    assert (tmp_path / "figures/f02.svg").exists()


@pytest.mark.parametrize("fault", ["cut", "gone", "emptied", "of another kind"])
def test_data_that_change_between_runs_fail_their_figures_alone(tmp_path, fault):
    write(tmp_path, 2)
    shutil.copy(tmp_path / "d.csv", tmp_path / "e.csv")
    with (tmp_path / "plan.toml").open("a") as plan:
        plan.write('[data.e]\nfile = "e.csv"\n' + FIGURE.format(name="other", title="other").replace('"d"', '"e"'))
    assert export(tmp_path)[0] == 0
    data, before = tmp_path / "d.csv", contents(tmp_path / "figures")
    text = data.read_text()
    if fault == "gone":
        data.unlink()
    else:
        data.write_text(
            {"cut": text[: len(text) // 2 - 3].replace("x,y", "x,z"), "emptied": "", "of another kind": "\0\1" * 50}[fault]
        )
    code, _, err = export(tmp_path)
    assert code == 1
    assert "Traceback" not in err
    told = [line for line in err.splitlines() if line.startswith("facetine: f0")]
    assert len(told) == 2
    after = contents(tmp_path / "figures")
    assert after["other.svg"] == before["other.svg"]
    assert "1 unchanged, 2 failed" in err
    data.write_text(text)
    assert export(tmp_path)[0] == 0
    assert contents(tmp_path / "figures") == before


def test_data_cut_while_figures_are_drawn_are_those_that_were_read(tmp_path):
    write(tmp_path, 40, rows=20_000)
    running = subprocess.Popen(
        [*COMMAND, "plan.toml", "-j", "2"], cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=ENV
    )
    assert running.stdout is not None
    running.stdout.readline()
    text = (tmp_path / "d.csv").read_bytes()
    # At the end of a line: a line that is cut is refused, which an own test holds.
    (tmp_path / "d.csv").write_bytes(text[: text.find(b"\n", len(text) // 3) + 1])
    _, err = running.communicate(timeout=120)
    assert running.returncode == 0, err
    drawn = contents(tmp_path / "figures")
    # The next run sees that the data are others, and draws from them.
    code, _, err = export(tmp_path)
    assert code == 0
    assert "80 files of 40 figures written" in err
    again = contents(tmp_path / "figures")
    assert all(again[name] != content for name, content in drawn.items())


def test_a_database_that_is_gone_fails_its_figures_alone(tmp_path):
    head = (
        HEAD
        + '[data.gone]\ndatabase = "sqlite:///gone.db"\ntable = "d"\n[data.far]\ndatabase = "postgresql://127.0.0.1:1/d"\nsql = "SELECT 1 AS x, 2 AS y"\n'
    )
    write(tmp_path, 1, head)
    with (tmp_path / "plan.toml").open("a") as plan:
        for name in ("gone", "far"):
            plan.write(FIGURE.format(name=name, title=name).replace('data = "d"', f'data = "{name}"'))
    code, out, err = export(tmp_path)
    assert code == 1
    assert "f00.svg" in out
    assert "Traceback" not in err
    assert [line.split()[1] for line in err.splitlines() if line.startswith("facetine: ")] == ["gone:", "far:"]
