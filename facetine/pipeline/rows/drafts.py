"""Drafts: which columns each layer has to do with, before any of its rows is looked at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from facetine.core.arrays import is_number
from facetine.core.scales.calendar import instant
from facetine.core.scales.kinds.base import Transform
from facetine.data.expressions import crossed, kept, true_where
from facetine.data.flags import FLAGS_COUNTED
from facetine.data.table import Column, Levels, Table
from facetine.grammar.aesthetics import POSITIONS, TURNED, MapValue, Placing
from facetine.grammar.given import Options, Plain
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.base import DrawnLayer
from facetine.layers.context import NUMERIC_LOOKS
from facetine.layers.ends import ENDS
from facetine.messages.errors import DataError, KindError, MappingError, OptionError, listed, told, unknown
from facetine.messages.findings import Remark, Remarks, Saying, each
from facetine.pipeline.composition.resolve import facet_columns, mapped_column
from facetine.pipeline.rows.chosen import check_backdrop
from facetine.pipeline.rows.divided import GROUPING, division
from facetine.pipeline.rows.ordering import held, pooled


@dataclass(slots=True)
class Draft:
    """A layer with the columns that it has to do with."""

    layer: DrawnLayer
    table: Table
    columns: dict[str, Column]
    """What the layer shows or computes from."""
    grouping: dict[str, Column]
    """The discrete columns that divide its rows, whether it shows them or not."""
    facets: tuple[Column, ...]
    """The columns whose values make panels; none where its rows stand in every panel."""
    swapped: bool
    unweighed: str = ""
    """The column of a weight for which it has no use."""

    @property
    def facet(self) -> Column | None:
        """The one column whose values make panels: a crossed one of two; None for none."""
        if not self.facets:
            return None
        return self.facets[0] if len(self.facets) == 1 else crossed(list(self.facets))


def drafted(sentence: Sentence) -> Saying[list[Draft]]:
    """A draft of each layer.

    Args:
        sentence: What the figure says, x and y as the reader sees them.

    Raises:
        MappingError: A layer lacks an aesthetic that it needs.
        KindError: A column has a kind that its use can't take.
        DataError: A layer has no data.
    """
    drafts = yield from each(_draft(sentence, layer) for layer in sentence.layers)  # type: ignore[arg-type]
    _check_ends(sentence, drafts)
    _shares_as_numbers(drafts)
    yield from _say_unweighed(drafts)
    return drafts


def _check_ends(sentence: Sentence, drafts: list[Draft]) -> None:
    """Nothing, where all ends that are mapped are shown.

    Raises:
        MappingError: Ends are mapped for a layer that shows none, or for a figure of which no layer does.
    """
    shown = {name for draft in drafts for name in draft.columns}
    for draft in drafts:
        if draft.layer.stands_alone or draft.layer.borrows is not None:
            continue
        wrong = [
            name for name, value in draft.layer.map.items() if name in _ENDS and value is not None and name not in draft.columns
        ]
        if wrong:
            raise _no_ends(f"figure.{draft.layer.verb}", _said(wrong[0], sentence), f"nothing of these {draft.layer.verb}")
    for name, value in sentence.mapping.items():
        if name in _ENDS and value is not None and drafts and name not in shown and _may_show(sentence):
            verbs = ", ".join(dict.fromkeys(draft.layer.verb for draft in drafts))
            raise _no_ends("figure.map", _said(name, sentence), f"no layer ({verbs})")


_ENDS = (*ENDS, "x_to", "y_to")


def _may_show(sentence: Sentence) -> bool:
    """Whether the layers are there that a mapping may be for; a figure without any is not finished."""
    return any(layer.verb != "blank" for layer in sentence.layers)


def _no_ends(where: str, name: str, who: str) -> MappingError:
    fix = ".segments() lead from x, y to x_to, y_to"
    if not name.endswith("_to"):
        both = f"{name[0]}_low and {name[0]}_high"
        fix = f".intervals(), .points() and .bands() show {both} where both are mapped and nothing is computed"
    return MappingError(where, f"{name} is mapped, but {who} can show it", fix)


def turned(sentence: Sentence) -> Sentence:
    """A swapped sentence with x and y exchanged in mappings, scales and titles; any other one as it is."""
    if not sentence.swapped:
        return sentence

    def other(said: Options) -> Plain:
        return {TURNED.get(name, name): value for name, value in said.items()}

    return replace(
        sentence,
        mapping=other(sentence.mapping),
        layers=tuple(replace(layer, map=other(layer.map)) for layer in sentence.layers),
        scales=other(sentence.scales),
        pools=other(sentence.pools),
        titles=replace(sentence.titles, guides=other(sentence.titles.guides)),
    )


def _draft(sentence: Sentence, layer: DrawnLayer) -> Saying[Draft]:
    where = f"figure.{layer.verb}"
    check_backdrop(sentence.facet, layer, where)
    table = layer.data if layer.data is not None else sentence.table
    if layer.borrows is not None:
        return Draft(layer, Table((), 0, None, _no_columns), {}, {}, (), sentence.swapped)
    if layer.stands_alone:
        own = own_table(layer, table, where)
        facets: tuple[Column, ...] = ()
        if own is not None:
            facets = yield from facet_columns(sentence, own, where)
        empty = Table((), 0, None, _no_columns)
        return Draft(layer, empty if own is None else own, {}, {}, facets, sentence.swapped)
    if table is None:
        raise DataError(where, "no data", "give them to figure(…), or to the layer with data=")
    for hint in table.hints:
        yield Remark(hint.code, "figure", hint.text, hint.fix)
    layer = _with_theme(layer, sentence.theme)
    if layer.where is not None:
        table = kept(table, true_where(layer.where, table, f"{where}: where"))
    layer = layer.seeing(table)
    inherited = {name: value for name, value in sentence.mapping.items() if name not in layer.map}
    mapped: dict[str, MapValue] = {name: value for name, value in inherited.items() if layer.constant(name) is None}
    mapped |= layer.map
    # A layer speaks of x and y as they were said, before the axes were swapped.
    as_said = {_said(name, sentence): value for name, value in mapped.items()}
    lacking = layer.lacks(as_said)
    if lacking is not None:
        raise MappingError(
            where,
            f"nothing is mapped to {lacking}",
            f'write .map({lacking}="…") with one of the columns {listed(table.names, 8)}',
        )
    every: dict[str, Column] = {}
    for aesthetic, value in {**inherited, **mapped}.items():
        if value is not None and _matters(aesthetic, layer, sentence, table, value):
            every[aesthetic] = yield from mapped_column(sentence, table, aesthetic, value, where)
    stay = held(table, sentence, every)
    if stay is not None:
        table, every = kept(table, stay), {name: column.take(stay) for name, column in every.items()}
    every = {name: pooled(column, sentence.pools.get(POSITIONS.get(name, name))) for name, column in every.items()}
    shows = layer.shows(as_said)
    columns = {name: column for name, column in every.items() if name in mapped and _said(name, sentence) in shows}
    columns = yield from _without_numbers(layer, columns, as_said, sentence, where)
    facets = ()
    if not layer.backdrop:
        facets = yield from facet_columns(sentence, table, where)
    for facet in facets:
        if facet.hint is not None and facet.hint.code == FLAGS_COUNTED:
            yield Remark(facet.hint.code, "figure.facet", facet.hint.text, facet.hint.fix)
    draft = Draft(layer, table, columns, {}, facets, sentence.swapped)
    draft.grouping = {
        name: column
        for name, column in every.items()
        if name not in POSITIONS and name not in ("label", "weight") and column.discrete
    }
    divided = yield from division(sentence, layer, table)
    if divided is not None:
        draft.grouping = {GROUPING: divided, **draft.grouping}
    if "weight" in mapped and mapped["weight"] is not None and not layer.uses_weight(as_said):
        columns.pop("weight", None)
        draft.unweighed = str(mapped["weight"])
        if layer.map.get("weight") is not None:
            raise MappingError(
                where, "weight has no use here, since nothing is computed from it", "aggregate= computes something"
            )
    yield from _say_unseen(draft, mapped, every, shows)
    yield from _say_no_border(draft)
    return draft


def _matters(aesthetic: str, layer: DrawnLayer, sentence: Sentence, table: Table, value: MapValue) -> bool:
    """Whether a mapping has to do with a layer: a place or weight that it takes, or a look, which may divide its rows."""
    if aesthetic in POSITIONS or aesthetic in ("label", "weight"):
        return _said(aesthetic, sentence) in layer.takes
    # A layer with data of its own may lack a column that divides the rows of others.
    there = not isinstance(value, str) or value in table.names
    return there or aesthetic in layer.takes


def _said(aesthetic: str, sentence: Sentence) -> str:
    return TURNED.get(aesthetic, aesthetic) if sentence.swapped else aesthetic


def _without_numbers(
    layer: DrawnLayer,
    columns: dict[str, Column],
    said: Mapping[str, MapValue],
    sentence: Sentence,
    where: str,
) -> Saying[dict[str, Column]]:
    """The columns without looks that follow a number where a mark stands for several rows.

    Raises:
        KindError: The layer itself maps one.
    """
    if not layer.summarises(said):
        return columns
    kept_columns = {}
    for name, column in columns.items():
        if name not in NUMERIC_LOOKS or column.discrete or sentence.scale(name).kind == "as_given":
            kept_columns[name] = column
        elif layer.map.get(name) is not None:
            raise KindError(
                where,
                f"{name} is mapped to {column.name!r}, a {column.kind}, but every mark stands for several rows",
                f"map {name} to a category, or give one row a mark",
            )
        else:
            yield Remark(
                "look-dropped",
                where,
                f"{name} follows {column.name!r}, a {column.kind}, which no mark of several rows can show; drawn without it",
                f'map={{"{name}": None}} says so',
            )
    return kept_columns


def _say_unseen(draft: Draft, mapped: Mapping[str, MapValue], every: Mapping[str, Column], shows: tuple[str, ...]) -> Remarks:
    """Mapped looks that a layer can't show."""
    layer = draft.layer
    if layer.explains:
        return
    shown = {column.name for column in draft.columns.values()}
    for name, column in every.items():
        unseen = (
            name in mapped and name not in draft.columns and name not in POSITIONS and name not in ("label", "weight", "group")
        )
        if unseen and column.name not in shown and (column.discrete or name not in shows):
            apart = "; its groups look alike" if column.discrete else ""
            yield Remark(
                "look-not-shown",
                f"figure.{layer.verb}",
                f"{name} ({column.name!r}) can't be shown here{apart}",
                f'map={{"{name}": None}} says so',
            )


