"""What the cells of a column are: numbers, truth values, dates, or words. One rule for whatever a table was read from.

A column is of numbers, or of dates, where all of its values are written so in one convention; and where nine in ten are and the
rest are few different texts, such as "n.b.", which then are missing, and told.
"""

from __future__ import annotations

import datetime as dt
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from decimal import Decimal
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, in_zone, mask_of, with_none
from facetine.data.dates import dates_among
from facetine.data.dialect import Told
from facetine.data.digits import LEAST_SHARE, MOST_OTHERS, Numbers, Signs, numbers_in, read_number, taken

NULLS = frozenset(("", "NA", "N/A", "NaN", "nan", "null", "NULL"))
"""Cells that mean "no value"; "None" and "-" are left to the analyst, they may be words."""
_SHOWN = 6
_INSTANTS = ", of UTC"
"""Behind the type of times that say how far they are from UTC."""
_GONE = (type(None), float, Decimal)


class Taken(NamedTuple):
    """A column as it was taken, and what is to be told of it."""

    array: AnyArray
    """Shape (n,): whole numbers, numbers, truth values, days or moments, or texts. Where there is no value, there is NaN, NaT
    or None; whole numbers and truth values are masked."""
    notes: tuple[str, ...] = ()


class _Read(NamedTuple):
    """What each different text of a column is."""

    values: Mapping[str, object]
    kind: str
    """The type of an array of them."""
    empty: object
    """What stands where there is none."""
    others: tuple[str, ...] = ()
    """The texts that are missing, since all else is something else."""
    numbers: Numbers | None = None


def of_text(
    cells: Sequence[str | None], name: str, told: Told, signs: Signs, *, written: bool = True, sure: bool = True
) -> Taken | None:
    """A column of texts, each different one of which is looked at once; None where it stays as it is.

    Args:
        cells: Of length n; None where there is no value.
        name: The column's, for what is told.
        told: What the analyst says of the table.
        signs: How numbers are written in the table as a whole.
        written: Whether the table is a text throughout, in which an empty cell and the like are no words.
        sure: Whether something in the table tells a comma before decimals from one between thousands.
    """
    counts = Counter(cells)
    words = [word for word in counts if word is not None]
    absent = {word for word in words if word.strip() in told.absent}
    empty = {word for word in words if word.strip() in NULLS}
    rest = Counter({word: counts[word] for word in words if word not in absent | empty})
    read = None if name in told.texts else _read(rest, {}, name, told, signs)
    if read is None:
        gone = absent | empty if written else absent
        return Taken(objects([None if cell in gone else cell for cell in cells])) if gone else None
    missing: set[str | None] = {None, *absent, *empty, *read.others}
    values: dict[str | None, object] = dict.fromkeys(missing, read.empty)
    values.update(read.values)
    array = np.array(list(map(values.__getitem__, cells)), read.kind.removesuffix(_INSTANTS))
    notes = _notes(read, rest, name, told, signs, sure=sure)
    if read.numbers is not None and not read.others and not written:
        notes = (f"{name!r} holds numbers written as text, which are read as numbers", *notes)
    return Taken(_finished(array, read, [cell in missing for cell in cells]), notes)


def taken_columns(columns: Mapping[str, AnyArray], told: Told, *, typed: bool = False) -> tuple[dict[str, AnyArray], list[str]]:
    """The columns of a table whose source knows numbers from texts, and what is to be told of them.

    Args:
        columns: Arrays of shape (n,).
        told: What the analyst says of the table.
        typed: Whether each column says what it is, so that texts stay such; else they are read as those of a text file are.
    """
    made, notes = dict[str, AnyArray](), list[str]()
    for name, array in columns.items():
        taken = _of_array(array, name, told, typed)
        made[name] = taken.array
        notes += taken.notes
    return made, notes


