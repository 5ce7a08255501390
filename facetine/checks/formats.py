"""Formats that were given and write numbers so that they tell others."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from facetine.checks.rules import Rule
from facetine.checks.subject import Subject, found
from facetine.core.scales.readback import number_read
from facetine.findings import Finding, so_many
from facetine.layers.values import VALUE_TEXT
from facetine.pipeline.texts import FORMAT_LOSS
from facetine.pipeline.ticks import axis_ticks
from facetine.scene.markup import plain

_MOST, _ALL, _USUAL_TICKS = 0.005, 0.99, 5


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
    for key, axis in subject.made.scales.axes.items():
        if not isinstance(axis.spec.format, str) or axis.kind in ("levels", "time", "duration"):
            continue
        ticks = axis_ticks(axis, _USUAL_TICKS)
        values = axis.transform.inverse(np.array(ticks.at)).tolist()
        read = [number_read(text) for text in ticks.labels]
        lost = [(text, value) for text, value, told in zip(ticks.labels, values, read, strict=True) if _differs(told, value)]
        if lost:
            text, value = lost[0]
            said = f"the format given writes {so_many(len(lost), 'tick')} that differ from their values by more than 0.5 %"
            fix = "a format with more digits, or none"
            yield found(
                "format-loses", "warning", f"figure.scale({key.axis!r})", f"{said}, such as {plain(text)!r} for {value:.6g}", fix
            )


def _differs(told: float, value: float) -> bool:
    return math.isfinite(told) and abs(value) > 1e-12 and abs(told - value) > _MOST * abs(value)


def _all_lost(subject: Subject) -> Iterator[Finding]:
    yield from _numbers_lost(subject)
    yield from _ticks_lost(subject)


RULES = (
    Rule(
        "format-loses",
        "A format that was given for ticks or for values on marks writes a number that differs from its value by more than 0.5 % "
        "(a warning where nothing is left of it).",
        "0.04 written as 0 is another number.",
        "",
        _all_lost,
    ),
)
