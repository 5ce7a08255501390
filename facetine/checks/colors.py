"""Colors that can't be seen, or can't be told apart."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from typing import NamedTuple

import numpy as np

from facetine.checks.rule import Rule
from facetine.checks.subject import Standing, Subject, found
from facetine.core.arrays import FloatArray
from facetine.core.color.names import hex_color
from facetine.core.color.spaces import contrast, distances, from_hex, oklab
from facetine.core.color.vision import Deficiency, grayed, simulated
from facetine.messages.errors import OptionError
from facetine.messages.findings import Call, Finding, so_many
from facetine.scene.marks import Group, Markers, Paths, Rects, Text
from facetine.scene.region import Region

_APART, _APART_IN_GRAY = 0.06, 0.04
_FAINT = 0.5
_DEFICIENCIES: tuple[Deficiency, ...] = ("protan", "deutan", "tritan")


class Entry(NamedTuple):
    """One entry of a legend."""

    legend: str
    label: str
    color: str
    shape: str
    """What tells it apart beside the color."""
    group: str


def entries_of(subject: Subject) -> list[Entry]:
    """The entries of all legends of categories."""
    made: list[Entry] = []

    def walk(group: Group, names: tuple[str, ...]) -> None:
        for item in group.items:
            if isinstance(item, Group):
                if item.kind == "entry":
                    made.extend(_entry(item, group, "-".join((*names, item.name))))
                else:
                    walk(item, (*names, item.name))

    for page in subject.made.pages[:1]:
        walk(page.root, ())
    return made


def _entry(group: Group, legend: Group, name: str) -> list[Entry]:
    label = " ".join(text.content for text in group.items if isinstance(text, Text))
    for mark in group.items:
        color, shape = _looks(mark)
        if color:
            return [Entry(legend.title, label, color, shape, name)]
    return []


def _looks(mark: object) -> tuple[str, str]:
    if isinstance(mark, Markers):
        style = mark.styles[0]
        return style.fill or style.outline or "", f"{style.shape} {style.radius:.2f}"
    if isinstance(mark, Rects):
        return mark.fills[0], "rect"
    if isinstance(mark, Paths):
        return (mark.stroke.color, f"{mark.stroke.dash} {mark.stroke.width:.2f}") if mark.stroke else (mark.fill or "", "area")
    return "", ""


def _text_contrast(subject: Subject) -> Iterator[Finding]:
    least = subject.profile.text_contrast
    filled = [(one, one.mark) for one in subject.standing if isinstance(one.mark, Rects)]
    grounds = [(one, mark) for one, mark in filled if one.within("ground")]
    faint = []
    for one, text in subject.texts:
        inside = one.within("layer", "values", "names")
        below = _below(text.box, filled if inside else grounds, subject.ground)
        ratio = float(contrast(from_hex([text.color]), from_hex([below]))[0])
        if ratio < least - 0.05:
            faint.append((ratio, one.group, text.content))
    if faint:
        ratio, group, words = min(faint)
        said = f"{so_many(len(faint), 'text')} with a contrast under {least:g}:1, such as {words[:40]!r} with {ratio:.1f}:1"
        yield found("text-faint", "warning", f"{subject.what}.theme", said, "a darker text_color=, or a lighter ground", group)


def _below(box: Region, filled: list[tuple[Standing, Rects]], ground: str) -> str:
    """The color under the middle of a text."""
    x, y = box.x + box.width / 2, box.y + box.height / 2
    color = ground
    for _, mark in filled:
        left, top, width, height = mark.boxes.T
        inside = np.flatnonzero((left <= x) & (x <= left + width) & (top <= y) & (y <= top + height))
        if len(inside):
            which = 0 if mark.which is None else int(mark.which[inside[-1]])
            color = over(mark.fills[which], color, mark.opacity)
    return color


def over(color: str, ground: str, opacity: float) -> str:
    """A see-through color over another one."""
    mixed = np.rint(255 * (from_hex([color])[0] * opacity + from_hex([ground])[0] * (1 - opacity))).astype(int)
    return "#{:02x}{:02x}{:02x}".format(*mixed)


def _ink_contrast(subject: Subject) -> Iterator[Finding]:
    least = subject.profile.ink_contrast
    faint: dict[str, tuple[float, str]] = {}
    ramps = {
        run.number
        for run in subject.made.runs
        for look in ("color", "outline")
        if _along_values(subject, look) and run.follows(look)
    }
    quiet = {run.number for run in subject.made.runs if run.layer.backdrop}
    for one in subject.drawn:
        if one.layer is None or one.layer in ramps or one.layer in quiet:
            continue
        for color in _strongest(one.mark, subject.ground_below):
            # See-through marks are meant to be weak one by one.
            ratio = float(contrast(from_hex([color]), from_hex([subject.ground_below]))[0])
            if ratio < least - 0.05 and color not in subject.quiet_inks and (color not in faint or ratio < faint[color][0]):
                faint[color] = ratio, one.group
    if faint:
        color, (ratio, group) = min(faint.items(), key=lambda entry: entry[1])
        said = f"{so_many(len(faint), 'color')} of marks with a contrast under {least:g}:1, such as {color} with {ratio:.1f}:1"
        yield found("mark-faint", "hint", "figure.scale('color')", said, "a darker color, or an outline=", group)


def _along_values(subject: Subject, look: str) -> bool:
    scale = subject.made.scales.looks.get(look)
    return scale is not None and scale.kind != "levels"


def _strongest(mark: object, ground: str) -> list[str]:
    """The colors by which a mark is seen: of each shape the outline, or else the inside."""
    if isinstance(mark, Markers):
        # A border of the ground sets marks off from each other, and is none of theirs.
        borders = [None if style.outline == ground else style.outline for style in mark.styles]
        return [color for style, border in zip(mark.styles, borders, strict=True) for color in (border or style.fill,) if color]
    if isinstance(mark, Rects):
        return [mark.outline.color] if mark.outline is not None and mark.outline.width >= _FAINT else list(mark.fills)
    if isinstance(mark, Paths):
        if mark.stroke is not None:
            return [mark.stroke.color]
        # A tint lies behind a line of its ink.
        return [mark.fill] if mark.fill and mark.opacity > _FAINT else []
    return []


def _legends(subject: Subject) -> dict[str, list[Entry]]:
    legends: dict[str, list[Entry]] = {}
    for entry in entries_of(subject):
        legends.setdefault(entry.legend, []).append(entry)
    return legends


def _alike(subject: Subject) -> Iterator[Finding]:
    for legend, entries in _legends(subject).items():
        if len({entry.color for entry in entries}) < 2:
            continue
        yield from _confused(legend, entries)
        if subject.profile.gray:
            yield from _gray(legend, entries)


def _pairs(entries: list[Entry], apart: FloatArray, least: float) -> list[tuple[float, Entry, Entry]]:
    """Entries that can't be told apart: neither by color nor by shape."""
    close = [
        (float(apart[i, j]), entries[i], entries[j])
        for i, j in combinations(range(len(entries)), 2)
        if apart[i, j] < least and entries[i].shape == entries[j].shape and entries[i].color != entries[j].color
    ]
    return sorted(close, key=lambda entry: entry[0])


