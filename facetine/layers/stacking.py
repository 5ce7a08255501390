"""What may stand on each other: amounts, whose sum is an amount too; and where their lengths add up on the axis."""

from __future__ import annotations

import re

import numpy as np

from facetine.core.arrays import FloatArray, IntArray
from facetine.core.stats.groups import grouped
from facetine.layers.context import Context
from facetine.messages.errors import OptionError, ScaleError

_NO_UNITS = {"%", "‰", "°C", "°F", "K", "ppm", "ppb", "dB", "pH"}
_NO_WORDS = {
    "mean", "average", "avg", "median", "minimum", "maximum", "min", "max", "rate", "ratio", "share", "percent", "percentage",
    "pct", "index", "score", "temperature", "temp", "ph", "concentration", "density", "probability", "chance", "price", "grade",
}  # fmt: skip
_ADDED_UP = ("count", "sum")


def is_amount(aggregate: str, context: Context) -> bool:
    """Whether heights are amounts, which may stand on each other where nothing is given.

    Counts and sums are; means, medians, minima and maxima never are. Given heights are taken for amounts, unless their unit
    (a share, a temperature, one thing per another) or a word of their name tells otherwise.
    """
    if aggregate != "none" or "y" not in context.columns:
        return aggregate in ("none", *_ADDED_UP)
    title = context.titles.get("y")
    unit = title.unit if title is not None else ""
    if unit in _NO_UNITS or "/" in unit or re.search(r"\bper\b", unit):
        return False
    words = f"{context.columns['y']} {title.label if title is not None else ''}".lower()
    return not _NO_WORDS & set(re.findall(r"[a-z]+", words.replace("_", " ")))


def check_stack(arrange: str, aggregate: str, context: Context) -> None:
    """Nothing, where what is asked to stand on each other can.

    Raises:
        OptionError: These are means or the like, whose sum is none.
    """
    if arrange in ("stack", "share") and aggregate not in ("none", *_ADDED_UP):
        beside = '"side_by_side"' if context.where.endswith("bars") else '"overlay"'
        raise OptionError(
            context.where,
            f"arrange={arrange!r} adds up what stands on each other, and a sum of {_PLURAL[aggregate]} is none of them",
            f'arrange={beside}, or aggregate="sum"',
        )


_PLURAL = {"mean": "means", "median": "medians", "min": "minima", "max": "maxima"}


def check_lengths(arrange: str, slot: IntArray, group: IntArray, value: FloatArray, context: Context) -> None:
    """Nothing, where lengths that stand on each other are lengths of their sums.

    Args:
        arrange: "stack" or "share".
        slot: Shape (n,): which slot each stands in.
        group: Shape (n,): its group.
        value: Shape (n,): its height.
        context: Knows the axis.

    Raises:
        ScaleError: The axis is uneven, and some slot holds several.
        OptionError: Shares would be of values of both signs.
    """
    per_slot = grouped(slot, group)
    several = len(per_slot.starts) > len(np.unique(slot))
    axis = context.axis("y")
    # Where zero has no place, that is the first thing to say.
    if several and not axis.even and axis.transform.admits(np.zeros(1)).all():
        beside = '"side_by_side"' if context.where.endswith("bars") else '"overlay"'
        raise ScaleError(
            context.where,
            "what stands on each other needs an even axis, since lengths on this one do not add up",
            f"arrange={beside}, or leave the scale linear",
        )
    if arrange == "share":
        above = np.zeros(int(slot.max()) + 1 if len(slot) else 0, bool)
        below = above.copy()
        above[slot[value > 0]], below[slot[value < 0]] = True, True
        if (above & below).any():
            raise OptionError(
                context.where,
                "shares are of one whole, and some values are below zero while others are above",
                'arrange="stack" sets them on both sides of zero',
            )
