"""A column's name as a reader would write it."""

from __future__ import annotations

from functools import lru_cache

from facetine.data.units import measured


def proposed(name: str) -> tuple[str, str] | None:
    """Label and unit that a column's name may mean; None where its ending is none.

    >>> proposed("firmness_n"), proposed("temp_c")
    (('Firmness', 'N'), ('Temp', '°C'))
    >>> proposed("plan_b") is None
    True
    """
    found = measured(name)
    return None if found is None or found.sure else (as_words(found.label)[0], found.unit)


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
    found = measured(name)
    unit = found.unit if found is not None and found.sure else ""
    if unit:
        words = words[:-1]
    words = [word if word.isupper() else word.lower() for word in words]
    words = ["pH" if word == "ph" else word for word in words]
    first = words[0] if words[0] == "pH" else words[0][:1].upper() + words[0][1:]
    return " ".join([first, *words[1:]]), unit
