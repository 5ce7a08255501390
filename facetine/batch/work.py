"""The drawing of tasks: by an executor, whichever it is, in this process, in ours beside it, or on other machines."""

from __future__ import annotations

import pickle
import time
import warnings
from collections.abc import Iterator, Sequence
from concurrent.futures import Executor, Future
from functools import cached_property, lru_cache, partial
from hashlib import blake2b
from pathlib import Path
from queue import SimpleQueue
from typing import Any

from facetine.batch.making import Figures
from facetine.batch.outcomes import Outcome
from facetine.batch.sources import Sources
from facetine.batch.tasks import Task
from facetine.figures.start import figure
from facetine.messages.errors import ExportError, FacetineError, FacetineFinding, traced
from facetine.messages.findings import Finding


class Run:
    """What all tasks of a run have in common. A copy in another process begins from the plan, and reads the shared tables."""

    def __init__(self, figures: Figures, store: Path, dpi: float | None) -> None:
        self.figures, self.store, self.dpi = figures, store, dpi

    @cached_property
    def _content(self) -> bytes:
        return pickle.dumps((self.figures.plan, self.store.absolute(), self.dpi), 5)

    def __reduce__(self) -> tuple[object, ...]:
        """By its plan, which each process unpacks once."""
        return _unpacked, (self._content,)


@lru_cache(maxsize=2)
def _unpacked(content: bytes) -> Run:
    plan, store, dpi = pickle.loads(content)
    return Run(Figures(plan, Sources(plan, store)), store, dpi)


def outcomes_by(executor: Executor, run: Run, tasks: Sequence[Task]) -> Iterator[Outcome]:
    """The outcomes of tasks, as they are done.

    Args:
        executor: What runs them.
        run: What they have in common.
        tasks: What is to be drawn.
    """
    done: SimpleQueue[tuple[Task, Future[Outcome]]] = SimpleQueue()
    told = 0
    for task in tasks:
        future = executor.submit(draw, run, task)
        future.add_done_callback(partial(_put, done, task))
        while not done.empty():
            yield _outcome(*done.get())
            told += 1
    while told < len(tasks):
        yield _outcome(*done.get())
        told += 1


def _put(done: SimpleQueue[tuple[Task, Future[Outcome]]], task: Task, future: Future[Outcome]) -> None:
    done.put((task, future))


def _outcome(task: Task, future: Future[Outcome]) -> Outcome:
    try:
        return future.result()
    except FacetineError as problem:
        error: FacetineError = problem.but(where=task.name)
    except Exception as problem:
        error = ExportError(task.name, f"the executor gave no answer: {type(problem).__name__}: {problem}")
    return Outcome(task.name, error=error, state="failed", of=task.of)


def draw(run: Run, task: Task) -> Outcome:
    """Draws one task in whatever process this is; what fails is told in its outcome."""
    from facetine.data.allowed import apart_too

    with apart_too():
        return _drawn(task, run.figures, run.dpi)


def _drawn(task: Task, figures: Figures, dpi: float | None) -> Outcome:
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
