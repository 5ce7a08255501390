"""Physical lengths."""

from __future__ import annotations

import math
import re

from facetine.core.arrays import is_number
from facetine.messages.errors import OptionError, told, unknown

POINTS = {"mm": 72 / 25.4, "cm": 720 / 25.4, "in": 72.0, "pt": 1.0}
"""Points in each unit."""
LARGEST = 14400.0
"""The largest sheet that a PDF reader must show: 200 inches. Source: ISO 32000-1, annex C.2."""

MOST_SHIFT = 72.0
"""Points that a layer may be shifted: beyond, a mark belongs to nothing."""


def in_points(length: object, where: str) -> float:
    """A length in points.

    Args:
        length: A text such as "85 mm", "8.5 cm", "3.3 in" or "240 pt"; a bare number is millimetres.
        where: The option that asks, for the error.

    Raises:
        OptionError: It is no length, has an unknown unit, or is not between 1 pt and 200 in.

    >>> in_points("1 in", "width")
    72.0
    """
    points = _parsed(length, where, 'write "85 mm", "3.3 in" or "240 pt"')
    if not math.isfinite(points) or not 1.0 <= points <= LARGEST:
        raise OptionError(where, f"{told(length)} is out of reach", "a length is between 1 pt and 200 in")
    return points


def shift_option(length: object, where: str) -> str:
    """A short way in one of two directions, as a text that is a length again.

    Args:
        length: As for `in_points`, with a sign.
        where: The option that asks, for the error.

    Raises:
        OptionError: It is no length, has an unknown unit, or is longer than 72 pt.

    >>> shift_option("-1 mm", "shift")
    '-2.83465 pt'
    """
    back = isinstance(length, str) and length.lstrip()[:1] in ("-", "\N{MINUS SIGN}")
    ahead = isinstance(length, str) and length.lstrip()[:1] == "+"
    points = _parsed(
        length.lstrip()[1:] if (back or ahead) and isinstance(length, str) else length, where, 'write "3 pt" or "-1 mm"'
    )
    if not math.isfinite(points) or abs(points) > MOST_SHIFT:
        raise OptionError(where, f"{told(length)} is out of reach", f"a shift is at most {MOST_SHIFT:g} pt either way")
    return f"{-points if back else points:g} pt"


def shifts_option(lengths: object, where: str) -> tuple[str, str]:
    """A short way to the right and down, as two texts that are lengths again.

    Raises:
        OptionError: They are not two lengths, each as for `shift_option`.

    >>> shifts_option(("1 pt", "-1 mm"), "shift")
    ('1 pt', '-2.83465 pt')
    """
    if not isinstance(lengths, list | tuple) or len(lengths) != 2:
        raise OptionError(where, f"{told(lengths)} is no way in two directions", 'such as ("2 mm", "-1 mm"): right and up')
    right, down = lengths
    return shift_option(right, where), shift_option(down, where)


def shifts_points(shift: tuple[str, str] | None) -> tuple[float, float]:
    """A way that was checked, in points to the right and down."""
    return (0.0, 0.0) if shift is None else (shift_points(shift[0]), shift_points(shift[1]))


def shift_points(shift: str | None) -> float:
    """A shift that was checked, in points."""
    return float(shift.removesuffix(" pt")) if shift is not None else 0.0


def _parsed(length: object, where: str, such: str) -> float:
    """Points of a length without a sign, or of a number of millimetres."""
    if is_number(length):
        return float(length) * POINTS["mm"]
    match = re.fullmatch(r"\s*([0-9]*\.?[0-9]+)\s*([^\d\s]*)\s*", length) if isinstance(length, str) else None
    if match is None:
        raise OptionError(where, f"{told(length)} is no length", such)
    value, unit = match.groups()
    if (unit or "mm") not in POINTS:
        raise unknown(OptionError, where, f"{told(length)} has no known unit:", unit, POINTS, "units")
    return float(value) * POINTS[unit or "mm"]
