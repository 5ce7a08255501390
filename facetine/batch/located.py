"""On which line of a plan something is said."""

from __future__ import annotations

import re
from typing import NamedTuple

_HEADER = re.compile(r"^\s*(\[\[?)\s*(.+?)\s*\]\]?\s*(#.*)?$")
_KEY = re.compile(r"""^\s*((?:"[^"]*"|'[^']*'|[\w-]+)(?:\s*\.\s*(?:"[^"]*"|'[^']*'|[\w-]+))*)\s*=""")
_PART = re.compile(r""""([^"]*)"|'([^']*)'|([\w-]+)""")
_QUOTED = re.compile(r"'([^']{1,60})'")


class Places(NamedTuple):
    """The lines of a plan."""

    name: str
    """Of the file."""
    lines: tuple[str, ...]
    found: dict[tuple[str, ...], int]
    """The line, counted from one, of every table and key."""

    @classmethod
    def of(cls, name: str, text: str) -> Places:
        """Those of a plan in TOML, or in JSON, of which only keys are found."""
        lines = tuple(text.splitlines())
        return cls(name, lines, _in_json(lines) if text.lstrip()[:1] == "{" else _in_toml(lines))

    others: tuple[Places, ...] = ()
    """Those of the plans that it includes."""

    def beside(self, other: Places) -> Places:
        """With those of a plan that is included."""
        return self._replace(others=(*self.others, other._replace(others=()), *other.others))

    def line(self, *path: str) -> int | None:
        """The line of a key, or of what holds it."""
        return self.found.get(path[: self._depth(path)])

    def _depth(self, path: tuple[str, ...]) -> int:
        """How many steps of a path there are here."""
        return next((end for end in range(len(path), 0, -1) if path[:end] in self.found), 0)

    def _holder(self, path: tuple[str, ...]) -> Places:
        """The plan that says it: this one, or one that it includes."""
        return max((self, *self.others), key=lambda one: one._depth(path))

    def where(self, *path: str) -> str:
        """File and line as an error names them."""
        holder = self._holder(path)
        line = holder.line(*path)
        return holder.name if line is None else f"{holder.name}, line {line}"

    def near(self, said: str, *path: str) -> str:
        """File and line of a word that an error quotes, in the part of the plan that it is about; else of that part."""
        holder = self._holder(path)
        start = holder.line(*path)
        if start is None:
            return holder.name
        after = sorted(line for key, line in holder.found.items() if line > start and key[: len(path)] != path and len(key) <= 2)
        part = range(start, after[0] if after else len(holder.lines) + 1)
        for word in _QUOTED.findall(said):
            for line in part:
                if re.search(rf"(?<!\w){re.escape(word)}(?!\w)", holder.lines[line - 1]):
                    return f"{holder.name}, line {line}"
        return f"{holder.name}, line {start}"


def _in_toml(lines: tuple[str, ...]) -> dict[tuple[str, ...], int]:
    found: dict[tuple[str, ...], int] = {}
    table: tuple[str, ...] = ()
    counts: dict[tuple[str, ...], int] = {}
    quoted = ""
    for number, line in enumerate(lines, 1):
        if quoted:
            quoted = "" if quoted in line else quoted
            continue
        header = _HEADER.match(line)
        if header:
            table = _parts(header[2])
            if header[1] == "[[":
                counts[table] = counts.get(table, -1) + 1
                table = (*table, str(counts[table]))
            found.setdefault(table, number)
        elif key := _KEY.match(line):
            found.setdefault((*table, *_parts(key[1])), number)
            for sign in ('"""', "'''"):
                if line.count(sign) == 1:
                    quoted = sign
    return found


def _in_json(lines: tuple[str, ...]) -> dict[tuple[str, ...], int]:
    """Keys by how deep the braces are in which they stand."""
    found: dict[tuple[str, ...], int] = {}
    path: list[str] = []
    pending = ""
    for number, line in enumerate(lines, 1):
        for token in re.finditer(r'"((?:[^"\\]|\\.)*)"\s*(:)?|[{}]', line):
            if token[0] == "{":
                path.append(pending)
                pending = ""
            elif token[0] == "}":
                path = path[:-1]
            elif token[2]:
                pending = token[1]
                found.setdefault((*[one for one in path if one], pending), number)
    return found


def _parts(said: str) -> tuple[str, ...]:
    return tuple(one or other or bare for one, other, bare in _PART.findall(said))
