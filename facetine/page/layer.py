"""What a page knows of a layer: where its marks stand, what each of them says, and which rows are behind them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray, IntArray
from facetine.page.packed import Described, Packer
from facetine.page.spots import Spots, Where
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.texts import Told
from facetine.pipeline.sheet.members import members_of, single_rows_of
from facetine.pipeline.sheet.numbers import columns_told, drawn_rows
from facetine.scene.markup import plain

MOST_VECTORS = 5_000
"""Marks of a layer up to which each is an element of its own; more become an image, which browsers show sooner."""
LINES = 0.1
"""How much a place along a line counts among them."""
_COUNTING = ("bars", "histogram")
"""Layers whose marks are as long as they have rows, where they have no values of their own."""
_DATE, _CLOCK = 86_400_000_000, 60_000_000
_PER_MICRO = 1_000_000
_ENDS = {f"{axis}_{end}": f"({end})" for axis in ("x", "y") for end in ("low", "high", "to")}
"""Further places of a mark on an axis."""


def layer_said(
    run: LayerRun, member: Kept, spots: dict[Where, Spots], packer: Packer, frames: dict[int, int], *, values: bool
) -> dict[str, Any]:
    """One layer: the places of its marks, one panel after the other, and the columns of what they say, in the same order."""
    order = sorted(spots, key=lambda where: (where.page, where.panel))
    boxes = np.concatenate([spots[where].boxes for where in order])
    numbers = np.concatenate([spots[where].rows for where in order])
    shapes = np.concatenate([spots[where].shapes for where in order])
    pieces = np.concatenate([spots[where].pieces for where in order])
    parts = [
        {"panel": where.panel, "page": where.page, "count": len(spots[where].rows), "pieces": len(spots[where].pieces)}
        for where in order
    ]
    table = drawn_rows(run)
    which = _rows_of(order, spots, table.numbers, table.panel, member.first)
    known = which >= 0
    of_rows = run.borrowed_from is None and not run.layer.results(run.context.columns) and not run.layer.stands_alone
    layer: dict[str, Any] = {
        "member": member.place, "number": run.number, "verb": run.layer.verb,
        "title": run.layer.name or run.layer.verb.capitalize(), "parts": parts,
        # Sizes, which many marks share, take no room beside their places.
        "boxes": [packer.places(side) for side in (*boxes[:, :2].T, *(boxes[:, 2:] - boxes[:, :2]).T)],
        "rows": packer.whole(numbers), "shapes": packer.whole(shapes), "columns": [],
        "pieces": [packer.whole(pieces[:, side]) for side in range(3)],
        "drops": run.layer.drops_outside, "edges": run.layer.at_edges,
        "moves": [axis for axis in ("x", "y") if _stands_on(axis, run)],
        "frame": frames.setdefault(run.frame, len(frames)) if of_rows and run.frame else None,
        "along": "y" if run.horizontal else "x", "line": run.layer.keeps_gaps or run.layer.thing in ("curve", "step"),
    }  # fmt: skip
    behind = None if of_rows else members_of(run, member)
    if behind is not None and run.layer.verb in _COUNTING and not {"y", "weight"} & {run.own(name) for name in run.columns}:
        # Each row behind a mark is as much of its length as any other, so that those that are chosen are a part of it.
        back = member.scales.first(run.value_axis).extent.reverse
        layer["grows"] = {"x": ("right", "left"), "y": ("top", "bottom")}[run.value_axis][back]
    if behind is not None:
        held, single = np.flatnonzero(behind >= 0), single_rows_of(run, member)
        layer["members"] = {
            "frame": frames.setdefault(run.frame, len(frames)),
            "rows": packer.whole(run.rows.numbers[np.concatenate([held, single[:, 1]])]),
            "of": packer.whole(run.table.numbers[np.concatenate([behind[held], single[:, 0]])]),
        }
    groups = {number: name for number, name in run.context.groups.items() if name}
    if groups:
        every = list(groups)
        codes = np.full(len(numbers), -1, np.int64)
        held = table.group[which[known]]
        codes[known] = [every.index(number) if number in groups else -1 for number in held.tolist()]
        layer["groups"] = {"names": [plain(groups[number]) for number in every], "codes": packer.whole(codes)}
    image = max(_weight(spots[where]) for where in order) > MOST_VECTORS
    if not image:
        layer["vertices"] = _vertices(order, spots, packer)
    if image or (layer["frame"] is not None and (shapes < 0).any()):
        # Marks that are no shapes of their own, in an image or along a line, are painted anew where they are chosen.
        inks = list(dict.fromkeys(ink for where in order for ink in spots[where].inks))
        codes = np.concatenate([np.array([inks.index(ink) for ink in spots[where].inks])[spots[where].ink] for where in order])
        looks = [[ink.fill, ink.line, round(ink.width, 3), round(ink.opacity, 4), ink.path] for ink in inks]
        layer["inks"] = {"looks": looks, "codes": packer.whole(codes)}
        layer["image"] = image
    if values:
        told = {name: one for name, one in columns_told(run, member).items() if name not in ("panel", "group", "row")}
        titles = dict(_titles(run, member, told))
        layer["columns"] = [
            {"name": name, "title": titles[name], **_said_of(run, name), **_column(one, which, packer)}
            for name, one in told.items()
            if not _told_already(name, one, told)
        ]
    return layer


def _weight(spots: Spots) -> float:
    """How many marks there are, where places along lines count less."""
    along = int((spots.shapes < 0).sum())
    return len(spots.shapes) - along + along * LINES


def _stands_on(axis: str, run: LayerRun) -> bool:
    """Whether a layer's marks stand somewhere on an axis, and not at an edge of the panel or all across it."""
    return not run.layer.fills_panel and not {axis, f"{axis}_low", f"{axis}_high", f"{axis}_to"}.isdisjoint(run.table.values)


