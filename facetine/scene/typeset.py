"""Text set in lines: measured by shaping, wrapped at a width, placed as marks."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import cache, lru_cache
from itertools import pairwise
from typing import Any, NamedTuple
from unicodedata import category, east_asian_width

from facetine.scene.direction import base_level, levels, needs_order
from facetine.scene.fonts import Face, face, pieces
from facetine.scene.marks import Glyphs, Text
from facetine.scene.markup import Piece, clean, parsed

_LONGEST = 60
"""What has more letters is no word."""


class TextStyle(NamedTuple):
    """How a text is set."""

    family: str
    size: float
    weight: int
    color: str
    line_height: float = 1.2
    """Distance of baselines, in shares of the size."""

    @property
    def leading(self) -> float:
        """Distance of baselines in points."""
        return self.size * self.line_height

    @property
    def cap(self) -> float:
        """Height of capitals in points."""
        return _reach(self)[0]

    @property
    def descent(self) -> float:
        """How far letters reach below the baseline, in points."""
        return _reach(self)[1]


@lru_cache(maxsize=512)
def _reach(style: TextStyle) -> tuple[float, float]:
    """How far letters of a style reach above and below the baseline, in points."""
    measures = face(style.family, style.weight).measures
    return style.size * measures.cap, style.size * measures.descent


class Block(NamedTuple):
    """Lines of text with their measures."""

    lines: tuple[tuple[Glyphs, ...], ...]
    widths: tuple[float, ...]
    type: TextStyle

    @property
    def width(self) -> float:
        """Of the longest line, in points."""
        return max(self.widths, default=0.0)

    @property
    def height(self) -> float:
        """From the top of the first line's capitals to the last line's descent; zero without a line."""
        if not self.lines:
            return 0.0
        cap, descent = _reach(self.type)
        return cap + descent + (len(self.lines) - 1) * self.type.leading

    def placed(
        self, x: float, top: float, anchor: float = 0.0, angle: float = 0.0, role: str = "", row: int | None = None
    ) -> Iterator[Text]:
        """Its lines below each other, the first one's capitals reaching up to `top`."""
        baseline = top + self.type.cap
        for runs in self.lines:
            yield Text(runs, x, baseline, self.type.color, anchor, angle, role, row)
            baseline += self.type.leading


@lru_cache(maxsize=8192)
def set_text(text: str, type_: TextStyle, width: float | None = None) -> Block:
    """A text with inline markup, with its line breaks, wrapped at a width in points where one is given."""
    text = clean(text)
    if not text:
        return Block((), (), type_)
    lines: list[tuple[Glyphs, ...]] = []
    for line in text.split("\n"):
        if width is None:
            lines.append(_glyphs(parsed(line), type_))
        else:
            lines.extend(_wrapped(line, type_, width))
    return Block(tuple(lines), tuple(sum(run.width for run in runs) for runs in lines), type_)


@lru_cache(maxsize=2048)
def balanced(text: str, type_: TextStyle, width: float) -> Block:
    """A text wrapped at a width into lines of about the same length, so that no single word is left over."""
    block = set_text(text, type_, width)
    lines = len(block.lines)
    if lines <= 1 + text.count("\n"):
        return block
    # No word is broken that need not be; one of so many letters is broken at any width.
    words = [word for line in clean(text).split("\n") for word in _words(parsed(line))]
    most = _letters(width, type_)
    if any(sum(len(span.text) for span in word) > most for word in words):
        return block
    longest = max((_width(word, type_) for word in words), default=0.0)
    if longest > width:
        return block
    low, high = max(block.width / 2, longest), width
    for _ in range(7):
        middle = (low + high) / 2
        tried = set_text(text, type_, round(middle, 2))
        if len(tried.lines) <= lines and tried.width <= middle + 0.01:
            block, high = tried, middle
        else:
            low = middle
    return block


