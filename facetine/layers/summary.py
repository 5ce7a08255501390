"""Rows at one place in one group, summarised to one row."""

from __future__ import annotations

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
