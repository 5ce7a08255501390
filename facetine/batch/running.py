"""The figures of a plan, drawn beside each other; one that fails does not stop the others, and what is there already stays."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Executor
from dataclasses import replace
from functools import partial
from pathlib import Path
from types import SimpleNamespace
from typing import Any, NamedTuple

from facetine.batch.contacts import NAME as CONTACTS
from facetine.batch.contacts import write_contacts
from facetine.batch.crew import Here
from facetine.batch.documents import placed_documents
from facetine.batch.inputs import run_of
from facetine.batch.locks import locked
from facetine.batch.making import Figures
from facetine.batch.manifest import NAME as MANIFEST
from facetine.batch.manifest import Keys, Manifest
from facetine.batch.order import Asked, Told, usual_jobs
from facetine.batch.outcomes import Outcome
from facetine.batch.plan import Plan
from facetine.batch.sources import Sources, unknown_columns
from facetine.batch.tasks import Task, tasks_of
from facetine.batch.work import Run, outcomes_by
from facetine.messages.errors import ExportError, FacetineError, PlanError, listed, note
from facetine.messages.findings import so_many


def run(plan: Plan, asked: Asked, tell: Told) -> list[Outcome]:
    """Exports a plan."""
    note(plan.said.clashes)
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
        outcomes, left = _known(plan, tasks, manifest, sources, asked, tell)
        for outcome, key in _drawn(plan, left, figures, store, asked):
            told = _strictly(outcome) if asked.strict else outcome
            if told.error is None:
                manifest.keep(told, key)
            else:
                manifest.forget(told.name)
            outcomes[told.name] = told
            tell(told)
        ordered = [outcomes[task.name] for task in tasks]
        if asked.only is None:
            note(unknown_columns(plan, sources))
            ordered += _all_beside(plan, ordered, figures, manifest, begun, out, asked, tell)
        else:
            ordered += _beside(MANIFEST, partial(manifest.write, None, None))
    return ordered


def _known(
    plan: Plan, tasks: list[Task], manifest: Manifest, sources: Sources, asked: Asked, tell: Told
) -> tuple[dict[str, Outcome], list[tuple[Task, str]]]:
    """What lies there as it would be drawn again; and what is left to be drawn, each with its key."""
    keys = Keys(plan, sources, manifest.sources)
    outcomes: dict[str, Outcome] = {}
    left: list[tuple[Task, str]] = []
    for task in tasks:
        key = keys.key(task) if task.wrong is None else ""
        there = None if asked.force or task.wrong is not None else manifest.unchanged(task, key)
        late = keys.late(task) if there is None and task.wrong is None and not asked.force else None
        if late is not None:
            there = manifest.unchecked(task, key, late)
        if there is not None and asked.strict and there.state == "unchanged":
            there = _strictly(there)
        if there is None:
            left.append((task, key))
        else:
            outcomes[task.name] = there
            tell(there)
    return outcomes, left


def _drawn(
    plan: Plan, left: list[tuple[Task, str]], figures: Figures, store: Path, asked: Asked
) -> Iterator[tuple[Outcome, str]]:
    """The outcomes of tasks, as they are done, each with its key."""
    keys = {task.name: key for task, key in left}
    for outcome in _done(plan, [task for task, _ in left], figures, store, asked):
        yield outcome, keys[outcome.name]


def _strictly(outcome: Outcome) -> Outcome:
    """An outcome whose warnings are failures."""
    warned = [one for one in outcome.findings if one.severity == "warning"]
    if outcome.error is not None or not warned:
        return outcome
    more = f", and {len(warned) - 1} more" if len(warned) > 1 else ""
    error = ExportError(warned[0].where, f"{warned[0].text}{more}", "a warning, which --strict takes for a failure")
    return replace(outcome, error=error, state="failed")


def _all_beside(
    plan: Plan,
    ordered: list[Outcome],
    figures: Figures,
    manifest: Manifest,
    begun: Any,
    out: Path,
    asked: Asked,
    tell: Told,
) -> list[Outcome]:
    """What a whole run makes of its figures: documents, the page, and the list of what it wrote."""
    sound = all(outcome.error is None and outcome.state != "not checked" for outcome in ordered)
    told: list[Outcome] = []
    changed = {outcome.of for outcome in ordered if outcome.state != "unchanged"}
    for outcome in placed_documents(plan, figures, manifest, changed):
        told.append(outcome)
        tell(outcome)
    lost = manifest.lost([outcome.name for outcome in ordered])
    if lost and asked.prune:
        for outcome in _pruned(out, lost, manifest):
            told.append(outcome)
            tell(outcome)
    elif lost:
        note([_said_lost(lost)])
    names = [outcome.name for outcome in ordered] if asked.prune else None
    told += _beside(MANIFEST, partial(manifest.write, names, begun if sound and not plan.document else None))
    told += _beside(
        CONTACTS, partial(write_contacts, plan.said.name, out, [one for one in (*ordered, *told) if one.state != "removed"])
    )
    return told


def _said_lost(lost: Mapping[str, list[Path]]) -> str:
    """Files of figures that the plan has no more."""
    files = [file.name for files in lost.values() for file in files]
    said = f"{so_many(len(lost), 'figure')} of earlier runs {'is' if len(lost) == 1 else 'are'} not in the plan any more"
    return f"{said}: {listed(files, 6)}; --prune removes these files"


def _pruned(out: Path, lost: Mapping[str, list[Path]], manifest: Manifest) -> Iterator[Outcome]:
    """Removes files of figures that the plan has no more: those that are as they were written, and no others."""
    for name, files in lost.items():
        problem: FacetineError | None = None
        for file in files:
            try:
                file.unlink(missing_ok=True)
            except OSError as error:
                problem = ExportError(name, f"{file.name} can't be removed: {error.strerror}")
        for folder in {file.parent for file in files if file.parent != out}:
            with contextlib.suppress(OSError):
                folder.rmdir()
        if problem is None:
            manifest.figures.pop(name, None)
        removed = tuple(SimpleNamespace(path=file) for file in files)
        yield Outcome(name, removed, error=problem, state="removed" if problem is None else "failed", of=name)


def _beside(name: str, write: Callable[[], None]) -> list[Outcome]:
    """Writes what tells of a run; where it can't be, as on a full disk, the figures are told all the same."""
    try:
        write()
    except FacetineError as error:
        return [Outcome(name, error=error, state="failed", of=name)]
    return []


