"""Marks that hide each other or the texts, and lines that say more than the rows do."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.checks.rules import Rule
from facetine.checks.subject import Standing, Subject, found
from facetine.core.arrays import FloatArray
from facetine.findings import Finding, so_many
from facetine.pipeline.runs import LayerRun
from facetine.scene.marks import Markers, Paths
from facetine.scene.region import Region

_CELL = 0.5
_MUCH, _SOME = 0.6, 0.3
_FEW_POINTS = 20
_ZIGZAG, _CLOSE = 0.6, 2.0
_GAP = 0.25


def hidden_share(at: FloatArray, radius: float, opacity: float = 1.0) -> float:
    """The share of the ink of equal discs that adds nothing, because it lies on other ink of theirs.

    Where k discs of opacity a lie on each other, 1 − (1 − a)^k is seen of the k·a that was drawn; measured on a grid of
    half a point.

    Args:
        at: Shape (n, 2): centers in points.
        radius: In points.
        opacity: Of each disc.
    """
    if len(at) < 2 or radius <= 0:
        return 0.0
    reach = int(np.ceil(radius / _CELL)) + 1
    low = at.min(axis=0) - (reach + 1) * _CELL
    shape = np.ceil((at.max(axis=0) - low) / _CELL).astype(int) + reach + 2
    places = np.floor((at - low) / _CELL).astype(int)
    counts = np.bincount(places[:, 0] * shape[1] + places[:, 1], minlength=int(shape.prod())).reshape(shape).astype(float)
    steps = np.arange(-reach, reach + 1) * _CELL
    disc = (np.hypot(steps[:, None], steps[None]) <= radius).astype(float)
    full = np.array(counts.shape) + np.array(disc.shape) - 1
    size = [_even(int(side)) for side in full]
    depth = np.rint(np.fft.irfft2(np.fft.rfft2(counts, size) * np.fft.rfft2(disc, size), size))
    drawn = opacity * depth.sum()
    seen = (1 - (1 - opacity) ** depth).sum() if opacity < 1 else (depth > 0).sum()
    return float(1 - seen / drawn) if drawn > 0 else 0.0


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
    worst: dict[int, tuple[float, Standing, int]] = {}
    for one in subject.drawn:
        mark = one.mark
        if not isinstance(mark, Markers) or one.layer is None or len(mark.at) < _FEW_POINTS or _backdrop(subject, one.layer):
            continue
        share = hidden_share(mark.at, float(np.median([style.radius for style in mark.styles])), mark.opacity)
        if share > worst.get(one.layer, (_SOME,))[0]:
            worst[one.layer] = share, one, len(mark.at)
    for layer, (share, one, count) in worst.items():
        run = subject.made.runs[layer]
        said = f"{share:.0%} of the ink of {count:,} points lies on other ink of theirs"
        severity = "warning" if share > _MUCH else "hint"
        yield found("overplotted", severity, run.context.where, said, _cure(run, count), one.group)


def _backdrop(subject: Subject, layer: int) -> bool:
    return subject.made.runs[layer].layer.backdrop


def _cure(run: LayerRun, count: int) -> str:
    discrete = run.context.discrete("x") or run.context.discrete("y")
    if discrete:
        return ".boxes() or .violins() show so many rows" if count > 300 else 'arrange="jitter" or "beeswarm" sets them apart'
    if count > 2000:
        return ".cells() counts them, or .contours() shows how dense they lie"
    return "opacity=0.3, a smaller size=, or .cells(), which counts them"


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
                lying.append((hit, one.group, text.content))
    if lying:
        hit, group, words = max(lying)
        said = f"{so_many(len(lying), 'text')} over marks, such as {words[:40]!r} over {so_many(hit, 'point')}"
        yield found(
            "text-over-marks",
            "hint",
            f"{subject.what}.labels",
            said,
            "avoid=True moves labels; callout(…) has another place",
            group,
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
        if subject.made.runs[one.layer].layer.verb != "lines":
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
                mend = '.trend("moving") or .trend("loess") shows how it runs, .points() the rows'
                yield found("line-zigzag", "hint", subject.made.runs[one.layer].context.where, said, mend, one.group)
                return


def _gap_smoothed(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        layer = run.layer
        if (
            layer.verb != "trend"
            or getattr(layer, "method", "") not in ("loess", "polynomial", "moving")
            or run.context.discrete("x")
        ):
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
                mend = 'where= or .facet() for each side, or .trend("linear")'
                yield found("smoothed-over-gap", "warning", run.context.where, said, mend, subject.group_of(run.number))
                break


RULES = (
    Rule(
        "overplotted",
        "Points of which more than 30 % of the ink lies on other ink of theirs (a warning from 60 %).",
        "How many there are can't be seen, nor what lies below.",
        "the measure is our own: docs/checks.md",
        _overplotted,
    ),
    Rule("text-over-marks", "Labels, names and equations over points.", "Neither can be read.", "", _text_over_marks),
    Rule(
        "line-zigzag",
        "A line that turns at more than 60 % of vertices closer than 2 pt.",
        "It fills its panel with ink.",
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
