"""Odd sheets by a seed: odd columns in layers over each other, with scales, compositions and formats by chance."""

from __future__ import annotations

import random
import re
import shutil
import subprocess
import time
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

import lxml.etree
import numpy as np
import pikepdf
from odd.columns import all_of_them
from odd.soundness import assert_clear, assert_pdf, assert_svg
from PIL import Image

import facetine as ft
from facetine.export.export import built
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError

ODD = all_of_them()
SUFFIXES = ("svg", "pdf", "eps", "emf", "png", "tiff", "jpg", "webp", "svgz")
SECONDS = 10.0
KINDS = ("linear", "log", "sqrt", "signed_log", "logit", "power", "category", "ordered", "time", "duration", "classed")
PLACES = {
    "histogram": ("x",), "density": ("x",), "cumulative": ("x",), "qq": ("y",), "rug": ("x",), "ridgelines": ("x", "y"),
    "bands": ("x", "y_low", "y_high"), "segments": ("x", "y", "x_to", "y_to"), "labels": ("x", "y", "label"),
}  # fmt: skip
NEEDED = {
    "callout": {"text": "here", "x": 1, "y": 1}, "region": {"x": (1, 2)}, "reference": {"aggregate": "mean"},
    "function": {"function": "x * 2"},
}  # fmt: skip
THEMES = ("press", "ledger", "field", "basalt", "bare", "lecture")


def odd_sheet(seed: int) -> tuple[str, Callable[[], Any]]:
    """A sheet in words, and what makes it."""
    chance = random.Random(seed)
    name = chance.choice(list(ODD))
    said = [name]
    steps = [_layer(chance) for _ in range(chance.choice((1, 1, 2, 3)))]
    scales = [(chance.choice(("x", "y", "color", "size")), _scale(chance)) for _ in range(chance.choice((0, 0, 1, 2)))]
    whole = chance.choice(
        ("plain", "plain", "facet", "crossed", "plate", "marginal", "variables", "matrix", "inset", "pages", "swapped")
    )
    theme = chance.choice(THEMES)
    said += [verb for verb, *_ in steps] + [f"{place}: {options}" for place, options in scales] + [whole, theme]

    def figure() -> Any:
        data = ODD[name]
        made = ft.figure(dict(data) if isinstance(data, dict) else data).theme(theme)
        if whole == "matrix":
            return ft.matrix(
                dict(data) if isinstance(data, dict) else data, ["v", "n"], diagonal=chance.choice(("density", "histogram"))
            )
        for verb, mapping, options in steps:
            made = _where_it_can(
                made, lambda on, verb=verb, mapping=mapping, options=options: on._add_layer(verb, {**options, "map": mapping})
            )
        for place, options in scales:
            made = _where_it_can(made, lambda on, place=place, options=options: on.scale(place, **options))
        return _where_it_can(made, lambda on: _composed(on, whole))

    return ", ".join(map(str, said)), figure


def _where_it_can(made: Any, step: Callable[[Any], Any]) -> Any:
    """What a step makes that draws; what was there where it is refused, with one clear error."""
    try:
        more = step(made)
        built(more._sentence, "90 mm", None)
    except FacetineError as refused:
        assert_clear(refused)
        return made
    return more


def _layer(chance: random.Random) -> tuple[str, dict[str, str], dict[str, Any]]:
    verb = chance.choice(list(LAYERS))
    kind = layer_class(verb)
    mapping = {place: chance.choice("vvn") for place in PLACES.get(verb, ("x", "y")) if place in kind.takes}
    for look in ("color", "size", "weight", "group", "opacity", "shape", "dash", "outline"):
        if look in kind.takes and chance.random() < 0.2:
            mapping[look] = chance.choice("vn")
    options = dict(NEEDED.get(verb, {}))
    fields = kind.__dataclass_fields__
    if "aggregate" in fields and verb != "reference":
        options["aggregate"] = chance.choice(["none", "mean", "median", "count", "sum"])
    for option, values in (
        ("value_labels", ["{x} {y}", "{count}"]), ("arrange", ["stack", "side_by_side", "overlay", "jitter", "share", "beeswarm"]),
        ("opacity", [0.3, 0.7]), ("legend", [False, "direct"]), ("steps", [True]), ("bins", [1, 7]), ("notches", [True]),
    ):  # fmt: skip
        if option in (*fields, "opacity", "legend") and chance.random() < 0.2:
            options[option] = chance.choice(values)
    return verb, mapping, options