def _vertices(order: list[Where], spots: dict[Where, Spots], packer: Packer) -> list[Described]:
    """For each corner of the shapes that are drawn along rows: the shape, and the mark among those of the layer in the panel."""
    found = [spots[where].vertices for where in order]
    marks = [np.searchsorted(spots[where].rows, spots[where].vertices[:, 1]) for where in order]
    parts = np.repeat(np.arange(len(order)), [len(one) for one in found])
    return [packer.whole(parts), packer.whole(np.concatenate(found)[:, 0]), packer.whole(np.concatenate(marks))]


def _told_already(name: str, one: Told, told: dict[str, Told]) -> bool:
    """Whether a column says nothing new: what stands on an axis, or was told before, or that areas stand on zero."""
    if name in ("x", "y"):
        return False
    before = ["x", "y", *list(told)[: list(told).index(name)]]
    return any(other in told and told[other].values == one.values for other in before) or (
        name in ("x_low", "y_low") and not any(one.values)
    )


def _rows_of(order: list[Where], spots: dict[Where, Spots], numbers: IntArray, panels: IntArray, first: int) -> IntArray:
    """The place in a layer's table of the row that each mark shows, shape (n,); −1 for none."""
    if not len(numbers):
        return np.full(sum(len(spots[where].rows) for where in order), -1, np.int64)
    found = []
    for where in order:
        here = np.flatnonzero(panels == where.panel - first)
        sorted_here = here[np.argsort(numbers[here], kind="stable")]
        known = numbers[sorted_here]
        at = np.minimum(np.searchsorted(known, spots[where].rows), max(len(known) - 1, 0))
        held = known[at] == spots[where].rows if len(known) else np.zeros(len(spots[where].rows), bool)
        found.append(np.where(held, sorted_here[at] if len(known) else -1, -1))
    rows: IntArray = np.concatenate(found).astype(np.int64)
    return rows


def _titles(run: LayerRun, member: Kept, told: dict[str, Told]) -> Iterator[tuple[str, str]]:
    """What each column is called: as its axis or its legend, else by its name."""
    for name in told:
        if name in ("x", "y"):
            title = plain(member.scales.first(name).title)
            if not title and name in run.columns:
                # Where a figure leaves it out, the column still says what it is.
                title = run.columns[name].name.replace("_", " ").capitalize()
        elif name in member.scales.looks and name in run.columns:
            title = plain(member.scales.looks[name].title)
        elif name in _ENDS and name in run.columns:
            # A column of its own, of which the axis may say nothing.
            title = run.columns[name].name.replace("_", " ").capitalize()
        elif name in _ENDS:
            title = f"{plain(member.scales.first(name[0]).title) or name[0].upper()} {_ENDS[name]}"
        else:
            title = ""
        yield name, title or name.replace("_", " ").capitalize()


def _said_of(run: LayerRun, name: str) -> dict[str, str]:
    """The column of the data whose values these are, where each mark is one of its rows."""
    column = run.columns.get(name)
    return {} if column is None or run.layer.results(run.context.columns) else {"column": column.name}


def _column(told: Told, which: IntArray, packer: Packer) -> dict[str, Any]:
    """The values of marks: words by their codes, times in microseconds, numbers as they are."""
    known = which >= 0
    if told.sort == "words":
        words = list(dict.fromkeys(plain(str(word)) for word in told.values if word is not None))
        places = {word: code for code, word in enumerate(words)}
        codes = np.array([-1 if word is None else places[plain(str(word))] for word in told.values], np.int64)
        taken = np.where(known, codes[which] if len(codes) else -1, -1)
        return {"sort": "words", "words": words, "values": packer.whole(taken)}
    values = np.array([np.nan if value is None else value for value in told.values], np.float64)
    taken = np.where(known, values[which] if len(values) else np.nan, np.nan)
    if told.sort == "time":
        return {"sort": "time", **_times(taken, told.zone, packer)}
    return {"sort": "number", "values": packer.numbers(taken)}


def _times(values: AnyArray, zone: str | None, packer: Packer) -> dict[str, Described | str | int]:
    """Times as the clock of their zone shows them, in the largest unit that holds all of them."""
    from facetine.core.scales.calendar import clock_times

    shown = clock_times(values, zone) if zone is not None else values
    there = shown[np.isfinite(shown)]
    unit = next((unit for unit in (_DATE, _CLOCK, _PER_MICRO) if not np.mod(there, unit).any()), 1)
    said: dict[str, Described | str | int] = {"unit": unit, "values": packer.numbers(shown / unit)}
    return said | ({"zone": zone} if zone is not None else {})
