"""What kind of variable an array holds, and how to read it as another kind when the analyst says so."""

from __future__ import annotations

import math
from collections.abc import Iterable
from decimal import Decimal
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray
from facetine.core.scales.position import natural_key
from facetine.data.table import KINDS, Column, Kind
from facetine.errors import DataError, KindError, OptionError, unknown

_FEW = 12
_YES_NO = (False, True)


def column_of(name: str, values: AnyArray, missing: BoolArray | None = None, *, whole: bool = False) -> Column:
    """A column from a NumPy array of any type.

    Args:
        name: Its name.
        values: Shape (n,): numbers, text, truth values, dates, or Python objects of one of these.
        missing: Shape (n,): where there is no value, beside NaN, NaT, None and masked ones; None for nowhere.
        whole: Whether floats are whole numbers that became floats only because some are missing.

    Raises:
        DataError: The array is not one-dimensional, or holds things that are no values, such as lists.
    """
    if values.ndim != 1:
        raise DataError(f"column {name!r} has {values.ndim} dimensions", "a column has one: shape (n,)")
    if isinstance(values, np.ma.MaskedArray):
        mask = np.ma.getmaskarray(values)
        missing = mask if missing is None else missing | mask
        values = values.data
    code = values.dtype.kind
    if code in "iuf":
        return _numbers(name, values, missing, whole=whole or code != "f")
    if code == "b":
        return Column(name, "yes_no", _put_missing(values.astype(np.int64), missing), _YES_NO)
    if code == "M":
        return _times(name, values, missing)
    if code == "m":
        seconds = values.astype("timedelta64[us]").astype(float) / 1e6
        seconds[np.isnat(values)] = np.nan
        return Column(name, "number", seconds, hint=f"column {name!r} holds durations; they are taken as seconds")
    if code in "UT":
        return _texts(name, values.astype(object), missing)
    if code == "O":
        return _objects(name, values, missing)
    raise DataError(f"column {name!r} holds {values.dtype}", "a column holds numbers, text, truth values or times")


def _put_missing(codes: AnyArray, missing: BoolArray | None) -> AnyArray:
    return codes if missing is None else np.where(missing, -1, codes)


def _numbers(name: str, values: AnyArray, missing: BoolArray | None, whole: bool) -> Column:
    numbers = values.astype(np.float64)
    if missing is not None:
        numbers = np.where(missing, np.nan, numbers)
    hint = None
    if whole and len(numbers) >= 2 * _FEW:
        # A look at the first rows is enough to rule out most columns, however long they are.
        found = np.unique(numbers[:1000])
        if len(found) <= _FEW:
            found = np.unique(numbers[~np.isnan(numbers)])
        if 1 < len(found) <= _FEW:
            hint = (
                f"column {name!r} holds {len(found)} different whole numbers and is taken as a number; "
                f'write .kinds({name}="category") if they are categories'
            )
    return Column(name, "number", numbers, hint=hint)


