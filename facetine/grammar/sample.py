"""A part of the rows, by chance."""

from __future__ import annotations

from typing import NamedTuple

from facetine.grammar.given import Plain
from facetine.grammar.options import choice, whole

PER = ("group", "panel")


class Sample(NamedTuple):
    """How many rows are drawn and computed from."""

    rows: int
    per: str | None = None
    """Of each group, or of each panel; of all rows where nothing is said."""
    of: int | None = None
    """How many there were, once it is known."""

    def said(self) -> Plain:
        """What was said, but for the count."""
        return {} if self.per is None else {"per": self.per}


def sample_said(count: object, per: object, where: str) -> Sample:
    """A checked sample.

    Raises:
        OptionError: It can't be.
    """
    kept = whole(1)(count, f"{where}: count")
    return Sample(int(kept), None if per is None else str(choice(*PER, name="words")(per, f"{where}: per")))
