"""The drawing of one task, in this process or in another."""

from __future__ import annotations

import warnings
from hashlib import blake2b
from pathlib import Path
from typing import Any

from facetine.batch.making import Figures
from facetine.batch.outcomes import Outcome
from facetine.batch.tasks import Task
from facetine.figures.start import figure
from facetine.messages.errors import FacetineError, FacetineFinding, traced
from facetine.messages.findings import Finding


def drawn(task: Task, figures: Figures, dpi: float | None) -> Outcome:
    """Draws a task; what fails is told in its outcome."""
    import time

    started = time.perf_counter()
    if task.wrong is not None:
        return Outcome(task.name, error=task.wrong, state="failed", of=task.of)
    if task.empty is not None:
        return Outcome(task.name, findings=(task.empty,), of=task.of)
    files: list[Any] = []
    notes: list[Finding] = [Finding("each", "info", f"figure.{task.of}", text) for text in task.notes]
    table = None
    try:
        made = figures.made(task.of, dict(task.each))
        with warnings.catch_warnings():
            # The notes come back with the outcome; as warnings they would be said twice.
            warnings.simplefilter("ignore", FacetineFinding)
            for width, targets in task.targets:
                done = made.export(list(targets), width=width, height=task.height, dpi=dpi)
                files += done.files
                # A plan's files are its own, and no two of its figures have one: what is replaced is the figure's past.
                notes += [one for one in done.findings if one not in notes and one.code != "file-replaced"]
            if task.table is not None:
                from facetine.export.tables import written_numbers

                size = {"width": task.targets[0][0], "height": task.height}
                quoted = getattr(figures.plan.figure.get(task.of), "spreadsheet", False)
                table = written_numbers(made, task.table, spreadsheet=quoted, **size)
    except FacetineError as error:
        kind = "plate" if task.of in figures.plan.plate else "figure"
        placed = figures.placed(error, kind, task.of)
        if placed is not error:
            placed.__cause__ = error
        return Outcome(task.name, tuple(files), error=traced(placed), state="failed", of=task.of)
    digests = tuple(digest_of(file.path) for file in files)
    spent = time.perf_counter() - started
    return Outcome(task.name, tuple(files), tuple(notes), None, table, "written", repr(made), digests, spent, task.of)


def warmed() -> None:
    """Draws a small figure for nobody, so that what drawing imports is there when the first one is asked for."""
    from facetine.export.export import built, rendered

    begun = figure({"x": [0.0, 1.0], "y": [0.0, 1.0], "of": ["a", "b"]}).map(x="x", y="y", color="of").points()
    rendered(built(begun._sentence, None, None), "pdf", dpi=100, transparent=False, fonts="name")


def digest_of(path: Path) -> str:
    """The digest of a file's content."""
    return blake2b(Path(path).read_bytes(), digest_size=16).hexdigest()
