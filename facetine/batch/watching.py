"""What a plan is made of, watched for changes."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from pathlib import Path

from facetine.batch.inputs import files_of
from facetine.batch.plan import checked_plan, read_said
from facetine.batch.sources import Sources
from facetine.messages.errors import ExportError, FacetineError


def watched_files(plan: Path) -> set[Path]:
    """The files that a plan is made of: itself, what it includes, its data, codebooks, themes and pictures."""
    found = {plan.absolute()}
    with contextlib.suppress(FacetineError):
        said = read_said(plan)
        found |= {file.absolute() for file in said.files}
        whole = checked_plan(said)
        found |= {file.absolute() for file in files_of(whole, Sources(whole))}
    return found


def changes(plan: Path) -> Iterator[list[str]]:
    """The names of what has changed, each time that something has.

    Raises:
        ExportError: The package that watches is missing.
    """
    try:
        from watchfiles import watch
    except ImportError:
        raise ExportError("export", "--watch needs the package watchfiles", "pip install watchfiles") from None
    before: dict[Path, tuple[int, int] | None] | None = None
    while True:
        files = watched_files(plan)
        # What changed while figures were drawn is not waited for.
        if before is not None and (late := sorted(file.name for file in files if _stamp(file) != before.get(file, _stamp(file)))):
            before = {file: _stamp(file) for file in files}
            yield late
            continue
        folders = {file.parent for file in files}
        for found in watch(*folders, recursive=False, raise_interrupt=True):
            changed = sorted({Path(path).name for _, path in found if Path(path).absolute() in files})
            if changed:
                before = {file: _stamp(file) for file in files}
                yield changed
                break


def _stamp(file: Path) -> tuple[int, int] | None:
    try:
        told = file.stat()
    except OSError:
        return None
    return told.st_mtime_ns, told.st_size
