"""What stands over panels, and beside their rows; how far they stand apart."""

from __future__ import annotations

import numpy as np

from facetine.data.table import Levels
from facetine.grammar.lengths import in_points
from facetine.grammar.scale import NOTHING
from facetine.grammar.sentence import Sentence
from facetine.pipeline.panels import Panels
from facetine.pipeline.runs import Runs, Split
from facetine.pipeline.wording import called_format, filled_levels, level_texts


def gaps_of(sentence: Sentence) -> tuple[float, float]:
    """Room between columns and between rows of panels, in points."""
    facet, usual = sentence.facet, sentence.theme.panel_gap
    if facet is None:
        return usual, usual
    across, down = (usual if gap is None else in_points(gap, "figure.facet") for gap in (facet.gap_x, facet.gap_y))
    return across, down


def headed(whole: Split) -> Panels:
    """The panels with what stands over them; crossed ones with what stands over each column and beside each row."""
    facet, levels = whole.sentence.facet, whole.levels.get("facet", ())
    if facet is None or not levels:
        return whole.panels if facet is None else tuple(panel._replace(heading="", name="") for panel in whole.panels)
    counts = _panel_counts(whole.runs, len(levels))
    if len(facet.variables) == 1:
        texts = _headings(whole, facet.variables[0], levels, counts)
        across = facet.rows is None
        return tuple(
            panel._replace(name=text, heading=text) if across else panel._replace(name=text, side_heading=text)
            for panel, text in zip(whole.panels, texts, strict=True)
        )
    pairs = [level for level in levels if isinstance(level, tuple)]
    rows, columns = (
        _headings_of_all(whole, name, [pair[place] for pair in pairs], counts) for place, name in enumerate(facet.variables)
    )
    top = {panel.columns: panel.number for panel in reversed(whole.panels)}
    last = {panel.rows: panel.number for panel in whole.panels}
    panels = []
    for panel, (row, column) in zip(whole.panels, pairs, strict=True):
        over = columns[column] if top[panel.columns] == panel.number else None
        beside = rows[row] if last[panel.rows] == panel.number else None
        panels.append(panel._replace(heading=over, side_heading=beside, name=f"{rows[row]}, {columns[column]}"))
    return tuple(panels)


def _headings_of_all(whole: Split, name: str, of_panels: list[object], counts: list[int]) -> dict[object, str]:
    """What each value of a crossed column is called, with the rows of all its panels."""
    totals: dict[object, int] = {}
    for value, count in zip(of_panels, counts, strict=True):
        totals[value] = totals.get(value, 0) + count
    return dict(zip(totals, _headings(whole, name, tuple(totals), list(totals.values())), strict=True))


def _headings(whole: Split, name: str, levels: Levels, counts: list[int]) -> tuple[str, ...]:
    """What the values of a facet's column are called."""
    sentence, facet = whole.sentence, whole.sentence.facet
    assert facet is not None
    if callable(facet.heading):
        return tuple(called_format(facet.heading, level, "figure.facet", "heading") for level in levels)
    level_words = level_texts(levels, NOTHING, "figure.facet")
    words = {"name": [sentence.codebook.title(name)] * len(level_words), "value": list(level_words)}
    return filled_levels(facet.heading, words, counts, "figure.facet: heading")


def _panel_counts(runs: Runs, panels: int) -> list[int]:
    """How many rows of the first layer with data each panel has."""
    for run in runs:
        if run.columns and len(run.rows) and not run.layer.backdrop and run.layer.panels is None:
            counts: list[int] = np.bincount(run.rows.panel, minlength=panels).tolist()
            return counts
    return [0] * panels
