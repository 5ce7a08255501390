"""Rows as they travel inside a figure's file: a table of text, with what each column is beside it."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import fields, replace
from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

from facetine.data.codebook import Codebook, Entry, Word
from facetine.data.table import Column, Table
from facetine.messages.errors import DataError

if TYPE_CHECKING:
    import pandas as pd

_MADE = ("words", "absent", "decimal", "thousands", "pattern", "classes", "origin")
"""What a codebook does to a column, which has been done to the rows that travel."""
Plain: TypeAlias = dict[str, Any]
_MICRO = "datetime64[us]"


def packed(table: Table, names: Sequence[str]) -> tuple[str, list[Plain]]:
    """Some columns of a table as CSV, and what each of them is.

    Args:
        table: The table.
        names: The columns.

    Raises:
        DataError: A column holds what no text can say.
    """
    columns = [_sorted(table.column(name)) for name in names]
    told = [_told(column) for column in columns]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    writer.writerows(zip(*[_texts(column) for column in columns], strict=True))
    return out.getvalue(), told


def unpacked(text: str, told: Sequence[Plain]) -> pd.DataFrame:
    """The rows again, as a data frame.

    Args:
        text: What `packed` wrote.
        told: What each column is.

    Raises:
        DataError: The two do not belong together.
    """
    import pandas as pd

    rows = list(csv.reader(io.StringIO(text)))
    if not rows or rows[0] != [one.get("name") for one in told] or any(len(row) != len(told) for row in rows[1:]):
        raise DataError("reopen", "the rows in the file are not the ones that it tells of")
    columns = list(zip(*rows[1:], strict=True)) if len(rows) > 1 else [()] * len(told)
    try:
        return pd.DataFrame({one["name"]: _series(values, one) for values, one in zip(columns, told, strict=True)})
    except (KeyError, ValueError, TypeError) as problem:
        raise DataError("reopen", f"the rows in the file can't be read: {problem}") from problem


def carried_codebook(codebook: Codebook, table: Table, names: Iterable[str]) -> Plain:
    """What a codebook knows of some columns, without what it has done to them already; words that it gave stay words."""
    said: Plain = {}
    for name in names:
        entry, column = codebook.entry(name), table.column(name)
        known: Plain = {}
        for field in fields(Entry):
            value = getattr(entry, field.name)
            if value in (None, ()) or field.name in (*_MADE, "order", "kind"):
                continue
            known[field.name] = dict(value) if hasattr(value, "items") else value
        if entry.order:
            known["order"] = [str(entry.word(code)) for code in entry.order]
        if entry.colors:
            known["colors"] = {str(entry.word(code)): color for code, color in entry.colors.items()}
        if any(isinstance(level, Word) for level in column.levels):
            words = list(dict.fromkeys([*entry.known, *sorted(map(str, column.levels))]))
            known["words"] = {word: word for word in words}
            known["order"] = words
        if known:
            said[name] = known
    return said


def _sorted(column: Column) -> Column:
    """A column whose levels, where their order says nothing, stand in one that does not depend on how they came."""
    worded = any(isinstance(level, Word) for level in column.levels)
    if not column.discrete or ((column.own_order or column.kind == "ordered") and not worded):
        return column
    sorts = ["str" if isinstance(level, str) else type(level).__name__ for level in column.levels]
    order = sorted(range(len(column.levels)), key=lambda place: (sorts[place], str(column.levels[place])))
    places = np.empty(len(order) + 1, np.int64)
    places[order] = np.arange(len(order))
    places[-1] = -1
    # The order of words is that of the codebook, which travels too.
    levels = tuple(column.levels[place] for place in order)
    kind = "category" if worded and column.kind == "ordered" else column.kind
    return replace(column, levels=levels, values=places[column.values], own_order=False, kind=kind)


def _told(column: Column) -> Plain:
    told: Plain = {"name": column.name, "kind": column.kind, "stored": column.stored}
    if column.discrete:
        told["levels"] = [_level(level, column.name) for level in column.levels]
        told["own_order"] = column.own_order or column.kind == "ordered"
    if column.zone is not None:
        told["zone"] = column.zone
    if column.stored == "decimal":
        told["places"] = column.places
    return told


def _level(level: object, name: str) -> object:
    if isinstance(level, bool | np.bool_):
        return bool(level)
    if isinstance(level, str):
        return str(level)
    if isinstance(level, int | np.integer):
        return int(level)
    if isinstance(level, float | np.floating):
        return float(level)
    raise DataError(
        "figure.export", f"data='embed' can't hold the {type(level).__name__} in {name!r}", ".derive(…) makes texts of them"
    )


def _texts(column: Column) -> list[str]:
    """Each value as a text from which it can be had again; empty where there is none."""
    if column.discrete:
        # Positions, so that no text of the data can be taken for anything else.
        return ["" if code < 0 else str(code) for code in column.values.tolist()]
    if column.kind == "time":
        return [
            "" if gone else str(moment)
            for gone, moment in zip(column.missing.tolist(), column.plain().astype(_MICRO), strict=True)
        ]
    if column.exact is not None:
        return ["" if gone else str(value) for gone, value in zip(column.missing.tolist(), column.exact.tolist(), strict=True)]
    if column.stored == "whole":
        return ["" if value != value else f"{value:.0f}" for value in column.values.tolist()]
    return ["" if value != value else repr(value) for value in column.values.tolist()]


_SAFE_DIGITS = 15
"""Whole numbers of so many digits are the same as floats."""


def _whole(values: list[int | None]) -> Any:
    """Whole numbers as they were, in the smallest sort that holds them all."""
    import pandas as pd

    there = [value for value in values if value is not None]
    low, high = min(there, default=0), max(there, default=0)
    if low >= -(2**63) and high < 2**63:
        return pd.array(values, dtype="Int64")
    if low >= 0 and high < 2**64:
        gone = np.array([value is None for value in values], bool)
        return pd.arrays.IntegerArray(np.array([value or 0 for value in values], np.uint64), gone)
    return np.array([*values, None], object)[:-1]


def _series(texts: Sequence[str], told: Plain) -> Any:
    import pandas as pd

    kind, stored = told["kind"], told["stored"]
    gone = np.array([not text for text in texts], bool)
    if "levels" in told:
        codes = np.array([int(text) if text else -1 for text in texts], np.int64)
        if told["own_order"]:
            return pd.Categorical.from_codes(codes, categories=pd.Index(told["levels"], dtype=object), ordered=kind == "ordered")
        values = np.array([*told["levels"], None], object)[codes]
        return values.astype(bool) if kind == "yes_no" and not gone.any() else values
    if kind == "time":
        moments = pd.Series(np.array([text or "NaT" for text in texts], _MICRO))
        if stored == "date":
            return np.array([None if lost else moment.date() for lost, moment in zip(gone, moments, strict=True)], object)
        return moments.dt.tz_localize("UTC").dt.tz_convert(told["zone"]) if "zone" in told else moments
    if stored == "whole" and any(len(text) > _SAFE_DIGITS for text in texts):
        return _whole([int(text) if text else None for text in texts])
    numbers = np.array([float(text) if text else np.nan for text in texts])
    if stored == "decimal":
        from decimal import Decimal

        return np.array(
            [None if lost else Decimal(f"{value:.{told['places']}f}") for lost, value in zip(gone, numbers, strict=True)], object
        )
    if stored == "duration":
        return pd.to_timedelta(numbers, unit="s")
    return numbers.astype(np.int64) if stored == "whole" and not gone.any() else numbers
