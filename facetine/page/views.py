"""What a page knows of the axes of its figure, so that a reader can look closer; and which of them stay as they are, and why."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.calendar import DAY, offset_at
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.templates import ABSOLUTE, Field, is_time_pattern, parsed
from facetine.pipeline.guides.ticks import second_axis
from facetine.pipeline.scales.axes import Axis

_KINDS = ("linear", "duration", "log", "logit", "sqrt", "power", "signed_log", "time")
"""The kinds of scales that the page's script knows."""
_FORMS = r"\+?,?(\.\d+)?[fd%]?"
_PARTS = ("%Y", "%b", "%m", "%d", "%H", "%M", "%S", "%%")
_MARKUP = "\\*~^{}"
_SEARCHED = 7 * DAY
"""Clocks never change twice within so long."""
_MOST_SEARCHED = 20_000
LETTERS = "0123456789.,:−-+×% kMGTµnpmhminsdUTC" + "".join(
    ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
)
"""Signs with which a page writes ticks, whatever is looked at."""


def axis_said(axis: Axis) -> dict[str, Any]:
    """What a page's script needs to know of an axis, in plain values."""
    spec, extent, second = axis.spec, axis.extent, _second_said(axis)
    still = _why_still(axis, second)
    said: dict[str, Any] = {
        "name": axis.name, "kind": axis.kind,
        "low": extent.low, "high": extent.high, "reverse": extent.reverse, "still": still,
    }  # fmt: skip
    if still is not None:
        # What is computed of chosen rows stands on it all the same.
        return said | (transform_said(axis.transform) or {} if axis.kind not in ("time", "levels") else {})
    if axis.kind == "time":
        clocks = None if axis.zone is None else clocks_of(extent.low, extent.high, axis.zone)
        said |= {"clocks": clocks, "pattern": spec.format}
    else:
        options = {name: getattr(axis.transform, name) for name in type(axis.transform).options()}
        said |= options | {
            "whole": axis.whole,
            "format": format_of(spec.format) if isinstance(spec.format, str | Mapping) else None,
        }
    if second is not None:
        said["second"] = second
    # Ticks that were listed stay those; so many are as many in any view.
    return said | {"wanted": spec.ticks if isinstance(spec.ticks, int) else None, "minor": spec.minor_ticks}


def _second_said(axis: Axis) -> dict[str, Any] | None:
    """What the script needs to know of a second axis; None where it would not write it as print does.

    A conversion is known by its ends where it is even on the axis, as factors and offsets are.
    """
    if not {"convert", "zone"} & (axis.spec.second_axis or {}).keys() or not is_known(axis):
        return None
    second = second_axis(axis)
    if second is None or isinstance(second.spec.ticks, tuple):
        return None
    form = second.spec.format
    if second.zone is not None:
        if form is not None and not _is_known(form, times=True):
            return None
        return {"clocks": clocks_of(axis.extent.low, axis.extent.high, second.zone), "pattern": form}
    if form is not None and not _is_known(form, times=False):
        return None
    kind = axis.kind if second.transform is axis.transform else "linear"
    places, values = second.places, second.transform.forward(second.values)
    low, high = (float(np.interp(end, *_rising(places, values))) for end in (axis.extent.low, axis.extent.high))
    even = low + (places - axis.extent.low) / (axis.extent.high - axis.extent.low) * (high - low)
    if not np.allclose(values, even, rtol=0, atol=1e-9 * abs(high - low)):
        return None
    options = {name: getattr(second.transform, name) for name in type(second.transform).options()}
    wanted = second.spec.ticks if isinstance(second.spec.ticks, int) else None
    known = format_of(form) if isinstance(form, str | Mapping) else None
    return {"kind": kind, **options, "low": low, "high": high, "format": known, "wanted": wanted}


def _rising(places: FloatArray, values: FloatArray) -> tuple[FloatArray, FloatArray]:
    return (places, values) if places[0] < places[-1] else (places[::-1], values[::-1])


def is_known(axis: Axis) -> bool:
    """Whether the page's script knows where values stand on an axis."""
    return axis.kind in _KINDS and type(axis.transform).__module__.startswith("facetine.")


