"""What tells a reader which value a place or a look stands for: ticks with their texts, and legends."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.scales.calendar import instant, stepped_ticks, strftime, time_ticks
from facetine.core.scales.formats import formatted, written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.errors import OptionError, ScaleError, told
from facetine.grammar.scale import DASHES, EVERY, ScaleSpec
from facetine.grammar.theme import Theme
from facetine.layers.base import DrawnLayer
from facetine.layers.look import Look
from facetine.pipeline.runs import LayerRun, Runs
from facetine.pipeline.scales import LookScale
from facetine.pipeline.settle import Axis, called_format

_EVEN = Linear()


class AxisTicks(NamedTuple):
    """Ticks of an axis."""

    at: tuple[float, ...]
    """Places in axis space."""
    labels: tuple[str, ...]
    """Inline markup, one a tick; a second line where a new day, month or year begins."""
    minor: tuple[float, ...] = ()
    """Places without a label."""
    thinned: bool = False
    """Whether ticks were left out because their labels would be the same."""


def axis_ticks(axis: Axis, wanted: int) -> AxisTicks:
    """Ticks of an axis, about as many as wanted where the analyst did not say which.

    Raises:
        ScaleError: A tick was asked for that is no value of the axis.
        OptionError: The scale's format can't write its values.
    """
    where = f"figure.scale({axis.name!r})"
    if axis.kind == "levels":
        return AxisTicks(tuple(float(place) for place in range(len(axis.labels))), axis.labels)
    if axis.empty:
        return AxisTicks((), ())  # numbers here would be made up
    spec = axis.spec
    if isinstance(spec.ticks, str) and axis.kind != "time":
        raise ScaleError(f"{where}: ticks {spec.ticks!r} are for times", "give a list of numbers, or how many")
    if isinstance(spec.ticks, int):
        if spec.ticks == 0:
            return AxisTicks((), ())
        wanted = max(spec.ticks, 2)
    if axis.kind == "time":
        return _time_axis(axis, wanted, where)
    # The room beside the outermost values may reach beyond what a float can hold.
    low, high = np.nan_to_num(axis.transform.inverse(np.array([axis.extent.low, axis.extent.high]))).tolist()
    minor: tuple[float, ...] = ()
    if isinstance(spec.ticks, tuple):
        chosen = _numbers(spec.ticks, where)
        at = tuple(value for value in chosen if low <= value <= high)
    else:
        at, minor = axis.transform.ticks(low, high, max(wanted, 2), whole=axis.whole)
    if spec.minor_ticks is False:
        minor = ()
    elif spec.minor_ticks and not minor and len(at) > 1:
        minor = _between(at, low, high)
    at, labels, thinned = told_apart(at, lambda values: number_texts(values, spec, where, axis.transform))
    places = axis.transform.forward(np.array(at, float)).tolist()
    return AxisTicks(tuple(places), labels, tuple(axis.transform.forward(np.array(minor, float)).tolist()), thinned)


def told_apart(
    at: tuple[float, ...], write: Callable[[tuple[float, ...]], tuple[str, ...]]
) -> tuple[tuple[float, ...], tuple[str, ...], bool]:
    """Ticks with their labels, thinned evenly until no two labels are the same; and whether that was needed."""
    for every in range(1, max(len(at), 1) + 1):
        chosen = at[::every]
        labels = write(chosen)
        said = [label for label in labels if label]
        if len(set(said)) == len(said):
            return chosen, labels, every > 1
    return at, write(at), False


def _between(at: tuple[float, ...], low: float, high: float) -> tuple[float, ...]:
    """The middle between ticks, also outside the first and last one where there is room."""
    step = at[1] - at[0]
    middles = [value + step / 2 for value in (at[0] - step, *at)]
    return tuple(value for value in middles if low <= value <= high)


def _numbers(values: tuple[Any, ...], where: str) -> tuple[float, ...]:
    for value in values:
        if not is_number(value):
            raise ScaleError(f"{where}: ticks holds {told(value)}, which is no number")
    return tuple(sorted(float(value) for value in values))


def number_texts(values: tuple[float, ...], spec: ScaleSpec, where: str, transform: Transform = _EVEN) -> tuple[str, ...]:
    """Numbers written by the scale's format, else as short as they can be."""
    form = spec.format
    if form is None:
        return tuple(transform.texts(values))
    if callable(form):
        return tuple(called_format(form, value, where) for value in values)
    if isinstance(form, Mapping):
        plain = written(values)
        words = {_as_number(key): str(text) for key, text in form.items()}
        return tuple(words.get(value, text) for value, text in zip(values, plain, strict=True))
    try:
        return tuple(formatted(values, form))
    except ValueError as problem:
        raise OptionError(
            f"{where}: {told(form)} is no format for numbers: {problem}",
            'such as ",.1f", "percent", "si", "scientific" or "€{value:,.0f}"; or a callable',
        ) from problem