def of_cells(cells: Sequence[Any], name: str, told: Told) -> Taken:
    """A column of values of several sorts, such as those of a sheet, or of a database whose columns hold anything.

    Numbers beside texts are numbers where nine in ten of all are; so are times. Other mixtures are texts, which is told.

    Args:
        cells: Of length n; None and NaN where there is no value.
        name: The column's.
        told: What the analyst says of the table.
    """
    cells = [None if _is_gone(cell) or _is_absent(cell, told) else cell for cell in cells]
    there = [cell for cell in cells if cell is not None]
    kinds = Counter(map(_kind, there))
    if name in told.texts:
        return Taken(objects([None if cell is None else _word(cell) for cell in cells]))
    if not kinds:
        return Taken(np.full(len(cells), np.nan))
    if set(kinds) == {"truth"}:
        return Taken(np.ma.masked_array([bool(cell) for cell in cells], [cell is None for cell in cells]))
    if set(kinds) == {"length of time"}:
        return Taken(np.array([_length(cell) for cell in cells], "timedelta64[us]"))
    if set(kinds) in ({"number"}, {"time"}):
        return Taken(_plain(cells, next(iter(kinds))))
    if "text" in kinds and len(kinds) <= 2 and "truth" not in kinds:
        beside = next((kind for kind in kinds if kind != "text"), "")
        words = Counter(cell for cell in there if isinstance(cell, str) and cell.strip() not in NULLS)
        read = _read(words, {beside: kinds[beside]}, name, told, told.signs)
        if read is not None and not (beside == "time" and read.numbers is not None):
            values = {**dict.fromkeys(read.others), **read.values}
            plain = [values.get(cell) if isinstance(cell, str) else cell for cell in cells]
            notes = _notes(read, words, name, told, told.signs, sure=False, beside=kinds[beside])
            if not beside and not read.others and read.numbers is not None:
                notes = (f"{name!r} holds numbers written as text, which are read as numbers", *notes)
            if read.kind == "object":
                return Taken(objects(plain), notes)
            if read.kind == "bool":
                return Taken(np.ma.masked_array([bool(cell) for cell in plain], [cell is None for cell in plain]), notes)
            return Taken(_plain(plain, "time" if read.kind.startswith("datetime") else "number"), notes)
    texts = objects([None if cell is None else _word(cell) for cell in cells])
    if len(kinds) == 1:
        return Taken(texts)
    few = min(kinds, key=lambda kind: kinds[kind])
    example = next(cell for cell in there if _kind(cell) == few)
    return Taken(texts, (f"{name!r} holds cells of several kinds, such as {str(example)[:40]!r}: read as text",))


def objects(cells: Sequence[Any]) -> AnyArray:
    """An array of objects of shape (n,), whatever they are."""
    made: AnyArray = np.array([*cells, None], object)[:-1]
    return made


def _of_array(array: AnyArray, name: str, told: Told, typed: bool) -> Taken:
    """A column of one type; one of texts is read as the rule has it where nothing says that it is of texts."""
    if name in told.texts:
        return Taken(objects([None if _is_gone(cell) else _word(cell) for cell in with_none(array).tolist()]))
    if array.dtype.kind != "O":
        return Taken(_without(array, told))
    cells = with_none(array).tolist()
    types = set(map(type, cells))
    if str not in types or typed:
        return Taken(objects([None if _is_absent(cell, told) else cell for cell in cells]) if told.absent else array)
    beside = types - {str, *_GONE}
    if not beside and float not in types and Decimal not in types:
        return of_text(cells, name, told, told.signs, written=False, sure=False) or Taken(array)
    there = [cell for cell in cells if not _is_gone(cell)]
    if set(map(_kind, there)) <= {"text", "number"} or (beside == {dt.datetime} and all(_is_naive(cell) for cell in there)):
        return of_cells(cells, name, told)
    return Taken(objects([None if _is_absent(cell, told) else cell for cell in cells]) if told.absent else array)