def _glyphs(spans: tuple[Piece, ...], type_: TextStyle, base: int | None = None) -> tuple[Glyphs, ...]:
    """The runs of a line in the order of its text.

    Args:
        spans: The line.
        type_: How it is set.
        base: The level of the paragraph that it belongs to; None where it is one of its own.
    """
    text = "".join(span.text for span in spans)
    if not base and not needs_order(text):
        return tuple(run for span in spans if span.text for run in _runs(span, type_, 0, False))
    base = base_level(text) if base is None else base
    of_each, runs, start = levels(text, base), [], 0
    for span in spans:
        end = start + len(span.text)
        cuts = [start, *(at for at in range(start + 1, end) if of_each[at] != of_each[at - 1]), end]
        for low, high in pairwise(cuts):
            if high > low:
                runs += _runs(span._replace(text=text[low:high]), type_, of_each[low], base == 1)
        start = end
    return tuple(runs)


def _runs(span: Piece, type_: TextStyle, level: int, right_to_left: bool) -> list[Glyphs]:
    """A stretch of one look and direction, in several faces where the first has not all its characters."""
    weight = max(type_.weight, 700) if span.bold else type_.weight
    used = face(type_.family, weight, span.italic)
    size, shift = type_.size, 0.0
    if span.level > 0:
        size, shift = round(size * used.measures.super_size, 2), size * used.measures.super_rise
    elif span.level < 0:
        size, shift = round(size * used.measures.sub_size, 2), -size * used.measures.sub_drop

    def run(text: str, used: Face) -> Glyphs:
        shaped = used.shape(text, bool(level % 2))
        ids, advances, clusters, offsets, _ = shaped
        return Glyphs(str(used.key), size, text, ids, advances, clusters, shift, level, right_to_left, offsets)

    if not used.shape(span.text, bool(level % 2)).lacks:
        return [run(span.text, used)]
    return [run(text, able) for text, able in pieces(span.text, used)]


def _wrapped(line: str, type_: TextStyle, width: float) -> list[tuple[Glyphs, ...]]:
    """Greedy lines; a word that is wider than the line stands alone and is cut between syllables if it must be."""
    whole = _glyphs(parsed(line), type_)
    if sum(run.width for run in whole) <= width:
        return [whole]
    lines: list[tuple[Piece, ...]] = []
    now: tuple[Piece, ...] = ()
    for word in _words(parsed(line)):
        for piece in _fitting_pieces(word, type_, width):
            longer = (*now, Piece(" "), *piece) if now else piece
            if now and _width(longer, type_) > width:
                lines.append(now)
                now = piece
            else:
                now = longer
    lines.append(now)
    text = "".join(span.text for span in parsed(line))
    base = base_level(text) if needs_order(text) else None
    return [_glyphs(_joined(spans), type_, base) for spans in lines]


def _width(spans: tuple[Piece, ...], type_: TextStyle) -> float:
    return sum(run.width for run in _glyphs(_joined(spans), type_))


def _joined(spans: tuple[Piece, ...]) -> tuple[Piece, ...]:
    """Neighbouring spans of one look as one, so that they are shaped together."""
    out: list[Piece] = []
    for span in spans:
        if out and out[-1][1:] == span[1:]:
            out[-1] = span._replace(text=out[-1].text + span.text)
        else:
            out.append(span)
    return tuple(out)


def _words(spans: tuple[Piece, ...]) -> Iterator[tuple[Piece, ...]]:
    """The words of a line, each as its spans; a word may change its look inside."""
    word: list[Piece] = []
    for span in spans:
        parts = span.text.split(" ")
        for number, part in enumerate(parts):
            if number and word:
                yield tuple(word)
                word = []
            if part:
                word.append(span._replace(text=part))
    if word:
        yield tuple(word)


def _fitting_pieces(word: tuple[Piece, ...], type_: TextStyle, width: float) -> Iterator[tuple[Piece, ...]]:
    """A word as it is, or cut into pieces that fit: at a joint, else where its syllables meet.

    What is no word, such as the code of a sample, is cut anywhere, and so is a word of which not even a syllable fits.
    """
    most = _letters(width, type_)
    letters = sum(len(span.text) for span in word)
    if letters <= most and _width(word, type_) <= width:
        yield word
        return
    if len(word) > 1:
        yield from _by_looks(word, type_, width)
        return
    rest = word[0].text
    # What fits on a line is at most so long; the rest need not be measured to know that it does not.
    while rest:
        piece, ending = rest, ""
        if len(rest) > most or _width((word[0]._replace(text=rest[:most]),), type_) > width:
            fits = 1
            while fits < len(rest) and _width((word[0]._replace(text=rest[: fits + 1]),), type_) <= width:
                fits += 1
            at, ending = _cut(rest, fits, lambda text: _width((word[0]._replace(text=text),), type_) <= width)
            piece = rest[:at]
        rest = rest[len(piece) :]
        yield (word[0]._replace(text=piece + (ending if rest else "")),)


