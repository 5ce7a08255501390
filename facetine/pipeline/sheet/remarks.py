"""Remarks on a figure as a whole: what it draws twice, hides or can't write; and all messages in the words of the sentence."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import replace

import numpy as np

from facetine.grammar.aesthetics import LOOKS, POSITIONS, TURNED
from facetine.grammar.given import Plain
from facetine.grammar.layer import Layer
from facetine.messages.errors import FacetineError
from facetine.messages.findings import Finding, Remark, Remarks, so_many, so_many_rows
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.rows.runs import LayerRun, Runs, Split
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.look_scales import LookScale
from facetine.scene.fonts import named
from facetine.scene.marks import Text
from facetine.scene.markup import REPLACED

_ONLY_LOOKS = (*LOOKS, "name", "legend_as", "legend", "rasterize")
"""Options that say nothing of what is drawn where."""


_LEAST = 0.05
"""Of an axis; marks that take less of it can't be told apart there."""


def say_empty(runs: Sequence[LayerRun]) -> Remarks:
    """Layers that have nothing to draw."""
    if not any(len(run.table) for run in runs):
        yield Remark("figure-empty", "figure", "there are no rows to draw; the figure is empty", severity="warning")
        return
    for run in runs:
        if not len(run.table):
            name = run.layer.name or f"layer {run.number + 1}"
            yield Remark("layer-empty", run.context.where, f"{name} has no rows, so nothing of it is drawn", severity="warning")


def check_layers(runs: Runs) -> Remarks:
    """Layers that draw the same rows twice."""
    if any(run.layer.draws_rows for run in runs) and any(run.layer.redraws_rows() for run in runs):
        yield Remark(
            "outliers-twice",
            "figure.boxes",
            "outliers are drawn by the boxes and by the points",
            "outliers=False leaves them to the points",
        )


def say_unseen(runs: Runs) -> Remarks:
    """Results of rows that the points beside them do not show, because these lack a look that only the points have."""
    whole = [run for run in runs if run.layer.where is None and run.layer.panels is None and not run.own_data]
    shown = [run for run in whole if run.layer.draws_rows and not run.layer.results(run.context.columns) and len(run.rows)]
    if not shown:
        return
    seen = np.unique(np.concatenate([run.rows.numbers for run in shown]))
    columns = {name: shown[0].columns[name].name for name in ("x", "y") if name in shown[0].columns}
    for run in whole:
        own = {name: run.columns[name].name for name in ("x", "y") if name in run.columns}
        if run.borrowed_from is not None or not run.layer.results(run.context.columns) or own != columns:
            continue
        unseen = len(np.setdiff1d(run.rows.numbers, seen))
        if unseen:
            said = f"computed also from {so_many_rows(unseen)} that the {shown[0].layer.verb} do not show"
            yield run.context.remark("rows-unseen", said, ".keep(…) leaves them out of both")


def check_again(layers: Sequence[Layer]) -> Remarks:
    """Layers that draw what one before them drew, but for their looks."""
    seen: list[tuple[str, Plain]] = []
    for layer in layers:
        said = {name: value for name, value in layer.said().items() if name not in _ONLY_LOOKS}
        # Expressions have no truth value when compared; texts have.
        if any(verb == layer.verb and repr(said) == repr(other) for verb, other in seen):
            yield Remark(
                "layer-again", f"figure.{layer.verb}", f"these {layer.verb} draw the same rows as those before them",
                f'change("{layer.verb}", …) varies a layer that is there', "hint",
            )  # fmt: skip
        seen.append((layer.verb, said))


def check_looks(whole: Split, looks: Mapping[str, LookScale]) -> Remarks:
    """Looks from which readers can hardly tell what they stand for."""
    for aesthetic, scale in looks.items():
        where = f"figure.scale({aesthetic!r})"
        column = whole.columns.get(aesthetic)
        if column is None or scale.spec.kind == "as_given":
            continue
        if aesthetic in ("size", "opacity", "line_width") and column.kind in ("category", "yes_no"):
            yield Remark(
                "look-suggests-order", where, f"{aesthetic} shows the categories of {column.name!r} as if one were more",
                "color or shape show categories", "warning",
            )  # fmt: skip
        if aesthetic == "shape" and len(scale.labels) > 6:
            yield Remark(
                "many-shapes", where, f"{len(scale.labels)} shapes can hardly be told apart",
                "map color, or make panels with .facet()", "warning",
            )  # fmt: skip
    shown = {column.name for name, column in whole.columns.items() if name in LOOKS}
    if len(shown) > 3:
        yield Remark(
            "many-looks", "figure", f"{len(shown)} columns are shown at once: {', '.join(sorted(shown))}",
            "panels for one of them are easier to read", "warning",
        )  # fmt: skip


