"""Very much of anything: drawn in seconds, or refused at once with what would do instead."""

import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from conftest import quietly

import facetine as ft
from facetine.core.scales.position import in_natural_order, natural_key
from facetine.messages.errors import FacetineError

RNG = np.random.default_rng(5)


def rows(count, **more):
    return ft.figure({"x": RNG.normal(size=count), "y": RNG.normal(size=count), "k": [f"c{i}" for i in range(count)]} | more)


def bars():
    return ft.figure({"k": ["a"], "v": [1.0]}).map(x="k", y="v")


REFUSED = {
    "colors": (lambda: rows(100_000).map(x="x", y="y", color="k").points(), "legend=False"),
    "shapes": (lambda: rows(200_000).map(x="x", y="y", shape="k").points(), "more than any shape"),
    "sizes": (lambda: rows(200_000).map(x="x", y="y", size="k").points(legend=False), "more than any size"),
    "labels": (lambda: rows(200_000).map(x="x", y="y", label="k").labels(), "20,000 are the most"),
    "moved labels": (lambda: rows(6_000).map(x="x", y="y", label="k").labels(avoid=True), "5,000 are the most"),
    "a swarm": (lambda: rows(200_000, k=["a"] * 200_000).map(x="k", y="y").points(arrange="beeswarm"), "too dense"),
    "pairs": (lambda: rows(3_000, y=[f"b{i}" for i in range(3000)]).map(x="k", y="y").cells(all_pairs=True), "1,000,000 are the most"),
    "panels": (lambda: rows(100_000).map(x="x", y="y").points().facet("k"), "panels"),
    "an order": (lambda: rows(9).map(x="k", y="y").points().scale("x", order=[f"k{i}" for i in range(300_000)]), "200,000"),
    "a heading": (lambda: bars().bars().facet("k", heading="{" * 300_000), "heading"),
}  # fmt: skip


@pytest.mark.parametrize("name", [pytest.param(one, marks=pytest.mark.slow) if one == "colors" else one for one in REFUSED])
def test_too_much_is_refused_with_the_way_out(name, tmp_path):
    made, says = REFUSED[name]
    began = time.monotonic()
    with pytest.raises(FacetineError) as caught:
        quietly(lambda: made().export(tmp_path / "never.svg"))
    assert says in str(caught.value)
    assert time.monotonic() - began < 10
    assert not (tmp_path / "never.svg").exists()


DRAWN = {
    "braces on bars": lambda: bars().bars(value_labels="{" * 300_000),
    "names on bars": lambda: bars().bars(value_labels="{y}" * 20_000),
    "a title of braces": lambda: bars().bars().titles("{" * 300_000),
    "a title of marks": lambda: bars().bars().titles("*a* ~b~ " * 40_000, note="word " * 200_000),
    "a category": lambda: ft.figure({"k": ["a b " * 250_000], "v": [1.0]}).map(x="k", y="v").bars(),
    "sparse cells": lambda: rows(3_000, y=[f"b{i % 50}" for i in range(3000)]).map(x="k", y="y").cells(),
}


@pytest.mark.parametrize("name", list(DRAWN))
def test_very_much_is_drawn_in_seconds(name, tmp_path):
    began = time.monotonic()
    quietly(lambda: DRAWN[name]().export(tmp_path / "drawn.svg"))
    assert time.monotonic() - began < 10
    assert (tmp_path / "drawn.svg").stat().st_size < 3_000_000


@pytest.mark.parametrize("suffix", ["tiff", "png"])
def test_marks_that_cover_the_sheet_very_often_are_not_painted(suffix, tmp_path):
    figure = rows(20_000).map(x="x", y="y").points(opacity=0.2, size=60)
    began = time.monotonic()
    with pytest.raises(FacetineError, match=r"dpi=|\.pdf"):
        figure.export(tmp_path / f"never.{suffix}", dpi=600)
    figure.export(tmp_path / "drawn.pdf")
    assert time.monotonic() - began < 10


@pytest.mark.parametrize("words", [
    [f"c{i}" for i in range(6_000)], [f"C{i % 7}x{i:05}" for i in range(6_000)], ["", "a", "A", "a01", "a1", "a1.5", "b"] * 900,
    [f"{i % 40}.{i}" for i in range(6_000)], [f"k{'0' * (i % 3)}{i // 3}" for i in range(6_000)], ["x٣", "x2", "x10"] * 2_000,
])  # fmt: skip
def test_many_words_are_sorted_as_few_are(words):
    shuffled = list(dict.fromkeys(RNG.permutation(words).tolist()))
    assert in_natural_order(shuffled) == sorted(shuffled, key=lambda word: (natural_key(word), word))


@pytest.mark.runs
@pytest.mark.skipif(not sys.platform.startswith("linux"), reason="bounds of address space are Linux's")
@pytest.mark.parametrize("megabytes", [100, 250, 400, 500, 1000])
@pytest.mark.parametrize("command", [
    ["inspect", "t.csv"], ["draw", "t.csv", "-m", "x=a", "-m", "y=b", "-o", "o.svg"], ["catalog", "layers"],
    ["draw", "t.csv", "-m", "x=a", "-m", "y=b", "-l", "trend", "-o", "o.png"], ["export", "plan.toml"], ["check", "plan.toml", "-q"],
    ["draw", "long.csv", "-m", "x=a", "-m", "y=b", "-o", "o.pdf"],
])  # fmt: skip
def test_with_little_memory_a_command_ends_in_a_figure_or_a_line(command, megabytes, tmp_path, monkeypatch):
    import resource

    monkeypatch.chdir(tmp_path)
    Path("t.csv").write_text("a,b\n1,2\n3,5\n4,4\n")
    Path("long.csv").write_text("a,b\n" + "".join(f"{i},{i % 97}\n" for i in range(200_000)))
    Path("plan.toml").write_text(
        '[data.d]\nfile = "t.csv"\n[figure.f]\ndata = "d"\nmap = { x = "a", y = "b" }\nlayers = ["points"]\nsteps = [{ keep = "a > 1" }]\n'
    )

    def bound():
        resource.setrlimit(resource.RLIMIT_AS, (megabytes * 1_000_000, resource.RLIM_INFINITY))

    began = time.monotonic()
    done = subprocess.run(
        [sys.executable, "-m", "facetine.cli.start", *command],
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
        preexec_fn=bound,
    )
    assert time.monotonic() - began < 20
    assert "Traceback" not in done.stderr
    if done.returncode:
        lines = [line for line in done.stderr.splitlines() if line.startswith("facetine: ")]
        assert lines, done.stderr
        assert len(lines) <= 2
