"""Marks that hide each other or the texts, and lines that say more than the rows do."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.checks.rule import Rule
from facetine.checks.subject import Standing, Subject, found
from facetine.core.arrays import FloatArray
from facetine.core.stats.groups import grouped
from facetine.messages.findings import Finding, so_many
from facetine.pipeline.rows.runs import LayerRun
from facetine.scene.marks import Markers, Paths
from facetine.scene.region import Region

_CELL, _RADII = 0.5, 8
_MUCH, _SOME = 0.6, 0.3
_FEW_POINTS = 20
_ZIGZAG, _CLOSE = 0.6, 2.0
_GAP = 0.25
_FEW_SPOTS = 0.5


def hidden_share(at: FloatArray, radius: float | FloatArray, opacity: float | FloatArray = 1.0) -> float:
    """The share of the ink of discs that adds nothing, because it lies on other ink of theirs.

    Where k discs of opacity a lie on each other, 1 − (1 − a)^k is seen of the k·a that was drawn; measured on a grid of
    half a point.

    Args:
        at: Shape (n, 2): centers in points.
        radius: In points: one, or shape (n,), of which at most eight are told apart.
        opacity: One, or shape (n,).
    """
    radii = np.broadcast_to(np.asarray(radius, float), len(at))
    if len(at) < 2 or radii.max() <= 0:
        return 0.0
    radii = _coarse(radii)
    opacities = np.broadcast_to(np.asarray(opacity, float), len(at))
    largest = int(np.ceil(radii.max() / _CELL)) + 1
    low = at.min(axis=0) - (largest + 1) * _CELL
    shape = np.ceil((at.max(axis=0) - low) / _CELL).astype(int) + largest + 2
    places = np.floor((at - low) / _CELL).astype(int)
    cells = places[:, 0] * shape[1] + places[:, 1]
    size = [_even(int(side) + 2 * largest) for side in shape]
    unseen, drawn = np.ones(size), 0.0
    for one, reach in np.unique(np.column_stack([opacities, radii]), axis=0).tolist():
        chosen = (opacities == one) & (radii == reach)
        counts = np.bincount(cells[chosen], minlength=int(shape.prod())).reshape(shape).astype(float)
        steps = np.arange(-largest, largest + 1) * _CELL
        disc = (np.hypot(steps[:, None], steps[None]) <= reach).astype(float)
        depth = np.rint(np.fft.irfft2(np.fft.rfft2(counts, size) * np.fft.rfft2(disc, size), size))
        drawn += one * depth.sum()
        unseen *= (1 - one) ** depth
    return float(1 - (1 - unseen).sum() / drawn) if drawn > 0 else 0.0


def _coarse(radii: FloatArray) -> FloatArray:
    """Few radii in the place of many."""
    low, high = float(radii.min()), float(radii.max())
    step = (high - low) / (_RADII - 1)
    return radii if step == 0 else low + np.rint((radii - low) / step) * step


def _even(length: int) -> int:
    """A length at which transforms are quick: a product of 2, 3 and 5, at least as large."""
    while True:
        rest = length
        for factor in (2, 3, 5):
            while rest % factor == 0:
                rest //= factor
        if rest == 1:
            return length
        length += 1


def _overplotted(subject: Subject) -> Iterator[Finding]:
    heaps: dict[tuple[int, str], list[Standing]] = {}
    for one in subject.drawn:
        if isinstance(one.mark, Markers) and one.layer is not None and _countable(subject, one.layer):
            panel = next((group.name for group in one.inside if group.kind == "panel"), "")
            heaps.setdefault((one.layer, f"{one.page} {panel}"), []).append(one)
    worst: dict[int, tuple[float, Standing, int]] = {}
    for (layer, _), heap in heaps.items():
        marks = [one.mark for one in heap if isinstance(one.mark, Markers)]
        count = sum(len(mark.at) for mark in marks)
        if count < _FEW_POINTS:
            continue
        share = _share(marks)
        if share > worst.get(layer, (_SOME,))[0]:
            worst[layer] = share, heap[0], count
    for layer, (share, one, count) in worst.items():
        run = subject.made.runs[layer]
        said = f"{share:.0%} of the ink of {count:,} points lies on other ink of theirs"
        severity = "warning" if share > _MUCH else "hint"
        yield found("overplotted", severity, run.context.where, said, _cure(run, count), one.group)


def _countable(subject: Subject, layer: int) -> bool:
    """Whether points are there to be told one by one: not those of a backdrop, nor those that stand in order on a curve."""
    drawn = subject.made.runs[layer].layer
    return not drawn.backdrop and not drawn.in_order


def _share(marks: list[Markers]) -> float:
    """The hidden share of all markers of a layer in a panel, in whatever groups they are drawn."""
    radii = [
        np.array([style.radius for style in mark.styles])[np.zeros(len(mark.at), int) if mark.which is None else mark.which]
        for mark in marks
    ]
    opacities = [np.full(len(mark.at), mark.opacity) for mark in marks]
    return hidden_share(np.concatenate([mark.at for mark in marks]), np.concatenate(radii), np.concatenate(opacities))


def _cure(run: LayerRun, count: int) -> str:
    if _on_few_spots(run):
        return 'arrange="tally" draws one mark for all rows on a spot, its area by their count'
    discrete = run.context.discrete("x") or run.context.discrete("y")
    if discrete:
        return ".boxes() or .violins() show so many rows" if count > 300 else 'arrange="jitter" or "beeswarm" sets them apart'
    if count > 2000:
        return ".cells() counts them, or .contours() shows how dense they lie"
    return "opacity=0.3, a smaller size=, or .cells(), which counts them"


def _on_few_spots(run: LayerRun) -> bool:
    """Whether most rows lie exactly on others, in a layer that draws them as they are."""
    rows = run.rows_shown
    if getattr(run.layer, "arrange", "") not in (None, "overlay") or run.layer.results(run.context.columns):
        return False
    spots = len(grouped(rows.panel, rows.group, rows["x"], rows["y"]).starts)
    return spots <= _FEW_SPOTS * len(rows)


def _text_over_marks(subject: Subject) -> Iterator[Finding]:
    lying = []
    for page in range(len(subject.made.pages)):
        marks = [one for one in subject.drawn if one.page == page and isinstance(one.mark, Markers)]
        for one, text in subject.texts:
            if one.page != page:
                continue
            if not one.within("layer", "names") or text.role in ("value", ""):
                continue
            hit = sum(_points_under(text.box, other.mark) for other in marks if isinstance(other.mark, Markers))
            if hit:
                lying.append((hit, text.content, one))
    if lying:
        hit, words, first = max(lying, key=lambda entry: entry[0])
        said = f"{so_many(len(lying), 'text')} over marks, such as {words[:40]!r} over {so_many(hit, 'point')}"
        yield found(
            "text-over-marks",
            "hint",
            f"{subject.what}.labels",
            said,
            "avoid=True moves labels; callout(…) has another place",
            at=first,
        )


def _points_under(box: Region, mark: Markers) -> int:
    radius = min(style.radius for style in mark.styles) / 2
    x, y = mark.at.T
    inside = (box.x - radius < x) & (x < box.right + radius) & (box.y - radius < y) & (y < box.bottom + radius)
    return int(inside.sum())


def _zigzag(subject: Subject) -> Iterator[Finding]:
    for one in subject.drawn:
        mark = one.mark
        if not isinstance(mark, Paths) or mark.stroke is None or one.layer is None:
            continue
        if not subject.made.runs[one.layer].layer.through_rows:
            continue
        ends = [*mark.starts.tolist()[1:], len(mark.points)]
        for start, end in zip(mark.starts.tolist(), ends, strict=True):
            x, y = mark.points[start:end].T
            steps = np.diff(y)
            steps = steps[steps != 0]
            if len(steps) < 60 or np.ptp(x) / len(x) > _CLOSE:
                continue
            turning = float((np.diff(np.sign(steps)) != 0).mean())
            if turning > _ZIGZAG:
                said = f"a line of {len(x):,} vertices turns at {turning:.0%} of them; it reads as an area"
                fix = '.trend("moving") or .trend("loess") shows how it runs, .points() the rows'
                yield found("line-zigzag", "hint", subject.made.runs[one.layer].context.where, said, fix, one.group)
                return


def _gap_smoothed(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        layer = run.layer
        if not layer.smooths or run.context.discrete("x"):
            continue
        axis = subject.made.scales.first("x" if not run.horizontal else "y")
        for panel, group in sorted(set(zip(run.rows.panel.tolist(), run.rows.group.tolist(), strict=True))):
            chosen = (run.rows.panel == panel) & (run.rows.group == group)
            x = np.unique(axis.transform.forward(run.rows["x"][chosen].astype(float)))
            x = x[np.isfinite(x)]
            if len(x) < 10:
                continue
            gaps = np.diff(x) / np.ptp(x)
            if gaps.max() > _GAP:
                named = (
                    f" of group {run.context.groups[group]!r}"
                    if len(run.context.groups) > 1 and group in run.context.groups
                    else ""
                )
                said = f"the curve{named} crosses a gap of {gaps.max():.0%} of its length, in which there are no rows"
                fix = 'where= or .facet() for each side, or .trend("linear")'
                yield found("smoothed-over-gap", "warning", run.context.where, said, fix, subject.group_of(run.number))
                break


RULES = (
    Rule(
        "overplotted",
        "Points of which more than 30 % of the area lies on others (a warning from 60 %).",
        "How many there are can't be seen, nor what lies below.",
        "the measure is our own: docs/checks.md",
        _overplotted,
    ),
    Rule("text-over-marks", "Labels, names and equations over points.", "Neither can be read.", "", _text_over_marks),
    Rule(
        "line-zigzag",
        "A line that turns at more than 60 % of vertices closer than 2 pt.",
        "It fills its panel.",
        "",
        _zigzag,
    ),
    Rule(
        "smoothed-over-gap",
        "A curve that runs over a quarter of its length without a row.",
        "It is made up there.",
        "",
        _gap_smoothed,
    ),
)
