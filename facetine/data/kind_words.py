"""What a column holds, in words."""

from __future__ import annotations

from facetine.data.table import Column


def kind_words(column: Column) -> str:
    """What a column holds, in words."""
    return {"category": "categories", "ordered": "ordered categories", "time": "times", "yes_no": "truth values"}.get(
        column.kind, "numbers"
    )
