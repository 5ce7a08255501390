"""The batch by an executor of the caller's, which may have its processes on other machines that see the same folders."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import Executor
from functools import lru_cache
from pathlib import Path
from typing import Any

from facetine.batch.making import Figures
from facetine.batch.outcomes import Outcome
from facetine.batch.plan import Plan
from facetine.batch.sources import Sources
from facetine.batch.tasks import Task
from facetine.batch.work import drawn
from facetine.messages.errors import ExportError


def outcomes_by(executor: Executor, plan: Plan, store: Path, tasks: Sequence[Task], dpi: float | None) -> Iterator[Outcome]:
    """The outcomes of tasks, in the order in which they were asked for."""
    import pickle

    begin = pickle.dumps((plan, store.absolute(), dpi), 5)
    asked: list[Any] = [executor.submit(draw_alone, begin, pickle.dumps(task, 5)) for task in tasks]
    for task, future in zip(tasks, asked, strict=True):
        try:
            yield future.result()
        except Exception as problem:
            said = f"the executor gave no answer: {type(problem).__name__}: {problem}"
            yield Outcome(task.name, error=ExportError(task.name, said), state="failed", of=task.of)


def draw_alone(begin: bytes, task: bytes) -> Outcome:
    """Draws one task in whatever process this is."""
    import pickle

    from facetine.data.allowed import apart_too

    figures, dpi = _begun(begin)
    with apart_too():
        return drawn(pickle.loads(task), figures, dpi)


@lru_cache(maxsize=2)
def _begun(begin: bytes) -> tuple[Figures, float | None]:
    """The plan with its tables, kept for the next task of the same run."""
    import pickle

    plan, store, dpi = pickle.loads(begin)
    return Figures(plan, Sources(plan, store)), dpi
