"""What a page knows of how a layer is computed anew of chosen rows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from facetine.core.columns import Columns
from facetine.page.inks import marker_ink
from facetine.page.packed import Packer
from facetine.page.views import format_of, is_known, transform_said
from facetine.pipeline.drawing.draw import shift_of
from facetine.pipeline.rows.runs import LayerRun
from facetine.pipeline.scales.chosen import ink_of_all, is_outlined
from facetine.pipeline.scales.look_scales import LookScale
from facetine.pipeline.scales.member import Kept
from facetine.pipeline.scales.shades import needs_halo
from facetine.pipeline.sheet.recipes import Labels, Recipe, recipe_of
from facetine.scene.markup import plain

Said = dict[str, Any]


def recipe_said(run: LayerRun, member: Kept, packer: Packer, *, values: bool) -> Said | None:
    """How a layer is computed anew, in plain values; None for one that stays as all rows make it.

    Args:
        run: A layer, as all rows made it.
        member: The figure of which it is one.
        packer: Takes its arrays.
        values: Whether values of rows may travel along; without them a layer is computed anew of nothing but counts.
    """
    finish = run.finish
    if finish is not None and finish.name == "rows" and run.borrowed_from is None:
        return {"finish": "rows", "counts": False}
    axes = {axis: member.scales.first(axis) for axis in ("x", "y")}
    if not all(axis.kind == "levels" or is_known(axis) for axis in axes.values()):
        return None
    recipe = recipe_of(run, member)
    if recipe is None or (recipe.rows.values and not values):
        return None
    if any(_scale_said(scale) is None for scale in recipe.scales.values()):
        return None
    cells, theme = recipe.cells, member.theme
    return {
        "finish": recipe.finish.name, "options": dict(recipe.finish.options), "counts": recipe.finish.counts,
        "horizontal": run.horizontal, "space": run.layer.works_in, "shift": shift_of(run),
        "unit": run.context.axis("x").unit_length,
        "rows": packer.whole(recipe.rows.numbers), "of": packer.whole(recipe.of),
        "values": {name: packer.numbers(own) for name, own in recipe.rows.values.items()},
        "cells": {
            "count": len(cells), "panel": packer.whole(cells.panel + member.first), "group": packer.whole(cells.group),
            "number": packer.whole(cells.numbers), "slot": packer.whole(recipe.slot),
            **{name: packer.numbers(places) for name, places in cells.values.items()},
        },
        "looks": [_look_said(look) for look in recipe.looks], "look": packer.whole(recipe.look),
        "ground": theme.ground_below, "quiet": ink_of_all(theme), "halo": needs_halo(run, member.runs),
        "bordered": is_outlined(run), "texts": _texts_said(recipe.labels, run, member),
        **{name: _scale_said(scale) for name, scale in recipe.scales.items()},
        **_further(recipe, member, packer),
    }  # fmt: skip


def _further(recipe: Recipe, member: Kept, packer: Packer) -> Said:
    """What some ways to compute need beside."""
    said: Said = {}
    if recipe.panels:
        said["panels"] = [[panel + member.first for panel in panels] for panels in recipe.panels]
    if recipe.finish.by == "bin" and len(recipe.outside):
        said["beside"] = _beside_said(recipe.outside, member, packer)
    return said


def _beside_said(rows: Columns, member: Kept, packer: Packer) -> Said:
    said: Said = {"rows": packer.whole(rows.numbers), "panel": packer.whole(rows.panel + member.first)}
    return said | ({"weight": packer.numbers(rows["weight"])} if "weight" in rows else {})


def _look_said(look: Mapping[str, Any]) -> Said:
    said = dict(look)
    if "marker" in look:
        said["marker"] = list(marker_ink(look["marker"], 1.0))
    return said


def _scale_said(scale: LookScale) -> Said | None:
    """How a color or a size follows a number; None where a page does not know the kind of scale."""
    kind = transform_said(scale.transform)
    if kind is None or scale.kind == "levels":
        return None
    said = {"low": scale.low, "high": scale.high, **kind}
    if scale.ends is not None:
        ends = scale.ends[::-1] if scale.spec.reverse else scale.ends
        return said | {"ends": list(ends), "lost": scale.values[-1]}
    return said | {"values": list(scale.values), "breaks": list(scale.breaks)}


def _texts_said(labels: Labels | None, run: LayerRun, member: Kept) -> Said | Literal[False] | None:
    """What is written on marks; False for nothing, None where a page does not write it so."""
    if labels is None:
        return False
    parts: list[str | list[str]] = []
    for part in labels.parts:
        if isinstance(part, str):
            if plain(part) != part:
                return None
            parts.append(part)
            continue
        field, sort = part
        known = sort in ("number", "count") or (
            sort in ("x", "y") and member.scales.first(run.own(sort)).kind not in ("levels", "time")
        )
        if not known or (field.form and format_of(field.form) is None):
            return None
        parts.append([field.name, field.form, sort])
    style = labels.style
    return {
        "parts": parts, "inside": labels.inside, "line": labels.across, "size": style.size, "cap": round(style.cap, 3),
        "color": style.color,
    }  # fmt: skip