def _confused(legend: str, entries: list[Entry]) -> Iterator[Finding]:
    colors = from_hex([entry.color for entry in entries])
    views: dict[str, FloatArray] = {"normal": colors}
    for deficiency in _DEFICIENCIES:
        views[deficiency] = simulated(colors, deficiency)
    worst: dict[str, tuple[float, Entry, Entry]] = {
        name: pairs[0] for name, seen in views.items() if (pairs := _pairs(entries, distances(seen), _APART))
    }
    if worst:
        name, (_, first, second) = min(worst.items(), key=lambda entry: entry[1][0])
        readers = "any reader" if name == "normal" else f"readers with {name} vision"
        said = f"{first.label!r} and {second.label!r} of {legend!r} look alike to {readers}"
        yield found(
            "colors-alike",
            "warning",
            "figure.scale('color')",
            said,
            "palette= names one whose colors stay apart",
            first.group,
        )


def _gray(legend: str, entries: list[Entry]) -> Iterator[Finding]:
    light = oklab(grayed(from_hex([entry.color for entry in entries])))[:, 0]
    pairs = _pairs(entries, np.abs(light[:, None] - light[None]), _APART_IN_GRAY)
    if pairs:
        _, first, second = pairs[0]
        said = f"{first.label!r} and {second.label!r} of {legend!r} are one gray when printed without color"
        yield found("grays-alike", "hint", "figure.map", said, "map the same column to shape or dash too", first.group)


