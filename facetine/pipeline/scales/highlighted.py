"""Chosen rows in their own inks over all others in a quiet one: which rows, how the others look, what the legend says."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from facetine.core.arrays import BoolArray
from facetine.core.color.spaces import from_hex, to_hex
from facetine.core.columns import Columns
from facetine.grammar.highlight import Highlight
from facetine.grammar.sentence import Sentence
from facetine.grammar.theme import Theme
from facetine.layers.look import Look
from facetine.messages.findings import Remark, Remarks, so_many_rows
from facetine.pipeline.rows.divided import levels_chosen, tells_apart
from facetine.pipeline.rows.runs import LayerRun, Runs
from facetine.pipeline.scales.look_scales import LookScale

_QUIET = 0.27
_INKS = ("color", "outline")


def quiet_rows(run: LayerRun, rows: Columns) -> BoolArray | None:
    """Which computed rows of a layer are no chosen ones, shape (n,); None for a layer in which none are told apart."""
    if run.quiet is None or not tells_apart(run):
        return None
    if run.layer.keeps_groups:
        return np.isin(rows.group, list(run.quiet))
    return np.isin(rows.numbers, run.rows.numbers[np.isin(run.rows.group, list(run.quiet))])


def say_undivided(runs: Runs, said: Highlight | None) -> Remarks:
    """Tells which layers show chosen rows and others as one."""
    for run in runs:
        if said is not None and run.quiet is not None and not (tells_apart(run) or run.layer.explains):
            yield Remark("not-highlighted", said.verb, f"{run.layer.verb} show the chosen rows and all others together")


def quiet_ink(said: Highlight, theme: Theme) -> str:
    """The ink of the others: what was said, else one near the ground."""
    if said.others is not None:
        return said.others
    return ink_between(theme, _QUIET)


def ink_between(theme: Theme, share: float, far: str | None = None) -> str:
    """An ink between the ground, at a share of 0, and another one, that of texts where none is said."""
    ground, ink = from_hex([theme.ground_below, far or theme.text_color])
    return to_hex((ground + share * (ink - ground))[None])[0]


def with_quiet(looks: Mapping[str, Look], quiet: BoolArray, ink: str) -> dict[str, Look]:
    """Looks of rows, of which some are quiet."""
    made = dict(looks)
    for name in _INKS:
        look = looks.get(name)
        if look is None or not quiet.any() or (name == "outline" and look.values == (None,)):
            continue
        which = np.zeros(len(quiet), np.int64) if look.which is None else look.which
        made[name] = Look((*look.values, ink), np.where(quiet, len(look.values), which))
    return made


def key_of_others(looks: Mapping[str, Look], ink: str) -> dict[str, Look]:
    """The looks of the key of the others."""
    return with_quiet(looks, np.array([True]), ink) | {
        name: Look((ink,)) for name in _INKS if name in looks and looks[name].values != (None,)
    }


def only_color(runs: Runs, scale: LookScale | None) -> str | None:
    """The color of all chosen rows, where they have one level; None where they have several, or colors follow none."""
    if scale is None or scale.kind != "levels":
        return None
    found = [levels for run in runs if (levels := levels_chosen(run, "color")) is not None]
    every = set().union(*found) if found else set()
    return str(scale.values[every.pop()]) if len(every) == 1 else None


def passes(runs: Runs, divided: bool) -> Iterator[tuple[LayerRun, bool | None]]:
    """The layers in drawing order, and whether their quiet rows are to be drawn (True), the others (False), or all (None).

    A backdrop lies behind the others, wherever it was said, and what is quiet behind all that is not.
    """
    ordered = sorted(runs, key=lambda run: not run.layer.backdrop)
    if divided:
        yield from ((run, True) for run in ordered if run.quiet is not None and not run.layer.drawn_at_once)
    yield from ((run, False if divided and run.quiet is not None and not run.layer.drawn_at_once else None) for run in ordered)


def described_highlight(sentence: Sentence, runs: Runs) -> list[str]:
    """A sentence about what is highlighted."""
    said = sentence.highlight
    counted = [run for run in runs if run.quiet is not None]
    if said is None or not counted:
        return []
    run = max(counted, key=lambda one: len(one.rows))
    chosen = int((~np.isin(run.rows.group, list(run.quiet or ()))).sum())
    return [f"Highlighted: {said.words}, {so_many_rows(chosen)} of {len(run.rows):,}; the others are quiet."]
