"""Rows counted on the screen while they come, where that takes long and somebody looks."""

from __future__ import annotations

import sys
import time
from types import TracebackType

_PATIENCE = 1.0
"""Seconds after which it is said how far a reading has come."""
_OFTEN = 0.2


class Counted:
    """A line on a terminal that says how many rows have come; it is gone when all have.

    Args:
        where: Who reads.
    """

    def __init__(self, where: str) -> None:
        self._where, self._begun, self._said, self._rows = where, time.monotonic(), 0.0, 0
        self._watched = sys.stderr is not None and sys.stderr.isatty()

    def more(self, rows: int) -> None:
        """Says that more rows have come."""
        self._rows += rows
        now = time.monotonic()
        if self._watched and now - self._begun > _PATIENCE and now - self._said > _OFTEN:
            sys.stderr.write(f"\r{self._where}: {self._rows:,} rows")
            sys.stderr.flush()
            self._said = now

    def __enter__(self) -> Counted:
        return self

    def __exit__(self, kind: type[BaseException] | None, problem: BaseException | None, trace: TracebackType | None) -> None:
        if self._said:
            sys.stderr.write("\r\x1b[K")
            sys.stderr.flush()
