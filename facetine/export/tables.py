"""Frames made for the analyst, of the kind that came in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from facetine.core.arrays import AnyArray
from facetine.data.table import Table
from facetine.export.export import WrittenTable, in_points_said
from facetine.export.files import write_whole
from facetine.messages.errors import ExportError
from facetine.pipeline.scales.texts import Told
from facetine.pipeline.sheet.numbers import Numbers, numbers_behind

_FORMULAS = ("=", "+", "-", "@", "\t", "\r", "\n", "\uff1d", "\uff0b", "\uff0d", "\uff20")


def frame_of(parts: Sequence[Numbers], table: Table | None, *, verbs: bool, spreadsheet: bool = False) -> Any:
    """The numbers behind layers below each other: a frame of the library whose frame a table came from, else of pandas.

    Args:
        parts: The numbers.
        table: Where the figure's data came from.
        verbs: Whether a first column says the layers.
        spreadsheet: Whether texts that a spreadsheet would take for formulas are quoted.
    """
    names = dict.fromkeys(name for part in parts for name in part.columns)
    counts = [len(next(iter(part.columns.values())).values) if part.columns else 0 for part in parts]
    columns: dict[str, AnyArray] = {}
    zones: dict[str, str] = {}
    if verbs:
        columns["layer"] = np.array([part.verb for part, count in zip(parts, counts, strict=True) for _ in range(count)], object)
    for name in names:
        values: list[Any] = []
        for part, count in zip(parts, counts, strict=True):
            values += part.columns[name].values if name in part.columns else [None] * count
        told = [part.columns[name] for part in parts if name in part.columns]
        columns[name] = _array(values, told)
        zone = next((one.zone for one in told if one.sort == "time" and one.zone), None)
        if zone is not None:
            zones[name] = zone
    if spreadsheet:
        columns = {no_formula(name): _no_formulas(array) for name, array in columns.items()}
        zones = {no_formula(name): zone for name, zone in zones.items()}
    return _framed(columns, zones, table)


def no_formula(text: str) -> str:
    """A text that a spreadsheet shows, and does not compute: what looks like a formula is quoted; a number is none.

    Source: OWASP, "CSV Injection" (2023), for the signs.

    >>> [no_formula(text) for text in ("=1+1", "@sum", "-5", "- 5 rows", "rind")]
    ["'=1+1", "'@sum", '-5', "'- 5 rows", 'rind']
    """
    if not text.lstrip(" ").startswith(_FORMULAS):
        return text
    try:
        float(text.replace(",", "."))
    except ValueError:
        return f"'{text}"
    return text


def _no_formulas(array: AnyArray) -> AnyArray:
    if array.dtype != object:
        return array
    return np.array([no_formula(value) if isinstance(value, str) else value for value in array] + [None], object)[:-1]


def _array(values: list[Any], told: list[Told]) -> AnyArray:
    """Values as an array: words as objects, times as such, whole numbers where all are whole."""
    if any(one.sort == "words" for one in told):
        return np.array([*values, None], object)[:-1]
    numbers = np.array([np.nan if value is None else value for value in values], float)
    if told and all(one.sort == "time" for one in told):
        lost = np.isnan(numbers)
        moments = np.where(lost, 0, np.rint(numbers)).astype("datetime64[us]")
        moments[lost] = np.datetime64("NaT")
        return moments
    counts = bool(told) and all(one.sort == "count" for one in told)
    whole = counts and bool((np.isfinite(numbers) & (numbers == np.rint(numbers))).all())
    return numbers.astype(np.int64) if whole else numbers


def _framed(columns: dict[str, AnyArray], zones: dict[str, str], table: Table | None) -> Any:
    source: Any = None if table is None else table.source
    maker = type(source).__module__.partition(".")[0]
    if source is not None and not isinstance(source, Mapping) and maker not in ("pandas", "builtins", "numpy"):
        import narwhals.stable.v2 as nw

        backend = nw.get_native_namespace(source)
        series = {name: array.tolist() if array.dtype == object else array for name, array in columns.items()}
        frame = nw.from_dict(series, backend=backend)
        stamped = [nw.col(name).dt.replace_time_zone("UTC").dt.convert_time_zone(zone) for name, zone in zones.items()]
        return (frame.with_columns(*stamped) if stamped else frame).to_native()
    import pandas as pd

    made = pd.DataFrame(columns)
    for name, zone in zones.items():
        made[name] = made[name].dt.tz_localize("UTC").dt.tz_convert(zone)
    return made


def written_numbers(figure: Any, path: Path, *, spreadsheet: bool = False, **size: Any) -> WrittenTable:
    """Writes the numbers behind a figure as a table of text.

    Args:
        figure: The figure.
        path: A file whose name ends in .csv.
        spreadsheet: Whether texts that a spreadsheet would take for formulas are quoted.
        **size: Width and height of the sheet.

    Raises:
        ExportError: The path does not end in .csv, or can't be written.
        FacetineError: The figure can't be drawn.
    """
    if path.suffix.lower() != ".csv":
        raise ExportError("figure.numbers", f"{path.name!r} does not end in .csv")
    sizes = in_points_said(figure._sentence, size.get("width"), size.get("height"), "figure.numbers")
    parts = numbers_behind(figure._sentence, None, *sizes)
    made = frame_of(parts, None, verbs=True, spreadsheet=spreadsheet)
    content = made.to_csv(index=False).encode("utf-8")
    write_whole(path, content)
    return WrittenTable(path, len(made), len(content))
