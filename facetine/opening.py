"""Where figures begin: with data, or as plain data."""

from __future__ import annotations

from typing import TYPE_CHECKING

from facetine.grammar.sentence import Sentence
from facetine.public import Figure
from facetine.session import now

if TYPE_CHECKING:
    from facetine.grammar.given import Frame, Options


def figure(data: Frame, *, codebook: object = None) -> Figure:
    """Begins a figure.

    Args:
        data: A data frame (pandas, polars, pyarrow, and whatever else narwhals takes), a dict of arrays, or a NumPy
            structured array; None where every layer brings its own.
        codebook: What is known of the columns: a dict of entries with label, unit, kind, values (words for codes), order,
            colors, missing, classes and from; or a TOML file, or a data frame, that says the same; or a list of these,
            each laid over those before it. It is laid over the codebook of `set_defaults`.

    Raises:
        DataError: The data hold no table.
        OptionError: The codebook says something impossible.

    Example:
        >>> import facetine as ft
        >>> ft.figure({"age": [30, 60], "mass": [4.1, 3.9]}).map(x="age", y="mass").points(size=4)
        figure(2 rows × 2 columns)
          .map(x='age', y='mass')
          .points(size=4.0)
    """
    from facetine.data.codebook import Codebook
    from facetine.data.explained import explained
    from facetine.data.intake import taken_in

    book = Codebook.of([now().codebook, codebook], "figure: codebook")
    table = None if data is None else explained(taken_in(data, "figure"), book)
    return Figure(Sentence(table, book, theme=now().theme))


def from_dict(spec: Options, data: Frame = None, *, codebook: object = None) -> Figure:
    """A figure from plain data, the shape that `Figure.to_dict` returns and a plan holds.

    Args:
        spec: map, kinds, layers, facet, scale, titles and theme, each optional.
        data: The data, as for `figure`.
        codebook: What is known of the columns, as for `figure`.

    Raises:
        OptionError: The spec has an unknown part, or a part of the wrong shape.
        FacetineError: A part says something impossible.

    Example:
        >>> import facetine as ft
        >>> spec = {"map": {"x": "a", "y": "b"}, "layers": [{"points": {}}]}
        >>> fig = ft.from_dict(spec, {"a": [1, 2], "b": [3, 4]})
    """
    from facetine.grammar.spec import steps_of

    begun = figure(data, codebook=codebook)
    for verb_, given, options, layer in steps_of(spec):
        begun = begun._add_layer(verb_, options) if layer else getattr(begun, verb_)(*given, **options)
    return begun
