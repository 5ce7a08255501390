"""Rows on one spot as one marker, whose area tells how many there are."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.query import Query, Source, Total
from facetine.core.stats.groups import grouped
from facetine.layers.context import Computed, Context
from facetine.layers.summary import COUNT
from facetine.messages.errors import OptionError
from facetine.messages.findings import so_many

NAMES: Mapping[str, Computed] = {"count": COUNT, "share": Computed("number", "Of all rows of the panel.")}
"""What a tally computes."""


class Spots(Protocol):
    """A layer whose rows may lie on one spot."""

    @property
    def aggregate(self) -> str:
        """What stands for several rows."""

    @property
    def thin(self) -> int | None:
        """How many rows are drawn."""

    @property
    def size(self) -> float | None:
        """The diameter that is said."""

    @property
    def draw_order(self) -> str:
        """Which group lies on top."""


def tallied(source: Source, layer: Spots, context: Context) -> Columns:
    """One row for each spot of each group and panel, the rows' count (or the sum of their weights) as its size.

    Raises:
        OptionError: Something is said that a tally has no use for.
    """
    useless = {
        "aggregate": (layer.aggregate != "none", "one tally already stands for several rows"),
        "thin": (layer.thin is not None, "a tally counts all rows"),
        "size": (layer.size is not None, "the size tells the count; .scale('size', span=(None, 12)) says how large"),
        "draw_order": (layer.draw_order != "mixed", "groups stand beside each other"),
    }
    for option, (said, why) in useless.items():
        if said:
            raise OptionError(context.where, f'{option}= has no use with arrange="tally": {why}', "leave one of them out")
    spots = source.ask(Query((Total("count", "count"),), keys=("x", "y")))
    total = np.bincount(spots.panel, spots["count"]) if len(spots) else np.ones(1)
    beside = len(spots) - len(grouped(spots.panel, spots["x"], spots["y"]).starts)
    if beside:
        context.say("tally-beside", f"{so_many(beside, 'mark')} beside those of other groups on the same spot")
    return spots.put(size=spots["count"], share=spots["count"] / total[spots.panel])


def beside_each_other(rows: Columns, size: FloatArray) -> Columns:
    """Markers on one spot, moved apart along x until they touch, the middle of all on the spot.

    Args:
        rows: In points, of one panel.
        size: Shape (n,): the diameters.
    """
    spots = grouped(rows["x"], rows["y"])
    if len(spots.starts) == len(rows):
        return rows
    wide = size[spots.order]
    before = np.cumsum(wide) - wide
    first = np.repeat(before[spots.starts], spots.sizes)
    whole = np.repeat(np.add.reduceat(wide, spots.starts), spots.sizes)
    x = rows["x"].astype(float).copy()
    x[spots.order] += before - first + wide / 2 - whole / 2
    return rows.put(x=x)
