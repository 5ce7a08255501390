"""From a sentence to the rows of each layer: columns resolved, levels ordered, panels and groups numbered."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, IntArray
from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform
from facetine.core.stats.groups import grouped
from facetine.data.codebook import Word
from facetine.data.expressions import kept, true_where
from facetine.data.table import Column, Table
from facetine.errors import DataError, KindError, MappingError, listed
from facetine.findings import Findings
from facetine.grammar.aesthetics import POSITIONS, TURNED, MapValue
from facetine.grammar.scale import transform_of
from facetine.grammar.sentence import Sentence
from facetine.layers.base import NUMERIC_LOOKS, AxisSpace, Context, DrawnLayer, Shared, Title
from facetine.pipeline.alone import own_table, placed
from facetine.pipeline.levels import MISSING, all_levels, coded
from facetine.pipeline.resolve import facet_column, label_texts, mapped_column
from facetine.pipeline.runs import LayerRun, Runs, Split
from facetine.pipeline.usable import check_weights, say_gaps, say_missing, usable


@dataclass(slots=True)
class _Draft:
    layer: DrawnLayer
    table: Table
    columns: dict[str, Column]
    """What the layer shows or computes from."""
    grouping: dict[str, Column]
    """The discrete columns that divide its rows, whether it shows them or not."""
    facet: Column | None
    swapped: bool
    unweighed: str = ""
    """The column of a weight for which it has no use."""
    panels: frozenset[int] | None = field(default=None)


def split(sentence: Sentence, findings: Findings, room: tuple[float, float]) -> Split:
    """Resolves every layer.

    Args:
        sentence: What the figure says.
        findings: Takes remarks.
        room: Width and height of a panel at most, in points.

    Raises:
        MappingError: A layer lacks an aesthetic that it needs.
        KindError: A column has a kind that its use can't take.
        DataError: A layer has no data.
    """
    if not sentence.layers:
        raise MappingError("figure: no layer, so there is nothing to draw", "add one, such as .points(), .lines() or .bars()")
    sentence = turned(sentence)
    transforms: dict[str, Transform] = {axis: transform_of(sentence.scale(axis)) for axis in ("x", "y")}
    drafts = [_draft(sentence, layer, findings) for layer in sentence.layers]  # type: ignore[arg-type]
    _shares_as_numbers(drafts)
    _say_unweighed(drafts, findings)
    used = [{**draft.grouping, **draft.columns} for draft in drafts]
    facets = [draft.facet for draft in drafts if draft.facet is not None and not draft.layer.stands_alone]
    levels = all_levels(sentence, used, facets, drafts[0].table.names)
    panels = len(levels["facet"]) if sentence.facet else 1
    columns: dict[str, Column] = {}
    for draft in drafts:
        for aesthetic, column in draft.columns.items():
            columns.setdefault(POSITIONS.get(aesthetic, aesthetic), column)
    maker = _Maker(sentence, levels, transforms, columns, max(panels, 1), findings, room)
    runs = _sharing_slots(tuple(maker.run(number, draft) for number, draft in enumerate(drafts)))
    return Split(sentence, runs, levels, transforms, columns, max(panels, 1))


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


# Drafts: which columns a layer has to do with --------------------------------------------------------------------------


def _draft(sentence: Sentence, layer: DrawnLayer, findings: Findings) -> _Draft:
    where = f"figure.{layer.verb}"
    table = layer.data if layer.data is not None else sentence.table
    if layer.borrows is not None:
        return _Draft(layer, Table((), 0, None, _no_columns), {}, {}, None, sentence.swapped)
    if layer.stands_alone:
        own = own_table(layer, table, where)
        facet = facet_column(sentence, own, where) if own is not None else None
        empty = Table((), 0, None, _no_columns)
        return _Draft(layer, empty if own is None else own, {}, {}, facet, sentence.swapped)
    if table is None:
        raise DataError(f"{where}: no data", "give them to figure(…), or to the layer with data=")
    for hint in table.hints:
        findings.add(hint.code, "figure", hint.text, hint.mend)
    layer = _with_theme(layer, sentence)
    if layer.where is not None:
        table = kept(table, true_where(layer.where, table, f"{where}: where"))
    inherited = {name: value for name, value in sentence.mapping.items() if name not in layer.map}
    mapped: dict[str, MapValue] = {name: value for name, value in inherited.items() if layer.constant(name) is None}
    mapped |= layer.map
    # A layer speaks of x and y as they were said, before the axes were swapped.
    said = {_said(name, sentence): value for name, value in mapped.items()}
    lacking = layer.lacks(said)
    if lacking is not None:
        raise MappingError(
            f"{where}: nothing is mapped to {lacking}",
            f'write .map({lacking}="…") with one of the columns {listed(table.names, 8)}',
        )
    every = {
        aesthetic: mapped_column(sentence, table, aesthetic, value, where, findings)
        for aesthetic, value in {**inherited, **mapped}.items()
        if value is not None and _matters(aesthetic, layer, sentence, table, value)
    }
    shows = layer.shows(said)
    columns = {name: column for name, column in every.items() if name in mapped and _said(name, sentence) in shows}
    columns = _without_numbers(layer, columns, said, sentence, where, findings)
    draft = _Draft(layer, table, columns, {}, facet_column(sentence, table, where), sentence.swapped)
    draft.grouping = {
        name: column
        for name, column in every.items()
        if name not in POSITIONS and name not in ("label", "weight") and column.discrete
    }
    if "weight" in mapped and mapped["weight"] is not None and not layer.uses_weight(said):
        columns.pop("weight", None)
        draft.unweighed = str(mapped["weight"])
        if layer.map.get("weight") is not None:
            raise MappingError(
                f"{where}: weight has no use here, since nothing is computed from it", "aggregate= computes something"
            )
    _say_unseen(draft, mapped, every, where, findings)
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
    findings: Findings,
) -> dict[str, Column]:
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
                f"{where}: {name} is mapped to {column.name!r}, a {column.kind}, but every mark stands for several rows",
                f"map {name} to a category, or give one row a mark",
            )
        else:
            findings.add(
                "look-dropped",
                where,
                f"{name} follows {column.name!r}, a {column.kind}, which no mark of several rows can show; drawn without it",
                f'map={{"{name}": None}} says so',
            )
    return kept_columns


def _say_unseen(
    draft: _Draft, mapped: Mapping[str, MapValue], every: Mapping[str, Column], where: str, findings: Findings
) -> None:
    """Mapped looks that a layer can't show."""
    layer = draft.layer
    if layer.explains:
        return
    shown = {column.name for column in draft.columns.values()}
    for name, column in every.items():
        unseen = (
            name in mapped and name not in draft.columns and name not in POSITIONS and name not in ("label", "weight", "group")
        )
        if unseen and column.name not in shown and (column.discrete or name not in layer.takes):
            apart = "; its groups look alike" if column.discrete else ""
            findings.add(
                "look-not-shown", where, f"{name} ({column.name!r}) can't be shown here{apart}", f'map={{"{name}": None}} says so'
            )


