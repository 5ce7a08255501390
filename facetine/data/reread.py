"""A column read as another kind than it was taken for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.data.dates import by_pattern, dates_of
from facetine.data.digits import MOST_OTHERS, THOUSANDS, Signs, numbers_in, read_number
from facetine.data.kinds import YES_NO, order_hint
from facetine.data.table import KINDS, Column, Hint, Kind, Table
from facetine.messages.errors import KindError, OptionError, unknown


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


def column_of_kind(table: Table, name: str, kind: str, where: str, use: str = "kinds") -> Column:
    """A column of a table read as another kind, which is done once in a table.

    Raises:
        MappingError: There is no such column.
        FacetineError: As for `as_kind`.
    """
    read = table.cache.get((name, kind))
    if read is None:
        read = table.cache[name, kind] = as_kind(table.need(name, where, use), kind, where)
    return read


def of_kinds(table: Table, kinds: Mapping[str, str], where: str) -> Table:
    """A table with some columns read as other kinds.

    Raises:
        MappingError: There is no such column.
        FacetineError: As for `as_kind`.
    """
    made = {name: column_of_kind(table, name, kind, where) for name, kind in kinds.items()}
    return replace(table, load=lambda name: made.get(name) or table.column(name), cache={}) if made else table


def _as_levels(column: Column, kind: Kind) -> Column:
    if column.discrete:
        return Column(column.name, kind, column.values, column.levels, own_order=column.own_order)
    present = ~np.isnan(column.values)
    known = column.values if column.exact is None else column.exact
    found, codes = np.unique(known[present], return_inverse=True)
    places = np.full(len(column.values), -1, np.int64)
    places[present] = codes
    if column.kind == "time":
        whole_days = bool(np.all(found % 86_400_000_000 == 0))
        moments = found.astype(np.int64).astype("datetime64[us]")
        levels: tuple[object, ...] = tuple(np.datetime_as_string(moments, unit="D" if whole_days else "s").tolist())
    elif column.exact is not None:
        levels = tuple(int(value) for value in found.tolist())
    else:
        levels = tuple(int(value) if value.is_integer() and abs(value) <= 2**53 else value for value in found.tolist())
    return Column(column.name, kind, places, levels, own_order=True)


def _from_levels(column: Column, numbers: list[float]) -> AnyArray:
    table = np.array([*numbers, np.nan])
    return table[column.values]


def _refuse(column: Column, kind: str, where: str, bad: object) -> KindError:
    return KindError(where, f"column {column.name!r} can't be read as {kind}: {bad!r}", f"its kind is {column.kind}")


def _as_number(column: Column, where: str) -> Column:
    if column.kind == "time":
        return Column(column.name, "number", column.values / 1e6)
    texts = [level for level in column.levels if isinstance(level, str)]
    if len(texts) < len(column.levels):
        numbers = [float(level) for level in column.levels]  # type: ignore[arg-type]
        return Column(column.name, "number", _from_levels(column, numbers))
    counts = dict.fromkeys(map(str.strip, texts), 1)
    found = numbers_in(counts, codes=True)
    others = found.others if found is not None else [text for text in counts if not Signs(".", THOUSANDS["."]).reads(text)]
    if found is None or others:
        shown = ", ".join(repr(text[:20]) for text in others[:MOST_OTHERS]) or "no value"
        more = f", … ({len(others)})" if len(others) > MOST_OTHERS else ""
        manner = f", with {found.signs.words}" if found is not None and found.signs.words else ""
        raise KindError(
            where,
            f"column {column.name!r} can't be read as number{manner}: {shown}{more}",
            f'codebook={{"{column.name}": {{"absent": [{shown}]}}}} takes these words for missing',
        )
    made = Column(column.name, "number", _from_levels(column, [float(found.signs.value(text.strip())) for text in texts]))
    if not found.either:
        return made
    parts, other = ("part thousands", ",") if found.signs.decimal == "." else ("stand before decimals", ".")
    hint = Hint(
        "comma-order",
        f"column {column.name!r} holds numbers such as {found.either!r}; their commas were taken to {parts}",
        f'codebook={{"{column.name}": {{"decimal": "{other}"}}}} takes them otherwise',
    )
    return replace(made, hint=hint)


def with_signs(column: Column, decimal: str | None, thousands: str | None, absent: tuple[str, ...], where: str) -> Column:
    """A column of text whose words for nothing are missing, and whose numbers are read by their signs, where any are said.

    Raises:
        KindError: A cell is no number by these signs.
    """
    gone = set(absent)
    if not column.discrete:
        return _without(column, absent) if column.kind == "number" else column
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


def _without(column: Column, absent: tuple[str, ...]) -> Column:
    """Numbers, of which those that mean "no value" are missing."""
    numbers = [value for word in absent if (value := read_number(word, ".", None)) is not None]
    gone = np.isin(column.values, numbers)
    if not gone.any():
        return column
    exact = None if column.exact is None else np.where(gone, 0, column.exact)
    return replace(column, values=np.where(gone, np.nan, column.values), exact=exact)


def _by_pattern(column: Column, pattern: str, where: str) -> Column:
    """Texts read as times by a pattern."""
    if not column.discrete:
        if column.kind == "time" and column.hint is not None and column.hint.code == "date-order":
            # The other order of dates that fit both: day and month change places.
            return _months_first(column, pattern)
        raise KindError(where, f"column {column.name!r} holds {column.kind}s, which no pattern reads", f"pattern: {pattern}")
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
            where,
            f"column {column.name!r} holds numbers, which are no times by themselves",
            "turn them into dates in the data frame, where their unit and start are known",
        )
    texts = [str(level) for level in column.levels]
    dates = dates_of(texts, loose=True)
    if dates is None or dates.micro is None:
        bad = next((text for text in texts if dates_of([text], loose=True) is None), texts[0] if texts else "")
        if dates is not None:
            said = " and ".join(repr(text) for text in dates.spellings)
            raise KindError(
                where, f"column {column.name!r} holds dates in several spellings: {said}", "spell them alike in the data"
            )
        raise KindError(
            where,
            f"column {column.name!r} can't be read as time: {bad!r}",
            f'its kind is {column.kind}; .kinds({column.name}="time:%d %b %Y") reads texts by a pattern',
        )
    return Column(
        column.name, "time", _from_levels(column, list(dates.micro)), zone=dates.zone, hint=order_hint(column.name, dates)
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
    return Column(column.name, "yes_no", np.array([*codes, -1], np.int64)[levels.values], YES_NO)
