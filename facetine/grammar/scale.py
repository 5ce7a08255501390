"""What is said of a scale: its kind and options; None where nothing is said."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from itertools import pairwise
from typing import Any, TypeAlias

from facetine.core.arrays import FloatArray, is_number
from facetine.core.color.names import hex_color
from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.color.registry import PALETTES, for_categories, for_numbers
from facetine.core.scales.kinds import SCALES
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.data.table import Levels
from facetine.grammar.given import Ends, NotGiven, Options, Place, Plain
from facetine.grammar.options import (
    Check,
    anything,
    checked,
    choice,
    colors,
    differing,
    flag,
    ink,
    names,
    number,
    numbers,
    option,
    order_option,
    pair,
    text,
    whole,
)
from facetine.messages.errors import OptionError, ScaleError, told, unknown

OTHER_KINDS = {
    "category": "names, in natural order or as given",
    "ordered": "names that have an order",
    "time": "dates and times of the calendar",
    "classed": "numbers put into classes at breaks=, each with one color, size or the like",
    "as_given": "values that are colors, sizes, shapes or opacities already",
}
"""The kinds that are no functions of numbers, and what they are."""
KINDS = (*SCALES, *OTHER_KINDS)
PLACE_KINDS = tuple(kind for kind in KINDS if kind not in ("classed", "as_given"))
SCALED = ("x", "y", "color", "outline", "opacity", "size", "shape", "dash", "line_width")
"""The aesthetics that have a scale to speak of."""
EVERY = r"every (?:(\d+) )?(year|month|week|day|hour|minute|second)s?"
"""How ticks of times are asked for."""
RAMPS = (*SEQUENTIAL, *DIVERGING, *CYCLIC)
SHAPES = (
    "disc", "triangle", "diamond", "cross", "square", "triangle_down", "plus", "hexagon", "open_disc", "open_square",
    "open_triangle", "open_diamond", "vertical_line", "horizontal_line", "half_disc", "half_square", "half_diamond",
)  # fmt: skip
"""For categories, in the order of use."""
DASHES: dict[str, tuple[float, ...]] = {
    "solid": (), "dotted": (1, 2), "long": (9, 3), "dash_dot": (6, 2, 1, 2), "dashed": (5, 2.5),
}  # fmt: skip
"""Strokes and gaps in multiples of the line's width, in the order of use."""

Format: TypeAlias = str | Mapping[object, str] | Callable[[Any], str]
Conversion: TypeAlias = float | str | Callable[[FloatArray], FloatArray]
"""From one unit to another: a factor, a SQL expression in `value`, or a callable of an array."""


def _missing(value: object, where: str) -> str:
    return (
        value
        if isinstance(value, str) and value in ("drop", "show")
        else hex_color(value, f'{where} is "drop", "show" or a color')
    )


def _ticks(value: object, where: str) -> tuple[object, ...] | int | str:
    if isinstance(value, int) and not isinstance(value, bool):
        return int(whole(0, 50)(value, where))
    if isinstance(value, str):
        if not re.fullmatch(EVERY, value):
            raise OptionError(where, f"{told(value)} says no ticks", 'a list, a number, or such as "every 3 months"')
        return value
    return names(value, where)


def _breaks(value: object, where: str) -> tuple[float, ...] | int:
    if isinstance(value, int) and not isinstance(value, bool):
        return int(whole(2, 12)(value, where))
    ends = numbers(value, where)
    if not ends:
        raise OptionError(where, f"is a list of numbers, or how many classes, not {told(value)}", of_option=True)
    if any(after <= before for before, after in pairwise(ends)):
        raise OptionError(where, f"must increase, which {told(value)} does not", of_option=True)
    return ends


def _format(value: object, where: str) -> Format:
    if not (callable(value) or isinstance(value, str | Mapping)):
        raise OptionError(
            where, f"is a format, a dict or a callable, not {told(value)}", 'such as ",.1f" or "percent"', of_option=True
        )
    return value


def _each(possible: tuple[str, ...], name: str) -> Check:
    def check(value: object, where: str) -> tuple[str, ...] | dict[str, str]:
        if isinstance(value, Mapping):
            return {str(level): str(choice(*possible, name=name)(word, f"{where}[{level!r}]")) for level, word in value.items()}
        words = (value,) if isinstance(value, str) else names(value, where)
        return tuple(choice(*possible, name=name)(word, where) for word in words)

    return check


def palette_option(value: object, where: str) -> str | tuple[str, ...]:
    """A palette's name, or a list of colors."""
    if isinstance(value, str):
        return value if for_categories(value) else choice(*QUALITATIVE, name="palettes")(value, where)
    return _colors_of(value, where, 1)


