"""Units as people write them, alone and within names of columns.

Source of the symbols and prefixes: the SI brochure (9th edition, 2019), sections 2.3, 3 and 4.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import NamedTuple

_PREFIXES = {
    "k": "k", "M": "M", "G": "G", "T": "T", "h": "h", "d": "d", "c": "c", "m": "m", "u": "µ", "µ": "µ", "μ": "µ", "n": "n",
    "p": "p",
}  # fmt: skip
_PREFIXED = (
    "g", "m", "s", "l", "L", "A", "K", "mol", "N", "Pa", "J", "W", "V", "Hz", "Ω", "S", "T", "F", "H", "Wh", "eV", "Sv", "Bq",
    "bar", "t", "B",
)  # fmt: skip
_PLAIN = {
    "min": "min", "h": "h", "d": "d", "a": "a", "ha": "ha", "°C": "°C", "° C": "°C", "ºC": "°C", "°F": "°F", "degC": "°C",
    "degF": "°F", "deg C": "°C", "Celsius": "°C", "celsius": "°C", "Kelvin": "K", "kelvin": "K", "°": "°", "degrees": "°",
    "%": "%", "‰": "‰", "percent": "%", "Prozent": "%", "pct": "%", "ppm": "ppm", "ppb": "ppb", "dB": "dB", "db": "dB",
    "rpm": "rpm", "EUR": "EUR", "€": "€", "USD": "USD", "$": "$", "GBP": "GBP", "£": "£", "CHF": "CHF", "ohm": "Ω", "Ohm": "Ω",
    "sec": "s", "seconds": "s", "minutes": "min", "hours": "h", "days": "days", "weeks": "weeks", "months": "months",
    "years": "years", "Tage": "Tage", "Jahre": "Jahre", "cfu": "CFU", "CFU": "CFU", "hz": "Hz", "khz": "kHz", "mhz": "MHz",
    "kpa": "kPa", "hpa": "hPa", "kw": "kW", "kwh": "kWh", "ml": "mL", "kj": "kJ", "km/h": "km/h", "kmh": "km/h", "kg": "kg",
}  # fmt: skip
"""Those that take no prefix, and other ways of writing some that do."""
_EXPONENTS = str.maketrans("0123456789-+", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺")
_PART = re.compile(r"(?P<symbol>[^\d\s/*·^²³⁻¹-]+?)\s?(?:\^?\(?(?P<power>[-−+]?\d)\)?|(?P<raised>⁻?[¹²³]))?")

# Endings that can hardly be anything but a unit, after an underscore and in small letters; a lone letter could be anything.
_ENDINGS = {
    "kg": "kg", "mg": "mg", "ug": "µg", "mm": "mm", "cm": "cm", "km": "km", "um": "µm", "nm": "nm", "ms": "ms", "sec": "s",
    "seconds": "s", "minutes": "min", "hours": "h", "days": "days", "weeks": "weeks", "months": "months", "years": "years",
    "pct": "%", "percent": "%", "hz": "Hz", "khz": "kHz", "mhz": "MHz", "kpa": "kPa", "mpa": "MPa", "hpa": "hPa", "kw": "kW",
    "kwh": "kWh", "ml": "mL", "kj": "kJ", "kmh": "km/h", "degc": "°C", "celsius": "°C", "kelvin": "K", "degrees": "°", "db": "dB",
    "eur": "EUR", "usd": "USD",
}  # fmt: skip
_LIKELY = {
    "n": "N", "kn": "kN", "pa": "Pa", "c": "°C", "f": "°F", "k": "K", "v": "V", "mv": "mV", "a": "A", "ma": "mA", "w": "W",
    "j": "J", "g": "g", "t": "t", "m": "m", "s": "s", "h": "h", "d": "d", "min": "min", "l": "L", "mol": "mol", "ppm": "ppm",
    "ppb": "ppb", "bar": "bar", "ugm3": "µg/m³", "mgm3": "mg/m³", "gm3": "g/m³", "kgm3": "kg/m³", "ngm3": "ng/m³", "mgl": "mg/l",
    "ugl": "µg/l", "gl": "g/l", "mgkg": "mg/kg", "ugkg": "µg/kg", "wm2": "W/m²", "kwhm2": "kWh/m²", "mps": "m/s", "ms1": "m/s",
    "uscm": "µS/cm", "lm2": "l/m²", "m2": "m²", "m3": "m³", "km2": "km²", "ha": "ha", "tha": "t/ha", "kgha": "kg/ha",
    "mmh": "mm/h", "ls": "l/s", "m3s": "m³/s", "cfug": "CFU/g", "db": "dB",
}  # fmt: skip
"""Endings that are a unit often enough to be proposed, and too seldom to be taken for one."""
_SPEEDS = re.compile(r"wind|speed|velocity|geschwindigkeit|gust|flow|böe", re.IGNORECASE)


class Measured(NamedTuple):
    """What a column's name says: what is measured, and in which unit."""

    label: str
    """Without the unit, as it is written."""
    unit: str
    sure: bool
    """Whether the name can hardly mean anything else."""


