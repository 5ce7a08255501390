"""Words whose order everybody knows, and words whose order only the analyst can say."""

from __future__ import annotations

from collections.abc import Sequence

_CALENDAR = (
    ("days of the week", "monday tuesday wednesday thursday friday saturday sunday"),
    ("months", "january february march april may june july august september october november december"),
)
_SHORT = (3, 4)
"""Letters of short forms, such as Mon and Sept."""
_RANKED = (
    "very low, low, medium, high, very high",
    "low, moderate, high",
    "low, mid, high",
    "tiny, small, medium, large, huge",
    "never, rarely, sometimes, often, always",
    "none, mild, moderate, severe",
    "none, some, most, all",
    "poor, fair, good, very good, excellent",
    "bad, fair, good",
    "strongly disagree, disagree, neutral, agree, strongly agree",
    "very dissatisfied, dissatisfied, neutral, satisfied, very satisfied",
    "before, during, after",
    "first, second, third, fourth, fifth",
    "child, adolescent, adult",
    "young, old",
    "weak, medium, strong",
    "light, medium, heavy",
    "slow, medium, fast",
    "cold, warm, hot",
)


def calendar_order(levels: Sequence[object]) -> tuple[str, list[object]] | None:
    """Days of the week, or months, in their order, with what they are called; None for other levels.

    >>> calendar_order(["Fri", "Mon", "Tue"])
    ('days of the week', ['Mon', 'Tue', 'Fri'])
    >>> calendar_order(["may", "rind"]) is None
    True
    """
    words = [str(level).strip().rstrip(".").casefold() for level in levels]
    if len(words) < 2 or not all(isinstance(level, str) for level in levels):
        return None
    for name, sequence in _CALENDAR:
        places: dict[str, int] = {}
        for place, word in enumerate(sequence.split()):
            places |= dict.fromkeys([word, *(word[:count] for count in _SHORT)], place)
        if all(word in places for word in words):
            return name, sorted(levels, key=lambda level: places[str(level).strip().rstrip(".").casefold()])
    return None


def ranked(levels: Sequence[object]) -> list[object] | None:
    """Words such as low, medium and high from the least to the most; None where they are no such words, or stand so already.

    >>> ranked(["high", "low", "medium"])
    ['low', 'medium', 'high']
    """
    words = [str(level).strip().replace("_", " ").casefold() for level in levels]
    if len(set(words)) < 2:
        return None
    for sequence in _RANKED:
        known = sequence.split(", ")
        if all(word in known for word in words):
            ordered = sorted(levels, key=lambda level: known.index(str(level).strip().replace("_", " ").casefold()))
            return None if ordered == list(levels) else ordered
    return None
