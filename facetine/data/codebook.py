"""What is known of the columns, said once for all figures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Any

from facetine.core.color.names import hex_color
from facetine.data.table import KINDS
from facetine.data.words import as_words
from facetine.errors import OptionError, unknown


@dataclass(frozen=True, slots=True)
class Entry:
    """What is known of one column."""

    label: str | None = None
    """Its name in the reader's words."""
    unit: str | None = None
    """Its unit; "" for none."""
    kind: str | None = None
    """number, category, ordered, time or yes_no, where the data do not say it."""
    order: tuple[object, ...] = ()
    """Its categories in their order."""
    colors: Mapping[str, str] | None = None
    """Colors of its categories, in every figure."""


@dataclass(frozen=True, slots=True)
class Codebook:
    """Entries by column name."""

    entries: Mapping[str, Entry]

    @classmethod
    def of(cls, given: object, where: str = "codebook") -> Codebook:
        """A codebook from a dict of dicts (the shape it has in a plan), another codebook, or None.

        Raises:
            OptionError: An entry has an unknown key, or a value that it can't have.
        """
        if given is None:
            return cls({})
        if isinstance(given, Codebook):
            return given
        if not isinstance(given, Mapping):
            raise OptionError(f"{where}: a codebook is a dict of columns, not {type(given).__name__}")
        return cls({str(name): _entry(str(name), says, where) for name, says in given.items()})

    def entry(self, name: str) -> Entry:
        """What is known of a column; an empty entry where nothing is."""
        return self.entries.get(name, _NOTHING)

    def title(self, name: str) -> str:
        """The column's label with its unit in parentheses; its name as words where nothing is known. Inline markup."""
        entry = self.entry(name)
        label, unit = entry.label, entry.unit
        if label is None:
            words, guessed = as_words(name)
            label = escaped(words)
            unit = guessed if unit is None else unit
        return f"{label} ({unit})" if unit else label

    def merged(self, over: Codebook) -> Codebook:
        """This codebook with another one's entries laid over it, key by key."""
        entries = dict(self.entries)
        for name, entry in over.entries.items():
            said = {field.name: value for field in fields(entry) if (value := getattr(entry, field.name))}
            entries[name] = replace(entries.get(name, _NOTHING), **said)
        return Codebook(entries)


_NOTHING = Entry()
_KEYS = tuple(field.name for field in fields(Entry))


def escaped(text: str) -> str:
    """Text with its markup characters escaped, so that it is written as it stands.

    >>> escaped("a*b")
    'a\\\\*b'
    """
    for sign in "\\*~^":
        if sign in text:
            text = text.replace(sign, "\\" + sign)
    return text


def _entry(name: str, says: object, where: str) -> Entry:
    place = f"{where}.{name}"
    if isinstance(says, str):
        return Entry(label=says)
    if not isinstance(says, Mapping):
        raise OptionError(f"{place}: an entry is a dict or a label, not {type(says).__name__}")
    for key in says:
        if key not in _KEYS:
            raise unknown(OptionError, place, "no key", key, _KEYS, "keys")
    made: dict[str, Any] = dict(says)
    for key in ("label", "unit"):
        if made.get(key) is not None and not isinstance(made[key], str):
            raise OptionError(f"{place}: {key} is text, not {made[key]!r}")
    if made.get("kind") is not None and made["kind"] not in KINDS:
        raise unknown(OptionError, place, "no kind", made["kind"], KINDS, "kinds")
    if "order" in made:
        if isinstance(made["order"], str) or not isinstance(made["order"], list | tuple):
            raise OptionError(f"{place}: order is a list of categories, not {made['order']!r}")
        made["order"] = tuple(made["order"])
    if made.get("colors") is not None:
        if not isinstance(made["colors"], Mapping):
            raise OptionError(f"{place}: colors is a dict of category and color, not {made['colors']!r}")
        made["colors"] = {str(key): hex_color(value, place) for key, value in made["colors"].items()}
    return Entry(**made)
