"""A figure on a sheet with everything computed and settled."""

from __future__ import annotations

from typing import NamedTuple

from facetine.pipeline.composition.planned import Role
from facetine.pipeline.rows.runs import Runs, Split
from facetine.pipeline.scales.look_scales import Scales


class Member(NamedTuple):
    """A figure on a sheet with everything computed and settled."""

    number: int
    role: Role
    split: Split
    scales: Scales
    direct: list[DirectNames]
    """The layers whose lines are named at their ends."""
    first: int = 0
    """The number of its first panel on the sheet."""

    @property
    def runs(self) -> Runs:
        """Its layers with their rows in places, as they are drawn."""
        return self.split.runs


class DirectNames(NamedTuple):
    """What is written at the ends of a layer's lines."""

    layer: int
    """Which layer's."""
    aesthetic: str
    """The aesthetic whose levels tell the lines apart."""
    names: tuple[str, ...]
    """Of every level, in inline markup."""
