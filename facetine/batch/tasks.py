"""What is to be written: a task for each figure, plate, value and width, with its files."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path, PurePath
from typing import Any

from facetine.batch.making import Figures
from facetine.batch.models import FigurePlan, PlatePlan
from facetine.batch.plan import Plan
from facetine.figures.partition import check_template, file_names, said_missing
from facetine.messages.errors import FacetineError, PlanError, unknown
from facetine.messages.findings import Finding

_PAGE = "index.html"
"""Of a run, which links to all of its figures."""


@dataclass(frozen=True)
class Task:
    """One figure, of all rows or of some values, in its files."""

    name: str
    """As it is told."""
    of: str
    """The figure or plate of the plan."""
    targets: tuple[tuple[Any, tuple[Path, ...]], ...] = ()
    """Files by the width that they have."""
    height: Any = None
    each: Mapping[str, str] = field(default_factory=dict)
    """The values of whose rows it is, by column."""
    table: Path | None = None
    """Where the numbers behind it are written."""
    notes: tuple[str, ...] = ()
    wrong: FacetineError | None = None
    """What keeps it from being drawn."""
    empty: Finding | None = None
    """Why there is nothing to draw."""

    @property
    def files(self) -> list[Path]:
        """All that it writes."""
        return [*(file for _, files in self.targets for file in files), *([self.table] if self.table else [])]


def tasks_of(plan: Plan, only: str | None, out: Path, figures: Figures) -> list[Task]:
    """The tasks of a plan, or of one of its figures.

    Raises:
        PlanError: There is no such figure.
    """
    if only is not None and only not in plan.names:
        raise unknown(PlanError, f"{plan.said.name}: only", "no figure", only, plan.names, "figures")
    made: list[Task] = []
    for name in plan.names:
        said = plan.figure.get(name) or plan.plate.get(name)
        if only not in (None, name) or (only is None and said is not None and not getattr(said, "alone", True)):
            continue
        if said is None:
            made.append(Task(name, name, wrong=plan.wrong[name]))
            continue
        try:
            made += _tasks(plan, name, said, out, figures)
        except FacetineError as problem:
            kind = "figure" if name in plan.figure else "plate"
            made.append(Task(name, name, wrong=figures.placed(problem, kind, name)))
    return _apart(made, plan, out)


def _tasks(plan: Plan, name: str, said: FigurePlan | PlatePlan, out: Path, figures: Figures) -> list[Task]:
    kind = "figure" if name in plan.figure else "plate"
    # What the figure says itself goes before what is said for all of them.
    usual = kind == "figure" and not said.sheet
    several = said.widths if isinstance(said, FigurePlan) else []
    widths: list[Any] = list(several) or [plan.settings.width if said.width is None and usual else said.width]
    height = plan.settings.height if said.height is None and usual else said.height
    formats = [str(one).lstrip(".") for one in said.formats or plan.settings.formats]
    columns = said.each_of if isinstance(said, FigurePlan) else ()
    if getattr(said, "spreadsheet", False) and not getattr(said, "numbers", False):
        raise PlanError(f"{kind}.{name}", "spreadsheet is for the table that numbers writes", "numbers = true")
    if several and said.width is not None:
        raise PlanError(f"{kind}.{name}", "width and widths", "leave one of them out")
    if not columns:
        _inside(out, said.file or name, f"{kind}.{name}")
        return [_task(name, name, said.file or name, out, formats, widths, height, said)]
    template = said.file or f"{name}/" + "-".join(f"{{{column}}}" for column in columns)
    check_template(template, columns, f"{kind}.{name}: file")
    _inside(out, template, f"{kind}.{name}")
    parts = figures.parts(name)
    if not parts.every:
        text = f"each: {', '.join(columns)} has no value, so there is no file"
        return [Task(name, name, empty=Finding("each-empty", "warning", f"figure.{name}", text))]
    stems, notes = file_names(template, parts.every)
    told = (*said_missing(parts, columns), *notes)
    made = []
    for number, (one, stem) in enumerate(zip(parts.every, stems, strict=True)):
        called = f"{name}[{', '.join(one.values.values())}]"
        made.append(_task(called, name, stem, out, formats, widths, height, said, dict(one.values), told if not number else ()))
    return made


def _task(
    called: str,
    of: str,
    stem: str,
    out: Path,
    formats: list[str],
    widths: list[Any],
    height: Any,
    said: FigurePlan | PlatePlan,
    each: dict[str, str] | None = None,
    notes: tuple[str, ...] = (),
) -> Task:
    targets = []
    for width in widths:
        # Several widths have it in their names.
        own = (
            stem if len(widths) == 1 else f"{stem}-{str(width).replace(' ', '')}{'mm' if isinstance(width, int | float) else ''}"
        )
        targets.append((width, tuple(out / f"{own}.{suffix}" for suffix in formats)))
    table = out / f"{stem}.csv" if getattr(said, "numbers", False) else None
    return Task(called, of, tuple(targets), height, each or {}, table, notes)


def _inside(out: Path, stem: str, where: str) -> None:
    """Refuses a name of files that leaves the folder.

    Raises:
        PlanError: It does.
    """
    if PurePath(stem).is_absolute() or "\0" in stem or not (out / stem).resolve().is_relative_to(out.resolve()):
        raise PlanError(where, f"file {stem!r} leaves the output folder", f"out: {out}", given=stem)


def _apart(tasks: list[Task], plan: Plan, out: Path) -> list[Task]:
    """The tasks, of which no two write one file, and none that of a run.

    Raises:
        PlanError: Two would.
    """
    taken = {str((out / _PAGE).resolve()).casefold(): "the page of the run"}
    for task in tasks:
        kind = "plate" if task.of in plan.plate else "figure"
        for file in task.files:
            key = str(file.resolve()).casefold()
            if key in taken:
                both, at = f"{kind}.{task.of} and {taken[key]}", plan.said.places.where(kind, task.of)
                raise PlanError(both, f"would both write {file.name!r}", 'file = "…" names one', of_option=True, at=at)
            taken[key] = f"{kind}.{task.of}"
    return tasks
