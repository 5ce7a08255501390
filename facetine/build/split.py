"""From a sentence to the rows of each layer: columns resolved, levels ordered, panels and groups numbered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from facetine.build.notes import Notes
from facetine.build.notes import rows as so_many
from facetine.core.arrays import AnyArray, BoolArray, IntArray
from facetine.core.columns import Columns
from facetine.core.scales.calendar import instant, strftime
from facetine.core.scales.formats import escaped, written
from facetine.core.scales.position import natural_key
from facetine.core.scales.transforms import Log, Logit, Transform
from facetine.data.codebook import Word
from facetine.data.expressions import crossed, kept, true_where
from facetine.data.intake import taken_in
from facetine.data.kinds import as_kind
from facetine.data.table import Column, Table, no_column
from facetine.errors import DataError, KindError, MappingError, OptionError, listed, unknown
from facetine.grammar.aesthetics import POSITIONS, TURNED, MapValue
from facetine.grammar.scale import NUMBER_KINDS, transform_of
from facetine.grammar.sentence import Sentence
from facetine.layers.base import Context, DrawnLayer

_MOST_PANELS = 200
DISCRETE_ONLY = ("shape", "dash", "group")
MISSING = type("Missing", (), {"__repr__": lambda _: "missing", "__str__": lambda _: "missing"})()
"""The level of rows without a value, where they are shown."""


@dataclass(slots=True)
class Part:
    """A layer with its rows."""

    layer: DrawnLayer
    rows: Columns
    """Places and looks by aesthetic: numbers, or positions in `Split.levels`. A horizontal layer's x and y are exchanged."""
    context: Context
    columns: Mapping[str, Column]
    """The mapped columns by aesthetic, as mapped (never exchanged)."""
    horizontal: bool


@dataclass(slots=True)
class Split:
    """All layers with their rows, and what their numbers stand for."""

    parts: list[Part]
    levels: dict[str, tuple[Any, ...]]
    """The levels of every discrete aesthetic; places under "x" and "y", panels under "facet"."""
    transforms: dict[str, Transform]
    """The transforms of x and y."""
    columns: dict[str, Column]
    """The first column mapped to each aesthetic."""
    names: dict[str, str]
    """Its name, from which its guide's title comes."""
    panels: int


@dataclass(slots=True)
class _Draft:
    layer: DrawnLayer
    table: Table
    columns: dict[str, Column]
    facet: Column | None
    swapped: bool


def split(sentence: Sentence, notes: Notes) -> Split:
    """Resolves every layer.

    Raises:
        MappingError: A layer lacks an aesthetic that it needs.
        KindError: A column has a kind that its use can't take.
        DataError: A layer has no data.
    """
    if not sentence.layers:
        raise MappingError("figure: no layer, so there is nothing to draw", "add one, such as .points(), .lines() or .bars()")
    sentence = turned(sentence)
    transforms: dict[str, Transform] = {axis: transform_of(sentence.scale(axis)) for axis in ("x", "y")}
    drafts = [_draft(sentence, layer, notes) for layer in sentence.layers]  # type: ignore[arg-type]
    levels = _all_levels(sentence, drafts)
    panels = len(levels["facet"]) if sentence.facet else 1
    columns: dict[str, Column] = {}
    for draft in drafts:
        for aesthetic, column in draft.columns.items():
            columns.setdefault(POSITIONS.get(aesthetic, aesthetic), column)
    parts = [_part(sentence, draft, levels, transforms, columns, panels, notes) for draft in drafts]
    names = {aesthetic: column.name for aesthetic, column in columns.items()}
    return Split(parts, levels, transforms, columns, names, max(panels, 1))


def turned(sentence: Sentence) -> Sentence:
    """A swapped sentence with x and y exchanged in mappings, scales and titles; any other one as it is."""
    if not sentence.swapped:
        return sentence

    def other(said: Mapping[str, Any]) -> dict[str, Any]:
        return {TURNED.get(name, name): value for name, value in said.items()}

    return replace(
        sentence,
        mapping=other(sentence.mapping),
        layers=tuple(replace(layer, map=other(layer.map)) for layer in sentence.layers),
        scales=other(sentence.scales),
        titles=replace(sentence.titles, guides=other(sentence.titles.guides)),
    )


