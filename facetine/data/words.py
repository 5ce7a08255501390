"""A column's name as a reader would write it."""

from __future__ import annotations

from functools import lru_cache

# Only endings that can hardly be anything but a unit; a lone letter could be anything.
_UNITS = {
    "kg": "kg", "mg": "mg", "ug": "µg", "mm": "mm", "cm": "cm", "km": "km", "um": "µm", "nm": "nm",
    "ms": "ms", "sec": "s", "seconds": "s", "minutes": "min", "hours": "h", "days": "days", "weeks": "weeks",
    "months": "months", "years": "years", "pct": "%", "percent": "%", "hz": "Hz", "khz": "kHz", "mhz": "MHz",
    "kpa": "kPa", "mpa": "MPa", "hpa": "hPa", "kw": "kW", "kwh": "kWh", "ml": "mL", "kj": "kJ", "kmh": "km/h",
    "degc": "°C", "celsius": "°C", "kelvin": "K", "degrees": "°", "db": "dB", "eur": "EUR", "usd": "USD",
}  # fmt: skip


_LIKELY = {
    "n": "N", "kn": "kN", "pa": "Pa", "c": "°C", "f": "°F", "k": "K", "v": "V", "mv": "mV", "a": "A", "ma": "mA",
    "w": "W", "j": "J", "g": "g", "t": "t", "m": "m", "s": "s", "h": "h", "d": "d", "min": "min", "l": "L",
    "mol": "mol", "ppm": "ppm", "bar": "bar",
}  # fmt: skip
"""Endings that are a unit often enough to be proposed, and too seldom to be taken for one."""


def proposed(name: str) -> tuple[str, str] | None:
    """Label and unit that a column's name may mean; None where its ending is none.

    >>> proposed("firmness_n"), proposed("temp_c")
    (('Firmness', 'N'), ('Temp', '°C'))
    >>> proposed("plan_b") is None
    True
    """
    head, _, ending = name.rpartition("_")
    unit = _LIKELY.get(ending.lower())
    return (as_words(head)[0], unit) if head and unit is not None else None


@lru_cache(maxsize=1024)
def as_words(name: str) -> tuple[str, str]:
    """Label and unit that a column's name seems to say; the unit is empty where it says none.

    >>> as_words("mass_kg")
    ('Mass', 'kg')
    >>> as_words("ph")
    ('pH', '')
    >>> as_words("cellarName")
    ('Cellar name', '')
    >>> as_words("ph > 5.3")
    ('pH > 5.3', '')
    """
    import re

    text = re.sub(r"(?<=[a-z])(?=[A-Z][a-z])", "_", name)
    words = [word for word in re.split(r"[_\s]+|(?<!\d)\.+|\.+(?!\d)", text) if word]
    if not words:
        return name, ""
    unit = _UNITS.get(words[-1].lower(), "") if len(words) > 1 else ""
    if unit:
        words = words[:-1]
    words = [word if word.isupper() else word.lower() for word in words]
    words = ["pH" if word == "ph" else word for word in words]
    first = words[0] if words[0] == "pH" else words[0][:1].upper() + words[0][1:]
    return " ".join([first, *words[1:]]), unit
