"""Documents of a plan, in which its figures are placed."""

from __future__ import annotations

import warnings
from collections.abc import Iterator
from types import SimpleNamespace

import facetine as ft
from facetine.batch.making import Figures
from facetine.batch.outcomes import Outcome
from facetine.batch.plan import Plan
from facetine.errors import FacetineError, PlanError, unknown


def placed_documents(plan: Plan, figures: Figures) -> Iterator[Outcome]:
    """The documents with the figures that they ask for; one that fails does not stop the others."""
    for name, error in plan.wrong.items():
        if name in plan.said.tables.get("document", {}) and name not in plan.document:
            yield Outcome(name, error=error, state="failed", of=name)
    for name, said in plan.document.items():
        where = plan.said.places.where("document", name)
        target = plan.folder / said.file
        try:
            if not target.resolve().is_relative_to(plan.folder.resolve()):
                raise PlanError(f"{where}: document.{name}: file {said.file!r} leaves the plan's folder")
            placed = {}
            for place, figure in said.figures.items():
                if figure not in plan.names:
                    raise unknown(PlanError, f"{where}: document.{name}", "no figure", figure, plan.names, "figures")
                placed[place] = figures.made(figure)
            with warnings.catch_warnings():
                warnings.simplefilter("ignore", ft.FacetineFinding)
                ft.into_document(target, placed)
        except FacetineError as error:
            yield Outcome(name, error=error, state="failed", of=name)
        else:
            size = target.stat().st_size
            written = SimpleNamespace(path=target, width_mm=0.0, height_mm=0.0, size=size, seconds=0.0)
            yield Outcome(name, (written,), state="written", of=name)
