"""What becomes of the figures of a plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from facetine.errors import FacetineError
    from facetine.findings import Finding


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
    """written, unchanged or failed."""
    sentence: str = ""
    """What it says, a verb a line."""
    digests: tuple[str, ...] = ()
    """Of the files."""
    seconds: float = 0.0
    of: str = ""
    """The figure of the plan."""
