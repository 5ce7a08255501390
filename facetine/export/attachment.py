"""Figures that carry their data and their sentence inside their files."""

from __future__ import annotations

import json
import re
from dataclasses import fields, replace
from typing import TYPE_CHECKING

from facetine.data.carried import carried_codebook, packed
from facetine.grammar.theme import THEMES, Theme
from facetine.messages.errors import DataError, OptionError
from facetine.writers.formats import Attached

if TYPE_CHECKING:
    from facetine.grammar.given import Length
    from facetine.grammar.plate import Plate
    from facetine.grammar.sentence import Sentence

ROWS, SENTENCE = "facetine-rows.csv", "facetine-figure.json"
_MOST_CELLS = 5_000_000
_VERSION = 1


def carried(said: Sentence | Plate, width: Length, height: Length) -> tuple[Attached, ...]:
    """What a figure's file is to carry: the rows and columns that it used, and the sentence with what is known of them.

    Raises:
        OptionError: The sentence holds what plain data can't, or has no data of its own.
        DataError: There is too much of them.
    """
    from facetine.grammar.sentence import Sentence
    from facetine.grammar.spec import to_dict

    where = "figure.export: data='embed'"
    if not isinstance(said, Sentence):
        raise OptionError(where, "is for figures, not for plates", "export its figures with their data", of_option=True)
    if said.table is None:
        raise OptionError(where, "the figure has no data of its own", "give them to figure(…)")
    # What was kept and derived is in the rows that travel.
    spec = to_dict(replace(said, steps=()))
    if said.theme != THEMES["press"]:
        own = {entry.name: getattr(said.theme, entry.name) for entry in fields(Theme)}
        spec["theme"] = {name: value for name, value in own.items() if value != getattr(THEMES["press"], name)}
    spec["sheet"] = {name: size for name, size in (("width", width), ("height", height)) if size is not None}
    names = [name for name in said.table.names if _named(name, spec)]
    if not names:
        raise OptionError(where, "the figure uses no column", "leave data= out")
    if len(names) * said.table.height > _MOST_CELLS:
        raise DataError(
            where, f"{said.table.height:,} rows of {len(names)} columns are too many to travel in a figure", "leave data= out"
        )
    rows, columns = packed(said.table, names)
    spec["kinds"] = {name: said.kinds.get(name, said.table.column(name).kind) for name in names}
    sentence = {
        "facetine": _VERSION,
        "figure": spec,
        "codebook": carried_codebook(said.codebook, said.table, names),
        "columns": columns,
    }
    content = json.dumps(_ordered(sentence), ensure_ascii=False, indent=1)
    return (
        Attached(ROWS, "text/csv", rows.encode("utf-8"), "Data", "The rows that the figure shows"),
        Attached(SENTENCE, "application/json", content.encode("utf-8"), "Source", "The sentence that makes the figure"),
    )


def _ordered(value: object, key: str = "") -> object:
    """Tables by their keys, so that the same sentence is written the same way; but mappings say something by their order."""
    if isinstance(value, dict):
        items = value.items() if key == "map" else sorted(value.items())
        return {name: _ordered(inner, name) for name, inner in items}
    return [_ordered(inner) for inner in value] if isinstance(value, list | tuple) else value


def _named(name: str, spec: object) -> bool:
    """Whether a column is spoken of anywhere in a sentence."""
    if isinstance(spec, str):
        return name == spec or re.search(rf"(?<!\w){re.escape(name)}(?!\w)", spec) is not None
    if isinstance(spec, dict):
        return any(_named(name, value) or key == name for key, value in spec.items())
    return isinstance(spec, list) and any(_named(name, value) for value in spec)
