"""The codebooks of a plan: all that is wrong with them, each with its line, and what they know of columns that there are not."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.batch.located import Places
from facetine.data.codebook import Codebook, problems_of
from facetine.data.plain import plain_text
from facetine.data.toml import parsed_toml
from facetine.messages.errors import FacetineError, PlanError, nearest

if TYPE_CHECKING:
    from facetine.batch.plan import Plan
    from facetine.batch.sources import Sources

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
            yield PlanError(f"{file.name}: no TOML: {str(problem)[:160]}")
            continue
        entries = said.get("codebook", said)
        prefix = ("codebook",) if "codebook" in said else ()
        if not isinstance(entries, Mapping):
            yield PlanError(f"{file.name}: codebook is a table")
            continue
        yield from _of_entries(entries, Places.of(file.name, text), prefix)
    if isinstance(table, Mapping):
        yield from _of_entries(table, places, ("codebook",))


def _of_entries(entries: Mapping[str, Any], places: Places, prefix: tuple[str, ...]) -> Iterator[PlanError]:
    for name, says in entries.items():
        for key, problem in problems_of(str(name), says, "codebook"):
            where = places.where(*prefix, str(name), *([key] if key else []))
            yield problem.again(PlanError, f"{where}: {problem.headline}")


def books_of(plan: Plan, own: Plain | None = None) -> list[Any]:
    """The codebooks of a figure, each laid over those before it: the plan's files, its table, and the figure's."""
    said = plan.settings.codebook
    files = [said] if isinstance(said, str) else said or []
    return [*(plan.folder / file for file in files), *([plan.codebook] if plan.codebook else []), *([own] if own else [])]


def unknown_columns(plan: Plan, sources: Sources) -> list[str]:
    """What the codebooks know of columns that no source has; nothing where not all sources have been looked at.

    Columns that a codebook or a step of a figure makes are there.
    """
    if any(name not in sources.tables for name in plan.data):
        return []
    columns = {str(name) for name in plan.data for name in sources.tables[name]}
    made = {str(name) for figure in plan.figure.values() for step in figure.steps for name in _derived(step)}
    try:
        entries = Codebook.of(books_of(plan)).entries
    except FacetineError:
        return []
    lost = [name for name, entry in entries.items() if name not in columns | made and entry.origin is None and not entry.flags]
    remarks = []
    for name in lost:
        close = nearest(name, columns)
        remarks.append(f"codebook.{name}: no source has such a column" + (f". Did you mean {close!r}?" if close else ""))
    return remarks


def _derived(step: Any) -> list[Any]:
    said = step.get("derive") if isinstance(step, Mapping) else None
    return list(said) if isinstance(said, Mapping) else []


def entries_used(plan: Plan, own: Plain, named: Any) -> list[tuple[str, str]]:
    """What codebooks know of the columns that a figure may use, as texts.

    Args:
        plan: The plan.
        own: The figure's own codebook.
        named: The names that the figure mentions.
    """
    entries = Codebook.of(books_of(plan, own)).entries
    return [(name, repr(entry)) for name, entry in sorted(entries.items()) if name in named]