def _by_looks(word: tuple[Piece, ...], type_: TextStyle, width: float) -> Iterator[tuple[Piece, ...]]:
    """A word that changes its look inside, such as a formula, cut where it does so."""
    now: tuple[Piece, ...] = ()
    room = width
    for span in word:
        own = _width((span,), type_) if len(span.text) <= _letters(width, type_) else math.inf
        if own <= room:
            now, room = (*now, span), room - own
            continue
        if now:
            yield now
        *full, now = _fitting_pieces((span,), type_, width)
        yield from full
        room = width - _width(now, type_)
    if now:
        yield now


def _letters(width: float, type_: TextStyle) -> int:
    """More letters than ever fit into a width."""
    return 64 + 8 * int(width / type_.size)


def _cut(text: str, fits: int, room: Callable[[str], bool]) -> tuple[int, str]:
    """Where a word is cut, of which so many letters fit; and what is written behind the first part."""
    joints = [at for at in joints_of(text) if at <= fits]
    if joints:
        return joints[-1], ""
    syllables = [at for at in syllables_of(text) if at < fits and room(text[:at] + "-")]
    return (syllables[-1], "-") if syllables else (fits, "")


def joints_of(text: str) -> list[int]:
    """Where a word may be cut without a hyphen: after a dash, slash or underscore, or beside a wide character."""
    return [at for at in range(1, len(text)) if text[at - 1] in "-/_–" or (_wide(text[at - 1]) and _may_start(text[at]))]


@lru_cache(maxsize=4096)
def syllables_of(word: str) -> tuple[int, ...]:
    """Where a word may be cut with a hyphen, by the patterns for English; nowhere in what is no English word.

    Source: Liang (1983), "Word Hy-phen-a-tion by Com-put-er", dissertation, Stanford University; the patterns are those of
    the Hyphen library, in the package pyphen.

    >>> syllables_of("pickup"), syllables_of("QX7-81")
    ((4,), ())
    """
    letters = word.strip("()[],.;:!?")
    if len(letters) > _LONGEST or not (letters.isascii() and letters.isalpha()):
        return ()
    start = word.index(letters) if letters else 0
    return tuple(int(at) + start for at in _patterns().positions(letters.lower()))


@cache
def _patterns() -> Any:
    from pyphen import Pyphen

    return Pyphen(lang="en_US")


def least_width(text: str, type_: TextStyle) -> float:
    """The width of the widest part of a text that is not broken: of a word, or of its widest piece."""
    widest = 0.0
    for line in clean(text).split("\n"):
        for word in _words(parsed(line)):
            if sum(len(span.text) for span in word) > _LONGEST:
                continue  # it is no word, and is cut anywhere
            if len(word) > 1:
                widest = max(widest, _width(word, type_))
                continue
            plain, cuts = word[0].text, [0, *joints_of(word[0].text)]
            cuts = sorted({*cuts, *syllables_of(plain), len(plain)}) if len(cuts) == 1 else [*cuts, len(plain)]
            pieces = [plain[low:high] + ("-" if high in syllables_of(plain) else "") for low, high in pairwise(cuts)]
            widest = max([widest, *(_width((word[0]._replace(text=piece),), type_) for piece in pieces)])
    return widest


def _wide(char: str) -> bool:
    """Whether a character is one of a script that is written without blanks between words."""
    return east_asian_width(char) in "WF"


def _may_start(char: str) -> bool:
    """Whether a line may start with a character: closing brackets and full stops may not."""
    return category(char) not in ("Pe", "Pf", "Po", "Mn", "Lm")
