"""Colors for categories and for numbers: the palette's, those that were said, and as much of a ramp as can be seen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from facetine.core.color.palettes import DIVERGING
from facetine.core.color.registry import PALETTES, for_numbers
from facetine.core.color.spaces import blend, contrast, from_hex, from_oklab, from_oklch, oklab, to_hex
from facetine.data.codebook import Codebook
from facetine.data.table import Column, Levels
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.theme import THEMES, Theme
from facetine.messages.errors import OptionError, listed
from facetine.messages.findings import Remark, Remarks, Saying
from facetine.pipeline.composition.level_order import say_absent
from facetine.pipeline.rows.runs import LayerRun, Runs

STEPS = 256
_CONTRAST = 3.0
_OURS = tuple(theme.ramp for theme in THEMES.values())


def level_colors(
    spec: ScaleSpec,
    theme: Theme,
    codebook: Codebook,
    column: Column,
    levels: Levels,
    thin: bool,
) -> Saying[tuple[str, ...]]:
    """The color of each level: what is said for it, else the next of the palette."""
    entry = codebook.entry(column.name)
    booked = {str(entry.word(code)): shade for code, shade in (entry.colors or {}).items()}
    own = _by_level(spec, column, levels)
    said = {**booked, **own}
    there = {level_key(level) for level in (*levels, *column.levels)} | set(entry.known)
    absent = [name for name in own if levels and name not in there]
    unnamed = [level_key(level) for level in levels if level_key(level) not in own]
    yield from say_absent(absent, unnamed, [*map(level_key, levels), *entry.known], "colors", "figure.scale('color')")
    if _in_steps(spec, column, levels) and not said and spec.others is None:
        stops = ramp_colors(spec, theme)
        # The palest end of a ramp is lost on white; ordered levels start a little inside.
        inner = visible_ramp(stops, theme.ground_below) if thin else blend(stops, 101)[18:]
        shown = tuple(map(level_key, levels))
        # Where the codebook names all steps, each keeps its color in figures that show only some of them.
        steps = entry.known if set(shown) <= set(entry.known) else shown
        shades = dict(zip(steps, blend(inner, len(steps)) if len(steps) > 1 else (inner[len(inner) * 3 // 4],), strict=False))
        return tuple(shades[name] for name in shown)
    palette = palette_colors(spec, theme, len(levels))
    free = [shade for shade in palette if shade not in said.values()]
    # Categories that the codebook names keep their color also in figures that show only some of them.
    known = [name for name in entry.known if name not in said]
    if len(known) <= len(free) and spec.others is None:
        said |= dict(zip(known, free, strict=False))
        free = free[len(known) :]
    left = [level for level in levels if level_key(level) not in said]
    if spec.others is not None:
        drawn = {level_key(level): spec.others for level in left}
    else:
        if len(left) > len(free):
            more = _more_colors(len(left) - len(free))
            yield from _say_many(column, levels, tuple(left[len(free) :]), more, palette, spec, theme)
            free = [*free, *more]
        drawn = {level_key(level): shade for level, shade in zip(left, free, strict=False)}
    return tuple(said.get(level_key(level), drawn.get(level_key(level), "")) for level in levels)


def _by_level(spec: ScaleSpec, column: Column, levels: Levels) -> dict[str, str]:
    """The colors that the scale gives to levels, by name or in their order.

    Raises:
        OptionError: A list holds fewer colors than there are levels.
    """
    if spec.colors is None or isinstance(spec.colors, Mapping):
        return dict(spec.colors or {})
    if len(spec.colors) < len(levels) and spec.others is None:
        raise OptionError(
            "figure.scale('color')",
            f"colors holds {len(spec.colors)}, but {column.name!r} has {len(levels)} categories: "
            f"{listed(map(level_key, levels), 6)}",
            'name the others too, or give others="gray"',
        )
    return dict(zip(map(level_key, levels), spec.colors, strict=False))


def _say_many(
    column: Column,
    levels: Levels,
    left: Levels,
    more: list[str],
    palette: tuple[str, ...],
    spec: ScaleSpec,
    theme: Theme,
) -> Remarks:
    """What became of levels beyond the colors of a palette."""
    given = spec.palette if spec.palette is not None else theme.palette
    if isinstance(given, str):
        text = f"{column.name} has {len(levels)} categories, more than the {len(palette)} colors that can be told apart"
        fix = "make panels of it, or name the ones that matter with colors= and others="
    else:
        named = ", ".join(f"{level_key(level)} {shade}" for level, shade in list(zip(left, more, strict=True))[:4])
        rest = f" and {len(left) - 4} more" if len(left) > 4 else ""
        text = (
            f"palette gives {len(palette)} colors, and {column.name} has {len(levels)} categories: {named}{rest} "
            "are colors that it does not name"
        )
        fix = "a longer palette=, or colors= and others="
    yield Remark("many-colors", "figure.scale('color')", text, fix, "warning")


def level_key(level: object) -> str:
    """A level as `colors=` names it."""
    if isinstance(level, bool | np.bool_):
        return "yes" if level else "no"
    return str(level)


def _in_steps(spec: ScaleSpec, column: Column, levels: Levels) -> bool:
    """Whether levels take even steps of a ramp: by its name; or ordered ones, of the theme's or of a few colors given."""
    if spec.colors is not None:
        return False
    if isinstance(spec.palette, str):
        return for_numbers(spec.palette)
    return column.kind == "ordered" and (spec.palette is None or 1 < len(spec.palette) < len(levels))


