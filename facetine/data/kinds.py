"""What kind of variable an array holds, and how to read it as another kind when the analyst says so."""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import replace
from decimal import Decimal

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, mask_of, zone_of
from facetine.core.scales.position import in_natural_order
from facetine.data.dates import Dates, dates_of
from facetine.data.digits import MOST_OTHERS, is_code, numbers_in
from facetine.data.table import Column, Hint, Stored
from facetine.messages.errors import DataError

_MONTH = re.compile(r"\d{4}-(?:0[1-9]|1[0-2])")
_FEW = 12
_COARSE = ("Y", "M", "W", "D", "h", "m", "s", "ms")
_FARTHEST_YEAR = 200_000
YES_NO = (False, True)


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
        what = "is one value" if values.ndim == 0 else f"has {values.ndim} dimensions"
        raise DataError(f"column {name!r}", what, "a column has one dimension: shape (n,)", of_option=True)
    mask = mask_of(values)
    if mask is not None:
        missing = mask if missing is None else missing | mask
        values = np.asarray(values)
    code = values.dtype.kind
    if code in "iuf":
        return _numbers(name, values, missing, whole=whole or code != "f")
    if code == "b":
        return Column(name, "yes_no", _put_missing(values.astype(np.int64), missing), YES_NO)
    if code == "M":
        return _times(name, values, missing)
    if code == "m":
        gone = np.isnat(values) if missing is None else np.isnat(values) | missing
        seconds = values.astype("timedelta64[us]").astype(float) / 1e6
        seconds[gone] = np.nan
        return durations(name, seconds)
    if code in "UT":
        return of_texts(name, values.astype(object), missing)
    if code == "O":
        return _objects(name, values, missing)
    raise DataError(
        f"column {name!r}", f"holds {values.dtype}", "a column holds numbers, text, truth values or times", of_option=True
    )


def durations(name: str, seconds: AnyArray) -> Column:
    """A column of lengths of time, in seconds; axes write them as such."""
    hint = Hint("durations", f"column {name!r} holds durations; they are taken as seconds", mild=True)
    return Column(name, "number", seconds, hint=hint, stored="duration")


def _put_missing(codes: AnyArray, missing: BoolArray | None) -> AnyArray:
    return codes if missing is None else np.where(missing, -1, codes)


def _numbers(name: str, values: AnyArray, missing: BoolArray | None, whole: bool) -> Column:
    numbers = values.astype(np.float64)
    exact = _exact(values, missing)
    if missing is not None:
        numbers = np.where(missing, np.nan, numbers)
    hint = None
    if exact is not None:
        said = f"column {name!r} holds whole numbers beyond {_WHOLE:,}, which are rounded as places and in sums"
        hint = Hint("whole-numbers-rounded", said, f"{as_kind_call(name, 'category')} keeps them as they are")
        return Column(name, "number", numbers, hint=hint, stored="whole", exact=exact)
    if whole and len(numbers) >= 2 * _FEW:
        # A look at the first rows is enough to rule out most columns, however long they are.
        found = np.unique(numbers[:1000])
        if len(found) <= _FEW:
            found = np.unique(numbers[~np.isnan(numbers)])
        if 1 < len(found) <= _FEW:
            hint = Hint(
                "few-whole-numbers",
                f"column {name!r} holds {len(found)} different whole numbers and is taken as a number",
                f"write {as_kind_call(name, 'category')} if they are categories",
                mild=True,
            )
    return Column(name, "number", numbers, hint=hint, stored="whole" if whole else "plain")


def _exact(values: AnyArray, missing: BoolArray | None) -> AnyArray | None:
    """Whole numbers as they are, shape (n,), where floats would be others; else None."""
    if values.dtype.kind not in "iuO" or not len(values):
        return None
    whole = values if missing is None else np.where(missing, 0, values)
    if max(abs(int(whole.max())), abs(int(whole.min()))) <= _WHOLE:
        return None
    return whole


_WHOLE = 2**53
"""Up to here a float holds every whole number."""