def _draft(sentence: Sentence, layer: DrawnLayer, notes: Notes) -> _Draft:
    where = f"figure.{layer.verb}"
    table = layer.data if layer.data is not None else sentence.table
    if layer.stands_alone or layer.borrows is not None:
        return _Draft(layer, Table((), 0, None, _no_columns), {}, None, sentence.swapped)
    if table is None:
        raise DataError(f"{where}: no data", "give them to figure(…), or to the layer with data=")
    layer = _with_theme(layer, sentence)
    if layer.where is not None:
        table = kept(table, true_where(layer.where, table, f"{where}: where"))
    mapped: dict[str, MapValue] = {
        aesthetic: value for aesthetic, value in sentence.mapping.items() if layer.constant(aesthetic) is None
    }
    mapped |= layer.map
    # A layer speaks of x and y as they were said, before the axes were swapped.
    said = {TURNED.get(name, name): value for name, value in mapped.items()} if sentence.swapped else mapped
    lacking = layer.lacks(said)
    if lacking is not None:
        raise MappingError(
            f"{where}: nothing is mapped to {lacking}",
            f'write .map({lacking}="…") with one of the columns {listed(table.names, 8)}',
        )
    columns = {
        aesthetic: _column(sentence, table, aesthetic, value, where, notes)
        for aesthetic, value in mapped.items()
        if value is not None and (TURNED.get(aesthetic, aesthetic) if sentence.swapped else aesthetic) in layer.takes
    }
    return _Draft(layer, table, columns, _facet_column(sentence, table, where), sentence.swapped)


def _no_columns(name: str) -> Column:
    raise AssertionError(name)


def _with_theme(layer: DrawnLayer, sentence: Sentence) -> DrawnLayer:
    unsaid = {
        name: getattr(sentence.theme, setting) for name, setting in layer.from_theme.items() if getattr(layer, name) is None
    }
    return replace(layer, **unsaid) if unsaid else layer


def _column(sentence: Sentence, table: Table, aesthetic: str, value: MapValue, where: str, notes: Notes) -> Column:
    """The column of a mapping, in the kind that the aesthetic's scale needs."""
    if isinstance(value, tuple):
        parts = [sentence.column(table, name, where, aesthetic) for name in value]
        for part in parts:
            if not part.discrete:
                hint = f'write .kinds({part.name}="category")'
                raise KindError(f"{where}: {aesthetic} crosses {part.name!r}, which holds {_said_kind(part)}", hint)
        return crossed([_ordered(sentence, part) for part in parts])
    if callable(value):
        column = _called(table, value, aesthetic, where)
    else:
        assert isinstance(value, str)
        column = sentence.column(table, value, where, aesthetic)
    axis = POSITIONS.get(aesthetic, aesthetic)
    kind = sentence.scale(axis).kind
    if kind == "as_given" and not column.discrete:
        column = as_kind(column, "category", f"figure.scale({axis!r})")
    elif kind == "classed" and column.kind != "number":
        raise KindError(f"figure.scale({axis!r}): a classed scale needs numbers, but {column.name!r} holds {_said_kind(column)}")
    elif kind in ("category", "ordered", "time") and kind != column.kind:
        column = as_kind(column, kind, f"figure.scale({axis!r})")
    elif kind in NUMBER_KINDS and column.kind != "number":
        raise KindError(
            f"figure.scale({axis!r}): a {kind} scale needs numbers, but {column.name!r} holds {_said_kind(column)}",
            f'write .kinds({column.name}="number") if it can be read as numbers',
        )
    elif aesthetic in DISCRETE_ONLY and not column.discrete:
        column = _as_category(column, aesthetic, where)
    elif column.hint and (
        aesthetic not in POSITIONS
        or not column.hint.startswith(f"column {column.name!r} holds ")
        or "different whole" not in column.hint
    ):
        notes.say(column.hint)
    return column


def _ordered(sentence: Sentence, column: Column) -> Column:
    """A column whose levels stand in the codebook's order."""
    levels = ordered_levels([column], said_order(sentence, column.name), "codebook")
    return Column(column.name, column.kind, _coded(column, levels), levels, own_order=True)


def _said_kind(column: Column) -> str:
    return {"category": "categories", "ordered": "ordered categories", "time": "times", "yes_no": "truth values"}.get(
        column.kind, "numbers"
    )


def _as_category(column: Column, aesthetic: str, where: str) -> Column:
    found = as_kind(column, "category", where)
    if aesthetic != "group" and len(found.levels) > 12:
        raise KindError(
            f"{where}: {aesthetic} shows categories, but {column.name!r} holds {len(found.levels)} different "
            f"{_said_kind(column)}",
            "map it to color, size or opacity, which show numbers",
        )
    return found


