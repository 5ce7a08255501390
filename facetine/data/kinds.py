"""What kind of variable an array holds, and how to read it as another kind when the analyst says so."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace
from decimal import Decimal

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray
from facetine.core.scales.position import natural_key
from facetine.data.dates import Dates, by_pattern, dates_of
from facetine.data.digits import numbers_of, read_number
from facetine.data.table import KINDS, Column, Hint, Kind, Stored
from facetine.errors import DataError, KindError, OptionError, unknown

_FEW = 12
_COARSE = ("Y", "M", "W", "D", "h", "m", "s", "ms")
_FARTHEST_YEAR = 200_000
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
        what = "is one value" if values.ndim == 0 else f"has {values.ndim} dimensions"
        raise DataError(f"column {name!r} {what}", "a column has one dimension: shape (n,)")
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
        gone = np.isnat(values) if missing is None else np.isnat(values) | missing
        seconds = values.astype("timedelta64[us]").astype(float) / 1e6
        seconds[gone] = np.nan
        return durations(name, seconds)
    if code in "UT":
        return _texts(name, values.astype(object), missing)
    if code == "O":
        return _objects(name, values, missing)
    raise DataError(f"column {name!r} holds {values.dtype}", "a column holds numbers, text, truth values or times")


def durations(name: str, seconds: AnyArray) -> Column:
    """A column of lengths of time, in seconds; axes write them as such."""
    hint = Hint("durations", f"column {name!r} holds durations; they are taken as seconds", mild=True)
    return Column(name, "number", seconds, hint=hint, stored="duration")


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
            hint = Hint(
                "few-whole-numbers",
                f"column {name!r} holds {len(found)} different whole numbers and is taken as a number",
                f'write .kinds({name}="category") if they are categories',
                mild=True,
            )
    return Column(name, "number", numbers, hint=hint, stored="whole" if whole else "plain")


def _times(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    gone = np.isnat(values) if missing is None else np.isnat(values) | missing
    unit = np.datetime_data(values.dtype)[0]
    if unit in _COARSE:
        # Days, months and years reach farther than microseconds do.
        years = values.astype("datetime64[Y]").astype(np.int64)
        far = ~gone & (np.abs(years) > _FARTHEST_YEAR)
        if far.any():
            raise DataError(
                f"column {name!r} holds times more than {_FARTHEST_YEAR:,} years from 1970",
                "a column of years as numbers has room for them",
            )
    micro = np.where(gone, np.datetime64(0, "us"), values.astype("datetime64[us]")).astype(np.float64)
    micro[gone] = np.nan
    hint = None
    if unit in ("ns", "ps", "fs", "as") and bool((values[~gone] != values[~gone].astype("datetime64[us]")).any()):
        hint = Hint("times-cut", f"column {name!r} holds times finer than a microsecond; they are cut to microseconds")
    return Column(name, "time", micro, hint=hint, stored="date" if unit in ("Y", "M", "W", "D") else "plain")


def _texts(name: str, values: AnyArray, missing: BoolArray | None) -> Column:
    """Text as categories, or times where all of it are dates; a hint where it could be something else."""
    codes, levels = factorized(values, missing, name)
    texts = [level for level in levels if isinstance(level, str)]
    if len(texts) < len(levels) or not texts:
        return Column(name, "category", codes, levels)
    dates = dates_of(texts)
    if dates is not None and dates.micro is not None:
        column = Column(name, "category", codes, levels)
        times = np.array([*dates.micro, np.nan])[column.values]
        stored: Stored = "date" if dates.days else "plain"
        return Column(name, "time", times, zone=dates.zone, hint=_order_hint(name, dates), stored=stored)
    hint = None
    if dates is not None:
        said = " and ".join(repr(text) for text in dates.spellings)
        hint = Hint(
            "mixed-dates",
            f"column {name!r} holds dates in several spellings ({said}) and is taken as a category",
            "spell them alike in the data",
        )
    else:
        hint = _number_hint(name, texts, codes)
    return Column(name, "category", codes, levels, hint=hint)


def _order_hint(name: str, dates: Dates) -> Hint | None:
    if not dates.other:
        return None
    return Hint(
        "date-order",
        f"column {name!r} holds dates such as {dates.spellings[0]!r}, which fit two orders; {dates.pattern} was taken",
        f'.kinds({name}="time:{dates.other}") takes the other',
    )


def _number_hint(name: str, texts: list[str], codes: AnyArray) -> Hint | None:
    """What to write where most cells of a text read as numbers."""
    read = numbers_of(texts)
    good = [value is not None for value in read.values]
    cells = np.bincount(codes[codes >= 0], minlength=len(texts))
    most = float(cells[good].sum()) / max(float(cells.sum()), 1.0)
    if most <= 0.5:
        return None
    others = [text for text, fits in zip(texts, good, strict=True) if not fits]
    if not others:
        return Hint(
            "numbers-as-text",
            f"column {name!r} holds numbers written as text and is taken as a category",
            f'write .kinds({name}="number") to draw them as numbers',
        )
    count = int(cells[[not fits for fits in good]].sum())
    shown = ", ".join(repr(text[:20]) for text in others[:4])
    return Hint(
        "numbers-as-text",
        f"column {name!r} holds numbers written as text, beside {count:,} cells such as {shown}, and is taken as a category",
        f'codebook={{"{name}": {{"kind": "number", "absent": [{shown}]}}}} reads it as numbers',
    )


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
        hint = Hint("no-value", f"column {name!r} holds no value at all")
        return Column(name, "number", np.full(len(values), np.nan), hint=hint)
    types = set(map(type, present))
    if all(issubclass(kind, bool | np.bool_) for kind in types):
        codes = np.full(len(values), -1, np.int64)
        codes[~gone] = present.astype(bool)
        return Column(name, "yes_no", codes, _YES_NO)
    if all(issubclass(kind, int | float | Decimal | np.number) for kind in types):
        numbers = np.full(len(values), np.nan)
        try:
            numbers[~gone] = present.astype(np.float64)
        except (OverflowError, ValueError) as problem:
            raise DataError(f"column {name!r} holds a number that is too large", "numbers reach to 1.8e308") from problem
        made = _numbers(name, numbers, None, whole=all(issubclass(kind, int | np.integer) for kind in types))
        if all(issubclass(kind, Decimal) for kind in types):
            return replace(made, stored="decimal", places=_decimal_places(present))
        return made
    if all(hasattr(kind, "isoformat") and hasattr(kind, "year") for kind in types):
        return _dates(name, values, gone)
    if all(hasattr(kind, "total_seconds") for kind in types):
        seconds = np.full(len(values), np.nan)
        seconds[~gone] = [value.total_seconds() for value in present]
        return durations(name, seconds)
    return _texts(name, values, gone)


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
            f"column {name!r} holds times with a time zone and times without one",
            "give all of them a zone, or none, in the data frame",
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


def as_kind(column: Column, kind: str, where: str) -> Column:
    """The same column read as another kind.

    Args:
        column: The column as taken in.
        kind: One of number, category, ordered, time, yes_no; "time:%m/%d/%Y" reads texts by a pattern of the C standard.
        where: The verb that asks, for the error.

    Raises:
        OptionError: There is no such kind.
        KindError: The values can't be read so.
    """
    kind, _, pattern = kind.partition(":")
    if kind not in KINDS or (pattern and kind != "time"):
        raise unknown(OptionError, where, f"column {column.name!r}: no kind", kind, KINDS, "kinds")
    if pattern:
        return _by_pattern(column, pattern, where)
    if kind == column.kind:
        return replace(column, hint=None)
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
    texts = [level for level in column.levels if isinstance(level, str)]
    if len(texts) < len(column.levels):
        numbers = [float(level) for level in column.levels]  # type: ignore[arg-type]
        return Column(column.name, "number", _from_levels(column, numbers))
    read = numbers_of(texts)
    bad = [text for text, value in zip(texts, read.values, strict=True) if value is None]
    if bad:
        shown = ", ".join(repr(text[:20]) for text in bad[:6])
        raise KindError(
            f"{where}: column {column.name!r} can't be read as number: {shown}" + (f", … ({len(bad)})" if len(bad) > 6 else ""),
            f'codebook={{"{column.name}": {{"absent": [{shown}]}}}} takes these words for missing',
        )
    made = Column(column.name, "number", _from_levels(column, [float(value or 0.0) for value in read.values]))
    if read.either:
        hint = Hint(
            "comma-order",
            f"column {column.name!r} holds numbers such as {read.either!r}; their commas were taken to part thousands",
            f'codebook={{"{column.name}": {{"decimal": ","}}}} takes decimals',
        )
        return replace(made, hint=hint)
    return made


def with_signs(column: Column, decimal: str | None, thousands: str | None, absent: tuple[str, ...], where: str) -> Column:
    """A column of text whose words for nothing are missing, and whose numbers are read by their signs, where any are said.

    Raises:
        KindError: A cell is no number by these signs.
    """
    gone = set(absent)
    if not column.discrete:
        return column
    keep = [str(level) not in gone for level in column.levels]
    place = np.append(np.where(keep, np.cumsum(keep) - 1, -1), -1).astype(np.int64)
    levels = tuple(level for level, kept in zip(column.levels, keep, strict=True) if kept)
    column = Column(column.name, column.kind, place[column.values], levels, own_order=column.own_order)
    if decimal is None and thousands is None:
        return column
    numbers = []
    for level in column.levels:
        value = read_number(str(level), decimal or ".", thousands)
        if value is None:
            raise _refuse(column, "number", where, level)
        numbers.append(value)
    return Column(column.name, "number", _from_levels(column, numbers))


def _by_pattern(column: Column, pattern: str, where: str) -> Column:
    """Texts read as times by a pattern."""
    if not column.discrete:
        if column.kind == "time" and column.hint is not None and column.hint.code == "date-order":
            # The other order of dates that fit both: day and month change places.
            return _months_first(column, pattern)
        raise KindError(f"{where}: column {column.name!r} holds {column.kind}s, which no pattern reads", f"pattern: {pattern}")
    micro = []
    for level in column.levels:
        moment = by_pattern(str(level), pattern)
        if moment is None:
            raise _refuse(column, f"time by {pattern!r}", where, level)
        micro.append(moment)
    return Column(column.name, "time", _from_levels(column, micro))


def _months_first(column: Column, pattern: str) -> Column:
    """Dates that were read with the day first, read with the month first where the pattern says so."""
    if pattern.find("%d") < pattern.find("%m"):
        return replace(column, hint=None)
    present = ~np.isnan(column.values)
    moments = column.values[present].astype(np.int64).astype("datetime64[us]")
    months, years = moments.astype("datetime64[M]"), moments.astype("datetime64[Y]")
    day = (moments.astype("datetime64[D]") - months).astype(np.int64)
    month = (months - years.astype("datetime64[M]")).astype(np.int64)
    rest = moments - moments.astype("datetime64[D]")
    turned = (years.astype("datetime64[M]") + day).astype("datetime64[D]") + month
    values = column.values.copy()
    values[present] = (turned.astype("datetime64[us]") + rest).astype(np.int64)
    return replace(column, values=values, hint=None)


def _as_time(column: Column, where: str) -> Column:
    if column.kind == "number":
        raise KindError(
            f"{where}: column {column.name!r} holds numbers, which are no times by themselves",
            "turn them into dates in the data frame, where their unit and start are known",
        )
    texts = [str(level) for level in column.levels]
    dates = dates_of(texts, loose=True)
    if dates is None or dates.micro is None:
        bad = next((text for text in texts if dates_of([text], loose=True) is None), texts[0] if texts else "")
        if dates is not None:
            said = " and ".join(repr(text) for text in dates.spellings)
            raise KindError(
                f"{where}: column {column.name!r} holds dates in several spellings: {said}", "spell them alike in the data"
            )
        raise KindError(
            f"{where}: column {column.name!r} can't be read as time: {bad!r}",
            f'its kind is {column.kind}; .kinds({column.name}="time:%d %b %Y") reads texts by a pattern',
        )
    return Column(
        column.name, "time", _from_levels(column, list(dates.micro)), zone=dates.zone, hint=_order_hint(column.name, dates)
    )


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
