"""Lines for a terminal: whatever stands in them, they can't command it, and any encoding can write them."""

from __future__ import annotations

import re
import sys
from typing import TextIO

from facetine.cli.wording import worded
from facetine.messages.errors import printable

_TYPED = re.compile(r"--[a-z-]+ (?:'[^']*'|\"[^\"]*\"|\S+)|'[^']{1,60}'|\"[^\"]{1,60}\"")
"""What is typed as one: an option with its value, and what stands in quotes."""


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
    said = worded(text)
    to_error(wrapped(said) if sys.stderr is not None and sys.stderr.isatty() else said)


def wrapped(text: str, width: int | None = None) -> str:
    """A message in lines of a terminal, broken between words, and never within what is typed as one.

    Args:
        text: One line.
        width: Letters in a line; those of the terminal where it is None.
    """
    import shutil
    import textwrap

    room = width or shutil.get_terminal_size((80, 24)).columns
    if len(text.rstrip("\n")) < room:
        return text
    held = _TYPED.sub(lambda found: found[0].replace(" ", "\0"), text.rstrip("\n"))
    lines = textwrap.wrap(held, room - 1, subsequent_indent="  ", break_long_words=False, break_on_hyphens=False)
    return "\n".join(lines).replace("\0", " ") + "\n"


def room_in_terminal() -> int | None:
    """Letters in a line of the terminal that reads standard output; None where none does."""
    import shutil

    return shutil.get_terminal_size((80, 24)).columns if sys.stdout is not None and sys.stdout.isatty() else None


def _write(stream: TextIO | None, text: str) -> None:
    # Without a terminal, and without anything in its place, there is nobody to tell.
    if stream is None:
        return
    coding = stream.encoding or "utf-8"
    stream.write(printable(text).encode(coding, "backslashreplace").decode(coding))
