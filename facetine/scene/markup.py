"""Inline markup: `*italic*`, `**bold**`, `~sub~`, `^super^`, and a backslash before a sign that is meant as such."""

from __future__ import annotations

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
    on = {"**": False, "*": False, "~": False, "^": False}
    spans: list[Piece] = []
    for place, (token, sign) in enumerate(tokens):
        if sign and (_closes(tokens, place) if on[token] else _closes_later(tokens, place)):
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
    """A text without its markup.

    >>> plain("m s^−1^")
    'm s−1'
    """
    return "".join(span.text for line in text.split("\n") for span in (*parsed(line), Piece(" ")))[:-1]


def _tokens(text: str) -> list[tuple[str, bool]]:
    """Signs and the text between them; escaped signs are text."""
    tokens: list[tuple[str, bool]] = []
    place = 0
    while place < len(text):
        char = text[place]
        if char == "\\" and place + 1 < len(text) and text[place + 1] in _SIGNS:
            tokens.append((text[place + 1], False))
            place += 2
        elif char in "*~^":
            sign = "**" if text.startswith("**", place) else char
            tokens.append((sign, True))
            place += len(sign)
        else:
            tokens.append((char, False))
            place += 1
    return tokens


def _closes(tokens: list[tuple[str, bool]], place: int) -> bool:
    """Whether a sign can end a stretch: no blank stands before it."""
    return not tokens[place - 1][0].isspace()


def _closes_later(tokens: list[tuple[str, bool]], place: int) -> bool:
    """Whether a sign can begin a stretch: no blank follows, and the same sign ends it later."""
    token = tokens[place]
    if place + 1 >= len(tokens) or tokens[place + 1] == token or tokens[place + 1][0].isspace():
        return False
    return any(tokens[later] == token and _closes(tokens, later) for later in range(place + 2, len(tokens)))
