"""What stands over panels, and beside their rows; how far they stand apart."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

import numpy as np

from facetine.core.scales.formats import escaped
from facetine.data.table import Levels
from facetine.grammar.facet import Facet
from facetine.grammar.lengths import in_points
from facetine.grammar.scale import NOTHING
from facetine.grammar.sentence import Sentence
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.rows.panels import Panel, Panels, Span
from facetine.pipeline.rows.runs import Runs, Split
from facetine.pipeline.scales.wording import called_format, filled_levels, level_texts


def gaps_of(sentence: Sentence) -> tuple[float, float]:
    """Room between columns and between rows of panels, in points."""
    facet, usual = sentence.facet, sentence.theme.panel_gap
    if facet is None:
        return usual, usual
    across, down = (usual if gap is None else in_points(gap, "figure.facet") for gap in (facet.gap_x, facet.gap_y))
    return across, down


class Headed(NamedTuple):
    """Panels with what stands over and beside them."""

    panels: Panels
    spans: tuple[Span, ...] = ()
    """Outer headings, of nested columns."""


def headed(whole: Split) -> Saying[Headed]:
    """The panels with what stands over them; crossed ones with what stands over each column and beside each row."""
    facet, levels = whole.sentence.facet, whole.levels.get("facet", ())
    if facet is None:
        return Headed(whole.panels)
    if not levels:
        return Headed(tuple(panel._replace(heading="", name="") for panel in whole.panels))
    if len(levels) == 1:
        yield Remark("one-panel", "figure.facet", f"{' and '.join(facet.names)} has one value, so that there is one panel")
    counts = _panel_counts(whole.runs, len(levels))
    if not facet.crossed:
        texts = _words(whole, facet.names[0], levels, counts)
        return Headed(tuple(panel._replace(name=text, heading=text) for panel, text in zip(whole.panels, texts, strict=True)))
    pairs = _pairs(facet, levels)
    rows, columns = ([pair[place] for pair in pairs] for place in (0, 1))
    over = _of_all(whole, len(facet.variables) - 1, columns, counts) if facet.columns is not None else {}
    beside = _of_all(whole, 0, rows, counts) if facet.rows is not None else {}
    top = {(panel.page, panel.columns): panel.number for panel in reversed(whole.panels)}
    order = whole.panels if facet.row_headings == "right" else whole.panels[::-1]
    last = {(panel.page, panel.rows): panel.number for panel in order}
    panels = []
    for panel, row, column in zip(whole.panels, rows, columns, strict=True):
        names = (", ".join(said) for said in (beside.get(row), over.get(column)) if said)
        panels.append(
            panel._replace(
                heading=over[column][-1] if over and top[panel.page, panel.columns] == panel.number else None,
                side_heading=beside[row][-1] if beside and last[panel.page, panel.rows] == panel.number else None,
                name=", ".join(names),
            )
        )
    spans = [*_spans("x", panels, columns, over), *_spans("y", panels, rows, beside)]
    return Headed(tuple(panels), tuple(spans))


def _pairs(facet: Facet, levels: Levels) -> list[tuple[object, object]]:
    """The value of the rows and the value of the columns of each panel; None where there is but the other."""
    if len(facet.variables) == 1:
        return [(level, None) if facet.rows is not None else (None, level) for level in levels]
    return [level for level in levels if isinstance(level, tuple)]


def _of_all(whole: Split, place: int, of_panels: list[object], counts: list[int]) -> dict[object, tuple[str, ...]]:
    """What each value of a crossed variable is called, the outer names first, with the rows of all its panels."""
    facet = whole.sentence.facet
    assert facet is not None
    totals: dict[object, int] = {}
    for value, count in zip(of_panels, counts, strict=True):
        totals[value] = totals.get(value, 0) + count
    levels, variable = tuple(totals), facet.variables[place]
    if not isinstance(variable, tuple):
        texts = _words(whole, facet.names[place], levels, list(totals.values()))
        return {level: (text,) for level, text in zip(levels, texts, strict=True)}
    nested = [level for level in levels if isinstance(level, tuple)]
    parts = []
    for depth, name in enumerate(variable):
        prefixes = [level[: depth + 1] for level in nested]
        inside = {prefix: sum(totals[level] for level in nested if level[: depth + 1] == prefix) for prefix in prefixes}
        words = _words(whole, name, tuple(prefix[-1] for prefix in inside), list(inside.values()))
        found = dict(zip(inside, words, strict=True))
        parts.append([found[prefix] for prefix in prefixes])
    return dict(zip(levels, zip(*parts, strict=True), strict=True))


def _spans(axis: str, panels: list[Panel], of_panels: list[object], said: Mapping[object, tuple[str, ...]]) -> Iterator[Span]:
    """The outer headings: one over all neighbours whose outer values agree."""
    depths = max((len(names) for names in said.values()), default=1) - 1
    for depth in range(depths):
        tracks: dict[tuple[int, object], list[range]] = {}
        words: dict[tuple[int, object], str] = {}
        for panel, value in zip(panels, of_panels, strict=True):
            assert isinstance(value, tuple)
            at = (panel.page, value[: depth + 1])
            tracks.setdefault(at, []).append(panel.columns if axis == "x" else panel.rows)
            words[at] = said[value][depth]
        for (page, value), places in tracks.items():
            ends = range(min(place.start for place in places), max(place.stop for place in places))
            yield Span(axis, words[page, value], ends, depth, page)


def _words(whole: Split, name: str, levels: Levels, counts: list[int]) -> tuple[str, ...]:
    """What the values of a facet's variable are called."""
    sentence, facet = whole.sentence, whole.sentence.facet
    assert facet is not None
    heading = facet.heading
    if heading is None:
        # "Yes" alone would not say what.
        heading = "{name}: {value}" if all(isinstance(level, bool | np.bool_) for level in levels) else "{value}"
    if callable(heading):
        return tuple(called_format(heading, level, "figure.facet", "heading") for level in levels)
    level_words = level_texts(levels, NOTHING, "figure.facet", columns=sentence.crossed_names(name))
    words = {"name": [escaped_name(sentence, name)] * len(level_words), "value": list(level_words)}
    return filled_levels(heading, words, counts, "figure.facet: heading")


def escaped_name(sentence: Sentence, name: str) -> str:
    """What a column is called; an expression stands as it was written."""
    known = sentence.table is None or all(part in sentence.table.names for part in name.split(" × "))
    return sentence.column_title(name) if known else escaped(name)


def _panel_counts(runs: Runs, panels: int) -> list[int]:
    """How many rows of the first layer with data each panel has."""
    for run in runs:
        if run.columns and len(run.rows) and not run.layer.backdrop and run.layer.panels is None:
            counts: list[int] = np.bincount(run.rows.panel, minlength=panels).tolist()
            return counts
    return [0] * panels
