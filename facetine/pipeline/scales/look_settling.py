"""Settled looks: the colors, sizes, shapes, … that stand for levels and numbers."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from facetine.core.arrays import FloatArray, is_number
from facetine.core.color.names import hex_color
from facetine.core.color.spaces import blend
from facetine.core.columns import Columns
from facetine.core.scales.calendar import instant
from facetine.core.scales.formats import written
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.ticks import linear_ticks
from facetine.data.table import Column, Levels
from facetine.grammar.aesthetics import LookValue
from facetine.grammar.scale import DASHES, SHAPES, ScaleSpec, transform_of
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.messages.errors import OptionError, ScaleError, told, unknown
from facetine.messages.findings import Remark, Remarks, Saying, so_many, so_many_rows
from facetine.pipeline.composition.level_order import MISSING, level_name, say_absent
from facetine.pipeline.composition.limit_shares import by_quantile
from facetine.pipeline.rows.runs import LayerRun, Split
from facetine.pipeline.scales.look_scales import LookScale
from facetine.pipeline.scales.shades import level_colors, number_shades
from facetine.pipeline.scales.wording import level_texts, look_title, with_ranges

_MOST_COLORS, _MOST_LOOKS = 100_000, 1_000
_OF_LEVELS = ("colors", "others", "shapes", "dashes", "order", "top")
_OF_NUMBERS = ("middle", "limits", "ticks")
"""Options that mean something for categories alone, and for numbers alone."""
_NARROW, _LEAST_AREA = 0.5, 0.12
"""Where the lowest number is more than this share of the highest, areas begin at it, the least with this share of the largest."""


def settle_looks(split: Split, sheet: Sequence[Split]) -> Saying[dict[str, LookScale]]:
    """A scale for every mapped aesthetic that is no place and shows in the marks.

    Args:
        split: The layers of one figure.
        sheet: All figures that share their looks with it, itself among them: where the same column is mapped to the
            same aesthetic, or the same is computed, the same value has the same look.
    """
    sentence = split.sentence
    scales = {}
    for run in split.runs:
        for aesthetic in run.layer.computed_looks:
            _check_one_meaning(split, run, aesthetic)
            if aesthetic not in split.columns and run.layer.constant(aesthetic) is None:
                title = run.layer.look_drawn(run.context).title
                tables = [other.table for one in sheet for other in one.runs if _computes(other, one, aesthetic, title)]
                scales[aesthetic] = _computed_scale(sentence, aesthetic, title, tables)
    for aesthetic, column in split.columns.items():
        if aesthetic in ("x", "y", "group", "label", "weight"):
            continue
        spec = sentence.scale(aesthetic)
        _check_options(spec, aesthetic, column)
        title = look_title(split, aesthetic, column.name)
        runs = [run for one in sheet if _shows(one, aesthetic, column) for run in one.runs]
        thin = any(aesthetic in run.columns and not run.layer.filled_marks for run in runs)
        if column.discrete:
            levels = split.levels[aesthetic]
            _check_few(len(levels), aesthetic, column.name)
            counts, names = _level_counts(split, aesthetic, len(levels)), sentence.crossed_names(column.name)
            labels = level_texts(levels, spec, f"figure.scale({aesthetic!r})", counts, columns=names)
            if spec.format is None:
                labels = with_ranges(labels, levels, column.name, sentence.codebook)
            if spec.kind == "as_given":
                values = _as_given(aesthetic, column, levels, sentence.missing_color(aesthetic, column.name))
            else:
                values = yield from _level_looks(sentence, aesthetic, column, levels, thin)
            scales[aesthetic] = LookScale(aesthetic, column.name, title, "levels", labels, values, 0.0, 0.0, spec)
            continue
        tables = [run.table for run in runs]
        low, high = _look_range(aesthetic, tables)
        spec = by_quantile(spec, partial(_own_values, column), column.kind == "time", f"figure.scale({aesthetic!r}): limits")
        if spec is not sentence.scale(aesthetic):
            sentence = replace(sentence, scales={**sentence.scales, aesthetic: spec})
        made = _number_scale(sentence, aesthetic, column.kind, column.name, title, low, high, column.zone, thin)
        if aesthetic == "size" and made.ends is not None:
            made = yield from _with_zero_said(made)
        yield from _say_ends(made, tables)
        yield from _say_ticks_beyond(made)
        scales[aesthetic] = _facts(made, aesthetic, tables)
    return scales


def _check_options(spec: ScaleSpec, aesthetic: str, column: Column) -> None:
    """Nothing, where all that is given for a scale means something for what it shows.

    Raises:
        OptionError: An option is for categories, and the column holds numbers, or the reverse.
    """
    where, holds = f"figure.scale({aesthetic!r})", "categories" if column.discrete else "numbers"
    unused = _OF_NUMBERS if column.discrete else _OF_LEVELS
    for name in unused:
        value = getattr(spec, name)
        if value is None or (name == "colors" and isinstance(value, tuple)):
            continue
        other = "numbers" if column.discrete else "categories"
        raise OptionError(
            where,
            f"{name} is for {other}, but {column.name!r} holds {holds}",
            "leave it out" if column.discrete else f'write .kinds({column.name}="category") if its values are names',
        )


def _check_one_meaning(split: Split, run: LayerRun, aesthetic: str) -> None:
    """Nothing, where a look that a layer computes is not mapped to a column for another one.

    Raises:
        ScaleError: It would mean two things, of which a legend can tell one.
    """
    if aesthetic not in split.columns or aesthetic in run.columns or not run.follows(aesthetic):
        return
    other = next((one for one in split.runs if aesthetic in one.columns), None)
    if other is not None:
        shown = run.layer.look_drawn(run.context).title.lower() or "something computed"
        raise ScaleError(
            run.context.where,
            f"{aesthetic} shows {shown} here, but {split.columns[aesthetic].name!r} in the "
            f"{other.layer.verb}, and one figure has one scale for it",
            f'map={{"{aesthetic}": None}} in {other.layer.verb}, or a fixed {aesthetic}= in one of them',
        )


def _own_values(column: Column) -> FloatArray:
    return column.values.astype(float)


def _shows(split: Split, aesthetic: str, column: Column) -> bool:
    """Whether a figure shows a column in a look."""
    own = split.columns.get(aesthetic)
    return own is not None and own.name == column.name and own.kind == column.kind


def _computes(run: LayerRun, split: Split, aesthetic: str, title: str) -> bool:
    """Whether a layer computes what is called so in a look."""
    if aesthetic in split.columns or run.layer.constant(aesthetic) is not None or not title:
        return aesthetic in run.table
    return aesthetic in run.layer.computed_looks and run.layer.look_drawn(run.context).title == title


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
    return scale._replace(whole=whole, gaps=len(there) < len(every))


def _computed_scale(sentence: Sentence, aesthetic: str, title: str, tables: list[Columns]) -> LookScale:
    """A scale for what a layer computed, such as the counts of cells."""
    title_said = sentence.said_title(aesthetic)
    low, high = _look_range(aesthetic, tables)
    low = 0.0 if aesthetic == "size" else low  # areas are counts, from zero on
    scale = _number_scale(sentence, aesthetic, "number", "", title if title_said is None else title_said, low, high, None, False)
    return _facts(scale, aesthetic, tables)


def _look_range(aesthetic: str, tables: list[Columns]) -> tuple[float, float]:
    found = [table[aesthetic] for table in tables if aesthetic in table and len(table)]
    low = min((float(np.fmin.reduce(values)) for values in found), default=0.0)
    high = max((float(np.fmax.reduce(values)) for values in found), default=1.0)
    return (low, high) if low <= high else (0.0, 1.0)


def _level_looks(sentence: Sentence, aesthetic: str, column: Column, levels: Levels, thin: bool) -> Saying[tuple[LookValue, ...]]:
    """The look of each level; `thin` marks, such as points and lines, need more contrast than areas."""
    spec = sentence.scale(aesthetic)
    if levels and levels[-1] is MISSING:
        rest = yield from _level_looks(sentence, aesthetic, column, levels[:-1], thin)
        if aesthetic in ("color", "outline"):
            return (*rest, sentence.missing_color(aesthetic, column.name))
        return (*rest, _missing_look(aesthetic, rest))
    looks = yield from _usual_looks(sentence, aesthetic, column, levels, thin)
    return looks[::-1] if spec.reverse else looks


def _usual_looks(sentence: Sentence, aesthetic: str, column: Column, levels: Levels, thin: bool) -> Saying[tuple[LookValue, ...]]:
    """The look of each level that is there, as if the scale were not reversed."""
    spec, theme, count = sentence.scale(aesthetic), sentence.theme, len(levels)
    if aesthetic in ("color", "outline"):
        return (yield from level_colors(spec, theme, sentence.codebook, column, levels, thin))
    if aesthetic == "shape":
        shapes = yield from _said_for(levels, spec.shapes, SHAPES, "shape", "shapes")
        return _from_list(shapes, count, "shapes", column.name)
    if aesthetic == "dash":
        dashes = yield from _said_for(levels, spec.dashes, tuple(DASHES), "dash", "dashes")
        return _from_list(dashes, count, "dashes", column.name)
    low, high = _look_span(aesthetic, spec, theme)
    share = np.linspace(0.0, 1.0, count) if count > 1 else np.array([1.0])
    if aesthetic == "size":
        return tuple(np.round(np.sqrt(low**2 + share * (high**2 - low**2)), 2).tolist())
    return tuple(np.round(low + share * (high - low), 3).tolist())


def _missing_look(aesthetic: str, rest: tuple[LookValue, ...]) -> LookValue:
    if aesthetic == "shape":
        return next((shape for shape in ("hexagon", *reversed(SHAPES)) if shape not in rest), SHAPES[-1])
    if aesthetic == "dash":
        return next((dash for dash in reversed(list(DASHES)) if dash not in rest), "dotted")
    return min((look for look in rest if isinstance(look, float | int)), default=1.0)


def _said_for(
    levels: Levels,
    said: tuple[str, ...] | Mapping[str, str] | None,
    usual: tuple[str, ...],
    aesthetic: str,
    name: str,
) -> Saying[tuple[str, ...]]:
    """The looks of levels: a list as it is, or those of some levels with the usual ones, in their order, for the others.

    Raises:
        OptionError: A look is said for a level that no row has, and that reads like one without.
    """
    if not isinstance(said, Mapping):
        return said or usual
    words = [level_name(level) for level in levels]
    absent, unnamed = [level for level in said if level not in words], [word for word in words if word not in said]
    yield from say_absent(absent, unnamed, words, name, f"figure.scale({aesthetic!r})")
    rest = iter([look for look in usual if look not in said.values()])
    # Where they run out, the error counts how many there are.
    return tuple(look for word in words if (look := said.get(word) or next(rest, "")))


def _check_few(count: int, aesthetic: str, column: str) -> None:
    """Refuses so many categories that no look stands for one of them.

    Raises:
        ScaleError: They are as many.
    """
    # Colors that repeat may still tell neighbours apart, without a legend.
    most = _MOST_COLORS if aesthetic in ("color", "outline") else _MOST_LOOKS
    if count > most:
        said = f"{column!r} has {count:,} categories, more than any {aesthetic} can tell apart"
        raise ScaleError("figure", said, 'map={"group": …} tells rows apart without a look; scale(…, top=8) pools the others')


def _from_list(possible: tuple[str, ...], count: int, name: str, column: str) -> tuple[str, ...]:
    if count > len(possible):
        raise ScaleError(
            "figure",
            f"{column!r} has {count} categories, but there are {len(possible)} {name}",
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
            raise OptionError(f"figure.scale({aesthetic!r})", f"span {told(given)} is no pair of sizes")
        ends.append(end if value is None else float(value))
    return ends[0], ends[1]


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
            raise ScaleError(f"figure.scale({aesthetic!r})", f"limits {spec.limits!r} make no range")
    elif isinstance(spec.ticks, tuple):
        said = [_limit(value, kind, zone, f"figure.scale({aesthetic!r}): ticks") for value in spec.ticks]
        low, high = min([low, *said]), max([high, *said])
    transform = transform_of(spec)
    if not transform.admits(np.array([low, high])).all():
        if spec.limits is not None:
            raise ScaleError(f"figure.scale({aesthetic!r})", f"limits {spec.limits!r} have no place on a {spec.kind} scale")
        low, high = transform.inverse(np.array([0.0, 1.0])).tolist()  # there are no data
    breaks = class_breaks(spec, low, high)
    if breaks:
        values: tuple[LookValue, ...] = _class_looks(
            spec, theme, aesthetic, len(breaks) + 1, thin, sentence.missing_color(aesthetic, column)
        )
        return LookScale(aesthetic, column, title, "number", (), values, low, high, spec, zone, breaks=breaks)
    if aesthetic in ("color", "outline"):
        if spec.middle is not None:
            low, high = _about(spec.middle, low, high, transform, f"figure.scale({aesthetic!r}): middle")
        shades = number_shades(spec, theme, thin)
        values = (*(shades[::-1] if spec.reverse else shades), sentence.missing_color(aesthetic, column))
        sizes = None
    else:
        sizes = _size_ends(spec, theme, low, high, transform) if aesthetic == "size" else _look_span(aesthetic, spec, theme)
        values = (min(sizes),)
    sort = "time" if kind == "time" else "number"
    return LookScale(aesthetic, column, title, sort, (), values, low, high, spec, zone, transform, beyond, ends=sizes)


def _about(middle: float, low: float, high: float, transform: Transform, where: str) -> tuple[float, float]:
    """The range with its middle in the middle, as the scale has it: as many decades either way on a log scale.

    Raises:
        ScaleError: The middle has no place on the scale.
    """
    first, center, last = transform.forward(np.array([low, middle, high])).tolist()
    if not math.isfinite(center):
        raise ScaleError(where, f"{middle:g} has no place on the scale", f"a value between {low:g} and {high:g}")
    reach = max(last - center, center - first)
    ends = transform.inverse(np.array([center - reach, center + reach])).tolist()
    return ends[0], ends[1]


def _limit(value: object, kind: str, zone: str | None, where: str) -> float:
    if kind == "time":
        return instant(value, zone, where)
    if not is_number(value):
        raise ScaleError(where, f"{told(value)} is no number")
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


def _class_looks(spec: ScaleSpec, theme: Theme, aesthetic: str, count: int, thin: bool, missing: str) -> tuple[LookValue, ...]:
    """The look of each class, and that of missing values."""
    if aesthetic in ("color", "outline"):
        # The palest end of a ramp is lost on white; classes start a little inside.
        every = number_shades(spec, theme, thin)
        shades = blend(every[len(every) // 10 :], count)
        return (*(shades[::-1] if spec.reverse else shades), missing)
    low, high = _look_span(aesthetic, spec, theme)
    share = np.linspace(0.0, 1.0, count)
    looks = np.sqrt(low**2 + share * (high**2 - low**2)) if aesthetic == "size" else low + share * (high - low)
    ordered = np.round(looks[::-1] if spec.reverse else looks, 2).tolist()
    return (*ordered, min(ordered))


def _as_given(aesthetic: str, column: Column, levels: Levels, missing: str) -> tuple[LookValue, ...]:
    """Levels that are looks themselves.

    Raises:
        ScaleError: One of them is none.
    """
    where = f"figure.scale({aesthetic!r}): as_given"
    looks: list[LookValue] = []
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
                raise ScaleError(where, f"column {column.name!r} holds {level!r}, which is no {aesthetic.replace('_', ' ')}")
            looks.append(size)
    return tuple(looks)


def _size_ends(spec: ScaleSpec, theme: Theme, low: float, high: float, transform: Transform) -> tuple[float, float]:
    """Diameters of the lowest and of the highest number: areas are proportional to their distance from the zero of the scale.

    Raises:
        OptionError: The ends of the span are not in that ratio.
    """
    small, large = _look_span("size", spec, theme)
    if not transform.even:
        return small, large
    zero = size_zero(low, high)
    exact = large * math.sqrt((low - zero) / (high - zero)) if high > zero else large
    given = spec.span[0] if spec.span is not None else None
    if given is not None and abs(float(given) - exact) > 0.02 * large:
        areas, values = (f"1:{large**2 / one**2:.3g}" if one else "0:1" for one in (small, exact))
        first, last = written([low, high])
        raise OptionError(
            "figure.scale('size')",
            f"span={told(spec.span)} makes areas of {areas}, but {first} to {last} are {values}",
            f"span=({exact:.3g}, {large:g}) or (None, {large:g}) would do; breaks= makes classes of free sizes",
        )
    return exact, large


def size_zero(low: float, high: float) -> float:
    """The number whose area is nothing: zero, or a round number below the lowest where areas from zero on look alike.

    >>> size_zero(2.0, 9.0), size_zero(5.04, 5.6), size_zero(-3.0, 8.0)
    (0.0, 4.9, -10.0)
    """
    if not (low < 0 or (_NARROW * high < low < high)):
        return 0.0
    lowest = (low - _LEAST_AREA * high) / (1 - _LEAST_AREA)
    step = 10.0 ** math.floor(math.log10((high - low) or 1.0))
    return float(round(math.floor(lowest / step + 1e-9) * step, 12))


def _with_zero_said(scale: LookScale) -> Saying[LookScale]:
    """A scale of sizes whose title tells the number whose area is nothing, where that is not zero."""
    zero = size_zero(scale.low, scale.high)
    if zero == 0 or not scale.transform.even:
        return scale
    start = written([zero])[0]
    ends = written([scale.low, scale.high])
    said = f"areas of {scale.column!r} are those of {ends[0]} to {ends[1]} from {start} on, which would look alike from zero on"
    yield Remark("areas-spread", "figure.scale('size')", said, 'scale("size", limits=(0, None)) lets them begin at zero')
    return scale._replace(title=f"{scale.title}, areas from {start}")


def _say_ticks_beyond(scale: LookScale) -> Remarks:
    """Which of the ticks that were listed lie outside the limits."""
    if scale.spec.limits is None or not isinstance(scale.spec.ticks, tuple):
        return
    where = f"figure.scale({scale.aesthetic!r})"
    said = [(str(value), _limit(value, scale.kind, scale.zone, f"{where}: ticks")) for value in scale.spec.ticks]
    out = [text for text, value in said if not scale.low <= value <= scale.high]
    if out:
        yield Remark("ticks-unsaid", where, f"{so_many(len(out), 'tick')} outside the limits: {', '.join(out)}")


def _say_ends(scale: LookScale, tables: list[Columns]) -> Remarks:
    """What the marks of numbers beyond the limits look like, and that those of no area can't be seen."""
    if scale.ends is None:
        return
    aesthetic = scale.aesthetic
    every = [table[aesthetic].astype(float) for table in tables if aesthetic in table and len(table)]
    values = np.concatenate(every) if every else np.zeros(0)
    where = f"figure.scale({aesthetic!r})"
    beyond = int(((values < scale.low) | (values > scale.high)).sum()) if scale.spec.limits is not None else 0
    if beyond:
        yield Remark(
            "values-beyond", where, f"{so_many_rows(beyond)} of {scale.column!r} beyond the limits drawn as at the limit"
        )
    unseen = int((scale.measured(values[~np.isnan(values)]) == 0).sum())
    if aesthetic == "size" and unseen:
        yield Remark(
            "points-unseen", where, f"{so_many_rows(unseen)} with {scale.column!r} at the zero of its areas can't be seen"
        )
