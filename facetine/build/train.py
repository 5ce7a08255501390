"""From the rows of all layers to trained scales: the ranges of axes, and the values of looks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from facetine.build.notes import Notes
from facetine.build.notes import rows as so_many
from facetine.build.split import MISSING, Part, Split, missing_policy
from facetine.core.arrays import FloatArray
from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.color.spaces import blend, from_oklch, to_hex
from facetine.core.columns import Columns
from facetine.core.scales.calendar import instant
from facetine.core.scales.position import Span, padded
from facetine.core.scales.transforms import Linear, Transform
from facetine.data.codebook import Codebook, escaped
from facetine.errors import FacetineError, OptionError, ScaleError, unknown
from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.scale import DASHES, NUMBER_KINDS, SHAPES, ScaleSpec, transform_of
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.base import Look

_MARGIN = 0.04
_STEPS = 256
_COARSE = 24


@dataclass(frozen=True, slots=True)
class Axis:
    """A trained axis."""

    name: str
    """x or y."""
    kind: str
    """linear, log, time or levels."""
    transform: Transform
    span: Span
    labels: tuple[str, ...]
    """What the levels are called, in inline markup; empty where there are none."""
    zone: str | None
    spec: ScaleSpec
    title: str
    window: bool
    """Whether limits were said, so that lines and areas end at them."""
    outer: tuple[str, ...] = ()
    """For crossed columns: what the level of the outer ones is called, for each of `labels`."""


@dataclass(frozen=True, slots=True)
class LookScale:
    """A trained scale of an aesthetic that is no place."""

    aesthetic: str
    column: str
    title: str
    kind: str
    """levels, number or time."""
    labels: tuple[str, ...]
    """What the levels are called; empty for numbers."""
    values: tuple[Any, ...]
    """The look of each level, or of even steps from `low` to `high`, with that of missing values at the end."""
    low: float
    high: float
    spec: ScaleSpec
    zone: str | None = None
    transform: Transform = Linear()

    def look(self, data: FloatArray) -> Look:
        """The looks of rows with these levels or numbers."""
        if self.kind == "levels":
            return Look(self.values, data.astype(np.int64, copy=False))
        return Look(self.values, self.place(data))

    def place(self, data: FloatArray) -> Any:
        """Which of the values stand for these numbers, shape (n,)."""
        steps = len(self.values) - 2
        low, high = self.transform.forward(np.array([self.low, self.high])).tolist()
        width = high - low
        share = (self.transform.forward(data) - low) / width if width > 0 else np.full(len(data), 0.5)
        lost = np.isnan(data) | np.isnan(share)
        places = np.rint(np.clip(np.where(lost, 0.0, share), 0, 1) * steps).astype(np.int64)
        places[lost] = steps + 1
        return places


@dataclass(frozen=True, slots=True)
class Scales:
    """All trained scales of a figure."""

    axes: Mapping[str, Axis]
    looks: Mapping[str, LookScale]


def guide_title(sentence: Sentence, aesthetic: str, column: str | None) -> str:
    """The title of an axis or legend: the figure's, else the scale's, else the codebook's, else the name as words."""
    said = sentence.titles.guides.get(aesthetic)
    if said is None:
        said = sentence.scale(aesthetic).title
    if said is not None:
        return said
    if column is None:
        return ""
    return " × ".join(sentence.codebook.title(name) for name in column.split(" × "))


def level_texts(levels: Sequence[Any], spec: ScaleSpec, where: str) -> tuple[str, ...]:
    """What levels are called: by the scale's format where there is one; plain data are no markup."""
    return tuple(_level_text(level, spec.format, where) for level in levels)


def _level_text(level: Any, form: Any, where: str) -> str:
    if level is MISSING:
        return "missing"
    if callable(form):
        return called_format(form, level, where)
    if isinstance(form, Mapping):
        found = form.get(level, form.get(str(level)))
        if found is not None:
            return str(found)
    if isinstance(level, tuple):
        return ", ".join(_level_text(part, None, where) for part in level)
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return escaped(str(level)) if str(level) else "(blank)"


