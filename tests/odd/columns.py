"""Odd columns: what frames can hold and hardly anybody plots, from NumPy, Python, pandas, polars and Arrow."""

from __future__ import annotations

import datetime as dt
import decimal
import enum
import fractions
from typing import Any

import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa

ROWS = 6
LARGEST = np.finfo(float).max


class Color(enum.Enum):
    """Members of an enumeration."""

    RED = 1
    BLUE = 2


def numbers() -> dict[str, Any]:
    """Arrays of numbers at the ends of what they can be."""
    one = np.array([1.0, 2, 3, 4, 5, 6])
    every: dict[str, Any] = {
        "largest": one / 6 * LARGEST, "both ends": np.array([-LARGEST, LARGEST, 0, 1, -1, 2]), "1e308": one * 1e307,
        "denormal": one * 5e-324, "mixed sizes": np.array([5e-324, 1e-300, 1.0, 1e300, -1e300, 0]), "constant": np.full(ROWS, 7.0),
        "constant at 1e300": np.full(ROWS, 1e300), "zeros": np.zeros(ROWS), "minus zero": np.array([-0.0, 0.0] * 3), "one ulp": 1e15 + np.arange(6) * 0.125,
        "ulps": np.nextafter(1e16, 2e16) * np.ones(6), "two ulps": np.array([1e16, np.nextafter(1e16, 2e16)] * 3), "all nan": np.full(ROWS, np.nan),
        "one value": np.array([np.nan] * 5 + [3.0]), "infinite": np.array([np.inf, -np.inf, 1, 2, 3, np.nan]), "all infinite": np.full(ROWS, np.inf),
        "negative": -one, "tiny steps": 1 + one * 1e-16, "int8 ends": np.array([-128, 127, 0, 1, 2, 3], np.int8), "bool": np.array([True, False] * 3),
        "uint64": np.array([2**64 - 1, 0, 1, 2, 3, 4], np.uint64), "int64 ends": np.array([-(2**63), 2**63 - 1, 0, 1, 2, 3]), "float16": one.astype(np.float16),
        "float32": one.astype(np.float32), "longdouble": one.astype(np.longdouble), "masked": np.ma.array(one, mask=[1, 0] * 3),
        "all masked": np.ma.array(one, mask=True), "strided": np.arange(12.0)[::2], "reversed": one[::-1], "big endian": one.astype(">f8"),
        "big endian int": one.astype(">i4"), "read only": np.frombuffer(one.tobytes()), "complex": one + 1j, "zero-dimensional": np.array(3.0),
        "two-dimensional": np.ones((6, 1)), "void": np.zeros(6, "V8"), "empty": np.zeros(0), "list": [1, 2, 3, 4, 5, 6], "list with None": [1, None, 3, 4, 5, 6],
        "huge ints": [10**400, 1, 2, 3, 4, 5], "128-bit": [2**127, 1, 2, 3, 4, 5], "range": range(6), "generator": (value for value in range(6)), "set": {1, 2, 3, 4, 5, 6},
        "decimals": [decimal.Decimal("1.1")] * 6, "decimal nan": [decimal.Decimal("NaN"), *[decimal.Decimal(1)] * 5], "decimal infinity": [decimal.Decimal("Infinity")] * 6,
        "fractions": [fractions.Fraction(1, 3)] * 6, "numpy scalars": [np.float32(1), np.int8(2), np.float64(3), 4, 5.0, 6], "bool and int": [True, 1, 2, 3, 4, 5],
        "int and text": [1, "two", 3, 4, 5, 6], "nan and None": [float("nan"), None, 1, 2, 3, 4], "Python floats": one.tolist(), "scalar": 5, "bytes": b"abcdef", "text": "abcdef",
    }  # fmt: skip
    return every


