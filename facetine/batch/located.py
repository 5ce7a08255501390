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
            while path and path not in found:
                found[path] = line
                path = path[:-1]
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


_END = _Token("end", "", 0)
_PLAIN = re.compile(r"[ \t]*([A-Za-z0-9_-]+)[ \t]*=[ \t]*(?:[\w.:+-]+|\"[^\"\\\n]*\"(?!\")|'[^'\n]*'(?!'))[ \t]*(?:#[^\n]*)?\n")
"""A line with one key and a value that ends on it: most of the lines of long plans."""


class _Reader:
    """Reads where things stand in a text that is sound TOML or JSON."""

    def __init__(self, text: str) -> None:
        self.json = text.lstrip()[:1] == "{"
        self.text, self.at, self.line = text, 0, 1
        self.now = _END
        """What stands before `at`, and is not yet dealt with."""

    def places(self) -> Iterator[tuple[tuple[str, ...], int]]:
        """All paths with their lines, in the order of the text."""
        if self.json:
            self._step()
            yield from self._value(())
            return
        table: tuple[str, ...] = ()
        counts: dict[tuple[str, ...], int] = {}
        while self.at < len(self.text):
            while plain := _PLAIN.match(self.text, self.at):
                yield (*table, plain[1]), self.line
                self.at = plain.end()
                self.line += 1
            self._step()
            if self.now.text == "[":
                line = self.now.line
                self._step()
                several = self.now.text == "["
                if several:
                    self._step()
                table = self._within(self._key(), counts)
                self._step()
                if several:
                    self._step()
                    counts[table] = counts.get(table, -1) + 1
                    table = (*table, str(counts[table]))
                yield table, line
            elif self.now.sort != "end":
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

    def _step(self) -> None:
        """On to what stands next; past remarks, and in JSON past the ends of lines."""
        while found := _TOKEN.search(self.text, self.at):
            sort = str(found.lastgroup)
            self.now = _Token(sort, found[0], self.line)
            self.at = found.end()
            self.line += found[0].count("\n")
            if sort != "remark" and not (sort == "end" and self.json):
                return
        self.now, self.at = _END, len(self.text)

    @property
    def _over(self) -> bool:
        return self.now is _END

    def _key(self) -> tuple[str, ...]:
        """The steps of a key, up to what follows it."""
        steps: list[str] = []
        while self.now.sort in ("bare", "quoted") or self.now.text == ".":
            if self.now.text != ".":
                steps.append(_unquoted(self.now))
            self._step()
        return tuple(steps)

    def _entry(self, table: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], int]]:
        """A key with its value."""
        line = self.now.line
        path = (*table, *self._key())
        yield path, line
        self._step()
        yield from self._value(path)

    def _value(self, path: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], int]]:
        """What stands in a value, up to what follows it."""
        close = {"[": "]", "{": "}"}.get(self.now.text)
        if close is None:
            while self.now.text not in (",", "]", "}") and self.now.sort != "end":
                self._step()
            return
        self._step()
        number = 0
        while self.now.text != close and not self._over:
            if self.now.sort == "end" or self.now.text == ",":
                self._step()
            elif close == "}":
                yield from self._entry(path)
            else:
                yield (*path, str(number)), self.now.line
                yield from self._value((*path, str(number)))
                number += 1
        self._step()


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