def called_format(form: Any, value: Any, where: str) -> str:
    """What a callable format makes of a value.

    Raises:
        OptionError: It fails, or returns no text.
    """
    try:
        said = form(value)
    except Exception as problem:
        raise OptionError(f"{where}: format failed for {value!r}: {type(problem).__name__}: {problem}") from problem
    if not isinstance(said, str):
        raise OptionError(f"{where}: format returned {said!r} for {value!r}, which is no text")
    return said


# Axes ---------------------------------------------------------------------------------------------------------------


def train_axes(sentence: Sentence, split: Split, tables: list[Columns]) -> dict[str, Axis]:
    """The ranges of x and y over all layers and panels.

    Args:
        sentence: What the figure says.
        split: Its rows and levels.
        tables: Each layer's computed rows in axis space, x and y as the reader sees them.

    Raises:
        ScaleError: Limits make no range, or bars stand on a log axis.
    """
    return {axis: _axis(sentence, split, tables, axis) for axis in ("x", "y")}


def _axis(sentence: Sentence, split: Split, tables: list[Columns], axis: str) -> Axis:
    spec = sentence.scale(axis)
    column = split.columns.get(axis)
    title = guide_title(sentence, axis, column.name if column else None)
    if column is None and axis not in sentence.titles.guides and spec.title is None:
        title = _computed_title(split.parts, axis)
    if axis in split.levels:
        count = len(split.levels[axis])
        span = Span(-0.5, max(count, 1) - 0.5, _reversed(axis, spec))
        labels = level_texts(split.levels[axis], spec, f"figure.scale({axis!r})")
        if spec.limits is not None:
            raise ScaleError(f"figure.scale({axis!r}): limits are for numbers and times", "use order, or .keep the rows")
        levels = split.levels[axis]
        outer: tuple[str, ...] = ()
        if levels and all(isinstance(level, tuple) for level in levels) and spec.format is None:
            where = f"figure.scale({axis!r})"
            labels = level_texts([level[-1] for level in levels], spec, where)
            outer = level_texts([level[:-1] for level in levels], spec, where)
        return Axis(axis, "levels", split.transforms[axis], span, labels, None, spec, title, False, outer)
    transform = split.transforms[axis]
    kind = "time" if column is not None and column.kind == "time" else spec.kind if spec.kind in NUMBER_KINDS else "linear"
    zone = column.zone if column is not None else None
    if kind in ("log", "logit"):
        _refuse_bars_on_log(split.parts, axis, kind)
    low, high = _data_range(tables, axis)
    empty = not low <= high
    if empty:
        low, high = (0.0, 1.0)
    low, high = _with_included(spec, kind, transform, low, high, zone, axis)
    span = _ranged(split, spec, kind, transform, (low, high), zone, axis)
    return Axis(axis, kind, transform, span, (), zone, spec, title, spec.limits is not None)


def _reversed(axis: str, spec: ScaleSpec) -> bool:
    # Categories on y are read from the top.
    return (axis == "y") != bool(spec.reverse)


def _computed_title(parts: list[Part], axis: str) -> str:
    """What a layer computed for an axis to which nothing is mapped."""
    for part in parts:
        own = ("x" if part.lying else "y") == axis
        if said := part.layer.value_title() if own else part.layer.place_title():
            return said
    return ""


def _refuse_bars_on_log(parts: list[Part], axis: str, kind: str) -> None:
    for part in parts:
        if part.layer.from_zero and ("x" if part.lying else "y") == axis:
            raise ScaleError(
                f"figure.{part.layer.verb}: they stand on zero, for which a {kind} axis has no place",
                "draw .points(), or leave the scale linear",
            )


def _data_range(tables: list[Columns], axis: str) -> tuple[float, float]:
    low, high = np.inf, -np.inf
    for table in tables:
        for name, values in table.values.items():
            if POSITIONS.get(name) == axis and len(values):
                low = min(low, float(np.fmin.reduce(values)))
                high = max(high, float(np.fmax.reduce(values)))
    return low, high


def _with_included(
    spec: ScaleSpec, kind: str, transform: Transform, low: float, high: float, zone: str | None, axis: str
) -> tuple[float, float]:
    if spec.include is None:
        return low, high
    given = spec.include if isinstance(spec.include, list | tuple) else (spec.include,)
    for value in given:
        place = _place(value, kind, transform, zone, f"figure.scale({axis!r}): include")
        low, high = min(low, place), max(high, place)
    return low, high


