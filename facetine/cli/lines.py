"""Lines for a terminal: whatever stands in them, they can't command it, and any encoding can write them."""

from __future__ import annotations

import sys
from typing import TextIO

from facetine.cli.wording import worded
from facetine.errors import printable


def to_output(text: str) -> None:
    """Writes lines to standard output, for whoever reads them as they come."""
    _write(sys.stdout, text)
    if sys.stdout is not None:
        sys.stdout.flush()


def to_error(text: str) -> None:
    """Writes lines to standard error."""
    _write(sys.stderr, text)


def tell(text: str) -> None:
    """Writes what is found, refused or proposed to standard error, its suggestions in the words of the place."""
    to_error(worded(text))


def _write(stream: TextIO | None, text: str) -> None:
    # Without a terminal, and without anything in its place, there is nobody to tell.
    if stream is None:
        return
    coding = stream.encoding or "utf-8"
    stream.write(printable(text).encode(coding, "backslashreplace").decode(coding))