def _as_number(key: Any) -> float | None:
    try:
        return float(key)
    except (TypeError, ValueError):
        return None


def _time_axis(axis: Axis, wanted: int, where: str) -> AxisTicks:
    low, high = axis.extent.low, axis.extent.high
    if isinstance(axis.spec.ticks, tuple):
        at = tuple(sorted(instant(value, axis.zone, f"{where}: ticks") for value in axis.spec.ticks))
        at = tuple(value for value in at if low <= value <= high)
        labels = _stamps(at, axis)
    elif isinstance(axis.spec.ticks, str):
        every = re.fullmatch(EVERY, axis.spec.ticks)
        assert every is not None
        try:
            at, labels, _ = stepped_ticks(low, high, int(every[1] or 1), every[2], axis.zone)
        except ValueError as problem:
            raise ScaleError(f"{where}: {axis.spec.ticks!r} makes {problem}", "a longer step") from problem
    else:
        at, labels, _ = time_ticks(low, high, max(wanted, 2), axis.zone)
    texts = time_texts(at, labels, axis.spec, axis.zone, where)
    if axis.spec.format is None or len(set(texts)) == len(texts):
        return AxisTicks(at, texts)
    # Of ticks that are written alike the first stands for all, such as January for a year.
    first = [place for place, text in enumerate(texts) if not text or text not in texts[:place]]
    return AxisTicks(tuple(at[place] for place in first), tuple(texts[place] for place in first), thinned=True)


def _stamps(at: tuple[float, ...], axis: Axis) -> tuple[str, ...]:
    return tuple(text.replace(" 00:00", "") for text in strftime(at, "%d %b %Y %H:%M", axis.zone))


def time_texts(at: tuple[float, ...], labels: tuple[str, ...], spec: ScaleSpec, zone: str | None, where: str) -> tuple[str, ...]:
    """Times written by the scale's format, else as the calendar gave them."""
    form = spec.format
    if form is None:
        return labels
    if callable(form):
        moments = np.array(at).astype(np.int64).astype("datetime64[us]").tolist()
        return tuple(called_format(form, moment, where) for moment in moments)
    if not isinstance(form, str) or "%" not in form:
        raise OptionError(f"{where}: {form!r} is no format for times", 'such as "%b %Y"; or a callable')
    try:
        return tuple(strftime(at, form, zone))
    except ValueError as problem:
        raise OptionError(f"{where}: {problem}") from problem


class Entry(NamedTuple):
    """One line of a legend: what it is called, and the layers that draw its key."""

    label: str
    keys: tuple[tuple[DrawnLayer, Mapping[str, Look]], ...]
    opacity: float = 1.0
    """Of the key; full where the legend does not explain opacities."""


class ColorBar(NamedTuple):
    """A continuous run of colors with ticks."""

    colors: tuple[str, ...]
    at: tuple[float, ...]
    """Shares of its length."""
    labels: tuple[str, ...]
    stepped: bool = False
    """Whether it holds a few even blocks instead of a run."""


class Legend(NamedTuple):
    """A legend for one column: entries, or a color bar."""

    name: str
    title: str
    entries: tuple[Entry, ...]
    bar: ColorBar | None = None


