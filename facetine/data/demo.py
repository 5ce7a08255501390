"""The demo world: a made-up cooperative of cheese-ageing cellars. All of it comes from one seed; nothing is real."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from facetine.core.arrays import AnyArray, FloatArray
from facetine.messages.errors import DataError, unknown

if TYPE_CHECKING:
    import pandas as pd

SEED = 20310
CELLARS = ("North", "Quarry", "Tunnel", "Loft")
RINDS = ("washed", "bloomy", "natural", "waxed")
MILKS = ("cow", "goat", "ewe")
GRADES = ("plain", "sound", "fine", "grand")

Columns = dict[str, AnyArray]


def demo_names() -> tuple[str, ...]:
    """The names of the demo tables."""
    return tuple(_MAKERS)


@cache
def demo_columns(name: str) -> Columns:
    """One demo table as arrays by column name; missing text is None, missing numbers are NaN.

    Raises:
        DataError: There is no such table.
    """
    if name not in _MAKERS:
        raise unknown(DataError, "demo_data", "no demo table", name, _MAKERS, "tables")
    # Each table has a stream of its own, so that a change to one leaves the others alone.
    return _MAKERS[name](np.random.default_rng([SEED, list(_MAKERS).index(name)]))


def demo_data(name: str | None = None) -> pd.DataFrame | tuple[str, ...]:
    """A table of the demo world as a pandas frame; without a name, the names of all tables.

    Args:
        name: "wheels", "climate", "scans", "cultures", "cores" or "sales"; None to list them.

    Returns:
        The frame, with `grade` as an ordered categorical; or the names.

    Raises:
        DataError: There is no such table.

    >>> demo_data("wheels").shape
    (240, 13)
    """
    if name is None:
        return demo_names()
    columns = demo_columns(name)
    import pandas as pd

    frame = pd.DataFrame(columns)
    if "grade" in frame:
        frame["grade"] = pd.Categorical(frame["grade"], categories=list(GRADES), ordered=True)
    return frame


def _chosen(rng: np.random.Generator, words: tuple[str, ...], weights: list[float], count: int) -> AnyArray:
    return np.array(words, object)[rng.choice(len(words), count, p=np.array(weights) / sum(weights))]


def _by(keys: AnyArray, table: dict[str, float]) -> FloatArray:
    return np.array([table[key] for key in keys.tolist()])


def _wheels(rng: np.random.Generator) -> Columns:
    """Cheeses in the four cellars: firmness falls with moisture, differently for each rind; waxed ones are rare."""
    count = 240
    rind = _chosen(rng, RINDS, [0.38, 0.33, 0.22, 0.07], count)
    milk = _chosen(rng, MILKS, [0.55, 0.27, 0.18], count)
    cellar = _chosen(rng, CELLARS, [0.34, 0.28, 0.23, 0.15], count)
    typical = _by(rind, {"washed": 75.0, "bloomy": 34.0, "natural": 190.0, "waxed": 120.0})
    age = np.clip(np.rint(typical * rng.lognormal(0, 0.38, count)), 12, 720)
    start = _by(rind, {"washed": 56.0, "bloomy": 60.0, "natural": 55.0, "waxed": 50.0})
    damp = _by(cellar, {"North": 0.6, "Quarry": 1.5, "Tunnel": -0.2, "Loft": -1.6})
    moisture = np.clip(start + damp - 3.4 * np.log(age / 20) + rng.normal(0, 1.7, count), 29, 68)
    hard = _by(rind, {"washed": 41.0, "bloomy": 24.0, "natural": 62.0, "waxed": 50.0})
    slope = _by(rind, {"washed": 0.060, "bloomy": 0.038, "natural": 0.072, "waxed": 0.050})
    firmness = hard * np.exp(-slope * (moisture - 45)) * rng.lognormal(0, 0.13, count)
    mass = _by(milk, {"cow": 6.2, "goat": 1.9, "ewe": 3.1}) * rng.lognormal(0, 0.22, count)
    ph = 5.15 + 0.32 * (rind == "bloomy") + 0.0011 * age + rng.normal(0, 0.11, count)
    eyes = rng.random(count) < _by(rind, {"washed": 0.6, "bloomy": 0.1, "natural": 0.4, "waxed": 0.75})
    eye = np.where(eyes, rng.gamma(2.2, 2.1, count), 0.0)
    merit = 0.5 * np.log(age / typical) + 0.08 * (firmness - firmness.mean()) / firmness.std() + rng.normal(0, 0.55, count)
    grade = np.array(GRADES, object)[np.digitize(merit, [-0.55, 0.25, 0.85])]
    grade[rng.random(count) < 0.08] = None
    brushed = rng.random(count) < _by(rind, {"washed": 0.9, "bloomy": 0.05, "natural": 0.7, "waxed": 0.1})
    moisture_out = np.round(moisture, 1)
    moisture_out[rng.random(count) < 0.02] = np.nan
    return {
        "wheel": np.array([f"W{number:03d}" for number in range(1, count + 1)], object),
        "cellar": cellar,
        "rind": rind,
        "milk": milk,
        "age_days": age.astype(np.int64),
        "mass_kg": np.round(mass, 2),
        "moisture_pct": moisture_out,
        "ph": np.round(ph, 2),
        "firmness_n": np.round(firmness, 1),
        "eye_mm": np.round(eye, 1),
        "grade": grade,
        "brushed": brushed,
        "wrapped": rng.random(count) < 0.5 - 0.3 * brushed,
    }


def _climate(rng: np.random.Generator) -> Columns:
    """A year of hourly readings in every cellar, with the seasons, the weather, and sensors that fail for days."""
    hours = np.arange("2030-01-01T00", "2031-01-01T00", dtype="datetime64[h]")
    count = len(hours)
    year, day = np.arange(count) / count, np.arange(count) % 24 / 24
    parts: dict[str, list[AnyArray]] = {"time": [], "cellar": [], "temp_c": [], "humidity_pct": []}
    weather = _wandering(rng, count, 0.995, 0.09)
    for cellar, level, season, daily, damp in (
        ("North", 10.6, 1.3, 0.15, 92.0), ("Quarry", 11.4, 0.5, 0.05, 95.0),
        ("Tunnel", 12.2, 0.9, 0.10, 89.0), ("Loft", 14.0, 4.6, 0.90, 81.0),
    ):  # fmt: skip
        share = season / 4.6
        temp = level - season * np.cos(2 * np.pi * (year - 0.06)) - daily * np.cos(2 * np.pi * (day - 0.12))
        temp += share * weather + _wandering(rng, count, 0.97, 0.06)
        humidity = np.minimum(damp - 1.3 * (temp - level) + _wandering(rng, count, 0.98, 0.25), 99.5)
        for start in rng.integers(0, count, 5):
            length = int(rng.integers(20, 260))
            temp[start : start + length] = np.nan
            humidity[start : start + length] = np.nan
        parts["time"].append(hours.astype("datetime64[us]"))
        parts["cellar"].append(np.full(count, cellar, object))
        parts["temp_c"].append(np.round(temp, 2))
        parts["humidity_pct"].append(np.round(humidity, 1))
    return {name: np.concatenate(columns) for name, columns in parts.items()}


def _wandering(rng: np.random.Generator, count: int, keep: float, push: float) -> FloatArray:
    """A first-order autoregressive series around zero."""
    pushes = rng.normal(0, push, count).tolist()
    value, series = 0.0, []
    for step in pushes:
        value = keep * value + step
        series.append(value)
    return np.array(series)


def _scans(rng: np.random.Generator) -> Columns:
    """Two readings of an optical scanner: sound and cracked wheels overlap heavily."""
    count = 50_000
    cracked = rng.random(count) < 0.28
    long, short = rng.normal(0, 1, count), rng.normal(0, 1, count)
    glow = 52 + 9.0 * long + np.where(cracked, 6.5, 0.0) + 1.5 * short
    grain = 31 + 3.6 * long + np.where(cracked, -3.2, 0.0) + 4.2 * short + 0.9 * np.abs(rng.normal(0, 2, count))
    return {
        "glow": np.round(glow, 2),
        "grain": np.round(grain, 2),
        "state": np.where(cracked, "cracked", "sound").astype(object),
    }


def _cultures(rng: np.random.Generator) -> Columns:
    """Colonies grown from an inoculum: skewed over six decades, some plates empty."""
    count = 300
    inoculum = 10 ** rng.uniform(0.2, 6.0, count)
    colonies = 2.4 * inoculum**0.88 * rng.lognormal(0, 0.75, count)
    colonies = np.where(rng.random(count) < 0.03, 0.0, colonies)
    return {"inoculum": np.array([float(f"{value:.3g}") for value in inoculum]), "colonies": np.rint(colonies)}


def _cores(rng: np.random.Generator) -> Columns:
    """Salt along cores drilled from the rind inwards: it falls with depth; waxed and natural rinds are rare here."""
    rows: dict[str, list[AnyArray]] = {"depth_mm": [], "salt_pct": [], "rind": [], "year": []}
    for year in range(2024, 2031):
        for _ in range(int(rng.integers(36, 48))):
            rind = str(_chosen(rng, RINDS, [0.62, 0.30, 0.06, 0.02], 1)[0])
            depth = np.arange(1.0, 1.0 + 3.0 * int(rng.integers(14, 27)), 3.0)
            top = {"washed": 3.4, "bloomy": 2.3, "natural": 2.9, "waxed": 1.9}[rind] * rng.lognormal(0, 0.12)
            deep = {"washed": 1.2, "bloomy": 1.3, "natural": 0.9, "waxed": 1.4}[rind]
            reach = 11.0 + 1.2 * (year - 2024)
            salt = deep + (top - deep) * np.exp(-depth / reach) + rng.normal(0, 0.07, len(depth))
            rows["depth_mm"].append(depth)
            rows["salt_pct"].append(np.round(np.maximum(salt, 0.1), 2))
            rows["rind"].append(np.full(len(depth), rind, object))
            rows["year"].append(np.full(len(depth), year, np.int64))
    return {name: np.concatenate(columns) for name, columns in rows.items()}


def _sales(rng: np.random.Generator) -> Columns:
    """Wheels sold each month by two channels, side by side."""
    months = np.arange("2028-01", "2031-01", dtype="datetime64[M]")
    season = np.cos(2 * np.pi * (np.arange(len(months)) % 12 - 11) / 12)
    growth = np.arange(len(months))
    return {
        "month": months.astype("datetime64[us]"),
        "retail": np.rint(310 + 2.1 * growth + 75 * season + rng.normal(0, 18, len(months))).astype(np.int64),
        "wholesale": np.rint(520 + 5.2 * growth + 40 * season + rng.normal(0, 30, len(months))).astype(np.int64),
    }


_MAKERS: dict[str, Callable[[np.random.Generator], Columns]] = {
    "wheels": _wheels,
    "climate": _climate,
    "scans": _scans,
    "cultures": _cultures,
    "cores": _cores,
    "sales": _sales,
}


def write_demo_data(folder: Path) -> list[Path]:
    """All tables as CSV and Parquet, and one SQLite database with all of them.

    Returns:
        The files written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    written = []
    for name in demo_names():
        columns = demo_columns(name)
        path = folder / f"{name}.csv"
        _write_csv(path, columns)
        _write_parquet(path, folder / f"{name}.parquet")
        written += [path, folder / f"{name}.parquet"]
    written.append(_write_database(folder / "cellar.db"))
    return written