def texts() -> dict[str, Any]:
    """Texts that files and fonts choke on."""
    words = {
        "plain": "abcdef", "empty": "", "blank": " ", "surrogate": "\ud800", "low surrogate": "a\udfff", "non-character": "\ufffe", "null": "a\x00b", "bell": "\x07",
        "escape": "\x1b[31m", "c1": "\x85", "line break": "a\nb", "carriage": "a\rb", "tab": "a\tb", "markup": "<script>alert(1)</script>&amp;'\"", "pdf": ") Tj (", "backslash": "\\",
        "signs": "*a*b**c~d~e^f^", "unclosed": "*" * 300, "braces": "{value}{0}{x.y}", "percent": "%s%n%d", "right to left": "مرحبا", "mixed": "abc אבג 123",
        "override": "\u202eabc", "zero width": "a\u200bb\u200d", "combining": "e" + "\u0301" * 60, "emoji": "👩‍👩‍👧‍👦", "wide": "漢字かな交じり文", "long": "x" * 4000,
        "long words": "word " * 800, "quotes": "a\"b'c`d", "astral": "𝒜𝓫", "private": "\ue000", "line separator": "a\u2028b", "bom": "\ufeffa", "soft hyphen": "a\u00adb",
    }  # fmt: skip
    made: dict[str, Any] = {name: [word, f"{word}2", word, "other", f"{word}3", word] for name, word in words.items()}
    made |= {
        "bytes in list": [b"a", b"b"] * 3, "None": [None] * 6, "fixed width": np.array(["a", "bb", "ccc", "", "e", "f"]), "strings": np.array(["a", "b"] * 3, object),
        "enumeration": [Color.RED, Color.BLUE] * 3, "tuples": [(1, 2)] * 6, "lists": [[1], [2]] * 3, "dicts": [{"a": 1}] * 6, "classes": [int] * 6, "mixed": ["a", 1, 2.5, None, True, b"x"],
        "numbers": ["1", "2", "3,000.5", "4", "n/a", "6"], "years": ["2030", "2031"] * 3, "hex": ["0x1F", "1e5", "NaN", "inf", "-inf", "1_000"], "objects": [object() for _ in range(6)],
        "dates": ["2030-01-05", "2030-02-30", "x", "2030-13-01", "", "2030-01-01"], "iso": ["2030-01-05", "2031-01-05"] * 3, "orders": ["03/04/2030", "05/06/2030"] * 3,
        "many": [f"k{number}" for number in range(6)],
    }  # fmt: skip
    return made


def times() -> dict[str, Any]:
    """Times at the ends of the calendar, in all units."""
    days = np.array(["2030-01-01", "2030-01-02", "2030-01-04", "2030-02-01", "2030-03-01", "2031-01-01"], "datetime64[D]")
    made: dict[str, Any] = {
        f"datetime64[{unit}]": days.astype(f"datetime64[{unit}]")
        for unit in ("Y", "M", "W", "D", "h", "m", "s", "ms", "us", "ns")
    }
    made |= {
        "NaT": np.array(["NaT"] * 6, "datetime64[D]"), "far": np.array([10**6, 0, 1, 2, 3, 4], "datetime64[Y]"), "before Christ": np.array([-5000, -1, 0, 1, 2, 3], "datetime64[Y]"),
        "farther": np.array([10**9, 1, 2, 3, 4, 5], "datetime64[D]"), "year 10000": np.array(["10000-01-01", "9999-12-31"] * 3, "datetime64[D]"), "masked times": np.ma.array(days, mask=[1, 0] * 3),
        "nanoseconds": days.astype("datetime64[ns]") + np.timedelta64(7, "ns"), "durations": np.arange(6).astype("timedelta64[h]"), "no durations": np.array(["NaT"] * 6, "timedelta64[s]"),
        "masked durations": np.ma.array(np.arange(6).astype("timedelta64[s]"), mask=[1, 0] * 3), "dates": [dt.date(2030, 1, day) for day in range(1, 7)],
        "datetimes": [dt.datetime(2030, 1, day, tzinfo=dt.UTC) for day in range(1, 7)], "naive and aware": [dt.datetime(2030, 1, 1), *[dt.datetime(2030, 1, 1, tzinfo=dt.UTC)] * 5],
        "year 1": [dt.date(1, 1, 1), dt.date(9999, 12, 31)] * 3, "timedeltas": [dt.timedelta(hours=hour) for hour in range(6)], "clock": [dt.time(hour) for hour in range(6)],
        "same instant": np.full(6, np.datetime64("2030-01-01")), "microseconds": np.datetime64("2030-01-01", "us") + np.arange(6),
    }  # fmt: skip
    return made