def _called(table: Table, value: Any, aesthetic: str, where: str) -> Column:
    """What a callable makes of the frame, as a column."""
    name = getattr(value, "__name__", "computed").replace("<lambda>", "computed")
    try:
        made = value(table.source)
    except Exception as problem:
        raise MappingError(
            f"{where}: the callable for {aesthetic} failed: {type(problem).__name__}: {problem}",
            "it gets the data frame and returns a column",
        ) from problem
    name = str(getattr(made, "name", None) or name)
    column = taken_in({name: made if isinstance(made, np.ndarray) else list(made)}, where).column(name)
    if len(column.values) != table.height:
        raise MappingError(
            f"{where}: the callable for {aesthetic} returned {len(column.values)} values for {so_many(table.height)}"
        )
    return column


def _facet_column(sentence: Sentence, table: Table, where: str) -> Column | None:
    if sentence.facet is None or sentence.facet.by not in table.names:
        return None
    column = sentence.column(table, sentence.facet.by, where, "the facet")
    return column if column.discrete else as_kind(column, "category", "figure.facet")


def _all_levels(sentence: Sentence, drafts: list[_Draft]) -> dict[str, tuple[Any, ...]]:
    """The levels of every discrete aesthetic over all layers, in their order."""
    used: dict[str, list[Column]] = {}
    for draft in drafts:
        for aesthetic, column in draft.columns.items():
            used.setdefault(POSITIONS.get(aesthetic, aesthetic), []).append(column)
    levels: dict[str, tuple[Any, ...]] = {}
    for aesthetic, columns in used.items():
        _one_kind(aesthetic, columns)
        if columns[0].discrete:
            spec = sentence.scale(aesthetic)
            order = spec.order or said_order(sentence, columns[0].name)
            found = ordered_levels(columns, order, f"figure.scale({aesthetic!r})")
            shown = missing_policy(sentence, aesthetic, columns[0].name) not in (None, "drop") and any(
                column.missing.any() for column in columns
            )
            levels[aesthetic] = (*found, MISSING) if shown else found
    if sentence.facet is not None:
        facets = [draft.facet for draft in drafts if draft.facet is not None]
        order = sentence.facet.order or said_order(sentence, sentence.facet.by)
        if not facets:
            raise no_column(sentence.facet.by, drafts[0].table.names, "figure.facet", "the panels")
        levels["facet"] = ordered_levels(facets, order, "figure.facet")
        if len(levels["facet"]) > _MOST_PANELS:
            raise KindError(
                f"figure.facet: {sentence.facet.by!r} holds {len(levels['facet'])} different values",
                f"a facet makes a panel for each value; {_MOST_PANELS} panels are the most",
            )
    return levels


def said_order(sentence: Sentence, name: str) -> tuple[Any, ...]:
    """The codebook's order of a column's categories, by their words."""
    entry = sentence.codebook.entry(name)
    return tuple(entry.word(code) for code in entry.order)


def missing_policy(sentence: Sentence, aesthetic: str, name: str) -> str | None:
    """What becomes of rows without a value: the scale's word, else the codebook's."""
    return sentence.scale(aesthetic).missing or sentence.codebook.entry(name).missing


def _one_kind(aesthetic: str, columns: list[Column]) -> None:
    """All layers must put things of one kind on one scale."""
    sorts = {"levels" if column.discrete else column.kind: column for column in columns}
    if len(sorts) > 1:
        first, second = list(sorts.values())[:2]
        raise KindError(
            f"figure: {aesthetic} holds {_said_kind(first)} ({first.name!r}) in one layer and "
            f"{_said_kind(second)} ({second.name!r}) in another",
            "one scale shows one kind; .kinds(…) reads a column as another",
        )


def ordered_levels(columns: list[Column], order: tuple[Any, ...] | None, where: str) -> tuple[Any, ...]:
    """The levels that occur: first those of the given order, then by the data's own order, else in natural order.

    Raises:
        OptionError: The given order names a level that no column has.
    """
    occurring: dict[Any, None] = {}
    own = False
    for column in columns:
        own = own or column.own_order or column.kind == "yes_no"
        counts = np.bincount(column.values[column.values >= 0], minlength=len(column.levels))
        for level, count in zip(column.levels, counts.tolist(), strict=True):
            if count:
                occurring[level] = None
    found = list(occurring)
    if not own and len(columns) > 1:
        found.sort(key=lambda level: natural_key(str(level)))
    if not order:
        return tuple(found)
    by_text = {str(level): level for level in found}
    known = {str(level) for column in columns for level in column.levels}
    first = []
    for level in order:
        if str(level) in by_text:
            first.append(by_text[str(level)])
        elif known and str(level) not in known and columns:
            raise _no_level(level, found, where)
    return (*first, *(level for level in found if level not in set(first)))


