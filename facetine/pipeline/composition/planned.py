"""A figure on a sheet before anything of it is computed."""

from __future__ import annotations

from typing import Literal, NamedTuple

from facetine.grammar.sentence import Sentence


class Owners(NamedTuple):
    """The numbers under which the two axes of a figure's panels are known on its sheet."""

    x: int = 0
    y: int = 0


Role = Literal["main", "over", "beside"]
"""What a panel is: one of the figure's own, or a marginal over (or under) its panels, or beside them."""


class Planned(NamedTuple):
    """A figure on a sheet before anything of it is computed."""

    sentence: Sentence
    owners: Owners = Owners()
    """How its axes are known; figures that name the same share them."""
    role: Role = "main"
    width: float | None = None
    """Of its part of the sheet in points; that of the sheet where nothing is said."""
