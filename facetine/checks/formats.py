"""Formats that were given and write numbers so that they tell others."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from facetine.checks.rules import Rule
from facetine.checks.subject import Subject, found
from facetine.findings import Finding, so_many
from facetine.layers.values import VALUE_TEXT
from facetine.pipeline.texts import FORMAT_LOSS
from facetine.scene.markup import plain

_MOST, _ALL = 0.005, 0.99


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


RULES = (
    Rule(
        "format-loses",
        "A format that was given for values on marks writes a number that differs from its value by more than 0.5 % "
        "(a warning where nothing is left of it).",
        "0.04 written as 0 is another number.",
        "",
        _numbers_lost,
    ),
)
