"""On which line of a plan something is said."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from typing import Any, NamedTuple

from facetine.messages.errors import FacetineError

_TOKEN = re.compile(
    r'(?P<block>"""(?:\\.|[^\\])*?"""|\'\'\'.*?\'\'\')'
    r'|(?P<quoted>"(?:\\.|[^"\\\n])*"|\'[^\'\n]*\')'
    r"|(?P<remark>#[^\n]*)|(?P<end>\n)|(?P<mark>[\[\]{},=:.])|(?P<bare>[\w+-]+)|(?P<other>\S)",
    re.DOTALL,
)
_VERB = re.compile(r"""(?:figure|plate)\.(\w+)(?:\((['"])(\w+)\2)?""")


class Places(NamedTuple):
    """The lines of a plan."""

    name: str
    """Of the file."""
    found: Mapping[tuple[str, ...], int]
    """The line, counted from one, of every table, key and item of a list."""
    others: tuple[Places, ...] = ()
    """Those of the plans that it includes."""

    @classmethod
    def of(cls, name: str, text: str) -> Places:
        """Those of a plan in TOML or in JSON."""
        found: dict[tuple[str, ...], int] = {}
        for path, line in _Reader(text).places():
            for depth in range(1, len(path) + 1):
                found.setdefault(path[:depth], line)
        return cls(name, found)

    def beside(self, other: Places) -> Places:
        """With those of a plan that is included."""
        return self._replace(others=(*self.others, other._replace(others=()), *other.others))

    def line(self, *path: str) -> int | None:
        """The line of a key, or of what holds it."""
        return self.found.get(path[: self._depth(path)])

    def _depth(self, path: tuple[str, ...]) -> int:
        """How many steps of a path there are here."""
        return next((end for end in range(len(path), 0, -1) if path[:end] in self.found), 0)

    def where(self, *path: str) -> str:
        """File and line of a key as an error names them, in whichever of the plans says it."""
        holder = max((self, *self.others), key=lambda one: one._depth(path))
        line = holder.line(*path)
        return holder.name if line is None else f"{holder.name}, line {line}"

    def blamed(self, problem: FacetineError, said: object, *path: str) -> str:
        """File and line of what an error is about: of the word that was given, else of the verb that refuses it.

        Args:
            problem: The error.
            said: What the plan says at the path.
            *path: The part of the plan from which a figure or a plate was made.
        """
        verbs = [(*path, *steps) for steps in _of_verb(problem.where, said)]
        for start in (*verbs, path):
            inner = _at(said, start[len(path) :])
            steps = None if problem.given is None else next(_given(inner, problem.given), None)
            if steps is not None:
                return self.where(*start, *steps)
        return self.where(*(verbs[0] if verbs else path))


def _of_verb(where: str, said: object) -> Iterator[tuple[str, ...]]:
    """The keys under which a part of a plan says what a verb is told."""
    verb = _VERB.match(where)
    if verb is None or not isinstance(said, Mapping):
        return
    name, argument = verb[1], verb[3]
    if name in said:
        yield (name, argument) if argument else (name,)
    for number, layer in enumerate(said.get("layers") or ()):
        if layer == name or (isinstance(layer, Mapping) and name in layer):
            yield ("layers", str(number), name)


def _at(said: object, steps: tuple[str, ...]) -> object:
    """What stands at the end of some steps, or nothing."""
    for step in steps:
        if isinstance(said, Mapping):
            said = said.get(step)
        elif isinstance(said, list) and step.isdigit() and int(step) < len(said):
            said = said[int(step)]
        else:
            return None
    return said


def _given(said: object, given: object) -> Iterator[tuple[str, ...]]:
    """The steps to each key or value that is what was given."""
    if not isinstance(said, Mapping | list):
        if type(said) is type(given) and said == given:
            yield ()
        return
    for name, value in said.items() if isinstance(said, Mapping) else enumerate(said):
        if name == given and isinstance(said, Mapping):
            yield (str(name),)
        for steps in _given(value, given):
            yield (str(name), *steps)


class _Token(NamedTuple):
    sort: str
    text: str
    line: int


class _Reader:
    """Reads where things stand in a text that is sound TOML or JSON."""

    def __init__(self, text: str) -> None:
        self.json = text.lstrip()[:1] == "{"
        self.tokens, line = list[_Token](), 1
        for found in _TOKEN.finditer(text):
            sort = str(found.lastgroup)
            if sort != "remark" and not (sort == "end" and self.json):
                self.tokens.append(_Token(sort, found[0], line))
            line += found[0].count("\n")
        self.tokens.append(_Token("end", "", line))
        self.at = 0

    def places(self) -> Iterator[tuple[tuple[str, ...], int]]:
        """All paths with their lines, in the order of the text."""
        if self.json:
            yield from self._value(())
            return
        table: tuple[str, ...] = ()
        counts: dict[tuple[str, ...], int] = {}
        while self.at < len(self.tokens) - 1:
            if self._now.sort == "end":
                self.at += 1
            elif self._now.text == "[":
                line, several = self._now.line, self.tokens[self.at + 1].text == "["
                self.at += 2 if several else 1
                table = self._within(self._key(), counts)
                self.at += 2 if several else 1
                if several:
                    counts[table] = counts.get(table, -1) + 1
                    table = (*table, str(counts[table]))
                yield table, line
            else:
                yield from self._entry(table)

    @staticmethod
    def _within(table: tuple[str, ...], counts: Mapping[tuple[str, ...], int]) -> tuple[str, ...]:
        """The path of a table that may lie in the last item of a list of tables."""
        path: tuple[str, ...] = ()
        for depth, step in enumerate(table):
            path = (*path, step)
            if path in counts and depth < len(table) - 1:
                path = (*path, str(counts[path]))
        return path

    @property
    def _now(self) -> _Token:
        return self.tokens[min(self.at, len(self.tokens) - 1)]

    def _key(self) -> tuple[str, ...]:
        """The steps of a key, up to what follows it."""
        steps: list[str] = []
        while self._now.sort in ("bare", "quoted") or self._now.text == ".":
            if self._now.text != ".":
                steps.append(_unquoted(self._now))
            self.at += 1
        return tuple(steps)

    def _entry(self, table: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], int]]:
        """A key with its value."""
        line = self._now.line
        path = (*table, *self._key())
        yield path, line
        self.at += 1
        yield from self._value(path)

    def _value(self, path: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], int]]:
        """What stands in a value, up to what follows it."""
        close = {"[": "]", "{": "}"}.get(self._now.text)
        if close is None:
            while self._now.text not in (",", "]", "}") and self._now.sort != "end":
                self.at += 1
            return
        self.at += 1
        number = 0
        while self._now.text != close and self.at < len(self.tokens) - 1:
            if self._now.sort == "end" or self._now.text == ",":
                self.at += 1
            elif close == "}":
                yield from self._entry(path)
            else:
                yield (*path, str(number)), self._now.line
                yield from self._value((*path, str(number)))
                number += 1
        self.at += 1


def _unquoted(token: _Token) -> str:
    if token.sort != "quoted":
        return token.text
    if token.text[0] == "'":
        return token.text[1:-1]
    try:
        word: Any = json.loads(token.text)
    except ValueError:
        word = token.text[1:-1]
    return str(word)
