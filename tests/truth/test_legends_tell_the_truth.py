"""Every look on the paper is the one that a legend, an axis or a heading gives for its value, and no legend gives it another value."""

import os
import random
import warnings

import numpy as np
import pytest
from conftest import svg_of
from truth.chance import KINDS, MILD, TITLES, case
from truth.drawn import read

import facetine as ft
from facetine.messages.errors import FacetineError

MANY = int(os.environ.get("FACETINE_LEGENDS", "150"))
SEED = int(os.environ.get("FACETINE_SEED", "0")) or (random.randrange(10**6) if os.environ.get("CI") else 20301)


def value_of(mark, said, among):
    """The categories that a mark shows, by where it stands among all marks of its panel: nothing but the frame is asked."""
    rows = said.rows
    if said.verb in ("points", "lines") and mark.verb == said.verb:
        own = rows[rows.m == mark.panel] if mark.panel in MILD else rows
        places = sorted(
            {round(float(x), 2) for other in among for x in ([other.at[0]] if said.verb == "points" else other.points[:, 0])}
        )
        known = sorted(own.x)
        if len(places) != len(known):
            return None
        at = round(float(mark.at[0] if said.verb == "points" else mark.points[0, 0]), 2)
        return own[own.x == known[places.index(at)]].iloc[0]
    if said.verb == "bars" and mark.verb == "bars":
        heights = sorted(among, key=lambda other: np.ptp(other.points[:, 1]))
        means = rows.groupby(["k", "m"])["v"].mean().sort_values()
        # Two means of one height can't be told apart by it.
        if len(heights) != len(means) or means.diff().min() < 0.002 * means.max():
            return None
        k, m = means.index[[id(one) for one in heights].index(id(mark))]
        return {"k": k, "m": m}
    if said.verb == "boxes" and mark.verb == "boxes":
        return {"k": mark.title} if mark.title in KINDS else None
    if said.verb == "matrix" and mark.verb == "points":
        # Which of three numbers stands on x is told by the marks: one of them has all their ranks.
        return None
    return None


def alike(one, other):
    if isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other):
        return bool(np.allclose(one, other, atol=0.25)) if one else True
    return one == other


def said_by(legend, aesthetic, column, number, inset, letters):
    """Whether a legend explains a column's look to a reader of a figure."""
    if aesthetic not in legend.aesthetics or legend.title != TITLES[column]:
        return False
    if legend.letters:
        name = letters[number] if letters else f"figure {number + 1}"
        return name in legend.letters
    return legend.figure is None or legend.figure == number


def faults(made):
    """What is false on the paper of a case."""
    root = svg_of(made.sheet, "200 mm")
    drawn, wrong, checked = read(root), [], 0
    letters = "ABCDEFG" if made.letters else ""
    for number, said in enumerate([*made.figures, *made.insets]):
        inset = number >= len(made.figures)
        figure = 0 if inset else number
        marks = [one for one in drawn.marks if one.figure == figure and one.inset == inset]
        legends = [one for one in drawn.legends if not one.inset or inset]
        for mark in marks:
            among = [one for one in marks if (one.panel, one.layer, one.verb) == (mark.panel, mark.layer, mark.verb)]
            if said.verb == "boxes":
                among = marks
            value = value_of(mark, said, among)
            if value is None:
                continue
            for aesthetic in ("color", "shape", "dash"):
                column = said.mapping.get(aesthetic)
                if column is None or (aesthetic == "dash" and mark.verb != "lines"):
                    continue
                look, word = mark.looks[aesthetic], value[column]
                told = [one for one in legends if said_by(one, aesthetic, column, figure, inset, letters)]
                own = [one for one in told if one.inset == inset and one.figure == (figure if one.figure is not None else None)]
                for legend in own[:1] if inset and own else told:
                    checked += 1
                    entry = legend.entries.get(word)
                    if entry is None or not alike(look, entry[aesthetic]):
                        wrong.append(
                            f"{said.verb}: {aesthetic} of {word} is {look}, and {legend.title} says {entry and entry[aesthetic]}"
                        )
                    # One color for all others is what some of them ask for.
                    quiet = any("others" in one.choices.get("color", {}) for one in [*made.figures, *made.insets])
                    for label, other in legend.entries.items():
                        if not quiet and label != word and alike(other[aesthetic], look):
                            wrong.append(f"{said.verb}: {aesthetic} {look} of {word} stands for {label} in {legend.title}")
    return wrong, checked


def drawn_faults(seed):
    made = case(seed)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        try:
            return made, *faults(made)
        except FacetineError as problem:
            return made, [], f"{type(problem).__name__}: {problem}"


def test_legends_tell_the_truth_on_any_sheet():
    unlike = checked = drawn = 0
    for seed in range(SEED, SEED + MANY):
        made, wrong, count = drawn_faults(seed)
        assert not wrong, f"seed {seed}: {wrong[:3]}"
        if isinstance(count, int):
            drawn, checked, unlike = drawn + 1, checked + count, unlike + made.unlike
    assert drawn >= 0.9 * MANY
    assert unlike >= 0.3 * MANY, f"{unlike} of {MANY} sheets have unlike choices"
    assert checked >= 20 * MANY


@pytest.mark.parametrize("fault", ["merged whatever the looks", "choices carried nowhere and merged"])
def test_a_planted_fault_is_found(monkeypatch, fault):
    from facetine.pipeline.guides import legend_entries as guide
    from facetine.pipeline.sheet import figured as figures

    monkeypatch.setattr(guide.Entry, "agrees", lambda one, other: True)
    if fault != "merged whatever the looks":
        monkeypatch.setattr(figures, "carried", list)
    assert any(drawn_faults(seed)[1] for seed in range(SEED, SEED + 60))


@pytest.mark.parametrize("seed", [922, 1635, 1695])
def test_figures_of_unlike_themes_whose_legends_explain_more_or_less_have_legends_of_their_own(seed):
    warnings.simplefilter("ignore", ft.FacetineFinding)
    _, wrong, count = drawn_faults(seed)
    assert not wrong
    assert count > 0
