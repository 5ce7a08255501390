"""Every name has room where the height is left open, every value axis tells a distance, and words break at syllables."""

import itertools
import re

import numpy as np
import pandas as pd
import pytest
from conftest import laid_out
from truth.reading import Sheet

import facetine as ft
from facetine.scene.typeset import TextStyle, set_text, syllables_of

MM = 72 / 25.4
RNG = np.random.default_rng(41)
LONG = "a name of a category that takes several lines, the one with the number {}"


@pytest.mark.parametrize("width", ["50 mm", "85 mm", "120 mm"])
@pytest.mark.parametrize("crossed", [False, True])
def test_every_name_has_room_where_the_height_is_open(width, crossed):
    frame = pd.DataFrame({"n": [LONG.format(number) for number in range(12)], "g": ["p", "q"] * 6, "v": range(1, 13)})
    figure = ft.figure(frame).map(y=("g", "n") if crossed else "n", x="v").bars()
    sheet = Sheet(figure, width)
    assert not sheet.said("names-left-out")
    words = " ".join(sheet.texts(sheet.group("y-axis")))
    for number in range(12):
        assert re.search(rf"number {number}\b", re.sub(r"\s+", " ", words))


def test_names_of_several_lines_stand_farther_apart_than_their_lines():
    frame = pd.DataFrame({"n": [LONG.format(number) for number in range(9)], "v": range(1, 10)})
    made = laid_out(ft.figure(frame).map(y="n", x="v").bars(), 70 * MM)
    axis = made.layout.panels[0].labels("left")
    height = max(block.height for block in axis.blocks)
    assert made.layout.panels[0].box.height / 9 > height + 2


RANGES = list(itertools.product((0, -3, 1000, 0.001, 1e6, 2.3e4), (1, 30, 2e4, 1.5e6), ("linear", "log")))


@pytest.mark.parametrize("count", [1, 4, 9, 16, 30])
def test_every_value_axis_has_two_labels_at_least_or_it_is_said(count):
    for low, reach, kind in RANGES:
        if kind == "log" and low <= 0:
            continue
        frame = pd.DataFrame(
            {"x": low + RNG.uniform(0, reach, 60), "y": low + RNG.uniform(0, reach, 60), "g": np.arange(60) % count}
        )
        figure = ft.figure(frame).map(x="x", y="y").points().scale("x", kind).scale("y", kind)
        figure = figure.facet("g", per_row=int(np.ceil(count**0.5))) if count > 1 else figure
        made = laid_out(figure, 85 * MM)
        few = [finding for finding in made.findings if finding.code == "labels-few"]
        shown = [
            sum(bool(block.lines) for block in panel.labels(side).blocks)
            for panel in made.layout.panels
            for side in ("below", "left")
            if panel.labelled(side)
        ]
        assert (min(shown) >= 2) != bool(few), (low, reach, kind)
        assert not few or re.search(r'(width|height)="\d+ mm"', few[0].fix)


def test_a_width_that_is_named_for_a_second_label_gives_it():
    frame = pd.DataFrame({"x": RNG.uniform(1000, 2500, 80), "y": RNG.uniform(0, 1, 80), "g": np.arange(80) % 8})
    figure = ft.figure(frame).map(x="x", y="y").points().facet("g", per_row=8).scale("x", format=",.2f")
    few = [one for one in laid_out(figure, 70 * MM).findings if one.code == "labels-few"]
    if few:
        (width,) = re.findall(r'width="(\d+) mm"', few[0].fix)
        assert not [one for one in laid_out(figure, int(width) * MM).findings if one.code == "labels-few"]


@pytest.mark.parametrize("count", [5, 12, 24, 48, 90])
@pytest.mark.parametrize("width", [85, 120, 180])
def test_panels_fit_a_page_by_default(count, width):
    frame = pd.DataFrame({"x": RNG.normal(size=5 * count), "y": RNG.normal(size=5 * count), "g": np.arange(5 * count) % count})
    made = laid_out(ft.figure(frame).map(x="x", y="y").points().facet("g"), width * MM)
    if count <= 48 or width >= 120:
        assert made.layout.height <= 297 * MM
    assert min(panel.box.width for panel in made.layout.panels) > 15


WORDS = ["pickup", "Quarry", "strawberry", "moisture", "ripening", "temperature", "washing", "Internationalisation"]


@pytest.mark.parametrize("word", WORDS)
@pytest.mark.parametrize("width", [24, 30, 40, 60, 90])
def test_words_break_between_syllables_alone(word, width):
    block = set_text(word, TextStyle("Source Sans Pro", 8.0, 400, "#000000"), float(width))
    lines = ["".join(run.text for run in line) for line in block.lines]
    assert "".join(line.removesuffix("-") for line in lines) == word
    ends = list(itertools.accumulate(len(line.removesuffix("-")) for line in lines))[:-1]
    if width >= 30:
        assert all(line.endswith("-") for line in lines[:-1])
        assert set(ends) <= set(syllables_of(word))


@pytest.mark.parametrize("text", ["north-western slope", "mass_kg_of_wheels", "either/or"])
def test_joints_come_before_syllables(text):
    block = set_text(text, TextStyle("Source Sans Pro", 8.0, 400, "#000000"), 40.0)
    lines = ["".join(run.text for run in line) for line in block.lines]
    assert re.sub(r"\s", "", "".join(lines)) == re.sub(r"\s", "", text)


def test_headings_of_narrow_panels_break_between_syllables():
    frame = pd.DataFrame(
        {"x": RNG.normal(size=96), "y": RNG.normal(size=96), "g": [f"{WORDS[n % 8]} {n % 16}" for n in range(96)]}
    )
    sheet = Sheet(ft.figure(frame).map(x="x", y="y").points().facet("g", per_row=8), "120 mm")
    pieces = [
        sheet.texts(group)
        for group in sheet.root.iter("{http://www.w3.org/2000/svg}g")
        if group.get("id", "").endswith("heading")
    ]
    assert len(pieces) == 16
    for lines in pieces:
        joined = " ".join(lines).replace("- ", "")
        word = joined.split(" ")[0]
        assert word in WORDS, lines
        for line in lines[:-1]:
            if line.endswith("-"):
                at = len("".join(part.removesuffix("-") for part in lines[: lines.index(line) + 1]))
                assert at in syllables_of(word), lines


def test_headings_stand_close_over_their_own_row():
    frame = pd.DataFrame({"x": [1.0, 2] * 8, "y": [1.0, 2] * 8, "g": np.repeat([LONG.format(1), LONG.format(2), *"cdefgh"], 2)})
    panels = laid_out(
        ft.figure(frame).map(x="x", y="y").points().facet("g", per_row=2, order=[LONG.format(1), LONG.format(2), *"cdefgh"]),
        85 * MM,
    ).layout.panels
    for panel in panels[2:]:
        assert panel.box.y - panel.headings[0].region.y < 22
