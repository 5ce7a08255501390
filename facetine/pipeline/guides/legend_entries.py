"""Legends: which entries and color bars tell a reader what looks stand for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.scales.ticks import Ticks
from facetine.grammar.scale import DASHES
from facetine.grammar.theme import Theme
from facetine.layers.base import DrawnLayer
from facetine.layers.look import Look
from facetine.pipeline.guides.ticks import number_texts, numbers_said, time_axis_ticks, within, written_truly
from facetine.pipeline.rows.divided import levels_chosen, tells_apart
from facetine.pipeline.rows.runs import LayerRun, Runs
from facetine.pipeline.scales.highlighted import key_of_others
from facetine.pipeline.scales.look_scales import LookScale


class Entry(NamedTuple):
    """One line of a legend: what it is called, and the layers that draw its key."""

    label: str
    keys: tuple[tuple[DrawnLayer, Mapping[str, Look]], ...]
    opacity: float = 1.0
    """Of the key; full where the legend does not explain opacities."""
    looks: Mapping[str, Any] = {}
    """The look of each aesthetic that it explains; empty for one of layers, whose keys are what it explains."""

    def agrees(self, other: Entry) -> bool:
        """Whether another entry of the same words shows no other look."""
        if self.looks or other.looks:
            return all(other.looks.get(name, look) == look for name, look in self.looks.items())
        theirs = {layer.verb: looks for layer, looks in other.keys}
        return all(theirs.get(layer.verb, looks) == looks for layer, looks in self.keys)


class ColorBar(NamedTuple):
    """A continuous run of colors with ticks."""

    colors: tuple[str, ...]
    at: tuple[float, ...]
    """Shares of its length."""
    labels: tuple[str, ...]
    stepped: bool = False
    """Whether it holds a few even blocks instead of a run."""
    listed: bool = False
    """Whether the analyst listed the ticks, which then stand also where there is no room for a label."""
    unlabelled: tuple[str, ...] = ()
    """The labels for which there was no room."""


class Legend(NamedTuple):
    """A legend for one column: entries, or a color bar."""

    name: str
    title: str
    entries: tuple[Entry, ...]
    bar: ColorBar | None = None

    @property
    def words(self) -> tuple[object, ...]:
        """What it says, whatever the looks that it explains."""
        return self.title, tuple(entry.label for entry in self.entries), None if self.bar is None else self.bar.labels

    def agrees(self, other: Legend) -> bool:
        """Whether no value has another look here than in another legend of the same words, as far as both explain it."""
        if self.bar is not None or other.bar is not None:
            return self.bar == other.bar
        pairs = zip(self.entries, other.entries, strict=True)
        return all(one.agrees(theirs) for one, theirs in pairs)

    def contradicts(self, other: Legend) -> bool:
        """Whether another legend of the same title gives some value another look."""
        if self.title != other.title or self.bar is not None or other.bar is not None:
            return self.title == other.title and self.bar != other.bar
        theirs = {entry.label: entry for entry in other.entries}
        return any(not entry.agrees(theirs[entry.label]) for entry in self.entries if entry.label in theirs)

    def covers(self, other: Legend) -> bool:
        """Whether it explains all looks that another one explains, in the same words and by the same looks."""
        told = set(other.name.split("-")) <= set(self.name.split("-"))
        return told and self.words == other.words and self.agrees(other)


def legends(looks: Mapping[str, LookScale], runs: Runs, neutral: str, lit: Lit | None = None) -> list[Legend]:
    """One legend for each column that a look is mapped to; aesthetics that share a column share it.

    Args:
        looks: The settled scales by aesthetic.
        runs: The layers.
        neutral: The color of keys in legends that do not explain the color, where the marks' color follows other data.
        lit: What is highlighted, if anything is.
    """
    together: dict[tuple[object, ...], list[LookScale]] = {}
    for scale in looks.values():
        # Looks that stand in the data explain nothing beyond themselves, unless the analyst gives them words.
        if scale.spec.kind == "as_given" and scale.spec.format is None:
            continue
        if any(_shown(run, scale.aesthetic) for run in runs):
            together.setdefault((scale.column, scale.kind, scale.title, scale.labels), []).append(scale)
    explained = []
    for scales in together.values():
        legend = _legend(scales, runs, neutral, lit)
        if legend is not None:
            explained.append(legend)
            explained += _gaps(scales, legend, runs, neutral)
    return _of_highlight(runs, neutral, lit, explained) + explained + _of_layers(runs, neutral)


class Lit(NamedTuple):
    """What is highlighted in a figure."""

    words: str
    """What the chosen rows are called."""
    rest: str
    """What the others are called."""
    ink: str
    """That of the others."""
    color: str | None = None
    """The color of all chosen rows, where it follows a column and they have but one."""


def _of_highlight(runs: Runs, neutral: str, lit: Lit | None, explained: list[Legend]) -> list[Legend]:
    """The legend of chosen rows and of the others, with the layers that tell them apart.

    One that explains a single level of the same words is taken out of those explained already.
    """
    shown = [run for run in runs if tells_apart(run) and run.layer.legend is not False]
    if lit is None or not shown:
        return []
    keys: tuple[tuple[DrawnLayer, Mapping[str, Look]], ...]
    one = {} if lit.color is None else {"color": Look((lit.color,))}
    keys = tuple((run.layer, _key_looks(run, one, neutral)) for run in shown)
    quiet = tuple((layer, key_of_others(looks, lit.ink)) for layer, looks in keys)
    for legend in explained:
        if [entry.label for entry in legend.entries] == [lit.words]:
            explained.remove(legend)
            keys = legend.entries[0].keys
            break
    return [Legend("highlight", "", (Entry(lit.words, keys), Entry(lit.rest, quiet)))]


def _of_layers(runs: Runs, neutral: str) -> list[Legend]:
    """The legend of layers that have a name of their own there; those of one name share an entry."""
    keys: dict[str, list[tuple[DrawnLayer, Mapping[str, Look]]]] = {}
    for run in runs:
        if run.layer.legend_as is not None and run.layer.legend is not False:
            keys.setdefault(run.layer.legend_as, []).append((run.layer, _key_looks(run, {}, neutral)))
    entries = tuple(Entry(label, tuple(drawn)) for label, drawn in keys.items())
    return [Legend("layers", "", entries)] if entries else []


def merged(said: Sequence[tuple[Legend, ...]], names: Sequence[str]) -> tuple[Legend, ...]:
    """The legends of several figures, one where title, words and looks agree; its keys show the layers of all of them.

    Args:
        said: Those of each figure.
        names: What the figures are called: behind the title of legends that have the same words, but other looks.
    """
    if len(said) == 1:
        return said[0]
    kept: dict[tuple[object, ...], list[tuple[Legend, list[str]]]] = {}
    for legends_of_one, name in zip(said, names, strict=True):
        for legend in legends_of_one:
            alike = kept.setdefault((legend.name, *legend.words), [])
            place = next((number for number, (first, _) in enumerate(alike) if first.agrees(legend)), None)
            if place is None:
                alike.append((legend, [name]))
                continue
            first, own = alike[place]
            alike[place] = (first._replace(entries=_joined(first.entries, legend.entries)), [*own, name])
    every = [(legend, own, len(alike) > 1) for alike in kept.values() for legend, own in alike]
    # A legend of more looks, such as of color and shape, may give a value another color than one of color alone.
    return tuple(
        legend._replace(title=f"{legend.title} ({', '.join(dict.fromkeys(own))})".strip())
        if unlike or any(legend.contradicts(other) for other, _, _ in every if other is not legend)
        else legend
        for legend, own, unlike in every
    )


def _joined(entries: tuple[Entry, ...], others: tuple[Entry, ...]) -> tuple[Entry, ...]:
    """Entries with the keys of both, each layer once."""
    joined = []
    for entry, other in zip(entries, others, strict=True):
        verbs = {layer.verb for layer, _ in entry.keys}
        more = tuple(key for key in other.keys if key[0].verb not in verbs)
        joined.append(entry._replace(keys=(*entry.keys, *more), looks={**other.looks, **entry.looks}))
    return tuple(joined)


def _gaps(scales: list[LookScale], legend: Legend, runs: Runs, neutral: str) -> list[Legend]:
    """The key of rows without a number, where they are drawn."""
    first = scales[0]
    if first.kind == "levels" or not any(scale.gaps for scale in scales):
        return []
    values = {scale.aesthetic: Look((scale.values[-1],)) for scale in scales}
    keys = tuple(
        (run.layer, _key_looks(run, values, neutral)) for run in runs if any(_shown(run, scale.aesthetic) for scale in scales)
    )
    shown = {name: look.values[0] for name, look in values.items()}
    return [Legend(f"{legend.name}-missing", "", (Entry(_end_word(first, "missing"), keys, looks=shown),))]


def _shown(run: LayerRun, aesthetic: str) -> bool:
    """Whether a layer's marks show an aesthetic that follows data."""
    return run.layer.legend is not False and run.follows(aesthetic) and aesthetic in run.layer.looks


