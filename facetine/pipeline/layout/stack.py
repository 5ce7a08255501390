"""A line of named tracks: what stands behind what, from the top down or from the left to the right."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.geometry.tracks import Need, Track, edges_of


class Line(NamedTuple):
    """Tracks with their places, in points."""

    names: Mapping[str, int]
    edges: FloatArray
    """Shape (n + 1,): where each track begins, and where the last one ends."""

    @property
    def length(self) -> float:
        """Of the whole line."""
        return float(self.edges[-1])

    def moved(self, by: float) -> Line:
        """The same tracks farther on."""
        return Line(self.names, self.edges + by)

    def start(self, name: str) -> float:
        """Where a track begins."""
        return float(self.edges[self.names[name]])

    def end(self, name: str) -> float:
        """Where it ends."""
        return float(self.edges[self.names[name] + 1])

    def size(self, name: str) -> float:
        """How long it is."""
        return self.end(name) - self.start(name)


NO_TRACKS = Line({}, np.zeros(1))


@dataclass(slots=True)
class Stack:
    """Tracks and what they need, gathered one behind the other."""

    tracks: list[Track] = field(default_factory=list)
    names: dict[str, int] = field(default_factory=dict)
    needs: list[Need] = field(default_factory=list)

    def add(self, name: str, least: float = 0.0, share: float = 0.0) -> None:
        """A track behind those that are there."""
        self.names[name] = len(self.tracks)
        self.tracks.append(Track(least, share))

    def need(self, first: str, last: str, least: float) -> None:
        """Room that several tracks must have together."""
        self.needs.append(Need(self.names[first], self.names[last], least))

    @property
    def least(self) -> float:
        """The least length in which they fit."""
        return float(edges_of(self.tracks, None, self.needs)[-1])

    @property
    def fixed(self) -> bool:
        """Whether no track takes more than its least size."""
        return not any(track.share for track in self.tracks)

    def placed(self, total: float | None = None) -> Line:
        """The tracks at their places.

        Raises:
            TooSmallError: They don't fit in the total.
        """
        return Line(dict(self.names), edges_of(self.tracks, total, self.needs))
