"""Text that runs from right to left, alone or mixed with text that does not.

Source: Unicode Standard Annex #9, Unicode Bidirectional Algorithm; the rules are python-bidi's, the order of runs is
rule L2.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import TypeVar
from unicodedata import bidirectional

# Hebrew, Arabic, Syriac and their kin, their presentation forms, and the marks that set a direction.
_RIGHT_TO_LEFT = re.compile("[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff\U00010800-\U00010fff\U0001e800-\U0001efff]")
# What rule X9 takes out: signs that embed or override, and characters without a direction of their own.
_TAKEN_OUT = frozenset({"RLE", "LRE", "RLO", "LRO", "PDF", "BN"})

Run = TypeVar("Run")


def needs_order(text: str) -> bool:
    """Whether any character of a text is written from right to left."""
    return not text.isascii() and _RIGHT_TO_LEFT.search(text) is not None


def base_level(text: str) -> int:
    """The level of a paragraph: 1 where its first letter is written from right to left, else 0."""
    from bidi.algorithm import get_base_level

    return int(get_base_level(text))


def levels(text: str, base: int) -> list[int]:
    """The embedding level of each character of a paragraph; one without a direction takes its neighbour's.

    >>> levels("ab 12", 0)
    [0, 0, 0, 0, 0]
    """
    from bidi import algorithm

    storage = algorithm.get_empty_storage()
    storage["base_level"], storage["base_dir"] = base, ("L", "R")[base]
    algorithm.get_embedding_levels(text, storage)
    algorithm.explicit_embed_and_overrides(storage)
    algorithm.resolve_weak_types(storage)
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    found = iter(storage["chars"])
    out: list[int] = []
    for char in text:
        neighbour = out[-1] if out else base
        out.append(neighbour if bidirectional(char) in _TAKEN_OUT else int(next(found)["level"]))
    return out


def mirrored(text: str) -> str:
    """What a reader sees of a text that runs from right to left: brackets face the other way.

    >>> mirrored("(")
    ')'
    """
    from bidi.mirror import MIRRORED

    return "".join(MIRRORED.get(char, char) for char in text)


def visual(runs: Sequence[Run], run_levels: Sequence[int]) -> list[Run]:
    """Runs of a line in the order in which they stand from left to right.

    >>> visual(["A", "b", "c", "D"], [0, 1, 1, 0])
    ['A', 'c', 'b', 'D']
    """
    ordered = list(range(len(runs)))
    highest = max(run_levels, default=0)
    for level in range(highest, 0, -1):
        start = 0
        while start < len(ordered):
            if run_levels[ordered[start]] < level:
                start += 1
                continue
            end = start
            while end < len(ordered) and run_levels[ordered[end]] >= level:
                end += 1
            ordered[start:end] = ordered[start:end][::-1]
            start = end
    return [runs[place] for place in ordered]
