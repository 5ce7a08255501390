"""From a sentence to the rows of each layer: columns resolved, levels ordered, panels and groups numbered."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, FloatArray, IntArray, is_number
from facetine.core.columns import Columns
from facetine.core.scales.kinds.base import Transform
from facetine.core.stats.groups import grouped
from facetine.data.table import Column, Levels
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.grammar.facet import Facet
from facetine.grammar.scale import transform_of
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.blank import Blank
from facetine.layers.context import AxisSpace, Context, Shared, Title
from facetine.messages.errors import KindError, MappingError
from facetine.messages.findings import Remark, Saying, each, heard
from facetine.pipeline.composition.level_order import MISSING, coded, level_name
from facetine.pipeline.composition.planned import Owners
from facetine.pipeline.composition.resolve import label_texts
from facetine.pipeline.rows.chosen import chosen_panels
from facetine.pipeline.rows.divided import GROUPING
from facetine.pipeline.rows.drafts import Draft, drafted, placed, turned
from facetine.pipeline.rows.levels import all_levels
from facetine.pipeline.rows.panels import AxisKey, Field, Panels, Place, columns_beside, grid_of, panels_at
from facetine.pipeline.rows.runs import LayerRun, Runs, Split
from facetine.pipeline.rows.usable import check_weights, say_gaps, say_missing, shows_missing, usable


class Begun(NamedTuple):
    """A sentence whose columns and levels are known, before its rows are numbered by them."""

    sentence: Sentence
    """With x and y as the reader sees them."""
    drafts: tuple[Draft, ...]
    levels: Mapping[str, Levels]
    """Of every discrete aesthetic; those of the facet under "facet"."""
    transforms: Mapping[str, Transform]
    """Of x and y."""
    columns: Mapping[str, Column]
    """The first column mapped to each aesthetic."""


def begun(sentence: Sentence) -> Saying[Begun]:
    """Resolves the columns of every layer.

    Args:
        sentence: What the figure says.

    Raises:
        MappingError: A layer lacks an aesthetic that it needs.
        KindError: A column has a kind that its use can't take.
        DataError: A layer has no data.
    """
    if not sentence.layers:
        if sentence.table is None or not (sentence.shows("x") or sentence.shows("y")):
            raise MappingError(
                "figure", "no layer, so there is nothing to draw", "add one, such as .points(), .lines() or .bars()"
            )
        yield Remark(
            "no-layer", "figure", "there is no layer yet; the axes show what is mapped", ".suggested() adds the one that suits",
            "warning",
        )  # fmt: skip
        sentence = replace(sentence, layers=(Blank(),))
    sentence = turned(sentence)
    transforms: dict[str, Transform] = {axis: transform_of(sentence.scale(axis)) for axis in ("x", "y")}
    drafts = yield from drafted(sentence)
    used = [{**draft.grouping, **draft.columns} for draft in drafts]
    facets = [draft.facets for draft in drafts if draft.facets and not draft.layer.stands_alone]
    gray = frozenset(
        aesthetic
        for draft in drafts
        for aesthetic, column in draft.columns.items()
        if shows_missing(sentence, draft.layer, aesthetic, column, draft.columns) and column.missing.any()
    )
    levels = yield from all_levels(sentence, used, facets, drafts[0].table.names, gray)
    columns: dict[str, Column] = {}
    for draft in drafts:
        for aesthetic, column in draft.columns.items():
            columns.setdefault(POSITIONS.get(aesthetic, aesthetic), column)
    return Begun(sentence, tuple(drafts), levels, transforms, columns)


def split(begin: Begun, width: float, height: float | None, owners: Owners) -> Saying[Split]:
    """Numbers the rows of every layer by panel, group and level.

    Args:
        begin: The columns and the levels.
        width: Width of the sheet in points.
        height: Its height; None for the one that suits.
        owners: How its axes are known.
    """
    sentence, levels, transforms, columns = begin.sentence, begin.levels, begin.transforms, begin.columns
    panels = len(levels["facet"]) if sentence.facet else 1
    room = _room(sentence.facet, sentence.theme, width, height)
    maker = _Maker(sentence, levels, transforms, columns, max(panels, 1), room)
    made = yield from each(maker.run(number, draft) for number, draft in enumerate(begin.drafts))
    runs = _sharing_slots(tuple(made), sentence.theme.bar_width)
    grid = _grid(sentence, levels.get("facet", ()), levels.get("facet columns", ()), width)
    own = tuple(panel._replace(x=panel.x._replace(figure=owners.x), y=panel.y._replace(figure=owners.y)) for panel in grid)
    field = Field(0, own if any(owners) else grid)
    runs, places = on_own_levels(runs, field, levels)
    by_key = {key: transforms[axis] for axis in ("x", "y") for key in field.keys(axis)}
    looks = {name: found for name, found in levels.items() if name not in ("x", "y")}
    return Split(sentence, runs, looks, places, by_key, columns, (field,))


def _grid(sentence: Sentence, levels: Levels, every: Levels, width: float) -> Panels:
    """Where the panels stand: wrapped, or in rows and columns; every value of these is given in its order."""
    facet, count = sentence.facet, max(len(levels), 1)
    if facet is None:
        return grid_of(1, 1)
    if facet.crossed:
        places = _crossed_places(levels, facet, every) or [(0, 0)]
        across = max(column for _, column in places) + 1
        each = count if facet.per_page is None else max(1, facet.per_page // across)
        return panels_at([Place(row // each, row % each, column) for row, column in places], facet.sharing)
    on_page = min(facet.per_page or count, count)
    if facet.per_column is not None:
        places = [divmod(number % on_page, facet.per_column)[::-1] for number in range(count)]
    else:
        across = columns_beside(on_page, facet.per_row, width, sentence.theme)
        places = [divmod(number % on_page, across) for number in range(count)]
    return panels_at([Place(number // on_page, *place) for number, place in enumerate(places)], facet.sharing)


def _crossed_places(levels: Levels, facet: Facet, every: Levels) -> list[tuple[int, int]]:
    """The row and the column of each panel."""
    if len(facet.variables) == 1:
        return [(number, 0) if facet.rows is not None else (0, number) for number in range(len(levels))]
    pairs = [level for level in levels if isinstance(level, tuple)]
    rows = {row: number for number, row in enumerate(dict.fromkeys(row for row, _ in pairs))}
    columns = {column: number for number, column in enumerate(every)}
    return [(rows[row], columns[column]) for row, column in pairs]


def _room(facet: Facet | None, theme: Theme, width: float, height: float | None) -> tuple[float, float]:
    """Width and height of a panel at most: the sheet's, shared by the panels of a row."""
    across = max(width - 2 * theme.margin, 10.0)
    if facet is not None and facet.per_row:
        across /= facet.per_row
    return across, height if height is not None else 0.75 * across