def _times(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    gone = np.isnat(values)
    micro = values.astype("datetime64[us]").astype(np.float64)
    micro[gone if missing is None else gone | missing] = np.nan
    return Column(name, "time", micro)


def _texts(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    """Text as categories; a hint where all of it could be numbers."""
    codes, levels = factorized(values, missing, name)
    hint = None
    if levels and all(isinstance(level, str) and _number(level) is not None for level in levels):
        hint = (
            f"column {name!r} holds numbers written as text and is taken as a category; "
            f'write .kinds({name}="number") to draw them as numbers'
        )
    return Column(name, "category", codes, levels, hint=hint)


def _objects(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    """Python objects: the kind is that of all values that are there."""
    if set(map(type, values.tolist())) == {str}:
        return _texts(name, values, missing)
    gone = np.fromiter((is_missing(value) for value in values), bool, len(values))
    if missing is not None:
        gone |= missing
    present = values[~gone]
    if not len(values):
        return Column(name, "category", np.zeros(0, np.int64))
    if not len(present):
        hint = f"column {name!r} holds no value at all"
        return Column(name, "number", np.full(len(values), np.nan), hint=hint)
    types = set(map(type, present))
    if all(issubclass(kind, bool | np.bool_) for kind in types):
        codes = np.full(len(values), -1, np.int64)
        codes[~gone] = present.astype(bool)
        return Column(name, "yes_no", codes, _YES_NO)
    if all(issubclass(kind, int | float | Decimal | np.number) for kind in types):
        numbers = np.full(len(values), np.nan)
        numbers[~gone] = present.astype(np.float64)
        return _numbers(name, numbers, None, whole=all(issubclass(kind, int | np.integer) for kind in types))
    if all(hasattr(kind, "isoformat") and hasattr(kind, "year") for kind in types):
        return _dates(name, values, gone)
    return _texts(name, values, gone)


def _dates(name: str, values: AnyArray, gone: BoolArray) -> Column:
    """Python dates and datetimes, with or without zones (the first one's zone is the column's)."""
    micro = np.full(len(values), np.nan)
    zone = None
    for place in np.flatnonzero(~gone):
        value = values[place]
        offset = value.utcoffset() if hasattr(value, "utcoffset") else None
        if offset is not None:
            if zone is None:
                zone = str(getattr(value.tzinfo, "key", value.tzinfo))
            value = value.replace(tzinfo=None) - offset
        micro[place] = np.datetime64(value, "us").astype(np.int64)
    return Column(name, "time", micro, zone=known_zone(zone))


def known_zone(zone: str | None) -> str | None:
    """The zone when its calendar can be had here; fixed offsets and unknown names are read as UTC."""
    if zone is None:
        return None
    from zoneinfo import ZoneInfo

    try:
        ZoneInfo(zone)
    except Exception:
        return "UTC"
    return zone


def is_missing(value: object) -> bool:
    """Whether a Python object stands for no value."""
    if value is None:
        return True
    if isinstance(value, str):
        return False
    if isinstance(value, float | np.floating):
        return math.isnan(value)
    if isinstance(value, Decimal):
        return value.is_nan()
    return type(value).__name__ in ("NAType", "NaTType") or (
        isinstance(value, np.datetime64 | np.timedelta64) and bool(np.isnat(value))
    )


def factorized(
    values: AnyArray, missing: BoolArray | None, name: str, order: Iterable[object] = ()
) -> tuple[AnyArray, tuple[object, ...]]:
    """Positions among the distinct values, in natural order, or in the given one.

    Args:
        values: Shape (n,), Python objects.
        missing: Shape (n,): where there is no value, beside None and NaN.
        name: The column's name, for the error.
        order: Levels that come first, in this order, also where they do not occur.

    Returns:
        Positions of shape (n,), −1 where missing, and the levels.

    Raises:
        DataError: Some value can't be a category, such as a list.
    """
    items = values.tolist()
    try:
        found = set(items)
    except TypeError as problem:
        bad = next(item for item in items if getattr(item, "__hash__", None) is None)
        raise DataError(
            f"column {name!r} holds a {type(bad).__name__}", "a column holds numbers, text, truth values or times"
        ) from problem
    levels = list(order)
    known = set(levels)
    rest = [value for value in found if not is_missing(value) and value not in known]
    levels += sorted(rest, key=lambda value: (natural_key(str(value)), str(value)))
    places: dict[object, int] = {value: -1 for value in found if is_missing(value)}
    places.update((level, place) for place, level in enumerate(levels))
    codes = np.fromiter(map(places.__getitem__, items), np.int64, len(items))
    return _put_missing(codes, missing), tuple(levels)


def _number(text: str) -> float | None:
    try:
        value = float(text.strip().replace("−", "-"))
    except ValueError:
        return None
    return value if math.isfinite(value) else None


def as_kind(column: Column, kind: str, where: str) -> Column:
    """The same column read as another kind.

    Args:
        column: The column as taken in.
        kind: One of number, category, ordered, time, yes_no.
        where: The verb that asks, for the error.

    Raises:
        OptionError: There is no such kind.
        KindError: The values can't be read so.
    """
    if kind not in KINDS:
        raise unknown(OptionError, where, f"column {column.name!r}: no kind", kind, KINDS, "kinds")
    if kind == column.kind:
        return Column(column.name, column.kind, column.values, column.levels, column.zone, column.own_order)
    if kind in ("category", "ordered"):
        return _as_levels(column, "category" if kind == "category" else "ordered")
    reader = {"number": _as_number, "time": _as_time, "yes_no": _as_yes_no}[kind]
    return reader(column, where)


def _as_levels(column: Column, kind: Kind) -> Column:
    if column.discrete:
        return Column(column.name, kind, column.values, column.levels, own_order=column.own_order)
    present = ~np.isnan(column.values)
    found, codes = np.unique(column.values[present], return_inverse=True)
    places = np.full(len(column.values), -1, np.int64)
    places[present] = codes
    if column.kind == "time":
        whole_days = bool(np.all(found % 86_400_000_000 == 0))
        moments = found.astype(np.int64).astype("datetime64[us]")
        levels: tuple[object, ...] = tuple(np.datetime_as_string(moments, unit="D" if whole_days else "s").tolist())
    else:
        levels = tuple(int(value) if value.is_integer() and abs(value) < 1e15 else value for value in found.tolist())
    return Column(column.name, kind, places, levels, own_order=True)


def _from_levels(column: Column, numbers: list[float]) -> AnyArray:
    table = np.array([*numbers, np.nan])
    return table[column.values]


def _refuse(column: Column, kind: str, where: str, bad: object) -> KindError:
    return KindError(f"{where}: column {column.name!r} can't be read as {kind}: {bad!r}", f"its kind is {column.kind}")


def _as_number(column: Column, where: str) -> Column:
    if column.kind == "time":
        return Column(column.name, "number", column.values / 1e6)
    numbers = []
    for level in column.levels:
        value = _number(level) if isinstance(level, str) else float(level)  # type: ignore[arg-type]
        if value is None:
            raise _refuse(column, "number", where, level)
        numbers.append(value)
    return Column(column.name, "number", _from_levels(column, numbers))


def _as_time(column: Column, where: str) -> Column:
    if column.kind == "number":
        raise KindError(
            f"{where}: column {column.name!r} holds numbers, which are no times by themselves",
            "turn them into dates in the data frame, where their unit and start are known",
        )
    micro, zone = [], None
    for level in column.levels:
        moment: Any = _moment(str(level))
        if moment is None:
            raise _refuse(column, "time", where, level)
        if moment.tzinfo is not None:
            zone = "UTC"
            moment = (moment - moment.utcoffset()).replace(tzinfo=None)
        micro.append(float(np.datetime64(moment, "us").astype(np.int64)))
    return Column(column.name, "time", _from_levels(column, micro), zone=zone)


def _moment(text: str) -> Any:
    from datetime import datetime

    text = text.strip()
    for full in (text, f"{text}-01", f"{text}-01-01"):
        try:
            return datetime.fromisoformat(full)
        except ValueError:
            continue
    return None


def _as_yes_no(column: Column, where: str) -> Column:
    words = {"yes": 1, "no": 0, "true": 1, "false": 0, "y": 1, "n": 0, "1": 1, "0": 0}
    levels = _as_levels(column, "category")
    codes = []
    for level in levels.levels:
        word = str(level).strip().lower()
        if word not in words:
            raise _refuse(column, "yes_no", where, level)
        codes.append(words[word])
    return Column(column.name, "yes_no", np.array([*codes, -1], np.int64)[levels.values], _YES_NO)