def ramp_option(value: object, where: str) -> str | tuple[str, ...]:
    """A ramp's name, or a list of colors."""
    if isinstance(value, str):
        return value if for_numbers(value) else choice(*RAMPS, name="ramps")(value, where)
    return _colors_of(value, where, 2)


def colors_option(value: object, where: str) -> str | tuple[str, ...]:
    """The name of a palette for categories or of a ramp for numbers, or a list of colors."""
    if isinstance(value, str):
        return value if value in PALETTES else choice(*QUALITATIVE, *RAMPS, name="palettes and ramps")(value, where)
    return _colors_of(value, where, 1)


def _colors_by_level(value: object, where: str) -> dict[str, str] | tuple[str, ...]:
    """Colors by category, or a list of them."""
    if isinstance(value, list | tuple):
        return _colors_of(value, where, 1)
    return dict(colors(value, where))


def _colors_of(value: object, where: str, least: int) -> tuple[str, ...]:
    shades = tuple(hex_color(shade, where) for shade in names(value, where))
    if len(shades) < least:
        raise OptionError(where, f"holds at least {least} color{'s' if least > 1 else ''}, not {len(shades)}", of_option=True)
    return shades


def _conversion(value: object, where: str) -> Conversion:
    if (is_number(value) and value != 0) or isinstance(value, str) or callable(value):
        return value
    raise OptionError(
        where,
        f"is a factor, a SQL expression in value, or a callable, not {told(value)}",
        'such as "value * 1.8 + 32"',
        of_option=True,
    )


def _number_places(value: object, where: str) -> tuple[float, ...] | int:
    if isinstance(value, str):
        raise OptionError(where, f"is a list of numbers, or how many, not {told(value)}", of_option=True)
    if isinstance(value, int) and not isinstance(value, bool):
        return int(whole(0, 50)(value, where))
    return tuple(float(number()(tick, where)) for tick in names(value, where))


def _zone(value: object, where: str) -> str:
    from zoneinfo import ZoneInfo, available_timezones

    name = text(value, where)
    try:
        ZoneInfo(name)
    except Exception:
        raise unknown(OptionError, where, "no time zone", name, sorted(available_timezones()), "zones") from None
    return name


@dataclass(frozen=True, kw_only=True)
class SecondAxisSpec:
    """A second axis: the values of the first in another unit."""

    convert: Conversion | None = option(None, _conversion)
    title: str = option("", text)
    ticks: tuple[float, ...] | int | None = option(None, _number_places)
    format: Format | None = option(None, _format)
    zone: str | None = option(None, _zone, "In the place of a conversion.")


def _limits(value: object, where: str) -> Ends | dict[str, Ends]:
    if isinstance(value, Mapping):
        if not value:
            raise OptionError(where, "names no panel", 'such as {"Loft": (0, 10)}', of_option=True)
        return {str(name): pair(ends, f"{where}[{name!r}]") for name, ends in value.items()}
    return pair(value, where)


def _second_axis(value: object, where: str) -> Plain:
    if not isinstance(value, Mapping):
        raise OptionError(
            where,
            f"is a dict, not {told(value)}",
            'such as {"convert": "value * 1.8 + 32", "title": "Temperature (°F)"}',
            of_option=True,
        )
    if value.get("convert") is None and value.get("zone") is None:
        raise OptionError(
            where,
            "says no conversion",
            'convert is a factor, or such as "value * 1.8 + 32"; of times zone="Asia/Tokyo"',
            of_option=True,
        )
    if value.get("convert") is not None and value.get("zone") is not None:
        raise OptionError(where, "says a conversion and a zone", "zone is for times, convert for numbers", of_option=True)
    return checked(SecondAxisSpec, value, where)


