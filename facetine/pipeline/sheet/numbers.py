"""The numbers behind a figure: what each layer computed, in the unit of the data, and where rows stand on the sheet."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from facetine.core.columns import Columns
from facetine.grammar.aesthetics import LOOKS, POSITIONS, TURNED
from facetine.grammar.sentence import Sentence
from facetine.layers.context import Computed
from facetine.layers.values import VALUE_TEXT
from facetine.messages.findings import heard
from facetine.pipeline.layout.request import PAGE_WIDTH
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.texts import Told, values_told
from facetine.pipeline.sheet.built import Built
from facetine.pipeline.sheet.figured import Wanted, figured
from facetine.pipeline.sheet.remarks import spoken_of_as_said
from facetine.scene.marks import Group, Mark, Markers, Paths, Rects, Text
from facetine.scene.markup import plain


class Numbers(NamedTuple):
    """What one layer computed, in some panels."""

    layer: int
    """Its place among the layers."""
    verb: str
    columns: Mapping[str, Told]
    """By their names, all of one length."""


def numbers_behind(
    sentence: Sentence, layer: int | None, width: float | None, height: float | None, *, beside: Sequence[int] = ()
) -> list[Numbers]:
    """The computed rows of layers.

    Args:
        sentence: What the figure says.
        layer: The place of one layer; None for all.
        width: Of the sheet in points, on which the number of cells depends where it is not said.
        height: Its height; None for the one that suits.
        beside: The places of marginals, counted from 1, whose numbers are meant; those of the figure where none is.

    Raises:
        FacetineError: The sentence can't be drawn.
    """
    with np.errstate(all="ignore"), spoken_of_as_said(sentence.swapped):
        wanted = [Wanted(sentence, width, height)]
        (one,), _ = heard(figured(wanted, (), PAGE_WIDTH if width is None else width, height))
    asked_for = [member for member in one.members if member.number in beside]
    members = asked_for or [member for member in one.members if member.role == "main"]
    return [
        Numbers(run.number, run.layer.verb, columns_told(run, member.kept))
        for member in members
        for run in member.runs
        if layer is None or run.number == layer
    ]


def drawn_rows(run: LayerRun) -> Columns:
    """The rows of a table of which something is drawn: those of gaps only interrupt."""
    rows = run.table
    if not run.layer.keeps_gaps:
        return rows
    there = np.ones(len(rows), bool)
    for name in (run.value_axis, f"{run.value_axis}_low"):
        if name in rows:
            there &= np.isfinite(rows[name].astype(float))
    return rows if there.all() else rows.take(there)


def columns_told(run: LayerRun, member: Kept) -> dict[str, Told]:
    """Panel, group, the rows' numbers where they are those of the data, and everything that has a name.

    Args:
        run: A layer.
        member: The figure of which it is one.
    """
    rows, made = drawn_rows(run), dict[str, Told]()
    panels = tuple(panel._replace(number=panel.number - member.first) for panel in member.panels)
    called = [plain(name) for name in run.context.panels]
    if len(called) > 1:
        made["panel"] = Told([called[number] for number in rows.panel.tolist()], "words", None)
    if len(run.context.groups) > 1:
        made["group"] = Told([run.context.groups.get(number) for number in rows.group.tolist()], "words", None)
    if run.borrowed_from is None and not run.layer.results(run.context.columns) and not run.layer.stands_alone:
        made["row"] = Told(rows.numbers.tolist(), "count", None)
    source = run if run.borrowed_from is None else member.runs[run.borrowed_from]
    for name, entry in _named(source, run).items():
        made[name] = values_told(source, rows, name, entry, member.scales, panels)
    for name in (look for look in LOOKS if look in rows and look in run.columns and not run.columns[look].discrete):
        if name not in made:
            sort = "time" if run.columns[name].kind == "time" else "number"
            made[name] = Told(rows.values[name].astype(float).tolist(), sort, run.columns[name].zone)  # type: ignore[arg-type]
    if VALUE_TEXT in rows and run.borrowed_from is not None:
        made["text"] = Told(rows.values[VALUE_TEXT].tolist(), "words", None)
    return made


def _named(source: LayerRun, run: LayerRun) -> dict[str, Computed]:
    """The names of what a layer computed that its rows hold; places that have no name of their own go by their aesthetic's."""
    rows, names = run.table, dict(source.layer.names_told(source.context, source.horizontal))
    for axis in ("x", "y"):
        if axis not in names and f"{axis} value" in rows and axis in run.columns:
            names[axis] = Computed(source.own(axis))  # type: ignore[arg-type]
    ends = (
        ()
        if source.layer.filled_marks or names.keys() & {"low", "whisker_low"}
        else (f"{source.value_axis}_low", f"{source.value_axis}_high")
    )
    for name, axis in POSITIONS.items():
        if name not in names and name in rows and (name in run.columns or name in ends or source.layer.explains):
            own = TURNED[name] if source.horizontal else name
            names[name] = Computed(source.own(axis), column=own)  # type: ignore[arg-type]
    axes = {axis for axis in ("x", "y") if f"{source.own(axis)} value" in rows}
    return {
        name: entry
        for name, entry in names.items()
        if (name in axes if name in ("x", "y") else name in rows or entry.column in rows)
    }


class Standing(NamedTuple):
    """Where a row of the data, or a computed one, stands on the sheet."""

    row: int
    page: int
    panel: int
    x: float
    """In points from the left edge."""
    y: float
    """In points from the upper edge."""


def standing(made: Built, layer: int, rows: Sequence[int]) -> list[Standing]:
    """Where the marks of some rows stand: the middle of each.

    Args:
        made: The figure as it was drawn.
        layer: The place of the layer.
        rows: Their numbers, as marks carry them.
    """
    wanted = np.asarray(sorted(set(rows)), np.int64)
    found = [one for page, scene in enumerate(made.pages) for one in _in_group(scene.root, layer, wanted, page)]
    return sorted(set(found))


def _in_group(group: Group, layer: int, wanted: Any, page: int, panel: int = 0) -> Iterator[Standing]:
    panel = group.panel if group.panel is not None else panel
    for item in group.items:
        if isinstance(item, Group):
            yield from _in_group(item, layer, wanted, page, panel)
        elif group.layer == layer and group.kind != "values":
            at, numbers = _places(item, wanted)
            for number, (x, y) in zip(numbers.tolist(), np.round(at, 6).tolist(), strict=True):
                yield Standing(number, page, panel, x, y)


def _places(mark: Mark, wanted: Any) -> tuple[Any, Any]:
    """The middle of each of a batch of marks that are wanted, shape (k, 2), and the number of its row, shape (k,)."""
    if isinstance(mark, Text):
        at, numbers = np.array([[mark.x, mark.y]]), np.array([-1 if mark.row is None else mark.row])
        return at[np.isin(numbers, wanted)], numbers[np.isin(numbers, wanted)]
    rows: Any = getattr(mark, "rows", None)
    if rows is None:
        return np.zeros((0, 2)), np.zeros(0, np.int64)
    chosen = np.isin(rows, wanted)
    rows = rows[chosen]
    if isinstance(mark, Rects):
        boxes = mark.boxes[chosen]
        return boxes[:, :2] + boxes[:, 2:] / 2, rows
    if isinstance(mark, Markers):
        return mark.at[chosen], rows
    assert isinstance(mark, Paths)
    points, every = mark.points[chosen], np.unique(rows)
    middles = [(points[rows == row].min(axis=0) + points[rows == row].max(axis=0)) / 2 for row in every]
    return np.array(middles).reshape(-1, 2), every
