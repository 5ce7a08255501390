"""Reading a figure off: the numbers behind its marks, and where they stand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from facetine.grammar.marginal import SIDES
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, listed, told

if TYPE_CHECKING:
    from facetine.grammar.given import Length

_POINTS_A_MM = 72 / 25.4


def numbers_of(sentence: Sentence, layer: str | int | None, width: Length, height: Length, *, spreadsheet: bool) -> Any:
    """The numbers behind the picture, as a frame.

    Raises:
        OptionError: There is no such layer, or several.
        FacetineError: The sentence can't be drawn.
    """
    from facetine.export.export import in_points_said
    from facetine.export.tables import frame_of
    from facetine.layers.changed import place_of
    from facetine.pipeline.sheet.numbers import numbers_behind

    where = "figure.numbers"
    if not isinstance(spreadsheet, bool):
        raise OptionError(where, f"spreadsheet is True or False, not {told(spreadsheet)}")
    beside = _marginal_of(sentence, layer)
    place = None if layer is None or beside else place_of(sentence, layer, where)
    parts = numbers_behind(sentence, place, *in_points_said(sentence, width, height, where), beside=beside)
    return frame_of(parts, sentence.table, verbs=layer is None or len(beside) > 1, spreadsheet=spreadsheet)


def standing_at(sentence: Sentence, layer: str | int, rows: Sequence[int], width: Length, height: Length) -> Any:
    """Where rows stand on the sheet, as a frame of millimetres.

    Raises:
        OptionError: There is no such layer, or rows are no numbers of rows.
        FacetineError: The sentence can't be drawn.
    """
    import pandas as pd

    from facetine.core.arrays import is_whole
    from facetine.export.export import built
    from facetine.layers.changed import place_of
    from facetine.pipeline.sheet.numbers import standing

    where = "figure.at"
    place = place_of(sentence, layer, where)
    given: Any = rows
    if not isinstance(given, Iterable) or not all(is_whole(row) and row >= 0 for row in given):
        raise OptionError(where, f"rows is a list of numbers of rows, not {told(rows)}")
    found = standing(built(sentence, width, height, where), place, [int(row) for row in rows])
    frame = pd.DataFrame(found, columns=["row", "page", "panel", "x_mm", "y_mm"])
    return frame.assign(x_mm=frame["x_mm"] / _POINTS_A_MM, y_mm=frame["y_mm"] / _POINTS_A_MM)


def _marginal_of(sentence: Sentence, layer: object) -> tuple[int, ...]:
    """The places of the marginals at a side, counted from 1; none where no side is meant.

    Raises:
        OptionError: Nothing stands at that side.
    """
    if layer not in SIDES or any(one.name == layer for one in sentence.layers):
        return ()
    found = tuple(number for number, one in enumerate(sentence.marginals, 1) if one.side == layer)
    if not found:
        there = listed(dict.fromkeys(repr(one.side) for one in sentence.marginals)) or "none"
        raise OptionError("figure.numbers", f"no marginal at {layer!r}", f"marginals: {there}; .marginal({layer!r}, …) adds one")
    return found
