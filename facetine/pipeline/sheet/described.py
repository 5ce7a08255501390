"""A figure in a few sentences, for readers who can't see it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from facetine.core.columns import Columns
from facetine.messages.findings import so_many_rows
from facetine.pipeline.guides.headings import escaped_name
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.chosen import said_of_chosen
from facetine.pipeline.scales.highlighted import described_highlight
from facetine.pipeline.scales.member import Member
from facetine.scene.markup import plain

_MOST_NAMED = 8
"""Groups that are named one by one."""


def described(members: Sequence[Member]) -> str:
    """What is drawn against what, the columns whose values make panels, the groups with their rows, and what layers found."""
    main = members[0]
    sentence = main.split.sentence
    drawn = ", ".join(dict.fromkeys(run.layer.verb for run in main.runs))
    y, x = (called(main, axis) for axis in ("y", "x"))
    text = f"Chart with {drawn}: {y} against {x}"
    names = sentence.facet.names if sentence.facet is not None else ()
    if names:
        text += f", a panel for each {' and '.join(plain(escaped_name(sentence, name)) for name in names)}"
    more = [member.scales.first(axis).title for member in members[1:] if member.role == "main" for axis in ("y", "x")]
    more = [plain(title) for title in dict.fromkeys(more) if title and plain(title) not in text]
    if more:
        text += f"; and {', '.join(more)}, in panels of their own"
    others = [member for member in members[1:] if member.role != "main"]
    if others:
        beside = dict.fromkeys(run.layer.verb for member in others for run in member.runs)
        text += f", with {', '.join(beside)} at the edge"
    runs = [run for member in members for run in member.runs]
    sentences = [plain(line) for run in runs for line in run.layer.described(run.table, run.context)]
    sentences += described_highlight(sentence, main.runs)
    sentences += filter(None, [said_of_chosen(sentence, runs)])
    part = sentence.sample
    if part is not None and part.of is not None and sentence.table is not None:
        sentences.append(f"A part of the rows, chosen by chance: {sentence.table.height:,} of {part.of:,}.")
    return " ".join([f"{text}.", *_grouped(main), *sentences])


def called(member: Member, axis: str) -> str:
    """What stands on an axis: its title, or its column where the title is left out."""
    title, column = member.scales.first(axis).title, member.split.columns.get(axis)
    return plain(title or (member.split.sentence.column_title(column.name) if column is not None else "")) or axis


def group_counts(run: LayerRun) -> dict[int, int]:
    """How many rows each group of a layer has: those drawn, where each is a mark, else those that it was computed from."""
    numbers, counts = np.unique(_rows_told(run).group, return_counts=True)
    return dict(zip(numbers.tolist(), counts.tolist(), strict=True))


def _rows_told(run: LayerRun) -> Columns:
    table = run.table
    if run.layer.results(run.context.columns) or run.borrowed_from is not None:
        return run.rows_shown
    there = np.ones(len(table), bool)
    for name in ("x", "y"):
        there &= ~np.isnan(table[name].astype(float)) if name in table else True
    return table.take(there & (table["drawn"] > 0) if "drawn" in table else there)


def _grouped(member: Member) -> list[str]:
    """The groups of the layer with the most rows."""
    runs = [run for run in member.runs if len(run.context.groups) > 1 and len(run.rows)]
    if not runs:
        most = max((len(_rows_told(run)) for run in member.runs), default=0)
        return [f"{so_many_rows(most)[:1].upper()}{so_many_rows(most)[1:]}."] if most else []
    run = max(runs, key=lambda one: len(_rows_told(one)))
    looks = dict.fromkeys(
        member.split.sentence.column_title(column.name)
        for look, column in run.columns.items()
        if look not in ("x", "y") and run.context.discrete(look)
    )
    what = f"Groups by {' and '.join(plain(title) for title in looks)}" if looks else "Groups"
    counts = group_counts(run)
    if len(counts) > _MOST_NAMED:
        return [f"{what}: {len(counts)}, of {min(counts.values()):,} to {max(counts.values()):,} rows."]
    named = [
        f"{plain(run.context.groups.get(number, 'without a name'))} ({so_many_rows(count)})" for number, count in counts.items()
    ]
    return [f"{what}: {', '.join(named)}."]
