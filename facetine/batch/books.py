"""The codebooks of a plan's figures, and what they know of the columns that these use."""

from __future__ import annotations

from typing import Any

from facetine.batch.plan import Plan
from facetine.data.codebook import Codebook
from facetine.grammar.given import Plain


def books_of(plan: Plan, own: Plain | None = None) -> list[Any]:
    """The codebooks of a figure, each laid over those before it: the plan's files, its table, and the figure's."""
    said = plan.settings.codebook
    files = [said] if isinstance(said, str) else said or []
    return [*(plan.folder / file for file in files), *([plan.codebook] if plan.codebook else []), *([own] if own else [])]


def entries_used(plan: Plan, own: Plain, named: Any) -> list[tuple[str, str]]:
    """What codebooks know of the columns that a figure may use, as texts.

    Args:
        plan: The plan.
        own: The figure's own codebook.
        named: The names that the figure mentions.
    """
    entries = Codebook.of(books_of(plan, own)).entries
    return [(name, repr(entry)) for name, entry in sorted(entries.items()) if name in named]