def _times(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    gone = np.isnat(values) if missing is None else np.isnat(values) | missing
    unit = np.datetime_data(values.dtype)[0]
    if unit in _COARSE:
        # Days, months and years reach farther than microseconds do.
        years = values.astype("datetime64[Y]").astype(np.int64)
        far = ~gone & (np.abs(years) > _FARTHEST_YEAR)
        if far.any():
            raise DataError(
                f"column {name!r}",
                f"holds times more than {_FARTHEST_YEAR:,} years from 1970",
                "a column of years as numbers can hold them",
                of_option=True,
            )
    micro = np.where(gone, np.datetime64(0, "us"), values.astype("datetime64[us]")).astype(np.float64)
    micro[gone] = np.nan
    hint = None
    if unit in ("ns", "ps", "fs", "as") and bool((values[~gone] != values[~gone].astype("datetime64[us]")).any()):
        hint = Hint("times-cut", f"column {name!r} holds times finer than a microsecond; they are cut to microseconds")
    stored: Stored = "date" if unit in ("Y", "M", "W", "D") else "plain"
    return Column(name, "time", micro, zone=known_zone(zone_of(values)), hint=hint, stored=stored)


def of_texts(name: str, values: AnyArray, missing: BoolArray | None = None) -> Column:
    """Text as categories, or times where all of it are dates; a hint where it could be something else."""
    codes, levels = factorized(values, missing, name)
    texts = [level for level in levels if isinstance(level, str)]
    if len(texts) < len(levels) or not any(map(str.isdigit, set("".join(texts)))):
        # Neither dates nor numbers are written without digits.
        return Column(name, "category", codes, levels)
    dates = dates_of(texts)
    if dates is not None and dates.micro is not None:
        column = Column(name, "category", codes, levels)
        times = np.array([*dates.micro, np.nan])[column.values]
        stored: Stored = "date" if dates.days else "plain"
        return Column(name, "time", times, zone=dates.zone, hint=order_hint(name, dates), stored=stored)
    hint = None
    if all(map(_MONTH.fullmatch, texts)):
        said = f"column {name!r} holds months such as {texts[0]!r} and is taken as a category"
        hint = Hint("months-as-text", said, f"{as_kind_call(name, 'time')} takes them as times", mild=True)
    elif dates is not None:
        said = " and ".join(repr(text) for text in dates.spellings)
        hint = Hint(
            "mixed-dates",
            f"column {name!r} holds dates in several spellings ({said}) and is taken as a category",
            "spell them alike in the data",
        )
    else:
        hint = _number_hint(name, texts, codes)
    return Column(name, "category", codes, levels, hint=hint)


def as_kind_call(name: str, kind: str) -> str:
    """The verb that says what kind a column is.

    >>> as_kind_call("day", "time"), as_kind_call("Day of", "time")
    ('.kinds(day="time")', '.kinds(**{"Day of": "time"})')
    """
    from keyword import iskeyword

    said = name.isidentifier() and not iskeyword(name)
    return f'.kinds({name}="{kind}")' if said else f'.kinds(**{{"{name}": "{kind}"}})'


def order_hint(name: str, dates: Dates) -> Hint | None:
    """What to write where days and months may be exchanged; None where they can't be."""
    if not dates.other:
        return None
    return Hint(
        "date-order",
        f"column {name!r} holds dates such as {dates.spellings[0]!r}, which fit two orders; {dates.pattern} was taken",
        f"{as_kind_call(name, f'time:{dates.other}')} takes the other",
    )


def _number_hint(name: str, texts: list[str], codes: AnyArray) -> Hint | None:
    """What to write where most cells of a text read as numbers."""
    cells = np.bincount(codes[codes >= 0], minlength=len(texts))
    counts = Counter[str]()
    for text, count in zip(texts, cells.tolist(), strict=True):
        counts[text.strip()] += count
    found = numbers_in(counts)
    if found is None:
        return _code_hint(name, counts)
    manner = f" with {found.signs.words}" if found.signs.words else ""
    if not found.others:
        return Hint(
            "numbers-as-text",
            f"column {name!r} holds numbers written as text{manner} and is taken as a category",
            f"write {as_kind_call(name, 'number')} to draw them as numbers",
        )
    shown = ", ".join(repr(text[:20]) for text in found.others[:4])
    said = (
        f"column {name!r} holds numbers written as text{manner}, beside {found.rows:,} of {counts.total():,} cells such as "
        f"{shown}, and is taken as a category"
    )
    if len(found.others) > MOST_OTHERS:
        return Hint("numbers-as-text", said, f"{len(found.others):,} different texts are no numbers: make them such in the data")
    gone = ", ".join(map(repr, found.others))
    return Hint("numbers-as-text", said, f'codebook={{"{name}": {{"kind": "number", "absent": [{gone}]}}}} reads it as numbers')


def _code_hint(name: str, counts: Mapping[str, int]) -> Hint | None:
    """What to write where digits that were taken for names are numbers."""
    found = numbers_in(counts, codes=True)
    if found is None or found.others:
        return None
    code = next(text for text in counts if is_code(text))
    said = f"column {name!r} holds digits such as {code!r} and is taken as a category"
    return Hint("codes", said, f"write {as_kind_call(name, 'number')} if they are numbers", mild=True)


def _objects(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    """Python objects: the kind is that of all values that are there."""
    if set(map(type, values.tolist())) == {str}:
        return of_texts(name, values, missing)
    gone = np.fromiter((is_missing(value) for value in values), bool, len(values))
    if missing is not None:
        gone |= missing
    present = values[~gone]
    if not len(values):
        return Column(name, "category", np.zeros(0, np.int64))
    if not len(present):
        hint = Hint("no-value", f"column {name!r} holds no value at all")
        return Column(name, "number", np.full(len(values), np.nan), hint=hint)
    types = set(map(type, present))
    if all(issubclass(kind, bool | np.bool_) for kind in types):
        codes = np.full(len(values), -1, np.int64)
        codes[~gone] = present.astype(bool)
        return Column(name, "yes_no", codes, YES_NO)
    if all(issubclass(kind, int | float | Decimal | np.number) for kind in types):
        numbers = np.full(len(values), np.nan)
        try:
            numbers[~gone] = present.astype(np.float64)
        except (OverflowError, ValueError) as problem:
            raise DataError(
                f"column {name!r}", "holds a number that is too large", "numbers reach to 1.8e308", of_option=True
            ) from problem
        if all(issubclass(kind, int | np.integer) for kind in types):
            made = _numbers(name, np.where(gone, 0, values), gone if gone.any() else None, whole=True)
        else:
            made = _numbers(name, numbers, None, whole=False)
        if all(issubclass(kind, Decimal) for kind in types):
            return replace(made, stored="decimal", places=_decimal_places(present))
        return made
    if all(hasattr(kind, "isoformat") and hasattr(kind, "year") for kind in types):
        return _dates(name, values, gone)
    if all(hasattr(kind, "total_seconds") for kind in types):
        seconds = np.full(len(values), np.nan)
        seconds[~gone] = [value.total_seconds() for value in present]
        return durations(name, seconds)
    return of_texts(name, values, gone)


def _decimal_places(values: AnyArray) -> int:
    exponents = [value.as_tuple().exponent for value in values.tolist()]
    return min(max((-power for power in exponents if isinstance(power, int)), default=0), 18) if exponents else 0


def _dates(name: str, values: AnyArray, gone: BoolArray) -> Column:
    """Python dates and datetimes, all with zones or all without (the first one's zone is the column's).

    Raises:
        DataError: Some have a zone and some have none.
    """
    micro = np.full(len(values), np.nan)
    zone, naive, clocks = None, False, False
    for place in np.flatnonzero(~gone):
        value = values[place]
        offset = value.utcoffset() if hasattr(value, "utcoffset") else None
        if offset is not None:
            if zone is None:
                zone = str(getattr(value.tzinfo, "key", value.tzinfo))
            value = value.replace(tzinfo=None) - offset
        else:
            naive = True
        clocks = clocks or hasattr(value, "hour")
        micro[place] = np.datetime64(value, "us").astype(np.int64)
    if zone is not None and naive:
        raise DataError(
            f"column {name!r}",
            "holds times with a time zone and times without one",
            "give all of them a zone, or none, in the data frame",
            of_option=True,
        )
    return Column(name, "time", micro, zone=known_zone(zone), stored="plain" if clocks else "date")


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
        if isinstance(bad, Mapping):
            said = "holds objects", "a column holds numbers, text, truth values or times"
        elif hasattr(bad, "__len__"):
            way = f'a query gives each value a row: sql="SELECT * EXCLUDE ({name}), unnest({name}) AS {name} FROM …"'
            said = "holds lists of values", way
        else:
            said = f"holds a {type(bad).__name__}", "a column holds numbers, text, truth values or times"
        raise DataError(f"column {name!r}", *said, of_option=True) from problem
    levels = list(order)
    known = set(levels)
    rest = [value for value in found if not is_missing(value) and value not in known]
    levels += in_natural_order(rest)
    places: dict[object, int] = {value: -1 for value in found if is_missing(value)}
    places.update((level, place) for place, level in enumerate(levels))
    codes = np.fromiter(map(places.__getitem__, items), np.int64, len(items))
    return _put_missing(codes, missing), tuple(levels)