def _without(array: AnyArray, told: Told) -> AnyArray:
    """Numbers without those that the analyst said are no values."""
    if not told.absent or array.dtype.kind not in "iuf":
        return array
    numbers = [value for word in told.absent if (value := read_number(word, ".", None)) is not None]
    gone = np.isin(np.asarray(array), numbers)
    before = mask_of(array)
    return np.ma.masked_array(np.asarray(array), gone if before is None else gone | before) if gone.any() else array


def _is_naive(cell: Any) -> bool:
    return not isinstance(cell, dt.datetime) or cell.tzinfo is None


def _read(words: Counter[str], beside: Mapping[str, int], name: str, told: Told, signs: Signs) -> _Read | None:
    """What a column's texts are; None where they are words.

    Args:
        words: How often each occurs.
        beside: How many values are numbers or times already.
        name: The column's.
        told: What the analyst says.
        signs: How numbers are written in the source as a whole.
    """
    if not words:
        return None
    counts: Counter[str] = Counter()
    for word, count in words.items():
        counts[word.strip()] += count
    total = sum(counts.values()) + sum(beside.values())
    bare = {word: word.strip() for word in words}
    found = numbers_in(counts, signs, beside=beside.get("number", 0), sure=told.decimal is not None)
    if found is not None and taken(found, total) and not (found.others and name in told.categories):
        return _of_numbers(bare, found, 0 if not beside else None)
    if beside.get("number"):
        return None
    if all(text.lower() in ("true", "false") for text in counts) and not beside:
        return _Read({word: text.lower() == "true" for word, text in bare.items()}, "bool", False)
    return _of_dates(bare, counts, total, name, told)


def _of_numbers(bare: Mapping[str, str], found: Numbers, whole: int | None) -> _Read:
    """Texts as numbers; whole ones are such where all of them are, and nothing else is beside them."""
    others = set(found.others)
    values = {word: found.signs.value(text) for word, text in bare.items() if text not in others}
    missing = tuple(word for word, text in bare.items() if text in others)
    if whole is not None and all(isinstance(value, int) for value in values.values()):
        return _Read(values, "int64", whole, missing, found)
    return _Read({word: float(value) for word, value in values.items()}, "float64", np.nan, missing, found)


def _of_dates(bare: Mapping[str, str], counts: Counter[str], total: int, name: str, told: Told) -> _Read | None:
    """Texts as dates; those that are not in the international form stay texts, so that all intake of texts decides alike."""
    found = dates_among(list(counts))
    if found is None:
        return None
    dates, others = found
    if others and (name in told.categories or len(others) > MOST_OTHERS):
        return None
    if sum(counts[text] for text in others) > total * (1 - LEAST_SHARE) + 1e-9:
        return None
    dated = [text for text in counts if text not in others]
    missing = tuple(word for word, text in bare.items() if text in others)
    if dates.pattern != "%Y-%m-%d":
        kept = {word: word for word, text in bare.items() if text not in others}
        return _Read(kept, "object", None, missing) if others else None
    assert dates.micro is not None
    kind = "datetime64[D]" if dates.days else "datetime64[us]"
    moments = np.array(dates.micro).astype("datetime64[us]").astype(kind).tolist()
    values = dict(zip(dated, moments, strict=True))
    kind += _INSTANTS if dates.zone is not None else ""
    return _Read({word: values[text] for word, text in bare.items() if text in values}, kind, np.datetime64("NaT"), missing)


def _finished(array: AnyArray, read: _Read, missing: list[bool]) -> AnyArray:
    if read.kind.endswith(_INSTANTS):
        return in_zone(array, "UTC")
    return np.ma.masked_array(array, missing) if read.kind in ("int64", "bool") and any(missing) else array