def _done(plan: Plan, tasks: list[Task], figures: Figures, store: Path, asked: Asked) -> Iterator[Outcome]:
    """The outcomes of tasks, as they are done."""
    executor = _executor(tasks, asked)
    if not isinstance(executor, Here):
        _shared(plan, tasks, figures.sources, store)
    yield from outcomes_by(executor, Run(figures, store, plan.settings.dpi), tasks)


def _executor(tasks: list[Task], asked: Asked) -> Executor:
    """What draws: the caller's, else this process where that is soonest, else ours beside it."""
    if asked.executor is not None:
        return asked.executor
    jobs = asked.jobs or usual_jobs(sum(len(task.files) for task in tasks))
    if jobs == 1 or len(tasks) < 2 or asked.crew is None:
        return Here()
    asked.crew.most = jobs
    return asked.crew


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
        said, at = f"{plan.settings.out!r} leaves the plan's folder", plan.said.places.where("plan", "out")
        raise PlanError("plan.out", said, "--out FOLDER writes anywhere", of_option=True, at=at)
    return out


class Checkable(NamedTuple):
    """A figure or plate of a plan, to be checked."""

    name: str
    figure: Any
    """The error of one that fails."""
    silence: dict[str, str]
    width: Any
    height: Any
    placed: Callable[[FacetineError], FacetineError]
    """Gives an error that is raised when it is looked at the file and the line of what it is about."""


def every_figure(plan: Plan, only: str | None) -> Iterator[Checkable]:
    """The figures and plates of a plan; the error of one that fails."""
    note(plan.said.clashes)
    figures = Figures(plan, Sources(plan))
    for task in tasks_of(plan, only, plan.folder, figures) if only else _every(plan, figures):
        said = plan.figure.get(task.of) or plan.plate.get(task.of)
        kind = "plate" if task.of in plan.plate else "figure"
        placed = partial(figures.placed, kind=kind, name=task.of)
        width, height = (task.targets[0][0], task.height) if task.targets else (None, None)
        figure: Any
        try:
            if task.wrong is not None:
                raise task.wrong
            if task.empty is not None:
                raise PlanError(task.empty.where, f"{task.empty.text}")
            figure = figures.made(task.of, dict(task.each))
            if task.of in plan.figure and not plan.figure[task.of].alone and plan.figure[task.of].respond:
                # What it responds to is chosen by another figure of its plate, with which it is checked as well.
                figure = figure.respond(None)
        except FacetineError as error:
            figure = placed(error)
        yield Checkable(task.name, figure, dict(said.silence) if said is not None else {}, width, height, placed)
    if only is None:
        note(unknown_columns(plan, figures.sources))


def _every(plan: Plan, figures: Figures) -> list[Task]:
    """All figures, also those that stand on plates alone."""
    made: list[Task] = []
    for name in plan.names:
        made += tasks_of(plan, name, plan.folder, figures)
    return made