def _no_level(level: object, found: list[Any], where: str) -> OptionError:
    error = unknown(OptionError, where, "order has no level", level, map(str, found), "levels")
    assert isinstance(error, OptionError)
    return error


def _part(
    sentence: Sentence,
    draft: _Draft,
    levels: Mapping[str, tuple[Any, ...]],
    transforms: Mapping[str, Transform],
    columns: Mapping[str, Column],
    panels: int,
    notes: Notes,
) -> Part:
    """The rows of a layer that can be drawn."""
    if draft.layer.borrows is not None:
        layer, none = draft.layer, Columns.of({})
        return Part(layer, none, Context(f"figure.{layer.verb}", {}, {}, notes.say), {}, False)
    if draft.layer.stands_alone:
        return _standing_alone(sentence, draft, levels, columns, transforms, panels, notes)
    values: dict[str, AnyArray] = {}
    keep = np.ones(draft.table.height, bool)
    for aesthetic, column in draft.columns.items():
        axis = POSITIONS.get(aesthetic, aesthetic)
        if aesthetic == "label":
            values[aesthetic] = label_texts(column)
            good = np.ones(draft.table.height, bool)
        elif column.discrete:
            values[aesthetic] = _coded(column, levels[axis])
            good = values[aesthetic] >= 0
        else:
            values[aesthetic] = column.values
            good = _usable(sentence, draft.layer, aesthetic, column, transforms.get(axis), notes)
        _say_missing(column, good, keep, notes)
        keep &= good
    panel, keep = _panels(draft, levels, keep, notes)
    group = _groups(draft.columns, values, levels, draft.table.height)
    every = Columns(values, panel, group)
    if not keep.all():
        every = every.take(keep)
    if draft.facet is None and panels > 1:
        every = _in_every_panel(every, panels)
    horizontal = _is_horizontal(draft)
    names = {aesthetic: column.name for aesthetic, column in draft.columns.items()}
    kinds: dict[str, str] = {aesthetic: column.kind for aesthetic, column in draft.columns.items()}
    if horizontal:
        every = every.renamed(TURNED)
        names = {TURNED.get(aesthetic, aesthetic): name for aesthetic, name in names.items()}
        kinds = {TURNED.get(aesthetic, aesthetic): kind for aesthetic, kind in kinds.items()}
    context = Context(f"figure.{draft.layer.verb}", names, kinds, notes.say)
    return Part(draft.layer, every, context, draft.columns, horizontal)


def _standing_alone(
    sentence: Sentence,
    draft: _Draft,
    levels: Mapping[str, tuple[Any, ...]],
    columns: Mapping[str, Column],
    transforms: Mapping[str, Transform],
    panels: int,
    notes: Notes,
) -> Part:
    """The rows of a layer that brings its own places, in every panel."""
    where = f"figure.{draft.layer.verb}"

    def place(axis: str, value: Any) -> float:
        axis = TURNED[axis] if sentence.swapped else axis
        if axis in levels:
            texts = [str(level) for level in levels[axis]]
            if str(value) not in texts:
                raise unknown(OptionError, where, f"no category on {axis}", value, texts, "categories")
            return float(texts.index(str(value)))
        column = columns.get(axis)
        if column is not None and column.kind == "time":
            return instant(value, column.zone, f"{where}: {axis}")
        if isinstance(value, bool) or not isinstance(value, int | float | np.number):
            raise OptionError(f"{where}: {axis} is a number here, not {value!r}")
        if not transforms[axis].admits(np.array([float(value)]))[0]:
            raise OptionError(f"{where}: {value!r} has no place on the {sentence.scale(axis).kind or 'linear'} scale of {axis}")
        return float(value)

    values = draft.layer.own_rows(place)
    rows = Columns.of({name: np.asarray(array) for name, array in values.items()})
    if panels > 1:
        rows = _in_every_panel(rows, panels)
    return Part(draft.layer, rows, Context(where, {}, {}, notes.say), {}, sentence.swapped)


