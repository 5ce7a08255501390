"""A small drawing of each kind of mark, which tells whether a format can write all of them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from facetine.scene.marks import Bitmap, Gradient, Group, Mark, Markers, MarkerStyle, Paths, Rects, Scene, Stroke
from facetine.scene.region import Region
from facetine.scene.typeset import TextStyle, set_text


def lacking(write: Callable[[Scene], object]) -> str:
    """The kinds of marks that a format fails to write, with what it raises; empty for none."""
    failed = []
    for name, marks in _marks().items():
        panel = Group("panel-1", "Panel", tuple(marks), Region(0.0, 0.0, 20.0, 20.0), kind="panel", panel=0)
        scene = Scene(20.0, 20.0, "#ffffff", Group("figure", "Figure", (panel,), kind="figure"), "Trial", "A trial.")
        try:
            write(scene)
        except Exception as problem:
            # Another package's code may raise anything.
            failed.append(f"{name} ({type(problem).__name__}: {problem})")
    return ", ".join(failed)


def _marks() -> dict[str, list[Mark]]:
    """Marks of each kind, by the method of a writer that takes them."""
    box, at, stroke = Region(2.0, 2.0, 8.0, 8.0), np.array([[5.0, 5.0], [9.0, 5.0]]), Stroke("#204080", 1.0)
    pixels = np.full((2, 2, 4), 255, np.uint8)
    return {
        "markers": [Markers(at, (MarkerStyle("disc", 2.0, "#204080"),))],
        "rects": [Rects(np.array([[2.0, 2, 4, 4]]), ("#204080",))],
        "paths": [Paths(at, np.array([0]), stroke)],
        "gradient": [Gradient(box, ("#ffffff", "#204080"))],
        "bitmap": [Bitmap(box, b"", "png", 2, 2, pixels)],
        "text": list(set_text("a", TextStyle("Source Sans Pro", 6.0, 400, "#000000", 1.2)).placed(5.0, 5.0, role="label")),
    }
