"""How a layer is computed anew of rows that a reader of a page chose, while all rows have settled everything else."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

By = Literal["row", "place", "spot", "bin", "cell", "group", "panel", "figure"]
"""What one result is of: a row; the rows of a group at one x, at one x and y, or in one bin; of a panel in one cell; or of all
that a group, a panel or the figure has."""


class Finish(NamedTuple):
    """What computes the results of a layer in a browser."""

    name: str
    """Of a way to compute that the page's runtime knows, in `finish/`."""
    by: By
    options: Mapping[str, Any] = {}
    """Plain values that it needs."""
    counts: bool = False
    """Whether marks are counts, which are seen over those of all rows."""
