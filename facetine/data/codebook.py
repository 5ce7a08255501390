"""What is known of the columns, said once for all figures."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from functools import reduce
from itertools import pairwise
from pathlib import Path
from typing import Any

from facetine.core.arrays import is_number
from facetine.core.color.names import hex_color
from facetine.core.scales.formats import escaped
from facetine.data.table import KINDS
from facetine.data.toml import line_of, read_toml
from facetine.data.words import as_words
from facetine.messages.errors import OptionError, told, unknown


class Word(str):
    """What a codebook calls a code or a class: written by the analyst, so that it may hold markup, which data never do."""

    __slots__ = ()


@dataclass(frozen=True, slots=True)
class Entry:
    """What is known of one column."""

    # What each key is stands in the glossary, from which the docs take it.
    label: str | None = None
    unit: str | None = None
    kind: str | None = None
    words: Mapping[str, str] | None = None
    order: tuple[object, ...] = ()
    colors: Mapping[str, str] | None = None
    missing: str | None = None
    absent: tuple[str, ...] = ()
    decimal: str | None = None
    thousands: str | None = None
    pattern: str | None = None
    classes: Mapping[str, tuple[float, float]] | None = None
    origin: str | None = None  # "from" where it is written.

    flags: Mapping[str, str] | None = None
    none: str | None = None
    both: str | None = None

    def word(self, code: object) -> object:
        """What a code is called."""
        return (self.words or {}).get(code_text(code), code)

    @property
    def stays_text(self) -> bool:
        """Whether a column is taken as it is written: it holds categories, or the codebook says how its texts are read."""
        return self.kind in ("category", "ordered") or any((self.decimal, self.thousands, self.pattern))

    @property
    def flag_words(self) -> tuple[str, ...]:
        """The categories that flags make, in their order: those of the flags, that of several and that of none."""
        several = [word for word in (self.both, self.none) if word is not None]
        return tuple(dict.fromkeys([*(self.flags or {}).values(), *several])) if self.flags else ()

    @property
    def known(self) -> tuple[str, ...]:
        """The words of all categories that it names, in their order; empty where it names none."""
        named = self.order or tuple(self.classes or ()) or tuple((self.words or {}).values()) or self.flag_words
        return tuple(dict.fromkeys(str(self.word(code)) for code in named))


@dataclass(frozen=True, slots=True)
class Codebook:
    """Entries by column name."""

    entries: Mapping[str, Entry]

    @classmethod
    def of(cls, given: object, where: str = "codebook") -> Codebook:
        """A codebook from a dict of dicts (the shape it has in a plan), a TOML file, a data frame, another codebook, or None;
        from a list of these, each laid over those before it: the paper's first, then the figure's.

        In a frame each row is an entry: `column` names it, the other columns are its keys; lists are separated by
        semicolons, words, colors and flags are written code=word; code=word, and classes name=0..60; name=60..180.

        Raises:
            OptionError: An entry has an unknown key, or a value that it can't have.
        """
        if given is None:
            return cls({})
        if isinstance(given, Codebook):
            return given
        if isinstance(given, str | Path):
            return _from_file(Path(given), where)
        if isinstance(given, list | tuple):
            return reduce(Codebook.merged, (cls.of(one, where) for one in given), cls({}))
        if not isinstance(given, Mapping) and hasattr(given, "columns"):
            return cls.of(_from_frame(given, where), where)
        if not isinstance(given, Mapping):
            raise OptionError(where, f"a codebook is a dict of columns, not {type(given).__name__}")
        return cls({str(name): _entry(str(name), says, where) for name, says in given.items()})

    def entry(self, name: str) -> Entry:
        """What is known of a column; an empty entry where nothing is."""
        return self.entries.get(name, _NOTHING)

    def title(self, name: str) -> str:
        """The column's label with its unit in parentheses; its name as words where nothing is known. Inline markup."""
        label, unit = self.parts(name)
        return f"{label} ({unit})" if unit else label

    def parts(self, name: str) -> tuple[str, str]:
        """The column's label and its unit, "" for none, both in inline markup."""
        entry = self.entry(name)
        label, unit = entry.label, entry.unit
        if label is None:
            words, guessed = as_words(name)
            label = escaped(words)
            unit = guessed if unit is None else unit
        return label, unit or ""

    def merged(self, over: Codebook) -> Codebook:
        """This codebook with another one's entries laid over it, key by key."""
        entries = dict(self.entries)
        for name, entry in over.entries.items():
            said = {field.name: value for field in fields(entry) if (value := getattr(entry, field.name)) not in (None, ())}
            entries[name] = replace(entries.get(name, _NOTHING), **said)
        return Codebook(entries)


_NOTHING = Entry()
_KEYS = tuple("from" if field.name == "origin" else field.name for field in fields(Entry))