def label_texts(column: Column) -> AnyArray:
    """What a label says of each row, as inline markup; empty where there is no value."""
    if column.discrete:
        texts = [_level_words(level) for level in column.levels]
    else:
        found, place = np.unique(column.values[~column.missing], return_inverse=True)
        said = strftime(found.tolist(), "%d %b %Y", column.zone) if column.kind == "time" else written(found.tolist())
        out = np.full(len(column.values), "", object)
        out[~column.missing] = np.array([*said, ""], object)[place]
        return out
    said = [text if isinstance(text, Word) else escaped(text) for text in texts]
    return np.array([*said, ""], object)[column.values]


def _level_words(level: Any) -> str:
    if isinstance(level, Word):
        return level
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return ", ".join(map(str, level)) if isinstance(level, tuple) else str(level)


def _coded(column: Column, levels: tuple[Any, ...]) -> IntArray:
    """Positions among the scale's levels instead of the column's own."""
    lost = len(levels) - 1 if levels and levels[-1] is MISSING else -1
    if column.levels == levels and lost == -1:
        return column.values
    place = {level: number for number, level in enumerate(levels)}
    table = np.array([*(place.get(level, -1) for level in column.levels), lost], np.int64)
    result: IntArray = table[column.values]
    return result


def _usable(
    sentence: Sentence, layer: DrawnLayer, aesthetic: str, column: Column, transform: Transform | None, notes: Notes
) -> BoolArray:
    """Where a number has a place; says what has none for another reason than being missing."""
    if transform is None:
        transform = transform_of(sentence.scale(aesthetic))
    good = transform.admits(column.values)
    if good.all():
        return good
    infinite = int(np.isinf(column.values).sum())
    if infinite:
        notes.say(f"{so_many(infinite)} with an infinite {column.name} left out")
    if isinstance(transform, Log):
        low = int((column.values <= 0).sum()) - int(np.isneginf(column.values).sum())
        if low:
            notes.say(f"{so_many(low)} with {column.name} of zero or less left out: a log scale has no place for them")
    if isinstance(transform, Logit):
        outside = int(((column.values <= 0) | (column.values >= 1)).sum()) - infinite
        if outside:
            notes.say(f"{so_many(outside)} with {column.name} not between 0 and 1 left out: a logit scale has no place for them")
    missing = np.isnan(column.values)
    if aesthetic == "y" and layer.keeps_gaps:
        return good | missing
    shown = aesthetic not in POSITIONS and missing_policy(sentence, aesthetic, column.name) not in (None, "drop")
    return good | missing if shown else good


def _say_missing(column: Column, good: BoolArray, keep: BoolArray, notes: Notes) -> None:
    gone = keep & ~good
    if not gone.any():
        return
    count = int((gone & column.missing).sum())
    if count:
        notes.say(f"{so_many(count)} without {column.name} left out")


def _panels(draft: _Draft, levels: Mapping[str, tuple[Any, ...]], keep: BoolArray, notes: Notes) -> tuple[IntArray, BoolArray]:
    if draft.facet is None:
        return np.zeros(draft.table.height, np.int64), keep
    panel = _coded(draft.facet, levels["facet"])
    _say_missing(draft.facet, panel >= 0, keep, notes)
    return panel, keep & (panel >= 0)


def _groups(
    columns: Mapping[str, Column], values: Mapping[str, AnyArray], levels: Mapping[str, tuple[Any, ...]], height: int
) -> IntArray:
    """The combination of all discrete looks of each row, numbered so that the first aesthetic's order leads."""
    code = np.zeros(height, np.int64)
    seen: list[str] = []
    for aesthetic, column in columns.items():
        if aesthetic in POSITIONS or aesthetic == "label" or not column.discrete or column.name in seen:
            continue
        seen.append(column.name)
        code = code * max(len(levels[aesthetic]), 1) + values[aesthetic]
    return code


def _in_every_panel(rows: Columns, panels: int) -> Columns:
    """Data that know nothing of the facet stand in all panels."""
    count = len(rows)
    repeated = rows.take(np.tile(np.arange(count), panels))
    return Columns(repeated.values, np.repeat(np.arange(panels), count), repeated.group)


def _is_horizontal(draft: _Draft) -> bool:
    """Whether a category on y and a number on x (or nothing) turn this layer."""
    if not draft.layer.can_turn:
        return draft.swapped
    x, y = draft.columns.get("x"), draft.columns.get("y")
    # A layer that computes heights may stand on either axis; one that shows values of y needs a category, or a swap, to lie.
    shows_y = "y" in draft.layer.required
    if x is None:
        return y is not None and not shows_y
    if y is None:
        return draft.swapped and shows_y
    if x.discrete != y.discrete:
        return y.discrete
    return draft.swapped
