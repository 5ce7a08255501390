"""Text set in lines: measured by shaping, wrapped at a width, placed as marks."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from facetine.scene.fonts import face, register
from facetine.scene.marks import Glyphs, Text
from facetine.scene.markup import Span, parsed

# Where the parts of a line stand, in shares of the type size; the family's own metrics, rounded.
CAP_HEIGHT = 0.66
DESCENT = 0.20
_SCRIPT_SIZE = 0.68
_SUPER_RISE, _SUB_DROP = 0.33, 0.13


class Type(NamedTuple):
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
        return self.size * CAP_HEIGHT


class Block(NamedTuple):
    """Lines of text with their measures."""

    lines: tuple[tuple[Glyphs, ...], ...]
    widths: tuple[float, ...]
    type: Type

    @property
    def width(self) -> float:
        """Of the longest line, in points."""
        return max(self.widths, default=0.0)

    @property
    def height(self) -> float:
        """From the top of the first line's capitals to the last line's descent; zero without a line."""
        if not self.lines:
            return 0.0
        return (CAP_HEIGHT + DESCENT) * self.type.size + (len(self.lines) - 1) * self.type.leading

    def placed(self, x: float, top: float, anchor: float = 0.0, angle: float = 0.0, role: str = "") -> Iterator[Text]:
        """Its lines below each other, the first one's capitals reaching up to `top`."""
        baseline = top + self.type.cap
        for runs in self.lines:
            yield Text(runs, x, baseline, self.type.color, anchor, angle, role)
            baseline += self.type.leading


@lru_cache(maxsize=8192)
def set_text(text: str, type_: Type, width: float | None = None) -> Block:
    """A text with inline markup, with its line breaks, wrapped at a width in points where one is given."""
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
def balanced(text: str, type_: Type, width: float) -> Block:
    """A text wrapped at a width into lines of about the same length, so that no single word is left over."""
    block = set_text(text, type_, width)
    lines = len(block.lines)
    if lines <= 1 + text.count("\n"):
        return block
    low, high = block.width / 2, width
    for _ in range(7):
        middle = (low + high) / 2
        tried = set_text(text, type_, round(middle, 2))
        if len(tried.lines) <= lines and tried.width <= middle + 0.01:
            block, high = tried, middle
        else:
            low = middle
    return block


def _glyphs(spans: tuple[Span, ...], type_: Type) -> tuple[Glyphs, ...]:
    return tuple(_run(span, type_) for span in spans if span.text)


def _run(span: Span, type_: Type) -> Glyphs:
    weight = max(type_.weight, 700) if span.bold else type_.weight
    used = face(type_.family, weight, span.italic)
    shaped = used.shape(span.text)
    size, shift = type_.size, 0.0
    if span.level:
        shift = size * (_SUPER_RISE if span.level > 0 else -_SUB_DROP)
        size = round(size * _SCRIPT_SIZE, 2)
    return Glyphs(register(used), size, span.text, shaped.ids, shaped.advances, shaped.clusters, shift)


def _wrapped(line: str, type_: Type, width: float) -> list[tuple[Glyphs, ...]]:
    """Greedy lines; a word that is wider than the line stands alone and is cut with a hyphen if it must be."""
    whole = _glyphs(parsed(line), type_)
    if sum(run.width for run in whole) <= width:
        return [whole]
    lines: list[tuple[Span, ...]] = []
    now: tuple[Span, ...] = ()
    for word in _words(parsed(line)):
        for piece in _fitting_pieces(word, type_, width):
            longer = (*now, Span(" "), *piece) if now else piece
            if now and _width(longer, type_) > width:
                lines.append(now)
                now = piece
            else:
                now = longer
    lines.append(now)
    return [_glyphs(_joined(spans), type_) for spans in lines]


def _width(spans: tuple[Span, ...], type_: Type) -> float:
    return sum(run.width for run in _glyphs(_joined(spans), type_))


def _joined(spans: tuple[Span, ...]) -> tuple[Span, ...]:
    """Neighbouring spans of one look as one, so that they are shaped together."""
    out: list[Span] = []
    for span in spans:
        if out and out[-1][1:] == span[1:]:
            out[-1] = span._replace(text=out[-1].text + span.text)
        else:
            out.append(span)
    return tuple(out)


def _words(spans: tuple[Span, ...]) -> Iterator[tuple[Span, ...]]:
    """The words of a line, each as its spans; a word may change its look inside."""
    word: list[Span] = []
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


def _fitting_pieces(word: tuple[Span, ...], type_: Type, width: float) -> Iterator[tuple[Span, ...]]:
    """A word as it is, or cut into pieces that fit, after a dash, slash or underscore where it has one."""
    if _width(word, type_) <= width or len(word) > 1:
        yield word
        return
    rest = word[0].text
    while rest:
        piece = rest
        if _width((word[0]._replace(text=rest),), type_) > width:
            fits = 1
            while fits < len(rest) and _width((word[0]._replace(text=rest[: fits + 1] + "-"),), type_) <= width:
                fits += 1
            breaks = [at + 1 for at, char in enumerate(rest[:fits]) if char in "-/_–"]
            piece = rest[: breaks[-1]] if breaks else rest[:fits]
        rest = rest[len(piece) :]
        ending = "-" if rest and piece[-1] not in "-/_–" else ""
        yield (word[0]._replace(text=piece + ending),)
