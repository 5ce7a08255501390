"""Physical lengths."""

from __future__ import annotations

import math
import re

from facetine.core.arrays import is_number
from facetine.errors import OptionError, told, unknown

POINTS = {"mm": 72 / 25.4, "cm": 720 / 25.4, "in": 72.0, "pt": 1.0}
"""Points in each unit."""
LARGEST = 14400.0
"""The largest sheet that a PDF reader must show: 200 inches. Source: ISO 32000-1, annex C.2."""


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
    if is_number(length):
        points = float(length) * POINTS["mm"]
    else:
        match = re.fullmatch(r"\s*([0-9]*\.?[0-9]+)\s*([^\d\s]*)\s*", length) if isinstance(length, str) else None
        if match is None:
            raise OptionError(f"{where}: {told(length)} is no length", 'write "85 mm", "3.3 in" or "240 pt"')
        value, unit = match.groups()
        if (unit or "mm") not in POINTS:
            raise unknown(OptionError, where, f"{told(length)} has no known unit:", unit, POINTS, "units")
        points = float(value) * POINTS[unit or "mm"]
    if not math.isfinite(points) or not 1.0 <= points <= LARGEST:
        raise OptionError(f"{where}: {told(length)} is out of reach", "a length is between 1 pt and 200 in")
    return points