def framed() -> dict[str, Any]:
    """Whole frames with a column v, as their libraries make them."""
    one = [1, 2, 3, 4, 5, 6]
    letters = ["a", "b", "a", "c", "b", "a"]
    stamps = pd.date_range("2030-01-01", periods=6)
    pandas: dict[str, Any] = {
        "Int64": pd.array([1, None, 3, 4, 5, 6], "Int64"), "boolean": pd.array([True, None, False, True, False, True], "boolean"), "string": pd.array([*letters[:5], None], "string"),
        "category": pd.Categorical(letters), "ordered": pd.Categorical(letters, ["c", "b", "a"], ordered=True), "number category": pd.Categorical(one), "empty category": pd.Categorical([None] * 6),
        "zoned": stamps.tz_localize("Asia/Tokyo"), "naive": stamps, "timedelta": pd.to_timedelta(one, "h"), "period": pd.period_range("2030-01", periods=6, freq="M"), "interval": pd.interval_range(0, 6),
        "sparse": pd.arrays.SparseArray([0.0, 0, 1, 0, 0, 2]), "object": pd.Series([1, "a", None, 2.5, True, ()], dtype=object), "float with NA": pd.array([1.0, None, 3, 4, 5, 6], "Float64"),
        "arrow string": pd.array(letters, "string[pyarrow]"), "multi": pd.MultiIndex.from_tuples(list(zip(one, letters, strict=True))),
    }  # fmt: skip
    made: dict[str, Any] = {f"pandas {name}": pd.DataFrame({"v": values, "n": one}) for name, values in pandas.items()}
    made["pandas duplicate index"] = pd.DataFrame({"v": one, "n": one}, index=[0] * 6)
    polars: dict[str, Any] = {
        "Int128": pl.Series(one, dtype=pl.Int128), "UInt8": pl.Series(one, dtype=pl.UInt8), "Float32": pl.Series(one, dtype=pl.Float32), "String": pl.Series(letters), "Null": pl.Series([None] * 6),
        "Categorical": pl.Series(letters, dtype=pl.Categorical), "Enum": pl.Series(letters, dtype=pl.Enum(["c", "b", "a"])), "Date": pl.Series([dt.date(2030, 1, day) for day in one]),
        "Datetime ns": pl.Series(list(stamps.to_pydatetime()), dtype=pl.Datetime("ns")), "Duration": pl.Series([dt.timedelta(hours=hour) for hour in one]), "Time": pl.Series([dt.time(hour) for hour in one]),
        "Decimal": pl.Series([decimal.Decimal("1.50")] * 6), "List": pl.Series([[1], [2], [3], [4], [5], [6]]), "Struct": pl.Series([{"a": 1}] * 6), "Binary": pl.Series([b"a"] * 6), "Boolean": pl.Series([True, None] * 3),
    }  # fmt: skip
    made |= {f"polars {name}": pl.DataFrame({"v": values, "n": one}) for name, values in polars.items()}
    arrow: dict[str, Any] = {
        "int8": pa.array(one, pa.int8()), "dictionary": pa.array(letters).dictionary_encode(), "dictionary of numbers": pa.array(one).dictionary_encode(), "decimal": pa.array([decimal.Decimal("1.50")] * 6),
        "timestamp ns": pa.array(np.arange(6).astype("datetime64[ns]")), "zoned": pa.array(one, pa.timestamp("s", "UTC")), "duration": pa.array(one, pa.duration("s")), "date64": pa.array(one, pa.date64()),
        "time32": pa.array(one, pa.time32("s")), "null": pa.nulls(6), "large string": pa.array(letters, pa.large_string()), "list": pa.array([[1]] * 6), "struct": pa.array([{"a": 1}] * 6), "bool": pa.array([True, None] * 3),
        "halffloat": pa.array(np.array(one, np.float16)), "binary": pa.array([b"a"] * 6), "uint64": pa.array([2**64 - 1, 0, 1, 2, 3, 4], pa.uint64()), "chunked": pa.chunked_array([one[:3], one[3:]]),
    }  # fmt: skip
    made |= {f"arrow {name}": pa.table({"v": values, "n": pa.array(one)}) for name, values in arrow.items()}
    return made


def all_of_them() -> dict[str, Any]:
    """What `figure` is given, by a name: dicts of the odd column v and a plain n, and whole frames."""
    plain = list(range(1, 7))
    made: dict[str, Any] = {}
    for family, columns in (("number", numbers()), ("text", texts()), ("time", times())):
        made |= {f"{family} {name}": {"v": values, "n": plain} for name, values in columns.items()}
    return made | framed()
