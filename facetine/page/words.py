"""How a page writes values; the page's own script writes them alike, sign by sign."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Context, Decimal

_MINUS = "\N{MINUS SIGN}"
_DIGITS = 6
"""Of numbers that are no decimals of few places."""
_LEAST, _MOST = -5, 15
"""Powers of ten of the first digit between which a number is written out."""
DAY, MINUTE, SECOND = 86_400_000_000, 60_000_000, 1_000_000
"""Microseconds."""


def number_text(value: float, places: int | None) -> str:
    """A number as the page writes it.

    Args:
        value: It.
        places: Its decimals where all of its column have few; None for six digits.

    >>> number_text(1234.5, 2), number_text(-0.000123456789, None), number_text(1e21, None)
    ('1,234.50', '−0.000123457', '1e21')
    """
    sign = _MINUS if value < 0 else ""
    if places is not None:
        return sign + _grouped(f"{abs(value):.{places}f}")
    if value == 0:
        return "0"
    # Halves go away from zero, as in the page's language.
    number = Context(prec=_DIGITS, rounding=ROUND_HALF_UP).create_decimal(Decimal(abs(value)))
    power = number.adjusted()
    digits = "".join(map(str, number.as_tuple().digits)).rstrip("0") or "0"
    if not _LEAST <= power < _MOST:
        return f"{sign}{digits[0]}{f'.{digits[1:]}' if digits[1:] else ''}e{power}"
    if power < 0:
        return f"{sign}0.{'0' * (-power - 1)}{digits}"
    whole = digits[: power + 1].ljust(power + 1, "0")
    return sign + _grouped(f"{whole}.{digits[power + 1 :]}".rstrip("."))


def _grouped(text: str) -> str:
    whole, point, rest = text.partition(".")
    return f"{int(whole):,}{point}{rest}"


def time_text(count: int, unit: int) -> str:
    """A time as the page writes it.

    Args:
        count: Units since the beginning of 1970.
        unit: How many microseconds one has: a day, a minute, a second or one.

    >>> time_text(22_000, DAY), time_text(-1, SECOND)
    ('2030-03-27', '1969-12-31 23:59:59')
    """
    micro = count * unit
    days, rest = divmod(micro, DAY)
    date = _date_text(days)
    if unit == DAY:
        return date
    minutes, rest = divmod(rest, MINUTE)
    text = f"{date} {minutes // 60:02}:{minutes % 60:02}"
    if unit == MINUTE:
        return text
    seconds, part = divmod(rest, SECOND)
    return f"{text}:{seconds:02}" + ("" if unit == SECOND else f".{part:06}")


def _date_text(days: int) -> str:
    """A day of the calendar that was always as it is now (Hinnant 2013, chrono-compatible low-level date algorithms)."""
    era, day_of_era = divmod(days + 719_468, 146_097)
    year_of_era = (day_of_era - day_of_era // 1460 + day_of_era // 36_524 - day_of_era // 146_096) // 365
    day_of_year = day_of_era - (365 * year_of_era + year_of_era // 4 - year_of_era // 100)
    month_at = (5 * day_of_year + 2) // 153
    month = month_at + 3 if month_at < 10 else month_at - 9
    year = year_of_era + era * 400 + (month <= 2)
    shown = f"{year:04}" if year >= 0 else f"{_MINUS}{-year:04}"
    return f"{shown}-{month:02}-{day_of_year - (153 * month_at + 2) // 5 + 1:02}"