def code_text(code: object) -> str:
    """A code as it is written in a codebook: whole numbers without a point, truth values in lower case."""
    if isinstance(code, bool):
        return str(code).lower()
    if isinstance(code, float) and code.is_integer():
        return str(int(code))
    return str(code)


def _entry(name: str, says: object, where: str) -> Entry:
    place = f"{where}.{name}"
    if isinstance(says, str):
        return Entry(label=says)
    if not isinstance(says, Mapping):
        raise OptionError(place, f"an entry is a dict or a label, not {type(says).__name__}")
    for key in says:
        if key not in _KEYS:
            raise unknown(OptionError, place, "no key", key, _KEYS, "keys")
    made: dict[str, Any] = {"origin" if key == "from" else key: value for key, value in says.items()}
    for key in ("label", "unit", "origin", "decimal", "thousands", "pattern"):
        if made.get(key) is not None and not isinstance(made[key], str):
            raise OptionError(place, f"{'from' if key == 'origin' else key} is text, not {told(made[key])}")
    if made.get("kind") is not None and made["kind"] not in KINDS:
        raise unknown(OptionError, place, "no kind", made["kind"], KINDS, "kinds")
    if "order" in made:
        if isinstance(made["order"], str) or not isinstance(made["order"], list | tuple):
            raise OptionError(place, f"order is a list of categories, not {told(made['order'])}")
        made["order"] = tuple(made["order"])
    if "absent" in made:
        words = [made["absent"]] if isinstance(made["absent"], str) else made["absent"]
        if not isinstance(words, list | tuple):
            raise OptionError(place, f"absent is a list of words, not {told(made['absent'])}", 'such as ["n/a", ".."]')
        made["absent"] = tuple(str(word) for word in words)
    for key, others in (("decimal", ".,"), ("thousands", ".,' \u00a0\u202f_")):
        if made.get(key) is not None and made[key] not in others:
            raise OptionError(place, f"{key} is one of {', '.join(map(repr, others))}, not {told(made[key])}")
    if made.get("decimal") is not None and made.get("decimal") == made.get("thousands"):
        raise OptionError(place, f"decimal and thousands are the same sign {made['decimal']!r}")
    for key in ("words", "colors", "classes", "flags"):
        if made.get(key) is not None and not isinstance(made[key], Mapping):
            raise OptionError(place, f"{key} is a table, not {told(made[key])}")
    if made.get("words") is not None:
        made["words"] = {code_text(code): Word(word) for code, word in made["words"].items()}
    if made.get("colors") is not None:
        made["colors"] = {str(key): hex_color(value, place) for key, value in made["colors"].items()}
    if made.get("missing") not in (None, "drop", "show"):
        made["missing"] = hex_color(made["missing"], f'{place}: missing is "drop", "show" or a color')
    if made.get("classes") is not None:
        made["classes"] = class_ranges(made["classes"], place)
    if made.get("flags") is not None:
        _check_flags(made, place)
    elif made.get("none") is not None or made.get("both") is not None:
        raise OptionError(place, "none and both name rows by their flags, and there are none", _FLAGS)
    return Entry(**made)


def problems_of(name: str, says: object, where: str) -> list[tuple[str, OptionError]]:
    """All that is wrong with an entry, each with its key; "" for what is said of it as a whole.

    Args:
        name: The column's.
        says: What is said of it.
        where: Who asks.
    """
    if not isinstance(says, Mapping):
        return _tried(name, says, where, "")
    found: list[tuple[str, OptionError]] = []
    for key, value in says.items():
        if key not in _KEYS:
            found.append((str(key), unknown(OptionError, f"{where}.{name}", "no key", key, _KEYS, "keys")))
        elif key not in ("none", "both"):
            found += _tried(name, {key: value}, where, str(key))
    return found or _tried(name, says, where, "")


def _tried(name: str, says: object, where: str, key: str) -> list[tuple[str, OptionError]]:
    try:
        _entry(name, says, where)
    except OptionError as problem:
        return [(key, problem)]
    return []


_FLAGS = 'such as flags = { brushed = "brushed", wrapped = "wrapped" }'


