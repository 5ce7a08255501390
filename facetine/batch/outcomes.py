"""What becomes of the figures of a plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from facetine.messages.errors import FacetineError
    from facetine.messages.findings import Finding


_LACKING = ("figure-empty", "each-empty", "source-not-checked")
"""Findings that say that a figure shows nothing, or may be out of date."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of one figure."""

    name: str
    files: tuple[Any, ...] = ()
    """The files written, each with path, width_mm, height_mm, size and seconds."""
    findings: tuple[Finding, ...] = ()
    error: FacetineError | None = None
    numbers: Any = None
    """The table of the numbers behind it, with path, rows and size, where one was written."""
    state: str = "written"
    """written, unchanged, not checked (its data took too long to be asked for), removed or failed."""
    sentence: str = ""
    """What it says, a verb a line."""
    digests: tuple[str, ...] = ()
    """Of the files."""
    seconds: float = 0.0
    of: str = ""
    """The figure of the plan."""

    @property
    def lacking(self) -> bool:
        """Whether it is nothing that anybody wanted: empty, or not known to be true any more."""
        return self.error is None and any(one.code in _LACKING for one in self.findings)

    @property
    def called(self) -> str:
        """What became of it, in a word: failed, not checked, empty, removed, unchanged or written."""
        return "empty" if self.lacking and self.state != "not checked" else self.state
