"""Numbers written as text: with signs between thousands, decimal points or commas."""

from __future__ import annotations

import math
import re
from typing import NamedTuple

_PLAIN = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_THOUSANDS = re.compile(r"[+-]?\d{1,3}(?:,\d{3})+(?:\.\d+)?")
_EITHER = re.compile(r"[+-]?\d{1,3},\d{3}")


class Numbers(NamedTuple):
    """Texts read as numbers."""

    values: list[float | None]
    """None where a text is no number."""
    either: str = ""
    """A text whose one comma may part thousands or decimals, where nothing else in the column tells."""


def numbers_of(texts: list[str]) -> Numbers:
    """Texts as numbers: plain ones, and such as "1,234.5" with commas between thousands.

    >>> numbers_of(["1,234.5", "−3", "n/a"]).values
    [1234.5, -3.0, None]
    """
    bare = [text.strip().replace("−", "-") for text in texts]
    values = [_number(text) for text in bare]
    commas = [text for text in bare if "," in text and _THOUSANDS.fullmatch(text)]
    told = any("." in text or text.count(",") > 1 for text in bare if "," in text)
    plain_points = any("." in text for text in bare if "," not in text)
    either = next((text for text in commas if _EITHER.fullmatch(text)), "") if commas and not told and not plain_points else ""
    return Numbers(values, either)


def _number(text: str) -> float | None:
    if _THOUSANDS.fullmatch(text):
        text = text.replace(",", "")
    elif not _PLAIN.fullmatch(text):
        return None
    value = float(text)
    return value if math.isfinite(value) else None


def read_number(text: str, decimal: str, thousands: str | None) -> float | None:
    """A text as a number by its signs; None where it is none.

    >>> read_number("1.234,5", ",", ".")
    1234.5
    """
    bare = text.strip().replace("−", "-")
    if thousands:
        bare = bare.replace(thousands, "")
    if decimal != ".":
        if "." in bare:
            return None
        bare = bare.replace(decimal, ".")
    return float(bare) if _PLAIN.fullmatch(bare) and math.isfinite(float(bare)) else None
