"""All palettes by name: ours, and those of other packages."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.registry import Registry

Sort = Literal["categories", "low to high", "about a middle", "cyclic"]
"""What a palette is for."""


@dataclass(frozen=True, slots=True)
class Palette:
    """Colors for categories, or stops of a ramp for numbers."""

    sort: Sort
    colors: tuple[str, ...]
    """As #rrggbb: in the order of use, or from the low end to the high one."""


PALETTES: Registry[Palette] = Registry(
    "facetine.palettes",
    "palette",
    {
        **{name: Palette("categories", tuple(colors)) for name, colors in QUALITATIVE.items()},
        **{name: Palette("low to high", tuple(colors)) for name, colors in SEQUENTIAL.items()},
        **{name: Palette("about a middle", tuple(colors)) for name, colors in DIVERGING.items()},
        **{name: Palette("cyclic", tuple(colors)) for name, colors in CYCLIC.items()},
    },
    lambda thing: isinstance(thing, Palette),
)
"""By their names; those of other packages stand under the entry-point group `facetine.palettes`."""


def for_categories(name: str) -> bool:
    """Whether there is a palette of that name for categories."""
    return name in PALETTES and PALETTES[name].sort == "categories"


def for_numbers(name: str) -> bool:
    """Whether there is a ramp of that name."""
    return name in PALETTES and PALETTES[name].sort != "categories"
