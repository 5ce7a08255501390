"""Choices that one figure of a sheet makes and the others leave open: they hold for all figures that show the same thing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from facetine.data.codebook import Codebook, Entry
from facetine.grammar.aesthetics import LOOKS, TURNED
from facetine.grammar.options import same
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.sentence import Sentence

_APPEARANCE = (
    "kind", "palette", "colors", "others", "middle", "span", "shapes", "dashes", "reverse", "limits", "breaks", "base",
    "exponent", "threshold",
)  # fmt: skip
"""The options that say together how values look: a figure that gives one of them has made its choice."""
_ALONE = ("order", "missing", "format", "title", "unit", "zone", "ticks")
"""Those that hold each by itself."""
_BOOKED = ("colors", "order", "words", "classes", "flags", "none", "both", "missing")
"""What a codebook says of the categories of a column, and of their colors."""


def carried(sentences: Sequence[Sentence]) -> list[Sentence]:
    """The figures of a sheet, each with the choices that others have made for what it shows too, where it made none.

    Where two have made unlike choices, both keep theirs, and one without any takes the first.
    """
    done = list(sentences)
    for aesthetic in LOOKS:
        for column in dict.fromkeys(name for one in sentences for name in _columns(one, aesthetic)):
            places = [place for place, one in enumerate(done) if column in _columns(one, aesthetic)]
            for place, spec in zip(places, _agreed([done[one].scale(aesthetic) for one in places]), strict=True):
                if spec is not done[place].scale(aesthetic):
                    done[place] = replace(done[place], scales={**done[place].scales, aesthetic: spec})
    return _with_entries(done)


def carried_places(sentences: Sequence[Sentence], axis: str) -> list[Sentence]:
    """Likewise for an axis that they share, as the reader sees it."""
    names = [TURNED[axis] if one.swapped else axis for one in sentences]
    said = [replace(one.scale(name), second_axis=None) for one, name in zip(sentences, names, strict=True)]
    done = []
    for one, name, spec in zip(sentences, names, _agreed(said), strict=True):
        own = replace(spec, second_axis=one.scale(name).second_axis)
        done.append(one if own == one.scale(name) else replace(one, scales={**one.scales, name: own}))
    return done


def _columns(sentence: Sentence, aesthetic: str) -> list[str]:
    """The columns that an aesthetic shows, for the figure or in a layer."""
    shown = [layer.map.get(aesthetic, sentence.mapping.get(aesthetic)) for layer in sentence.layers]
    return [one for one in [sentence.mapping.get(aesthetic), *shown] if isinstance(one, str)]


def _agreed(specs: Sequence[ScaleSpec]) -> list[ScaleSpec]:
    """Scales of one thing, each with what others say where it says nothing."""
    groups = [_APPEARANCE, *((name,) for name in _ALONE)]
    done = list(specs)
    for names in groups:
        given = [_given(spec, names) for spec in specs]
        first = next((one for one in given if one), {})
        for place, own in enumerate(given):
            # An order by a statistic is one of the figure's own rows.
            if first and not own and not isinstance(first.get("order"), str):
                done[place] = replace(done[place], **first)
    return done


def _given(spec: ScaleSpec, names: Sequence[str]) -> dict[str, Any]:
    return {name: value for name in names if not same(value := getattr(spec, name), getattr(NOTHING, name))}


def _with_entries(sentences: Sequence[Sentence]) -> list[Sentence]:
    """Figures whose codebooks say of the categories of a shown column what that of another one says."""
    shown = {name for one in sentences for aesthetic in LOOKS for name in _columns(one, aesthetic)}
    known = {name: list(_entries(sentences, name)) for name in shown}
    done = []
    for one in sentences:
        entries = dict(one.codebook.entries)
        for name, others in known.items():
            own = entries.get(name, Entry())
            filled = {key: _first(own, others, key) for key in _BOOKED}
            if any(not same(getattr(own, key), value) for key, value in filled.items()):
                entries[name] = replace(own, **filled)
        done.append(one if entries == dict(one.codebook.entries) else replace(one, codebook=Codebook(entries)))
    return done


def _entries(sentences: Sequence[Sentence], name: str) -> Iterator[Entry]:
    return (one.codebook.entries[name] for one in sentences if name in one.codebook.entries)


def _first(own: Entry, others: Sequence[Entry], key: str) -> Any:
    """What an entry says, else what the first of the others says."""
    return next((value for one in (own, *others) if (value := getattr(one, key)) not in (None, ())), getattr(own, key))