def check_glyphs(texts: list[Text], font: str) -> Remarks:
    """Says which characters no font here has, and which come from a font that another machine may lack."""
    lost: set[str] = set()
    count = sum(REPLACED in text.content for text in texts)
    if count:
        yield Remark(
            "letters-replaced",
            "figure",
            f"{so_many(count, 'text')} with characters that can't be shown; {REPLACED} stands for them",
        )
    borrowed: dict[str, set[str]] = {}
    for text in texts:
        for run in text.runs:
            used = named(run.face)
            if 0 in run.ids:
                lost.update(run.text[at] for at, glyph in zip(run.clusters, run.ids, strict=True) if glyph == 0)
            elif used.source == "system" and used.key.family != font:
                borrowed.setdefault(used.key.family, set()).update(run.text)
    if lost:
        shown = ", ".join(f"{char} (U+{ord(char):04X})" for char in sorted(lost))
        yield Remark(
            "letters-lost",
            "fonts",
            f"no font here has {shown}; an empty box stands there",
            "facetine catalog fonts lists what there is",
        )
    for family, chars in sorted(borrowed.items()):
        shown = "".join(sorted(chars - {" "}))
        shown = f"{shown[:12]}…" if len(shown) > 12 else shown
        yield Remark(
            "letters-borrowed", "fonts", f"{shown} set in {family}, a font of this machine; elsewhere it may look different"
        )


def say_near_empty(split: Split, axes: Mapping[AxisKey, Axis]) -> Remarks:
    """Says in which panels the marks lie within a twentieth of an axis that others share, though they differ there."""
    facet = split.sentence.facet
    if facet is None:
        return
    for name in ("x", "y"):
        shared = [key for key in axes if key.axis == name and axes[key].kind != "levels" and not axes[key].window]
        low, high = _ends(split, name) if shared else (np.zeros(0), np.zeros(0))
        for key in shared:
            standing = [panel.number for panel in split.panels if panel.key(name) == key]
            extent = axes[key].extent
            if len(standing) < 2:
                continue
            share = (high - low) / (extent.high - extent.low)
            thin = [number for number in standing if 0 < share[number] < _LEAST]
            for number in thin:
                context = split.runs[0].context
                yield Remark(
                    "panel-near-empty",
                    "figure.facet",
                    f"the marks lie within {_LEAST:.0%} of the {name} axis, which other panels fill",
                    f'separate="{name}" gives each panel its own',
                    place=f"panel {context.panels[number]!r}",
                )


def _ends(split: Split, axis: str) -> tuple[np.ndarray, np.ndarray]:
    """Lowest and highest place of the marks of each panel, each of shape (panels,)."""
    low, high = np.full(len(split.panels), np.inf), np.full(len(split.panels), -np.inf)
    for run in split.runs:
        if run.layer.stands_alone or run.layer.backdrop:
            continue
        rows = run.layer.reaching(run.table)
        rows = run.layer.spanning(rows) if len(rows) else rows
        for name, values in rows.values.items():
            if POSITIONS.get(name) == axis and len(values):
                places = values.astype(float)
                there = np.isfinite(places)
                np.fmin.at(low, rows.panel[there], places[there])
                np.fmax.at(high, rows.panel[there], places[there])
    return np.where(low <= high, low, 0.0), np.where(low <= high, high, 0.0)


_SCALE = re.compile(r"""scale\((['"])([xy])\1""")


@contextmanager
def spoken_of_as_said(swapped: bool) -> Iterator[None]:
    """Lets errors on a swapped figure call its scales as they were written.

    Args:
        swapped: Whether it is.

    Raises:
        FacetineError: What was raised inside, in those words.
    """
    try:
        yield
    except FacetineError as problem:
        if swapped:
            problem.where, problem.what, problem.help = map(_as_said, (problem.where, problem.what, problem.help))
        raise


def remarks_as_said(findings: Iterable[Finding], swapped: bool) -> tuple[Finding, ...]:
    """Remarks on a figure, which call its scales as they were written."""
    return tuple(
        replace(one, where=_as_said(one.where), text=_as_said(one.text), fix=_as_said(one.fix)) if swapped else one
        for one in findings
    )


def _as_said(text: str) -> str:
    return _SCALE.sub(lambda found: f"scale({found[1]}{TURNED[found[2]]}{found[1]}", text)
