"""The codebooks of a plan: all that is wrong with them, each with its line, and what they know of columns that there are not."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.batch.located import Places
from facetine.data.codebook import problems_of
from facetine.data.plain import plain_text
from facetine.data.toml import parsed_toml
from facetine.messages.errors import PlanError

if TYPE_CHECKING:
    pass

Plain = dict[str, Any]


def wrong_entries(files: Iterable[Path], table: Any, places: Places) -> Iterator[PlanError]:
    """Every mistake of codebooks, once.

    Args:
        files: Those in files of their own, which are there.
        table: The one that the plan holds.
        places: The lines of the plan.
    """
    for file in files:
        try:
            text = plain_text(file)
            said = parsed_toml(text)
        except (OSError, ValueError, RecursionError) as problem:
            yield PlanError("", f"no TOML: {str(problem)[:160]}", at=file.name)
            continue
        entries = said.get("codebook", said)
        prefix = ("codebook",) if "codebook" in said else ()
        if not isinstance(entries, Mapping):
            yield PlanError("", "codebook is a table", at=file.name)
            continue
        yield from _of_entries(entries, Places.of(file.name, text), prefix)
    if isinstance(table, Mapping):
        yield from _of_entries(table, places, ("codebook",))


def _of_entries(entries: Mapping[str, Any], places: Places, prefix: tuple[str, ...]) -> Iterator[PlanError]:
    for name, says in entries.items():
        for key, problem in problems_of(str(name), says, "codebook"):
            at = places.where(*prefix, str(name), *([key] if key else []))
            yield problem.but(PlanError, at=at)