def _ranged(
    split: Split,
    spec: ScaleSpec,
    kind: str,
    transform: Transform,
    data: tuple[float, float],
    zone: str | None,
    axis: str,
) -> Span:
    """The data's range with room at both ends, or the window that was said."""
    low, high = data
    written_on = any(part.layer.written is not None and ("x" if part.lying else "y") == axis for part in split.parts)
    room = (3 * _MARGIN if written_on else _MARGIN) if spec.margin is None else spec.margin
    ends = list(padded(low, high, room))
    if kind in ("sqrt", "power") and low >= 0 > ends[0]:
        ends[0] = 0.0  # below zero there is nothing to show
    standing = any(part.layer.from_zero and ("x" if part.lying else "y") == axis for part in split.parts)
    if standing and spec.margin is None and low <= 0 <= high and low < high:
        # Bars grow out of the axis itself.
        ends = [low if low == 0 else ends[0], high if high == 0 else ends[1]]
    if spec.limits is not None:
        where = f"figure.scale({axis!r}): limits"
        for end, value in enumerate(spec.limits):
            if value is not None:
                ends[end] = _place(value, kind, transform, zone, where)
        if not ends[0] < ends[1]:
            raise ScaleError(f"{where} {spec.limits!r} make no range", "the first is below the second; reverse=True turns it")
    return Span(ends[0], ends[1], bool(spec.reverse))


def _place(value: Any, kind: str, transform: Transform, zone: str | None, where: str) -> float:
    """A value that the analyst wrote, as a place on the axis."""
    if kind == "time":
        return instant(value, zone, where)
    if isinstance(value, bool) or not isinstance(value, int | float | np.number) or not np.isfinite(value):
        raise ScaleError(f"{where}: {value!r} is no number")
    place = transform.forward(np.array([float(value)]))
    if not np.isfinite(place[0]):
        raise ScaleError(f"{where}: {value!r} has no place on a {kind} scale")
    return float(place[0])


def inside(axes: Mapping[str, Axis], table: Columns, clipped: bool, notes: Notes) -> Columns:
    """The rows within the windows that were said; layers that are cut at the edge keep all."""
    if clipped or not any(axis.window for axis in axes.values()):
        return table
    keep = np.ones(len(table), bool)
    for name, axis in axes.items():
        if axis.window and name in table:
            good = axis.span.holds(table[name])
            gone = int((keep & ~good).sum())
            if gone:
                notes.say(f"{so_many(gone)} outside the limits of {name} not shown")
            keep &= good
    return table if keep.all() else table.take(keep)


# Looks --------------------------------------------------------------------------------------------------------------


def train_looks(sentence: Sentence, split: Split, tables: list[Columns], notes: Notes) -> dict[str, LookScale]:
    """A scale for every mapped aesthetic that is no place and shows in the marks."""
    scales = {
        aesthetic: _computed_scale(sentence, aesthetic, title, tables)
        for part in split.parts
        for aesthetic, title in part.layer.computed_looks.items()
        if aesthetic not in split.columns and part.layer.constant(aesthetic) is None
    }
    for aesthetic, column in split.columns.items():
        if aesthetic in ("x", "y", "group", "label", "weight"):
            continue
        spec = sentence.scale(aesthetic)
        title = guide_title(sentence, aesthetic, column.name)
        if column.discrete:
            levels = split.levels[aesthetic]
            labels = level_texts(levels, spec, f"figure.scale({aesthetic!r})")
            values = _level_looks(sentence, aesthetic, column.kind, column.name, levels, notes)
            scales[aesthetic] = LookScale(aesthetic, column.name, title, "levels", labels, values, 0.0, 0.0, spec)
            continue
        low, high = _look_range(aesthetic, tables)
        scales[aesthetic] = _number_scale(sentence, aesthetic, column.kind, column.name, title, low, high, column.zone)
    return scales


def _computed_scale(sentence: Sentence, aesthetic: str, title: str, tables: list[Columns]) -> LookScale:
    """A scale for what a layer computed, such as the counts of cells."""
    said = sentence.titles.guides.get(aesthetic) or sentence.scale(aesthetic).title
    low, high = _look_range(aesthetic, tables)
    return _number_scale(sentence, aesthetic, "number", "", said or title, low, high, None)