def palette_colors(spec: ScaleSpec, theme: Theme, count: int = 1) -> tuple[str, ...]:
    """The colors for categories: the scale's, else the theme's; of a ramp so many even steps."""
    chosen = spec.palette if spec.palette is not None else theme.palette
    if isinstance(chosen, str) and for_numbers(chosen):
        return tuple(blend(blend(PALETTES[chosen].colors, 101)[18:], max(count, 2)))
    return PALETTES[chosen].colors if isinstance(chosen, str) else tuple(chosen)


def ramp_colors(spec: ScaleSpec, theme: Theme) -> tuple[str, ...]:
    """The colors for numbers: the scale's, else a diverging ramp where it has a middle, else the theme's.

    Raises:
        OptionError: The scale names a palette for categories, or one color alone.
    """
    chosen = spec.palette if not isinstance(spec.colors, tuple) else spec.colors
    if chosen is None:
        chosen = next(iter(DIVERGING)) if spec.middle is not None else theme.ramp
    if isinstance(chosen, str):
        if not for_numbers(chosen):
            ramps = ", ".join(name for name in PALETTES if for_numbers(name))
            raise OptionError(
                "figure.scale", f"palette={chosen!r} is for categories, and the scale shows numbers", f"for numbers: {ramps}"
            )
        return PALETTES[chosen].colors
    if len(chosen) < 2:
        raise OptionError("figure.scale", "palette holds one color, and numbers need two at least", "from low to high")
    return tuple(chosen)


def visible_ramp(stops: tuple[str, ...], ground: str, steps: int = STEPS) -> list[str]:
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


def number_shades(spec: ScaleSpec, theme: Theme, thin: bool) -> list[str]:
    """The colors of numbers in even steps; a list of colors that was said is taken as it is."""
    stops = ramp_colors(spec, theme)
    given = spec.colors if isinstance(spec.colors, tuple) else spec.palette
    ramp = given if given is not None or spec.middle is not None else theme.ramp
    own = isinstance(ramp, tuple) and ramp not in _OURS
    return visible_ramp(stops, theme.ground_below) if thin and not own else blend(stops, STEPS)


def default_color(run: LayerRun, runs: Runs, theme: Theme, first: str) -> str:
    """The color of a layer where none is said.

    It is the palette's first, but that of the text where another layer maps colors, which the first one would seem to be
    one of, and for lines and points on filled marks that have the palette's first color themselves.
    """
    layer = run.layer
    usual = layer.usual.get("color")
    if usual is not None:
        return theme.text_color if usual == "text" else str(usual)
    if any(other.follows("color") for other in runs if other.number != run.number):
        return theme.text_color
    below = any(other.layer.filled_marks and other.layer.constant("color") is None for other in runs[: run.number])
    return theme.text_color if below and not layer.filled_marks else first


def keyed_colors(runs: Runs, palette: Sequence[str]) -> dict[int, str]:
    """Colors of layers that a legend names, by their numbers: one each, where nothing says another."""
    free = [
        run
        for run in runs
        if run.layer.legend_as is not None and run.layer.constant("color") is None and not run.follows("color")
    ]
    names = list(dict.fromkeys(run.layer.legend_as for run in free))
    if len(names) < 2 or any(run.follows("color") for run in runs):
        return {}
    plain = [run for run in free if run.layer.usual.get("color") is None]
    return {run.number: palette[names.index(run.layer.legend_as) % len(palette)] for run in plain}


def needs_halo(run: LayerRun, runs: Runs) -> bool:
    """Whether a layer of lines lies over filled marks of its own color, so that it needs a seam of the ground."""
    if not run.layer.line_marks:
        return False
    own = run.columns["color"].name if "color" in run.columns else run.layer.constant("color")
    if own is None:
        return False
    for below in runs[: run.number]:
        if below.layer.filled_marks:
            theirs = below.columns["color"].name if "color" in below.columns else below.layer.constant("color")
            if theirs == own:
                return True
    return False
