"""Settled looks: the colors, sizes, shapes, … that stand for levels and numbers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.color.names import hex_color
from facetine.core.color.palettes import DIVERGING
from facetine.core.color.registry import PALETTES
from facetine.core.color.spaces import blend, contrast, from_hex, from_oklab, from_oklch, oklab, to_hex
from facetine.core.columns import Columns
from facetine.core.scales.calendar import instant
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.core.scales.ticks import linear_ticks
from facetine.data.codebook import Codebook
from facetine.data.table import Column
from facetine.errors import FacetineError, OptionError, ScaleError, told, unknown
from facetine.findings import Findings
from facetine.grammar.scale import DASHES, SHAPES, ScaleSpec, transform_of
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import THEMES, Theme
from facetine.layers.base import Look
from facetine.pipeline.levels import MISSING, missing_policy
from facetine.pipeline.panels import AxisKey, Panel
from facetine.pipeline.runs import Split
from facetine.pipeline.settle import Axis, level_texts
from facetine.pipeline.titles import look_title, said_title

_STEPS = 256
_COARSE = 24
_CONTRAST = 3.0
_OURS = tuple(theme.ramp for theme in THEMES.values())


@dataclass(frozen=True, slots=True)
class LookScale:
    """A settled scale of an aesthetic that is no place."""

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
    beyond: tuple[bool, bool] = (False, False)
    """Whether there are values under the lower limit, and over the upper one; they have the looks of the limits."""
    breaks: tuple[float, ...] = ()
    """Where a classed scale changes: one fewer than it has values, that of missing ones not counted."""
    whole: bool = False
    """Whether all its numbers are whole."""
    gaps: bool = False
    """Whether rows without a value are drawn."""

    def look(self, data: FloatArray) -> Look:
        """The looks of rows with these levels or numbers."""
        if self.kind == "levels":
            return Look(self.values, data.astype(np.int64, copy=False))
        return Look(self.values, self.place(data))

    def place(self, data: FloatArray) -> Any:
        """Which of the values stand for these numbers, shape (n,)."""
        if self.breaks:
            classes = np.searchsorted(np.array(self.breaks), data, side="right").astype(np.int64)
            classes[np.isnan(data)] = len(self.values) - 1
            return classes
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
    """All settled scales of a figure."""

    axes: Mapping[AxisKey, Axis]
    looks: Mapping[str, LookScale]

    def first(self, axis: str) -> Axis:
        """The first axis of a name, whose kind and words all of that name have."""
        return next(found for key, found in self.axes.items() if key.axis == axis)

    def under(self, panel: Panel) -> dict[str, Axis]:
        """The two axes on which a panel stands."""
        return {"x": self.axes[panel.x], "y": self.axes[panel.y]}


def settle_looks(split: Split, findings: Findings) -> dict[str, LookScale]:
    """A scale for every mapped aesthetic that is no place and shows in the marks."""
    sentence, tables = split.sentence, [run.table for run in split.runs]
    scales = {
        aesthetic: _computed_scale(sentence, aesthetic, run.layer.look_drawn(run.context).title, tables)
        for run in split.runs
        for aesthetic in run.layer.computed_looks
        if aesthetic not in split.columns and run.layer.constant(aesthetic) is None
    }
    for aesthetic, column in split.columns.items():
        if aesthetic in ("x", "y", "group", "label", "weight"):
            continue
        spec = sentence.scale(aesthetic)
        title = look_title(split, aesthetic, column.name)
        thin = any(aesthetic in run.columns and not run.layer.filled_marks for run in split.runs)
        if column.discrete:
            levels = split.levels[aesthetic]
            labels = level_texts(levels, spec, f"figure.scale({aesthetic!r})", _level_counts(split, aesthetic, len(levels)))
            if spec.kind == "as_given":
                values = _as_given(aesthetic, column, levels, _missing_color(sentence, aesthetic, column.name))
            else:
                values = _level_looks(sentence, aesthetic, column, levels, findings, thin)
            scales[aesthetic] = LookScale(aesthetic, column.name, title, "levels", labels, values, 0.0, 0.0, spec)
            continue
        low, high = _look_range(aesthetic, tables)
        made = _number_scale(sentence, aesthetic, column.kind, column.name, title, low, high, column.zone, thin)
        scales[aesthetic] = _facts(made, aesthetic, tables)
    return scales


def _level_counts(split: Split, aesthetic: str, count: int) -> list[int]:
    """How many rows of the first layer that shows a look each of its levels has."""
    for run in split.runs:
        if aesthetic in run.columns and aesthetic in run.rows:
            found: list[int] = np.bincount(run.rows[aesthetic].astype(np.int64), minlength=count).tolist()
            return found
    return [0] * count


def _facts(scale: LookScale, aesthetic: str, tables: list[Columns]) -> LookScale:
    """A scale that knows whether its numbers are whole, and whether some are missing."""
    values = [table[aesthetic].astype(float) for table in tables if aesthetic in table and len(table)]
    every = np.concatenate(values) if values else np.zeros(0)
    there = every[~np.isnan(every)]
    whole = len(there) > 0 and bool((there == np.rint(there)).all()) and float(np.abs(there).max()) < 1e15
    return replace(scale, whole=whole, gaps=len(there) < len(every))


def _computed_scale(sentence: Sentence, aesthetic: str, title: str, tables: list[Columns]) -> LookScale:
    """A scale for what a layer computed, such as the counts of cells."""
    said = said_title(sentence, aesthetic)
    low, high = _look_range(aesthetic, tables)
    made = _number_scale(sentence, aesthetic, "number", "", title if said is None else said, low, high, None, False)
    return _facts(made, aesthetic, tables)


def _look_range(aesthetic: str, tables: list[Columns]) -> tuple[float, float]:
    found = [table[aesthetic] for table in tables if aesthetic in table and len(table)]
    low = min((float(np.fmin.reduce(values)) for values in found), default=0.0)
    high = max((float(np.fmax.reduce(values)) for values in found), default=1.0)
    return (low, high) if low <= high else (0.0, 1.0)


def _level_looks(
    sentence: Sentence, aesthetic: str, column: Column, levels: tuple[Any, ...], findings: Findings, thin: bool
) -> tuple[Any, ...]:
    """The look of each level; `thin` marks, such as points and lines, need more contrast than areas."""
    spec, theme = sentence.scale(aesthetic), sentence.theme
    if levels and levels[-1] is MISSING:
        rest = _level_looks(sentence, aesthetic, column, levels[:-1], findings, thin)
        if aesthetic in ("color", "outline"):
            return (*rest, _missing_color(sentence, aesthetic, column.name))
        return (*rest, _missing_look(aesthetic, rest))
    count = len(levels)
    if aesthetic in ("color", "outline"):
        return _level_colors(spec, theme, sentence.codebook, column, levels, findings, thin)
    if aesthetic == "shape":
        return _from_list(spec.shapes or SHAPES, count, "shapes", column.name)
    if aesthetic == "dash":
        return _from_list(spec.dashes or tuple(DASHES), count, "dashes", column.name)
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
        if value is not None and not (is_number(value) and value >= 0):
            raise OptionError(f"figure.scale({aesthetic!r}): span {told(given)} is no pair of sizes")
        ends.append(end if value is None else float(value))
    return ends[0], ends[1]


def _level_colors(
    spec: ScaleSpec,
    theme: Theme,
    codebook: Codebook,
    column: Column,
    levels: tuple[Any, ...],
    findings: Findings,
    thin: bool,
) -> tuple[str, ...]:
    """The color of each level: what is said for it, else the next of the palette."""
    entry = codebook.entry(column.name)
    booked = {str(entry.word(code)): shade for code, shade in (entry.colors or {}).items()}
    said = {**booked, **(spec.colors or {})}
    for name in spec.colors or {}:
        there = {_key(level) for level in (*levels, *column.levels)} | set(entry.known)
        if levels and name not in there:
            raise _no_category(name, tuple(dict.fromkeys((*map(_key, levels), *entry.known))))
    if column.kind == "ordered" and spec.palette is None and not said and spec.others is None:
        stops = ramp_colors(spec, theme)
        # The palest end of a ramp is lost on white; ordered levels start a little inside.
        inner = visible_ramp(stops, theme.ground) if thin else blend(stops, 101)[18:]
        shown = tuple(map(_key, levels))
        # Where the codebook names all steps, each keeps its color in figures that show only some of them.
        steps = entry.known if set(shown) <= set(entry.known) else shown
        shades = dict(zip(steps, blend(inner, len(steps)) if len(steps) > 1 else (inner[len(inner) * 3 // 4],), strict=False))
        return tuple(shades[name] for name in shown)
    palette = palette_colors(spec, theme)
    free = [shade for shade in palette if shade not in said.values()]
    # Categories that the codebook names keep their color also in figures that show only some of them.
    known = [name for name in entry.known if name not in said]
    if len(known) <= len(free) and spec.others is None:
        said |= dict(zip(known, free, strict=False))
        free = free[len(known) :]
    left = [level for level in levels if _key(level) not in said]
    if spec.others is not None:
        drawn = {_key(level): spec.others for level in left}
    else:
        if len(left) > len(free):
            findings.add(
                "many-colors",
                "figure.scale('color')",
                f"{column.name} has {len(levels)} categories, more than the {len(palette)} colors that can be told apart",
                "make panels of it, or name the ones that matter with colors= and others=",
                "warning",
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
    return PALETTES[chosen].colors if isinstance(chosen, str) else tuple(chosen)


def ramp_colors(spec: ScaleSpec, theme: Theme) -> tuple[str, ...]:
    """The colors for numbers: the scale's, else a diverging ramp where it has a middle, else the theme's."""
    chosen = spec.ramp
    if chosen is None:
        chosen = next(iter(DIVERGING)) if spec.middle is not None else theme.ramp
    if isinstance(chosen, str):
        return PALETTES[chosen].colors
    return tuple(chosen)


def visible_ramp(stops: tuple[str, ...], ground: str, steps: int = _STEPS) -> list[str]:
    """The part of a ramp that stands out from the ground at 3:1 or more, for marks as thin as points and lines.

    Of a ramp that fades into the ground at one end the rest is taken; of one that fades in its middle, or on both sides,
    what is too faint is made darker (or lighter, on a dark ground) until it stands out.

    Source: Web Content Accessibility Guidelines 2.2, success criterion 1.4.11, for the ratio.
    """
    shades = blend(stops, 1024)
    behind = from_hex([ground])[0]
    good = contrast(from_hex(shades), behind) >= _CONTRAST
    if good.all():
        return blend(stops, steps)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], good, [False]]).astype(int)))
    runs = list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))
    if len(runs) == 1 and (runs[0][0] == 0 or runs[0][1] == len(shades)) and runs[0][1] - runs[0][0] > len(shades) // 4:
        return blend(shades[runs[0][0] : runs[0][1]], steps)
    lab = oklab(from_hex(blend(stops, steps)))
    darker = float(oklab(behind[None, :])[0, 0]) > 0.5
    for _ in range(200):
        faint = contrast(np.clip(from_oklab(lab), 0, 1), behind) < _CONTRAST
        if not faint.any():
            break
        lab[faint, 0] += -0.005 if darker else 0.005
    return to_hex(np.clip(from_oklab(lab), 0, 1))


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
    thin: bool,
) -> LookScale:
    spec, theme = sentence.scale(aesthetic), sentence.theme
    beyond = (False, False)
    if spec.limits is not None:
        ends = [low, high]
        for end, value in enumerate(spec.limits):
            if value is not None:
                ends[end] = _limit(value, kind, zone, f"figure.scale({aesthetic!r}): limits")
        beyond = (low < ends[0], high > ends[1])
        low, high = ends
        if not low < high:
            raise ScaleError(f"figure.scale({aesthetic!r}): limits {spec.limits!r} make no range")
    transform = transform_of(spec)
    if not transform.admits(np.array([low, high])).all():
        if spec.limits is not None:
            raise ScaleError(f"figure.scale({aesthetic!r}): limits {spec.limits!r} have no place on a {spec.kind} scale")
        low, high = transform.inverse(np.array([0.0, 1.0])).tolist()  # there are no data
    breaks = class_breaks(spec, low, high)
    if breaks:
        values: tuple[Any, ...] = _class_looks(sentence, aesthetic, column, len(breaks) + 1, thin)
        return LookScale(aesthetic, column, title, "number", (), values, low, high, spec, zone, breaks=breaks)
    if aesthetic in ("color", "outline"):
        if spec.middle is not None:
            reach = max(high - spec.middle, spec.middle - low)
            low, high = spec.middle - reach, spec.middle + reach
        shades = _number_shades(spec, theme, thin)
        values = (*(shades[::-1] if spec.reverse else shades), _missing_color(sentence, aesthetic, column))
    else:
        values = _number_looks(aesthetic, spec, theme, low, high)
    sort = "time" if kind == "time" else "number"
    return LookScale(aesthetic, column, title, sort, (), values, low, high, spec, zone, transform, beyond)


def _limit(value: Any, kind: str, zone: str | None, where: str) -> float:
    if kind == "time":
        return instant(value, zone, where)
    if not is_number(value):
        raise ScaleError(f"{where}: {told(value)} is no number")
    return float(value)


def class_breaks(spec: ScaleSpec, low: float, high: float) -> tuple[float, ...]:
    """Where a classed scale changes; round values where only their number was said; none for other scales."""
    if spec.kind != "classed":
        return ()
    if isinstance(spec.breaks, tuple):
        return spec.breaks
    wanted = spec.breaks or 5
    inner = [value for value in linear_ticks(low, high, wanted + 1).at if low < value < high]
    return tuple(inner) or ((low + high) / 2,)


def _number_shades(spec: ScaleSpec, theme: Theme, thin: bool) -> list[str]:
    """The colors of numbers in even steps; a list of colors that was said is taken as it is."""
    stops = ramp_colors(spec, theme)
    said = spec.ramp if spec.ramp is not None or spec.middle is not None else theme.ramp
    own = isinstance(said, tuple) and said not in _OURS
    return visible_ramp(stops, theme.ground) if thin and not own else blend(stops, _STEPS)


def _class_looks(sentence: Sentence, aesthetic: str, column: str, count: int, thin: bool) -> tuple[Any, ...]:
    """The look of each class, and that of missing values."""
    spec, theme = sentence.scale(aesthetic), sentence.theme
    if aesthetic in ("color", "outline"):
        # The palest end of a ramp is lost on white; classes start a little inside.
        every = _number_shades(spec, theme, thin)
        shades = blend(every[len(every) // 10 :], count)
        return (*(shades[::-1] if spec.reverse else shades), _missing_color(sentence, aesthetic, column))
    low, high = _look_span(aesthetic, spec, theme)
    share = np.linspace(0.0, 1.0, count)
    looks = np.sqrt(low**2 + share * (high**2 - low**2)) if aesthetic == "size" else low + share * (high - low)
    ordered = np.round(looks[::-1] if spec.reverse else looks, 2).tolist()
    return (*ordered, min(ordered))


def _as_given(aesthetic: str, column: Column, levels: tuple[Any, ...], missing: str) -> tuple[Any, ...]:
    """Levels that are looks themselves.

    Raises:
        ScaleError: One of them is none.
    """
    where = f"figure.scale({aesthetic!r}): as_given"
    looks: list[Any] = []
    for level in levels:
        if level is MISSING:
            looks.append(missing if aesthetic in ("color", "outline") else looks[0])
        elif aesthetic in ("color", "outline"):
            looks.append(hex_color(level, f"{where}: column {column.name!r}"))
        elif aesthetic in ("shape", "dash"):
            known = SHAPES if aesthetic == "shape" else tuple(DASHES)
            if level not in known:
                raise unknown(ScaleError, where, f"column {column.name!r} holds no {aesthetic}:", level, known, f"{aesthetic}s")
            looks.append(level)
        else:
            size = float(level) if isinstance(level, int | float) else -1.0
            if not 0 <= size <= (1 if aesthetic == "opacity" else 1000):
                raise ScaleError(f"{where}: column {column.name!r} holds {level!r}, which is no {aesthetic.replace('_', ' ')}")
            looks.append(size)
    return tuple(looks)


def _missing_color(sentence: Sentence, aesthetic: str, column: str) -> str:
    said = missing_policy(sentence, aesthetic, column)
    return sentence.theme.missing_color if said in (None, "drop", "show") else said


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
