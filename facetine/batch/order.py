"""How a plan is to be exported."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import Executor
from dataclasses import dataclass
from pathlib import Path

from facetine.batch.crew import Crew
from facetine.batch.outcomes import Outcome

Told = Callable[[Outcome], None]


FEW = 12
"""So many files are written sooner by one process than others are begun."""


@dataclass(frozen=True)
class Asked:
    """How a plan is to be exported."""

    only: str | None = None
    out: Path | None = None
    jobs: int | None = None
    force: bool = False
    strict: bool = False
    """Whether a warning is a failure."""
    prune: bool = False
    """Whether files of figures that the plan has no more are removed."""
    executor: Executor | None = None
    begun: Callable[[int], None] | None = None
    """Called with the number of figures before the first is drawn."""
    crew: Crew | None = None
    """Processes that have been begun."""


def usual_jobs(files: int) -> int:
    """How many processes draw so many files where nobody says it."""
    return min(1 + files // FEW, os.cpu_count() or 1)