def _look_range(aesthetic: str, tables: list[Columns]) -> tuple[float, float]:
    found = [table[aesthetic] for table in tables if aesthetic in table and len(table)]
    low = min((float(np.fmin.reduce(values)) for values in found), default=0.0)
    high = max((float(np.fmax.reduce(values)) for values in found), default=1.0)
    return (low, high) if low <= high else (0.0, 1.0)


def _level_looks(
    sentence: Sentence, aesthetic: str, kind: str, column: str, levels: tuple[Any, ...], notes: Notes
) -> tuple[Any, ...]:
    """The look of each level."""
    spec, theme = sentence.scale(aesthetic), sentence.theme
    if levels and levels[-1] is MISSING:
        rest = _level_looks(sentence, aesthetic, kind, column, levels[:-1], notes)
        if aesthetic in ("color", "outline"):
            said = missing_policy(sentence, aesthetic, column)
            return (*rest, theme.missing_color if said in (None, "show", "drop") else said)
        return (*rest, _missing_look(aesthetic, rest))
    count = len(levels)
    if aesthetic in ("color", "outline"):
        return _level_colors(spec, theme, sentence.codebook, kind, column, levels, notes)
    if aesthetic == "shape":
        return _from_list(spec.shapes or SHAPES, count, "shapes", column)
    if aesthetic == "dash":
        return _from_list(spec.dashes or tuple(DASHES), count, "dashes", column)
    low, high = _look_span(aesthetic, spec, theme)
    share = np.linspace(0.0, 1.0, count) if count > 1 else np.array([1.0])
    if aesthetic == "size":
        return tuple(np.round(np.sqrt(low**2 + share * (high**2 - low**2)), 2).tolist())
    return tuple(np.round(low + share * (high - low), 3).tolist())


def _missing_look(aesthetic: str, rest: tuple[Any, ...]) -> Any:
    if aesthetic == "shape":
        return next((shape for shape in reversed(SHAPES) if shape not in rest), SHAPES[-1])
    if aesthetic == "dash":
        return next((dash for dash in reversed(list(DASHES)) if dash not in rest), "dotted")
    return min(rest, default=1.0)


def _from_list(possible: tuple[str, ...], count: int, name: str, column: str) -> tuple[str, ...]:
    if count > len(possible):
        raise ScaleError(
            f"figure: {column!r} has {count} categories, but there are {len(possible)} {name}",
            "map it to color, or make panels of it with .facet()",
        )
    return possible[:count]


def _look_span(aesthetic: str, spec: ScaleSpec, theme: Theme) -> tuple[float, float]:
    """Smallest and largest size, opacity or width."""
    usual = {"size": (0.6 * theme.point_size, 3.0 * theme.point_size), "opacity": (0.2, 1.0), "line_width": (0.5, 3.2)}
    low, high = usual[aesthetic]
    given = spec.span or (None, None)
    ends = []
    for value, end in zip(given, (low, high), strict=True):
        if value is not None and (isinstance(value, bool) or not isinstance(value, int | float) or value < 0):
            raise OptionError(f"figure.scale({aesthetic!r}): span {given!r} is no pair of sizes")
        ends.append(end if value is None else float(value))
    return ends[0], ends[1]


def _level_colors(
    spec: ScaleSpec,
    theme: Theme,
    codebook: Codebook,
    kind: str,
    column: str,
    levels: tuple[Any, ...],
    notes: Notes,
) -> tuple[str, ...]:
    """The color of each level: what is said for it, else the next of the palette."""
    entry = codebook.entry(column)
    booked = {str(entry.word(code)): shade for code, shade in (entry.colors or {}).items()}
    said = {**booked, **(spec.colors or {})}
    for name in spec.colors or {}:
        if levels and name not in {_key(level) for level in levels}:
            raise _no_category(name, levels)
    if kind == "ordered" and spec.palette is None and not said and spec.others is None:
        stops = ramp_colors(spec, theme)
        # The palest end of a ramp is lost on white; ordered levels start a little inside.
        inner = blend(stops, 101)[18:]
        return tuple(blend(inner, len(levels))) if len(levels) > 1 else (inner[60],)
    palette = palette_colors(spec, theme)
    free = [shade for shade in palette if shade not in said.values()]
    left = [level for level in levels if _key(level) not in said]
    if spec.others is not None:
        drawn = {_key(level): spec.others for level in left}
    else:
        if len(left) > len(free):
            notes.say(
                f"{column} has {len(levels)} categories, more than the {len(palette)} colors that can be told apart; "
                "make panels of it, or name the ones that matter with colors= and others="
            )
            free = [*free, *_more_colors(len(left) - len(free))]
        drawn = {_key(level): shade for level, shade in zip(left, free, strict=False)}
    return tuple(said.get(_key(level), drawn.get(_key(level), "")) for level in levels)


