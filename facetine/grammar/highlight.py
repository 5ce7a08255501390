"""Rows that are to be seen first, while all others are quiet."""

from __future__ import annotations

import re
from typing import NamedTuple

from facetine.data.expressions import Expression
from facetine.grammar.given import Plain
from facetine.grammar.options import ink, text
from facetine.messages.errors import OptionError, told

_EQUALS = re.compile(r"""\s*("[^"]+"|\w+)\s*=\s*'((?:[^']|'')*)'\s*""")


class Highlight(NamedTuple):
    """Which rows keep their inks, and how the others look."""

    where: Expression
    others: str | None = None
    """The ink of the others; None for the theme's."""
    legend_as: str | None = None
    """What the chosen rows are called in the legend."""
    rest_as: str | None = None
    """What the others are called there."""
    verb: str = "figure.highlight"
    """What says so."""
    rows: tuple[int, ...] | None = None
    """The numbers of the rows, where another figure says which; None where the expression does."""

    def said(self) -> Plain:
        """What was said beside the expression."""
        return {name: value for name in ("others", "legend_as", "rest_as") if (value := getattr(self, name)) is not None}

    @property
    def words(self) -> str:
        """What the chosen rows are called: as was said, else by the value that they have, or their expression."""
        if self.legend_as is not None:
            return self.legend_as
        if not isinstance(self.where, str):
            return "highlighted"
        one = _EQUALS.fullmatch(self.where)
        return one[2].replace("''", "'") if one else self.where

    @property
    def rest_words(self) -> str:
        """What the others are called."""
        return "all others" if self.rest_as is None else self.rest_as


def highlight_said(where: Expression, others: object, legend_as: object, rest_as: object) -> Highlight:
    """A checked highlight.

    Raises:
        OptionError: It can't be.
    """
    said = "figure.highlight"
    if isinstance(where, bool | int | float) or (isinstance(where, str) and not where.strip()):
        raise OptionError(said, f"{told(where)} says of no row whether it is chosen", "such as \"cellar = 'Loft'\"")
    made = Highlight(
        where,
        None if others is None else ink(others, f"{said}: others"),
        None if legend_as is None else text(legend_as, f"{said}: legend_as"),
        None if rest_as is None else text(rest_as, f"{said}: rest_as"),
    )
    if made.words == made.rest_words:
        raise OptionError(
            said, f"the chosen rows and the others are both called {made.words!r}", "legend_as= and rest_as= tell them apart"
        )
    return made
