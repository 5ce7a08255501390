"""The words of the public names: one type and one sentence each, from which help, docs and the schema of plans are made."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files
from typing import NamedTuple


class Word(NamedTuple):
    """What a word is where an owner has it."""

    sort: str
    """What it holds: "number", "column", "yes or no" and so on; "computed" for what a layer computes."""
    says: str
    """A sentence."""


class Several(NamedTuple):
    """What a word means beside its first meaning, and why it has more than one."""

    reason: str
    meanings: dict[str, Word]
    """By owner: a layer, a verb, "scale", "theme", "computed", or a part of a plan."""


class Glossary(NamedTuple):
    """All words."""

    words: dict[str, Word]
    """By name; of those that have several meanings the first one."""
    several: dict[str, Several]


@cache
def glossary() -> Glossary:
    """The words, read from the file beside this one when they are first asked for: drawing needs none of them."""
    said = tomllib.loads((files(__package__) / "words.toml").read_text("utf-8"))
    several = {
        name: Several(part.pop("reason"), {owner: Word(*meaning) for owner, meaning in part.items()})
        for name, part in said["several"].items()
    }
    return Glossary({name: Word(*meaning) for name, meaning in said["words"].items()}, several)


def word(name: str, owner: str = "") -> Word | None:
    """What a word is where an owner has it; None where it is none of ours.

    >>> word("breaks", "facet").sort, word("breaks", "scale").sort
    ('numbers or table', 'numbers or how many')
    """
    found = glossary()
    own = found.several[name].meanings.get(owner) if name in found.several else None
    return own or found.words.get(name)


def help_text(name: str, owner: str, detail: str = "") -> str:
    """The sentence of a word, and what an owner adds to it.

    >>> help_text("dash", "reference", "Dashed by default.")
    'The pattern of a line. Dashed by default.'
    """
    found = word(name, owner)
    return " ".join(part for part in (found.says if found is not None else "", detail) if part)
