"""Where a figure is to be seen: how large it may be there, and how small its parts."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

from facetine.messages.errors import OptionError, told, unknown


@dataclass(frozen=True, slots=True)
class Profile:
    """What a place asks of figures; kept as data in `checks/profiles`."""

    name: str
    says: str
    width_mm: float
    """The widest sheet."""
    height_mm: float
    text_points: float
    """The smallest text."""
    line_points: float
    """The thinnest line."""
    text_contrast: float
    ink_contrast: float
    gray: bool
    """Whether it may be printed without colors."""


@lru_cache(maxsize=1)
def profiles() -> dict[str, Profile]:
    """All profiles by name."""
    folder = files("facetine.checks") / "profiles"
    found = sorted((entry.name.removesuffix(".toml"), entry) for entry in folder.iterdir() if entry.name.endswith(".toml"))
    return {name: Profile(name, **tomllib.loads(entry.read_text("utf-8"))) for name, entry in found}


def profile_of(name: object, where: str) -> Profile:
    """A profile by its name.

    Raises:
        OptionError: There is none.
    """
    if not isinstance(name, str):
        raise OptionError(where, f"profile is a name, not {told(name)}", f"profiles: {', '.join(profiles())}")
    if name not in profiles():
        raise unknown(OptionError, where, "no profile", name, profiles(), "profiles")
    return profiles()[name]


def profile_for(width: float) -> Profile:
    """That of a journal's page, of one column or of two, for a sheet of a width in points."""
    found = profiles()
    return found["print"] if width <= (found["print"].width_mm + 0.1) * 72 / 25.4 else found["wide"]
