"""What the documents show works: docstrings, examples, README, the stub of the layer methods."""

import doctest
import importlib
import pkgutil
import re
import runpy
import sys
from pathlib import Path

import pytest
from conftest import quietly

import facetine
from facetine.messages.glossary import help_text

REPO = Path(__file__).parent.parent
MODULES = sorted(name for _, name, _ in pkgutil.walk_packages(facetine.__path__, "facetine.") if not name.endswith("__main__"))
EXAMPLES = sorted(path for path in (REPO / "examples").rglob("*.py") if "extension" not in path.parts)


@pytest.mark.parametrize("name", MODULES)
def test_docstring_examples_run(name):
    module = importlib.import_module(name)
    result = doctest.testmod(module, extraglobs={"np": importlib.import_module("numpy")})
    assert result.failed == 0


@pytest.mark.parametrize("path", EXAMPLES, ids=[path.stem for path in EXAMPLES])
def test_examples_draw(path, tmp_path, monkeypatch):
    monkeypatch.setattr(sys, "argv", [str(path), str(tmp_path)])
    quietly(runpy.run_path, str(path), run_name="__main__")
    written = list(tmp_path.rglob("*.*"))
    assert written, f"{path.name} wrote nothing"


def test_every_layer_has_a_small_figure_and_every_recipe_is_drawn(monkeypatch):
    monkeypatch.syspath_prepend(str(REPO / "examples"))
    import cookbook
    import layers
    import working

    from facetine.layers import LAYERS

    assert set(layers.SENTENCES) == set(LAYERS.ours())
    recipes = cookbook.recipes()
    assert len(recipes) >= 15
    assert len(working.lines()) == 20
    small = [*map(layers.figure, layers.SENTENCES), *map(cookbook.figure, recipes.values())]
    for figure in [*small, *map(working.figure, working.lines().values())]:
        assert quietly(figure.export, "a.svg", width="80 mm").files


def test_the_plan_of_the_docs_is_exported(tmp_path):
    (plan,) = re.findall(r"```toml\n(.*?)```", (REPO / "docs" / "plans.md").read_text("utf-8"), re.DOTALL)
    (tmp_path / "plan.toml").write_text(plan, "utf-8")
    facetine.demo_data("wheels").to_csv(tmp_path / "wheels.csv", index=False)
    quietly(facetine.plan(tmp_path / "plan.toml").export)
    written = {path.name for path in (tmp_path / "figures").iterdir()}
    figures = {f"{name}.{suffix}" for name in ("firmness", "rinds", "both") for suffix in ("pdf", "svg")}
    assert written == figures | {"index.html", "manifest.json"}


def python_blocks(path: Path) -> list[str]:
    return re.findall(r"```python\n(.*?)```", path.read_text("utf-8"), re.DOTALL)


@pytest.mark.parametrize("name", ["README.md", "CONTRIBUTING.md"])
def test_code_in_documents_runs(name):
    for block in python_blocks(REPO / name):
        quietly(exec, compile(block, name, "exec"), {})


@pytest.mark.parametrize(
    "name",
    [
        "README.md",
        "CONTRIBUTING.md",
        "CHANGELOG.md",
        "docs/index.md",
        "docs/gallery.md",
        "docs/cookbook.md",
        "docs/working.md",
        "docs/layers.md",
        "docs/plans.md",
    ],
)
def test_links_between_documents_lead_somewhere(name):
    text = (REPO / name).read_text("utf-8")
    for target in re.findall(r"\]\(([^)#\s]+)\)", text):
        if not target.startswith(("http:", "https:")):
            assert (REPO / name).parent.joinpath(target).exists(), target


def test_what_scripts_make_from_the_layers_is_current(monkeypatch):
    monkeypatch.syspath_prepend(str(REPO / "scripts"))
    import make_docs
    import make_verbs

    assert (REPO / "facetine" / "figures" / "layers.pyi").read_text("utf-8") == make_verbs.stub()
    assert (REPO / "facetine" / "__init__.py").read_text("utf-8") == make_verbs.root()
    for name, page in make_docs.PAGES.items():
        assert (REPO / "docs" / name).read_text("utf-8") == page()


def test_every_layer_option_says_what_it_is():
    from dataclasses import fields

    from facetine.layers import LAYERS, layer_class

    for name in LAYERS:
        for entry in fields(layer_class(name)):
            assert help_text(entry.name, name, entry.metadata["detail"]).endswith("."), f"{name}.{entry.name}"


def test_every_setting_of_a_theme_or_scale_says_what_it_is():
    from dataclasses import fields

    from facetine.grammar.scale import ScaleOptions, SecondAxisSpec
    from facetine.grammar.theme import Theme

    for kind, owner in ((Theme, "theme"), (ScaleOptions, "scale"), (SecondAxisSpec, "second_axis")):
        for entry in fields(kind):
            assert help_text(entry.name, owner, entry.metadata["detail"]).endswith("."), f"{owner}.{entry.name}"
    for entry in fields(Theme):
        if entry.type == "float" and entry.name not in (
            "title_weight",
            "heading_weight",
            "line_height",
            "bar_width",
            "quiet_opacity",
        ):
            assert "points" in help_text(entry.name, "theme"), entry.name