def _scale(chance: random.Random) -> dict[str, Any]:
    return chance.choice(
        [
            {"kind": chance.choice(KINDS)}, {"reverse": True}, {"limits": (1, 4)}, {"limits": ("1 %", "99 %")}, {"order": "falling"},
            {"missing": "show"}, {"ticks": [1, 2, 3]}, {"format": ",.1f"}, {"title": "*a* ~b~"}, {"include": 0}, {"minor_ticks": True},
            {"palette": "orchard"}, {"margin": 0.3}, {"order": "frequent"},
        ]
    )  # fmt: skip


def _composed(made: Any, whole: str) -> Any:
    if whole == "facet":
        return made.facet("v", per_row=2)
    if whole == "crossed":
        return made.facet(rows="v", columns="n")
    if whole == "plate":
        return ft.plate([[made, made], [made.titles("One of three"), None]], letters="A", share_legend=True)
    if whole == "marginal":
        return made.marginal("top", "histogram").marginal("right", "density")
    if whole == "variables":
        return made.over_variables(y=["v", "n"])
    if whole == "inset":
        return made.inset(made, at=(0.6, 0.6, 0.95, 0.95))
    if whole == "pages":
        return made.facet("n", per_page=2)
    return made.swap_axes() if whole == "swapped" else made


def sheet_is_sound(seed: int, folder: Path, readers: bool = False) -> bool:
    """Whether a sheet comes out; an AssertionError where a file, or the error in its place, is not sound.

    Args:
        seed: Of the sheet and its format.
        folder: Where the file is written.
        readers: Whether programs other than our own open it, as far as they are there.
    """
    said, figure = odd_sheet(seed)
    suffix = SUFFIXES[seed % len(SUFFIXES)]
    path = folder / f"{seed}.{suffix}"
    began = time.process_time()
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            warnings.simplefilter("ignore", ft.FacetineFinding)
            written = figure().export(path, width="90 mm", dpi=60)
    except FacetineError as refused:
        assert_clear(refused)
        return False
    except Exception as problem:
        raise AssertionError(f"sheet {seed}: {said} as {suffix}: {type(problem).__name__}: {problem}") from problem
    try:
        assert time.process_time() - began < SECONDS, f"took {time.process_time() - began:.1f} s"
        for file in written.files:
            assert_read(Path(file.path))
            if readers:
                assert_opened(Path(file.path))
            Path(file.path).unlink()
    except Exception as problem:
        raise AssertionError(f"sheet {seed}: {said} as {suffix}: {type(problem).__name__}: {problem}") from problem
    return True


def assert_read(path: Path) -> None:
    """A file is what its suffix says, by the libraries of the field."""
    suffix, content = path.suffix[1:], path.read_bytes()
    if suffix == "svg":
        assert_svg(content)
    elif suffix == "svgz":
        import gzip

        lxml.etree.fromstring(gzip.decompress(content))
    elif suffix == "pdf":
        with pikepdf.open(path) as pdf:
            if len(pdf.pages) == 1:
                assert_pdf(content)
            assert pdf.pages
    elif suffix == "eps":
        assert content.startswith(b"%!PS-Adobe-3.0 EPSF-3.0")
        # Between the lines of what stands for itself: words of the data, and remarks.
        bare = re.sub(rb"\((?:\\.|[^\\)])*\)|%[^\n]*", b"", content)
        assert not re.search(rb"(?<![\w/])(?:nan|inf)(?!\w)", bare, re.IGNORECASE)
    elif suffix == "emf":
        kinds = np.frombuffer(content[:4], "<u4")
        assert kinds[0] == 1
        assert int.from_bytes(content[48:52], "little") == len(content)
    else:
        with Image.open(path) as picture:
            picture.load()
            assert picture.width > 10


READERS = {
    "svg": [["xmllint", "--noout", "--huge", "{}"], ["rsvg-convert", "--unlimited", "-w", "300", "-o", "{}.png", "{}"]],
    "pdf": [["qpdf", "--check", "{}"], ["mutool", "draw", "-q", "-r", "40", "-o", "/dev/null", "-F", "pnm", "{}"]],
    "eps": [["gs", "-q", "-dNOPAUSE", "-dBATCH", "-dSAFER", "-sDEVICE=nullpage", "{}"]],
}


def assert_opened(path: Path) -> None:
    """Programs that are there open a file without a word."""
    for command in READERS.get(path.suffix[1:], ()):
        if shutil.which(command[0]) is None:
            continue
        said = [part.replace("{}", str(path)) for part in command]
        done = subprocess.run(said, capture_output=True, text=True, timeout=60, check=False)
        path.with_name(f"{path.name}.png").unlink(missing_ok=True)
        assert done.returncode == 0, (command[0], done.returncode, (done.stdout + done.stderr)[-300:])
        # How a program was built is no fault of the file.
        told = [line for line in done.stderr.splitlines() if "ICC support" not in line]
        assert command[0] == "qpdf" or not told, (command[0], told[-3:])