def _texts(array: AnyArray) -> list[str]:
    """The cells of a column, missing ones empty."""
    kind = array.dtype.kind
    if kind == "M":
        return [text.replace("T", " ") for text in np.datetime_as_string(array, unit="m").tolist()]
    if kind == "b":
        return ["true" if value else "false" for value in array.tolist()]
    return ["" if value is None or value != value else str(value) for value in array.tolist()]


def _write_csv(path: Path, columns: Columns) -> None:
    # No cell of the demo world holds a comma, a quote or a line break, so plain joining is right here.
    rows = zip(*(_texts(array) for array in columns.values()), strict=True)
    body = "\n".join([",".join(columns), *map(",".join, rows)])
    path.write_text(body + "\n", encoding="utf-8", newline="\n")


def _write_parquet(source: Path, target: Path) -> None:
    import duckdb

    quoted = [str(path).replace("'", "''") for path in (source, target)]
    with duckdb.connect() as connection:
        connection.execute(f"COPY (SELECT * FROM read_csv('{quoted[0]}')) TO '{quoted[1]}' (FORMAT parquet)")


def _write_database(path: Path) -> Path:
    import sqlite3

    path.unlink(missing_ok=True)
    connection = sqlite3.connect(path)
    with connection:
        for name in demo_names():
            columns = demo_columns(name)
            types = [{"i": "INTEGER", "b": "INTEGER", "f": "REAL"}.get(a.dtype.kind, "TEXT") for a in columns.values()]
            fields = ", ".join(f'"{column}" {kind}' for column, kind in zip(columns, types, strict=True))
            connection.execute(f'CREATE TABLE "{name}" ({fields})')
            cells = [_texts(a) if a.dtype.kind == "M" else a.tolist() for a in columns.values()]
            marks = ", ".join("?" * len(columns))
            connection.executemany(f'INSERT INTO "{name}" VALUES ({marks})', zip(*cells, strict=True))
    connection.close()
    return path
