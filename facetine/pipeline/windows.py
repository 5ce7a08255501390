"""Windows that were said: of an axis of all panels, or of single ones."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import cast

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.quantiles import quantiles
from facetine.grammar.given import Ends, Place
from facetine.grammar.scale import ScaleSpec
from facetine.messages.errors import OptionError, ScaleError, unknown
from facetine.pipeline.chosen import parts_of
from facetine.pipeline.levels import level_name
from facetine.pipeline.panels import AxisKey
from facetine.pipeline.runs import Split

_SHARE = re.compile(r"\s*(\d+(?:\.\d+)?)\s*%\s*")


def by_quantile(spec: ScaleSpec, values: Callable[[], FloatArray], times: bool, where: str) -> ScaleSpec:
    """A scale whose limits were said as shares of the rows, with the values below which these lie.

    Args:
        spec: What was said.
        values: Makes the values of the rows, shape (n,), in the unit of the data; asked only where they are needed.
        times: Whether they are times, in microseconds.
        where: Who asks, for the error.

    Raises:
        ScaleError: A share is over 100 %.
    """
    if not isinstance(spec.limits, tuple):
        return spec
    shares = [_SHARE.fullmatch(end) if isinstance(end, str) else None for end in spec.limits]
    if not any(shares):
        return spec
    there = values()
    there = there[np.isfinite(there)]
    ends: list[Place | None] = []
    for end, share in zip(spec.limits, shares, strict=True):
        if share is None or not len(there):
            ends.append(None if share is not None else end)
            continue
        if float(share[1]) > 100:
            raise ScaleError(f"{where}: {end!r} is more than all rows", 'such as limits=("1 %", "99 %")')
        place = float(quantiles(there, np.array([float(share[1]) / 100]))[0])
        ends.append(np.datetime64(round(place), "us") if times else place)
    return replace(spec, limits=(ends[0], ends[1]))


def ends_of(spec: ScaleSpec) -> Ends | None:
    """The window of a scale whose limits are those of one axis."""
    return cast("Ends | None", spec.limits)


def windowed(split: Split, key: AxisKey) -> ScaleSpec:
    """What was said of a scale, with the limits of one axis where those of single panels were said.

    Raises:
        OptionError: Limits name a panel that is not there.
        ScaleError: A panel that they name shares its axis with others.
    """
    spec = split.sentence.scale(key.axis)
    if not isinstance(spec.limits, Mapping):
        return spec
    where = f"figure.scale({key.axis!r}): limits"
    facet, levels = split.sentence.facet, split.levels.get("facet", ())
    if facet is None:
        raise OptionError(f"{where} of panels have no effect without panels", "add .facet(…), or give two ends")
    words: dict[str, set[int]] = {}
    for number, level in enumerate(levels):
        for name in (level_name(level), *(level_name(part(level)) for part in parts_of(facet).values())):
            words.setdefault(name, set()).add(number)
    standing = {panel.number for panel in split.panels if panel.key(key.axis) == key}
    own: Ends | None = None
    for name, ends in spec.limits.items():
        if name not in words:
            raise unknown(OptionError, where, "no panel", name, tuple(words), "panels")
        if standing <= words[name]:
            own = ends
        elif standing & words[name]:
            raise ScaleError(
                f"{where}: the panel {name!r} shares its {key.axis} axis with others",
                f'separate="{key.axis}" in .facet(…) gives each its own',
            )
    return replace(spec, limits=own)