def _legend(scales: list[LookScale], runs: Runs, neutral: str, lit: Lit | None) -> Legend | None:
    first = scales[0]
    if first.kind == "levels":
        labels: tuple[str, ...] = first.labels
        numbers = np.arange(float(len(labels)))
        seen = set(range(len(labels))) if lit is None else _levels_seen(scales, runs, len(labels))
        if all(scale.aesthetic in ("color", "outline") for scale in scales):
            # A color that only quiet rows would have is not there to be explained.
            labels, numbers = tuple(labels[place] for place in sorted(seen)), np.array(sorted(seen), float)
    elif first.breaks:
        labels, numbers = _classes(first)
        if len(scales) == 1 and first.aesthetic in ("color", "outline"):
            count = len(first.breaks) + 1
            share = tuple((place + 1) / count for place in range(count - 1))
            texts = number_texts(first.breaks, first.spec, f"figure.scale({first.aesthetic!r})")
            at, said = (0.0, *share, 1.0), (_end_word(first, "below"), *texts, _end_word(first, "beyond"))
            return Legend(first.aesthetic, first.title, (), ColorBar(first.values[:-1], at, said, stepped=True))
    else:
        at, labels = _round_values(first)
        if len(scales) == 1 and first.aesthetic in ("color", "outline"):
            share = tuple(first.share(np.array(at, float)).tolist())
            colors = first.values[:-1]
            share, labels = _open_ends(first, share, labels)
            listed = isinstance(first.spec.ticks, tuple | str)
            bar = ColorBar(colors[:: max(1, len(colors) // 64)], share, labels, listed=listed)
            return Legend(first.aesthetic, first.title, (), bar)
        numbers = np.array(at)
    if not len(labels):
        return None
    entries = []
    for label, number in zip(labels, numbers.tolist(), strict=True):
        values = {scale.aesthetic: Look((_one(scale, number),)) for scale in scales}
        keys = tuple(
            (run.layer, _key_looks(run, values, neutral)) for run in runs if any(_shown(run, scale.aesthetic) for scale in scales)
        )
        if lit is not None and first.kind == "levels" and int(number) not in seen:
            keys = tuple((layer, key_of_others(looks, lit.ink)) for layer, looks in keys)
        shown = {name: look.values[0] for name, look in values.items()}
        entries.append(Entry(label, keys, float(shown.get("opacity", 1.0)), shown))
    return Legend("-".join(scale.aesthetic for scale in scales), first.title, tuple(entries))


def _levels_seen(scales: list[LookScale], runs: Runs, count: int) -> set[int]:
    """The levels that rows have which are not quiet."""
    shown = [(run, scale.aesthetic) for run in runs for scale in scales if _shown(run, scale.aesthetic)]
    found = [levels_chosen(run, aesthetic) for run, aesthetic in shown]
    if not found or any(levels is None for levels in found):
        return set(range(count))
    return set().union(*(levels for levels in found if levels is not None)) & set(range(count))


def _key_looks(run: LayerRun, values: Mapping[str, Look], neutral: str) -> dict[str, Look]:
    """The looks of a key: those that the legend explains, else the layer's own."""
    follows = {*run.columns, *run.layer.computed_looks}
    looks = {**run.usual, **{name: look for name, look in values.items() if name in follows}}
    for name in ("color", "outline"):
        # A color of the palette would stand for a category here.
        if name in follows and name in looks and name not in values and run.layer.constant(name) is None:
            looks[name] = Look((neutral,))
    return looks


def _end_word(scale: LookScale, word: str) -> str:
    """What an end of a scale that goes on is called: "below" or "beyond", or what a dict of formats says for it."""
    form = scale.spec.format
    return str(form.get(word, word)) if isinstance(form, Mapping) else word


def _open_ends(scale: LookScale, at: tuple[float, ...], labels: tuple[str, ...]) -> tuple[tuple[float, ...], tuple[str, ...]]:
    """Ticks at the limits that say that there are values beyond them; a tick in their place gives way."""
    below, above = scale.beyond
    ends = [(0.0, _end_word(scale, "below"), scale.low)] if below else []
    ends += [(1.0, _end_word(scale, "beyond"), scale.high)] if above else []
    for place, word, limit in ends:
        where = f"figure.scale({scale.aesthetic!r})"
        (text,) = number_texts((limit,), scale.spec, where, scale.transform) if scale.kind == "number" else ("",)
        kept = [(share, label) for share, label in zip(at, labels, strict=True) if abs(share - place) > 0.1]
        ordered = sorted([*kept, (place, f"{word} {text}".strip())])
        at, labels = tuple(share for share, _ in ordered), tuple(label for _, label in ordered)
    return at, labels


def _classes(scale: LookScale) -> tuple[tuple[str, ...], FloatArray]:
    """What the classes are called, and a number in each."""
    texts = number_texts(scale.breaks, scale.spec, f"figure.scale({scale.aesthetic!r})")
    low_end, high_end = _end_word(scale, "below"), _end_word(scale, "beyond")
    names = [f"{low_end} {texts[0]}", *(f"{low} to {high}" for low, high in pairwise(texts)), f"{texts[-1]} and {high_end}"]
    inner = [(low + high) / 2 for low, high in pairwise(scale.breaks)]
    return tuple(names), np.array([scale.breaks[0] - 1.0, *inner, scale.breaks[-1]])


def _one(scale: LookScale, number: float) -> Any:
    return scale.of(number)


def _round_values(scale: LookScale) -> tuple[tuple[float, ...], tuple[str, ...]]:
    """A few round values of a number or time scale and their texts, or those that were listed."""
    where = f"figure.scale({scale.aesthetic!r})"
    if scale.kind == "time":
        ends = (scale.low, scale.high)
        ticks = time_axis_ticks(ends, scale.spec, scale.zone, 4, where)
        return ticks.at, tuple(text.replace("\n", " ") for text in ticks.labels)
    if isinstance(scale.spec.ticks, tuple):
        at, _ = within(numbers_said(scale.spec.ticks, where), scale.low, scale.high)
    else:
        wanted = max(scale.spec.ticks, 2) if isinstance(scale.spec.ticks, int) else 3
        at, _ = written_truly(partial(_ticks_of, scale), wanted, scale.spec, where, scale.transform)
    return at, number_texts(at, scale.spec, where, scale.transform)


def _ticks_of(scale: LookScale, wanted: int) -> Ticks:
    at, minor = scale.transform.ticks(scale.low, scale.high, wanted, whole=scale.whole)
    # A point without an area explains nothing.
    return Ticks(at[1:] if scale.aesthetic == "size" and len(at) > 1 and at[0] == 0 else at, minor)


def default_looks(layer: DrawnLayer, theme: Theme, color: str) -> dict[str, Look]:
    """The looks of a layer's marks to which nothing is mapped: its constants, else the theme's; the color is given."""
    usual: dict[str, Any] = {
        "color": color,
        "outline": None,
        "opacity": 1.0,
        "size": theme.point_size,
        "shape": "disc",
        "dash": next(iter(DASHES)),
        "line_width": theme.line_width,
    }
    usual |= {**layer.usual, "color": color}
    looks = {}
    for name in layer.looks:
        constant = layer.constant(name)
        looks[name] = Look((usual[name] if constant is None else constant,))
    return looks
