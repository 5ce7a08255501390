"""A built figure is one value: it can be sent to another process and written there, to the same bytes."""

import pickle
import subprocess
import sys

import numpy as np
import pytest
from conftest import laid_out

import facetine as ft
from facetine.writers.formats import FORMATS, Options

CODE = """
import pickle, sys
from facetine.writers.formats import FORMATS, Options
scene = pickle.load(open("scene", "rb"))
for suffix in ("svg", "pdf", "png"):
    open(f"there.{suffix}", "wb").write(FORMATS[suffix].write(scene, Options(80, True, True)).content)
"""


def figures():
    wheels = ft.figure(ft.demo_data("wheels"))
    base = wheels.map(x="moisture_pct", y="firmness_n", color="rind").points().trend(equation=True).facet("cellar")
    yield base.titles("Ω **bold** *italic* مرحبا", subtitle="x~1~ and x^2^").theme("lecture", font="Literata")
    callables = wheels.map(x=lambda frame: frame["mass_kg"] * 2, y="ph", color="milk").points(where=lambda frame: frame["ph"] > 5)
    callables = callables.scale("x", format=lambda value: f"{value:.0f}!", second_axis={"convert": lambda value: value * 2.0})
    yield callables.facet("rind", heading=lambda level: level.upper()).scale("color", format=lambda level: level[:2])
    extra = {"a": np.arange(4.0), "b": np.arange(4.0)}
    yield wheels.map(x="age_days").histogram(value_labels="{count}").rug(data=extra, map={"x": "a"}).scale("x", "sqrt")
    yield wheels.map(x="rind", y="mass_kg").boxes().labels(layer="boxes", text="{median:.1f}")


@pytest.mark.parametrize("figure", list(figures()), ids=range(4))
def test_a_built_figure_is_written_in_another_process_to_the_same_bytes(figure, tmp_path):
    made = laid_out(figure, "150 mm")
    (tmp_path / "scene").write_bytes(pickle.dumps(made.scene))
    subprocess.run([sys.executable, "-c", CODE], cwd=tmp_path, check=True)
    for suffix in ("svg", "pdf", "png"):
        here = FORMATS[suffix].write(made.scene, Options(80, True, True)).content
        assert (tmp_path / f"there.{suffix}").read_bytes() == here


@pytest.mark.parametrize("figure", list(figures()), ids=range(4))
def test_a_built_figure_comes_back_whole(figure):
    made = laid_out(figure, "150 mm")
    again = pickle.loads(pickle.dumps(made))
    assert again.findings == made.findings
    assert [run.layer for run in again.runs] == [run.layer for run in made.runs]
    assert [text.content for text in again.scene.texts()] == [text.content for text in made.scene.texts()]
    for run, other in zip(again.runs, made.runs, strict=True):
        assert list(run.table.values) == list(other.table.values)
        for name, array in run.table.values.items():
            np.testing.assert_array_equal(array, other.table.values[name])
    with pytest.raises(AttributeError):
        again.pages = ()


@pytest.mark.parametrize("figure", list(figures()), ids=range(4))
def test_no_step_keeps_what_a_layer_said(figure):
    made = laid_out(figure, "150 mm")
    assert not any(run.context.remarks for run in made.runs)
    # Nor is anything said twice, or by a figure that was built before.
    assert laid_out(figure, "150 mm").findings == made.findings