def transform_said(transform: Transform) -> dict[str, Any] | None:
    """A kind of scale with its options; None for one that the page's script does not know."""
    kind = type(transform).__module__.rpartition(".")[2]
    if kind not in _KINDS or not type(transform).__module__.startswith("facetine."):
        return None
    return {"kind": kind, **{name: getattr(transform, name) for name in type(transform).options()}}


def _why_still(axis: Axis, second: dict[str, Any] | None) -> str | None:
    """Why a reader can't look closer along an axis; None where one can."""
    spec = axis.spec
    if axis.kind == "levels":
        return "it has categories"
    if axis.empty:
        return "it is empty"
    if axis.own_texts:
        return "its format is a function, which a page can't call"
    if spec.second_axis is not None and second is None:
        return "a page does not know how its second axis is converted or written"
    if spec.ticks is not None and not isinstance(spec.ticks, int):
        return "its ticks were listed"
    if not is_known(axis):
        return "it is a kind of scale from another package"
    if spec.format is not None and not _is_known(spec.format, times=axis.kind == "time"):
        return "a page does not write its format"
    return None


def _is_known(form: object, *, times: bool) -> bool:
    if times:
        return isinstance(form, str) and _only_parts(form)
    return not callable(form) and isinstance(form, str | Mapping) and format_of(form) is not None


def _only_parts(pattern: str) -> bool:
    rest = pattern
    for part in _PARTS:
        rest = rest.replace(part, "")
    return "%" not in rest and not set(rest) & set(_MARKUP)


def format_of(form: str | Mapping[Any, Any]) -> dict[str, Any] | None:
    """A format of numbers in its parts, as the page's script takes it; None for one that it does not write.

    >>> format_of("€{value:,.2f}")
    {'form': ',.2f', 'around': ['€', '']}
    >>> format_of("*>8") is None
    True
    """
    if isinstance(form, Mapping):
        words = {_number(key): str(text) for key, text in form.items()}
        return {"words": words} if not any(set(text) & set(_MARKUP) for text in words.values()) else None
    if "{" not in form and "}" not in form:
        return {"form": form} if _is_simple(form) else None
    parts = parsed(form).parts
    fields = [part for part in parts if isinstance(part, Field)]
    texts = [part for part in parts if isinstance(part, str)]
    if len(fields) != 1 or not _is_simple(fields[0].form) or any(set(text) & set(_MARKUP) for text in texts):
        return None
    at = parts.index(fields[0])
    before, behind = ("".join(part for part in some if isinstance(part, str)) for some in (parts[:at], parts[at + 1 :]))
    return {"form": fields[0].form, "around": [before, behind]}


def _number(key: object) -> str:
    """A key as the page's script writes numbers."""
    try:
        value = float(str(key))
    except ValueError:
        return str(key)
    return str(int(value)) if value.is_integer() and abs(value) < 1e21 else repr(value)


def _is_simple(form: str) -> bool:
    if form.split(" ")[0] == ABSOLUTE:
        form = form.removeprefix(ABSOLUTE).strip()
    return form in ("", "percent", "si", "scientific") or (re.fullmatch(_FORMS, form) is not None and not is_time_pattern(form))


def clocks_of(low: float, high: float, zone: str) -> dict[str, list[float]]:
    """From when on the clocks of a zone are how far ahead of UTC, in microseconds, from a while before a range to one after it.

    >>> clocks_of(0.0, 86400e6, "Asia/Kolkata")["ahead"]
    [19800000000]
    """
    first, last = int(low) - 40 * DAY, int(high) + 40 * DAY
    size = max(_SEARCHED, (last - first) // _MOST_SEARCHED)
    starts, ahead, before = [float(first)], [float(offset_at(first, zone))], first
    for at in range(first + size, last + size, size):
        while offset_at(at, zone) != ahead[-1]:
            early, late = before, at
            while late - early > 1:
                middle = (early + late) // 2
                early, late = (middle, late) if offset_at(middle, zone) == ahead[-1] else (early, middle)
            starts.append(float(late))
            ahead.append(float(offset_at(late, zone)))
            before = late
        before = at
    return {"starts": starts, "ahead": [int(one) if one.is_integer() else one for one in ahead]}
