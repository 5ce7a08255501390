"""Which columns of a table what is said of figures may ask for, judged by its words."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from facetine.data.codebook import Codebook
from facetine.messages.errors import FacetineError


class Mentioned:
    """The names that stand in texts, alone or within them: rather one column too many than one too few.

    Args:
        said: Texts, and tables and lists of them.
        codebooks: What is known of columns; a column that is made of others brings these along.

    Example:
        >>> "mass_kg" in Mentioned([{"map": {"x": "log(MASS_KG)"}}], [])
        True
    """

    def __init__(self, said: Iterable[Any], codebooks: Iterable[Any]) -> None:
        self._text = "\n".join(_texts(list(said))).casefold()
        made = dict(_made_of(codebooks))
        while found := [name for name in made if name in self]:
            self._text = "\n".join([self._text, *(made.pop(name) for name in found)])

    def __contains__(self, name: object) -> bool:
        return str(name).casefold() in self._text


class Everything:
    """All names."""

    def __contains__(self, name: object) -> bool:
        return True


def _texts(said: Any) -> Iterator[str]:
    """All texts in tables and lists, the names of tables among them."""
    if isinstance(said, str):
        yield said
    elif isinstance(said, Mapping):
        for name, value in said.items():
            yield str(name)
            yield from _texts(value)
    elif isinstance(said, list | tuple):
        for value in said:
            yield from _texts(value)


def _made_of(codebooks: Iterable[Any]) -> Iterator[tuple[str, str]]:
    """Columns that codebooks make of others, with the texts that name these."""
    for book in codebooks:
        try:
            entries = Codebook.of(book).entries
        except (FacetineError, OSError):
            continue  # it is told by the figures that have it
        for name, entry in entries.items():
            if entry.origin is not None or entry.flags:
                yield name, "\n".join([entry.origin or "", *(entry.flags or {})]).casefold()
