"""Lengths of time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar

from facetine.core.scales.formats import durations
from facetine.core.scales.kinds.linear import Linear
from facetine.core.scales.ticks import Ticks, duration_ticks


@dataclass(frozen=True, slots=True)
class Duration(Linear):
    """Seconds in even steps, of which a minute, an hour or a day is a round number."""

    says: ClassVar[str] = "seconds, written as seconds, minutes, hours or days"

    def ticks(self, low: float, high: float, wanted: int, *, whole: bool = False) -> Ticks:  # noqa: ARG002
        """Round numbers of the unit that suits."""
        return duration_ticks(low, high, wanted)[0]

    def texts(self, values: Sequence[float]) -> list[str]:
        """In the unit that suits them."""
        if not len(values):
            return []
        _, length, unit = duration_ticks(min(values), max(values), len(values))
        return durations(values, length, unit)
