"""How the export of a plan is told: progress while it runs, failures and remarks last."""

from __future__ import annotations

import sys
import time
from collections import Counter
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.cli.lines import tell, to_error
from facetine.cli.report import Reporter
from facetine.grammar.given import Plain
from facetine.messages.errors import FacetineError, PlanError, printable
from facetine.messages.findings import as_notes, so_many

if TYPE_CHECKING:
    from facetine.batch.outcomes import Outcome


def exported(plan: Path, as_json: bool, quiet: bool, asked: Plain, brief: bool = False) -> int:
    """Exports a plan and tells what became of it; the exit code.

    Args:
        plan: The plan.
        as_json: Whether each outcome is a line of JSON.
        quiet: Whether errors alone are told.
        asked: Options of `facetine.plan(…).export`.
        brief: Whether written files are counted instead of named.
    """
    from facetine.batch.runner import export_plan

    telling = Telling(as_json, quiet, brief)
    started = time.perf_counter()
    try:
        with telling:
            outcomes = export_plan(plan, told=telling.tell, begun=telling.begin, **asked)
    except FacetineError as problem:
        if as_json:
            telling.reporter.errors(problem.lines if isinstance(problem, PlanError) else [problem.line])
        raise
    telling.end(outcomes, time.perf_counter() - started)
    return 1 if any(outcome.error is not None or outcome.lacking for outcome in outcomes) else 0


class Telling:
    """Tells outcomes as they come, and what failed or was found when all are there."""

    def __init__(self, as_json: bool, quiet: bool, brief: bool) -> None:
        self.reporter = Reporter(as_json, quiet)
        self.as_json, self.quiet, self.brief = as_json, quiet, brief
        self.progress: Any = None
        self.task: Any = None

    def __enter__(self) -> Telling:
        if sys.stderr.isatty() and not (self.quiet or self.as_json):
            from rich.console import Console
            from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

            bar = BarColumn(style="bright_black", complete_style="cyan", finished_style="cyan")
            parts = (TextColumn("drawing"), bar, MofNCompleteColumn(), TimeRemainingColumn(), TextColumn("left"))
            columns = (*parts, TextColumn("{task.fields[name]}", markup=False))
            # Lines that go to a file stay on their way there; those of a terminal pass above the bar.
            passed = sys.stdout.isatty()
            self.progress = Progress(*columns, console=Console(stderr=True), transient=True, redirect_stdout=passed)
            self.progress.start()
            self.task = self.progress.add_task("", total=None, name="")
        return self

    def __exit__(self, *_: object) -> None:
        if self.progress is not None:
            self.progress.stop()

    def begin(self, count: int) -> None:
        """How many figures there are."""
        if self.progress is not None:
            self.progress.update(self.task, total=count)

    def tell(self, outcome: Outcome) -> None:
        """One outcome; failures wait for the end."""
        if self.progress is not None:
            self.progress.update(self.task, advance=1, name=printable(outcome.name))
        if self.as_json:
            self.reporter.outcome(outcome)
        elif outcome.state == "removed":
            for file in outcome.files:
                self.reporter.removed(file.path)
        elif outcome.state == "written" and not self.brief:
            for file in outcome.files:
                self.reporter.wrote(file)
            if outcome.numbers is not None:
                self.reporter.wrote_table(outcome.numbers)

    def end(self, outcomes: list[Outcome], seconds: float) -> None:
        """The remarks, what failed, and how many there were of each."""
        if not (self.as_json or self.quiet):
            for outcome in outcomes:
                shown = outcome.findings if outcome.state in ("written", "not checked") and not self.brief else ()
                # What is empty is told each time, until it is mended.
                shown = shown or tuple(one for one in outcome.findings if one.severity == "warning" and outcome.lacking)
                self.reporter.notes(as_notes(shown), outcome.name)
        for outcome in outcomes:
            if outcome.error is not None and not self.as_json:
                self.reporter.failed(outcome.name, outcome.error)
        if not (self.as_json or self.quiet):
            states = Counter(outcome.state for outcome in outcomes)
            files = sum(len(outcome.files) for outcome in outcomes if outcome.state == "written")
            said = [f"{so_many(files, 'file')} of {so_many(states['written'], 'figure')} written"]
            said += [f"{states['unchanged']:,} unchanged"] if states["unchanged"] else []
            said += [f"{states['not checked']:,} not checked"] if states["not checked"] else []
            empty = sum(outcome.called == "empty" for outcome in outcomes)
            said += [f"{empty:,} empty"] if empty else []
            said += [f"{so_many(states['removed'], 'figure')} removed"] if states["removed"] else []
            said += [f"{states['failed']:,} failed"] if states["failed"] else []
            to_error(f"{', '.join(said)} in {seconds:.1f} s\n")


def watched(plan: Path, as_json: bool, quiet: bool, asked: Plain) -> int:
    """Exports a plan now, and again whenever something that it is made of changes, until it is interrupted."""
    from facetine.batch.watching import changes

    code = _once(plan, as_json, quiet, asked)
    for changed in changes(plan):
        if not quiet:
            named = ", ".join(changed[:3]) + (f" and {len(changed) - 3} more" if len(changed) > 3 else "")
            to_error(f"changed: {named}\n")
        code = _once(plan, as_json, quiet, {**asked, "force": False})
    return code


def _once(plan: Path, as_json: bool, quiet: bool, asked: Plain) -> int:
    """One run, whose errors are told and do not end the watch."""
    try:
        return exported(plan, as_json, quiet, asked)
    except FacetineError as problem:
        for line in problem.lines if isinstance(problem, PlanError) else [problem.line]:
            tell(f"facetine: {line}\n")
        return 2
