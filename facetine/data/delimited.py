"""Tables in text: how they are written is found out or said, and told where it is not the plain form."""

from __future__ import annotations

import csv
from collections.abc import Sequence
from typing import Any, NamedTuple

from facetine.core.arrays import AnyArray
from facetine.data.cells import Taken, objects, of_text
from facetine.data.dialect import Dialect, Told, decoded, lines_of
from facetine.data.digits import Signs
from facetine.data.sniffing import dialect_of, has_row_names, is_tailed
from facetine.messages.errors import DataError

USUAL = {".csv": ",", ".tsv": "\t", ".txt": ","}
"""The sign between cells that an ending promises."""


class Text(NamedTuple):
    """A table as text."""

    name: str
    """Of its file."""
    usual: str
    """The sign that the file's ending promises between cells."""
    content: bytes


def delimited(texts: Sequence[Text], told: Told, where: str) -> tuple[dict[str, AnyArray], list[str]]:
    """The columns of texts whose rows follow each other, and what is to be told of them.

    Args:
        texts: At least one.
        told: What the analyst says of them.
        where: Who asks, for the error.

    Raises:
        DataError: One is no table, has other columns than the first, or numbers written in another way.
    """
    told.check(where)
    first: tuple[Text, Dialect] | None = None
    columns: dict[str, list[str]] = {}
    notes: list[str] = []
    parts = ""
    for text in texts:
        words, encoding = decoded(text.content, told.encoding, text.name, where)
        if not words.strip():
            raise DataError(where, f"{text.name} is empty", "a table has a first line with the column names")
        dialect = dialect_of(words, encoding, told, text.usual, text.name, where)
        own, said = cells_of(words, dialect, text.name, where)
        notes += [*notes_of(dialect, told, text.name, text.usual), *said]
        parts += dialect.thousands
        if first is None:
            first, columns = (text, dialect), own
            continue
        _check_alike(first, (text, dialect), list(columns), list(own), where)
        for name, cells in columns.items():
            cells.extend(own[name])
    assert first is not None
    called = texts[0].name if len(texts) == 1 else f"{texts[0].name} with {len(texts) - 1} more"
    made = dict[str, AnyArray]()
    for name, cells in columns.items():
        taken = of_text(cells, name, told, Signs(first[1].decimal, parts), sure=first[1].sure) or Taken(objects(cells))
        made[name] = taken.array
        notes += [f"{called}: {one}" for one in taken.notes]
    told.must_know(columns, where)
    return made, notes


def notes_of(dialect: Dialect, told: Told, name: str, usual: str) -> list[str]:
    """What was found out of a file and not said by the analyst."""
    plain = Dialect()._asdict() | {"delimiter": usual}
    found = dialect._replace(**{key: plain[key] for key, value in told.of_a_text().items()})
    said = found.said(usual)
    return [f"{name} is read with {said[0]}; {said[1]} says so"] if said is not None else []


def cells_of(words: str, dialect: Dialect, name: str, where: str) -> tuple[dict[str, list[str]], list[str]]:
    """The cells of each column by its name, and what is to be told of the names.

    Raises:
        DataError: A line has more or fewer cells than the first.
    """
    try:
        numbered = list(lines_of(words, dialect))
    except csv.Error as problem:
        raise DataError(where, f"{name} is no table: {problem}") from problem
    rows = [cells for _, cells in numbered]
    names = (
        list(dialect.names)
        if dialect.names
        else rows[0]
        if dialect.header
        else [f"column {number}" for number in range(1, len(rows[0]) + 1)]
    )
    body = rows[1:] if dialect.header else rows
    notes: list[str] = []
    if has_row_names([names, *body]):
        names = ["row", *names]
        notes.append(f"the lines of {name} have one cell more than the first; the first column is called 'row'")
    width = len(names)
    for place, cells in enumerate(body):
        if len(cells) != width:
            if not is_tailed(cells, width):
                line = numbered[place + (len(rows) - len(body))][0]
                raise DataError(
                    where,
                    f"{name} is no table: line {line} has {len(cells)} fields, the first line has {width}",
                    f"line {line}: {(dialect.delimiter or ' ').join(cells)[:60]}",
                )
            body[place] = cells[:width]
    columns = [list(column) for column in zip(*body, strict=True)] if body else [[] for _ in names]
    made, said = named_columns([own.strip() for own in names], columns, name)
    return made, [*notes, *said]


def named_columns(names: list[str], columns: list[list[Any]], file: str) -> tuple[dict[str, list[Any]], list[str]]:
    """Columns by names of their own: empty ones are numbered, and columns without name and cells left out."""
    made: dict[str, list[Any]] = {}
    notes = []
    for number, (name, cells) in enumerate(zip(names, columns, strict=True), 1):
        if not name and not any(str(cell).strip() for cell in cells):
            continue
        own = name or f"unnamed {number}"
        again = 1
        while own in made:
            own, again = f"{name}_{again}", again + 1
        if not name and number > 1:
            notes.append(f"column {number} of {file} has no name and is called {own!r}")
        elif name and own != name:
            notes.append(f"{file} has several columns named {name!r}; column {number} is called {own!r}")
        made[own] = cells
    return made, notes


def _check_alike(first: tuple[Text, Dialect], other: tuple[Text, Dialect], names: list[str], own: list[str], where: str) -> None:
    """Files that are read as one table have the same columns, and numbers of one form."""
    for one, two, more in ((other[0], first[0], set(names) - set(own)), (first[0], other[0], set(own) - set(names))):
        if more:
            raise DataError(where, f"{one.name} has no column {sorted(more)[0]!r}, which {two.name} has")
    if first[1].decimal != other[1].decimal:
        ways = ", ".join(f"{dialect.decimal!r} in {text.name}" for text, dialect in (first, other))
        raise DataError(where, f"decimals are written in two ways: {ways}", "decimal= says which it is")