@dataclass(frozen=True, kw_only=True)
class ScaleOptions:
    """What every scale may say."""

    kind: str | None = option(None, anything)
    title: str | None = option(None, text)
    limits: Ends | Mapping[str, Ends] | None = option(
        None,
        _limits,
    )
    ticks: tuple[object, ...] | int | str | None = option(None, _ticks)
    minor_ticks: bool | None = option(None, flag)
    format: Format | None = option(None, _format)
    order: Levels | str | None = option(
        None,
        order_option,
    )
    by: str | None = option(None, choice("mean", "median", "sum", "count", "min", "max", name="statistics"))
    of: str | None = option(None, text)
    top: int | None = option(None, whole(1, 1000))
    rest_as: str | None = option("all others", text, "None leaves them out.", or_none=True)
    missing: str | None = option(None, _missing)
    reverse: bool | None = option(None, flag)
    margin: float | None = option(None, number(0, 2))
    include: Place | Sequence[Place] | None = option(None, anything)
    second_axis: Options | None = option(
        None, _second_axis, 'Such as {"convert": "value * 1.8 + 32", "title": "Temperature (°F)"}, or {"zone": "Asia/Tokyo"}.'
    )
    palette: str | tuple[str, ...] | None = option(
        None,
        colors_option,
        "A list holds those of categories in their order, or of numbers from low to high. Categories with the name of a ramp "
        "take even steps of it.",
    )
    colors: Mapping[str, str] | tuple[str, ...] | None = option(
        None, _colors_by_level, "Or a list, in the order of the categories, or of numbers from low to high."
    )
    others: str | None = option(None, ink)
    middle: float | None = option(None, number())
    span: tuple[float | None, float | None] | None = option(None, pair)
    shapes: tuple[str, ...] | Mapping[str, str] | None = option(None, _each(SHAPES, "shapes"))
    dashes: tuple[str, ...] | Mapping[str, str] | None = option(None, _each(tuple(DASHES), "dashes"))

    breaks: tuple[float, ...] | int | None = option(None, _breaks)
    base: float | None = option(None, number(1.0001, 1e6))
    exponent: float | None = option(None, number(0.01, 100))
    legend: bool | None = option(None, flag)
    unit: str | None = option(None, text)
    zone: str | None = option(None, _zone)
    threshold: float | None = option(None, number(1e-300))


@dataclass(frozen=True, kw_only=True)
class ScaleSpec(ScaleOptions):
    """What is said of one scale."""

    of_kind: Mapping[str, object] = field(default_factory=dict)
    """Options that its kind alone knows, such as those of a kind of another package."""

    def said(self) -> Plain:
        """The options that are said."""
        said = differing(self)
        said.pop("of_kind", None)
        return said | dict(self.of_kind)

    def under(self, later: ScaleSpec) -> ScaleSpec:
        """What was said, with what was said later laid over it."""
        return replace(self, **(differing(later) | {"of_kind": {**self.of_kind, **later.of_kind}}))


NOTHING = ScaleSpec()
_DECLARED = tuple(entry.name for entry in fields(ScaleOptions))


def is_function(kind: str | None) -> bool:
    """Whether a kind is a function of numbers; other packages are asked only about kinds that are none of ours."""
    return kind is not None and kind not in OTHER_KINDS and kind in SCALES


def transform_of(spec: ScaleSpec) -> Transform:
    """The function of a scale's kind, with its options; the identity for kinds that are none."""
    if not is_function(spec.kind):
        return Linear()
    kind = SCALES[str(spec.kind)]
    declared = {name: getattr(spec, name) for name in kind.options() if name in _DECLARED}
    return kind.of({name: value for name, value in declared.items() if value is not None} | dict(spec.of_kind))


def _options_of(kind: object) -> tuple[str, ...]:
    """The options that a kind takes; none of kinds that are no functions."""
    return SCALES[kind].options() if isinstance(kind, str) and is_function(kind) else ()


def _only_of(kind: object) -> tuple[str, ...]:
    """Those that it alone knows."""
    return tuple(name for name in _options_of(kind) if name not in _DECLARED)


_ONLY: dict[str, tuple[str, ...]] = {
    "palette": ("color", "outline"),
    "colors": ("color", "outline"),
    "others": ("color", "outline"),
    "middle": ("color", "outline"),
    "span": ("size", "opacity", "line_width"),
    "shapes": ("shape",),
    "dashes": ("dash",),
    "minor_ticks": ("x", "y"),
    "margin": ("x", "y"),
    "include": ("x", "y"),
    "second_axis": ("x", "y"),
    "zone": ("x", "y"),
    "legend": tuple(name for name in SCALED if name not in ("x", "y")),
    "breaks": tuple(name for name in SCALED if name not in ("x", "y")),
}
_IMPLIES = {"base": "log", "breaks": "classed", "exponent": "power", "threshold": "signed_log"}
"""Options that say something for one kind of scale, which they therefore imply."""