def _say_no_border(draft: Draft) -> Remarks:
    """A width of borders that are not there, since nothing gives them a color."""
    layer = draft.layer
    if not layer.bordered or layer.constant("outline") is not None or "outline" in draft.columns:
        return
    if layer.constant("line_width") is not None or "line_width" in draft.columns:
        text = "line_width is that of borders, which are not drawn without an outline"
        yield Remark("look-not-shown", f"figure.{layer.verb}", text, 'outline="black" draws them')


def _no_columns(name: str) -> Column:
    raise AssertionError(name)


def _with_theme(layer: DrawnLayer, theme: Theme) -> DrawnLayer:
    unsaid = {name: getattr(theme, setting) for name, setting in layer.from_theme.items() if getattr(layer, name) is None}
    return replace(layer, **unsaid) if unsaid else layer


def _shares_as_numbers(drafts: list[Draft]) -> None:
    """Reads yes and no as one and zero where all layers of an axis mean their share."""
    for axis in ("x", "y"):
        having = [draft for draft in drafts if axis in draft.columns]
        reading = [draft for draft in having if (TURNED[axis] if draft.swapped else axis) in draft.layer.as_share()]
        if not reading or any(draft not in reading and draft.columns[axis].discrete for draft in having):
            continue
        for draft in reading:
            column = draft.columns[axis]
            if column.kind == "yes_no":
                numbers = np.array([0.0, 1.0, np.nan])[column.values]
                draft.columns[axis] = Column(column.name, "number", numbers)


