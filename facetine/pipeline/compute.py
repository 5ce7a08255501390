"""From the rows of a layer to what it draws, arranged, with its places in axis space."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from facetine.core.columns import Columns
from facetine.core.scales.transforms import Linear, Transform
from facetine.errors import OptionError, unknown
from facetine.findings import so_many, so_many_rows
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.layers.values import labelled
from facetine.pipeline.split import Part, Split


def all_computed(split: Split) -> list[Columns]:
    """The tables of all layers; one that borrows gets that of an earlier layer.

    Raises:
        OptionError: It names a layer that is not there.
    """
    for part in split.parts:
        if part.layer.borrows is None:
            part.layer = part.layer.prepare(_started(part, split.transforms), part.context)
    _share_bins(split)
    _say_spaces(split)
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
        part.borrowed = earlier
        part.layer.compute(table, part.context)
        tables.append(labelled(earlier.layer, table, earlier.horizontal))
    return tables


def _share_bins(split: Split) -> None:
    """Tells densities of the bins over which their counts lie."""
    for part in split.parts:
        if part.layer.verb == "density":
            for other in split.parts:
                if other.layer.verb == "histogram" and other.horizontal == part.horizontal:
                    part.context = replace(part.context, bin_edges=np.array(other.layer.edges))  # type: ignore[attr-defined]
                    break


def _say_spaces(split: Split) -> None:
    """Says where a statistic of the data meets one of the axis on one axis that is not even."""
    computing = [part for part in split.parts if part.layer.verb in ("intervals", "trend") and part.layer.computed]
    for axis in ("x", "y"):
        if isinstance(split.transforms[axis], Linear):
            continue
        by_space = {part.layer.works_in: part for part in computing if axis == ("x" if part.horizontal else "y")}
        if len(by_space) > 1:
            data, places = by_space["data"], by_space["axis"]
            data.context.say(
                "two-spaces",
                f"{data.layer.verb} are computed from the data, the {places.layer.verb} beside from places on the {axis} axis",
                'space="data" or space="axis" says the same for both',
            )


def _own(part: Part, transforms: Mapping[str, Transform]) -> Mapping[str, Transform]:
    """The transforms as the layer sees its axes."""
    return {"x": transforms["y"], "y": transforms["x"]} if part.horizontal else transforms


def _started(part: Part, transforms: Mapping[str, Transform]) -> Columns:
    """The rows in the space in which the layer computes."""
    if part.layer.works_in == "data":
        return part.rows
    return _transformed(part.rows, _own(part, transforms), {"x", "y"})


def computed(part: Part, transforms: Mapping[str, Transform]) -> Columns:
    """A layer's table: computed, arranged, and turned back where the layer is horizontal.

    Args:
        part: The prepared layer and its rows, x and y exchanged where it is horizontal.
        transforms: The transforms of x and y as the reader sees them.
    """
    layer, own = part.layer, _own(part, transforms)
    rows = _started(part, transforms)
    mapped = {POSITIONS[name] for name in rows.values if name in POSITIONS}
    rows = layer.compute(rows, part.context)
    rows = _finite(rows, part)
    # What arranging moves is kept for texts, which tell values and not places.
    rows = rows.put(**{f"{axis} value": rows[axis] for axis in ("x", "y") if axis in rows})
    rows = _finite(layer.arrange_rows(rows, part.context), part)
    # What was computed on places is in axis space already; counts beside them are not.
    rows = _placed(_transformed(rows, own, {"x", "y"} - (mapped if layer.works_in == "axis" else set())), rows, part)
    rows = layer.scattered(rows, part.context)
    return rows.renamed(TURNED) if part.horizontal else rows


def _finite(rows: Columns, part: Part) -> Columns:
    """The rows that were computed to be somewhere; says how many were not, as where squares of huge numbers run over."""
    if part.layer.keeps_gaps:
        return rows
    keep = np.ones(len(rows), bool)
    for name, values in rows.values.items():
        if name in ("x", "y"):
            keep &= np.isfinite(values)
        elif name in POSITIONS:
            keep &= ~np.isinf(values)
    if keep.all():
        return rows
    part.context.say(
        "not-computable", f"{so_many_rows(int((~keep).sum()))} computed to no finite number left out", severity="warning"
    )
    return rows.take(keep)


def _placed(moved: Columns, rows: Columns, part: Part) -> Columns:
    """The rows whose computed x and y have a place on their scales; says how many have none."""
    if "x_low" in moved and "x_high" in moved and "x" in moved:
        # A mark whose near side would stand below what the axis can show is as wide there as on its far side.
        low, high, middle = moved["x_low"], moved["x_high"], moved["x"]
        half = np.fmin(np.abs(high - middle), np.where(np.isfinite(low), np.inf, np.abs(high - middle)))
        moved = moved.put(x_low=np.where(np.isfinite(low), low, middle - half))
    keep = np.ones(len(rows), bool)
    cut = np.zeros(len(rows), bool)
    for name in moved.values:
        if name in POSITIONS and moved[name] is not rows[name]:
            lost = ~np.isfinite(moved[name]) & np.isfinite(rows[name])
            if name in ("x", "y"):
                keep &= ~lost
            else:
                cut |= lost
    gone = len(rows) - int(keep.sum())
    if gone:
        part.context.say("rows-off-scale", f"{so_many_rows(gone)} computed without a place on their scale left out")
    if (cut & keep).any():
        part.context.say("ends-off-scale", f"{so_many(int((cut & keep).sum()), 'end')} without a place on the scale not drawn")
    return moved.take(keep) if gone else moved


def _transformed(rows: Columns, transforms: Mapping[str, Transform], axes: set[str]) -> Columns:
    """Places from data to axis space; levels stay as they are, their axes are linear."""
    moved = {
        name: transforms[str(axis)].forward(values)
        for name, values in rows.values.items()
        if (axis := POSITIONS.get(name)) in axes and not isinstance(transforms[str(axis)], Linear)
    }
    return rows.put(**moved) if moved else rows
