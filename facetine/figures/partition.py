"""A figure for each value of a column: which there are, what each is called in a file's name, and the sentence of its rows."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import PurePath
from typing import Any, NamedTuple

import numpy as np

from facetine.figures.edits import with_changes
from facetine.figures.looks import TEXTS
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import DataError, OptionError, told
from facetine.messages.findings import so_many_rows

MOST = 2_000
"""Files of one figure."""
_MOST_BYTES = 100
"""Of a part of a file's name, which few file systems let be longer than 255 with all that is put to it."""
_FORBIDDEN = re.compile(r'[/\\:*?"<>|\x00-\x1f\x7f]')
_RESERVED = re.compile(r"(?i)(con|prn|aux|nul|com\d|lpt\d)(\..*)?")
_NAMED = re.compile(r"\{([^{}]+)\}")


class One(NamedTuple):
    """One value, or one combination of values of several columns."""

    values: Mapping[str, str]
    """By column, as they are called."""
    expression: str
    """What holds for its rows, in SQL."""
    codes: tuple[tuple[str, int], ...]
    """Columns and places among their distinct values."""


class Parts(NamedTuple):
    """All values of some columns that occur together."""

    every: tuple[One, ...]
    missing: int
    """How many rows have none, and stand in no figure."""


def parts_of(sentence: Sentence, columns: Sequence[str], where: str) -> Parts:
    """The values of columns of a sentence's data, in their order.

    Raises:
        DataError: The figure has no data.
        MappingError: A column is not there.
        OptionError: There are more than 2,000.
    """
    found = [_coded(sentence, name, where) for name in columns]
    codes = np.column_stack([one for one, _, _ in found])
    there = (codes >= 0).all(axis=1)
    combinations = np.unique(codes[there], axis=0) if there.any() else np.zeros((0, len(columns)), np.int64)
    if len(combinations) > MOST:
        raise OptionError(
            where, f"{len(combinations):,} values of {', '.join(map(repr, columns))} make as many files", f"at most {MOST:,}"
        )
    every = []
    for row in combinations.tolist():
        words = {name: called[code] for name, (_, called, _), code in zip(columns, found, row, strict=True)}
        said = " AND ".join(f"{_quoted(name)} = {sql[code]}" for name, (_, _, sql), code in zip(columns, found, row, strict=True))
        every.append(One(words, said, tuple(zip(columns, row, strict=True))))
    return Parts(tuple(every), int((~there).sum()))


def part_of(sentence: Sentence, one: One, where: str) -> Sentence:
    """A sentence on the rows that have these values alone, which its texts name by {column}."""
    from facetine.core.scales.formats import escaped
    from facetine.data.expressions import kept

    assert sentence.table is not None
    mask: Any = True
    for name, code in one.codes:
        mask = mask & (_coded(sentence, name, where)[0] == code)
    steps = (*sentence.steps, ("keep", {"expression": one.expression}))
    words = {column: escaped(word) for column, word in one.values.items()}
    said = {name: text for name in TEXTS if (text := getattr(sentence.titles, name)) is not None}
    filled: dict[str, Any] = {name: _filled(text, words) for name, text in said.items()}
    return with_changes(sentence, table=kept(sentence.table, mask), steps=steps, titles=replace(sentence.titles, **filled))


def _coded(sentence: Sentence, name: str, where: str) -> tuple[Any, list[str], list[str]]:
    """Of each row the place among the distinct values of a column; what these are called, and how SQL writes them."""
    from facetine.core.scales.calendar import strftime
    from facetine.data.codebook import code_text

    if sentence.table is None:
        raise DataError(where, "the figure has no data of its own, of which there could be a file each")
    column = sentence.column(sentence.table, name, where, "each")
    if column.discrete:
        words = [code_text(level) if not isinstance(level, bool) else ("yes" if level else "no") for level in column.levels]
        return column.values, words, [_sql(level) for level in column.levels]
    distinct, codes = np.unique(column.values, return_inverse=True)
    codes = np.where(np.isnan(column.values), -1, codes.reshape(-1))
    known = distinct[~np.isnan(distinct)].tolist()
    if column.kind == "time":
        words = [text.removesuffix(" 00:00:00") for text in strftime(known, "%Y-%m-%d %H:%M:%S", column.zone)]
        return codes, words, [f"TIMESTAMP '{word}'" for word in words]
    return codes, [code_text(value) for value in known], [repr(value) for value in known]


def _sql(level: object) -> str:
    if isinstance(level, bool | int | float):
        return str(level).lower() if isinstance(level, bool) else repr(level)
    return "'" + str(level).replace("'", "''") + "'"


def _quoted(name: str) -> str:
    return '"' + name.replace('"', '""') + '"'


def _filled(template: str, words: Mapping[str, str]) -> str:
    return _NAMED.sub(lambda found: words.get(found[1], found[0]), template)


def check_template(template: str, columns: Sequence[str], where: str) -> None:
    """Nothing, where a name of files tells all values apart.

    Raises:
        OptionError: It names something else, or leaves a column out.
    """
    named = _NAMED.findall(template)
    unknown = next((name for name in named if name not in columns), None)
    if unknown is not None:
        raise OptionError(where, f"{told(template)} names {unknown!r}, which is none of {', '.join(map(repr, columns))}")
    lacking = next((name for name in columns if name not in named), None)
    if lacking is not None:
        raise OptionError(
            where, f"{told(template)} does not tell the values of {lacking!r} apart", f'such as "out/{{{lacking}}}.pdf"'
        )


def file_names(template: str, every: Sequence[One]) -> tuple[list[str], list[str]]:
    """A file's name for each value, below each other's folder, and what is to be told of those that differ from their value.

    Signs that no file system, or not every one, takes are replaced; names that would be one are numbered.
    """
    names: list[str] = []
    notes: list[str] = []
    taken: set[str] = set()
    for one in every:
        safe = {column: safe_part(word) for column, word in one.values.items()}
        name = _filled(template, safe)
        plain, number = PurePath(name), 1
        # Letters that differ in case alone are one name on some systems.
        while name.casefold() in taken:
            number += 1
            name = str(plain.with_name(f"{plain.stem}-{number}{plain.suffix}"))
        taken.add(name.casefold())
        names.append(name)
        if number > 1 or safe != dict(one.values):
            notes.append(f"{told(', '.join(one.values.values()))} is written as {told(name)}")
    return names, notes


def safe_part(word: str) -> str:
    """A value as a part of a path, the same on all systems.

    >>> safe_part("a/b"), safe_part(".."), safe_part("CON")
    ('a_b', '_', '_CON')
    """
    text = unicodedata.normalize("NFC", word)
    text = "".join(letter for letter in text if unicodedata.category(letter) not in ("Cf", "Cs", "Co", "Cn"))
    text = _FORBIDDEN.sub("_", text).strip(" .")
    if not text:
        return "_"
    if _RESERVED.fullmatch(text):
        text = f"_{text}"
    content = text.encode("utf-8")
    if len(content) <= _MOST_BYTES:
        return text
    from hashlib import blake2b

    return content[: _MOST_BYTES - 9].decode("utf-8", "ignore") + "-" + blake2b(content, digest_size=4).hexdigest()


def said_missing(parts: Parts, columns: Sequence[str]) -> list[str]:
    """What is told of rows that stand in no figure."""
    return [f"{so_many_rows(parts.missing)} without {' or '.join(columns)} in no figure"] if parts.missing else []
