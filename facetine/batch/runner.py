"""The figures of a plan exported: at once where nothing has changed since the last time, else by the processes that draw."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from facetine.batch.inputs import folder_of
from facetine.batch.manifest import NAME as MANIFEST
from facetine.batch.manifest import Manifest
from facetine.batch.order import FEW, Asked, Told, usual_jobs
from facetine.batch.outcomes import Outcome
from facetine.data.allowed import allowed_of, apart_too
from facetine.data.plain import plain_text
from facetine.messages.errors import OptionError
from facetine.messages.errors import told as quoted

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from facetine.batch.running import Checkable

__all__ = ["Asked", "Outcome", "export_plan", "figures_of_plan"]


def export_plan(
    path: str | Path,
    *,
    only: str | None = None,
    out: str | Path | None = None,
    told: Told | None = None,
    jobs: int | None = None,
    force: bool = False,
    strict: bool = False,
    prune: bool = False,
    executor: Executor | None = None,
    begun: Callable[[int], None] | None = None,
    allow_functions: list[str] | None = None,
    password_env: list[str] | None = None,
    allow_local_addresses: bool = False,
) -> list[Outcome]:
    """Exports the figures of a plan that would come out otherwise than they lie there.

    Args:
        path: The plan, a TOML or JSON file; its paths are relative to its folder.
        only: The name of one figure; all where it is not given.
        out: The folder to write to, anywhere; by default the plan's own, which lies below the plan's folder.
        told: Called with each outcome as soon as it is there.
        jobs: How many processes draw; as many as there are processors, where there is enough to draw, by default.
        force: Whether figures that would come out the same are drawn too.
        strict: Whether a figure with a warning, such as one without rows, is a failed one.
        prune: Whether files of figures that the plan has no more are removed; those alone that an earlier run wrote, and nobody
            has changed since.
        begun: Called with the number of figures before the first is drawn.
        executor: One of `concurrent.futures`, or of the same kind, that runs the batch in the place of our processes.
        allow_functions: Names of functions that its queries may call, besides those that all may.
        password_env: Names of variables of the environment that it may use as a database's password.
        allow_local_addresses: Whether its addresses may be of this machine and its private network.

    Returns:
        An outcome for each figure, in their order; failed ones hold their error.

    Raises:
        PlanError: The plan can't be read, or its settings, data or codebook are wrong; no figure is drawn then.
        ExportError: Another run writes to the same folder, or it can't be written.
        OptionError: The number of processes is impossible.

    Example:
        >>> import facetine as ft
        >>> outcomes = ft.plan("plan.toml").export()  # doctest: +SKIP
    """
    if jobs is not None and (isinstance(jobs, bool) or not isinstance(jobs, int) or not 1 <= jobs <= 512):
        raise OptionError("export", f"jobs is a whole number from 1 to 512, not {quoted(jobs)}")
    allowed = allowed_of(
        "export",
        allow_functions=allow_functions,
        password_env=password_env,
        allow_local_addresses=allow_local_addresses,
    )
    for name, value in (("strict", strict), ("prune", prune)):
        if not isinstance(value, bool):
            raise OptionError("export", f"{name} is True or False, not {quoted(value)}")
    if prune and only is not None:
        raise OptionError("export", "prune is for a whole plan", "leave only= out")
    asked = Asked(only, None if out is None else Path(out), jobs, force, strict, prune, executor, begun)
    tell = told or (lambda _: None)
    file = Path(path)
    if only is None and not force and not strict and not prune:
        folder = asked.out if asked.out is not None else folder_of(file)
        there = Manifest.of(folder).as_before(file) if folder is not None else None
        if there is not None:
            if begun is not None:
                begun(len(there))
            for outcome in there:
                tell(outcome)
            return there
    from facetine.batch.crew import Crew

    crew = Crew(_foreseen(file, asked))
    try:
        from facetine.batch.plan import read_plan
        from facetine.batch.running import run

        with apart_too():
            return run(read_plan(file, allowed), replace(asked, crew=crew), tell)
    finally:
        crew.shutdown()


def _foreseen(plan: Path, asked: Asked) -> int:
    """How many processes a plan will keep busy, by a glance at its text; a wrong guess only costs a moment.

    None where some of it has been drawn before: what is left may be too little for them.
    """
    if asked.only is not None or asked.executor is not None or asked.jobs == 1:
        return 0
    folder = asked.out if asked.out is not None else folder_of(plan)
    if not asked.force and folder is not None and (folder / MANIFEST).exists():
        return 0
    try:
        text = plain_text(plan)
    except (OSError, UnicodeDecodeError):
        return 0
    figures = len(re.findall(r"(?m)^\s*\[(?:figure|plate)\.[^.\]\s]+\]", text))
    return 0 if figures < FEW else min(asked.jobs or usual_jobs(figures), figures)


def figures_of_plan(
    path: Path,
    only: str | None = None,
    *,
    allow_functions: list[str] | None = None,
    password_env: list[str] | None = None,
    allow_local_addresses: bool = False,
) -> Iterator[Checkable]:
    """The figures and plates of a plan, to be checked; the error of one that fails.

    Args:
        path: The plan.
        only: The name of one figure.
        allow_functions: Names of functions that its queries may call, besides those that all may.
        password_env: Names of variables of the environment that it may use as a database's password.
        allow_local_addresses: Whether its addresses may be of this machine and its private network.

    Raises:
        PlanError: The plan can't be read or is not sound.
    """
    from facetine.batch.plan import read_plan
    from facetine.batch.running import every_figure

    allowed = allowed_of(
        "check",
        allow_functions=allow_functions,
        password_env=password_env,
        allow_local_addresses=allow_local_addresses,
    )
    # Also while a figure is looked at by whoever asked for it: that is when its expressions are evaluated.
    with apart_too():
        yield from every_figure(read_plan(path, allowed), only)
