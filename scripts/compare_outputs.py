"""Whether two checkouts draw the same figures, byte for byte.

    python scripts/compare_outputs.py BEFORE AFTER [--sentences 300] [--keep FOLDER]

Both make the demo, the gallery, the paper and a number of seeded random sentences, as SVG and as PDF; what differs is
listed, and with --keep both versions stay in a folder to be looked at. Where a figure is refused, the words of its error
are compared. The examples and the sentences of the second checkout are what both have to draw.
"""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import json
import os
import random
import subprocess
import sys
import tempfile
import warnings
from importlib.resources import files
from pathlib import Path
from typing import Any

HERE = Path(__file__).resolve()
FORMATS = ("svg", "pdf")


def main() -> int:
    """Compares, and tells what differs."""
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("before", type=Path)
    asked.add_argument("after", type=Path)
    asked.add_argument("--sentences", type=int, default=300)
    asked.add_argument("--keep", type=Path)
    asked.add_argument("--collect", type=Path, help=argparse.SUPPRESS)
    given = asked.parse_args()
    if given.collect is not None:
        print(json.dumps(collected(given.collect, given.sentences)))
        return 0
    with tempfile.TemporaryDirectory() as scratch:
        root = given.keep or Path(scratch)
        running = [_started(side, root / name, given) for side, name in ((given.before, "before"), (given.after, "after"))]
        one, other = (json.loads(process.communicate()[0]) for process in running)
    changed = sorted(name for name in one | other if one.get(name) != other.get(name))
    for name in changed:
        print(f"differs: {name}")
    refused = sum(said.startswith("refused") for said in other.values())
    print(f"{len(other):,} outputs compared, {refused:,} of them refused; {len(changed):,} differ")
    return 1 if changed else 0


def _started(checkout: Path, folder: Path, given: argparse.Namespace) -> subprocess.Popen[str]:
    environment = {**os.environ, "PYTHONPATH": str(checkout.resolve()), "PYTHONDONTWRITEBYTECODE": "1"}
    command = [sys.executable, HERE, ".", ".", "--sentences", str(given.sentences), "--collect", folder]
    return subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True, cwd=tempfile.gettempdir())


def collected(folder: Path, sentences: int) -> dict[str, str]:
    """A digest of every output of the Facetine that is imported, by its name."""
    import facetine as ft
    from facetine.data.demo import write_demo_data

    warnings.simplefilter("ignore")
    examples = HERE.parent.parent / "examples"
    for source in sorted(path for path in examples.rglob("*.py") if "extension" not in path.parts):
        made = folder / "examples" / source.stem
        code = compile(_both(source.read_text("utf-8")), str(source), "exec")
        # An example of what only one of the two can draw is told as a difference.
        with contextlib.suppress(ft.FacetineError):
            exec(code, {"__file__": str(source), "__name__": "__main__", "OUT": made})
    made = folder / "demo"
    made.mkdir(parents=True, exist_ok=True)
    write_demo_data(made / "data")
    (made / "plan.toml").write_text((files("facetine.batch") / "demo_plan.toml").read_text("utf-8"), "utf-8")
    ft.plan(made / "plan.toml").export()
    found = {str(path.relative_to(folder)): _digest(path) for path in folder.rglob("*") if path.suffix[1:] in FORMATS}
    for seed in range(sentences):
        found |= _random(seed, folder / "random")
    return found


def _both(source: str) -> str:
    """An example that writes SVG beside its PDF, into a folder of ours."""
    lines = [
        "out = OUT" if line.startswith("out = Path") else line.replace(".export(out / ", ".export_both(out / ")
        for line in source.splitlines()
        # Nothing may stand before it, and nothing here needs it.
        if not line.startswith("from __future__")
    ]
    return "\n".join([_BOTH, *lines])


_BOTH = """
import facetine as _ft
def _export_both(self, path, **said):
    if "formats" in said:
        return self.export(path, **said)
    path = __import__("pathlib").Path(path)
    return self.export([path.with_suffix(".svg"), path.with_suffix(".pdf")], **said)
_ft.Figure.export_both = _export_both
"""


def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def _random(seed: int, folder: Path) -> dict[str, str]:
    found = {}
    try:
        figure: Any = sentence(seed)
        for suffix in FORMATS:
            path = folder / f"{seed}.{suffix}"
            done = figure.export(path, width="120 mm")
            found[f"random/{path.name}"] = _digest(path) + "".join(sorted(map(str, done.findings)))
    except Exception as problem:  # what is refused must be refused in the same words
        found[f"random/{seed}"] = f"refused: {type(problem).__name__}: {problem}"
    return found


