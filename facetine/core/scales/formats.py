"""How numbers are written: the same decimals on a whole axis, thousands grouped, a real minus sign.

Texts are in Facetine's inline markup, so that 10 to the power of 6 comes out as `10^6^`.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from decimal import Decimal
from itertools import pairwise

from facetine.core.scales.templates import ABSOLUTE, Field, check_format, is_time_pattern, parsed

MINUS = "−"
_PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G", 12: "T"}


def written(values: Sequence[float]) -> list[str]:
    """Numbers of one axis as a reader expects them: one number of decimals, no noise, none twice the same.

    Thousands are grouped with a comma as soon as one number has five digits before the point, so that years stay
    plain. From ten million, or under a ten-thousandth, the powers of ten are written out.

    Args:
        values: Finite numbers, usually evenly spaced.

    Returns:
        One text a number.

    >>> written([0.1, 0.2, 0.30000000000000004])
    ['0.1', '0.2', '0.3']
    >>> written([-5000.0, 0.0, 25000.0])
    ['−5,000', '0', '25,000']
    >>> written([2e7, 4e7])
    ['2 × 10^7^', '4 × 10^7^']
    """
    finite = [abs(value) for value in values if value]
    if not finite:
        return ["0" for _ in values]
    largest, smallest = max(finite), min(finite)
    decimals = decimals_needed(values)
    spread = math.log10(largest) - math.log10(smallest)
    if (largest >= 1e7 and decimals == 0 and _zeros(values) >= 4) or largest < 1e-4 or (smallest < 1e-5 and spread > 3):
        return _scientific(values)
    return [fixed(value, decimals, grouped=largest >= 1e4) for value in values]


def written_shares(values: Sequence[float]) -> list[str]:
    """Shares on a logit axis, each with the decimals that tell it from 0 and from 1.

    >>> written_shares([0.001, 0.5, 0.9999999])
    ['0.001', '0.5', '0.9999999']
    """
    found = []
    for value in values:
        slack = min(value, 1 - value) * 1e-6 if 0 < value < 1 else 0.0
        decimals = next((count for count in range(18) if abs(value - round(value, count)) <= slack), 17)
        found.append(written([value])[0] if value < 1e-4 else fixed(value, decimals))
    return found


def decimals_needed(values: Sequence[float]) -> int:
    """The fewest decimals (0 to 23) that write every value right, to a millionth of the smallest step between them."""
    ordered = sorted(set(values))
    steps = [b - a for a, b in pairwise(ordered)]
    step = min(steps) if steps else abs(ordered[0]) or 1.0
    slack = max(step * 1e-6, 2 * math.ulp(max(abs(value) for value in ordered)) if steps else 0.0)
    for decimals in range(24):
        if all(abs(value - round(value, decimals)) <= slack for value in ordered):
            return decimals
    return 23


def fixed(value: float, decimals: int, grouped: bool = True) -> str:
    """A number with so many decimals, grouped by commas, with the minus sign U+2212.

    >>> fixed(-12345.678, 1)
    '−12,345.7'
    """
    text = f"{value:,.{decimals}f}" if grouped else f"{value:.{decimals}f}"
    if text.startswith("-"):
        text = text[1:] if not text.strip("-0.,") else MINUS + text[1:]
    return text


def _zeros(values: Sequence[float]) -> int:
    """How many zeros all the values have in common at their end."""
    common = 400
    for value in values:
        if value:
            mantissa, power = _mantissa(value)
            common = min(common, power - _places(mantissa))
    return common


def _places(value: float) -> int:
    """The decimals of a number of moderate size."""
    return max(0, -int(Decimal(f"{value:.15g}").normalize().as_tuple().exponent))


def _scientific(values: Sequence[float]) -> list[str]:
    """Mantissas with one number of decimals, all over the power of ten of the largest value."""
    power = max(_mantissa(value)[1] for value in values if value)
    mantissas = [float(Decimal(repr(float(value))).scaleb(-power)) for value in values]
    decimals = decimals_needed(mantissas)
    return [f"{fixed(mantissa, decimals)} × 10^{_sign(power)}^" if mantissa else "0" for mantissa in mantissas]


def _mantissa(value: float) -> tuple[float, int]:
    if value == 0:
        return 0.0, 0
    # Fifteen digits hold every decimal number that a float can hold, and none of its noise.
    mantissa, power = f"{value:.14e}".split("e")
    return float(mantissa), int(power)


def _sign(power: int) -> str:
    return f"{MINUS}{-power}" if power < 0 else str(power)


def powers(values: Sequence[float]) -> list[str]:
    """Log ticks: plain numbers while they are short, powers of ten otherwise.

    >>> powers([1.0, 10.0, 100.0])
    ['1', '10', '100']
    >>> powers([1.0, 1e3, 1e6])
    ['1', '10^3^', '10^6^']
    """
    if all(1e-3 <= value < 1e5 for value in values):
        return [_shortest(value) for value in values]
    parts = [_mantissa(value) for value in values]
    if any(mantissa != 1 for mantissa, _ in parts):
        return [f"{_shortest(mantissa)} × 10^{_sign(power)}^" for mantissa, power in parts]
    plain = {0: "1", 1: "10"}
    return [plain.get(power, f"10^{_sign(power)}^") for _, power in parts]


def base_powers(values: Sequence[float], base: float) -> list[str]:
    """Powers of a base: plain numbers while they are short, the base with its exponent otherwise.

    >>> base_powers([1.0, 2.0, 4.0], 2.0)
    ['1', '2', '4']
    >>> base_powers([2.0**20, 2.0**24], 2.0)
    ['2^20^', '2^24^']
    """
    if all(1e-3 <= value < 1e5 for value in values):
        return [_shortest(value) for value in values]
    return [f"{_shortest(base)}^{_sign(round(math.log(value, base)))}^" for value in values]


def durations(values: Sequence[float], length: float, unit: str) -> list[str]:
    """Seconds written in a unit: hours and minutes by the clock, days and seconds as numbers.

    >>> durations([0.0, 5400.0], 3600.0, "h")
    ['0:00 h', '1:30 h']
    """
    if unit in ("min", "h"):
        texts = []
        for value in values:
            whole, part = divmod(round(abs(value)), round(length))
            texts.append(f"{MINUS if value < 0 else ''}{whole}:{part * 60 // round(length):02d} {unit}")
        return texts
    return [f"{text} {unit}" for text in written([value / length for value in values])]


def _shortest(value: float) -> str:
    return fixed(value, _places(value), grouped=abs(value) >= 1e4)


def formatted(values: Sequence[float], pattern: str) -> list[str]:
    """Numbers written by a format.

    A format is "percent", "si", "scientific", or a format specification such as ",.1f"; "absolute", alone or before one of
    them, writes sizes without their signs, for axes that mirror two groups. Or it is a text with one of these in `{value:…}`,
    which puts signs before or after the number: "€{value:,.0f}", "{value} kr". A minus comes before a sign that stands
    before the number.

    Args:
        values: Finite numbers, those of one guide: they are written alike.
        pattern: The format.

    Returns:
        One text a number, in inline markup.

    Raises:
        ValueError: The pattern is no format for numbers; the message says why.

    >>> formatted([0.25, 0.5], "percent")
    ['25 %', '50 %']
    >>> formatted([1500.0, 2000.0], "si")
    ['1.5k', '2.0k']
    >>> formatted([0.0, 300000.0], "scientific")
    ['0', '3 × 10^5^']
    >>> formatted([-150.0, 150.0], "absolute"), formatted([-0.25], "absolute percent")
    (['150', '150'], ['25 %'])
    >>> formatted([-20.0, 1500.0], "€{value:,.2f}")
    ['−€20.00', '€1,500.00']
    """
    if "{" not in pattern and "}" not in pattern:
        return by_format(values, pattern)
    template = parsed(pattern)
    if template.names != ("value",):
        wrong = [name for name in template.names if name != "value"]
        raise ValueError(f"{wrong[0]!r} is no name here: {{value}} is" if wrong else "it does not name {value}")
    columns = {field: by_format(values, field.form) for field in template.parts if isinstance(field, Field)}
    return [_signed_first(text) for text in template.filled(columns, len(values))]


def _signed_first(text: str) -> str:
    """The minus of a number before the signs that stand directly before it."""
    found = _SIGN_INSIDE.fullmatch(text)
    return f"{MINUS}{found[1]}{found[2]}" if found else text


# Signs of money and the like, without a blank or a letter's word before them, then a minus and a digit.
_SIGN_INSIDE = re.compile(rf"([^\s\d{MINUS}]{{1,4}}){MINUS}(\d.*)", re.DOTALL)


def by_format(values: Sequence[float], name: str) -> list[str]:
    """Numbers written by one format: "percent", "si", "scientific", a specification such as ",.1f", or "" for the usual one;
    after "absolute" without their signs.

    Raises:
        ValueError: It is none, it asks for a width or precision above 40, or "d" for numbers that are not whole.
    """
    check_format(name)
    if is_time_pattern(name):
        raise ValueError(f"{name!r} writes times, not numbers")
    if without_sign(name):
        return by_format([abs(value) for value in values], name.removeprefix(ABSOLUTE).strip())
    if not name:
        return written(values)
    if name == "percent":
        return [f"{text} %" for text in written([round(value * 100, 12) for value in values])]
    if name == "si":
        return _prefixed(values)
    if name == "scientific":
        return _powers_of_ten(values)
    integers = all(float(value).is_integer() for value in values)
    if name.endswith("d") and not integers:
        raise ValueError(f"{name!r} is for whole numbers")
    # Without a type or a precision, as in ",", whole numbers are written whole.
    whole = name.endswith("d") or (integers and "." not in name and name[-1] not in "eEfFgG%")
    texts = [_minus(format(int(value) if whole else value + 0.0, name)) for value in values]
    # What a specification makes is no markup, whatever signs it fills with.
    return [escaped(text) for text in texts]


def without_sign(pattern: str) -> bool:
    """Whether a format writes the sizes of numbers, so that −5 and 5 are both 5."""
    if pattern.split(" ")[0] == ABSOLUTE:
        return True
    return "{" in pattern and any(isinstance(part, Field) and without_sign(part.form) for part in parsed(pattern).parts)


def _minus(text: str) -> str:
    """A formatted number with a real minus sign, and none before a number that is written as zero."""
    if "-" not in text:
        return text
    if not re.search(r"[1-9]", re.sub(r"e[+-]?\d+", "", text, flags=re.IGNORECASE)):
        return text.replace("-", "", 1)
    return text.replace("-", MINUS)


def significant(value: float, digits: int) -> str:
    """A number with so many significant digits at most, powers of ten written out.

    >>> significant(0.00001234, 3), significant(-12.0, 3), significant(123456.0, 3)
    ('1.23 × 10^−5^', '−12', '1.23 × 10^5^')
    """
    text = f"{value + 0.0:.{digits}g}"
    if "e" not in text:
        return text.replace("-", MINUS)
    mantissa, power = text.split("e")
    return f"{mantissa.replace('-', MINUS)} × 10^{_sign(int(power))}^"


def rounded_alike(values: Sequence[float], digits: int = 4) -> list[str]:
    """Numbers of the data or of a statistic, with enough digits for each of them.

    All have the decimals that give the largest so many significant digits, where these give every other one three, or all
    that it has; else those that do, where one more is enough. Numbers that are too far apart for that have their own.

    Args:
        values: Finite numbers.
        digits: Significant digits of the largest number.

    Returns:
        One text a number, in inline markup; each differs from its number by less than half a percent.

    >>> rounded_alike([31.6227766, 5.0])
    ['31.62', '5.00']
    >>> rounded_alike([0.04, 2.5, 15000.0])
    ['0.04', '2.5', '15,000']
    """
    finite = [abs(value) for value in values if value]
    if not finite or all(float(value).is_integer() for value in values):
        return written(values)
    usual = max(digits - 1 - _mantissa(max(finite))[1], 0)
    needed = max(_least_decimals(value) for value in finite)
    if needed <= usual + 1 and min(finite) >= 1e-4:
        return written([round(value, max(usual, needed)) for value in values])
    return [rounded(value, digits) for value in values]


def rounded(value: float, digits: int = 3) -> str:
    """A number by itself, with so many significant digits and all that stand before its point.

    >>> rounded(1960.4), rounded(2024.0), rounded(0.040312), rounded(1.3e-215)
    ('1,960', '2024', '0.0403', '1.3 × 10^−215^')
    """
    size = abs(value)
    if not size:
        return "0"
    if float(value).is_integer() and size < 1e9:
        # Four digits stand without a comma: they may be a year.
        return fixed(value, 0, grouped=size >= 1e4)
    if size >= 1e7 or size < 1e-4:
        return significant(value, digits)
    decimals = max(digits - 1 - _mantissa(value)[1], 0)
    return fixed(value, min(decimals, _places(value)))


def _least_decimals(value: float) -> int:
    """The decimals that give a number three significant digits, or all that it has."""
    return min(max(2 - _mantissa(value)[1], 0), _places(value))


def _prefixed(values: Sequence[float]) -> list[str]:
    """Numbers of one axis with one prefix of the SI."""
    largest = max((abs(value) for value in values), default=0.0)
    power = 3 * math.floor(math.log10(largest) / 3 + 1e-9) if largest else 0
    power = min(max(power, -12), 12)
    scaled = [value / 10.0**power for value in values]
    decimals = decimals_needed(scaled) if scaled else 0
    return [fixed(value, decimals) + (_PREFIXES[power] if value else "") for value in scaled]


def _powers_of_ten(values: Sequence[float]) -> list[str]:
    """One power for all numbers of an axis; each its own where they span more than two decades."""
    sizes = [abs(value) for value in values if value]
    if not sizes:
        return ["0" for _ in values]
    if max(sizes) / min(sizes) <= 100:
        return _scientific(values)
    parts = [_mantissa(value) for value in values]
    return [f"{_shortest(mantissa)} × 10^{_sign(power)}^" if mantissa else "0" for mantissa, power in parts]


def escaped(text: str) -> str:
    """Text with its markup characters escaped, so that it is written as it stands.

    >>> escaped("a*b")
    'a\\\\*b'
    """
    for sign in "\\*~^":
        if sign in text:
            text = text.replace(sign, "\\" + sign)
    return text
