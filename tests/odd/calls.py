"""Odd calls: sentences that are right but for arguments which nobody would give on purpose, or hardly anybody."""

from __future__ import annotations

import dataclasses
import datetime as dt
import decimal
import random
from collections.abc import Callable
from typing import Any

import numpy as np
import pandas as pd
from odd.soundness import assert_clear

import facetine as ft
from facetine.grammar.scale import ScaleOptions
from facetine.grammar.theme import Theme
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError

FRAME = {
    "n": [1.0, 2.0, 3.5, 4.0, 5.0, 6.5, 7.0, 8.0], "m": [2.0, 1.0, 4.0, 3.0, 6.0, 5.0, 9.0, 7.0], "k": ["a", "b"] * 4, "l": ["u", "u", "v", "v"] * 2,
    "t": np.arange(8).astype("datetime64[D]"), "f": [True, False] * 4, "low": [0.5] * 8, "high": [9.5] * 8,
}  # fmt: skip
MAPPINGS = {
    "histogram": {"x": "n"}, "density": {"x": "n"}, "cumulative": {"x": "n"}, "qq": {"y": "n"}, "rug": {"x": "n"}, "bands": {"x": "n", "y_low": "low", "y_high": "high"},
    "segments": {"x": "n", "y": "m", "x_to": "low", "y_to": "high"}, "labels": {"x": "n", "y": "m", "label": "k"}, "bars": {"x": "k"}, "boxes": {"x": "k", "y": "n"},
    "violins": {"x": "k", "y": "n"}, "intervals": {"x": "k", "y": "n"},
}  # fmt: skip
NEEDED = {"callout": {"text": "here", "x": 1, "y": 1}, "region": {"x": (1, 2)}, "reference": {"y": 2.0}}
SCALE_OPTIONS, THEME_SETTINGS = tuple(ScaleOptions.__dataclass_fields__), tuple(Theme.__dataclass_fields__)
SCALES = ("x", "y", "color", "size", "shape", "opacity", "outline", "dash", "line_width")


class Sly:
    """An object that fails whenever it is looked at."""

    def __repr__(self) -> str:
        raise ValueError("no words")

    def __bool__(self) -> bool:
        raise ValueError("neither")

    def __eq__(self, other: object) -> bool:
        raise ValueError("no telling")

    __hash__ = None  # type: ignore[assignment]


def raises(*_: Any) -> Any:
    """A callable that fails, over two lines."""
    raise RuntimeError("first line\nsecond line")


ODD_ARGUMENTS: tuple[Any, ...] = (
    None, True, False, 0, 1, -1, 2, 3.7, -0.0, 1e308, -1e308, 5e-324, float("nan"), float("inf"), float("-inf"), 10**400, -(10**19), 1 + 2j, np.float32(2.5), np.int64(3), np.nan,
    np.datetime64("NaT"), np.timedelta64(3, "h"), pd.NaT, pd.NA, pd.Timestamp("2030-01-01"), dt.date(1, 1, 1), dt.datetime(9999, 12, 31), decimal.Decimal("NaN"), decimal.Decimal("1.5"),
    "", " ", "n", "k", "v", "a", "none", "auto", "red", "#12345", "#gggggg", "{x}", "{", "}", "{value:1000000000}", "{value:.999999999f}", "{value!r}", "{value.__class__}", "{0}", "%Y", "%",
    ".3f", ",.2%", "\x00", "\ud800", "x" * 5000, "1 %", "101 %", "5 mm", "-5 mm", "1e999 mm", "nan mm", "٣", "１", "stack", "mean", "log", "time", "n > 2", "n +", "SELECT 1", "value * 2",
    b"bytes", bytearray(b"x"), (), [], {}, set(), (1,), (1, 2), (2, 1), (1, 1), (None, None), (float("nan"), 1), ("a", "b"), ["a", "b", "a"], ["a"] * 2000, [[1, 2], [3, 4]], [None], list(range(300)),
    {"a": 1}, {"a": "red"}, {"a": None}, {1: "x"}, {None: None}, {"a": {"b": {"c": 1}}}, {"x": (0, 1)}, range(3), range(10**9), iter(()), (value for value in range(3)), np.zeros(0), np.zeros(3), np.ones((2, 2)),
    np.array(["a", "b"]), np.array(None), pd.Series([1, 2, 3]), pd.DataFrame({"q": [1]}), object(), int, float, len, raises, lambda: 1, lambda value: value, lambda value: None,
    lambda value: "\ud800" * 3, lambda value: float("nan"), lambda a, b: 1, Ellipsis, NotImplemented, type, Exception("e"), Sly(), slice(1), memoryview(b"x"), ft,
)  # fmt: skip