LAYERS: dict[str, dict[str, Any]] = {
    "points": {"arrange": ["overlay", "jitter", "beeswarm", "side_by_side"], "size": [2, 5]}, "lines": {"aggregate": ["none", "mean"], "steps": [False, True]}, "areas": {"aggregate": ["sum"], "arrange": ["stack", "share"]},
    "bars": {"aggregate": ["mean", "count"], "arrange": ["stack", "side_by_side", "share"], "value_labels": [None, "{y}"]}, "histogram": {"bins": [None, 7], "measure": ["count", "share", "density"]},
    "density": {"measure": ["count", "density"]}, "cumulative": {}, "qq": {}, "boxes": {"notches": [False, True]}, "violins": {}, "rug": {}, "intervals": {"around": ["mean", "median"]},
    "trend": {"method": ["linear", "polynomial", "loess", "moving", "quantile"], "equation": [False]}, "cells": {"value_labels": [None, "{count}"]}, "contours": {"filled": [False, True]},
    "labels": {"avoid": [False, True]}, "segments": {}, "reference": {"aggregate": ["mean", "median"]}, "bands": {"aggregate": ["mean"]},
}  # fmt: skip


def sentence(seed: int) -> Any:
    """A random sentence over the demo world, the same for the same number."""
    import facetine as ft

    chance = random.Random(seed)
    verb = chance.choice(list(LAYERS))
    numbers, words = ["age_days", "mass_kg", "moisture_pct", "ph", "firmness_n"], ["cellar", "rind", "milk", "grade"]
    data = ft.demo_data("wheels").head(chance.choice([1, 12, 60, 240]))
    mapping = {"x": chance.choice(numbers), "y": chance.choice(numbers)}
    if verb in ("boxes", "violins", "intervals", "bars", "cells") or (verb == "points" and chance.random() < 0.5):
        mapping[chance.choice("xy")] = chance.choice(words)
    if verb in ("histogram", "density", "cumulative"):
        mapping = {chance.choice("xy"): chance.choice(numbers)}
    mapping |= {
        "bands": {"y_low": "ph", "y_high": "mass_kg"},
        "segments": {"x_to": "ph", "y_to": "mass_kg"},
        "labels": {"label": "wheel"},
    }.get(verb, {})
    if verb == "qq" or (verb == "bars" and chance.random() < 0.3):
        mapping.pop(chance.choice("xy"), None)
    options = {name: chance.choice(values) for name, values in LAYERS[verb].items() if chance.random() < 0.7}
    for look in ("color", "shape", "dash", "opacity", "size", "weight"):
        if chance.random() < 0.15:
            mapping[look] = chance.choice(numbers if look in ("opacity", "size", "weight") else [*words, *numbers[:1]])
    figure: Any = getattr(ft.figure(data).map(**mapping), verb)(
        **{name: value for name, value in options.items() if value is not None}
    )
    if chance.random() < 0.2:
        figure = figure.trend() if verb == "points" else figure.reference(aggregate="mean", axis=chance.choice("xy"))
    if verb in ("bars", "cells") and chance.random() < 0.3:
        figure = figure.labels(layer=verb, text="{count}")
    if chance.random() < 0.3:
        figure = figure.facet(chance.choice(words), heading="{name}: {value} ({count})")
    for axis in "xy":
        if chance.random() < 0.25:
            figure = figure.scale(axis, chance.choice(["log", "sqrt", "linear", "signed_log", "category"]))
        if chance.random() < 0.15:
            figure = figure.scale(
                axis,
                **chance.choice(
                    [
                        {"reverse": True},
                        {"limits": (2, 60)},
                        {"ticks": 3},
                        {"title": ""},
                        {"missing": "show"},
                        {"second_axis": {"convert": 2}},
                    ]
                ),
            )
    if chance.random() < 0.3:
        figure = figure.theme(chance.choice(["ledger", "field", "basalt", "bare", "lecture"]))
    if chance.random() < 0.2:
        figure = figure.titles("A title of this figure", subtitle="and a line below it", note="A note")
    return figure.swap_axes() if chance.random() < 0.15 else figure


if __name__ == "__main__":
    sys.exit(main())
