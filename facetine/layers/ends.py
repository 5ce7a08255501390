"""Ends that are given: along which axes, and who shows them."""

from __future__ import annotations

from facetine.grammar.aesthetics import Mapped

ENDS = ("x_low", "x_high", "y_low", "y_high")


def given_along(mapped: Mapped) -> set[str]:
    """The axes along which both ends are given."""
    return {axis for axis in ("x", "y") if all(mapped.get(f"{axis}_{end}") is not None for end in ("low", "high"))}
