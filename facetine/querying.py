"""Queries over tables that are in memory, as plans ask them."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any


def queried(columns: Mapping[str, Any], sql: str, name: str, where: str) -> dict[str, Any]:
    """What a query gives that can reach one table alone, and gives the same each time.

    Args:
        columns: The table.
        sql: The query.
        name: What it calls the table.
        where: Who asks, for the error.

    Raises:
        DataError: The query fails.
        OptionError: It would give other rows each time it runs.
    """
    from facetine.data.engine import asked
    from facetine.data.sql import check_steady

    check_steady(sql, where)
    return asked(dict(columns), sql, name, where, None)


def file_of(path: str | Path) -> Path:
    """The file of which a sheet, a range or a table is said; the path itself where a "#" belongs to its name."""
    from facetine.data.suffixes import parted

    return parted(str(path))[0]