def _check_flags(made: dict[str, Any], place: str) -> None:
    """Columns and their words, of which the entry is made alone; the words become those of the analyst."""
    other = next((key for key in ("origin", "words", "classes") if made.get(key) is not None), None)
    if other is not None:
        said = "from" if other == "origin" else other
        raise OptionError(place, f"flags make the column, and {said} makes it too", "leave one of them out")
    if len(made["flags"]) < 2:
        raise OptionError(place, "flags are two columns of yes and no at least", _FLAGS)
    for key in ("none", "both"):
        if made.get(key) is not None:
            if not isinstance(made[key], str) or not made[key]:
                raise OptionError(place, f"{key} is a word, not {told(made[key])}", f'such as {key} = "untreated"')
            made[key] = Word(made[key])
    words = {str(name): word for name, word in made["flags"].items()}
    if not all(isinstance(word, str) and word for word in words.values()):
        raise OptionError(place, "flags are columns with a word each", _FLAGS)
    every = [*words.values(), *(made[key] for key in ("none", "both") if made.get(key) is not None)]
    twice = next((word for word in every if every.count(word) > 1), None)
    if twice is not None:
        raise OptionError(place, f"two of the flags, or none and both, are called {twice!r}", "each has a word of its own")
    made["flags"] = {name: Word(word) for name, word in words.items()}


def class_ranges(given: Mapping[str, Any], place: str) -> dict[str, tuple[float, float]]:
    """Ranges that follow each other without overlapping; an end that is None is open, and infinite here.

    Raises:
        OptionError: One is no range, or two overlap.
    """
    classes: dict[str, tuple[float, float]] = {}
    for name, said in given.items():
        pair = isinstance(said, list | tuple) and len(said) == 2 and all(end is None or is_number(end) for end in said)
        ends = [usual if end is None else end for end, usual in zip(said, (-math.inf, math.inf), strict=True)] if pair else []
        if not ends or not ends[0] < ends[1]:
            raise OptionError(place, f"class {name!r} is a range such as [0, 60] or [60, None], not {said!r}")
        classes[Word(name)] = (float(ends[0]), float(ends[1]))
    ordered = dict(sorted(classes.items(), key=lambda item: item[1]))
    for (one, first), (other, second) in pairwise(ordered.items()):
        if first[1] > second[0]:
            raise OptionError(place, f"classes {one!r} and {other!r} overlap", f"{first} and {second}")
    return ordered


def _from_file(path: Path, where: str) -> Codebook:
    """A codebook from a TOML file, as a table `codebook` or as the whole file; an error names the line."""
    text, given = read_toml(path, where)
    entries = given.get("codebook", given)
    if not isinstance(entries, dict):
        raise OptionError(where, f"{path.name}: codebook is a table")
    made = {}
    for name, says in entries.items():
        try:
            made[str(name)] = _entry(str(name), says, where)
        except OptionError as problem:
            line = _line_of(text, str(name), says)
            raise problem.but(at=f"{path.name}, line {line}") from problem
    return Codebook(made)


def _line_of(text: str, name: str, says: Any) -> int:
    """The line on which an entry begins, or that of its first unknown key."""
    quoted = rf'"?{re.escape(name)}"?'
    start = line_of(text, rf"^\s*(\[(codebook\.)?{quoted}\]|(codebook\.)?{quoted}\s*=)") or 0
    unknown_key = next((key for key in says if key not in _KEYS), None) if isinstance(says, dict) else None
    if unknown_key is not None:
        return (line_of(text, rf"(^|[{{,\s]){re.escape(unknown_key)}\s*=", start) or start) + 1
    return start + 1


def _from_frame(frame: Any, where: str) -> dict[str, dict[str, Any]]:
    from facetine.data.intake import taken_in
    from facetine.data.kinds import is_missing

    table = taken_in(frame, where)
    if "column" not in table.names:
        raise OptionError(where, "a codebook frame has a column named 'column'", f"columns: {', '.join(table.names)}")
    cells = {name: table.column(name).plain().tolist() for name in table.names}
    entries = {}
    for row, column in enumerate(cells["column"]):
        said = {key: cells[key][row] for key in table.names if key != "column" and not is_missing(cells[key][row])}
        for key in ("words", "colors", "flags"):
            if key in said:
                pairs = (part.split("=", 1) for part in str(said[key]).split(";") if "=" in part)
                said[key] = {code.strip(): word.strip() for code, word in pairs}
        if "classes" in said:
            said["classes"] = _ranges(str(said["classes"]), f"{where}.{column}")
        if "absent" in said:
            said["absent"] = [part.strip() for part in str(said["absent"]).split(";")]
        if "order" in said:
            said["order"] = [part.strip() for part in str(said["order"]).split(";")]
        entries[str(column)] = said
    return entries


def _ranges(text: str, place: str) -> dict[str, list[float]]:
    """Classes as a frame writes them: name=0..60; name=60..180."""
    ranges = {}
    for part in text.split(";"):
        said = re.fullmatch(r"\s*(.+?)\s*=\s*([-+.\deE]+?)\s*\.\.\s*([-+.\deE]+)\s*", part)
        try:
            name, low, high = said.groups() if said is not None else ("", "", "")
            ranges[name] = [float(low), float(high)]
        except ValueError:
            raise OptionError(place, f"{part.strip()!r} is no class", "such as young=0..60; ripe=60..180") from None
    return ranges
