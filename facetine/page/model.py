"""What a page knows of its figure: panels, axes, layers and choices."""

from __future__ import annotations

from typing import Any, NamedTuple

from facetine.page.layer import Stage, called, layer_said
from facetine.page.packed import Packer
from facetine.page.spots import spots_of
from facetine.page.views import axis_said
from facetine.pipeline.composition.choices import limited_axes
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.sheet.built import Built
from facetine.scene.fonts import face
from facetine.scene.markup import plain
from facetine.scene.typeset import TextStyle

Said = dict[str, Any]
_TURNED = {"x": "y", "y": "x"}
_BYTES = 4
"""Of a value, at most; what takes more is too much for a page as well."""


class Model(NamedTuple):
    """What a page knows of its figure."""

    said: Said
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
    packer = Packer()
    members = [member for some in built.members for member in some]
    panels, axes = _panels(built)
    layers, count = _layers(built, members, packer, values=values)
    if count > most:
        return None
    said = {
        "sheets": [[round(page.width, 2), round(page.height, 2)] for page in built.pages], "panels": panels, "axes": axes,
        "layers": layers, "choices": _choices(members, packer), "limits": _limits(members),
        "responses": {str(member.place): _responses(member) for member in members if member.responses},
    }  # fmt: skip
    text = packer.text()
    return Model(said, text) if len(text) <= _BYTES * most else None


def _panels(built: Built) -> tuple[list[Said], list[Said]]:
    """The panels with the axes on which they stand, each of which is there once."""
    panels, axes = list[Said](), list[Said]()
    known: dict[tuple[int, AxisKey], int] = {}
    for number, (layout, members) in enumerate(zip(built.layouts, built.members, strict=True)):
        for place in layout.panels:
            member, box = members[place.panel.field], place.box
            standing = {}
            for name, axis in member.scales.under(place.panel).items():
                key = (number, place.panel.x if name == "x" else place.panel.measure or place.panel.y)
                if key not in known:
                    known[key] = len(axes)
                    stands = any(run.layer.stands and run.value_axis == name for run in member.runs)
                    # Where a figure leaves out the title, the column still tells a reader which axis is meant.
                    title = plain(axis.title) or called(member.columns.get(name, name))
                    own = {
                        "member": member.place,
                        "title": title,
                        "stands": stands,
                        "said": _TURNED[name] if member.swapped else name,
                    }
                    axes.append({**own, **axis_said(axis), **_ticks_said(member)})
                standing[name] = known[key]
            panels.append(
                {
                    "member": member.place, "number": place.panel.number, "page": place.panel.page,
                    "name": plain(place.panel.name or ""), "axes": standing,
                    "box": [round(side, 2) for side in (box.x, box.y, box.right, box.bottom)],
                }
            )  # fmt: skip
    return panels, axes


def _layers(built: Built, members: list[Kept], packer: Packer, *, values: bool) -> tuple[list[Said], int]:
    """The layers that have marks, and how many values all of them have."""
    spots, frames = spots_of(built.pages), dict[int, int]()
    layers, marks = list[Said](), 0
    stages = {
        (some[place.panel.field].place, place.panel.number): Stage(place.box, some[place.panel.field].scales.under(place.panel))
        for layout, some in zip(built.layouts, built.members, strict=True)
        for place in layout.panels
    }
    for member in members:
        for run in member.runs:
            own = {where: found for where, found in spots.items() if (where.member, where.layer) == (member.place, run.number)}
            if own:
                marks += sum(len(found.rows) for found in own.values())
                layers.append(layer_said(run, member, own, stages, packer, frames, values=values))
    return layers, marks * max((len(layer["columns"]) for layer in layers), default=1)


def _choices(members: list[Kept], packer: Packer) -> list[Said]:
    return [
        {
            "name": one.name, "member": member.place, "along": one.along, "multiple": one.multiple, "ends": dict(one.ends),
            "started": packer.whole(one.started), "rows": packer.whole(one.rows), "codes": packer.whole(one.codes),
        }
        for member in members for one in member.choices
    ]  # fmt: skip


def _responses(member: Kept) -> dict[str, Said]:
    return {name: {"how": said.how, "all": said.show_all} for name, said in member.responses.items()}


def _limits(members: list[Kept]) -> dict[str, dict[str, list[tuple[str, str]]]]:
    """For each figure whose axes show the interval of a choice: which of them shows that along which axis of the other."""
    choosing = {one.name: (member, one.along or "") for member in reversed(members) for one in member.choices}
    found: dict[str, dict[str, list[tuple[str, str]]]] = {}
    for member in members:
        for name, how in member.responses.items():
            if how.how == "limits" and name in choosing:
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