def scale_spec(aesthetic: str, options: Options, where: str, before: str | None = None) -> ScaleSpec:
    """A checked scale.

    Args:
        aesthetic: What it is of.
        options: What is said of it.
        where: Who asks, for errors.
        before: The kind that it had before.

    Raises:
        ScaleError: The aesthetic has no scale, or the kind is none of its kinds.
        OptionError: An option is unknown, has an impossible value, or has no effect on this aesthetic.
    """
    if aesthetic not in SCALED:
        raise unknown(ScaleError, where, "no scale for", aesthetic, SCALED, "aesthetics with a scale")
    kind = options.get("kind")
    if kind is not None and not (isinstance(kind, str) and (kind in KINDS or kind in SCALES)):
        raise unknown(ScaleError, where, "no kind of scale", kind, KINDS, "kinds")
    if kind in ("classed", "as_given") and aesthetic in ("x", "y"):
        raise ScaleError(
            where,
            f"a {kind} scale is not for places",
            f"kinds for {aesthetic}: {', '.join(PLACE_KINDS)}",
        )
    if "range" in options and aesthetic in ("size", "opacity", "line_width"):
        fix = f"span={told(options['range'])} is the smallest and the largest {aesthetic}; limits= are values of the data"
        raise OptionError(where, "no option 'range'", fix)
    for name, value in options.items():
        only = _ONLY.get(name)
        if value is not None and only and aesthetic not in only:
            raise OptionError(where, f"{name} has no effect on {aesthetic}", f"it belongs to {', '.join(only)}")
    if isinstance(options.get("limits"), Mapping) and aesthetic not in ("x", "y"):
        raise OptionError(where, "limits of single panels are for x and y", f"{aesthetic} has one scale in all panels")
    own = _only_of(before if kind is None else kind)
    for name in options:
        if name not in (*own, *_DECLARED):
            raise unknown(OptionError, where, "no option", name, (*own, *_DECLARED), "options")
    declared = {name: value for name, value in options.items() if name not in own}
    of_kind = {name: value for name, value in options.items() if name in own and value is not None}
    spec = ScaleSpec(**checked(ScaleOptions, declared, where), of_kind=of_kind)
    return spec if spec.kind is None else with_kind(spec, where)


def later_spec(old: ScaleSpec, aesthetic: str, kind: str | NotGiven | None, options: Options, where: str) -> ScaleSpec:
    """A scale with more said of it. None takes an option, or the kind, back; a kind of None alone takes all of it back.

    Raises:
        ScaleError: The aesthetic has no scale, or the kind is none of its kinds.
        OptionError: An option is unknown, has an impossible value, or has no effect on this aesthetic.
    """
    given = {**options} if isinstance(kind, NotGiven) else {**options, "kind": kind}
    spec = scale_spec(aesthetic, given, where, old.kind)
    if kind is None and not options:
        return NOTHING
    back: Plain = {name: getattr(NOTHING, name) for name, value in given.items() if value is None and hasattr(NOTHING, name)}
    back["of_kind"] = {name: value for name, value in old.of_kind.items() if given.get(name, value) is not None}
    return with_kind(replace(old, **back).under(spec), where)


def _check_order(spec: ScaleSpec, where: str) -> None:
    if spec.by is not None and spec.order not in ("rising", "falling"):
        raise OptionError(where, "by has no effect on this order", 'order="rising" or "falling" goes by a value')
    if spec.by is not None and spec.by != "count" and spec.of is None:
        raise OptionError(where, f"by={spec.by!r} needs a column", 'of="…" names it')
    if spec.of is not None and spec.by is None:
        raise OptionError(where, f"of={spec.of!r} has no effect without a statistic", 'by="median" is one')
    if spec.rest_as != "all others" and spec.top is None:
        raise OptionError(where, "rest_as has no effect without top", "top=8 keeps eight levels")


def with_kind(spec: ScaleSpec, where: str) -> ScaleSpec:
    """A scale with the kind that its options imply.

    Raises:
        OptionError: It has an option that has no effect on its kind.
    """
    _check_order(spec, where)
    for name, kind in _IMPLIES.items():
        if getattr(spec, name) is None or spec.kind == kind or name in _options_of(spec.kind):
            continue
        if spec.kind is not None:
            raise OptionError(where, f"{name} has no effect on a {spec.kind} scale", f"it belongs to {kind}")
        spec = replace(spec, kind=kind)
    for name in spec.of_kind:
        if name not in _only_of(spec.kind):
            raise OptionError(where, f"{name} has no effect on a {spec.kind or 'plain'} scale", f"{name}=None takes it back")
    if spec.of_kind:
        _check_made(spec, where)
    return spec


def _check_made(spec: ScaleSpec, where: str) -> None:
    try:
        transform_of(spec)
    except (ValueError, TypeError) as problem:
        raise OptionError(where, f"{problem}") from None