PLAIN_ARGUMENTS: tuple[Any, ...] = (
    True, False, 0, 1, 2, 0.5, 3.0, 1.5, 10, 0.9, 40, "n", "k", "l", "m", "t", "f", "a", "none", "auto", "red", "teal", "#123456", "stack", "side_by_side", "share", "jitter", "mean", "median", "count",
    "sum", "log", "sqrt", "category", "time", "signed_log", (1, 2), (0, 10), (None, 5), ("a", "b"), ["b", "a"], [1, 2, 5], {"a": "red"}, {"a": 1}, {"x": "m"}, "{x}", "{count}", "{value:.1f}", ",.1f", "percent",
    "n > 2", "right", "left", "top", "x", "y", "press", "basalt", "steps", "direct", "show", "drop", "rising", "natural", "linear", "loess", "range", "confidence", "square", "hex", np.float64(2), np.int64(3),
)  # fmt: skip


def base(verb: str) -> Any:
    """A plain figure that the layer suits, without it."""
    return ft.figure(FRAME).map(**MAPPINGS.get(verb, {"x": "n", "y": "m"}))


def odd_call(seed: int) -> tuple[str, Callable[[], Any]]:
    """The call in words, and what makes its figure: ten odd arguments, of which those stay that are not refused at once."""
    chance = random.Random(seed)
    verb = chance.choice(list(LAYERS))
    kind = layer_class(verb)
    options_of = [entry.name for entry in dataclasses.fields(kind) if "check" in entry.metadata]
    steps = [_odd_step(chance, verb, options_of) for _ in range(10)]

    def figure() -> Any:
        made, options = base(verb), dict(NEEDED.get(verb, {}))
        for name, given, said in steps:
            try:
                if name == verb:
                    getattr(made, verb)(*given, **{**options, **said})
                    options |= said
                else:
                    made = getattr(made, name)(*given, **said)
            except FacetineError as refused:
                assert_clear(refused)
        return getattr(made, verb)(**options)

    return f"{verb}: {[(name, words(given), words(said)) for name, given, said in steps]}", figure


def _odd_step(chance: random.Random, verb: str, options_of: list[str]) -> tuple[str, tuple[Any, ...], dict[str, Any]]:
    odd = chance.choice(ODD_ARGUMENTS if chance.random() < 0.5 else PLAIN_ARGUMENTS)
    steps: list[tuple[str, tuple[Any, ...], dict[str, Any]]] = [
        ("map", (), {chance.choice(["x", "y", "color", "size", "label", "weight", "group", "x_low", "opacity"]): odd}),
        ("keep", (odd,), {}), ("derive", (), {"d": odd}), ("kinds", (), {chance.choice("nkt"): odd}), ("facet", (odd,), {}),
        ("facet", ("k",), {chance.choice(["per_row", "order", "heading", "separate"]): odd}), ("titles", (odd,), {}),
        ("titles", (), {chance.choice(["x", "note", "color", "q"]): odd}), ("seed", (odd,), {}), ("theme", (odd,), {}),
        ("theme", (), {chance.choice(THEME_SETTINGS): odd}), ("scale", (odd,), {}), ("scale", (chance.choice("xy"), odd), {}),
        (verb, (odd,), {}), ("map", (odd,), {}), ("swap_axes", (), {}),
    ]  # fmt: skip
    where = chance.random()
    if where < 0.4:
        return verb, (), {chance.choice([*options_of, "map", "data", "where", "legend", "name"]): odd}
    return ("scale", (chance.choice(SCALES),), {chance.choice(SCALE_OPTIONS): odd}) if where < 0.6 else chance.choice(steps)


def words(value: Any) -> str:
    """An argument as far as it can be told."""
    try:
        return repr(value)[:80]
    except Exception:
        return "what can not be told"
