"""Numbers read back from what a format wrote."""

from __future__ import annotations

import math
import re

_POWER = re.compile(r"(?:(-?[\d.]+) × )?10\^(-?\d+)\^")
_PREFIXED = re.compile(r"(-?[\d.]+)([pnµmkMGT]?)")
_SIZES = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "m": 1e-3, "": 1.0, "k": 1e3, "M": 1e6, "G": 1e9, "T": 1e12}


def number_read(text: str) -> float:
    """The number that a text in inline markup tells; NaN where it is none.

    >>> number_read("−12,345.7"), number_read("7.02 %"), number_read("1.5 × 10^−3^"), number_read("2.0k")
    (-12345.7, 0.0702, 0.0015, 2000.0)
    """
    signs = text.replace("\\", "").replace(",", "").replace("−", "-").strip()
    share = signs.endswith("%")
    signs = signs.removesuffix("%").strip()
    found = _POWER.fullmatch(signs)
    prefixed = _PREFIXED.fullmatch(signs)
    try:
        if found:
            value = float(f"{found[1] or 1}e{found[2]}")
        elif prefixed:
            value = float(prefixed[1]) * _SIZES[prefixed[2]]
        else:
            value = float(signs.replace("+", ""))
    except ValueError:
        return math.nan
    return round(value / 100, 15) if share else value
