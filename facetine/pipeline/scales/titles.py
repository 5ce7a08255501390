"""Titles of axes and legends: what is drawn along them, in the reader's words."""

from __future__ import annotations

from typing import NamedTuple

from facetine.layers.context import Drawn, Title
from facetine.layers.summary import aggregate_title
from facetine.messages.findings import Remark, Saying
from facetine.pipeline.rows.runs import LayerRun, Split


def axis_title(split: Split, axis: str) -> Saying[str]:
    """The title of an axis: what was said, else what its layers draw there.

    Layers that draw one column in several ways leave its name alone; layers that draw several columns share their unit,
    or else all their names stand there.
    """
    sentence = split.sentence
    said = sentence.said_title(axis)
    if said is not None:
        return said
    drawn = _named(_drawn(split, axis), axis)
    if not drawn:
        column = split.columns.get(axis)
        return sentence.column_title(column.name) if column is not None else ""
    whole = list(dict.fromkeys(thing.drawn.title for thing in drawn if thing.drawn.title))
    columns = list(dict.fromkeys(thing.column for thing in drawn if not thing.drawn.title))
    if not columns:
        return (yield from _joined(whole, axis))
    if whole:
        return (yield from _joined([*(sentence.column_title(name) for name in columns), *whole], axis))
    if len(columns) == 1:
        ways = list(dict.fromkeys(thing.drawn.how for thing in drawn))
        title = Title(*sentence.codebook.parts(columns[0]))
        if len(ways) == 1 and ways[0] and " × " not in columns[0]:
            return aggregate_title(title.label, title.unit, title.inside, ways[0])
        return sentence.column_title(columns[0])
    units = {sentence.codebook.parts(name)[1] for name in columns}
    titles = list(dict.fromkeys(sentence.column_title(name) for name in columns))
    if len(titles) == 1:
        return titles[0]
    if len(units) == 1 and (unit := units.pop()):
        return unit
    return (yield from _joined(titles, axis))


class _OnAxis(NamedTuple):
    """What a layer draws along an axis."""

    column: str
    """Its name; empty where it is computed."""
    aesthetic: str
    run: LayerRun
    drawn: Drawn


def _drawn(split: Split, axis: str) -> list[_OnAxis]:
    """The column and the way of drawing of each layer that says something of an axis."""
    things: list[_OnAxis] = []
    for run in split.runs:
        if run.layer.stands_alone or run.layer.borrows is not None:
            continue
        value = axis == run.value_axis
        drawn = (run.layer.value_drawn if value else run.layer.place_drawn)(run.context)
        mapped = [name for name in run.columns if name.split("_")[0] == axis]
        if drawn is None or not (drawn.title or mapped):
            continue
        if not mapped:
            things.append(_OnAxis("", "", run, drawn))
        # Both ends of a band, or both columns of a segment, stand on the axis.
        shown = mapped[:1] if drawn.title or drawn.how else mapped
        things += [_OnAxis(run.columns[name].name, name, run, drawn) for name in shown]
    return things


def _named(drawn: list[_OnAxis], axis: str) -> list[_OnAxis]:
    """What names an axis: ends of intervals and bands do not where a column of the axis itself stands there."""
    main = [thing for thing in drawn if thing.aesthetic in ("", axis)]
    return main or drawn


def _joined(titles: list[str], axis: str) -> Saying[str]:
    if len(titles) > 1:
        yield Remark(
            "several-on-one-axis",
            "figure",
            f"the {axis} axis shows several things: {', '.join(titles)}",
            f"titles({axis}=…) gives them one name",
        )
    return " / ".join(titles)


def look_title(split: Split, aesthetic: str, column: str) -> str:
    """The title of a legend: what was said, else what the marks' looks show."""
    sentence = split.sentence
    said = sentence.said_title(aesthetic)
    if said is not None:
        return said
    ways = {
        run.layer.look_drawn(run.context).how
        for run in split.runs
        if aesthetic in run.columns and run.columns[aesthetic].name == column
    }
    if aesthetic == "color" and len(ways) == 1 and (how := ways.pop()) and " × " not in column:
        title = Title(*sentence.codebook.parts(column))
        return aggregate_title(title.label, title.unit, title.inside, how)
    return sentence.column_title(column)