@dataclass(slots=True)
class _Maker:
    """Makes runs of drafts, with what is known of the whole figure."""

    sentence: Sentence
    levels: Mapping[str, Levels]
    transforms: Mapping[str, Transform]
    columns: Mapping[str, Column]
    panels: int
    room: tuple[float, float]

    def run(self, number: int, draft: Draft) -> Saying[LayerRun]:
        """The rows of a layer that can be drawn."""
        if draft.layer.borrows is not None:
            return LayerRun(number, draft.layer, Columns.of({}), self._context(draft, False), {}, False)
        if draft.layer.stands_alone:
            return self._alone(number, draft)
        if draft.layer.rows_unseen:
            return heard(self._of_rows(number, draft))[0]
        return (yield from self._of_rows(number, draft))

    def _of_rows(self, number: int, draft: Draft) -> Saying[LayerRun]:
        where = f"figure.{draft.layer.verb}"
        values: dict[str, AnyArray] = {}
        panels = chosen_panels(self.sentence, draft.layer, self.levels.get("facet", ()), where)
        keep = np.ones(draft.table.height, bool)
        if panels is not None and draft.facet is not None:
            keep = np.isin(coded(draft.facet, self.levels["facet"]), panels)
        apart = np.zeros(draft.table.height, bool)
        horizontal = _is_horizontal(draft)
        value_axis = "x" if horizontal else "y"
        for aesthetic, column in draft.columns.items():
            gaps = draft.layer.keeps_gaps and POSITIONS.get(aesthetic) == value_axis
            values[aesthetic], good = yield from self._values(draft, aesthetic, column, keep, where, gaps=gaps)
            if aesthetic in draft.layer.apart and all(name in draft.columns for name in draft.layer.apart):
                apart |= good
                values[aesthetic] = np.where(good, values[aesthetic], np.nan)
                continue
            if aesthetic == "weight":
                good = yield from check_weights(values[aesthetic], column, keep & good, where)
            yield from say_missing(column, good, keep, where)
            keep &= good
        if apart.any():
            keep &= apart
        codes: dict[str, IntArray] = {}
        for aesthetic, column in draft.grouping.items():
            codes[aesthetic] = self._codes(draft, aesthetic, column, aesthetic)
            if aesthetic not in draft.columns:
                yield from say_missing(column, codes[aesthetic] >= 0, keep, where)
                keep &= codes[aesthetic] >= 0
        panel, keep = yield from self._panels(draft, keep, where)
        if draft.layer.keeps_gaps:
            bridged = getattr(draft.layer, "bridge", None) is not None or getattr(draft.layer, "gaps", None) == "zero"
            said = np.zeros(draft.table.height, bool)
            for aesthetic, column in draft.columns.items():
                if POSITIONS.get(aesthetic) == value_axis:
                    yield from say_gaps(column, keep & ~said, where, bridged=bridged)
                    said |= column.missing
        group, names = self._groups(draft.grouping, codes, draft.table.height, keep)
        every = Columns(values, panel, group, draft.table.numbers)
        if not keep.all():
            every = every.take(keep)
        if draft.facet is None and self.panels > 1:
            every = _in_every_panel(every, range(self.panels) if panels is None else panels)
        if horizontal:
            every = every.renamed(TURNED)
        run = LayerRun(number, draft.layer, every, self._context(draft, horizontal, names), draft.columns, horizontal)
        frame = draft.table if draft.table.given is None else draft.table.given
        quiet = self._quiet(draft.grouping, names)
        kept = self._kept(frame) if not draft.layer.stands_alone else None
        return run._replace(own_data=draft.layer.data is not None, quiet=quiet, frame=id(frame), kept=kept)

    def _values(
        self, draft: Draft, aesthetic: str, column: Column, keep: BoolArray, where: str, *, gaps: bool
    ) -> Saying[tuple[AnyArray, BoolArray]]:
        """The rows' numbers, or positions among the levels, and where there are any, or nothing but is kept as a gap."""
        axis = POSITIONS.get(aesthetic, aesthetic)
        if aesthetic == "label":
            return label_texts(column), np.ones(draft.table.height, bool)
        if column.discrete and axis in self.levels:
            places = self._codes(draft, aesthetic, column, axis)
            return places, places >= 0
        if aesthetic == "weight" and column.kind != "number":
            raise KindError(where, f"weight needs numbers, but {column.name!r} holds {column.kind}")
        good = yield from usable(self.sentence, aesthetic, column, self.transforms.get(axis), keep, where)
        gray = aesthetic not in POSITIONS and shows_missing(self.sentence, draft.layer, aesthetic, column, draft.columns)
        return column.values, good | column.missing if gaps or gray else good

    def _codes(self, draft: Draft, aesthetic: str, column: Column, levels: str) -> IntArray:
        """Positions among levels; −1 for rows without a value that the layer does not draw."""
        places = coded(column, self.levels[levels])
        drawn = shows_missing(self.sentence, draft.layer, aesthetic, column, draft.columns)
        return places if drawn or MISSING not in self.levels[levels] else np.where(column.missing, -1, places)

    def _context(self, draft: Draft, horizontal: bool, groups: Mapping[int, str] | None = None) -> Context:
        def own(name: str) -> str:
            return TURNED.get(name, name) if horizontal else name

        axes = {own(axis): self._axis(axis) for axis in ("x", "y")}
        titles = {own(name): Title(*self.sentence.codebook.parts(column.name)) for name, column in draft.columns.items()}
        panels = tuple(level_name(level) for level in self.levels.get("facet", ()))
        return Context(
            f"figure.{draft.layer.verb}",
            {own(name): column.name for name, column in draft.columns.items()},
            {own(name): column.kind for name, column in draft.columns.items()},
            [],
            axes,
            titles,
            panels,
            groups or {},
            self.sentence.seed,
            (self.room[1], self.room[0]) if horizontal else self.room,
        )

    def _axis(self, axis: str) -> AxisSpace:
        column = self.columns.get(axis)
        return AxisSpace(
            self.transforms[axis],
            column.kind if column else "number",
            self.sentence.scale(axis).zone or (column.zone if column else None),
            self._said(axis),
        )

    def _said(self, axis: str) -> tuple[float, ...]:
        """Numbers that were said as limits of an axis or to be held by it, as places."""
        spec = self.sentence.scale(axis)
        limits = spec.limits.values() if isinstance(spec.limits, Mapping) else [spec.limits or ()]
        included = spec.include if isinstance(spec.include, list | tuple) else (spec.include,)
        given = [value for ends in [*limits, included] for value in ends]
        numbers = np.array([float(value) for value in given if is_number(value)])
        places = self.transforms[axis].forward(numbers) if len(numbers) else numbers
        return tuple(places[np.isfinite(places)].tolist())

    def _panels(self, draft: Draft, keep: BoolArray, where: str) -> Saying[tuple[IntArray, BoolArray]]:
        if draft.facet is None:
            return np.zeros(draft.table.height, np.int64), keep
        panel = coded(draft.facet, self.levels["facet"])
        yield from say_missing(draft.facet, panel >= 0, keep, where)
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
            occurring = np.unique(code[keep & (codes[aesthetic] >= 0)]).tolist()
            count = max(len(levels), 1)
            words = {
                number: ", ".join(filter(None, (words.get(number // count, ""), level_name(levels[number % count]))))
                for number in occurring
            }
        return code, words if seen else {}

    def _kept(self, frame: object) -> IntArray | None:
        """The rows of a frame that were chosen; None where none were, so that all are meant, or rows of another frame."""
        chosen, table = self.sentence.chosen, self.sentence.table
        if chosen is None or not chosen.numbers or table is None or frame is not (table if table.given is None else table.given):
            return None
        return np.array(chosen.numbers, np.int64)

    def _quiet(self, grouping: Mapping[str, Column], groups: Mapping[int, str]) -> frozenset[int] | None:
        """The groups of rows that are not highlighted: those whose number begins with the first of two levels."""
        if GROUPING not in grouping:
            return None
        first = self.levels[GROUPING]
        if len(first) == 1:
            # All rows are chosen, or none is.
            return frozenset(groups) if first[0] == grouping[GROUPING].levels[0] else frozenset()
        columns = {column.name: len(self.levels[aesthetic]) for aesthetic, column in reversed(list(grouping.items()))}
        inner = math.prod(max(count, 1) for name, count in columns.items() if name != GROUPING)
        return frozenset(number for number in groups if number < inner)

    def _alone(self, number: int, draft: Draft) -> LayerRun:
        """The rows of a layer that brings its own places, in every panel or in those where its rows are."""
        context = self._context(draft, self.sentence.swapped)
        place = placed(self.sentence, context.where, self.levels, self.columns, self.transforms)
        rows = Columns.of({name: np.asarray(array) for name, array in draft.layer.own_rows(place).items()})
        rows = _in_every_panel(rows, self._own_panels(draft, context.where))
        return LayerRun(number, draft.layer, rows, context, {}, self.sentence.swapped)

    def _own_panels(self, draft: Draft, where: str) -> list[int]:
        chosen = chosen_panels(self.sentence, draft.layer, self.levels.get("facet", ()), where)
        return [number for number in self._panels_of(draft) if chosen is None or number in chosen]

    def _panels_of(self, draft: Draft) -> list[int]:
        has_rows = draft.layer.where is not None or draft.layer.data is not None
        if has_rows and not draft.table.height:
            return []
        if not has_rows or draft.facet is None:
            return list(range(self.panels))
        panels = np.unique(coded(draft.facet, self.levels["facet"])).tolist()
        return [number for number in panels if number >= 0]


def _sharing_slots(runs: Runs, usual: float) -> Runs:
    """Tells layers that know the same groups of each other, so that all give a group the same place in a slot."""
    side_by_side = [run for run in runs if run.layer.stands_side_by_side(run.context)]
    halves = [(run, half) for run in runs if (half := getattr(run.layer, "half", None)) is not None]
    if not side_by_side and not halves:
        return runs
    told = []
    for run in runs:
        family = [other for other in side_by_side if _same_slots(run, other)]
        groups = tuple(sorted({number for other in family for number in other.context.groups}))
        crowded = any(_crowded(other.rows) for other in family)
        others = sorted((other for other in family if other is not run), key=lambda other: other.layer.spans)
        share = next((said for other in others if (said := _slot_share(other)) is not None), None)
        half = next((half for other, half in halves if other is not run and _same_axis(run, other)), None)
        context = replace(run.context, shared=Shared(groups, crowded), beside=bool(others), slot_share=share, half=half)
        # Intervals stand in the middle of the bars and boxes of their groups, unless their own width was said.
        follows = run.layer.spans and share is not None and _slot_share(run) == usual
        layer = replace(run.layer, slot_share=share) if follows else run.layer  # type: ignore[call-arg]
        told.append(run._replace(layer=layer, context=context))
    return tuple(told)


def _slot_share(run: LayerRun) -> float | None:
    """The share of a slot within which a layer sets its groups."""
    name = next((name for name, setting in run.layer.from_theme.items() if setting == "bar_width"), None)
    share: float | None = None if name is None else getattr(run.layer, name)
    return share


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


def _is_horizontal(draft: Draft) -> bool:
    """Whether a category on y and a number on x (or nothing) turn this layer."""
    if not draft.layer.can_turn:
        return draft.swapped
    along = {axis for axis in ("x", "y") if f"{axis}_low" in draft.columns and f"{axis}_high" in draft.columns}
    if along and draft.layer.takes_ends:
        # Given ends say along which axis they run; those along both make crosses, which have no other side.
        return along == {"x"}
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


def on_own_levels(runs: Runs, field: Field, levels: Mapping[str, Levels]) -> tuple[Runs, dict[AxisKey, Levels]]:
    """Runs whose places count the levels of their own axis, and these levels by key.

    Args:
        runs: Places of categories count the levels of all panels.
        field: The panels in which they stand.
        levels: The levels of all panels, of each axis that has categories.
    """
    places: dict[AxisKey, Levels] = {}
    for axis in ("x", "y"):
        if axis not in levels:
            continue
        keys = field.keys(axis)
        if len(keys) == 1:
            places[keys[0]] = levels[axis]
            continue
        lookup = np.full((len(field.panels), len(levels[axis])), -1, np.int64)
        for key in keys:
            standing = field.standing(key)
            there = np.unique(np.concatenate([_occurring(run, axis, standing) for run in runs]))
            places[key] = tuple(levels[axis][code] for code in there.tolist())
            lookup[np.ix_(np.array(standing), there)] = np.arange(len(there))
        runs = tuple(run._replace(rows=_moved(run, axis, lookup)) for run in runs)
    return runs, places


def _names(run: LayerRun, axis: str) -> list[str]:
    """The arrays of a run's rows that hold places on an axis."""
    return [name for name in run.rows.values if POSITIONS.get(name) == run.own(axis)]


def _codes(name: str, values: FloatArray) -> IntArray:
    """The level at which a place is said, which may be half a slot beside it for the ends of a region."""
    rounded = np.ceil(values) if name.endswith("_low") else np.floor(values)
    return np.where(np.isfinite(values), rounded, -1).astype(np.int64)


def _occurring(run: LayerRun, axis: str, panels: list[int]) -> IntArray:
    """The levels of an axis that occur in some panels, shape (k,)."""
    there = np.isin(run.rows.panel, panels)
    parts = [_codes(name, run.rows[name][there]) for name in _names(run, axis)]
    codes = np.unique(np.concatenate(parts)) if parts else np.zeros(0, np.int64)
    return codes[codes >= 0]


def _moved(run: LayerRun, axis: str, lookup: IntArray) -> Columns:
    """Rows whose places count the levels of their panel's own axis; lookup has a row for each panel."""
    moved = {}
    for name in _names(run, axis):
        values = run.rows[name]
        codes = _codes(name, values)
        own = lookup[run.rows.panel, np.maximum(codes, 0)]
        moved[name] = np.where(codes >= 0, own + (values - codes), values).astype(values.dtype)
    return run.rows.put(**moved) if moved else run.rows
