"""The examples of the gallery and of the paper stand up to the check."""

import runpy
import sys
import warnings
from pathlib import Path

import pytest

import facetine as ft
from facetine.figures.outlets import Shown

EXAMPLES = Path(ft.__file__).parent.parent / "examples"


@pytest.mark.parametrize("example", [*sorted(path.name for path in EXAMPLES.glob("*.py")), "paper/figures.py"])
def test_no_example_has_more_than_hints(example, monkeypatch, tmp_path):
    serious = []

    def checked(figure, path, *, width=None, height=None, **_):
        size = {"width": width, "height": height} if width or height else {}
        serious.extend(f"{path}: {finding}" for finding in figure.check(**size).serious)

    for kind in (Shown, ft.Figure, ft.Plate):
        monkeypatch.setattr(kind, "export", checked)
    monkeypatch.setattr(sys, "argv", [example, str(tmp_path)])
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        runpy.run_path(str(EXAMPLES / example), run_name="__main__")
    assert not serious


def test_the_demo_plan_has_no_more_than_hints(tmp_path):
    from facetine.batch.runner import figures_of_plan
    from facetine.data.demo import write_demo_data
    from facetine.figures.check import checked

    write_demo_data(tmp_path / "data")
    source = Path(ft.__file__).parent / "batch" / "demo_plan.toml"
    (tmp_path / "plan.toml").write_bytes(source.read_bytes())
    for name, figure, silence, width, height, _ in figures_of_plan(tmp_path / "plan.toml"):
        serious = [finding.code for finding in checked(figure._sentence, None, width, height, silence).serious]
        assert not serious, name
