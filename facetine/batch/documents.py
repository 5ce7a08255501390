"""Documents of a plan, in which its figures are placed."""

from __future__ import annotations

import warnings
from collections.abc import Collection, Iterator
from pathlib import Path
from types import SimpleNamespace

from facetine.batch.making import Figures
from facetine.batch.manifest import Manifest
from facetine.batch.outcomes import Outcome
from facetine.batch.plan import Plan
from facetine.batch.stamps import file_digest
from facetine.export.documents import into_document
from facetine.messages.errors import FacetineError, FacetineFinding, PlanError, unknown


def placed_documents(plan: Plan, figures: Figures, manifest: Manifest, changed: Collection[str]) -> Iterator[Outcome]:
    """The documents with the figures that they ask for; one that fails does not stop the others.

    A document whose figures are as they were, and which nobody has changed since, stays as it is.

    Args:
        plan: The plan.
        figures: Its figures.
        manifest: What was written before.
        changed: The figures that this run drew.
    """
    for name, error in plan.wrong.items():
        if name in plan.said.tables.get("document", {}) and name not in plan.document:
            yield Outcome(name, error=error, state="failed", of=name)
    for name, said in plan.document.items():
        at = plan.said.places.where("document", name)
        target = plan.folder / said.file
        try:
            if not target.resolve().is_relative_to(plan.folder.resolve()):
                raise PlanError(f"document.{name}", f"file {said.file!r} leaves the plan's folder", at=at)
            before = manifest.documents.get(name)
            asked = repr(sorted(said.figures.items()))
            if before == [asked, file_digest(target, {})] and not set(said.figures.values()) & set(changed):
                yield Outcome(name, (_written(target),), state="unchanged", of=name)
                continue
            placed = {}
            for place, figure in said.figures.items():
                if figure not in plan.names:
                    raise unknown(PlanError, f"document.{name}", "no figure", figure, plan.names, "figures").but(at=at)
                placed[place] = figures.made(figure)
            with warnings.catch_warnings():
                warnings.simplefilter("ignore", FacetineFinding)
                done = into_document(target, placed)
        except FacetineError as error:
            yield Outcome(name, error=error, state="failed", of=name)
        else:
            manifest.documents[name] = [asked, file_digest(target, {})]
            yield Outcome(name, (_written(target),), done.findings, state="written", of=name)


def _written(target: Path) -> SimpleNamespace:
    return SimpleNamespace(path=target, width_mm=0.0, height_mm=0.0, size=target.stat().st_size, seconds=0.0)
