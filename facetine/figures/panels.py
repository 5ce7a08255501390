"""What makes panels of a sentence: facets, columns, pairs of columns, marginals, insets, and how large panels are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any

from facetine.figures.edits import sentence_of, with_changes
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, told

if TYPE_CHECKING:
    from facetine.grammar.facet import Variable
    from facetine.grammar.given import Length, Options
    from facetine.layers import PairLayer


def faceted(
    sentence: Sentence, by: Variable | None, rows: Variable | None, columns: Variable | None, options: Options
) -> Sentence:
    """With a panel for each value; in one panel where nothing is named."""
    from facetine.grammar.facet import facet_of

    if by is None and rows is None and columns is None:
        return with_changes(sentence, facet=None)
    return with_changes(sentence, facet=facet_of(by, rows, columns, options, sentence.table, "figure.facet"))


def paired(sentence: Sentence, columns: Sequence[str], sides: Mapping[str, PairLayer]) -> Sentence:
    """With each of several columns set against each other one.

    Args:
        sentence: What the figure says.
        columns: Numbers and categories.
        sides: The layers of the diagonal, under and over it, and of mixed pairs, as `facetine.matrix` takes them.
    """
    from facetine.grammar.matrix import Matrix, matrix_columns
    from facetine.layers import layer_said, made

    table, book = sentence.table, sentence.codebook
    names = matrix_columns(columns, table, "matrix")
    layers = {name: layer_said(given, table, book, f"matrix: {name}") for name, given in sides.items()}
    alone = made("bars", {}, table, book) if layers["diagonal"] is not None else None
    counts = {"value_labels": "{count:.0f}", "legend": False}
    crossed = made("cells", counts, table, book) if layers["mixed"] is not None else None
    return with_changes(sentence, matrix=Matrix(columns=names, **layers, alone=alone, crossed=crossed))


def over_variables(
    sentence: Sentence, x: Sequence[str] | None, y: Sequence[str] | None, by: str | None, per_row: int | None
) -> Sentence:
    """Repeated over columns; over none where nothing is named."""
    from facetine.grammar.variables import variables_of

    if x is None and y is None and by is None and per_row is None:
        return with_changes(sentence, over_variables=None)
    return with_changes(sentence, over_variables=variables_of(x, y, by, per_row, sentence.table))


def with_marginal(sentence: Sentence, side: str, layer: str, size: float | None, panels: str, options: Options) -> Sentence:
    """With a layer at a side of its panels."""
    from facetine.grammar.marginal import Marginal, checked_panels, checked_side, checked_size
    from facetine.layers import made

    where = f"figure.marginal({told(side)})"
    side = checked_side(side, "figure.marginal")
    drawn = made(layer, {"legend": False, **options}, sentence.table, sentence.codebook)
    new = Marginal(side=side, layer=drawn, size=checked_size(size, where), panels=checked_panels(panels, where))
    return with_changes(sentence, marginals=(*sentence.marginals, new))


def with_inset(sentence: Sentence, figure: object, at: Sequence[float], units: str, panel: str | None, zoom: bool) -> Sentence:
    """With a figure set into one of its panels."""
    from facetine.grammar.options import choice, flag, text
    from facetine.grammar.sentence import Inset, checked_place

    where = "figure.inset"
    inner = sentence_of(figure, where, "a plate or a picture can't stand in a panel")
    if inner.insets:
        raise OptionError(where, "the inset has an inset itself", "one inside the other can't be read")
    units = str(choice("share", "data", name="units")(units, f"{where}: units"))
    new = Inset(
        figure=inner,
        at=checked_place(at, units, where),
        units=units,
        panel=None if panel is None else text(panel, f"{where}: panel"),
        zoom=flag(zoom, f"{where}: zoom"),
    )
    return with_changes(sentence, insets=(*sentence.insets, new))


def sized(sentence: Sentence, ratio: float | None, width: Length, height: Length) -> Sentence:
    """With panels of a size, or of a shape."""
    from facetine.grammar.options import checked
    from facetine.grammar.panel import PanelSpec, check_panel

    options: dict[str, Any] = {"ratio": ratio, "width": width, "height": height}
    panel = PanelSpec(**checked(PanelSpec, options, "figure.panel"))
    check_panel(panel)
    return with_changes(sentence, panel=panel)
