"""Where figures begin: with data, or as plain data."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal, overload

from facetine.export.defaults import now
from facetine.figures.figure import Figure
from facetine.figures.panels import paired
from facetine.figures.plate import picture, plate, with_looks
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import OptionError, told

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from facetine.figures.plate import Plate
    from facetine.grammar.aesthetics import MapValue
    from facetine.grammar.given import Frame, Options
    from facetine.layers import PairLayer


def figure(
    data: Frame = None,
    *,
    codebook: object = None,
    columns: Sequence[str] | None = None,
    reset: bool = False,
    **arrays: Sequence[Any],
) -> Figure:
    """Begins a figure.

    Args:
        data: A data frame (pandas, polars, pyarrow, and whatever else narwhals takes), a dict of arrays, a list of dicts,
            or a NumPy array with named columns; None where every layer brings its own.
        codebook: What is known of the columns: a dict of entries with label, unit, kind, words (for codes), order,
            colors, missing, classes and from; or a TOML file, or a data frame, that says the same; or a list of these,
            each laid over those before it. It is laid over the codebook of `set_defaults`.
        columns: The names of the columns of an array of shape (n, k).
        reset: Whether the index of a pandas frame becomes columns; where it is left, a finding says so.
        **arrays: Columns by keyword, each of shape (n,), in the place of data.

    Raises:
        DataError: The data hold no table.
        OptionError: The codebook says something impossible, or options do not go together.

    Example:
        >>> import facetine as ft
        >>> ft.figure({"age": [30, 60], "mass": [4.1, 3.9]}).map(x="age", y="mass").points(size=4)
        figure(2 rows × 2 columns)
          .map(x='age', y='mass')
          .points(size=4.0)
        >>> ft.figure(age=[30, 60], mass=[4.1, 3.9])
        figure(2 rows × 2 columns)
    """
    from facetine.data.codebook import Codebook
    from facetine.data.explained import explained
    from facetine.data.given import begun_with

    book = Codebook.of([now().codebook, codebook], "figure: codebook")
    table = begun_with(data, arrays, columns, reset, "figure")
    return Figure(Sentence(None if table is None else explained(table, book), book, theme=now().theme))


def matrix(
    data: Frame | Figure,
    columns: Sequence[str],
    *,
    map: Mapping[str, MapValue] | None = None,
    diagonal: PairLayer = "histogram",
    under_diagonal: PairLayer = "points",
    over_diagonal: PairLayer = "correlation",
    mixed: PairLayer = "boxes",
    codebook: object = None,
) -> Figure:
    """Begins a figure that sets each of several columns against each other one.

    Args:
        data: As for `figure`; or a figure without layers, whose data, mapping and kinds it takes.
        columns: Numbers and categories.
        map: Colors, shapes and the like of all pairs, such as {"color": "rind"}.
        diagonal: The layer of each number alone; categories are counted by bars.
        under_diagonal: The layer of pairs of numbers under the diagonal: its name, or a dict of name and options; "none" for
            nothing.
        over_diagonal: Likewise above the diagonal.
        mixed: The layer of a number and a category; two categories are counted in cells.
        codebook: As for `figure`.

    Raises:
        FacetineError: As `figure` and `Figure.map`.
        MappingError: There is no such column.
        OptionError: There are fewer than two columns, or a layer or an option is unknown.

    Example:
        >>> import facetine as ft
        >>> fig = ft.matrix(ft.demo_data("wheels"), ["mass_kg", "ph", "rind"], map={"color": "milk"}, diagonal="density")
    """
    begun = (data if isinstance(data, Figure) else figure(data, codebook=codebook)).map(**(map or {}))
    sides = {"diagonal": diagonal, "under_diagonal": under_diagonal, "over_diagonal": over_diagonal, "mixed": mixed}
    return Figure(paired(begun._sentence, columns, sides))


@overload
def from_dict(spec: Options, data: Frame = None, *, codebook: object = None) -> Figure: ...


@overload
def from_dict(spec: Mapping[Literal["plate"], Options], data: Frame = None, *, codebook: object = None) -> Plate: ...


def from_dict(spec: Any, data: Frame = None, *, codebook: object = None) -> Figure | Plate:
    """A figure or a plate from plain data, the shape that `to_dict` returns and a plan holds.

    Args:
        spec: map, kinds, layers, facet, scale, titles and theme, each optional; or plate.
        data: The data, as for `figure`; of a plate, those of all its figures, or a list of frames, one a figure.
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

    if isinstance(spec, dict) and "plate" in spec:
        return plate_from(spec["plate"], data, codebook)
    begun = figure(data, codebook=codebook)
    for verb_, given, options, layer in steps_of(spec):
        if verb_ == "inset":
            inner: Any = given[0]
            given = (from_dict(inner, data, codebook=codebook),)
        if layer:
            begun = begun._add_layer(verb_, options)
        elif verb_ == "matrix":
            of_pairs: Any = options
            begun = matrix(begun, **of_pairs)
        else:
            begun = getattr(begun, verb_)(*given, **options)
    return begun


def plate_from(spec: Any, data: Any, codebook: object) -> Plate:
    """A plate from plain data; see `facetine.from_dict`."""
    from facetine.grammar.platespec import OPTIONS, checked_plate_spec

    if not isinstance(spec, dict):
        raise OptionError("from_dict", f"plate is a table, not {told(spec)}")
    rows, specs = checked_plate_spec(spec, "from_dict")
    frames = data if hasattr(data, "__next__") else iter(data) if isinstance(data, list | tuple) else None
    figures: list[object] = []
    for one in specs:
        if isinstance(one, dict) and "picture" in one:
            figures.append(picture(**one["picture"]))
        elif isinstance(one, dict) and "plate" in one:
            figures.append(from_dict(one, frames if frames is not None else data, codebook=codebook))
        else:
            figures.append(from_dict(one, data if frames is None else next(frames, None), codebook=codebook))
    options = {name: spec[name] for name in OPTIONS if name in spec}
    made = plate([[None if number is None else figures[number] for number in row] for row in rows], **options)
    return with_looks(made, spec)