def _no_columns(name: str) -> Column:
    raise AssertionError(name)


def _with_theme(layer: DrawnLayer, sentence: Sentence) -> DrawnLayer:
    unsaid = {
        name: getattr(sentence.theme, setting) for name, setting in layer.from_theme.items() if getattr(layer, name) is None
    }
    return replace(layer, **unsaid) if unsaid else layer


def _shares_as_numbers(drafts: list[_Draft]) -> None:
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


def _say_unweighed(drafts: list[_Draft], findings: Findings) -> None:
    """A weight for which no layer has a use."""
    ignored = [draft for draft in drafts if draft.unweighed]
    if ignored and not any("weight" in draft.columns for draft in drafts):
        findings.add(
            "weight-unused",
            f"figure.{ignored[0].layer.verb}",
            f"the weight ({ignored[0].unweighed!r}) has no use here, since nothing is computed from it",
            "aggregate= computes something",
            "warning",
        )


# Parts: the rows of a layer that can be drawn --------------------------------------------------------------------------


@dataclass(slots=True)
class _Maker:
    """Makes runs of drafts, with what is known of the whole figure."""

    sentence: Sentence
    levels: Mapping[str, tuple[Any, ...]]
    transforms: Mapping[str, Transform]
    columns: Mapping[str, Column]
    panels: int
    findings: Findings
    room: tuple[float, float]

    def run(self, number: int, draft: _Draft) -> LayerRun:
        """The rows of a layer that can be drawn."""
        if draft.layer.borrows is not None:
            return LayerRun(number, draft.layer, Columns.of({}), self._context(draft, False), {}, False)
        if draft.layer.stands_alone:
            return self._alone(number, draft)
        where = f"figure.{draft.layer.verb}"
        values: dict[str, AnyArray] = {}
        keep = np.ones(draft.table.height, bool)
        apart = np.zeros(draft.table.height, bool)
        for aesthetic, column in draft.columns.items():
            values[aesthetic], good = self._values(draft, aesthetic, column, keep, where)
            if aesthetic in draft.layer.apart and all(name in draft.columns for name in draft.layer.apart):
                apart |= good
                values[aesthetic] = np.where(good, values[aesthetic], np.nan)
                continue
            if aesthetic == "weight":
                good = check_weights(values[aesthetic], column, keep & good, where, self.findings)
            say_missing(column, good, keep, where, self.findings)
            keep &= good
        if apart.any():
            keep &= apart
        codes: dict[str, IntArray] = {}
        for aesthetic, column in draft.grouping.items():
            codes[aesthetic] = coded(column, self.levels[aesthetic])
            if aesthetic not in draft.columns:
                say_missing(column, codes[aesthetic] >= 0, keep, where, self.findings)
                keep &= codes[aesthetic] >= 0
        panel, keep = self._panels(draft, keep, where)
        value = draft.columns.get("x" if draft.swapped else "y")
        if draft.layer.keeps_gaps and value is not None:
            say_gaps(value, keep, where, self.findings)
        group, names = self._groups(draft.grouping, codes, draft.table.height, keep)
        every = Columns(values, panel, group, np.arange(len(panel)))
        if not keep.all():
            every = every.take(keep)
        if draft.facet is None and self.panels > 1:
            every = _in_every_panel(every, range(self.panels))
        horizontal = _is_horizontal(draft)
        if horizontal:
            every = every.renamed(TURNED)
        return LayerRun(number, draft.layer, every, self._context(draft, horizontal, names), draft.columns, horizontal)

    def _values(self, draft: _Draft, aesthetic: str, column: Column, keep: BoolArray, where: str) -> tuple[AnyArray, BoolArray]:
        """The rows' numbers, or positions among the levels, and where there are any."""
        axis = POSITIONS.get(aesthetic, aesthetic)
        if aesthetic == "label":
            return label_texts(column), np.ones(draft.table.height, bool)
        if column.discrete and axis in self.levels:
            found = coded(column, self.levels[axis])
            return found, found >= 0
        if aesthetic == "weight" and column.kind != "number":
            raise KindError(f"{where}: weight needs numbers, but {column.name!r} holds {column.kind}")
        good = usable(self.sentence, draft.layer, aesthetic, column, self.transforms.get(axis), keep, where, self.findings)
        return column.values, good

    def _context(self, draft: _Draft, horizontal: bool, groups: Mapping[int, str] | None = None) -> Context:
        def own(name: str) -> str:
            return TURNED.get(name, name) if horizontal else name

        axes = {own(axis): self._axis(axis) for axis in ("x", "y")}
        titles = {own(name): Title(*self.sentence.codebook.parts(column.name)) for name, column in draft.columns.items()}
        panels = tuple(_words(level) for level in self.levels.get("facet", ()))
        return Context(
            f"figure.{draft.layer.verb}",
            {own(name): column.name for name, column in draft.columns.items()},
            {own(name): column.kind for name, column in draft.columns.items()},
            self.findings,
            axes,
            titles,
            panels,
            groups or {},
            self.sentence.seed,
            (self.room[1], self.room[0]) if horizontal else self.room,
        )

    def _axis(self, axis: str) -> AxisSpace:
        column = self.columns.get(axis)
        return AxisSpace(self.transforms[axis], column.kind if column else "number", column.zone if column else None)

    def _panels(self, draft: _Draft, keep: BoolArray, where: str) -> tuple[IntArray, BoolArray]:
        if draft.facet is None:
            return np.zeros(draft.table.height, np.int64), keep
        panel = coded(draft.facet, self.levels["facet"])
        say_missing(draft.facet, panel >= 0, keep, where, self.findings)
        return panel, keep & (panel >= 0)

    def _groups(
        self, grouping: Mapping[str, Column], codes: Mapping[str, IntArray], height: int, keep: BoolArray
    ) -> tuple[IntArray, dict[int, str]]:
        """The combination of all discrete looks of each row, numbered so that the first aesthetic's order leads."""
        code = np.zeros(height, np.int64)
        words: dict[int, str] = {0: ""}
        seen: list[str] = []
        for aesthetic, column in grouping.items():
            if column.name in seen:
                continue
            seen.append(column.name)
            levels = self.levels[aesthetic]
            code = code * max(len(levels), 1) + codes[aesthetic]
            found = np.unique(code[keep & (codes[aesthetic] >= 0)]).tolist()
            count = max(len(levels), 1)
            words = {
                number: ", ".join(filter(None, (words.get(number // count, ""), _words(levels[number % count]))))
                for number in found
            }
        return code, words if seen else {}

    def _alone(self, number: int, draft: _Draft) -> LayerRun:
        """The rows of a layer that brings its own places, in every panel or in those where its rows are."""
        context = self._context(draft, self.sentence.swapped)
        place = placed(self.sentence, context.where, self.levels, self.columns, self.transforms)
        rows = Columns.of({name: np.asarray(array) for name, array in draft.layer.own_rows(place).items()})
        rows = _in_every_panel(rows, self._own_panels(draft))
        if self.sentence.swapped:
            rows = rows.renamed(TURNED)
        return LayerRun(number, draft.layer, rows, context, {}, self.sentence.swapped)

    def _own_panels(self, draft: _Draft) -> list[int]:
        said = draft.layer.where is not None or draft.layer.data is not None
        if said and not draft.table.height:
            return []
        if not said or draft.facet is None:
            return list(range(self.panels))
        found = np.unique(coded(draft.facet, self.levels["facet"])).tolist()
        return [number for number in found if number >= 0]


def _words(level: Any) -> str:
    if level is MISSING or isinstance(level, Word):
        return str(level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return ", ".join(map(str, level)) if isinstance(level, tuple) else str(level)


def _sharing_slots(runs: Runs) -> Runs:
    """Tells layers that know the same groups of each other, so that all give a group the same place in a slot."""
    side_by_side = [run for run in runs if getattr(run.layer, "arrange", "") == "abreast"]
    halves = [(run, half) for run in runs if (half := getattr(run.layer, "half", None)) is not None]
    if not side_by_side and not halves:
        return runs
    told = []
    for run in runs:
        family = [other for other in side_by_side if _same_slots(run, other)]
        groups = tuple(sorted({number for other in family for number in other.context.groups}))
        crowded = any(_crowded(other.rows) for other in family)
        beside = any(other is not run for other in family)
        half = next((half for other, half in halves if other is not run and _same_axis(run, other)), None)
        context = replace(run.context, shared=Shared(groups, crowded), beside=beside, half=half)
        told.append(replace(run, context=context))
    return tuple(told)


def _same_axis(run: LayerRun, other: LayerRun) -> bool:
    return run.horizontal == other.horizontal and run.context.columns.get("x") == other.context.columns.get("x")


def _same_slots(run: LayerRun, other: LayerRun) -> bool:
    """Whether two layers stand in the same slots and know the same groups, if any."""
    groups, others = set(run.context.groups), set(other.context.groups)
    return _same_axis(run, other) and (bool(groups & others) or not (groups or others))


def _crowded(rows: Columns) -> bool:
    """Whether two groups of a panel have rows at one x."""
    if "x" not in rows or not len(rows):
        return False
    slots = grouped(rows.panel, rows["x"])
    pairs = grouped(rows.panel, rows["x"], rows.group)
    return len(pairs.starts) > len(slots.starts)


def _in_every_panel(rows: Columns, panels: range | list[int]) -> Columns:
    """Data that know nothing of the facet stand in all panels, or in these."""
    count = len(rows)
    repeated = rows.take(np.tile(np.arange(count), len(panels)).astype(np.int64))
    return Columns(repeated.values, np.repeat(np.array(panels, np.int64), count), repeated.group, repeated.row)


def _is_horizontal(draft: _Draft) -> bool:
    """Whether a category on y and a number on x (or nothing) turn this layer."""
    if not draft.layer.can_turn:
        return draft.swapped
    x, y = draft.columns.get("x"), draft.columns.get("y")
    # A layer that computes heights may stand on either axis; one that shows values of y needs a category, or a swap, to turn.
    shows_y = "y" in draft.layer.required
    if x is None:
        return y is not None and not shows_y
    if y is None:
        return draft.swapped and shows_y
    if x.discrete != y.discrete:
        return y.discrete
    return draft.swapped