def _notes(
    read: _Read, counts: Counter[str], name: str, told: Told, signs: Signs, *, sure: bool, beside: int = 0
) -> tuple[str, ...]:
    """What is to be told of a column that was read as something else than texts."""
    notes = list[str]()
    if read.others:
        every = Counter[str]()
        for word in read.others:
            every[word.strip()] += counts[word]
        words = sorted(every, key=lambda word: (-every[word], word))
        count, total = every.total(), counts.total() + beside
        shown = ", ".join(f"{word[:20]!r} ({every[word]:,})" for word in words[:_SHOWN]) + (", …" if len(words) > _SHOWN else "")
        what = "dates" if read.numbers is None else "numbers"
        ways = f"absent={[word[:20] for word in words[:_SHOWN]]} says so, as_text=[{name!r}] keeps them"
        notes.append(f"{count:,} of {total:,} values of {name!r} are no {what}, and missing: {shown}; {ways}")
    return (*notes, *_manner(read, name, told, signs, sure)) if read.numbers is not None else tuple(notes)


def _manner(read: _Read, name: str, told: Told, signs: Signs, sure: bool) -> Iterator[str]:
    """How numbers are written, where it is not as in the table as a whole, or may be otherwise."""
    assert read.numbers is not None
    own, either = read.numbers.signs, read.numbers.either
    if own.percent:
        yield f"{name!r} holds numbers with percent signs, such as {next(iter(read.values))!r}; its unit is %"
    if either and not sure and told.decimal is None and told.thousands is None:
        use, other = ("part thousands", ",") if own.decimal == "." else ("stand before decimals", ".")
        yield f"{name!r} holds numbers such as {either!r}, whose comma is taken to {use}; decimal={other!r} takes it otherwise"
        return
    example = next((text for word in read.values if not signs._replace(percent=own.percent).reads(text := word.strip())), "")
    if example:
        yield f"{name!r} is read with {own._replace(percent=False).words or 'a point before decimals'}, such as {example!r}"


def _plain(cells: Sequence[Any], kind: str) -> AnyArray:
    """Numbers or moments, with None where there is no value."""
    if kind == "time":
        moments = [np.datetime64("NaT") if cell is None else np.datetime64(_moment(cell), "us") for cell in cells]
        return np.array(moments, "datetime64[us]")
    there = [cell for cell in cells if cell is not None]
    whole = all((isinstance(cell, int) or float(cell).is_integer()) and abs(cell) < 2**53 for cell in there)
    if whole and len(there) == len(cells):
        return np.array([int(cell) for cell in cells])
    if any(isinstance(cell, int) and abs(cell) > 2**53 for cell in there):
        return objects(cells)
    return np.array([np.nan if cell is None else float(cell) for cell in cells], float)


def _kind(cell: Any) -> str:
    if isinstance(cell, bool | np.bool_):
        return "truth"
    if isinstance(cell, int | float | Decimal | np.number):
        return "number"
    if isinstance(cell, dt.datetime | dt.date):
        return "time"
    if isinstance(cell, dt.time | dt.timedelta):
        return "length of time"
    return "text" if isinstance(cell, str) else type(cell).__name__


def _is_gone(cell: Any) -> bool:
    return cell is None or (isinstance(cell, _GONE) and cell != cell) or type(cell).__name__ in ("NAType", "NaTType")


def _is_absent(cell: Any, told: Told) -> bool:
    """Whether the analyst said that a cell is no value: by its text, or as the same number."""
    if not told.absent:
        return False
    if isinstance(cell, str):
        return cell.strip() in told.absent
    return _kind(cell) == "number" and any(read_number(word, ".", None) == float(cell) for word in told.absent)


def _length(cell: Any) -> np.timedelta64:
    """A length of time; the time of a day is that since midnight."""
    if cell is None:
        return np.timedelta64("NaT")
    since = cell if isinstance(cell, dt.timedelta) else dt.datetime.combine(dt.date.min, cell) - dt.datetime.min
    return np.timedelta64(since)


def _moment(cell: Any) -> dt.datetime:
    return cell if isinstance(cell, dt.datetime) else dt.datetime(cell.year, cell.month, cell.day)


def _word(cell: Any) -> str:
    return f"{cell:.0f}" if isinstance(cell, float) and cell.is_integer() and abs(cell) < 2**53 else str(cell)
