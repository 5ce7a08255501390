"""What a user may give, under names that say what it is. It is checked where it is taken."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from datetime import date
from enum import Enum
from typing import Any, SupportsFloat, TypeAlias

Frame: TypeAlias = Any
"""A data frame of any library that narwhals knows, a dict or a structured array, a list of files: see `facetine.figure`."""
Options: TypeAlias = Mapping[str, Any]
"""Options by name, as they were said."""
Plain: TypeAlias = dict[str, Any]
"""Tables of plain data, as they stand in a plan."""
Place: TypeAlias = float | str | bool | date | SupportsFloat
"""A value on an axis: a number, a time, or a category."""
Ends: TypeAlias = tuple[Place | None, Place | None]
"""Two values; one that is None is left open."""
Length: TypeAlias = str | float | None
"""A length such as "85 mm", or a number of millimetres."""
Target: TypeAlias = str | bytes | os.PathLike[str] | os.PathLike[bytes]
"""A path."""
Targets: TypeAlias = Target | Sequence[Target]


class NotGiven(Enum):
    """What stands for nothing where None says something: that what was said before is taken back."""

    NOT_GIVEN = "…"

    def __repr__(self) -> str:
        return self.value


NOT_GIVEN = NotGiven.NOT_GIVEN
