"""Templates: texts with the names of values in braces, such as "{mean:.1f} kg (n = {count})"."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

MOST = 40
"""The largest width and precision of a format."""
_NAME = re.compile(r"[A-Za-z_]\w*")
_NUMBER = re.compile(r"(?:(?P<fill>.)?[<>^=])?[+\- ]?0?(?P<width>\d+)?[,_]?(?:\.(?P<precision>\d+))?[deEfFgG%]?", re.DOTALL)
_WORDS = ("percent", "si", "scientific")
ABSOLUTE = "absolute"
"""Numbers without their sign, alone or before another format of numbers."""
_HINT = 'a brace of its own is written "{{" or "}}"'


class Field(NamedTuple):
    """The place of a value in a template."""

    name: str
    form: str
    """A format of numbers or times; empty for the usual one."""


class Template(NamedTuple):
    """A parsed template."""

    parts: tuple[str | Field, ...]

    @property
    def names(self) -> tuple[str, ...]:
        """The values that it needs, each once."""
        return tuple(dict.fromkeys(part.name for part in self.parts if isinstance(part, Field)))

    def filled(self, texts: Mapping[Field, Sequence[str]], count: int) -> list[str]:
        """The template once for each of so many rows.

        Args:
            texts: For each field the text of every row, in inline markup.
            count: Number of rows.
        """
        columns = [texts[part] if isinstance(part, Field) else [part] * count for part in self.parts]
        return ["".join(row) for row in zip(*columns, strict=True)] if columns else [""] * count


@lru_cache(maxsize=512)
def parsed(text: str) -> Template:
    """A template from its text: names in braces, each with a format after a colon if wanted.

    Formats are "percent", "si", "scientific", a specification of numbers such as ",.1f", one of these after "absolute", or a
    pattern of times such as "%d %b %Y". There are no attributes, indices, conversions or braces in braces. "{{" and "}}" are
    braces.

    Raises:
        ValueError: It is no template; the message says why.

    >>> parsed("{mean:.1f} kg").parts
    (Field(name='mean', form='.1f'), ' kg')
    """
    parts: list[str | Field] = []
    plain, place = "", 0
    while place < len(text):
        sign = text[place]
        if text[place : place + 2] in ("{{", "}}"):
            plain, place = plain + sign, place + 2
        elif sign == "}":
            raise ValueError(f"a brace closes that none opened; {_HINT}")
        elif sign == "{":
            end = text.find("}", place)
            if end < 0:
                raise ValueError(f"a brace is not closed; {_HINT}")
            if plain:
                parts.append(plain)
            inside, plain, place = text[place + 1 : end], "", end + 1
            parts.append(_field(inside))
        else:
            plain, place = plain + sign, place + 1
    return Template((*parts, plain) if plain else tuple(parts))


def _field(inside: str) -> Field:
    name, colon, form = inside.partition(":")
    if not _NAME.fullmatch(name):
        raise ValueError(f"{{{inside[:40]}}} is no name of a value, with a format after a colon if wanted")
    if colon and not form:
        raise ValueError(f"{{{inside[:40]}}} has no format after its colon")
    check_format(form)
    return Field(name, form)


def is_time_pattern(form: str) -> bool:
    """Whether a format writes times, such as "%b %Y"."""
    return re.search(r"%-?[A-Za-z]", form) is not None


def check_format(form: str) -> None:
    """Takes a format of numbers or times, or nothing.

    Raises:
        ValueError: It is none, or asks for a width or precision above 40.
    """
    if form == ABSOLUTE or form.startswith(f"{ABSOLUTE} "):
        form = form.removeprefix(ABSOLUTE).strip()
        if is_time_pattern(form):
            raise ValueError(f"{ABSOLUTE!r} is for numbers, {form[:40]!r} writes times")
    if not form or form in _WORDS or is_time_pattern(form):
        return
    found = _NUMBER.fullmatch(form)
    if found is None or form in ("<", ">", "^", "="):
        raise ValueError(f'{form[:40]!r} is no format; such as ",.1f", "percent", "si", "scientific", "absolute" or "%b %Y"')
    for part in ("width", "precision"):
        if found[part] and (len(found[part]) > 2 or int(found[part]) > MOST):
            raise ValueError(f"{form[:40]!r} asks for a {part} above {MOST}")
