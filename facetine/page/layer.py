"""What a page knows of a layer: where its marks stand, what each of them says, and which rows are behind them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray, IntArray
from facetine.core.query import shuffle_keys
from facetine.page.packed import Described, Packer
from facetine.page.recipe import recipe_said
from facetine.page.spots import Spots, Where
from facetine.page.views import is_known
from facetine.pipeline.drawing.draw import seed_of
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.axes import Axis
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.texts import Told
from facetine.pipeline.sheet.members import members_of, single_rows_of
from facetine.pipeline.sheet.numbers import columns_told, drawn_rows
from facetine.scene.markup import plain
from facetine.scene.region import Region

MOST_VECTORS = 5_000
"""Marks of a layer up to which each is an element of its own; more become an image, which browsers show sooner."""
LINES = 0.1
"""How much a place along a line counts among them."""
_SEEN = 0.006
"""Points between two places that are one."""
_COUNTING = ("bars", "histogram")
"""Layers whose marks are as long as they have rows, where they have no values of their own."""
_DATE, _CLOCK = 86_400_000_000, 60_000_000
_PER_MICRO = 1_000_000
_ENDS = {f"{axis}_{end}": f"({end})" for axis in ("x", "y") for end in ("low", "high", "to")}
"""Further places of a mark on an axis."""


class Stage(NamedTuple):
    """A panel on its sheet."""

    box: Region
    axes: Mapping[str, Axis]


Stages = Mapping[tuple[int, int], Stage]
"""Panels by the figure and their number."""


def layer_said(
    run: LayerRun,
    member: Kept,
    spots: dict[Where, Spots],
    stages: Stages,
    packer: Packer,
    frames: dict[int, int],
    *,
    values: bool,
) -> dict[str, Any]:
    """One layer: the places of its marks, one panel after the other, and the columns of what they say, in the same order."""
    order = sorted(spots, key=lambda where: (where.page, where.panel))
    numbers = np.concatenate([spots[where].rows for where in order])
    shapes = np.concatenate([spots[where].shapes for where in order])
    pieces = np.concatenate([spots[where].pieces for where in order])
    parts = [
        {"panel": where.panel, "page": where.page, "count": len(spots[where].rows), "pieces": len(spots[where].pieces)}
        for where in order
    ]
    table = drawn_rows(run)
    which = _rows_of(order, spots, table.numbers, table.panel, member.first)
    of_rows = run.borrowed_from is None and not run.layer.results(run.context.columns) and not run.layer.stands_alone
    told = (
        {name: one for name, one in columns_told(run, member).items() if name not in ("panel", "group", "row")} if values else {}
    )
    layer: dict[str, Any] = {
        "member": member.place, "number": run.number, "verb": run.layer.verb,
        "title": run.layer.name or run.layer.verb.capitalize(), "parts": parts,
        "boxes": _boxes(order, spots, told, which, stages, packer),
        "rows": packer.whole(numbers), "columns": [],
        "pieces": [packer.whole(pieces[:, side]) for side in range(3)],
        "drops": run.layer.drops_outside, "edges": run.layer.at_edges,
        "moves": [axis for axis in ("x", "y") if _stands_on(axis, run)],
        "frame": frames.setdefault(run.frame, len(frames)) if of_rows and run.frame else None,
        "along": "y" if run.horizontal else "x", "line": run.layer.keeps_gaps or run.layer.thing in ("curve", "step"),
    }  # fmt: skip
    if not of_rows:
        layer |= _behind(run, member, packer, frames)
    keeps = any(said.how == "keep" for said in member.responses.values())
    # Layers of other data have no rows of which a reader could choose.
    if keeps and run.frame and run.frame != member.frame and not run.layer.stands_alone:
        layer["other"] = True
    if keeps and run.frame and run.frame == member.frame and not run.layer.stands_alone:
        layer |= {
            "kept": recipe_said(run, member, packer, values=values),
            "kept_frame": frames.setdefault(run.frame, len(frames)),
            "kept_of": member.height,
        }
    layer |= _groups(run, table.group, which, packer)
    image = max(_weight(spots[where]) for where in order) > MOST_VECTORS
    looks = {ink for where in order for ink in spots[where].inks}
    if not image or len(looks) > 1 or (shapes < 0).any():
        # Which of marks of one look in an image lies over another can't be seen.
        layer |= _lying(run, member, order, spots, packer)
    if not image:
        layer["vertices"] = _vertices(order, spots, packer)
    if image or (layer["frame"] is not None and (shapes < 0).any()):
        # Marks that are no shapes of their own, in an image or along a line, are painted anew where they are chosen.
        layer |= {"inks": _inks(order, spots, packer), "image": image}
    titles = dict(_titles(run, member, told))
    layer["columns"] = [
        {"name": name, "title": titles[name], **_said_of(run, name), **_column(one, which, packer)}
        for name, one in told.items()
        if not _told_already(name, one, told)
    ]
    return layer


def _lying(run: LayerRun, member: Kept, order: list[Where], spots: dict[Where, Spots], packer: Packer) -> dict[str, Any]:
    """Which of marks lies over another: by what mixes them, where that is all, else by the place of each."""
    seeds = [seed_of(member.seed, where.panel - member.first, run.number) % 2**32 for where in order]
    keys = [shuffle_keys(np.arange(len(spots[where].rows)), seed) for where, seed in zip(order, seeds, strict=True)]
    ranks = [np.argsort(np.argsort(own, kind="stable")) for own in keys]
    if all(np.array_equal(spots[where].shapes, rank) for where, rank in zip(order, ranks, strict=True)):
        return {"mixed": seeds}
    return {"shapes": packer.whole(np.concatenate([spots[where].shapes for where in order]))}


def _boxes(
    order: list[Where], spots: dict[Where, Spots], told: Mapping[str, Told], which: IntArray, stages: Stages, packer: Packer
) -> list[Described]:
    """Left and top edge of all marks, width and height; sizes alone where the values of marks say where their middles are."""
    boxes = np.concatenate([spots[where].boxes for where in order])
    # Sizes, which many marks share, take no room beside their places.
    sizes = [packer.places(side) for side in (boxes[:, 2:] - boxes[:, :2]).T]
    if _by_values(order, spots, told, which, stages):
        return sizes
    return [*(packer.places(side) for side in boxes[:, :2].T), *sizes]


def _by_values(order: list[Where], spots: dict[Where, Spots], told: Mapping[str, Told], which: IntArray, stages: Stages) -> bool:
    """Whether all marks have their middles where their values x and y stand on the axes, to what can be seen."""
    if not {"x", "y"} <= told.keys() or any(told[name].sort == "words" or told[name].zone is not None for name in ("x", "y")):
        return False
    if (which < 0).any():
        return False
    every = {name: _numbers(told[name]) for name in ("x", "y")}
    start = 0
    for where in order:
        part, stage = spots[where], stages[where.member, where.panel]
        rows = which[start : start + len(part.rows)]
        start += len(part.rows)
        for side, name in enumerate(("x", "y")):
            axis = stage.axes[name]
            if not is_known(axis):
                return False
            values = every[name][rows]
            with np.errstate(all="ignore"):
                share = axis.extent.share(values if axis.kind == "time" else axis.transform.forward(values))
            box = stage.box
            place = box.x + share * box.width if name == "x" else box.bottom - share * box.height
            middle = (part.boxes[:, side] + part.boxes[:, side + 2]) / 2
            if not (np.abs(place - middle) < _SEEN).all():
                return False
    return True


def _behind(run: LayerRun, member: Kept, packer: Packer, frames: dict[int, int]) -> dict[str, Any]:
    """The rows behind results, and whether these are as long as they have rows."""
    behind = members_of(run, member)
    if behind is None:
        return {}
    found: dict[str, Any] = {}
    if run.layer.verb in _COUNTING and not {"y", "weight"} & {run.own(name) for name in run.columns}:
        # Each row behind a mark is as much of its length as any other, so that those that are chosen are a part of it.
        back = member.scales.first(run.value_axis).extent.reverse
        found["grows"] = {"x": ("right", "left"), "y": ("top", "bottom")}[run.value_axis][back]
    held, single = np.flatnonzero(behind >= 0), single_rows_of(run, member)
    found["members"] = {
        "frame": frames.setdefault(run.frame, len(frames)),
        "rows": packer.whole(run.rows.numbers[np.concatenate([held, single[:, 1]])]),
        "of": packer.whole(run.table.numbers[np.concatenate([behind[held], single[:, 0]])]),
    }
    return found


def _groups(run: LayerRun, group: IntArray, which: IntArray, packer: Packer) -> dict[str, Any]:
    """The groups of marks by their names."""
    groups = {number: name for number, name in run.context.groups.items() if name}
    if not groups:
        return {}
    every, known = list(groups), which >= 0
    codes = np.full(len(which), -1, np.int64)
    codes[known] = [every.index(number) if number in groups else -1 for number in group[which[known]].tolist()]
    return {"groups": {"names": [plain(groups[number]) for number in every], "codes": packer.whole(codes)}}


def _inks(order: list[Where], spots: dict[Where, Spots], packer: Packer) -> dict[str, Any]:
    """How marks look, and which of the looks each of them has."""
    inks = list(dict.fromkeys(ink for where in order for ink in spots[where].inks))
    codes = np.concatenate([np.array([inks.index(ink) for ink in spots[where].inks])[spots[where].ink] for where in order])
    looks = [[ink.fill, ink.line, round(ink.width, 3), round(ink.opacity, 4), ink.path] for ink in inks]
    return {"looks": looks, "codes": packer.whole(codes)}


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
                title = called(run.columns[name].name)
        elif name in member.scales.looks and name in run.columns:
            title = plain(member.scales.looks[name].title)
        elif name in _ENDS and name in run.columns:
            # A column of its own, of which the axis may say nothing.
            title = called(run.columns[name].name)
        elif name in _ENDS:
            title = f"{plain(member.scales.first(name[0]).title) or name[0].upper()} {_ENDS[name]}"
        else:
            title = ""
        yield name, title or called(name)


def called(name: str) -> str:
    """A name as a title."""
    return name.replace("_", " ").capitalize()


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
    values = _numbers(told)
    taken = np.where(known, values[which] if len(values) else np.nan, np.nan)
    if told.sort == "time":
        return {"sort": "time", **_times(taken, told.zone, packer)}
    return {"sort": "number", "values": packer.numbers(taken)}


def _numbers(told: Told) -> FloatArray:
    """Values as numbers, NaN where there is none."""
    return np.array([np.nan if value is None else value for value in told.values], np.float64)


def _times(values: AnyArray, zone: str | None, packer: Packer) -> dict[str, Described | str | int]:
    """Times as the clock of their zone shows them, in the largest unit that holds all of them."""
    from facetine.core.scales.calendar import clock_times

    shown = clock_times(values, zone) if zone is not None else values
    there = shown[np.isfinite(shown)]
    unit = next((unit for unit in (_DATE, _CLOCK, _PER_MICRO) if not np.mod(there, unit).any()), 1)
    said: dict[str, Described | str | int] = {"unit": unit, "values": packer.numbers(shown / unit)}
    return said | ({"zone": zone} if zone is not None else {})
