"""From the rows of a layer to what it draws, arranged, with its places in axis space."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from facetine.build.notes import rows as so_many
from facetine.build.split import Part, Split
from facetine.core.columns import Columns
from facetine.core.scales.transforms import Linear, Transform
from facetine.errors import OptionError, unknown
from facetine.grammar.aesthetics import POSITIONS, TURNED


def all_computed(split: Split) -> list[Columns]:
    """The tables of all layers; one that borrows gets that of an earlier layer.

    Raises:
        OptionError: It names a layer that is not there.
    """
    tables: list[Columns] = []
    for part in split.parts:
        wanted = part.layer.borrows
        if wanted is None:
            tables.append(computed(part, split.transforms))
            continue
        found = [
            (earlier, table)
            for earlier, table in zip(split.parts, tables, strict=False)
            if wanted in (earlier.layer.verb, earlier.layer.name)
        ]
        if not found:
            before = [earlier.layer.verb for earlier in split.parts[: len(tables)]]
            raise unknown(OptionError, part.context.where, "no earlier layer", wanted, before, "earlier layers")
        earlier, table = found[-1]
        part.layer.compute(table, part.context)
        tables.append(earlier.layer.labelled_rows(table))
    return tables


def computed(part: Part, transforms: Mapping[str, Transform]) -> Columns:
    """A layer's table: computed, arranged, and turned back where the layer is horizontal.

    Args:
        part: The layer and its rows, x and y exchanged where it is horizontal.
        transforms: The transforms of x and y as the reader sees them.
    """
    layer = part.layer
    own = {"x": transforms["y"], "y": transforms["x"]} if part.horizontal else transforms
    rows = part.rows
    mapped = {POSITIONS[name] for name in rows.values if name in POSITIONS}
    if layer.space == "axis":
        rows = _transformed(rows, own, mapped)
    layer = layer.prepare(rows, part.context)
    rows = layer.compute(rows, part.context)
    rows = layer.arrange_rows(rows, part.context)
    # What was computed on places is in axis space already; counts beside them are not.
    rows = _placed(_transformed(rows, own, {"x", "y"} - (mapped if layer.space == "axis" else set())), rows, part)
    rows = layer.scattered(rows, part.context)
    return rows.renamed(TURNED) if part.horizontal else rows


def _placed(moved: Columns, rows: Columns, part: Part) -> Columns:
    """The rows whose computed x and y have a place on their scales; says how many have none."""
    keep = np.ones(len(rows), bool)
    for name in ("x", "y"):
        if name in rows and moved[name] is not rows[name]:
            keep &= np.isfinite(moved[name]) | ~np.isfinite(rows[name])
    gone = len(rows) - int(keep.sum())
    if not gone:
        return moved
    part.context.say(f"{part.context.where}: {so_many(gone)} computed without a place on their scale left out")
    return moved.take(keep)


def _transformed(rows: Columns, transforms: Mapping[str, Transform], axes: set[str]) -> Columns:
    """Places from data to axis space; levels stay as they are, their axes are linear."""
    moved = {
        name: transforms[str(axis)].forward(values)
        for name, values in rows.values.items()
        if (axis := POSITIONS.get(name)) in axes and not isinstance(transforms[str(axis)], Linear)
    }
    return rows.put(**moved) if moved else rows
