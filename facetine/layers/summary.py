"""Rows at one place in one group, summarised to one row."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import ClassVar, NamedTuple, Self

import numpy as np

from facetine.core.arrange.bars import group_places
from facetine.core.arrange.steps import cells_of, typical_step
from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.asked import Asked
from facetine.core.columns import Columns, joined
from facetine.core.memory import InMemory
from facetine.core.query import Between, Query, Source, Total
from facetine.core.stats.binning import MOST_BINS, middles_of_bins
from facetine.core.stats.groups import AGGREGATES, Groups, grouped
from facetine.data.table import Levels
from facetine.grammar.aesthetics import Mapped
from facetine.grammar.options import choice, option
from facetine.layers.base import DrawnLayer
from facetine.layers.bridges import distance_told
from facetine.layers.context import Computed, Context, Drawn
from facetine.layers.widths import bins_option, edges_in_data, edges_option, usual_edges
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many, so_many_rows

_HOW = {"mean": "mean", "median": "median", "min": "minimum", "max": "maximum"}
COUNT = Computed("count")
PLACE_X = Computed("x", column="x value")
PLACE_Y = Computed("y", column="y value")


def at_one_place(rows: Columns) -> Groups:
    """Rows of one panel and group with the same x."""
    return grouped(rows.panel, rows.group, rows["x"])


def summarised(source: Source, how: str, context: Context) -> Columns:
    """One row for each x of each group and panel; `y` and a column named like the aggregate hold the result.

    Raises:
        KindError: y holds no numbers.
    """
    if context.discrete("y"):
        # A count would stand on the axis of the categories, as one of them.
        raise KindError(
            context.where,
            f"no {how} of {context.columns.get('y')!r}, which holds categories",
            "map it to color and .bars() counts its rows, or map y to a column of numbers",
        )
    if how == "sum" and context.kinds.get("y") == "time":
        raise KindError(context.where, f"no sum of {context.columns.get('y')!r}, which holds times")
    asked = (Total(how, how, "y" if "y" in source else "x"), Total("count", "count"))
    answer = source.ask(Query(asked, keys=("x",)))
    return answer.put(y=answer[how])


def summarised_with_gaps(source: Source, how: str, context: Context) -> Columns:
    """The aggregate at each x; a place where no row has a value stays, to interrupt what is drawn."""
    return with_gaps(summarised(source.keeping(Between("y")), how, context), source, "y")


def with_gaps(made: Columns, source: Source, *values: str) -> Columns:
    """What was made of the rows that have a value at each x, with a row of nothing where none has one.

    Args:
        made: One row for each x of each group.
        source: All rows.
        *values: The columns of which one is missing.
    """
    parts = [made]
    for value in values:
        gaps = source.ask(Query(keys=("x",), filters=(Between(value, outside=True),)))
        if len(gaps):
            nothing = np.full(len(gaps), np.nan)
            parts.append(gaps.put(**{name: nothing for name in made.values if name in values or name not in gaps}))
    if len(parts) == 1:
        return made
    every = joined(parts)
    # Where some rows have a value, theirs comes first.
    return every.take(at_one_place(every).first)


def aggregate_names(how: str) -> dict[str, Computed]:
    """The names of an aggregated layer: the aggregate and the count."""
    if how in ("none", "count"):
        return {"count": COUNT} if how == "count" else {}
    return {how: Computed("y"), "count": COUNT}


@dataclass(frozen=True, kw_only=True)
class Aggregating(DrawnLayer):
    """A layer that draws rows as they are, or an aggregate of those at one x."""

    because: ClassVar[str] = "an aggregate of the data is a value of the data"
    weighs: ClassVar[str] = "with aggregate=: weighted means and medians, Σwx, sums of weights"
    computed: ClassVar[Mapping[str, Computed]] = {"x": PLACE_X, "y": PLACE_Y}

    @property
    def by_place(self) -> bool:  # type: ignore[override]
        """With an aggregate."""
        return self.aggregate != "none"

    aggregate: str = option("none", choice(*AGGREGATES, name="aggregates"))
    bins: int | str | None = option(None, bins_option(1, MOST_BINS), "With aggregate=; the result stands in the middle.")
    edges: Levels | None = option(None, edges_option, "With aggregate=.")

    def names(self) -> Mapping[str, Computed]:
        """Places, and the aggregate."""
        return {**self.computed, **aggregate_names(self.aggregate)}

    def all_names(self) -> Mapping[str, Computed]:
        """With all aggregates."""
        return {**self.computed, **every_aggregate()}

    def summarises(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate != "none"

    def uses_weight(self, mapped: Mapped) -> bool:  # noqa: ARG002
        """With an aggregate."""
        return self.aggregate != "none"

    def prepare(self, source: Source, context: Context) -> Self:
        """The edges of intervals, the same in all panels and groups."""
        edges = edges_of_bins(self.bins, self.edges, self.aggregate != "none", source, context)
        return self if edges is None else replace(self, bins=None, edges=edges)

    def value_drawn(self, context: Context) -> Drawn | None:
        """Values or their aggregate."""
        return aggregate_drawn(self.aggregate, context)


def edges_of_bins(
    bins: int | str | None, edges: Levels | None, summed: bool, source: Source, context: Context
) -> tuple[float, ...] | None:
    """The edges of intervals of x whose rows share a result; None where there are none.

    Raises:
        OptionError: Both say them, or no result is asked for.
    """
    if bins is None and edges is None:
        return None
    name = "bins" if edges is None else "edges"
    if bins is not None and edges is not None:
        raise OptionError(context.where, "bins and edges say the same thing", "give one of them")
    if not summed:
        raise OptionError(context.where, f"{name}= says which rows share a result", 'aggregate="mean" makes one of them')
    need_numbers(context, "x")
    axis = context.axis("x")
    if edges is None:
        return tuple(usual_edges(Asked(source, "x"), axis, bins, context.where).tolist())
    return tuple(edges_in_data(edges, axis, context.where).tolist())


def in_bins(source: Source, said: Levels | None, context: Context) -> Source:
    """The rows with the middle of their interval for x, where there are intervals; those outside are counted."""
    if said is None:
        return source
    edges, rows = np.array(said, float), source.rows()
    middles = middles_of_bins(rows["x"], edges)
    inside = np.isfinite(middles)
    if not inside.all():
        left = so_many_rows(int((~inside).sum()))
        context.say("rows-outside-edges", f"{left} outside the edges not counted in any of them")
    return InMemory(rows.take(inside).put(x=middles[inside]))


def every_aggregate() -> dict[str, Computed]:
    """The names of all aggregates, for the docs."""
    return {name: says for how in AGGREGATES for name, says in aggregate_names(how).items()}


def aggregate_drawn(how: str, context: Context) -> Drawn:
    """What an aggregated layer shows along its value axis."""
    if how == "none":
        return Drawn()
    return Drawn(title=context.weight_title()) if how == "count" else Drawn(how)


def aggregate_title(label: str, unit: str, inside: str, how: str) -> str:
    """The title of an aggregated column: "Mass (kg), mean", "Sum of mass (kg)"."""
    behind = f" ({unit})" if unit else ""
    return f"Sum of {inside}{behind}" if how == "sum" else f"{label}{behind}, {_HOW.get(how, how)}"


def each_part(
    source: Source,
    make: Callable[[Source], Mapping[str, AnyArray]],
    names: tuple[str, ...],
    *keys: str,
) -> Columns:
    """What a function makes of the rows of each group in each panel, below each other.

    Args:
        source: All rows.
        make: From the rows of one group to arrays of one length, which may be zero.
        names: The names of the arrays it makes.
        *keys: Columns that divide groups further, such as "x" for the boxes of every category.

    Returns:
        The arrays under their names; all other columns keep the value of their group's first row.
    """
    tables, first = [], []
    for part in source.parts(*keys):
        table = make(part)
        tables.append(table)
        first.append(part.ask(Query()).take(np.zeros(len(table[names[0]]), np.int64)))
    if not tables:
        return source.rows().put(**{name: np.zeros(0) for name in names})
    return joined(first).put(**{name: np.concatenate([part[name] for part in tables]) for name in names})


def need_numbers(context: Context, *aesthetics: str) -> None:
    """What is computed needs numbers or times.

    Raises:
        KindError: An aesthetic holds categories.
    """
    for name in aesthetics:
        if context.discrete(name):
            column = context.columns[name]
            raise KindError(
                context.where,
                f"{name} needs numbers, but {column!r} holds categories",
                f'write .kinds({column}="number") if it can be read as numbers',
            )


SHIFT_SAYS = (
    'How far it stands beside its places on an axis of categories: "3 pt" to the right, or down, "-3 pt" to the left, or up.'
)
"""What the option `shift` of a layer is."""


def need_slots(shift: str | None, context: Context) -> None:
    """Nothing, where no mark is moved, or marks stand at categories.

    Raises:
        KindError: Marks would be moved along an axis of numbers or times, where they would tell other values.
    """
    if shift is None or context.discrete("x"):
        return
    if "x" not in context.columns:
        raise KindError(context.where, "shift= needs categories on x", "map a category to x")
    holds = "times" if context.kinds.get("x") == "time" else "numbers"
    raise KindError(
        context.where,
        f"shift= moves marks beside a category, but {context.columns['x']!r} holds {holds}, of which they would tell others",
        'write .kinds(…="category") where its values are names',
    )


class Cells(NamedTuple):
    """Where marks stand in their slots, each array of shape (n,)."""

    center: FloatArray
    low: FloatArray
    high: FloatArray


def cells(rows: Columns, share: float, arrange: str, context: Context, thing: str = "") -> Cells:
    """The room of each mark across: its slot, or its part of it; narrower where another place is nearer than a width.

    Args:
        rows: One row a mark, x in axis space.
        share: How much of a slot marks that have room take.
        arrange: "side_by_side", or anything else to let them overlie.
        context: Knows the groups of all layers that stand side by side, and takes remarks.
        thing: What a mark is called; empty for marks that have no width.
    """
    x = rows["x"].astype(float)
    width = share * (1.0 if context.discrete("x") else typical_step(x))
    low, high = cells_of(x, width)
    near = len(np.unique(x[high - low < width * (1 - 1e-9)])) if thing else 0
    if near:
        said = f"{so_many(near, 'place')} nearer to each other than a {thing} is wide; what stands there is narrower"
        context.say("places-near", said, "round them in the data where they are meant to be one", severity="warning")
    if arrange != "side_by_side" or not len(rows):
        return Cells(x, low, high)
    shift, places = group_places(slots(rows), rows.group, *(context.shared or ((), False)))
    center, part = (low + high) / 2 + shift * (high - low), (high - low) / places
    if not context.discrete("x"):
        say_apart(center - x, "x", context)
    return Cells(center, center - part / 2, center + part / 2)


BESIDE = 0.72
"""The share of a slot within which groups stand side by side, where no other layer says it."""


def in_their_places(rows: Columns, context: Context, *, alone: bool = False) -> Columns:
    """Rows of categories where boxes, bars or the like of the same groups stand side by side: in the places of these.

    Args:
        rows: One row a mark.
        context: Knows the groups of all layers that stand side by side.
        alone: Whether groups stand side by side even where no other layer does so.
    """
    if not (context.beside or alone) or not context.discrete("x") or not len(rows):
        return rows
    shift, _ = group_places(slots(rows), rows.group, *(context.shared or ((), False)))
    return rows.put(x=rows["x"] + shift * (context.slot_share or BESIDE))


def say_apart(moved: FloatArray, axis: str, context: Context) -> None:
    """Says that groups which stand side by side along a measured axis stand beside their values."""
    if len(moved) and np.abs(moved).max() > 0 and not context.discrete(axis):
        say_moved("groups stand side by side,", float(np.abs(moved).max()), axis, context)


def say_moved(what: str, distance: float, axis: str, context: Context) -> None:
    """Says that marks stand beside the values that an axis would tell of them, and how far."""
    column = context.columns.get(axis, axis)
    far = f" up to {distance_told(distance, context.kinds.get(axis, 'number'))}" if context.axis(axis).even else ""
    context.say("moved-along-axis", f"{what}{far} from their {column} on the axis")


def slots(rows: Columns) -> IntArray:
    """Which slot of which panel each row stands in, shape (n,)."""
    return grouped(rows.panel, rows["x"]).number
