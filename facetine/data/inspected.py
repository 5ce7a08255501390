"""What a table holds, and the codebook that one could begin with."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from facetine.core.scales.calendar import strftime
from facetine.core.scales.formats import escaped, fixed
from facetine.data.codebook import code_text
from facetine.data.table import Column, Table
from facetine.data.words import as_words, proposed

_SHOWN = 6


class ColumnFacts(NamedTuple):
    """One column at a glance."""

    name: str
    kind: str
    distinct: int
    missing: int
    range: str
    """From … to, or the first categories."""
    hint: str
    """What to write where the kind may not be the one meant; empty for nothing."""


def facts(table: Table) -> list[ColumnFacts]:
    """Every column of a table at a glance."""
    return [_facts(table.column(name)) for name in table.names]


def _facts(column: Column) -> ColumnFacts:
    present = ~column.missing
    missing = int((~present).sum())
    values = column.values[present]
    distinct = len(np.unique(values))
    if not len(values):
        said = "no value"
    elif column.discrete:
        used = [column.levels[place] for place in np.unique(values).tolist()]
        shown = ", ".join(_word(level) for level in used[:_SHOWN])
        said = shown + (", …" if len(used) > _SHOWN else "")
    elif column.kind == "time":
        low, high = strftime([float(values.min()), float(values.max())], "%d %b %Y %H:%M", column.zone)
        said = f"{low} … {high}".replace(" 00:00", "")
    else:
        said = f"{short(float(values.min()))} … {short(float(values.max()))}"
    return ColumnFacts(column.name, column.kind, distinct, missing, said, str(column.hint or ""))


def _word(level: object) -> str:
    return {True: "yes", False: "no"}[level] if isinstance(level, bool) else code_text(level)


def value_text(column: Column, value: float) -> str:
    """A value of a column in words: of categories the level that a number stands for."""
    if column.discrete:
        level = column.levels[int(value)]
        return ("yes" if level else "no") if isinstance(level, bool) else code_text(level)
    if column.kind == "time":
        return strftime([value], "%Y-%m-%d %H:%M", column.zone)[0].removesuffix(" 00:00")
    return short(value)


def short(value: float) -> str:
    """A number in a few digits."""
    if value.is_integer() and abs(value) < 1e15:
        return fixed(value, 0, grouped=abs(value) >= 1e4)
    return f"{value:.4g}".replace("-", "−")


def starter_codebook(table: Table) -> str:
    """A codebook in TOML with what the names and values seem to say, for the analyst to correct."""
    parts = ["# What is known of the columns, written once for all figures. Correct what is guessed."]
    for name in table.names:
        column = table.column(name)
        label, unit = (column.kind == "number" and proposed(name)) or as_words(name)
        lines = [f"[codebook.{_key(name)}]", f"label = {_quoted(escaped(label))}"]
        if column.kind == "number":
            lines.append(f"unit = {_quoted(unit)}")
        elif column.kind in ("category", "ordered") and len(column.levels) <= 12:
            lines.append(f"order = [{', '.join(_quoted(code_text(level)) for level in column.levels)}]")
        parts.append("\n".join(lines))
    return "\n\n".join(parts) + "\n"


def _key(name: str) -> str:
    bare = name.replace("_", "").replace("-", "")
    return name if bare.isalnum() and bare.isascii() else _quoted(name)


def _quoted(text: str) -> str:
    import json

    # TOML allows in a text what JSON does, but for one control character.
    return json.dumps(text, ensure_ascii=False).replace("\x7f", "\\u007f")


_BLOCKS = "▁▂▃▄▅▆▇█"
_PARTS = 12


def sparkline(column: Column) -> str:
    """How values spread, in one word of blocks: numbers and times in even steps from the least to the greatest, categories
    each with its rows, in their order; "" where nothing varies, or for more categories than have room.

    >>> from facetine.data.intake import taken_in
    >>> sparkline(taken_in({"a": ["x", "y", "y", "y", "y"]}, "x").column("a"))
    '▂█'
    """
    values = column.values[~column.missing]
    if not len(values) or values.min() == values.max():
        return ""
    if column.discrete:
        counts = np.bincount(values.astype(np.int64), minlength=len(column.levels))
        counts = counts if len(counts) <= _PARTS else counts[:0]
    else:
        # Halved, the reach of the greatest numbers does not run over.
        half = np.asarray(values, float) / 2
        counts = np.histogram((half - half.min()) / (half.max() - half.min()), _PARTS, (0, 1))[0]
    heights = np.ceil(counts / max(1, counts.max(initial=0)) * len(_BLOCKS)).astype(int)
    return "".join(" " if height == 0 else _BLOCKS[height - 1] for height in heights.tolist()).rstrip()
