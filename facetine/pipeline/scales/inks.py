"""The ink of marks to whose color nothing is mapped, so that no mark vanishes on another or passes for a category."""

from __future__ import annotations

from collections.abc import Sequence

from facetine.grammar.theme import Theme
from facetine.pipeline.rows.runs import LayerRun, Runs


def default_color(run: LayerRun, runs: Runs, theme: Theme, first: str) -> str:
    """The color of a layer where none is said.

    It is the palette's first, but that of the text where another layer maps colors, which the first one would seem to be
    one of, and for lines and points on filled marks that have the palette's first color themselves.
    """
    layer = run.layer
    usual = layer.usual.get("color")
    if usual is not None:
        return theme.text_color if usual == "text" else str(usual)
    if any(other.follows("color") for other in runs if other.number != run.number):
        return theme.text_color
    below = any(other.layer.filled_marks and other.layer.constant("color") is None for other in runs[: run.number])
    return theme.text_color if below and not layer.filled_marks else first


def keyed_colors(runs: Runs, palette: Sequence[str]) -> dict[int, str]:
    """Colors of layers that a legend names, by their numbers: one each, where nothing says another."""
    free = [
        run
        for run in runs
        if run.layer.legend_as is not None and run.layer.constant("color") is None and not run.follows("color")
    ]
    names = list(dict.fromkeys(run.layer.legend_as for run in free))
    if len(names) < 2 or any(run.follows("color") for run in runs):
        return {}
    plain = [run for run in free if run.layer.usual.get("color") is None]
    return {run.number: palette[names.index(run.layer.legend_as) % len(palette)] for run in plain}


def needs_halo(run: LayerRun, runs: Runs) -> bool:
    """Whether a layer of lines lies over filled marks of its own color, so that it needs a seam of the ground."""
    if not run.layer.line_marks:
        return False
    own = run.columns["color"].name if "color" in run.columns else run.layer.constant("color")
    if own is None:
        return False
    for below in runs[: run.number]:
        if below.layer.filled_marks:
            theirs = below.columns["color"].name if "color" in below.columns else below.layer.constant("color")
            if theirs == own:
                return True
    return False