@lru_cache(maxsize=4096)
def unit_of(text: str) -> str | None:
    """A unit as it is printed; None where a text is none.

    >>> [unit_of(text) for text in ("mg/l", "ug/m3", "°C", "m s-1", "kWh/(m2 a)", "µS/cm", "North")]
    ['mg/l', 'µg/m³', '°C', 'm s⁻¹', 'kWh/(m² a)', 'µS/cm', None]
    """
    text = text.strip()
    if text in _PLAIN:
        return _PLAIN[text]
    if not text or len(text) > 24:
        return None
    made: list[str] = []
    for part in re.split(r"([/*·()]|\s+)", text):
        if not part or re.fullmatch(r"[/*·()]|\s+", part):
            made.append(" " if part and part.isspace() else part)
            continue
        one = _part(part)
        if one is None:
            return None
        made.append(one)
    whole = "".join(made)
    return whole if any(letter.isalpha() or letter in "%‰°€$£" for letter in whole) and whole[0] not in "/*·" else None


def _part(text: str) -> str | None:
    """One factor of a unit, with its exponent raised."""
    found = _PART.fullmatch(text)
    if found is None:
        return None
    symbol, raised = found["symbol"], found["raised"] or (found["power"] or "").replace("−", "-").translate(_EXPONENTS)
    if symbol in _PLAIN:
        return _PLAIN[symbol] + raised
    for prefix, own in (("", ""), *_PREFIXES.items()):
        if symbol.startswith(prefix) and symbol[len(prefix) :] in _PREFIXED:
            return own + symbol[len(prefix) :] + raised
    return None


@lru_cache(maxsize=4096)
def measured(name: str) -> Measured | None:
    """What a column's name says of its unit; None where it says none.

    >>> measured("Nitrat mg/l")
    Measured(label='Nitrat', unit='mg/l', sure=False)
    >>> measured("no2_ugm3"), measured("wind_ms").unit, measured("reaction_ms").unit
    (Measured(label='no2', unit='µg/m³', sure=False), 'm/s', 'ms')
    """
    bracketed = re.fullmatch(r"(.*\S)\s*[(\[]\s*(?:in\s+)?([^()\[\]]+|[^()\[\]]*\([^()]*\))\s*[)\]]", name)
    if bracketed is not None and (unit := unit_of(bracketed[2])) is not None:
        return Measured(bracketed[1].strip(), unit, False)
    spaced = re.fullmatch(r"(.*[^\s,;:])(?:\s*[,;:]\s*|\s+)(?:in\s+)?(\S+(?:\s(?:[a-zµ]{1,3}[-−⁻]\d?[¹²³]?))?)", name)
    if spaced is not None and "_" not in name:
        unit = unit_of(spaced[2])
        if unit is not None and (len(spaced[2]) > 1 or spaced[2] in "%°€$£mghs" or " in " in name):
            return Measured(spaced[1].removesuffix(" in"), unit, False)
    return _ending(name)


def _ending(name: str) -> Measured | None:
    """The unit of a name whose words are parted by underscores."""
    parts = re.sub(r"(?<=[a-z])(?=[A-Z][a-z])", "_", name).replace(" ", "_").replace(".", "_").split("_")
    parts = [part for part in parts if part]
    if len(parts) > 2 and parts[-2].lower() == "per":
        above, below = (unit_of(part) or _symbol(part) for part in (parts[-3], parts[-1]))
        return Measured("_".join(parts[:-3]), f"{above}/{below}", False) if len(parts) > 3 and above and below else None
    if len(parts) < 2:
        return None
    head, ending = "_".join(parts[:-1]), parts[-1].lower()
    if len(parts) > 2 and (parts[-2].lower(), ending) in (("m", "s"), ("km", "h"), ("mg", "l"), ("l", "s")):
        return Measured("_".join(parts[:-2]), f"{parts[-2].lower()}/{ending}", False)
    if ending == "ms" and _SPEEDS.search(head):
        return Measured(head, "m/s", False)
    if ending in _ENDINGS:
        return Measured(head, _ENDINGS[ending], True)
    apart = "_" in name or name[-len(ending) :] != ending
    return Measured(head, _LIKELY[ending], False) if ending in _LIKELY and apart and " " not in name else None


def _symbol(part: str) -> str | None:
    return _ENDINGS.get(part.lower()) or _LIKELY.get(part.lower())
