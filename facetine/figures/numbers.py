"""Reading a figure off: the numbers behind its marks, and where they stand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from facetine.figures.verb import verb
from facetine.grammar.marginal import SIDES
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, listed, told

if TYPE_CHECKING:
    from facetine.grammar.given import Length

_POINTS_A_MM = 72 / 25.4


class Reading:
    """The verbs that read a figure off."""

    __slots__ = ()
    _sentence: Sentence

    @verb
    def numbers(
        self,
        layer: str | int | None = None,
        *,
        spreadsheet: bool = False,
        width: Length = None,
        height: Length = None,
    ) -> Any:
        """The numbers behind the picture: a row for each mark, in the unit of the data.

        Args:
            layer: The verb, the name or the place of a layer, or the side of a marginal: "top", "right", "bottom" or
                "left"; all layers by default, whose verb a first column holds.
            spreadsheet: Whether texts that a spreadsheet would take for formulas, such as "=1+1", get a quote before them;
                numbers never do.
            width: Of the sheet, as for `export`: cells and curves are as fine as the panels have space for, by default.
            height: Its height.

        Returns:
            A frame of the library whose frame the figure has, else of pandas, with the panel and the group where there are
            several, the number of the row where marks are rows of the data, places, and every name that the layer computes:
            docs/layers.md lists them. Categories are the words that stand in the figure.

        Raises:
            OptionError: There is no such layer, or several.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"k": ["a", "a", "b"], "v": [1.0, 3.0, 5.0]}).map(x="k", y="v").bars(aggregate="mean")
            >>> fig.numbers("bars")[["x", "mean"]].to_dict("list")
            {'x': ['a', 'b'], 'mean': [2.0, 5.0]}
        """
        from facetine.export.export import in_points_said
        from facetine.export.tables import frame_of
        from facetine.layers.changed import place_of
        from facetine.pipeline.sheet.numbers import numbers_behind

        if not isinstance(spreadsheet, bool):
            raise OptionError("figure.numbers", f"spreadsheet is True or False, not {told(spreadsheet)}")
        beside = _marginal_of(self._sentence, layer)
        place = None if layer is None or beside else place_of(self._sentence, layer, "figure.numbers")
        sizes = in_points_said(self._sentence, width, height, "figure.numbers")
        parts = numbers_behind(self._sentence, place, *sizes, beside=beside)
        return frame_of(parts, self._sentence.table, verbs=layer is None or len(beside) > 1, spreadsheet=spreadsheet)

    @verb
    def at(self, layer: str | int, *, rows: Sequence[int], width: Length = None, height: Length = None) -> Any:
        """Where rows stand on the sheet, in millimetres from its left and upper edge: the middle of each mark.

        Args:
            layer: The verb, the name or the place of a layer.
            rows: Numbers of rows, counted from 0 in the frame that was given; of layers that compute, in `numbers(layer)`.
            width: Of the sheet, as for `export`.
            height: Its height.

        Returns:
            A frame with row, page, panel (counted from 0), x_mm and y_mm; a row that is not drawn is not among them.

        Raises:
            OptionError: There is no such layer, or rows are no numbers of rows.
            FacetineError: The sentence can't be drawn.

        Example:
            >>> import facetine as ft
            >>> fig = ft.figure({"a": [1, 2, 3], "b": [3, 4, 6]}).map(x="a", y="b").points()
            >>> fig.at("points", rows=[0, 2])["row"].tolist()
            [0, 2]
        """
        import pandas as pd

        from facetine.core.arrays import is_whole
        from facetine.export.export import built
        from facetine.layers.changed import place_of
        from facetine.pipeline.sheet.numbers import standing

        place = place_of(self._sentence, layer, "figure.at")
        given: Any = rows
        if not isinstance(given, Iterable) or not all(is_whole(row) and row >= 0 for row in given):
            raise OptionError("figure.at", f"rows is a list of numbers of rows, not {told(rows)}")
        found = standing(built(self._sentence, width, height, "figure.at"), place, [int(row) for row in rows])
        made = pd.DataFrame(found, columns=["row", "page", "panel", "x_mm", "y_mm"])
        return made.assign(x_mm=made["x_mm"] / _POINTS_A_MM, y_mm=made["y_mm"] / _POINTS_A_MM)


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
