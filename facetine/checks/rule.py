"""One thing that the check looks for."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import NamedTuple

from facetine.checks.subject import Subject
from facetine.messages.findings import Finding


class Rule(NamedTuple):
    """One thing that is looked for."""

    code: str
    says: str
    """What is found, in a sentence."""
    reason: str
    source: str
    """After whom; empty where the reason speaks for itself."""
    find: Callable[[Subject], Iterable[Finding]] | None = None
    """None where the figure itself says so when it is drawn."""
