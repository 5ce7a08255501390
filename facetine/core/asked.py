"""What the rules for bins must know of a sample, asked of a source."""

from __future__ import annotations

import math

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.query import Aggregate, Moment, OnAxis, Quantiles, Query, Source, Total
from facetine.core.scales.kinds.base import Transform


class Asked:
    """The spread of a column over all panels and groups, as it stands or as places on an axis; rows count once."""

    def __init__(self, source: Source, name: str, transform: Transform | None = None) -> None:
        self._source = source.without("weight")
        self._name = name
        self._derived = () if transform is None else (OnAxis(name, name, transform),)
        first = self._ask(Total("rows", "rows"), Total("low", "min", name), Total("high", "max", name))
        self.rows = int(first.get("rows", 0))
        self.low, self.high = first.get("low", math.nan), first.get("high", math.nan)

    def _ask(self, *aggregates: Aggregate) -> dict[str, float]:
        found = self._source.ask(Query(aggregates, derived=self._derived, by_panel=False, by_group=False))
        return {name: float(found[name][0]) for name in found.values if found[name].dtype.kind == "f"} if len(found) else {}

    def _one(self, how: str) -> float:
        return self._ask(Total("found", how, self._name))["found"]

    @property
    def ends(self) -> FloatArray:
        """The smallest and the largest value, shape (2,); empty where there is no row."""
        return np.array([self.low, self.high]) if self.rows else np.zeros(0)

    @property
    def whole(self) -> bool:
        """Whether all are whole numbers."""
        return self._one("whole") == 1.0

    @property
    def distinct(self) -> int:
        """How many differ."""
        return int(self._one("distinct"))

    @property
    def quartiles(self) -> tuple[float, float]:
        """The first and the third."""
        found = self._ask(Quantiles(("q1", "q3"), self._name, (0.25, 0.75)))
        return found["q1"], found["q3"]

    @property
    def deviation(self) -> float:
        """√(Σ(x − x̄)² / (n − 1))."""
        mean = self._one("mean")
        square = self._ask(Moment("found", self._name, 2, np.array([mean])))["found"]
        return math.sqrt(square * self.rows / (self.rows - 1)) if self.rows > 1 else 0.0
