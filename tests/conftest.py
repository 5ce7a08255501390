"""What the tests share: the demo world, and figures read back from their bytes."""

from __future__ import annotations

import atexit
import io
import os
import re
import secrets
import shutil
import sqlite3
import tempfile
import warnings
import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any

import hypothesis
import hypothesis.core
import pikepdf
import pytest

import facetine as ft
from facetine.export.export import built, rendered
from facetine.pipeline.sheet.built import Built

# Commands that run as processes find our code compiled, also where nothing may be written beside it.
if "PYTHONPYCACHEPREFIX" not in os.environ:
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    os.environ["PYTHONPYCACHEPREFIX"] = COMPILED = tempfile.mkdtemp(prefix="facetine-compiled-")
    atexit.register(shutil.rmtree, COMPILED, ignore_errors=True)

# In CI random sentences have a seed of their own in every run, which it tells; FACETINE_SEED draws them again, and all other
# properties with it, so that a soak is a loop over seeds. Elsewhere every run is the same.
SOAK = "FACETINE_SEED" in os.environ
IN_CI = bool(os.environ.get("CI")) or SOAK
hypothesis.settings.register_profile("suite", deadline=None, max_examples=40, derandomize=not SOAK, database=None)
hypothesis.settings.load_profile("suite")
if IN_CI:
    # Under a name of its own, which the processes that share the tests inherit.
    os.environ.setdefault("FACETINE_DRAWN_SEED", os.environ.get("FACETINE_SEED", str(secrets.randbelow(2**32))))
    hypothesis.core.global_force_seed = int(os.environ["FACETINE_DRAWN_SEED"])


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """Tells the seed of the random tests."""
    if IN_CI:
        terminalreporter.write_line(f"random tests: FACETINE_SEED={os.environ['FACETINE_DRAWN_SEED']} draws them again")


_OPENED: list[pikepdf.Pdf] = []
SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture
def wheels() -> Any:
    return ft.demo_data("wheels")


@pytest.fixture(autouse=True)
def _in_a_folder_of_its_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)


def laid_out(figure: Any, width: Any = "85 mm", height: Any = None) -> Built:
    """A figure built, without its notes as warnings."""
    return built(figure._sentence, width, height)


def notes(figure: Any) -> tuple[str, ...]:
    """What a figure has to say."""
    return said(laid_out(figure))


def said(made: Built) -> tuple[str, ...]:
    """The findings of a built figure, as texts."""
    return tuple(map(str, made.findings))


def svg_of(figure: Any, width: Any = "85 mm", height: Any = None, **options: Any) -> ET.Element:
    """A figure's SVG, parsed."""
    made = laid_out(figure, width, height)
    form = {"dpi": 100, "transparent": False, "fonts": "name"} | options
    return ET.fromstring(rendered(made, "svg", **form))


def pdf_of(figure: Any, width: Any = "85 mm", height: Any = None) -> pikepdf.Pdf:
    """A figure's PDF, opened."""
    made = laid_out(figure, width, height)
    pdf = pikepdf.open(io.BytesIO(rendered(made, "pdf", dpi=100, transparent=False, fonts="name")))
    _OPENED.append(pdf)  # its objects live no longer than it does
    return pdf


def placed_forms(document: pikepdf.Pdf) -> list[tuple[tuple[str, ...], float, float, float]]:
    """The form objects of the first page in drawing order: layers around them, size in points of a hundred units, and place from below."""
    page = document.pages[0]
    names = {str(key): str(layer.Name) for key, layer in page.Resources.get("/Properties", {}).items()}
    now, kept, inside, found = pikepdf.Matrix(), [], [], []
    for operands, operator in pikepdf.parse_content_stream(page):
        match str(operator):
            case "q":
                kept.append(now)
            case "Q":
                now = kept.pop()
            case "cm":
                now = pikepdf.Matrix(*map(float, operands)) @ now
            case "BDC":
                inside.append(names.get(str(operands[1]), ""))
            case "BMC":
                inside.append("")
            case "EMC":
                inside.pop()
            case "Do":
                form = page.Resources.XObject[str(operands[0])]
                own = pikepdf.Matrix(form.get("/Matrix", pikepdf.Array([1, 0, 0, 1, 0, 0]))) @ now
                found.append((tuple(filter(None, inside)), 100 * own.a, own.e, own.f))
    return found


def texts(element: ET.Element) -> list[str]:
    """The content of every text element."""
    return ["".join(text.itertext()) for text in element.iter(f"{SVG}text")]


def group(element: ET.Element, name: str) -> ET.Element:
    """The group with that id."""
    found = [one for one in element.iter(f"{SVG}g") if own_id(one) == name]
    assert found, f"no group {name}"
    return found[0]


def own_id(element: ET.Element) -> str:
    """An element's id without what tells the figures of a page apart."""
    return (element.get("id") or "").partition("-")[2]


def shapes(element: ET.Element, tag: str) -> list[dict[str, str]]:
    """The attributes of all elements of a kind inside."""
    return [dict(shape.attrib) for shape in element.iter(f"{SVG}{tag}")]


def numbers(path: str) -> list[float]:
    """All numbers of a path."""
    return [float(number) for number in re.findall(r"-?\d+\.?\d*(?:e-?\d+)?", path)]


def quietly(call: Any, *args: Any, **options: Any) -> Any:
    """A call whose notes are not of interest."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        return call(*args, **options)


@pytest.fixture
def cellar(tmp_path: Path, monkeypatch: Any) -> Path:
    """The folder in which a test stands, with a database of one table."""
    monkeypatch.chdir(tmp_path)
    made = sqlite3.connect("cellar.db")
    made.execute("CREATE TABLE t (a, b)")
    made.executemany("INSERT INTO t VALUES (?, ?)", [(1, 2), (3, 4)])
    made.commit()
    made.close()
    return tmp_path


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where pages of a module are written."""
    return tmp_path_factory.mktemp("pages")


@pytest.fixture(scope="module")
def browser(folder: Path) -> Any:
    """A browser without a window; tests that ask for it are passed over where there is none."""
    from page.browsers import CHROMIUM, DRIVER, chromium

    pytest.importorskip("selenium")
    if CHROMIUM is None or DRIVER is None:
        pytest.skip("there is no Chromium with its driver")
    with chromium(folder) as driver:
        yield driver


@pytest.fixture(scope="module")
def firefox(tmp_path_factory: pytest.TempPathFactory) -> Any:
    """Another browser without a window."""
    from page.browsers import FIREFOX, Firefox

    pytest.importorskip("websocket")
    if FIREFOX is None:
        pytest.skip("there is no Firefox")
    driver = Firefox(tmp_path_factory.mktemp("profile"))
    yield driver
    driver.end()
