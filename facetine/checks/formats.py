"""Formats that were given and write numbers so that they tell others."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from facetine.checks.rule import Rule
from facetine.checks.subject import Subject, found
from facetine.core.scales.formats import without_sign
from facetine.core.scales.readback import number_read
from facetine.layers.values import VALUE_TEXT
from facetine.messages.findings import Finding, so_many
from facetine.pipeline.layout.bands import Side
from facetine.pipeline.scales.texts import FORMAT_LOSS
from facetine.scene.markup import plain

_MOST, _ALL = 0.005, 0.99
_SIDES: tuple[tuple[str, Side], ...] = (("x", "below"), ("y", "left"))


def _numbers_lost(subject: Subject) -> Iterator[Finding]:
    for run in subject.made.runs:
        if FORMAT_LOSS not in run.table:
            continue
        loss = run.table[FORMAT_LOSS].astype(float)
        wrong = np.flatnonzero(loss > _MOST)
        if len(wrong):
            worst = int(wrong[np.argmax(loss[wrong])])
            text = plain(str(run.table[VALUE_TEXT][worst]))
            said = f"the format given writes {so_many(len(wrong), 'number')} that differ from their values by more than 0.5 %"
            fix = "a format with more digits, or none: numbers then have three significant digits at least"
            where, group = run.context.where, subject.group_of(run.number)
            severity = "warning" if loss[worst] > _ALL else "hint"
            yield found("format-loses", severity, where, f"{said}, such as {text!r} by {loss[worst]:.3g}", fix, group)


def _ticks_lost(subject: Subject) -> Iterator[Finding]:
    """The ticks that stand on the sheet, of axes and of color bars; of plates, those of the first figure."""
    told: set[str] = set()
    scales, layout = subject.made.scales, subject.made.layout
    for place in layout.panels:
        axes = scales.under(place.panel)
        for name, side in _SIDES:
            axis = axes[name]
            if place.labelled(side) and isinstance(axis.spec.format, str) and axis.kind not in ("levels", "time", "duration"):
                ticks = place.labels(side).ticks
                values = axis.transform.inverse(np.array(ticks.at, float)).tolist()
                yield from _lost_on(name, axis.spec.format, ticks.labels, values, told)
    for legend in (placed.legend for placed in layout.legends.legends):
        scale = scales.looks.get(legend.name.split("-")[0])
        if legend.bar is None or scale is None or scale.kind != "number" or not isinstance(scale.spec.format, str):
            continue
        low, high = scale.transform.forward(np.array([scale.low, scale.high])).tolist()
        values = scale.transform.inverse(low + np.array(legend.bar.at, float) * (high - low)).tolist()
        yield from _lost_on(scale.aesthetic, scale.spec.format, legend.bar.labels, values, told)


def _lost_on(name: str, form: str, labels: Sequence[str], values: Sequence[float], told: set[str]) -> Iterator[Finding]:
    if without_sign(form):
        values = [abs(value) for value in values]
    largest = max(map(abs, values), default=0.0)
    lost = [(text, value) for text, value in zip(labels, values, strict=True) if _differs(number_read(text), value, largest)]
    if not lost or name in told:
        return
    told.add(name)
    text, value = lost[0]
    said = f"{so_many(len(lost), 'tick')} more than 0.5 % beside what the format given writes"
    where, fix = f"figure.scale({name!r})", "a format with more digits, or none"
    yield found("format-loses", "warning", where, f"{said}, such as {plain(text)!r} for {value:.6g}", fix)


def _differs(told: float, value: float, largest: float) -> bool:
    # What is nothing beside the other ticks is the noise of a zero.
    return math.isfinite(told) and abs(value) > 1e-9 * largest and abs(told - value) > _MOST * abs(value)


def _all_lost(subject: Subject) -> Iterator[Finding]:
    yield from _numbers_lost(subject)
    yield from _ticks_lost(subject)


RULES = (
    Rule(
        "format-loses",
        "A format that was given for axes, color bars or values on marks writes a number that differs from its value by more "
        "than 0.5 % (a warning on axes and color bars, and where nothing is left of it).",
        "0.04 written as 0 is another number.",
        "",
        _all_lost,
    ),
)