def _say_unweighed(drafts: list[Draft]) -> Remarks:
    """A weight for which no layer has a use."""
    ignored = [draft for draft in drafts if draft.unweighed]
    if ignored and not any("weight" in draft.columns for draft in drafts):
        yield Remark(
            "weight-unused",
            f"figure.{ignored[0].layer.verb}",
            f"the weight ({ignored[0].unweighed!r}) has no use here, since nothing is computed from it",
            "aggregate= computes something",
            "warning",
        )


def own_table(layer: DrawnLayer, table: Table | None, where: str) -> Table | None:
    """The rows that say in which panels the layer stands: those of its `where` and `data`; None where neither is said.

    Raises:
        DataError: There is a `where`, but no data.
    """
    if layer.where is None:
        return layer.data
    if table is None:
        raise DataError(where, "where= needs data", "give them to figure(…), or to the layer with data=")
    return kept(table, true_where(layer.where, table, f"{where}: where"))


def placed(
    sentence: Sentence,
    where: str,
    levels: Mapping[str, Levels],
    columns: Mapping[str, Column],
    transforms: Mapping[str, Transform],
) -> Placing:
    """What turns a value that the analyst wrote for an axis into a number of the data."""

    def place(axis: str, value: object) -> float:
        axis = TURNED[axis] if sentence.swapped else axis
        if axis in levels:
            texts = [str(level) for level in levels[axis]]
            if str(value) not in texts:
                raise unknown(OptionError, where, f"no category on {axis}", value, texts, "categories")
            return float(texts.index(str(value)))
        column = columns.get(axis)
        if column is not None and column.kind == "time":
            return instant(value, column.zone, f"{where}: {axis}")
        if not is_number(value):
            raise OptionError(where, f"{axis} is a number here, not {told(value)}")
        if not transforms[axis].admits(np.array([float(value)]))[0]:
            raise OptionError(where, f"{told(value)} has no place on the {sentence.scale(axis).kind or 'linear'} scale of {axis}")
        return float(value)

    return place
