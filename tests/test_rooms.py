"""The rooms import only what lies below them, nothing imports in a circle, and slow libraries are loaded where they are used."""

import ast
import importlib
import importlib.util
import subprocess
import sys
from pathlib import Path

import pytest
from structure import arrows, circles_of_files, circles_of_rooms, files

import facetine

ROOT = Path(facetine.__file__).parent
FLOORS = (
    "messages", "core", "data", "scene", "grammar", "writers", "layers", "pipeline", "page", "checks", "export", "figures",
    "catalogs", "inspection", "batch", "__init__", "cli",
)  # fmt: skip
"""The rooms, each above those that it may import."""
ALONE = {"core": {"messages"}, "scene": {"core", "messages"}, "writers": {"scene", "core", "messages"}}
"""Rooms that know less than all that lies below them."""
MOST_ROOMS, MOST_ARROWS = 17, 90
STEPS = ("composition", "rows", "scales", "guides", "layout", "drawing", "sheet")
"""Of the pipeline, each after those that it may import."""
MOST_STEPS = 21
OUTSIDE = {
    "core": {"numpy", "scipy", "contourpy", "shapely"},
    "scene": {"numpy", "uharfbuzz", "bidi", "pyphen"},
    "grammar": {"tomlkit"},
    "layers": {"numpy"},
    "pipeline": {"numpy"},
}
SLOW = {
    "pandas",
    "scipy",
    "click",
    "rich",
    "pydantic",
    "pikepdf",
    "PIL",
    "narwhals",
    "duckdb",
    "uharfbuzz",
    "contourpy",
    "shapely",
}


def room_of(path: Path) -> str:
    return path.relative_to(ROOT).parts[0]


def imports(path: Path) -> list[tuple[str, bool]]:
    """Every module that a file imports, and whether it does so when it is loaded."""
    tree = ast.parse(path.read_text("utf-8"))
    for_types = {
        node
        for block in ast.walk(tree)
        if isinstance(block, ast.If) and "TYPE_CHECKING" in ast.unparse(block.test)
        for node in ast.walk(block)
    }
    top = set(tree.body)
    found = []
    for node in ast.walk(tree):
        if node in for_types:
            continue
        if isinstance(node, ast.Import):
            found += [(name.name, node in top) for name in node.names]
        elif isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
            found.append((node.module, node in top))
    return found


FILES = sorted(ROOT.rglob("*.py"))


def test_a_room_imports_only_rooms_below_it():
    """Wherever an import stands: within a function and for types too."""
    up = {ends: found[0] for ends, found in arrows().items() if FLOORS.index(ends[1]) >= FLOORS.index(ends[0])}
    assert up == {}
    for room, below in ALONE.items():
        there = {ends[1]: found[0] for ends, found in arrows().items() if ends[0] == room and ends[1] not in below}
        assert there == {}


def test_the_house_is_small_and_has_no_circles():
    rooms = {room for ends in arrows() for room in ends}
    assert len(rooms) <= MOST_ROOMS
    assert len(arrows()) <= MOST_ARROWS
    assert circles_of_rooms() == []
    assert [file for file in files() if "/" not in file] == ["__init__.py"]


def test_no_files_import_each_other():
    assert circles_of_files() == []


def test_the_pipeline_goes_one_way():
    of_steps = {ends: found[0] for ends, found in arrows(steps=True).items() if all(one.startswith("pipeline/") for one in ends)}
    places = {f"pipeline/{step}": number for number, step in enumerate(STEPS)}
    assert {ends: found for ends, found in of_steps.items() if places[ends[1]] >= places[ends[0]]} == {}
    assert len(of_steps) <= MOST_STEPS
    assert circles_of_rooms(steps=True) == []


@pytest.mark.parametrize("path", FILES, ids=[str(path.relative_to(ROOT)) for path in FILES])
def test_a_room_stands_on_its_own_libraries_and_loads_slow_ones_late(path):
    room = room_of(path)
    for module, at_load in imports(path):
        name = module.split(".")[0]
        if name == "facetine" or name in sys.stdlib_module_names:
            continue
        if room in OUTSIDE:
            assert name in OUTSIDE[room], f"{room} imports {name}"
        if at_load and not (room == "cli" and name == "click") and path.name != "models.py":
            assert name not in SLOW, f"{path.name} loads {name} before it is used"


@pytest.mark.parametrize("path", [path for path in FILES if room_of(path) == "grammar"], ids=lambda path: path.name)
def test_the_grammar_never_calls_a_figure(path):
    tree = ast.parse(path.read_text("utf-8"))
    arguments = [argument.arg for node in ast.walk(tree) if isinstance(node, ast.FunctionDef) for argument in node.args.args]
    assert "figure" not in arguments
    called = {node.func.attr for node in ast.walk(tree) if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute)}
    assert not called & {"_add_layer", "swap_axes", "titles", "facet", "theme", "kinds"}


@pytest.mark.parametrize("code", ["import facetine", "import facetine; facetine.figure; facetine.catalog"])
def test_importing_facetine_loads_no_slow_library(code):
    watched = sorted(SLOW - {"contourpy"})
    said = f"{code}; import sys; print([name for name in {watched} if name in sys.modules])"
    result = subprocess.run([sys.executable, "-c", said], check=True, capture_output=True, text=True)
    assert result.stdout.strip() == "[]"


def test_exporting_an_svg_of_arrays_loads_neither_pandas_nor_a_pdf_library(tmp_path):
    code = (
        "import facetine as ft, sys; ft.figure({'a': [1.0, 2], 'b': [1.0, 2]}).map(x='a', y='b').points().export('a.svg');"
        "print([n for n in ('pandas', 'scipy', 'narwhals', 'pikepdf', 'PIL', 'click') if n in sys.modules])"
    )
    result = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True, cwd=tmp_path)
    assert result.stdout.strip() == "[]"


def test_every_public_name_is_there_in_any_order():
    for name in facetine._HOMES:
        code = f"import facetine; facetine.{name}; facetine.figure({{'a': [1]}}); assert callable(facetine.figure)"
        if name in ("Figure", "from_dict", "plan", "OptionError"):
            subprocess.run([sys.executable, "-c", code], check=True)
        assert getattr(facetine, name) is not None
    assert set(facetine._HOMES) <= set(dir(facetine))


@pytest.mark.parametrize("path", [path for name in ("benchmarks", "scripts") for path in (ROOT.parent / name).glob("*.py")])
def test_benchmarks_and_scripts_import_only_what_there_is(path):
    tree = ast.parse(path.read_text("utf-8"))
    for one in ast.walk(tree):
        if isinstance(one, ast.ImportFrom) and (one.module or "").startswith("facetine"):
            home = importlib.import_module(one.module)
            for name in one.names:
                assert hasattr(home, name.name) or importlib.util.find_spec(f"{one.module}.{name.name}")