def legends(looks: Mapping[str, LookScale], runs: Runs, neutral: str) -> list[Legend]:
    """One legend for each column that a look is mapped to; aesthetics that share a column share it.

    Args:
        looks: The settled scales by aesthetic.
        runs: The layers.
        neutral: The color of keys in legends that do not explain the color, where the marks' color follows other data.
    """
    together: dict[tuple[str, str, str], list[LookScale]] = {}
    for scale in looks.values():
        # Looks that stand in the data explain nothing beyond themselves, unless the analyst gives them words.
        if scale.spec.kind == "as_given" and scale.spec.format is None:
            continue
        if any(_shown(run, scale.aesthetic) for run in runs):
            together.setdefault((scale.column, scale.kind, scale.title), []).append(scale)
    made = []
    for scales in together.values():
        legend = _legend(scales, runs, neutral)
        if legend is not None:
            made.append(legend)
            made += _gaps(scales, legend, runs, neutral)
    return made


def _gaps(scales: list[LookScale], legend: Legend, runs: Runs, neutral: str) -> list[Legend]:
    """The key of rows without a number, where they are drawn."""
    first = scales[0]
    if first.kind == "levels" or not any(scale.gaps for scale in scales):
        return []
    values = {scale.aesthetic: Look((scale.values[-1],)) for scale in scales}
    keys = tuple(
        (run.layer, _key_looks(run, values, neutral)) for run in runs if any(_shown(run, scale.aesthetic) for scale in scales)
    )
    return [Legend(f"{legend.name}-missing", "", (Entry(_end_word(first, "missing"), keys),))]


def _shown(run: LayerRun, aesthetic: str) -> bool:
    """Whether a layer's marks show an aesthetic that follows data."""
    return bool(run.layer.legend) and run.follows(aesthetic) and aesthetic in run.layer.looks