def _key(level: Any) -> str:
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return str(level)


def _no_category(name: str, levels: tuple[Any, ...]) -> FacetineError:
    return unknown(OptionError, "figure.scale('color')", "colors names no category", name, map(_key, levels), "categories")


def palette_colors(spec: ScaleSpec, theme: Theme) -> tuple[str, ...]:
    """The colors for categories: the scale's, else the theme's."""
    chosen = spec.palette if spec.palette is not None else theme.palette
    return QUALITATIVE[chosen] if isinstance(chosen, str) else tuple(chosen)


def ramp_colors(spec: ScaleSpec, theme: Theme) -> tuple[str, ...]:
    """The colors for numbers: the scale's, else a diverging ramp where it has a middle, else the theme's."""
    chosen = spec.ramp
    if chosen is None:
        chosen = next(iter(DIVERGING)) if spec.middle is not None else theme.ramp
    if isinstance(chosen, str):
        return (SEQUENTIAL | DIVERGING | CYCLIC)[chosen]
    return tuple(chosen)


def _more_colors(count: int) -> list[str]:
    """Further colors by the golden angle of hue, alternating in lightness."""
    number = np.arange(count)
    lightness = np.array([0.52, 0.68, 0.42])[number % 3]
    lch = np.column_stack([lightness, np.full(count, 0.09), (200 + 137.508 * number) % 360])
    return to_hex(from_oklch(lch))


def _number_scale(
    sentence: Sentence,
    aesthetic: str,
    kind: str,
    column: str,
    title: str,
    low: float,
    high: float,
    zone: str | None,
) -> LookScale:
    spec, theme = sentence.scale(aesthetic), sentence.theme
    if spec.limits is not None:
        ends = [low, high]
        for end, value in enumerate(spec.limits):
            if value is not None:
                ends[end] = instant(value, zone, f"figure.scale({aesthetic!r}): limits") if kind == "time" else float(value)
        low, high = ends
        if not low < high:
            raise ScaleError(f"figure.scale({aesthetic!r}): limits {spec.limits!r} make no range")
    if aesthetic in ("color", "outline"):
        if spec.middle is not None:
            reach = max(high - spec.middle, spec.middle - low)
            low, high = spec.middle - reach, spec.middle + reach
        shades = blend(ramp_colors(spec, theme), _STEPS)
        values: tuple[Any, ...] = (*(shades[::-1] if spec.reverse else shades), _missing_color(spec, theme))
    else:
        values = _number_looks(aesthetic, spec, theme, low, high)
    sort = "time" if kind == "time" else "number"
    return LookScale(aesthetic, column, title, sort, (), values, low, high, spec, zone, transform_of(spec))


def _missing_color(spec: ScaleSpec, theme: Theme) -> str:
    return theme.missing_color if spec.missing in (None, "drop", "show") else spec.missing


def _number_looks(aesthetic: str, spec: ScaleSpec, theme: Theme, low: float, high: float) -> tuple[float, ...]:
    """Sizes, opacities or widths of even steps from low to high; the area of a point follows its number."""
    small, large = _look_span(aesthetic, spec, theme)
    share = np.linspace(0.0, 1.0, _STEPS if aesthetic == "size" else _COARSE)
    if aesthetic == "size":
        if low >= 0 and high > 0 and spec.span is None:
            looks = large * np.sqrt((low + share * (high - low)) / high)
            looks = np.maximum(looks, 0.25 * small)
        else:
            looks = np.sqrt(small**2 + share * (large**2 - small**2))
    else:
        looks = small + share * (large - small)
    ordered = np.round(looks[::-1] if spec.reverse else looks, 2).tolist()
    return (*ordered, min(ordered))