def _rainbow(subject: Subject) -> Iterator[Finding]:
    for sentence in subject.sentences:
        for aesthetic in ("color", "outline"):
            ramp, column = sentence.scale(aesthetic).palette, sentence.mapping.get(aesthetic)
            if ramp is None or isinstance(ramp, str) or not isinstance(column, str) or sentence.table is None:
                continue
            if column not in sentence.table.names or sentence.table.column(column).discrete:
                continue
            try:
                light = oklab(from_hex([hex_color(color, "ramp") for color in ramp]))[:, 0]
            except OptionError:
                continue
            if turns(light) > 1:
                said = "the ramp gets lighter and darker by turns: steps show where there are none, and gray confuses the ends"
                fix = Call.to("figure", "scale", aesthetic, palette=sentence.theme.ramp)
                yield found("ramp-uneven", "warning", f"figure.scale({aesthetic!r})", said, fix)


def turns(light: FloatArray) -> int:
    """How often a run of lightness changes its direction; changes under 0.01 do not count.

    >>> turns(np.array([0.9, 0.6, 0.3])), turns(np.array([0.3, 0.9, 0.3])), turns(np.array([0.2, 0.9, 0.4, 0.8]))
    (0, 1, 2)
    """
    steps = np.diff(light)
    signs = np.sign(steps[np.abs(steps) > 0.01])
    return int((np.diff(signs) != 0).sum())


def _two_meanings(subject: Subject) -> Iterator[Finding]:
    known: dict[str, Entry] = {}
    shown: set[tuple[str, str]] = set()
    for entry in entries_of(subject):
        if entry.color in subject.quiet_inks:
            continue
        other = known.setdefault(entry.color, entry)
        pair = other.legend, entry.legend
        if other.legend != entry.legend and pair not in shown and len(_legends(subject)[entry.legend]) > 1:
            shown.add(pair)
            said = f"one color means {other.label!r} of {other.legend!r} and {entry.label!r} of {entry.legend!r}"
            yield found(
                "color-of-two-meanings",
                "hint",
                "figure.scale('color')",
                said,
                "another palette= for one of them",
                entry.group,
            )


_WCAG = "W3C, Web Content Accessibility Guidelines 2.2"
_MACHADO = "Machado, Oliveira & Fernandes (2009), IEEE TVCG 15(6), 1291–1298; distances in OKLab"
RULES = (
    Rule(
        "text-faint",
        "Texts whose contrast with what lies below them is under 4.5:1.",
        "They are lost in copies and to many eyes.",
        f"{_WCAG}, 1.4.3",
        _text_contrast,
    ),
    Rule(
        "mark-faint",
        "Marks whose contrast with the sheet is under 3:1; colors along values, backdrops, tints and "
        "rows that are not highlighted not counted.",
        "They are lost in copies and to many eyes.",
        f"{_WCAG}, 1.4.11",
        _ink_contrast,
    ),
    Rule(
        "colors-alike",
        "Colors of a legend that look alike, with normal vision or one of three simulated deficiencies, and have one shape.",
        "One man in twelve sees colors otherwise.",
        _MACHADO,
        _alike,
    ),
    Rule(
        "grays-alike",
        "Colors of a legend that print as one gray and have one shape.",
        "Papers are printed and copied in gray.",
        "differences of lightness in OKLab",
    ),
    Rule(
        "ramp-uneven",
        "A ramp of one's own whose lightness rises and falls more than once.",
        "Readers see borders that the data do not have.",
        "Borland & Taylor (2007), IEEE Computer Graphics and Applications 27(2), 14–17",
        _rainbow,
    ),
    Rule(
        "color-of-two-meanings",
        "One color that means something in one legend and something else in another one.",
        "Readers carry a color's meaning from one figure to the next.",
        "",
        _two_meanings,
    ),
)
