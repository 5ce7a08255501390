"""Inline markup: `*italic*`, `**bold**`, `~sub~`, `^super^`, and a backslash before a sign that is meant as such."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

_SIGNS = frozenset("*~^\\")


class Piece(NamedTuple):
    """A stretch of text of one look."""

    text: str
    bold: bool = False
    italic: bool = False
    level: int = 0
    """1 for superscript, −1 for subscript."""


@lru_cache(maxsize=4096)
def parsed(text: str) -> tuple[Piece, ...]:
    """The spans of one line. A sign without its partner stands for itself.

    >>> parsed("CO~2~ in *vitro*")
    (Piece(text='CO', bold=False, italic=False, level=0), Piece(text='2', bold=False, italic=False, level=-1), \
Piece(text=' in ', bold=False, italic=False, level=0), Piece(text='vitro', bold=False, italic=True, level=0))
    """
    if not _SIGNS.intersection(text):
        return (Piece(text),) if text else ()
    tokens = _tokens(text)
    last = _last_closing(tokens)
    on = {"**": False, "*": False, "~": False, "^": False}
    spans: list[Piece] = []
    for place, (token, sign) in enumerate(tokens):
        if sign and (_closes(tokens, place) if on[token] else _closes_later(tokens, place, last)):
            on[token] = not on[token]
            continue
        level = 1 if on["^"] else -1 if on["~"] else 0
        look = Piece(token, on["**"], on["*"], level)
        if spans and spans[-1][1:] == look[1:]:
            spans[-1] = look._replace(text=spans[-1].text + token)
        else:
            spans.append(look)
    return tuple(spans)


def plain(text: str) -> str:
    """A text without its markup; raised and lowered signs are those of Unicode, where it has them.

    >>> plain("m s^−1^"), plain("2.0 × 10^3^"), plain("CO~2~"), plain("*R*^adj^")
    ('m s⁻¹', '2.0 × 10³', 'CO₂', 'Radj')
    """
    return "".join(_plain(piece) for line in text.split("\n") for piece in (*parsed(line), Piece(" ")))[:-1]


_RAISED = str.maketrans("0123456789+−-=()ni", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻⁼⁽⁾ⁿⁱ")
_LOWERED = str.maketrans("0123456789+−-=()", "₀₁₂₃₄₅₆₇₈₉₊₋₋₌₍₎")


def _plain(piece: Piece) -> str:
    signs = {1: _RAISED, -1: _LOWERED}.get(piece.level)
    if signs is None or any(ord(sign) not in signs for sign in piece.text):
        return piece.text
    return piece.text.translate(signs)


REPLACED = "\ufffd"
"""What stands for a character that no file can hold."""
# Halves of pairs, characters that Unicode sets aside, and controls: XML has no room for them, and readers of PDF give up.
_FORBIDDEN = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff"
    + "".join(chr(plane << 16 | end) for plane in range(1, 17) for end in (0xFFFE, 0xFFFF))
    + "]"
)


def clean(text: str) -> str:
    """A text that every format can hold: tabs are blanks, other characters that can't be shown become U+FFFD.

    >>> clean("a\\tb\\x00")
    'a b\ufffd'
    """
    if text.isprintable():
        return text
    return _FORBIDDEN.sub(REPLACED, text.replace("\r\n", "\n").replace("\r", "\n").replace("\t", " "))


def shortened(text: str, most: int) -> str:
    """A text of so many letters at most, the last one an ellipsis where it was longer.

    >>> shortened("abcdef", 4)
    'abc…'
    """
    return text if len(text) <= most else text[: most - 1].rstrip("\\*~^ ") + "…"


_TOKEN = re.compile(r"\\([\\*~^])|(\*\*|[*~^])|([^\\*~^]+|\\)")


def _tokens(text: str) -> list[tuple[str, bool]]:
    """Signs and the text between them; escaped signs are text."""
    return [(sign, True) if sign else (escaped or plain_text, False) for escaped, sign, plain_text in _TOKEN.findall(text)]


def _closes(tokens: list[tuple[str, bool]], place: int) -> bool:
    """Whether a sign can end a stretch: no blank stands before it."""
    return not tokens[place - 1][0][-1:].isspace()


def _last_closing(tokens: list[tuple[str, bool]]) -> dict[str, int]:
    """Where each sign ends a stretch for the last time."""
    return {token: place for place, (token, sign) in enumerate(tokens) if sign and place and _closes(tokens, place)}


def _closes_later(tokens: list[tuple[str, bool]], place: int, last: dict[str, int]) -> bool:
    """Whether a sign can begin a stretch: no blank follows, and the same sign ends it later."""
    token = tokens[place]
    if place + 1 >= len(tokens) or tokens[place + 1] == token or tokens[place + 1][0][:1].isspace():
        return False
    return last.get(token[0], 0) >= place + 2
