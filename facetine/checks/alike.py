"""Layers that show different things in one ink, without a legend that tells them apart."""

from __future__ import annotations

from collections.abc import Iterator

from facetine.checks.rule import Rule
from facetine.checks.subject import Subject, found
from facetine.messages.findings import Finding
from facetine.pipeline.rows.runs import LayerRun


def _layers_alike(subject: Subject) -> Iterator[Finding]:
    shown: list[LayerRun] = []
    last = -1
    for run in subject.made.runs:
        # A number that is not above the last one begins another figure of the sheet.
        shown = shown if run.number > last else []
        last = run.number
        if not _tells_a_column(run):
            continue
        before = next((one for one in shown if _one_ink(one, run) and _other_data(one, run)), None)
        shown.append(run)
        if before is None:
            continue
        first, second = _what(before, run), _what(run, before)
        same = before.layer.column_as == run.layer.column_as
        said = f"{first} and {second} have one ink, and no legend tells them apart"
        fix = f"{before.layer.verb}(legend_as={first!r}) and {run.layer.verb}(legend_as={second!r}) give each a color and a name"
        where, group = run.context.where, subject.group_of(run.number)
        yield found("layers-alike", "warning" if same else "hint", where, said, fix, group)


def _tells_a_column(run: LayerRun) -> bool:
    layer = run.layer
    named = layer.legend_as is not None or layer.backdrop or run.follows("color")
    return bool(layer.column_as) and not named and bool(len(run.table))


def _one_ink(one: LayerRun, other: LayerRun) -> bool:
    return "color" in one.usual and "color" in other.usual and one.usual["color"].of(0) == other.usual["color"].of(0)


def _other_data(one: LayerRun, other: LayerRun) -> bool:
    return one.own_data != other.own_data or (one.own_data and one.number != other.number) or _value(one) != _value(other)


def _value(run: LayerRun) -> str:
    column = run.columns.get(run.value_axis)
    return "" if column is None else column.name


def _what(run: LayerRun, beside: LayerRun) -> str:
    """What a layer shows, in a word that the other one does not share."""
    value = _value(run)
    return value if value and value != _value(beside) else f"{value or run.layer.verb} of layer {run.number + 1}"


RULES = (
    Rule(
        "layers-alike",
        "Two layers of other data or other columns in one ink, without a legend: a warning where their marks are alike too.",
        "A reader can't tell which is which.",
        "",
        _layers_alike,
    ),
)