def _legend(scales: list[LookScale], runs: Runs, neutral: str) -> Legend | None:
    first = scales[0]
    if first.kind == "levels":
        labels: tuple[str, ...] = first.labels
        numbers = np.arange(float(len(labels)))
    elif first.breaks:
        labels, numbers = _classes(first)
        if len(scales) == 1 and first.aesthetic in ("color", "outline"):
            count = len(first.breaks) + 1
            share = tuple((place + 1) / count for place in range(count - 1))
            texts = number_texts(first.breaks, first.spec, f"figure.scale({first.aesthetic!r})")
            at, said = (0.0, *share, 1.0), (_end_word(first, "below"), *texts, _end_word(first, "beyond"))
            return Legend(first.aesthetic, first.title, (), ColorBar(first.values[:-1], at, said, stepped=True))
    else:
        at, labels = _round_values(first)
        if len(scales) == 1 and first.aesthetic in ("color", "outline"):
            width = first.high - first.low
            low, high = first.transform.forward(np.array([first.low, first.high])).tolist()
            places = first.transform.forward(np.array(at, float)).tolist()
            share = tuple((place - low) / (high - low) if width > 0 else 0.5 for place in places)
            colors = first.values[:-1]
            share, labels = _open_ends(first, share, labels)
            return Legend(first.aesthetic, first.title, (), ColorBar(colors[:: max(1, len(colors) // 64)], share, labels))
        numbers = np.array(at)
    if not len(labels):
        return None
    entries = []
    for label, number in zip(labels, numbers.tolist(), strict=True):
        values = {scale.aesthetic: Look((_one(scale, number),)) for scale in scales}
        keys = tuple(
            (run.layer, _key_looks(run, values, neutral)) for run in runs if any(_shown(run, scale.aesthetic) for scale in scales)
        )
        entries.append(Entry(label, keys, float(values["opacity"].values[0]) if "opacity" in values else 1.0))
    return Legend("-".join(scale.aesthetic for scale in scales), first.title, tuple(entries))


def _key_looks(run: LayerRun, values: Mapping[str, Look], neutral: str) -> dict[str, Look]:
    """The looks of a key: those that the legend explains, else the layer's own."""
    follows = {*run.columns, *run.layer.computed_looks}
    looks = {**run.usual, **{name: look for name, look in values.items() if name in follows}}
    for name in ("color", "outline"):
        # A color of the palette would stand for a category here.
        if name in follows and name in looks and name not in values and run.layer.constant(name) is None:
            looks[name] = Look((neutral,))
    return looks


def _end_word(scale: LookScale, word: str) -> str:
    """What an end of a scale that goes on is called: "below" or "beyond", or what a dict of formats says for it."""
    form = scale.spec.format
    return str(form.get(word, word)) if isinstance(form, Mapping) else word


def _open_ends(scale: LookScale, at: tuple[float, ...], labels: tuple[str, ...]) -> tuple[tuple[float, ...], tuple[str, ...]]:
    """Ticks at the limits that say that there are values beyond them; a tick in their place gives way."""
    below, above = scale.beyond
    ends = [(0.0, _end_word(scale, "below"), scale.low)] if below else []
    ends += [(1.0, _end_word(scale, "beyond"), scale.high)] if above else []
    for place, word, limit in ends:
        where = f"figure.scale({scale.aesthetic!r})"
        (text,) = number_texts((limit,), scale.spec, where, scale.transform) if scale.kind == "number" else ("",)
        kept = [(share, label) for share, label in zip(at, labels, strict=True) if abs(share - place) > 0.1]
        ordered = sorted([*kept, (place, f"{word} {text}".strip())])
        at, labels = tuple(share for share, _ in ordered), tuple(label for _, label in ordered)
    return at, labels


def _classes(scale: LookScale) -> tuple[tuple[str, ...], FloatArray]:
    """What the classes are called, and a number in each."""
    texts = number_texts(scale.breaks, scale.spec, f"figure.scale({scale.aesthetic!r})")
    low_end, high_end = _end_word(scale, "below"), _end_word(scale, "beyond")
    names = [f"{low_end} {texts[0]}", *(f"{low} to {high}" for low, high in pairwise(texts)), f"{texts[-1]} and {high_end}"]
    inner = [(low + high) / 2 for low, high in pairwise(scale.breaks)]
    return tuple(names), np.array([scale.breaks[0] - 1.0, *inner, scale.breaks[-1]])


def _one(scale: LookScale, number: float) -> Any:
    if scale.kind == "levels":
        return scale.values[int(number)]
    return scale.values[int(scale.place(np.array([number]))[0])]


def _round_values(scale: LookScale) -> tuple[tuple[float, ...], tuple[str, ...]]:
    """A few round values of a number or time scale and their texts."""
    where = f"figure.scale({scale.aesthetic!r})"
    if scale.kind == "time":
        ticks = time_ticks(scale.low, scale.high, 4, scale.zone)
        return ticks.at, time_texts(ticks.at, tuple(t.replace("\n", " ") for t in ticks.labels), scale.spec, scale.zone, where)
    if isinstance(scale.spec.ticks, tuple):
        at = tuple(value for value in _numbers(scale.spec.ticks, where) if scale.low <= value <= scale.high)
    else:
        wanted = max(scale.spec.ticks, 2) if isinstance(scale.spec.ticks, int) else 3
        at = scale.transform.ticks(scale.low, scale.high, wanted, whole=scale.whole).at
        if scale.aesthetic == "size" and len(at) > 1 and at[0] == 0:
            at = at[1:]  # a point without an area explains nothing
    at, labels, _ = told_apart(at, lambda values: number_texts(values, scale.spec, where, scale.transform))
    return at, labels


def default_looks(layer: DrawnLayer, theme: Theme, color: str) -> dict[str, Look]:
    """The looks of a layer's marks to which nothing is mapped: its constants, else the theme's; the color is given."""
    usual: dict[str, Any] = {
        "color": color,
        "outline": None,
        "opacity": 1.0,
        "size": theme.point_size,
        "shape": "disc",
        "dash": next(iter(DASHES)),
        "line_width": theme.line_width,
    }
    usual |= {**layer.usual, "color": color}
    looks = {}
    for name in layer.looks:
        constant = layer.constant(name)
        looks[name] = Look((usual[name] if constant is None else constant,))
    return looks
