"""Rows at one place in one group, summarised to one row."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from facetine.core.arrange.bars import abreast
from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.stats.groups import Groups, aggregated, grouped
from facetine.errors import KindError
from facetine.layers.base import Context

NUMERIC_LOOKS = ("color", "outline", "opacity", "size", "line_width")


def at_one_place(rows: Columns) -> Groups:
    """Rows of one panel and group with the same x."""
    return grouped(rows.panel, rows.group, rows["x"])


def summarised(rows: Columns, how: str, context: Context) -> Columns:
    """One row for each x of each group and panel; `y` and a column named like the aggregate hold the result.

    Raises:
        KindError: y holds no numbers, or a look is mapped to a number, which many rows do not share.
    """
    if how != "count" and context.discrete("y"):
        raise KindError(
            f"{context.where}: no {how} of {context.columns.get('y')!r}, which holds categories",
            'aggregate="count" counts its rows',
        )
    refuse_numeric_looks(context)
    groups = at_one_place(rows)
    result = aggregated(rows["y"] if "y" in rows else rows["x"], groups, how)
    return rows.take(groups.first).put(**{"y": result, how: result})


def refuse_numeric_looks(context: Context) -> None:
    """Looks that follow a number have no value for a summary of many rows.

    Raises:
        KindError: There is one.
    """
    for name in NUMERIC_LOOKS:
        if name in context.columns and not context.discrete(name):
            raise KindError(
                f"{context.where}: {name} is mapped to {context.columns[name]!r}, a {context.kinds[name]}, "
                "but every mark stands for several rows",
                f"map {name} to a category, or give one row a mark",
            )


def each_group(
    rows: Columns,
    make: Callable[[Columns], Mapping[str, AnyArray]],
    names: tuple[str, ...],
    *keys: str,
) -> Columns:
    """What a function makes of the rows of each group in each panel, below each other.

    Args:
        rows: All rows.
        make: From the rows of one group to arrays of one length, which may be zero.
        names: The names of the arrays it makes.
        *keys: Columns that divide groups further, such as "x" for the boxes of every category.

    Returns:
        The arrays under their names; all other columns keep the value of their group's first row.
    """
    groups = grouped(rows.panel, rows.group, *(rows[key] for key in keys))
    made, first, sizes = [], [], []
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        part = make(rows.take(groups.order[start : start + size]))
        made.append(part)
        first.append(groups.order[start])
        sizes.append(len(part[names[0]]))
    kept = rows.take(np.repeat(np.array(first, np.int64), np.array(sizes, np.int64)))
    if not made:
        return kept.put(**{name: np.zeros(0) for name in names})
    return kept.put(**{name: np.concatenate([part[name] for part in made]) for name in names})


def need_numbers(context: Context, *aesthetics: str) -> None:
    """What is computed needs numbers or times.

    Raises:
        KindError: An aesthetic holds categories.
    """
    for name in aesthetics:
        if context.discrete(name):
            column = context.columns[name]
            raise KindError(
                f"{context.where}: {name} needs numbers, but {column!r} holds categories",
                f'write .kinds({column}="number") if it can be read as numbers',
            )


def at_place(x: FloatArray, context: Context, axis: str = "x") -> float:
    """The width of the slot of marks that stand at x: one for categories, else the smallest distance between two."""
    if context.discrete(axis):
        return 1.0
    found = np.unique(x)
    return float(np.diff(found).min()) if len(found) > 1 else 1.0


def side_by_side(rows: Columns, width: float, arrange: str) -> tuple[FloatArray, float]:
    """Centers and width of marks, in their slot or next to each other.

    Args:
        rows: One row a mark.
        width: Of a slot.
        arrange: "abreast", or anything else to let them overlie.
    """
    center = rows["x"].astype(float)
    if arrange != "abreast" or not len(rows):
        return center, width
    shift, places = abreast(slots(rows), rows.group)
    return center + shift * width, width / places


def slots(rows: Columns) -> IntArray:
    """Which slot of which panel each row stands in, shape (n,)."""
    groups = grouped(rows.panel, rows["x"])
    slot = np.empty(len(rows), np.int64)
    slot[groups.order] = np.repeat(np.arange(len(groups.starts)), groups.sizes)
    return slot
