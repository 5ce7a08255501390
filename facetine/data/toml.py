"""Files that analysts write in TOML, and errors that name the line."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from facetine.data.plain import plain_text
from facetine.messages.errors import FacetineError, OptionError

_DEEP_KEY = re.compile(r"(?<![\w\"'-])(?:[\w\"'-]++\s*+\.\s*+){100}")


def parsed_toml(text: str) -> dict[str, Any]:
    """What a text in TOML says.

    Raises:
        ValueError: It is no TOML, or a key has very many parts, which its parser would take hours for.
        RecursionError: It is nested too deep.
    """
    import tomllib

    if found := _DEEP_KEY.search(text):
        raise ValueError(f"a key of more than 100 parts, in line {text.count(chr(10), 0, found.start()) + 1}")
    return tomllib.loads(text)


def read_toml(path: Path, where: str) -> tuple[str, dict[str, Any]]:
    """The text of a file and what it says.

    Raises:
        OptionError: It can't be read, or is no TOML.
    """
    try:
        text = plain_text(path)
        return text, parsed_toml(text)
    except (OSError, UnicodeDecodeError) as problem:
        reason = problem.strerror if isinstance(problem, OSError) and problem.strerror else str(problem)
        raise OptionError(where, f"{str(path)!r} can't be read: {reason}") from problem
    except RecursionError:
        raise OptionError(where, f"{path.name} is nested too deep") from None
    except ValueError as problem:
        # Mistakes of TOML, and numbers of more digits than Python reads.
        raise OptionError(where, f"{path.name} is no TOML: {str(problem)[:160]}") from problem


def line_of(text: str, pattern: str, start: int = 0) -> int | None:
    """The first line, counted from zero, from `start` on that a pattern is found in."""
    lines = text.splitlines()
    return next((number for number in range(start, len(lines)) if re.search(pattern, lines[number])), None)


def at_line(problem: FacetineError, path: Path, text: str, key: str) -> OptionError:
    """The same error, with the file and the line that says a key."""
    line = line_of(text, rf"^\s*\"?{re.escape(key)}\"?\s*=")
    place = f"{path.name}, line {line + 1}" if line is not None else path.name
    return problem.but(OptionError, at=place)
