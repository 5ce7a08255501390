"""What the sheet as a whole does to a reader: panels that are too small, titles that are too long, axes that run backwards."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

from facetine.checks.rule import Rule
from facetine.checks.subject import Subject, found
from facetine.messages.findings import Call, Finding
from facetine.scene.markup import plain

_POINTS = 72 / 25.4
_NARROW, _LOW = 10.0, 8.0
"""Millimetres below which a panel shows no more than that there are rows."""
_SEVERAL, _MANY = 6, 36
_MOST_LINES = 2
_BACKWARDS = re.compile(r"revers|invert|down|depth|backward|abwärts|tief|umgekehrt|rank|rang", re.IGNORECASE)


def _panels(subject: Subject) -> Iterator[Finding]:
    """Panels of one page."""
    placed = subject.made.layout.panels
    if len(placed) < _SEVERAL:
        return
    width, height = (min(getattr(one.box, side) for one in placed) / _POINTS for side in ("width", "height"))
    said = f"{len(placed):,} panels, the smallest of {width:.0f}×{height:.0f} mm"
    fix = "per_page= sets some on a page, keep() leaves values out, or a wider sheet"
    if width < _NARROW or height < _LOW:
        yield found("panels-small", "warning", "figure.facet", f"{said}, show little more than that there are rows", fix)
    elif len(placed) > _MANY:
        yield found("panels-small", "hint", "figure.facet", f"{said}, are more than a reader compares", fix)


def _titles(subject: Subject) -> Iterator[Finding]:
    """Lines of a figure's own title."""
    lines = Counter(one.group for one, _ in subject.texts if one.group.rpartition("-")[2] == "title" and _is_figures(one.group))
    for group, count in lines.items():
        if count > _MOST_LINES:
            text = f"the title takes {count} lines"
            yield found("title-long", "hint", "figure.titles", text, "a shorter one; the rest may be a subtitle or a note", group)


def _is_figures(group: str) -> bool:
    """Whether a group is the title of a figure, and not of an axis."""
    return re.fullmatch(r"(?:figure-\d+-)?title", group) is not None


def _backwards(subject: Subject) -> Iterator[Finding]:
    """Axes of numbers that are turned, of which no word says so."""
    for sentence in subject.sentences:
        for axis in ("x", "y"):
            spec = sentence.scale(axis)
            if not spec.reverse:
                continue
            column = sentence.mapping.get(axis)
            usual = sentence.column_title(column) if isinstance(column, str) else axis
            title = plain(sentence.titles.guides.get(axis) or spec.title or usual)
            titles = sentence.titles
            words = f"{title} {titles.title or ''} {titles.subtitle or ''} {titles.note or ''} {column}"
            if _BACKWARDS.search(words) is None and _is_number(sentence, column):
                said = f"{axis} runs backwards, and no word says so"
                fix = Call.to("figure", "titles", **{axis: f"{title}, reversed"})
                yield found("axis-backwards", "hint", f"figure.scale({axis!r})", said, fix, subject.title_group(sentence, axis))


def _is_number(sentence: object, column: object) -> bool:
    table = getattr(sentence, "table", None)
    if table is None or not isinstance(column, str) or column not in table.names:
        return True
    return bool(table.column(column).kind == "number")


RULES = (
    Rule(
        "panels-small",
        "Six panels or more, of which one is narrower than 10 mm or lower than 8 mm (a warning), or more than 36 on a page.",
        "Nothing in them can be read off, and nobody compares so many.",
        "",
        _panels,
    ),
    Rule("title-long", "A title of more than two lines.", "It is read before the figure, and takes its space.", "", _titles),
    Rule(
        "axis-backwards",
        "A turned axis of numbers of which no word says so.",
        "Readers take what stands higher for more.",
        "",
        _backwards,
    ),
)
