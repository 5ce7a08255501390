"""What gets lost in print: small texts, thin lines, large sheets, fonts that may not travel."""

from __future__ import annotations

from collections.abc import Iterator

from facetine.checks.rule import Rule
from facetine.checks.subject import Subject, found
from facetine.messages.findings import Call, Finding, so_many
from facetine.scene.fonts import named
from facetine.scene.marks import Markers, Paths, Rects

_SLACK = 0.05
_RESTRICTED = 0x0002


def _small_text(subject: Subject) -> Iterator[Finding]:
    least = subject.profile.text_points
    small = [
        (run.size, one, text) for one, text in subject.texts for run in text.runs if not run.shift and run.size < least - _SLACK
    ]
    if not small:
        return
    size, first, text = min(small, key=lambda entry: entry[0])
    fix = Call.to(subject.what, "theme", text_size=_enough(subject, size))
    texts = len({id(text) for _, _, text in small})
    said = f"{so_many(texts, 'text')} smaller than {least:g} pt, such as {text.content[:40]!r} at {size:.2g} pt"
    yield found("text-small", "warning", f"{subject.what}.theme", said, fix, at=first)


def _enough(subject: Subject, smallest: float) -> float:
    """A text size of the theme with which the smallest text is large enough."""
    size = subject.theme.text_size * subject.profile.text_points / smallest
    return -(-round(size * 10, 3) // 1) / 10


def _thin_line(subject: Subject) -> Iterator[Finding]:
    least, thin = subject.profile.line_points, list[tuple[float, str, bool]]()
    for one in subject.standing:
        mark = one.mark
        widths: list[float] = []
        if isinstance(mark, Paths) and mark.stroke is not None and len(mark.points):
            widths = [mark.stroke.width]
        elif isinstance(mark, Rects) and mark.outline is not None and mark.outline.color != subject.ground_below:
            widths = [mark.outline.width]
        elif isinstance(mark, Markers):
            widths = [style.line_width for style in mark.styles if style.outline and style.outline != subject.ground_below]
        thin += [(width, one.group, one.within("hairlines")) for width in widths if 0 < width < least - 0.001]
    if not thin:
        return
    width, group, _ = min(thin)
    hairlines = all(entry[2] for entry in thin)
    fix = Call.to(subject.what, "theme", hairline_width=least) if hairlines else f"line_width={least:g}, or more"
    said = f"{so_many(len(thin), 'line')} thinner than {least:g} pt, the thinnest {width:.2g} pt"
    yield found("line-thin", "warning", f"{subject.what}.theme", said, fix, group)


def _large_sheet(subject: Subject) -> Iterator[Finding]:
    profile, millimeters = subject.profile, 25.4 / 72
    width, height = (side * millimeters for side in (subject.made.scene.width, subject.made.scene.height))
    if width > profile.width_mm + _SLACK or height > profile.height_mm + _SLACK:
        place = f"{profile.width_mm:g}×{profile.height_mm:g} mm of {profile.says}"
        said = f"the sheet of {width:.0f}×{height:.0f} mm is larger than the {place}"
        tall = height > profile.height_mm + _SLACK
        size = (f"{min(width, profile.width_mm):g} mm", *((f"{profile.height_mm:g} mm",) if tall else ()))
        yield found("sheet-large", "warning", f"{subject.what}.sheet", said, Call.to(subject.what, "sheet", *size))


def _font_kept_back(subject: Subject) -> Iterator[Finding]:
    faces = dict.fromkeys(run.face for _, text in subject.texts for run in text.runs)
    for family in dict.fromkeys(named(face).key.family for face in faces if embedding_forbidden(face)):
        said = f"the maker of {family} does not let it travel inside files"
        yield found("font-not-embeddable", "warning", f"{subject.what}.theme", said, "font= names another family")


def embedding_forbidden(face: str) -> bool:
    """Whether a font's own table says that it may not be embedded."""
    table = bytes(named(face).face.reference_table("OS/2").data)
    return len(table) >= 10 and int.from_bytes(table[8:10], "big") & 0x000F == _RESTRICTED


_SIZES = "the smallest sizes that journals ask for in their instructions to authors"
RULES = (
    Rule(
        "text-small",
        "Texts smaller than the profile's least size, raised and lowered letters not counted.",
        "What is smaller is not read at arm's length, or is refused by the editor.",
        _SIZES,
        _small_text,
    ),
    Rule(
        "line-thin",
        "Lines thinner than the profile's least width.",
        "Thinner lines break up when they are screened or copied.",
        _SIZES,
        _thin_line,
    ),
    Rule(
        "sheet-large", "A sheet larger than its place.", "It is scaled down there, and all its texts with it.", "", _large_sheet
    ),
    Rule(
        "font-not-embeddable",
        "A font whose own table forbids that it travels inside a file.",
        "The file may not be handed on, and some printers refuse it.",
        "OpenType 1.9, OS/2, fsType",
        _font_kept_back,
    ),
)
