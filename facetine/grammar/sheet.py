"""What is said of the size of the sheet, for screen and file."""

from __future__ import annotations

from dataclasses import dataclass

from facetine.grammar.given import Length, Plain
from facetine.grammar.options import differing, length, option


@dataclass(frozen=True, kw_only=True)
class SheetSpec:
    """Width and height; None where nothing is said."""

    width: Length = option(None, length)
    height: Length = option(None, length)

    def said(self) -> Plain:
        """What was said."""
        return differing(self)
