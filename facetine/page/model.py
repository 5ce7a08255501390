"""What a page knows of its figure: panels, layers, where marks stand, and what each of them says."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, IntArray
from facetine.page.packed import Described, Packer
from facetine.page.spots import Spots, Where, spots_of
from facetine.page.views import axis_said
from facetine.pipeline.composition.choices import limited_axes
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.texts import Told
from facetine.pipeline.sheet.built import Built
from facetine.pipeline.sheet.members import members_of, single_rows_of
from facetine.pipeline.sheet.numbers import columns_told, drawn_rows
from facetine.scene.fonts import face
from facetine.scene.markup import plain
from facetine.scene.typeset import TextStyle

MOST_VECTORS = 5_000
"""Marks of a layer up to which each is an element of its own; more become an image, which browsers show sooner."""
LINES = 0.1
"""How much a place along a line counts among them."""
_BYTES = 4
"""Of a value, at most; what takes more is too much for a page as well."""
_COUNTING = ("bars", "histogram")
"""Layers whose marks are as long as they have rows, where they have no values of their own."""
_DATE, _CLOCK = 86_400_000_000, 60_000_000
_PER_MICRO = 1_000_000


_ENDS = {f"{axis}_{end}": f"({end})" for axis in ("x", "y") for end in ("low", "high", "to")}
"""Further places of a mark on an axis."""


class Model(NamedTuple):
    """What a page knows of its figure."""

    said: dict[str, Any]
    """Plain values, with arrays as they are described."""
    arrays: str
    """All arrays in one text."""


def model_of(built: Built, *, values: bool = True, most: int = 5_000_000) -> Model | None:
    """The model of a figure.

    Args:
        built: The figure, as it was drawn.
        values: Whether what marks say travels along; else only where they stand.
        most: How many values it has at most; more would keep browsers busy for long.

    Returns:
        None where there is too much of it.
    """
    packer, panels, layers = Packer(), list[dict[str, Any]](), list[dict[str, Any]]()
    axes: dict[tuple[int, AxisKey], int] = {}
    views: list[dict[str, Any]] = []
    spots, frames, cells = spots_of(built.pages), dict[int, int](), 0
    for number, (layout, members) in enumerate(zip(built.layouts, built.members, strict=True)):
        for place in layout.panels:
            member, box = members[place.panel.field], place.box
            standing = {}
            for name, axis in member.scales.under(place.panel).items():
                key = (number, place.panel.key(name) if name == "x" else place.panel.measure or place.panel.y)
                if key not in axes:
                    axes[key] = len(views)
                    stands = any(run.layer.stands and run.value_axis == name for run in member.runs)
                    views.append({"member": member.place, **axis_said(axis), "stands": stands, **_ticks_said(member)})
                standing[name] = axes[key]
            panels.append(
                {
                    "member": member.place, "number": place.panel.number, "page": place.panel.page,
                    "name": plain(place.panel.name or ""), "axes": standing,
                    "box": [round(side, 2) for side in (box.x, box.y, box.right, box.bottom)],
                }
            )  # fmt: skip
        for member in members:
            for run in member.runs:
                own = {
                    where: found for where, found in spots.items() if (where.member, where.layer) == (member.place, run.number)
                }
                if own:
                    cells += sum(len(found.rows) for found in own.values())
                    layers.append(_layer(run, member, own, packer, frames, values=values))
    choices = [
        {
            "name": one.name, "member": member.place, "along": one.along, "multiple": one.multiple,
            "started": packer.whole(one.started), "ends": dict(one.ends), "rows": packer.whole(one.rows), "codes": packer.whole(one.codes),
        }
        for members in built.members for member in members for one in member.choices
    ]  # fmt: skip
    responses = {str(member.place): member.responses for members in built.members for member in members if member.responses}
    limits = _limits([member for members in built.members for member in members])
    cells *= max((len(layer["columns"]) for layer in layers), default=1)
    if cells > most:
        return None
    sheets = [[round(page.width, 2), round(page.height, 2)] for page in built.pages]
    said = {"sheets": sheets, "panels": panels, "axes": views, "layers": layers, "choices": choices, "responses": responses, "limits": limits}
    text = packer.text()
    return Model(said, text) if len(text) <= _BYTES * most else None


def _limits(members: list[Kept]) -> dict[str, dict[str, list[tuple[str, str]]]]:
    """For each figure whose axes show the interval of a choice: which of them shows that along which axis of the one that chooses."""
    choosing = {one.name: (member, one.along or "") for member in reversed(members) for one in member.choices}
    found: dict[str, dict[str, list[tuple[str, str]]]] = {}
    for member in members:
        for name, how in member.responses.items():
            if how == "limits" and name in choosing:
                other, along = choosing[name]
                pairs = limited_axes(dict(member.columns), dict(other.columns), along)
                found.setdefault(str(member.place), {})[name] = pairs
    return found


def _ticks_said(member: Kept) -> dict[str, Any]:
    """How ticks and their texts are set, in points."""
    theme = member.theme
    style = TextStyle(theme.font, theme.tick_text_size, 400, theme.text_color, theme.line_height)
    raised = face(theme.font, 400).measures
    return {
        "tick": theme.tick_length, "gap": theme.gap, "size": style.size,
        "cap": round(style.cap, 3), "leading": round(style.leading, 3),
        "raised": [round(style.size * raised.super_size, 2), round(style.size * raised.super_rise, 3)],
    }  # fmt: skip


def _layer(
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
        "drops": run.layer.drops_outside, "moves": [axis for axis in ("x", "y") if _stands_on(axis, run)],
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
    return not {axis, f"{axis}_low", f"{axis}_high", f"{axis}_to"}.isdisjoint(run.table.values)


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
