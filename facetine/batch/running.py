"""The figures of a plan, drawn beside each other; one that fails does not stop the others, and what is there already stays."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

from facetine.batch.contacts import NAME as CONTACTS
from facetine.batch.contacts import write_contacts
from facetine.batch.documents import placed_documents
from facetine.batch.inputs import run_of
from facetine.batch.locks import locked
from facetine.batch.making import Figures
from facetine.batch.manifest import NAME as MANIFEST
from facetine.batch.manifest import Keys, Manifest
from facetine.batch.outcomes import Outcome
from facetine.batch.plan import Plan
from facetine.batch.runner import Asked, Told, usual_jobs
from facetine.batch.sources import Sources
from facetine.batch.tasks import Task, tasks_of
from facetine.batch.work import drawn
from facetine.errors import FacetineError, PlanError


def run(plan: Plan, asked: Asked, tell: Told) -> list[Outcome]:
    """Exports a plan."""
    out = _folder(plan, asked.out)
    sources = Sources(plan)
    figures = Figures(plan, sources)
    tasks = tasks_of(plan, asked.only, out, figures)
    if asked.begun is not None:
        asked.begun(len(tasks))
    with locked(out) as store:
        manifest = Manifest.of(out)
        # As files are before they are read: one that changes meanwhile is another one for the next run.
        begun = run_of(plan, sources, [task.name for task in tasks])
        keys = Keys(plan, sources, manifest.sources)
        known: dict[str, str] = {}
        outcomes: dict[str, Outcome] = {}
        left: list[Task] = []
        for task in tasks:
            known[task.name] = key = keys.key(task) if task.wrong is None else ""
            there = None if asked.force or task.wrong is not None else manifest.unchanged(task, key)
            if there is None:
                left.append(task)
            else:
                outcomes[task.name] = there
                tell(there)
        for outcome in _done(plan, left, figures, store, asked):
            if outcome.error is None:
                manifest.keep(outcome, known[outcome.name])
            else:
                manifest.figures.pop(outcome.name, None)
            outcomes[outcome.name] = outcome
            tell(outcome)
        ordered = [outcomes[task.name] for task in tasks]
        names = [task.name for task in tasks]
        whole = asked.only is None and all(outcome.error is None for outcome in ordered)
        ordered += _beside(MANIFEST, partial(manifest.write, names if asked.only is None else None, begun if whole else None))
        if asked.only is None:
            for outcome in placed_documents(plan, figures):
                ordered.append(outcome)
                tell(outcome)
            ordered += _beside(CONTACTS, partial(write_contacts, plan.said.name, out, list(ordered)))
    return ordered


def _beside(name: str, write: Callable[[], None]) -> list[Outcome]:
    """Writes what tells of a run; where it can't be, as on a full disk, the figures are told all the same."""
    try:
        write()
    except FacetineError as error:
        return [Outcome(name, error=error, state="failed", of=name)]
    return []


def _done(plan: Plan, tasks: list[Task], figures: Figures, store: Path, asked: Asked) -> Iterator[Outcome]:
    """The outcomes of tasks, as they are done."""
    dpi = plan.settings.dpi
    files = sum(len(task.files) for task in tasks)
    jobs = asked.jobs or usual_jobs(files)
    if asked.executor is None and (jobs == 1 or len(tasks) < 2):
        for task in tasks:
            yield drawn(task, figures, dpi)
        return
    _shared(plan, tasks, figures.sources, store)
    if asked.executor is not None:
        from facetine.batch.elsewhere import outcomes_by

        yield from outcomes_by(asked.executor, plan, store, tasks, dpi)
        return
    assert asked.crew is not None
    yield from asked.crew.outcomes(plan, store, tasks, dpi, jobs)


def _shared(plan: Plan, tasks: list[Task], sources: Sources, store: Path) -> None:
    """Puts all tables that the tasks need where their processes find them."""
    store.mkdir(parents=True, exist_ok=True)
    sources.store = store
    needed: dict[str, None] = {}
    for task in tasks:
        names = [task.of] if task.of in plan.figure else [
            cell for cell in plan.plate[task.of].members() if cell in plan.figure
        ] if task.of in plan.plate else []  # fmt: skip
        for name in names:
            if (data := plan.figure[name].data) is not None:
                needed[data] = None
    sources.share(list(needed))


def _folder(plan: Plan, elsewhere: Path | None) -> Path:
    """The folder to write to.

    Raises:
        PlanError: The plan's own leaves its folder.
    """
    out = plan.folder / plan.settings.out if elsewhere is None else elsewhere
    if elsewhere is None and ("\0" in plan.settings.out or not out.resolve().is_relative_to(plan.folder.resolve())):
        where = plan.said.places.where("plan", "out")
        raise PlanError(f"{where}: plan.out {plan.settings.out!r} leaves the plan's folder", "--out FOLDER writes anywhere")
    return out


def every_figure(plan: Plan, only: str | None) -> Iterator[tuple[str, Any, dict[str, str], Any, Any]]:
    """The figures and plates of a plan: name, figure, silence, width and height; the error of one that fails."""
    figures = Figures(plan, Sources(plan))
    for task in tasks_of(plan, only, plan.folder, figures) if only else _every(plan, figures):
        said = plan.figure.get(task.of) or plan.plate.get(task.of)
        silence = dict(said.silence) if said is not None else {}
        try:
            if task.wrong is not None:
                raise task.wrong
            figure = figures.made(task.of, dict(task.each))
        except FacetineError as error:
            yield task.name, error, silence, None, None
        else:
            yield task.name, figure, silence, task.targets[0][0], task.height


def _every(plan: Plan, figures: Figures) -> list[Task]:
    """All figures, also those that stand on plates alone."""
    made: list[Task] = []
    for name in plan.names:
        made += tasks_of(plan, name, plan.folder, figures)
    return made
