"""Limits that are said as shares of the rows."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.stats.quantiles import quantiles
from facetine.grammar.given import Place
from facetine.grammar.scale import ScaleSpec
from facetine.messages.errors import ScaleError

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
            raise ScaleError(where, f"{end!r} is more than all rows", 'such as limits=("1 %", "99 %")')
        place = float(quantiles(there, np.array([float(share[1]) / 100]))[0])
        ends.append(np.datetime64(round(place), "us") if times else place)
    return replace(spec, limits=(ends[0], ends[1]))
