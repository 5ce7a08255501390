"""What the reader of a figure should know, said once."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(slots=True)
class Notes:
    """Remarks in the order in which they came up, none twice."""

    said: dict[str, None] = field(default_factory=dict)

    def say(self, text: str) -> None:
        """Adds a remark unless it was made before."""
        self.said[text] = None


def rows(count: int) -> str:
    """So many rows, in words.

    >>> rows(1), rows(1200)
    ('1 row', '1,200 rows')
    """
    return "1 row" if count == 1 else f"{count:,} rows"
